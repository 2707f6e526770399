import os
import signal
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from copione.links.adb.link import AdbLink
from copione.links.claims import Busy, Changed, Claim, NoClaim
from copione.links.holding import held
from copione.links.identity import place_of, place_of_url, serial_number
from copione.model.condition import Condition
from copione.model.errors import DeviceGone, DeviceTaken
from copione.model.key import Key
from copione_lab.model import load_models
from copione_lab.phone import Phone

from ..benches import SERIALS, LabCase

OTHER = """
import sys, time
from pathlib import Path
from copione.links.claims import Changed, Claim
from copione.model.errors import DeviceTaken
claim = Claim("a device", "Alder 5", Path(sys.argv[1]))
with claim.held("replaying Spring"):
    claim.note(Changed("NETWORK", "org.example.app", "wifi"))
    print("has it", flush=True)
    try:
        while True:
            claim.check()
            time.sleep(0.1)
    except DeviceTaken as error:
        print(error.sentence, flush=True)
"""


class Claims(unittest.TestCase):
    """Two Copiones on one computer: the other one is a process of its own."""

    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.other = subprocess.Popen([sys.executable, "-c", OTHER, str(self.folder)], stdout=subprocess.PIPE, text=True)
        self.addCleanup(self.end)
        assert self.other.stdout is not None
        self.assertEqual(self.other.stdout.readline(), "has it\n")
        self.claim = Claim("a device", "Alder 5", self.folder)

    def end(self) -> None:
        self.other.kill()
        self.other.wait()
        assert self.other.stdout is not None
        self.other.stdout.close()

    def test_the_second_is_told_who_has_it(self) -> None:
        with self.assertRaises(DeviceTaken) as caught, self.claim.held("recording"):
            pass
        words = f"Alder 5 is used by another Copione (replaying Spring, process {self.other.pid}, since "
        self.assertTrue(caught.exception.sentence.startswith(words), caught.exception.sentence)
        with Claim("another device", folder=self.folder).held("recording"):
            pass

    def test_it_can_be_taken_over_and_the_first_says_so(self) -> None:
        with self.claim.held("recording", Busy.TAKE):
            self.assertEqual(self.other.communicate()[0], "Alder 5 was taken over by another Copione.\n")
            self.claim.check()

    def test_who_waits_gets_it_once_it_is_free_also_from_a_killed_process(self) -> None:
        os.kill(self.other.pid, signal.SIGKILL)
        with self.claim.held("recording", Busy.WAIT), self.claim.held("replaying on the way"):
            self.assertEqual(self.claim.left, (Changed("NETWORK", "org.example.app", "wifi"),))
            self.claim.strike(self.claim.left[0])
        with self.claim.held("recording"):
            self.assertEqual(self.claim.left, ())
        self.assertEqual([p.suffix for p in self.folder.iterdir()], [".lock"])

    @unittest.skipIf(os.getuid(), "only root may be another user")
    def test_another_users_copione_is_in_the_way_too(self) -> None:
        shared = Path(self.enterContext(tempfile.TemporaryDirectory()))
        shared.chmod(0o1777)
        script = "import os, copione.links.claims as c; c.claims_folder(); os.setgid(65534); os.setuid(65534)\n"
        script += f"c.FOR_ALL = (c.Path({str(shared)!r}),)\n"
        script += "with c.Claim('one more').held('replaying'): print('has it', flush=True); input()"
        other = subprocess.Popen([sys.executable, "-c", script], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
        with other, mock.patch("copione.links.claims.FOR_ALL", (shared,)):
            self.assertEqual(other.stdout.readline(), "has it\n")
            with self.assertRaises(DeviceTaken), Claim("one more").held("recording"):
                pass
            other.communicate("\n")
            with Claim("one more").held("recording"):
                pass

    def test_waiting_can_be_given_up(self) -> None:
        for way in (Busy.WAIT, Busy.TAKE):
            with self.assertRaises(DeviceTaken), self.claim.held("recording", way, lambda: True):
                pass
        self.assertFalse(self.claim._is_wanted(), "the owner would give it up for nobody")


class Places(unittest.TestCase):
    def test_claims_are_in_one_place_whatever_the_environment(self) -> None:
        code = "from copione.links.claims import claims_folder; print(claims_folder())"
        said = set()
        for more in ({}, {"XDG_RUNTIME_DIR": "/tmp"}, {"HOME": "/nowhere", "XDG_CACHE_HOME": "/tmp", "XDG_STATE_HOME": "/tmp"}):
            environment = {name: os.environ[name] for name in ("PATH", "PYTHONPATH") if name in os.environ}
            ran = subprocess.run([sys.executable, "-c", code], env=environment | more, capture_output=True, text=True, check=True)
            said.add(ran.stdout)
        self.assertEqual(len(said), 1, said)

    def test_without_a_place_for_it_nothing_is_claimed(self) -> None:
        with self.assertRaises(NoClaim), Claim("a device", folder=Path("/dev/null")).held("recording"):
            pass

    def test_every_name_of_a_place_is_one(self) -> None:
        self.assertEqual({place_of(host, 5037) for host in ("localhost", "127.0.0.1", "::1", "127.0.0.2")}, {"this computer:5037"})
        self.assertEqual(place_of_url("http://localhost:4444/wd/"), place_of_url("http://127.0.0.1:4444/wd"))
        self.assertNotEqual(place_of("192.0.2.7", 5037), place_of("192.0.2.8", 5037))
        self.assertEqual(
            [serial_number(each) for each in ("R5CT1234", "unknown", "0123456789ABCDEF", "", "a b")], ["R5CT1234", "", "", "", ""]
        )


class SamePhone(LabCase):
    def test_the_claim_is_on_the_phone_whatever_its_server_is_called(self) -> None:
        claims = [AdbLink(type(self.server)(host, self.face.port), SERIALS["Alder 5"]).claim for host in ("127.0.0.1", "localhost")]
        self.assertEqual(claims[0]._path, claims[1]._path)

    def test_a_phone_that_comes_back_is_gone_on_with_and_another_in_its_place_is_not(self) -> None:
        link, serial = self.link(), SERIALS["Alder 5"]
        link.profile()
        self.lab.unplug(serial)
        with self.assertRaises(DeviceGone):
            link.front()
        self.lab.set_state(serial, "device")
        link.front()
        self.lab.swap(serial, Phone(next(m for m in load_models() if m.name == "Alder 5")))
        for _ in range(2):
            with self.assertRaises(DeviceGone) as caught:
                link.press(Key.HOME)
            self.assertEqual(caught.exception.sentence, f"Another phone is connected as {serial} now: it is not used in place of Alder 5.")

    def test_what_a_killed_run_left_changed_is_put_back_by_whoever_claims_next(self) -> None:
        link, phone = self.link(), self.lab.phones[SERIALS["Alder 5"]]
        link.profile()
        phone.conditions.connected["data"] = False
        changed = {c: Changed(c.name, "", link.condition(c, "")) for c in (Condition.NETWORK, Condition.DARK, Condition.ORIENTATION)}
        with link.claim.held("replaying"):
            for condition, value in ((Condition.NETWORK, "off"), (Condition.DARK, "on")):
                link.claim.note(changed[condition])
                link.have(condition, value, "")
            link.claim.note(changed[Condition.ORIENTATION])
            link.turn("landscape")
        with held(link, "recording"):
            self.assertEqual(link.claim.changed, ())
            self.assertEqual(
                (phone.conditions.connected, phone.conditions.dark, phone.lying), ({"wifi": True, "data": False}, False, False)
            )


if __name__ == "__main__":
    unittest.main()
