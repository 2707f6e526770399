"""`python -m benchmarks`: what the product costs beside the bare work, as ratios of one run, with what dominates each."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from rich.console import Console
from rich.table import Table

from copione.links.adb.server import AdbServer, Output, Route
from copione.links.bench import Bench, Device
from copione.links.limits import Limit
from copione.model.clock import SystemClock
from copione.project.project import Project
from copione.replay.run import Run
from copione_lab.spawn import LabProcess

from . import gestures, pictures, sightings

ROOT = Path(__file__).resolve().parent.parent
SCRIPT = ROOT / "examples" / "hive-diary" / "scripts" / "spring-inspection.copione"
ROUNDS = 9
THREE = ("Alder 5", "Wren mini", "Plateau 10")


class Silent:
    """A run's listener that does nothing."""

    def take_started(self, take: object, begun: object) -> None: ...

    def step_done(self, take: object, result: object) -> None: ...

    def take_ended(self, take: object, trouble: str) -> None: ...

    def noticed(self, remarks: object) -> None: ...

    def run_ended(self, trouble: str) -> None: ...


class Recorder(AdbServer):
    """An adb server client that notes every wire command, so that the same can be sent bare."""

    def __init__(self, port: int) -> None:
        super().__init__(port=port)
        self.noted: list[tuple[str, Route, str, bool]] = []

    def shell(self, route: Route, command: str, *, v2: bool = True, limit: Limit | None = None) -> Output:
        self.noted.append(("shell", route, command, v2))
        return super().shell(route, command, v2=v2, limit=limit)

    def execute(
        self, route: Route, command: str, given: bytes = b"", meanwhile: Callable[[], object] | None = None, limit: Limit | None = None
    ) -> bytes:
        self.noted.append(("exec", route, command, True))
        return super().execute(route, command, given, meanwhile, limit)

    def again(self) -> float:
        """Send everything noted once more, bare; the seconds it took."""
        since = time.perf_counter()
        for kind, route, command, v2 in list(self.noted):
            if kind == "shell":
                super().shell(route, command, v2=v2)
            else:
                super().execute(route, command)
        return time.perf_counter() - since


def timed(act: Callable[[], object]) -> float:
    since = time.perf_counter()
    act()
    return time.perf_counter() - since


def replay(devices: list[Device], runs: Path) -> Callable[[], None]:
    project = Project.around(SCRIPT)

    def act() -> None:
        run = Run(project, project.load(SCRIPT), devices, Silent(), SystemClock(), runs)
        run.start()
        run.wait()

    return act


def a_take_beside_its_wire(port: int, runs: Path) -> tuple[float, str]:
    """The same commands, in the same order, with nothing looked at."""
    server = Recorder(port)
    bench = Bench(server)
    device = next(d for d in bench.look() if d.name == "Alder 5")
    act = replay([device], runs)
    act()
    ratios, takes = [], []
    for _ in range(ROUNDS):
        server.noted.clear()
        take = timed(act)
        bare = server.again()
        ratios.append(take / bare)
        takes.append(take)
    bench.close()
    return statistics.median(
        ratios
    ), f"{statistics.median(takes):.2f} s a take, {len(server.noted)} commands; on top of them: parsing trees, archiving"


def three_beside_the_slowest(port: int, runs: Path) -> tuple[float, str]:
    bench = Bench(AdbServer(port=port))
    devices = [d for d in bench.look() if d.name in THREE]
    for device in devices:
        replay([device], runs)()
    ratios, slowest = [], ""
    for _ in range(ROUNDS):
        alone = {d.name: timed(replay([d], runs)) for d in devices}
        together = timed(replay(devices, runs))
        slowest = max(alone, key=lambda name: alone[name])
        ratios.append(together / alone[slowest])
    bench.close()
    return statistics.median(ratios), f"slowest alone: {slowest}; the one process that paints all three phones is the bottleneck"


