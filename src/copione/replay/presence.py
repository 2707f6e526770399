"""How long what a screen shows has been there: whether a look may still be trusted, and whether what was touched was still there.

Between a look and the finger time passes, and some things do not wait: messages go by themselves, menus close, pages move on. So what
came or moved just now, and whatever looks like a message, is looked at again right before it is touched, and what became of the page is
looked at afterwards. What is left is the time from that last look until the finger is on the glass; a thing that goes within it, and
whose page then looks as after a touch on it, cannot be told from one that was touched.
"""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass

import numpy as np

from ..model.screen import Element, Flag, Screen, of_element, of_screen
from ..model.sentences import pieces_of
from ..recognition.evidence import fold, lasting_id
from ..recognition.overlays import called_message

FRESH_S = 1.0  # what was seen longer ago is looked at again before it is touched
SETTLED_S = 10.0  # what came while its page stayed passes within so long, or stays
STAYS = 0.5  # share of what a page says that is still there while it is the same page
CLOSE_DP = 2.0  # an element that far from where it was is at the same place
MESSAGE_DP = 120.0  # a message is no taller
MESSAGE_PARTS = 8  # elements in one, at most

Key = tuple[str, str, str]


def key_of(element: Element) -> Key:
    """What an element says of itself: equal for the same one on two screens, wherever it is."""
    return element.role, lasting_id(element), fold(element.label or element.text or element.name)


@of_screen
def keys_of(screen: Screen) -> frozenset[Key]:
    """What a screen says."""
    return frozenset(key for e in screen if any((key := key_of(e))[1:]))


def kept(before: Set[Key], after: Set[Key]) -> float:
    """Share of what was said before that is still said; 1 where nothing was."""
    return len(before & after) / len(before) if before else 1.0


@of_element
def in_strip(element: Element) -> bool:
    """Is it a part of a low strip with words and a button or two, at the upper or lower end: a message, or a bar of the page?"""
    screen = element.screen
    for holder in (element, *element.ancestors()):
        box = holder.box
        if box.height > MESSAGE_DP or box.empty or holder.parent is None or holder.role in {"list", "listitem"}:
            return False
        inside = list(holder.descendants())
        buttons = sum(e.has(Flag.CLICKABLE) for e in inside)
        said = any(e.text and not e.has(Flag.CLICKABLE) for e in inside)
        at_end = box.top < 0.2 * screen.height or box.bottom > 0.8 * screen.height
        scrolls = any(a.has(Flag.SCROLLABLE) for a in holder.ancestors())
        if box.width > 0.5 * screen.width and len(inside) <= MESSAGE_PARTS and 1 <= buttons <= 2 and said and at_end and not scrolls:
            return True
    return False


def place_again(element: Element, screen: Screen) -> Element | None:
    """The same element at the same place on another screen; None where it is gone, has moved or says something else."""
    if not len(screen):
        return None
    near = np.abs(screen.boxes - np.array(element.box)).max(axis=1) <= CLOSE_DP
    own = key_of(element)
    same = [e for row in np.flatnonzero(near).tolist() if key_of(e := screen.element(row)) == own]
    return same[-1] if same else None


@dataclass
class _Since:
    at: float
    with_page: bool


