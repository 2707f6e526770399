"""A phone that sleeps, is locked, has another clock, or hangs on the network that a script turns off."""

import time
from unittest import mock

from copione.links.adb.link import AdbLink
from copione.links.claims import Changed
from copione.links.holding import awake, held, put_back
from copione.model.condition import Condition
from copione.model.errors import CannotDo, DeviceNotReady, LinkError
from copione.model.outcome import Outcome

from ..benches import SERIALS
from .test_take import RunCase


class Care(RunCase):
    def setUp(self) -> None:
        super().setUp()
        self.phone = self.lab.phones[SERIALS["Alder 5"]]

    def test_it_is_woken_unlocked_kept_awake_and_left_as_it_was(self) -> None:
        self.phone.conditions.stays_on = 2
        self.phone.fall_asleep("swipe")
        seen, log = [], self.phone.log
        with mock.patch.object(self.phone, "log", lambda *said: (seen.append(self.phone.conditions.stays_on), log(*said))):
            results = self.one("launch afresh", 'tap button "Hives"')
        self.assertEqual([r.reason for r in results if not r.outcome.good], [])
        self.assertEqual((set(seen), self.phone.conditions.stays_on, self.phone.asleep), ({7}, 2, False))

    def test_one_that_somebody_has_to_unlock_is_left_alone_and_said(self) -> None:
        self.phone.fall_asleep("secure")
        [result] = self.one("launch afresh")
        self.assertIs(result.outcome, Outcome.STUCK)
        self.assertIn("is locked: unlock it, and try again", result.reason)
        self.assertNotIn("start org.example", "".join(words for _, words in self.phone.log_lines))
        link = self.link("Alder 5")
        with self.assertRaises(DeviceNotReady), held(link, "a test"), awake(link):
            self.fail("nothing is done on a locked phone")
        self.phone.lock_kind = "swipe"
        link.wake()
        self.assertEqual(self.phone.lock_kind, "")

    def test_one_that_falls_asleep_on_the_way_is_told_as_that(self) -> None:
        touch = AdbLink.touch

        def asleep_after(link: AdbLink, contacts: object) -> None:
            touch(link, contacts)
            self.phone.fall_asleep()

        with mock.patch.object(AdbLink, "touch", asleep_after):
            results = self.one("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"')
        self.assertIs(results[-1].outcome, Outcome.STUCK)
        self.assertIn("has gone to sleep: its screen is off", results[-1].reason)

    def test_what_is_not_put_back_is_said(self) -> None:
        changed = Changed(Condition.DARK.name, "", "auto")
        with self.assertRaisesRegex(LinkError, "it is no still"):
            put_back(self.link("Alder 5"), changed)  # this phone knows no auto

    def test_the_line_it_hangs_on_is_not_cut(self) -> None:
        link = self.link("Alder 5")
        serials = {"LABALDER5": False, "127.0.0.1:5555": False, "192.168.0.7:41235": True, "adb-1._adb-tls-connect._tcp": True}
        for link.serial, wireless in serials.items():
            self.assertEqual(link.wireless, wireless, link.serial)
        for value in ("off", "data"):
            self.assertRaisesRegex(CannotDo, "plug it in", link.have, Condition.NETWORK, value, "")

    def test_a_log_is_cut_by_the_phones_own_clock(self) -> None:
        link = self.link("Alder 5")
        for self.phone.skew in (0.0, 3600.0, -3600.0):
            since, words = time.time(), f"at {self.phone.skew}"
            self.phone.log("Test", words)
            self.assertIn(words, link.log(since))
            self.assertNotIn(words, link.log(since + 60))
