"""The grammar of one line and what its parse trees mean. Imported where a line is first parsed: Lark takes a while to load."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from importlib.resources import files

from lark import Lark, Token, Transformer

from ..model.step import Step, Target
from .lines import Header


class _Build(Transformer[Token, object]):
    """Parse tree to values."""

    def script(self, parts: list[Token]) -> Header:
        return Header("script", _text(parts[0]))

    def app(self, parts: list[Token]) -> Header:
        return Header("app", str(parts[0]))

    def patience(self, parts: list[Token]) -> Header:
        return Header("patience", str(parts[0]))

    def data(self, parts: list[Token]) -> Header:
        return Header("data", _text(parts[0]))

    def scene(self, parts: list[Token]) -> Header:
        return Header("scene", _text(parts[0]))

    def step(self, parts: list[object]) -> Step:
        act, within, place = parts
        assert isinstance(act, Step)
        return replace(act, within=float(str(within)) if within is not None else None, place=place is not None)

    def allow(self, _parts: list[Token]) -> str:
        return "place"

    def within(self, parts: list[Token]) -> str:
        return str(parts[0])

    def target(self, parts: list[object]) -> Target:
        role, name, inside = parts
        assert inside is None or isinstance(inside, Target)
        return Target(str(role) if role else "", _text(name), inside)

    def value(self, parts: list[Token]) -> str:
        return _text(parts[0])

    def launch(self, parts: list[Token | None]) -> Step:
        return Step("launch", value=str(parts[0] or ""))

    def quit(self, _parts: list[object]) -> Step:
        return Step("quit")

    def tap(self, parts: list[Target]) -> Step:
        return Step("tap", parts[0])

    def hold(self, parts: list[Target]) -> Step:
        return Step("hold", parts[0])

    def double_tap(self, parts: list[Target]) -> Step:
        return Step("double-tap", parts[0])

    def fling(self, parts: list[object]) -> Step:
        return Step("fling", _target(parts[1]), value=str(parts[0]))

    def drag(self, parts: list[object]) -> Step:
        return Step("drag", _target(parts[0]), relation=str(parts[1]), onto=_target(parts[2]))

    def drag_by(self, parts: list[object]) -> Step:
        return Step("drag", _target(parts[0]), value=f"{parts[1]} {parts[2]}", relation="by")

    def pinch(self, parts: list[object]) -> Step:
        return Step("pinch", _target(parts[0]), value=str(parts[1]))

    def twist(self, parts: list[object]) -> Step:
        return Step("twist", _target(parts[0]), value=str(parts[1]))

    def draw(self, parts: list[object]) -> Step:
        return Step("draw", _target(parts[0]), value=_text(parts[1]))

    def turn(self, parts: list[Token]) -> Step:
        return Step("turn", value=str(parts[0]))

    def wait_for(self, parts: list[Target]) -> Step:
        return Step("wait", parts[0], relation="is shown")

    def wait_until(self, parts: list[object]) -> Step:
        judged = parts[1]
        assert isinstance(judged, tuple)
        return Step("wait", _target(parts[0]), value=judged[1], relation=judged[0])

    def whenever(self, parts: list[Target]) -> Step:
        return Step("whenever", parts[0], onto=parts[1])

    def clear(self, parts: list[Target]) -> Step:
        return Step("clear", parts[0])

    def find(self, parts: list[Target]) -> Step:
        return Step("find", parts[0])

    def swipe(self, parts: list[object]) -> Step:
        return Step("swipe", _target(parts[1]), value=str(parts[0]))

    def type(self, parts: list[object]) -> Step:
        return Step("type", _target(parts[1]), value=str(parts[0]))

    def append(self, parts: list[object]) -> Step:
        return Step("append", _target(parts[1]), value=str(parts[0]))

    def set(self, parts: list[object]) -> Step:
        return Step("set", _target(parts[0]), value=str(parts[1]))

    def choose(self, parts: list[object]) -> Step:
        return Step("choose", _target(parts[1]), value=_text(parts[0]))

    def switch(self, parts: list[object]) -> Step:
        return Step("switch", _target(parts[1]), value=str(parts[0]))

    def press(self, parts: list[Token]) -> Step:
        return Step("press", value=str(parts[0]))

    def note(self, parts: list[Token]) -> Step:
        return Step("note", value=_text(parts[0]))

    def snap(self, parts: list[Token]) -> Step:
        return Step("snap", value=_text(parts[0]))

    def keep(self, parts: list[object]) -> Step:
        return Step("keep", _target(parts[0]), value=str(parts[1]))

    def check(self, parts: list[object]) -> Step:
        judged = parts[1]
        assert isinstance(judged, tuple)
        return Step("check", _target(parts[0]), value=judged[1], relation=judged[0])

    def is_shown(self, _parts: list[object]) -> tuple[str, str]:
        return "is shown", ""

    def is_not_shown(self, _parts: list[object]) -> tuple[str, str]:
        return "is not shown", ""

    def is_state(self, parts: list[Token]) -> tuple[str, str]:
        return f"is {parts[0]}", ""

    def reads(self, parts: list[str]) -> tuple[str, str]:
        return "reads", parts[0]

    def contains(self, parts: list[str]) -> tuple[str, str]:
        return "contains", parts[0]

    def between(self, parts: list[Token]) -> tuple[str, str]:
        return "is between", f"{parts[0]} and {parts[1]}"

    def has_items(self, parts: list[Token]) -> tuple[str, str]:
        return "has items", str(parts[0])

    def matches(self, parts: list[Token]) -> tuple[str, str]:
        return "matches", _text(parts[0])

    def looks(self, parts: list[Token | None]) -> tuple[str, str]:
        return "looks as recorded", f"{parts[0]} dp {parts[1]} %" if parts and parts[0] is not None else ""

    def same(self, _parts: list[object]) -> tuple[str, str]:
        return "reads the same on every device", ""


def _target(part: object) -> Target:
    assert isinstance(part, Target)
    return part


def _text(token: object) -> str:
    words = str(token)
    if words.startswith('"'):
        return words[1:-1].replace('\\"', '"').replace("\\\\", "\\")
    return words


@lru_cache(maxsize=1)
def grammar() -> Lark:
    """The LALR parser of one line."""
    text = (files("copione.language") / "script.lark").read_text("utf-8")
    return Lark(text, start="line", parser="lalr", lexer="contextual", maybe_placeholders=True, transformer=_Build())
