"""`python -m benchmarks.attribution [--draws N] [--seed S]`: random faults on random devices: are the explanations true?

Half of the faults are on all devices that share a trait, or a range of one; the other half on devices picked at random, with no trait
behind them. An explanation of the first half has to name that trait; of the second half, none may be claimed that chance brings too often.
"""

from __future__ import annotations

import argparse
import random
import sys
from collections.abc import Callable

from copione.comparison.apart import FEW, FEW_EXPLAIN, NO_EXPLANATION, apart
from copione.comparison.traits import TraitSubject, facts_of
from copione.model.device import DeviceProfile

SAID = 3  # rules that the sentence names
Fits = Callable[[DeviceProfile], bool]


def device(chance: random.Random, number: int) -> DeviceProfile:
    platform = chance.choice(("android", "android", "ios"))
    width = chance.choice((320, 340, 360, 375, 384, 393, 400, 412, 428, 440, 600, 768, 800, 834))
    dpi = chance.choice((160, 240, 320, 420, 480))
    return DeviceProfile(
        name=f"Device {number}",
        platform=platform,
        release=str(chance.randint(9, 15) if platform == "android" else chance.randint(15, 18)),
        width_px=round(width * dpi / 160),
        height_px=round(width * chance.uniform(1.4, 2.2) * dpi / 160),
        dpi=dpi,
        text_scale=chance.choice((0.85, 1.0, 1.0, 1.0, 1.15, 1.3, 2.0)),
        locale=chance.choice(("en-GB", "en-GB", "en-US", "de-DE", "fr-FR", "he-IL", "ar-EG")),
        width_mm=round(width * 25.4 / 160, 1),
    )


def reason(chance: random.Random) -> tuple[str, Fits]:
    """A trait that is the reason, and which devices have it."""
    at, least = chance.choice((340, 360, 384, 400)), chance.choice((600, 768))
    scale, platform = chance.choice((1.15, 1.3, 2.0)), chance.choice(("android", "ios"))
    release, language = chance.randint(10, 14) if platform == "android" else 17, chance.choice(("de", "he", "fr"))
    return chance.choice(
        (
            ("width", lambda d: d.width <= at),
            ("width", lambda d: d.width >= least),
            ("text size", lambda d: d.text_scale >= scale),
            ("language", lambda d: d.locale.startswith(language)),
            ("platform", lambda d: d.platform == platform),
            ("release", lambda d: d.platform == platform and int(d.release) >= release),
            ("release", lambda d: d.platform == platform and int(d.release) == release),
        )
    )


def main() -> int:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--draws", type=int, default=2000)
    given.add_argument("--seed", type=int, default=random.SystemRandom().randrange(1 << 30))
    options = given.parse_args()
    print(f"seed {options.seed}")
    explained = true = claims = bold = 0
    for number in range(options.draws):
        chance = random.Random(options.seed + number)
        devices = [device(chance, n) for n in range(chance.randint(8, 24))]
        trait, fits = reason(chance) if number % 2 else ("", None)
        picked = set(chance.sample(range(len(devices)), chance.choice((1, 2, 2, 3, 4))))
        bad = [fits(d) if fits is not None else n in picked for n, d in enumerate(devices)]
        sides = [
            [TraitSubject(d.name, facts_of(d)) for d, is_bad in zip(devices, bad, strict=True) if is_bad is so] for so in (True, False)
        ]
        if not all(sides):
            continue
        found = apart(*sides)
        if not found.explains:
            continue
        bar = FEW_EXPLAIN if len(sides[0]) <= FEW else NO_EXPLANATION
        bold += found.chance >= bar
        if trait:
            explained += 1
            named = {test.trait for rule in found.rules[:SAID] for test in rule.tests}
            same = {"platform", "release"} if trait in ("platform", "release") else {trait}  # of one platform all may have it
            true += bool(same & named)
            if not same & named:
                print(f"  draw {number}: {trait} is the reason: {found.sentence}")
        else:
            claims += 1
    print(f"{explained} explained by one trait, {true} truly")
    print(f"{claims} claims of {options.draws // 2} for random devices, {bold} of them too bold")
    return 0 if true == explained and not bold else 1


if __name__ == "__main__":
    sys.exit(main())
