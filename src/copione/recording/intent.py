"""What a gesture meant: gesture, element, and what changed afterwards, into one step. Pure."""

from __future__ import annotations

from dataclasses import dataclass

from ..model import action as a
from ..model.gesture import Gesture
from ..model.portrait import Portrait
from ..model.roles import role_word, roles_of
from ..model.screen import Element, Flag, Screen
from ..model.step import Step
from ..model.target import Target
from ..model.words import InvalidValue
from ..recognition.evidence import fold, lasting_id
from ..screens.dates import day_of
from ..screens.reading import is_wheel, reads, stepper_of
from ..touch.path import svg_words
from .targets import target_of

FINGER = 24.0  # dp from the middle of a touch within which another element may have been meant
VEIL_SHARE = 0.5  # of the screen at least: what lies under a popover and closes it
PAGE_SHARE = 0.25  # of the screen: what is larger and takes touches listens for what is in it
EDGE = 22.0  # dp from the side within which a stroke inwards goes back
ACTING = frozenset(
    {"button", "switch", "checkbox", "radio", "slider", "textbox", "listitem", "tab", "link", "option", "combobox", "canvas"}
)


#: Gestures at a place, and the actions they are when they mean nothing else.
POINTED: dict[str, type[a.Tap] | type[a.DoubleTap] | type[a.Hold]] = {"double-tap": a.DoubleTap, "hold": a.Hold}
STROKES: dict[str, type[a.Swipe] | type[a.Fling]] = {"swipe": a.Swipe, "fling": a.Fling}


@dataclass(frozen=True)
class Meaning:
    """A step with the portraits of all targets it names. `scrolled` marks a swipe that only moved a container's content."""

    step: Step
    portraits: tuple[tuple[Target, Portrait], ...] = ()
    element: Element | None = None
    scrolled: bool = False


def on_keyboard(screen: Screen, gesture: Gesture) -> bool:
    """Did it begin on the device's keyboard?"""
    return screen.keyboard is not None and screen.keyboard.contains(*gesture.begin)


def touched(screen: Screen, x: float, y: float) -> Element | None:
    """The element a finger at that point acts on: the topmost that takes touches, else the topmost that says something."""
    return acted_on(_over(screen, x, y))


def _over(screen: Screen, x: float, y: float) -> list[Element]:
    over = list(screen.at(x, y))
    if screen.covers:  # the device tells what is drawn over what
        return [e for e in over if screen.covers[e.row] < 0] or over
    return over


def acted_on(over: list[Element]) -> Element | None:
    """What a finger acts on, given all elements under it from the top down: the first that takes touches, else the first with a name."""
    for element in over:
        if element.role in ACTING or element.has(Flag.CLICKABLE) or element.has(Flag.HOLDABLE):
            return _meant_in(element, over)
    return next((e for e in over if e.name and e.role != "document"), None)


def meant_by_hit(hit: Element | None, x: float, y: float) -> Element | None:
    """What a finger acts on, given what the device says it hits at a point. A dialog's backdrop is no part of the dialog."""
    if hit is None or (hit.role == "dialog" and not hit.box.contains(x, y)):
        return None
    return acted_on([hit, *hit.ancestors()])


def _meant_in(element: Element, over: list[Element]) -> Element:
    """What was meant in an element that takes touches for all that is in it: where that is a page of things, what says something there."""
    option = next((e for e in (element, *element.ancestors()) if e.role == "option"), None)
    if option is not None:
        combo = next((a for a in option.ancestors() if a.role == "combobox"), None)
        closed = combo is not None and sum(e.role == "option" for e in combo.descendants()) == 1
        return combo if combo is not None and (closed or is_wheel(combo)) else element
    if element.role == "generic":  # a component that holds the control which does its work
        controls = [e for e in element.descendants() if e.role in ACTING]
        if controls and all(e.name == element.name for e in controls):
            return controls[0]
    if element.role != "generic" or element.box.area < PAGE_SHARE * element.screen.width * element.screen.height:
        return element
    return next((e for e in over if e != element and e.within(element) and e.name and e.role != "generic"), element)


