"""Device models and seeded faults, each a TOML file."""

from __future__ import annotations

import math
import tomllib
from collections.abc import Iterable, Mapping, Sequence, Set
from dataclasses import dataclass, field, fields
from pathlib import Path
from typing import Any

from .habits import TOOLKITS
from .spoiling import EVENTS
from .spoiling import KINDS as SPOILING

SHIPPED = Path(__file__).parent
PACES = ("brisk", "real")
#: What a model may say about its conventions, the platform's own first.
WAYS_BACK = ("gesture", "keys", "title")  # a stroke from the edge, keys under the screen, a button in the page's head
CHOICES = ("menu", "dialog", "wheel")  # how a choice list opens
DATES = ("calendar", "wheels")
LOOKS = ("new", "old")  # old: words on buttons in capitals, square corners
#: What Hive Diary itself does wrong, beside what can be spoilt on any page.
OWN = frozenset(
    {
        *("keyboard-covers", "overlap", "pushed-off", "small-target", "text-cut", "off-by-one", "wrong-text", "untranslated"),
        *("date-format", "slow", "crash", "dialog", "missing", "extra", "state-lost", "tells-secret", "wrong-picture", "leak", "heavy"),
    }
)
KINDS = OWN | SPOILING


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
class Where:
    """Which models a fault is on, by their traits; what is not said is not asked."""

    text_from: float = 0.0
    width_to: float = math.inf
    width_from: float = 0.0
    release_to: float = math.inf
    release_from: float = 0.0
    platform: str = ""
    language: str = ""

    def fits(self, model: Model) -> bool:
        width, release = model.width_px / model.density, float(model.release.split(".")[0])
        return (
            model.text_scale >= self.text_from
            and self.width_from <= width <= self.width_to
            and self.release_from <= release <= self.release_to
            and self.platform in ("", model.platform)
            and self.language in ("", model.locale.split("-")[0])
        )


@dataclass(frozen=True)
class Fault:
    """One seeded fault: what goes wrong, and on which models: by their file names, or by their traits.

    `page` is the place in the app and `at` the element's id, for kinds that can be anywhere.
    """

    key: str
    kind: str
    models: tuple[str, ...]
    words: str
    page: str = ""
    at: str = ""
    where: Where | None = None

    def fits(self, model: Model) -> bool:
        """Is it on that model?"""
        return model.key in self.models or (self.where is not None and self.where.fits(model))


def load_models(*folders: Path) -> list[Model]:
    """All models of the folders, those that ship without any, by their `order`. Raises ValueError naming the file that is wrong."""
    found: list[tuple[int, Model]] = []
    for folder in folders:
        if not folder.is_dir():
            raise ValueError(f"there is no folder {folder}")
    for path in sorted(path for folder in folders or (SHIPPED / "models",) for path in folder.glob("*.toml")):
        try:
            facts = tomllib.loads(path.read_text("utf-8"))
            order = facts.pop("order", 100)
            _known("key", facts, {f.name for f in fields(Model)} - {"key"})
            found.append((order, Model(key=path.stem, **facts)))
        except (tomllib.TOMLDecodeError, TypeError, ValueError) as error:
            raise ValueError(f"{path}: {error}") from error
    return [model for _, model in sorted(found, key=lambda pair: pair[0])]


def load_edges() -> list[Model]:
    """Models at the edges of what there is: tiny, huge, low, slow, with other digits. They are in no lab that does not ask for them."""
    return load_models(SHIPPED / "models" / "edges")


def load_faults(folder: Path | None = SHIPPED / "faults", models: Sequence[Model] | None = None) -> list[Fault]:
    """All faults of a folder; none for None. Raises ValueError naming the file that is wrong, and what there is instead.

    `models` are those that a fault may name; those that ship where none are given.
    """
    found = []
    known = {model.key for model in (models if models is not None else load_models())}
    for path in sorted(folder.glob("*.toml")) if folder else []:
        try:
            found.append(_fault(path.stem, tomllib.loads(path.read_text("utf-8")), known))
        except (tomllib.TOMLDecodeError, TypeError, ValueError) as error:
            raise ValueError(f"{path}: {error}") from error
    return found


def _fault(key: str, facts: Mapping[str, Any], models: Set[str]) -> Fault:
    """Raises ValueError, with what there is."""
    _known("key", facts, {"kind", "models", "words", "page", "at", "where"})
    kind = str(facts.get("kind", ""))
    _known("kind", [kind], KINDS)
    named = tuple(facts.get("models", ()))
    _known("model", named, models)
    where = facts.get("where")
    if where is not None:
        _known("key of where", where, {f.name for f in fields(Where)})
    if not named and where is None:
        raise ValueError("a fault is on models, by their names (models = [...]) or by their traits ([where])")
    page, at = str(facts.get("page", "")), str(facts.get("at", ""))
    if kind in SPOILING and (not page or (kind not in EVENTS and not at)):
        raise ValueError(f"{kind} needs page, a place in the app{'' if kind in EVENTS else ', and at, the id of what is spoilt'}")
    return Fault(key, kind, named, str(facts.get("words", "")), page, at, Where(**where) if where is not None else None)


def _known(what: str, told: Iterable[str], known: Set[str]) -> None:
    for each in told:
        if each not in known:
            raise ValueError(f"there is no {what} {each!r}; there are {', '.join(sorted(known))}")


def faults_folder(words: str | None) -> Path | None:
    """The folder that an option names: none, one of the user's, or the one that ships. Raises ValueError for one that is not there."""
    if words == "none":
        return None
    folder = Path(words) if words else SHIPPED / "faults"
    if not folder.is_dir():
        raise ValueError(f"there is no folder {folder}; leave the option out for the faults that ship, or say none")
    return folder


def answer_sheet(models: Sequence[str] = (), faults: str | None = None) -> str:
    """Which model shows which fault, a line each: what a replay ought to find."""
    known = load_models(SHIPPED / "models", *map(Path, models))
    seeded = load_faults(faults_folder(faults), known)
    lines = [f"{model.name}: {fault.kind}. {fault.words}" for model in known for fault in seeded if fault.fits(model)]
    return "".join(f"{line}\n" for line in lines) or "No model shows a fault.\n"
