"""Wrong acts, with the app's own log as the judge: all of Hive Diary's pages in orders that nobody recorded, on every model, at both paces,
while another process keeps both cores busy.

What a step did to the app must be what the same step does on a phone at rest, or a part of it: a form that is saved half filled is not.
What a step that is stuck did besides has to be in its reason.
"""

from __future__ import annotations

import argparse
import multiprocessing
import os
import random
import re
import sys
import tempfile
from collections import Counter
from collections.abc import Sequence
from pathlib import Path

from tests.recording.tour import recorded, run_on

from copione.model.outcome import Outcome, Result
from copione_lab.bench import Bench as LabBench
from copione_lab.model import load_models
from copione_lab.phone import Phone

TOUCHING = frozenset(
    {"tap", "double-tap", "hold", "swipe", "fling", "drag", "pinch", "twist", "draw", "set", "switch", "choose", "type", "find"}
)
PARTS = (
    ('tap button "Hives"', 'tap button "Cancel"'),
    ('find item "Hive 17"', "press back"),
    ('tap button "New inspection"', 'tap button "Back to hives"'),
    ('tap button "Apiary map"', 'drag canvas "Apiary map"'),
    ('tap button "Rounds"', 'drag item "Orchard"'),
    ('tap button "Tasks"', 'switch on "Check queen"'),
    ('tap button "Settings"', 'tap button "Sign in"', 'tap button "Sign in"'),
    ('tap button "Hive scale"',),
)
HOME = ("launch afresh",)
INTO = {1: ('tap button "Hives"',), 2: ('tap button "Hives"', 'find item "Hive 17" in list "Hives"', 'tap item "Hive 17"')}
Deeds = tuple[str, ...]


def parts(text: str) -> list[list[str]]:
    """The recorded steps as parts that each begin on the app's first page, in the order of PARTS."""
    lines = [line.strip() for line in text.splitlines() if line.startswith("    ")]
    found, at = [], 0
    for number, ends in enumerate(PARTS):
        first = next(i for i in range(at, len(lines)) if lines[i].startswith(ends[0]))
        last = first
        for end in ends[1:]:
            last = next(i for i in range(last + (end == ends[0]), len(lines)) if lines[i].startswith(end))
        found.append([*INTO.get(number, ()), *lines[first : last + 1]])
        at = last + 1
    return found


def shuffled(pieces: Sequence[list[str]], chance: random.Random) -> str:
    """A script of all parts in another order, the one with the passing message several times, each from the first page."""
    order = [*pieces, pieces[0], pieces[0]]
    chance.shuffle(order)
    scenes = "".join(f'\nscene "Part {n}"\n' + "".join(f"    {line}\n" for line in (*HOME, *part)) for n, part in enumerate(order, 1))
    return f'script "Whole diary"\napp hive-diary\npatience 8 s\n{scenes}'


def deeds_between(phone: Phone, begin: float, end: float) -> Deeds:
    """What the app's widgets received in a stretch of time (seconds since the epoch)."""
    return tuple(m.group(1) for at, words in list(phone.log_lines) if begin <= at < end and (m := re.search(r"HiveDiary: (.*)", words)))


def by_step(results: Sequence[Result], phone: Phone) -> list[tuple[Result, Deeds]]:
    """Each result with what the app received from its beginning to the next one's."""
    begins = [r.begin for r in results] + [float("inf")]
    last = max((i for i, r in enumerate(results) if r.outcome is not Outcome.UNREACHED), default=-1)
    return [(r, deeds_between(phone, begins[i], begins[i + 1] if i < last else float("inf"))) for i, r in enumerate(results[: last + 1])]


def replayed(script: Path, pace: str, names: set[str] | None = None) -> list[tuple[str, list[tuple[Result, Deeds]]]]:
    """Every model's results with what its app received."""
    lab = LabBench([m for m in load_models() if names is None or m.name in names], pace=pace)
    for phone in lab.phones.values():
        phone.log_lines = type(phone.log_lines)(maxlen=None)
    heard = run_on(lab, script)
    phones = {phone.model.name: phone for phone in lab.phones.values()}
    return [(name, by_step(results, phones[name])) for name, results in heard.results.items()]


def plain(deed: str) -> str:
    """A deed without a value that is reached in several steps."""
    return re.sub(r"^(set \w+|remind) .*", r"\1", deed)


def busy() -> None:
    while True:
        sum(i * i for i in range(10_000))


def main() -> int:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--touches", type=int, default=2000)
    given.add_argument("--seed", type=int, default=random.randrange(1 << 30))
    given.add_argument("--pace", choices=("brisk", "real"), help="only this one")
    options = given.parse_args()
    chance = random.Random(options.seed)
    print(f"seed {options.seed}")
    with tempfile.TemporaryDirectory() as scratch:
        script, _ = recorded(Path(scratch) / "project")
        pieces = parts(script.read_text("utf-8"))
        script.write_text(shuffled(pieces, chance), "utf-8")
        meant: dict[str, set[str]] = {}
        for _, steps in replayed(script, "brisk", {"Alder 5", "Plateau 10", "Saltmarsh 7"}):  # at rest: narrow, wide, of the other platform
            for result, done in steps:
                meant.setdefault(result.step, set()).update(map(plain, done))
        hogs = [multiprocessing.Process(target=busy, daemon=True) for _ in range(os.cpu_count() or 2)]
        for hog in hogs:
            hog.start()
        touches, counts, wrong, unheard, round_ = 0, Counter[str](), [], [], 0
        try:
            while touches < options.touches:
                pace = options.pace or ("real" if round_ % 2 else "brisk")
                round_ += 1
                script.write_text(shuffled(pieces, chance), "utf-8")
                for name, steps in replayed(script, pace):
                    for result, done in steps:
                        counts[f"{pace} {result.outcome.value}"] += 1
                        touches += result.verb in TOUCHING
                        strange = [deed for deed in done if plain(deed) not in meant.get(result.step, set())]
                        if result.outcome is Outcome.STUCK:
                            print(f"  {pace} {name}: {result.step} stuck: {result.reason} {strange or ''}")
                        if strange and (result.outcome is not Outcome.STUCK or "touched" not in result.reason):
                            wrong.append(f"{pace} {name}: {result.step} is {result.outcome.value}, and the app heard {strange}")
                        elif result.verb in {"tap", "hold", "double-tap"} and meant.get(result.step) and not done:
                            unheard.append(f"{pace} {name}: {result.step} is {result.outcome.value}, and the app heard nothing")
                print(f"{touches} touches; wrong {len(wrong)}, unheard {len(unheard)}; {dict(counts)}", flush=True)
        finally:
            for hog in hogs:
                hog.kill()
    print("\n".join([*wrong, *unheard]))
    print(f"{touches} touches: {len(wrong)} wrong acts and {len(unheard)} that the app never heard of, reported held or adapted")
    return int(bool(wrong or unheard))


if __name__ == "__main__":
    sys.exit(main())
