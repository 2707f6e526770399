"""Device models and seeded faults, each a TOML file."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from .habits import TOOLKITS

SHIPPED = Path(__file__).parent
PACES = ("brisk", "real")
#: What a model may say about its conventions, the platform's own first.
WAYS_BACK = ("gesture", "keys", "title")  # a stroke from the edge, keys under the screen, a button in the page's head
CHOICES = ("menu", "dialog", "wheel")  # how a choice list opens
DATES = ("calendar", "wheels")
LOOKS = ("new", "old")  # old: words on buttons in capitals, square corners


@dataclass(frozen=True)
class Model:
    """What one stand-in phone is. Sizes in pixels; `width_mm`, `height_mm` are those of the glass."""

    key: str
    name: str
    serial: str
    platform: str
    release: str
    width_px: int
    height_px: int
    dpi: int
    width_mm: float
    height_mm: float
    text_scale: float
    locale: str
    back: str = ""
    choice: str = ""
    date: str = ""
    look: str = "new"
    toolkit: str = "views"  # what its apps are built with: see `copione_lab.habits`
    dump_s: float = 0.4  # what a tree dump takes at real pace, besides waiting for rest
    classes: Mapping[str, str] = field(default_factory=dict, hash=False)  # other class names than its platform's, by the toolkit's kind

    def __post_init__(self) -> None:
        ios = self.platform == "ios"
        for name, known, own in (
            ("back", WAYS_BACK, 2 * ios),
            ("choice", CHOICES, 2 * ios),
            ("date", DATES, ios),
            ("look", LOOKS, 0),
            ("toolkit", TOOLKITS, 0),
        ):
            if not getattr(self, name):
                object.__setattr__(self, name, known[own])
            if getattr(self, name) not in known:
                raise TypeError(f"{name} is {getattr(self, name)!r}; there are {', '.join(known)}")

    @property
    def density(self) -> float:
        return self.dpi / 160.0


@dataclass(frozen=True)
class Fault:
    """One seeded fault: what goes wrong, and on which models."""

    key: str
    kind: str
    models: tuple[str, ...]
    words: str


def load_models(*folders: Path) -> list[Model]:
    """All models of the folders, those that ship without any, by their `order`. Raises ValueError naming the file that is wrong."""
    found: list[tuple[int, Model]] = []
    for path in sorted(path for folder in folders or (SHIPPED / "models",) for path in folder.glob("*.toml")):
        try:
            facts = tomllib.loads(path.read_text("utf-8"))
            order = facts.pop("order", 100)
            found.append((order, Model(key=path.stem, **facts)))
        except (tomllib.TOMLDecodeError, TypeError) as error:
            raise ValueError(f"{path}: {error}") from error
    return [model for _, model in sorted(found, key=lambda pair: pair[0])]


def load_faults(folder: Path | None = SHIPPED / "faults") -> list[Fault]:
    """All faults of a folder; none for None. Raises ValueError naming the file that is wrong."""
    found = []
    for path in sorted(folder.glob("*.toml")) if folder else []:
        try:
            facts = tomllib.loads(path.read_text("utf-8"))
            found.append(Fault(path.stem, facts["kind"], tuple(facts["models"]), facts.get("words", "")))
        except (tomllib.TOMLDecodeError, KeyError) as error:
            raise ValueError(f"{path}: {error}") from error
    return found


def answer_sheet(models: Sequence[str] = (), faults: str | None = None) -> str:
    """Which model shows which fault, a line each: what a replay ought to find."""
    known = load_models(SHIPPED / "models", *map(Path, models))
    seeded = load_faults(None if faults == "none" else Path(faults) if faults else SHIPPED / "faults")
    lines = [f"{model.name}: {fault.kind}. {fault.words}" for model in known for fault in seeded if model.key in fault.models]
    return "".join(f"{line}\n" for line in lines) or "No model shows a fault.\n"
