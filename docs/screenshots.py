"""Starts the real window on the demo project with the stand-in phones, brings each main view to a telling state, and writes PNGs.

`python docs/screenshots.py [FOLDER]`; the folder is docs/screenshots by default. Every picture is 1280 x 800.
"""

from __future__ import annotations

import itertools
import math
import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from hand import Hand, until
from PySide6.QtCore import QPointF, QSettings, Qt
from PySide6.QtGui import QColor, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QLineEdit

from copione.app import theme
from copione.app.connect import ConnectDialog
from copione.app.findings.strips import HistoryStrip
from copione.app.main import HostServices, build
from copione.app.palette import Palette
from copione.app.pictures import PictureCache
from copione.app.sheet import Sheet
from copione.app.stage.writeup import WriteUpDialog
from copione.app.window import MainWindow
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.links.browser.kept import wanted
from copione.links.usb import Plugged
from copione.model.action import Key
from copione.model.geometry import Box
from copione.project.demo import copy_demo
from copione.project.project import Project
from copione_lab.kiln_book.serving import Served
from copione_lab.spawn import LabProcess

HERE = Path(__file__).resolve().parent


def main() -> int:
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else HERE / "screenshots"
    folder.mkdir(parents=True, exist_ok=True)
    app = QApplication([])
    theme.apply(app)
    with tempfile.TemporaryDirectory() as scratch, LabProcess() as lab:
        place = Path(scratch) / "hive-diary"
        copy_demo(place)
        settings = QSettings(str(Path(scratch) / "window.ini"), QSettings.Format.IniFormat)
        _start(folder, settings)
        bench = Bench(AdbServer(port=lab.port), endpoints=lab.endpoints, stand_ins=True)
        window = build(bench, Project(place), settings)
        window.show()
        window.workspace.begin()
        until(lambda: len(window.workspace.devices) == len(lab.phones) and window.workspace.lead.moment is not None)
        _stage(window, folder)
        _replay(window, folder)
        _elements(window, folder)
        _deciding(window, folder)
        window.show_page(0)
        _connecting(window, folder)
        window.close()
        window.workspace.wait_closed()
        _browsers(folder, Path(scratch), settings)
    return 0


def _browsers(folder: Path, scratch: Path, settings: QSettings) -> None:
    """A recording on a browser, and a run over three sizes and two engines."""
    place = scratch / "kiln-book"
    shutil.copytree(HERE.parent / "examples" / "kiln-book", place)
    with Served() as served:
        project = Project(place)
        project.say_address(served.url)
        bench = Bench(AdbServer(port=1))
        bench.add_browsers(wanted(place / "browsers.toml"))
        window = build(bench, project, settings)
        window.show()
        window.workspace.begin()
        until(lambda: len([d for d in window.workspace.devices if d.ready]) == 4 and window.workspace.lead.moment is not None)
        first = next(d for d in window.workspace.devices if d.name == "Chromium phone")
        window.workspace.lead.set_device(first)
        hand = Hand(window)
        until(lambda: window.workspace.lead.moment is not None)
        window.page(0).record()
        hand.sheet().accept()
        until(lambda: window.workspace.recorder.active)
        hand.tap("button", "New firing")
        hand.tap("textbox", "Load")
        hand.type("Tall vases")
        hand.tap("combobox", "Glaze")
        hand.tap("option", "Celadon")
        hand.tap("radio", "Reduction")
        hand.tap("combobox", "Fired on")
        hand.mirror._at = QPointF(-1, -1)
        QTest.qWait(2700)
        _shoot(window, folder / "browser.png")
        window.workspace.recorder.throw_away()
        until(lambda: not window.workspace.recorder.active)
        until(lambda: window.workspace.loaded is not None)
        window.workspace.replay()
        until(lambda: window.workspace.runs.running)
        until(lambda: not window.workspace.runs.running)
        lanes = window.workspace.runs.lanes
        window.show_page(2)
        window.page(2).view.choose(lanes.lanes[1].name, next(c for c in lanes.columns if "reads" in c.words).address)
        _shoot(window, folder / "browser-lanes.png")
        window.close()
        window.workspace.wait_closed()


def _start(folder: Path, settings: QSettings) -> None:
    """The first start, without a phone and without a project."""
    outside = HostServices(lambda: Bench(AdbServer(port=1)), lambda _bench: None, lambda: Path())
    window = build(outside.open_bench(), Project(Path("/home/ada/Documents/Copione")), settings, outside)
    window.page(0).welcome.look_at_ports = list
    window.show()
    window.workspace.begin()
    until(lambda: window.page(0).welcome._shown)
    _shoot(window, folder / "start.png")
    window.close()
    window.workspace.wait_closed()


def _settled(window: MainWindow) -> None:
    (pictures,) = window.findChildren(PictureCache)
    QTest.qWait(300)
    until(lambda: not pictures.busy())
    QTest.qWait(100)


def _shoot(window: MainWindow, path: Path) -> None:
    _settled(window)
    window.grab().save(str(path))
    print(path)


