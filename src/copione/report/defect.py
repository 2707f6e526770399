"""A stretch of a recording as a defect write-up: Markdown with its pictures and the device's log beside it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from ..files.naming import claimed, slug
from ..files.reading import trouble
from ..files.writing import copied, write_whole
from ..model.device import DeviceProfile
from ..recording.recording import RecordedStep

LOG_LINES = 60  # of the device's log in the text itself; all of it lies beside


@dataclass(frozen=True)
class Defect:
    """What a person says of it: one line, what should have been, what was."""

    title: str
    expected: str
    seen: str


def plain(words: str) -> str:
    """A text on one line of Markdown, as it is: what Markdown would act on is escaped."""
    return re.sub(r"([\\`*_{}\[\]<>#|!&])", r"\\\1", " ".join(words.split()))


def write_up(
    defects: Path, defect: Defect, steps: Sequence[RecordedStep], shots: Path, device: DeviceProfile, app: str, build: str, log: str
) -> Path:
    """Write a folder of its own under `defects`; returns the Markdown file. Raises FileTrouble."""
    folder = claimed(defects, slug(defect.title))
    pictures: list[str] = []
    try:
        for stem in dict.fromkeys(step.shot for step in steps if step.shot):
            if copied(shots / f"{stem}.png", folder / f"{stem}.png"):
                pictures.append(f"{stem}.png")
    except OSError as error:
        raise trouble(error, folder) from error
    write_whole(folder / "device.log", log.encode("utf-8", "replace"))
    path = folder / "defect.md"
    write_whole(path, markdown(defect, steps, pictures, device, app, build, log).encode("utf-8", "replace"))
    return path


def markdown(
    defect: Defect, steps: Sequence[RecordedStep], pictures: Sequence[str], device: DeviceProfile, app: str, build: str, log: str
) -> str:
    """The text. Pictures are named by file."""
    lines = [
        f"# {plain(defect.title)}",
        "",
        f"- Device: {plain(device.name)}, {plain(device.system)}, {device.width:.0f} x {device.height:.0f} dp, {plain(device.locale)}",
    ]
    lines += [f"- App: {plain(f'{app} {build}')}".rstrip(), "", "## Steps", ""]
    for number, step in enumerate(steps, 1):
        lines.append(f"{number}. {plain(step.words)}" + (f" ({step.doubt.value})" if step.doubt is not None else ""))
    lines += ["", "## Expected", "", defect.expected or "(not said)", "", "## Seen", "", defect.seen or "(not said)"]
    if pictures:
        lines += ["", "## Pictures", "", *(f"![{name}]({name})" for name in pictures)]
    last = log.strip().splitlines()[-LOG_LINES:]
    if last:
        fence = "`" * max(3, 1 + max((len(run) for run in re.findall("`+", log)), default=0))
        lines += ["", "## The end of the device's log", "", fence, *last, fence]
    return "\n".join(lines) + "\n"
