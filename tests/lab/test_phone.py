import struct
import unittest
from dataclasses import replace

from copione_lab import shell
from copione_lab.bench import Bench
from copione_lab.model import load_faults, load_models
from copione_lab.phone import Phone
from copione_lab.toolkit.fingers import LONG_PRESS, SLOP, Fingers
from copione_lab.toolkit.layout import Layout, Metrics
from copione_lab.toolkit.node import Box, Node, column, row, text

from ..benches import APP

MODELS = {m.key: m for m in load_models()}


class Hands:
    """A clock and a phone at real pace whose time is moved by hand."""

    def __init__(self, key: str = "alder-5", faults: tuple[str, ...] = ()) -> None:
        self.time = 100.0
        self.phone = Phone(MODELS[key], faults, "real", clock=lambda: self.time, sleep=self.pass_time)

    def pass_time(self, seconds: float) -> None:
        self.time += seconds


class Touching(unittest.TestCase):
    def setUp(self) -> None:
        self.events: list[str] = []
        button = Node("button", on_tap=lambda: self.events.append("tap"), on_hold=lambda: self.events.append("hold"))
        scroller = Node("scroll", key="s")
        self.fingers = Fingers(
            lambda x, y: (button if y < 100 else None, scroller), lambda node, way, fling: self.events.append(f"{way:.0f}+{fling:.0f}")
        )

    def stroke(self, *points: tuple[float, float, float]) -> None:
        for i, (t, x, y) in enumerate(points):
            self.fingers.event("down" if i == 0 else "up" if i == len(points) - 1 else "move", 0, x, y, t)

    def test_slop_long_press_drag_and_fling(self) -> None:
        table = [
            ("within the slop it taps", [(0, 50, 50), (0.1, 50 + SLOP, 50), (0.2, 50, 50)], ["tap"]),
            ("resting it is a long press", [(0, 50, 50), (LONG_PRESS + 0.1, 50, 50)], ["hold"]),
            ("past the slop it scrolls by what the finger went", [(0, 50, 50), (0.1, 50, 20), (0.4, 50, 20)], ["30+0", "0+0"]),
            ("slow at the end nothing is flung", [(0, 50, 300), (1, 50, 200), (1.5, 50, 200)], ["100+0", "0+0"]),
        ]
        for claim, points, events in table:
            with self.subTest(claim):
                self.events.clear()
                self.stroke(*points)
                self.assertEqual([e for e in self.events if e != "0+0"], [e for e in events if e != "0+0"])

    def test_fast_at_the_end_it_is_flung_on(self) -> None:
        self.stroke((0, 50, 300), (0.05, 50, 250), (0.1, 50, 200))
        self.assertGreater(float(self.events[-1].split("+")[1]), 300)


class Laying(unittest.TestCase):
    def test_what_grows_shares_the_room_and_text_wraps(self) -> None:
        long = text("one two three four five six seven eight nine ten eleven twelve")
        page = column(row(text("a", grow=1), text("b")), Node("scroll", key="s", grow=1, children=[long]), text("end"))
        Layout(Metrics(2.0, 1.3), {}).run(page, Box(0, 0, 200, 400))
        self.assertEqual(page.children[2].box.bottom, 400)
        self.assertAlmostEqual(page.children[0].children[1].box.right, 200, delta=0.1)
        self.assertGreater(len(long.lines), 1)

    def test_larger_text_takes_more_room(self) -> None:
        heights = []
        for scale in (1.0, 1.3):
            words = text("Brood frames")
            Layout(Metrics(2.0, scale), {}).run(column(words), Box(0, 0, 300, 300))
            heights.append(words.box.height)
        self.assertAlmostEqual(heights[1] / heights[0], 1.3, places=2)


