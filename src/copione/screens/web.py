"""What the browser's script tells of a page into a `Screen`: CSS pixels are dp, what is drawn later comes later."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass

import msgspec
import numpy as np

from ..model.errors import TreeUnreadable
from ..model.geometry import Box
from ..model.screen import Flag, Overlay, Screen
from .behaviour import by_behaviour
from .names import name_all, with_canvases, with_steppers
from .source import FARTHEST, not_too_many, text

#: The roles that a row may have; any other counts as none.
ROLES = frozenset(
    {
        "button",
        "canvas",
        "checkbox",
        "combobox",
        "dialog",
        "document",
        "generic",
        "heading",
        "img",
        "link",
        "list",
        "listitem",
        "option",
        "progressbar",
        "radio",
        "radiogroup",
        "slider",
        "spinbutton",
        "switch",
        "tab",
        "tablist",
        "text",
        "textbox",
    }
)
_TOLD = sum(int(flag) for flag in Flag if flag not in (Flag.GUESSED, Flag.HOLDABLE))
LANGUAGE = re.compile(r"[A-Za-z]{2,3}(-[A-Za-z0-9]{1,8}){0,4}", re.A)
LARGEST = 100_000.0  # CSS pixels of a window


class _Told(msgspec.Struct):
    """As the page's script prints it. A row: parent, role, text, label, hint, id, left, top, right, bottom, flags, what covers it, kind,
    how far it is scrolled, the least and the most of a slider. `stops`: rows as the tabulator comes to them, for each layer of
    the page. `overlays`: the box of what stands over its flow, its first row and the one behind its last, whether it stays as
    that scrolls. `painted`: of each row its place in the order of painting, where that is another one.
    `spots`: rows that are not hit in their middle, each with the place where it is, if there is one. `hit`: the row that is
    hit at the point that was asked for, -1 for none."""

    url: str
    title: str
    width: float
    height: float
    pixels: float
    ready: str
    moving: bool
    touch: int
    rows: list[tuple[int, str, str, str, str, str, float, float, float, float, int, int, str, float, tuple[float, float] | None]]
    stops: list[list[int]] = []
    overlays: list[tuple[float, float, float, float, int, int, bool]] = []
    painted: list[int] = []
    spots: list[list[float]] = []
    hit: int = -1
    language: str = ""


@dataclass(frozen=True)
class WebPage:
    """A page as it was read. `kinds`: rows of controls whose choices the browser shows outside of the page (select, date, file).

    `hit` is the row of what a finger touches at the point that was asked for, -1 for none.
    `loading` while it is not whole yet, `moving` while something on it is animated. `pixels` is the number of them a CSS pixel.
    """

    screen: Screen
    url: str
    kinds: dict[int, str]
    pixels: float
    loading: bool
    moving: bool
    touch: bool
    hit: int = -1


def _layers(page: _Told, n: int) -> list[int]:
    """For each row the last of the parts over the page's flow that it stands in; -1 for the flow."""
    found = [-1] * n
    inside: list[int] = []
    starts = {row: i for i, (*_, row, _end, _stays) in enumerate(page.overlays)}
    for row in range(n):
        inside = [i for i in inside if page.overlays[i][5] > row]
        if row in starts:
            inside.append(starts[row])
        found[row] = inside[-1] if inside else -1
    return found


def read_page(told: str | bytes, place: Callable[[str], tuple[str, str]] = lambda url: ("", url)) -> WebPage:
    """The page; `place` gives its screen's app and activity for its address. Raises TreeUnreadable for what is no answer of the script."""
    try:
        page = msgspec.json.decode(told, type=_Told)
    except (msgspec.MsgspecError, UnicodeDecodeError, RecursionError) as error:
        raise TreeUnreadable(f"The elements that the page reported cannot be read: {error}.") from error
    n = len(page.rows)
    if not n or not (0 < page.width < LARGEST and 0 < page.height < LARGEST):
        raise TreeUnreadable("The page reported no elements.")
    not_too_many(n)
    parents, said, texts, labels, hints, ids, *sides, told_flags, covers, kinds, scrolled, limits = zip(*page.rows, strict=True)
    if parents[0] != -1 or any(not 0 <= parent < row for row, parent in enumerate(parents[1:], 1)):
        raise TreeUnreadable("The elements that the page reported do not form a tree.")
    roles = tuple(role if role in ROLES else "generic" for role in said)
    boxes = np.clip(np.nan_to_num(np.array(sides, np.float64).T), -FARTHEST, FARTHEST)
    boxes[:, 2:] = np.maximum(boxes[:, 2:], boxes[:, :2])
    above = np.array(parents, np.int32)
    flags = np.array([flag & _TOLD for flag in told_flags], np.int32)
    texts, labels, hints, ids = (tuple(map(text, column)) for column in (texts, labels, hints, ids))
    roles, flags = by_behaviour(roles, texts, labels, flags, above, boxes)
    roles = with_canvases(roles, labels, boxes, above)
    roles = with_steppers(roles, texts, boxes, above, (flags & Flag.CLICKABLE) > 0, (flags & Flag.EDITABLE) > 0)
    app, activity = place(page.url[:4000])
    language = page.language if LANGUAGE.fullmatch(page.language) else ""
    names, also = name_all(roles, texts, labels, hints, boxes, above, (flags & Flag.CLICKABLE) > 0, language, _layers(page, n))
    screen = Screen(
        width=page.width,
        height=page.height,
        app=app,
        activity=activity,
        keyboard=None,
        roles=roles,
        names=names,
        also=also,
        texts=texts,
        labels=labels,
        ids=ids,
        boxes=np.ascontiguousarray(boxes),
        parents=above,
        flags=flags,
        language=language,
        locale=language,
        covers=tuple(cover if -1 <= cover < n else -1 for cover in covers),
        scrolled={row: scrolled[row] for row in np.flatnonzero(flags & Flag.SCROLLABLE).tolist() if 0 <= scrolled[row] < FARTHEST},
        limits={row: pair for row, pair in enumerate(limits) if pair is not None and pair[0] < pair[1]},
        painted=tuple(page.painted) if sorted(page.painted) == list(range(n)) else (),
        spots=_spots(page.spots, n),
        stops=tuple(tuple(row for row in dict.fromkeys(layer) if 0 <= row < n) for layer in page.stops[:n]),
        overlays=tuple(Overlay(Box(*row[:4]), row[4], row[5], row[6]) for row in page.overlays[:n]),
    )
    shown = {row: kind for row, kind in enumerate(kinds) if kind}
    pixels = page.pixels if 0.1 < page.pixels < 20 else 1.0
    return WebPage(
        screen, page.url[:4000], shown, pixels, page.ready != "complete", page.moving, page.touch > 0, page.hit if page.hit < n else -1
    )


def _spots(told: list[list[float]], n: int) -> dict[int, tuple[float, float] | None]:
    found: dict[int, tuple[float, float] | None] = {}
    for row, *place in filter(None, told[:n]):
        if 0 <= row < n and all(0 <= side < LARGEST for side in place):
            found[int(row)] = (place[0], place[1]) if len(place) == 2 else None
    return found
