"""What a step does, as a type. An action that cannot be meant cannot be built: its constructor raises InvalidValue."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date
from enum import Enum
from typing import ClassVar

from .acting import Action as Action
from .condition import Condition
from .control import STRUCTURE as STRUCTURE
from .control import End as End
from .control import ForEach as ForEach
from .control import Opening as Opening
from .control import Otherwise as Otherwise
from .control import Perform as Perform
from .control import Repeat as Repeat
from .control import RepeatUntil as RepeatUntil
from .control import When as When
from .control import WhenDevice as WhenDevice
from .control import WhenValue as WhenValue
from .control import turns as turns
from .formula import names_in
from .key import Key as Key
from .number import plain_number
from .relation import Relation
from .strokes import Point, svg_strokes
from .target import Target
from .words import InvalidValue, Text, text

_DAY = re.compile(r"\d{4}-\d{2}-\d{2}")
MOST_TAPS, MOST_FINGERS = 200, 10


def _check_fingers(count: int) -> None:
    """Raises InvalidValue for a number of fingers that no hand has."""
    if not 1 <= count <= MOST_FINGERS:
        raise InvalidValue(f"The number of fingers must be between 1 and {MOST_FINGERS}.", str(count), f"1 to {MOST_FINGERS} fingers")


class Direction(Enum):
    """Where a finger goes."""

    UP, DOWN, LEFT, RIGHT = "up", "down", "left", "right"

    @property
    def vertical(self) -> bool:
        """Up or down?"""
        return self in (Direction.UP, Direction.DOWN)


class Placement(Enum):
    """Where a target is carried to, beside another one."""

    ONTO, ABOVE, BELOW = "onto", "above", "below"


class Orientation(Enum):
    """How a device is held."""

    LANDSCAPE, PORTRAIT = "landscape", "portrait"


class Start(Enum):
    """How an app is brought to the front; the value is what the script says behind `launch`."""

    FRONT = ""  # as it is: one that runs goes on where it was
    KEEPING = "keeping its data"  # stopped first; whoever is signed in stays signed in
    AFRESH = "afresh"  # stopped, and everything that it has stored is deleted


@dataclass(frozen=True)
class Launch(Action):
    """Bring an app to the front, as `start` says. `app` is a word of the script's head; without one it is the app under test."""

    verb: ClassVar[str] = "launch"
    of_page: ClassVar[bool] = False
    start: Start = Start.FRONT
    app: str = text(Text.APP, "")


@dataclass(frozen=True)
class SwitchTo(Action):
    """Bring an app to the front as it is: one that runs goes on where it was."""

    verb: ClassVar[str] = "switch"
    of_page: ClassVar[bool] = False
    app: str = text(Text.APP)


@dataclass(frozen=True)
class Quit(Action):
    """Stop an app; `app` as in `Launch`."""

    verb: ClassVar[str] = "quit"
    app: str = text(Text.APP, "")


@dataclass(frozen=True)
class Install(Action):
    """Install an app from a package file of the project's builds; one that is there is replaced and keeps its data."""

    verb: ClassVar[str] = "install"
    of_page: ClassVar[bool] = False
    file: str = text(Text.TYPED)
    app: str = text(Text.APP, "")


@dataclass(frozen=True)
class Uninstall(Action):
    """Remove an app and its data. It is no error if the app is not there."""

    verb: ClassVar[str] = "uninstall"
    of_page: ClassVar[bool] = False
    app: str = text(Text.APP, "")


@dataclass(frozen=True)
class ClearData(Action):
    """Stop an app, and delete what it has stored."""

    verb: ClassVar[str] = "clear"
    of_page: ClassVar[bool] = False
    app: str = text(Text.APP, "")


@dataclass(frozen=True)
class Tap(Action):
    """One short touch, or several with a look between them, of one finger or several at once.

    Raises InvalidValue for less than one tap or finger, or more than `MOST_TAPS` or `MOST_FINGERS`.
    """

    verb: ClassVar[str] = "tap"
    target: Target
    times: int = 1
    fingers: int = 1

    def __post_init__(self) -> None:
        if not 1 <= self.times <= MOST_TAPS:
            raise InvalidValue(f"The count must be between 1 and {MOST_TAPS}.", str(self.times), f"1 to {MOST_TAPS} times")
        _check_fingers(self.fingers)


