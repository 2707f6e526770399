"""`python -m benchmarks.libraries [NAME ...]`: pages of eight libraries, recorded by their glass, replayed as recorded and as written.

Each line of `NAME.steps` is: what the hand does | the step that describes it | what the page's event handlers log. Every script is replayed
on three Chromiums and a WebKit, and the handlers' log is compared with the expected one. Then faults are seeded on one device of the four.
"""

from __future__ import annotations

import argparse
import re
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path

from rich.console import Console
from tests.benches import Heard
from tests.links.browsers.devices import started

from copione.comparison.findings import findings
from copione.engine.judging import lanes_of
from copione.language.printer import step_words
from copione.links.bench import Device
from copione.links.browser.kept import BrowserSpec
from copione.links.browser.link import BrowserLink
from copione.model.action import Start
from copione.model.clock import SystemClock
from copione.model.outcome import Outcome, Result
from copione.project.archive import read_run
from copione.project.project import Project
from copione.recording.session import Session
from copione.replay.run import Run
from copione_lab.kiln_book.serving import Served

from .hand import HERE, Hand, Sheet, sheet_of

PACKAGES = """@ionic/core@8 framework7@9 onsenui@2 vue@3 vant@4 quasar@2 @quasar/extras@1 @shoelace-style/shoelace@2 leaflet@1 swiper@11
sortablejs@1 nouislider@15 flatpickr@4 choices.js@11 konva@9""".split()  # noqa: SIM905
DEVICES = (
    BrowserSpec("Chromium 360", "chromium", 360, 740),
    BrowserSpec("Chromium 412", "chromium", 412, 892),
    BrowserSpec("Chromium 820", "chromium", 820, 1180),
    BrowserSpec("WebKit 390", "webkit", 390, 844),
)
FAULTY = "Chromium 360"  # the only one so narrow
RECORDER = BrowserSpec("Recorder", "chromium", 412, 892)
PATIENCE_S, OVER_S = 8.0, 2.0
BAR_HELD = 0.97
WITHIN = re.compile(r"within (\d+(?:\.\d+)?) s")


@dataclass
class Score:
    """The results: how many steps had which outcome, and every problem in words."""

    outcomes: Counter[str] = field(default_factory=Counter)
    stuck: list[str] = field(default_factory=list)
    wrong: list[str] = field(default_factory=list)
    late: list[str] = field(default_factory=list)
    false: list[str] = field(default_factory=list)
    lost: list[str] = field(default_factory=list)
    found: list[str] = field(default_factory=list)

    def told(self, console: Console) -> bool:
        """Print the score and return whether it passes."""
        for kind in ("stuck", "wrong", "late", "false", "lost", "found"):
            for words in getattr(self, kind):
                console.print(f"  {kind}: {words}", markup=False)
        share = (self.outcomes["held"] + self.outcomes["adapted"]) / max(1, self.outcomes.total())
        counts = ", ".join(f"{len(getattr(self, kind))} {kind}" for kind in ("wrong", "late", "false", "lost", "found"))
        console.print(f"{share:.1%} of {self.outcomes.total()} steps held; {counts}")
        return share >= BAR_HELD and not (self.wrong or self.late or self.false or self.lost)


class Pages:
    """The served pages and libraries. A seeded fault shows only in windows as narrow as that of `FAULTY`."""

    def __init__(self, folder: Path, url: str) -> None:
        self.folder, self.url = folder, url
        self.seed("")

    def seed(self, fault: str) -> None:
        """Put a fault into the pages, from their next load on; an empty string removes it."""
        (self.folder / "fault.js").write_text(f"window.fault = innerWidth < 380 ? {fault!r} : '';\n", "utf-8")


@contextmanager
def pages(packages: Path | None) -> Iterator[Pages]:
    """Serve the pages. `packages`: a folder with node_modules; without it they are installed from npm."""
    with tempfile.TemporaryDirectory() as scratch:
        top = Path(scratch)
        if packages is None:
            subprocess.run(["npm", "install", "--no-audit", "--no-fund", "--ignore-scripts", "--prefix", str(top), *PACKAGES], check=True)
        else:
            (top / "node_modules").symlink_to(packages.resolve() / "node_modules")
        for page in (*HERE.glob("*.html"), HERE / "log.js"):
            shutil.copy(page, top / page.name)
        with Served(top) as served:
            yield Pages(top, served.url)


