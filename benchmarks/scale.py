"""`python -m benchmarks.scale`: what a run of 40 devices x 500 steps costs in the window: results, painting, pointing, memory."""

from __future__ import annotations

import os
import random
import statistics
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QPointF, QSettings, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from rich.console import Console
from rich.table import Table

from copione.app import theme
from copione.app.findings.page import FindingsPage
from copione.app.lanes.page import LanesPage
from copione.app.main import build
from copione.app.window import MainWindow
from copione.comparison.findings import Findings
from copione.comparison.lanes import Lane, Lanes, lay
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.model.take import TakeName
from copione.project.project import Project
from copione.replay.listening import TakeBegun

from . import made_up

FINDINGS, NOTCH_PX = 600, 60
BAR_FRAME_MS = 16.0  # 60 pictures a second
RATE = 400  # results a second
TICK_MS = 5
BAR_FOLD_MS, BAR_PAINT_MS, BAR_HIT_MS, BAR_TURN_MS, BAR_MB = 5.0, 8.0, 0.1, 50.0, 350.0


def resident_mb() -> float:
    """What this process keeps in memory."""
    return int(Path("/proc/self/statm").read_text("ascii").split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6


def empty_lanes() -> Lanes:
    every = made_up.profiles()
    return lay([Lane(TakeName(p.name), p) for p in every], every[0].name)


def folding() -> tuple[Lanes, list[float]]:
    """Every result folded in one at a time, findings included; milliseconds each."""
    lanes, found, times = empty_lanes(), Findings(), []
    for name, result in made_up.results():
        since = time.perf_counter()
        lanes = lanes.with_result(name, result)
        found = found.updated(lanes, lanes.changed)
        times.append((time.perf_counter() - since) * 1000)
    return lanes, times


def until(true: Callable[[], object], seconds: float = 120.0) -> None:
    limit = time.monotonic() + seconds
    while not true():
        if time.monotonic() > limit:
            raise TimeoutError("the window did not get there")
        QTest.qWait(5)


def painting(page: LanesPage) -> dict[str, list[float]]:
    """A repaint of each zoom, milliseconds."""
    found = {}
    for zoom, name in enumerate(("marks", "crops", "whole screens")):
        page.view.set_zoom(zoom)
        QTest.qWait(300)
        until(lambda: not page.view.pictures.busy())
        times = []
        for number in range(40):
            page.view.horizontalScrollBar().setValue(number * 37)
            since = time.perf_counter()
            page.view.viewport().repaint()
            times.append((time.perf_counter() - since) * 1000)
        found[name] = times
    return found


def scrolling(page: FindingsPage) -> list[float]:
    """A notch of the wheel on the list of so many findings, milliseconds until it is painted."""
    until(lambda: page.rows.rows)
    shown = [row for row in page.rows.rows if row.finding is not None]
    page.rows.show(tuple(shown[number % len(shown)] for number in range(FINDINGS)))
    QTest.qWait(300)
    times, bar = [], page.list.verticalScrollBar()
    while bar.value() < bar.maximum():
        since = time.perf_counter()
        bar.setValue(bar.value() + NOTCH_PX)
        QApplication.processEvents()
        times.append((time.perf_counter() - since) * 1000)
    return times


def pointing(page: LanesPage) -> float:
    """A hit test, milliseconds."""
    chance = random.Random(3)
    points = [QPointF(chance.uniform(0, 1280), chance.uniform(0, 700)) for _ in range(2000)]
    since = time.perf_counter()
    for point in points:
        page.view.at(point)
    return (time.perf_counter() - since) * 1000 / len(points)


def living(window: MainWindow, folder: Path) -> tuple[list[float], float]:
    """A live run at the given rate, half of it on the lanes and half on the findings: gaps between turns, ms, and its seconds."""
    assert window.workspace is not None
    follower = window.workspace.runs.follower(empty_lanes())
    every = list(made_up.results())
    gaps: list[float] = []
    last = time.perf_counter()

    def tick() -> None:
        nonlocal last
        now = time.perf_counter()
        gaps.append((now - last) * 1000)
        last = now

    def feed() -> None:
        for profile in made_up.profiles():
            follower.take_started(TakeName(profile.name), TakeBegun(folder / "takes" / "phone-0-row1", profile, "2.4"))
        begun = time.perf_counter()
        for number, (name, result) in enumerate(every):
            ahead = begun + number / RATE - time.perf_counter()
            if ahead > 0:
                time.sleep(ahead)
            follower.step_done(name, result)
        follower.run_ended("")

    ended = threading.Event()
    window.workspace.runs.state_changed.connect(ended.set)
    timer = QTimer(window, interval=TICK_MS)
    timer.timeout.connect(tick)
    window.show_page(2)
    since = time.perf_counter()
    feeder = threading.Thread(target=feed)
    feeder.start()
    QTest.qWait(500)
    gaps.clear()
    timer.start()
    QTimer.singleShot(int(len(every) / RATE / 2 * 1000), lambda: window.show_page(3))
    until(ended.is_set, 600)
    timer.stop()
    feeder.join()
    return gaps, time.perf_counter() - since


def percentile(values: list[float], share: float) -> float:
    return sorted(values)[min(len(values) - 1, int(len(values) * share))]


def main() -> int:
    app = QApplication([])
    theme.apply(app)
    table = Table("40 devices x 500 steps", "median", "99 %", "bar", "times", header_style="bold")

    def row(words: str, times: list[float], bar: float, share: float = 0.5) -> bool:
        told = percentile(times, share)
        ok = told < bar
        table.add_row(words, f"{statistics.median(times):.2f} ms", f"{percentile(times, 0.99):.2f} ms", f"{bar:g} ms", f"{told / bar:.2f}")
        return ok

    with tempfile.TemporaryDirectory() as scratch:
        place = Path(scratch)
        folder = made_up.archived(place / "runs")
        project = Project.create(place / "project", "Made up")
        bare = resident_mb()
        window = build(Bench(AdbServer(port=1)), project, QSettings(str(place / "w.ini"), QSettings.Format.IniFormat))
        window.show()
        assert window.workspace is not None
        since = time.perf_counter()
        window.workspace.runs.show_run(folder)
        until(lambda: window.workspace is not None and window.workspace.runs.lanes.columns)
        opened = time.perf_counter() - since
        window.show_page(2)
        page = window.page(2)
        assert isinstance(page, LanesPage)
        good = [row(f"repaint: {name}", times, BAR_PAINT_MS) for name, times in painting(page).items()]
        hit = pointing(page)
        window.show_page(3)
        told = window.page(3)
        assert isinstance(told, FindingsPage)
        good.append(row(f"scrolling {FINDINGS} findings by a notch", scrolling(told), BAR_FRAME_MS, 0.99))
        held = resident_mb()
        _, folds = folding()
        good.append(row("folding one result in, findings included", folds, BAR_FOLD_MS))
        table.add_row("hit test", f"{hit:.4f} ms", "", f"{BAR_HIT_MS:g} ms", f"{hit / BAR_HIT_MS:.2f}")
        gaps, seconds = living(window, folder)
        good.append(row(f"a turn of Qt's loop, {RATE} results a second for {seconds:.0f} s", gaps, BAR_TURN_MS, 0.99))
        table.add_row(
            "memory of the window with that run open", f"{held:.0f} MB", f"{held - bare:+.0f} MB", f"{BAR_MB:g} MB", f"{held / BAR_MB:.2f}"
        )
        table.add_row("opening it from the archive, beside Qt's thread", f"{opened * 1000:.0f} ms", "", "", "")
        good += [hit < BAR_HIT_MS, held < BAR_MB]
        window.close()
        window.workspace.wait_closed()
    Console(width=140).print(table)
    return 0 if all(good) else 1


if __name__ == "__main__":
    sys.exit(main())
