"""What a keyboard does to a step: it hides what is typed into, and the way back closes it on some devices only."""

import contextlib
from unittest import mock

from copione.language.printer import step_words
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.links.webdriver.link import WebDriverLink
from copione.model import remark_kinds as kinds
from copione.model.action import Key, Start
from copione.model.clock import SteppedClock
from copione.model.outcome import Outcome
from copione.recording.session import Session
from copione.replay.run import Run
from copione.touch.making import tap
from copione_lab.bench import Bench as Lab
from copione_lab.faces.webdriver import WebDriverServer
from copione_lab.model import load_models

from ..benches import APP, SERIALS, Heard, named
from .test_take import RunCase


class Typing(RunCase):
    def test_a_field_that_the_keyboard_hides_while_one_types_is_remarked_on(self) -> None:
        self.lab.phones[SERIALS["Wren mini"]].faults = frozenset({"keyboard-covers"})
        way = ("launch afresh", 'tap button "Hives"', 'tap item "Hive 2"', 'tap button "New inspection"')
        self.script(*way, 'type "calm" into field "Notes"')
        with mock.patch("copione_lab.keyboard.height", lambda width: 330.0):
            heard = self.run_on(*SERIALS)
        self.assertEqual([r.outcome for each in heard.results.values() for r in each], [Outcome.HELD] * 15)
        (remark,) = heard.remarks
        self.assertEqual((remark.kind, remark.name, remark.take.device), (kinds.HIDDEN, "Notes", "Wren mini"))


class OtherPlatform(RunCase):
    def test_the_way_back_closes_a_keyboard_or_presses_nothing(self) -> None:
        """The same steps on both platforms: the second `press back` leaves the page. Recorded there, it is written twice."""
        lab = Lab([m for m in load_models() if m.name == "Kestrel S"])
        web = WebDriverServer(lab)
        self.addCleanup(web.close)
        bench = Bench(AdbServer(port=9), endpoints=web.endpoints)
        self.addCleanup(bench.close)
        way = ("launch afresh", 'tap button "Settings"', 'tap button "Sign in"', 'type "Ada" into field "Name"')
        self.script(
            *(*way, "hide keyboard", "hide keyboard", 'check field "Name" reads "Ada"', 'tap field "Name"'),
            *("press back", 'check field "Name" reads "Ada"', "press back", 'check page "Settings" is shown'),
        )
        (phone,) = bench.look()
        run = Run(self.project, self.project.load(self.demo), [phone, *self.devices("Alder 5")], heard := Heard(), SteppedClock())
        run.start()
        run.wait()
        self.assertEqual([r.reason for each in heard.results.values() for r in each if not r.outcome.good], [])
        self.assertIn("nothing was pressed", heard.results["Kestrel S"][8].reason)
        with contextlib.closing(WebDriverLink(web.endpoints[0])) as link:
            session = Session(link, self.project, APP)
            session.launch(Start.AFRESH)
            for name in ("Settings", "Sign in", "Name"):
                session.touch([tap(*named(session.look().screen, "textbox" if name == "Name" else "button", name).box.centre)])
            session.type("Ada")
            session.press(Key.BACK)
            self.assertEqual(
                [step_words(s.step) for s in session.recording.steps[-3:]], ['type "Ada" into field "Name"', *["press back"] * 2]
            )
            session.discard()