def portrayed(target: Target, element: Element, value: str = "", share: float = -1.0) -> tuple[tuple[Target, Portrait], ...]:
    """Portraits of a target and of the container it is worded with."""
    found = [(target, Portrait(element.screen, element.row, value=value, share=share))]
    if target.inside is not None:
        for holder in element.ancestors():
            if fold(holder.name) == fold(target.inside.name) and holder.role in roles_of(target.inside.role):
                found.append((target.inside, Portrait(holder.screen, holder.row)))
                break
    return tuple(found)


def nearby(screen: Screen, x: float, y: float) -> list[Element]:
    """What else takes touches within a finger's width of a point, the nearest first."""
    here = touched(screen, x, y)
    found: dict[Element, float] = {}
    for dx, dy in ((0, -1), (0, 1), (-1, 0), (1, 0)):
        for away in (FINGER / 2, FINGER):
            other = touched(screen, x + dx * away, y + dy * away)
            if other is not None and other != here and other.role in ACTING:
                found.setdefault(other, away)
    return sorted(found, key=lambda e: found[e])


def interpret(gesture: Gesture, before: Screen, after: Screen | None, on: Element | None = None) -> Meaning | None:
    """The step that a gesture on `before` was, seen what `after` shows. None for a touch on nothing.

    `on`: the element that was touched, if not the topmost.
    """
    if gesture.fingers > 1:
        return _together(gesture, before)
    element = on or touched(before, *gesture.begin)
    if element is not None and element.role == "canvas":
        return _drawn(gesture, element)
    if gesture.moves:
        return _moved(gesture, before, after, element)
    if element is None or _only_holds(element):
        return _left_dialog(gesture, before, after)
    if element.role == "generic" and not element.name and (left := _left_dialog(gesture, before, after)) is not None:
        return left
    if gesture.kind in POINTED:
        target = target_of(element)
        return Meaning(Step(POINTED[gesture.kind](target)), portrayed(target, element), element)
    return _tapped(gesture, element, after)


def _only_holds(element: Element) -> bool:
    """Was what lies behind the controls touched? A tap in the middle of it would be one on a control."""
    if element.role in ACTING or element.has(Flag.CLICKABLE):
        return False
    return any(e.role in ACTING or e.has(Flag.CLICKABLE) for e in element.descendants())


def _left_dialog(gesture: Gesture, before: Screen, after: Screen | None) -> Meaning | None:
    """A touch beside a dialog, or on the veil under a popover, that closes it is what the back key does."""
    if after is None or any(e.role == "dialog" and e.box.contains(*gesture.begin) for e in before):
        return None  # what a dialog holds there was not made out
    x, y = gesture.begin
    closed = any(e.role == "dialog" for e in before) and not any(e.role == "dialog" for e in after)
    return Meaning(Step(a.Press(a.Key.BACK))) if closed or (_veiled(before, x, y) and not _veiled(after, x, y)) else None


def _veiled(screen: Screen, x: float, y: float) -> bool:
    """Is what lies topmost at a point a veil: most of the screen, without anything in it, and with words painted over it elsewhere?"""
    veil = next(screen.at(x, y), None)
    if veil is None or veil.role != "generic" or veil.name or any(veil.descendants()):
        return False
    order = screen.painted or range(len(screen))
    over = (e for e in screen if order[e.row] > order[veil.row] and e.name and e.box.clipped(veil.box).area > 0)
    return veil.box.area >= VEIL_SHARE * screen.width * screen.height and any(over)


def plain(gesture: Gesture, before: Screen, on: Element | None = None) -> Meaning | None:
    """The gesture itself, relative to its element, whatever it meant. `on`: see `interpret`."""
    if gesture.fingers > 1:
        return _together(gesture, before)
    element = on or touched(before, *gesture.begin)
    if element is None or (not gesture.moves and _only_holds(element)):
        return None
    target = target_of(element)
    return Meaning(Step(_plainly(gesture, element, target)), portrayed(target, element), element)


