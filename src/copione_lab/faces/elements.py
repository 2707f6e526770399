"""Commands of the W3C WebDriver Recommendation that are about one element."""

from __future__ import annotations

import base64
from typing import Any

from lxml import etree

from ..phone import Phone
from .w3c import WireFault

ELEMENT = "element-6066-11e4-a52e-4f735466cecf"  # the key of an element reference, as the standard has it


def found(phone: Phone, body: dict[str, Any]) -> list[Any]:
    """References of the elements that an XPath finds in the source: the path of each is its reference."""
    if body["using"] != "xpath":
        raise WireFault("invalid argument", "Elements are located by xpath here.")
    root = etree.fromstring(phone.source())
    try:
        every: Any = root.xpath(body["value"])
    except etree.XPathError as error:
        raise WireFault("invalid selector", str(error)) from error
    return [{ELEMENT: base64.urlsafe_b64encode(root.getroottree().getpath(e).encode()).decode()} for e in every]


def first(phone: Phone, body: dict[str, Any]) -> Any:
    every = found(phone, body)
    if not every:
        raise WireFault("no such element", f"Nothing on this screen is {body['value']}.")
    return every[0]


def act(phone: Phone, method: str, command: str, body: dict[str, Any]) -> Any:
    """Commands of one element: its text, its rectangle, a click, keys sent to it, and clearing it."""
    reference, _, what = command.removeprefix("element/").partition("/")
    try:
        every: Any = etree.fromstring(phone.source()).xpath(base64.urlsafe_b64decode(reference).decode())
    except (ValueError, etree.XPathError) as error:
        raise WireFault("no such element", "That is no reference to an element.") from error
    if not every:
        raise WireFault("stale element reference", "The element is not on the screen any more.")
    element: Any = every[0]
    box = {name: float(element.get(name)) for name in ("x", "y", "width", "height")}
    if (method, what) == ("GET", "rect"):
        return box
    if (method, what) == ("GET", "text"):
        return element.get("value") or element.get("label")
    if method != "POST" or what not in {"click", "value", "clear"}:
        raise WireFault("unknown command", f"{method} {command} is not known here.")
    if element.get("enabled") == "false" or element.get("visible") == "false":
        raise WireFault("element not interactable", "It is disabled or not visible.")
    if what != "value" or element.get("focused") != "true":
        at, k = phone.now(), phone.model.density
        x, y = (box["x"] + box["width"] / 2) * k, (box["y"] + box["height"] / 2) * k
        phone.pointer("down", 0, x, y, at)
        phone.pointer("up", 0, x, y, at + 0.05)
    if what != "click":
        phone.key("CTRL_MOVE_END")
    if what == "value":
        phone.text(body["text"])
    elif what == "clear":
        for _ in element.get("value"):
            phone.key("DEL")
    return None
