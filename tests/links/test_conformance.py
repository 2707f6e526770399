import io
import json
import unicodedata
import unittest
from dataclasses import replace
from typing import ClassVar

import httpcore
from PIL import Image

from copione.links.adb.link import AdbLink
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.links.link import HoldsFinger, Link, ReloadsPages, TakesCalls, TellsTouches
from copione.links.webdriver.link import WebDriverLink, look_up
from copione.links.webdriver.remote import SessionLost
from copione.links.webdriver.wire import RemoteRefused, touch_actions, value_of
from copione.model.action import Start
from copione.model.clock import SystemClock
from copione.model.condition import Condition
from copione.model.device import Readiness
from copione.model.errors import AppMissing, CannotDo, DeviceGone, LinkError
from copione.model.gesture import Contact
from copione.model.key import Key
from copione.replay.watch import ScreenWatch
from copione.screens.reading import reads
from copione.touch.making import drag, swipe, tap
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.adb_server import AdbServer as LabServer
from copione_lab.faces.webdriver import WebDriverServer
from copione_lab.model import load_models
from copione_lab.package import pack

from ..benches import APP, OTHER, LabCase, named


class Conformance:
    """What every link does. A subclass gives `make`, a link to a phone with Hive Diary on it, and stands in a TestCase."""

    NAME, PLATFORM, RELEASE, SIZE, GLASS = "Alder 5", "android", "14", (412, 892), 66
    #: What this kind of link says it cannot do: an act and the words.
    LACKING: ClassVar[set[Key]] = set()
    CANNOT: tuple[tuple[object, str], ...] = ((lambda link: link.able(ReloadsPages), "no page to reload"),)

    def make(self) -> Link:
        raise NotImplementedError

    def opened(self, *path: tuple[str, str]) -> Link:
        """A link with the app started afresh and some elements tapped."""
        link = self.make()
        link.launch(APP, Start.AFRESH)
        for role, name in path:
            link.touch([tap(*named(link.moment().screen, role, name).box.centre)])
        return link

    FORM = (("button", "Hives"), ("listitem", "Hive 2"), ("button", "New inspection"))

    @staticmethod
    def builds(link: Link) -> dict[str, str]:
        """Versions of the apps that the phone did not come with, as far as it has them."""
        return {app.package: app.version for app in link.apps() if app.package != "org.example.contacts"}

    def test_the_profile_is_read_from_the_device(self) -> None:
        p = self.make().profile()
        self.assertEqual((p.name, p.platform, p.release, p.locale), (self.NAME, self.PLATFORM, self.RELEASE, "en-GB"))
        self.assertEqual((p.width, p.height, p.text_scale), (*self.SIZE, 1.0))
        self.assertAlmostEqual(p.width_mm, self.GLASS, delta=0.5)
        self.assertAlmostEqual(p.height_mm / p.width_mm, p.height_px / p.width_px, delta=0.02)

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
        self.assertEqual(self.builds(link), {APP: "2.4", OTHER: "2.4"})
        link.press(Key.HOME)
        link.launch(APP)
        self.assertTrue(any(e.role == "list" for e in link.moment().screen))
        link.stop(APP)
        self.assertNotEqual(link.front()[0], APP)
        link.launch(APP, Start.AFRESH)
        named(link.moment().screen, "button", "About")

    def test_an_app_that_is_not_there_is_said(self) -> None:
        link = self.make()
        for act in (lambda: link.launch("org.nowhere"), lambda: link.version("org.nowhere")):
            with self.assertRaises(AppMissing) as caught:
                act()
            self.assertIn("org.nowhere is not installed", caught.exception.sentence)

    def test_several_fingers_at_once_turn_a_map(self) -> None:
        link = self.opened(("button", "Apiary map"))
        box = next(e for e in link.moment().screen if e.label == "Apiary map").box
        (x, y), reach = box.centre, box.width / 8
        fingers = [
            Contact(i, tuple((0.03 * n, x + side * reach * (1 + n / 10), y) for n in range(11)), 0.35) for i, side in enumerate((-1, 1))
        ]
        link.touch(fingers)
        self.assertEqual([e.text for e in link.moment().screen if e.id in {"map_scale", "mapScale"}], ["200%"])

    def test_a_turned_screen_is_wide_and_fingers_land_where_they_are_put(self) -> None:
        link = self.opened(*self.FORM)
        link.turn("landscape")
        screen = link.moment().screen
        self.assertEqual((screen.width, screen.height, screen.rotation), (*reversed(self.SIZE), 1))
        slider = named(screen, "slider", "Brood frames").box
        fingers = [tap(slider.left + 12, slider.centre[1]), Contact(1, ((0.0, 5, 380),), 0.05)]
        link.touch(fingers)
        self.assertEqual(reads(named(link.moment().screen, "slider", "Brood frames")), "0")
        link.turn("portrait")
        self.assertEqual(link.moment().screen.width, self.SIZE[0])
        self.assertEqual(reads(named(link.moment().screen, "slider", "Brood frames")), "0")

    def test_an_app_is_installed_from_its_package_file(self) -> None:
        link = self.make()
        link.install(pack(APP, "2.5"))
        self.assertEqual(self.builds(link), {APP: "2.5", OTHER: "2.4"})
        with self.assertRaises(LinkError) as caught:
            link.install(b"not a package")
        self.assertIn("Failed to parse the package", caught.exception.sentence)
        link.uninstall(APP)
        self.assertEqual(self.builds(link), {OTHER: "2.4"})
        self.assertRaises(AppMissing, link.uninstall, APP)

    def test_a_permission_dialog_of_the_system_is_in_front_until_it_is_answered(self) -> None:
        link = self.opened(*self.FORM, ("button", "Add photo"))
        screen = link.moment().screen
        self.assertNotEqual(screen.app, APP)
        link.touch([tap(*named(screen, "button", "Only while it is used").box.centre)])
        after = link.moment().screen
        self.assertEqual((after.app, [e.text for e in after if e.id == "photos"]), (APP, ["1 photo"]))

    def test_a_tap_a_stroke_and_a_drag_do_what_a_finger_does(self) -> None:
        link = self.opened(*self.FORM)
        box = named(link.moment().screen, "slider", "Brood frames").box
        begin, end = box.left + 12, box.right - 12
        link.touch([swipe(begin + 0.3 * (end - begin), box.centre[1], begin + 0.8 * (end - begin), box.centre[1])])
        self.assertEqual(reads(named(link.moment().screen, "slider", "Brood frames")), "8")
        link.press(Key.BACK)
        link.press(Key.BACK)
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
            link.press(Key.BACKSPACE, 2)
            self.assertEqual(named(link.moment().screen, "textbox", "Notes").text, words[:-2])

    def test_keys_delete_on_both_sides_of_the_caret_and_go_to_the_end_of_it_all(self) -> None:
        link, words = self.opened(*self.FORM, ("textbox", "Notes")), "Calm bees on every frame, and the queen among them. " * 3
        link.type_text(words)
        link.touch([tap(*named(link.moment().screen, "textbox", "Notes").box.centre)])
        link.press(Key.END)
        link.type_text("!")
        self.assertEqual(named(link.moment().screen, "textbox", "Notes").text, words + "!")
        link.touch([tap(*named(link.moment().screen, "textbox", "Notes").box.centre)])
        link.press(Key.BACKSPACE, len(words))
        left = named(link.moment().screen, "textbox", "Notes").text
        self.assertTrue(left and (words + "!").endswith(left))
        link.press(Key.DELETE, len(words))
        self.assertEqual(named(link.moment().screen, "textbox", "Notes").text, "")

    def test_the_keyboard_is_seen_and_goes_back_first(self) -> None:
        link = self.opened(*self.FORM)
        self.assertIsNone(link.moment().screen.keyboard)
        link.touch([tap(*named(link.moment().screen, "textbox", "Notes").box.centre)])
        screen = link.moment().screen
        self.assertGreater(screen.keyboard.top, screen.height / 2)
        link.type_text("calm")
        watch = ScreenWatch(link, SystemClock(), lambda moment: "", lambda: False)
        watch.look()
        self.assertEqual(watch.close_keyboard(), link.back_closes_keyboard)
        self.assertEqual(named(watch.look().screen, "textbox", "Notes").text, "calm", "the page was not left")
        link.touch([tap(*named(watch.moment.screen, "textbox", "Notes").box.centre)])
        link.press(Key.BACK)
        after = link.moment().screen
        self.assertIsNone(after.keyboard)
        self.assertEqual(any(e.name == "Notes" for e in after), link.back_closes_keyboard)

    def test_every_key_is_pressed_or_said_not_to_be_there(self) -> None:
        link = self.opened(*self.FORM, ("textbox", "Notes"))
        link.type_text("ac")
        link.press(Key.LEFT)
        link.type_text("b")
        self.assertEqual(named(link.moment().screen, "textbox", "Notes").text, "abc")
        lacking = set()
        for key in Key:
            try:
                link.press(key)
            except CannotDo:
                lacking.add(key)
        self.assertEqual(lacking, self.LACKING)

    def test_what_it_cannot_do_is_said(self) -> None:
        link = self.make()
        for act, words in self.CANNOT:
            with self.assertRaises(LinkError) as caught:
                act(link)
            self.assertIn(words, caught.exception.sentence)

    def test_the_log_holds_what_happened_since(self) -> None:
        link = self.opened(("button", "Hives"))
        self.assertIn("page hives", link.log(0))
        self.assertEqual(link.log(4e9), "")


