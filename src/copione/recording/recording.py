"""The steps of a recording as they grow: a pure state with undo, told of meanings, turned into a script and its portraits."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping
from dataclasses import dataclass, field, replace

from ..language.printer import step_words
from ..language.registry import spec_of
from ..model.action import Append, Choose, DoubleTap, Keep, SetTo, Tap, Type, Wait
from ..model.doubt import Doubt
from ..model.geometry import Box
from ..model.portrait import Portrait
from ..model.relation import IsShown
from ..model.screen import Element
from ..model.step import Need, Scene, Script, Step
from ..model.target import Target
from ..model.words import BRACED, Text
from ..project.portraits import Portraits
from ..recognition.ease import ease
from ..recognition.evidence import lasting_id, same_id
from ..recognition.reach import scroller_of
from .intent import Meaning, found_in_list, portrayed
from .targets import target_of

PATIENCE_S = 8.0
Mark = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class RecordedStep:
    """One step with what it was read from. `shot` is the stem of the moment it was read against; `mark` the gesture's points in dp;
    `bars` how easy its target is to find again (1-3, 0 without a target); `doubt` why it may be about another element; `others` what it
    may have been instead."""

    uid: int
    scene: str
    step: Step
    portraits: tuple[tuple[Target, Portrait], ...] = ()
    shot: str = ""
    mark: Mark = ()
    scrolled: bool = False
    bars: int = 0
    doubt: Doubt | None = None
    others: tuple[RecordedStep, ...] = ()

    @property
    def words(self) -> str:
        """The step as the script will have it."""
        return step_words(self.step)

    @property
    def element(self) -> Element | None:
        """The element it acts on, as it was recorded."""
        return self.portraits[0][1].element if self.portraits else None

    @property
    def box(self) -> Box | None:
        """What is meant, dp: an element's box, or an area of it."""
        return self.portraits[0][1].box if self.portraits else None


Steps = tuple[RecordedStep, ...]


@dataclass(frozen=True)
class RecordingState:
    """A recording as it stands: its steps, the scene that goes on, and the values of the variables that were made."""

    steps: Steps = ()
    scene: str = "Scene 1"
    values: Mapping[str, str] = field(default_factory=dict)

    def with_steps(self, steps: Iterable[RecordedStep]) -> RecordingState:
        """The same with other steps."""
        return replace(self, steps=tuple(steps))


