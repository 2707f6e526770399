"""Nothing else is touched than what was meant; the app's own log is the judge."""

import unittest
from collections.abc import Callable
from dataclasses import replace
from typing import Any, cast
from unittest import mock

from copione.comparison.findings import findings
from copione.comparison.lanes import Lane, lay
from copione.links.adb.link import AdbLink
from copione.model.clock import SteppedClock
from copione.model.geometry import Box
from copione.model.outcome import Cause, Evidence, Outcome
from copione.model.portrait import Sighting
from copione.model.screen import Moment, Screen, bare
from copione.model.take import TakeName
from copione.recognition.reach import CUT, reach
from copione.replay import scrolling
from copione.replay.found import sight_on
from copione.replay.presence import Presence
from copione.replay.watch import ScreenWatch
from copione_lab.model import Fault

from ..benches import APP, SERIALS, named
from ..comparison.test_findings import ALDER
from .test_take import RunCase

OPEN = ("launch afresh", 'tap button "Hives"')


class Passing(RunCase):
    """A message that goes by itself, between the look and the finger."""

    def replay(self, method: str, before: Callable[[Any], bool]) -> tuple[Any, list[str]]:
        """The demo of an undo on Alder 5, where the message goes before that method of the link is done."""
        phone = self.lab.phones[SERIALS["Alder 5"]]
        original = getattr(AdbLink, method)

        def meanwhile(link: AdbLink, *given: Any) -> Any:
            app = phone._app(APP)
            if app.removed is not None and before(app):
                with phone.lock:
                    app.passing_until = 0.0
                    phone._changed()
            return original(link, *given)

        with mock.patch.object(AdbLink, method, meanwhile):
            results = self.one(*OPEN, 'swipe left on item "Hive 2"', 'tap button "Undo"')
        return results[-1], [words for _, words in phone.log_lines if "HiveDiary" in words]

    def test_one_that_stays_is_touched(self) -> None:
        result, log = self.replay("touch", lambda app: False)
        self.assertIs(result.outcome, Outcome.HELD)
        self.assertIn("restore Hive 2", log[-1])

    def test_gone_before_the_last_look_nothing_is_touched(self) -> None:
        result, log = self.replay("glimpse", lambda app: True)
        self.assertEqual((result.outcome, result.why.cause), (Outcome.STUCK, Cause.NOT_HERE))
        self.assertIn("remove Hive 2", log[-1])

    def test_gone_before_the_finger_came_it_is_never_held(self) -> None:
        phone = self.lab.phones[SERIALS["Alder 5"]]
        with phone.lock:  # a row that is behind the message
            phone.launch(APP)
        result, log = self.replay("touch", lambda app: app.removed is not None)
        self.assertEqual((result.outcome, result.why.cause), (Outcome.STUCK, Cause.PASSED), log)
        self.assertIn("something else may have been touched", result.reason)


class Twins(unittest.TestCase):
    def test_what_others_say_too_is_looked_at_again_once_anything_came_or_moved(self) -> None:
        """The same button in every row: nothing tells which of them has moved."""

        def page(*tops: int) -> Screen:
            rows = [(Box(0, top, 300, top + 40), "text", f"Row {top}") for top in tops]
            return bare(400, 800, spots=(*rows, *((Box(310, box.top, 350, box.bottom), "button", "Again") for box, _, _ in rows)))

        presence, first, second = Presence(), page(100, 200, 300, 400), page(100, 200, 300, 400, 500)
        presence.seen(first, 0.0)
        self.assertFalse(presence.doubtful(named(first, "button", "Again"), 0.5))
        presence.seen(second, 1.0)
        self.assertTrue(presence.doubtful(named(second, "button", "Again"), 1.5))
        self.assertFalse(presence.doubtful(named(second, "text", "Row 200"), 1.5))
        presence.seen(second, 12.0)
        self.assertFalse(presence.doubtful(named(second, "button", "Again"), 12.5))


