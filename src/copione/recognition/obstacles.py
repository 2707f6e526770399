"""What stands in a step's way: another page, a dialog over it, a question of the system, another app; from the screen alone. Pure."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

from ..model.choices import TABLET_DP
from ..model.geometry import Box
from ..model.outcome import Cause, Obstacle, ObstacleKind, Reason
from ..model.screen import Element, Flag, Screen
from .evidence import fold, lasting_id
from .placing import titles
from .system import SYSTEM_DIALOGS

BY_CAUSE = {Cause.UNDER_KEYBOARD: ObstacleKind.KEYBOARD, Cause.OFF_SCREEN: ObstacleKind.EDGE, Cause.COVERED: ObstacleKind.COVER}
DIALOGS = frozenset({"dialog", "alertdialog"})
LARGE = 0.5  # share of the screen from which on a dialog is in the way, whatever it lies over
SAME_PAGE = 0.5  # of what the recorded page has that can be known again: from this share on it is that page
FEW = 8  # a dialog's plate holds no more that a finger may tap
NARROWER = 0.97  # a plate is narrower than the screen by at least the rest
PANE_HIGH, PANE_WIDE = 0.6, 0.85  # shares of the screen that a pane has at least, and at most
SHORTER = 0.7  # and shorter than this share of it


def obstacle(
    screen: Screen, why: Reason | None, recorded: Screen | None, package: str, said: Callable[[str], str] = str
) -> Obstacle | None:
    """What keeps a step from its target on this screen; None where it is the page that was recorded, or nothing is known.

    `recorded` is the screen on which it was, in the device's language; `package` the app under test, empty where none is told;
    `said` says a phrase of the device in the script's language.
    """
    if screen.app in SYSTEM_DIALOGS:
        return Obstacle(ObstacleKind.SYSTEM, said(_first_words(screen)))
    if package and screen.app and screen.app != package and not package.startswith(("http:", "https:")):
        return Obstacle(ObstacleKind.ELSEWHERE, screen.app)
    if why is not None and why.cause in BY_CAUSE:
        return Obstacle(BY_CAUSE[why.cause], said(why.about))
    plate = plate_over(screen)
    if plate is not None and (recorded is None or not _has_plate_like(recorded, plate)):
        return Obstacle(ObstacleKind.DIALOG, said(_called(plate)))
    if recorded is None or like_page(screen, recorded) >= SAME_PAGE:
        return None
    shown = titles(screen)
    same_title = {fold(e.text) for e in shown} & {fold(e.text) for e in titles(recorded)}
    if same_title:
        return None
    return Obstacle(ObstacleKind.PAGE, said(shown[0].text)) if shown else None


def keys(screen: Screen) -> frozenset[tuple[str, str]]:
    """What tells a page: its lasting ids, and the words of what has none."""
    return frozenset(("id", id_) if (id_ := lasting_id(e)) else (e.role, fold(e.name)) for e in screen if lasting_id(e) or e.name)


def like_page(screen: Screen, recorded: Screen) -> float:
    """The share (0..1) of what tells the recorded page that is on this screen, or of what tells this one that was on the recorded."""
    here, there = keys(screen), keys(recorded)
    both = len(here & there)
    return max(both / len(there) if there else 1.0, both / len(here) if here else 0.0)


def plate_over(screen: Screen) -> Element | None:
    """A dialog on the screen: what says so of itself, or the one plate beside which nothing can be tapped, on the whole screen or in one of
    the panes that stand side by side on a wide one.
    """
    told = [e for e in screen if e.role in DIALOGS and _lies_over_something(e)]
    if told:
        return max(told, key=lambda e: screen.painted[e.row] if screen.painted else e.row)
    whole = Box(0.0, 0.0, screen.width, screen.height)
    every = list(screen)
    regions = [(whole, every), *((pane.box, list(pane.descendants())) for pane in _panes(screen))]
    return next((plate for room, inside in regions if (plate := _plate_in(room, inside)) is not None), None)


def _lies_over_something(dialog: Element) -> bool:
    """Where the page tells what lies over what: does the dialog, or is it large? One that only stands at the side is in nobody's way."""
    screen = dialog.screen
    large = dialog.box.area >= LARGE * screen.width * screen.height
    return large or not screen.covers or any(dialog.row <= over < screen.ends[dialog.row] for over in screen.covers)


def _panes(screen: Screen) -> Iterable[Element]:
    """What stands side by side and is nearly as high as the screen."""
    if screen.width < TABLET_DP:
        return ()
    high = [e for e in screen if e.box.height >= PANE_HIGH * screen.height and e.box.width <= PANE_WIDE * screen.width]
    return (e for e in high if any(o.parent == e.parent and o != e for o in high))


def _plate_in(room: Box, inside: Sequence[Element]) -> Element | None:
    tappable = [e for e in inside if e.has(Flag.CLICKABLE) and e.has(Flag.ENABLED) and not e.box.empty]
    heads = [e.box.bottom for e in titles(inside[0].screen) if e in inside] if inside else []
    below = [e for e in tappable if not heads or e.box.top >= min(heads)]
    if not 1 <= len(below) <= FEW:
        return None
    holder = _innermost_around(below)
    if holder is None or holder not in inside or not _is_plate(holder, room):
        return None
    beside = (e for e in inside if e.text and not e.within(holder) and (not heads or e.box.top >= min(heads)))
    return holder if next(beside, None) is None else None


def _is_plate(holder: Element, room: Box) -> bool:
    """Is it a plate in the middle of its room, with words on it, that reaches no edge?"""
    box = holder.box
    inset = box.width < NARROWER * room.width and box.height < SHORTER * room.height
    middle = abs(box.centre[0] - room.centre[0]) < 0.05 * room.width
    return inset and middle and any(e.text for e in holder.descendants()) and not any(a.has(Flag.SCROLLABLE) for a in holder.ancestors())


def _innermost_around(elements: Iterable[Element]) -> Element | None:
    """The smallest thing that all of them stand in."""
    first, *others = elements
    around = (a for a in first.ancestors() if all(e.within(a) for e in others))
    wide = [a for a in around if any(e.text and not any(e.within(x) for x in (first, *others)) for e in a.descendants())]
    return wide[0] if wide else None


def _has_plate_like(recorded: Screen, plate: Element) -> bool:
    there = plate_over(recorded)
    return there is not None and fold(_called(there)) == fold(_called(plate))


def _called(plate: Element) -> str:
    """Its title: its own name, or the first words in it."""
    inside = [e for e in plate.descendants() if e.text]
    top = min(inside, key=lambda e: (e.role != "heading", e.box.top), default=None)
    return top.text if top is not None else plate.name


def _first_words(screen: Screen) -> str:
    return next((e.text for e in screen if e.text), "")


def worded(obstacle: Obstacle) -> str:
    """For people, as the beginning of a reason."""
    name = f" “{obstacle.name}”" if obstacle.name else ""
    return {
        ObstacleKind.DIALOG: f"the dialog{name} is over the page",
        ObstacleKind.SYSTEM: f"the system asks{name}",
        ObstacleKind.PAGE: f"this is the page{name}",
        ObstacleKind.GONE: f"the app has ended{': ' + obstacle.name if obstacle.name else ''}",
        ObstacleKind.ELSEWHERE: f"another app is in front: {obstacle.name}",
        ObstacleKind.SILENT: "the device does not answer",
    }.get(obstacle.way, "")
