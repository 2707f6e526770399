"""A project is a folder: project.toml, scripts/, data/, runs/, recordings/."""

from __future__ import annotations

import json
import tomllib
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path
from typing import Any

from ..language.document import Document, data_problems, parse
from ..language.problems import Problem
from ..model.errors import FileTrouble
from ..model.screen import Flag
from ..model.step import VARIABLE, Script
from .data import Row, load_rows
from .files import read_text, slug, write_whole
from .portraits import Portraits, load_portraits
from .secrets import from_environment

MARK = "project.toml"


@dataclass(frozen=True)
class App:
    """An app under test: the word scripts use for it, and its package on each platform."""

    word: str
    packages: dict[str, str] = field(default_factory=dict)


@dataclass
class Loaded:
    """A script as it was found on disk. `notes` say what was found wanting and can be done without."""

    path: Path
    document: Document
    portraits: Portraits
    rows: list[Row]
    notes: tuple[str, ...] = ()

    @property
    def script(self) -> Script:
        return self.document.script

    @cached_property
    def secrets(self) -> dict[str, str]:
        """Values from the environment for the variables that the data does not give. Never written down."""
        return from_environment(self.script.variables() - set(self.rows[0] if self.rows else {}))

    @property
    def wanting(self) -> list[str]:
        """Variables that neither the data nor the environment gives a value: to be asked for before a run."""
        return sorted(self.script.variables() - set(self.rows[0] if self.rows else {}) - set(self.secrets))

    @property
    def secret_names(self) -> set[str]:
        """Variables that are typed into fields the platform marks as passwords."""
        steps = [s for _, s in self.script.steps() if s.verb in {"type", "append"}]
        fields = {s.value: self.portraits.get(s.key(), ()) for s in steps}
        return {
            name for value, known in fields.items() if any(p.element.has(Flag.PASSWORD) for p in known) for name in VARIABLE.findall(value)
        }


class Project:
    """A project folder. Raises FileTrouble for what cannot be read."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder.resolve()
        record = _toml(self.folder / MARK)
        self.name = str(record.get("name", self.folder.name))
        self.phrasebook: dict[str, dict[str, str]] = record.get("phrasebook", {})
        self.apps: dict[str, App] = {
            word: App(word, {k: str(v) for k, v in facts.items()}) for word, facts in record.get("apps", {}).items()
        }

    def phrases(self, locale: str) -> dict[str, str]:
        """The phrasebook for a locale (BCP 47): its language's phrases, then its own."""
        language = locale.split("-")[0]
        return self.phrasebook.get(language, {}) | (self.phrasebook.get(locale, {}) if locale != language else {})

    @classmethod
    def create(cls, folder: Path, name: str) -> Project:
        """A new project in an empty or new folder; an existing one is opened."""
        if not (folder / MARK).exists():
            write_whole(folder / MARK, f"name = {_quoted(name)}\n".encode())
        for part in ("scripts", "data", "runs", "recordings"):
            (folder / part).mkdir(parents=True, exist_ok=True)
        return cls(folder)

    @classmethod
    def around(cls, path: Path) -> Project:
        """The project a file belongs to: the nearest folder above it with a project.toml, else the file's own folder."""
        start = path.resolve().parent
        for folder in (start, *start.parents):
            if (folder / MARK).exists():
                return cls(folder)
        return cls(start)

    @property
    def scripts_folder(self) -> Path:
        return self.folder / "scripts"

    @property
    def runs_folder(self) -> Path:
        return self.folder / "runs"

    @property
    def recordings_folder(self) -> Path:
        return self.folder / "recordings"

    def scripts(self) -> list[Path]:
        return sorted(self.scripts_folder.glob("*.copione"))

    def script_path(self, name: str) -> Path:
        return self.scripts_folder / f"{slug(name)}.copione"

    def load(self, path: Path) -> Loaded:
        """A script with its portraits and data. Raises FileTrouble when the script or its data cannot be read."""
        document = parse(read_text(path))
        notes: list[str] = []
        portraits: Portraits = {}
        try:
            portraits = load_portraits(portraits_path(path))
        except FileTrouble as error:
            notes.append(error.sentence)
        rows: list[Row] = [{}]
        if document.script.data:
            rows = load_rows(self.data_path(document.script.data))
        return Loaded(path, document, portraits, rows, tuple(notes))

    def data_path(self, name: str) -> Path:
        return self.folder / "data" / name

    def package(self, word: str, platform: str) -> str:
        """The package of an app on a platform. Raises FileTrouble."""
        app = self.apps.get(word)
        package = app.packages.get(platform) if app else None
        if package is None:
            raise FileTrouble(
                f"{MARK} does not say which {platform} app {word} is. Record once on such a device, or add it under [apps.{word}]."
            )
        return package

    def learn_app(self, package: str, platform: str) -> str:
        """The word for a package, kept in project.toml; a new one is made from the package's last part."""
        for word, app in self.apps.items():
            if app.packages.get(platform) == package:
                return str(word)
        word = slug(package.rpartition(".")[2])
        packages = dict(self.apps[word].packages) if word in self.apps else {}
        self.apps[word] = App(word, packages | {platform: package})
        lines = [f"name = {_quoted(self.name)}"]
        for each in self.apps.values():
            lines += ["", f"[apps.{each.word}]", *(f"{k} = {_quoted(v)}" for k, v in each.packages.items())]
        for locale, phrases in self.phrasebook.items():
            lines += ["", f"[phrasebook.{locale}]", *(f"{_quoted(k)} = {_quoted(v)}" for k, v in phrases.items())]
        write_whole(self.folder / MARK, ("\n".join(lines) + "\n").encode())
        return word


def problems_of(loaded: Loaded, *, asking: bool = False) -> tuple[Problem, ...]:
    """The document's problems and the variables that neither the data nor the environment gives; `asking`: secrets come later."""
    later = loaded.secret_names if asking else set()
    if loaded.document.script.data or loaded.script.variables():
        return (*loaded.document.problems, *data_problems(loaded.document, [*loaded.rows[0], *loaded.secrets, *later]))
    return loaded.document.problems


def _quoted(words: str) -> str:
    """A basic string of TOML."""
    return json.dumps(words, ensure_ascii=False)


def portraits_path(script: Path) -> Path:
    return script.with_name(script.stem + ".portraits.json")


def frames_folder(script: Path) -> Path:
    """Where the recorded frames of a script are kept."""
    return script.with_name(script.stem + ".frames")


def _toml(path: Path) -> dict[str, Any]:
    if not path.exists():
        return {}
    try:
        return tomllib.loads(read_text(path))
    except tomllib.TOMLDecodeError as error:
        raise FileTrouble(f"{path.name} is not valid TOML: {error}.", path=path) from error
