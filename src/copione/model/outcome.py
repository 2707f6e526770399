"""What became of a step in a take, by what it was found, and why it went as it did."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

from .action import Action
from .address import Address
from .geometry import Box
from .reading import Reading


class Outcome(Enum):
    """held: done as recorded; adapted: by weaker evidence or another route; differs: a check read something else;
    stuck: the target was not found, not reachable or ambiguous, and nothing was touched, or, as its reason then says, perhaps something
    else; unreached: never tried; skipped: in a block that was not entered, and its reason says what decided it."""

    HELD = "held"
    ADAPTED = "adapted"
    DIFFERS = "differs"
    STUCK = "stuck"
    UNREACHED = "unreached"
    SKIPPED = "skipped"

    @property
    def good(self) -> bool:
        """Was it done?"""
        return self in (Outcome.HELD, Outcome.ADAPTED)

    @property
    def bad(self) -> bool:
        """Should it have been done, and was not, or otherwise than expected?"""
        return self in (Outcome.DIFFERS, Outcome.STUCK, Outcome.UNREACHED)

    @property
    def tried(self) -> bool:
        """Did the device come to it?"""
        return self not in (Outcome.UNREACHED, Outcome.SKIPPED)


class Evidence(Enum):
    """What a target was known by; the value is how it is said."""

    ID = "id"
    LABEL = "label"
    TEXT = "text"
    NAME = "name"
    NEAR = "what is near"
    ROLE_AND_NAME = "role and name"
    ROLE_AND_PLACE = "role and place"
    PICTURE = "picture"
    WRITTEN = "text in the picture"
    PLACE = "place"


class Cause(Enum):
    """Kinds of reasons. Two devices share a reason when its cause and what it is about are the same, however it is worded."""

    NOT_HERE = "not on the screen"
    AMBIGUOUS = "more than one could be it"
    OFF_SCREEN = "off the screen"
    SCROLLED_AWAY = "scrolled out of sight"
    UNDER_KEYBOARD = "under the keyboard"
    COVERED = "under something else"
    DISABLED = "disabled"
    PASSED = "it may have gone before it was touched"
    CUT = "only a strip of it shows"
    NO_TREE = "the device tells nothing of the screen"
    NO_RECORD = "nothing was recorded to know it by"
    NOT_TAKEN = "what was done did not take"
    TOUCHED = "something else was touched"
    NOT_READ = "it cannot be read"
    READS_OTHERWISE = "reads something else"
    NOT_SHOWN = "not shown"
    SHOWN = "shown"
    LOOKS_OTHERWISE = "looks different"
    NOT_THE_SAME = "reads something else than on another device"
    VALUE = "a value that does not fit"
    DEVICE = "the device did not do it"
    CANNOT = "there is no way to do it on the device"
    STOPPED = "stopped by the user"
    BROKEN = "an error of the program"
    AFTER = "after a step that was stuck"
    NOT_ENTERED = "in a block that was not entered"
    NEVER_CAME = "what was to be brought about by repeating did not come about"
    OTHER_WAY = "done by another way than recorded"
    TOO_MANY = "more steps than a take may have"


@dataclass(frozen=True)
class Reason:
    """Why: its cause, the words for people, and what it is about (what stands in the way, what was asked for), if that tells it apart."""

    cause: Cause
    words: str
    about: str = ""

    def same(self, other: Reason) -> bool:
        """Is it the same reason, perhaps in other words?"""
        return (self.cause, self.about) == (other.cause, other.about)


class ObstacleKind(Enum):
    """Kinds of obstacles; the value is how one is named where nothing else names it."""

    DIALOG = "a dialog"
    SYSTEM = "a question of the system"
    PAGE = "another page"
    GONE = "the app has ended"
    ELSEWHERE = "another app"
    KEYBOARD = "the keyboard"
    EDGE = "the edge of the screen"
    COVER = "something over it"
    SILENT = "no answer from the device"


@dataclass(frozen=True)
class Obstacle:
    """What stood in a step's way, as the screen and the device of that moment tell it.

    `name` is in the script's words where they are known: a dialog's title, a page's, what covers the target, the line that a crash left
    in the device's log.
    """

    way: ObstacleKind
    name: str = ""


@dataclass(frozen=True)
class Result:
    """One execution of one step in one take.

    `number` counts what the take did from 1, for people; `address` tells which execution of which step it is. `step` are its words with
    the data filled in and secrets left out, `action` the same as a value (None where an old archive's words say nothing any more).
    `target`: the key of its portraits. `seconds` is from looking for the target to the act's end; `usual` what it takes elsewhere, where
    this was slow. `box` is the target in dp of that screen. `before`, `after` and `tree` are file names. `begin` and `end` are seconds
    since the epoch. `mark` is the gesture: (x, y) pairs in dp. `file` is the used script in which the step stands; empty for the script
    itself; `own` is then the line of the script that performs it. `scrolled`: it had to be scrolled to its target, so that its time says
    nothing of the device's pace. `obstacle` is what stood in the way, where it was not done. `meant` is what was read as the script would
    have it: its language, plain figures.
    `turned`: the device was held across; `keyboard`: how high it was, dp, where it was up. `answer`: seconds the app took to show what this
    step caused, and for this step's target to come, as far as it was waited for.
    """

    number: int
    address: Address
    scene: str
    step: str
    target: str
    outcome: Outcome
    action: Action | None = None
    evidence: tuple[Evidence, ...] = ()
    seconds: float = 0.0
    why: Reason | None = None
    reading: Reading | None = None
    box: Box | None = None
    before: str = ""
    after: str = ""
    tree: str = ""
    begin: float = 0.0
    end: float = 0.0
    mark: tuple[tuple[float, float], ...] = ()
    usual: float = 0.0
    file: str = ""
    own: int = 0
    scrolled: bool = False
    obstacle: Obstacle | None = None
    meant: str = ""
    turned: bool = False
    keyboard: float = 0.0
    answer: float = 0.0

    @property
    def line(self) -> int:
        """The step's line in its file."""
        return self.address.line

    @property
    def own_line(self) -> int:
        """The line of the script itself at which it was done: where a used script's scene is performed, else the step's own."""
        return self.own or self.address.line

    @property
    def verb(self) -> str:
        """The word its line begins with."""
        return self.action.verb if self.action is not None else self.step.partition(" ")[0]

    @property
    def by(self) -> str:
        """What the target was known by, in words."""
        return " and ".join(each.value for each in self.evidence)

    @property
    def read(self) -> str:
        """What was read, in words."""
        return self.reading.words if self.reading is not None else ""

    @property
    def slow(self) -> str:
        """In words, where it was slow beside the other devices."""
        return f"slow: {self.answer:.1f} s, {self.usual:.1f} s elsewhere" if self.usual else ""

    @property
    def reason(self) -> str:
        """Why, in words, and how slow."""
        return ", ".join(filter(None, (self.why.words if self.why else "", self.slow)))
