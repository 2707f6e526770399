"""What differs on a screen though no check asked about it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

from .address import Address
from .geometry import Box
from .take import TakeName


class RemarkKind(Enum):
    """Kinds of remarks; the value is what a remark is called, in reports and in `remarks.toml`."""

    MISSING = "missing"
    NEW = "new"
    WORDS = "other words"
    CUT = "text cut"
    SPILLS = "spills over"
    OVERLAPS = "overlaps"
    REACH = "out of reach"
    SMALL = "small target"
    UNTRANSLATED = "untranslated"
    FORMAT = "other format"
    PICTURE = "other picture"
    CONTRAST = "weak contrast"
    STATE = "other state"
    LOST = "state lost"
    FOCUS = "focus order"
    VALUE = "other value"
    ORDER = "other order"
    COLOUR = "other colour"
    DISABLED = "disabled"
    HIDDEN = "typed out of sight"


@dataclass(frozen=True)
class Remark:
    """One thing that is otherwise on one device at one step, beside most of those that showed the same page.

    `key` tells the element on every device, `name` is what it is called in the script's language; `here` and `elsewhere` are what is so,
    in words. `box` is dp of that screen, `shot` the picture's file. `fine` are the takes on which it is as on most, the first of which is
    the example, with its own box and picture. `page` counts the run's pages: the same element of another page is another one. `over` is
    the key of what it lies over.
    """

    kind: RemarkKind
    key: str
    name: str
    here: str
    elsewhere: str
    take: TakeName
    address: Address
    box: Box | None = None
    shot: str = ""
    fine: tuple[TakeName, ...] = ()
    page: int = 0
    over: str = ""
    example_box: Box | None = None
    example_shot: str = ""
