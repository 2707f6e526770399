"""Pages made of other people's components, one of them in shadow roots: recorded in Chromium, replayed in WebKit and on a tablet.

The components are installed for the test alone, from npm, and served on loopback; without npm or a network nothing is tested here.
"""

import shutil
import subprocess
import tempfile
import time
import unittest
from pathlib import Path

from copione.links.browser.kept import BrowserSpec
from copione.links.browser.link import BrowserLink
from copione.model.action import Start
from copione.model.clock import SystemClock
from copione.model.screen import Element, Screen
from copione.project.project import Project
from copione.recording.session import Session
from copione.replay.run import Run
from copione.touch.making import drag, swipe, tap
from copione_lab.kiln_book.serving import Served

from ...benches import Heard
from .devices import bench_of
from .pages import engines

PAGES = Path(__file__).with_name("others")
PACKAGES = {"one": "@ionic/core@8", "two": "framework7@9", "three": "onsenui@2"}


@unittest.skipUnless({"chromium", "webkit"} <= set(engines()), "chromium chromium-driver and webkit2gtk-driver are not installed")
@unittest.skipUnless(shutil.which("npm"), "npm is not installed")
class Others(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        scratch = tempfile.TemporaryDirectory()
        cls.addClassCleanup(scratch.cleanup)
        cls.folder = Path(scratch.name)
        install = ["npm", "install", "--no-audit", "--no-fund", "--ignore-scripts", "--prefix", str(cls.folder), *PACKAGES.values()]
        try:
            done = subprocess.run(install, capture_output=True, timeout=120).returncode == 0
        except subprocess.TimeoutExpired:
            done = False
        if not done:
            raise unittest.SkipTest("npm does not get the packages")
        for page in PAGES.glob("*.html"):
            shutil.copy(page, cls.folder / page.name)
        cls.served = Served(cls.folder)
        cls.addClassCleanup(cls.served.close)

    def see(self, *names: str, role: str = "") -> Element:
        """The topmost thing that is called so."""
        for name in names:
            found = [e for e in self.session.look().screen or () if e.name == name and (not role or e.role == role)]
            if found:
                return found[-1]
        shown = [(e.role, e.name) for e in self.session.moment.screen or ()]
        raise AssertionError(f"none of {names} among {shown}")

    def tap(self, *names: str, role: str = "") -> None:
        self.session.touch([tap(*self.see(*names, role=role).box.centre)])

    def record(self, name: str, project: Project, link: BrowserLink) -> Path:
        """Every control of a page, as a user has them."""
        self.session = Session(link, project, f"{self.served.url}/{name}.html")
        self.session.launch(Start.AFRESH)
        field, before, until = None, None, time.monotonic() + 20
        while field is None and time.monotonic() < until:  # such pages are made only after they are loaded: a hand waits for that
            screen = self.session.look().screen
            if screen is not None and screen.signature == before:
                field = next((e for e in screen if e.role == "textbox"), None)
            before = screen.signature if screen is not None else None
        assert field is not None
        self.session.touch([tap(*field.box.centre)])
        self.session.type("Tall vases")
        self.tap("Glaze", "Glaze, Ash", role="combobox" if name == "three" else "")
        self.tap("Celadon")
        slider = self.see("Peak", role="slider").box
        y = slider.centre[1]
        self.session.touch([swipe(slider.left + 0.2 * slider.width, y, slider.left + 0.7 * slider.width, y, 0.4)])
        self.tap("Cones set", role="checkbox" if name != "one" else "switch")
        self.tap("Delete")
        self.tap("Delete it")
        self.tap("Loads")
        screen = self.session.look().screen
        assert screen is not None
        x, middle = screen.width / 2, screen.height / 2
        for _ in range(2):
            self.session.touch([drag(x, middle + 200, x, middle - 200, 0.5)])
        seen = [e for e in self.session.look().screen or () if middle - 200 < e.box.centre[1] < middle + 200]
        row = next((e for e in seen if e.name.startswith(("Load 1", "Load 2"))), None)
        assert row is not None, [(e.role, e.name) for e in seen]
        self.session.touch([tap(*row.box.centre)])
        self.end = self.opened(self.session.look().screen)
        return self.session.save(f"Page {name}")

    def opened(self, screen: Screen | None) -> str:
        """What the page itself says was opened."""
        return next((e.text for e in screen or () if e.text.endswith(" opened")), "")

    def test_what_is_recorded_in_one_engine_is_replayed_in_the_other_and_on_a_tablet(self) -> None:
        for name in PACKAGES:
            with self.subTest(PACKAGES[name]), tempfile.TemporaryDirectory() as scratch:
                project = Project.create(Path(scratch), "Others")
                link = BrowserLink(BrowserSpec("Recorder", "chromium", 412, 892))
                try:
                    path = self.record(name, project, link)
                finally:
                    link.close()
                self.assertRegex(self.end, r"^Load \d+ opened$")
                loaded = project.load(path)
                heard = Heard()
                wanted = [BrowserSpec("A phone", "webkit", 412, 892), BrowserSpec("A tablet", "chromium", 800, 1200)]
                with bench_of(wanted) as devices:
                    run = Run(project, loaded, devices, heard, SystemClock())
                    run.start()
                    run.wait()
                    for device in devices:
                        assert device.worker is not None
                        seen = device.worker.submit(lambda link: link.glimpse().screen).result()
                        results = heard.results[device.name]
                        bad = [(r.step, r.outcome.value, r.reason) for r in results if r.outcome.bad]
                        self.assertEqual((bad, self.opened(seen)), ([], self.end), device.name)
