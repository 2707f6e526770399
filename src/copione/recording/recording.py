"""The steps of a recording as they grow: a pure state with undo, told of meanings, turned into a script and its portraits."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping
from dataclasses import dataclass, replace

from ..language.printer import step_words
from ..model.geometry import Box
from ..model.portrait import Portrait
from ..model.screen import Element
from ..model.step import VARIABLE, Scene, Script, Step, Target
from ..project.portraits import Portraits
from ..recognition.ease import ease
from ..recognition.reach import scroller_of
from .intent import Meaning, found_in_list, portrayed, target_of

PATIENCE_S = 8.0
TYPING = frozenset({"type", "append"})
#: Verbs that only elements of these roles take.
TAKES = {
    "switch": ("switch", "checkbox"),
    "set": ("slider", "spinbutton"),
    "choose": ("radiogroup", "combobox"),
    **dict.fromkeys(("type", "append", "clear"), ("textbox",)),
}


@dataclass(frozen=True)
class RecordedStep:
    """One step with what it was read from. `shot` is the stem of the moment it was read against; `mark` the gesture's points in dp;
    `bars` how easy its target is to find again (1-3, 0 without a target); `doubt` why it may be about another element; `others` what it
    may have been instead."""

    uid: int
    scene: str
    step: Step
    portraits: tuple[tuple[str, Portrait], ...] = ()
    shot: str = ""
    mark: tuple[tuple[float, float], ...] = ()
    scrolled: bool = False
    bars: int = 0
    doubt: str = ""
    others: tuple[RecordedStep, ...] = ()

    @property
    def words(self) -> str:
        return step_words(self.step)

    @property
    def element(self) -> Element | None:
        return self.portraits[0][1].element if self.portraits else None

    @property
    def box(self) -> Box | None:
        """What is meant, dp: an element's box, or an area of it."""
        return self.portraits[0][1].box if self.portraits else None


State = tuple[RecordedStep, ...]


