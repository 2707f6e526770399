"""WebDriver endpoints given once: a TOML file in the user's settings, `[[endpoint]]` for each configuration. Comments in it stay."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import msgspec

from ..files.reading import read_toml
from ..model.errors import FileTrouble, LinkError
from .source import SCHEMES, DeviceSource
from .webdriver import source as _webdriver
from .webdriver.spec import EndpointSpec

TABLE = "endpoint"


class _File(msgspec.Struct, forbid_unknown_fields=True):
    endpoint: list[EndpointSpec] = []


def settings_file() -> Path:
    """Where they are kept, by the platform's custom."""
    from platformdirs import user_config_path

    return user_config_path("copione") / "endpoints.toml"


def kept(path: Path | None = None) -> tuple[EndpointSpec, ...]:
    """All configurations in the order of the file; an empty tuple without a file. Raises FileTrouble."""
    place = path or settings_file()
    if not place.exists():
        return ()
    try:
        found = read_toml(place, _File).endpoint
        for each in found:
            checked(each.url)
    except (FileTrouble, LinkError) as error:
        raise FileTrouble(f"The endpoints in {place} cannot be read: {error.sentence}", path=place) from error
    return tuple(found)


def remembered(path: Path | None = None) -> tuple[str, ...]:
    """The address of every one that is active. Raises FileTrouble."""
    return tuple(dict.fromkeys(checked(each.url) for each in kept(path) if each.active))


def spec_of(url: str, path: Path | None = None) -> EndpointSpec:
    """The configuration that is active for an address; a bare one where none is kept. Raises FileTrouble."""
    return next((each for each in kept(path) if each.active and checked(each.url) == url), EndpointSpec(url))


def called(name: str, path: Path | None = None) -> EndpointSpec:
    """The configuration of that name, or the one that is active for that address. Raises LinkError where there is none, FileTrouble."""
    found = kept(path)
    wanted = name.strip().rstrip("/")
    fits = [*(e for e in found if e.name == name), *sorted((e for e in found if e.url.rstrip("/") == wanted), key=lambda e: not e.active)]
    if fits:
        return fits[0]
    raise LinkError(f"{name[:200]!r} is not among the endpoints: {', '.join(each.called for each in found) or 'there are none'}.")


def checked(url: str) -> str:
    """The address of an endpoint without what does not belong to it. Raises LinkError for what is none.

    One with a user name or a password in it is refused: it would be stored and printed with them.
    """
    try:
        parts = urlsplit(url.strip())
        sound = parts.scheme in SCHEMES and bool(parts.hostname) and (parts.port is None or parts.port > 0)
        signed = "@" in parts.netloc
    except ValueError:
        sound, signed = False, "@" in url
    if signed:
        raise LinkError("An endpoint's address cannot hold a user name or a password: it is stored and printed as it is.")
    if not sound or not url.isascii() or not url.isprintable() or any(c.isspace() for c in url.strip()):
        raise LinkError(f"{url[:200]!r} is no address of a WebDriver endpoint. One looks like http://192.168.0.7:4444.")
    return url.strip().rstrip("/")


def source_of(endpoint: str, *, stand_ins: bool = False) -> DeviceSource:
    """The source for an address that has been `checked`."""
    source = SCHEMES[urlsplit(endpoint).scheme](endpoint, stand_ins)
    if isinstance(source, _webdriver.EndpointSource) and not stand_ins:
        source.configured = lambda: spec_of(endpoint)
    return source


def remember(url: str, path: Path | None = None, **facts: Any) -> tuple[str, ...]:
    """Keep one more, with what else is said of it; one of that name, or of that address and no name, is replaced. Returns the addresses of
    those that are active. Raises LinkError for what is no endpoint, FileTrouble."""
    try:
        added = EndpointSpec(checked(url), **facts)
    except (ValueError, TypeError) as error:
        raise LinkError(f"This endpoint cannot be kept: {error}.") from error

    def change(tables: list[Any]) -> None:
        same = [i for i, each in enumerate(tables) if (each.get("name", ""), each["url"].rstrip("/")) == (added.name, added.url)]
        if same and not facts:
            tables[same[0]]["active"] = True
            del tables[same[0]]["active"]
            return
        if any(each.get("name") == added.name for each in tables if added.name and each["url"].rstrip("/") != added.url):
            raise LinkError(f"There is an endpoint {added.name} already.")
        for place in reversed(same):
            del tables[place]
        for each in tables:
            if each["url"].rstrip("/") == added.url:
                each["active"] = False
        tables.append(msgspec.to_builtins(added))

    return _change(change, path)


def use(name: str, path: Path | None = None) -> tuple[str, ...]:
    """Have one of several configurations active, and the others of its address not. Raises LinkError, FileTrouble."""
    wanted = called(name, path)

    def change(tables: list[Any]) -> None:
        for each in tables:
            if each["url"].rstrip("/") == wanted.url.rstrip("/"):
                each["active"] = each.get("name", "") == wanted.name

    return _change(change, path)


def forget(name: str, path: Path | None = None) -> tuple[str, ...]:
    """Keep one less, by its name or address; returns the addresses of the rest. Raises LinkError when it was not there, FileTrouble."""
    gone = called(name, path)

    def change(tables: list[Any]) -> None:
        for place in reversed(range(len(tables))):
            if (tables[place].get("name", ""), tables[place]["url"]) == (gone.name, gone.url):
                del tables[place]

    return _change(change, path)


def _change(change: Callable[[list[Any]], None], path: Path | None) -> tuple[str, ...]:
    """Change the file, and change it again where another Copione wrote it meanwhile."""
    import tomlkit

    from ..files.settings import change_toml

    place = path or settings_file()
    kept(place)

    def apply(document: tomlkit.TOMLDocument) -> None:
        tables = document.get(TABLE)
        if tables is None:
            tables = document[TABLE] = tomlkit.aot()
        change(tables)
        if not tables:
            del document[TABLE]

    try:
        change_toml(place, apply)
    except FileTrouble as error:
        raise FileTrouble(f"The endpoints in {place} cannot be changed: {error.sentence}", path=place) from error
    return remembered(place)
