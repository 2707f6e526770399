"""When the tree does not know a target: its picture, and after it the text in the picture. Both give a sighting or a reason."""

from __future__ import annotations

from ..model.geometry import Box
from ..model.outcome import Cause, Evidence, Reason
from ..model.portrait import NotFound, Portrait, Sighting
from ..model.screen import Element, Screen, bare
from .evidence import Piece, fold, visible
from .gate import passed
from .pictures import Picture, alike, look_for, worth_a_look
from .text import place_of

#: What holds other things, or a value that changes, is not known by how it looks.
CHANGING = frozenset({"list", "region", "document", "generic", "textbox", "slider", "combobox", "progressbar", "listitem"})
CANVAS = 100.0  # dp each way: a leaf that large may hold more than the tree tells
LIKE_NOTHING = Reason(Cause.NOT_HERE, "nothing looks like it")
COVERS = 0.5  # of the smaller box that the element under a picture must share with it


def patch_of(portrait: Portrait, frame: Picture | None) -> Picture | None:
    """What a target looked like where it was recorded: what is drawn within its box. None where there is no use in it."""
    if frame is None or not has_looks(portrait):
        return None
    cut = frame.cut(_shown(portrait))
    return cut.inked() if portrait.part is None else cut


def has_looks(portrait: Portrait) -> bool:
    """Is there any use in how a target looked? Told without its picture."""
    if portrait.part is None and portrait.element.role in CHANGING:
        return False
    box = _shown(portrait)
    return not box.empty and worth_a_look(box, portrait.screen.width, portrait.screen.height)


def _shown(portrait: Portrait) -> Box:
    return portrait.box.clipped(Box(0.0, 0.0, portrait.screen.width, portrait.screen.height))


def picture_piece(portrait: Portrait, frame: Picture | None) -> Piece | None:
    """How a target looks, as a piece of its portrait: the size of what is drawn, and whether something else on the frame looks alike."""
    patch = patch_of(portrait, frame)
    count = alike(patch, frame) if patch is not None and frame is not None else 0
    if patch is None or not count:
        return None
    return Piece("picture", "{:.0f} × {:.0f} dp drawn".format(*patch.size), count)


def by_picture(
    picture: Picture, screen: Screen | None, portrait: Portrait, frame: Picture | None, within: Box | None = None
) -> Sighting | NotFound:
    """Look for what a target looked like on a device's picture, or `within` a part of it. Where the tree gives other words to that place,
    it is something else.
    """
    patch = patch_of(portrait, frame)
    match = look_for(patch, picture, within) if patch is not None else None
    if match is None or not match.sure:
        return NotFound(LIKE_NOTHING, match.score if match else 0.0, match.score - match.second if match else 0.0)
    sure = match.score, match.score - match.second
    if portrait.part is not None:
        return Sighting(spot(picture, match.box, "img", ""), (Evidence.PICTURE,), *sure)
    known = portrait.element
    over = _under(screen, match.box) if screen is not None and not screen.read else None
    if over is None:
        return Sighting(spot(picture, match.box, known.role, known.name), (Evidence.PICTURE,), *sure, "by its picture")
    if known.name and over.name and fold(over.name) != fold(known.name):
        return NotFound(Reason(Cause.NOT_HERE, f"what looks like it is called “{over.name}”"), *sure, over)
    return passed(Sighting(over, (Evidence.PICTURE,), *sure, "by its picture"), (portrait,))


def by_text(picture: Picture, screen: Screen | None, name: str) -> Sighting | NotFound:
    """Look for the only place of a picture that reads as a target's name. What the tree has words for is left to the tree.

    Raises NoReader.
    """
    found = place_of(picture, name) if name else None
    if found is None:
        return NotFound(Reason(Cause.NOT_HERE, "it is not written on the screen, or more than once"))
    if screen is not None and not any(box.contains(*found.box.centre) for box in opaque(screen)):
        return NotFound(Reason(Cause.NOT_HERE, "it is written where the tree knows nothing of it"))
    return Sighting(spot(picture, found.box, "text", found.text), (Evidence.WRITTEN,), 1.0, 1.0, "by reading the picture")


def opaque(screen: Screen) -> list[Box]:
    """The parts of a screen whose content the tree does not describe: canvases, and large nameless leaves that contain no named element."""
    leaves = [e for e in screen if not screen.children[e.row] and not e.text and e.role in {"canvas", "document", "generic"}]
    large = [e for e in leaves if min(visible(e).width, visible(e).height) >= CANVAS]
    named = [e.box.centre for e in screen if e.name and not screen.children[e.row]] if large else []
    return [visible(e) for e in large if e.role == "canvas" or not any(visible(e).contains(*middle) for middle in named)]


def spot(picture: Picture, box: Box, role: str, name: str) -> Element:
    """A place known from the picture alone, as an element of a screen of its own."""
    return bare(*picture.size, spots=((box, role, name),)).element(1)


def _under(screen: Screen, box: Box) -> Element | None:
    """The smallest element of the tree that a picture belongs to: it holds its middle, and is not the page."""
    over = [e for e in screen.at(*box.centre) if e.role not in CHANGING or e.name]
    fit = [e for e in over if visible(e).clipped(box).area >= COVERS * min(box.area, visible(e).area) and e.row]
    return min(fit, key=lambda e: visible(e).area, default=None)
