"""What things on a screen are called in the script, and the WAI-ARIA roles that the words stand for."""

from __future__ import annotations

#: A role word of the script to the WAI-ARIA roles it stands for. `text` and `label` are any element with words of its own.
ROLES: dict[str, tuple[str, ...]] = {
    "button": ("button",),
    "item": ("listitem", "option"),
    "list": ("list",),
    "field": ("textbox",),
    "slider": ("slider",),
    "stepper": ("spinbutton",),
    "switch": ("switch", "checkbox"),
    "checkbox": ("checkbox", "switch"),
    "radiogroup": ("radiogroup",),
    "radio": ("radio",),
    "tab": ("tab",),
    "image": ("img",),
    "heading": ("heading", "text"),
    "text": ("text", "heading"),
    "label": ("text", "heading"),
    "region": ("region",),
    "combobox": ("combobox",),
    "dialog": ("dialog",),
    "link": ("link",),
    "canvas": ("canvas",),
    "page": ("heading", "text"),
    "area": (),
    "element": (),
}
#: Roles whose own text is a value, not a name.
VALUED = frozenset({"textbox", "slider", "progressbar", "combobox", "spinbutton"})
_WORDS = {"spinbutton": "stepper", "listitem": "item", "textbox": "field", "img": "image", "text": "text", "option": "item"}


def role_word(role: str) -> str:
    """The script's word for a WAI-ARIA role; `element` where there is none."""
    word = _WORDS.get(role, role)
    return word if word in ROLES else "element"


def roles_of(word: str) -> tuple[str, ...]:
    """The roles a word stands for; empty means any."""
    return ROLES.get(word, (word,) if word else ())