class Recording:
    """The one owner of what is recorded. Every change gives a new `state`, keeps the one before for undo, and tells `changed`."""

    def __init__(self, app: str = "", scene: str = "Scene 1", changed: Callable[[RecordingState], None] = lambda state: None) -> None:
        self.app = app
        self.state = RecordingState(scene=scene)
        self._changed = changed
        self._past: list[RecordingState] = []
        self._future: list[RecordingState] = []
        self._next = 1

    @property
    def steps(self) -> Steps:
        """The steps so far."""
        return self.state.steps

    @property
    def scene(self) -> str:
        """The scene that what is recorded next belongs to."""
        return self.state.scene

    # growing

    def add(self, meaning: Meaning, shot: str = "", mark: Mark = (), doubt: Doubt | None = None) -> RecordedStep:
        """Take a meaning in, merged with what came before: scrolls into a find, a tap on a field into its typing."""
        element = meaning.element
        before = list(self.steps)
        if element is not None and not meaning.scrolled:
            before, folded = self._fold_scrolls(before, element, shot)
            if folded:
                meaning = replace(meaning, portraits=tuple((t, replace(p, scrolled=True)) for t, p in meaning.portraits))
        if before and (self._same_field(before[-1], meaning) or _same_choice(before[-1], meaning) or _same_taps(before[-1], meaning)):
            mark = mark or before[-1].mark
            shot = before[-1].shot or shot
            meaning = _appended(before.pop(), meaning)
        recorded = replace(self._recorded(meaning, shot, mark), doubt=doubt)
        self._set_steps((*before, recorded))
        return recorded

    def replace_from(self, uid: int, meaning: Meaning) -> RecordedStep:
        """The step of that number and all after it were one: the meaning takes their place, with the first one's frame."""
        place = next(i for i, s in enumerate(self.steps) if s.uid == uid)
        first = self.steps[place]
        recorded = self._recorded(meaning, first.shot, first.mark)
        self._set_steps((*self.steps[:place], recorded))
        return recorded

    def _recorded(self, meaning: Meaning, shot: str, mark: Mark) -> RecordedStep:
        portraits = tuple((target, replace(p, scene=self.scene, picture=f"{shot}.png" if shot else "")) for target, p in meaning.portraits)
        bars = ease(meaning.portraits[0][1].element) if meaning.portraits else 0
        recorded = RecordedStep(self._next, self.scene, meaning.step, portraits, shot, mark, meaning.scrolled, bars)
        self._next += 1
        return recorded

    def _fold_scrolls(self, before: list[RecordedStep], element: Element, shot: str) -> tuple[list[RecordedStep], bool]:
        """Scrolls of the container that the next target stands in were the search for it: were there any that no step tells of now?"""
        scroller = scroller_of(element)
        kept = list(before)
        folded = False
        while kept and kept[-1].scrolled and scroller is not None and _same_place(kept[-1].element, scroller):
            kept.pop()
            folded = True
        item = element if element.role == "listitem" else next((a for a in element.ancestors() if a.role == "listitem"), None)
        meaning = found_in_list(item) if folded and item is not None else None
        return ([*kept, self._recorded(meaning, shot, ())], False) if meaning is not None else (kept, folded)

    @staticmethod
    def _same_field(last: RecordedStep, meaning: Meaning) -> bool:
        if not isinstance(meaning.step.action, Type) or last.step.target != meaning.step.target:
            return False
        return isinstance(last.step.action, Tap | Type | Append)

    # changing

    def new_scene(self, name: str) -> None:
        """What is recorded from now on belongs to this scene."""
        self._set(replace(self.state, scene=name))

    def rename_scene(self, old: str, new: str) -> None:
        """Call a scene otherwise, in all its steps."""

        def renamed(s: RecordedStep) -> RecordedStep:
            if s.scene != old:
                return s
            return replace(s, scene=new, portraits=tuple((target, replace(p, scene=new)) for target, p in s.portraits))

        scene = new if self.scene == old else self.scene
        self._set(replace(self.state, scene=scene, steps=tuple(map(renamed, self.steps))))

    def delete(self, uid: int) -> None:
        """Remove a step."""
        self._set_steps(s for s in self.steps if s.uid != uid)

    def _change_one(self, uid: int, change: Callable[[RecordedStep], RecordedStep]) -> None:
        self._set_steps(change(s) if s.uid == uid else s for s in self.steps)

    def take_back(self) -> RecordedStep | None:
        """Remove the last step."""
        if not self.steps:
            return None
        last = self.steps[-1]
        self.delete(last.uid)
        return last

    def change(self, uid: int, step: Step) -> None:
        """Replace what a step says; its portraits follow when its target is renamed."""
        self._change_one(uid, lambda s: replace(s, step=step, portraits=_following(s.portraits, s.step, step)))

    def retarget(self, uid: int, element: Element) -> None:
        """Point a step at another element of the same frame; what only the old one takes becomes a tap."""

        def pointed(s: RecordedStep) -> RecordedStep:
            target = target_of(element)
            roles = spec_of(type(s.step.action)).roles
            fits = s.step.target is not None and (not roles or element.role in roles)
            step = s.step.on(target) if fits else Step(Tap(target))
            picture = s.portraits[0][1].picture if s.portraits else ""
            kept = tuple((key, replace(p, scene=s.scene, picture=picture)) for key, p in portrayed(target, element))
            others = step.action.targets()[1:]
            rest = tuple((key, p) for key, p in s.portraits[1:] if key in others)
            return replace(s, step=step, portraits=(*kept, *rest), bars=ease(element), doubt=None, others=())

        self._change_one(uid, pointed)

    def wait_first(self, uid: int) -> None:
        """An explicit wait for a step's target before it."""
        steps: list[RecordedStep] = []
        for s in self.steps:
            if s.uid == uid and s.step.target is not None:
                waiting = Step(Wait(s.step.target, IsShown()))
                steps.append(replace(s, uid=self._next, step=waiting, mark=(), doubt=None, others=()))
                self._next += 1
            steps.append(s)
        self._set_steps(steps)

    def set_alternatives(self, uid: int, meanings: Iterable[Meaning], shot: str) -> None:
        """Other readings of a step in doubt. No change of the user's, so there is nothing to undo."""

        def offered(s: RecordedStep) -> RecordedStep:
            others = {m.step: self._recorded(m, shot, s.mark) for m in meanings if m.step != s.step}
            return replace(s, others=tuple(replace(other, uid=s.uid, scene=s.scene) for other in others.values()))

        self._publish(self.state.with_steps(offered(s) if s.uid == uid else s for s in self.steps))

    def take_alternative(self, uid: int, number: int) -> None:
        """It was the other reading of that number, from 0."""
        self._change_one(uid, lambda s: s.others[number])

    def split(self, uid: int, at: int) -> None:
        """One typing as two: the words up to `at`, and the rest appended."""
        steps: list[RecordedStep] = []
        for s in self.steps:
            typing = s.step.action
            if s.uid != uid or not isinstance(typing, Type | Append) or not 0 < at < len(typing.text):
                steps.append(s)
                continue
            rest = Append(typing.target, typing.text[at:])
            steps.append(replace(s, step=replace(s.step, action=replace(typing, text=typing.text[:at]))))
            steps.append(replace(s, uid=self._next, step=replace(s.step, action=rest)))
            self._next += 1
        self._set_steps(steps)

    def merge(self, uid: int) -> None:
        """A typing and the one before it in the same field as one."""
        if not mergeable(self.steps, uid):
            return
        place = next(i for i, s in enumerate(self.steps) if s.uid == uid)
        last, this = self.steps[place - 1], self.steps[place]
        first, then = last.step.action, this.step.action
        assert isinstance(first, Type | Append)
        said = replace(last.step, action=replace(first, text=first.text + then.text)) if isinstance(then, Append) else this.step
        self._set_steps((*self.steps[: place - 1], replace(this, step=said), *self.steps[place + 1 :]))

    def make_variable(self, value: str, name: str) -> None:
        """Wherever a step says exactly `value` as a name or a value of its own, it says {name}; `value` becomes the first data row's."""
        braced = "{" + name + "}"

        def words(said: str, kind: Text) -> str:
            if kind is Text.PATTERN:
                return said
            return braced if kind.data and said == value else said

        def varied(s: RecordedStep) -> RecordedStep:
            step = s.step.map_text(words)
            return s if step == s.step else replace(s, step=step, portraits=_following(s.portraits, s.step, step))

        self._set(replace(self.state, values={**self.state.values, name: value}, steps=tuple(map(varied, self.steps))))

    def undo(self) -> bool:
        """Take the last change back; False where there is none."""
        if not self._past:
            return False
        self._future.append(self.state)
        self._publish(self._past.pop())
        return True

    def redo(self) -> bool:
        """Do again what was taken back; False where nothing was."""
        if not self._future:
            return False
        self._past.append(self.state)
        self._publish(self._future.pop())
        return True

    def restore(self, state: RecordingState) -> None:
        """Begin with what was recovered."""
        self._next = max((s.uid for s in state.steps), default=0) + 1
        self._publish(state)

    def _set_steps(self, steps: Iterable[RecordedStep]) -> None:
        self._set(self.state.with_steps(steps))

    def _set(self, state: RecordingState) -> None:
        self._past.append(self.state)
        self._future.clear()
        self._publish(state)

    def _publish(self, state: RecordingState) -> None:
        self.state = state
        self._changed(state)

    # what it becomes

    def stretch(self, uids: Collection[int] | None) -> Steps:
        """The steps of those numbers, in order; all for None."""
        return self.steps if uids is None else tuple(s for s in self.steps if s.uid in uids)

    def script(self, name: str, uids: Collection[int] | None = None) -> Script:
        """The script a person would write for these steps, or for some of them."""
        scenes: list[tuple[str, list[Step]]] = []
        for recorded in self.stretch(uids):
            if not scenes or scenes[-1][0] != recorded.scene:
                scenes.append((recorded.scene, []))
            scenes[-1][1].append(recorded.step)
        made = Script(name, self.app, PATIENCE_S, scenes=tuple(Scene(n, tuple(steps)) for n, steps in scenes))
        named = dict.fromkeys(step.action.named_app for _, step in made.steps())
        made = replace(made, others=tuple(word for word in named if word not in ("", self.app)))
        return replace(made, needs=tuple(Need(each, secret=True) for each in self.secret_names(made)))

    def secret_names(self, script: Script) -> list[str]:
        """Variables of a script of these steps that stand for what was typed unseen: all that have no value here, and keep none."""
        used = [name for _, step in script.steps() for name in sorted(step.used)]
        kept = {step.action.variable for _, step in script.steps() if isinstance(step.action, Keep)}
        return [name for name in dict.fromkeys(used) if name not in self.state.values and name not in kept]

    def row(self, script: Script) -> dict[str, str]:
        """The data row that a script of these steps needs: the values of its variables as they were recorded."""
        used = {name for _, step in script.steps() for name in step.used}
        return {name: value for name, value in self.state.values.items() if name in used}

    def portraits(self) -> Portraits:
        """Every target's portraits by its words; the same element in the same scene once."""
        found: dict[str, list[Portrait]] = {}
        for recorded in self.steps:
            for target, portrait in recorded.portraits:
                several = found.setdefault(target.words(), [])
                if not any(
                    (p.scene, p.grip) == (portrait.scene, portrait.grip) and p.screen.signature == portrait.screen.signature
                    for p in several
                ):
                    several.append(portrait)
        return {key: tuple(several) for key, several in found.items()}


