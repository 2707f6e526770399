import json
import shutil
import socket
import tempfile
import threading
import unittest
from pathlib import Path

from click.testing import CliRunner

from copione.cli import main
from copione.engine.judging import lanes_of
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.model.clock import SystemClock
from copione.model.errors import LinkError
from copione.model.outcome import Outcome
from copione.project.archive import read_run
from copione.project.project import Project
from copione.replay.run import Run
from copione_lab.control import Control, ask, cause
from copione_lab.hive_diary.words import _PAIRS, say
from copione_lab.model import SHIPPED, answer_sheet, load_faults, load_models
from copione_lab.panel import Panel
from copione_lab.spawn import LabProcess
from copione_lab.toolkit.fonts import visual

from ..benches import EXAMPLE, SERIALS, Heard, LabCase

#: What the demo script makes of each seeded fault that it crosses: the step's beginning and the outcome; None where it does not look.
CROSSED = {
    "keyboard-covers": ('tap button "Save', "stuck"),
    "untranslated": ('check label "Last seen"', "differs"),
    "small-target": ('tap button "Save', "adapted"),
    "date-format": ('check label "Last seen"', "differs"),
    "wrong-picture": ('check image "Comb picture"', "differs"),
    "state-lost": None,
    "pushed-off": ('tap button "Save', "stuck"),
    "off-by-one": ('check label "Brood frames"', "differs"),
    "wrong-text": ('check label "Last seen"', "differs"),
    "dialog": ('check image "Comb picture"', "stuck"),
    "overlap": ('tap button "Save', "stuck"),
    "slow": ('tap item "Hive 17"', "slow"),
    "text-cut": ('tap button "New', "adapted"),
    "crash": ('check text "Inspection saved"', "stuck"),
    "missing": ("switch on", "stuck"),
    "extra": ('find item "Hive 17"', "stuck"),
}


HURRY = 3.0  # how much faster the clock of a take runs once there is trouble
PATIENCE_S = 3  # with a phone that makes trouble


class WholeLab(unittest.TestCase):
    """The demo script, recorded on Alder 5, on every model of both platforms, in three languages."""

    def replay(self, faults: str | None) -> tuple[Heard, Run]:
        scratch = tempfile.TemporaryDirectory()
        self.addCleanup(scratch.cleanup)
        project = Project(EXAMPLE)
        with LabProcess(faults=faults) as lab:
            bench = Bench(AdbServer(port=lab.port), endpoints=lab.endpoints)
            heard = Heard()
            demo = project.load(project.script_path("Spring inspection"))
            run = Run(project, demo, bench.look(), heard, SystemClock(), Path(scratch.name))
            run.start()
            run.wait()
            bench.close()
        return heard, run

    def test_without_faults_every_step_holds_or_adapts(self) -> None:
        heard, _ = self.replay("none")
        self.assertGreaterEqual(len(heard.results), 13)
        for name, results in heard.results.items():
            self.assertEqual([(r.step, r.outcome, r.reason) for r in results if not r.outcome.good], [], name)
        self.assertEqual([r.read for results in heard.results.values() for r in results if r.verb == "set"], ["6"] * len(heard.results))
        german = [r for r in heard.results["Bramble"] if r.outcome is Outcome.HELD]
        self.assertEqual(len(german), 15)

    def test_every_seeded_fault_that_the_script_crosses_is_found_and_nothing_else(self) -> None:
        from copione.comparison.findings import findings

        heard, run = self.replay(None)
        found = findings(lanes_of(read_run(run.folder)))
        models = {m.key: m.name for m in load_models()}
        expected = set()
        for fault in load_faults():
            if CROSSED[fault.kind] is None:
                continue
            step, outcome = CROSSED[fault.kind]
            for key in fault.models:
                expected.add(models[key])
                if outcome == "slow":
                    self.assertTrue(any(f.flag == "slow" and f.devices == (models[key],) for f in found), fault.key)
                elif outcome == "adapted":
                    (result,) = [r for r in heard.results[models[key]] if r.step.startswith(step)]
                    self.assertIn("only 14 dp small" if fault.kind == "small-target" else "it reads “New inspe…”", result.reason)
                else:
                    seen = {f.outcome.value for f in found if f.step.startswith(step) and models[key] in f.devices}
                    self.assertEqual(seen, {outcome}, fault.key)
        self.assertEqual({take.device for f in found for take in f.takes} - expected, set())


