"""`python -m benchmarks.costs`: what it costs a take to ask what the app costs, by turns with and without; and what is then remarked on:
growth and weight seeded on each model in turn, and nothing where nothing was seeded.
"""

from __future__ import annotations

import argparse
import statistics
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager, nullcontext
from pathlib import Path
from unittest import mock

from tests.benches import Heard

from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.model import remark_kinds as kinds
from copione.model.clock import SystemClock
from copione.project.demo import copy_demo
from copione.project.project import Project
from copione.replay.run import Run
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.adb_server import AdbServer as LabServer
from copione_lab.model import Fault, load_models
from copione_lab.spawn import LabProcess

BAR, ROUNDS, TAKES, TURNS = 1.02, 6, 300, 12
OFTEN_S = 0.2  # in the phones' shortened time
PHONES = ("Alder 5", "Fennel 3", "Plateau 10")
LOOP = """script "Round and round"
app hive-diary

scene "One"
    launch afresh
    repeat {turns} times
        tap button "Tasks"
        press back
    end
"""


@contextmanager
def project() -> Iterator[Project]:
    """The demo project with that script in it."""
    with tempfile.TemporaryDirectory() as folder:
        copy_demo(Path(folder) / "project")
        made = Project(Path(folder) / "project")
        made.script_path("loop").write_text(LOOP.format(turns=TURNS), "utf-8")
        yield made


def run_on(made: Project, bench: Bench, clock: SystemClock) -> tuple[float, Heard]:
    """One run, its seconds, and what was heard of it."""
    with tempfile.TemporaryDirectory() as runs:
        run = Run(made, made.load(made.script_path("loop")), [d for d in bench.look() if d.ready], heard := Heard(), clock, Path(runs))
        since = time.monotonic()
        run.start()
        run.wait()
        return time.monotonic() - since, heard


def ratio(made: Project, rounds: int) -> float:
    """Seconds of a run with it over those without, phones in a process of their own, at their real pace."""
    with_it, without = [], []
    with LabProcess(pace="real", faults="none") as lab:
        bench = Bench(AdbServer(port=lab.port), stand_ins=True)
        only = mock.patch.object(bench, "look", lambda look=bench.look: [d for d in look() if d.name in PHONES])
        with only:
            run_on(made, bench, SystemClock())
            for number in range(2 * rounds):
                if number % 4 in (0, 3):
                    with_it.append(run_on(made, bench, SystemClock())[0])
                else:
                    with mock.patch("copione.replay.run.watched", lambda *_: nullcontext()):
                        without.append(run_on(made, bench, SystemClock())[0])
        bench.close()
    found = statistics.mean(with_it) / statistics.mean(without)
    print(f"with it {statistics.mean(with_it):.2f} s, without {statistics.mean(without):.2f} s: {found:.3f} (bar {BAR})", flush=True)
    return found


def noticed(made: Project, fault: Fault | None) -> tuple[set[tuple[str, str]], int]:
    """Kind and device of each remark about costs, and how many takes there were, with a fault seeded on a model or with none."""
    models = [model for model in load_models() if model.platform == "android"]
    lab = LabBench(models, [fault] if fault is not None else [])
    with LabServer(lab) as face, mock.patch("copione.replay.costs.EVERY_S", OFTEN_S), mock.patch("copione.replay.costs.SHARE", 1.0):
        bench = Bench(AdbServer(port=face.port))
        _, heard = run_on(made, bench, SystemClock())
        bench.close()
    return {(r.kind.value, r.take.device) for r in heard.remarks if r.kind in (kinds.HEAVIER, kinds.GROWS)}, len(heard.results)


def main(takes: int = TAKES, rounds: int = ROUNDS, models: int = 99) -> int:
    """1 where something is missed, falsely told, or costs more than it may."""
    wrong = 0
    with project() as made:
        android = [model for model in load_models() if model.platform == "android"][:models]
        seeded = [("leak", kinds.GROWS, android), *(("heavy", kinds.HEAVIER, [model]) for model in android)]
        for kind, remark, on in seeded:
            found, _ = noticed(made, Fault(kind, kind, tuple(model.key for model in on), "", "", "", None))
            odd = found ^ {(remark.value, model.name) for model in on}
            if odd:
                wrong += len(odd)
                print(f"{kind} on {', '.join(model.name for model in on)}: missed or of nothing: {sorted(odd)}", flush=True)
        print(f"seeded: {2 * len(android)}, wrong: {wrong}", flush=True)
        done = false = 0
        while done < takes:
            found, count = noticed(made, None)
            done, false = done + count, false + len(found)
            if found:
                print(f"of nothing: {sorted(found)}")
        print(f"false: {false} in {done} takes", flush=True)
        slow = rounds > 0 and ratio(made, rounds) > BAR
    return int(wrong > 0 or false > 0 or slow)


if __name__ == "__main__":
    parser = argparse.ArgumentParser()
    parser.add_argument("--takes", type=int, default=TAKES)
    parser.add_argument("--rounds", type=int, default=ROUNDS)
    options = parser.parse_args()
    sys.exit(main(options.takes, options.rounds))
