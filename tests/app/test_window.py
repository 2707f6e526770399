import builtins
import contextlib
import io
import json
import socket
import subprocess
import sys
import threading
import unittest
from dataclasses import replace
from pathlib import Path
from unittest import mock

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QImage, QPixmap
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QCheckBox, QLabel, QLineEdit, QMenu, QPushButton, QWidget

from copione.app import theme
from copione.app.connect import ConnectDialog
from copione.app.palette import Palette
from copione.app.parts import Label, tip
from copione.app.sheet import Sheet
from copione.app.stage.apps import AppsMenu
from copione.comparison.finding import Finding
from copione.links.usb import Plugged
from copione.model.address import Address
from copione.model.errors import FileTrouble
from copione.model.outcome import Outcome
from copione.model.take import TakeName
from copione.project.archive import RunWriter, TakeWriter
from copione_lab.bench import Bench as LabBench
from copione_lab.bench import Wireless
from copione_lab.faces.webdriver import WebDriverServer
from copione_lab.model import load_models

from ..benches import APP, EXAMPLE
from ..comparison.test_findings import ALDER, result
from ..test_house import heavy_after
from .windows import CTRL, WindowCase, click, move

HOLDER = """
import sys, time
from copione.links.claims import Claim
from copione.model.errors import DeviceTaken
claim = Claim(sys.argv[1])
try:
    with claim.held("recording"):
        print("has it", flush=True)
        while True:
            claim.check()
            time.sleep(0.1)
except DeviceTaken:
    pass
"""


class Plainly(WindowCase):
    def test_what_a_device_says_is_never_rich_text(self) -> None:
        """Qt takes words that look like HTML for it, and loads the pictures that they name."""
        evil = "<img src='file:///etc/passwd'>Wren [/] <b>mini</b>"
        self.window.tell(evil)
        tip(self.window.message.label, evil)
        self.assertEqual((self.window.message.label.text(), self.window.message.label.textFormat()), (evil, Qt.TextFormat.PlainText))
        self.assertNotIn("<img", self.window.message.label.toolTip())
        for number in range(4):
            self.window.show_page(number)
        labels = {label for label in self.window.findChildren(QLabel) if label.textFormat() != Qt.TextFormat.PlainText}
        self.assertTrue(all(isinstance(label, Label) and label.textFormat() is Qt.TextFormat.RichText for label in labels))
        self.assertLessEqual(len(labels), 3, "the name of the program, and the loupe's coloured sentences")