class Recording:
    """All changes go through `_to`, which keeps the past for undo and tells `changed`."""

    def __init__(self, app: str = "", scene: str = "Scene 1", changed: Callable[[State], None] = lambda state: None) -> None:
        self.app = app
        self.scene = scene
        self.changed = changed
        self.steps: State = ()
        self.values: dict[str, str] = {}  # of the variables that were made
        self._past: list[State] = []
        self._future: list[State] = []
        self._next = 1

    # growing

    def add(self, meaning: Meaning, shot: str = "", mark: tuple[tuple[float, float], ...] = (), doubt: str = "") -> RecordedStep:
        """Take a meaning in, merged with what came before: scrolls into a find, a tap on a field into its typing."""
        element = meaning.element
        before = list(self.steps)
        if element is not None and not meaning.scrolled:
            before = self._fold_scrolls(before, element, shot)
        if before and (self._same_field(before[-1], meaning) or _same_choice(before[-1], meaning) or _same_taps(before[-1], meaning)):
            mark = mark or before[-1].mark
            shot = before[-1].shot or shot
            meaning = _appended(before.pop(), meaning)
        recorded = replace(self._recorded(meaning, shot, mark), doubt=doubt)
        self._to((*before, recorded))
        return recorded

    def gather(self, uid: int, meaning: Meaning) -> RecordedStep:
        """The step of that number and all after it were one: the meaning takes their place, with the first one's frame."""
        place = next(i for i, s in enumerate(self.steps) if s.uid == uid)
        first = self.steps[place]
        recorded = self._recorded(meaning, first.shot, first.mark)
        self._to((*self.steps[:place], recorded))
        return recorded

    def _recorded(self, meaning: Meaning, shot: str, mark: tuple[tuple[float, float], ...]) -> RecordedStep:
        portraits = tuple((key, replace(p, scene=self.scene, picture=f"{shot}.png" if shot else "")) for key, p in meaning.portraits)
        bars = ease(meaning.portraits[0][1].element) if meaning.portraits else 0
        recorded = RecordedStep(self._next, self.scene, meaning.step, portraits, shot, mark, meaning.scrolled, bars)
        self._next += 1
        return recorded

    def _fold_scrolls(self, before: list[RecordedStep], element: Element, shot: str) -> list[RecordedStep]:
        """Scrolls of the container that the next target stands in were the search for it."""
        scroller = scroller_of(element)
        kept = list(before)
        folded = False
        while kept and kept[-1].scrolled and scroller is not None and _same_place(kept[-1].element, scroller):
            kept.pop()
            folded = True
        item = element if element.role == "listitem" else next((a for a in element.ancestors() if a.role == "listitem"), None)
        meaning = found_in_list(item) if folded and item is not None else None
        return [*kept, self._recorded(meaning, shot, ())] if meaning is not None else kept

    @staticmethod
    def _same_field(last: RecordedStep, meaning: Meaning) -> bool:
        if meaning.step.verb != "type" or last.step.target != meaning.step.target:
            return False
        return last.step.verb in {"tap", "type", "append"}

    # changing

    def new_scene(self, name: str) -> None:
        """What is recorded from now on belongs to this scene."""
        self.scene = name

    def rename_scene(self, old: str, new: str) -> None:
        self.scene = new if self.scene == old else self.scene
        self._to(
            tuple(
                replace(s, scene=new, portraits=tuple((k, replace(p, scene=new)) for k, p in s.portraits)) if s.scene == old else s
                for s in self.steps
            )
        )

    def delete(self, uid: int) -> None:
        self._to(tuple(s for s in self.steps if s.uid != uid))

    def take_back(self) -> RecordedStep | None:
        """Remove the last step."""
        if not self.steps:
            return None
        last = self.steps[-1]
        self.delete(last.uid)
        return last

    def change(self, uid: int, step: Step) -> None:
        """Replace what a step says; its portraits follow when its target is renamed."""

        def renamed(s: RecordedStep) -> RecordedStep:
            portraits = s.portraits
            if portraits and step.target is not None:
                portraits = ((step.key(), portraits[0][1]), *portraits[1:])
            return replace(s, step=step, portraits=portraits)

        self._to(tuple(renamed(s) if s.uid == uid else s for s in self.steps))

    def retarget(self, uid: int, element: Element) -> None:
        """Point a step at another element of the same frame; what only the old one takes becomes a tap."""

        def pointed(s: RecordedStep) -> RecordedStep:
            target = target_of(element)
            step = replace(s.step, target=target)
            if element.role not in TAKES.get(step.verb, (element.role,)):
                step = Step("tap", target)
            picture = s.portraits[0][1].picture if s.portraits else ""
            kept = tuple((key, replace(p, scene=s.scene, picture=picture)) for key, p in portrayed(target, element))
            rest = tuple((key, p) for key, p in s.portraits[1:] if step.onto is not None and key == step.onto.words())
            return replace(s, step=step, portraits=(*kept, *rest), bars=ease(element), doubt="", others=())

        self._to(tuple(pointed(s) if s.uid == uid else s for s in self.steps))

    def wait_first(self, uid: int) -> None:
        """An explicit wait for a step's target before it."""
        steps: list[RecordedStep] = []
        for s in self.steps:
            if s.uid == uid and s.step.target is not None:
                waiting = Step("wait", s.step.target, relation="is shown")
                steps.append(replace(s, uid=self._next, step=waiting, mark=(), doubt="", others=()))
                self._next += 1
            steps.append(s)
        self._to(tuple(steps))

    def may_be(self, uid: int, meanings: Iterable[Meaning], shot: str) -> None:
        """Other readings of a step in doubt."""

        def offered(s: RecordedStep) -> RecordedStep:
            others = {m.step: self._recorded(m, shot, s.mark) for m in meanings if m.step != s.step}
            return replace(s, others=tuple(replace(other, uid=s.uid, scene=s.scene) for other in others.values()))

        self._set(tuple(offered(s) if s.uid == uid else s for s in self.steps))

    def take_other(self, uid: int, number: int) -> None:
        """It was the other reading of that number, from 0."""
        self._to(tuple(s.others[number] if s.uid == uid else s for s in self.steps))

    def split(self, uid: int, at: int) -> None:
        """One typing as two: the words up to `at`, and the rest appended."""
        steps: list[RecordedStep] = []
        for s in self.steps:
            words = s.step.value
            if s.uid != uid or s.step.verb not in TYPING or not 0 < at < len(words):
                steps.append(s)
                continue
            steps.append(replace(s, step=replace(s.step, value=words[:at])))
            steps.append(replace(s, uid=self._next, step=replace(s.step, verb="append", value=words[at:])))
            self._next += 1
        self._to(tuple(steps))

    def merge(self, uid: int) -> None:
        """A typing and the one before it in the same field as one."""
        if not mergeable(self.steps, uid):
            return
        place = next(i for i, s in enumerate(self.steps) if s.uid == uid)
        last, this = self.steps[place - 1], self.steps[place]
        said = replace(last.step, value=last.step.value + this.step.value) if this.step.verb == "append" else this.step
        self._to((*self.steps[: place - 1], replace(this, step=said), *self.steps[place + 1 :]))

    def vary(self, value: str, name: str) -> None:
        """Make a value a variable: wherever a step says exactly `value`, it says {name}; the value becomes the first data row's."""
        self.values = {**self.values, name: value}
        braced = "{" + name + "}"

        def words(said: str) -> str:
            return braced if said == value else said

        def target(t: Target | None) -> Target | None:
            return replace(t, name=words(t.name), inside=target(t.inside)) if t is not None else None

        def varied(s: RecordedStep) -> RecordedStep:
            step = replace(s.step, target=target(s.step.target), value=words(s.step.value))
            portraits = ((step.key(), s.portraits[0][1]), *s.portraits[1:]) if s.portraits else ()
            return s if step == s.step else replace(s, step=step, portraits=portraits)

        self._to(tuple(varied(s) for s in self.steps))

    def undo(self) -> bool:
        if not self._past:
            return False
        self._future.append(self.steps)
        self._set(self._past.pop())
        return True

    def redo(self) -> bool:
        if not self._future:
            return False
        self._past.append(self.steps)
        self._set(self._future.pop())
        return True

    def restore(self, steps: State, scene: str, values: Mapping[str, str]) -> None:
        """Begin with steps that were recovered."""
        self.values = dict(values)
        self.scene = scene
        self._next = max((s.uid for s in steps), default=0) + 1
        self._set(steps)

    def _to(self, steps: State) -> None:
        self._past.append(self.steps)
        self._future.clear()
        self._set(steps)

    def _set(self, steps: State) -> None:
        self.steps = steps
        self.changed(steps)

    # what it becomes

    def stretch(self, uids: Collection[int] | None) -> State:
        """The steps of those numbers, in order; all for None."""
        return self.steps if uids is None else tuple(s for s in self.steps if s.uid in uids)

    def script(self, name: str, uids: Collection[int] | None = None) -> Script:
        """The script a person would write for these steps, or for some of them."""
        scenes: list[tuple[str, list[Step]]] = []
        for recorded in self.stretch(uids):
            if not scenes or scenes[-1][0] != recorded.scene:
                scenes.append((recorded.scene, []))
            scenes[-1][1].append(recorded.step)
        return Script(name, self.app, PATIENCE_S, scenes=tuple(Scene(n, tuple(steps)) for n, steps in scenes))

    def row(self, script: Script) -> dict[str, str]:
        """The data row that a script of these steps needs: the values of its variables as they were recorded."""
        used = script.variables()
        return {name: value for name, value in self.values.items() if name in used}

    def portraits(self) -> Portraits:
        """Every target's portraits by its words; the same element in the same scene once."""
        found: dict[str, list[Portrait]] = {}
        for recorded in self.steps:
            for key, portrait in recorded.portraits:
                several = found.setdefault(key, [])
                if not any(p.scene == portrait.scene and p.screen.signature == portrait.screen.signature for p in several):
                    several.append(portrait)
        return {key: tuple(several) for key, several in found.items()}