class AdbServerLink(Conformance, LabCase):
    CANNOT = (
        *Conformance.CANNOT,
        (lambda link: link.type_text("Größe – היום"), "cannot type '–היום'"),
    )

    def make(self) -> Link:
        return self.link("Alder 5")

    def test_letters_with_accents_are_typed_by_the_keys_that_make_them(self) -> None:
        for words in ("Grüße, Jürgen", "çà et là, GARÇON Ñandú", "Ärger im Ostflügel; naïve façade", "e\u0301"):
            link = self.opened(*self.FORM, ("textbox", "Notes"))
            link.type_text(words)
            self.assertEqual(named(link.moment().screen, "textbox", "Notes").text, unicodedata.normalize("NFC", words))

    def test_a_phone_whose_tool_cannot_hold_keys_types_no_accents(self) -> None:
        lab = LabBench([m for m in load_models() if m.name == "Moth 2"])
        face = self.enterContext(LabServer(lab))
        link = AdbLink(AdbServer(port=face.port), next(iter(lab.phones)))
        with self.assertRaisesRegex(LinkError, "plain ASCII only"):
            link.type_text("Grüße")


class OverWebDriver(Conformance, unittest.TestCase):
    NAME, PLATFORM, RELEASE, SIZE, GLASS = "Kestrel S", "ios", "17", (390, 844), 64
    FORM = (("button", "Hives"), ("listitem", "Hive 2"), ("button", "New inspection"))
    LACKING = {Key.VOLUME_UP, Key.VOLUME_DOWN, Key.APP_SWITCH, Key.POWER}
    CANNOT = (
        *Conformance.CANNOT,
        (lambda link: link.able(TellsTouches), "fingers do on its glass"),
        (lambda link: link.able(HoldsFinger), "as a whole"),
        (lambda link: link.able(TakesCalls), "cannot be called"),
    )

    def setUp(self) -> None:
        self.lab = LabBench([m for m in load_models() if m.platform == "ios"])
        self.face = WebDriverServer(self.lab)
        self.addCleanup(self.face.close)

    def make(self) -> Link:
        link = WebDriverLink(self.face.endpoints[0])
        self.addCleanup(link.close)
        return link

    def test_how_it_is_held_can_be_asked_and_nothing_else_of_its_conditions(self) -> None:
        link = self.opened()
        self.assertEqual(link.condition(Condition.ORIENTATION, APP), "portrait")
        link.have(Condition.ORIENTATION, "landscape", APP)
        self.assertEqual(link.condition(Condition.ORIENTATION, APP), "landscape")
        for act in (lambda: link.condition(Condition.DARK, APP), lambda: link.have(Condition.DARK, "on", APP)):
            self.assertRaises(CannotDo, act)

    def test_letters_of_any_script_are_typed(self) -> None:
        link = self.opened(*self.FORM, ("textbox", "Notes"))
        link.type_text("Königin היום")
        self.assertEqual(named(link.moment().screen, "textbox", "Notes").text, "Königin היום")

    def test_a_tablet_with_a_pixel_a_point_is_as_wide_as_it_says(self) -> None:
        phone = next(iter(self.lab.phones.values()))
        phone.model = replace(phone.model, width_px=800, height_px=1115, dpi=160)
        profile = self.make().profile()
        self.assertEqual((profile.width, profile.height, profile.dpi), (800, 1115, 160))

    def test_two_fingers_pinch_the_map(self) -> None:
        link = self.opened(("button", "Apiary map"))
        x, y = next(e for e in link.moment().screen if e.id == "apiaryMap").box.centre
        path = [tuple((0.02 * i, x + sign * (30 + 6 * i), y) for i in range(11)) for sign in (-1, 1)]
        link.touch([Contact(i, p, 0.25) for i, p in enumerate(path)])
        self.assertEqual(next(e.text for e in link.moment().screen if e.id == "mapScale"), "300%")

    def test_a_session_that_was_lost_is_opened_again_between_steps_and_nothing_is_done_twice(self) -> None:
        link = self.opened()
        self.face.sessions.clear()
        self.assertTrue(link.picture().startswith(b"\x89PNG"))
        hives = named(link.moment().screen, "button", "Hives").box.centre
        for act in (lambda: link.touch([tap(*hives)]), lambda: link.press(Key.BACK)):
            self.face.sessions.clear()
            self.assertRaises(SessionLost, act)
            named(link.moment().screen, "button", "Hives")  # in another session, nothing was touched
        link.step_begins()
        self.face.sessions.clear()
        link.moment()  # between two steps
        self.face.sessions.clear()
        self.assertRaises(SessionLost, link.moment)  # and within one
        link.step_begins()
        link.moment()

    def test_what_goes_wrong_has_a_sentence(self) -> None:
        link = self.opened()
        kestrel = next(iter(self.lab.phones))
        self.lab.failing_dumps[kestrel] = b"<Application"
        self.assertIn("not well-formed", link.moment().trouble)
        self.lab.set_state(kestrel, "unauthorized")
        self.assertIs(look_up(self.face.endpoints[0]).readiness, Readiness.UNAPPROVED)
        self.lab.unplug(kestrel)
        nowhere, unknown = (WebDriverLink(f"http://127.0.0.1:{where}") for where in ("1/x", f"{self.face.port}/nosuch"))
        self.addCleanup(nowhere.close)
        self.addCleanup(unknown.close)
        for act, kind, words in (
            (link.picture, DeviceGone, "not connected any more"),
            (nowhere.picture, DeviceGone, "nothing answers"),
            (unknown.picture, LinkError, "unknown command"),
        ):
            with self.assertRaises(kind) as caught:
                act()
            self.assertIn(words, caught.exception.sentence)
        self.assertIs(look_up("http://127.0.0.1:1/x").readiness, Readiness.OFFLINE)
        bench = Bench(AdbServer(port=1), endpoints=self.face.endpoints)
        self.addCleanup(bench.close)
        self.assertEqual([d.ready for d in bench.look()], [False, True, True, True])

    def test_only_this_computers_own_names_are_answered_and_only_in_json(self) -> None:
        """A page in a browser asks under its own name, from its own origin, or with a type that needs no permission."""
        url = f"{self.face.endpoints[0]}/session"
        good = {"Host": "localhost", "Content-Type": "application/json; charset=utf-8"}
        table = [
            ({}, 200),
            ({"Origin": "http://127.0.0.1:8000"}, 200),
            ({"Host": "bees.example"}, 500),
            ({"Host": "127.0.0.1.bees.example"}, 500),
            ({"Origin": "https://bees.example"}, 500),
            ({"Origin": "null"}, 500),
            ({"Content-Type": "text/plain"}, 500),
        ]
        for more, status in table:
            answer = httpcore.request("POST", url, headers={**good, **more}, content=b'{"capabilities": {}}')
            self.assertEqual(answer.status, status, more)

    def test_errors_are_worded_as_the_standard_words_them(self) -> None:
        base = self.face.endpoints[0]

        def ask(method: str, path: str, body: object = None) -> tuple[int, object]:
            answer = httpcore.request(method, base + path, headers={"Content-Type": "application/json"}, content=json.dumps(body).encode())
            return answer.status, json.loads(answer.content)["value"]

        session = ask("POST", "/session", {"capabilities": {}})[1]["sessionId"]
        table = [
            ("GET", f"/session/{session}/nosuch", None, 404, "unknown command"),
            ("POST", f"/session/{session}/source", {}, 405, "unknown method"),
            ("GET", "/session/none/source", None, 404, "invalid session id"),
            ("POST", f"/session/{session}/actions", {}, 400, "invalid argument"),
            ("POST", "/session", {"capabilities": {"alwaysMatch": {"platformName": "android"}}}, 500, "session not created"),
        ]
        for method, path, body, status, error in table:
            said, value = ask(method, path, body)
            self.assertEqual((said, value["error"]), (status, error))
        self.assertEqual(ask("DELETE", f"/session/{session}")[0], 200)


