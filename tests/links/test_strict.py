"""Over a remote end that has nothing but the standard and a dialect of its own: set up by its configuration alone."""

import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import ClassVar
from unittest import mock

from click.testing import CliRunner

from copione.cli.main import main
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.links.endpoints import remember, spec_of
from copione.links.link import HasConditions, InstallsApps, RunsApps
from copione.links.webdriver.link import WebDriverLink
from copione.links.webdriver.passwords import keep, password_of
from copione.model.clock import SystemClock
from copione.model.errors import CannotDo, LinkError
from copione.model.gesture import Contact
from copione.model.key import Key
from copione.model.outcome import Outcome
from copione.project.archive import read_run
from copione.project.demo import copy_demo
from copione.project.project import Project
from copione.replay.run import Run
from copione_lab.model import load_models
from copione_lab.package import pack

from ..benches import APP, Heard, named
from .strict import MODELS, PASSWORD, USER
from .test_conformance import Conformance

DIALECT = """about = "A bench that was never heard of"

[facts]
name = "bench:model"
dpi = "bench:density"

[needs]
list = { script = "bench: apps", value = "apps", app = "id", version = "about.version" }
front = { script = "bench: front", app = "id" }
launch = { script = "bench: start", arguments = [{ id = "{app}" }] }
stop = { script = "bench: end", arguments = [{ id = "{app}" }] }
clear = { script = "bench: empty", arguments = [{ id = "{app}" }] }
"""


WIDER = """
home = { script = "bench: home" }
keyboard = { script = "bench: keys" }
install = { script = "bench: put", arguments = [{ data = "{package}" }] }
uninstall = { script = "bench: remove", arguments = [{ id = "{app}" }] }
log = { script = "bench: said", arguments = ["{since_ms}"], line = "line" }
turn = { script = "bench: hold", arguments = ["{ORIENTATION}"] }
"""


class StrictCase(unittest.TestCase):
    """A remote end in a process of its own, and what Copione keeps of it in a folder of the test's."""

    DIALECT = DIALECT

    @classmethod
    def setUpClass(cls) -> None:
        there = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        key, cls.certificate = (str(there / name) for name in ("key.pem", "certificate.pem"))
        made = f"openssl req -x509 -nodes -newkey ec -pkeyopt ec_paramgen_curve:prime256v1 -days 2 -subj /CN=bench -keyout {key}"
        words = [*made.split(), "-out", cls.certificate, "-addext", "subjectAltName=IP:127.0.0.1"]
        subprocess.run(words, check=True, capture_output=True)
        command = [sys.executable, "-m", "tests.links.strict", key, cls.certificate]
        child = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
        cls.addClassCleanup(child.stdout.close)
        cls.addClassCleanup(child.wait, 20)
        cls.addClassCleanup(child.stdin.close)
        cls.urls = [child.stdout.readline().strip() for _ in MODELS]

    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        places = {"XDG_CONFIG_HOME": str(self.folder), "XDG_STATE_HOME": str(self.folder / "state")}
        self.enterContext(mock.patch.dict(os.environ, places | {"PYTHON_KEYRING_BACKEND": "keyring.backends.fail.Keyring"}))
        dialects = self.folder / "copione" / "dialects"
        dialects.mkdir(parents=True)
        (dialects / "bench.toml").write_text(self.DIALECT, "utf-8")

    def configure(self) -> None:
        for url, platform in zip(self.urls, ("android", "ios"), strict=True):
            wanted = {"alwaysMatch": {"bench:engine": "two"}, "firstMatch": [{"platformName": "other"}, {"platformName": platform}]}
            remember(url, name=platform, dialect="bench", user=USER, certificate=self.certificate, capabilities=wanted)
            keep(url, USER, PASSWORD)

    def link(self, number: int = 0) -> WebDriverLink:
        link = WebDriverLink(self.urls[number], spec=spec_of(self.urls[number]))
        self.addCleanup(link.close)
        return link