def first_paint() -> tuple[float, str]:
    """From starting Python to the first paint of the window's frame, as the command does it, beside an empty PySide6 window."""
    empty = "from PySide6.QtWidgets import *; a = QApplication([]); w = QWidget(); w.resize(1280, 800); w.show(); w.grab()"
    ours = """
import copione.cli  # as the command does: what is imported before PySide6 is not looked through by its import hook
from copione.app import theme
from copione.app.main import TITLES
from copione.app.window import MainWindow
from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QApplication
a = QApplication([]); theme.apply(a)
w = MainWindow(QSettings('/nonexistent/w.ini', QSettings.Format.IniFormat), TITLES)
w.show(); w.grab()
import os, sys; assert 'numpy' not in sys.modules; os._exit(0)
"""
    environment = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    command = [sys.executable, "-c"]
    pairs = []
    for code in (empty, ours):
        subprocess.run([*command, code], check=True, env=environment)
    for _ in range(ROUNDS):
        bare = timed(lambda: subprocess.run([*command, empty], check=True, env=environment))
        window = timed(lambda: subprocess.run([*command, ours], check=True, env=environment))
        pairs.append((window / bare, window))
    middle = sorted(pairs)[len(pairs) // 2]
    return middle[0], f"{middle[1]:.2f} s; the font and Qt's modules; what reads screens is loaded after it, aside"


def eight_at_real_pace(runs: Path) -> tuple[float, str]:
    """Eight phones that take as long as real ones do, together beside the slowest of them alone."""
    with LabProcess(pace="real", faults=str(runs / "none")) as lab:
        bench = Bench(AdbServer(port=lab.port))
        devices = bench.look()[:8]
        alone = {d.name: timed(replay([d], runs)) for d in devices}
        together = timed(replay(devices, runs))
        bench.close()
    slowest = max(alone, key=lambda name: alone[name])
    return together / alone[slowest], f"{together:.1f} s together, {alone[slowest]:.1f} s for {slowest} alone"


def ten_in_a_run(port: int, endpoints: list[str], runs: Path) -> tuple[float, str]:
    """Ten brisk phones together beside the slowest of them alone."""
    bench = Bench(AdbServer(port=port), endpoints=endpoints)
    devices = bench.look()[:10]
    alone = {d.name: min(timed(replay([d], runs)) for _ in range(2)) for d in devices}
    together = min(timed(replay(devices, runs)) for _ in range(2))
    bench.close()
    slowest = max(alone, key=lambda name: alone[name])
    return together / alone[
        slowest
    ], f"{together:.1f} s together, {alone[slowest]:.1f} s for {slowest} alone, {sum(alone.values()):.1f} s one by one"


def the_lab() -> tuple[list[tuple[str, str]], float]:
    """Frames and tree dumps a second of one phone, what a frame is made of, and the time until all phones are ready."""
    from copione_lab.model import load_models
    from copione_lab.phone import Phone
    from copione_lab.toolkit import png

    phone = Phone(load_models()[0])
    phone.launch("org.example.hive_diary")
    app: Any = phone._app("org.example.hive_diary")
    app.go("hives")
    frame = phone.frame()

    def often(act: Callable[[], object], times: int = 12) -> float:
        act()
        return timed(lambda: [act() for _ in range(times)]) / times * 1000

    def fresh(act: Callable[[], object]) -> Callable[[], object]:
        return lambda: (phone._changed(), act())

    layout, paint = often(fresh(phone.frame)), often(lambda: phone._paint(frame))
    image = phone._paint(frame)
    encode, dump = often(lambda: png.encode(image)), often(fresh(phone.dump))
    since = time.perf_counter()
    with LabProcess() as lab:
        bench = Bench(AdbServer(port=lab.port), endpoints=lab.endpoints)
        count = len(bench.look())
        ready = time.perf_counter() - since
        bench.close()
    whole = layout + paint + encode
    rows = [
        (
            "a frame of Alder 5 (824 x 1784): layout, painting, PNG",
            f"{layout:.1f} + {paint:.1f} + {encode:.1f} ms = {1000 / whole:.0f} a second",
        ),
        ("a tree dump of its list", f"{dump:.1f} ms = {1000 / dump:.0f} a second"),
        (f"from nothing to {count} phones ready", f"{ready:.1f} s"),
    ]
    return rows, paint / whole


def main() -> int:
    table = Table("measured in one run", "ratio", "bar", "what dominates", header_style="bold")
    with tempfile.TemporaryDirectory() as scratch:
        runs = Path(scratch)
        fault_free = runs / "none"
        fault_free.mkdir()
        with LabProcess(faults=str(fault_free)) as lab:
            for words, bar, measure in (
                ("ten phones at once beside the slowest alone", "", lambda: ten_in_a_run(lab.port, lab.endpoints, runs)),
                ("a take beside the same wire commands sent bare", "1.2", lambda: a_take_beside_its_wire(lab.port, runs)),
                ("three phones at once beside the slowest alone", "1.3", lambda: three_beside_the_slowest(lab.port, runs)),
                ("the window's first paint beside an empty one's", "2", first_paint),
                ("eight phones at real pace at once beside the slowest alone", "1.2", lambda: eight_at_real_pace(runs)),
            ):
                ratio, note = measure()
                table.add_row(words, f"{ratio:.2f}", bar, note)
    rows, share = the_lab()
    of_lab = Table("the lab", "", header_style="bold")
    for row in rows:
        of_lab.add_row(*row)
    of_lab.add_row(
        "slowest part",
        f"painting, {share:.0%} of a frame: glyphs; PNG is written without filters, which halved it; unchanged screens are not painted",
    )
    console = Console(width=150)
    console.print(table)
    console.print(of_lab)
    gestures.main()
    sightings.main()
    pictures.main()
    return 0


if __name__ == "__main__":
    sys.exit(main())