def _stage(window: MainWindow, folder: Path) -> None:
    hand = Hand(window)
    hand.record_opening("Hive 17", lambda: _shoot(window, folder / "record.png"))
    hand.record_form(6)
    hand.ask("slider", "Brood frames")
    QTest.keyClick(window.page(0).choice, Qt.Key.Key_1)
    hand.idle()
    hand.tap("switch", "Queen seen")
    QTest.qWait(2700)  # thumbnails of the other phones come every few seconds
    box = hand.element("switch", "Queen seen").box
    hand.mirror._at = QPointF(hand.point(*box.centre))
    hand.ask("switch", "Queen seen")
    window.workspace.recorder.since -= 72
    window._refresh()
    _shoot(window, folder / "stage.png")
    QTest.keyClick(window.page(0).choice, Qt.Key.Key_Escape)
    _exploring(window, hand, folder)
    window.workspace.recorder.throw_away()
    until(lambda: not window.workspace.recorder.active)


def _exploring(window: MainWindow, hand: Hand, folder: Path) -> None:
    """Without a plan: a stray tap, a note, a drawing, and what was seen written up."""
    hand.scene("Looking around")
    hand.mirror._at = QPointF(-1, -1)
    window.workspace.lead.press(Key.BACK)
    hand.idle()
    hand.tap("img", "Comb picture")
    hand.tap("button", "Comb sketch")
    box = hand.element("canvas", "Comb sketch").box
    ticks = itertools.count(time.monotonic(), 0.02)
    hand.mirror.now = lambda: next(ticks)  # a hand takes its time
    QTest.mousePress(hand.mirror, Qt.MouseButton.LeftButton, pos=hand.point(box.centre[0] + 20, box.centre[1]))
    for i in range(1, 60):
        turn, away = i / 9, 20 + i * 1.5
        x, y = box.centre[0] + away * math.cos(turn), box.centre[1] + away * math.sin(turn)
        QTest.mouseMove(hand.mirror, hand.point(x, y))
    QTest.mouseRelease(hand.mirror, Qt.MouseButton.LeftButton, pos=hand.point(x, y))
    hand.idle()
    hand.mirror.now = time.monotonic
    _area(window, hand, box, folder)
    window.workspace.recorder.note("The line is thinner than on the other phones")
    hand.idle()
    dialog = WriteUpDialog(len(window.workspace.recorder.steps), window)
    window.page(0).stop()
    sheet = hand.sheet()
    sheet.field.setText("Comb sketch")
    _shoot(window, folder / "save.png")
    sheet.leave()
    dialog.title.setText("A comb sketch is hard to see")
    dialog.expected.setPlainText("A line as wide as on the other phones")
    dialog.seen.setPlainText("One half as wide")
    _over(window, dialog, folder / "exploring.png", right=470)


def _area(window: MainWindow, hand: Hand, box: Box, folder: Path) -> None:
    """A part of a drawing, framed to be checked by its look."""
    begin, end = (hand.point(box.left + x * box.width, box.top + y * box.height) for x, y in ((0.22, 0.12), (0.78, 0.88)))
    hand.mirror.setFocus()
    QTest.keyPress(window.windowHandle(), Qt.Key.Key_C)
    QTest.mousePress(hand.mirror, Qt.MouseButton.LeftButton, pos=begin)
    QTest.mouseMove(hand.mirror, end)
    QTest.mouseRelease(hand.mirror, Qt.MouseButton.LeftButton, pos=end)
    until(window.page(0).choice.isVisible)
    QTest.keyRelease(window.windowHandle(), Qt.Key.Key_C)
    until(lambda: not window.page(0).choice.remark.text().startswith("Reading"))
    _shoot(window, folder / "checking.png")
    QTest.keyClick(window.page(0).choice, Qt.Key.Key_1)
    hand.idle()


def _palette(window: MainWindow, folder: Path) -> None:
    window.open_palette()
    palette = window.findChildren(Palette)[-1]
    palette.field.setText("re")
    _over(window, palette, folder / "palette.png", top=70)


def _connecting(window: MainWindow, folder: Path) -> None:
    dialog = ConnectDialog(window.workspace, window.page(0).reaching, window)
    dialog._timer.stop()
    ports = [Plugged("Thistle", "f055", "0a15", "T1", True, False), Plugged("Teasel", "f055", "0a22", "T2", False, True)]
    dialog.look_at_ports = lambda: ports
    until(lambda: not dialog._looking)
    dialog.refresh()
    until(lambda: "Thistle" in dialog.ports.text() and dialog.browsers.buttons)
    dialog.resize(640, 640)
    _over(window, dialog, folder / "connect.png")


