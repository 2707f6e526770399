"""A device's screen as it is held against other devices' ones: what it shows, in the script's language."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from ..model.choices import TABLET_DP
from ..model.device import DeviceProfile
from ..model.direction import from_right
from ..model.geometry import Box
from ..model.likeness import is_another
from ..model.screen import Element, Flag, Moment, Screen
from ..recognition.evidence import fold, lasting_id, visible
from ..recognition.fingerprint import fingerprint
from ..recognition.overlays import called_message, lies_under
from ..recognition.pictures import Picture, picture_of
from ..recognition.placing import titles
from ..recognition.reach import clear_area, scroller_of
from ..screens.reading import is_wheel, reads
from .focus_order import jumps
from .meaning import meant
from .reading_order import reading_order
from .views import CLOSE_DP, CONTRAST, Aim, SeenElement, View

LARGE_DP = 24.0  # height of a line from which a text counts as large: 18 points, by WCAG 2.2
LOOKS = 3  # at most, at what may look otherwise at the next one
MOST = 400  # elements of one screen that are looked at
RESTS = 0.05  # by so little two looks at what rests differ in contrast
INK_PX = 12  # so many pixels at least are ink where something is written
INK = 8  # greys from the ground from which on a pixel is ink
SURE = 0.97  # so much of the ink is fainter than what counts: letters fade at their edges
NEAREST = 2  # elements before a line that it may belong to
DARK = 90  # mean brightness (0..255) below which a page is a dark one
CONTROLS = frozenset({"slider", "switch", "checkbox", "radio", "button", "combobox", "spinbutton", "tab", "img"})
VALUED = frozenset({"slider", "combobox", "spinbutton"})
SAYS = frozenset({"text", "heading", "button", "tab", "radio", "option", "link", "generic", "listitem"})


@dataclass(frozen=True)
class _Measured:
    """How something looked: its contrast, or its fingerprint, by so many looks; `sure` where more of them would tell nothing new."""

    contrast: float = 0.0
    fingerprint: str = ""
    ground: str = ""
    looks: int = 0
    sure: bool = False


_UNSEEN = _Measured()


class _Looks:
    """A moment's picture, decoded when it is first asked for."""

    def __init__(self, moment: Moment, width: float) -> None:
        self._moment, self._width = moment, width

    @cached_property
    def picture(self) -> Picture | None:
        """The whole of it; None where there is none."""
        return picture_of(self._moment, self._width) if self._moment.png else None

    def cut(self, box: Box) -> Picture | None:
        """A part of it, dp."""
        part = self.picture.cut(box) if self.picture is not None else None
        return part if part is not None and part.pixels.size else None


@dataclass(frozen=True)
class Showing:
    """On which screen a step was done: the moment, its picture's file, how often the device had been turned, and what it was done on."""

    moment: Moment
    shot: str = ""
    turned: int = 0
    aim: Aim | None = None


