"""Scrolling a container on replay: strokes within its clear part that the app cannot take for anything else.

Down it is scrolled until it moves less than it was asked to: that is its end. Up it is scrolled as far as it has been moved before, and
from there on in short steps: a list that stands at its beginning takes a longer pull for the wish to load anew.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ..model.direction import from_right
from ..model.geometry import Box
from ..model.screen import Element, Flag, Screen
from ..recognition.evidence import fold, lasting_id, neighbours, visible
from ..recognition.reach import clear_area, scroller_of
from ..screens.reading import reads
from ..touch.making import drag
from .displacement import Displacement, cut_above, kind_of
from .watch import ScreenWatch

STROKE = 0.55  # share of a container's height that one scroll moves: overlap, so that nothing is passed over
NUDGE_DP = 40.0  # a pull so short never loads a list anew: platforms ask for 64 dp and more
SLOP_DP = 8.0  # of a stroke, that a platform waits for before anything moves
SHORTEST_DP = 24.0  # three times the slop: what is shorter could be taken for a tap
FULL = 0.6  # share of what it was asked for that a container moves at least, unless it is at its end
LISTENING = frozenset(
    {"slider", "combobox", "canvas", "switch", "spinbutton", "progressbar", "application"}
)  # a stroke that begins there is theirs
VALUED = frozenset({"slider", "combobox", "switch", "checkbox", "radio", "textbox", "spinbutton"})  # what a stroke may have changed
FINGER_DP = 4.0  # at least, from the edge of what listens: trees round
CLEAR_DP = 12.0  # better: browsers give a touch to what a thick finger would touch
KNOB_DP = 44.0  # how high a slider listens: its knob is higher than its track
SYSTEM_DP = 32.0  # from the screen's sides, where a stroke may be the system's
NO_PLACE = "there is no place for a stroke that nothing else would take"
EDGE, INWARDS = 1.3, 0.3  # of an item's height from the edge that is near; share of the container it is brought in by
LEAST_DP, SLACK_DP = 48.0, 24.0  # that a stroke moves at least; how far beyond the edge a target is brought in
MOST_STROKES, NEAR_STROKES = 60, 2
BACK_S = 1.5  # beyond a step's time, for bringing back what it scrolled
OUT = 0.6  # share of the time that is left, that a search takes where something comes after it: other containers, the way back
STROKE_S = 0.3  # seconds of a stroke and its look that count against a search; what a slow device or computer takes beyond does not
NO_END = "the time was up before the end of its list was reached"
UPPER = 0.75  # of the room: below, a page that was read from its picture may have a foot that does not scroll


def scroll(watch: ScreenWatch, scroller: Element, length: float) -> float:
    """One stroke that moves the content by `length` (dp, up is positive: what is below comes in); how far it moved, either way.

    What moved and cannot be measured counts as all of it. Upwards no further than is known to be there: see `upwards`.
    """
    area = visible(scroller).clipped(clear_area(scroller.screen))
    longest = area.height * STROKE
    length = max(-longest, min(longest, length))
    if length < 0:
        length = -upwards(watch.displacement, scroller, -length)
    if abs(length) < SHORTEST_DP or area.empty:
        return 0.0
    travel = -(length + (SLOP_DP if length > 0 else -SLOP_DP if -length > NUDGE_DP else 0.0))
    if scroller.screen.read:
        x, y, travel = _on_words(scroller, area, travel)
    else:
        start = clear_start(scroller, area, travel)
        if start is None:
            without = _without_keyboard(watch, scroller)
            if without is not None:
                return scroll(watch, without, length)
            watch.hindered = NO_PLACE
            return 0.0
        x, y = start
    if abs(travel) < SHORTEST_DP:
        return 0.0
    before, above = watch.signature(), watch.displacement.above(scroller)
    with watch.counting_at_most(STROKE_S):
        watch.touch([drag(x, y, x, y + travel)])
        watch.hindered = ""
        after = watch.look().screen
    if watch.signature() == before:
        if length < 0:
            watch.displacement.note_beginning(scroller)
        return 0.0
    if after is not None and (turned := changed_values(scroller.screen, after)):
        watch.mistakes += turned
    now = same_container(scroller, watch.moment.screen)
    if now is None:
        return 0.0
    return watch.displacement.moved(now, above) if watch.displacement.measured(now) else abs(length)


def upwards(displacement: Displacement, scroller: Element, wanted: float) -> float:
    """How far (dp) a stroke may move content down: not past its beginning, as far as that is known; near it, and by guess, a short step.

    A page may open with a list that is scrolled already: where that is not known, one short step finds out.
    """
    above = displacement.above(scroller)
    if displacement.begins(scroller):
        return 0.0
    if above > 0 and displacement.is_reported(scroller):
        return min(wanted, above)
    if above <= 0 and not cut_above(scroller):
        return min(wanted, NUDGE_DP)
    if not displacement.certain(scroller):
        return min(wanted, NUDGE_DP)
    return min(wanted, NUDGE_DP) if above <= 3 * NUDGE_DP else min(wanted, above - 2 * NUDGE_DP)


def scroll_towards(watch: ScreenWatch, element: Element, scroller: Element) -> bool:
    """Bring an element that stands outside its container's clear part in; did anything move?"""
    area = visible(scroller).clipped(clear_area(scroller.screen))
    box = element.box
    below = (box.top + box.bottom) / 2 > (area.top + area.bottom) / 2
    away = box.bottom - area.bottom if below else area.top - box.top
    length = max(LEAST_DP, away + box.height + SLACK_DP)
    return bool(scroll(watch, scroller, length if below else -length))


