"""The guide: its pictures are there, and every key and every command in it does what it says."""

import os
import re
import shlex
import subprocess
import sys
from collections.abc import Callable
from importlib.resources import files

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QImage, QKeySequence
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QLineEdit

from copione.app.guide import GuideDialog
from copione.app.palette import Palette
from copione.app.sheet import Sheet
from copione.app.stage.everything import EverythingDialog

from ..benches import EXAMPLE
from .windows import WindowCase, click

GUIDE = (files("copione") / "guide" / "guide.md").read_text("utf-8")
KEYS = set(re.findall(r"`((?:Ctrl|Shift|F\d)[^`]*)`", GUIDE))
COMMANDS = {words.strip() for words in re.findall(r"(?:`|^    )(copione(?: [^`\n]*)?)", GUIDE, re.M)}


class Guide(WindowCase):
    def press(self, words: str) -> None:
        """A key as the guide has it."""
        self.pressed.add(words)
        self.window.activateWindow()  # after a dialog, as a window manager does
        self.until(lambda: self.app.activeWindow() is self.window)
        combination = QKeySequence(words)[0]
        QTest.keyClick(self.window.windowHandle(), combination.key(), combination.keyboardModifiers())

    def answering(self, act: Callable[[QDialog], object]) -> None:
        """What is done in the dialog that comes next."""

        def look() -> None:
            dialog = QApplication.activeModalWidget()
            if isinstance(dialog, QDialog) and dialog.isVisible():
                act(dialog)
            else:
                QTimer.singleShot(20, look)

        QTimer.singleShot(20, look)

    def test_every_key_does_what_it_says(self) -> None:
        self.pressed: set[str] = set()
        self.tap("generic", "Hive Diary")
        self.press("Ctrl+R")
        self.answer()
        self.until(lambda: self.recorder.active and self.lead.idle)
        self.press("Ctrl+P")
        self.until(lambda: self.words()[-1:] == ['snap "Picture 1"'])
        self.press("Ctrl+Backspace")
        self.until(lambda: self.words() == ["launch afresh"])
        self.press("Ctrl+Z")
        self.until(lambda: len(self.words()) == 2)
        self.answering(lambda dialog: (dialog.findChild(QLineEdit).setText("Slow today"), dialog.accept()))
        self.press("Ctrl+N")
        self.until(lambda: self.words()[-1] == 'note "Slow today"')
        titles: list[str] = []
        self.answering(lambda dialog: (titles.append(dialog.windowTitle()), dialog.reject()))
        self.press("Ctrl+D")
        self.until(lambda: titles == ["Write up a defect"])
        self.press("Ctrl+Shift+C")
        self.until(lambda: self.window.findChildren(EverythingDialog))
        self.window.findChildren(EverythingDialog)[-1].reject()
        self.press("Ctrl+Shift+R")
        self.until(lambda: self.sheet is not None)
        self.keys("A day")
        self.answer()
        self.until(lambda: not self.recorder.active and self.page == "Script")
        self.until(lambda: self.workspace.loaded.script.name == "A day")
        self.press("Ctrl+Shift+F")
        self.assertIs(self.app.focusWidget(), self.script.scripts.search)
        self.press("Ctrl+Shift+N")
        self.until(lambda: self.sheet is not None)
        self.key(Qt.Key.Key_Escape)
        self.press("Ctrl+H")
        self.until(lambda: self.recorder.active and self.lead.idle)
        click(self.window.second)
        self.until(lambda: not self.recorder.active)
        self.press("Ctrl+2")
        self.assertEqual(self.page, "Script")
        self.workspace.go_to(next(step.line for _, step in self.workspace.loaded.script.steps()))
        self.press("Ctrl+M")
        self.until(lambda: any(s.isVisible() for s in self.window.findChildren(Sheet)))
        self.key(Qt.Key.Key_Escape)
        for key, words in (("Ctrl+B", "into words in quotes"), ("Shift+F2", "on a scene")):
            self.press(key)
            self.until(lambda words=words: words in self.window.message.label.text())
        for stops in (1, 0):
            self.press("F7")
            self.assertEqual(len(self.script.trials.stops), stops)
        self.press("F8")
        self.until(lambda: self.script.trials.standing is not None)
        self.press("F9")
        self.until(lambda: self.script.trials.tried and not self.script.trials.running)
        self.press("Ctrl+5")
        self.assertEqual(self.page, "Elements")
        self.press("F5")
        self.until(lambda: self.page == "Lanes" and self.workspace.runs.lanes.done)
        self.press("Shift+F5")
        self.until(lambda: not self.workspace.runs.running)
        self.press("Ctrl+E")
        self.until(lambda: "The report is in" in self.window.message.label.text())
        self.press("Ctrl+4")
        self.assertEqual(self.page, "Findings")
        self.press("Ctrl+3")
        self.press("Ctrl+Shift+J")  # what comes of it where there is something is tests/replay/test_renewing's
        self.until(lambda: "as far as that could be taken over" in self.window.message.label.text())
        self.press("Ctrl+Shift+L")
        self.assertTrue(self.lanes.kept.isVisible())
        self.press("Ctrl+K")
        self.until(lambda: self.window.findChildren(Palette))
        self.window.findChildren(Palette)[-1].close()
        self.press("F1")
        self.until(lambda: self.window.findChildren(GuideDialog))
        guide = self.window.findChildren(GuideDialog)[-1]
        self.until(lambda: "A day with Copione" in guide.pages.toPlainText())
        self.assertEqual(len(guide.pages.pictures), 19)
        guide.close()
        self.assertEqual(self.pressed, KEYS)

    def test_every_command_runs(self) -> None:
        script = shlex.quote(str(EXAMPLE / "scripts" / "spring-inspection.copione"))
        places = {f"XDG_{name}_HOME": str(self.scratch / name) for name in ("STATE", "CONFIG", "DATA")}
        environment = {**os.environ, "ANDROID_ADB_SERVER_PORT": str(self.face.port), **places, "XDG_RUNTIME_DIR": str(self.scratch)}
        expected = {
            "copione": (["--help"], 0),  # its window, and that of the demo, are opened by the journeys
            "copione demo": (["--help"], 0),
            "copione devices": ([], 0),
            "copione lint SCRIPT": ([], 0),
            "copione replay SCRIPT --on all --junit results.xml": (["--out", str(self.scratch / "out"), "--busy", "take"], 0),
        }
        self.assertEqual(COMMANDS, set(expected))
        for words, (more, code) in expected.items():
            command = [sys.executable, "-m", *shlex.split(words.replace("SCRIPT", script)), *more]
            ran = subprocess.run(command, cwd=self.scratch, env=environment, capture_output=True, text=True, check=False, timeout=120)
            self.assertEqual(ran.returncode, code, ran.stderr)
        self.assertTrue((self.scratch / "results.xml").exists())

    def test_its_pictures_are_there(self) -> None:
        pictures = re.findall(r"!\[[^\]]+\]\(screenshots/(\S+)\)", GUIDE)
        self.assertEqual((len(pictures), len(set(pictures))), (19, 19))
        for name in pictures:
            image = QImage(str(files("copione") / "guide" / "screenshots" / name))
            self.assertEqual((image.width(), image.height()), (1280, 800), name)
