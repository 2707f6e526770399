"""A script as its text and its meaning, line by line: what an editor and a replay both hold."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property

from ..model.action import Opening, Otherwise
from ..model.blocks import depths
from ..model.errors import ScriptBroken
from ..model.step import Need, Scene, Script, Step
from .lines import Header, Item
from .parser import parse_line, split_comment
from .printer import INDENT, header_line, need_line, step_line
from .problems import Problem
from .structure import block_problems

MOST_PROBLEMS = 1000  # of lines: each takes a look for the word that was meant
SHOWN = 120  # characters of a line that are shown where it is not read


@dataclass(frozen=True)
class Line:
    """One line: its text, kept to the letter, and what it means."""

    text: str
    item: Item = None
    problem: Problem | None = None

    def at(self, number: int) -> Line:
        """The same line at another place."""
        step = self.item
        if isinstance(step, Step) and step.line != number:
            return Line(self.text, step.at(number), None)
        if self.problem is not None and self.problem.line != number:
            return replace(self, problem=replace(self.problem, line=number))
        return self


@dataclass(frozen=True)
class Document:
    """All lines of a script. Edits give a new document and leave every other line as it was."""

    lines: tuple[Line, ...]
    last_newline: bool = True

    @property
    def text(self) -> str:
        """The text, letter by letter as it was read."""
        return "\n".join(line.text for line in self.lines) + ("\n" if self.last_newline else "")

    @cached_property
    def problems(self) -> tuple[Problem, ...]:
        """Every line's problem, then those of the whole: no name, a step outside of a scene, blocks that do not end."""
        found = [line.problem for line in self.lines if line.problem]
        found += [problem for scene in self.script.scenes for problem in block_problems(scene)]
        in_scene = named = False
        for number, line in enumerate(self.lines, 1):
            if isinstance(line.item, Header):
                in_scene = in_scene or line.item.kind == "scene"
                named = named or line.item.kind == "script"
            elif isinstance(line.item, Step) and not in_scene:
                column = len(line.text) - len(line.text.lstrip()) + 1
                found.append(
                    Problem(number, column, 'A step stands in a scene: put scene "..." above it.', line.text, len(line.text.strip()))
                )
                in_scene = True
        if not named and not found:
            found.append(Problem(1, 1, 'The script has no name: begin with script "...".', self.lines[0].text if self.lines else ""))
        return tuple(sorted(found, key=lambda p: (p.line, p.column)))

    @cached_property
    def script(self) -> Script:
        """The meaning of the lines that have one, whatever is wrong with the others."""
        facts: dict[str, str] = {}
        scenes: list[tuple[Header, int, list[Step]]] = []
        uses: list[str] = []
        covers: list[str] = []
        apps: list[str] = []
        needs: list[Need] = []
        for number, line in enumerate(self.lines, 1):
            item = line.item
            if isinstance(item, Step):
                if scenes:
                    scenes[-1][2].append(item)
            elif isinstance(item, Need):
                needs.append(item)
            elif item is None:
                continue
            elif item.kind == "scene":
                scenes.append((item, number, []))
            elif item.kind == "uses":
                uses.append(item.value)
            elif item.kind == "covers":
                covers += item.several
            elif item.kind == "app":
                apps.append(item.value)
            else:
                facts.setdefault(item.kind, item.value)
        return Script(
            name=facts.get("script", ""),
            app=next(iter(apps), ""),
            patience=float(facts.get("patience", "8")),
            data=facts.get("data", ""),
            scenes=tuple(Scene(head.value, tuple(steps), head.several, number) for head, number, steps in scenes),
            uses=tuple(dict.fromkeys(uses)),
            covers=tuple(dict.fromkeys(covers)),
            needs=tuple({need.name: need for need in reversed(needs)}.values())[::-1],
            others=tuple(dict.fromkeys(apps))[1:],
            source=self.text,
        )

    def sound(self) -> Script:
        """The script; raises ScriptBroken with all problems when there are any."""
        if self.problems:
            many = f"{len(self.problems)} problems" if len(self.problems) > 1 else "a problem"
            raise ScriptBroken(f"The script has {many}; nothing was run.", self.problems)
        return self.script

    def with_step(self, number: int, step: Step) -> Document:
        """The step on that line replaced; its comment stays where the step brings none."""
        comment = step.comment or split_comment(self.lines[number - 1].text)[1]
        return self._spliced(number - 1, number, [step_line(replace(step, comment=comment), self.depth_of(number))])

    def with_step_after(self, number: int, step: Step) -> Document:
        """The step behind that line; behind the head of a block it is the first in it."""
        return self._spliced(number, number, [step_line(step, self.depth_behind(number))])

    def depth_behind(self, number: int) -> int:
        """How many blocks a line stands in that is put behind that one."""
        head = self.lines[number - 1].item if 0 < number <= len(self.lines) else None
        return self.depth_of(number) + (isinstance(head, Step) and isinstance(head.action, Opening | Otherwise))

    def depth_of(self, number: int) -> int:
        """How many blocks a line stands in."""
        scene = next((scene for scene in reversed(self.script.scenes) if scene.line <= number), None)
        steps = scene.steps if scene is not None else ()
        return next((depth for step, depth in zip(reversed(steps), reversed([*depths(steps)]), strict=True) if step.line <= number), 0)

    def with_words_after(self, number: int, words: str, uses: str = "") -> Document:
        """A line as deep as the one before it; `uses`: the script that it needs, which the head then names."""
        made = self._spliced(number, number, [INDENT * (self.depth_behind(number) + 1) + words])
        return made.with_header(Header("uses", uses)) if uses and uses not in self.script.uses else made

    def with_lines_after(self, number: int, texts: Iterable[str]) -> Document:
        """Lines of text behind that line."""
        return self._spliced(number, number, texts)

    def with_header(self, header: Header) -> Document:
        """The header before the first scene, behind those that are there."""
        return self._spliced(self.head, self.head, [header_line(header)])

    def with_need(self, need: Need) -> Document:
        """A value that is given at the start, behind what stands before the first scene."""
        return self._spliced(self.head, self.head, [need_line(need)])

    @property
    def head(self) -> int:
        """The last line that stands before the scenes and says something."""
        heads = (n for n, line in enumerate(self.lines, 1) if isinstance(line.item, Need) or _is_head(line.item))
        return max(heads, default=0)

    def without_line(self, number: int) -> Document:
        """That line left out."""
        return self._spliced(number - 1, number, [])

    def _spliced(self, begin: int, end: int, texts: Iterable[str]) -> Document:
        kept = [line.text for line in self.lines]
        kept[begin:end] = texts
        return parse("\n".join(kept) + ("\n" if self.last_newline else ""), self)


