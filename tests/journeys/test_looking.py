"""Lanes, loupe, findings and runs by keyboard alone; what a defect write-up leaves; small screens and large ones."""

import time

from .hand import Journey


class ByKeyboard(Journey):
    def walk_to(self, name: str) -> None:
        """With the tabulator alone."""
        for _ in range(40):
            self.key("Tab")
            if self.ask("focus()") == name:
                return
        self.fail(f"the keys do not come to {name}")

    def test_lanes_loupe_findings_and_runs(self) -> None:
        self.demo()
        self.walk_to("Devices that replays go to")
        self.key("space")
        traits = self.until("menu()")
        place = next(n for n, words in enumerate(traits) if words.startswith("Text larger than ordinary"))
        self.key(*["Down"] * (place + 1), "Return")
        self.until("{d.name for d in workspace().chosen()} == {'Wren mini', 'Heron Max'}")
        self.key("ctrl+k")
        self.until("where('Find an action')")
        self.type("replay on the chosen")
        self.key("Return")
        self.until("page() == 'Lanes' and workspace().runs.running")
        self.until("not workspace().runs.running and window().page(2).loupe.isVisible()")
        worst = self.ask("window().page(2).view.take.device")
        self.key("Down" if worst == "Wren mini" else "Up")
        self.until(f"window().page(2).view.take.device != {worst!r}")
        self.assertIn("Loupe", self.ask("window().page(2).loupe._caption.text()"))
        self.key("ctrl+4")
        self.until("page() == 'Findings'")
        self.walk_to("Show in lanes")
        self.key("space")
        self.until("page() == 'Lanes' and window().page(2).view.take.device == " + repr(worst))
        self.key("ctrl+e")
        self.until("'The report is in' in message()")
        self.key("ctrl+shift+l")
        self.until("focus() == 'Runs'")
        self.key("Delete")
        self.until("workspace().runs.folder is None and 'was deleted' in message()")
        self.assertEqual(list((self.project / "runs").iterdir()), [])
        self.key("ctrl+z")
        self.until("workspace().runs.folder is not None and workspace().runs.lanes.columns")
        self.assertEqual(self.quit(), 0)
        (run,) = (self.project / "runs").iterdir()
        self.assertTrue((run / "report.html").exists())


class Exploring(Journey):
    def test_what_was_seen_is_written_up(self) -> None:
        self.demo()
        self.record()
        self.tap("button", "Hives")
        self.key("ctrl+n")
        time.sleep(0.5)
        self.type("The list is long")
        self.key("Return")
        self.until("words()[-1:] == ['note \"The list is long\"']")
        self.key("ctrl+d")
        self.until("where('What')")
        self.type("The hives have no order")
        self.click("Write it up")
        self.until("'Written up in' in message()")
        (report,) = (self.project / "defects").rglob("*.md")
        self.assertIn("The hives have no order", report.read_text("utf-8"))
        self.click("Throw away")
        self.until("not workspace().recorder.active")
        self.assertEqual(self.quit(), 0)


class Small(Journey):
    size = "1024x700"

    def test_everything_is_within_reach_on_a_small_screen(self) -> None:
        self.demo()
        for key in ("ctrl+2", "ctrl+3", "ctrl+4", "ctrl+1"):
            self.key(key)
            time.sleep(0.3)
            self.assertEqual(self.ask("outside()"), [], key)
        self.record()
        self.tap("button", "About")
        self.assertEqual(self.ask("outside()"), [])
        self.save("About")
        self.assertEqual(self.quit(), 0)
        self.assertIn('tap button "About"', (self.project / "scripts" / "about.copione").read_text("utf-8"))


class Doubled(Journey):
    size = "2560x1600"
    scale = "2"

    def test_at_twice_the_size_a_click_hits_what_is_under_it(self) -> None:
        self.demo()
        self.assertEqual(self.ask("outside()"), [])
        self.record()
        self.tap("button", "Hives")
        self.until("idle()")
        self.at(self.until("element('listitem', 'Hive 3')"))
        self._x("click", "--repeat", 2, "--delay", 120, 1)
        self.until("idle() and words()[-1] == 'double-tap item \"Hive 3\"'")
        self.assertEqual(len(self.ask("words()")), 3)  # and no tap besides
        self.save("Third")
        self.assertEqual(self.quit(), 0)
        self.assertIn('double-tap item "Hive 3"', (self.project / "scripts" / "third.copione").read_text("utf-8"))
