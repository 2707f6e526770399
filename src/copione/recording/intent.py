"""What a gesture meant: gesture, element, and what changed afterwards, into one step. Pure."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..language.words import role_word, roles_of
from ..model.gesture import Gesture
from ..model.portrait import Portrait
from ..model.screen import Element, Flag, Screen
from ..model.step import Step, Target
from ..recognition.evidence import fold
from ..recognition.reach import clear_area
from ..screens.reading import reads, value_of_caption

ACTING = frozenset({"button", "switch", "checkbox", "radio", "slider", "textbox", "listitem", "tab", "link", "option", "combobox"})


@dataclass(frozen=True)
class Meaning:
    """A step with the portraits of all targets it names. `scrolled` marks a swipe that only moved a container's content."""

    step: Step
    portraits: tuple[tuple[str, Portrait], ...] = ()
    element: Element | None = None
    scrolled: bool = False


def on_keyboard(screen: Screen, gesture: Gesture) -> bool:
    return screen.keyboard is not None and screen.keyboard.contains(*gesture.begin)


def touched(screen: Screen, x: float, y: float) -> Element | None:
    """The element a finger at that point acts on: the topmost that takes touches, else the topmost that says something."""
    over = list(screen.at(x, y))
    for element in over:
        if element.role in ACTING or element.has(Flag.CLICKABLE) or element.has(Flag.HOLDABLE):
            return element
    return next((e for e in over if e.name), None)


def target_of(element: Element) -> Target:
    """How a person would word it: role and name, with the container where the name alone is not the only one."""
    word = role_word(element.role)
    name = element.name or element.id.replace("_", " ")
    same = [
        e
        for e in element.screen
        if e.role in roles_of(word) and fold(e.name) == fold(name) and not (e.within(element) or element.within(e))
    ]
    if same:
        for holder in element.ancestors():
            if holder.name and holder.role in {"list", "radiogroup", "dialog", "region"} and not any(e.within(holder) for e in same):
                return Target(word, name, Target(role_word(holder.role), holder.name))
    return Target(word, name)


def portrayed(target: Target, element: Element, value: str = "", share: float = -1.0) -> tuple[tuple[str, Portrait], ...]:
    """Portraits of a target and of the container it is worded with."""
    found = [(target.words(), Portrait(element.screen, element.row, value=value, share=share))]
    if target.inside is not None:
        for holder in element.ancestors():
            if fold(holder.name) == fold(target.inside.name) and holder.role in roles_of(target.inside.role):
                found.append((target.inside.words(), Portrait(holder.screen, holder.row)))
                break
    return tuple(found)


def interpret(gesture: Gesture, before: Screen, after: Screen | None) -> Meaning | None:
    """The step that a gesture on `before` was, seen what `after` shows. None for a touch on nothing."""
    element = touched(before, *gesture.begin)
    if gesture.kind == "swipe":
        return _swiped(gesture, before, after, element)
    if element is None:
        return None
    if gesture.kind == "hold":
        target = target_of(element)
        return Meaning(Step("hold", target), portrayed(target, element), element)
    return _tapped(gesture, element, after)


def _tapped(gesture: Gesture, element: Element, after: Screen | None) -> Meaning:
    later = same_on(after, element) if after is not None else None
    if element.role in {"switch", "checkbox"}:
        was = reads(element)
        now = reads(later) if later is not None else ("off" if was == "on" else "on")
        target = Target("switch", target_of(element).name, target_of(element).inside)
        return Meaning(Step("switch", target, now), portrayed(target, element), element)
    if element.role == "radio":
        group = next((a for a in element.ancestors() if a.role == "radiogroup" and a.name), None)
        if group is not None:
            target = target_of(group)
            return Meaning(Step("choose", target, element.name), portrayed(target, group), element)
    if element.role == "slider":
        return _slid(gesture, element, later)
    target = target_of(element)
    return Meaning(Step("tap", target), portrayed(target, element), element)


