import unittest
from dataclasses import replace

from copione.model.portrait import Portrait, Sighting
from copione.model.screen import Flag, Screen
from copione.model.target import Target
from copione.project.project import Project
from copione.recognition.ease import advice, ease, without_ids
from copione.recognition.phrases import Interpreter
from copione.recognition.sighting import sight
from copione.screens.android import read_android
from copione.screens.native import read_native
from copione_lab.model import Model, load_models
from copione_lab.phone import Phone

from ..benches import APP, EXAMPLE


def tasks(model: Model, build: str = "2.4") -> Screen:
    """The page of rows that say the same under the headings of different hives."""
    phone = Phone(model, build=build)
    phone.launch(APP)
    phone._app(APP).go("tasks")
    phone._changed()
    if model.platform == "android":
        return read_android(phone.dump(), model.width_px, model.height_px, model.dpi)
    return read_native(phone.source(), phone.width, phone.height)


class Lookalikes(unittest.TestCase):
    def test_each_row_is_the_right_one_or_none_on_every_model(self) -> None:
        models = load_models()
        home = tasks(models[0])
        project = Project(EXAMPLE)
        rights = 0
        for model in models:
            book = Interpreter(project.phrases(model.locale))
            for build in ("2.4", "2.5"):
                for change in (lambda screen: screen, without_ids):
                    there = change(tasks(model, build))
                    theirs = [e.row for e in there if e.role == "switch"]
                    for number, switch in enumerate(e for e in home if e.role == "switch"):
                        portrait = book.portrait(Portrait(change(home), switch.row))
                        found = sight(there, Target("", ""), (), (portrait,))
                        if isinstance(found, Sighting):
                            self.assertEqual(found.element.row, theirs[number], (model.key, build, number))
                            rights += 1
        self.assertGreater(rights, 0.9 * 5 * 2 * 2 * len(models))

    def test_one_whose_heading_is_gone_is_not_its_twin(self) -> None:
        home = tasks(load_models()[0])
        switches = [e for e in home if e.role == "switch"]
        texts = tuple("Something else" if words == "Hive 8" else words for words in home.texts)
        names = tuple("Something else" if words == "Hive 8" else words for words in home.names)
        changed = replace(home, texts=texts, names=names)
        for number in (2, 3):
            found = sight(changed, Target("", ""), (), (Portrait(home, switches[number].row),))
            self.assertFalse(isinstance(found, Sighting) and found.element.row != switches[number].row)

    def test_bars_and_advice_tell_what_is_wanting(self) -> None:
        home = tasks(load_models()[0])
        switch = next(e for e in home if e.role == "switch")
        self.assertLess(ease(switch), 3)
        self.assertIn("Others on this screen say the same", advice(switch))
        title = next(e for e in home if e.id == "toolbar_title")
        self.assertEqual((ease(title), advice(title)), (3, ""))
        self.assertTrue(switch.has(Flag.CHECKABLE))
