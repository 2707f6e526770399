from dataclasses import replace

from copione.language.parser import parse_line
from copione.language.printer import step_words
from copione.model.action import Check, Find, Type
from copione.model.portrait import Portrait, Sighting
from copione.model.relation import Reads
from copione.model.step import Step
from copione.model.target import Target
from copione.recognition.phrases import Interpreter
from copione.replay.evidence import WantedTarget
from copione.replay.found import sight_on

from ..benches import LabCase, named

GERMAN = {"Save inspection": "Durchsicht speichern", "Today": "Heute", "Hives": "Völker"}


class Phrases(LabCase):
    def test_targets_and_values_are_said_in_the_devices_language_and_what_is_typed_is_not(self) -> None:
        said = Interpreter(GERMAN)
        target, field = Target("item", "Hive 7", Target("list", "Hives")), Target("field", "x")
        self.assertEqual(said.step(Step(Find(target))).key(), 'item "Hive 7" in list "Völker"')
        self.assertEqual(said.step(Step(Check(field, Reads("Today")))).action.relation, Reads("Heute"))
        self.assertEqual(said.step(Step(Type(field, "Today"))).action.text, "Today")

    def test_no_keyword_is_ever_translated(self) -> None:
        """A book that holds every word of the language changes only what the app says."""
        keywords = ("on", "off", "back", "home", "enter", "landscape", "up", "onto", "afresh", "selected", "enabled")
        said = Interpreter({word: f"das {word}" for word in keywords})
        lines = ("press back", "press home", "turn landscape", 'swipe up on list "x"', 'switch on "x"', 'check tab "x" is selected')
        for line in (*lines, 'drag item "x" onto item "y"', "launch afresh", 'note "back"', 'keep label "x" as {on}'):
            step = parse_line(line, 1)[0]
            self.assertEqual(said.step(step), step, line)
        step = parse_line('check label "on" reads "off"', 1)[0]
        self.assertEqual(step_words(said.step(step)), 'check label "das on" reads "das off"')

    def test_a_portrait_is_told_once_and_stays_the_same_element(self) -> None:
        screen = self.screen("Alder 5", "form")
        portrait = Portrait(screen, named(screen, "button", "Save inspection").row)
        said = Interpreter(GERMAN)
        told, again = said.portrait(portrait), said.portrait(portrait)
        self.assertEqual((told.element.name, told.element.id), ("Durchsicht speichern", "save_inspection"))
        self.assertIs(told.screen, again.screen)
        self.assertIs(Interpreter({}).portrait(portrait), portrait)

    def test_a_systems_dialog_is_answered_in_whatever_language_it_asks(self) -> None:
        form = self.screen("Alder 5", "form")
        cases = {
            "While using the app": "Bei Nutzung der App",
            "Don’t Allow": "Ablehnen",
            "Autoriser une fois": "Only this time",
            "Save inspection": "Save inspection",
        }
        for said, here in cases.items():
            names = tuple(here if name == "Save inspection" else name for name in form.names)
            for app in ("com.android.permissioncontroller", "org.example.hive_diary"):
                asked = replace(form, app=app, names=names, texts=names)
                found = sight_on(asked, WantedTarget(Target("button", said)))
                self.assertEqual(isinstance(found, Sighting), app.startswith("com.") or said == here, (said, app))
