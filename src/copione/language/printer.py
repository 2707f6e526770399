"""Steps and scripts as text."""

from __future__ import annotations

from ..model.step import Script, Step
from .lines import Header
from .quoting import number, quoted
from .specs import action_words

INDENT = "    "


def step_words(step: Step) -> str:
    """The step as its line says it, without indent and comment."""
    words = action_words(step.action)
    words += f" within {number(step.within)} s" if step.within is not None else ""
    return words + (" allow place" if step.place else "")


def step_line(step: Step) -> str:
    """The step as a whole line: indent, words, comment."""
    return INDENT + step_words(step) + (f"  {step.comment}" if step.comment else "")


def header_line(header: Header) -> str:
    """A header as its line."""
    if header.kind in {"script", "data", "scene"}:
        return f"{header.kind} {quoted(header.value)}"
    return f"patience {number(float(header.value))} s" if header.kind == "patience" else f"{header.kind} {header.value}"


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
