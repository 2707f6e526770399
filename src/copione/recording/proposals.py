"""What may propose each action while recording, and on which elements it makes sense."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

from ..model import action as a


class Origin(Enum):
    """Where a recorded step comes from."""

    GESTURE = "a gesture, read with what changed"
    SYSTEM = "a gesture in a dialog of the system"
    KEYS = "keys, or buttons of the stage"
    CHECKS = "the choice of checks for an element or an area"
    MENU = "the menu of a recorded step"
    BEGINNING = "the beginning of a recording"
    BY_HAND = "only written by hand"


@dataclass(frozen=True)
class Proposal:
    """`roles`: the elements that take the action, none for any. `may_be_idle`: a touch that shows nothing may have been a slip."""

    by: frozenset[Origin]
    roles: frozenset[str] = frozenset()
    may_be_idle: bool = False


def _by(*origins: Origin, roles: tuple[str, ...] = (), may_be_idle: bool = False) -> Proposal:
    return Proposal(frozenset(origins), frozenset(roles), may_be_idle)


PROPOSALS: dict[type[a.Action], Proposal] = {
    a.Launch: _by(Origin.BEGINNING),
    a.Quit: _by(Origin.BY_HAND),
    a.Tap: _by(Origin.GESTURE, may_be_idle=True),
    a.DoubleTap: _by(Origin.GESTURE, may_be_idle=True),
    a.Hold: _by(Origin.GESTURE, may_be_idle=True),
    a.Swipe: _by(Origin.GESTURE, may_be_idle=True),
    a.Fling: _by(Origin.GESTURE, may_be_idle=True),
    a.DragTo: _by(Origin.GESTURE),
    a.DragBy: _by(Origin.GESTURE),
    a.Pinch: _by(Origin.GESTURE),
    a.Twist: _by(Origin.GESTURE),
    a.Draw: _by(Origin.GESTURE, roles=("canvas",)),
    a.Type: _by(Origin.KEYS, Origin.GESTURE, roles=("textbox",)),
    a.Append: _by(Origin.KEYS, Origin.GESTURE, Origin.MENU, roles=("textbox",)),
    a.Clear: _by(Origin.BY_HAND, roles=("textbox",)),
    a.SetTo: _by(Origin.GESTURE, roles=("slider", "spinbutton")),
    a.Choose: _by(Origin.GESTURE, roles=("radiogroup", "combobox")),
    a.Switch: _by(Origin.GESTURE, roles=("switch", "checkbox")),
    a.Find: _by(Origin.GESTURE),
    a.Press: _by(Origin.KEYS, Origin.GESTURE),
    a.Turn: _by(Origin.KEYS),
    a.Wait: _by(Origin.MENU),
    a.Whenever: _by(Origin.SYSTEM),
    a.Note: _by(Origin.KEYS),
    a.Snap: _by(Origin.KEYS),
    a.Keep: _by(Origin.CHECKS),
    a.Check: _by(Origin.CHECKS, Origin.MENU),
    **dict.fromkeys((a.Have, a.Ring, a.Open, a.Reload), _by(Origin.BY_HAND)),
    **dict.fromkeys((a.Perform, a.When, a.WhenValue, a.WhenDevice), _by(Origin.BY_HAND)),
    **dict.fromkeys((a.Repeat, a.RepeatUntil, a.ForEach, a.Otherwise, a.End), _by(Origin.BY_HAND)),
}
