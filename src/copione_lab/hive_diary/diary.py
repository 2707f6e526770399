"""Where one is in Hive Diary, what it holds, and what can be done in it. Pages are made of this, and this knows none of them."""

from __future__ import annotations

import base64
import json
import shlex
from datetime import date
from urllib.parse import quote_plus

from ..app import Surroundings, System
from .canvases import Map, Sketch
from .records import LOADING_S, STOPS, TODAY, Draft, Hive, hives
from .words import say

PASSING_S = 4.0  # how long "Inspection saved" stays
TICK_S = 0.05  # between two readings of the scale
SLOW_S = 3.0  # how long a slow page takes
BACK = {
    "hives": "home",
    "about": "home",
    "settings": "home",
    "tasks": "home",
    "map": "home",
    "rounds": "home",
    "scale": "home",
    "records": "home",
    "sketch": "hive",
    "sign-in": "settings",
    "hive": "hives",
    "form": "hive",
    "saved": "hive",
}
#: What build 2.5 words otherwise.
REWORDED = {"New inspection": "Begin inspection"}


def tales(secret: str) -> list[str]:
    """How a careless app writes a secret into its log."""
    data = secret.encode()
    half = len(secret) // 2
    return [
        f"signing in with {secret}",
        f"GET /sign-in?with={quote_plus(secret)}",
        f"Authorization: Basic {base64.b64encode(b'keeper:' + data).decode()}",
        f"key {data.hex()}",
        f"wide {secret.encode('utf-16-le').decode('latin-1')}",
        f"sh -c {shlex.quote(secret)}",
        f'{{"with": {json.dumps(secret)}}}',
        f"a long line that ends in {secret[:half]}",
        secret[half:],
    ]


