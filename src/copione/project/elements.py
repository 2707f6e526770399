"""The elements of the app that a project's scripts know: by page, where each is used, how it fared, and what may be done with them."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from pathlib import Path

from ..files.changing import change_text
from ..files.reading import FileKind
from ..language.document import Document, parse
from ..language.parser import parse_target
from ..language.refactor import rename_target
from ..model.errors import FileTrouble
from ..model.outcome import Outcome
from ..model.portrait import Portrait
from ..model.target import Target
from ..recognition.placing import titles
from .archive import heads_by_time, read_run, runs_in
from .loading import read_document
from .naming import portraits_path
from .portraits import Portraits, change_portraits, load_portraits
from .project import Project

RUNS = 12  # the newest, from which it is told how elements fared
NO_PAGE = "Without a title"


@dataclass(frozen=True)
class Use:
    """A line that names an element."""

    path: Path
    line: int
    words: str


@dataclass(frozen=True)
class Fared:
    """What became of steps on it, on a device with a build."""

    device: str
    build: str
    counts: Mapping[Outcome, int]


@dataclass(frozen=True)
class KnownElement:
    """A target by its words: the page it was recorded on, its portraits with the script they lie beside, the lines that name it."""

    words: str
    page: str
    portraits: tuple[tuple[Path, Portrait], ...] = ()
    uses: tuple[Use, ...] = ()
    fared: tuple[Fared, ...] = ()

    @property
    def builds(self) -> tuple[str, ...]:
        """The builds for which it has a portrait of their own."""
        return tuple(sorted({p.build for _, p in self.portraits if p.build}))


@dataclass(frozen=True)
class ScriptFile:
    """A script's file as it is read for this."""

    path: Path
    document: Document
    portraits: Portraits = field(default_factory=dict)


def scripts_in(project: Project) -> list[ScriptFile]:
    """Every script with its portraits. Raises FileTrouble for one that cannot be read."""
    return [ScriptFile(path, read_document(path), load_portraits(portraits_path(path))) for path in project.scripts()]


def elements_of(project: Project) -> tuple[KnownElement, ...]:
    """Every element, by page and words. Raises FileTrouble."""
    scripts = scripts_in(project)
    found: dict[str, list[tuple[Path, Portrait]]] = {}
    uses: dict[str, list[Use]] = {}
    for script in scripts:
        for key, several in script.portraits.items():
            found.setdefault(key, []).extend((script.path, p) for p in several if not p.grip)
        for _, step in script.document.script.steps():
            for words in dict.fromkeys(_words(step.action.targets())):
                uses.setdefault(words, []).append(Use(script.path, step.line, (step.source or "").strip()))
    fared = _fared(project)
    every = [
        KnownElement(key, _page(found.get(key, [])), tuple(found.get(key, ())), tuple(uses.get(key, ())), fared.get(key, ()))
        for key in {*found, *uses}
    ]
    return tuple(sorted(every, key=lambda e: (e.page == NO_PAGE, e.page.casefold(), e.words)))


def _words(targets: Iterable[Target]) -> Iterable[str]:
    for target in targets:
        known: Target | None = target
        while known is not None:
            yield known.words()
            known = known.inside


def _page(portraits: list[tuple[Path, Portrait]]) -> str:
    if not portraits:
        return NO_PAGE
    shown = titles(portraits[0][1].screen)
    return shown[0].text if shown else NO_PAGE


def _fared(project: Project) -> dict[str, tuple[Fared, ...]]:
    """By target, from the newest runs: a damaged one is left out."""
    counts: dict[str, dict[tuple[str, str], Counter[Outcome]]] = {}
    for head in itertools.islice(heads_by_time(runs_in(project.runs_folder)), RUNS):
        try:
            run = read_run(head.folder)
        except FileTrouble:
            continue
        for take in run.takes:
            for result in take.results:
                if result.target and result.outcome.tried:
                    place = counts.setdefault(result.target, {}).setdefault((take.device.name, take.build), Counter())
                    place[result.outcome] += 1
    return {key: tuple(Fared(device, build, n) for (device, build), n in sorted(places.items())) for key, places in counts.items()}


# changes


def rename_element(project: Project, old: str, new: Target) -> list[str]:
    """In every script, with its portraits. Where the new words are known already both become one. Returns the changed scripts' names.

    Raises FileTrouble.
    """
    changed = []
    for script in scripts_in(project):
        keys = {old: new.words()}

        def text_after(text: str, keys: dict[str, str] = keys) -> str:
            document, found = rename_target(parse(text), old, new)
            keys.update(found)
            return project.redactor.words(document.text)

        def portraits_after(known: Portraits, keys: dict[str, str] = keys) -> Portraits:
            portraits = dict(known)
            for before, after in keys.items():
                if before in portraits and before != after:
                    portraits[after] = (*portraits.get(after, ()), *portraits.pop(before))
            return portraits

        renamed = change_text(script.path, FileKind.SCRIPT, text_after)
        if change_portraits(portraits_path(script.path), portraits_after, project.redactor) or renamed:
            changed.append(script.path.name)
    return changed


def merge_elements(project: Project, one: str, into: str) -> list[str]:
    """Two targets that are the same element become one. Returns the changed scripts' names. Raises FileTrouble."""
    target = parse_target(into)
    return rename_element(project, one, target) if target is not None else []


def forget_element(project: Project, words: str) -> list[str]:
    """Delete the portraits of an element that no step names. Returns the changed scripts' names. Raises FileTrouble."""
    changed = []
    for script in scripts_in(project):
        used = {each for _, step in script.document.script.steps() for each in _words(step.action.targets())}
        if words in script.portraits and words not in used:
            change_portraits(
                portraits_path(script.path),
                lambda known: {key: several for key, several in known.items() if key != words},
                project.redactor,
            )
            changed.append(script.path.name)
    return changed


def unused(elements: Iterable[KnownElement]) -> list[KnownElement]:
    """Those with portraits that no step names."""
    return [each for each in elements if each.portraits and not each.uses]