def mergeable(steps: State, uid: int) -> bool:
    """Does that step type on where the step before it typed?"""
    place = next((i for i, s in enumerate(steps) if s.uid == uid), 0)
    if not place:
        return False
    last, this = steps[place - 1].step, steps[place].step
    secret = VARIABLE.search(last.value + this.value) is not None
    return this.verb in TYPING and last.verb in TYPING and last.target == this.target and not secret


def _appended(last: RecordedStep, meaning: Meaning) -> Meaning:
    """What is typed behind the words a field held before is appended to them."""
    field, now = last.element, meaning.step.value
    if meaning.step.verb != "type" or field is None or VARIABLE.fullmatch(now):
        return meaning
    held = field.text if last.step.verb == "tap" else field.text.removesuffix(last.step.value) if last.step.verb == "append" else ""
    if not held or not now.startswith(held) or now == held:
        return meaning
    return replace(meaning, step=replace(meaning.step, verb="append", value=now[len(held) :]))


def _same_taps(last: RecordedStep, meaning: Meaning) -> bool:
    """A double click's first click came as a tap of its own."""
    return meaning.step.verb == "double-tap" and last.step.verb == "tap" and last.step.target == meaning.step.target


def _same_choice(last: RecordedStep, meaning: Meaning) -> bool:
    """A wheel turned again, or a slider moved again: only where it came to rest counts."""
    return meaning.step.verb in {"choose", "set"} and last.step.verb == meaning.step.verb and last.step.target == meaning.step.target


def _same_place(container: Element | None, scroller: Element) -> bool:
    if container is None or container.role != scroller.role:
        return False
    return container.id == scroller.id if container.id or scroller.id else container.name == scroller.name
