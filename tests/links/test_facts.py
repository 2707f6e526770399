import unittest

from copione.links.adb import facts
from copione.links.adb.link import input_commands, text_pieces
from copione.model.geometry import Box
from copione.model.gesture import Contact
from copione.touch.making import drag, hold, swipe, tap

NEW = """  mCurrentFocus=Window{9f1 u0 org.example.a/org.example.a.ui.Main}
    InsetsSource id=3 type=ime frame=[0,1443][1080,2274] visible=true flags=[]"""
OLD = """  Window #1 Window{3f u0 InputMethod}:
    mHasSurface=true isReadyForDisplay()=true
    mGivenContentInsets=[0,900][0,0]
    touchable region=SkRegion((0,1200,1080,1920))
  Window #2 Window{2a u0 org.example.a/.Main}:
  mCurrentFocus=null
  mFocusedApp=ActivityRecord{7c u0 org.example.a/.Main t12}"""


class Facts(unittest.TestCase):
    def test_sizes_and_densities_an_override_wins(self) -> None:
        self.assertEqual(facts.size("Physical size: 1080x2340\nOverride size: 720x1560\n"), (720, 1560))
        self.assertEqual(facts.density("Physical density: 420\n"), 420)
        self.assertEqual((facts.size("error"), facts.density("")), (None, None))
        self.assertEqual(facts.glass_dpi("density 420, 403.411 x 400.3 dpi}"), (403.411, 400.3))
        self.assertIsNone(facts.glass_dpi("0.0 x 0.0 dpi"))

    def test_the_app_in_front_on_old_and_new_releases(self) -> None:
        self.assertEqual(facts.front(NEW), ("org.example.a", ".ui.Main"))
        self.assertEqual(facts.front(OLD), ("org.example.a", ".Main"))
        self.assertEqual(facts.front("nothing"), ("", ""))

    def test_the_keyboard_on_old_and_new_releases(self) -> None:
        self.assertEqual(facts.keyboard(NEW), Box(0, 1443, 1080, 2274))
        self.assertIsNone(facts.keyboard(NEW.replace("visible=true", "visible=false")))
        self.assertEqual(facts.keyboard(OLD), Box(0, 1200, 1080, 1920))
        self.assertIsNone(facts.keyboard(OLD.replace("isReadyForDisplay()=true", "isReadyForDisplay()=false")))

    def test_versions_and_components(self) -> None:
        self.assertEqual(facts.version("    versionName=2.4-beta\n"), "2.4-beta")
        self.assertEqual(facts.component("priority=0 match=0x1\norg.a/.Main\n"), "org.a/.Main")
        self.assertIsNone(facts.component("No activity found\n"))


class Commands(unittest.TestCase):
    def test_one_finger_becomes_the_shortest_command_that_does_it(self) -> None:
        table = [
            (tap(10, 20), ["tap 20 40"]),
            (hold(10, 20, 0.8), ["swipe 20 40 20 40 800"]),
            (swipe(10, 100, 10, 20, 0.3), ["swipe 20 200 20 40 300"]),
        ]
        for contact, commands in table:
            self.assertEqual(input_commands(contact, 2.0), commands)

    def test_a_stroke_that_stops_before_it_lifts_pauses_there(self) -> None:
        commands = input_commands(drag(10, 100, 10, 20, 0.4, 0.2), 2.0)
        self.assertEqual(commands[0], "motionevent DOWN 20 200")
        self.assertEqual(commands[-2:], ["motionevent MOVE 20 40; sleep 0.20", "motionevent UP 20 40"])

    def test_a_bent_path_is_followed(self) -> None:
        bent = Contact(0, ((0, 0, 0), (0.1, 50, 0), (0.2, 50, 50)), 0.25)
        self.assertEqual([c.split()[1] for c in input_commands(bent, 1.0)], ["DOWN", "MOVE", "MOVE", "UP"])

    def test_text_is_cut_where_the_phone_would_read_it_otherwise(self) -> None:
        self.assertEqual(list(text_pieces("50%soft\nnext")), ["50%", "soft", "\n", "next"])
        self.assertEqual("".join(text_pieces("a%s%s b")), "a%s%s b")