class Noticed(unittest.TestCase):
    """What no check of a script asks about, on pages that it comes to, held against the sheet of answers."""

    def test_every_kind_that_a_page_can_have_is_noticed_where_it_is_seeded_and_nowhere_else(self) -> None:
        kinds = {
            "gone": ("weight", "kestrel-s", "missing"),
            "added": ("temper", "heron-max", "new"),
            "pale": ("brood_frames", "fennel-3", "weak contrast"),
            "squeezed": ("last_seen", "alder-5", "spills over"),
            "tiny": ("new_inspection", "moth-2", "small target"),
            "clipped": ("temper", "alder-5", "text cut"),
            "english": ("temper", "bramble", "untranslated"),
            "another-picture": ("comb_picture", "moth-2", "other picture"),
            "reworded": ("temper", "fennel-3", "other words"),
            "over": ("temper", "sorrel", "overlaps"),
            "misspelt": ("temper", "wren-mini", "other words"),
            "cut-off": ("last_seen", "saltmarsh-7", "other words"),
            "capitals": ("last_seen", "juniper-fold", "other words"),
            "doubled": ("brood_frames", "juniper-fold", "other words"),
            "emptied": ("weight", "fennel-3", "missing"),
            "disabled": ("open_sketch", "alder-5", "disabled"),
            "turned-round": ("tab_now", "saltmarsh-7", "other order"),
            "another-ground": ("toolbar_title", "fennel-3", "other colour"),
            "message-over": ("new_inspection", "sorrel", "overlaps"),
        }
        with tempfile.TemporaryDirectory() as scratch:
            folder = Path(scratch)
            shutil.copytree(EXAMPLE, folder / "project", ignore=shutil.ignore_patterns("runs"))
            (folder / "faults").mkdir()
            for kind, (at, model, _) in kinds.items():
                words = f'kind = "{kind}"\nmodels = ["{model}"]\npage = "hive"\nat = "{at}"\n'
                (folder / "faults" / f"{kind}.toml").write_text(words, "utf-8")
            script = folder / "project" / "scripts" / "look.copione"
            steps = ("launch afresh", 'tap button "Hives"', 'find item "Hive 17" in list "Hives"', 'tap item "Hive 17"')
            last = 'check label "Weight" is shown within 1 s'
            on = 'tap button "New inspection"'
            lines = "".join(f"    {step}\n" for step in (*steps, last.replace("Weight", "Last seen"), on))
            script.write_text(f'script "Look"\napp hive-diary\nscene "One"\n{lines}', "utf-8")
            project = Project(folder / "project")
            with LabProcess(faults=str(folder / "faults")) as lab:
                bench = Bench(AdbServer(port=lab.port), endpoints=lab.endpoints)
                heard = Heard()
                run = Run(project, project.load(script), [d for d in bench.look() if "Pla" not in d.name], heard, SystemClock())
                run.start()
                run.wait()
                bench.close()
            models = {m.key: m.name for m in load_models()}
            expected = {(about, models[model]) for _, model, about in kinds.values()}
            self.assertEqual({(r.kind.value, r.take.device) for r in heard.remarks}, expected)
            kept = read_run(run.folder).remarks
            self.assertEqual([(r.kind, r.take, r.key, r.shot) for r in kept], [(r.kind, r.take, r.key, r.shot) for r in heard.remarks])


