from copione.model.portrait import Portrait
from copione.model.step import Step, Target
from copione.recognition.phrases import Interpreter

from ..benches import LabCase, named

GERMAN = {"Save inspection": "Durchsicht speichern", "Today": "Heute", "Hives": "Völker"}


class Phrases(LabCase):
    def test_targets_and_values_are_said_in_the_devices_language_and_what_is_typed_is_not(self) -> None:
        said = Interpreter(GERMAN)
        target = Target("item", "Hive 7", Target("list", "Hives"))
        self.assertEqual(said.step(Step("find", target)).key(), 'item "Hive 7" in list "Völker"')
        self.assertEqual(said.step(Step("check", Target("label", "x"), "Today", "reads")).value, "Heute")
        self.assertEqual(said.step(Step("type", Target("field", "x"), "Today")).value, "Today")

    def test_a_portrait_is_told_once_and_stays_the_same_element(self) -> None:
        screen = self.screen("Alder 5", "form")
        portrait = Portrait(screen, named(screen, "button", "Save inspection").row)
        said = Interpreter(GERMAN)
        told, again = said.portrait(portrait), said.portrait(portrait)
        self.assertEqual((told.element.name, told.element.id), ("Durchsicht speichern", "save_inspection"))
        self.assertIs(told.screen, again.screen)
        self.assertIs(Interpreter({}).portrait(portrait), portrait)
