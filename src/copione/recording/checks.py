"""What a person may want checked: of an element, worded with its present value, and of an area of the picture. Pure."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator

from ..model import relation as r
from ..model.action import Check, Keep
from ..model.geometry import Box
from ..model.number import NumberSigns, numbers_in
from ..model.portrait import Portrait
from ..model.reading import State
from ..model.screen import Element, Flag, Screen, bare
from ..model.step import Step
from ..model.target import AREA, Target
from ..recognition.evidence import visible
from ..recognition.reach import clear_area
from ..screens.numbers import signs_of
from ..screens.reading import reads, value_of_caption
from .intent import ACTING, Meaning, portrayed
from .targets import target_of

ROUGHLY = r.Tolerance(3.0, 0.2)
PICTURES = frozenset({"img", "canvas"})
LONGEST = 15  # figures of a number that a range is offered about
SLACK = 0.1  # of a number, that a range about it leaves each way


def caption_of(value: Element) -> Element | None:
    """The caption whose value an element is."""
    if value.role != "text" or not value.text:
        return None
    for other in value.screen:
        if other.role == "text" and other != value and _is_caption(other) and _belongs(other, value):
            return other
    return None


def _is_caption(element: Element) -> bool:
    return any(c.isalpha() for c in element.text)


def _belongs(caption: Element, value: Element) -> bool:
    box, there = caption.box, value.box
    level = there.top < box.bottom and there.bottom > box.top
    return level and value_of_caption(caption) == value.text


def likely_checks(element: Element, locale: str = "") -> list[Meaning]:
    """The checks a person would want of an element, worded with its present value, the likeliest first.

    `locale` (BCP 47) is that of the device: numbers are read as it writes them, unless the page says that it has another language.
    """
    return list(_checks(element, signs_of(element.screen.language or locale)))


def _checks(element: Element, signs: NumberSigns) -> Iterator[Meaning]:
    caption = caption_of(element)
    value = value_of_caption(element) if element.role == "text" else ""
    own = target_of(element)
    portraits = portrayed(own, element)

    def of_own(relation: r.Relation) -> Meaning:
        return Meaning(Step(Check(own, relation)), portraits, element)

    if element.role in PICTURES:
        yield of_own(r.LooksAsRecorded())
    if caption is not None or (value and _is_caption(element)):
        holder = caption or element
        label, said = Target("label", holder.text), value_of_caption(holder)
        of_label = portrayed(label, holder)
        for relation in (r.Reads(said), r.SameEverywhere(), *_looser(said, signs)):
            yield Meaning(Step(Check(label, relation)), of_label, element)
        if variable := "_".join(re.findall(r"[a-z0-9]+", holder.text.lower())).lstrip("0123456789_"):
            yield Meaning(Step(Keep(label, variable)), of_label, element)
    if element.role in {"switch", "checkbox"}:
        yield of_own(r.IsState(State.ON if element.has(Flag.CHECKED) else State.OFF))
    elif element.role in {"textbox", "slider", "radiogroup", "combobox", "spinbutton"}:
        for relation in (r.Reads(reads(element)), *_looser(reads(element), signs)):
            yield of_own(relation)
    elif element.role == "tab":
        yield of_own(r.IsState(State.SELECTED if element.has(Flag.SELECTED) else State.NOT_SELECTED))
    elif element.role == "list":
        yield of_own(r.HasItems(sum(e.role in {"listitem", "option"} and e.parent == element for e in element.screen)))
    if own.name:
        yield of_own(r.IsShown())
        yield of_own(r.IsNotShown())
    if element.role == "text" and element.text and caption is None and not value:
        for relation in (r.Reads(element.text), *_looser(element.text, signs)):
            yield of_own(relation)
    if element.role == "button":
        yield of_own(r.IsState(State.ENABLED if element.has(Flag.ENABLED) else State.DISABLED))
    if element.role not in PICTURES and not visible(element).empty:
        yield of_own(r.LooksAsRecorded())


def _looser(said: str, signs: NumberSigns) -> Iterator[r.Relation]:
    """Less than the very words: a range about a number, the words beside it, its pattern."""
    number = next(numbers_in(said, signs), None)
    if number is None or number.value is None or number.end - number.begin > LONGEST:
        return
    middle, rest = float(number.value), (said[: number.begin] + " " + said[number.end :]).strip()
    places = max(0, -int(number.value.as_tuple().exponent))
    away = max(abs(middle) * SLACK, 10.0**-places)
    yield r.Between(round(middle - away, places), round(middle + away, places))
    words = max(re.split(r"\s*\d[\d.,:]*\s*", said), key=len).strip()
    if words and rest:
        yield r.Contains(words)
        yield r.Matches(re.sub(r"\\?\d+", r"\\d+", re.escape(said).replace("\\ ", " ")))


def check_of_page(screen: Screen) -> Meaning | None:
    """The check that this page is shown: its heading, else the topmost words or button that nothing else on it repeats."""
    said = Counter((e.role, e.name) for e in screen)
    alone = [e for e in screen if e.name and said[e.role, e.name] == 1 and not visible(e).empty]
    for roles in ({"heading"}, {"text"}, {"button", "tab"}):
        found = min((e for e in alone if e.role in roles), key=lambda e: (e.box.top, e.box.left), default=None)
        if found is not None:
            target = target_of(found)
            return Meaning(Step(Check(target, r.IsShown())), portrayed(target, found), found)
    return None


def checkable(screen: Screen, x: float, y: float) -> Element | None:
    """What a check click at a point is about: the smallest element there that says something or holds a value."""
    area = clear_area(screen)
    if not area.contains(x, y):
        return None
    over = [e for e in screen.at(x, y) if e.name or e.role in ACTING]
    control = next((e for e in over if e.role in ACTING - {"listitem", "button"}), None)
    return control or min(over, key=lambda e: e.box.area, default=None)


# areas of a picture


def area_checks(
    screen: Screen | None, size: tuple[float, float], box: Box, number: int, words: str = "", locale: str = ""
) -> list[Meaning]:
    """Checks of an area that was framed, dp: how it looks, and the `words` read in it, if any. `locale`: see `likely_checks`.

    It is kept as a part of the smallest named element that it lies in, else of the whole screen. `number` tells it from other areas.
    """
    there = screen if screen is not None else bare(*size)
    holder = _holder(there, box)
    name = f"{holder.name} {number}" if holder is not None else f"Area {number}"
    row = holder.row if holder is not None else 0
    element = there.element(row)
    whole = element.box if holder is not None else Box(0.0, 0.0, there.width, there.height)
    if holder is None and whole != element.box:  # the tree's first element is not the whole screen
        there = bare(there.width, there.height, there.app)
        element = there.element(0)
    target = Target(AREA, name)
    portraits = ((target, Portrait(there, element.row, part=whole.shares(box))),)
    placed = holder is None
    relations: list[r.Relation] = [r.LooksAsRecorded(), r.LooksAsRecorded(ROUGHLY)]
    if words:
        relations = [r.Reads(words), *relations, *_looser(words, signs_of(there.language or locale))]
    return [Meaning(Step(Check(target, relation), place=placed), portraits, element) for relation in relations]


def _holder(screen: Screen, box: Box) -> Element | None:
    over = [e for e in screen.at(*box.centre) if e.row and e.name and box.clipped(e.box) == box]
    return min(over, key=lambda e: e.box.area, default=None)
