"""`python -m benchmarks.memory [REPLAYS]`: what stays in memory of 5,000 moments, and of 200 replays in one window."""

from __future__ import annotations

import gc
import io
import os
import random
import sys
import tempfile
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import numpy as np
from rich.console import Console
from rich.table import Table

from copione.language.document import parse
from copione.links.claims import Claim
from copione.links.link import InstalledApp, Sleeps, TellsCosts
from copione.model.clock import SteppedClock
from copione.model.device import DeviceProfile
from copione.model.gesture import Contact
from copione.model.library import OWN, Library
from copione.model.screen import Flag, Moment, Screen
from copione.project.archive import TakeWriter
from copione.project.project import Project
from copione.recording.session import Session
from copione.replay.plan import TakePlan, TakePorts
from copione.replay.take import Take
from copione.touch.making import tap

from .apps import WORDS
from .scale import resident_mb

MOMENTS, ELEMENTS, EVERY = 5000, 400, 25  # a touch is recorded every so many moments
WARM_UP = 200  # moments after which is counted
BAR_MB = 60.0
REPLAYS, FIRST = 200, 10
PHONES = frozenset({"Alder 5", "Wren mini"})
APP = "org.example.made_up"


class MadeUpPhone:
    """A link to a phone that shows another screen at every look: so many elements, none of them seen before."""

    address = "made up"
    held_as = ""
    configured = ""

    def __init__(self) -> None:
        from PIL import Image

        self.chance = random.Random(5)
        self.looks = 0
        self.claim = Claim("made up", "Made up", Path(tempfile.mkdtemp()))
        data = io.BytesIO()
        Image.new("RGB", (82, 178), "#DDE3D2").save(data, "PNG")
        self.png = data.getvalue()

    def close(self) -> None: ...

    def step_begins(self) -> None: ...

    def has(self, kind: type) -> bool:
        return kind not in (Sleeps, TellsCosts)

    def able(self, _kind: type) -> Any:
        return self

    def hit(self, x: float, y: float) -> None: ...

    def held_up(self) -> float:
        return 0.0

    def profile(self) -> DeviceProfile:
        return DeviceProfile("Made up", "android", "14", 824, 1784, 320, 1.0, "en-GB")

    def picture(self) -> bytes:
        return self.png

    def moment(self) -> Moment:
        self.looks += 1
        return Moment(time.time(), self.png + self.looks.to_bytes(4, "big"), self._screen())

    def _screen(self) -> Screen:
        n = ELEMENTS
        words = tuple(f"{self.chance.choice(WORDS)} {self.chance.choice(WORDS)} {self.looks}-{i}" for i in range(n - 1))
        names = ("", f"Control {self.looks % 2}", *words[1:])
        lefts, tops = np.tile([6.0, 212.0], n)[:n], np.arange(n) // 2 * 60.0
        boxes = np.stack([lefts, tops, lefts + 190, tops + 52], axis=1)
        boxes[0] = (0, 0, 412, 892)
        return Screen(
            width=412.0,
            height=892.0,
            app=APP,
            activity=".Main",
            keyboard=None,
            roles=("generic", *("button" if i % 3 else "text" for i in range(1, n))),
            names=names,
            texts=names,
            labels=("",) * n,
            ids=("", *(f"id_{i}" for i in range(1, n))),
            boxes=boxes,
            parents=np.array([-1] + [0] * (n - 1), np.int32),
            flags=np.full(n, Flag.ENABLED | Flag.CLICKABLE, np.int32),
        )

    def touch(self, contacts: Sequence[Contact]) -> None: ...

    def panel(self) -> tuple[int, int]:
        return 824, 1784

    def touch_stream(self, taken: Callable[[bytes], bool]) -> None: ...

    def turn(self, orientation: str) -> None: ...

    def install(self, package: bytes) -> None: ...

    def type_text(self, words: str) -> None: ...

    def press(self, key: str, times: int = 1) -> None: ...

    def front(self) -> tuple[str, str]:
        return APP, ".Main"

    def packages(self) -> list[str]:
        return [APP]

    def apps(self) -> list[InstalledApp]:
        return [InstalledApp(APP, "1.0")]

    def version(self, package: str) -> str:
        return "1.0"

    def launch(self, package: str, start: object = None) -> None: ...

    def stop(self, package: str) -> None: ...

    def log(self, since: float) -> str:
        return ""