def _following(portraits: tuple[tuple[Target, Portrait], ...], old: Step, new: Step) -> tuple[tuple[Target, Portrait], ...]:
    """A step's portraits under its targets' new words."""
    named: dict[Target, Target] = {}
    for before, after in zip(old.action.targets(), new.action.targets(), strict=False):
        one: Target | None = before
        other: Target | None = after
        while one is not None and other is not None:
            named[one] = other
            one, other = one.inside, other.inside
    return tuple((named.get(target, target), p) for target, p in portraits)


def mergeable(steps: Steps, uid: int) -> bool:
    """Does that step type on where the step before it typed?"""
    place = next((i for i, s in enumerate(steps) if s.uid == uid), 0)
    if not place:
        return False
    last, this = steps[place - 1].step.action, steps[place].step.action
    if not isinstance(last, Type | Append) or not isinstance(this, Type | Append):
        return False
    return this.target == last.target and BRACED.search(last.text + this.text) is None


def _appended(last: RecordedStep, meaning: Meaning) -> Meaning:
    """What is typed behind the words a field held before is appended to them."""
    field, typing, before = last.element, meaning.step.action, last.step.action
    if not isinstance(typing, Type) or field is None or BRACED.fullmatch(typing.text):
        return meaning
    held = field.text if isinstance(before, Tap) else field.text.removesuffix(before.text) if isinstance(before, Append) else ""
    if not held or not typing.text.startswith(held) or typing.text == held:
        return meaning
    return replace(meaning, step=replace(meaning.step, action=Append(typing.target, typing.text[len(held) :])))


def _same_taps(last: RecordedStep, meaning: Meaning) -> bool:
    """A double click's first click came as a tap of its own."""
    return isinstance(meaning.step.action, DoubleTap) and isinstance(last.step.action, Tap) and last.step.target == meaning.step.target


def _same_choice(last: RecordedStep, meaning: Meaning) -> bool:
    """A wheel turned again, or a slider moved again: only where it came to rest counts."""
    this = meaning.step.action
    return isinstance(this, Choose | SetTo) and type(last.step.action) is type(this) and last.step.target == meaning.step.target


def _same_place(container: Element | None, scroller: Element) -> bool:
    if container is None or container.role != scroller.role:
        return False
    return same_id(container, scroller) if lasting_id(container) or lasting_id(scroller) else container.name == scroller.name
