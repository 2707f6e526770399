"""WebDriver endpoints given once: a file in the user's settings, one address a line."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from urllib.parse import urlsplit

from ..files.reading import FileKind, read_bytes, read_text
from ..files.writing import NO_FILE, FileChanged, FileVersion, write_whole
from ..model.errors import FileTrouble, LinkError

TRIES = 20  # where others write the file at the same time


def settings_file() -> Path:
    """Where they are kept, by the platform's custom."""
    from platformdirs import user_config_path

    return user_config_path("copione") / "endpoints.txt"


def remembered(path: Path | None = None) -> tuple[str, ...]:
    """Every address, in the order given; none where there is no file. Raises FileTrouble."""
    return _read(path or settings_file())[0]


def _read(place: Path) -> tuple[tuple[str, ...], FileVersion]:
    if not place.exists():
        return (), NO_FILE
    try:
        data = read_bytes(place, FileKind.SETTINGS)
        lines = data.decode("utf-8-sig").splitlines()
        urls = tuple(dict.fromkeys(checked(line) for line in lines if line.strip() and not line.startswith("#")))
    except (FileTrouble, LinkError) as error:
        raise FileTrouble(f"The endpoints in {place} cannot be read: {error.sentence}") from error
    except UnicodeDecodeError as error:
        raise FileTrouble(f"The endpoints in {place} cannot be read: it is not UTF-8 text.") from error
    return urls, FileVersion.of(data)


def checked(url: str) -> str:
    """The address of an endpoint without what does not belong to it. Raises LinkError for what is none.

    One with a user name or a password in it is refused: it would be stored and printed with them.
    """
    try:
        parts = urlsplit(url.strip())
        sound = parts.scheme in {"http", "https"} and bool(parts.hostname) and (parts.port is None or parts.port > 0)
        signed = "@" in parts.netloc
    except ValueError:
        sound, signed = False, "@" in url
    if signed:
        raise LinkError("An endpoint's address cannot hold a user name or a password: it is stored and printed as it is.")
    if not sound or not url.isascii() or not url.isprintable() or any(c.isspace() for c in url.strip()):
        raise LinkError(f"{url[:200]!r} is no address of a WebDriver endpoint. One looks like http://192.168.0.7:4444.")
    return url.strip().rstrip("/")


def remember(url: str, path: Path | None = None) -> tuple[str, ...]:
    """Keep one more; returns all. Raises LinkError for what is no http address, FileTrouble."""
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
    for attempt in range(TRIES):
        urls, version = _read(place)
        kept = change(urls)
        comments = [line for line in read_text(place, FileKind.SETTINGS).splitlines() if line.startswith("#")] if urls else []
        try:
            write_whole(place, "".join(f"{line}\n" for line in (*comments, *kept)).encode(), version)
            return kept
        except FileChanged:
            if attempt == TRIES - 1:
                raise
    raise AssertionError("the last try ends it")