class Phones(unittest.TestCase):
    def test_at_real_pace_a_page_takes_its_time_and_a_dump_waits_for_it(self) -> None:
        hands = Hands()
        hands.phone.launch(APP)
        before = hands.time
        hands.phone.dump()
        self.assertGreater(hands.time - before, 0.5)

    def test_a_held_finger_is_a_long_press_before_it_lifts(self) -> None:
        hands = Hands()
        hands.phone.launch(APP)
        held: list[bool] = []
        button = next(n for n in hands.phone.frame().page.walk() if n.id == "open_hives")
        button.on_hold = lambda: held.append(True)
        k = hands.phone.model.density
        hands.phone.pointer("down", 0, (button.box.left + 20) * k, (button.box.top + 20) * k, hands.time)
        hands.time += 1
        hands.phone.frame()
        self.assertEqual(held, [True])

    def test_a_fling_glides_to_its_end(self) -> None:
        hands = Hands()
        hands.phone.launch(APP)
        hands.phone._app(APP).go("hives")
        hands.phone._changed()
        shell.run(hands.phone, "input swipe 400 1400 400 1000 120")
        on_the_way = hands.phone._offsets.here["hives"]
        hands.time += 0.3
        hands.phone.frame()
        later = hands.phone._offsets.here["hives"]
        hands.time += 1
        hands.phone.frame()
        self.assertLess(on_the_way, later)
        self.assertLess(later, hands.phone._offsets.here["hives"])
        self.assertIsNone(hands.phone.frame().until)

    def test_the_passing_message_passes(self) -> None:
        hands = Hands()
        hands.phone.launch(APP)
        app = hands.phone._app(APP)
        app.open_hive(app.hives[0])
        app.begin()
        app.save()
        hands.phone._changed()
        self.assertIn(b"Inspection saved", hands.phone.dump())
        hands.time += 5
        self.assertNotIn(b"Inspection saved", hands.phone.dump())

    def test_keys_on_the_glass_type(self) -> None:
        hands = Hands()
        phone = hands.phone
        phone.launch(APP)
        app = phone._app(APP)
        app.open_hive(app.hives[0])
        app.begin()
        phone.focus("notes")
        for letter in "hi":
            key = next(n for n in phone.frame().keys.walk() if n.text == letter)
            x, y = (key.box.left + 5) * phone.model.density, (key.box.top + 5) * phone.model.density
            phone.pointer("down", 0, x, y, hands.time)
            phone.pointer("up", 0, x, y, hands.time + 0.05)
        self.assertEqual(app.draft.note, "hi")

    def test_the_seeded_fault_keeps_the_window_under_the_keyboard(self) -> None:
        bottoms = []
        for faults in ((), ("keyboard-covers",)):
            phone = Hands("wren-mini", faults).phone
            phone.launch(APP)
            app = phone._app(APP)
            app.open_hive(app.hives[0])
            app.begin()
            phone.focus("notes")
            bottoms.append(phone.frame().page.box.bottom)
        self.assertLess(bottoms[0], phone.height - 200)
        self.assertEqual(bottoms[1], phone.height)


class ShellCommands(unittest.TestCase):
    def setUp(self) -> None:
        self.phone = Phone(MODELS["alder-5"])

    def test_commands_are_joined_and_quoted_as_in_a_shell(self) -> None:
        table = {
            "echo a; echo b": b"a\nb\n",
            "echo 'a; b' && echo c": b"a; b\nc\n",
            "nosuch && echo no || echo yes": b"/system/bin/sh: nosuch: inaccessible or not found\nyes\n",
            "echo 'open": b"/system/bin/sh: syntax error: No closing quotation\n",
        }
        for line, output in table.items():
            self.assertEqual(shell.run(self.phone, line)[0], output)

    def test_wrong_use_fails_as_on_a_phone(self) -> None:
        for line in (
            "input swipe 1 2",
            "input tap a b",
            "input text é",
            "am start -n org.no/.Main",
            "pm clear org.no",
            "wm",
            "uiautomator",
            "cmd x",
            "input fly",
            "am",
            "settings put",
            "pm",
        ):
            with self.subTest(line):
                self.assertNotEqual(shell.run(self.phone, line)[1], 0)

    def test_the_raw_picture_has_its_header(self) -> None:
        raw, _ = shell.run(self.phone, "screencap")
        self.assertEqual(struct.unpack_from("<IIII", raw), (824, 1784, 1, 1))
        self.assertEqual(len(raw), 16 + 824 * 1784 * 4)

    def test_faults_are_seeded_on_their_models_only(self) -> None:
        bench = Bench(MODELS.values(), load_faults())
        self.assertEqual(bench.phones["LABWRENMINI"].faults, {"keyboard-covers"})


