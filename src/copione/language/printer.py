"""Steps and scripts as text."""

from __future__ import annotations

from ..model.step import VARIABLE, Script, Step, Target
from .lines import Header
from .words import VERB_ROLE

INDENT = "    "


def quoted(words: str) -> str:
    return '"' + words.replace("\\", "\\\\").replace('"', '\\"') + '"'


def _value(words: str) -> str:
    """A lone {variable} or a number needs no quotes."""
    if VARIABLE.fullmatch(words):
        return words
    try:
        float(words)
    except ValueError:
        return quoted(words)
    return words if words == words.strip() and all(c in "-.0123456789" for c in words) else quoted(words)


def _seconds(value: float) -> str:
    return f"{value:g}"


def _target(target: Target, verb: str = "") -> str:
    role = "" if VERB_ROLE.get(verb) == target.role else target.role
    own = f"{role} {quoted(target.name)}" if role else quoted(target.name)
    return f"{own} in {_target(target.inside)}" if target.inside else own


def _judged(step: Step) -> str:
    """What is expected of a target, as the line says it."""
    if step.relation == "has items":
        return f"has {step.value} items"
    if step.relation == "matches":
        return f"matches {quoted(step.value)}"
    if step.relation == "looks as recorded" and step.value:
        return f"looks as recorded allowing {step.value}"
    if step.relation == "is between":
        return f"is between {step.value}"
    return step.relation + (f" {_value(step.value)}" if step.relation in {"reads", "contains"} else "")


def step_words(step: Step) -> str:
    """The step as its line says it, without indent and comment."""
    on = _target(step.target, step.verb) if step.target else ""
    onto = _target(step.onto) if step.onto else ""
    forms = {
        "launch": f"launch {step.value}".rstrip(),
        "quit": "quit",
        "swipe": f"swipe {step.value} on {on}",
        "type": f"type {quoted(step.value) if not VARIABLE.fullmatch(step.value) else step.value} into {on}",
        "append": f"append {quoted(step.value) if not VARIABLE.fullmatch(step.value) else step.value} to {on}",
        "set": f"set {on} to {_value(step.value)}",
        "choose": f"choose {quoted(step.value)} in {on}",
        "switch": f"switch {step.value} {on}",
        "press": f"press {step.value}",
        "note": f"note {quoted(step.value)}",
        "snap": f"snap {quoted(step.value)}",
        "keep": f"keep {on} as {step.value}",
        "check": f"check {on} {_judged(step)}",
        "wait": f"wait for {on}" if step.relation == "is shown" else f"wait until {on} {_judged(step)}",
        "fling": f"fling {step.value} on {on}",
        "drag": f"drag {on} by {step.value}" if step.relation == "by" else f"drag {on} {step.relation} {onto}",
        "pinch": f"pinch {on} by {step.value}",
        "twist": f"twist {on} by {step.value}",
        "draw": f"draw on {on} path {quoted(step.value)}",
        "turn": f"turn {step.value}",
        "whenever": f"whenever {on} tap {onto}",
    }
    words = forms.get(step.verb, f"{step.verb} {on}")
    words += f" within {_seconds(step.within)} s" if step.within is not None else ""
    return words + (" allow place" if step.place else "")


def step_line(step: Step) -> str:
    """The step as a whole line: indent, words, comment."""
    return INDENT + step_words(step) + (f"  {step.comment}" if step.comment else "")


def header_line(header: Header) -> str:
    if header.kind in {"script", "data", "scene"}:
        return f"{header.kind} {quoted(header.value)}"
    return f"patience {_seconds(float(header.value))} s" if header.kind == "patience" else f"{header.kind} {header.value}"


def script_text(script: Script) -> str:
    """A whole script in the canonical form: what a recording is written as."""
    lines = [header_line(Header("script", script.name))]
    if script.app:
        lines.append(header_line(Header("app", script.app)))
    lines.append(header_line(Header("patience", str(script.patience))))
    if script.data:
        lines.append(header_line(Header("data", script.data)))
    for scene in script.scenes:
        lines += ["", header_line(Header("scene", scene.name)), *(step_line(step) for step in scene.steps)]
    return "\n".join(lines) + "\n"
