"""One step while it is done: what its performer works with, and what is gathered of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from ..links.link import Link
from ..model.action import Append, DoubleTap, DragBy, Fling, Hold, Swipe, Tap, Type
from ..model.clock import Clock
from ..model.errors import CannotDo
from ..model.formula import names_in
from ..model.geometry import Box
from ..model.gesture import Contact
from ..model.outcome import Cause, Evidence, Outcome, Reason
from ..model.portrait import NotFound, Portrait, Sighting
from ..model.reading import Reading
from ..model.screen import Element, Moment, Screen
from ..model.step import Step
from ..model.target import AREA, Target
from ..recognition.evidence import visible
from ..recognition.pictures import Picture
from ..recognition.reach import Reach, in_sight, reach
from ..recognition.text import can_read, said_in
from ..screens.reading import is_wheel, reads
from ..touch.making import tap
from .by_picture import screen_picture
from .conditions import Conditions
from .evidence import WantedTarget
from .finder import CALM_S, TargetFinder
from .found import Found, Lost
from .plan import TakePlan
from .presence import ScreenChange, doubt_after
from .shown import Visibility, visibility
from .watch import ScreenWatch

SMALL = 24.0  # dp: WCAG 2.2, success criterion 2.5.8, asks for targets of at least 24 CSS pixels
ONE_GESTURE = (Tap, DoubleTap, Hold, Swipe, Fling, DragBy)
MIDDLE_ROW = Box(0.0, 0.36, 1.0, 0.64)  # of a wheel that shows three: the one that is chosen
READ = frozenset({Evidence.PICTURE, Evidence.WRITTEN, Evidence.PLACE})  # evidence that takes its time to be read
AIMS = 8  # times that a target is looked for anew because it did not stay
Mark = tuple[tuple[float, float], ...]


@dataclass
class StepContext:
    """`asked` is the step as the script's text has it, `step` the same with its data, in the device's language.

    `keep` takes a variable's name and value for the steps that follow; `speak` hears of another language;
    `recorded_after` gives the screen that was recorded after the step, where one was.
    The rest is what becomes of the step; a performer that changes nothing of it has held.
    """

    asked: Step
    step: Step
    scene: str
    finder: TargetFinder
    plan: TakePlan
    conditions: Conditions
    keep: Callable[[str, str], None]
    spoken: str = ""  # the locale that the app speaks as far as the take knows, BCP 47
    speak: Callable[[str], None] = lambda locale: None
    recorded_after: Callable[[], Screen | None] = lambda: None
    outcome: Outcome = Outcome.HELD
    evidence: tuple[Evidence, ...] = ()
    notes: list[str] = field(default_factory=list)
    scrolled: bool = False  # to the target: another way than recorded
    why: Reason | None = None
    reading: Reading | None = None
    box: Box | None = None
    mark: Mark = ()
    before: str = ""
    moment: Moment | None = None  # what `before` is of
    waited: float = 0.0  # seconds until the target came, while nothing else was done
    since: float = 0.0  # when the step before began, seconds since the epoch
    secret: bool = False  # what it types or looks for is not to be told
    unmoved: dict[str, Picture] = field(default_factory=dict)  # by target's words, before a finger moved them in this take
    element: Element | None = None  # the target, as it was found
    covered: str = ""  # what lay over the target until it went by itself
    hidden: bool | None = None  # the target did not show while it was typed into; None where no keyboard was up
    weak: bool = False  # it was found by less than what was recorded of it
    touched: list[str] = field(default_factory=list)  # all that a finger was put on, as a person calls it
    turns: Sequence[Mapping[str, str]] = ()  # of the loop that it is the head of: the values of each
    package: str = ""  # of the app that the script is in now
    values: tuple[str, ...] = ()  # with which a scene is performed

    def package_of(self, word: str) -> str:
        """The package of an app by its word; of the app under test without one. Raises CannotDo where the platform has none."""
        if not word:
            return self.plan.package
        if word not in self.plan.packages:
            platform = self.plan.device.platform
            raise CannotDo(f"project.toml does not say which {platform} app {word} is: add it under [apps.{word}].")
        return self.plan.packages[word]

    @property
    def patience(self) -> float:
        """The script's, in seconds."""
        return self.plan.script.patience

    @property
    def watch(self) -> ScreenWatch:
        """The device's screen."""
        return self.finder.watch

    @property
    def link(self) -> Link:
        """The device."""
        return self.watch.link

    @property
    def clock(self) -> Clock:
        """The take's clock."""
        return self.watch.clock

    @property
    def trouble(self) -> str:
        """What the device said when it gave no tree for the newest moment."""
        return self.watch.moment.trouble

    @property
    def locale(self) -> str:
        """The language of the newest screen: what the page itself says, else what the app speaks."""
        screen = self.watch.moment.screen
        return (screen.language if screen is not None else "") or self.spoken

    def shown(self) -> Visibility:
        """Whether the target is shown on the newest moment."""
        return visibility(self.finder, self.wanted())

    # what becomes of it

    def stuck(self, cause: Cause, words: str, about: str = "", element: Element | None = None) -> None:
        """It cannot be done; what was said first of why not stays."""
        if self.outcome is Outcome.STUCK:
            return
        self.outcome, self.why = Outcome.STUCK, Reason(cause, words, about)
        if element is not None:
            self.box = visible(element)

    def lost(self, lost: Lost, words: str = "") -> None:
        """It cannot be done, for the target is not there or not in reach; `words`: whose fault it is, before the reason."""
        self.stuck(lost.why.cause, f"{words}{lost.why.words}", lost.why.about or words)
        self.box = visible(lost.element) if lost.element is not None else None

    def differs(self, cause: Cause, words: str, about: str = "") -> None:
        """Something else than expected is there."""
        self.outcome, self.why = Outcome.DIFFERS, Reason(cause, words, about)

    def found(self, found: Found) -> None:
        """The target was found; by weaker evidence or another route it is adapted."""
        self.evidence, self.element = found.sighting.by, found.element
        self.box = visible(found.element)
        self.scrolled = self.scrolled or found.scrolled
        self.weak = bool(found.sighting.weaker)
        self.notes += [found.sighting.weaker] if found.sighting.weaker else []
        if found.covered:
            self.covered = found.covered
            self.notes.append(f"“{found.covered}” lay over it for a while")

    def note_moment(self) -> None:
        """What becomes of it is judged by the newest moment: its picture is the one before the act."""
        self.before, self.moment = self.watch.stem, self.watch.moment

    def hide(self) -> None:
        """What the step types is secret from now on, whatever it was called before: a password field gets it."""
        action = self.step.action
        if isinstance(action, Type | Append):
            names = [*dict.fromkeys(names_in(getattr(self.asked.action, "text", "")))]
            self.plan.redactor.learn({names[0] if len(names) == 1 else "password": action.text})
        self.secret = True

    # finding

    def wanted(self, number: int = 0) -> WantedTarget:
        """The target of that number, as it is looked for."""
        return self.finder.recorded.wanted(self.step.action.targets()[number], self.asked.action.targets()[number], self.scene)

    def limit(self, most: float | None = None) -> float:
        """Seconds the step may take: what its line says, else the script's patience, or `most` of it."""
        if self.step.within is not None:
            return self.step.within
        return self.patience if most is None else min(most, self.patience)

    def find(self, *, reachable: Callable[[Element], Reach] = reach, instead: WantedTarget | None = None) -> Found | None:
        """The target, or what will do `instead`, ready to be touched now; None, and the step is stuck, where it is not.

        See `TargetFinder.find`.
        """
        until = self.clock.now() + self.limit()
        for _ in range(AIMS):
            found = self.see(patience=max(0.0, until - self.clock.now()), reachable=reachable, instead=instead)
            if found is None or self.watch.sure(found.element):
                return found
            self.notes, self.evidence, self.scrolled, self.covered = [], (), False, ""
        self.stuck(Cause.PASSED, "it does not stay where it is")
        return None

    def see(
        self,
        *,
        eager: bool = False,
        patience: float | None = None,
        calm: float = CALM_S,
        reachable: Callable[[Element], Reach] = in_sight,
        instead: WantedTarget | None = None,
        still: bool = False,
    ) -> Found | None:
        """The target, to be read; None, and the step is stuck, where it is not. See `TargetFinder.find`."""
        wanted = self.wanted()
        wanted = replace(wanted, instead=instead or wanted.instead)
        limit = patience if patience is not None else self.limit()
        since, looks, strokes, held_up = self.clock.now(), self.watch.looks, self.watch.strokes, self.link.held_up()
        found = self.finder.find(
            wanted, limit, eager=eager, place=self.step.place, calm=calm, reachable=reachable, still=still, ends=not self.step.is_check
        )
        self.note_moment()
        if isinstance(found, Lost):
            self.lost(found)
            return None
        self.found(found)
        alone = strokes == self.watch.strokes and not found.covered and not self.watch.made_room  # nothing else was done or waited for
        if looks < self.watch.looks and alone and not set(found.sighting.by) & READ:
            for_computer = max(0.0, self.link.held_up() - held_up)
            self.waited = max(0.0, self.clock.now() - since - self.watch.bare - for_computer)
        small = _shrunk(found.element, wanted.portraits)
        if small and wanted.target.role != AREA:
            self.notes.append(small)
        return found

    def again(self, number: int = 0) -> Element | None:
        """The target of that number on the newest moment."""
        found = self.finder.now(self.wanted(number))
        return found.element if isinstance(found, Sighting) else None

    def find_other(self) -> Element | None:
        """The second target, on the newest moment; None, and the step is stuck, where it is not in sight."""
        wanted = self.wanted(1)
        found = self.finder.now(wanted)
        if isinstance(found, NotFound):
            self.lost(Lost(found.why), f"{wanted.target.words()}: ")
            return None
        return found.element

    def find_named(self, name: str, inside: Target | None = None, *, eager: bool = False) -> Found | Lost:
        """Something by its name alone, of any role, perhaps within a target of this step."""
        holders = self.wanted().portraits if inside is not None else ()
        return self.finder.find_element(WantedTarget(Target("", name, inside), (), holders), self.patience, eager=eager)

    def portraits(self) -> tuple[Portrait, ...]:
        """What is kept about the target."""
        return self.wanted().portraits

    def scrolled_as_recorded(self) -> bool:
        """Was the target scrolled to in this scene when it was recorded, too?"""
        portraits = self.portraits()
        return any(p.scrolled for p in [p for p in portraits if p.scene == self.scene] or portraits)

    def grip(self) -> Element | None:
        """The recorded part by which the target was carried."""
        found = self.finder.recorded.grip_of(self.asked.action.targets()[0], self.scene)
        return found.element if found is not None else None

    def picture_in(self, box: Box) -> Picture | None:
        """What the newest moment shows within a box, dp; None where there is no picture of it."""
        picture = screen_picture(self.watch)
        cut = picture.cut(box) if picture is not None else None
        return cut if cut is not None and cut.pixels.size else None

    def says(self, element: Element) -> str:
        """What an element says beside its name; of a wheel whose rows are only drawn what its picture shows in the middle."""
        words = reads(element)
        box = visible(element)
        if words or not is_wheel(element) or not can_read():
            return words
        row = self.picture_in(box.part(MIDDLE_ROW))
        return said_in(row) if row is not None else ""

    def note_unmoved(self, element: Element) -> None:
        """Keep how the target looks before it is first moved."""
        seen = self.picture_in(visible(element)) if self.asked.key() not in self.unmoved else None
        if seen is not None:
            self.unmoved[self.asked.key()] = seen

    # acting

    def touch(self, element: Element, point: tuple[float, float] | None = None) -> bool:
        """Tap an element, in its middle without a point (dp), as the step's mark. See `gesture`."""
        point = point or visible(element).centre
        self.mark = (point,)
        return self.gesture([tap(*point)], element)

    def tap(self, element: Element, point: tuple[float, float] | None = None) -> bool:
        """Tap something on the way, in its middle without a point (dp); False, and the step is stuck, where it did not stay."""
        if not self.watch.sure(element):
            self.stuck(Cause.PASSED, f"{element.called} did not stay where it was", element=element)
            return False
        return self.gesture([tap(*(point or visible(element).centre))], element)

    def gesture(self, contacts: Sequence[Contact], on: Element) -> bool:
        """Put fingers on something, and look; False, and the step is stuck, where something else may have got them.

        That is asked about what may pass by itself: see `presence.doubt_after`.
        """
        before = self.watch.presence.screen
        presence = self.watch.presence
        passing = before is not None and on.screen is self.watch.moment.screen and presence.passing(on)
        message = passing and presence.message(on)
        self.watch.touch(contacts)
        self.touched.append(on.called)
        after = self.watch.look().screen
        if not passing or before is None or after is None:
            return True
        doubt = doubt_after(on, ScreenChange(before, after), self._recorded_change(), message)
        if doubt:
            self.stuck(Cause.PASSED, f"it may have gone before the finger came, and something else may have been touched: {doubt}")
        return not doubt

    def _recorded_change(self) -> ScreenChange | None:
        """What came of the step when it was recorded, where it is one gesture."""
        if not isinstance(self.step.action, ONE_GESTURE):
            return None
        portraits, after = self.portraits(), self.recorded_after()
        return ScreenChange(portraits[0].screen, after) if portraits and after is not None else None


def _shrunk(element: Element, portraits: Sequence[Portrait]) -> str:
    """A control that was large enough for a finger where it was recorded, and is not here."""
    shown = visible(element)
    least = min(shown.width, shown.height)
    known = min((min(p.element.box.width, p.element.box.height) for p in portraits[:1]), default=0.0)
    return f"only {least:.0f} dp small, {known:.0f} dp as recorded" if least < SMALL <= known * 2 / 3 else ""