class Presence:
    """What one device's screen has shown, look by look."""

    def __init__(self) -> None:
        self.screen: Screen | None = None
        self.at = 0.0  # when the newest tree was made, or before
        self._since: dict[Key, _Since] = {}
        self._moved: frozenset[Key] = frozenset()

    def seen(self, screen: Screen | None, at: float) -> None:
        """A tree that was made at `at` or later, in seconds of the take's clock; None for a look without one."""
        before, self.screen, self.at = self.screen, screen, at
        if screen is None:
            self._since = {}
            return
        now = keys_of(screen)
        stays = before is not None and before.app == screen.app and kept(keys_of(before), now) >= STAYS
        self._since = {key: self._since.get(key) or _Since(at, not stays) for key in now}
        self._moved = _moved(before, screen) if before is not None else frozenset()

    def passing(self, element: Element) -> bool:
        """May it go by itself, or move on: did it come just now while the rest stayed, has it moved, does it look like a message?"""
        if called_message(element) or in_strip(element):
            return True
        key = key_of(element)
        if key in _places(element.screen):
            return self._came(key) or key in self._moved
        return bool(self._moved) or any(map(self._came, self._since))  # of what others say too nothing tells whether it did

    def message(self, element: Element) -> bool:
        """Is it one that passes, without anything recorded to tell? A bar of the page looks the same, and was there from the beginning."""
        return called_message(element) or (in_strip(element) and self._came(key_of(element)))

    def _came(self, key: Key) -> bool:
        since = self._since.get(key)
        return since is not None and not since.with_page and self.at - since.at < SETTLED_S

    def doubtful(self, element: Element, now: float) -> bool:
        """Has the element to be looked at again before it is touched?"""
        return now - self.at > FRESH_S or self.passing(element)


def _moved(before: Screen, after: Screen) -> frozenset[Key]:
    """What stands elsewhere than before, of what either shows once."""
    places, far = _places(before), set()
    for key, box in _places(after).items():
        if key in places and max(abs(a - b) for a, b in zip(box, places[key], strict=True)) > CLOSE_DP:
            far.add(key)
    return frozenset(far)


@of_screen
def _places(screen: Screen) -> dict[Key, tuple[float, ...]]:
    found: dict[Key, tuple[float, ...]] = {}
    twice: set[Key] = set()
    for element in screen:
        key = key_of(element)
        if key in found:
            twice.add(key)
        elif any(key[1:]):
            found[key] = tuple(element.box)
    return {key: box for key, box in found.items() if key not in twice}


@dataclass(frozen=True)
class ScreenChange:
    """A screen before and after an act."""

    before: Screen
    after: Screen

    @property
    def other_page(self) -> bool:
        """Did another page come? Where what is left was there before, only what stood over it has gone."""
        was, now = self.before, self.after
        if (was.app, was.activity) != (now.app, now.activity):
            return True
        before, after = keys_of(was), keys_of(now)
        return kept(before, after) < STAYS and kept(after, before) < STAYS

    @property
    def news(self) -> frozenset[Key]:
        """What is said now and was not."""
        return keys_of(self.after) - keys_of(self.before)


def doubt_after(element: Element, here: ScreenChange, recorded: ScreenChange | None, message: bool) -> str:
    """Why it is doubtful that a passing thing got the touch that was meant for it; empty where it is not.

    `here` is what became of the device's screen, `recorded` what became of the recorded one, where that is known; `message`: see
    `Presence.message`.
    """
    if place_again(element, here.after) is not None:
        return ""
    opened = here.other_page and (recorded is None or not recorded.other_page)
    if opened and (recorded is not None or message):
        return "another page opened"
    switched = _switched(element, here)
    if switched:
        return f"“{switched}” was switched"
    if recorded is not None and not recorded.other_page and recorded.news and message:
        said = {piece for _, _, words in here.news for piece in (words, *pieces_of(words))}
        wanted = {words for _, _, words in recorded.news if words}
        if wanted and not wanted & said:
            return "nothing of what came of it when it was recorded has come"
    return ""


def _switched(element: Element, here: ScreenChange) -> str:
    """What stands now where the finger came, and is in another state than before."""
    x, y = element.box.centre
    before = {key_of(e): e for e in here.before}
    meant = place_again(element, here.before)
    own = {key_of(e) for e in ((meant, *meant.descendants()) if meant is not None else (element,))}
    for now in here.after.at(x, y):
        was = before.get(key_of(now))
        if was is not None and was.has(Flag.CHECKED) != now.has(Flag.CHECKED) and key_of(was) not in own:
            return now.name or now.role
    return ""