def _over(window: MainWindow, dialog: QDialog, path: Path, right: int | None = None, top: int | None = None) -> None:
    """The window with a dialog over it, as a desktop shows them."""
    dialog.show()
    _settled(window)
    picture = window.grab()
    painter = QPainter(picture)
    painter.fillRect(picture.rect(), QColor(34, 38, 47, 60))
    x = (picture.width() - dialog.width()) // 2 if right is None else picture.width() - right - dialog.width()
    painter.drawPixmap(x, (picture.height() - dialog.height()) // 2 if top is None else top, dialog.grab())
    painter.end()
    picture.save(str(path))
    dialog.close()
    print(path)


def _replay(window: MainWindow, folder: Path) -> None:
    workspace = window.workspace
    until(lambda: workspace.loaded is not None)
    window.show_page(1)
    _run_before(workspace.loaded.path)
    workspace.replay()
    until(lambda: workspace.runs.running)
    until(lambda: not workspace.runs.running)
    lanes = workspace.runs.lanes
    column = next(c for c in lanes.columns if "Save" in c.words)
    window.page(2).view.choose(lanes.lanes[1].name, column.address)
    _shoot(window, folder / "lanes.png")
    _findings(window, folder)
    window.show_page(1)
    script = workspace.loaded.script
    workspace.go_to(next(s.line for _, s in script.steps() if s.key() == 'button "Save inspection"'))
    _shoot(window, folder / "script.png")
    _palette(window, folder)


def _run_before(script: Path) -> None:
    """A run of yesterday, when nothing was wrong."""
    command = [sys.executable, "-m", "copione", "replay", str(script), "--on", "all", "--lab", "--faults", "none"]
    subprocess.run(command, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


def _findings(window: MainWindow, folder: Path) -> None:
    """The findings, one of them in the loupe, the run beside the one before, and the report in a browser."""
    workspace = window.workspace
    window.show_page(3)
    page = window.page(3)
    until(lambda: page.known.since)
    place = next(n for n, row in enumerate(page.rows.rows) if row.finding is not None and row.finding.about == "keyboard")
    page.list.setCurrentIndex(page.rows.index(place))
    until(lambda: page.panel.copy.isEnabled() and page.panel.findChildren(HistoryStrip))
    _shoot(window, folder / "findings.png")
    small = next(row.finding for row in page.rows.rows if row.finding is not None and row.finding.about == "small target")
    window.show_page(2)
    lanes = window.page(2)
    lanes.open_finding(small)
    _shoot(window, folder / "loupe.png")
    lanes.show_runs.setChecked(True)
    until(lambda: lanes.shelf.runs)
    entry = next(each for each in lanes.shelf.runs if each.folder != workspace.runs.folder)
    lanes.kept.compare_with(entry)
    sheet = next(s for s in window.findChildren(Sheet) if s.isVisible())
    until(lambda: "went worse" in sheet.told.text())
    _shoot(window, folder / "runs.png")
    sheet.leave()
    lanes.show_runs.setChecked(False)
    report = workspace.runs.folder / "report.html"
    subprocess.run([sys.executable, "-m", "copione", "report", str(workspace.runs.folder)], check=True, stdout=subprocess.DEVNULL)
    chromium = shutil.which("chromium")
    if chromium is not None:
        flags = ["--headless=new", "--no-sandbox", "--disable-gpu", "--hide-scrollbars", "--window-size=1280,800"]
        shot = f"--screenshot={folder / 'report.png'}"
        subprocess.run([chromium, *flags, shot, report.as_uri()], check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        print(folder / "report.png")


def _deciding(window: MainWindow, folder: Path) -> None:
    """A script with every block; and tried, stopped in the middle."""
    workspace = window.workspace
    window.show_page(1)
    page = window.page(1)
    workspace.open_script(workspace.project.script_path("A week of rounds"))
    until(lambda: workspace.loaded.script.name == "A week of rounds" and len(page.strip.frames.stills) > 8)
    steps = [step for _, step in workspace.loaded.script.steps()]
    keep = next(step.line for step in steps if step.verb == "keep")
    workspace.go_to(keep)
    until(lambda: not workspace.editing.problems)
    QTest.qWait(1500)  # the film, then its pictures
    _shoot(window, folder / "blocks.png")
    page.trials.turn_stop(next(step.line for step in steps if step.verb == "when" and step.line > keep))
    workspace.go_to(steps[0].line)
    page.trying.on()
    until(lambda: any(s.isVisible() for s in window.findChildren(Sheet)))
    sheet = next(s for s in window.findChildren(Sheet) if s.isVisible())
    next(field for field in sheet.findChildren(QLineEdit) if field.accessibleName() == "password").setText("smoke-and-comb")
    sheet.accept()
    for _ in range(2):  # in the second turn of the loop
        until(lambda: page.trials.standing is not None)
        last = page.trials.standing
        page.trials.go_on() if page.trials.values_now.get("hive") != "Hive 9" else None
        until(lambda last=last: page.trials.standing is not last or page.trials.values_now.get("hive") == "Hive 9")
    until(lambda: page.trials.standing is not None)
    _shoot(window, folder / "trial.png")
    page.trials.stop()
    until(lambda: not page.trials.running)
    page._close_trial()


def _elements(window: MainWindow, folder: Path) -> None:
    """What the scripts know of the app, and one of it on the lead."""
    window.show_page(4)
    page = window.page(4)
    until(lambda: any(e.words == 'label "Brood frames"' and e.fared for e in page.elements))
    page.choose('label "Brood frames"')
    page.look_now()
    until(page.sighted.isVisible)
    _shoot(window, folder / "elements.png")


if __name__ == "__main__":
    sys.exit(main())
