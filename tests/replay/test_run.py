import threading
from dataclasses import replace
from unittest import mock

from copione.links.claims import Claim, NoClaim
from copione.model.action import Tap
from copione.model.address import Address
from copione.model.clock import SteppedClock
from copione.model.errors import CopioneError, FileTrouble
from copione.model.outcome import Cause, Outcome, Result
from copione.model.take import TakeName
from copione.project.archive import RunEnd, RunWriter, TakeWriter, read_run
from copione.replay.pace import Pace
from copione.replay.performers import PERFORMERS
from copione.replay.run import Run

from ..benches import SERIALS, Heard
from .test_take import RunCase


class Ending(RunCase):
    """A run ends by itself, once, whatever happens in it; every take has its results, in what was heard and in the archive."""

    def told(self, heard: Heard) -> list[list[Outcome]]:
        self.assertEqual(len(heard.ended), 1)
        return [[r.outcome for r in take.results] for take in read_run(self.run_made.folder).takes]

    def test_an_error_of_the_program_is_a_stuck_step_and_the_others_go_on(self) -> None:
        def broken(context: object, action: object) -> None:
            if context.link.profile().name == "Wren mini":
                raise ZeroDivisionError("never seen before")

        self.script("launch afresh", 'tap button "Hives"', 'check button "Hives" is shown')
        with mock.patch.dict(PERFORMERS, {Tap: broken}), self.assertLogs("copione.replay.doing", "ERROR"):
            heard = self.run_on("Wren mini", "Alder 5")
        self.assertEqual(heard.results["Wren mini"][1].reason, "This is an error in Copione: ZeroDivisionError.")
        self.assertIs(heard.results["Wren mini"][1].why.cause, Cause.BROKEN)
        held, stuck, unreached = Outcome.HELD, Outcome.STUCK, Outcome.UNREACHED
        self.assertEqual(self.told(heard), [[held, stuck, unreached], [held, held, held]])

    def test_what_does_not_compile_once_it_is_filled_in_is_stuck_with_a_sentence(self) -> None:
        (self.project.folder / "data" / "hives.csv").write_text("amount\nfour\n", "utf-8")
        self.script("launch afresh", 'check slider "x" reads {amount}', 'set slider "x" to {amount}')
        self.demo.write_text(self.demo.read_text("utf-8").replace("patience", 'data "hives.csv"\npatience'), "utf-8")
        results = self.run_on("Alder 5").results["Alder 5"]
        self.assertEqual((results[2].outcome, results[2].reason), (Outcome.STUCK, "four is not a number."))

    def test_workers_that_are_closed_and_disks_that_are_full_end_it_too(self) -> None:
        (self.project.folder / "data" / "hives.csv").write_text("hive,frames,note\nHive 3,2,a\nHive 20,9,b\n", "utf-8")
        devices = self.devices("Alder 5", "Wren mini")
        devices[1].worker.close()
        self.assertTrue(devices[1].worker.submit(lambda link: None).cancelled())
        heard = Heard()
        self.run_made = Run(self.project, self.project.load(self.demo), devices, heard, SteppedClock())
        with mock.patch.object(TakeWriter, "moment", side_effect=FileTrouble("The disk is full.")):
            self.run_made.start()
            with self.assertRaises(FileTrouble):
                self.run_made.wait()
        self.assertEqual(heard.ended, ["The disk is full."])
        self.assertEqual(heard.results["Wren mini"][0].reason, "The device was disconnected before its turn.")
        self.assertEqual([len(take) for take in self.told(heard)], [0, 0, 15, 15])

    def test_a_phone_is_as_it_was_however_its_take_ended(self) -> None:
        phone = self.lab.phones[SERIALS["Alder 5"]]
        self.script("launch afresh", "turn network off", "turn dark mode on", "turn landscape", 'tap button "Hives"')
        step = TakeWriter.step

        def full(writer: TakeWriter, result: Result) -> None:
            step(writer, result)
            if result.verb == "turn" and "landscape" in result.step:
                raise FileTrouble("The disk is full.")

        with mock.patch.object(TakeWriter, "step", full), self.assertRaises(FileTrouble):
            self.run_on("Alder 5")
        self.assertEqual((phone.conditions.online, phone.conditions.dark, phone.lying), (True, False, False))
        with mock.patch.object(Claim, "note", side_effect=NoClaim("How Alder 5 was cannot be noted.")):
            results = self.run_on("Alder 5").results["Alder 5"]
        self.assertEqual((results[1].outcome, results[1].reason), (Outcome.STUCK, "How Alder 5 was cannot be noted."))
        self.assertTrue(phone.conditions.online)

    def test_an_unexpected_error_while_a_device_ends_keeps_nobody_waiting(self) -> None:
        self.script("launch afresh")
        devices = self.devices("Alder 5")
        devices[0].worker.close()
        self.run_made = Run(self.project, self.project.load(self.demo), devices, Heard(), SteppedClock())
        with (
            mock.patch.object(RunWriter, "take", side_effect=RuntimeError("never seen before")),
            self.assertLogs("copione.replay.run", "ERROR"),
        ):
            self.run_made.start()
            with self.assertRaises(CopioneError):
                self.run_made.wait()

    def test_a_run_that_was_stopped_is_no_complete_one_and_one_stopped_behind_its_end_is(self) -> None:
        self.script("launch afresh", "press back", "press back")
        for at, end in ((2, RunEnd.STOPPED), (3, RunEnd.COMPLETE)):
            heard = Heard(lambda take, result, at=at: self.run_made.cancel() if result.number == at else None)
            self.run_on("Alder 5", heard=heard)
            self.assertEqual(read_run(self.run_made.folder).end, end)

    def test_a_listener_that_fails_ends_nothing(self) -> None:
        self.script("launch afresh", "press back")
        heard = Heard(lambda take, result: 1 / 0)
        with self.assertLogs("copione.replay.run", "ERROR"):
            self.run_on("Alder 5", heard=heard)
        self.assertEqual(self.told(heard), [[Outcome.HELD, Outcome.HELD]])

    def test_two_devices_of_one_name_are_two(self) -> None:
        self.script("launch afresh", "press back")
        alder, wren = self.devices("Alder 5", "Wren mini")
        twin = replace(wren, profile=replace(wren.profile, name="Alder 5"))
        self.run_made = Run(self.project, self.project.load(self.demo), [alder, twin], heard := Heard(), SteppedClock())
        self.run_made.start()
        self.run_made.wait()
        self.assertEqual([t.name for t in read_run(self.run_made.folder).takes], [TakeName("Alder 5"), TakeName("Alder 5", 1, 2)])
        self.assertEqual(self.told(heard), [[Outcome.HELD, Outcome.HELD]] * 2)

    def test_a_slow_step_is_called_so_at_once_where_three_have_done_it_before(self) -> None:
        pace, words = Pace(), []
        for answer in (3.0, 0.2, 0.1, 0.3, 3.2, 0.2):  # the first cannot be known yet: the findings of the whole run say it
            result = Result(1, Address.of(3), "One", 'tap button "Hives"', "", Outcome.HELD, answer=answer)
            words.append(replace(result, usual=pace.usual(result)).reason)
        self.assertEqual(words, ["", "", "", "", "slow: 3.2 s, 0.2 s elsewhere", ""])


class Threads(RunCase):
    def test_no_thread_is_left_behind(self) -> None:
        before = {t.name for t in threading.enumerate()}
        bench = self.devices("Alder 5", "Wren mini")
        for device in bench:
            device.worker.close()
        left = {t.name for t in threading.enumerate()} - before
        self.assertEqual({n for n in left if n in ("device Alder 5", "device Wren mini")}, set())
