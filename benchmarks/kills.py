"""`kill -9` at fifty random instants of a recording: what the journal gives back beside what had been recorded."""

from __future__ import annotations

import random
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from copione.project.journal import unfinished
from copione.project.project import Project
from copione_lab.spawn import LabProcess

ROUNDS, LONGEST_S = 50, 3.0
RECORDER = """
import sys
from copione.links.adb.link import AdbLink
from copione.links.adb.server import AdbServer
from copione.project.project import Project
from copione.recording.session import Session
from pathlib import Path
from tests.benches import APP
from tests.recording.tour import Guest, tour
session = Session(AdbLink(AdbServer(port=int(sys.argv[1])), "LABALDER5"), Project(Path(sys.argv[2])), APP)

def after(act):
    def done(*given):
        act(*given)
        print(len(session.recording.steps), flush=True)
    return done

print("ready", flush=True)
tour(session, Guest(session, after(session.touch), after(session.type)))
"""


def main() -> int:
    seed = random.randrange(1 << 30)
    chance = random.Random(seed)
    lost: list[int] = []
    with LabProcess(faults="none") as lab, tempfile.TemporaryDirectory() as scratch:
        for number in range(ROUNDS):
            project = Project.create(Path(scratch) / str(number), "Bees")
            process = subprocess.Popen(
                [sys.executable, "-c", RECORDER, str(lab.port), str(project.folder)], stdout=subprocess.PIPE, text=True
            )
            assert process.stdout is not None
            process.stdout.readline()
            time.sleep(chance.uniform(0.0, LONGEST_S))
            process.kill()
            said = [int(line) for line in process.stdout.read().split()]
            process.wait()
            kept = unfinished(project.recordings_folder)
            steps = len(kept[0].steps) if kept else 0
            lost.append((said[-1] if said else 0) - steps)
    often = sum(n > 0 for n in lost)
    print(f"seed {seed}: {ROUNDS} recordings killed; steps lost of those recorded: at most {max(0, *lost)}, in {often} of them")
    return 0


if __name__ == "__main__":
    sys.exit(main())