def record(name: str, project: Project, url: str, sheet: Sheet) -> tuple[Path, list[str], list[str]]:
    """Record a page by hand. Returns the saved script, its steps in words, and the handlers' log."""
    link = BrowserLink(RECORDER)
    try:
        session = Session(link, project, url)
        session.launch(Start.AFRESH)
        hand = Hand(session, link)
        for line in sheet.lines:
            if line.hand:
                hand.do(line.hand)
        session.look()
        told, steps = _told_by(link), [step_words(each.step) for each in session.recording.steps]
        return session.save(f"Recorded {name}"), steps, told
    finally:
        link.close()


def _told_by(link: BrowserLink) -> list[str]:
    found = link.tab.run("return window.told;")
    return [str(each) for each in found] if isinstance(found, list) else []


def written(name: str, project: Project, sheet: Sheet) -> Path:
    """Write a script of the sheet's steps, as someone would who never recorded the page."""
    path = project.scripts_folder / f"written-{name}.copione"
    steps = "".join(f"    {line.step}\n" for line in sheet.lines if line.step)
    head = f'script "Written {name}"\napp {next(iter(project.apps))}\npatience {PATIENCE_S:.0f} s\nscene "Scene 1"\n    launch afresh\n'
    path.write_text(head + steps, "utf-8")
    return path


def replay(project: Project, path: Path, devices: list[Device], sheet: Sheet, score: Score, fault: str = "") -> None:
    """Replay a script on all devices and add the results to the score. `fault`: the one that is seeded, if any."""
    heard = Heard()
    with tempfile.TemporaryDirectory() as scratch:
        run = Run(project, project.load(path), devices, heard, SystemClock(), Path(scratch))
        run.start()
        run.wait()
        kept = read_run(run.folder)
        said = [(f.devices, f"{f.kind.value} {f.about}, step {f.number}: {f.title}") for f in findings(lanes_of(kept), kept.remarks)]
    for device in devices:
        where, results = f"{path.stem}, {device.name}", heard.results[device.name]
        if not fault or device.name != FAULTY:
            assert device.worker is not None
            told = device.worker.submit(_told_by).result()
            _judge(score, where, results, told, sheet.told(fingers=device.name.startswith("Chromium")))
        slow = [r for r in results if r.seconds > _patience_of(r) + OVER_S and not r.step.startswith("launch")]
        score.late += [f"{where}: {r.step}: {r.seconds:.1f} s" for r in slow]
    own = [words for names, words in said if fault and names == (FAULTY,)]
    score.false += [f"{path.stem}: {', '.join(names)}: {words}" for names, words in said if not fault or names != (FAULTY,)]
    if fault:
        (score.found if own else score.lost).append(f"{path.stem}, {fault}: {'; '.join(own)}")


def _judge(score: Score, where: str, results: list[Result], told: list[str], meant: list[str]) -> None:
    """Compare a device's log with the expected one. Missing entries are wrong only where no step failed; extra entries always are."""
    score.outcomes.update(r.outcome.value for r in results)
    stuck = [r for r in results if r.outcome.bad]
    score.stuck += [f"{where}: {r.step}: {r.outcome.value}: {r.reason}" for r in stuck if r.outcome is not Outcome.UNREACHED]
    more, less = list((Counter(told) - Counter(meant)).elements()), list((Counter(meant) - Counter(told)).elements())
    if more or (not stuck and told != meant):
        score.wrong.append(f"{where}: told besides {more}, not told {less}")


def _patience_of(result: Result) -> float:
    own = WITHIN.search(result.step)
    return float(own[1]) if own else PATIENCE_S


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("names", nargs="*", default=sorted(path.stem for path in HERE.glob("*.steps")))
    parser.add_argument("--packages", type=Path, help="a folder with the node_modules")
    parser.add_argument("--record-only", action="store_true", help="show what is recorded, and replay nothing")
    options = parser.parse_args()
    console, score, good = Console(width=160), Score(), True
    with pages(options.packages) as served, started(DEVICES) as bench:
        ready = {device.name: device for device in bench.look()}
        devices = [ready[each.name] for each in DEVICES]
        for name in options.names:
            sheet = sheet_of(name)
            with tempfile.TemporaryDirectory() as scratch:
                project = Project.create(Path(scratch), "Libraries")
                served.seed("")
                path, steps, told = record(name, project, f"{served.url}/{name}.html", sheet)
                console.print(f"{name}: {len(steps)} steps recorded", style="bold")
                if options.record_only:
                    console.print(*steps, sep="\n", markup=False)
                if told != sheet.told():
                    score.wrong.append(f"{name}, the hand: told {told}")
                if not options.record_only:
                    by_hand = written(name, project, sheet)
                    replay(project, path, devices, sheet, score)
                    replay(project, by_hand, devices, sheet, score)
                    for fault in sheet.faults:
                        served.seed(fault)
                        replay(project, by_hand, devices, sheet, score, fault)
            good = score.told(console)
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main())
