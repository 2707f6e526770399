"""Blocks, loops, performed scenes and conditions, on the lab's phones over their real wire."""

from __future__ import annotations

from datetime import date, datetime, time

from copione.comparison.findings import findings
from copione.comparison.lanes import Lanes
from copione.comparison.standing import assess
from copione.engine.judging import lanes_of
from copione.model.clock import SteppedClock
from copione.model.outcome import Cause, Outcome, Result
from copione.project.archive import read_run
from copione.replay.order import planned
from copione.replay.run import Run
from copione.report.junit import junit
from copione.report.page import page
from copione_lab.hive_diary.records import TODAY

from ..benches import SERIALS, Heard
from .test_take import RunCase

COMMON = """script "Common"
app hive-diary
needs mark = "seen"
scene "Sign in" with {name} {password}
    tap button "Settings"
    tap button "Sign in"
    type {name} into field "Name"
    type {password} into field "Password"
    tap button "Sign in"
    check text "Signed in" is shown
    press back
    press back
scene "Open" with {which}
    tap button "Hives"
    find item "{which}" in list "Hives"
    tap item "{which}"
    when text "Rate this app" is shown
        tap button "Later"
    otherwise
        note "{mark}: nobody was asked"
    end
"""


NEEDS = 'uses "common.copione"\nneeds who = "Ada"\nneeds word secret\n'


class BlockCase(RunCase):
    def scripts(self, text: str, *, head: str = "", data: dict[str, str] | None = None) -> None:
        """The demo is another script, which may use common.copione."""
        (self.project.scripts_folder / "common.copione").write_text(COMMON, "utf-8")
        for name, table in (data or {}).items():
            (self.project.folder / "data" / name).write_text(table, "utf-8")
        self.demo = self.project.script_path("other")
        lines = "\n".join(f"    {line}" for line in text.strip().split("\n"))
        self.demo.write_text(f'script "Other"\napp hive-diary\npatience 2 s\n{head}scene "One"\n{lines}\n', "utf-8")

    def lanes(self, *names: str) -> Lanes:
        self.heard = self.run_on(*names)
        return lanes_of(read_run(self.run_made.folder))

    def outcomes(self, name: str) -> list[tuple[str, str]]:
        return [(r.step, r.outcome.value) for r in self.heard.results[name]]