class WebDriverWire(unittest.TestCase):
    def test_fingers_share_one_time_line(self) -> None:
        one = Contact(0, ((0.0, 10, 10), (0.2, 10, 90)), 0.3)
        two = Contact(1, ((0.1, 200, 10), (0.2, 200, 90)), 0.2)
        sources = touch_actions([one, two])["actions"]
        self.assertEqual({len(s["actions"]) for s in sources}, {8})
        ticks = list(zip(*(s["actions"] for s in sources), strict=True))
        total = sum(max(a.get("duration", 0) for a in tick) for tick in ticks)
        self.assertEqual(total, 300)
        self.assertEqual(
            [a["type"] for a in sources[1]["actions"]],
            ["pause", "pause", "pointerMove", "pointerDown", "pointerMove", "pointerUp", "pause", "pause"],
        )

    def test_answers_are_values_errors_or_no_answers(self) -> None:
        self.assertEqual(value_of(200, b'{"value": 7}'), 7)
        with self.assertRaises(RemoteRefused):
            value_of(404, b'{"value": {"error": "no such element", "message": "m"}}')
        for status, body in ((200, b"<html>"), (200, b"[]"), (500, b'{"value": 1}'), (200, b"")):
            with self.assertRaises(ValueError):
                value_of(status, body)
