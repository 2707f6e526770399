"""What Kiln Book holds, where one is in it, and what can be done there. Pages are made of this, and this knows none of them."""

from __future__ import annotations

from dataclasses import dataclass, field

from ..app import Surroundings, System

PASSING_S = 4.0  # how long "Firing saved" stays
GLAZES = ("No glaze", "Ash", "Celadon", "Shino", "Tenmoku")
AIRS = ("Oxidation", "Neutral", "Reduction")
COOLEST, HOTTEST, STEP = 900, 1300, 20  # °C of the slider
TABS = {"firings": "Firings", "shelf": "Shelf", "kiln": "Kiln"}
_FIRST = (
    ("Breakfast bowls", "Celadon", 1220, "Reduction"),
    ("Tile samples", "Ash", 1180, "Oxidation"),
    ("Garden lanterns", "Tenmoku", 1260, "Reduction"),
    ("Small cups", "Shino", 1240, "Reduction"),
    ("Planters", "No glaze", 1080, "Oxidation"),
    ("Wall plates", "Celadon", 1220, "Neutral"),
    ("Jars with lids", "Ash", 1230, "Reduction"),
    ("Test rings", "Tenmoku", 1250, "Oxidation"),
    ("Tea bowls", "Shino", 1245, "Reduction"),
    ("Oil lamps", "No glaze", 1100, "Neutral"),
    ("Deep platters", "Celadon", 1225, "Reduction"),
    ("Whistles", "No glaze", 1060, "Oxidation"),
    ("Salt pots", "Ash", 1235, "Reduction"),
    ("Bird baths", "Tenmoku", 1255, "Neutral"),
)


@dataclass
class Firing:
    """One firing of the kiln, or the draft of one. `peak` in °C."""

    load: str = ""
    glaze: str = GLAZES[0]
    peak: int = 1100
    air: str = AIRS[0]
    cones: bool = False
    note: str = ""


@dataclass
class Book:
    """Firings, newest first, and the page that is open. `open` is the menu or dialog over it."""

    system: System
    version: str = "1.0"
    place: str = "firings"
    open: str = ""
    search: str = ""
    kiln_on: bool = False
    firings: list[Firing] = field(default_factory=lambda: [Firing(*facts, cones=n % 2 == 0) for n, facts in enumerate(_FIRST)])
    draft: Firing = field(default_factory=Firing)
    firing: Firing | None = None
    passing: str = ""
    passing_until: float = 0.0
    around: Surroundings = field(default_factory=lambda: Surroundings(412, 892, "android", "en", frozenset(), False))

    def log(self, words: str) -> None:
        self.system.log("KilnBook", words)

    def found(self) -> list[Firing]:
        """Those that the search lets through."""
        words = self.search.casefold()
        return [f for f in self.firings if words in f"{f.load} {f.glaze}".casefold()]

    def go(self, place: str) -> None:
        self.system.focus(None)
        self.place, self.open = place, ""
        self.log(f"page {place}")

    def begin(self) -> None:
        self.draft = Firing()
        self.go("new")

    def show(self, firing: Firing) -> None:
        self.firing, self.search = firing, ""
        self.log(f"open {firing.load}")
        self.go("firing")

    def seek(self, words: str) -> None:
        self.search = words

    def set(self, what: str, value: object) -> None:
        """A value of the draft; anything but typing takes the focus from the field."""
        if what not in {"load", "note"}:
            self.system.focus(None)
        setattr(self.draft, what, value)
        self.open = ""
        self.log(f"set {what} {value}")

    def over(self, what: str) -> None:
        """Open a menu or dialog; with nothing, close it."""
        self.system.focus(None)
        self.open = what
        self.log(f"over {what or 'nothing'}")

    def save(self) -> None:
        if not self.draft.load.strip():
            self.over("nameless")
            return
        self.firings.insert(0, self.draft)
        self.log(f"saved {self.draft.load}")
        self.go("firings")
        self.pass_on("Firing saved")

    def delete(self) -> None:
        assert self.firing is not None
        self.firings.remove(self.firing)
        self.log(f"deleted {self.firing.load}")
        self.go("firings")
        self.pass_on("Firing deleted")

    def plan(self, firing: Firing) -> None:
        self.log(f"plan {firing.load}")
        self.pass_on(f"{firing.load} is planned")

    def mix(self, glaze: str) -> None:
        self.log(f"mix {glaze}")
        self.pass_on(f"{glaze} is mixed")

    def turn_kiln(self) -> None:
        self.kiln_on = not self.kiln_on
        self.log(f"kiln {'on' if self.kiln_on else 'off'}")

    def pass_on(self, words: str) -> None:
        """Show a message that passes."""
        self.passing, self.passing_until = words, self.system.now() + PASSING_S
