"""WebDriver endpoints given once: a file in the user's settings, one address a line."""

from __future__ import annotations

from pathlib import Path
from urllib.parse import urlsplit

from ..model.errors import FileTrouble, LinkError


def settings_file() -> Path:
    """Where they are kept, by the platform's custom."""
    from platformdirs import user_config_path

    return user_config_path("copione") / "endpoints.txt"


def remembered(path: Path | None = None) -> tuple[str, ...]:
    """Every address, in the order given; none where there is no file."""
    try:
        lines = (path or settings_file()).read_text("utf-8-sig").splitlines()
    except FileNotFoundError:
        return ()
    except (OSError, UnicodeDecodeError) as error:
        raise FileTrouble(f"The endpoints in {path or settings_file()} cannot be read: {error}.") from error
    try:
        return tuple(dict.fromkeys(checked(line) for line in lines if line.strip() and not line.startswith("#")))
    except LinkError as error:
        raise FileTrouble(f"{path or settings_file()}: {error.sentence}") from error


def checked(url: str) -> str:
    """The address of an endpoint without what does not belong to it. Raises LinkError for what is none."""
    try:
        parts = urlsplit(url.strip())
        sound = parts.scheme in {"http", "https"} and bool(parts.hostname) and (parts.port is None or parts.port > 0)
    except ValueError:
        sound = False
    if not sound or not url.isascii() or not url.isprintable() or any(c.isspace() for c in url.strip()):
        raise LinkError(f"{url[:200]!r} is no address of a WebDriver endpoint. One looks like http://192.168.0.7:4444.")
    return url.strip().rstrip("/")


def remember(url: str, path: Path | None = None) -> tuple[str, ...]:
    """Keep one more; returns all. Raises LinkError for what is no http address."""
    return _write((*remembered(path), checked(url)), path)


def forget(url: str, path: Path | None = None) -> tuple[str, ...]:
    """Keep one less; returns the rest. Raises LinkError when it was not there."""
    known = remembered(path)
    if url.rstrip("/") not in known:
        raise LinkError(f"{url} is not among the endpoints: {', '.join(known) or 'there are none'}.")
    return _write(tuple(each for each in known if each != url.rstrip("/")), path)


def _write(urls: tuple[str, ...], path: Path | None) -> tuple[str, ...]:
    place = path or settings_file()
    kept = tuple(dict.fromkeys(urls))
    try:
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_text("".join(f"{url}\n" for url in kept), "utf-8")
    except OSError as error:
        raise FileTrouble(f"The endpoints cannot be kept in {place}: {error.strerror}.") from error
    return kept
