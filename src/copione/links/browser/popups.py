"""What a browser shows outside of its page, drawn as a phone would: its dialogs, the choices of a select, the days of a date field.

Engines give no picture and no tree of these, and a driver has commands of its own for them. Here they are a screen as any other: with
elements that a finger touches, so that they are recorded, replayed and compared like everything else.
"""

from __future__ import annotations

import calendar
import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date

import numpy as np

from ...model.geometry import Box
from ...model.gesture import Contact
from ...model.screen import Flag, Screen

ROW, PAD, WIDEST = 44.0, 16.0, 340.0  # dp
TALLEST = 0.7  # of the page, that a list of choices may have
SLOP = 12.0
OK, CANCEL = "OK", "Cancel"
_INK, _PAPER, _LINE, _CHOSEN = (28, 32, 30), (250, 249, 246), (214, 210, 200), (226, 236, 228)


@dataclass(frozen=True)
class Spot:
    """One thing on it: where (dp), its role and words, and what touching it does; nothing for what only says something."""

    box: Box
    role: str
    words: str
    act: tuple[object, ...] = ()
    label: str = ""
    flags: int = 0
    middle: bool = False  # its words stand in the middle of it


@dataclass
class Popup:
    """`spots` in the order they are drawn; the first is the plate that holds the others. `held`: what is typed into its field.
    `leaves`: a touch beside it closes it.
    """

    width: float
    height: float
    make: Callable[[Popup], list[Spot]]
    leaves: bool = False
    held: str = ""
    scrolled: float = 0.0
    most: float = 0.0  # that can be scrolled
    spots: list[Spot] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.spots = self.make(self)

    def touched(self, contacts: Sequence[Contact]) -> tuple[object, ...]:
        """What fingers do on it: the act of what was tapped; a stroke scrolls."""
        contact = contacts[0]
        (x0, y0), (x1, y1) = contact.begin, contact.end
        if abs(y1 - y0) > SLOP or abs(x1 - x0) > SLOP:
            self.scrolled = max(0.0, min(self.most, self.scrolled + y0 - y1))
            self.spots = self.make(self)
            return ()
        if self.leaves and not self.spots[0].box.contains(x0, y0):
            return ("cancel",)
        return next((spot.act for spot in reversed(self.spots) if spot.act and spot.box.contains(x0, y0)), ())

    def typed(self, words: str) -> None:
        """Into its field."""
        self.held = words
        self.spots = self.make(self)

    def screen(self, app: str, activity: str) -> Screen:
        """It alone, as a dialog is on a phone."""
        shown = [spot for spot in self.spots if not spot.box.empty]
        lists = next((i for i, spot in enumerate(shown, 1) if spot.role == "list"), -1)
        parents = [-1, 0, *((lists if spot.role == "option" and lists > 0 else 1) for spot in shown[1:])]
        flags = [int(Flag.ENABLED), *(int(Flag.ENABLED) | spot.flags | (int(Flag.CLICKABLE) if spot.act else 0) for spot in shown)]
        return Screen(
            width=self.width,
            height=self.height,
            app=app,
            activity=activity,
            keyboard=None,
            roles=("generic", *(spot.role for spot in shown)),
            names=("", *(spot.label or ("" if spot.role == "textbox" else spot.words) for spot in shown)),
            texts=("", *("" if spot.role == "dialog" else spot.words for spot in shown)),
            labels=("", *(spot.label for spot in shown)),
            ids=("",) * (len(shown) + 1),
            boxes=np.array([(0, 0, self.width, self.height), *(spot.box for spot in shown)], np.float64),
            parents=np.array(parents, np.int32),
            flags=np.array(flags, np.int32),
        )

    def paint(self, page: bytes) -> bytes:
        """Over the page's picture (PNG), which is dimmed."""
        from PIL import Image, ImageDraw, ImageEnhance, ImageFont

        with Image.open(io.BytesIO(page)) as opened:
            picture = ImageEnhance.Brightness(opened.convert("RGB")).enhance(0.55)
        k = picture.width / self.width
        draw, font = ImageDraw.Draw(picture), ImageFont.load_default(14 * k)
        for spot in self.spots:
            if spot.box.empty:
                continue
            box = [v * k for v in spot.box]
            if spot.role == "dialog":
                draw.rounded_rectangle(box, 12 * k, fill=_PAPER)
                continue
            if spot.role == "list":
                continue
            if spot.flags & Flag.SELECTED:
                draw.rounded_rectangle(box, 6 * k, fill=_CHOSEN)
            if spot.role in {"button", "textbox"}:
                draw.rounded_rectangle(box, 8 * k, outline=_LINE, width=max(1, round(k)))
            middle = spot.middle or spot.role in {"button", "generic"}
            words = _fitting(spot.words, lambda said: font.getlength(said), box[2] - box[0] - 8 * k)
            x = (box[0] + box[2] - font.getlength(words)) / 2 if middle else box[0] + 6 * k
            draw.text((x, (box[1] + box[3]) / 2), words, fill=_INK, font=font, anchor="lm")
        out = io.BytesIO()
        picture.save(out, "PNG", compress_level=1)
        return out.getvalue()