class Mistaken(RunCase):
    """What was found by weaker evidence, and is something else after all."""

    TO_FORM = (*OPEN, 'tap item "Hive 2"', 'tap button "New inspection"')

    def mistaken(self, role: str, name: str, *steps: str) -> tuple[list[Any], str]:
        """Steps on the form, where what is called so is taken for whatever has that role."""

        def taken(screen: Screen, wanted: Any) -> Any:
            pick = next((e for e in screen if e.name == name and e.role != "text"), None) if wanted.target.role == role else None
            return (
                Sighting(pick, (Evidence.NEAR,), 0.7, 1.0, "known by the words over it") if pick is not None else sight_on(screen, wanted)
            )

        with mock.patch("copione.replay.finder.sight_on", taken):
            results = self.one(*self.TO_FORM, *steps)
        log = "".join(words for _, words in self.lab.phones[SERIALS["Alder 5"]].log_lines)
        return results[len(self.TO_FORM) :], log

    def test_what_opens_no_choices_is_taken_back_and_said(self) -> None:
        choose = 'choose "Rainy" in combobox "Weather"'
        (chosen, after), _ = self.mistaken("combobox", "Add photo", choose, 'tap button "Save inspection"')
        self.assertEqual((chosen.outcome, chosen.why.cause), (Outcome.STUCK, Cause.TOUCHED))
        self.assertEqual(chosen.reason, "button “Add photo” was touched, which opens no choices: it was taken back")
        self.assertIs(after.outcome, Outcome.UNREACHED)
        (chosen,), _ = self.mistaken("combobox", "Queen seen", choose)  # it only changed, and a way back would leave the form
        self.assertIn("which opens no choices: what came of it could not be taken back", chosen.reason)
        self.assertEqual(self.lab.phones[SERIALS["Alder 5"]]._app(APP).place, "form")
        (chosen,), log = self.mistaken("combobox", "Save inspection", choose)
        self.assertIn("“Save inspection” was touched, which opens no choices: what came of it could not be taken back", chosen.reason)
        self.assertEqual(log.count("saved inspection"), 1)
        (finding,) = findings(lay([Lane.of(TakeName("Alder 5"), ALDER, [chosen])], "Alder 5"))
        self.assertEqual(finding.title, "Button “Save inspection” was touched on Alder 5, where “Weather” was meant")

    def test_a_step_that_follows_says_what_was_touched_before(self) -> None:
        (_, lost), _ = self.mistaken("link", "Save inspection", 'tap link "Photo"', 'switch on "Queen seen"')
        self.assertIs(lost.outcome, Outcome.STUCK)
        self.assertIn("; before, line 9 touched button “Save inspection” for what it took for its target", lost.reason)

    def test_the_reason_says_what_was_touched_on_the_way(self) -> None:
        results = self.one(*self.TO_FORM, 'choose "Foggy and more" in combobox "Weather"')
        self.assertIn("; combobox “Weather” was touched for it", results[-1].reason)


class Fresh(unittest.TestCase):
    """By the age of what was seen, however long a look takes."""

    def looks(self, age: float, glimpse_s: float, role: str = "text") -> int:
        """How often the device is looked at before an element is touched that was seen so many seconds ago."""
        clock, count = SteppedClock(), 0
        bar = (Box(0, 700, 400, 760), "generic", "snackbar"), (Box(300, 710, 390, 750), "button", "Undo")
        screen = replace(
            bare(400, 800, spots=((Box(0, 100, 300, 140), "text", "Row"), *bar)), ids=("", "", "snackbar_text", "undo_message")
        )

        class Slow:
            def moment(self) -> Moment:
                return Moment(clock.now(), b"", screen)

            def glimpse(self) -> Moment:
                nonlocal count
                count += 1
                clock.sleep(glimpse_s)
                return Moment(clock.now(), b"", screen)

        watch = ScreenWatch(cast(Any, Slow()), clock, lambda moment: "1", lambda: False)
        watch.look()
        clock.sleep(age)
        self.assertTrue(watch.confirmed(named(screen, role, "Row" if role == "text" else "Undo")))
        return count

    def test_what_was_seen_a_second_ago_is_looked_at_again(self) -> None:
        for age, glimpse_s, role, looks in (
            (0.9, 0.1, "text", 0),
            (1.1, 0.1, "text", 1),
            (9.0, 3.0, "text", 1),
            (0.1, 0.1, "button", 1),  # a message passes
            (0.1, 1.5, "button", 2),  # and on a slow device it is looked at more, not less
        ):
            with self.subTest(age=age, glimpse_s=glimpse_s, role=role):
                self.assertEqual(self.looks(age, glimpse_s, role), looks)


