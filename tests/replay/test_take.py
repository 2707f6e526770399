import os
import shutil
import signal
import subprocess
import sys
from dataclasses import replace
from unittest import mock

from PIL import Image

from copione.model.clock import SteppedClock, SystemClock
from copione.model.errors import ScriptBroken
from copione.model.outcome import Outcome, Result
from copione.model.portrait import Portrait
from copione.model.take import TakeName
from copione.project.archive import read_run, runs_in
from copione.project.naming import frames_folder, portraits_path
from copione.project.portraits import save_portraits
from copione.project.project import Project
from copione.replay.run import Run

from ..benches import APP, EXAMPLE, SERIALS, Heard, LabCase, reads_pictures

GOOD = {Outcome.HELD, Outcome.ADAPTED}


class RunCase(LabCase):
    """Replays scripts on the lab's phones with a clock whose waits take no time."""

    def setUp(self) -> None:
        super().setUp()
        shutil.copytree(EXAMPLE, self.scratch / "project", ignore=shutil.ignore_patterns("runs", "recordings"))
        self.project = Project(self.scratch / "project")
        self.demo = self.project.script_path("Spring inspection")

    def script(self, *steps: str, patience: float = 2) -> None:
        """Make the demo script another one, without portraits or data."""
        lines = "\n    ".join(steps)
        self.demo = self.project.script_path("other")
        self.demo.write_text(f'script "Other"\napp hive-diary\npatience {patience} s\nscene "One"\n    {lines}\n', "utf-8")

    def run_on(self, *names: str, heard: Heard | None = None, clock: object = None) -> Heard:
        heard = heard or Heard()
        run = Run(self.project, self.project.load(self.demo), self.devices(*names), heard, clock or SteppedClock())
        self.run_made = run
        run.start()
        run.wait()
        return heard

    def one(self, *steps: str, on: str = "Alder 5") -> list[Result]:
        self.script(*steps)
        return self.run_on(on).results[on]


