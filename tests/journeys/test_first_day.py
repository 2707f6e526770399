"""From nothing to a first comparison, and a first recording."""

import subprocess
import time

from .hand import Journey

WRITTEN = """script "Queen seen"
app hive-diary
patience 8 s

scene "Scene 1"
    launch afresh
    tap button "Hives"
    tap item "Hive 2"
    check label "Weight" reads "{weight}"
    tap button "New inspection"
    set slider "Brood frames" to 6
    type "calm today" into field "Notes"
    tap button "Save inspection"
"""


class FirstStart(Journey):
    def test_from_nothing_to_a_first_comparison(self) -> None:
        port = self.environment["ANDROID_ADB_SERVER_PORT"]
        self.addCleanup(subprocess.run, ["adb", "-P", port, "kill-server"], env=self.environment, stderr=subprocess.DEVNULL)
        self.start()
        self.click("Start it")
        self.until("where('Plug in a phone, with USB debugging turned on') and not where('Start it')")
        self.assertFalse((self.home / "Documents").exists())  # no project is made that nobody asked for
        self.click("Try it with stand-in phones")
        self.until("len([d for d in workspace().devices if d.ready]) == 13 and workspace().loaded is not None and idle()")
        self.click("Devices that replays go to")
        self.click("Android 12 and before", part=True)
        self.until("len(workspace().chosen()) == 3")
        self.assertIn("not Android 12 and before", self.ask("list(workspace().left_out.values())"))
        self.key("F5")
        self.until("page() == 'Lanes' and workspace().runs.running")
        self.until("not workspace().runs.running and workspace().runs.folder is not None")
        self.key("ctrl+4")
        self.until("page() == 'Findings'")
        self.assertEqual(self.quit(), 0)
        (run,) = (self.home / "Documents" / "Copione" / "hive-diary" / "runs").iterdir()
        self.assertIn('"seconds"', (run / "run.json").read_text("utf-8"))
        self.assertIn("copione", (self.home / "state" / "copione" / "copione.log").read_text("utf-8"))
        self.start()  # the next day: the same project, though the phones are gone
        self.until("workspace().loaded is not None and workspace().runs.folder is not None")
        self.assertTrue(self.ask("where('No phone is ready yet')"))


class Recording(Journey):
    def test_with_checks_corrections_and_a_stray_tap(self) -> None:
        self.demo()
        self.record()
        self.tap("button", "Hives")
        self.tap("listitem", "Hive 2")
        weight = self.ask("[e for e in lead().moment.screen if e.name.endswith(' kg')][0].name")
        self.at(self.until("element('text', 'Weight')"))
        self.hold("c")
        self._x("click", 1)
        self.until("window().page(0).choice.isVisible()")
        clear = self.ask("choice_is_clear()")
        self.let_go("c")
        self.assertTrue(clear)
        self.key("1")
        self.until("idle()")
        self.tap("img", "Comb picture")  # a stray tap: nothing comes of it
        self.until("idle() and len(words()) == 5")
        self.key("ctrl+BackSpace")
        self.until("len(words()) == 4")
        self.tap("button", "New inspection")
        left, top, right, bottom = self.ask("box('slider', 'Brood frames')")
        y, begin, end = (top + bottom) / 2, left + 12, right - 12
        way = [self.ask(f"glass({begin + (end - begin) * share}, {y})") for share in (0.3, 0.35, 0.4, 0.45, 0.5, 0.55, 0.6)]
        self.at(way[0])
        self._x("mousedown", 1)
        before = self.ask("hash(lead().live.png)")
        for place in way[1:]:
            self.at(place)
            time.sleep(0.2)
        self.until(f"hash(lead().live.png) != {before}")  # the slider is seen moving while the button is held
        self._x("mouseup", 1)
        self.until("idle() and len(words()) == 6")
        self.tap("textbox", "Notes")
        self.type("calm")
        time.sleep(5)  # a person thinks what to write
        self.type(" today")
        self.until("idle() and 'calm today' in words()[-1]")
        self.tap("button", "Save inspection")
        self.save("Queen seen")
        self.assertIn("Replay on 13", self.ask("[b.text() for b in window().message.findChildren(type(window().second))]"))
        self.assertIn(f"Saved as queen-seen.copione in {self.project / 'scripts'}", self.ask("message()"))
        text = (self.project / "scripts" / "queen-seen.copione").read_text("utf-8")
        self.assertEqual(text, WRITTEN.replace("{weight}", weight))
        self.assertEqual(self.ask("window().page(1).editor.toPlainText()"), text)
