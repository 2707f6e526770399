"""The phone's own touch panel: what `getevent -lt` prints, as contacts.

Linux multi-touch protocol B (Documentation/input/multi-touch-protocol): events belong to the slot named last, a tracking id opens and
closes a contact, and a value that has not changed is not sent again: a slot's x and y persist, from one contact to the next.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from ..model.gesture import Finger

Floats = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int64]

SYN, SLOT, MAJOR, X, Y, TOOL, TRACKING, TOUCH = range(8)
CODES = {
    b"SYN_REPORT": SYN,
    b"ABS_MT_SLOT": SLOT,
    b"ABS_MT_TOUCH_MAJOR": MAJOR,
    b"ABS_MT_POSITION_X": X,
    b"ABS_MT_POSITION_Y": Y,
    b"ABS_MT_TOOL_TYPE": TOOL,
    b"ABS_MT_TRACKING_ID": TRACKING,
    b"BTN_TOUCH": TOUCH,
}
#: The same as `getevent -t` prints them without names: type and code in hexadecimal.
NUMBERS = {b"0000 0000": SYN, b"0003 002f": SLOT, b"0003 0030": MAJOR, b"0003 0035": X, b"0003 0036": Y, b"0003 0037": TOOL}
NUMBERS |= {b"0003 0039": TRACKING, b"0001 014a": TOUCH}
_LINE = re.compile(
    rb"\[\s{0,12}(\d{1,10}\.\d{1,9})\]\s{1,8}(?:(/\S{1,60}?):?\s{1,8})?(\w{1,40})\s{1,40}(\w{1,40})\s{1,40}(\w{1,40})\s{0,8}$"
)
_HEX = re.compile(rb"[0-9a-fA-F]{1,8}")
LONGEST = 200  # bytes of one line
SLOTS = 64  # fingers that a panel may tell apart: slot numbers are below
MOST_DOUBTS = 20
_FIRST = re.compile(rb"^\[ *\d+\.\d{6}\] (?:/\S+: )?(?=EV_)", re.M)
_NAME, _VALUE = 22, 34  # characters from an event's type to what tells its name, and to its value
PIECE = 1 << 18  # bytes
UP = 0xFFFFFFFF
PALM = 2  # MT_TOOL_PALM
Words = npt.NDArray[np.uint64]  # eight characters each, the first in the lowest byte


def _lanes(byte: int, width: int) -> np.uint64:
    """A byte repeated in every lane of so many bytes."""
    return np.uint64(sum(byte << (8 * i) for i in range(0, 8, width)))


def _hexadecimal(words: Words) -> Words:
    """Eight hexadecimal digits as their value, all rows at once."""
    digits: Words = ((words & _lanes(0x0F, 1)) + np.uint64(9) * ((words >> np.uint64(6)) & _lanes(1, 1))).byteswap()
    pairs = (digits | (digits >> np.uint64(4))) & np.uint64(0x00FF00FF00FF00FF)
    fours = (pairs | (pairs >> np.uint64(8))) & np.uint64(0x0000FFFF0000FFFF)
    eight: Words = (fours | (fours >> np.uint64(16))) & np.uint64(0xFFFFFFFF)
    return eight


def _decimal(words: Words) -> Words:
    """Eight decimal digits, blanks as noughts, as their value."""
    digits = (words & _lanes(0x0F, 1)).byteswap()
    pairs = ((digits >> np.uint64(8)) & np.uint64(0x00FF00FF00FF00FF)) * np.uint64(10) + (digits & np.uint64(0x00FF00FF00FF00FF))
    fours = ((pairs >> np.uint64(16)) & np.uint64(0x0000FFFF0000FFFF)) * np.uint64(100) + (pairs & np.uint64(0x0000FFFF0000FFFF))
    return (fours >> np.uint64(32)) * np.uint64(10000) + (fours & np.uint64(0xFFFFFFFF))


_KEYS = {code: np.frombuffer(name[9:17].ljust(8), np.uint64)[0] for name, code in CODES.items()}


@dataclass(frozen=True, eq=False)
class FingerTrack:
    """One finger from touch to lift as arrays: times in seconds, places in the panel's units, all of shape (n,), n at least 1.

    `major` is the contact's width where the panel tells, else 0; `palm` whether the panel itself says it is one.
    """

    finger: int
    t: Floats
    x: Floats
    y: Floats
    lift: float
    major: float = 0.0
    palm: bool = False

    @cached_property
    def since(self) -> float:
        """When it touched, seconds."""
        return float(self.t[0])

    @property
    def path(self) -> tuple[tuple[float, float, float], ...]:
        """(t, x, y) in seconds and dp, oldest first."""
        return tuple(zip(self.t.tolist(), self.x.tolist(), self.y.tolist(), strict=True))

    @cached_property
    def begin(self) -> tuple[float, float]:
        """Where it began: x, y in dp."""
        return float(self.x[0]), float(self.y[0])

    @cached_property
    def end(self) -> tuple[float, float]:
        """Where it ended: x, y in dp."""
        return float(self.x[-1]), float(self.y[-1])


def track_of(contact: Finger) -> FingerTrack:
    """One finger that is told in Python numbers, as a track."""
    if isinstance(contact, FingerTrack):
        return contact
    t, x, y = np.array(contact.path, np.float64).T
    return FingerTrack(contact.finger, t, x, y, contact.lift)


@dataclass(frozen=True, eq=False)
class Events:
    """What happened on the panel: columns of shape (n,). `codes` are this module's constants, `values` as printed.

    `times`: seconds of every sync, then of the end; shape (syncs + 1,). `doubts`: what was left out, for people.
    """

    times: Floats
    codes: Ints
    values: Ints
    doubts: tuple[str, ...] = ()


def parse_events(log: bytes) -> Events:
    """The events of a `getevent -lt` log (or `-t`), other lines left out. Of several panels the one with the most events counts.

    What cannot be meant is left out and named, with its line, in the events' `doubts`.
    """
    found = _parse_fixed(log)
    return found if found is not None and not np.any((found.codes == SLOT) & (found.values >= SLOTS)) else _parse_any(log)


def _parse_fixed(log: bytes) -> Events | None:
    """The quick way for a log whose lines all have their columns at the same places; None where they have not.

    A piece at a time, so that its columns stay in the processor's cache.
    """
    first = _FIRST.search(log)
    if first is None or first.group().index(b"]") > 16:
        return None
    parts, begin, last = [], first.start(), 0.0
    while begin < len(log):
        end = log.rfind(b"\n", begin, begin + PIECE) + 1 or len(log)
        part = _parse_piece(log[begin:end], first.group())
        if part is None:
            return None
        *columns, last = part
        parts.append(columns)
        begin = end
    times, codes, values = (np.concatenate(columns) for columns in zip(*parts, strict=True))
    return Events(np.append(times, last), codes, values)


def _parse_piece(log: bytes, prefix: bytes) -> tuple[Floats, Ints, Ints, float] | None:
    kind, stop = len(prefix), prefix.index(b"]")
    text = log + b"\n" + b" " * (kind + _VALUE + 8)
    data = np.frombuffer(text, np.uint8)
    ends = np.flatnonzero(data == 10)
    starts = np.concatenate(([0], ends[:-1] + 1))
    long = ends - starts >= kind + _VALUE + 2
    if np.any(data[starts[~long]] == ord("[")) or not long.any():
        return None
    starts = starts[long]

    def words(column: int, lines: Ints = starts) -> Words:
        """The eight characters from that column of every line."""
        view: Words = np.ndarray((len(data) - column - 7,), np.uint64, text, column, (1,))
        return view[lines]

    same = np.all(words(kind - 8) == np.frombuffer(prefix[-8:], np.uint64))  # the end of the panel's name
    same &= np.all(
        (data[starts] == 91) & (data[starts + stop] == 93) & (data[starts + stop - 7] == 46)
    )  # the brackets and point of the time
    if not same or np.any(data[starts + kind] != 69) or np.any(data[starts + kind + _VALUE - 1] != 32):
        return None
    told = words(kind + _NAME)
    codes = np.full(len(starts), -1, np.int8)
    for code, key in _KEYS.items():
        codes[told == key] = code
    given = words(kind + _VALUE)
    values = np.where(codes == TOUCH, (given & np.uint64(0xFF)) == ord("D"), _hexadecimal(given)).astype(np.int64)
    point = stop - 7  # of the time
    head = np.uint64(0) if point > 8 else np.uint64((1 << (8 * (9 - point))) - 1)  # what stands before the seconds
    timed = np.append(starts[codes == SYN], starts[-1])
    whole, part = _decimal(words(max(0, point - 8), timed) & ~head), _decimal(words(stop - 8, timed) & ~np.uint64(0xFFFF))
    times = (whole * np.uint64(1_000_000) + part).astype(np.float64) / 1e6
    kept = codes >= 0
    return times[:-1], codes[kept].astype(np.int64), values[kept], float(times[-1])


def _parse_any(log: bytes) -> Events:
    panels: dict[bytes, list[tuple[float, int, int]]] = {}
    doubts: list[str] = []
    for number, line in enumerate(log.splitlines(), 1):
        match = _LINE.search(line[:LONGEST])
        if match is None:
            continue
        at, panel, kind, name, word = match.groups()
        code = CODES.get(name, NUMBERS.get(kind + b" " + name, -1))
        if code < 0:
            continue
        value = {b"DOWN": 1, b"UP": 0}.get(word)
        if value is None:
            value = int(word, 16) if _HEX.fullmatch(word) else -1
        if value < 0 or (code == SLOT and value >= SLOTS):
            doubts.append(f"line {number}: {name.decode('ascii', 'replace')} cannot be {word.decode('ascii', 'replace')}; it is left out")
            continue
        panels.setdefault(panel or b"", []).append((float(at), code, value))
    rows = max(panels.values(), key=lambda each: sum(code in (X, Y) for _, code, _ in each), default=[])
    times = [at for at, code, _ in rows if code == SYN] + [rows[-1][0] if rows else 0.0]
    codes, values = np.array([code for _, code, _ in rows], np.int64), np.array([value for *_, value in rows], np.int64)
    return Events(np.array(times), codes, values, tuple(doubts[:MOST_DOUBTS]))


def fingers_down(events: Events) -> bool:
    """Is some finger still on the glass at the end of the events?"""
    named = np.maximum.accumulate(np.where(events.codes == SLOT, np.arange(len(events.codes)), -1))
    slots = np.where(named >= 0, events.values[np.maximum(named, 0)], 0)
    marks = np.flatnonzero(events.codes == TRACKING)
    last = dict(zip(slots[marks].tolist(), events.values[marks].tolist(), strict=True))
    return any(value != UP for value in last.values())


def tracks(events: Events, x_scale: float = 1.0, y_scale: float = 1.0) -> list[FingerTrack]:
    """Every contact of the events, in the order of their touches, places times the scales. One that never lifts ends with the events."""
    codes, values = events.codes, events.values
    n = len(codes)
    if not n:
        return []
    named = np.maximum.accumulate(np.where(codes == SLOT, np.arange(n), -1))
    slots = np.where(named >= 0, values[np.maximum(named, 0)], 0)
    syncs = codes == SYN
    frames = np.cumsum(syncs) - syncs  # the number of the sync that ends each event's frame
    all_up = frames[(codes == TOUCH) & (values == 0)]
    mine = np.flatnonzero(~syncs & (codes != SLOT) & (codes != TOUCH))
    owners = slots[mine]
    found: list[FingerTrack] = []
    for slot in np.unique(owners).tolist():
        here = mine[owners == slot]
        if len(here):
            found += _of_slot(slot, codes[here], values[here], frames[here], events.times, all_up, (x_scale, y_scale))
    return sorted(found, key=lambda track: track.since)


def _of_slot(
    slot: int, kinds: Ints, said: Ints, frames: Ints, times: Floats, all_up: Ints, scale: tuple[float, float]
) -> Iterator[FingerTrack]:
    """One slot's contacts: stretches of the frames in which anything was said of it."""
    sampled = frames[np.concatenate(([True], frames[1:] != frames[:-1]))]
    axes = []
    for axis, factor in zip((X, Y), scale, strict=True):
        at = np.flatnonzero(kinds == axis)
        if not len(at):
            return
        last = frames[at].searchsorted(sampled, side="right") - 1
        axes.append(np.asarray(said[at[np.maximum(last, 0)]] * factor, np.float64))
    marks = np.flatnonzero(kinds == TRACKING)
    if not len(marks):
        return  # places of a finger that never touched
    opens = said[marks] != UP
    mark_frames = frames[marks]
    final = len(times) - 1
    lifts = np.append(mark_frames[1:], final)
    lost = np.append(opens[1:], True)  # no lift of its own: all fingers up ends it too
    for i in np.flatnonzero(lost).tolist():
        place = int(all_up.searchsorted(mark_frames[i]))
        lifts[i] = min(lifts[i], all_up[place]) if place < len(all_up) else lifts[i]
    lows, highs = sampled.searchsorted(mark_frames), sampled.searchsorted(lifts)
    wide, tool = (_largest(kinds == kind, said, frames) for kind in (MAJOR, TOOL))
    for i in np.flatnonzero(opens).tolist():
        low, high = int(lows[i]), max(int(highs[i]), int(lows[i]) + 1)
        stretch = slice(low, high)
        first, lift = int(mark_frames[i]), int(lifts[i])
        yield FingerTrack(
            slot,
            times[sampled[stretch]],
            axes[0][stretch],
            axes[1][stretch],
            float(times[lift]),
            wide(first, lift),
            tool(first, lift) == PALM,
        )


def _largest(which: npt.NDArray[np.bool_], said: Ints, frames: Ints) -> Callable[[int, int], float]:
    """The largest value of one kind of event from one frame to another; 0 where there is none."""
    at, values = frames[which], said[which]

    def largest(first: int, last: int) -> float:
        low, high = at.searchsorted(first), at.searchsorted(last)
        return float(values[low:high].max()) if high > low else 0.0

    return largest if len(at) else lambda first, last: 0.0
