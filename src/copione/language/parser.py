"""Text of a script into its lines, each parsed by the grammar on its own."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from importlib.resources import files

from lark import Lark, Token, Transformer
from lark.exceptions import UnexpectedCharacters, UnexpectedEOF, UnexpectedInput, UnexpectedToken

from ..model.step import Step, Target
from .problems import Problem, nearest
from .words import HEADERS, ROLES, VERB_ROLE, VERBS


@dataclass(frozen=True)
class Header:
    """A line that is not a step: script, app, patience, data or scene, and its value."""

    kind: str
    value: str


Item = Header | Step | None

_SAID = {
    "STRING": "words in quotes",
    "VARIABLE": "a {variable}",
    "NUMBER": "a number",
    "ROLE": "what it is (button, field ...)",
    "NAME": "a name",
    "DIRECTION": "up, down, left or right",
    "STATE": "on or off",
    "KEY": "back, home or enter",
    "$END": "the end of the line",
}


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
        act, within = parts
        assert isinstance(act, Step)
        return replace(act, within=float(str(within))) if within is not None else act

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

    def clear(self, parts: list[Target]) -> Step:
        return Step("clear", parts[0])

    def find(self, parts: list[Target]) -> Step:
        return Step("find", parts[0])

    def swipe(self, parts: list[object]) -> Step:
        return Step("swipe", _target(parts[1]), value=str(parts[0]))

    def type(self, parts: list[object]) -> Step:
        return Step("type", _target(parts[1]), value=str(parts[0]))

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


def split_comment(line: str) -> tuple[str, str]:
    """What a line says, and its comment with the #, outside of quotes."""
    quoted = escaped = False
    for i, c in enumerate(line):
        if escaped:
            escaped = False
        elif c == "\\" and quoted:
            escaped = True
        elif c == '"':
            quoted = not quoted
        elif c == "#" and not quoted:
            return line[:i].rstrip(), line[i:]
    return line.rstrip(), ""


def parse_line(text: str, number: int) -> tuple[Item, Problem | None]:
    """One line as a header, a step, or nothing; or what is wrong with it."""
    says, comment = split_comment(text)
    if not says.strip():
        return None, None
    try:
        item = grammar().parse(says)
    except UnexpectedInput as error:
        return None, _problem(error, says, text, number)
    if isinstance(item, Step):
        problem = _unknown_role(item.target, text, number)
        if problem:
            return None, problem
        target = item.target
        if target is not None and not target.role and item.verb in VERB_ROLE:
            target = replace(target, role=VERB_ROLE[item.verb])
        return replace(item, target=target, comment=comment, line=number, source=text), None
    assert isinstance(item, Header)
    return item, None


def _unknown_role(target: Target | None, text: str, number: int) -> Problem | None:
    while target is not None:
        if target.role and target.role not in ROLES:
            column = text.find(target.role + ' "') + 1 or text.find(target.role) + 1
            known = tuple(ROLES)
            return Problem(
                number, column, f"{target.role} is not a kind of element.", text, len(target.role), near=nearest(target.role, known)
            )
        target = target.inside
    return None


def _problem(error: UnexpectedInput, says: str, text: str, number: int) -> Problem:
    accepts: set[str] = set()
    length = 1
    column = int(getattr(error, "column", 0) or 0)
    if isinstance(error, UnexpectedToken):
        accepts = set(error.accepts or error.expected)
        length = max(1, len(str(error.token)))
        if error.token.type == "$END":
            column, length = len(says) + 1, 1
    elif isinstance(error, UnexpectedCharacters):
        accepts = set(error.allowed or ())
    elif isinstance(error, UnexpectedEOF):
        accepts, column = set(error.expected), len(says) + 1
    if column <= 0 or column > len(says):
        column = len(says) + 1
    rest = says[column - 1 :]
    word = rest.split()[0] if rest.split() else ""
    if column == len(says) - len(says.lstrip()) + 1 and word:
        known = (*VERBS, *HEADERS)
        message = f"No step begins with {word}."
        return Problem(number, column, message, text, len(word), near=nearest(word, known))
    if rest.startswith('"') and rest.count('"') == 1:
        return Problem(number, column, "These quotes are not closed.", text, len(rest))
    expected = tuple(sorted({_said(name) for name in accepts}))
    message = f"{word} does not fit here." if word else "The line ends too early."
    return Problem(number, column, message, text, max(length, len(word)), expected, nearest(word, _literals(accepts)) if word else "")


def _literals(accepts: set[str]) -> tuple[str, ...]:
    found = [str(t.pattern.value) for t in grammar().terminals if t.name in accepts and t.pattern.type == "str"]
    return (*found, *ROLES) if "ROLE" in accepts else tuple(found)


def _said(name: str) -> str:
    if name in _SAID:
        return _SAID[name]
    return next((str(t.pattern.value) for t in grammar().terminals if t.name == name), name.lower())