class Busy(unittest.TestCase):
    """A computer that does other things as well costs a take time, and no looks."""

    def looks(self, slower: float) -> int:
        """How often a device is looked at in two seconds of patience, where each look is 60 ms of work of one's own."""
        clock, spent = SteppedClock(), {"own": 0.0, "wall": 0.0}

        def worked(moment: Moment) -> Moment:
            spent["own"], spent["wall"] = spent["own"] + 0.06, spent["wall"] + 0.06 * slower
            clock.sleep(0.06 * slower)
            return moment

        with mock.patch("copione.model.clock.time") as computer:
            computer.thread_time.side_effect, computer.perf_counter.side_effect = lambda: spent["own"], lambda: spent["wall"]
            link = mock.Mock(moment=lambda: Moment(clock.now(), b"", bare(400, 800)))
            watch = ScreenWatch(link, clock, lambda moment: "1", lambda: False)
            watch.drawn = mock.Mock(told=worked)
            watch.begin(2.0)
            watch.until(2.0, lambda last: last or None)
        return watch.looks

    def test_what_other_programs_take_is_not_the_steps_time(self) -> None:
        quiet = self.looks(1.0)
        self.assertEqual(quiet, 10)
        for slower in (1.2, 3.0, 12.0):
            with self.subTest(slower):
                self.assertAlmostEqual(self.looks(slower), quiet, delta=1)

    def test_what_a_browser_waits_for_this_computer_is_not_its_pages_time(self) -> None:
        """A page that takes 3 s to show what was done, of which its browser waited so long for a processor."""
        for waited, took in ((0.0, 3.0), (2.5, 0.5), (4.0, 0.0)):
            clock, screens = SteppedClock(), [bare(400, 800), bare(400, 800, spots=((Box(0, 0, 50, 50), "text", "Done"),))]
            held = iter((1.0, 1.0 + waited))
            link = mock.Mock(
                moment=lambda clock=clock, screens=screens: Moment(clock.now(), b"", screens.pop(0)), held_up=lambda held=held: next(held)
            )
            watch = ScreenWatch(link, clock, lambda moment: "1", lambda: False)
            watch.look()
            watch.begin(8.0)
            watch.acted()
            clock.sleep(3.0)
            watch.look()
            self.assertAlmostEqual(watch.took, took)

    def test_what_a_search_is_allowed_is_allowed_to_what_it_is_made_for(self) -> None:
        clock, left = SteppedClock(), []
        watch = ScreenWatch(mock.Mock(), clock, lambda moment: "1", lambda: False)
        watch.begin(2.0)

        def attempt(last: bool) -> bool:
            watch.until(1.0, lambda late: watch.allow(3.0) or True)
            left.append(watch.deadline - clock.now())
            return True

        watch.until(2.0, attempt)
        self.assertEqual(left, [5.0])


