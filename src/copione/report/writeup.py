"""A finding written up for whoever has to mend it: steps, expected, seen, devices, pictures with the place marked, log, lines to replay."""

from __future__ import annotations

import html
import io
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

from PIL import Image, ImageDraw

from ..comparison.causes import FindingKind
from ..comparison.finding import Finding
from ..comparison.lanes import Lane, Lanes
from ..comparison.wording import device_names, expected
from ..files.naming import claimed, slug
from ..files.pictures import open_picture
from ..files.places import Place
from ..files.reading import FileKind, read_bytes
from ..files.writing import write_whole
from ..model.address import Address
from ..model.errors import FileTrouble
from ..model.geometry import Box
from ..model.outcome import Outcome, Result
from ..model.take import TakeName
from ..model.wording import counted
from ..project.archive import picture_path
from .defect import plain

MOST_STEPS, MOST_LINES = 30, 60
LOG_LINES = 14
AROUND_S = 1.0  # of the log before and after the step
INK = "#D5552C"
_STAMP = re.compile(r"^\s*(\d{9,11}\.\d+)\s")


@dataclass(frozen=True)
class Shown:
    """A picture of the step on one device, and the place on it that is meant (dp; None for none)."""

    path: Place
    device: str
    box: Box | None
    density: float
    failing: bool


@dataclass(frozen=True)
class WriteUp:
    """Everything that is told of one finding."""

    title: str
    steps: tuple[str, ...]
    expected: str
    seen: str
    devices: str
    apart: str
    build: str
    pictures: tuple[Shown, ...]
    log: tuple[str, ...]
    lines: tuple[str, ...]


def write_up(lanes: Lanes, finding: Finding) -> WriteUp:
    """From what a run keeps. Files are read for the log alone."""
    lane = lanes.lane(finding.takes[0])
    result = lane.result(finding.address) if lane is not None else None
    done = _until(lane, finding.address) if lane is not None else []
    device = lane.device if lane is not None else None
    facts = [device.name, device.system, f"{device.width:.0f} × {device.height:.0f} dp", f"text {device.text_scale:.0%}"] if device else []
    if device is not None and device.locale:
        facts.append(device.locale)
    others = f" Also on {device_names(finding.devices[1:])}." if len(finding.devices) > 1 else ""
    return WriteUp(
        title=finding.title,
        steps=tuple(map(in_words, done)),
        expected=_expected(finding, result),
        seen=_seen(finding),
        devices=", ".join(facts) + "." + others,
        apart=finding.apart,
        build=lane.build if lane is not None else "",
        pictures=tuple(_pictures(lanes, finding)),
        log=tuple(_log(lane, result)) if lane is not None and result is not None else (),
        lines=tuple(r.step for r in _since_launch(done)[-MOST_LINES:]),
    )


def _until(lane: Lane, address: Address) -> list[Result]:
    """What the take did up to a step."""
    every = sorted(lane.results(), key=lambda r: r.address)
    return [r for r in every if r.address <= address and r.outcome is not Outcome.SKIPPED]


def _since_launch(done: Sequence[Result]) -> Sequence[Result]:
    launches = [place for place, result in enumerate(done) if result.verb == "launch"]
    return done[launches[-1] :] if launches else done


def in_words(result: Result) -> str:
    """A step as a sentence."""
    words = re.sub(r'"((?:\\.|[^"\\])*)"', lambda match: "“" + match.group(1).replace('\\"', '"') + "”", result.step)
    return words[:1].upper() + words[1:]


def _expected(finding: Finding, result: Result | None) -> str:
    fine = device_names(list(dict.fromkeys(t.device for t in finding.passing))) if finding.passing else ""
    as_on = f", as on {fine}" if fine else ""
    if finding.remarks:
        return f"{_capital(finding.remarks[0].elsewhere)}{as_on}."
    said = expected(result) if result is not None else ""
    if said:
        return f"It reads {said}{as_on}."
    if finding.kind is FindingKind.SLOW:
        return f"It takes no longer than elsewhere{as_on}."
    return f"{in_words(result)} can be done{as_on}." if result is not None else ""


def _seen(finding: Finding) -> str:
    words = finding.remarks[0].here if finding.remarks else finding.reason
    untried = f" {counted(finding.untried, 'step')} could not be tried after it." if finding.untried else ""
    return f"{_capital(words)}.{untried}" if words and not words.endswith(".") else f"{_capital(words)}{untried}"


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def _pictures(lanes: Lanes, finding: Finding) -> Iterable[Shown]:
    """Of the first device that does it, and of the first that does not."""
    for takes, failing in ((finding.passing, False), (finding.takes, True)):
        shown = next((s for take in takes if (s := picture_of(lanes, finding, take, failing)) is not None), None)
        if shown is not None:
            yield shown


def picture_of(lanes: Lanes, finding: Finding, take: TakeName, failing: bool) -> Shown | None:
    """The picture of a take at a finding's step, with the place marked; None where nothing is kept."""
    lane = lanes.lane(take)
    result = lane.result(finding.address) if lane is not None else None
    if lane is None or lane.folder is None:
        return None
    name, box = finding.place_on(take, result)
    if not name:
        return None
    return Shown(picture_path(lane.folder, name), lane.device.name, box, lane.device.density, failing)


