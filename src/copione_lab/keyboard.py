"""The on-screen keyboard: a system window over the lower part of the screen."""

from __future__ import annotations

from collections.abc import Callable

from .toolkit.node import Node, column, row

ROWS = ("qwertyuiop", "asdfghjkl", "zxcvbnm")
HEIGHT = 252.0  # dp on a phone
HEIGHT_WIDE = 300.0


def height(width: float) -> float:
    return HEIGHT_WIDE if width >= 600 else HEIGHT


def keyboard(press: Callable[[str], None], erase: Callable[[], None], hide: Callable[[], None]) -> Node:
    """Keys that type lower-case letters and spaces, erase, and a Done key that hides it."""

    def key(words: str, tap: Callable[[], None], share: float = 1.0, size: float = 16) -> Node:
        return Node("button", text=words, on_tap=tap, grow=share, fill="#FFFFFF", radius=5, align="centre", size=size, height=46)

    lines = [[key(letter, lambda letter=letter: press(letter)) for letter in letters] for letters in ROWS]  # type: ignore[misc]
    lines[2].append(key("Del", erase, 1.6, 12))
    lines.append([key("space", lambda: press(" "), 5.0, 12), key("Done", hide, 1.8, 12)])
    return column(*(row(*keys, gap=5) for keys in lines), fill="#CDD0D6", pad=(5, 10), gap=9)
