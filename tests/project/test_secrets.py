import base64
import json
import os
import re
import shlex
import shutil
import tempfile
import unittest
from dataclasses import replace
from itertools import pairwise
from pathlib import Path
from unittest import mock
from urllib.parse import quote_plus

from click.testing import CliRunner

from copione.cli.main import main
from copione.model.action import Start
from copione.model.screen import Flag
from copione.model.secrecy import Redactor, too_short
from copione.project.project import Project
from copione.recognition.pictures import decode
from copione.recognition.text import texts
from copione.recording.session import Session
from copione.replay.performers import PERFORMERS
from copione.touch import making
from copione_lab import shell
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.webdriver import WebDriverServer
from copione_lab.model import Fault, load_models
from copione_lab.phone import Phone

from ..benches import APP, EXAMPLE, LabCase, named, reads_pictures

SECRET = "Honey & comb 7/9"
LETTERS = "bumblebee"  # a secret that a reader of pictures reads well
SCRIPT = """script "Sign in"
app hive-diary
patience 3 s
needs password secret

scene "One"
    launch afresh
    tap button "Settings"
    tap button "Sign in"
    type {password} into field "Name"
    check field "Name" reads "nobody"
    type {password} into field "Password"
    tap button "Sign in"
    check text "Signed in" is shown
    check text "Your password is {password}" is shown
    keep text "Your password is {password}" as {told}
    check button "Sign in" reads {told}
    check text "{password}" is not shown
"""


def traces(secret: str) -> list[bytes]:
    """The bytes that must be nowhere."""
    data = secret.encode()
    words = [secret, quote_plus(secret), data.hex(), repr(secret)[1:-1], secret.replace("&", "&amp;")]
    words += [base64.b64encode(b"keeper:" + data).decode()[12:-4], base64.b64encode(data).decode()[:-4]]
    return [*(word.encode() for word in words), secret.encode("utf-16-le"), secret.encode("utf-16-be")]


def found_in(said: bytes, secret: str) -> list[bytes]:
    """Traces in some bytes, also over the ends of lines, whatever stands before the text of each."""
    lines = said.split(b"\n")
    across = [one.strip() + re.sub(rb"^.{0,60}?: ", b"", two).strip() for one, two in pairwise(lines)]
    return [t for t in traces(secret) if t.lower() in said.lower() or any(t.lower() in line.lower() for line in across)]