def _plainly(gesture: Gesture, element: Element, target: Target) -> a.Action:
    if not gesture.moves:
        return POINTED.get(gesture.kind, a.Tap)(target)
    if gesture.kind in STROKES:
        return STROKES[gesture.kind](a.Direction(gesture.direction), target)
    return _dragged(gesture, element, target)


def _dragged(gesture: Gesture, element: Element, target: Target) -> a.DragBy:
    """How far a gesture went, in shares of its element's size."""
    dx, dy = gesture.shift
    return a.DragBy(target, round(dx / max(1.0, element.box.width), 2), round(dy / max(1.0, element.box.height), 2), gesture.fingers)


def pinched(gesture: Gesture, target: Target) -> a.Pinch:
    """A pinch, as near as fingers can aim."""
    return a.Pinch(target, float(f"{gesture.scale:.2g}"))


def twisted(gesture: Gesture, target: Target) -> a.Twist:
    """A twist, in whole degrees."""
    return a.Twist(target, float(round(gesture.angle)))


def _together(gesture: Gesture, before: Screen) -> Meaning | None:
    """What several fingers did, to the largest thing under all of them."""
    over = [e for e in before.at(*gesture.begin) if e.role == "canvas"] or [e for e in before.at(*gesture.begin) if e.name]
    if not over:
        return None
    target = target_of(over[0])
    action: a.Action
    if gesture.kind == "pinch":
        action = pinched(gesture, target)
    elif gesture.kind == "twist":
        action = twisted(gesture, target)
    elif gesture.kind == "pan":
        action = _dragged(gesture, over[0], target)
    else:
        action = pressed_together(gesture, target)
    return Meaning(Step(action), portrayed(target, over[0]), over[0])


def pressed_together(gesture: Gesture, target: Target) -> a.Tap | a.Hold:
    """A tap or a long press of several fingers."""
    return a.Hold(target, gesture.fingers) if gesture.kind == "hold" else a.Tap(target, fingers=gesture.fingers)


def _drawn(gesture: Gesture, canvas: Element) -> Meaning:
    """A stroke on something without elements inside: its path in shares of the box."""
    target, box = target_of(canvas), canvas.box
    if gesture.kind in POINTED:
        return Meaning(Step(POINTED[gesture.kind](target)), portrayed(target, canvas), canvas)
    places = [((x - box.left) / box.width, (y - box.top) / box.height) for _, x, y in gesture.contacts[0].path]
    return Meaning(Step(a.Draw(target, svg_words(places if gesture.moves else places[:1]))), portrayed(target, canvas), canvas)


def _tapped(gesture: Gesture, element: Element, after: Screen | None) -> Meaning:
    later = same_on(after, element) if after is not None else None
    if element.role in {"switch", "checkbox"} and (later is not None or after is None):  # what goes when it is touched is no switch
        was = reads(element)
        now = reads(later) if later is not None else ("off" if was == "on" else "on")
        target = Target("switch", target_of(element).name, target_of(element).inside)
        return Meaning(Step(a.Switch(now == "on", target)), portrayed(target, element), element)
    if element.role == "radio" and (later is not None or after is None):  # what goes when it is touched has no state
        group = next((a for a in element.ancestors() if a.role == "radiogroup" and a.name), None)
        if group is not None:
            target = target_of(group)
            return Meaning(Step(a.Choose(target, element.name)), portrayed(target, group), element)
    if element.role == "slider":
        return _slid(gesture, element, later)
    counter = stepper_of(element) if element.role == "button" else None
    counted = same_on(after, counter) if counter is not None and after is not None else None
    if counter is not None and counted is not None and reads(counted) != reads(counter) and is_number(reads(counted)):
        target = target_of(counter)
        return Meaning(Step(a.SetTo(target, reads(counted))), portrayed(target, counter), counter)
    chosen = _turned(element, later)
    if chosen is not None:
        return chosen
    target = target_of(element)
    return Meaning(Step(a.Tap(target)), portrayed(target, element), element)