class Wheels(RunCase):
    @reads_pictures
    def test_one_whose_rows_are_only_drawn_is_read_in_its_picture(self) -> None:
        self.turned({"wheel": "org.example.NumberPicker"})

    def test_the_platforms_own_tells_what_stands_in_its_middle(self) -> None:
        self.turned({})

    def turned(self, classes: dict[str, str]) -> None:
        phone = self.lab.phones[SERIALS["Alder 5"]]
        phone.model = replace(phone.model, choice="wheel", classes=classes)
        way = ("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"', 'tap button "New inspection"')
        results = self.one(*way, 'choose "Windy" in combobox "Weather"', 'check combobox "Weather" reads "Windy"')
        self.assertEqual([r.reason for r in results if r.outcome.bad], [])
        self.assertIn("set weather Windy", "".join(words for _, words in phone.log_lines))


class Demo(RunCase):
    def test_without_faults_every_step_holds_or_adapts_on_every_phone(self) -> None:
        heard = self.run_on()
        for name, results in heard.results.items():
            self.assertEqual([r for r in results if r.outcome not in GOOD], [], name)
        wren = heard.results["Wren mini"]
        save = next(r for r in wren if "Save" in r.step)
        self.assertEqual((save.outcome, save.reason), (Outcome.HELD, ""))

    def test_the_archive_holds_what_was_heard_line_by_line(self) -> None:
        heard = self.run_on("Alder 5", "Plateau 10")
        record = read_run(self.run_made.folder)
        self.assertTrue(record.complete)
        self.assertEqual(record.text, self.demo.read_text("utf-8"))
        for take in record.takes:
            self.assertEqual([r.step for r in take.results], [r.step for r in heard.results[take.device.name]])
            self.assertEqual(take.build, "2.4")
            for r in take.results:
                self.assertTrue(take.picture(r.after).exists() and take.picture(r.before or r.after).exists())
            self.assertIn("page hives", (take.folder / "device.log").read_text("utf-8"))
        self.assertEqual(runs_in(self.project.runs_folder), [self.run_made.folder])

    def test_each_data_row_is_a_take(self) -> None:
        (self.project.folder / "data" / "hives.csv").write_text("hive,frames,note\nHive 3,2,a\nHive 20,9,b\n", "utf-8")
        self.run_on("Alder 5")
        takes = read_run(self.run_made.folder).takes
        self.assertEqual([t.name.row for t in takes], [1, 2])
        self.assertEqual([next(r.read for r in t.results if r.verb == "set") for t in takes], ["2", "9"])
        self.assertTrue(all(r.outcome in GOOD for t in takes for r in t.results))


class Faulty(RunCase):
    faults = True

    def test_the_seeded_fault_is_found_and_nothing_else(self) -> None:
        heard = self.run_on()
        bad = [
            (name, r.step, r.outcome, r.reason)
            for name, rs in heard.results.items()
            for r in rs
            if r.outcome not in GOOD and r.outcome is not Outcome.UNREACHED
        ]
        self.assertEqual(bad, [("Wren mini", 'tap button "Save inspection"', Outcome.STUCK, "covered by the keyboard")])
        self.assertNotIn("saved inspection", "".join(words for _, words in self.lab.phones[SERIALS["Wren mini"]].log_lines))


class Steps(RunCase):
    OPEN = ("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"')
    FORM = (*OPEN, 'tap button "New inspection"')

    def test_acts_read_back_what_they_did(self) -> None:
        results = self.one(
            *self.FORM,
            'set slider "Brood frames" to 9',
            'set slider "Brood frames" to 0',
            'switch on "Queen seen"',
            'switch on "Queen seen"',
            'choose "Hot" in radiogroup "Temper"',
            'type "one" into field "Notes"',
            'type "two" into field "Notes"',
            'check field "Notes" reads "two"',
            'clear field "Notes"',
            'check field "Notes" reads ""',
        )
        self.assertEqual([r for r in results if r.outcome is not Outcome.HELD], [])
        self.assertEqual([r.read for r in results[4:10]], ["9", "0", "on", "on", "Hot", "one"])

    def test_a_value_is_kept_for_later_steps_and_a_picture_snapped(self) -> None:
        steps = ("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"', 'keep label "Weight" as {weight}', 'snap "The hive"')
        later = (
            'tap button "New inspection"',
            'type "{weight} before" into field "Notes"',
            'keep field "Nowhere" as {nothing} within 0.2 s',
        )
        results = self.one(*steps, *later)
        self.assertRegex(results[3].read, r"^\d+ kg$")
        self.assertEqual(results[6].read, f"{results[3].read} before")
        self.assertTrue((self.run_made.folder / "takes" / "alder-5-row1" / "shots" / results[4].before).exists())
        self.assertEqual(results[-1].outcome, Outcome.STUCK)
        self.assertEqual(self.project.load(self.demo).wanting, [])

    def test_a_stepper_is_counted_to_its_value_in_any_steps(self) -> None:
        log = self.lab.phones[SERIALS["Alder 5"]].log_lines
        steps = [f'set stepper "Remind after days" to {value}' for value in (12, 9, 9, 10)]
        results = self.one("launch afresh", 'tap button "Settings"', *steps, 'check stepper "Remind after days" reads "10"')
        self.assertEqual([r.read for r in results[2:]], ["12", "9", "9", "10", "10"])
        self.assertEqual({r.outcome for r in results}, {Outcome.HELD})
        self.assertEqual([int(words.split()[-1]) for _, words in log if "remind" in words], [8, 9, 10, 11, 12, 11, 10, 9, 10])
        (_, _, stuck) = self.one("launch afresh", 'tap button "Settings"', 'set stepper "Remind after days" to 45')
        self.assertEqual((stuck.outcome, stuck.reason), (Outcome.STUCK, "it stays at 30; button “More days” was touched for it"))

    def test_acts_that_cannot_be_done_are_stuck_and_the_rest_unreached(self) -> None:
        table = {
            'tap button "Sve inspection"': "it is not on this screen",
            'set slider "Brood frames" to {many}': "Nothing gives {many} a value",
            'set slider "Brood frames" to 99': "it reads 10 after 4 tries",
            'choose "Mild" in radiogroup "Temper"': "“Mild”: it is not on this screen",
            'tap item "{hive}"': "Nothing gives {hive} a value",
            'type "כוורת" into field "Notes"': "cannot type 'כורת'",
        }
        for step, reason in table.items():
            with self.subTest(step):
                *_, stuck, after = self.one(*self.FORM, step, "press back")
                self.assertEqual((stuck.outcome, after.outcome), (Outcome.STUCK, Outcome.UNREACHED))
                self.assertIn(reason, stuck.reason)

    def test_checks_differ_and_the_take_goes_on(self) -> None:
        table = {
            'check label "Temper" reads "Calm"': (Outcome.DIFFERS, "reads “Nervous”, expected reads “Calm”"),
            'check label "Temper" contains "erv"': (Outcome.HELD, ""),
            'check text "Winter" is shown': (Outcome.DIFFERS, "not shown: it is not on this screen"),
            'check text "Temper" is not shown': (Outcome.DIFFERS, "it is shown"),
            'check text "Winter" is not shown': (Outcome.HELD, ""),
            'check label "Winter" reads "x"': (Outcome.STUCK, "it is not on this screen"),
        }
        results = self.one(*self.OPEN, *table, 'tap button "New inspection"')
        for result, (outcome, reason) in zip(results[3:-1], table.values(), strict=True):
            self.assertEqual((result.outcome, result.reason), (outcome, reason), result.step)
        self.assertIs(results[-1].outcome, Outcome.HELD)

    def test_what_several_show_is_shown(self) -> None:
        """Which of them is meant makes no difference to a check that it is shown; to a tap it does."""
        due = 'text "due"'
        hives = ("launch afresh", 'tap button "Hives"')
        *_, shown, like, many, tapped = self.one(
            *hives, f"check {due} is shown", f'check {due} reads like "d*"', 'check list "Hives" has at least 3 items', f"tap {due}"
        )
        self.assertEqual((shown.outcome, shown.reason, many.outcome), (Outcome.HELD, "", Outcome.HELD))
        self.assertEqual((like.outcome, tapped.outcome), (Outcome.STUCK, Outcome.STUCK))

    def test_an_item_far_down_and_back_up_is_found_by_scrolling(self) -> None:
        results = self.one(
            "launch afresh",
            'tap button "Hives"',
            'find item "Hive 24" in list "Hives"',
            'find item "Hive 1" in list "Hives"',
            'tap item "Hive 15"',
        )
        self.assertEqual([r.outcome for r in results[2:]], [Outcome.HELD, Outcome.HELD, Outcome.ADAPTED])
        self.assertEqual(self.lab.phones[SERIALS["Alder 5"]]._app(APP).hive.name, "Hive 15")

    def test_hold_swipe_keys_quit_and_notes(self) -> None:
        results = self.one(
            "launch",
            'hold button "About"',
            "pause 2 s",
            "press home",
            "launch",
            "press back",
            'tap button "Hives"',
            'swipe up on list "Hives"',
            "press back",
            'note "a remark"',
            "quit",
        )
        self.assertEqual({r.outcome for r in results}, {Outcome.HELD})
        self.assertEqual(self.link().front()[0], "org.example.launcher")

    def test_it_waits_with_patience_for_what_comes_later(self) -> None:
        phone = self.lab.phones[SERIALS["Alder 5"]]
        self.script("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"', 'check button "Late" is shown within 5 s')
        clock = _Nudging(lambda: phone._app(APP).go("form"), after=6)
        self.demo.write_text(self.demo.read_text("utf-8").replace('"Late"', '"Save inspection"'), "utf-8")
        results = self.run_on("Alder 5", clock=clock).results["Alder 5"]
        self.assertIs(results[-1].outcome, Outcome.HELD)
        self.assertGreater(results[-1].seconds, 0.5)


class _Nudging(SteppedClock):
    """Makes something happen on the phone while the take waits."""

    def __init__(self, act: object, after: int) -> None:
        super().__init__()
        self.act, self.left = act, after

    def sleep(self, seconds: float) -> None:
        super().sleep(seconds)
        self.left -= 1
        if self.left == 0:
            self.act()


class Trouble(RunCase):
    def test_a_phone_gone_in_the_middle_ends_its_take_and_the_others_go_on(self) -> None:
        def pull(take: TakeName, result: Result) -> None:
            if take.device == "Wren mini" and result.number == 5:
                self.lab.unplug(SERIALS["Wren mini"])

        heard = self.run_on(heard=Heard(pull))
        wren = heard.results["Wren mini"]
        self.assertEqual([r.outcome for r in wren[4:7]], [Outcome.HELD, Outcome.STUCK, Outcome.UNREACHED])
        self.assertIn("not connected any more", wren[5].reason)
        self.assertEqual({r.outcome for r in heard.results["Plateau 10"]}, {Outcome.HELD})
        self.assertEqual(len(read_run(self.run_made.folder).takes), 3)

    def test_even_a_check_cannot_go_on_without_its_phone(self) -> None:
        self.script("launch afresh", 'check button "Hives" is shown', 'check button "Nothing" is shown', 'check button "About" is shown')

        def pull(take: TakeName, result: Result) -> None:
            if result.number == 2:
                self.lab.set_state(SERIALS["Alder 5"], "offline")

        results = self.run_on("Alder 5", heard=Heard(pull)).results["Alder 5"]
        self.assertEqual([r.outcome for r in results[2:]], [Outcome.STUCK, Outcome.UNREACHED])
        self.assertIn("offline", results[2].reason)

    def test_an_app_that_is_not_installed(self) -> None:
        self.lab.phones[SERIALS["Alder 5"]].uninstall(APP)
        results = self.run_on("Alder 5").results["Alder 5"]
        self.assertIn("is not installed", results[0].reason)
        self.assertEqual({r.outcome for r in results[1:]}, {Outcome.UNREACHED})
        self.assertTrue(self.run_made.none_began)

    def test_a_tree_that_always_fails_is_the_reason(self) -> None:
        self.lab.failing_dumps[SERIALS["Alder 5"]] = b"ERROR: could not get idle state.\n"
        results = self.run_on("Alder 5").results["Alder 5"]
        self.assertIn("could not get idle state", results[0].reason)

    def test_what_cannot_be_looked_at_is_stuck_and_no_failure_of_the_app(self) -> None:
        self.lab.failing_dumps[SERIALS["Alder 5"]] = b"ERROR: could not get idle state.\n"
        outcomes = [r.outcome for r in self.one('check button "Nowhere" is shown', 'check button "Nowhere" is not shown')]
        self.assertEqual(outcomes, [Outcome.STUCK, Outcome.STUCK])

    def test_a_script_with_problems_is_not_begun(self) -> None:
        self.script("tpa")
        with self.assertRaises(ScriptBroken):
            self.run_on("Alder 5")

    def test_cancelled_takes_stop_at_their_next_look(self) -> None:
        heard = Heard(lambda take, result: self.cancel() if result.number == 3 else None)
        self.script(*["launch afresh"] * 8)
        run = Run(self.project, self.project.load(self.demo), self.devices("Alder 5"), heard, SystemClock())
        self.cancel = run.cancel
        run.start()
        run.wait()
        outcomes = [r.outcome for r in heard.results["Alder 5"]]
        self.assertEqual(outcomes[3:5], [Outcome.STUCK, Outcome.UNREACHED])
        self.assertEqual(heard.results["Alder 5"][3].reason, "Stopped by you.")

    def test_kill_9_in_a_run_keeps_every_finished_step(self) -> None:
        command = [
            sys.executable,
            "-m",
            "copione",
            "replay",
            str(self.demo),
            "--on",
            "all",
            "--json",
            "--adb",
            f"127.0.0.1:{self.face.port}",
        ]
        process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        lines = [process.stdout.readline() for _ in range(17)]
        os.kill(process.pid, signal.SIGKILL)
        lines += process.stdout.read().splitlines()
        process.stdout.close()
        process.wait()
        (folder,) = runs_in(self.project.runs_folder)
        record = read_run(folder)
        self.assertFalse(record.complete)
        kept = sum(len(t.results) for t in record.takes)
        self.assertGreaterEqual(kept, sum(1 for line in lines if line.strip().endswith("}")))


class Gestures(RunCase):
    """Every verb, written by hand without portraits; the app's own state is the judge."""

    def test_rows_are_carried_canvases_moved_and_drawn_on_days_and_options_chosen(self) -> None:
        results = self.one(
            'whenever text "Allow Hive Diary to take pictures?" tap button "Only while it is used"',
            'whenever text "Since {today}, {today + 1 day}" tap button "Later"',
            "launch afresh",
            'tap button "Rounds"',
            'drag item "Orchard" below item "Lime avenue"',
            'drag item "Old quarry" above item "Mill"',
            "press back",
            'tap button "Apiary map"',
            'pinch canvas "Apiary map" by 2',
            'twist canvas "Apiary map" by 90',
            'drag canvas "Apiary map" by .2 0',
            "press back",
            'tap button "Hives"',
            'fling up on list "Hives"',
            'find item "Hive 3"',
            'check list "Hives" has 9 items',
            'tap item "Hive 3"',
            'double-tap image "Comb picture"',
            'wait for text "Marked for a second look"',
            'tap button "Comb sketch"',
            'draw on canvas "Comb sketch" path "M .2 .2 L .8 .6 M .5 .5 L .5 .9"',
            "press back",
            'tap button "New inspection"',
            'choose "Rainy" in combobox "Weather"',
            'choose "2027-02-03" in combobox "Visited on"',
            "turn landscape",
            "turn portrait",
            'tap button "Add photo"',
            'check text "1 photo" is shown',
            'check combobox "Visited on" matches "3 February"',
            'check slider "Brood frames" is between 1 and 4',
            'check button "Save inspection" is enabled',
        )
        bad = [(r.step, r.outcome.value, r.reason) for r in results if not r.outcome.good and not r.step.startswith("check list")]
        self.assertEqual(bad, [])
        app = self.lab.phones[SERIALS["Alder 5"]]._app(APP)
        self.assertEqual(app.stops, ["Old quarry", "Mill", "Lime avenue", "Orchard", "Heath"])
        self.assertAlmostEqual(app.map.scale, 2.0, delta=0.06)
        self.assertAlmostEqual(app.map.angle_deg, 90, delta=5)  # its shares are not quite square
        self.assertEqual(len(app.sketch.strokes), 2)
        self.assertTrue(app.hives[2].marked)
        self.assertEqual((app.draft.weather, app.draft.day.isoformat(), app.draft.photos), ("Rainy", "2027-02-03", 1))

    def test_what_cannot_be_done_is_stuck_with_its_reason(self) -> None:
        form = ("launch afresh", 'tap button "Hives"', 'tap item "Hive 3"', 'tap button "New inspection"')
        table = (
            ('choose "Snowy" in combobox "Weather"', "“Snowy”: it is not on this screen"),
            ('choose "2150-01-01" in combobox "Visited on"', "does not get to 2150-01-01"),
            ('wait until slider "Brood frames" reads 9 within 0.3 s', "reads “3”"),
            ('drag slider "Brood frames" onto button "Nowhere"', 'button "Nowhere": it is not on this screen'),
        )
        for step, reason in table:
            with self.subTest(step):
                last = self.one(*form, step)[-1]
                self.assertEqual(last.outcome, Outcome.STUCK)
                self.assertIn(reason, last.reason)

    def test_only_where_the_script_allows_it_a_place_is_enough(self) -> None:
        self.script("launch afresh", 'tap button "Hives"', 'tap element "Orange" allow place')
        screen = self.screen("Alder 5", "home")
        home = next(e for e in screen if e.name == "Hives" and e.role == "button")
        hidden = replace(screen, names=("",) * len(screen), ids=tuple(f"x{i}" for i in range(len(screen))), texts=("",) * len(screen))
        save_portraits(portraits_path(self.demo), {'element "Orange"': (Portrait(hidden, home.row),)})
        (*_, last) = self.run_on("Alder 5").results["Alder 5"]
        self.assertEqual((last.outcome, last.by, last.reason), (Outcome.ADAPTED, "place", "by its place alone"))

    def test_what_has_neither_id_nor_name_is_found_by_its_picture(self) -> None:
        """The demo's form as a build without ids and labels would have it: the stepper's sign is known by how it looks."""
        way = ("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"', 'tap button "New inspection"')
        self.script(*way, 'tap element "plus"')
        screen = self.screen("Alder 5", "form")
        more = next(e for e in screen if e.name == "One super more")
        bare = replace(screen, **{column: ("",) * len(screen) for column in ("names", "ids", "texts", "labels")})
        save_portraits(portraits_path(self.demo), {'element "plus"': (Portrait(bare, more.row, picture="form.png"),)})
        frames_folder(self.demo).mkdir()
        (frames_folder(self.demo) / "form.png").write_bytes(self.link().picture())
        last = self.run_on("Alder 5").results["Alder 5"][-1]
        self.assertEqual((last.outcome, last.by, last.reason), (Outcome.ADAPTED, "picture", "by its picture"))
        self.assertEqual(self.lab.phones[SERIALS["Alder 5"]]._app(APP).draft.supers, 2)

    def test_a_secret_is_typed_and_never_written(self) -> None:
        self.script("launch afresh", 'tap button "Settings"', 'tap button "Sign in"', 'type {password} into field "Password"')
        self.demo.write_text(self.demo.read_text("utf-8").replace("patience", "needs password secret\npatience"), "utf-8")
        with mock.patch.dict("os.environ", {"COPIONE_PASSWORD": "h0neypot"}):
            results = self.run_on("Alder 5").results["Alder 5"]
        self.assertTrue(results[-1].outcome.good, results[-1].reason)
        self.assertEqual(results[-1].step, 'type {password} into field "Password"')
        self.assertEqual(self.lab.phones[SERIALS["Alder 5"]]._app(APP).credentials["password"], "h0neypot")
        self.assertFalse([p for p in self.run_made.folder.rglob("*") if p.is_file() and b"h0neypot" in p.read_bytes()])
        shot = Image.open(next(t.picture(t.results[-1].after) for t in read_run(self.run_made.folder).takes))
        self.assertIn((0x22, 0x26, 0x2F), [colour for _, colour in shot.convert("RGB").crop((60, 260, 760, 500)).getcolors(1 << 20)])