class Lists(RunCase):
    def log(self, name: str = "Alder 5") -> str:
        return "".join(words for _, words in self.lab.phones[SERIALS[name]].log_lines)

    def test_a_list_at_its_beginning_is_never_pulled(self) -> None:
        missing = ("check item {} is shown", "find item {}", "wait for item {}")
        for line in missing:
            results = self.one(*OPEN, line.format('"Hive 99"'))
            self.assertFalse(results[-1].outcome.good)
        results = self.one(*OPEN, 'fling up on list "Hives"', 'find item "Hive 1"', 'find item "Hive 18"', 'tap item "Hive 1"')
        self.assertEqual([r.reason for r in results if r.outcome is Outcome.STUCK], [])
        self.assertNotIn("refresh", self.log())

    def test_what_only_shows_a_strip_is_brought_in_first(self) -> None:
        phone = self.lab.phones[SERIALS["Wren mini"]]
        self.screen("Wren mini", "form")
        with phone.lock:
            nodes = list(phone.frame().page.walk())
            holder = next(n for n in nodes if n.kind == "scroll" and n.reach > 0)
            button = next(n for n in nodes if n.text == "Add photo")
            phone._offsets.here[holder.key] = holder.offset + button.box.top - holder.box.bottom + 3
            phone._changed()
        strip = named(self.link("Wren mini").moment().screen, "button", "Add photo")
        self.assertLess(strip.box.height, 4)
        self.assertIs(reach(strip).why, CUT)
        [result] = self.one('tap button "Add photo"', on="Wren mini")
        self.assertEqual((result.outcome, result.reason), (Outcome.ADAPTED, "scrolled to it"))
        self.assertIsNotNone(phone._question, "the photo's permission is asked for")

    def test_a_search_turns_no_wheel_and_says_where_it_had_no_place(self) -> None:
        """A form of nothing but wheels, with the keyboard up: it is closed first, and then there is still no place for a stroke."""
        phone = self.lab.phones[SERIALS["Alder 5"]]
        phone.model = replace(phone.model, choice="wheel", date="wheels", height_px=1100)
        way = ("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"', 'tap button "New inspection"')
        results = self.one(*way, 'type "calm" into field "Notes"', 'check button "Nowhere" is shown', 'tap button "Save inspection"')
        self.assertEqual([r.reason for r in results if not r.outcome.good and r.number != 6], [])
        self.assertNotIn("set weather", self.log())
        home = phone.frame().page
        self.assertTrue(home.children)
        with mock.patch("copione.replay.scrolling.clear_start", lambda *_: None):
            lost = self.one(*way, 'type "calm" into field "Notes"', 'tap button "Nowhere"')[-1]
        self.assertIn("it could not be scrolled to: there is no place for a stroke that nothing else would take", lost.reason)
        self.assertFalse(phone._keyboard_up, "it was closed before")

    def test_what_a_search_changed_by_mistake_ends_the_take(self) -> None:
        phone = self.lab.phones[SERIALS["Alder 5"]]
        phone.model = replace(phone.model, choice="wheel", height_px=1500)
        on_the_wheel = lambda scroller, *_: next(e.box.centre for e in scroller.descendants() if e.id == "weather")  # noqa: E731
        way = ("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"', 'tap button "New inspection"')
        with mock.patch("copione.replay.scrolling.clear_start", on_the_wheel):
            lost = self.one(*way, 'tap button "Nowhere"')[-1]
        self.assertEqual((lost.outcome, lost.why.cause), (Outcome.STUCK, Cause.TOUCHED))
        self.assertIn("the search for it turned combobox “Weather” from “Sunny” to “Rainy”", lost.reason)

    def test_every_container_is_searched_and_put_back(self) -> None:
        steps = ("launch afresh", "turn landscape", 'tap button "Hives"', 'tap item "Hive 2"', 'tap button "New inspection"')
        results = self.one(*steps, 'tap button "Save inspection"', on="Plateau 10")
        self.assertEqual([r.reason for r in results if not r.outcome.good], [])
        self.assertIn("saved inspection", self.log("Plateau 10"))
        results = self.one(*steps, 'check button "Nowhere" is shown', on="Plateau 10")
        phone = self.lab.phones[SERIALS["Plateau 10"]]
        self.assertEqual([round(v) for v in phone._offsets.here.values() if v > 8], [], "what was scrolled for nothing is put back")

    def test_what_a_check_scrolled_in_vain_is_put_back_though_its_time_is_over(self) -> None:
        """A check that is stuck does not end the take: the steps after it find the list as it was."""

        class Ticking(SteppedClock):
            def now(self) -> float:
                self.sleep(0.08)
                return super().now()

        steps = ("launch afresh", 'tap button "Hives"', 'check text "Nowhere" reads "x" within 4 s', 'check text "Hive 2" is shown')
        self.script(*steps)
        results = self.run_on("Wren mini", clock=Ticking()).results["Wren mini"]
        self.assertIn(scrolling.NO_END, results[2].reason)
        self.assertEqual([r.outcome for r in results[2:]], [Outcome.STUCK, Outcome.HELD])

    def test_a_slow_phone_or_computer_searches_as_far_as_a_quick_one(self) -> None:
        """Each stroke takes three seconds; there are four for the step."""
        clock, touch = SteppedClock(), AdbLink.touch

        def slowly(link: AdbLink, contacts: Any) -> None:
            clock.sleep(3.0)
            touch(link, contacts)

        self.script("launch afresh", 'tap button "Hives"', 'tap item "Hive 17"', patience=4)
        with mock.patch.object(AdbLink, "touch", slowly):
            results = self.run_on("Wren mini", clock=clock).results["Wren mini"]
        self.assertEqual([r.reason for r in results if not r.outcome.good], [])

    def test_a_search_goes_first_to_where_its_row_has_been_seen(self) -> None:
        with mock.patch.object(scrolling, "scroll", wraps=scrolling.scroll) as strokes:
            results = self.one("launch afresh", 'tap button "Hives"', 'find item "Hive 12"', 'tap item "Hive 2"', on="Wren mini")
        self.assertEqual([r.reason for r in results if not r.outcome.good], [])
        lengths = [call.args[2] for call in strokes.call_args_list]
        up = next(at for at, length in enumerate(lengths) if length < 0)
        self.assertTrue(all(length < 0 for length in lengths[up:]), lengths)


class Bars(RunCase):
    """A bar of the page and a menu look like a message, or come while their page stays; what they open is meant."""

    def test_what_opens_a_page_without_a_recording_is_held(self) -> None:
        table = (
            (
                "launch afresh",
                'tap button "Hives"',
                'tap item "Hive 2"',
                'tap button "New inspection"',
                'choose "Rainy" in combobox "Weather"',
            ),
            ("launch afresh", 'tap button "Hives"', 'hold item "Hive 4"', 'tap button "Cancel"', 'tap button "Search"'),
        )
        for steps in table:
            results = self.one(*steps)
            self.assertEqual([(r.step, r.reason) for r in results if not r.outcome.good], [])

    def test_what_lies_over_a_control_is_waited_for_and_said(self) -> None:
        """A message that goes after some looks, or never; where the tree tells that it takes touches, and where it does not."""
        phone = self.lab.phones[SERIALS["Alder 5"]]
        phone.spoilt = [Fault("over", "message-over", (), "", "hive", "new_inspection")]
        over = "“Synchronised” lay over it for a while"
        for looks, taps, outcome, reason, then in (
            (3, True, Outcome.ADAPTED, over, "form"),
            (999, True, Outcome.STUCK, "covered by text “Synchronised”", "hive"),
            (3, False, Outcome.ADAPTED, over, "form"),
            (999, False, Outcome.ADAPTED, over, "form"),
        ):
            seen = 0
            original = AdbLink.moment

            def meanwhile(link: AdbLink, original: Any = original, looks: int = looks) -> Any:
                nonlocal seen
                app = phone._app(APP)
                seen += app.place == "hive"
                with phone.lock:
                    app._until = phone.now() + 9 if seen < looks else 0.0
                    phone._changed()
                return original(link)

            with (
                self.subTest(looks=looks, taps=taps),
                mock.patch.object(AdbLink, "moment", meanwhile),
                mock.patch("copione_lab.spoiling.TAKES_TOUCHES", taps),
            ):
                result = self.one("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"', 'tap button "New inspection"')[-1]
                self.assertEqual((result.outcome, result.reason), (outcome, reason))
                self.assertEqual((phone._app(APP).place, result.answer < 1), (then, True), "waiting for it is not the app's time")

    def test_what_is_covered_by_the_time_of_the_last_look_is_not_touched(self) -> None:
        phone = self.lab.phones[SERIALS["Alder 5"]]
        original = AdbLink.glimpse

        def meanwhile(link: AdbLink) -> Any:
            with phone.lock:
                app = phone._app(APP)
                app.dialog = "rate" if app.place == "hive" else ""
                phone._changed()
            return original(link)

        with mock.patch.object(AdbLink, "glimpse", meanwhile), mock.patch.object(Presence, "doubtful", lambda *_: True):
            results = self.one(*OPEN, 'tap item "Hive 2"', 'tap button "New inspection"')
        self.assertEqual([r.outcome for r in results[-2:]], [Outcome.HELD, Outcome.STUCK])
        self.assertNotIn("page form", "".join(words for _, words in phone.log_lines))