def bring_inwards(watch: ScreenWatch, element: Element) -> None:
    """Move what stands at the edge of its container further in: what is next to it, perhaps its twin, is to be seen too."""
    scroller = scroller_of(element)
    if scroller is None:
        return
    area, box = visible(scroller).clipped(clear_area(scroller.screen)), element.box
    if area.bottom - box.bottom < box.height * EDGE:
        scroll(watch, scroller, area.height * INWARDS)
    elif box.top - area.top < box.height * EDGE:
        scroll(watch, scroller, -area.height * INWARDS)


def through(watch: ScreenWatch, holder: Element, words: Sequence[str], share: float) -> Iterator[None]:
    """Scroll a container, a stroke before each turn of the loop: back a little where it can be, to its end, then to its beginning; to
    its beginning first where a row with these words, the first of them that any row said, has been seen there.

    It takes `share` of the time that is left.
    """
    begin = watch.clock.now()
    away = next((far for said in words if (far := watch.displacement.away(holder, said)) is not None), None)
    near = NEAR_STROKES if watch.displacement.above(holder) > 0 or cut_above(holder) else 0
    ways = [(False, near), (True, MOST_STROKES), (False, MOST_STROKES)]
    if away is not None:
        ways = ways[1:] if away > 0 else [ways[2], ways[1]]
    for down, most in ways:
        for _ in range(most):
            current = same_container(holder, watch.moment.screen)
            if current is None:
                return
            if watch.clock.now() - begin > share * (watch.deadline - begin):
                watch.hindered = NO_END
                return
            length = (current.box.height * STROKE) * (1 if down else -1)
            moved = scroll(watch, current, length)
            if not moved:
                break
            yield
            if down and moved < FULL * length:
                break


def across(watch: ScreenWatch, holder: Element) -> Iterator[None]:
    """Scroll a container sideways, a stroke before each turn of the loop: to its end, then back to its beginning."""
    took = 0.0
    for forwards in (True, False):
        for _ in range(MOST_STROKES):
            since, now = watch.clock.now(), watch.moment.screen
            current = next((e for e in now or () if e.has(Flag.ACROSS) and kind_of(e) == kind_of(holder) and _level(e, holder)), None)
            if current is None or (watch.late and forwards) or since + took > watch.deadline + BACK_S:
                return
            before, area = watch.signature(), visible(current).clipped(clear_area(current.screen))
            length = area.width * STROKE * (1 if forwards != from_right(current.screen.locale) else -1)
            x, y = area.centre
            if not area.empty:
                with watch.counting_at_most(STROKE_S):
                    watch.touch([drag(x + length / 2, y, x - length / 2, y)])
                    watch.look()
            took = watch.clock.now() - since
            if watch.signature() == before:
                break
            yield


def _level(one: Element, other: Element) -> bool:
    return abs(one.box.top - other.box.top) < SHORTEST_DP