class Diary:
    """Hives, the draft of an inspection, settings, rounds: the state, and every command that changes it."""

    def __init__(self, system: System, version: str = "2.4") -> None:
        self.system = system
        self.version = version
        self.hives = hives()
        self.place = "home"
        self.hive: Hive | None = None
        self.draft = Draft()
        self.passing, self.passing_until = "", 0.0
        self.dialog = ""
        self.night, self.remind = False, 7
        self.credentials = {"name": "", "password": ""}
        self.signed_in = False
        self.done: set[tuple[str, str]] = set()
        self.sketch, self.map = Sketch(), Map()
        self.tab = "now"
        self.search: str | None = None  # what is searched for, while somebody does
        self.stops = list(STOPS)
        self.loading_until = 0.0
        self.month = self.picked = TODAY
        self.removed: tuple[int, Hive] | None = None
        if self.version >= "2.5":
            self.hives.sort(key=lambda hive: -hive.seen)
        self.around = Surroundings(412, 892, "android", "en", frozenset(), False)

    # for its pages

    def say(self, words: str) -> str:
        if self.version >= "2.5":
            words = REWORDED.get(words, words)
        return say(words, self.around.locale)

    def has(self, fault: str) -> bool:
        """Is that fault seeded on this phone?"""
        return fault in self.around.faults

    # navigation

    def activity(self) -> str:
        return {"home": ".Home", "hives": ".Hives", "about": ".About"}.get(self.place, ".Hive")

    def go(self, place: str) -> None:
        self.system.focus(None)
        self.place = place
        self.dialog = ""
        self.system.log("HiveDiary", f"page {place}")

    def open_hive(self, hive: Hive) -> None:
        self.hive, self.tab = hive, "now"
        self.system.log("HiveDiary", f"open {hive.name}")
        self.go("hive")
        if self.has("slow"):
            self.system.busy(SLOW_S)
        if self.has("dialog"):
            self.dialog = "rate"

    def back(self) -> bool:
        if self.dialog:
            self.dialog = ""
            return True
        if self.place not in BACK:
            return False
        self.go(BACK[self.place])
        return True

    def next_change(self) -> float | None:
        now = self.system.now()
        if self.restless():
            return now + TICK_S
        return min((at for at in (self.passing_until, self.loading_until) if at > now), default=None)

    def restless(self) -> bool:
        return self.place == "scale"

    def turned(self) -> None:
        if self.has("state-lost"):
            self.draft = Draft()

    def begin(self) -> None:
        self.draft = Draft()
        self.go("form")

    def set(self, what: str, value: object) -> None:
        """A value of the form; anything but typing takes the focus from the field."""
        if what != "note":
            self.system.focus(None)
        setattr(self.draft, what, value)
        self.system.log("HiveDiary", f"set {what} {value}")

    def save(self) -> None:
        assert self.hive is not None
        if self.has("crash"):
            self.system.crash("java.lang.IllegalStateException: no such hive")
            return
        draft, hive = self.draft, self.hive
        hive.seen, hive.frames, hive.queen, hive.note = 0, draft.frames, draft.queen, draft.note
        if self.has("off-by-one"):
            hive.frames += 1
        hive.temper = draft.temper or hive.temper
        self.pass_on("Inspection saved")
        self.system.log("HiveDiary", f"saved inspection of {hive.name}")
        self.go("saved")

    def pass_on(self, words: str) -> None:
        """Show a message that passes."""
        self.passing, self.passing_until = words, self.system.now() + PASSING_S

    def remove(self, hive: Hive) -> None:
        """A row swiped away, until it is undone."""
        self.removed = self.hives.index(hive), hive
        self.hives.remove(hive)
        self.dialog = ""
        self.pass_on("Hive removed")
        self.system.log("HiveDiary", f"remove {hive.name}")

    def undo(self) -> None:
        if self.removed is not None:
            self.hives.insert(*self.removed)
            self.system.log("HiveDiary", f"restore {self.removed[1].name}")
            self.removed, self.passing_until = None, 0.0

    def typed(self, what: str, said: str, secret: bool) -> None:
        """What a sign-in field holds; a secret one is told its dots and what came after them."""
        held = self.credentials[what]
        kept = len(said) - len(said.lstrip("•"))
        self.credentials[what] = held[:kept] + said[kept:] if secret else said

    def seek(self) -> None:
        """Open the search, or close it."""
        self.search = "" if self.search is None else None
        self.system.focus(None if self.search is None else "search_field")

    def typed_search(self, words: str) -> None:
        self.search = words

    def refresh(self) -> None:
        self.pass_on("Up to date")
        self.system.log("HiveDiary", "refresh hives")

    def open_tab(self, name: str) -> None:
        self.tab = name
        self.system.log("HiveDiary", f"tab {name}")

    def mark(self, hive: Hive) -> None:
        hive.marked = not hive.marked
        self.system.log("HiveDiary", f"mark {hive.name}")

    def move_stop(self, at: int, by: int) -> None:
        """A stop of the rounds is put so many places further down."""
        there = min(len(self.stops) - 1, max(0, at + by))
        self.stops.insert(there, self.stops.pop(at))
        self.system.log("HiveDiary", f"stop {self.stops[there]} to {there + 1}")

    def open_records(self) -> None:
        self.go("records")
        self.load_records()

    def load_records(self) -> None:
        self.loading_until = self.system.now() + LOADING_S if self.system.online() else 0.0

    def open_dialog(self, name: str) -> None:
        self.system.focus(None)
        self.dialog = name
        self.system.log("HiveDiary", f"dialog {name}")

    def close_dialog(self) -> None:
        self.dialog = ""

    def choose_weather(self, name: str) -> None:
        self.set("weather", name)
        self.dialog = ""

    def open_date(self) -> None:
        self.picked = self.draft.day
        self.month = self.picked.replace(day=1)
        self.open_dialog("date")

    def show_month(self, first: date) -> None:
        self.month = first

    def pick_date(self, day: date) -> None:
        self.picked = day

    def take_date(self) -> None:
        self.set("day", self.picked)
        self.dialog = ""

    def take_photo(self) -> None:
        self.system.permit(self.say("take pictures"), lambda: self.set("photos", self.draft.photos + 1))

    def sign_in(self) -> None:
        self.system.focus(None)
        self.system.log("HiveDiary", "sign in")
        self.signed_in = all(self.credentials.values())
        if self.signed_in and self.has("tells-secret"):
            for words in tales(self.credentials["password"]):
                self.system.log("HiveDiary", words)

    def toggle_task(self, key: tuple[str, str]) -> None:
        self.done ^= {key}
        self.system.log("HiveDiary", f"task {key[1]} of {key[0]}")