class OnlyInToml(unittest.TestCase):
    def test_a_new_model_and_a_new_fault_need_no_code(self) -> None:
        with tempfile.TemporaryDirectory() as scratch:
            folder = Path(scratch)
            model = (
                (SHIPPED / "models" / "alder-5.toml").read_text("utf-8").replace("Alder 5", "Thistle").replace("LABALDER5", "LABTHISTLE")
            )
            (folder / "thistle.toml").write_text(model, "utf-8")
            faults = folder / "faults"
            faults.mkdir()
            (faults / "gone.toml").write_text('kind = "missing"\nmodels = ["thistle"]\nwords = "No switch."\n', "utf-8")
            self.assertEqual(answer_sheet([scratch], str(faults)), "Thistle: missing. No switch.\n")
            with LabProcess(models=[scratch], faults=str(faults)) as lab:
                self.assertIn("Thistle", lab.phones)
                bench = Bench(AdbServer(port=lab.port))
                names = [d.name for d in bench.look()]
                bench.close()
            self.assertIn("Thistle", names)
            (folder / "broken.toml").write_text("name = ", "utf-8")
            with self.assertRaises(ValueError) as caught:
                load_models(folder)
            self.assertIn("broken.toml", str(caught.exception))

    def test_the_answer_sheet_is_printed(self) -> None:
        said = CliRunner().invoke(main, ["lab", "--list-faults"]).stdout
        self.assertEqual(len(said.splitlines()), sum(len(f.models) for f in load_faults()))
        self.assertGreaterEqual(len({f.kind for f in load_faults()}), 15)
        self.assertEqual({f.kind for f in load_faults()}, set(CROSSED))
        self.assertEqual(CliRunner().invoke(main, ["lab", "--list-faults", "--faults", "none"]).stdout, "No model shows a fault.\n")

    def test_the_demo_projects_phrasebook_says_what_the_app_says(self) -> None:
        project = Project(EXAMPLE)
        for locale in ("de-DE", "he-IL"):
            for english, other in project.phrases(locale).items():
                self.assertEqual(other, say(english, locale))
        self.assertTrue(set(project.phrases("de-DE")) <= set(_PAIRS))
        self.assertEqual(project.phrases("en-GB"), {})


class TroubleOnDemand(LabCase):
    def setUp(self) -> None:
        super().setUp()
        shutil.copytree(EXAMPLE, self.scratch / "project", ignore=shutil.ignore_patterns("runs", "recordings"))
        self.control = Control(self.lab, self.face.close)
        self.addCleanup(self.control.close)

    def replay(self, trouble: str, at: int = 3, hurried: bool = True) -> list[tuple[str, str]]:
        """The demo on Alder 5 and Wren mini, with trouble for Alder 5 after a step; its outcomes and reasons."""
        project = Project(self.scratch / "project")
        devices, clock = self.devices("Alder 5", "Wren mini"), _Impatient()

        def make(take: object, result: object) -> None:
            if take.device == "Alder 5" and result.number == at:
                ask(self.control.port, self.control.token, trouble, "Alder 5")
                if hurried:
                    clock.hurry()
                    devices[0].worker.link.patience = PATIENCE_S

        heard = Heard(make)
        run = Run(project, project.load(project.script_path("Spring inspection")), devices, heard, clock)
        run.start()
        run.wait()
        record = read_run(run.folder)
        self.assertTrue(record.complete)
        self.assertEqual([len(t.results) for t in record.takes], [15, 15])
        self.others = [r.outcome for r in heard.results["Wren mini"]]
        return [(r.outcome.value, r.reason) for r in heard.results["Alder 5"]]

    def test_each_ends_in_a_sentence_and_a_complete_archive_and_the_others_go_on(self) -> None:
        table = {
            "unplug": "is not connected any more",
            "unapprove": "has not approved this computer",
            "offline": "is offline",
            "hang": f"has given no whole answer for {PATIENCE_S} s. Is it hanging?",
            "refuse": "refused",
            "fail-dumps": "could not get idle state",
            "close": "went away in the middle of a command",
            "garbage": "",
            "drip": f"has given no whole answer for {PATIENCE_S} s",
        }
        for trouble, words in table.items():
            with self.subTest(trouble):
                try:
                    outcomes = self.replay(trouble)
                finally:
                    cause(self.lab, "mend", "Alder 5")
                self.assertEqual([o for o, _ in outcomes[:3]], ["held"] * 3)
                stuck = next(reason for outcome, reason in outcomes if outcome == "stuck")
                self.assertIn(words, stuck)
                self.assertEqual(outcomes[-1][0], "unreached")
                self.assertTrue(all(o.good for o in self.others))

    def test_without_a_sound_picture_a_take_goes_on(self) -> None:
        """Only the check of how something looks cannot be made."""
        for trouble in ("cut-picture", "giant-picture"):
            try:
                outcomes = self.replay(trouble, hurried=False)
            finally:
                cause(self.lab, "mend", "Alder 5")
            bad = {reason for outcome, reason in outcomes if outcome not in {"held", "adapted"}}
            self.assertLessEqual(bad, {"there is no picture of the screen"}, trouble)

    def test_nobody_else_makes_trouble(self) -> None:
        """A page in a browser may post to any port of this computer: a control command is none without its token."""
        posted, guessed = b'POST / HTTP/1.1\r\n\r\n{"do": "kill-server"}\n', b'{"do": "kill-server", "phone": "", "token": "x"}\n'
        for said in (posted, guessed, b"[" * 9000 + b"\n"):
            with socket.create_connection(("127.0.0.1", self.control.port), timeout=5) as connection:
                connection.sendall(said)
                answer = b"".join(iter(lambda: connection.recv(4096), b""))
            self.assertIn(b"token", answer)
        self.assertEqual(self.server.version(), 41)

    def test_a_slow_phone_is_only_slow(self) -> None:
        self.lab.trouble[SERIALS["Wren mini"]] = "slow"
        self.assertEqual(len(self.devices("Wren mini")), 1)

    def test_a_killed_server_ends_every_take_with_a_sentence(self) -> None:
        outcomes = self.replay("kill-server")
        self.assertIn("No adb server answers", next(reason for outcome, reason in outcomes if outcome == "stuck"))

    def test_it_is_asked_for_on_the_command_line_too(self) -> None:
        said = CliRunner().invoke(main, ["lab", "--control", f"{self.control.port}:{self.control.token}", "--trouble", "unplug", "Alder 5"])
        self.assertEqual((said.exit_code, said.stdout), (0, "Alder 5: unplug.\n"))
        self.assertNotIn(SERIALS["Alder 5"], self.lab.states())
        for words in (["unplug", "Moth 9"], ["explode", "Alder 5"]):
            said = CliRunner().invoke(main, ["lab", "--control", f"{self.control.port}:{self.control.token}", "--trouble", *words])
            self.assertEqual(said.exit_code, 1)
            self.assertIn("The trouble could not be caused: ", said.stderr)
        self.assertEqual(CliRunner().invoke(main, ["lab", "--control", "1", "--trouble", "unplug", "x"]).exit_code, 1)
        with self.assertRaises(LinkError):
            raise LinkError(json.dumps({}))


