"""WebDriver endpoints given once: a file in the user's settings, one address a line."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from urllib.parse import urlsplit

from ..files.changing import change_file
from ..files.reading import FileKind, decoded, read_bytes
from ..model.errors import FileTrouble, LinkError
from .source import SCHEMES, DeviceSource
from .webdriver import source as _webdriver  # noqa: F401 - registers http and https


def settings_file() -> Path:
    """Where they are kept, by the platform's custom."""
    from platformdirs import user_config_path

    return user_config_path("copione") / "endpoints.txt"


def remembered(path: Path | None = None) -> tuple[str, ...]:
    """Every address, in the order given; none where there is no file. Raises FileTrouble."""
    place = path or settings_file()
    try:
        return _addresses(read_bytes(place, FileKind.SETTINGS), place) if place.exists() else ()
    except FileTrouble as error:
        raise FileTrouble(f"The endpoints in {place} cannot be read: {error.sentence}") from error


def _addresses(data: bytes, place: Path) -> tuple[str, ...]:
    lines = decoded(data, place).splitlines()
    try:
        return tuple(dict.fromkeys(checked(line) for line in lines if line.strip() and not line.startswith("#")))
    except LinkError as error:
        raise FileTrouble(error.sentence) from error


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
    return SCHEMES[urlsplit(endpoint).scheme](endpoint, stand_ins)


def remember(url: str, path: Path | None = None) -> tuple[str, ...]:
    """Keep one more; returns all. Raises LinkError for what is no address of an endpoint, FileTrouble."""
    added = checked(url)
    return _change(lambda urls: tuple(dict.fromkeys((*urls, added))), path)


def forget(url: str, path: Path | None = None) -> tuple[str, ...]:
    """Keep one less; returns the rest. Raises LinkError when it was not there, FileTrouble."""
    left = url.strip().rstrip("/")

    def without(urls: tuple[str, ...]) -> tuple[str, ...]:
        if left not in urls:
            raise LinkError(f"{left[:200]!r} is not among the endpoints: {', '.join(urls) or 'there are none'}.")
        return tuple(each for each in urls if each != left)

    return _change(without, path)


def _change(change: Callable[[tuple[str, ...]], tuple[str, ...]], path: Path | None) -> tuple[str, ...]:
    """Change the file, and change it again where another Copione wrote it meanwhile; comments in it stay."""
    place = path or settings_file()
    kept: tuple[str, ...] = ()

    def apply(data: bytes | None) -> bytes:
        nonlocal kept
        kept = change(_addresses(data, place) if data is not None else ())
        comments = [line for line in decoded(data or b"", place).splitlines() if line.startswith("#")]
        return "".join(f"{line}\n" for line in (*comments, *kept)).encode()

    try:
        change_file(place, FileKind.SETTINGS, apply)
    except FileTrouble as error:
        raise FileTrouble(f"The endpoints in {place} cannot be changed: {error.sentence}") from error
    return kept