def _log(lane: Lane, result: Result) -> list[str]:
    """The device's log of those seconds; its last lines where it tells no time."""
    if lane.folder is None:
        return []
    try:
        lines = read_bytes(lane.folder / "device.log", FileKind.LOG).decode("utf-8", "replace").splitlines()
    except FileTrouble:
        return []
    stamped = [(float(m.group(1)), line) for line in lines if (m := _STAMP.match(line))]
    if stamped and result.begin:
        lines = [line for at, line in stamped if result.begin - AROUND_S <= at <= result.end + AROUND_S]
    return lines[-LOG_LINES:]


# as text


def markdown(told: WriteUp, pictures: Sequence[str] = (), level: int = 1) -> str:
    """Markdown. `pictures` are file names beside it."""
    head = "#" * level
    lines = [f"{head} {plain(told.title)}", ""]
    lines += [f"{number}. {plain(step)}" for number, step in _numbered(told.steps)]
    lines += ["", f"**Expected** {plain(told.expected)}", "", f"**Seen** {plain(told.seen)}", "", f"**Device** {plain(told.devices)}"]
    if told.build:
        lines += ["", f"**Build** {plain(told.build)}"]
    if told.apart:
        lines += ["", f"**What sets it apart** {plain(told.apart)}"]
    lines += [line for name in pictures for line in ("", f"![{plain(name)}]({name})")]
    if told.log:
        lines += ["", f"{head}# Log", "", *_fenced(told.log)]
    if told.lines:
        lines += ["", f"{head}# To replay just this", "", *_fenced(told.lines)]
    return "\n".join(lines) + "\n"


def _numbered(steps: Sequence[str]) -> list[tuple[int, str]]:
    """The last ones, with the numbers that they have."""
    return list(enumerate(steps, 1))[-MOST_STEPS:]


def _fenced(lines: Sequence[str]) -> list[str]:
    fence = "`" * max(3, 1 + max((len(run) for line in lines for run in re.findall("`+", line)), default=0))
    return [fence, *lines, fence]


def as_html(told: WriteUp, pictures: Sequence[tuple[str, str]] = ()) -> str:
    """A fragment of HTML. `pictures` are (address, what it shows)."""
    e = html.escape
    steps = "".join(f'<li value="{number}">{e(step)}</li>' for number, step in _numbered(told.steps))
    shown = "".join(f'<p><img src="{e(src, quote=True)}" alt="{e(alt, quote=True)}" width="260"></p>' for src, alt in pictures)
    parts = [f"<h2>{e(told.title)}</h2><ol>{steps}</ol>"]
    parts += [f"<p><b>Expected</b> {e(told.expected)}</p><p><b>Seen</b> {e(told.seen)}</p><p><b>Device</b> {e(told.devices)}</p>"]
    parts += [f"<p><b>Build</b> {e(told.build)}</p>"] if told.build else []
    parts += [f"<p><b>What sets it apart</b> {e(told.apart)}</p>"] if told.apart else []
    parts += [shown]
    for title, lines in (("Log", told.log), ("To replay just this", told.lines)):
        parts += [f"<h3>{title}</h3><pre>{e(chr(10).join(lines))}</pre>"] if lines else []
    return "".join(parts)


def marked(shown: Shown, width: int = 0) -> bytes | None:
    """The picture with its place marked, as PNG; `width` in pixels, its own for 0. None where it cannot be read."""
    try:
        image = open_picture(shown.path)
    except FileTrouble:
        return None
    if shown.box is not None:
        k = shown.density
        edges = (shown.box.left * k - 6, shown.box.top * k - 6, shown.box.right * k + 6, shown.box.bottom * k + 6)
        if edges[2] > edges[0] and edges[3] > edges[1]:
            ImageDraw.Draw(image).rounded_rectangle(edges, 12, outline=INK, width=max(3, round(2 * k)))
    if width and image.width > width:
        image = image.resize((width, max(1, round(image.height * width / image.width))), Image.Resampling.BILINEAR)
    out = io.BytesIO()
    image.save(out, "PNG", compress_level=3)
    return out.getvalue()


def save(defects: Path, lanes: Lanes, found: Sequence[Finding], title: str) -> Path:
    """One or several findings as Markdown with their pictures, in a folder of its own; the file. Raises FileTrouble."""
    folder = claimed(defects, slug(title))
    parts = []
    for number, finding in enumerate(found, 1):
        told = write_up(lanes, finding)
        names = []
        for shown in told.pictures:
            data = marked(shown)
            if data is not None:
                names.append(f"{number:02d}-{slug(shown.device)}.png")
                write_whole(folder / names[-1], data)
        parts.append(markdown(told, names, 1 if len(found) == 1 else 2))
    head = "" if len(found) == 1 else f"# {plain(title)}\n\n"
    path = folder / ("finding.md" if len(found) == 1 else "findings.md")
    write_whole(path, (head + "\n".join(parts)).encode("utf-8", "replace"))
    return path
