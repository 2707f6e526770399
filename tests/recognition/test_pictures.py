import io
import unittest
from dataclasses import replace

import numpy as np
from PIL import Image, ImageDraw

from copione.model.geometry import Box
from copione.model.outcome import Evidence
from copione.model.portrait import NotFound, Portrait, Sighting
from copione.recognition.pictures import Picture, decode, look_for, thing_at, unlike_at_best
from copione.recognition.seeing import by_picture, by_text
from copione.recognition.text import Readings, said_in, texts
from copione_lab.hive_diary.app import HiveDiary  # noqa: F401  (the app is known to the phones)
from copione_lab.model import load_models
from copione_lab.phone import Phone

from ..benches import APP, LabCase, named, reads_pictures


def shown(model: str, place: str, faults: tuple[str, ...] = ()) -> tuple[Picture, dict[str, Box]]:
    """A page as a stand-in paints it, and the boxes of what has an id there."""
    phone = Phone(next(m for m in load_models() if m.name == model), faults)
    phone.launch(APP)
    app = phone._app(APP)
    app.hive = app.hives[2]
    app.go(place)
    phone._changed()
    boxes = {n.id: Box(n.box.left, n.box.top, n.box.right, n.box.bottom) for n in phone.frame().page.walk() if n.id}
    return Picture(np.asarray(phone.picture())[:, :, ::-1].copy(), phone.model.density), boxes


class Decoding(unittest.TestCase):
    def test_pictures_of_every_kind_are_read_as_they_are_and_what_is_none_is_none(self) -> None:
        noise = np.random.default_rng(3).integers(0, 256, (40, 30, 3), np.uint8)
        for mode in ("RGB", "RGBA", "L", "LA", "P", "1"):
            image, out = Image.fromarray(noise).convert(mode), io.BytesIO()
            image.save(out, "PNG")
            picture = decode(out.getvalue(), 15)
            np.testing.assert_array_equal(picture.pixels[:, :, ::-1], np.asarray(image.convert("RGB")), mode)
            self.assertEqual(picture.density, 2.0)
        for broken in (b"", b"PNG", out.getvalue()[:60], out.getvalue().replace(b"IDAT", b"IDXT")):
            self.assertIsNone(decode(broken, 15))


class Looking(unittest.TestCase):
    def test_a_patch_is_found_at_other_densities_and_nowhere_else(self) -> None:
        home, boxes = shown("Alder 5", "hive")
        cases = (
            ("Alder 5", "last_seen", True),
            ("Kestrel S", "last_seen", True),  # narrower
            ("Juniper Fold", "temper", True),  # two panes
            ("Kestrel S", "new_inspection", True),
            ("Plateau 10", "last_seen", True),  # three quarters of the density
        )
        for model, id, found in cases:
            there, places = shown(model, "hive")
            match = look_for(home.cut(boxes[id]).inked(), there)
            self.assertEqual(match is not None and match.sure, found, (model, id, match))
            self.assertTrue(places[id].contains(*match.box.centre), (model, id))
        elsewhere, _ = shown("Alder 5", "tasks")
        match = look_for(home.cut(boxes["last_seen"]).inked(), elsewhere)
        self.assertFalse(match is not None and match.sure)

    def test_one_figure_for_another_is_not_the_same(self) -> None:
        def page(words: str) -> Picture:
            image = Image.new("RGB", (400, 300), "white")
            ImageDraw.Draw(image).text((60, 140), words, fill="black", font_size=28)
            return Picture(np.asarray(image)[:, :, ::-1].copy(), 2.0)

        patch = page("Hive 17").cut(Box(20, 60, 150, 100)).inked()
        self.assertTrue(look_for(patch, page("Hive 17")).sure)
        for other in ("Hive 12", "Hive 77", "Hive 1", "Wire 17"):
            self.assertFalse(look_for(patch, page(other)).sure, other)
        self.assertIsNone(look_for(page("").cut(Box(0, 0, 50, 50)), page("Hive 17")))

    def test_what_a_finger_is_on_is_the_letters_that_stand_together(self) -> None:
        picture, boxes = shown("Alder 5", "scale")
        readings = Readings()
        self.assertFalse(readings.in_time(b"the picture", picture, 0.0), "it is being read, and that takes longer")
        button = boxes["stop_scale"]
        found = thing_at(picture, *button.centre)
        self.assertTrue(button.contains(found.left, found.top) and button.contains(found.right, found.bottom), found)
        self.assertGreater(found.width, 60)
        self.assertEqual(thing_at(picture, 200, 700).width, 56)

    def test_a_picture_is_as_recorded_in_any_layout_and_not_in_another_colour(self) -> None:
        known, boxes = shown("Alder 5", "hive")
        for model in ("Alder 5", "Wren mini", "Juniper Fold", "Moth 2", "Tamarisk"):
            there, places = shown(model, "hive")
            id = "comb_picture" if "comb_picture" in places else "combPicture"
            share = unlike_at_best(known.cut(boxes["comb_picture"]), there.cut(places[id]), 1.5, 0.15)
            self.assertLess(share, 0.01, model)
            wrong, places = shown(model, "hive", ("wrong-picture",))
            self.assertGreater(unlike_at_best(known.cut(boxes["comb_picture"]), wrong.cut(places[id]), 1.5, 0.15), 0.3, model)


class WithoutWords(LabCase):
    """What has neither id nor name in the tree is known by its picture; what has other words there is something else."""

    def test_by_picture(self) -> None:
        screen = self.screen("Alder 5", "settings")
        moment = self.link().moment()
        frame = Picture(np.asarray(Image.open(__import__("io").BytesIO(moment.png)).convert("RGB"))[:, :, ::-1].copy(), 2.0)
        button = named(screen, "button", "More days")
        row = button.row

        def without(**columns: str) -> object:
            return replace(
                screen,
                **{name: tuple(word if i == row else v for i, v in enumerate(getattr(screen, name))) for name, word in columns.items()},
            )

        portrait = Portrait(screen, row)
        bald = without(names="", labels="", texts="", ids="")
        found = by_picture(frame, bald, portrait, frame)
        self.assertIsInstance(found, Sighting)
        self.assertEqual((found.element.row, found.by), (row, (Evidence.PICTURE,)))
        other = without(names="Delete all", labels="Delete all", ids="")
        self.assertIn("Delete all", by_picture(frame, other, portrait, frame).reason)
        self.assertIsInstance(by_picture(frame, bald, portrait, None), NotFound)


@reads_pictures
class Reading(unittest.TestCase):
    def test_text_in_a_picture(self) -> None:
        picture, boxes = shown("Alder 5", "scale")
        readings = Readings()
        self.assertFalse(readings.in_time(b"the picture", picture, 0.0), "it is being read, and that takes longer")
        self.assertRegex(said_in(picture.cut(boxes["scale_kg"])), r"^34\.\d.* kg$")
        self.assertEqual(said_in(picture.cut(boxes["toolbar_title"])), "Hive scale")
        found = by_text(picture, None, "stop  READING")
        self.assertTrue(boxes["stop_scale"].contains(*found.element.box.centre))
        self.assertEqual(found.by, (Evidence.WRITTEN,))
        self.assertIsInstance(by_text(picture, None, "Stop"), NotFound)
        self.assertTrue(readings.in_time(b"the picture", picture, 60.0))
        self.assertIs(readings.begin(b"the picture", picture), readings.begin(b"the picture", picture))
        self.assertEqual(texts(Picture(np.full((80, 200, 3), 255, np.uint8), 2.0)), ())


if __name__ == "__main__":
    unittest.main()
