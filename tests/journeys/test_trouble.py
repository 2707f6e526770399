"""Phones that are unplugged, and windows that are closed or killed, in the middle of it."""

import time
from pathlib import Path

from copione.project.demo import copy_demo
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.adb_server import AdbServer as LabServer
from copione_lab.model import load_models

from .hand import Journey


class Unplugged(Journey):
    """The phones are those of an adb server: nobody says that they are stand-ins."""

    def setUp(self) -> None:
        self.lab = LabBench([m for m in load_models() if m.name in ("Alder 5", "Wren mini")])
        face = self.enterContext(LabServer(self.lab))
        self.server_port = str(face.port)
        super().setUp()
        copy_demo(self.project)
        (self.home / "state" / "copione").mkdir(parents=True)
        (self.home / "state" / "copione" / "window.ini").write_text(f"[General]\nproject={self.project}\n")

    def test_in_the_middle_of_recording_and_of_a_run(self) -> None:
        self.start()
        self.until("len([d for d in workspace().devices if d.ready]) == 2 and idle() and workspace().loaded is not None")
        self.record()
        self.assertEqual(self.ask("words()"), ["launch keeping its data"])
        self.tap("button", "Hives")
        place = self.ask("glass(0, 0)")
        self.lab.unplug("LABALDER5")
        self.until("'went away' in message()")
        self.assertEqual(self.ask("glass(0, 0)"), place)  # what is told moves nothing
        self.assertEqual(len(self.ask("words()")), 2)
        self.lab.set_state("LABALDER5", "device")
        self.quit()
        self.start()
        self.click("Go on with it")
        self.until("workspace().recorder.active and len(words()) == 2")
        self.save("Cut off")
        self.key("F5")
        self.until("workspace().runs.running and sum(len(l.own) for l in workspace().runs.lanes.lanes) > 0")
        self.lab.unplug("LABWRENMINI")
        self.until("not workspace().runs.running")
        outcomes = self.ask("{l.device.name: [r.outcome.value for r in l.own.values()] for l in workspace().runs.lanes.lanes}")
        self.assertNotIn("stuck", outcomes["Alder 5"])
        self.assertEqual(self.quit(), 0)
        self.assertIn('tap button "Hives"', (self.project / "scripts" / "cut-off.copione").read_text("utf-8"))


class ComingBack(Journey):
    def recordings(self) -> list[Path]:
        return sorted((self.project / "recordings").iterdir())

    def test_closed_while_recording_killed_and_back(self) -> None:
        self.demo()
        self.record()
        self.tap("button", "Hives")
        self._x("key", "alt+F4")  # the window manager's way
        self._gone()
        self.demo()
        self.click("Go on with it")
        self.until("workspace().recorder.active and len(words()) == 2")
        self.tap("button", "About")  # the phones are new: the app begins where it does
        kept = self.ask("words()")
        self.kill()
        time.sleep(0.5)
        self.demo()
        self.assertIn(
            "Its 3 steps are here", self.until("window().findChild(__import__('copione.app.offer', fromlist=['Offer']).Offer).words.text()")
        )
        self.click("Go on with it")
        self.until("workspace().recorder.active and idle()")
        self.assertEqual(self.ask("words()"), kept)
        self.save("After all")
        self.assertEqual(self.quit(), 0)
        self.assertEqual(len(self.recordings()), 1)
        self.assertIn('tap button "About"', (self.project / "scripts" / "after-all.copione").read_text("utf-8"))