def parse(text: str, known: Document | None = None) -> Document:
    """Every line parsed; never raises: problems are in the document. What stood in `known` to the letter is not read again."""
    last_newline = text.endswith("\n")
    raw = text.split("\n")
    if last_newline:
        raw.pop()
    read = {line.text: line for line in known.lines} if known is not None else {}
    lines, problems = [], 0
    for number, line in enumerate(raw, 1):
        before = read.get(line)
        if before is not None:
            lines.append(before.at(number))
        elif problems >= MOST_PROBLEMS:
            lines.append(Line(line, None, Problem(number, 1, f"It is not read: {MOST_PROBLEMS} lines above have problems.", line[:SHOWN])))
        else:
            item, problem = parse_line(line, number)
            lines.append(Line(line, item, problem))
            problems += problem is not None
    return Document(tuple(lines), last_newline)


def formatted(text: str) -> str:
    """The text in canonical spacing; lines with a problem stay as they are."""
    lines = []
    document = parse(text)
    inside = {s.line: depth for scene in document.script.scenes for s, depth in zip(scene.steps, depths(scene.steps), strict=True)}
    for number, line in enumerate(document.lines, 1):
        comment = split_comment(line.text)[1]
        behind = f"  {comment}" if comment else ""
        if isinstance(line.item, Step):
            lines.append(step_line(line.item, inside.get(number, 0)))
        elif isinstance(line.item, Header):
            lines.append(header_line(line.item) + behind)
        elif isinstance(line.item, Need):
            lines.append(need_line(line.item) + behind)
        else:
            lines.append(line.text.rstrip())
    return "\n".join(lines).rstrip("\n") + "\n"


def _is_head(item: Item) -> bool:
    return isinstance(item, Header) and item.kind != "scene"
