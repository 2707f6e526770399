"""The grammar of one line and what its parse trees mean. Imported where a line is first parsed: Lark takes a while to load."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from functools import lru_cache
from importlib.resources import files
from typing import Any

from lark import Lark, Token, Transformer

from ..model import formula
from ..model.action import Action
from ..model.errors import CopioneError
from ..model.fact import Fact
from ..model.formula import TODAY
from ..model.geometry import Box
from ..model.relation import Relation
from ..model.step import Need, Step
from ..model.target import Naming, Target
from ..model.words import InvalidValue
from .lines import Header
from .quoting import braced, unquoted
from .registry import rules, specs_of, version
from .words import terminals

START = "line"
TARGET = "target"
NAME = re.compile(formula.NAME)


class NotMeant(CopioneError):
    """A line that parses and cannot be meant: `column` is 1-based, `length` of what is at fault."""

    def __init__(self, error: InvalidValue, column: int, length: int) -> None:
        super().__init__(error.sentence)
        self.column, self.length, self.expected = column, length, error.expected


class _Build(Transformer[Token, object]):
    """Parse tree to values. Actions and relations are built by their specs."""

    def STRING(self, token: Token) -> Token:
        return token.update(value=unquoted(str(token)))

    def script(self, parts: list[Token]) -> Header:
        return Header("script", str(parts[0]))

    def app(self, parts: list[Token]) -> Header:
        return Header("app", str(parts[0]))

    def patience(self, parts: list[Token]) -> Header:
        if float(parts[0]) < 0:
            raise _placed(InvalidValue("Patience cannot be negative.", str(parts[0]), "0 s or more"), parts)
        return Header("patience", str(parts[0]))

    def data(self, parts: list[Token]) -> Header:
        return Header("data", str(parts[0]))

    def uses(self, parts: list[Token]) -> Header:
        return Header("uses", str(parts[0]))

    def covers(self, parts: list[Token]) -> Header:
        return Header("covers", "", tuple(map(str, parts)))

    def needs(self, parts: list[Token]) -> Need:
        return Need(_variable(parts[0]), str(parts[1]))

    def needs_given(self, parts: list[Token | None]) -> Need:
        assert parts[0] is not None
        return Need(_variable(parts[0]), secret=parts[1] is not None)

    def scene(self, parts: list[Token | None]) -> Header:
        values = tuple(str(part).strip("{}") for part in parts[1:] if part is not None)
        twice = next((part for n, part in enumerate(parts[1:]) if part is not None and str(part).strip("{}") in values[:n]), None)
        if twice is not None:
            raise _placed(InvalidValue(f"The scene asks for {twice} more than once.", str(twice), "another name"), [twice])
        return Header("scene", str(parts[0]), values)

    def sum(self, parts: list[Token | None]) -> Token:
        tokens = [part for part in parts if part is not None]
        if len(tokens) == 1 and tokens[0].type == "VARIABLE":
            return tokens[0]
        words = braced(" ".join(tokens))
        first, last = tokens[0], tokens[-1]
        return Token("SUM", words, column=first.column, end_column=last.end_column)

    def step(self, parts: list[object]) -> Step:
        act, within, place = parts
        assert isinstance(act, Action)
        try:
            return Step(act, float(str(within)) if within is not None else None, place=place is not None)
        except InvalidValue as error:
            raise _placed(error, parts) from error

    def allow(self, _parts: list[Token]) -> str:
        return "place"

    def within(self, parts: list[Token]) -> Token:
        return parts[0]

    def target(self, parts: list[object]) -> Target:
        role, naming, name, under, inside = parts
        assert inside is None or isinstance(inside, Target)
        return Target(str(role) if role else "", str(name), inside, str(under or ""), Naming(str(naming or "")))

    def nameless(self, parts: list[object]) -> Target:
        role, inside = parts
        assert isinstance(inside, Target)
        return Target(str(role), "", inside)

    def part(self, parts: list[object]) -> Target:
        role, left, top, right, bottom, of = parts
        assert isinstance(of, Target)
        try:
            box = Box(*(float(str(side)) for side in (left, top, right, bottom)))
            return Target(str(role), "", of, part=box)
        except InvalidValue as error:
            raise _placed(error, parts) from error


def _variable(token: Token) -> str:
    if not NAME.fullmatch(token):
        raise _placed(InvalidValue(f"{token} is not a valid name.", str(token), "letters, digits and _"), [token])
    if token == TODAY:
        raise _placed(InvalidValue("today is a reserved name: it always holds the current date.", str(token), "another name"), [token])
    return str(token)


def _placed(error: InvalidValue, parts: Iterable[object]) -> NotMeant:
    """Where in the line the error is: at the last part that says what it is about, else at the first one."""
    tokens = [part for part in parts if isinstance(part, Token)]
    same = [token for token in tokens if str(token) == error.text or _equal(token, error.text)]
    token = next(iter([*reversed(same), *tokens]), None)
    if token is None or token.column is None or token.end_column is None:
        return NotMeant(error, 1, 1)
    return NotMeant(error, token.column, max(1, token.end_column - token.column))


def _equal(token: Token, words: str) -> bool:
    """The same number, perhaps written otherwise?"""
    try:
        return float(token) == float(words)
    except ValueError:
        return False


def _built(build: Callable[..., Any]) -> Callable[[Sequence[object]], object]:
    def built(parts: Sequence[object]) -> object:
        try:
            return build(*parts)
        except InvalidValue as error:
            raise _placed(error, parts) from error

    return built


def grammar() -> Lark:
    """The LALR parser of one line, or of a target alone. Parsing raises NotMeant for what cannot be meant."""
    return _grammar(version())


@lru_cache(maxsize=1)
def _grammar(_version: int) -> Lark:
    acts, build_act = rules(specs_of(Action), "act")
    relations, build_relation = rules(specs_of(Relation), "relation")
    facts, build_fact = rules(specs_of(Fact), "fact")
    text = (files("copione.language") / "script.lark").read_text("utf-8") + f"\n{terminals()}"
    text += f"?act: {acts}\n?relation: {relations}\n?fact: {facts}\n"
    transformer = _Build()
    for name, build in (build_act | build_relation | build_fact).items():
        setattr(transformer, name, _built(build))
    return Lark(text, start=[START, TARGET], parser="lalr", lexer="contextual", maybe_placeholders=True, transformer=transformer)
