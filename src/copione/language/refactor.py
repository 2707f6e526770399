"""A script changed as a whole: names that are used in many lines, lines that become a scene, words that become a variable."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, fields, replace

from ..model import action as a
from ..model import relation as r
from ..model.errors import CopioneError
from ..model.formula import BASE, BRACED, NAME, TODAY, names_in, renamed
from ..model.reading import State
from ..model.step import Need, Step
from ..model.target import Target
from ..model.words import Text
from .document import Document, Line, parse
from .lines import Header
from .parser import parse_target, split_comment
from .printer import header_line, need_line, step_line, step_words
from .quoting import target as written


class CannotBe(CopioneError):
    """A change that cannot be made, and why."""


Change = Callable[[Line], str | None]


def _changed(document: Document, change: Change) -> Document:
    """The lines that `change` gives another text; the others stay to the letter."""
    texts = [line.text if (new := change(line)) is None else new for line in document.lines]
    return parse("\n".join(texts) + ("\n" if document.last_newline else ""), document)


def _with_step(line: Line, step: Step) -> str:
    """The line saying another step: its indent and comment stay."""
    indent = line.text[: len(line.text) - len(line.text.lstrip())]
    return indent + step_words(step) + (f"  {step.comment}" if step.comment else "")


def _with_comment(line: Line, words: str) -> str:
    comment = split_comment(line.text)[1]
    return words + (f"  {comment}" if comment else "")


# names


def rename_scene(document: Document, old: str, new: str, *, defined: bool = True) -> Document:
    """The scene, where it is `defined` here, and every line that performs it."""

    def change(line: Line) -> str | None:
        item = line.item
        if defined and isinstance(item, Header) and item.kind == "scene" and item.value == old:
            return _with_comment(line, header_line(replace(item, value=new)))
        if isinstance(item, Step) and isinstance(item.action, a.Perform) and item.action.scene == old:
            return _with_step(line, replace(item, action=replace(item.action, scene=new)))
        return None

    return _changed(document, change)


def rename_variable(document: Document, old: str, new: str) -> Document:
    """Wherever it is given, asked for, kept or used. Raises CannotBe where the new name has a meaning already."""
    if new in variables_of(document):
        raise CannotBe(f"{new} is a value of this script already.")
    if not re.fullmatch(NAME, new) or new in (TODAY, BASE):
        raise CannotBe(f"{new[:80]!r} is no name for a value: letters, digits and _, a letter first; not today or base.")

    def change(line: Line) -> str | None:
        item = line.item
        if isinstance(item, Need) and item.name == old:
            return _with_comment(line, need_line(replace(item, name=new)))
        if isinstance(item, Header) and old in item.several and item.kind == "scene":
            return _with_comment(line, header_line(replace(item, several=tuple(new if n == old else n for n in item.several))))
        if not isinstance(item, Step):
            return None
        step = item.map_text(lambda words, _kind: renamed(words, old, new))
        if isinstance(step.action, a.Keep) and step.action.variable == old:
            step = replace(step, action=replace(step.action, variable=new))
        return _with_step(line, step) if step.action != item.action else None

    return _changed(document, change)


def variables_of(document: Document) -> set[str]:
    """Every name of a value that the text knows."""
    found = {need.name for need in document.script.needs} | {name for scene in document.script.scenes for name in scene.values}
    for _, step in document.script.steps():
        found |= step.used
        if isinstance(step.action, a.Keep):
            found.add(step.action.variable)
    return found


def rename_target(document: Document, old: str, new: Target) -> tuple[Document, dict[str, str]]:
    """Wherever a target of those words stands, also where another stands in it; and what the keys of portraits become."""
    keys: dict[str, str] = {}

    def target(known: Target) -> Target:
        inside = target(known.inside) if known.inside is not None else None
        made = new if known.words() == old else replace(known, inside=inside)
        if made != known:
            keys[known.words()] = made.words()
        return made

    def change(line: Line) -> str | None:
        if not isinstance(line.item, Step):
            return None
        step = with_targets(line.item, target)
        return _with_step(line, step) if step.action != line.item.action else None

    return _changed(document, change), keys


def with_targets(step: Step, change: Callable[[Target], Target]) -> Step:
    """The same with every target changed."""
    action = step.action
    found = {each.name: getattr(action, each.name) for each in fields(action)}
    new = {name: change(value) for name, value in found.items() if isinstance(value, Target)}
    return replace(step, action=replace(action, **new)) if any(new[name] != found[name] for name in new) else step


# lines


def step_at(document: Document, line: int) -> Step | None:
    """The step on that very line."""
    item = document.lines[line - 1].item if 0 < line <= len(document.lines) else None
    return item if isinstance(item, Step) else None


def as_check(step: Step) -> Step | None:
    """The check that what the step did has come about; None for a step that names nothing on the screen."""
    action = step.action
    match action:
        case a.SetTo(target=target, amount=amount):
            check = a.Check(target, r.Reads(amount))
        case a.Type(target=target, text=words):
            check = a.Check(target, r.Reads(words))
        case a.Append(target=target, text=words):
            check = a.Check(target, r.Contains(words))
        case a.Clear(target=target):
            check = a.Check(target, r.Reads(""))
        case a.Choose(target=target, option=option):
            check = a.Check(target, r.Reads(option))
        case a.Switch(target=target, on=on):
            check = a.Check(target, r.IsState(State.ON if on else State.OFF))
        case a.Wait(target=target, relation=relation):
            check = a.Check(target, relation)
        case _:
            target = step.target  # type: ignore[assignment]
            if target is None or isinstance(action, a.Opening | a.Check):
                return None
            check = a.Check(target, r.IsShown())
    return replace(step, action=check)


def turned_into_check(document: Document, line: int) -> Document:
    """The step as a check. Raises CannotBe."""
    step = step_at(document, line)
    check = as_check(step) if step is not None else None
    if check is None:
        raise CannotBe("There is nothing on the screen to check in this line.")
    return document.with_step(line, check)


def with_wait(document: Document, line: int) -> Document:
    """A wait for the step's target before it. Raises CannotBe."""
    step = step_at(document, line)
    if step is None or step.target is None:
        raise CannotBe("This line names nothing that could be waited for.")
    wait = step_line(Step(a.Wait(step.target, r.IsShown())), document.depth_of(line))
    return document.with_lines_after(line - 1, [wait])