def _turned(element: Element, later: Element | None) -> Meaning | None:
    """A wheel that now reads something else, and is still there."""
    if element.role != "combobox" or later is None or reads(later) == reads(element):
        return None
    return chosen(element, reads(later))


def chosen(combo: Element, value: str, locale: str = "") -> Meaning:
    """What a choice now reads; a day in ISO form."""
    target = target_of(combo)
    day = day_of(value, locale) if locale else None
    return Meaning(Step(a.Choose(target, day.isoformat() if day else value)), portrayed(target, combo), combo)


def _slid(gesture: Gesture, slider: Element, later: Element | None) -> Meaning:
    target = target_of(slider)
    value = reads(later) if later is not None else ""
    if not is_number(value):
        return Meaning(Step(a.Swipe(a.Direction(gesture.direction), target)), portrayed(target, slider), slider)
    share = (gesture.end[0] - slider.box.left) / max(1.0, slider.box.width)
    return Meaning(Step(a.SetTo(target, value)), portrayed(target, slider, value, min(1.0, max(0.0, share))), slider)


def _moved(gesture: Gesture, before: Screen, after: Screen | None, element: Element | None) -> Meaning | None:
    later = same_on(after, element) if after is not None and element is not None else None
    if element is not None and element.role == "slider":
        return _slid(gesture, element, later)
    if element is not None and (turned := _turned(element, later)) is not None:
        return turned
    if _from_edge(gesture, before) and after is not None and after.signature != before.signature:
        return Meaning(Step(a.Press(a.Key.BACK)))
    carried = _carried(gesture, before, after)
    if carried is not None:
        return carried
    stroke = STROKES.get(gesture.kind, a.Swipe)
    scroller = next((e for e in before.at(*gesture.begin) if e.has(Flag.SCROLLABLE)), None)
    if scroller is not None and gesture.direction in {"up", "down"}:
        target = target_of(scroller)
        rests = after is not None and _lies_still(scroller, after)
        step = Step((a.Swipe if rests else stroke)(a.Direction(gesture.direction), target))
        return Meaning(step, portrayed(target, scroller), scroller, scrolled=not rests)
    if element is None:
        return None
    target = target_of(element)
    if gesture.kind == "hold-drag":
        other = touched(after or before, *gesture.end)
        if other is not None and other.name and other.name != element.name:
            onto = target_of(other)
            step = Step(a.DragTo(target, a.Placement.ONTO, onto))
            return Meaning(step, (*portrayed(target, element), *portrayed(onto, other)), element)
        return Meaning(Step(_dragged(gesture, element, target)), portrayed(target, element), element)
    return Meaning(Step(stroke(a.Direction(gesture.direction), target)), portrayed(target, element), element)


def _from_edge(gesture: Gesture, screen: Screen) -> bool:
    """A stroke from the side inwards belongs to the system."""
    x = gesture.begin[0]
    inwards = "right" if x < EDGE else "left" if x > screen.width - EDGE else ""
    return bool(inwards) and gesture.direction == inwards


def _lies_still(scroller: Element, after: Screen) -> bool:
    """Did what is in a container stay where it was?"""
    later = same_on(after, scroller)
    if later is None:
        return False
    where = {e.name: e.box.top for e in later.children if e.name}
    mine = {e.name: e.box.top for e in scroller.children if e.name}
    shared = where.keys() & mine.keys()
    return bool(shared) and all(abs(where[name] - mine[name]) < 2 for name in shared)


