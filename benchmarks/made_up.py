"""A made-up run of many devices and steps, with everything in it that a real one has: for what its size costs."""

from __future__ import annotations

import random
from collections.abc import Iterator
from pathlib import Path

from copione.language.parser import parse_line
from copione.model.address import Address
from copione.model.device import DeviceProfile
from copione.model.geometry import Box
from copione.model.outcome import Cause, Evidence, Outcome, Reason, Result
from copione.model.reading import Said
from copione.model.step import Step
from copione.model.take import TakeName
from copione.project.archive import RunWriter

DEVICES, STEPS, SCENE = 40, 500, 20
LINES = (
    *('tap button "Control {n}"', 'type "words {n}" into field "Notes {n}"', 'set slider "Frames {n}" to 6', 'switch on "Flag {n}"'),
    *('check label "Value {n}" reads "6"', 'check label "Count {n}" reads the same on every device', 'check text "Saved {n}" is shown'),
)


def profiles() -> list[DeviceProfile]:
    """Devices of several widths, releases, text sizes and languages."""
    locales = ("en-GB", "de-DE", "he-IL", "fr-FR")
    return [
        DeviceProfile(f"Phone {n}", "android", str(9 + n % 6), 720 + 40 * (n % 9), 1600, 320, (1.0, 1.0, 1.3)[n % 3], locales[n % 4])
        for n in range(DEVICES)
    ]


def results(seed: int = 1) -> Iterator[tuple[TakeName, Result]]:
    """Every result, in the order in which devices of different speed would give them."""
    chance = random.Random(seed)
    steps = []
    for n in range(STEPS):
        item = parse_line(LINES[n % len(LINES)].replace("{n}", str(n)), n + 1)[0]
        assert isinstance(item, Step)
        steps.append((LINES[n % len(LINES)].replace("{n}", str(n)), item))
    queue = sorted((number * chance.uniform(0.9, 1.1), device, number) for device in range(DEVICES) for number in range(STEPS))
    for _, device, number in queue:
        words, step = steps[number]
        yield TakeName(f"Phone {device}"), _result(chance, number, words, step, device)


def _result(chance: random.Random, number: int, words: str, step: Step, device: int) -> Result:
    outcome, why = Outcome.HELD, None
    luck = chance.random()
    if luck < 0.01 or (number % 97 == 13 and device % 9 == 0):
        outcome, why = Outcome.STUCK, Reason(Cause.COVERED, f"covered by dialog “Rate {number % 3}”", f"Rate {number % 3}")
    elif luck < 0.03 and step.is_check:
        outcome, why = Outcome.DIFFERS, Reason(Cause.READS_OTHERWISE, "reads “7”, expected reads “6”")
    elif luck < 0.08:
        outcome, why = Outcome.ADAPTED, Reason(Cause.OTHER_WAY, "its id is gone")
    return Result(
        number=number + 1,
        address=Address.of(number + 1),
        scene=f"Scene {number // SCENE + 1}",
        step=words,
        target=step.key(),
        outcome=outcome,
        action=step.action,
        evidence=(Evidence.ID, Evidence.TEXT),
        seconds=chance.uniform(0.2, 0.6) + (4.0 if luck > 0.995 else 0.0),
        why=why,
        reading=Said("6" if chance.random() < 0.99 else "7"),
        box=Box(20, 100 + number % 400, 200, 148 + number % 400),
        before="0001.png",
        after="0001.png",
        begin=1e9 + number,
        end=1e9 + number + 0.5,
        mark=((100.0, 120.0),),
    )


def archived(runs: Path) -> Path:
    """The same run in an archive, with a picture for each take; its folder."""
    from PIL import Image

    writer = RunWriter(runs, "Made up", 'script "Made up"\n', "bees", [p.name for p in profiles()])
    takes = {TakeName(p.name): writer.take(p, TakeName(p.name), {}, "2.4") for p in profiles()}
    for take in takes.values():
        Image.new("RGB", (824, 1784), "#DDE3D2").save(take.folder / "shots" / "0001.png")
    for name, result in results():
        takes[name].step(result)
    for take in takes.values():
        take.close()
    writer.finish(100.0)
    return writer.folder
