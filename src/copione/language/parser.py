"""Text of a script into its lines, each parsed by the grammar on its own."""

from __future__ import annotations

import contextlib
from typing import TYPE_CHECKING

from ..model.acting import Action
from ..model.roles import ROLES
from ..model.step import Need, Step
from ..model.target import Target
from ..model.wording import listed
from ..model.words import InvalidValue
from .lines import Header, Item
from .problems import Problem, nearest
from .registry import verbs
from .shapes import built
from .words import HEADERS, ONE_OF

if TYPE_CHECKING:
    from lark.exceptions import UnexpectedInput, UnexpectedToken

_SAID = {
    **{name: listed(words, len(words), last="or") for name, words in ONE_OF.items()},
    "STRING": "words in quotes",
    "VARIABLE": "a {variable}",
    "NUMBER": "a number",
    "ROLE": "what it is (button, field ...)",
    "NAME": "a name",
    "STATE": "on or off",
    "LINK_STATE": "on, off or slow",
    "BOUND": "at least or at most",
    "MORE": "more than or less than",
    "NAMING": "like or with",
    "SIGN": "+ or -",
    "UNIT": "days, weeks or months",
    "TODAY": "today",
    "SECRET": "secret",
    "CONDITION_OF": "dark mode or battery saver",
    "SIDE": "narrower or wider",
    "BUILD": "a tablet or a phone",
    "SINCE": "before or from",
    "WAY": "falling",
    "MOVING": "turned or scaled",
    "CONDITION": "enabled, disabled, selected or not selected",
    "$END": "the end of the line",
}

#: What may stand there too, and is not told where something else is expected.
_QUIET = frozenset({"NAMING", "UNDER", "SIGN", "BY_HAND"})

#: Verbs by which the trade calls what other verbs say here.
ELSEWHERE = {
    **dict.fromkeys(("click", "touch"), "tap"),
    **dict.fromkeys(("doubleclick", "double-click", "doubletap"), "double-tap"),
    **dict.fromkeys(("longpress", "long-press"), "hold"),
    **dict.fromkeys(("assert", "verify", "expect", "should", "ensure", "see"), "check"),
    **dict.fromkeys(("toggle", "enable", "disable"), "switch on"),
    "rotate": "turn landscape",
    "scroll": "swipe up on",
    **dict.fromkeys(("enter", "input", "fill", "write"), "type"),
    **dict.fromkeys(("select", "pick"), "choose"),
    **dict.fromkeys(("open", "start"), "launch"),
    **dict.fromkeys(("close", "stop", "terminate", "kill"), "quit"),
    **dict.fromkeys(("screenshot", "capture"), "snap"),
    **dict.fromkeys(("log", "print", "comment", "echo"), "note"),
    **dict.fromkeys(("sleep", "delay"), "wait for"),
    **dict.fromkeys(("store", "save", "remember"), "keep"),
    **dict.fromkeys(("back", "home"), "press"),
    **dict.fromkeys(("if", "unless", "given"), "when"),
    **dict.fromkeys(("else", "elif", "elseif"), "otherwise"),
    **dict.fromkeys(("while", "loop", "until"), "repeat until"),
    **dict.fromkeys(("foreach", "each"), "for each row of"),
    **dict.fromkeys(("call", "run", "do", "use"), "perform"),
    **dict.fromkeys(("import", "include", "require"), "uses"),
    **dict.fromkeys(("done", "endif", "fi"), "end"),
    **dict.fromkeys(("function", "procedure", "def"), "scene"),
    **dict.fromkeys(("param", "parameter", "variable", "var", "let"), "needs"),
}


LONGEST_LINE = 10_000  # characters


def split_comment(line: str) -> tuple[str, str]:
    """What a line says, and its comment with the #, outside of quotes."""
    if "#" not in line:
        return line.rstrip(), ""
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
    if len(text) > LONGEST_LINE:
        return None, Problem(number, 1, f"A line has at most {LONGEST_LINE:,} characters; this one has {len(text):,}.", text[:80], 80)
    says, comment = split_comment(text)
    if not says.strip():
        return None, None
    known = built(says, _read)
    if known is not None:
        with contextlib.suppress(InvalidValue):  # the grammar tells where the line is wrong
            return Step(known[0], known[1], comment, known[2], number, text), None
    from lark.exceptions import UnexpectedInput

    from .grammar import START, NotMeant, grammar

    try:
        item: object = grammar().parse(says, start=START)
    except UnexpectedInput as error:
        return None, _problem(error, says, text, number)
    except NotMeant as error:
        return None, Problem(number, error.column, error.sentence, text, error.length, error.expected)
    if isinstance(item, Step):
        problem = next(filter(None, (_unknown_role(target, text, number) for target in item.action.targets())), None)
        if problem:
            return None, problem
        return Step(item.action, item.within, comment, item.place, number, text), None
    assert isinstance(item, Header | Need)
    return item, None


def _read(says: str) -> tuple[Action, float | None, bool] | None:
    """What the grammar makes of a step's line; None for anything else, and for what is wrong."""
    from lark.exceptions import UnexpectedInput

    from .grammar import START, NotMeant, grammar

    try:
        item: object = grammar().parse(says, start=START)
    except (UnexpectedInput, NotMeant):
        return None
    if not isinstance(item, Step) or any(_unknown_role(target, says, 1) for target in item.action.targets()):
        return None
    return item.action, item.within, item.place


def parse_target(words: str) -> Target | None:
    """A target from the words that `Target.words` gives; None for what is none."""
    from lark.exceptions import UnexpectedInput

    from .grammar import TARGET, grammar

    try:
        found: object = grammar().parse(words, start=TARGET)
    except UnexpectedInput:
        return None
    return found if isinstance(found, Target) else None


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
    from lark.exceptions import UnexpectedCharacters, UnexpectedEOF, UnexpectedToken

    accepts: set[str] = set()
    length = 1
    column = int(getattr(error, "column", 0) or 0)
    if isinstance(error, UnexpectedToken):
        accepts = _accepted(error)
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
        known = (*verbs(), *HEADERS)
        message = f"No step begins with {word}."
        return Problem(number, column, message, text, len(word), near=ELSEWHERE.get(word.casefold(), "") or nearest(word, known))
    if rest.startswith('"') and rest.count('"') == 1:
        return Problem(number, column, "These quotes are not closed.", text, len(rest))
    expected = tuple(sorted({_said(name) for name in accepts - _QUIET or accepts}))
    message = f"{word} does not fit here." if word else "The line ends too early."
    return Problem(number, column, message, text, max(length, len(word)), expected, nearest(word, _literals(accepts)) if word else "")


_ACCEPTED: dict[tuple[int, ...], frozenset[str]] = {}  # by the parser's stack of states: finding out takes milliseconds


def _accepted(error: UnexpectedToken) -> set[str]:
    """What could have stood there instead."""
    parser = error.interactive_parser
    stack = tuple(parser.parser_state.state_stack) if parser is not None else ()
    if stack not in _ACCEPTED:
        _ACCEPTED[stack] = frozenset(error.accepts or error.expected)
    return set(_ACCEPTED[stack])


def _literals(accepts: set[str]) -> tuple[str, ...]:
    from .grammar import grammar

    found = [str(t.pattern.value) for t in grammar().terminals if t.name in accepts and t.pattern.type == "str"]
    return (*found, *ROLES) if "ROLE" in accepts else tuple(found)


def _said(name: str) -> str:
    if name in _SAID:
        return _SAID[name]
    from .grammar import grammar

    return next((str(t.pattern.value) for t in grammar().terminals if t.name == name), name.lower())
