"""What an app does otherwise on purpose since it was recorded: worked out as a difference to the script, and taken over on demand."""

from __future__ import annotations

import contextlib
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from ..comparison.lanes import Lane
from ..files.naming import slug
from ..files.places import Place
from ..files.writing import copied
from ..language.document import Document
from ..language.refactor import rename_target, with_targets
from ..model.action import Check, Wait
from ..model.address import Address
from ..model.errors import CopioneError, FileTrouble
from ..model.formula import BRACED, names_in
from ..model.geometry import Box
from ..model.outcome import Cause, Outcome, Result
from ..model.portrait import Portrait
from ..model.reading import Looked, State
from ..model.relation import IsState, LooksAsRecorded, Reads
from ..model.roles import role_word, roles_of
from ..model.screen import Element, Screen
from ..model.step import Step
from ..model.target import AREA, Naming, Target
from ..recognition.evidence import lasting_id
from ..recognition.phrases import Interpreter
from ..recognition.scoring import kinship
from ..recognition.sighting import likely
from .archive import picture_path
from .loaded import Loaded
from .naming import frames_folder
from .portraits import Portraits
from .portraying import row_at, screen_of

STATES = {state.value: state for state in State}
MOST = 8  # elements that are asked about in a target's place
LEAST = 0.4  # score from which on something is offered in a target's place


class NothingToTakeOver(CopioneError):
    """Why a step cannot be taken over as the app is now."""


@dataclass(frozen=True)
class Shot:
    """A place in a picture: its file, the size of the screen it shows and the box, dp."""

    path: Place
    width: float
    height: float
    box: Box


@dataclass(frozen=True)
class Renewal:
    """One step as the script has it, and as it would stand. `changed` is the same step where only what its target is known by is another.

    `then` and `now` are said in words. `renamed`: what the target is called now, on every line.
    `picture` is the one of the run that the portrait was cut from. `weaker` says by how much less than was recorded it was found.
    """

    step: Step
    changed: Step
    then: str
    now: str
    portrait: Portrait | None = None
    picture: Place | None = None
    was: Shot | None = None
    seen: Shot | None = None
    renamed: Target | None = None
    weaker: str = ""

    @property
    def said(self) -> str:
        """What is otherwise, in a sentence without its full stop."""
        return self.weaker or f"{self.then} then, {self.now} now"


def can_be_renewed(result: Result) -> bool:
    """Is it of a kind that a script may have to follow: another reading, state or picture, a target that is known by something else?"""
    action = result.action
    if result.file:
        return False
    if _is_missing(result) or result.outcome is Outcome.ADAPTED:
        return bool(result.target) and bool(result.tree)
    if not result.outcome.bad or not isinstance(action, Check | Wait):
        return False
    if isinstance(action.relation, Reads):
        return bool(result.read)
    if isinstance(action.relation, IsState):
        return result.read in STATES
    return isinstance(action.relation, LooksAsRecorded) and isinstance(result.reading, Looked)


def renewal_of(loaded: Loaded, lane: Lane, address: Address, spoken: Interpreter) -> Renewal:
    """What the script would have to say for that step to hold on that device, whose language is `spoken`.

    Raises NothingToTakeOver, saying why there is nothing.
    """
    result = lane.result(address)
    if result is None or not can_be_renewed(result):
        raise NothingToTakeOver("Nothing of it can be taken over: only another reading, state or picture, or a target in another's place.")
    step = next((s for _, s in loaded.script.steps() if s.line == result.line), None)
    if step is None or step.key() != result.target or type(step.action) is not type(result.action):
        raise NothingToTakeOver(
            f"Line {result.line} is another one now than when it was replayed. Replay the script, and take it over from there."
        )
    relation = step.action.relation if isinstance(step.action, Check | Wait) else None
    if _is_missing(result):
        return _found_again(loaded, lane, result, step, spoken)
    if result.outcome is Outcome.ADAPTED:
        return _adapted(loaded, lane, result, step, spoken)
    if isinstance(relation, LooksAsRecorded):
        return _looks_so(loaded, lane, result, step)
    if isinstance(relation, Reads):
        if BRACED.search(relation.text):
            raise NothingToTakeOver(f"“{relation.text}” comes from the data. Change it in the table.")
        words = result.meant if spoken.phrases else result.read
        if not set(names_in(words)) <= loaded.secret_names:  # a secret is read as its variable
            raise NothingToTakeOver(f"It reads “{words}”: what stands in braces is a variable to a script, and no text.")
        return _reading(loaded, lane, result, step, relation.text, Reads(words))
    if isinstance(relation, IsState):
        return _reading(loaded, lane, result, step, relation.state.value, IsState(STATES[result.read]))
    raise NothingToTakeOver(f"Line {result.line} expects something else now.")