class Branches(BlockCase):
    def test_a_branch_taken_on_one_phone_only_stands_beside_the_others_and_is_named(self) -> None:
        self.lab.phones[SERIALS["Wren mini"]].faults = frozenset({"dialog"})
        self.scripts('launch afresh\nperform "Open" with "Hive 3"\ncheck page "Hive 3" is shown', head='uses "common.copione"\n')
        lanes = self.lanes()
        by = {c.words: c for c in lanes.columns}
        later, note, when = by['tap button "Later"'], by['note "seen: nobody was asked"'], by['when text "Rate this app" is shown']
        table = {"Wren mini": ("held", "skipped"), "Alder 5": ("skipped", "held"), "Plateau 10": ("skipped", "held")}
        for lane in lanes.lanes:
            found = tuple(lane.result(c.address).outcome.value for c in (later, note))  # type: ignore[union-attr]
            self.assertEqual(found, table[lane.device.name], lane.device.name)
        self.assertEqual(str(later.address), "7/17/18")
        self.assertEqual(
            {r.read for _, r in lanes.cells(when.address)}, {"text “Rate this app” is shown", "text “Rate this app” is not shown"}
        )
        skipped = next(r for _, r in lanes.cells(later.address) if r.outcome is Outcome.SKIPPED)
        self.assertEqual((skipped.why and skipped.why.cause, skipped.reason), (Cause.NOT_ENTERED, "text “Rate this app” is not shown"))
        self.assertEqual((skipped.file, skipped.line, skipped.own_line), ("common.copione", 18, 7))
        self.assertEqual(findings(lanes), ())
        self.assertEqual(lanes.wrong[later.address], 0)
        record = read_run(self.run_made.folder)
        self.assertIn("text “Rate this app” is not shown", page(record, lanes, assess((), lanes, "Other", (), date(2026, 11, 26))))
        self.assertIn(b"<skipped message", junit(lanes, "Other"))
        self.assertIn(b'<property name="covers" value="HD-1"/>', junit(lanes, "Other", ("HD-1",)))
        every = {c.address for c in lanes.columns}
        self.assertTrue(every >= {r.address for r in planned(self.project.load(self.demo).library)})

    def test_on_facts_values_and_what_is_not_there(self) -> None:
        self.scripts(
            """launch afresh
when device is a tablet
    note "tablet"
otherwise
    when device is narrower than 340 dp
        note "narrow"
    end
end
when {who} reads "Ada"
    note "it is {who}"
end
when {n} + 1 is more than 3
    note "many"
end
when button "Nowhere" is not shown
    note "not there"
end
when button "Hives" reads "Honey"
    note "never"
end""",
            head='needs who = "Ada"\nneeds n = 3\n',
        )
        self.lanes()
        said = {
            name: [r.step for r in results if r.verb == "note" and r.outcome is Outcome.HELD]
            for name, results in self.heard.results.items()
        }
        rest = ['note "it is Ada"', 'note "many"', 'note "not there"']
        self.assertEqual(said, {"Alder 5": rest, "Wren mini": ['note "narrow"', *rest], "Plateau 10": ['note "tablet"', *rest]})
        reasons = {r.reason for r in self.heard.results["Alder 5"] if r.outcome is Outcome.SKIPPED}
        self.assertIn("the device is 412 dp wide", reasons)
        self.assertIn("button “Hives” reads “Hives”", reasons)

    def test_what_cannot_be_decided_is_stuck_and_nothing_is_touched(self) -> None:
        results = self.one(
            "launch afresh", 'tap button "Tasks"', 'when text "Feed sugar" reads "x"', 'tap button "Nowhere"', "end", 'note "after"'
        )
        self.assertEqual([r.outcome.value for r in results], ["held", "held", "stuck", "unreached", "unreached"])
        self.assertIs(results[2].why and results[2].why.cause, Cause.AMBIGUOUS)


