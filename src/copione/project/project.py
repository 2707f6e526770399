"""A project is a folder: project.toml, scripts/, data/, runs/, recordings/."""

from __future__ import annotations

import contextlib
import itertools
import threading
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

import tomlkit

from ..files.naming import inside, slug
from ..files.reading import FileKind, read_text, read_toml, trouble
from ..files.settings import change_toml, table_in
from ..model.errors import FileTrouble
from ..model.secrecy import Redactor
from ..model.step import Script
from .apps import word_for
from .loaded import Loaded
from .loading import complete, load, read_document
from .naming import free_script_path, name_in

MARK = "project.toml"
LANGUAGE = "language"  # in an app's table, beside its package on each platform


@dataclass(frozen=True)
class App:
    """An app of a project: the word scripts use for it, its package on each platform, and the language (BCP 47) that it speaks on every
    device; empty where it speaks the device's.
    """

    word: str
    packages: dict[str, str] = field(default_factory=dict)
    language: str = ""

    @classmethod
    def of(cls, word: str, facts: Mapping[str, str]) -> App:
        """From its table in project.toml."""
        return cls(word, {name: value for name, value in facts.items() if name != LANGUAGE}, facts.get(LANGUAGE, ""))


def phrases_in(phrasebook: Mapping[str, Mapping[str, str]], locale: str) -> dict[str, str]:
    """The phrases for a locale (BCP 47): its language's, then its own."""
    language = locale.split("-")[0]
    return {**phrasebook.get(language, {}), **(phrasebook.get(locale, {}) if locale != language else {})}