def renewals_of(loaded: Loaded, lane: Lane, spoken: Interpreter) -> tuple[Renewal, ...]:
    """All that the script would have to follow on that device: once for each target that is known by something else, and for each line."""
    found: dict[object, Renewal] = {}
    for result in lane.results():
        if can_be_renewed(result):
            with contextlib.suppress(NothingToTakeOver):
                renewal = renewal_of(loaded, lane, result.address, spoken)
                about = renewal.step.line if renewal.portrait is None else renewal.step.key()
                found.setdefault(about, renewal)
    return tuple(found.values())


def take_over_all(loaded: Loaded, renewals: Sequence[Renewal]) -> tuple[Document, Portraits]:
    """The script with all of them, and its portraits. Raises FileTrouble."""
    for renewal in sorted(renewals, key=lambda each: each.renamed is not None):  # what changes every line comes last
        document, portraits = take_over(loaded, renewal)
        loaded = loaded.edited(document, portraits)
    return loaded.document, dict(loaded.portraits)


def take_over(loaded: Loaded, renewal: Renewal) -> tuple[Document, Portraits | None]:
    """The script with it, and its portraits where they are others; the picture is copied beside the script. Raises FileTrouble."""
    document, portrait = loaded.document, renewal.portrait
    if renewal.renamed is not None:
        document, _ = rename_target(document, renewal.step.key(), renewal.renamed)
    elif renewal.changed != renewal.step:
        document = document.with_step(renewal.step.line, renewal.changed)
    if portrait is None:
        return document, None
    if renewal.picture is not None:
        frames = frames_folder(loaded.path)
        try:
            frames.mkdir(parents=True, exist_ok=True)
            if not copied(renewal.picture, frames / portrait.picture):
                portrait = replace(portrait, picture="")
        except OSError as error:
            raise FileTrouble(f"{frames} cannot be written: {error.strerror}.") from error
    key = renewal.changed.key()
    known: Mapping[str, tuple[Portrait, ...]] = loaded.portraits
    older = (*known.get(key, ()), *(known.get(renewal.step.key(), ()) if renewal.renamed is not None else ()))
    others = tuple(p for p in older if p.screen.signature != portrait.screen.signature)
    return document, {**known, key: (portrait, *others)}


def _is_missing(result: Result) -> bool:
    return result.obstacle is None and result.why is not None and result.why.cause in (Cause.NOT_HERE, Cause.NOT_SHOWN)


def _reading(loaded: Loaded, lane: Lane, result: Result, step: Step, then: str, relation: Reads | IsState) -> Renewal:
    assert isinstance(step.action, Check | Wait)
    changed = replace(step, action=replace(step.action, relation=relation), source=None)
    now = relation.text if isinstance(relation, Reads) else relation.state.value
    seen = _shot(lane, result, result.box)
    return Renewal(step, changed, then, now, was=_recorded(loaded, step), seen=seen)


def _looks_so(loaded: Loaded, lane: Lane, result: Result, step: Step) -> Renewal:
    screen = _screen(lane, result)
    row = row_at(screen, result.box) if result.box is not None else None
    if row is None:
        raise NothingToTakeOver(f"{lane.device.name} keeps no place of it: replay the script, and take it over from there.")
    return _known_by(loaded, lane, result, step, screen, row, ("as recorded", result.read))


