"""The whole of Hive Diary, recorded on one phone, replayed on every model in two builds; the apps' own logs judge what was touched."""

from __future__ import annotations

import shutil
import sys
import tempfile
import unittest.mock
from collections import Counter
from pathlib import Path

from tests.benches import APP, EXAMPLE, Heard
from tests.recording.tour import Guest, deeds, tour

from copione.links.adb.link import AdbLink
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.model.clock import SystemClock
from copione.model.outcome import Outcome, Result
from copione.project.project import Project
from copione.recording.session import Session
from copione.replay.run import Run
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.adb_server import AdbServer as LabServer
from copione_lab.faces.webdriver import WebDriverServer
from copione_lab.model import load_models


def recorded(folder: Path) -> tuple[Path, list[str]]:
    """The tour's script in a project at `folder`, and what the app's widgets received while it was recorded."""
    shutil.copytree(EXAMPLE, folder, ignore=shutil.ignore_patterns("runs", "recordings", "scripts"))
    lab = LabBench([m for m in load_models() if m.name == "Alder 5"])
    with LabServer(lab) as face:
        session = Session(AdbLink(AdbServer(port=face.port), "LABALDER5"), Project(folder), APP)
        tour(session, Guest(session, session.touch, session.type))
        path = session.save("Whole diary")
    return path, deeds(lab.phones["LABALDER5"])


def replayed(script: Path, build: str, names: set[str] | None = None) -> tuple[Heard, dict[str, list[str]]]:
    """The results by model's name, and what each one's widgets received."""
    lab = LabBench([m for m in load_models() if names is None or m.name in names], build=build)
    project = Project(script.parent.parent)
    with LabServer(lab) as face, WebDriverServer(lab) as web, unittest.mock.patch.dict("os.environ", {"password": "honey"}):
        bench = Bench(AdbServer(port=face.port), endpoints=web.endpoints)
        heard = Heard()
        run = Run(project, project.load(script), bench.look(), heard, SystemClock(), script.parent.parent / "runs")
        run.start()
        run.wait()
        bench.close()
    return heard, {phone.model.name: deeds(phone) for phone in lab.phones.values()}


def wrong_deeds(recorded: list[str], results: list[Result], done: list[str]) -> list[str]:
    """What a take's widgets received and should not have: its log must be the beginning of the recorded one, in order."""
    wrong = []
    place = 0
    for deed in done:
        if deed in recorded[place:]:
            place += recorded[place:].index(deed) + 1
        else:
            wrong.append(deed)
    return wrong


def main() -> int:
    with tempfile.TemporaryDirectory() as scratch:
        script, meant = recorded(Path(scratch) / "project")
        print(script.read_text("utf-8"))
        total, counts = 0, Counter[str]()
        for build in ("2.4", "2.5"):
            heard, logs = replayed(script, build)
            for name, results in heard.results.items():
                total += len(results)
                counts.update(r.outcome.value for r in results)
                wrong = wrong_deeds(meant, results, logs[name])
                bad = [f"{r.step}: {r.outcome.value}, {r.reason}" for r in results if r.outcome in (Outcome.STUCK, Outcome.DIFFERS)]
                ended = sum(r.outcome is Outcome.UNREACHED for r in results)
                print(
                    f"{build} {name}: {len(results) - len(bad) - ended} of {len(results)} done; wrong acts {wrong or 'none'}; {'; '.join(bad)}"
                )
        print(f"{total} steps:", dict(counts))
    return 0


if __name__ == "__main__":
    sys.exit(main())
