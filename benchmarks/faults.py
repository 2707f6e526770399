"""`python -m benchmarks.faults [--worlds N] [--seed S]`: every seeded fault that is crossed is a finding or a remark, and nothing else is.

The sheet of answers is the judge. First all that ships: both builds, both paces, with and without faults, with both cores kept busy by two
and by six other processes, and all models at the edges too.
Then worlds of models and faults that are drawn by lot.
"""

from __future__ import annotations

import argparse
import multiprocessing
import random
import sys
import tempfile
import time
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path

from rich.console import Console
from rich.table import Table
from tests.benches import Heard

from copione.comparison.finding import Finding
from copione.comparison.findings import findings
from copione.comparison.lanes import Lanes
from copione.engine.judging import lanes_of
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.model.clock import SystemClock
from copione.project.archive import read_run
from copione.project.project import Project
from copione.replay.run import Run
from copione_lab.model import SHIPPED, Fault, load_faults, load_models
from copione_lab.spawn import LabProcess

from . import answers
from .wrong_acts import busy as keep_busy

PROJECT = Path("examples/hive-diary")
EDGES = SHIPPED / "models" / "edges"
#: Build, pace, faults, how many processes keep the computer busy, and do the models at the edges take part?
PASSES: tuple[tuple[str, str, str | None, int, bool], ...] = (
    ("2.4", "brisk", None, 0, False),
    ("2.5", "brisk", None, 0, False),
    ("2.4", "real", None, 2, False),
    ("2.4", "brisk", "none", 2, True),
    ("2.4", "brisk", "none", 6, True),
    ("2.4", "real", "none", 6, True),
)
PER_WORLD, MODELS = 8, 12
BAR_FOUND, BAR_FALSE = 0.98, 0.01


@dataclass
class Sheet:
    """What came of the faults: by kind so many crossed and so many found; what was said of nothing, and what was said twice."""

    crossed: Counter[str] = field(default_factory=Counter)
    found: Counter[str] = field(default_factory=Counter)
    false: list[str] = field(default_factory=list)
    lost: list[str] = field(default_factory=list)
    twice: list[str] = field(default_factory=list)
    takes: int = 0


def replayed(script: str, lab: dict[str, object], only: tuple[str, ...] = ()) -> tuple[Lanes, tuple[Finding, ...]]:
    """A run of a script on every phone of a lab: as it is read back from the archive."""
    with tempfile.TemporaryDirectory() as scratch, LabProcess(**lab) as process:  # type: ignore[arg-type]
        project = Project(PROJECT)
        bench = Bench(AdbServer(port=process.port), endpoints=process.endpoints, stand_ins=True)
        devices = [d for d in bench.look() if d.profile is not None and (not only or d.profile.name in only)]
        loaded = project.load(project.script_path(script)).given({"password": "comb-and-smoker"})
        run = Run(project, loaded, devices, Heard(), SystemClock(), Path(scratch))
        run.start()
        run.wait()
        bench.close()
        record = read_run(run.folder)
        lanes = lanes_of(record)
        return lanes, findings(lanes, record.remarks)


def judge(sheet: Sheet, where: str, lanes: Lanes, found: tuple[Finding, ...], faults: list[tuple[Fault, str]]) -> None:
    """Hold the findings against the faults, each with the name of a device that has it."""
    sheet.takes += len(lanes.lanes)
    for fault, device in faults:
        if fault.kind not in answers.COMES_OUT or not answers.crossed(lanes, device, fault):
            continue
        sheet.crossed[fault.kind] += 1
        hits = [f for f in found if device in f.devices and answers.matches(f, fault)]
        own = [f for f in hits if f.about in answers.COMES_OUT[fault.kind]]
        if own:
            sheet.found[fault.kind] += 1
        else:
            page, at = answers.place_of(fault)
            sheet.lost.append(f"{where}: {fault.kind} {at} on {page}, {device}")
        if len(own) > 1:
            sheet.twice.append(f"{where}: {device}: {' / '.join(f.title for f in own)}")
    for finding in found:
        for device in finding.devices:
            if not any(device == name and answers.matches(finding, fault) for fault, name in faults):
                sheet.false.append(f"{where}: {device}: {finding.kind.value} {finding.about}, step {finding.number}: {finding.title}")


