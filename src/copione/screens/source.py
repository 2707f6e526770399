"""What a device sends as its tree, within reason: how XML is read, how many elements, what a place and a text may be."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from lxml import etree

from ..model.errors import TreeUnreadable
from ..model.secrecy import BULLET

MOST_ELEMENTS = 12_000
FARTHEST = 1e6  # pixels or points from the screen's corner: long lists reach far below it
LONGEST = 5_000  # characters of one text


def root_of(document: bytes) -> etree._Element:
    """The root of an XML document from a device. Raises TreeUnreadable for what is not well-formed, or nested deeper than any screen.

    Entities stay unresolved, nothing is fetched, and the parser's own limits hold: 256 levels, 10 MB of one text.
    """
    try:
        return etree.fromstring(document, etree.XMLParser(resolve_entities=False, no_network=True))
    except (etree.XMLSyntaxError, ValueError) as error:
        said = document[:2000].decode("utf-8", "replace").strip().splitlines()
        why = error.msg if isinstance(error, etree.XMLSyntaxError) else ""
        raise TreeUnreadable(
            f"The device's element tree is not well-formed XML ({why}): {said[0][:120] if said else 'it is empty'}"
        ) from error


def not_too_many(count: int) -> None:
    """Raises TreeUnreadable where there are more elements than any screen has."""
    if count > MOST_ELEMENTS:
        raise TreeUnreadable(f"The device's element tree has more than {MOST_ELEMENTS:,} elements: it is not used.")


def dots(said: str) -> str:
    """What a password field is told to hold, as many dots: some platforms give the password itself."""
    return BULLET * len(said)


def without_passwords(document: bytes, mark: bytes, fields: Callable[[etree._Element], bool], attribute: str) -> bytes:
    """The document as it may be kept: password fields (elements that `fields` tells) hold dots in that attribute.

    Only a document with `mark` in it has such fields; one that cannot be read and has it is not kept at all.
    """
    if mark not in document:
        return document
    end = document.rfind(b">") + 1
    try:
        root = root_of(document[max(0, document.find(b"<")) : end])
    except TreeUnreadable:
        return b""
    told = [each for each in root.iter("*") if isinstance(each.tag, str) and fields(each)]
    for element in told:
        element.set(attribute, dots(element.get(attribute, "")))
    return bytes(etree.tostring(root, encoding="UTF-8", xml_declaration=True)) + document[end:] if told else document


def text(said: str | None) -> str:
    """A text of an element, cut off where nobody would read on."""
    return (said or "")[:LONGEST]


def frame(told: Sequence[str | None]) -> tuple[float, float, float, float]:
    """Left, top, right, bottom of a frame told as x, y, width, height; no farther away than anything is. Noughts where one is no number."""
    try:
        x, y, width, height = (float((each or "0")[:40]) for each in told)
    except ValueError:
        return 0.0, 0.0, 0.0, 0.0
    if not all(map(math.isfinite, (x, y, width, height))):
        return 0.0, 0.0, 0.0, 0.0
    x, y, right, bottom = (min(FARTHEST, max(-FARTHEST, v)) for v in (x, y, x + width, y + height))
    return x, y, max(x, right), max(y, bottom)