class Loops(BlockCase):
    def test_turns_have_addresses_of_their_own(self) -> None:
        self.scripts(
            'launch afresh\nfor each row of "rounds.csv"\n    perform "Open" with {hive}\n    keep label "Brood frames" as {frames}\n'
            '    check label "Brood frames" reads {frames} + 0\n    press back\n    press back\nend\nrepeat {n} times\n    note "x"\nend',
            head='uses "common.copione"\nneeds n = 2\n',
            data={"rounds.csv": "hive\nHive 3\nHive 5\n"},
        )
        self.lanes("Alder 5")
        results = self.heard.results["Alder 5"]
        self.assertEqual([r for r in results if r.outcome.bad], [])
        taps = [(str(r.address), r.step) for r in results if r.step.startswith("tap item")]
        self.assertEqual(taps, [("8:1/9/16", 'tap item "Hive 3"'), ("8:2/9/16", 'tap item "Hive 5"')])
        self.assertEqual([str(r.address) for r in results if r.step == 'note "x"'], ["15:1/16", "15:2/16"])
        self.assertEqual([r.address for r in results], sorted(r.address for r in results))

    def test_until_it_holds_or_the_turns_are_used_up(self) -> None:
        loop = 'repeat until text "Hive 24" is shown at most {} times', '    fling up on list "Hives"', "end", 'note "after"'
        results = self.one("launch afresh", 'tap button "Hives"', loop[0].format(20), *loop[1:])
        self.assertEqual([r for r in results if r.outcome.bad], [])
        head = next(r for r in results if r.verb == "repeat")
        self.assertRegex(head.read, r"^text “Hive 24” is shown, after \d turns?$")
        results = self.one("launch afresh", 'tap button "Hives"', 'repeat until text "Hive 99" is shown at most 2 times', *loop[1:])
        self.assertEqual([r.outcome.value for r in results], ["held", "held", "held", "held", "stuck", "unreached"])
        self.assertEqual(results[4].reason, "text “Hive 99” is not shown, after 2 turns")
        results = self.one("launch afresh", 'repeat until button "Hives" is shown at most 2 times', 'tap button "Nowhere"', "end")
        self.assertEqual([r.outcome.value for r in results], ["held", "held", "skipped"])

    def test_a_stuck_step_in_a_loop_leaves_the_rest_unreached_and_the_loop_too(self) -> None:
        results = self.one(
            "launch afresh", 'repeat until text "x" is shown at most 3 times', 'tap button "Nowhere" within 0.2 s', 'note "a"', "end"
        )
        self.assertEqual([r.outcome.value for r in results], ["held", "stuck", "unreached", "unreached"])
        results = self.one("launch afresh", "repeat 3 times", 'tap button "Nowhere" within 0.2 s', 'note "a"', "end", 'note "b"')
        self.assertEqual(
            [(r.step, r.outcome.value) for r in results][2:],
            [('tap button "Nowhere" within 0.2 s', "stuck"), ('note "a"', "unreached"), ('note "b"', "unreached")],
        )

    def test_whatever_is_decided_each_step_has_one_result_and_numbers_count_up(self) -> None:
        self.scripts('launch afresh\nwhen button "Hives" is shown\nrepeat 2 times\nnote "a"\nend\nend\nrepeat 0 times\nnote "b"\nend')
        self.lanes("Alder 5")
        results = self.heard.results["Alder 5"]
        self.assertEqual([r.number for r in results], list(range(1, len(results) + 1)))
        self.assertEqual(len({r.address for r in results}), len(results))
        self.assertEqual(results[-1].outcome, Outcome.SKIPPED)


class Values(BlockCase):
    def test_secrets_go_into_performed_scenes_and_into_nothing_else(self) -> None:
        self.scripts(
            'launch afresh\nperform "Sign in" with {who} {word}', head='uses "common.copione"\nneeds who = "Ada"\nneeds word secret\n'
        )
        loaded = self.project.load(self.demo)
        self.assertEqual(loaded.wanting, ["word"])
        given = loaded.given({"word": "honeycomb9", "who": "Bea"})
        self.assertEqual((dict(given.secrets), given.takes[0]["who"]), ({"word": "honeycomb9"}, "Bea"))
        heard = Heard()
        run = Run(self.project, given, self.devices("Alder 5"), heard, SteppedClock())
        run.start()
        run.wait()
        results: list[Result] = heard.results["Alder 5"]
        self.assertEqual([r for r in results if r.outcome.bad], [])
        self.assertIn('type {word} into field "Password"', [r.step for r in results])
        self.assertIn('perform "Sign in" with "Bea" {word}', [r.step for r in results])
        for path in run.folder.rglob("*"):
            if path.is_file():
                self.assertNotIn(b"honeycomb9", path.read_bytes(), path.name)

    def test_days_are_worked_out_and_read_in_the_devices_own_format(self) -> None:
        self.script(
            "launch afresh",
            'tap button "Hives"',
            'tap item "Hive 2"',
            'tap button "New inspection"',
            'choose "{today + 7 days}" in combobox "Visited on"',
            'check combobox "Visited on" is the day today + 7 days',
            'check combobox "Visited on" is the day today + 1 week',
            'check combobox "Visited on" is the day today + 8 days',
            'type today + 7 days into field "Notes"',
        )
        noon = datetime.combine(TODAY, time(12)).timestamp()
        results = self.run_on("Alder 5", clock=SteppedClock(noon)).results["Alder 5"]
        self.assertEqual([r.outcome.value for r in results[4:8]], ["held", "held", "held", "differs"], [r.reason for r in results])
        self.assertRegex(results[8].read, r"^\d\d/\d\d/\d{4}$")


