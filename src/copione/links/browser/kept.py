"""The browsers that are offered as devices: a TOML file, the user's or the one that ships."""

from __future__ import annotations

from pathlib import Path

import msgspec

from ...files.reading import read_toml
from ...model.errors import FileTrouble, LinkError
from ..endpoints import checked
from ..endpoints import settings_file as endpoints_file
from ..limits import SIDE_PX

MOST = 40  # browsers in one file


class BrowserSpec(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A browser as a device: which engine, how large (CSS pixels), how dense, and what it tells its pages of its user.

    `text` is the size of letters, 1.0 as usual; `language` BCP 47. `shown`: in a window of this desktop. `endpoint`: the address of a
    driver that runs already.
    """

    name: str
    engine: str
    width: int
    height: int
    density: float = 1.0
    touch: bool = True
    text: float = 1.0
    language: str = "en-GB"
    dark: bool = False
    shown: bool = False
    endpoint: str = ""

    def __post_init__(self) -> None:
        if not self.name.strip() or not self.name.isprintable():
            raise ValueError("a browser needs a name")
        if self.engine not in ("chromium", "webkit"):
            raise ValueError(f"{self.name}: there is no engine {self.engine!r}; there are chromium and webkit")
        if not (200 <= self.width <= 4000 and 200 <= self.height <= 4000 and 0.5 <= self.density <= 5):
            raise ValueError(f"{self.name}: no screen has {self.width} x {self.height} at a density of {self.density:g}")
        if max(self.width, self.height) * self.density > SIDE_PX or not 0.5 <= self.text <= 4:
            raise ValueError(f"{self.name}: its screen or its letters are too large")
        if self.endpoint:
            try:
                checked(self.endpoint)
            except LinkError as error:
                raise ValueError(f"{self.name}: {error.sentence}") from error
        if not self.language.replace("-", "").isalnum() or not self.language.isascii():
            raise ValueError(f"{self.name}: {self.language!r} is not a language")


class _File(msgspec.Struct, forbid_unknown_fields=True):
    browser: list[BrowserSpec] = []


def settings_file() -> Path:
    """Where the user's own are kept."""
    return endpoints_file().with_name("browsers.toml")


def wanted(path: Path | None = None) -> tuple[BrowserSpec, ...]:
    """Every browser of a file: the one given, else the user's own, else the one that ships. Raises FileTrouble."""
    own = settings_file()
    place = path or (own if own.exists() else Path(__file__).with_name("browsers.toml"))
    try:
        found = read_toml(place, _File).browser
    except FileTrouble as error:
        raise FileTrouble(f"The browsers in {place} cannot be read: {error.sentence}", path=place) from error
    if len({each.name for each in found}) < len(found) or len(found) > MOST:
        raise FileTrouble(f"The browsers in {place} need names of their own, and may be {MOST} at most.", path=place)
    return tuple(found)