class Replaying(WindowCase):
    faults = True

    def replay(self) -> None:
        self.window.show_page(1)
        click(self.window.main)
        self.until(lambda: self.workspace.runs.running)

    def done(self) -> None:
        self.until(lambda: not self.workspace.runs.running)

    def test_a_phone_that_another_copione_has_is_asked_about_and_taken_over(self) -> None:
        claim = next(d for d in self.workspace.devices if d.name == "Wren mini").worker.link.claim
        other = subprocess.Popen([sys.executable, "-c", HOLDER, claim._device], stdout=subprocess.PIPE, text=True)
        self.addCleanup(other.communicate)
        self.addCleanup(other.kill)
        self.assertEqual(other.stdout.readline(), "has it\n")
        self.window.show_page(1)
        with self.asked("Take it over") as asked:
            click(self.window.main)
            self.until(lambda: asked and self.workspace.runs.running)
        self.assertIn(f"Wren mini is used by another Copione (recording, process {other.pid}", asked[0])
        self.done()
        self.assertEqual(len(self.workspace.runs.lanes.lanes), 3)
        self.assertTrue(all(next(lane.results()).outcome.good for lane in self.workspace.runs.lanes.lanes))

    def labels(self) -> list[QLabel]:
        return self.findings.panel.findChildren(QLabel)

    def expect_and_take_back(self, finding: Finding) -> None:
        """By keys: expected here, with a reason; then not any more, by undo."""
        path = self.workspace.project.folder / "allowances.toml"
        self.key(Qt.Key.Key_J, CTRL)
        self.keys("no room on so small a screen")
        self.key(Qt.Key.Key_Return)
        self.until(lambda: not self.findings.rows.rows)
        self.assertIn('why = "no room on so small a screen"', path.read_text("utf-8"))
        self.assertEqual(self.findings.known.assessed.standing[0].finding, finding)
        self.key(Qt.Key.Key_Z, CTRL)
        self.until(lambda: [row.finding for row in self.findings.rows.rows] == [finding])
        self.assertNotIn("[[allowed]]", path.read_text("utf-8"))

    def test_lanes_fill_in_live_and_the_finding_is_worded(self) -> None:
        runs = self.workspace.runs
        counts: list[int] = []
        runs.changed.connect(lambda: counts.append(runs.progress[0]))
        self.window.show_page(1)
        main = self.window.main
        there = main.mapTo(self.window, main.rect().center())
        QTest.mouseDClick(self.window.windowHandle(), Qt.MouseButton.LeftButton, pos=there)  # an impatient hand stops nothing
        self.until(lambda: self.workspace.runs.running)
        self.assertEqual(self.page, "Lanes")
        self.assertIn("Stop the run", self.window.main.text())
        self.done()
        self.assertEqual(sorted(counts), counts)
        self.assertGreater(len(set(counts)), 8)
        (finding,) = runs.news.findings
        self.assertEqual(finding.title, "The keyboard covers “Save inspection” on Wren mini")
        self.assertEqual(self.window.tabs.button(3).text(), "Findings  1")
        self.assertFalse(self.lanes.loupe.isHidden())
        plain = [label.text() for label in self.window.findChildren(QLabel) if label.textFormat() is Qt.TextFormat.PlainText]
        self.assertEqual([words for words in plain if "<span" in words or "<b" in words], [], "tags of our own are not shown as words")
        self.key(Qt.Key.Key_4, CTRL)
        self.assertEqual([row.finding for row in self.findings.rows.rows], [finding])
        self.until(lambda: any(w.text() == "Seen: Covered by the keyboard. 3 steps could not be tried after it." for w in self.labels()))
        self.expect_and_take_back(finding)

        click(next(b for b in self.findings.findChildren(QPushButton) if b.text() == "Show in lanes"))
        view, columns = self.lanes.view, runs.lanes.columns
        self.assertEqual((view.take, view.address), (finding.takes[0], finding.address))
        self.key(Qt.Key.Key_Right)
        self.key(Qt.Key.Key_Down)
        self.assertEqual((view.address, view.take.device), (columns[finding.number].address, "Plateau 10"))
        self.assertEqual(self.lanes.loupe.address, view.address)
        cell = view.cell_of(runs.lanes.lanes[2].name, columns[0].address)
        click(view.viewport(), cell.center().toPoint()) if cell.left() > 0 else None
        loupe = self.lanes.loupe.screens
        move(loupe, QPoint(16 + 60, 50 + 100))
        self.window.grab()
        self.assertEqual(theme.LINE.alpha(), 255)  # colours are everybody's, and nobody's to change
        click(self.lanes.only)
        self.assertEqual([column.number for column in view.columns], [12, 13, 14, 15])
        for zoom in (0, 2, 1):
            view.set_zoom(zoom)
            self.window.grab()
        self.key(Qt.Key.Key_E, CTRL)
        self.until(lambda: "The report is in" in self.window.message.label.text())
        self.assertTrue((runs.folder / "report.html").exists())

        self.key(Qt.Key.Key_2, CTRL)
        script = self.workspace.loaded.script
        self.workspace.go_to(next(s.line for _, s in script.steps() if s.key() == 'button "Save inspection"'))
        said = [w.text() for w in self.script.portrait.findChildren(QLabel)]
        self.assertIn("covered by the keyboard", said)
        self.assertIn("by id and text", said)

    def test_two_rows_on_a_full_disk_end_and_say_so(self) -> None:
        """Every take fails in its own thread; the run ends all the same, and the window says why."""
        rows = self.workspace.project.data_path("hives.csv")
        rows.write_text("hive,frames,note\nHive 3,2,a\nHive 20,9,b\n", "utf-8")
        self.workspace.open_script(self.workspace.loaded.path)
        self.until(lambda: self.workspace.loaded is not None and len(self.workspace.loaded.rows) == 2)
        with mock.patch.object(TakeWriter, "step", side_effect=FileTrouble("The disk is full: no room for this.")):
            self.replay()
            self.done()
        self.assertIn("The disk is full", self.window.message.label.text())
        self.assertFalse(self.window.main.text().startswith("Stop"))

    def test_a_phone_that_goes_before_its_turn_ends_its_lane_only(self) -> None:
        wren = next(d for d in self.workspace.devices if d.name == "Wren mini")
        wren.worker.stop()
        self.replay()
        self.done()
        results = list(self.workspace.runs.lanes.lane(TakeName("Wren mini")).results())
        self.assertEqual(results[0].reason, "The device was disconnected before its turn.")
        self.assertEqual({r.outcome for r in results[1:]}, {Outcome.UNREACHED})
        others = [r for name in ("Alder 5", "Plateau 10") for r in self.workspace.runs.lanes.lane(TakeName(name)).results()]
        self.assertTrue(all(r.outcome.good for r in others))

    def test_a_device_left_out_is_not_replayed_on_and_a_run_can_be_stopped(self) -> None:
        tile = self.stage.bench.tiles["LABWRENMINI"]
        click(tile, tile.mark_box().center().toPoint())
        self.window.show_page(1)
        self.assertEqual(self.window.main.text(), "Replay on 2")
        self.replay()
        click(self.window.main)
        self.done()
        lanes = self.workspace.runs.lanes
        self.assertEqual({lane.device.name for lane in lanes.lanes}, {"Alder 5", "Plateau 10"})
        self.assertGreater(lanes.counts[Outcome.UNREACHED], 0)


