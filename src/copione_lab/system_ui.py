"""What the phone itself shows around and over its apps: the status bar, the keys under the screen, a permission dialog."""

from __future__ import annotations

from collections.abc import Callable

from PIL import Image, ImageDraw

from .toolkit import fonts
from .toolkit.node import Node, column, row, spacer, text

STATUS_BAR = 24.0  # dp
NAVIGATION = 44.0  # dp, where a phone has its keys on the screen
PERMISSIONS = {"android": "com.android.permissioncontroller", "ios": "springboard"}
_WORDS = {
    "en": ("Allow {app} to {what}?", "Only while it is used", "Don't allow"),
    "de": ("Darf {app} {what}?", "Nur während der Nutzung", "Nicht erlauben"),
    "he": ("להרשות ל־{app} {what}?", "רק בזמן השימוש", "לא להרשות"),
}


def permission(app: str, what: str, locale: str, answer: Callable[[bool], object]) -> Node:
    """Asks whether an app may do something; `answer` is told what the user chose."""
    question, yes, no = _WORDS.get(locale.split("-")[0].lower(), _WORDS["en"])
    plate = column(
        text(question.format(app=app, what=what), id="permission_message", size=17),
        _choice(yes, "permission_allow_foreground_only_button", lambda: answer(True)),
        _choice(no, "permission_deny_button", lambda: answer(False)),
        fill="#FFFFFF",
        radius=18,
        pad=(20, 20),
        gap=12,
    )
    middle = row(Node("space", width=28), column(plate, grow=1), Node("space", width=28), kind="dialog")
    page = column(spacer(180), middle, fill="#50554F")
    page.mirrored = locale.startswith("he")
    return page


DIALERS = {"android": "com.android.dialer", "ios": "springboard"}
_CALLS = {
    "en": ("Call from {who}", "Answer", "Decline"),
    "de": ("Anruf von {who}", "Annehmen", "Ablehnen"),
    "he": ("שיחה מאת {who}", "מענה", "דחייה"),
}


def call(who: str, locale: str, answered: Callable[[], object]) -> Node:
    """A call that comes in; whichever way it is answered, it is over then."""
    said, yes, no = _CALLS.get(locale.split("-")[0].lower(), _CALLS["en"])
    plate = column(
        text(said.format(who=who), id="call_from", size=18),
        _choice(yes, "answer_call", answered),
        _choice(no, "decline_call", answered),
        fill="#FFFFFF",
        radius=18,
        pad=(20, 20),
        gap=12,
    )
    page = column(spacer(40), row(Node("space", width=16), column(plate, grow=1), Node("space", width=16), kind="dialog"), fill="#50554F")
    page.mirrored = locale.startswith("he")
    return page


def locked(kind: str) -> Node:
    """The lock screen."""
    words = "Enter the PIN" if kind == "secure" else "Swipe up to unlock"
    return column(
        spacer(220), text("Locked", id="lock_title", size=30, ink="#FFFFFF"), text(words, id="lock_hint", ink="#FFFFFF"), fill="#20262B"
    )


def _choice(words: str, id: str, tap: Callable[[], object]) -> Node:
    return Node("button", id=id, text=words, on_tap=tap, fill="#E3E8E0", radius=20, align="centre", pad=(12, 8))


def navigation(back: Callable[[], object], home: Callable[[], object]) -> Node:
    """The keys of a phone that shows them under the screen."""
    keys = [
        Node("button", text=sign, on_tap=tap, grow=1, ink="#E9EDE4", align="centre", size=18) for sign, tap in (("‹", back), ("•", home))
    ]
    return row(*keys, Node("space", grow=1), fill="#22301F", height=NAVIGATION)


def paint_status(image: Image.Image, density: float) -> None:
    """The clock and the battery over whatever is there."""
    draw = ImageDraw.Draw(image)
    draw.rectangle((0, 0, image.width, round(STATUS_BAR * density) - 1), fill="#22301F")
    face = fonts.font("Medium", round(12 * density))
    middle = STATUS_BAR * density / 2
    draw.text((14 * density, middle), "10:22", font=face, fill="#E9EDE4", anchor="lm")
    right = image.width - 14 * density
    outline = (right - 18 * density, middle - 4.5 * density, right, middle + 4.5 * density)
    draw.rounded_rectangle(outline, 2 * density, outline="#E9EDE4", width=max(1, round(density)))
    inner = (right - 16 * density, middle - 2.5 * density, right - 6 * density, middle + 2.5 * density)
    draw.rectangle(inner, fill="#E9EDE4")
