import json
import os
import pty
import shutil
import socket
import subprocess
import sys
from pathlib import Path
from unittest import mock

from click.testing import CliRunner, Result
from lxml import etree

from copione.cli import main

from .benches import EXAMPLE, SERIALS, LabCase

FIELDS = ["device", "row", "step", "words", "line", "verb", "target", "outcome", "by", "seconds", "reason", "address", "file"]


class CommandLine(LabCase):
    def setUp(self) -> None:
        super().setUp()
        shutil.copytree(EXAMPLE, self.scratch / "project", ignore=shutil.ignore_patterns("runs", "recordings"))
        self.script = self.scratch / "project" / "scripts" / "spring-inspection.copione"

    def say(self, *words: object) -> Result:
        adb = ["--adb", f"127.0.0.1:{self.face.port}"] if words[0] in ("replay", "devices") and "--adb" not in words else []
        return CliRunner().invoke(main, [*map(str, words), *adb])

    def quick(self, *steps: str) -> Path:
        path = self.script.with_name("quick.copione")
        lines = "\n    ".join(steps)
        path.write_text(f'script "Quick"\napp hive-diary\npatience 0.2 s\nscene "One"\n    {lines}\n', "utf-8")
        return path

    def test_0_when_all_held_with_junit_and_archive_where_asked(self) -> None:
        out, junit = self.scratch / "out", self.scratch / "deep" / "junit.xml"
        said = self.say("replay", self.script, "--on", "all", "--out", out, "--junit", junit)
        self.assertEqual(said.exit_code, 0, said.output)
        self.assertIn("Nothing differs between the devices.", said.stdout)
        self.assertEqual(len(etree.parse(str(junit)).findall("testsuite")), 3)
        (run,) = out.iterdir()
        report = self.say("report", run)
        self.assertEqual(report.exit_code, 0)
        self.assertIn("<html", (run / "report.html").read_text("utf-8"))

    def test_3_when_something_differs_and_json_has_a_line_a_step(self) -> None:
        said = self.say("replay", self.quick("launch afresh", 'tap button "Hvies"', "press back"), "--on", "Wren mini", "alder 5", "--json")
        self.assertEqual(said.exit_code, 3)
        told = [json.loads(line) for line in said.stdout.splitlines()]
        costs, told = [line["costs"] for line in told if "costs" in line], [line for line in told if "costs" not in line]
        self.assertEqual({cost["device"] for cost in costs}, {"Wren mini", "Alder 5"})
        lines = [line for line in told if "finding" not in line]
        self.assertTrue(all(list(line) == FIELDS for line in lines))
        (finding,) = [line["finding"] for line in told[len(lines) :]]
        self.assertEqual((finding["kind"], finding["about"], finding["line"], finding["untried"]), ("stuck", "missing", 6, 2))
        self.assertEqual((finding["devices"], finding["passing"], finding["unknown"]), (["Wren mini", "Alder 5"], [], []))
        self.assertEqual({(r["device"], r["step"]): r["outcome"] for r in lines}["Wren mini", 2], "stuck")
        self.assertEqual({r["device"] for r in lines}, {"Wren mini", "Alder 5"})

    def test_runs_are_held_together_and_their_index_is_made_anew(self) -> None:
        quick = self.quick("launch afresh", 'tap button "Hives"')
        for step in ('tap button "Hives"', 'check text "Nothing of the kind" is shown'):
            quick = self.quick("launch afresh", 'tap button "Hives"', step) if "check" in step else quick
            self.say("replay", quick, "--on", "Alder 5")
        runs = sorted(p for p in (quick.parent.parent / "runs").iterdir() if p.is_dir())
        said = self.say("compare", *runs)
        self.assertEqual(said.exit_code, 3, said.output)
        self.assertIn("New: 1\n  “Nothing of the kind” is missing on Alder 5", said.stdout)
        back = self.say("compare", *reversed(runs), "--json")
        self.assertEqual(
            (back.exit_code, [list(json.loads(line)) for line in back.stdout.splitlines()]),
            (0, []),
            "a step that a script has no more is not gone",
        )
        self.assertIn("2 runs in", self.say("reindex", quick.parent.parent).stdout)

    def test_unknown_faults_models_and_folders_are_told_with_the_known_ones(self) -> None:
        def fault(words: str) -> str:
            (self.scratch / "faults").mkdir(exist_ok=True)
            (self.scratch / "faults" / "one.toml").write_text(words, "utf-8")
            said = self.say("lab", "--list-faults", "--faults", self.scratch / "faults")
            self.assertEqual(said.exit_code, 2)
            return said.stderr

        self.assertIn("there is no kind 'tinier'; there are added,", fault('kind = "tinier"\nmodels = ["alder-5"]'))
        self.assertIn("there is no model 'alder'; there are alder-5,", fault('kind = "crash"\nmodels = ["alder"]'))
        self.assertIn("there is no key 'where_at'", fault('kind = "crash"\nwhere_at = 1'))
        self.assertIn("tiny needs page", fault('kind = "tiny"\nmodels = ["alder-5"]'))
        self.assertIn("there is no folder", self.say("replay", self.script, "--on", "all", "--lab", "--models", "/nowhere").stderr)
        self.assertIn("give --lab too", self.say("replay", self.script, "--on", "all", "--pace", "real").stderr)

    def test_at_a_terminal_an_adb_server_that_is_not_there_is_offered(self) -> None:
        """Asked at a terminal alone; the answer is taken, and adb itself starts."""
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = str(probe.getsockname()[1])
        places = {f"XDG_{name}_HOME": str(self.scratch / name) for name in ("STATE", "CONFIG")}
        environment = {**os.environ, **places, "ANDROID_ADB_SERVER_PORT": port}
        command = [sys.executable, "-m", "copione", "devices"]
        self.addCleanup(subprocess.run, ["adb", "-P", port, "kill-server"], capture_output=True)
        silent = subprocess.run(command, env=environment, capture_output=True, text=True, stdin=subprocess.DEVNULL, check=False)
        self.assertEqual(silent.returncode, 1)
        self.assertIn("No adb server answers", silent.stderr)
        for answer, code, words in (("n", 1, "No adb server answers"), ("y", 0, "No device is connected.")):
            hand, terminal = pty.openpty()
            with subprocess.Popen(
                command, env=environment, stdin=terminal, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
            ) as asked:
                os.close(terminal)
                os.write(hand, f"{answer}\n".encode())
                said = asked.communicate(timeout=60)[0]
            os.close(hand)
            self.assertEqual(asked.returncode, code, said)
            self.assertIn("Start it?", said)
            self.assertIn(words, said)

    def test_1_with_a_sentence_when_it_could_not_run(self) -> None:
        broken = self.script.with_name("broken.copione")
        broken.write_text('script "a"\nscene "b"\n    tpa button "x"\n', "utf-8")
        self.lab.set_state(SERIALS["Wren mini"], "unauthorized")
        table = [
            (("replay", broken, "--on", "all"), ["has a problem; nothing was run", "line 3, column 5", "^^^", "Did you mean tap?"]),
            (("replay", self.script.with_name("none.copione"), "--on", "all"), ["There is no file"]),
            (("replay", self.script, "--on", "Moth 2"), ["No device is called Moth 2. Ready: Alder 5, Plateau 10."]),
            (("replay", self.script, "--on", "Wren mini"), ["No device is called Wren mini"]),
            (("replay", self.script, "--on", SERIALS["Wren mini"]), ["not approved on the phone. Unlock the phone"]),
            (("replay", self.script, "--on", "all", "--adb", "127.0.0.1:1"), ["No adb server answers", "adb start-server"]),
            (("devices", "--adb", "127.0.0.1:1"), ["No adb server answers"]),
            (("lint", broken), ["No step begins with tpa."]),
            (("report", self.scratch), ["There is no file"]),
        ]
        for words, expected in table:
            with self.subTest(words[0]):
                said = self.say(*words)
                self.assertEqual(said.exit_code, 1, said.output)
                for part in expected:
                    self.assertIn(part, said.stderr)

    def test_1_when_no_take_could_begin(self) -> None:
        self.lab.phones[SERIALS["Alder 5"]].uninstall("org.example.hive_diary")
        said = self.say("replay", self.script, "--on", "Alder 5")
        self.assertEqual(said.exit_code, 1)
        self.assertIn("is not installed on Alder 5", said.output)

    def test_2_when_used_wrongly(self) -> None:
        for words in (("replay", self.script), ("replay",), ("nosuch",), ("devices", "--adb", "here")):
            self.assertEqual(self.say(*words).exit_code, 2)

    def test_damaged_portraits_are_said_and_done_without(self) -> None:
        self.script.with_name("spring-inspection.portraits.json").write_text("{", "utf-8")
        said = self.say("replay", self.script, "--on", "Alder 5", "--json")
        self.assertIn("is damaged and was left alone", said.stderr)
        (undone,) = [r for r in map(json.loads, said.stdout.splitlines()) if r.get("outcome", "held") not in {"held", "adapted"}]
        self.assertEqual((said.exit_code, undone["reason"]), (3, "no picture of it was recorded"))

    def test_devices_in_words_and_as_json(self) -> None:
        self.lab.set_state(SERIALS["Wren mini"], "offline")
        said = self.say("devices")
        self.assertIn("Alder 5: Android 14, 412 x 892 dp, text 100%, en-GB", said.stdout)
        self.assertIn("offline. Unplug the cable", said.stdout)
        facts = [json.loads(line) for line in self.say("devices", "--json").stdout.splitlines()]
        self.assertEqual([f["state"] for f in facts], ["ready", "offline", "ready"])
        for serial in SERIALS.values():
            self.lab.unplug(serial)
        self.assertIn("No device is connected.", self.say("devices").stdout)
        self.assertEqual(self.say("replay", self.script, "--on", "all").exit_code, 1)

    def test_many_takes_are_told_a_line_each(self) -> None:
        (self.scratch / "project" / "data" / "hives.csv").write_text("hive,frames,note\nHive 3,2,a\nHive 4,9,b\n", "utf-8")
        said = self.say("replay", self.script, "--on", "all", "--out", self.scratch / "out")
        self.assertEqual(said.exit_code, 0, said.output)
        self.assertEqual(said.stdout.count("row 2"), 3)
        self.assertIn("15 held", said.stdout)

    def test_endpoints_are_kept_and_forgotten(self) -> None:
        with mock.patch.dict("os.environ", {"XDG_CONFIG_HOME": str(self.scratch)}):
            self.assertIn("No endpoint is kept", self.say("endpoints").stdout)
            self.assertIn(
                "is kept", self.say("endpoints", "add", "http://10.0.0.7:4444/", "--name", "Wall", "--header", "X-Bench=4").stdout
            )
            self.assertIn("is no address", self.say("endpoints", "add", "my phone").stderr)
            self.assertIn("This is not JSON", self.say("endpoints", "add", "http://a:1", "--capabilities", "{").stderr)
            self.assertIn("is not among", self.say("endpoints", "remove", "http://nowhere").stderr)
            self.assertIn("Wall", self.say("devices").stdout)
            self.say("endpoints", "copy", "Wall", "Door")
            self.assertEqual(self.say("endpoints").stdout, "Wall: http://10.0.0.7:4444, not used\nDoor: http://10.0.0.7:4444\n")
            self.say("endpoints", "use", "Wall")
            self.assertEqual(json.loads(self.say("endpoints", "show", "Door").stdout)["headers"], {"X-Bench": "4"})
            self.say("endpoints", "remove", "Door")
            self.assertIn("not kept any more", self.say("endpoints", "remove", "http://10.0.0.7:4444").stdout)
            self.assertIn("No endpoint", self.say("endpoints").stdout)

    def test_lint_and_format_go_through_folders(self) -> None:
        broken = self.script.with_name("broken.copione")
        broken.write_text('script "a"\nscene "b"\n  click button "x"\n   launch   afresh\n', "utf-8")
        (self.scratch / "project" / "put-aside").mkdir()
        broken.with_name("gone").mkdir()
        (self.scratch / "project" / "put-aside" / "old.copione").write_text("nonsense", "utf-8")
        (broken.with_name("gone") / "round").symlink_to(self.scratch / "project")  # a way in a circle
        said = self.say("lint", self.scratch / "project", "--json")
        self.assertEqual(said.exit_code, 1)
        (told,) = map(json.loads, said.stdout.splitlines())
        self.assertEqual((Path(told["file"]).name, told["line"], told["column"]), ("broken.copione", 3, 3))
        self.assertEqual(told["message"], "No step begins with click. Did you mean tap?")
        self.assertEqual(self.say("lint", self.script, "--json").stdout, "")
        self.assertEqual(self.say("format", self.scratch / "project", "--check").exit_code, 1)
        self.assertEqual(self.say("format", self.scratch / "project").stdout, f"Changed: {broken}\n")
        self.assertEqual(broken.read_text("utf-8"), 'script "a"\nscene "b"\n  click button "x"\n    launch afresh\n')
        self.assertEqual(self.say("format", self.scratch / "project", "--check").exit_code, 0)
        self.assertEqual(self.say("lint", broken.with_name("gone") / "none").exit_code, 1)

    def test_lint_counts_what_is_there(self) -> None:
        self.assertIn("15 steps in 3 scenes, no problems", self.say("lint", self.script).stdout)

    def test_the_lab_is_started_and_ended_by_one_command(self) -> None:
        said = self.say("devices", "--lab")
        self.assertEqual(said.exit_code, 0)
        self.assertEqual((said.stdout.count("Android"), said.stdout.count("iOS")), (9, 4))


class Starting(LabCase):
    def test_heavy_packages_are_imported_where_first_used(self) -> None:
        heavy = ("cv2", "PIL", "PySide6", "jinja2", "matplotlib", "copione_lab")
        code = f"import sys, copione.cli; print([m for m in {heavy} if m in sys.modules])"
        out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
        self.assertEqual(out.strip(), "[]")
