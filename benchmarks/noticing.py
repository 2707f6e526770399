"""`python -m benchmarks.noticing`: what remarks cost a take: the demo script on stand-in phones with and without them, by turns.

One run differs from the next by more than remarks cost: so many of each are needed that their means can be told apart.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from pathlib import Path
from unittest import mock

from tests.benches import Heard

from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.model.clock import SystemClock
from copione.project.project import Project
from copione.replay.noticing import Noticing
from copione.replay.run import Run
from copione_lab.spawn import LabProcess

ROUNDS, BAR = 20, 1.10
PHONES = ("Alder 5", "Fennel 3", "Kestrel S")


def nothing(*_: object) -> None:
    """Instead of looking at a screen."""


def seconds(project: Project, bench: Bench) -> float:
    """One run of three takes."""
    with tempfile.TemporaryDirectory() as scratch:
        loaded = project.load(project.script_path("Spring inspection"))
        devices = [d for d in bench.look() if d.profile is not None and d.profile.name in PHONES]
        run = Run(project, loaded, devices, Heard(), SystemClock(), Path(scratch))
        since = time.monotonic()
        run.start()
        run.wait()
        return time.monotonic() - since


def main() -> int:
    with_them, without = [], []
    with LabProcess(faults="none") as lab:
        bench = Bench(AdbServer(port=lab.port), endpoints=lab.endpoints, stand_ins=True)
        project = Project(Path("examples/hive-diary"))
        seconds(project, bench)  # once for everything that is loaded late
        for number in range(2 * ROUNDS):
            if number % 4 in (0, 3):  # with, without, without, with: what gets slower or faster meanwhile favours neither
                with_them.append(seconds(project, bench))
            else:
                with mock.patch.object(Noticing, "seen", nothing):
                    without.append(seconds(project, bench))
        bench.close()
    ratio = statistics.mean(with_them) / statistics.mean(without)
    print(f"with remarks {statistics.mean(with_them):.2f} s, without {statistics.mean(without):.2f} s: {ratio:.3f} (bar {BAR})")
    return 0 if ratio <= BAR else 1


if __name__ == "__main__":
    sys.exit(main())
