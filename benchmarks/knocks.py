"""Two hundred takes, each with a fault on its wire at a random instant, over adb and WebDriver; recordings with one; a hundred replays that
are ended by signals, full disks, an index that cannot be used; and two Copiones from different environments at one phone.

Each take has to end within its patience and ten seconds after the fault, with a sentence or whole; the outcomes of the phones that had none
are as without it; the archive is whole; the memory stays under 600 MB.
"""

from __future__ import annotations

import argparse
import contextlib
import random
import resource
import shutil
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path

from tests.benches import APP, EXAMPLE, Heard
from tests.recording.tour import Guest, tour

from copione.engine.memory import use_sparingly
from copione.links.adb.server import AdbServer
from copione.links.adb.source import AdbSource
from copione.links.bench import Bench
from copione.model.clock import SystemClock
from copione.model.errors import CopioneError
from copione.model.outcome import Outcome
from copione.model.take import TakeName
from copione.project.archive import read_run
from copione.project.journal import unfinished
from copione.project.project import Project
from copione.recording.session import Session
from copione.replay.run import Run
from copione_lab.control import ask
from copione_lab.spawn import LabProcess

from .ends import ends, two_at_one

KINDS = ("close", "garbage", "hang", "drip", "cut-picture", "giant-picture", "vanish", "refuse", "kill-server")
PATIENCE_S, MORE_S, MOST_MB = 3.0, 10.0, 600
AT_ONCE, VICTIMS = 8, 5
GOOD = (Outcome.HELD, Outcome.ADAPTED)


class Knocks:
    """Faults for the phones of a lab, from another thread; `at` is when each one's came."""

    def __init__(self, lab: LabProcess) -> None:
        port, self._token = lab.control.split(":", 1)
        self._port = int(port)
        self.at: dict[str, float] = {}
        self._threads: list[threading.Thread] = []

    def do(self, what: str, phone: str) -> None:
        with contextlib.suppress(OSError, ValueError):
            ask(self._port, self._token, what, phone)

    def plan(self, kind: str, phone: str, after: float, back: float) -> None:
        def knock() -> None:
            time.sleep(after)
            self.do("unplug" if kind == "vanish" else kind, phone)
            self.at[phone] = time.monotonic()  # a busy lab takes its time over it
            if kind == "vanish":
                time.sleep(back)
                self.do("plug", phone)

        self._threads.append(threading.Thread(target=knock, daemon=True))
        self._threads[-1].start()

    def over(self) -> None:
        for thread in self._threads:
            thread.join()


def one_round(project: Project, script: Path, chance: random.Random, number: int) -> tuple[int, list[str], Counter[str]]:
    """One run: how many takes had a fault, what went wrong, and what became of their steps."""
    wrong: list[str] = []
    ended: dict[str, float] = {}
    with LabProcess(faults="none") as lab:
        bench = Bench(AdbServer(port=lab.port), endpoints=lab.endpoints)
        devices = chance.sample(bench.look(), AT_ONCE)
        knocks = Knocks(lab)
        heard = Heard()
        tell = heard.take_ended

        def take_ended(take: TakeName, trouble: str) -> None:
            ended[take.device] = time.monotonic()
            tell(take, trouble)

        heard.take_ended = take_ended  # type: ignore[method-assign]
        run = Run(project, project.load(script), devices, heard, SystemClock())
        victims = {d.name: d for d in chance.sample(devices, VICTIMS)}
        kinds = {name: chance.choice(KINDS[:-1]) for name in victims}
        if number % 8 == 7:
            kinds = {d.name: "kill-server" for d in devices if isinstance(d.source, AdbSource)}
            knocks.plan("kill-server", "", chance.uniform(0.0, 4.0), 0.0)
            victims = {d.name: d for d in devices if d.name in kinds}
        else:
            for name, kind in kinds.items():
                knocks.plan(kind, name, chance.uniform(0.0, 4.0), chance.uniform(0.2, 2.0))
        run.start()
        run.wait()
        knocks.over()
        for name in victims:
            knocks.do("mend", name)
        bench.close()
    counts = Counter[str]()
    for device in devices:
        results = heard.results.get(device.name, [])
        bad = [r for r in results if r.outcome not in GOOD]
        if device.name not in victims:
            wrong += [f"{device.name} had no fault, and {r.step} is {r.outcome.value}: {r.reason}" for r in bad[:1]]
            continue
        kind = kinds[device.name]
        counts[f"{kind}: {'stopped' if bad else 'went on'}"] += 1
        at = knocks.at.get(device.name, knocks.at.get("", 0.0))
        late = ended[device.name] - at
        if bad and late > PATIENCE_S + MORE_S:
            wrong.append(f"{device.name} ended {late:.1f} s after {kind}")
        stuck = next((r for r in bad if r.outcome is Outcome.STUCK), None)
        if bad and (stuck is None or not stuck.reason or "error in Copione" in stuck.reason):
            wrong.append(f"{device.name} after {kind}: {bad[0].step} is {bad[0].outcome.value}: {bad[0].reason}")
    record = read_run(run.folder)
    steps = len(list(run.script.steps()))
    for take in record.takes:
        if len(take.results) != steps:
            wrong.append(f"{take.name.device}: {len(take.results)} of {steps} steps in the archive")
        pictures = kinds.get(take.name.device, "").endswith("picture")
        lost = [r.before for r in take.results if r.before and not take.picture(r.before).exists()]
        if lost and not pictures:
            wrong.append(f"{take.name.device}: {lost[0]} is not in the archive")
        for path in (take.folder / "shots").glob("*.png"):
            if not path.read_bytes().endswith(b"IEND\xaeB`\x82"):
                wrong.append(f"{take.name.device}: {path.name} is no whole picture")
    if not record.complete:
        wrong.append("the run is not complete")
    shutil.rmtree(run.folder)
    return len(victims), wrong, counts