class Placing(BlockCase):
    def test_targets_by_heading_by_pattern_by_content_and_by_page(self) -> None:
        results = self.one(
            "launch afresh",
            'check page "Hive Diary" is shown',
            'tap button "Tasks"',
            'wait for page "Tasks"',
            'check text "Feed sugar" under "Hive 8" is shown',
            "press back",
            'tap button "Hives"',
            'check list "Hives" is in order',
            'check text like "*days ago" in item "Hive 3" is shown',
            'tap item with "Hive 4"',
            'check page like "Hive *" is shown for 1 s',
            'check area .1 .1 .9 .9 of image "Comb picture" is shown',
            'check page "Hives" is shown within 0.2 s',
        )
        self.assertEqual([(r.step, r.reason) for r in results[:-1] if r.outcome is not Outcome.HELD], [])
        self.assertEqual((results[-1].outcome, results[-1].reason), (Outcome.DIFFERS, "not shown: this is the page “Hive 4”"))

    def test_a_stepper_is_pressed_so_often_and_compared_with_what_was_kept(self) -> None:
        results = self.one(
            "launch afresh",
            'tap button "Settings"',
            'keep stepper "Remind after days" as {before}',
            'tap button "More days" 3 times',
            'check stepper "Remind after days" reads {before} + 3',
            'check stepper "Remind after days" is more than {before}',
            'check stepper "Remind after days" is less than {before}',
        )
        self.assertEqual([r.outcome.value for r in results], ["held"] * 6 + ["differs"], [r.reason for r in results])

    def test_how_far_a_map_was_turned_and_scaled(self) -> None:
        results = self.one(
            "launch afresh",
            'tap button "Apiary map"',
            'pinch canvas "Apiary map" by 1.5',
            'check canvas "Apiary map" is scaled by 1.5',
            'twist canvas "Apiary map" by 30',
            'check canvas "Apiary map" is turned by 30',
            'check canvas "Apiary map" is turned by 90 within 0.2 s',
        )
        self.assertEqual([r.outcome.value for r in results], ["held"] * 6 + ["differs"], [(r.read, r.reason) for r in results])


class Conditions(BlockCase):
    def test_they_are_changed_and_put_back_also_by_a_take_that_breaks(self) -> None:
        phone = self.lab.phones[SERIALS["Alder 5"]]

        def state() -> tuple[object, ...]:
            return (
                phone.rotation,
                phone.conditions.free_to_turn,
                phone.online(),
                phone.conditions.dark,
                phone.metrics.text_scale,
                phone.conditions.saver,
                dict(phone.conditions.app_locales),
            )

        phone.conditions.free_to_turn = True
        before = state()
        steps = (
            "launch afresh",
            "turn network off",
            'tap button "Records"',
            'check text "You are offline" is shown',
            "press back",
            "turn dark mode on",
            "turn text size to 1.3",
            "turn battery saver on",
            'turn language to "de"',
            'check button "Hives" is shown',
            "turn landscape",
            'receive call from "Ada"',
            'tap button "Decline"',
        )
        during: list[tuple[object, ...]] = []
        self.script(*steps, 'tap button "Nowhere" within 0.2 s')
        heard = self.run_on("Alder 5", heard=Heard(lambda _take, r: during.append(state())))
        results = heard.results["Alder 5"]
        self.assertEqual([(r.step, r.reason) for r in results[:-1] if r.outcome.bad], [])
        self.assertEqual(results[-1].outcome, Outcome.STUCK)
        self.assertEqual(during[-1], (1, False, False, True, 1.3, True, {"org.example.hive_diary": "de"}))
        self.assertEqual(state(), (*before[:-1], {"org.example.hive_diary": ""}))

    def test_what_a_device_cannot_be_told_is_stuck_with_its_reason(self) -> None:
        results = self.one("turn network slow")
        self.assertIn("cannot be given a slow network from here", results[0].reason)