@dataclass(frozen=True)
class Candidate:
    """Words of some lines that could be a scene's value: a name for it is proposed."""

    words: str
    name: str


def candidates(document: Document, first: int, last: int) -> list[Candidate]:
    """Words that are typed, set or chosen in those lines, and names in which something is listed, each once."""
    found: dict[str, str] = {}
    taken = variables_of(document)
    for number in range(first, last + 1):
        step = step_at(document, number)
        if step is None:
            continue
        for words, kind in step.action.texts():
            of_item = kind is Text.NAME and step.target is not None and step.target.role == "item" and step.target.name == words
            if (kind in (Text.TYPED, Text.AMOUNT) or of_item) and words and words not in found and not any(names_in(words)):
                found[words] = _free(_word_of(step), taken | set(found.values()))
    return [Candidate(words, name) for words, name in found.items()]


def _word_of(step: Step) -> str:
    name = step.target.name if step.target is not None and step.target.role != "item" else "item" if step.target is not None else "value"
    word = "".join(c if c.isascii() and c.isalnum() else "_" for c in name.lower()).strip("_")
    return word if word[:1].isalpha() else "value"


def _free(name: str, taken: set[str]) -> str:
    number = 2
    made = name
    while made in taken:
        made, number = f"{name}_{number}", number + 1
    return made


def scene_of(document: Document, first: int, last: int, name: str, values: Sequence[Candidate] = ()) -> Document:
    """Those lines as a scene of their own behind the one they stand in, performed in their place; words become its values.

    Raises CannotBe where they are no whole lines of one scene, or its name is taken.
    """
    scene = next((s for s in reversed(document.script.scenes) if s.line < first), None)
    after = next((s.line for s in document.script.scenes if s.line >= first), len(document.lines) + 1)
    if scene is None or last >= after:
        raise CannotBe("A scene is made of steps of one scene.")
    if document.script.scene(name) is not None:
        raise CannotBe(f"There is a scene {name} already.")
    steps = [step for number in range(first, last + 1) if (step := step_at(document, number)) is not None]
    if not steps:
        raise CannotBe("There is no step in these lines.")
    _must_be_whole(steps)
    said = {value.words: "{" + value.name + "}" for value in values}
    depth = document.depth_of(next(n for n in range(first, last + 1) if step_at(document, n) is not None))
    # names of the scene around that are used within have to be handed on
    own = [n for n in scene.values if any(n in step.used for step in steps)]
    inner = [_as_values(line, said, depth) for line in document.lines[first - 1 : last]]
    head = header_line(Header("scene", name, (*own, *(value.name for value in values))))
    call = step_line(Step(a.Perform(name, (*("{" + n + "}" for n in own), *(value.words for value in values)))), depth)
    lines = [line.text for line in document.lines]
    end = after - 1
    while end > last and not lines[end - 1].strip():
        end -= 1
    made = [*lines[: first - 1], call, *lines[last:end], "", head, *inner, *lines[end:]]
    return parse("\n".join(made) + ("\n" if document.last_newline else ""), document)