def _fitting(words: str, length: Callable[[str], float], room: float) -> str:
    while len(words) > 1 and length(words) > room:
        words = words[:-2].rstrip() + "…"
    return words


def _plate(popup: Popup, height: float) -> Box:
    wide = min(WIDEST, popup.width - 2 * PAD)
    left, top = (popup.width - wide) / 2, max(8.0, (popup.height - height) / 2)
    return Box(left, top, left + wide, min(popup.height - 8.0, top + height))


def dialog(width: float, height: float, words: str, asks: bool) -> Popup:
    """What a page says, and asks with `asks` for words, in the browser's own dialog."""

    def make(popup: Popup) -> list[Spot]:
        lines = _lines(words, 40)
        said = 20.0 * len(lines)
        plate = _plate(popup, 3 * PAD + said + ROW + (ROW + PAD if asks else 0))
        y = plate.top + PAD
        spots = [Spot(plate, "dialog", words, label=words)]
        spots += [Spot(Box(plate.left + PAD, y + 20 * i, plate.right - PAD, y + 20 * i + 20), "text", line) for i, line in enumerate(lines)]
        y += said + PAD
        if asks:
            place = Box(plate.left + PAD, y, plate.right - PAD, y + ROW)
            spots.append(Spot(place, "textbox", popup.held, ("field",), "Answer", int(Flag.FOCUSED)))
            y += ROW + PAD
        half = (plate.left + plate.right) / 2
        spots.append(Spot(Box(plate.left + PAD, y, half - 4, y + ROW), "button", CANCEL, ("cancel",)))
        spots.append(Spot(Box(half + 4, y, plate.right - PAD, y + ROW), "button", OK, ("ok",)))
        return spots

    return Popup(width, height, make)


def options(width: float, height: float, name: str, choices: Sequence[str], chosen: Sequence[str]) -> Popup:
    """What a select offers."""

    def make(popup: Popup) -> list[Spot]:
        whole = ROW * len(choices)
        shown = min(whole, ROW * max(2, int(TALLEST * popup.height / ROW)))
        popup.most = whole - shown
        title = 28.0 if name else 0.0
        plate = _plate(popup, 2 * PAD + title + shown)
        held = Box(plate.left + PAD, plate.top + PAD + title, plate.right - PAD, plate.top + PAD + title + shown)
        spots = [Spot(plate, "dialog", name, label=name)]
        if name:
            spots.append(Spot(Box(held.left, plate.top + 8, held.right, plate.top + 8 + title), "text", name))
        spots.append(Spot(held, "list", "", label=name, flags=int(Flag.SCROLLABLE) if popup.most else 0))
        for number, choice in enumerate(choices):
            top = held.top + ROW * number - popup.scrolled
            box = Box(held.left, top, held.right, top + ROW).clipped(held)
            flags = int(Flag.SELECTED) if choice in chosen else 0
            spots.append(Spot(box, "option", choice, ("option", number), flags=flags))
        return spots

    return Popup(width, height, make, leaves=True)


def days(width: float, height: float, name: str, shown: date, chosen: date | None) -> Popup:
    """A month of a date field's calendar."""

    def make(popup: Popup) -> list[Spot]:
        weeks = calendar.Calendar().monthdatescalendar(shown.year, shown.month)
        plate = _plate(popup, 3 * PAD + ROW * (1 + len(weeks)))
        cell = (plate.width - 2 * PAD) / 7
        left, top = plate.left + PAD, plate.top + PAD
        spots = [Spot(plate, "dialog", name, label=name)]
        spots.append(Spot(Box(left, top, left + cell, top + ROW), "button", "<", ("month", -1), "Earlier"))
        spots.append(Spot(Box(plate.right - PAD - cell, top, plate.right - PAD, top + ROW), "button", ">", ("month", 1), "Later"))
        spots.append(Spot(Box(left + cell + 4, top, plate.right - PAD - cell - 4, top + ROW), "text", f"{shown:%Y-%m}", middle=True))
        for week, each in enumerate(weeks):
            for day in each:
                if day.month == shown.month:
                    x, y = left + cell * day.weekday(), top + ROW * (week + 1) + PAD
                    flags = int(Flag.SELECTED) if day == chosen else 0
                    spots.append(
                        Spot(Box(x, y, x + cell, y + ROW), "generic", str(day.day), ("day", day.isoformat()), day.isoformat(), flags)
                    )
        return spots

    return Popup(width, height, make, leaves=True)


def other_month(shown: date, step: int) -> date:
    """The first day of the month before or after; the calendar's own ends hold."""
    months = shown.year * 12 + shown.month - 1 + step
    return date(months // 12, months % 12 + 1, 1) if 12 <= months < 12 * 9999 else shown


def _lines(words: str, most: int) -> list[str]:
    lines = [""]
    for word in words.split():
        if len(lines[-1]) + len(word) + 1 > most and lines[-1]:
            lines.append("")
        lines[-1] = f"{lines[-1]} {word}".strip()
    return [*lines[:8], "…"] if len(lines) > 8 else lines
