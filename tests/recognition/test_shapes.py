import unittest

from copione.model.geometry import Box
from copione.recognition.pictures import decode
from copione.recognition.shapes import shapes_in
from copione_lab.kiln_book import KilnBook
from copione_lab.model import load_models
from copione_lab.phone import Phone
from copione_lab.toolkit.node import Node

NEAR = 3.0  # dp


class Shapes(unittest.TestCase):
    def test_controls_are_where_the_app_drew_them(self) -> None:
        """On three densities and two platforms: every plate, switch and slider of a form, and nothing else of that kind."""
        for model in load_models():
            if model.name not in {"Alder 5", "Plateau 10", "Kestrel S"}:
                continue
            phone = Phone(model)
            phone.launch(KilnBook.package)
            page = phone.frame().page
            next(node for node in page.walk() if node.id == "new_firing").on_tap()
            phone.text("")  # nothing has the focus, and the page is laid out anew
            drawn = {node.id: node for node in phone.frame().page.walk() if node.id}
            picture = decode(phone.png(), phone.width)
            assert picture is not None
            found = shapes_in(picture)
            for id in ("load", "glaze", "note", "save_firing", "air_oxidation", "air_neutral", "air_reduction"):
                self.assertTrue(any(self.same(plate.box, drawn[id]) for plate in found.plates), (model.name, id))
            self.assertEqual([self.same(pill.box, drawn["cones"]) and not pill.right for pill in found.pills], [True], model.name)
            self.assertEqual([round(track.share, 1) for track in found.tracks], [0.5], model.name)
            (choice,) = [plate for plate in found.plates if self.same(plate.box, drawn["glaze"])]
            (field,) = [plate for plate in found.plates if self.same(plate.box, drawn["load"])]
            self.assertEqual((choice.right_mark, field.right_mark), (True, False))

    def same(self, box: Box, node: Node) -> bool:
        return all(abs(a - b) <= NEAR for a, b in zip(box, node.box, strict=True))
