"""What differs on a screen though no check asked about it."""

from __future__ import annotations

from dataclasses import dataclass

from .address import Address
from .geometry import Box
from .take import TakeName


@dataclass(frozen=True)
class RemarkKind:
    """A kind of remarks; `value` is what a remark is called, in reports and in `remarks.toml`.

    `title` is the title of its findings, of `{what}` it is about, what is so `{here}` and `{elsewhere}`, and `{on}` which devices.
    `said_by`: causes whose findings say the same about the same thing. `likely`: traits that it has most often to do with.
    `presence`: is it about whether something is there, so that a message that passes explains it? `conventional`: may all devices of one
    platform or layout have it? `by_words`: is what reads otherwise a finding of its own?
    """

    value: str
    title: str = "{what} reads {here} {on}"
    said_by: frozenset[str] = frozenset()
    likely: tuple[str, ...] = ()
    presence: bool = False
    conventional: bool = False
    by_words: bool = False


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