def _slid(gesture: Gesture, slider: Element, later: Element | None) -> Meaning:
    target = target_of(slider)
    value = reads(later) if later is not None else ""
    if not value:
        return Meaning(Step("swipe", target, gesture.direction), portrayed(target, slider), slider)
    share = (gesture.end[0] - slider.box.left) / max(1.0, slider.box.width)
    return Meaning(Step("set", target, value), portrayed(target, slider, value, min(1.0, max(0.0, share))), slider)


def _swiped(gesture: Gesture, before: Screen, after: Screen | None, element: Element | None) -> Meaning | None:
    if element is not None and element.role == "slider":
        return _slid(gesture, element, same_on(after, element) if after is not None else None)
    scroller = next((e for e in before.at(*gesture.begin) if e.has(Flag.SCROLLABLE)), None)
    if scroller is not None and gesture.direction in {"up", "down"}:
        target = target_of(scroller)
        return Meaning(Step("swipe", target, gesture.direction), portrayed(target, scroller), scroller, scrolled=True)
    if element is None:
        return None
    target = target_of(element)
    return Meaning(Step("swipe", target, gesture.direction), portrayed(target, element), element)


def same_on(screen: Screen, element: Element) -> Element | None:
    """The same element on a later screen of the same page: by id, role and name; the nearest where several are."""
    like = [e for e in screen if e.role == element.role and e.id == element.id and (e.name == element.name or bool(element.id))]
    x, y = element.box.centre
    return min(like, key=lambda e: abs(e.box.centre[0] - x) + abs(e.box.centre[1] - y), default=None)


def found_in_list(item: Element) -> Meaning | None:
    """The `find` that several scrolls before a tap on a list's item were."""
    holder = next((a for a in item.ancestors() if a.role == "list" and a.name), None)
    if holder is None or not item.name:
        return None
    target = Target(role_word(item.role), item.name, Target("list", holder.name))
    return Meaning(Step("find", target), portrayed(target, item), item)


def focused_field(screen: Screen) -> Element | None:
    return next((e for e in screen if e.role == "textbox" and e.has(Flag.FOCUSED)), None)


def typed(after: Screen) -> Meaning | None:
    """The field that has the focus and what it holds now. What is typed into a password field becomes a variable."""
    field = focused_field(after)
    if field is None:
        return None
    target = target_of(field)
    words = "{password}" if field.has(Flag.PASSWORD) else field.text
    return Meaning(Step("type", target, words), portrayed(target, field), field)


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


def likely_checks(element: Element) -> list[Meaning]:
    """The few checks a person would want of an element, worded with its present value, the likeliest first."""
    return list(_checks(element))


def _checks(element: Element) -> Iterator[Meaning]:
    caption = caption_of(element)
    value = value_of_caption(element) if element.role == "text" else ""
    own = target_of(element)
    if caption is not None or (value and _is_caption(element)):
        holder = caption or element
        label = Target("label", holder.text)
        portraits = portrayed(label, holder)
        yield Meaning(Step("check", label, value_of_caption(holder), "reads"), portraits, element)
        yield Meaning(Step("check", label, "", "reads the same on every device"), portraits, element)
    portraits = portrayed(own, element)
    if element.role in {"switch", "checkbox"}:
        yield Meaning(Step("check", own, "", f"is {reads(element)}"), portraits, element)
    elif element.role in {"textbox", "slider", "radiogroup", "combobox"}:
        yield Meaning(Step("check", own, reads(element), "reads"), portraits, element)
    if own.name:
        yield Meaning(Step("check", own, "", "is shown"), portraits, element)
        yield Meaning(Step("check", own, "", "is not shown"), portraits, element)


def checkable(screen: Screen, x: float, y: float) -> Element | None:
    """What a check click at a point is about: the smallest element there that says something or holds a value."""
    area = clear_area(screen)
    if not area.contains(x, y):
        return None
    over = [e for e in screen.at(x, y) if e.name or e.role in ACTING]
    control = next((e for e in over if e.role in ACTING - {"listitem", "button"}), None)
    return control or min(over, key=lambda e: e.box.area, default=None)