@dataclass(frozen=True)
class DoubleTap(Action):
    """Two short touches in quick succession."""

    verb: ClassVar[str] = "double-tap"
    target: Target


@dataclass(frozen=True)
class Hold(Action):
    """A long press of one finger or several at once. Raises InvalidValue for a number of fingers that no hand has."""

    verb: ClassVar[str] = "hold"
    target: Target
    fingers: int = 1

    def __post_init__(self) -> None:
        _check_fingers(self.fingers)


@dataclass(frozen=True)
class Swipe(Action):
    """A stroke that ends at rest."""

    verb: ClassVar[str] = "swipe"
    direction: Direction
    target: Target


@dataclass(frozen=True)
class Fling(Action):
    """A stroke that still moves at its lift."""

    verb: ClassVar[str] = "fling"
    direction: Direction
    target: Target


@dataclass(frozen=True)
class DragTo(Action):
    """Carry a target onto another, or above or below it in their list."""

    verb: ClassVar[str] = "drag"
    target: Target
    placement: Placement
    other: Target


@dataclass(frozen=True)
class DragBy(Action):
    """Drag a target by shares of its own width and height: 1 is a whole one to the right, or down. Raises InvalidValue as `Hold`."""

    verb: ClassVar[str] = "drag"
    target: Target
    dx: float
    dy: float
    fingers: int = 1

    def __post_init__(self) -> None:
        _check_fingers(self.fingers)


@dataclass(frozen=True)
class Pinch(Action):
    """Two fingers apart (factor above 1) or together (below 1). Raises InvalidValue for a factor that is not above nought."""

    verb: ClassVar[str] = "pinch"
    target: Target
    factor: float

    def __post_init__(self) -> None:
        if not 0 < self.factor < float("inf"):
            raise InvalidValue("A pinch factor must be above 0.", f"{self.factor:g}", "a factor above 0")


@dataclass(frozen=True)
class Twist(Action):
    """Two fingers about their middle, by degrees clockwise."""

    verb: ClassVar[str] = "twist"
    target: Target
    degrees: float


@dataclass(frozen=True)
class Draw(Action):
    """A freehand drawing: SVG path data in shares of the target's box. Raises InvalidValue for what is no path."""

    verb: ClassVar[str] = "draw"
    target: Target
    path: str

    def __post_init__(self) -> None:
        try:
            svg_strokes(self.path)
        except ValueError as error:
            raise InvalidValue(str(error), self.path, "a path") from error

    def strokes(self) -> list[list[Point]]:
        """The strokes, places in shares of the target's box."""
        return svg_strokes(self.path)


@dataclass(frozen=True)
class Type(Action):
    """Have a field hold exactly these words."""

    verb: ClassVar[str] = "type"
    target: Target
    text: str = text(Text.TYPED)


@dataclass(frozen=True)
class Append(Action):
    """Type words behind what a field holds."""

    verb: ClassVar[str] = "append"
    target: Target
    text: str = text(Text.TYPED)


@dataclass(frozen=True)
class Clear(Action):
    """Empty a field."""

    verb: ClassVar[str] = "clear"
    target: Target


@dataclass(frozen=True)
class SetTo(Action):
    """Set a slider or a stepper to a number (or to a variable that holds one). Raises InvalidValue for anything else."""

    verb: ClassVar[str] = "set"
    target: Target
    amount: str = text(Text.AMOUNT)

    def __post_init__(self) -> None:
        if not any(names_in(self.amount)) and plain_number(self.amount) is None:
            raise InvalidValue(f"{self.amount or 'Nothing'} is not a number.", self.amount, "a number", "a {variable}")

    @property
    def number(self) -> float:
        """The number, once variables are filled in. Raises InvalidValue while there are some."""
        value = plain_number(self.amount)
        if value is None:
            raise InvalidValue(f"{self.amount} is not a number.", self.amount, "a number")
        return value