def recorded(project: Project, moments: int, warm: Callable[[], None]) -> int:
    """Put that many moments through a recording, with a touch now and then; how many steps it has."""
    phone = MadeUpPhone()
    session = Session(phone, project, APP)
    while phone.looks < moments:
        session.look()
        if phone.looks == WARM_UP:
            warm()
        if phone.looks % EVERY == 0:
            session.touch([tap(300.0, 30.0 + 60 * (phone.looks % 11))])
    session.stop_journal()
    return len(session.recording.steps)


def replayed(folder: Path, moments: int, warm: Callable[[], None]) -> int:
    """Put that many moments through a take, each looked through for its target; how many steps were done."""
    phone = MadeUpPhone()
    steps = "\n".join(f'    tap button "Control {n % 2}"' for n in range(moments - 1))
    script = parse(f'script "Made up"\nscene "One"\n{steps}\n').sound()
    done = 0

    def told(_result: object) -> None:
        nonlocal done
        done += 1
        if done == WARM_UP:
            warm()

    take = Take(TakePlan(Library({OWN: script}), phone.profile(), APP), phone, SteppedClock(), TakePorts(TakeWriter(folder), told))
    take.run()
    return done


def windowed(replays: int, folder: Path) -> list[float]:
    """Replay the demo that often in one window, by its key, and look at every page; what the process keeps after each, MB."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QSettings, Qt
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication

    from copione.app import theme
    from copione.app.main import build
    from copione.links.adb.server import AdbServer
    from copione.links.bench import Bench
    from copione.project.demo import copy_demo
    from copione_lab.spawn import LabProcess

    app = QApplication.instance() or QApplication([])
    theme.apply(app)
    copy_demo(folder / "demo")
    kept: list[float] = []
    with LabProcess() as lab:
        settings = QSettings(str(folder / "window.ini"), QSettings.Format.IniFormat)
        window = build(Bench(AdbServer(port=lab.port), stand_ins=True), Project(folder / "demo"), settings)
        window.show()
        workspace = window.workspace
        assert workspace is not None
        workspace.begin()

        def until(true: Callable[[], object]) -> None:
            while not true():
                QTest.qWait(5)

        until(lambda: workspace.loaded is not None and len([d for d in workspace.devices if d.ready]) >= len(PHONES))
        QTest.qWait(1000)
        for device in workspace.devices:
            workspace.take_part(device, device.name in PHONES)
        for number in range(replays):
            window.show_page(1 + number % 3)
            QTest.keyClick(window.windowHandle(), Qt.Key.Key_F5)
            until(lambda: workspace.runs.running)
            until(lambda: not workspace.runs.running)
            QTest.qWait(300)
            kept.append(resident_mb())
        window.close()
        workspace.wait_closed()
    return kept


def main() -> int:
    replays = int(sys.argv[1]) if len(sys.argv) > 1 else REPLAYS
    table = Table(f"{MOMENTS} moments of {ELEMENTS} elements", "seconds", "kept after the first ones", "bar", header_style="bold")
    grown = 0.0
    with tempfile.TemporaryDirectory() as scratch:
        place = Path(scratch)
        project = Project.create(place / "project", "Made up")
        for words, work in (
            ("recording", lambda warm: recorded(project, MOMENTS // 2, warm)),
            ("replay", lambda warm: replayed(place / "take", MOMENTS // 2, warm)),
        ):
            before: list[float] = []

            def warm(before: list[float] = before) -> None:
                gc.collect()
                before.append(resident_mb())

            since = time.perf_counter()
            steps = work(warm)
            seconds = time.perf_counter() - since
            gc.collect()
            kept = resident_mb() - before[0]
            grown += max(0.0, kept)
            table.add_row(f"{words}: {MOMENTS // 2} moments, {steps} steps", f"{seconds:.1f}", f"{kept:+.1f} MB", "")
        table.add_row("together", "", f"{grown:+.1f} MB", f"{BAR_MB:g} MB")
        since = time.perf_counter()
        kept = windowed(replays, place)
        seconds = time.perf_counter() - since
        first, more = kept[min(FIRST, len(kept)) - 1], max(kept[FIRST:], default=0.0) - kept[min(FIRST, len(kept)) - 1]
        words = f"{replays} replays on {len(PHONES)} phones in one window, {first:.0f} MB after the first {FIRST}"
        table.add_row(words, f"{seconds:.1f}", f"{more:+.1f} MB at most", f"{BAR_MB:g} MB")
    Console(width=140).print(table)
    return 0 if grown < BAR_MB and more < BAR_MB else 1


if __name__ == "__main__":
    sys.exit(main())