def _must_be_whole(steps: Sequence[Step]) -> None:
    depth = 0
    for step in steps:
        if isinstance(step.action, a.Opening):
            depth += 1
        elif isinstance(step.action, a.End):
            depth -= 1
        if depth < 0 or (depth == 0 and isinstance(step.action, a.Otherwise)):
            raise CannotBe("These lines end a block that begins elsewhere.")
    if depth:
        raise CannotBe("These lines begin a block that ends elsewhere.")


def _as_values(line: Line, said: Mapping[str, str], depth: int) -> str:
    """The line in its new scene: words that are values now are named, and it stands `depth` blocks farther out."""
    text = line.text
    if isinstance(line.item, Step):
        step = line.item.map_text(lambda words, kind: said.get(words, words) if kind.data else words)
        text = _with_step(line, step) if step.action != line.item.action else text
    outer = " " * 4 * depth
    return text.removeprefix(outer)


def free_name(document: Document, line: int) -> str:
    """A name that a value of that line's step could have."""
    step = step_at(document, line)
    return _free(_word_of(step) if step is not None else "value", variables_of(document))


def with_variable(document: Document, line: int, words: str, name: str) -> Document:
    """Those words of a line, and of every other step, as a variable. Raises CannotBe where the name is taken, or no step says them."""
    if name in variables_of(document):
        raise CannotBe(f"{name} is a value of this script already.")
    step = step_at(document, line)
    if step is None or words not in {said for said, kind in step.action.texts() if kind.data}:
        raise CannotBe("Choose words in quotes, or a number, in a step.")

    def change(each: Line) -> str | None:
        if not isinstance(each.item, Step):
            return None
        made = each.item.map_text(lambda said, kind: "{" + name + "}" if said == words and kind.data else said)
        return _with_step(each, made) if made.action != each.item.action else None

    return _changed(document, change)


def keys_after(before: Document, after: Document) -> dict[str, str]:
    """How the keys of portraits changed between two texts whose steps are the same ones, in other words."""
    old, new = ([step for _, step in d.script.steps()] for d in (before, after))
    found: dict[str, str] = {}
    for one, other in zip(old, new, strict=False):
        for mine, theirs in zip(one.action.targets(), other.action.targets(), strict=False):
            known: Target | None = mine
            made: Target | None = theirs
            while known is not None and made is not None:
                if known.words() != made.words():
                    found[known.words()] = made.words()
                known, made = known.inside, made.inside
    return found


def named_target(words: str) -> Target:
    """A target from what somebody typed. Raises CannotBe."""
    found = parse_target(words)
    if found is None:
        raise CannotBe(f'{words} names no target. One looks like button "Save".')
    return found


@dataclass(frozen=True)
class RenameSubject:
    """What stands at a place of the text: a scene's name, a value's, or a target's words."""

    kind: str  # scene, value or target
    name: str


def subject_at(document: Document, line: int, column: int) -> RenameSubject | None:
    """What a column (from 0) of a line is about."""
    if not 0 < line <= len(document.lines):
        return None
    here = document.lines[line - 1]
    for match in BRACED.finditer(here.text):
        if match.start() <= column <= match.end():
            names = list(names_in(match[0]))
            if names:
                return RenameSubject("value", names[0])
    item = here.item
    if isinstance(item, Need):
        return RenameSubject("value", item.name)
    if isinstance(item, Header):
        return RenameSubject("scene", item.value) if item.kind == "scene" else None
    if not isinstance(item, Step):
        return None
    if isinstance(item.action, a.Perform):
        return RenameSubject("scene", item.action.scene)
    found: tuple[int, str] | None = None
    for known in item.action.targets():
        target: Target | None = known
        while target is not None:
            words = written(target)
            begin = here.text.find(words)
            if begin <= column <= begin + len(words) and begin >= 0 and (found is None or len(words) < found[0]):
                found = len(words), target.words()
            target = target.inside
    first = next(iter(item.action.targets()), None)
    return RenameSubject("target", found[1]) if found is not None else RenameSubject("target", first.words()) if first is not None else None


def defined_at(document: Document, subject: RenameSubject) -> int:
    """The line where a scene or a value is made in this text; 0 where it is not."""
    for number, line in enumerate(document.lines, 1):
        item = line.item
        if subject.kind == "scene" and isinstance(item, Header) and item.kind == "scene" and item.value == subject.name:
            return number
        if subject.kind == "value":
            kept = isinstance(item, Step) and isinstance(item.action, a.Keep) and item.action.variable == subject.name
            if kept or (isinstance(item, Need) and item.name == subject.name):
                return number
            if isinstance(item, Header) and item.kind == "scene" and subject.name in item.several:
                return number
    return 0