class Hunt(LabCase):
    """An app that tells its secret in every way; then a hunt through all that is left behind."""

    def setUp(self) -> None:
        super().setUp()
        self.project = self.scratch / "project"
        shutil.copytree(EXAMPLE, self.project, ignore=shutil.ignore_patterns("runs", "recordings", "scripts"))
        models = [m for m in load_models() if m.name in {"Alder 5", "Kestrel S"}]
        fault = Fault("tells-secret", "tells-secret", tuple(m.key for m in models), "")
        talkative = LabBench(models, [fault])
        self.lab.phones.clear()
        self.lab.phones.update(talkative.phones)
        self.lab._states = dict.fromkeys(talkative.phones, "device")
        self.web = self._stack.enter_context(WebDriverServer(self.lab))

    def left_behind(self, secret: str, *said: str) -> dict[str, list[bytes]]:
        bad = {str(i): found_in(words.encode("utf-8", "surrogateescape"), secret) for i, words in enumerate(said)}
        for path in self.scratch.rglob("*"):
            if path.is_file():
                bad[str(path)] = found_in(path.read_bytes(), secret)
        return {where: which for where, which in bad.items() if which}

    def replay(self, secret: str, *more: str) -> str:
        script = self.project / "scripts" / "sign-in.copione"
        script.parent.mkdir(exist_ok=True)
        script.write_text(SCRIPT, "utf-8")
        ways = [f"--endpoint={each}" for each in self.web.endpoints]
        with mock.patch.dict(os.environ, {"COPIONE_PASSWORD": secret}):
            given = ["replay", str(script), "--on", "all", f"--adb=127.0.0.1:{self.face.port}", *ways, f"--junit={self.scratch / 'a.xml'}"]
            done = CliRunner().invoke(main, [*given, *more])
        self.assertEqual(done.exit_code, 3, done.output)
        run = next((self.project / "runs").iterdir())
        CliRunner().invoke(main, ["report", str(run)])
        return done.output

    def test_a_run_leaves_no_trace_of_it_in_files_reports_or_the_terminal(self) -> None:
        said = self.replay(SECRET)
        self.assertIn("held", said)
        self.assertEqual(self.left_behind(SECRET, said), {})
        log = b"".join(path.read_bytes() for path in self.project.rglob("device.log"))
        self.assertIn(b"signing in with {password}", log)
        steps = b"".join(path.read_bytes() for path in self.project.rglob("steps.jsonl"))
        self.assertIn(b"expected reads", steps)
        trees = [path.read_bytes() for path in self.project.rglob("trees/*.xml")]
        self.assertTrue(any(b"Your password is {password}" in tree for tree in trees))

    @reads_pictures
    def test_no_picture_shows_it_to_a_reader(self) -> None:
        self.lab.unplug("LABKESTRELS")
        self.replay(LETTERS, "--json")
        pictures = [path.read_bytes() for path in sorted(self.project.rglob("shots/*.png"))]
        for png in dict.fromkeys(pictures[-20:]):
            picture = decode(png, 400)
            assert picture is not None
            self.assertNotIn(LETTERS, "".join(words.text.casefold() for words in texts(picture)))

    def test_a_phone_that_echoes_it_in_an_error_and_a_crash_of_the_program_tell_nothing(self) -> None:
        def crash(context: object, action: object) -> None:
            raise RuntimeError(f"no way to type {SECRET}")

        action = next(kind for kind in PERFORMERS if kind.__name__ == "Type")
        with mock.patch.dict(PERFORMERS, {action: crash}):
            said = self.replay(SECRET)
        self.assertIn("no way to type {password}", said)
        self.assertEqual(self.left_behind(SECRET, said), {})
        shutil.rmtree(self.project / "runs")

        def echo(phone: Phone, words: list[str]) -> tuple[bytes, int]:
            return (f"Exception: cannot type {' '.join(words)}\n".encode(), 255) if words[0] == "text" else shell._input(phone, words)

        with mock.patch.dict(shell.COMMANDS, {"input": echo}):
            said = self.replay(SECRET)
        self.assertIn("cannot type", said)
        self.assertEqual(self.left_behind(SECRET, said), {})

    def test_a_recording_leaves_no_trace_of_it(self) -> None:
        secret = "honey7comb"
        session = Session(self.link(), Project(self.project), APP)

        def tap(role: str, name: str) -> None:
            session.touch([making.tap(*named(session.moment.screen, role, name).box.centre)])

        session.launch(Start.AFRESH)
        for role, name in (("button", "Settings"), ("button", "Sign in"), ("textbox", "Name")):
            tap(role, name)
        session.type("keeper")
        tap("textbox", "Password")
        for letter in secret:
            session.type(letter)
        tap("button", "Sign in")
        tap("text", "Signed in")
        path = session.save("Signed in")
        self.assertIn('type {password} into field "Password"', path.read_text("utf-8"))
        self.assertEqual(self.left_behind(secret), {})

    def session(self) -> Session:
        session = Session(self.link(), Project(self.project), APP)
        self.addCleanup(session.stop_journal)
        session.launch(Start.AFRESH)
        for role, name in (("button", "Settings"), ("button", "Sign in")):
            self.tap(session, role, name)
        return session

    def tap(self, session: Session, role: str, name: str) -> None:
        session.touch([making.tap(*named(session.moment.screen, role, name).box.centre)])

    def test_each_password_is_one_of_its_own_also_corrected_and_typed_plainly_before(self) -> None:
        for phone in self.lab.phones.values():
            phone.spoilt = ()
        session = self.session()
        self.tap(session, "textbox", "Name")
        session.type("waxmoth77")  # plainly: it is known as a secret only later
        self.tap(session, "textbox", "Password")
        for letter in "hunterr":
            session.type(letter)
        session.erase()
        session.type("5")
        self.assertEqual(session.recording.steps[-1].step.action.text, "{password}")
        redactor = session.project.redactor
        self.assertEqual(redactor.words("hunter5"), "{password}")
        self.assertTrue(found_in(b"".join(p.read_bytes() for p in session.folder.rglob("*") if p.is_file()), "waxmoth77"))
        self.tap(session, "textbox", "Name")
        screen = session.moment.screen
        flags = screen.flags.copy()
        flags[named(screen, "textbox", "Name").row] |= Flag.PASSWORD
        session._moment = replace(session.moment, screen=replace(screen, flags=flags))  # another field that hides what is typed
        session.type("waxmoth77")
        self.assertEqual(redactor.words("waxmoth77"), "{password_2}")
        self.tap(session, "button", "Sign in")
        path = session.save("Signed in")
        self.assertIn("needs password secret\n", path.read_text("utf-8"))
        for secret in ("hunter5", "waxmoth77"):
            self.assertEqual(self.left_behind(secret), {})

    def test_what_a_password_field_gets_is_secret_whatever_it_is_called_and_cleaned_from_what_was_written(self) -> None:
        script = self.project / "scripts" / "sign-in.copione"
        script.parent.mkdir(exist_ok=True)
        before = 'needs pin\nneeds user = "anna"\npatience 3 s'
        steps = SCRIPT.replace("needs password secret\n", "").replace("patience 3 s", before).replace("{password}", "{pin}")
        script.write_text(steps, "utf-8")
        ways = [f"--endpoint={each}" for each in self.web.endpoints]
        given = ["replay", str(script), "--on", "all", f"--adb=127.0.0.1:{self.face.port}", *ways, f"--junit={self.scratch / 'a.xml'}"]
        done = CliRunner().invoke(main, [*given, f"--set=pin={SECRET}"])
        self.assertEqual(done.exit_code, 3, done.output)
        self.assertEqual(self.left_behind(SECRET), {})
        self.assertIn(b'"pin": "{pin}"', b"".join(path.read_bytes() for path in self.project.rglob("run.json")))


