import os
import shutil
import socket
import subprocess
import tempfile
import unittest
from pathlib import Path

from copione.links.adb.link import AdbLink
from copione.links.adb.server import AdbServer
from copione.links.link import Link
from copione.model.clock import SteppedClock
from copione.model.errors import NoServer
from copione.project.project import Project
from copione.replay.run import Run
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.adb_daemon import AdbDaemon
from copione_lab.model import load_models
from copione_lab.package import pack

from ..benches import APP, EXAMPLE, Heard, LabCase
from .test_conformance import AdbServerLink, Conformance

ADB = shutil.which("adb")


@unittest.skipUnless(ADB, "Debian's adb is not installed: apt-get install adb")
class StockAdb(Conformance, unittest.TestCase):
    """Debian's own adb between the link and two stand-in phones."""

    CANNOT = AdbServerLink.CANNOT

    @classmethod
    def setUpClass(cls) -> None:
        cls.home = tempfile.TemporaryDirectory()
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            cls.port = free.getsockname()[1]
        cls.environment = os.environ | {"HOME": cls.home.name, "ANDROID_ADB_SERVER_PORT": str(cls.port)}
        cls.process = subprocess.Popen(
            [ADB, "nodaemon", "server"], env=cls.environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        cls.server = AdbServer(port=cls.port, patience=20)
        while True:
            try:
                cls.server.version()
                break
            except NoServer:
                assert cls.process.poll() is None, "adb did not start"

    @classmethod
    def tearDownClass(cls) -> None:
        cls.process.terminate()
        cls.process.wait()
        cls.home.cleanup()

    def setUp(self) -> None:
        self.lab = LabBench([m for m in load_models() if m.name in ("Alder 5", "Wren mini")])
        self.addresses = []
        for serial in self.lab.phones:
            daemon = AdbDaemon(self.lab, serial)
            self.addCleanup(daemon.close)
            self.addresses.append(f"127.0.0.1:{daemon.port}")
            self.assertIn("connected", self.adb("connect", self.addresses[-1]).decode())
            self.addCleanup(self.adb, "disconnect", self.addresses[-1])

    def adb(self, *words: str) -> bytes:
        return subprocess.run([ADB, *words], env=self.environment, capture_output=True, check=True, timeout=30).stdout

    def make(self) -> Link:
        return AdbLink(self.server, self.addresses[0])

    def test_its_own_commands_work_on_both_phones(self) -> None:
        listing = self.adb("devices", "-l").decode()
        self.assertIn("model:Alder_5", listing)
        self.assertIn("model:Wren_mini", listing)
        for address, name in zip(self.addresses, ("Alder 5", "Wren mini"), strict=True):
            self.assertEqual(self.adb("-s", address, "shell", "getprop", "ro.product.model").decode().strip(), name)
            self.assertTrue(self.adb("-s", address, "exec-out", "screencap", "-p").startswith(b"\x89PNG"))
            self.assertIn(b"</hierarchy>", self.adb("-s", address, "shell", "uiautomator", "dump", "/dev/tty"))
            self.assertIn(b"ABS_MT_POSITION_X", self.adb("-s", address, "shell", "getevent", "-lp"))
        with self.assertRaises(subprocess.CalledProcessError) as caught:
            self.adb("-s", self.addresses[0], "shell", "nosuch")
        self.assertEqual(caught.exception.returncode, 127)

    def test_it_installs_and_uninstalls(self) -> None:
        phone, on = self.lab.phones["LABALDER5"], ("-s", self.addresses[0])
        for build, taken in (("2.5", True), ("2.3", False)):
            file = Path(self.home.name) / f"hive-diary-{build}.apk"
            file.write_bytes(pack(APP, build))
            done = subprocess.run([ADB, *on, "install", "-r", file], env=self.environment, capture_output=True, check=False, timeout=30)
            self.assertEqual((done.returncode == 0, b"VERSION_DOWNGRADE" in done.stderr), (taken, not taken), done)
        self.assertEqual(dict(phone.installed())[APP], "2.5")
        self.assertIn(b"Success", self.adb(*on, "uninstall", APP))
        self.assertNotIn(APP, dict(phone.installed()))

    def test_a_finger_on_the_phone_itself_is_streamed(self) -> None:
        command = [ADB, "-s", self.addresses[0], "shell", "getevent", "-lt"]
        phone = self.lab.phones["LABALDER5"]
        with subprocess.Popen(command, env=self.environment, stdout=subprocess.PIPE) as process:
            while not phone.panel._listeners:
                self.assertIsNone(process.poll())
            for action, y in (("down", 500), ("move", 480), ("up", 480)):
                phone.hand(action, 0, 300, y, 12.5)
            lines = [process.stdout.readline().decode() for _ in range(11)]
            process.terminate()
        self.assertIn("ABS_MT_TRACKING_ID   00000001", lines[0])
        self.assertIn("[      12.500000] /dev/input/event2: EV_ABS       ABS_MT_POSITION_X    0000012c", lines[2])
        self.assertEqual([line.split()[-1] for line in lines if "TRACKING" in line], ["00000001", "ffffffff"])


@unittest.skipUnless(ADB, "Debian's adb is not installed: apt-get install adb")
class ThroughBothServers(LabCase):
    def test_the_demo_has_the_same_outcomes_through_the_real_server_and_the_stand_in(self) -> None:
        StockAdb.setUpClass()
        self.addCleanup(StockAdb.tearDownClass)
        with AdbDaemon(self.lab, "LABALDER5") as daemon:
            subprocess.run([ADB, "connect", f"127.0.0.1:{daemon.port}"], env=StockAdb.environment, capture_output=True, check=True)
            outcomes = []
            for server in (self.server, StockAdb.server):
                self.server = server
                project = Project(EXAMPLE)
                heard = Heard()
                run = Run(
                    project,
                    project.load(project.script_path("Spring inspection")),
                    self.devices("Alder 5"),
                    heard,
                    SteppedClock(),
                    self.scratch / "runs",
                )
                run.start()
                run.wait()
                outcomes.append([(r.step, r.outcome, r.by, r.read) for r in heard.results["Alder 5"]])
        self.assertEqual(outcomes[0], outcomes[1])
        self.assertEqual({o.value for _, o, _, _ in outcomes[0]}, {"held"})