class Diary(unittest.TestCase):
    """Hive Diary's pages, by what a finger does on them."""

    def setUp(self) -> None:
        self.hands = Hands()
        self.phone = self.hands.phone
        self.phone.launch(APP)
        self.app = self.phone._app(APP)

    def at(self, place: str) -> None:
        self.app.go(place)
        self.phone._changed()

    def node(self, id: str, number: int = 0) -> Node:
        return [n for n in self.phone.frame().page.walk() if n.id == id][number]

    def stroke(self, node: Node, dx: float = 0, seconds: float = 0.05, dy: float = 0, rest: float = 1.0) -> None:
        k, t = self.phone.model.density, self.hands.time
        x, y = (node.box.left + node.box.width / 2 - dx / 2) * k, (node.box.top + node.box.height / 2) * k
        self.phone.pointer("down", 0, x, y, t)
        for i in (1, 2, 3):
            self.phone.pointer("move", 0, x + dx * k * i / 3, y + dy * k * i / 3, t + seconds * i / 3)
        self.phone.pointer("up", 0, x + dx * k, y + dy * k, t + seconds)
        self.hands.time += seconds + rest

    def words(self) -> list[str]:
        return [n.text for n in self.phone.frame().page.walk() if n.text]

    def on(self, key: str, *faults: str) -> None:
        self.hands = Hands(key, faults)
        self.phone = self.hands.phone
        self.phone.launch(APP)
        self.app = self.phone._app(APP)

    def test_a_row_is_swiped_away_and_brought_back(self) -> None:
        self.at("hives")
        self.stroke(self.node("hive_row", 1), dx=-60)
        self.assertEqual(len(self.app.hives), 24)
        self.stroke(self.node("hive_row", 1), dx=-260)
        self.assertNotIn("Hive 2", [h.name for h in self.app.hives])
        self.stroke(self.node("snackbar_undo"))
        self.assertEqual(self.app.hives[1].name, "Hive 2")

    def test_a_long_press_opens_a_menu(self) -> None:
        self.at("hives")
        self.stroke(self.node("hive_row", 2), seconds=0.8)
        self.stroke(self.node("remove_hive"))
        self.assertNotIn("Hive 3", [h.name for h in self.app.hives])
        self.stroke(self.node("hive_row", 0), seconds=0.8)
        self.phone.key("BACK")
        self.assertEqual(self.app.place, "hives")
        self.assertEqual(self.app.dialog, "")

    def test_settings_step_and_switch(self) -> None:
        self.at("settings")
        for id in ("remind_more", "remind_more", "remind_less", "night_mode"):
            self.stroke(self.node(id))
        self.assertEqual((self.app.remind, self.app.night), (8, True))

    def test_a_password_is_typed_and_never_shown(self) -> None:
        self.at("sign-in")
        for id, words in (("user_name", "keeper"), ("user_password", "h0ney")):
            self.stroke(self.node(id))
            self.phone.text(words)
        self.phone.key("DEL")
        self.phone.text("Y")
        self.assertEqual(self.app.credentials["password"], "h0neY")
        self.assertNotIn(b"h0ne", self.phone.dump())
        self.assertIn(b'password="true"', self.phone.dump())
        self.stroke(self.node("sign_in"))
        self.assertTrue(self.app.signed_in)

    def test_a_crash_leaves_an_entry_in_the_log_and_the_home_screen(self) -> None:
        self.phone.faults = frozenset({"crash"})
        self.app.open_hive(self.app.hives[0])
        self.at("form")
        self.stroke(self.node("save_inspection"))
        self.assertEqual(self.phone.front()[0], "org.example.launcher")
        self.assertIn("FATAL EXCEPTION", shell.run(self.phone, "logcat -d")[0].decode())

    def test_a_comb_is_drawn_and_a_map_is_moved_turned_and_scaled_by_fingers(self) -> None:
        self.app.open_hive(self.app.hives[0])
        self.at("sketch")
        self.stroke(self.node("comb_sketch"), dx=100)
        self.assertEqual([len(s) for s in self.app.sketch.strokes], [5])
        self.at("map")
        box, k = self.node("apiary_map").box, self.phone.model.density
        middle = ((box.left + box.right) / 2, (box.top + box.bottom) / 2)

        def finger(action: str, number: int, dx: float, dy: float) -> None:
            self.phone.pointer(action, number, (middle[0] + dx) * k, (middle[1] + dy) * k, self.hands.time)

        for number, sign in ((0, -1), (1, 1)):
            finger("down", number, sign * 40, 0)
        for number, sign in ((0, -1), (1, 1)):
            finger("move", number, sign * 80, 0)
        self.assertAlmostEqual(self.app.map.scale, 2.0, places=2)
        for number, sign in ((0, -1), (1, 1)):
            finger("up", number, sign * 80, 0)
        self.assertEqual(next(n.text for n in self.phone.frame().page.walk() if n.id == "map_scale"), "200%")
        before = self.app.map.shift
        finger("down", 0, 0, 0)
        finger("move", 0, box.width / 10, 0)
        finger("up", 0, box.width / 10, 0)
        self.assertAlmostEqual((self.app.map.shift - before).real, 0.1, places=3)
        self.assertAlmostEqual(self.app.map.angle_deg, 0, places=3)
        self.assertFalse(self.phone.png() == b"")

    def test_tabs_a_double_tap_and_a_list_pulled_down(self) -> None:
        self.app.open_hive(self.app.hives[0])
        self.stroke(self.node("tab_past"))
        self.assertEqual((self.app.tab, self.node("tab_past").selected), ("past", True))
        self.stroke(self.node("tab_now"))
        for rest in (0.5, 0.1, 1.0):  # the first is too early for the second
            self.stroke(self.node("comb_picture"), rest=rest)
        self.assertIn("Marked for a second look", self.words())
        self.at("hives")
        self.stroke(self.node("hives"), dy=40)
        self.assertNotIn("Up to date", self.words())
        self.stroke(self.node("hives"), dy=140)
        self.assertIn("Up to date", self.words())

    def test_a_choice_and_a_day_are_picked_as_the_model_has_it(self) -> None:
        for key, choice, date in (("alder-5", "menu", "calendar"), ("moth-2", "dialog", "calendar"), ("kestrel-s", "wheel", "wheels")):
            with self.subTest(key):
                self.on(key)
                self.assertEqual((self.phone.model.choice, self.phone.model.date), (choice, date))
                self.app.open_hive(self.app.hives[0])
                self.at("form")
                self.phone._offsets.here["form"] = 900
                self.phone._changed()
                if choice == "wheel":
                    self.stroke(self.node("weather"), dy=-68)
                else:
                    self.stroke(self.node("weather"))
                    self.stroke(next(n for n in self.phone.frame().page.walk() if n.text == "Windy"))
                self.assertEqual(self.app.draft.weather, "Windy")
                self.stroke(self.node("visit_day"))
                if date == "wheels":
                    self.stroke(self.node("day_wheel"), dy=102)
                    self.stroke(self.node("month_wheel"), dy=34)
                    self.stroke(self.node("date_done"))
                else:
                    self.stroke(self.node("month_before"))
                    self.stroke(next(n for n in self.phone.frame().page.walk() if n.desc == "20 October 2026"))
                    self.stroke(self.node("date_ok"))
                self.assertIn("20 October 2026", self.words())

    def test_hives_are_searched_by_their_names(self) -> None:
        self.at("hives")
        self.stroke(self.node("search"))
        self.assertEqual(self.phone.focused(), "search_field")
        self.phone.text("hive 2")
        self.assertEqual([n.text for n in self.phone.frame().page.walk() if n.id == "hive_name"][:2], ["Hive 2", "Hive 20"])
        self.stroke(self.node("search"))
        self.assertEqual(len([n for n in self.phone.frame().page.walk() if n.id == "hive_row"]), 24)

    def test_stops_are_put_in_order_by_their_handles(self) -> None:
        self.at("rounds")
        self.stroke(self.node("stop_handle", 0), dy=130)
        self.assertEqual(self.app.stops[:3], ["Mill", "Lime avenue", "Orchard"])

    def test_a_screen_that_never_rests_gives_no_tree_and_another_picture_each_time(self) -> None:
        self.at("scale")
        first, before = self.phone.png(), self.hands.time
        self.assertEqual(self.phone.dump(), b"ERROR: could not get idle state.\n")
        self.assertGreater(self.hands.time - before, 5)
        self.assertNotEqual(self.phone.png(), first)

    def test_records_load_for_a_while_and_not_without_a_network(self) -> None:
        self.app.open_records()
        self.phone._changed()
        self.assertIn("Loading", self.words())
        self.hands.time += 3
        self.assertIn("312 kg", self.words())
        shell.run(self.phone, "cmd connectivity airplane-mode enable")
        self.phone._changed()
        self.assertIn("You are offline", self.words())

    def test_the_ways_back_and_the_look_are_the_models(self) -> None:
        for key, gesture in (("alder-5", True), ("moth-2", False)):
            self.on(key)
            self.at("hives")
            edge = Node("space", box=Box(0, 300, 8, 400))
            self.stroke(edge, dx=0)
            k, t = self.phone.model.density, self.hands.time
            for i, action in enumerate(("down", "move", "up")):
                self.phone.pointer(action, 0, (4 + 60 * i) * k, 350 * k, t + 0.1 * i)
            self.assertEqual(self.app.place, "home" if gesture else "hives", key)
        self.stroke(self.phone._bar.children[0])
        self.assertEqual(self.app.place, "home")
        self.assertIn("HIVES", self.words())

    def test_turned_the_form_keeps_what_was_entered_unless_the_fault_is_seeded(self) -> None:
        for faults, frames in (((), 7), (("state-lost",), 3)):
            self.on("fennel-3", *faults)
            self.app.open_hive(self.app.hives[0])
            self.at("form")
            self.stroke(self.node("queen_seen"))
            self.app.set("frames", 7)
            shell.run(self.phone, "settings put system user_rotation 1")
            self.assertEqual((self.phone.width, self.app.draft.frames), (880, frames))

    def test_a_model_with_a_convention_that_is_none_is_refused(self) -> None:
        with self.assertRaises(TypeError):
            replace(MODELS["alder-5"], back="shouting")
        self.assertEqual(MODELS["fennel-3"].classes["switch"].rpartition(".")[2], "MaterialSwitch")