@dataclass(frozen=True)
class Choose(Action):
    """Choose an option, or a day (YYYY-MM-DD), in whatever offers them. Raises InvalidValue for a day that does not exist."""

    verb: ClassVar[str] = "choose"
    target: Target
    option: str = text(Text.NAME)

    def __post_init__(self) -> None:
        if _DAY.fullmatch(self.option):
            try:
                date.fromisoformat(self.option)
            except ValueError as error:
                raise InvalidValue(f"{self.option} is not a valid date.", self.option, "a day such as 2026-02-28") from error


@dataclass(frozen=True)
class Switch(Action):
    """Have a switch on or off."""

    verb: ClassVar[str] = "switch"
    on: bool
    target: Target


@dataclass(frozen=True)
class Find(Action):
    """Scroll until the target is in sight."""

    verb: ClassVar[str] = "find"
    target: Target


@dataclass(frozen=True)
class Press(Action):
    """Press a key of the device."""

    verb: ClassVar[str] = "press"
    key: Key


@dataclass(frozen=True)
class Turn(Action):
    """Hold the device on its side, or upright."""

    verb: ClassVar[str] = "turn"
    orientation: Orientation


@dataclass(frozen=True)
class Have(Action):
    """Have the device in another condition, until the take ends. Raises InvalidValue for a value that it cannot have."""

    verb: ClassVar[str] = "turn"
    condition: Condition
    value: str

    def __post_init__(self) -> None:
        self.condition.checked(self.value)


@dataclass(frozen=True)
class Ring(Action):
    """A call comes in, from a number or a name; on stand-ins only."""

    verb: ClassVar[str] = "receive"
    caller: str = text(Text.TYPED)


@dataclass(frozen=True)
class HideKeyboard(Action):
    """Close the keyboard on the screen; nothing where none is up."""

    verb: ClassVar[str] = "hide"


@dataclass(frozen=True)
class Open(Action):
    """Go to an address: a page of a web app, or what a phone opens it with."""

    verb: ClassVar[str] = "open"
    address: str = text(Text.TYPED)


@dataclass(frozen=True)
class Reload(Action):
    """The page anew, in a browser."""

    verb: ClassVar[str] = "reload"


@dataclass(frozen=True)
class Wait(Action):
    """Look until something holds."""

    verb: ClassVar[str] = "wait"
    touches: ClassVar[bool] = False
    target: Target
    relation: Relation


@dataclass(frozen=True)
class Whenever(Action):
    """A standing answer: whenever the target is on the screen, tap the other."""

    verb: ClassVar[str] = "whenever"
    target: Target
    answer: Target


@dataclass(frozen=True)
class Pause(Action):
    """Do nothing for so many seconds. Raises InvalidValue for none, or for more than ten minutes."""

    verb: ClassVar[str] = "pause"
    touches: ClassVar[bool] = False
    seconds: float

    def __post_init__(self) -> None:
        if not 0 < self.seconds <= 600:
            raise InvalidValue("The duration is out of range.", f"{self.seconds:g}", "0 to 600 s")


@dataclass(frozen=True)
class Note(Action):
    """Words for people."""

    verb: ClassVar[str] = "note"
    touches: ClassVar[bool] = False
    text: str = text(Text.FOR_PEOPLE)


@dataclass(frozen=True)
class Snap(Action):
    """Keep a picture of this moment under a title."""

    verb: ClassVar[str] = "snap"
    touches: ClassVar[bool] = False
    title: str = text(Text.FOR_PEOPLE)


@dataclass(frozen=True)
class Keep(Action):
    """Read a target, and have what it says as a variable for the steps that follow. `variable` is its name without braces."""

    verb: ClassVar[str] = "keep"
    touches: ClassVar[bool] = False
    target: Target
    variable: str


@dataclass(frozen=True)
class Check(Action):
    """Compare what is there with what is expected; `lasting`: it has to stay so for so many seconds. Raises InvalidValue below nought."""

    verb: ClassVar[str] = "check"
    touches: ClassVar[bool] = False
    target: Target
    relation: Relation
    lasting: float | None = None

    def __post_init__(self) -> None:
        if self.lasting is not None and not 0 < self.lasting <= 600:
            raise InvalidValue("The duration is out of range.", f"{self.lasting:g}", "0 to 600 s")
