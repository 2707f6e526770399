import os
import signal
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from copione.links.claims import Busy, Claim
from copione.model.errors import DeviceTaken

OTHER = """
import sys, time
from pathlib import Path
from copione.links.claims import Claim
from copione.model.errors import DeviceTaken
claim = Claim("a device", "Alder 5", Path(sys.argv[1]))
with claim.held("replaying Spring"):
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
            self.assertTrue(self.claim._path.exists())

    def test_waiting_can_be_given_up(self) -> None:
        with self.assertRaises(DeviceTaken), self.claim.held("recording", Busy.WAIT, lambda: True):
            pass


if __name__ == "__main__":
    unittest.main()
