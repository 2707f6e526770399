"""What one device shows at one step, in as few words as holding it against other devices takes. Pure."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

from ..model.geometry import Box

CLOSE_DP = 2.0  # what ends so close to an edge may go on behind it
CONTRAST, LARGE_CONTRAST = 4.5, 3.0  # WCAG 2.2, success criterion 1.4.3
OVERLAP_DP = 4.0  # in each direction
OVERLAP = 0.15  # of the smaller one


@dataclass(frozen=True, slots=True)
class SeenElement:
    """One element that says something or can be touched.

    `key` tells it on every device, `said` is what it says in the script's language (`text` as it stands there). `plate` is the box of
    what it stands in, where that is drawn round it. `contrast` is by WCAG (1..21; 0 where it was not measured), `large` text needs less;
    `fingerprint` is of a picture. `inside` are keys of what it stands in.
    """

    key: str
    role: str
    name: str
    text: str
    said: str
    box: Box
    tappable: bool = False
    enabled: bool = True
    state: str = ""
    value: str = ""  # of a stepper, a slider, a choice: in the script's language
    lit: bool = False  # chosen among its like, or with the focus
    contrast: float = 0.0
    ground: str = ""  # the colour behind its words, rrggbb; empty where it was not measured
    large: bool = False
    fingerprint: str = ""
    cut: bool = False  # by the edge of its container or of the screen, so that only a part of it shows
    pane: Box | None = None  # what it is scrolled in
    part: int = 0  # of a wide page, that it stands in side by side with others
    holder: int = -1  # row of the smallest element of the view around it
    alone: bool = True  # its key stands for it alone on its screen
    repeated: bool = False  # others have its id or its words too: its key is by its row, or by its words
    in_row: bool = False  # then: its row is known
    plain: str = ""  # the key that it has in common with them; empty where it has none
    worded: bool = False  # nothing but its role and its words tells it: it has no lasting id
    leaf: bool = True  # nothing else of the view stands in it
    jump: str | None = None  # how the focus leaves the reading order here, in words; empty where it does not, None where nothing tells

    @property
    def least_contrast(self) -> float:
        """What WCAG 2.2 asks for."""
        return LARGE_CONTRAST if self.large else CONTRAST

    @property
    def is_weak(self) -> bool:
        """Is its contrast measured, and less than that?"""
        return 0 < self.contrast < self.least_contrast

    @property
    def template(self) -> str:
        """What it has in common with its like in the other rows of a list; its key where there are none."""
        return self.plain or self.key

    @property
    def scrolls(self) -> bool:
        """Can it be scrolled?"""
        return self.pane is not None


@dataclass(frozen=True)
class Aim:
    """What a step was done on, as the script says it, and what kept it from sight meanwhile.

    `covered` names what lay over it until that went by itself. `hidden`: did less than half of it show while it was typed into? None where
    nothing was typed, or no keyboard was up.
    """

    key: str
    name: str
    box: Box | None
    covered: str = ""
    hidden: bool | None = None


@dataclass(frozen=True)
class View:
    """What a device shows at a step. `room` is the screen without its keyboard, dp; `translated` tells words of the script's language
    that the device's language says otherwise, folded. `turned` is how often the take has turned the device before."""

    elements: tuple[SeenElement, ...]
    width: float
    height: float
    room: Box
    platform: str
    wide: bool
    locale: str
    text_scale: float
    dark: bool = False
    turned: int = 0
    shot: str = ""
    aim: Aim | None = None
    translated: Mapping[str, str] = field(default_factory=dict, repr=False)

    @cached_property
    def by_key(self) -> dict[str, SeenElement]:
        """The elements whose key stands for one of them alone."""
        return {seen.key: seen for seen in self.elements if seen.alone}

    @cached_property
    def order(self) -> dict[str, int]:
        """Places of the keys in reading order."""
        return {seen.key: place for place, seen in enumerate(self.elements) if seen.alone}

    @cached_property
    def keys(self) -> frozenset[str]:
        """What is there."""
        return frozenset(seen.key for seen in self.elements)

    @cached_property
    def spoken(self) -> frozenset[str]:
        """All that it says, and what its elements are called."""
        return frozenset(words for seen in self.elements for words in (seen.said, seen.name) if words)

    @cached_property
    def lasting(self) -> frozenset[str]:
        """What is there, but for what stands in lists."""
        return frozenset(seen.key for seen in self.elements if not seen.repeated)

    @cached_property
    def between(self) -> dict[tuple[str, str], SeenElement]:
        """The texts that nothing but their words tells, by the keys of what comes right before and right after each in its container."""
        found: dict[tuple[str, str], SeenElement] = {}
        panes: dict[tuple[Box | None, int], list[SeenElement]] = {}
        for each in self.elements:
            if each.leaf:
                panes.setdefault((each.pane, each.part), []).append(each)
        for shown in panes.values():
            for before, each, after in zip(shown, shown[1:], shown[2:], strict=False):
                is_text = each.worded and each.role == "text" and not (each.cut or each.tappable or (each.repeated and not each.in_row))
                if is_text and before.alone and each.alone and after.alone:
                    found[before.key, after.key] = each
        return found

    @property
    def language(self) -> str:
        """The first part of its locale."""
        return self.locale.partition("-")[0].casefold()


def like(one: View, other: View) -> float:
    """The share (0..1) of what either shows that both do."""
    either = one.keys | other.keys
    return len(one.keys & other.keys) / len(either) if either else 1.0


def like_pages(one: View, other: View) -> float:
    """The same without what stands in lists: two hives' pages are one page."""
    either = one.lasting | other.lasting
    return len(one.lasting & other.lasting) / len(either) if either else like(one, other)


def within(one: View, other: View) -> float:
    """The share (0..1) of what the one that shows less shows, that both do: a wide page may show a narrow one beside others."""
    fewer = min(len(one.keys), len(other.keys))
    return len(one.keys & other.keys) / fewer if fewer else 0.0


def _begins_with(name: str, label: str) -> bool:
    """Is a label the first words of a name?"""
    words = label.split()
    return bool(words) and [word.strip(",.:;") for word in name.split()][: len(words)] == [word.strip(",.:;") for word in words]


def lie_over(one: SeenElement, other: SeenElement) -> bool:
    """Does the one lie over a good part of the other? A label within a control that is called by it, and by more, is the control's own."""
    a, b = one.box, other.box
    width = min(a.right, b.right) - max(a.left, b.left)
    height = min(a.bottom, b.bottom) - max(a.top, b.top)
    if width <= OVERLAP_DP or height <= OVERLAP_DP or width * height <= OVERLAP * min(a.area, b.area):
        return False
    inner, outer = (one, other) if a.area <= b.area else (other, one)
    own = outer.tappable and _begins_with(outer.name, inner.text) and inner.box.clipped(outer.box) == inner.box
    return not own