class Project:
    """A project folder. Raises FileTrouble for what cannot be read."""

    def __init__(self, folder: Path, redactor: Redactor | None = None) -> None:
        self.folder = folder.resolve()
        self.redactor = redactor or Redactor()  # knows every secret that was used in this session
        self._learning = threading.Lock()
        self.made = (self.folder / MARK).exists()  # else it is made when something is kept in it
        facts = _facts(self.folder / MARK)
        self.name = facts.name or self.folder.name
        self.phrasebook = facts.phrasebook
        self.apps = {word: App.of(word, told) for word, told in facts.apps.items()}

    def phrases(self, locale: str) -> dict[str, str]:
        """The phrasebook for a locale (BCP 47): its language's phrases, then its own."""
        return phrases_in(self.phrasebook, locale)

    def __reduce__(self) -> tuple[type[Project], tuple[Path, Redactor]]:
        """Where it is pickled, its files are read again."""
        return Project, (self.folder, self.redactor)

    @classmethod
    def create(cls, folder: Path, name: str, redactor: Redactor | None = None) -> Project:
        """A new project in an empty or new folder; an existing one is opened."""
        if not (folder / MARK).exists():
            change_toml(folder / MARK, lambda document: None, _head(name))
        for part in ("scripts", "data", "runs", "recordings"):
            try:
                (folder / part).mkdir(parents=True, exist_ok=True)
            except OSError as error:
                raise trouble(error, folder / part) from error
        return cls(folder, redactor)

    @classmethod
    def around(cls, path: Path, redactor: Redactor | None = None) -> Project:
        """The project a file belongs to: the nearest folder above it with a project.toml, else the file's own folder."""
        start = path.resolve().parent
        for folder in (start, *start.parents):
            if (folder / MARK).exists():
                return cls(folder, redactor)
        return cls(start, redactor)

    @property
    def scripts_folder(self) -> Path:
        """Where scripts are."""
        return self.folder / "scripts"

    @property
    def builds_folder(self) -> Path:
        """The package files that scripts install."""
        return self.folder / "builds"

    @property
    def data_folder(self) -> Path:
        """Where data rows are, and files that pages are given."""
        return self.folder / "data"

    @property
    def runs_folder(self) -> Path:
        """Where runs are kept."""
        return self.folder / "runs"

    @property
    def recordings_folder(self) -> Path:
        """Where recordings are journalled."""
        return self.folder / "recordings"

    def scripts(self) -> list[Path]:
        """Every script, by file name."""
        return sorted(self.scripts_folder.glob("*.copione"))

    def every_script(self) -> dict[str, Script]:
        """What each script means, by file name; those that cannot be read are left out."""
        found = {}
        for path in self.scripts():
            with contextlib.suppress(FileTrouble):
                found[path.name] = read_document(path).script
        return found

    def script_path(self, name: str) -> Path:
        """The file of a script of that name, unless another script has taken it first: see `free_script_path`."""
        return self.scripts_folder / f"{slug(name)}.copione"

    def free_script_path(self, name: str) -> Path:
        """A file for a new script of that name: names that differ may make the same file name."""
        return free_script_path(self.script_path(name))

    def names(self, besides: Path | None = None) -> set[str]:
        """What the scripts are called, in small letters, but for one; one that cannot be read by its file."""
        found = set()
        for path in self.scripts():
            if path != besides:
                with contextlib.suppress(FileTrouble):
                    found.add((name_in(read_text(path, FileKind.SCRIPT)) or path.stem).casefold())
        return found

    def free_name(self, name: str) -> str:
        """That name, or with the next number behind it, so that no script has it. `Script` is always given a number."""
        taken = self.names()
        if name != "Script" and name.casefold() not in taken:
            return name
        return next(each for n in itertools.count(1 if name == "Script" else 2) if (each := f"{name} {n}").casefold() not in taken)

    def load(self, path: Path) -> Loaded:
        """A script with all that its text names. Raises FileTrouble when the script itself cannot be read."""
        loaded = load(path, self.data_folder)
        loaded.teach(self.redactor)
        return loaded

    def complete(self, loaded: Loaded) -> Loaded:
        """A script with what its text names now: another table, another script it uses."""
        return complete(loaded, self.data_folder)

    def data_path(self, name: str) -> Path:
        """A file of data rows. Raises FileTrouble for one that is not in the project's data folder."""
        return inside(self.data_folder, name)

    def package(self, word: str, platform: str) -> str:
        """The package of an app on a platform. Raises FileTrouble."""
        app = self.apps.get(word)
        package = app.packages.get(platform) if app else None
        if package is None:
            raise FileTrouble(
                f"{MARK} does not say which {platform} app {word} is. Record once on such a device, or add it under [apps.{word}]."
            )
        return package

    def packages(self, words: Iterable[str], platform: str) -> dict[str, str]:
        """The packages of those of these apps that the platform has, by their words."""
        known = {word: self.apps[word].packages.get(platform, "") for word in words if word in self.apps}
        return {word: package for word, package in known.items() if package}

    def languages(self, words: Iterable[str], platform: str) -> dict[str, str]:
        """The languages of those of these apps that speak the same one on every device, by their packages."""
        return {package: self.apps[word].language for word, package in self.packages(words, platform).items() if self.apps[word].language}

    def say_address(self, url: str) -> None:
        """Where the web apps are in this session; project.toml stays as it is."""
        self.apps = {word: replace(app, packages={**app.packages, "web": url}) for word, app in self.apps.items()}

    def learn_app(self, package: str, platform: str) -> str:
        """The word for a package, kept in project.toml; a new one where no word means this app. May be called from any thread.

        Raises FileTrouble when it cannot be kept.
        """
        with self._learning:
            known = next((word for word, app in self.apps.items() if app.packages.get(platform) == package), None)
            if known is not None:
                return known
            learned: list[str] = []

            def add(document: Any) -> None:
                apps = table_in(document, "apps")
                told = {word: App.of(word, dict(facts)).packages for word, facts in apps.items() if isinstance(facts, dict)}
                word = word_for(package, platform, {**{w: app.packages for w, app in self.apps.items()}, **told})
                document.setdefault("name", self.name)
                table_in(apps, word)[platform] = package
                learned[:] = [word]

            change_toml(self.folder / MARK, add, _head(self.name))
            self.made = True
            word = learned[0]
            before = self.apps.get(word, App(word))
            self.apps = {**self.apps, word: replace(before, packages={**before.packages, platform: package})}
            return word


def _head(name: str) -> str:
    return tomlkit.dumps({"name": name})


@dataclass(frozen=True)
class _Facts:
    """What project.toml may say."""

    name: str = ""
    apps: dict[str, dict[str, str]] = field(default_factory=dict)
    phrasebook: dict[str, dict[str, str]] = field(default_factory=dict)


def _facts(path: Path) -> _Facts:
    return read_toml(path, _Facts) if path.exists() else _Facts()