def one_recording(folder: Path, chance: random.Random) -> list[str]:
    """A recording with a fault: what it had, beside what its journal gives back."""
    with LabProcess(faults="none") as lab:
        bench = Bench(AdbServer(port=lab.port, patience=4.0))
        device = next(d for d in bench.look() if d.name == "Alder 5")
        assert device.worker is not None
        project = Project.create(folder, "Bees")
        session = Session(device.worker.link, project, APP)
        knocks = Knocks(lab)
        kind = chance.choice(KINDS)
        knocks.plan(kind, "Alder 5", chance.uniform(0.5, 5.0), chance.uniform(0.2, 2.0))
        began = time.monotonic()
        with contextlib.suppress(CopioneError, AssertionError):
            tour(session, Guest(session, session.touch, session.type))
        late = time.monotonic() - max(began, knocks.at.get("Alder 5", began))
        had = [s.uid for s in session.recording.steps]
        session.stop_journal()
        knocks.over()
        knocks.do("mend", "Alder 5")
        bench.close()
    kept = unfinished(project.recordings_folder)
    back = [s.uid for s in kept[0].steps] if kept else []
    wrong = [f"{kind} while recording: {len(had)} steps, {len(back)} in the journal"] if had != back else []
    return wrong + ([f"{kind} while recording: went on for {late:.0f} s"] if late > 60 else [])


def exit_codes(folder: Path) -> list[str]:
    """What the command line says of a run without a fault, with one, and without a server."""
    wrong = []
    script = str(Project(folder).script_path("Spring inspection"))
    for kind, code in (("", 0), ("hang", 3), ("kill-server", 1)):
        with LabProcess(faults="none") as lab:
            knocks = Knocks(lab)
            if kind == "kill-server":
                knocks.do(kind, "")
            command = [sys.executable, "-m", "copione", "replay", script, "--on", "Alder 5", "Wren mini", "--adb", f"127.0.0.1:{lab.port}"]
            process = subprocess.Popen([*command, "--json"], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
            assert process.stdout is not None
            if kind == "hang":
                process.stdout.readline()
                knocks.do(kind, "Alder 5")
            _, said = process.communicate()
            knocks.do("mend", "Alder 5")
        if process.returncode != code or "Traceback" in said:
            wrong.append(f"exit code {process.returncode} with {kind or 'no fault'}: {said[-300:]}")
    return wrong


def main() -> int:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("--takes", type=int, default=200)
    given.add_argument("--recordings", type=int, default=20)
    given.add_argument("--ends", type=int, default=100)
    given.add_argument("--pairs", type=int, default=20)
    given.add_argument("--seed", type=int, default=random.randrange(1 << 30))
    options = given.parse_args()
    use_sparingly()  # as the command line does
    chance = random.Random(options.seed)
    print(f"seed {options.seed}")
    wrong: list[str] = []
    counts, takes, number = Counter[str](), 0, 0
    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch) / "project"
        shutil.copytree(EXAMPLE, folder, ignore=shutil.ignore_patterns("runs", "recordings"))
        project = Project(folder)
        script = project.script_path("Spring inspection")
        script.write_text(script.read_text("utf-8").replace("patience 8 s", f"patience {PATIENCE_S:g} s"), "utf-8")
        while takes < options.takes:
            count, bad, became = one_round(project, script, chance, number)
            takes, number, wrong = takes + count, number + 1, wrong + bad
            counts += became
            print(f"{takes} takes with a fault; {len(wrong)} that went wrong {bad or ''}", flush=True)
        wrong += exit_codes(folder)
        for n in range(options.recordings):
            wrong += one_recording(Path(scratch) / f"recording {n}", chance)
        print(f"{options.recordings} recordings with a fault")
    as_it_was, bad, became = ends(options.ends, chance)
    wrong, counts = wrong + bad, counts + became
    print(f"{options.ends} replays that were ended: the phone was as before after {as_it_was}", flush=True)
    overlapping, bad = two_at_one(options.pairs, chance)
    wrong += bad
    print(f"{options.pairs} times two at one phone: {overlapping} with acts of the one among those of the other", flush=True)
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    for kind, count in sorted(counts.items()):
        print(f"  {kind:28} {count}")
    print("\n".join(wrong))
    print(f"{takes} takes and {options.recordings} recordings with a fault: {len(wrong)} that went wrong; {memory:.0f} MB (bar {MOST_MB})")
    return int(bool(wrong) or memory > MOST_MB)


if __name__ == "__main__":
    sys.exit(main())