class Viewer:
    """Makes the views of one take. What does not change from step to step is looked at once."""

    def __init__(self, device: DeviceProfile, phrases: Mapping[str, str], backwards: Mapping[str, str]) -> None:
        self.device, self.backwards = device, backwards
        self.translated = {fold(here): there for here, there in phrases.items() if fold(here) != fold(there)}
        self._last: tuple[object, float, View] | None = None  # what it shows, when, and the view of it
        self._measured: dict[tuple[object, ...], _Measured] = {}  # by page, element and words
        self._meant: dict[str, str] = {}  # what was read, in the script's language
        self._unsure = False  # something on the last one is looked at once more
        self._dark = False  # by the newest picture

    def view(self, showing: Showing) -> View | None:
        """What is shown; None where it tells nothing. A screen that shows the same as the one before is not looked at again, where
        nothing on it had to be looked at once more."""
        moment, shot, turned = showing.moment, showing.shot, showing.turned
        screen = moment.screen
        if screen is None or screen.read or not len(screen):
            return None
        signature = (screen.signature, turned)
        if self._last is None or self._last[0] != signature or (self._unsure and self._last[1] != moment.at):
            self._unsure = False
            self._last = signature, moment.at, self._made(screen, _Looks(moment, screen.width), shot, turned)
        view = self._last[2]
        return view if view.aim == showing.aim else replace(view, aim=showing.aim)

    def _made(self, screen: Screen, looks: _Looks, shot: str, turned: int) -> View:
        told = [e for e in screen if _tells(e)][:MOST]
        rows = {e.row: place for place, e in enumerate(told)}
        said = [self._in_script(e.label or e.text or e.name) for e in told]
        keys = [_key(e, words) for e, words in zip(told, said, strict=True)]
        many = Counter(keys)
        room = clear_area(screen)
        page = (turned, *(e.text for e in titles(screen)))
        found = []
        for element, words, key in zip(told, said, keys, strict=True):
            of_row = (_row_of(element) or _under_which(element, told[: rows[element.row]], many, keys)) if many[key] > 1 else None
            found.append(self._seen(element, words, key, of_row, rows, room, looks, page))
        if "picture" in vars(looks) and looks.picture is not None:
            self._dark = float(looks.picture.pixels[:: max(1, looks.picture.pixels.shape[0] // 40)].mean()) < DARK
        again = Counter(seen.key for seen in found)
        wide = screen.width >= TABLET_DP
        backwards = from_right(self.device.locale)
        order = reading_order([seen.box for seen in found], [seen.leaf for seen in found], wide, backwards)
        place = {old: new for new, (old, _) in enumerate(order)}
        jump = _jumps(screen, found, rows, backwards)
        elements = tuple(
            replace(found[i], alone=again[found[i].key] == 1, holder=place.get(found[i].holder, -1), part=part, jump=jump.get(i))
            for i, part in order
        )
        return View(
            elements=elements,
            width=screen.width,
            height=screen.height,
            room=room,
            platform=self.device.platform,
            wide=wide,
            locale=self.device.locale,
            text_scale=self.device.text_scale,
            dark=self._dark,
            turned=turned,
            shot=shot,
            translated=self.translated,
        )

    def _in_script(self, words: str) -> str:
        """What was read, in the script's language."""
        if words not in self._meant:
            self._meant[words] = meant(words, self.device.locale, self.backwards)
        return self._meant[words]

    def _called(self, element: Element) -> str:
        """What a person calls it: a value by the words that stand before it in its row, in the script's language."""
        name = element.name
        parent = element.parent
        if element.role == "text" and lasting_id(element) and parent is not None and not element.label:
            before = [e for e in parent.children if e.row < element.row and e.role == "text" and e.text]
            beside = [e for e in before if abs(e.box.centre[1] - element.box.centre[1]) < element.box.height]
            name = beside[-1].text if beside else name
        return self.backwards.get(name) or self.backwards.get(name.casefold(), name)

    def _measure(self, element: Element, key: tuple[object, ...], shown: Box, looks: _Looks) -> _Measured:
        """Contrast of a text, or the fingerprint of a picture. Measured once on each page where it is clear, else again: what was touched
        is lit up for a moment, what has just come fades in, a picture is loaded late. The best contrast counts, and the newest picture."""
        known = self._measured.get(key, _UNSEEN)
        if known.sure:
            return known
        if element.role == "img":
            part = looks.cut(shown)
            taken = fingerprint(part) if part is not None else ""
            again = bool(known.fingerprint) and not is_another(taken, known.fingerprint)
            now = _Measured(0.0, taken, "", known.looks + 1, again)
        else:
            tappable = element.has(Flag.CLICKABLE) or element.has(Flag.CHECKABLE)
            part = looks.cut(_middle(shown, tappable))
            here, ground = contrast(part) if part is not None else (0.0, "")
            best = max(known.contrast, here)
            rests = known.looks > 0 and abs(here - known.contrast) < RESTS  # what fades, or is lit up, looks otherwise by now
            now = _Measured(best, "", ground, known.looks + 1, best >= CONTRAST or rests)
        self._measured[key] = now = replace(now, sure=now.sure or now.looks >= LOOKS)
        self._unsure = self._unsure or not now.sure
        return now

    def _seen(
        self,
        element: Element,
        said: str,
        plain: str,
        of_row: str | None,
        rows: Mapping[int, int],
        room: Box,
        looks: _Looks,
        page: tuple[object, ...],
    ) -> SeenElement:
        box = element.box
        scroller = scroller_of(element)
        text = element.text or element.name
        tappable = element.has(Flag.CLICKABLE) or element.has(Flag.CHECKABLE)
        image = element.role == "img"
        shown = visible(element).clipped(room)
        cut = (
            shown.empty
            or shown.height < box.height - 0.5
            or shown.width < box.width - 0.5
            or _at_edge(box, scroller, room)
            or element.has(Flag.CUT)
            or (element.screen.keyboard is not None and box.bottom >= room.bottom - CLOSE_DP)
            or lies_under(element)
            or any(map(is_wheel, element.ancestors()))  # but for the one in the middle they are faint, and on their way
        )
        leaf = not any(row in rows for row in range(element.row + 1, element.screen.ends[element.row]))
        state = ("on" if element.has(Flag.CHECKED) else "off") if element.has(Flag.CHECKABLE) else ""
        looked_at = not cut and leaf and (image or (bool(text) and element.role in SAYS))
        key = plain if of_row is None else f"{plain}={of_row or said}"
        told = (plain,) if of_row is not None and not image else (key, text)  # the rows of a list are written alike
        known = (*page, *told, state, element.has(Flag.ENABLED), element.has(Flag.SELECTED), element.has(Flag.FOCUSED))
        measured = self._measure(element, known, shown, looks) if looked_at else _UNSEEN
        return SeenElement(
            key=key,
            worded=not lasting_id(element),
            repeated=of_row is not None,
            in_row=bool(of_row),
            plain=plain if of_row is not None else "",
            role=element.role,
            name=self._called(element),
            text=text if element.role in SAYS else "",
            said=said if element.role in SAYS else "",
            box=box,
            tappable=tappable,
            enabled=element.has(Flag.ENABLED),
            state=state,
            value=self._in_script(reads(element)) if element.role in VALUED else "",
            lit=element.has(Flag.SELECTED) or element.has(Flag.FOCUSED),
            contrast=measured.contrast,
            ground=measured.ground,
            large=box.height >= LARGE_DP * 1.6 and not tappable,
            fingerprint=measured.fingerprint,
            cut=cut,
            pane=scroller.box if scroller is not None else None,
            holder=next((rows[a.row] for a in element.ancestors() if a.row in rows), -1),
            leaf=leaf,
        )


def _jumps(screen: Screen, found: Sequence[SeenElement], rows: Mapping[int, int], backwards: bool) -> dict[int, str]:
    """Of what the focus comes to and shows whole: how it leaves the reading order, in words; empty where it does not."""
    told: dict[int, str] = {}
    for stops in screen.stops:
        shown = [rows[row] for row in stops if row in rows and not found[rows[row]].cut]
        names = [found[i].name or found[i].said or found[i].role for i in shown]
        out = jumps([found[i].box for i in shown], names, backwards)
        told |= {i: out.get(rank, "") for rank, i in enumerate(shown)}
    return told


def _tells(element: Element) -> bool:
    """Does it say something, or can be touched? Not what a field holds, nor a message that passes."""
    if element.has(Flag.PASSWORD) or element.box.empty or called_message(element):
        return False
    if element.role == "textbox":  # where the order of the focus is told it takes part in that, by its label
        return bool(element.screen.stops and element.label)
    if element.text or element.label or element.role in CONTROLS:
        return True
    return element.has(Flag.CLICKABLE) or element.has(Flag.CHECKABLE)


def _key(element: Element, said: str) -> str:
    """What tells it on another device: its lasting id, else its role and words."""
    own = lasting_id(element)
    return own or f"{element.role} {fold(said)}"


def _middle(box: Box, tappable: bool) -> Box:
    """Where the words are, dp: of a button not its rounded corners, behind which the page shows."""
    across, down = (min(box.height / 3, box.width / 4), box.height / 5) if tappable else (0.0, 0.0)
    return Box(box.left + across, box.top + down, box.right - across, box.bottom - down)


def _row_of(element: Element) -> str:
    """What the row of a list that it stands in is called."""
    holder = next((e for e in (element, *element.ancestors()) if e.role == "listitem"), None)
    if holder is None or holder.row == element.row:
        return ""
    first = next((e.text for e in holder.descendants() if e.text), "")
    return f"{first}/"


def _under_which(element: Element, before: Sequence[Element], many: Mapping[str, int], keys: Sequence[str]) -> str:
    """Where a list has no rows: the words, said only once, that a line which others say too stands right under; empty without any."""
    for place, other in reversed(list(enumerate(before))[-NEAREST:]):
        if many[keys[place]] == 1 and other.text and other.parent == element.parent and other.role in SAYS:
            under = 0 <= element.box.top - other.box.bottom + CLOSE_DP <= element.box.height
            return f"{other.text}/" if under and element.role in SAYS else ""
    return ""


def _at_edge(box: Box, scroller: Element | None, room: Box) -> bool:
    """Does it end at the edge of what scrolls, so that it may go on behind it?"""
    if scroller is None:
        return False
    holder = scroller.box.clipped(room)
    return box.top <= holder.top + CLOSE_DP or box.bottom >= holder.bottom - CLOSE_DP


def contrast(part: Picture) -> tuple[float, str]:
    """The contrast of a text to its ground, by WCAG 2.2 (relative luminance of sRGB), and the colour of that ground, rrggbb. 0 where
    nothing is written; no colour where the part is too small to tell.

    The ground is the commonest grey; the ink the far end of what differs from it, without the last few pixels of it. What is darker and
    what is lighter than the ground are judged apart: of a plate that only part of the words stands on, most is no ink.
    """
    import cv2

    pixels = part.pixels
    if pixels.shape[0] * pixels.shape[1] < 64:
        return 0.0, ""
    step = max(1, round((pixels.shape[0] * pixels.shape[1] / 8000) ** 0.5))
    pixels = np.ascontiguousarray(pixels[::step, ::step])
    grey = cv2.cvtColor(pixels, cv2.COLOR_BGR2GRAY)
    count = np.bincount(grey.reshape(-1), minlength=256)

    def mean_at(level: int) -> Sequence[float]:
        return cv2.mean(pixels, cv2.inRange(grey, level - 2, level + 2))[:3]

    ground = int(count.argmax())
    under = mean_at(ground)
    colour = "".join(f"{round(channel):02x}" for channel in reversed(under))
    best = 0.0
    for far in (np.arange(max(0, ground - INK)), np.arange(255, min(255, ground + INK), -1)):  # greys, the farthest first
        ink = np.cumsum(count[far])
        if len(far) and ink[-1] >= INK_PX:
            sure = int(far[np.searchsorted(ink, max(1, (1 - SURE) * ink[-1]))])
            here, there = _luminance(under), _luminance(mean_at(sure))
            best = max(best, (max(here, there) + 0.05) / (min(here, there) + 0.05))
    return best, colour


def _luminance(colour: Sequence[float]) -> float:
    """Relative luminance of a colour in blue, green, red (0..255)."""
    shares = [part / 255 for part in colour]
    blue, green, red = (s / 12.92 if s <= 0.04045 else ((s + 0.055) / 1.055) ** 2.4 for s in shares)
    return 0.0722 * blue + 0.7152 * green + 0.2126 * red
