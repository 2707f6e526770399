"""`python -m benchmarks.editing`: what a keystroke costs in a script of 5,000 lines, and reading one of 20,000."""

from __future__ import annotations

import os
import random
import statistics
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QSettings, Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from rich.console import Console
from rich.table import Table

from copione.app import theme
from copione.app.main import build
from copione.app.script.page import ScriptPage
from copione.app.window import MainWindow
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.project.loading import load
from copione.project.project import Project

LINES, MANY, KEYS = 5000, 20_000, 60
TICK_MS = 4
BAR_KEY_MS, BAR_STILL_MS, BAR_READ_S = 50.0, 250.0, 2.0
SCENE = (
    'tap button "Hives {n}"',
    'find item "{{hive}} {n}" in list "Hives"',
    'set slider "Brood frames" to {n}',
    'when text "Rate {n}" is shown',
    '    tap button "Later {n}"',
    "otherwise",
    '    check label "Weight {n}" is more than {n}',
    "end",
    'type "note {n}" into field "Notes"',
    'check text "Saved {n}" is shown within 3 s',
)


def script(lines: int) -> str:
    """A script of so many lines, hardly two of them the same."""
    found = ['script "Long"', "app hive-diary", 'needs hive = "Hive 17"']
    number = 0
    while len(found) < lines:
        if number % 5 == 0:
            found += ["", f'scene "Scene {number}"']
        found += ["    " + line.format(n=number) for line in SCENE]
        number += 1
    return "\n".join(found) + "\n"


def read_whole(folder: Path) -> float:
    """Seconds to read a long script from disk and find everything that is wrong with it."""
    path = folder / "long.copione"
    path.write_text(script(MANY), "utf-8")
    since = time.perf_counter()
    assert not load(path, folder).problems()
    return time.perf_counter() - since


class Stillness:
    """How long Qt's thread went without doing anything else, at most."""

    def __init__(self) -> None:
        self.longest, self._last = 0.0, time.perf_counter()
        self._timer = QTimer(interval=TICK_MS)
        self._timer.timeout.connect(self._tick)
        self._timer.start()

    def _tick(self) -> None:
        now = time.perf_counter()
        self.longest, self._last = max(self.longest, now - self._last), now

    def begin(self) -> None:
        """What was done before counts no more."""
        self._last = time.perf_counter()


def typed(window: MainWindow) -> tuple[list[float], float]:
    """Milliseconds from a letter that breaks a line until its problem is painted; the longest time that nothing else was done."""
    page = window.page(1)
    assert isinstance(page, ScriptPage)
    editor, chance, times = page.editor, random.Random(3), []
    stillness = Stillness()
    editor.setFocus()
    for _ in range(KEYS):
        line = chance.randrange(200, LINES - 200)
        while not editor.document().findBlockByNumber(line - 1).text().strip().startswith(("tap", "check", "type")):
            line += 1
        editor.go_to(line)
        QTest.keyClick(window.windowHandle(), Qt.Key.Key_End)
        QApplication.processEvents()
        stillness.begin()
        since = time.perf_counter()
        QTest.keyClick(window.windowHandle(), Qt.Key.Key_Q)
        if not any(p.line == line for p in editor.problems):
            raise SystemExit(f"Line {line} is no problem: {editor.textCursor().block().text()!r}")
        editor.viewport().repaint()
        times.append((time.perf_counter() - since) * 1000)
        _let_be()  # the whole is read meanwhile
        QTest.keyClick(window.windowHandle(), Qt.Key.Key_Backspace)
        _let_be()
    return times, stillness.longest * 1000


def _let_be(seconds: float = 0.45) -> None:
    until = time.perf_counter() + seconds
    while time.perf_counter() < until:
        QApplication.processEvents()
        time.sleep(0.001)


def main() -> int:
    app = QApplication([])
    theme.apply(app)
    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch) / "project"
        project = Project.create(folder, "Long")
        (folder / "data").mkdir(exist_ok=True)
        seconds = read_whole(Path(scratch))
        project.script_path("Long").write_text(script(LINES), "utf-8")
        settings = QSettings(str(Path(scratch) / "window.ini"), QSettings.Format.IniFormat)
        window = build(Bench(AdbServer(port=1)), project, settings)
        window.resize(1280, 800)
        window.show()
        window.workspace.begin()
        QTest.qWaitForWindowActive(window)
        window.show_page(1)
        while window.workspace.loaded is None or not window.page(1).strip.frames.stills:
            QApplication.processEvents()
        times, still = typed(window)
        window.close()
    p95 = statistics.quantiles(times, n=20)[-1]
    table = Table("What", "Measured", "Bar")
    table.add_row("a keystroke to its problem, 5,000 lines, 95th percentile", f"{p95:.1f} ms", f"{BAR_KEY_MS:g} ms")
    table.add_row("the same, in the middle", f"{statistics.median(times):.1f} ms", "")
    table.add_row("longest time that the window did nothing else", f"{still:.1f} ms", f"{BAR_STILL_MS:g} ms")
    table.add_row("20,000 lines read and looked over", f"{seconds:.2f} s", f"{BAR_READ_S:g} s")
    Console().print(table)
    return int(p95 > BAR_KEY_MS or seconds > BAR_READ_S or still > BAR_STILL_MS)


if __name__ == "__main__":
    sys.exit(main())
