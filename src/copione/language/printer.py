"""Steps and scripts as text."""

from __future__ import annotations

from ..model.blocks import depths
from ..model.step import Need, Script, Step
from .lines import Header
from .quoting import number, quoted, value
from .registry import words_of

INDENT = "    "


def step_words(step: Step) -> str:
    """The step as its line says it, without indent and comment."""
    words = words_of(step.action)
    words += f" within {number(step.within)} s" if step.within is not None else ""
    return words + (" allow place" if step.place else "")


def step_line(step: Step, depth: int = 0) -> str:
    """The step as a whole line: indent, words, comment. `depth`: how many blocks it stands in."""
    return INDENT * (depth + 1) + step_words(step) + (f"  {step.comment}" if step.comment else "")


def need_line(need: Need) -> str:
    """A value that is given at the start."""
    if need.default is not None:
        return f"needs {need.name} = {value(need.default)}"
    return f"needs {need.name}{' secret' if need.secret else ''}"


def header_line(header: Header) -> str:
    """A header as its line."""
    if header.kind == "scene" and header.several:
        return f"scene {quoted(header.value)} with {' '.join('{' + name + '}' for name in header.several)}"
    if header.kind in {"script", "data", "scene", "uses"}:
        return f"{header.kind} {quoted(header.value)}"
    if header.kind == "covers":
        return f"covers {' '.join(map(quoted, header.several))}"
    return f"patience {number(float(header.value))} s" if header.kind == "patience" else f"{header.kind} {header.value}"


def script_text(script: Script) -> str:
    """A whole script in the canonical form: what a recording is written as."""
    lines = [header_line(Header("script", script.name))]
    lines += [header_line(Header("app", word)) for word in script.apps]
    lines.append(header_line(Header("patience", str(script.patience))))
    if script.data:
        lines.append(header_line(Header("data", script.data)))
    lines += [header_line(Header("uses", name)) for name in script.uses]
    if script.covers:
        lines.append(header_line(Header("covers", "", script.covers)))
    lines += map(need_line, script.needs)
    for scene in script.scenes:
        lines += ["", header_line(Header("scene", scene.name, scene.values)), *map(step_line, scene.steps, depths(scene.steps))]
    return "\n".join(lines) + "\n"
