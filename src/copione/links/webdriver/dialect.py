"""How a remote end is asked for what the standard has no word for: TOML files, one a dialect. What one does not say cannot be asked."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import msgspec

from ...files.reading import read_toml
from ...model.errors import FileTrouble
from .wire import list_in, record_in

OWN = Path(__file__).parent / "dialects"
PLAIN = "plain"
_PLACE = re.compile(r"\{([a-zA-Z_]+)\}")
METHODS = frozenset({"GET", "POST", "DELETE"})
#: What may be asked for, with what stands in braces in its path, script and body.
NEEDS = {
    "list": (),
    "front": (),
    "launch": ("app",),
    "stop": ("app",),
    "clear": ("app",),
    "home": (),
    "install": ("package",),
    "uninstall": ("app",),
    "log": ("since", "since_ms"),
    "turn": ("orientation", "ORIENTATION"),
    "orientation": (),
    "open": ("address",),
    "keyboard": (),
    "hide": (),
}


class Need(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """How one thing is asked for: a command below the session's address, or a script of the remote end's own.

    `body` of a command, `arguments` of a script; `value` is where the answer is in what comes back, names and numbers with dots between
    them. `app`, `name`, `version` and `activity` are where those are in it, or in each entry of a list; `line` where a log's
    entry has its words.
    """

    path: str = ""
    method: str = "POST"
    script: str = ""
    body: dict[str, Any] = {}
    arguments: list[Any] = []
    value: str = ""
    app: str = ""
    name: str = ""
    version: str = ""
    activity: str = ""
    line: str = ""

    def __post_init__(self) -> None:
        if bool(self.path) == bool(self.script):
            raise ValueError("each need has either a path or a script")
        if self.method not in METHODS:
            raise ValueError(f"there is no method {self.method}; there are {', '.join(sorted(METHODS))}")
        if self.path.startswith("/") or ".." in self.path or not self.path.isprintable():
            raise ValueError("a path is below the session's address")


class Dialect(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A dialect. `known_by`: capabilities that only remote ends speaking it return. `facts`: which capability holds which fact about the
    device (name, udid, release, locale, textScale, millimetres, dpi, pixelRatio)."""

    about: str
    known_by: list[str] = []
    facts: dict[str, str] = {}
    needs: dict[str, Need] = {}
    name: str = PLAIN

    def __post_init__(self) -> None:
        unknown = sorted(self.needs.keys() - NEEDS.keys())
        if unknown:
            raise ValueError(f"there is no need {unknown[0]}; there are {', '.join(NEEDS)}")
        for name, need in self.needs.items():
            places = {place for words in _texts([need.path, need.script, need.body, need.arguments]) for place in _PLACE.findall(words)}
            if odd := sorted(places - set(NEEDS[name])):
                raise ValueError(f"{name}: nothing stands for {{{odd[0]}}}")

    def request(self, need: Need, values: dict[str, Any]) -> tuple[str, str, dict[str, Any] | None]:
        """Method, path below the session, and body."""
        if need.script:
            return "POST", "execute/sync", {"script": _filled(need.script, values), "args": _filled(need.arguments, values)}
        body = _filled(need.body, values) if need.method == "POST" else None
        return need.method, str(_filled(need.path, values)), body


def _texts(value: Any) -> list[str]:
    if isinstance(value, str):
        return [value]
    if isinstance(value, dict):
        return [words for each in value.values() for words in _texts(each)]
    return [words for each in value for words in _texts(each)] if isinstance(value, list) else []


def _filled(value: Any, values: dict[str, Any]) -> Any:
    if isinstance(value, str):
        whole = _PLACE.fullmatch(value)
        return values[whole[1]] if whole else _PLACE.sub(lambda place: str(values[place[1]]), value)
    if isinstance(value, dict):
        return {name: _filled(each, values) for name, each in value.items()}
    return [_filled(each, values) for each in value] if isinstance(value, list) else value


def at(value: Any, place: str) -> Any:
    """What is at a place in an answer: names and numbers with dots between them. Raises ValueError where it is not there."""
    for part in filter(None, place.split(".")):
        if part.isdigit() and isinstance(value, list):
            found = list_in(value, "the answer")
            if int(part) >= len(found):
                raise ValueError(f"the answer has no part {part}")
            value = found[int(part)]
        else:
            record = record_in(value, f"what should hold {part}")
            if part not in record:
                raise ValueError(f"the answer has no {part}")
            value = record[part]
    return value


def user_folder() -> Path:
    """Where the user's own dialects are kept."""
    from platformdirs import user_config_path

    return user_config_path("copione") / "dialects"


def dialects() -> dict[str, Dialect]:
    """Every dialect by the name of its file; the user's own before those that ship. Raises FileTrouble for one that cannot be used."""
    files = {path.stem: path for folder in (OWN, user_folder()) if folder.is_dir() for path in sorted(folder.glob("*.toml"))}
    return {PLAIN: Dialect("Nothing but the standard"), **{name: read_dialect(path) for name, path in files.items()}}


def read_dialect(path: Path) -> Dialect:
    """A dialect from its file. Raises FileTrouble."""
    return msgspec.structs.replace(read_toml(path, Dialect), name=path.stem)


def spoken(wanted: str, capabilities: dict[str, Any]) -> Dialect:
    """The dialect called `wanted`, else the one that the session's capabilities show. Raises FileTrouble for an unknown name."""
    known = dialects()
    if wanted:
        if wanted not in known:
            raise FileTrouble(f"There is no dialect {wanted!r}. There are {', '.join(known)}; your own are in {user_folder()}.")
        return known[wanted]
    return next((each for each in known.values() if any(name in capabilities for name in each.known_by)), known[PLAIN])
