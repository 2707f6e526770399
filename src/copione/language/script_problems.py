"""What is wrong with a script as a whole: scenes that are missing or perform themselves, values that nobody gives; and hints."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property

from ..model.action import Pause, Perform, Whenever
from ..model.formula import names_in
from ..model.library import OWN, Library, ScenePlace
from ..model.step import Need, Scene, Step
from ..model.unbound_variables import kept, wants
from ..model.wording import listed
from ..model.words import BRACED
from .document import Document
from .lines import Header
from .performing import DEEPEST, MOST_STEPS, Performing
from .problems import Problem, nearest
from .structure import problem_at

NAMED = 6  # scenes of a circle
GUESSES = 100  # of what was meant, for one script
Columns = Mapping[str, tuple[str, ...]]
GIVE = "add a column to the data, or write `needs {name}` above the scenes"


@dataclass(frozen=True)
class DocumentContext:
    """What a document is read beside: the scripts it uses and what is wrong with them (a sentence by file), the columns of its tables
    by file name, the values that are given from outside, and the names of those scenes and values that other scripts perform."""

    library: Library
    broken: Mapping[str, str] = field(default_factory=dict)
    columns: Columns = field(default_factory=dict)
    no_tables: Mapping[str, str] = field(default_factory=dict)
    given: Collection[str] = ()
    performed_elsewhere: Collection[str] = ()


def script_problems(document: Document, known: DocumentContext) -> tuple[Problem, ...]:
    """Problems and hints of the whole, in the order of the lines."""
    return tuple(sorted(_Reader(document, known).problems(), key=lambda p: (p.line, p.column)))


class _Reader:
    def __init__(self, document: Document, known: DocumentContext) -> None:
        self.document, self.known, self.library = document, known, known.library
        self.script = document.script
        self._performing = Performing(self.library)
        self._guessed = 0

    def problems(self) -> Iterator[Problem]:
        yield from self._files()
        for scene in self.script.scenes:
            for step in scene.steps:
                if isinstance(step.action, Perform):
                    found = self._performed(scene, step, step.action)
                    if found is not None:
                        yield found
                app = step.action.named_app
                if app and app not in self.script.apps:
                    yield problem_at(
                        step,
                        f"{app} is no app of this script: add `app {app}` above the scenes.",
                        app,
                        near=self._near(app, self.script.apps),
                    )
                for table in step.action.tables:
                    if table not in self.known.columns:
                        why = self.known.no_tables.get(table, f"There is no table {table} in the project's data.")
                        yield problem_at(step, why, f'"{table}"', near=self._near(table, self.known.columns))
        yield from self._standing()
        yield from self._values()
        yield from self._hints()

    def _near(self, word: str, known: Collection[str]) -> str:
        """The known word that was meant, perhaps; of the first problems alone: it takes a look at each known word."""
        self._guessed += 1
        return nearest(word, sorted(known)) if self._guessed <= GUESSES else ""

    def _files(self) -> Iterator[Problem]:
        """Scripts that cannot be used, data that is not there."""
        for number, line in enumerate(self.document.lines, 1):
            if isinstance(line.item, Header) and line.item.kind == "data" and line.item.value in self.known.no_tables:
                yield _at_words(number, line.text, f'"{line.item.value}"', self.known.no_tables[line.item.value])
            elif isinstance(line.item, Header) and line.item.kind == "uses" and line.item.value in self.known.broken:
                yield _at_words(number, line.text, f'"{line.item.value}"', self.known.broken[line.item.value])

    # scenes

    def _performed(self, scene: Scene, step: Step, action: Perform) -> Problem | None:
        said = f'"{action.scene}"'
        found = self.library.named(OWN, action.scene)
        if not found:
            return problem_at(step, f"No scene is called {action.scene}.", said, near=self._near(action.scene, self._names))
        if len(found) > 1:
            return problem_at(step, f"{len(found)} scenes are called {action.scene}: give one another name.", said)
        there = found[0]
        reach = self._performing.of(there)
        if reach.circle:
            return problem_at(step, f"{self._circle(scene, reach.circle)}: that never ends.", said)
        asked, given = there.scene.values, len(action.values)
        if len(asked) != given:
            wants = " ".join(f"{{{name}}}" for name in asked) or "no values"
            return problem_at(step, f"{action.scene} asks for {wants} and is given {given or 'none'}.", said)
        if reach.steps > MOST_STEPS:
            return problem_at(step, f"This comes to more than {MOST_STEPS} steps: perform less at once.", said)
        if reach.depth > DEEPEST:
            return problem_at(step, f"More than {DEEPEST} scenes are performed by one another here: make less of them.", said)
        return None

    @cached_property
    def _names(self) -> list[str]:
        files = (OWN, *self.script.uses)
        return [scene.name for file in files if file in self.library.scripts for scene in self.library.scripts[file].scenes]

    @staticmethod
    def _circle(scene: Scene, circle: tuple[str, ...]) -> str:
        """The names of scenes that perform each other in a circle, from this one on where it is one of them."""
        if scene.name in circle:
            at = circle.index(scene.name)
            circle = (*circle[at:-1], *circle[:at], scene.name)
        shown = circle if len(circle) <= NAMED else (*circle[: NAMED - 1], "others until", circle[-1])
        return " performs ".join(shown)

    # values

    def _values(self) -> Iterator[Problem]:
        """Variables that nobody gives, each where it is used first."""
        needs = {need.name for script in self.library.scripts.values() for need in script.needs}
        known = needs | set(self.known.given) | set(self.known.columns.get(self.script.data, ()))
        for want in wants(self.library, known, self.known.columns):
            name, step = want.name, want.line
            words, said = next((m[0] for m in BRACED.finditer(step.source or "") if name in m[0]), ""), ""
            if want.by is not None:
                words, said = "", f"{want.by.action.scene if isinstance(want.by.action, Perform) else 'a scene'} uses it. "
            message = f"{{{name}}} has no value: {said}{GIVE.format(name=name)}."
            yield problem_at(step, message, words, near=self._near(name, known))

    def _standing(self) -> Iterator[Problem]:
        """What standing answers cannot have: they are looked for at any time, so a value that comes on the way says nothing."""
        always = {need.name for script in self.library.scripts.values() for need in script.needs} | set(self.known.given)
        always |= set(self.known.columns.get(self.script.data, ()))
        for place, step in self.library.steps():
            if not isinstance(step.action, Whenever):
                continue
            for name in sorted(step.used - always):
                if name not in self._on_the_way(place):
                    continue  # nothing gives it a value: that is a problem of its own
                why = f"whenever is looked for at any time, and {{{name}}} has a value only on the way. Use words, a need, or the data."
                if place.file == OWN:
                    words = next((m[0] for m in BRACED.finditer(step.source or "") if name in names_in(m[0])), "")
                    yield problem_at(step, f"{why[0].upper()}{why[1:]}", words)
                else:
                    yield from self._in_used(place.file, f"{place.file} line {step.line}: {why}")

    def _on_the_way(self, place: ScenePlace) -> set[str]:
        """Values that stand in a scene for a while: kept ones, the scene's own, those of loops."""
        tables = {table for s in place.scene.steps for table in s.action.tables}
        return kept(self.library) | set(place.scene.values) | {name for table in tables for name in self.known.columns.get(table, ())}

    def _in_used(self, file: str, message: str) -> Iterator[Problem]:
        for number, line in enumerate(self.document.lines, 1):
            if isinstance(line.item, Header) and (line.item.kind, line.item.value) == ("uses", file):
                yield _at_words(number, line.text, f'"{file}"', message)

    # hints

    def _hints(self) -> Iterator[Problem]:
        """What nothing uses, and time that is only let go by."""
        for step in (step for scene in self.script.scenes for step in scene.steps if isinstance(step.action, Pause)):
            text = self.document.lines[step.line - 1].text
            words = "A pause is too long on a quick device and too short on a slow one: `wait for` something that shows it is done."
            yield _at_words(step.line, text, "pause", words, hint=True)
        performed = {step.action.scene for _, step in self.script.steps() if isinstance(step.action, Perform)}
        performed |= set(self.known.performed_elsewhere)
        used = self._used_names()
        for number, line in enumerate(self.document.lines, 1):
            item = line.item
            if isinstance(item, Need) and item.name not in used:
                yield _at_words(number, line.text, item.name, f"Nothing uses {item.name}.", hint=True)
            elif isinstance(item, Header) and item.kind == "data" and item.value in self.known.columns:
                idle = [name for name in self.known.columns[item.value] if name not in used]
                if idle:
                    yield _at_words(number, line.text, f'"{item.value}"', f"Nothing uses the data's {listed(idle)}.", hint=True)
            elif isinstance(item, Header) and item.kind == "uses" and item.value in self.library.scripts:
                names = {scene.name for scene in self.library.scripts[item.value].scenes}
                if not names & performed:
                    yield _at_words(number, line.text, f'"{item.value}"', f"No scene of {item.value} is performed.", hint=True)
        for scene in self.script.scenes:
            text = self.document.lines[scene.line - 1].text
            own = {name for step in scene.steps for name in step.used}
            if scene.values and scene.name not in performed:
                yield _at_words(scene.line, text, f'"{scene.name}"', f"Nothing performs {scene.name}.", hint=True)
            for name in scene.values:
                if name not in own and not any(isinstance(s.action, Perform) for s in scene.steps):
                    yield _at_words(scene.line, text, "{" + name + "}", f"Nothing in {scene.name} uses {name}.", hint=True)

    def _used_names(self) -> set[str]:
        return {name for script in self.library.scripts.values() for _, step in script.steps() for name in step.used}


def _at_words(number: int, text: str, words: str, message: str, *, hint: bool = False) -> Problem:
    column = max(0, text.find(words))
    return Problem(number, column + 1, message, text, max(1, len(words)), hint=hint)
