"""Why a step was not done, what was read in the script's words, and what is noticed besides, on stand-in phones."""

import unittest

import cv2
import numpy as np

from copione.comparison.meaning import deviation, meant
from copione.model.likeness import is_another
from copione.recognition.fingerprint import fingerprint
from copione.recognition.obstacles import plate_over
from copione.recognition.pictures import Picture, decode
from copione.replay.explaining import crash_in
from copione.screens.android import read_android
from copione_lab.model import Fault, load_models
from copione_lab.phone import Phone

BOOK = {"Heute": "Today", "heute": "Today", "Ruhig": "Calm"}


class Meanings(unittest.TestCase):
    def test_what_is_read_is_held_together_in_the_scripts_language_and_plain_figures(self) -> None:
        for words, locale, plain in (
            ("Heute", "de-DE", "Today"),
            ("HEUTE", "de-DE", "Today"),
            ("1.234,5 kg", "de-DE", "1234.5 kg"),
            ("1,234.5 kg", "en-GB", "1234.5 kg"),
            ("27. November 2026", "de-DE", "2026-11-27"),
            ("November 27, 2026", "en-US", "2026-11-27"),
            ("Hive 17", "en-GB", "Hive 17"),
            ("vor 11 Tagen", "de-DE", "11 days ago"),
            ("in 1 Stunde", "de-DE", "in 1 hour"),
            ("לפני 3 שבועות", "he-IL", "3 weeks ago"),
            ("Elsewhere 3", "de-DE", "Elsewhere 3"),
        ):
            self.assertEqual(meant(words, locale, BOOK if locale == "de-DE" else {}), plain)

    def test_in_which_way_something_reads_otherwise(self) -> None:
        for read, asked, told, way in (
            ("", "Today", "Heute", "nothing"),
            ("Today", "Today", "Heute", "in another language"),
            ("11/23/26", "Today", "Heute", "in another format"),
            ("7 frames", "6 frames", "6 frames", "off by +1"),
            ("Tod…", "Today", "Today", "cut"),
            ("Nein", "Today", "Heute", "reads nein"),
        ):
            self.assertEqual(deviation(read, asked, told, "de-DE", BOOK), way)

    def test_the_line_that_a_crash_leaves_in_a_log(self) -> None:
        for log, words in (
            (
                "1.0 E AndroidRuntime: FATAL EXCEPTION: main Process: org.x java.lang.IllegalStateException: no hive",
                "java.lang.IllegalStateException: no hive",
            ),
            ("F libc: Fatal signal 11 (SIGSEGV), code 1", "Fatal signal 11 (SIGSEGV), code 1"),
            ("*** Terminating app due to uncaught exception 'NSRange', reason: 'x'", "uncaught exception 'NSRange', reason: 'x'"),
            ("I HiveDiary: page hive", ""),
        ):
            self.assertEqual(crash_in(log), words)


class Plates(unittest.TestCase):
    def test_a_dialog_in_a_pane_of_a_wide_screen_is_one(self) -> None:
        for model in load_models():
            if model.platform != "android" or model.toolkit != "views":
                continue
            for place, faults in (("hive", ("dialog",)), ("hive", ()), ("form", ()), ("hives", ())):
                phone = Phone(model, faults)
                phone.launch("org.example.hive_diary")
                app = phone._app("org.example.hive_diary")
                app.hive = app.hives[1]
                app.go(place)
                app.dialog = "rate" if faults else ""
                phone._changed()
                plate = plate_over(read_android(phone.dump(), model.width_px, model.height_px, model.dpi))
                with self.subTest(model.name, place=place, faults=faults):
                    self.assertEqual(plate is not None, bool(faults))


class Prints(unittest.TestCase):
    def test_a_picture_and_its_mirror_image_are_two(self) -> None:
        pixels = np.full((90, 120, 3), 240, np.uint8)
        cv2.fillPoly(pixels, [np.array([(20, 10), (20, 80), (80, 45)])], (40, 90, 200))  # an arrow to the right
        cv2.rectangle(pixels, (5, 5), (15, 85), (20, 20, 20), -1)
        shown = fingerprint(Picture(pixels, 1.0))
        for other, another in (
            (pixels[:, ::-1], True),
            (cv2.resize(pixels, (240, 180)), False),
            (np.clip(pixels.astype(int) + 8, 0, 255).astype(np.uint8), False),
        ):
            self.assertIs(is_another(shown, fingerprint(Picture(np.ascontiguousarray(other), 1.0))), another)
        self.assertFalse(is_another(shown[: len(shown) - 2 * 144], shown), "an older fingerprint has no finer parts")

    def test_a_picture_is_known_on_every_model_and_another_one_is_not(self) -> None:
        seen = {}
        for model in load_models():
            for faulty in (False, True):
                phone = Phone(model)
                phone.spoilt = (Fault("f", "another-picture", (), "", "hive", "comb_picture"),) if faulty else ()
                phone.launch("org.example.hive_diary")
                app = phone._app("org.example.hive_diary")
                app.open_hive(app.hives[16])
                phone._changed()
                box = next(n.box for n in phone.frame().page.walk() if n.id == "comb_picture")
                picture = decode(phone.png(), phone.width)
                seen[model.key, faulty] = fingerprint(picture.cut(box))
        lead = seen["alder-5", False]
        self.assertEqual([key for key, told in seen.items() if is_another(lead, told)], [key for key in seen if key[1]])


if __name__ == "__main__":
    unittest.main()
