"""Steps as coloured sentences."""

from __future__ import annotations

import html
import re
import time
from collections.abc import Mapping

from ..model.outcome import Outcome
from ..model.reading import BranchTaken
from . import theme

_PIECES = re.compile(r'"((?:\\.|[^"\\])*)"|(\{\w+\})|([^"{}]+)')


def verb_of(words: str) -> str:
    """The verb of a step's words: one word, or two for a switch."""
    first, _, rest = words.partition(" ")
    return f"switch {rest.split(' ')[0]}" if first == "switch" and rest else first


def sentence(words: str) -> str:
    """The step as HTML: its verb in the pencil that belongs to it, names bold, variables marked."""
    verb = verb_of(words)
    ink = theme.CHECK if verb == "check" else theme.TOUCH_TEXT
    rest = words[len(verb) :]
    parts = [f'<span style="color:{ink.name()};font-weight:600">{html.escape(verb)}</span>']
    for quoted, variable, plain in _PIECES.findall(rest):
        if variable:
            parts.append(f'<span style="color:{theme.CHECK.name()}">{variable}</span>')
        elif plain:
            parts.append(html.escape(plain))
        else:
            parts.append(f"<b>“{html.escape(quoted)}”</b>")
    return "".join(parts)


def quoted(words: str) -> str:
    """Words of the script as they stand on screen: one kind of quotation marks everywhere."""
    return re.sub(r'"((?:\\.|[^"\\])*)"', r"“\1”", words)


def short(words: str) -> tuple[str, str]:
    """Verb and object for a column's head."""
    verb = verb_of(words)
    rest = words[len(verb) :].strip()
    names = re.findall(r'"([^"]*)"', rest)
    if verb == "set" and " to " in rest:
        return verb, f"{names[0] if names else ''} to {rest.rpartition(' to ')[2]}"
    if verb == "check" and names:
        relation = re.sub(r'^\S* ?"[^"]*" ?', "", rest).replace('"', "")
        return verb, f"{names[0]} {relation}".replace("the same on every device", "the same everywhere")
    if verb == "type" and len(names) > 1:
        return verb, names[-1]
    return verb, names[0] if names else rest


def day_said(at: float) -> str:
    """A time as people say it: the hour today, the day otherwise."""
    then, now = time.localtime(at), time.localtime()
    if then[:3] == now[:3]:
        return time.strftime("%H:%M", then)
    return time.strftime("%d %b, %H:%M" if then[0] == now[0] else "%d %b %Y", then)


def outcomes_said(counts: Mapping[Outcome, int]) -> str:
    """How results ended, in a few words: what went wrong, or that nothing did."""
    wrong = [f"{counts[o]} {o.value}" for o in (Outcome.STUCK, Outcome.DIFFERS, Outcome.UNREACHED) if counts.get(o)]
    if wrong:
        return ", ".join(wrong)
    adapted = counts.get(Outcome.ADAPTED, 0)
    return f"held, {adapted} adapted" if adapted else "held" if counts.get(Outcome.HELD) else "nothing done"


def way_said(way: BranchTaken) -> str:
    """Which way a block was gone, in a word or two."""
    return (
        way.words if way.words.endswith((" turn", " turns", " row", " rows")) and len(way.words) < 12 else "so" if way.entered else "not so"
    )
