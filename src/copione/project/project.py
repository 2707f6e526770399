"""A project is a folder: project.toml, scripts/, data/, runs/, recordings/."""

from __future__ import annotations

import contextlib
import itertools
import json
import threading
import tomllib
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import urlsplit

import msgspec

from ..language.document import parse
from ..model.errors import FileTrouble
from ..model.secrecy import Redactor
from ..model.step import Script
from .files import inside, read_text, slug, write_whole
from .loaded import Loaded
from .loading import complete, load

MARK = "project.toml"


@dataclass(frozen=True)
class App:
    """An app under test: the word scripts use for it, and its package on each platform."""

    word: str
    packages: dict[str, str] = field(default_factory=dict)


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
        self.apps = {word: App(word, packages) for word, packages in facts.apps.items()}

    def phrases(self, locale: str) -> dict[str, str]:
        """The phrasebook for a locale (BCP 47): its language's phrases, then its own."""
        language = locale.split("-")[0]
        return self.phrasebook.get(language, {}) | (self.phrasebook.get(locale, {}) if locale != language else {})

    @classmethod
    def create(cls, folder: Path, name: str, redactor: Redactor | None = None) -> Project:
        """A new project in an empty or new folder; an existing one is opened."""
        if not (folder / MARK).exists():
            write_whole(folder / MARK, f"name = {_quoted(name)}\n".encode())
        for part in ("scripts", "data", "runs", "recordings"):
            (folder / part).mkdir(parents=True, exist_ok=True)
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
                found[path.name] = parse(read_text(path)).script
        return found

    def script_path(self, name: str) -> Path:
        """The file of a script of that name."""
        return self.scripts_folder / f"{slug(name)}.copione"

    def free_name(self, name: str) -> str:
        """That name, or with the next number behind it, so that no script has it. `Script` is always given a number."""
        if name != "Script" and not self.script_path(name).exists():
            return name
        return next(each for n in itertools.count(1 if name == "Script" else 2) if not self.script_path(each := f"{name} {n}").exists())

    def load(self, path: Path) -> Loaded:
        """A script with all that its text names. Raises FileTrouble when the script itself cannot be read."""
        loaded = load(path, self.data_folder)
        self.redactor.learn(loaded.secrets)
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

    def say_address(self, url: str) -> None:
        """Where the web apps are in this session; project.toml stays as it is."""
        self.apps = {word: App(word, {**app.packages, "web": url}) for word, app in self.apps.items()}

    def learn_app(self, package: str, platform: str) -> str:
        """The word for a package, kept in project.toml; a new one is made from the package's last part. May be called from any thread."""
        with self._learning:
            for word, app in self.apps.items():
                if app.packages.get(platform) == package:
                    return str(word)
            word = slug(_host(package) if platform == "web" else package.rpartition(".")[2])
            known = self.apps[word].packages if word in self.apps else {}
            self.apps = {**self.apps, word: App(word, {**known, platform: package})}
            self._save()
            return word

    def _save(self) -> None:
        lines = [f"name = {_quoted(self.name)}"]
        for each in self.apps.values():
            lines += ["", f"[apps.{each.word}]", *(f"{k} = {_quoted(v)}" for k, v in each.packages.items())]
        self.made = True
        for locale, phrases in self.phrasebook.items():
            lines += ["", f"[phrasebook.{locale}]", *(f"{_quoted(k)} = {_quoted(v)}" for k, v in phrases.items())]
        write_whole(self.folder / MARK, ("\n".join(lines) + "\n").encode())


def _host(address: str) -> str:
    """What a web app is called by the name of its host; of one without a name, just so."""
    host = urlsplit(address).hostname or ""
    named = [part for part in host.split(".") if part != "www" and not part.isdigit()]
    return named[0] if named and named[0] != "localhost" else "web app"


def _quoted(words: str) -> str:
    """A basic string of TOML."""
    return json.dumps(words, ensure_ascii=False)


@dataclass(frozen=True)
class _Facts:
    """What project.toml may say."""

    name: str = ""
    apps: dict[str, dict[str, str]] = field(default_factory=dict)
    phrasebook: dict[str, dict[str, str]] = field(default_factory=dict)


def _facts(path: Path) -> _Facts:
    if not path.exists():
        return _Facts()
    try:
        return msgspec.convert(tomllib.loads(read_text(path)), _Facts)
    except (tomllib.TOMLDecodeError, RecursionError) as error:
        raise FileTrouble(f"{path.name} is not valid TOML: {error}.", path=path) from error
    except msgspec.ValidationError as error:
        raise FileTrouble(f"{path.name} is not as it should be: {error}.", path=path) from error