def _found_again(loaded: Loaded, lane: Lane, result: Result, step: Step, spoken: Interpreter) -> Renewal:
    target = step.target
    assert target is not None
    screen = _screen(lane, result)
    if target.role == AREA:
        raise NothingToTakeOver("An area is no element: record it again.")
    roles, said = roles_of(target.role), f"{target.role or 'element'} “{target.name}”"
    near = likely(screen, target, roles, loaded.portraits.get(step.key(), ()), MOST)
    alike = [e for e, score in near if score >= LEAST and (not roles or any(kinship(role, e.role) for role in roles))]
    if not alike:
        raise NothingToTakeOver(f"Nothing on that screen is like {said}. Try the step on the device, and point at what it is.")
    return _now_called(_known_by(loaded, lane, result, step, screen, alike[0].row, (said, _said(alike[0], spoken))), spoken)


def _adapted(loaded: Loaded, lane: Lane, result: Result, step: Step, spoken: Interpreter) -> Renewal:
    """It was found by less than was recorded: what it is known by now."""
    screen = _screen(lane, result)
    row = row_at(screen, result.box) if result.box is not None else None
    known = next((p.element for p in loaded.portraits.get(step.key(), ()) if not p.grip), None)
    if row is None or known is None:
        raise NothingToTakeOver("Nothing is recorded that it could be held against.")
    element, target = screen.element(row), step.target
    assert target is not None
    varies = target.naming is not Naming.CALLED or BRACED.search(target.name) is not None  # it is called otherwise from time to time
    same_name = varies or spoken.back(element.name) == known.name
    if same_name and (lasting_id(element), element.role) == (lasting_id(known), known.role):
        raise NothingToTakeOver("It is known as it was recorded; only the way to it is another.")
    renewal = _known_by(loaded, lane, result, step, screen, row, (_said(known), _said(element, spoken)))
    return _now_called(replace(renewal, weaker=result.reason), spoken)


def _said(element: Element, spoken: Interpreter | None = None) -> str:
    return f"{role_word(element.role)} “{spoken.back(element.name) if spoken is not None else element.name}”"


def _now_called(renewal: Renewal, spoken: Interpreter) -> Renewal:
    """With the name that its target has now, where the script calls it by its name."""
    target, portrait = renewal.step.target, renewal.portrait
    assert target is not None and portrait is not None
    element = portrait.element
    called = " ".join(spoken.back(element.name).split())
    if not called or not target.name or target.naming is not Naming.CALLED or called == target.name or BRACED.search(target.name + called):
        return renewal
    fits = roles_of(target.role)
    renamed = replace(target, name=called, role=target.role if not fits or element.role in fits else role_word(element.role))

    def change(known: Target) -> Target:
        return renamed if known == target else known

    return replace(renewal, renamed=renamed, changed=with_targets(renewal.step, change))


def _known_by(loaded: Loaded, lane: Lane, result: Result, step: Step, screen: Screen, row: int, said: tuple[str, str]) -> Renewal:
    picture = picture_path(lane.folder, result.before) if lane.folder is not None and result.before else None
    whole = picture is not None and picture.exists()
    name = f"build-{slug(lane.build or 'unknown')}-{zlib.crc32(str(picture).encode()):08x}.png" if whole else ""
    portrait = Portrait(screen, row, result.scene, name, build=lane.build, locale=lane.device.locale)
    seen = _shot(lane, result, portrait.element.box)
    return Renewal(step, step, *said, portrait, picture if whole else None, _recorded(loaded, step), seen)


def _screen(lane: Lane, result: Result) -> Screen:
    screen = screen_of(lane.folder, lane.device, result) if lane.folder is not None else None
    if screen is None:
        raise NothingToTakeOver(f"No tree of {lane.device.name} is kept for this step.")
    return screen


def _shot(lane: Lane, result: Result, box: Box | None) -> Shot | None:
    if lane.folder is None or not result.before or box is None:
        return None
    wide, tall = lane.device.width, lane.device.height
    return Shot(picture_path(lane.folder, result.before), *((tall, wide) if result.turned else (wide, tall)), box)


def _recorded(loaded: Loaded, step: Step) -> Shot | None:
    portrait = next((p for p in loaded.portraits.get(step.key(), ()) if p.picture), None)
    if portrait is None:
        return None
    return Shot(frames_folder(loaded.path) / Path(portrait.picture).name, portrait.screen.width, portrait.screen.height, portrait.box)