class Strict(StrictCase):
    def test_each_thing_that_is_missing_is_told_step_by_step(self) -> None:
        def tried() -> tuple[int, str]:
            done = CliRunner().invoke(main, ["endpoints", "test", self.urls[0]])
            return done.exit_code, done.output.splitlines()[-1]

        def given(**facts: object) -> None:
            remember(self.urls[0], **facts)

        for act, words in (
            (lambda: None, "FAILED  remote end: no answer of a remote end: .*certificate"),
            (lambda: given(certificate=self.certificate), "FAILED  remote end: it wants somebody to sign in"),
            (lambda: given(certificate=self.certificate, user=USER), "does not take ada and the password"),
            (lambda: keep(self.urls[0], USER, PASSWORD), "FAILED  session: .*opens no session .*needs platformName"),
        ):
            act()
            code, said = tried()
            self.assertEqual(code, 1)
            self.assertRegex(said, words)
        self.configure()
        self.assertEqual(tried(), (0, "fine    touch: fingers are taken"))
        self.assertEqual(password_of(self.urls[0], USER), PASSWORD)
        self.assertEqual((self.folder / "state" / "copione" / "passwords.json").stat().st_mode & 0o077, 0)
        self.assertNotIn(PASSWORD, (self.folder / "copione" / "endpoints.toml").read_text("utf-8"))

    def test_both_platforms_are_read_and_touched_and_what_the_dialect_lacks_is_a_limit(self) -> None:
        self.configure()
        for number, name in enumerate(MODELS):
            model = next(model for model in load_models() if model.name == name)
            link = self.link(number)
            profile = link.profile()
            self.assertEqual((profile.name, profile.dpi, round(profile.width)), (name, model.dpi, round(model.width_px / model.density)))
            link.able(RunsApps).launch(APP)
            hives = named(link.moment().screen, "button", "Hives")
            self.assertEqual(hives.id, "open_hives" if number == 0 else "openHives")
            link.touch([Contact(0, ((0.0, *hives.box.centre),), 0.0)])  # down and up at once
            self.assertEqual(link.glimpse().screen.app, APP)
            named(link.moment().screen, "list", "Hives")
            for kind in (InstallsApps, HasConditions):
                with self.assertRaises(CannotDo):
                    link.able(kind)

    def test_the_demo_ends_as_it_does_over_any_other_wire(self) -> None:
        self.configure()
        bench = Bench(AdbServer(port=9), endpoints=self.urls)
        self.addCleanup(bench.close)
        copy_demo(self.folder / "demo")
        project = Project(self.folder / "demo")
        devices = bench.look()
        self.assertEqual([device.name for device in devices], ["Alder 5", "Kestrel S"])
        run = Run(project, project.load(project.script_path("Spring inspection")), devices, heard := Heard(), SystemClock())
        run.start()
        run.wait()
        reached = {take.name.device: take.configured for take in read_run(run.folder).takes}
        self.assertEqual(reached, {"Alder 5": f"android at {self.urls[0]}", "Kestrel S": f"ios at {self.urls[1]}"})
        for results in heard.results.values():
            self.assertEqual([(r.step, r.reason) for r in results if not r.outcome.good and r.outcome is not Outcome.ADAPTED], [])
            self.assertEqual(len(results), 15)

    def test_a_session_of_another_kind_is_not_used(self) -> None:
        self.configure()
        remember(self.urls[0], name="android", user=USER, certificate=self.certificate, capabilities={"bench:engine": "two"})
        with self.assertRaisesRegex(LinkError, "opens no session"):
            self.link().profile()


if __name__ == "__main__":
    unittest.main()


class OnStrict(Conformance, StrictCase):
    """The conformance suite on a remote end of the standard alone, with a dialect that has a word for everything else."""

    DIALECT = DIALECT.replace('dpi = "bench:density"', 'dpi = "bench:density"\nlocale = "bench:speaks"\ntextScale = "bench:text"') + WIDER
    NUMBER, GLASS = 0, 65.4  # mm, by its density
    LACKING: ClassVar[set[Key]] = {Key.VOLUME_UP, Key.VOLUME_DOWN, Key.APP_SWITCH, Key.POWER}

    def make(self) -> WebDriverLink:
        self.configure()
        link = self.link(self.NUMBER)
        if self.builds(link).get(APP) != "2.4":  # an earlier test has taken it away
            link.install(pack(APP, "2.4"))
        return link


class OnStrictsOther(OnStrict):
    """The other platform."""

    NAME, PLATFORM, RELEASE, SIZE, GLASS = "Kestrel S", "ios", "17", (390, 844), 61.9
    NUMBER = 1