def shipped(sheet: Sheet) -> None:
    """Every script, build and pace of what ships."""
    models = load_models()
    for build, pace, faults, busy, edges in PASSES:
        spinning = [multiprocessing.Process(target=keep_busy, daemon=True) for _ in range(busy)]
        for process in spinning:
            process.start()
        seeded = [
            (f, m.name) for f in load_faults(None if faults == "none" else Path("src/copione_lab/faults")) for m in models if f.fits(m)
        ]
        for script in ("Spring inspection", "A week of rounds"):
            lanes, found = replayed(script, {"build": build, "pace": pace, "faults": faults, "models": [str(EDGES)] if edges else []})
            rounds = script == "A week of rounds"
            own = [(f, n) for f, n in seeded if not rounds or answers.crossed_by_rounds(f)]
            found = tuple(f for f in found if not (rounds and build == "2.5" and f.step == answers.ANOTHER_ORDER))
            judge(sheet, f"{script}, {build}, {pace}{f', {busy} beside' if busy else ''}", lanes, found, own)
        for process in spinning:
            process.kill()


def worlds(sheet: Sheet, many: int, seed: int) -> None:
    """Worlds drawn by lot."""
    for number in range(many):
        with tempfile.TemporaryDirectory() as scratch:
            world = answers.make_world(Path(scratch), random.Random(seed + number), MODELS, PER_WORLD)
            known = load_models(world.models)
            faults = [(f, m.name) for f in load_faults(world.faults, known) for m in known if f.fits(m)]
            lab = {"models": [str(world.models)], "faults": str(world.faults)}
            lanes, found = replayed("Spring inspection", lab, world.names)
            judge(sheet, f"world {seed + number}", lanes, found, faults)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--worlds", type=int, default=25)
    parser.add_argument("--seed", type=int, default=random.SystemRandom().randrange(10**6))
    parser.add_argument("--only", choices=("shipped", "worlds"))
    options = parser.parse_args()
    print(f"seed {options.seed}")
    good = True
    parts = {"shipped": lambda sheet: shipped(sheet), "worlds": lambda sheet: worlds(sheet, options.worlds, options.seed)}
    for name, part in parts.items():
        if options.only not in (None, name):
            continue
        since, sheet = time.monotonic(), Sheet()
        part(sheet)
        good = told(name, sheet, time.monotonic() - since) and good
    return 0 if good else 1


def told(name: str, sheet: Sheet, seconds: float) -> bool:
    """Print the sheet; does it pass?"""
    table = Table("kind", "crossed", "found", title=f"{name}: {sheet.takes} takes, {seconds:.0f} s")
    for kind, many in sorted(sheet.crossed.items()):
        table.add_row(kind, str(many), str(sheet.found[kind]))
    crossed, found = sum(sheet.crossed.values()), sum(sheet.found.values())
    table.add_row("all", str(crossed), str(found), style="bold")
    Console().print(table)
    for title, lines in (("not found", sheet.lost), ("of nothing", sheet.false), ("said twice", sheet.twice)):
        for line in lines:
            print(f"  {title}: {line}")
    share, false = found / max(1, crossed), len(sheet.false) / max(1, sheet.takes)
    print(f"{name}: {share:.1%} found, {false:.3f} false a take, {len(sheet.twice)} said twice")
    return share >= (1.0 if name == "shipped" else BAR_FOUND) and false <= (0.0 if name == "shipped" else BAR_FALSE)


if __name__ == "__main__":
    sys.exit(main())
