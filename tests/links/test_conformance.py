import io
import unittest

from PIL import Image

from copione.links.link import Link
from copione.model.errors import AppMissing, LinkError
from copione.model.gesture import Contact
from copione.screens.reading import reads
from copione.touch.making import drag, swipe, tap

from ..benches import APP, LabCase, named


class Conformance:
    """What every link does. A subclass gives `make`, a link to a phone with Hive Diary on it, and stands in a TestCase."""

    def make(self) -> Link:
        raise NotImplementedError

    def opened(self, *path: tuple[str, str]) -> Link:
        """A link with the app started afresh and some elements tapped."""
        link = self.make()
        link.launch(APP, afresh=True)
        for role, name in path:
            link.touch([tap(*named(link.moment().screen, role, name).box.centre)])
        return link

    FORM = (("button", "Hives"), ("listitem", "Hive 2"), ("button", "New inspection"))

    def test_the_profile_is_read_from_the_device(self: "Conformance | unittest.TestCase") -> None:
        p = self.make().profile()
        self.assertEqual((p.name, p.platform, p.release, p.locale), ("Alder 5", "android", "14", "en-GB"))
        self.assertEqual((p.width, p.height, p.text_scale), (412, 892, 1.0))
        self.assertAlmostEqual(p.width_mm, 66, delta=0.5)

    def test_a_moment_is_picture_and_tree_of_the_same_screen(self) -> None:
        link = self.opened()
        moment = link.moment()
        image = Image.open(io.BytesIO(moment.png))
        self.assertEqual(image.size, (link.profile().width_px, link.profile().height_px))
        self.assertEqual(moment.screen.app, APP)
        self.assertEqual(link.front()[0], APP)
        self.assertTrue(link.picture().startswith(b"\x89PNG"))

    def test_apps_are_listed_with_version_launched_stopped_and_started_afresh(self) -> None:
        link = self.opened(("button", "Hives"))
        self.assertEqual([(a.package, a.version) for a in link.apps()], [(APP, "2.4")])
        link.press("GoHome")
        link.launch(APP)
        self.assertTrue(any(e.role == "list" for e in link.moment().screen))
        link.stop(APP)
        self.assertNotEqual(link.front()[0], APP)
        link.launch(APP, afresh=True)
        named(link.moment().screen, "button", "About")

    def test_an_app_that_is_not_there_is_said(self) -> None:
        link = self.make()
        for act in (lambda: link.launch("org.nowhere"), lambda: link.version("org.nowhere")):
            with self.assertRaises(AppMissing) as caught:
                act()
            self.assertIn("org.nowhere is not installed", caught.exception.sentence)

    def test_a_tap_a_stroke_and_a_drag_do_what_a_finger_does(self) -> None:
        link = self.opened(*self.FORM)
        box = named(link.moment().screen, "slider", "Brood frames").box
        begin, end = box.left + 12, box.right - 12
        link.touch([swipe(begin + 0.3 * (end - begin), box.centre[1], begin + 0.8 * (end - begin), box.centre[1])])
        self.assertEqual(reads(named(link.moment().screen, "slider", "Brood frames")), "8")
        link.press("GoBack")
        link.press("GoBack")
        before = named(link.moment().screen, "listitem", "Hive 9").box.top
        link.touch([drag(200, 700, 200, 500)])
        moved = before - named(link.moment().screen, "listitem", "Hive 9").box.top
        self.assertAlmostEqual(moved, 200, delta=12)

    def test_a_fling_goes_on_and_a_drag_does_not(self) -> None:
        link = self.opened(("button", "Hives"))
        link.touch([swipe(200, 700, 200, 500, 0.15)])
        self.assertNotIn("Hive 3", [e.name for e in link.moment().screen])

    def test_text_is_typed_as_it_is_whatever_a_shell_makes_of_it(self) -> None:
        for words in ("; reboot #", "$(id) `id` && x | y > z", "50%s \"quoted\" 'too' \\ *", "a  b", "{note}"):
            link = self.opened(*self.FORM, ("textbox", "Notes"))
            link.type_text(words)
            self.assertEqual(named(link.moment().screen, "textbox", "Notes").text, words)
            link.press("Backspace", 2)
            self.assertEqual(named(link.moment().screen, "textbox", "Notes").text, words[:-2])

    def test_the_keyboard_is_seen_and_goes_back_first(self) -> None:
        link = self.opened(*self.FORM)
        self.assertIsNone(link.moment().screen.keyboard)
        link.touch([tap(*named(link.moment().screen, "textbox", "Notes").box.centre)])
        screen = link.moment().screen
        self.assertGreater(screen.keyboard.top, screen.height / 2)
        link.press("GoBack")
        self.assertIsNone(link.moment().screen.keyboard)

    def test_what_it_cannot_do_is_said(self) -> None:
        link = self.make()
        table = [
            (lambda: link.type_text("Königin"), "cannot type 'ö'"),
            (lambda: link.press("F13"), "no key"),
            (lambda: link.touch([tap(1, 1), Contact(1, ((0, 9, 9),), 0.1)]), "one finger"),
        ]
        for act, words in table:
            with self.assertRaises(LinkError) as caught:
                act()
            self.assertIn(words, caught.exception.sentence)

    def test_the_log_holds_what_happened_since(self) -> None:
        link = self.opened(("button", "Hives"))
        self.assertIn("page hives", link.log(0))
        self.assertEqual(link.log(4e9), "")


class AdbServerLink(Conformance, LabCase):
    def make(self) -> Link:
        return self.link("Alder 5")