class Frame(unittest.TestCase):
    def test_it_is_there_before_anything_heavy_is_loaded(self) -> None:
        made = "MainWindow(QSettings('/nonexistent/w.ini', QSettings.Format.IniFormat), TITLES)"
        imports = "from PySide6.QtWidgets import QApplication; from PySide6.QtCore import QSettings"
        own = "import copione.cli; from copione.app.main import TITLES; from copione.app.window import MainWindow"
        self.assertEqual(heavy_after(f"{own}; {imports}; app = QApplication([]); w = {made}; w.show(); w.grab()"), "[]")


class Manners(WindowCase):
    def test_pages_palette_and_what_comes_back(self) -> None:
        window = self.window
        for i in range(4):
            self.key(Qt.Key(Qt.Key.Key_1 + i), CTRL)
            self.assertTrue(window.tabs.button(i).isChecked())
            window.resize(1024, 700)
            window.grab()
        self.key(Qt.Key.Key_K, CTRL)
        palette = window.findChild(Palette)
        QTest.keyClick(palette.windowHandle(), "l")
        for letter in "anes":
            QTest.keyClick(palette.windowHandle(), letter)
        item = palette.list.item(0)
        self.assertEqual((item.text(), item.data(Qt.ItemDataRole.AccessibleDescriptionRole)), ("Lanes", "Ctrl+3"))
        QTest.keyClick(palette.windowHandle(), Qt.Key.Key_Return)
        self.assertEqual(self.page, "Lanes")
        window.resize(1111, 777)
        self.close_window(window)
        self.window = self.open()
        self.assertEqual((self.window.width(), self.window.height()), (1111, 777))

    def test_undo_is_of_what_is_in_sight(self) -> None:
        """Ctrl+Z on the lanes or the findings does not change the script out of sight."""
        self.key(Qt.Key.Key_2, CTRL)
        self.script.editor.go_to(8)
        self.key(Qt.Key.Key_End)
        self.keys(" # mark")
        self.until(lambda: "# mark" in self.workspace.loaded.document.text)
        for number in (Qt.Key.Key_3, Qt.Key.Key_4, Qt.Key.Key_1):
            self.key(number, CTRL)
            self.key(Qt.Key.Key_Z, CTRL)
            self.assertIn("# mark", self.script.editor.toPlainText())
        self.key(Qt.Key.Key_2, CTRL)
        while "# mark" in self.script.editor.toPlainText():
            self.key(Qt.Key.Key_Z, CTRL)
        self.until(lambda: "# mark" not in self.workspace.loaded.document.text)

    def test_what_is_meant_so_is_taken_over_into_the_script_and_given_back(self) -> None:
        lasts = 'check label "Last seen" reads "Today"'
        read = result(1, Outcome.DIFFERS, "reads “Gone”", lasts, "Gone")
        writer = RunWriter(self.workspace.project.runs_folder, "Spring inspection", "", "hive-diary", ["Alder 5"])
        take = writer.take(ALDER, TakeName("Alder 5"), {}, "2.5")
        take.step(replace(read, address=Address.of(24), target='label "Last seen"'))
        take.close()
        writer.finish(1.0)
        self.key(Qt.Key.Key_2, CTRL)
        self.key(Qt.Key.Key_4, CTRL)
        self.workspace.runs.show_run(writer.folder)
        self.until(lambda: self.findings.panel.standing is not None)
        for _ in range(3):  # an impatient hand
            self.key(Qt.Key.Key_J, CTRL | Qt.KeyboardModifier.ShiftModifier)
        self.until(lambda: self.window.findChild(Sheet) is not None)
        told = [label.text() for label in self.window.findChild(Sheet).findChildren(QLabel)]
        self.assertIn(lasts.replace("Today", "Gone"), told)
        self.assertIn(lasts, told)
        self.key(Qt.Key.Key_Escape)
        self.until(lambda: self.window.findChild(Sheet) is None)
        self.assertIn(lasts, self.workspace.loaded.document.text)
        click(next(b for b in self.findings.findChildren(QPushButton) if b.text().startswith("Meant so?")))
        self.until(lambda: self.window.findChild(Sheet) is not None)
        self.key(Qt.Key.Key_Return)
        self.until(lambda: lasts not in self.workspace.loaded.document.text)
        self.until(lambda: "Taken over into line 24" in self.window.message.label.text())
        undo = next(b for b in self.window.message.findChildren(QAbstractButton) if b.text() == "Undo")
        self.key(Qt.Key.Key_Z, CTRL)  # it was nothing that is undone on this page
        self.assertNotIn(lasts, self.workspace.loaded.document.text)
        click(undo)
        self.until(lambda: lasts in self.workspace.loaded.document.text)
        self.key(Qt.Key.Key_3, CTRL)
        self.key(Qt.Key.Key_J, CTRL | Qt.KeyboardModifier.ShiftModifier)  # from the lanes all of it is asked about
        self.until(lambda: self.window.findChild(Sheet) is not None)
        (box,) = self.window.findChild(Sheet).findChildren(QCheckBox)
        self.assertEqual((box.text(), box.isChecked()), ("Line 24: check label “Last seen” reads “Today”", False))
        self.assertFalse(self.window.findChild(Sheet).main.isEnabled(), "what a check expects is ticked by hand")
        self.key(Qt.Key.Key_Escape)
        self.until(lambda: self.window.findChild(Sheet) is None)
        self.key(Qt.Key.Key_2, CTRL)
        for there in (False, True):  # and in the script's own undo it is one edit
            self.key(Qt.Key.Key_Z, CTRL)
            self.until(lambda there=there: (lasts in self.workspace.loaded.document.text) is there)

    def test_nothing_is_opened_decoded_or_asked_on_the_windows_thread(self) -> None:
        """Files, pictures and sockets are what makes a window stand still; every page is looked at, a script edited, a run replayed."""
        here, met = threading.get_ident(), []

        def watch(owner: object, name: str) -> mock._patch:
            real = getattr(owner, name)

            def watched(*args: object, **kwargs: object) -> object:
                if threading.get_ident() == here:
                    met.append(f"{name} {args[:1]}")
                return real(*args, **kwargs)

            return mock.patch.object(owner, name, watched)

        with contextlib.ExitStack() as stack:
            for owner, name in ((io, "open"), (builtins, "open"), (Path, "read_bytes"), (Path, "read_text"), (Path, "write_bytes")):
                stack.enter_context(watch(owner, name))
            for owner, name in ((Path, "glob"), (socket.socket, "connect"), (socket, "create_connection"), (json, "loads")):
                stack.enter_context(watch(owner, name))
            for owner, name in ((QImage, "fromData"), (QImage, "load"), (QPixmap, "load"), (QPixmap, "loadFromData")):
                stack.enter_context(watch(owner, name))
            (EXAMPLE / "project.toml").read_text("utf-8")
            QImage.fromData(b"")
            self.assertEqual(len(met), 3)  # it does see what it is to see: the file is opened on the way
            met.clear()
            for number in range(4):
                self.key(Qt.Key(Qt.Key.Key_1 + number), CTRL)
                self.window.grab()
            click(self.stage.bench.tiles["LABPLATEAU10"])
            self.until(lambda: self.lead.moment is not None)
            dialog = ConnectDialog(self.workspace, self.stage.reaching, self.window)
            self.until(lambda: dialog.now.text())
            self.key(Qt.Key.Key_2, CTRL)
            self.script.editor.go_to(9)
            self.key(Qt.Key.Key_End)
            self.keys("  # seen")
            self.until(lambda: "# seen" in self.workspace.loaded.document.text)
            self.key(Qt.Key.Key_F5)
            self.until(lambda: self.workspace.runs.running and self.workspace.runs.lanes.done)
            self.until(lambda: not self.workspace.runs.running)
            for number in range(1, 4):
                self.key(Qt.Key(Qt.Key.Key_1 + number), CTRL)
                self.window.grab()
            self.key(Qt.Key.Key_E, CTRL)
            self.until(lambda: "The report is in" in self.window.message.label.text())
            self.workspace.open_project(self.scratch / "another")
            self.until(lambda: self.workspace.project.folder.name == "another")
            dialog.close()
        self.assertEqual(met, [])

    def test_everything_that_takes_the_focus_has_a_name(self) -> None:
        for widget in self.window.findChildren(QWidget):
            if widget.focusPolicy() & Qt.FocusPolicy.TabFocus and isinstance(widget, QAbstractButton | QLineEdit):
                named = widget.accessibleName() or getattr(widget, "text", lambda: "")() or getattr(widget, "placeholderText", lambda: "")()
                self.assertTrue(named or not widget.isVisible(), widget.objectName())

    def test_a_tile_by_keyboard_becomes_the_lead(self) -> None:
        tile = self.stage.bench.tiles["LABPLATEAU10"]
        tile.setFocus()
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.lead.device.name, "Plateau 10")
        self.until(lambda: self.lead.moment is not None)
        self.stage.mirror.set_zoom(1.4)
        self.window.grab()

    def test_apps_are_listed_with_their_versions_and_stopped_on_all_devices(self) -> None:
        self.tap("generic", "Hive Diary")
        found: list[object] = []
        self.lead.list_apps(lambda apps, front: found.append(AppsMenu(self.workspace, apps, front, self.stage)))
        self.until(lambda: found)
        menu = found[0]
        self.assertEqual(menu.actions()[0].text(), f"In front: {APP} .Home")
        menu.actions()[0].trigger()
        self.assertEqual(self.app.clipboard().text(), f"{APP} .Home")
        (app,) = [m for m in menu.findChildren(QMenu) if APP in m.title()]
        self.assertIn("2.4", app.title())
        for phone in self.lab.phones.values():
            phone.launch(APP)
        next(a for a in app.actions() if a.text() == "Stop on the whole bench").trigger()
        self.until(lambda: "Done on 3 devices." in self.window.message.label.text())
        self.assertEqual([phone.front()[0] for phone in self.lab.phones.values() if phone.front()[0] == APP], [])

    def test_a_phone_without_a_cable_is_paired_and_connected(self) -> None:
        serial, at, pairing = "LABWRENMINI", "192.168.0.7:41235", "192.168.0.7:37001"
        self.lab.unplug(serial)
        self.lab.near[at] = Wireless(serial, pairing, "314159")
        dialog = ConnectDialog(self.workspace, self.stage.reaching, self.window)
        dialog.open()
        self.until(lambda: "to be paired" in dialog.wireless.near.text() and dialog.wireless.pairing.text() == pairing)
        for code, said in (("111111", "Wrong password"), ("314159", "is paired: connect it now")):
            dialog.wireless.code.setFocus()
            dialog.wireless.code.clear()
            for key in (*code, Qt.Key.Key_Return):
                QTest.keyClick(dialog.windowHandle(), key)
            self.until(lambda said=said: said in dialog.wireless.said.text())
        self.until(lambda: dialog.wireless.address.text() == at)
        dialog.wireless.connect_.setFocus()
        QTest.keyClick(dialog.windowHandle(), Qt.Key.Key_Space)
        self.until(lambda: "is connected" in dialog.wireless.said.text())
        self.until(lambda: any(d.name == "Wren mini" and d.ready for d in self.workspace.devices))

    def test_an_endpoint_that_is_added_is_looked_for_at_once(self) -> None:
        kestrel = LabBench([m for m in load_models() if m.name == "Kestrel S"])
        face = self.enterContext(contextlib.closing(WebDriverServer(kestrel)))
        self.enterContext(mock.patch("copione.links.endpoints.settings_file", lambda: self.scratch / "endpoints.toml"))
        dialog = ConnectDialog(self.workspace, self.stage.reaching, self.window)
        dialog.open()
        dialog.address.setFocus()
        for words, said in (("kestrel", "is no address of a WebDriver endpoint"), (face.endpoints[0], "Looked for at")):
            dialog.address.clear()
            for letter in words:
                QTest.keyClick(dialog.windowHandle(), letter)
            QTest.keyClick(dialog.windowHandle(), Qt.Key.Key_Return)
            self.until(lambda said=said: said in dialog.said.text())
        self.until(lambda: "Kestrel S" in [d.name for d in self.workspace.devices if d.ready])
        mine = {d.name: d.listed.stand_in for d in self.workspace.devices}
        self.assertEqual((mine["Kestrel S"], mine["Alder 5"]), (False, True))  # nobody started it as a stand-in
        self.assertIn(f'url = "{face.endpoints[0]}"', (self.scratch / "endpoints.toml").read_text("utf-8"))
        for address, ends in ((face.endpoints[0], "✓ touch: fingers are taken"), ("http://127.0.0.1:9/none", "✗ connection")):
            dialog.address.setFocus()
            for key in (*address, *[Qt.Key.Key_Tab] * 2, Qt.Key.Key_Space):
                QTest.keyClick(dialog.windowHandle(), key)
            self.until(lambda ends=ends: ends in dialog.said.text() and dialog.test.isEnabled())
            dialog.address.clear()
        dialog.accept()

    def test_what_is_not_ready_says_what_to_do_in_place(self) -> None:
        self.lab.set_state("LABWRENMINI", "unauthorized")
        self.until(lambda: not all(d.ready for d in self.workspace.devices))
        dialog = ConnectDialog(self.workspace, self.stage.reaching, self.window)
        dialog.look_at_ports = lambda: [Plugged("Thistle", "18d1", "4ee7", "T1", True, False)]
        dialog.refresh()
        self.until(lambda: "Thistle" in dialog.ports.text())
        said = " ".join(label.text() for label in dialog.findChildren(QLabel))
        for words in (
            "LABWRENMINI: not approved on the phone",
            "Unlock the phone",
            "Thistle: no permission on the USB port",
            "Without a cable",
        ):
            self.assertIn(words, said)
        self.assertTrue(any("18d1" in line.text() for line in dialog.findChildren(QLineEdit)))
        dialog.resize(640, 1000)
        dialog.show()
        click(dialog.address)
        for letter in "my phone":
            QTest.keyClick(dialog.windowHandle(), letter)
        QTest.keyClick(dialog.windowHandle(), Qt.Key.Key_Return)
        self.until(lambda: "is no address" in dialog.said.text())
        self.window.grab()
        self.face.close()
        self.until(lambda: self.workspace.server_trouble)
        self.assertIn("No adb server answers", self.stage.bench._note.text())
        self.until(lambda: "No adb server answers" in dialog.now.text())
        dialog.deleteLater()
