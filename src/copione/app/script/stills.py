"""What the strip shows of a script: a frame a step, and brackets round the scenes and blocks they stand in."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, replace
from enum import Enum
from pathlib import Path

from ...comparison.lanes import Lanes
from ...files.places import Place
from ...language.parser import split_comment
from ...language.printer import step_words
from ...model.action import Opening, Otherwise, Perform
from ...model.address import Address
from ...model.blocks import Block, Node, nested
from ...model.geometry import Box
from ...model.library import OWN, Library
from ...model.portrait import Portrait
from ...model.step import Scene, Step
from ...project.archive import picture_path
from ...project.loaded import Loaded
from ...project.naming import frames_folder
from ...project.portraits import Portraits

MOST = 4000  # frames; what a loop performs a thousand times is seen once
DEEP = 20


class Of(Enum):
    """What a bracket goes round."""

    SCENE, WHEN, LOOP, PERFORMED = "scene", "when", "loop", "performed"


Key = tuple[int, str]  # the line in the script itself that a bracket is about, and what tells it apart from others there


@dataclass(frozen=True)
class Still:
    """One frame: the step, the line of the script itself, its picture, and where on a screen of that size (dp) the target is."""

    step: Step
    line: int
    words: str
    picture: Place | None = None
    box: Box | None = None
    size: tuple[float, float] = (412.0, 892.0)


@dataclass(frozen=True)
class Bracket:
    """Round the frames from `first` to `last`. `depth` 0 is a scene's; `steps` are hidden while it is `folded`."""

    key: Key
    of: Of
    words: str
    first: int
    last: int
    depth: int
    steps: int
    folded: bool


@dataclass(frozen=True)
class Film:
    """All frames, and the brackets round them, the outer ones first."""

    stills: tuple[Still, ...] = ()
    brackets: tuple[Bracket, ...] = ()

    @property
    def depth(self) -> int:
        """How many brackets stand within one another, at most."""
        return max((b.depth + 1 for b in self.brackets), default=0)


@dataclass
class _Making:
    loaded: Loaded
    lanes: Lanes
    turned: Collection[Key]
    stills: list[Still] = field(default_factory=list)
    brackets: list[Bracket] = field(default_factory=list)
    done: dict[tuple[type, str], list[Address]] = field(default_factory=dict)


def film(loaded: Loaded, lanes: Lanes, turned: Collection[Key]) -> Film:
    """The film of a script, with pictures of the run where nothing was recorded. `turned`: brackets that somebody folded, or opened where
    they are folded at first, as performed scenes are."""
    making = _Making(loaded, lanes, turned, done=done_in(lanes))
    for scene in loaded.script.scenes:
        _bracketed(making, (scene.line, "scene"), Of.SCENE, scene.name, nested(scene.steps), scene, OWN, 0, 0)
    stills = making.stills
    for i in range(len(stills) - 2, -1, -1):  # a step without a target shows what the next one stands on
        if stills[i].picture is None:
            stills[i] = replace(stills[i], picture=stills[i + 1].picture, size=stills[i + 1].size)
    return Film(tuple(stills), tuple(sorted(making.brackets, key=lambda b: (b.depth, b.first))))


def _bracketed(
    making: _Making, key: Key, of: Of, words: str, nodes: tuple[Node, ...], scene: Scene, file: str, depth: int, line: int
) -> None:
    """Frames of some nodes with a bracket round them. `line`: where in the script itself they are performed; 0 where they stand there."""
    first = len(making.stills)
    folded = (key in making.turned) != (of is Of.PERFORMED)
    for node in nodes:
        _node(making, node, scene, file, depth + 1, line, key)
    count = len(making.stills) - first
    if not count:
        return
    if folded:
        del making.stills[first + 1 :]
        making.brackets = [b for b in making.brackets if b.first < first]
        count_said = f"{words} · {count} step{'s' if count > 1 else ''}"
        making.brackets.append(Bracket(key, of, count_said, first, first, depth, count, True))
    else:
        making.brackets.append(Bracket(key, of, words, first, len(making.stills) - 1, depth, count, False))


def _node(making: _Making, node: Node, scene: Scene, file: str, depth: int, line: int, above: Key) -> None:
    if len(making.stills) >= MOST:
        return
    if isinstance(node, Block):
        head, place = node.head, line or node.head.line
        of = Of.LOOP if isinstance(head.action, Opening) and head.action.loops else Of.WHEN
        apart = f"{above[1]}/{head.line}"
        _bracketed(making, (place, apart), of, step_words(head), node.body, scene, file, depth, line)
        _bracketed(making, (place, apart + " otherwise"), Of.WHEN, Otherwise.verb, node.instead, scene, file, depth, line)
        return
    place = line or node.line
    library: Library = making.loaded.library
    there = library.scene(file, node.action.scene) if isinstance(node.action, Perform) and depth < DEEP else None
    if there is not None:
        key = place, f"{above[1]}/{node.line} performed"
        nodes = nested(there.scene.steps)
        _bracketed(making, key, Of.PERFORMED, there.scene.name, nodes, there.scene, there.file, depth, place)
        return
    making.stills.append(_still(making, node, scene, file, place))


def _still(making: _Making, step: Step, scene: Scene, file: str, line: int) -> Still:
    portraits, folder = _kept(making.loaded, file)
    portrait = portrait_in(portraits, scene.name, step)
    still = Still(step, line, split_comment(step.source)[0].strip() if step.source else step_words(step))
    if portrait is not None and portrait.picture:
        return replace(still, picture=folder / portrait.picture, box=portrait.box, size=(portrait.screen.width, portrait.screen.height))
    address = nearest(making.done, step)
    for lane, result in making.lanes.cells(address)[:1] if address is not None else ():
        name, device = result.before or result.after, lane.device
        if lane.folder is not None and name:
            return replace(still, picture=picture_path(lane.folder, name), box=result.box, size=(device.width, device.height))
    return still


def _kept(loaded: Loaded, file: str) -> tuple[Portraits, Path]:
    """Portraits and frames beside a file of scripts."""
    used = loaded.used.get(file)
    return (used.portraits, frames_folder(used.path)) if used is not None else (loaded.portraits, frames_folder(loaded.path))


def done_in(lanes: Lanes) -> dict[tuple[type, str], list[Address]]:
    """Where a run did what to which target."""
    found: dict[tuple[type, str], list[Address]] = {}
    for column in lanes.columns:
        target = next((r.target for lane in lanes.lanes if (r := lane.result(column.address)) is not None), "")
        if column.action is not None:
            found.setdefault((type(column.action), target), []).append(column.address)
    return found


def nearest(done: Mapping[tuple[type, str], list[Address]], step: Step) -> Address | None:
    """Where in a run the step was done: the nearest line that did the same to the same target."""
    return min(done.get((type(step.action), step.key()), ()), key=lambda address: abs(address.line - step.line), default=None)


def portrait_in(portraits: Portraits, scene: str, step: Step) -> Portrait | None:
    """The portrait shown for a step: the one recorded in its scene, else any."""
    several = [p for p in portraits.get(step.key(), ()) if not p.grip]
    return next((p for p in several if p.scene == scene), several[0] if several else None)
