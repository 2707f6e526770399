"""A script as it was found on disk, with all that it needs to be run: portraits, data, the scripts it uses, and values from outside."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import Path

from ..files.writing import NO_FILE, FileVersion
from ..language.document import Document
from ..language.problems import Problem
from ..language.script_problems import DocumentContext, script_problems
from ..model.action import Append, Type
from ..model.formula import BRACED, names_in
from ..model.library import OWN, Library
from ..model.screen import Flag
from ..model.secrecy import SHORTEST, Redactor, too_short
from ..model.step import Need, Script, Step
from ..model.unbound_variables import wants
from .data import Row
from .portraits import Portraits
from .secrets import from_environment

TOO_SHORT = "The value of {{{name}}} has fewer than {least} characters: it cannot be hidden in what is kept of a run."


@dataclass(frozen=True)
class Used:
    """Another script whose scenes are performed."""

    path: Path
    document: Document
    portraits: Portraits


@dataclass(frozen=True)
class AsRead:
    """What the files of a script held when they were read: its text, its portraits, its tables by name; and in which version.

    `ends` is what the lines of its text end in there.
    """

    text: str = ""
    version: FileVersion = NO_FILE
    portraits: Portraits = field(default_factory=dict)
    portraits_version: FileVersion = NO_FILE
    tables: Mapping[str, FileVersion] = field(default_factory=dict)
    ends: str = "\n"


@dataclass(frozen=True)
class Loaded:
    """`rows` are the data's as they stand in their file. `notes` say what was found wanting and can be done without.

    `secrets` are values that are in no data: from the environment, or asked for. Never written down. `values` come from there too and
    are none; they stand above the data's. `used` are other scripts by file name, `tables` those of loops; `broken` and `no_tables` say
    in a sentence why one is not there. `elsewhere` are the names of scenes that other scripts perform. `as_read` stays when it is
    edited.
    """

    path: Path
    document: Document
    portraits: Portraits
    rows: tuple[Row, ...]
    notes: tuple[str, ...] = ()
    secrets: Mapping[str, str] = field(default_factory=dict, repr=False)
    values: Mapping[str, str] = field(default_factory=dict)
    used: Mapping[str, Used] = field(default_factory=dict)
    tables: Mapping[str, tuple[Row, ...]] = field(default_factory=dict)
    broken: Mapping[str, str] = field(default_factory=dict)
    no_tables: Mapping[str, str] = field(default_factory=dict)
    elsewhere: frozenset[str] = frozenset()
    as_read: AsRead = field(default_factory=AsRead, repr=False)

    @property
    def script(self) -> Script:
        """What the text means."""
        return self.document.script

    @cached_property
    def library(self) -> Library:
        """The script and those it uses."""
        return Library({OWN: self.script, **{name: used.document.script for name, used in self.used.items()}})

    @property
    def complete(self) -> bool:
        """Has everything that the text names been looked for?"""
        uses = {name for script in self.library.scripts.values() for name in script.uses}
        named = {table for _, step in self._every_step() for table in step.action.tables}
        tables = named | ({self.script.data} if self.script.data else set())
        return uses <= {*self.used, *self.broken} and tables <= {*self.tables, *self.no_tables}

    def _every_step(self) -> Iterator[tuple[object, Step]]:
        for script in self.library.scripts.values():
            yield from script.steps()

    # values

    @cached_property
    def needs(self) -> Mapping[str, Need]:
        """What is given at the start, by name: the script's own word for it counts before that of one it uses."""
        found = {need.name: need for name in reversed([*self.library.scripts]) for need in self.library.scripts[name].needs}
        return {need.name: found[need.name] for need in (*self.script.needs, *found.values())}

    @cached_property
    def asked(self) -> list[Need]:
        """What is to be asked for before a run: those that neither the data nor anything else gives yet, those with a default too.

        A variable that nobody declared counts as secret: it is written nowhere. So does what is typed into a password field.
        """
        given = {*(self.rows[0] if self.rows else {}), *self.values, *self.secrets}
        undeclared = {want.name for want in wants(self.library, {*given, *self.needs}, self._columns)}
        secret = self.secret_names
        declared = [replace(need, secret=need.name in secret) for need in self.needs.values() if need.name not in given]
        return [*declared, *(Need(name, secret=True) for name in sorted(undeclared))]

    @property
    def wanting(self) -> list[str]:
        """Variables that nothing gives a value, not even a default."""
        return sorted(need.name for need in self.asked if need.default is None)

    @property
    def takes(self) -> tuple[Row, ...]:
        """The values of each take: a default where nothing else gives one, then the data's row, then what was given."""
        defaults = {need.name: need.default for need in self.needs.values() if need.default is not None and need.name not in self.secrets}
        return tuple({**defaults, **row, **self.values} for row in self.rows)

    def given(self, values: Mapping[str, str], *, over: bool = False) -> Loaded:
        """The same with those of the values that are asked for; `over`: also where the data gives them otherwise."""
        asked = {need.name: need for need in self.asked}
        if over:
            known = {name: self.needs.get(name, Need(name)) for name in values}
            asked = {**{name: replace(need, secret=name in self.secret_names) for name, need in known.items()}, **asked}
        new = {name: value for name, value in values.items() if name in asked}
        secret = {name: value for name, value in new.items() if asked[name].secret}
        plain = {name: value for name, value in new.items() if not asked[name].secret}
        notes = tuple(TOO_SHORT.format(name=name, least=SHORTEST) for name in too_short(secret))
        return replace(self, secrets={**self.secrets, **secret}, values={**self.values, **plain}, notes=(*self.notes, *notes))

    def with_environment(self) -> Loaded:
        """The same with what the environment gives for declared secrets, and for nothing else. Raises FileTrouble."""
        wanted = [need.name for need in self.needs.values() if need.secret and need.name not in self.secrets]
        return self.given(from_environment(wanted)) if wanted else self

    def edited(self, document: Document, portraits: Portraits | None = None) -> Loaded:
        """The same with another text, and other portraits where given."""
        return replace(self, document=document, portraits=self.portraits if portraits is None else portraits)

    @cached_property
    def secret_names(self) -> set[str]:
        """Variables that are declared secret, or typed into fields the platform marks as passwords."""
        found = {need.name for need in self.needs.values() if need.secret}
        for words in self._typed_hidden():
            found.update(names_in(words))
        return found

    def _typed_hidden(self) -> Iterator[str]:
        """What the script types into fields that are known to be passwords'."""
        for _, step in self.script.steps():
            if isinstance(step.action, Type | Append) and any(p.element.has(Flag.PASSWORD) for p in self.portraits.get(step.key(), ())):
                yield step.action.text

    def teach(self, redactor: Redactor) -> None:
        """Tell a redactor everything in it that is secret, whatever it is called: also in the data, in defaults, in the text itself."""
        redactor.learn(self.secrets)
        for take in self.takes:
            redactor.learn({name: take[name] for name in self.secret_names if name in take})
        for words in self._typed_hidden():
            if not BRACED.search(words):
                redactor.learn({"password": words})

    # problems

    @property
    def _columns(self) -> dict[str, tuple[str, ...]]:
        columns = {name: tuple(rows[0]) for name, rows in self.tables.items() if rows}
        if self.script.data and self.script.data not in self.no_tables:
            columns[self.script.data] = tuple(self.rows[0])
        return columns

    def problems(self, *, asking: bool = False) -> tuple[Problem, ...]:
        """What keeps it from being run: of its lines and of the whole; `asking`: secrets come later."""
        return tuple(problem for problem in self.remarks(asking=asking) if not problem.hint)

    def remarks(self, *, asking: bool = False) -> tuple[Problem, ...]:
        """Problems, and hints beside them, in the order of the lines."""
        given: Collection[str] = {*self.rows[0], *self.secrets, *self.values, *(self.secret_names if asking else ())}
        known = DocumentContext(self.library, self.broken, self._columns, self.no_tables, given, self.elsewhere)
        return tuple(sorted((*self.document.problems, *script_problems(self.document, known)), key=lambda p: (p.line, p.column)))