def put_back(watch: ScreenWatch, holder: Element, above: float) -> None:
    """Bring a container back to where it was, so far (dp) from its beginning, but for less than the shortest stroke."""
    took = 0.0
    for _ in range(MOST_STROKES):
        current, since = same_container(holder, watch.moment.screen), watch.clock.now()
        if current is None or since + took > watch.deadline + BACK_S:
            return
        away = above - watch.displacement.above(current)
        if not scroll(watch, current, away):
            return
        took = watch.clock.now() - since


def same_container(holder: Element, screen: Screen | None) -> Element | None:
    """The container on a later screen of the same page."""
    now = screen.element(holder.row) if screen is not None and holder.row < len(screen) else None
    if now is not None and kind_of(now) == kind_of(holder) and now.has(Flag.SCROLLABLE):
        return now
    like = [e for e in screen or () if e.has(Flag.SCROLLABLE) and kind_of(e) == kind_of(holder)]
    return like[0] if len(like) == 1 else None


def _on_words(scroller: Element, area: Box, length: float) -> tuple[float, float, float]:
    """Where a stroke may begin on a page that was read from its picture, and how far it goes then, `length` at most: on words, which
    nothing drags. Nowhere far where there are none with room for it.
    """
    words = [e.box.centre for e in scroller.descendants() if e.role == "text" and any(c.isalpha() for c in e.text)]
    fit = [(x, y) for x, y in words if area.top <= y <= area.top + UPPER * area.height]
    if not fit:
        return *area.centre, 0.0
    x, y = max(fit, key=lambda place: place[1]) if length < 0 else min(fit, key=lambda place: place[1])
    return x, y, max(length, area.top - y) if length < 0 else min(length, area.bottom - y)


def clear_start(scroller: Element, area: Box, length: float) -> tuple[float, float] | None:
    """Where a stroke of that length down may begin so that the container takes it, and nothing in it; None for nowhere."""
    room = max(0.0, area.height - abs(length))
    low = area.top + max(0.0, -length)
    sides = area.clipped(Box(SYSTEM_DP, 0.0, scroller.screen.width - SYSTEM_DP, scroller.screen.height))
    across = [sides.left + share * sides.width for share in (0.5, 0.3, 0.7, 0.15, 0.85, 0.0, 0.99)]
    places = [(x, low + share * room) for share in (0.5, 0.35, 0.65, 0.2, 0.8, 0.05, 0.95) for x in across]
    taken = [_listening_area(e) for e in scroller.screen if not e.box.empty and _listens(e, scroller)]
    for away in (CLEAR_DP, FINGER_DP):
        for x, y in places:
            if not any(a.left - away <= x <= a.right + away and a.top - away <= y <= a.bottom + away for a in taken):
                return x, y
    return None


def _listening_area(element: Element) -> Box:
    """Where an element takes a stroke that begins there, dp."""
    box = element.box
    more = max(0.0, KNOB_DP - box.height) / 2 if element.role == "slider" else 0.0
    return Box(box.left, box.top - more, box.right, box.bottom + more)


def _listens(element: Element, scroller: Element) -> bool:
    """Would it take a stroke that begins on it, and not the container?"""
    if element == scroller or scroller.within(element):
        return False
    if element.role == "textbox":
        return element.has(Flag.FOCUSED)
    return element.role in LISTENING or element.has(Flag.SCROLLABLE)


def _without_keyboard(watch: ScreenWatch, scroller: Element) -> Element | None:
    """The container once the keyboard is closed; None where that cannot be done."""
    return same_container(scroller, watch.moment.screen) if watch.close_keyboard() else None


def changed_values(before: Screen, after: Screen) -> list[str]:
    """Which controls, of those that both screens show once, say something else now, in words. One that is cut may say nothing."""
    was, now = _values(before), _values(after)
    changed = [key for key in was if key in now and was[key][1] and now[key][1] and was[key][1] != now[key][1]]
    return [f"{now[key][0]} from “{was[key][1]}” to “{now[key][1]}”" for key in changed]


def _values(screen: Screen) -> dict[tuple[str, ...], tuple[str, str]]:
    """Of each control, by its id, its label and the words next to it: what it is called, and what it says."""
    found: dict[tuple[str, ...], list[tuple[str, str]]] = {}
    for element in screen:
        key = (element.role, lasting_id(element), fold(element.label), *neighbours(element)[:1])
        if element.role in VALUED and any(key[1:]):
            found.setdefault(key, []).append((element.called, reads(element)))
    return {key: said[0] for key, said in found.items() if len(said) == 1}