class Environment(unittest.TestCase):
    def test_a_script_gets_what_is_meant_for_it_and_nothing_of_the_users_own(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        head = 'script "A"\nneeds user = "anna"\nneeds lang\nneeds token secret\nneeds key secret\n'
        (folder / "a.copione").write_text(head + 'scene "One"\n    note "{AWS_SECRET_ACCESS_KEY} {user} {lang} {token} {key}"\n', "utf-8")
        mine = {"AWS_SECRET_ACCESS_KEY": "aaaa", "USER": "uuuu", "LANG": "llll", "TOKEN": "tttt", "KEY": "kkkk", "COPIONE_USER": "cccc"}
        with mock.patch.dict(os.environ, {**mine, "XDG_CONFIG_HOME": str(folder)}):
            loaded = Project(folder).load(folder / "a.copione")
            self.assertEqual((loaded.secrets, loaded.values, loaded.takes[0]["user"]), ({}, {}, "anna"))
            self.assertIn("{AWS_SECRET_ACCESS_KEY} has no value", " ".join(p.message for p in loaded.problems()))
            (folder / "copione").mkdir()
            (folder / "copione" / "environment.toml").write_text('allowed = ["KEY", "LANG"]\n', "utf-8")
            with mock.patch.dict(os.environ, {"COPIONE_TOKEN": "mmmm"}):
                self.assertEqual(Project(folder).load(folder / "a.copione").secrets, {"token": "mmmm", "key": "kkkk"})


class Shapes(unittest.TestCase):
    def test_what_cannot_be_hidden_is_told(self) -> None:
        self.assertEqual(too_short({"pin": "123", "password": "1234", "none": ""}), ["pin"])
        with tempfile.TemporaryDirectory() as scratch, mock.patch.dict(os.environ, {"COPIONE_PASSWORD": "abc"}):
            script = Path(scratch) / "a.copione"
            script.write_text(SCRIPT, "utf-8")
            self.assertIn("fewer than 4 characters", " ".join(Project(Path(scratch)).load(script).notes))

    def test_every_shape_becomes_its_variable_and_other_words_stay(self) -> None:
        redactor = Redactor({"password": SECRET})
        for shape in (SECRET, quote_plus(SECRET), SECRET.encode().hex().upper(), json.dumps({"a": SECRET}), shlex.quote(SECRET)):
            self.assertEqual(found_in(redactor.words(f"before {shape} after").encode(), SECRET), [])
        for before in ("", "a", "ab", "keeper:"):
            packed = base64.b64encode((before + SECRET + "and so on").encode())
            self.assertEqual(found_in(redactor.bytes(packed), SECRET), [])
        self.assertEqual(redactor.bytes(SECRET.encode("utf-16-le")).strip(b"\0"), b"{password}")
        for said in ("", "honey", "a page of words\nand another", "Honey and comb 79"):
            self.assertEqual(redactor.words(said), said)
        self.assertEqual(redactor.words(f"12: App: {SECRET[:7]}\n13: App: {SECRET[7:]}"), "12: App: {password}")


if __name__ == "__main__":
    unittest.main()