def _carried(gesture: Gesture, before: Screen, after: Screen | None) -> Meaning | None:
    """An item that was carried to another place of its list: below or above which other one it lies now."""
    item = next((e for e in before.at(*gesture.begin) if e.role == "listitem" and e.name), None)
    if item is None or after is None or gesture.direction not in {"up", "down"}:
        return None
    here = [e.name for e in item.screen if e.role == "listitem" and e.parent == item.parent]
    moved = same_on(after, item)
    there = [e.name for e in after if moved is not None and e.role == "listitem" and e.parent == moved.parent]
    if here == there or sorted(here) != sorted(there) or here.count(item.name) != 1:
        return None
    place = there.index(item.name)
    placement, name = (a.Placement.BELOW, there[place - 1]) if place else (a.Placement.ABOVE, there[1])
    other = next(e for e in before if e.role == "listitem" and e.name == name and e.parent == item.parent)
    target, onto = target_of(item), target_of(other)
    grip = next((e for e in before.at(*gesture.begin) if e.within(item) and e != item and e.role == "img"), None)
    held = ((target, Portrait(before, grip.row, grip=True)),) if grip is not None else ()
    step = Step(a.DragTo(target, placement, onto))
    return Meaning(step, (*portrayed(target, item), *portrayed(onto, other), *held), item)


def answered(gesture: Gesture, before: Screen) -> Meaning | None:
    """A tap in a dialog of the system: a standing answer to what it asks."""
    element = touched(before, *gesture.begin)
    asked = max((e for e in before if e.role in {"text", "heading"} and e.text), key=lambda e: len(e.text), default=None)
    if gesture.kind != "tap" or element is None or asked is None:
        return None
    target, onto = target_of(asked), target_of(element)
    return Meaning(Step(a.Whenever(target, onto)), (*portrayed(target, asked), *portrayed(onto, element)), element)


def is_number(words: str) -> bool:
    """Can a slider or a stepper be set to what it reads?"""
    try:
        a.SetTo(Target("", ""), words)
    except InvalidValue:
        return False
    return bool(words) and "{" not in words


def same_on(screen: Screen, element: Element) -> Element | None:
    """The same element on a later screen of the same page: by id, role and name; the nearest where several are."""
    id = lasting_id(element)
    like = [e for e in screen if e.role == element.role and lasting_id(e) == id and (e.name == element.name or bool(id))]
    x, y = element.box.centre
    return min(like, key=lambda e: abs(e.box.centre[0] - x) + abs(e.box.centre[1] - y), default=None)


def found_in_list(item: Element) -> Meaning | None:
    """The `find` that several scrolls before a tap on a list's item were."""
    holder = next((a for a in item.ancestors() if a.role == "list" and a.name), None)
    if holder is None or not item.name:
        return None
    target = Target(role_word(item.role), item.name, Target("list", holder.name))
    return Meaning(Step(a.Find(target)), portrayed(target, item), item)


SECRET = "{password}"  # what stands in a script for what was typed into a field that hides it


def focused_field(screen: Screen) -> Element | None:
    """The field that letters go to."""
    return next((e for e in screen if (e.role == "textbox" or e.has(Flag.EDITABLE)) and e.has(Flag.FOCUSED)), None)


def hides(field: Element) -> bool:
    """Does a field hide what is typed into it? Of one that is read from a picture its dots tell."""
    drawn = field.screen.read and bool(field.text) and not any(c.isalnum() for c in field.text)
    return field.has(Flag.PASSWORD) or drawn


def _changed_field(before: Screen, after: Screen) -> Element | None:
    """The only field that reads otherwise than before; a picture does not tell which one has the focus."""
    held = {e.name: e.text for e in before if e.role == "textbox"}
    changed = [e for e in after if e.role == "textbox" and e.name in held and held[e.name] != e.text]
    return changed[0] if len(changed) == 1 else None


def typed(after: Screen, before: Screen | None = None) -> Meaning | None:
    """The field that has the focus and what it holds now. What is typed into a password field becomes a variable."""
    field = focused_field(after)
    if field is None and after.read and before is not None:
        field = _changed_field(before, after)
    if field is None:
        return None
    target = target_of(field)
    words = SECRET if hides(field) else field.text
    return Meaning(Step(a.Type(target, words)), portrayed(target, field), field)