class _Impatient(SystemClock):
    """A clock that runs faster for a take once it has met trouble: patience with that costs the test less, and the others nothing."""

    hurried, offset = 0, 0.0

    def hurry(self) -> None:
        """From now on, for the take whose thread asks."""
        self.hurried, self.offset = threading.get_ident(), super().now() * (1 - HURRY)

    def now(self) -> float:
        return super().now() * HURRY + self.offset if threading.get_ident() == self.hurried else super().now()


class PanelEvents(unittest.TestCase):
    def test_fingers_have_slots_and_ids_of_their_own(self) -> None:
        panel = Panel()
        lines = panel.listen()
        for action, finger in (("down", 0), ("down", 1), ("move", 0), ("up", 0), ("up", 1), ("move", 7)):
            panel.touch(action, finger, 10, 20, 1.0)
        heard = []
        while not lines.empty():
            heard.append(lines.get().split()[-2:])
        codes = [(code, value) for code, value in heard if code in ("ABS_MT_SLOT", "ABS_MT_TRACKING_ID", "BTN_TOUCH")]
        self.assertEqual(
            codes,
            [
                ("ABS_MT_TRACKING_ID", "00000001"),
                ("BTN_TOUCH", "DOWN"),
                ("ABS_MT_SLOT", "00000001"),
                ("ABS_MT_TRACKING_ID", "00000002"),
                ("ABS_MT_SLOT", "00000000"),
                ("ABS_MT_TRACKING_ID", "ffffffff"),
                ("ABS_MT_SLOT", "00000001"),
                ("ABS_MT_TRACKING_ID", "ffffffff"),
                ("BTN_TOUCH", "UP"),
            ],
        )

    def test_hebrew_is_painted_from_the_right_with_its_numbers_kept(self) -> None:
        self.assertEqual(visual("Hive 12"), "Hive 12")
        self.assertEqual(visual("אב 12 ג"), "ג 12 בא")
