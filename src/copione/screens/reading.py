"""What an element says: its value, beside its name."""

from __future__ import annotations

import re

from ..model.direction import from_right, leftwards
from ..model.screen import Element, Flag, Screen, of_screen
from ..model.words import number_words

_NUMBER = re.compile(r"(\d+(?:\.\d+)?)(?:\s?[^\d\s]{1,3})?")  # with its unit
_WITH_VALUE = re.compile(r"[^:：]{1,60}[:：]\s+(\S.*)")  # a caption with its value on one line
PRESSED = frozenset({"button", "link", "tab", "option", "text"})  # what has words that say what it does
WHEEL_TALL = 72.0  # dp: a choice that high is a wheel; cut off by an edge it may be lower
VALUE_GAP = 32.0  # dp below a caption within which its value may stand when nothing is beside it


def reads(element: Element) -> str:
    """A field's content, a slider's value, on/off of a switch, the chosen option, a caption's value, else its own words."""
    role = element.role
    if role in {"switch", "checkbox"}:
        return "on" if element.has(Flag.CHECKED) else "off"
    if role == "radiogroup":
        chosen = [d.name for d in element.descendants() if d.has(Flag.CHECKED)]  # the stars of a rating are, up to the one that counts
        return chosen[-1] if chosen else ""
    if role == "slider":
        beside = _beside_caption(element) if not element.text or element.text.endswith("%") else ""
        return beside or number_words(element.text)
    if role == "combobox":
        return element.text or next((d.text for d in element.descendants() if d.text and not _is_offered(d, element)), "")
    if role in {"textbox", "progressbar"}:
        return element.text
    if role == "spinbutton":
        return number_words(element.text.strip())
    return element.text or element.name


def _is_offered(part: Element, combo: Element) -> bool:
    """Is it one of the choices of a list that has opened within it, and not the chosen one?"""
    return any(
        e.role in {"option", "list"} and e.within(combo) and not e.has(Flag.SELECTED) for e in (part, *part.ancestors()) if e != combo
    )


def is_wheel(element: Element) -> bool:
    """Does it turn under a finger, with what is chosen in its middle? Platforms are not asked: their other choices are low."""
    if element.screen.is_web:
        return element.has(Flag.TURNS)
    return element.role == "combobox" and element.box.height >= WHEEL_TALL


def ends_of(stepper: Element) -> tuple[Element, Element]:
    """The two buttons that a stepper's value stands between, in tree order."""
    parent = stepper.parent
    siblings = parent.children if parent is not None else [e for e in stepper.screen if e.parent is None]
    place = siblings.index(stepper)
    return siblings[place - 1], siblings[place + 1]


def stepper_of(button: Element) -> Element | None:
    """The stepper that a button counts up or down."""
    parent = button.parent
    siblings = parent.children if parent is not None else []
    place = siblings.index(button) if button in siblings else 0
    beside = siblings[max(0, place - 1) : place + 2]
    return next((e for e in beside if e.role == "spinbutton"), None)


@of_screen
def _leftwards(screen: Screen) -> bool:
    return leftwards(screen.texts, screen.boxes, screen.locale)


def _either_way(screen: Screen) -> bool:
    """Do its words not run as the device's language does, so that it may be laid out either way?"""
    return bool(screen.locale) and from_right(screen.locale) != leftwards(screen.texts)


def value_of_caption(caption: Element) -> str:
    """The words that belong to a caption: behind it on its line; else before it there, where the device's language is written the other
    way; else directly below. Empty where there are none.
    """
    own = _WITH_VALUE.fullmatch(caption.text)
    if own is not None:
        return own[1]
    box = caption.box
    beside: list[tuple[float, str]] = []
    below: list[tuple[float, str]] = []
    before: list[tuple[float, str]] = []
    backwards = _leftwards(caption.screen)
    for other in caption.screen:
        if other == caption or not other.text or other.role not in {"text", "textbox", "spinbutton"} or _is_pressed(other, caption):
            continue
        there = other.box
        ahead = box.left - there.right if backwards else there.left - box.right
        if there.top < box.bottom and there.bottom > box.top:
            (beside if ahead >= -1 else before).append((abs(ahead), other.text))
        elif 0 <= there.top - box.bottom <= VALUE_GAP and there.left < box.right and there.right > box.left:
            below.append((there.top - box.bottom, other.text))
    nearest = sorted(beside) or (sorted(before) if _either_way(caption.screen) else []) or sorted(below)
    return nearest[0][1] if nearest else ""


def _is_pressed(words: Element, caption: Element) -> bool:
    """Do words stand on something that takes touches, and that the caption does not stand on? They say what that does."""
    if words.role != "text":
        return False
    holder = next((e for e in (words, *words.ancestors()) if e.has(Flag.CLICKABLE)), None)
    return holder is not None and holder.role in PRESSED and not caption.within(holder)


def _beside_caption(slider: Element) -> str:
    """The number that an app shows at the other end of a slider's caption line, without its unit."""
    box = slider.box
    for other in slider.screen:
        there = other.box
        near = -4 <= box.top - there.bottom <= VALUE_GAP and there.left < box.right and there.right > box.left
        number = _NUMBER.fullmatch(other.text.strip()) if near and other.role == "text" else None
        if number is not None:
            return number[1]
    return ""
