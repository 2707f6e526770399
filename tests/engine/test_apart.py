"""A take planned here and done in another process, against a stand-in phone over its real wire."""

import pickle
import unittest
from functools import partial
from unittest import mock

from copione.engine.apart import TakeLost, run_apart
from copione.links.adb.link import AdbLink
from copione.links.adb.server import AdbServer
from copione.model.errors import FileTrouble
from copione.model.outcome import Outcome
from copione.project.archive import TakeWriter
from copione.replay.plan import TakePlan, TakePorts

from ..benches import APP, SERIALS
from ..replay.test_take import RunCase


def gone() -> AdbLink:
    """What reaches no device, and ends the process."""
    raise SystemExit(3)


class Apart(RunCase):
    def plan(self) -> TakePlan:
        loaded = self.project.load(self.demo)
        return TakePlan.of(self.project, loaded, self.link().profile(), loaded.takes[0], APP, "2.4")

    def test_its_events_come_back_as_they_happen(self) -> None:
        self.script("launch afresh", 'tap button "Hives"', 'check text "Hive 2" is shown', 'find text "Nowhere" within 60 s', 'note "x"')
        heard, seen = [], []
        writer = TakeWriter(self.scratch / "take", self.project.redactor)
        ports = TakePorts(
            writer,
            heard.append,
            cancelled=lambda: len(heard) >= 3,  # the fourth step would last a minute
            seen=lambda address, showing: seen.append(address),
        )
        results = run_apart(self.plan(), partial(AdbLink, AdbServer(port=self.face.port), SERIALS["Alder 5"]), ports)
        held = Outcome.HELD
        self.assertEqual([r.outcome for r in results], [held, held, held, Outcome.STUCK, Outcome.UNREACHED])
        self.assertEqual(heard, results)
        self.assertLessEqual({r.address for r in results[:3]}, set(seen))
        kept = {path.name for path in (self.scratch / "take" / "shots").iterdir()}
        self.assertLessEqual({r.after for r in results if r.after}, kept)
        self.assertEqual(len((self.scratch / "take" / "steps.jsonl").read_text("utf-8").splitlines()), 5)

    def test_a_process_that_ends_too_early_is_told(self) -> None:
        self.script("launch afresh")
        with self.assertRaises(TakeLost):
            run_apart(self.plan(), gone, TakePorts(TakeWriter(self.scratch / "take")))

    def test_an_archive_that_cannot_be_written_ends_it_with_the_phone_as_it_was(self) -> None:
        """Its process is still sending then, and must not wait for somebody who takes it."""
        self.script("launch afresh", "turn dark mode on", *['tap button "Hives"', "press back"] * 6)
        writer = TakeWriter(self.scratch / "take")
        with mock.patch.object(writer, "step", side_effect=FileTrouble("The disk is full.")), self.assertRaises(FileTrouble):
            run_apart(self.plan(), partial(AdbLink, AdbServer(port=self.face.port), SERIALS["Alder 5"]), TakePorts(writer))
        self.assertFalse(self.lab.phones[SERIALS["Alder 5"]].conditions.dark)

    def test_what_is_planned_is_a_plain_value(self) -> None:
        self.project.redactor.learn({"pin": "h0neypot"})
        plan = self.plan()
        again = pickle.loads(pickle.dumps(plan))
        self.assertEqual((again.library, again.tables, again.device, again.files), (plan.library, plan.tables, plan.device, plan.files))
        mine, theirs = (
            [(key, [(p.element.called, p.screen.signature) for p in portraits]) for key, portraits in each.kept[""].portraits.items()]
            for each in (plan, again)
        )
        self.assertEqual(mine, theirs)
        self.assertTrue(mine)
        self.assertEqual(again.redactor.words("it is h0neypot"), plan.redactor.words("it is h0neypot"))
        self.assertEqual(again.phrases("de"), plan.phrases("de"))
        self.assertEqual(pickle.loads(pickle.dumps(self.project)).apps, self.project.apps)


if __name__ == "__main__":
    unittest.main()
