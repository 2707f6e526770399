import random
import unittest

from copione.model.errors import TreeUnreadable
from copione.model.geometry import Box
from copione.model.screen import Flag, Screen
from copione.recognition.overlays import lies_under
from copione.screens.android import read_android
from copione.screens.reading import number_words, reads, value_of_caption

from ..benches import LabCase, named

TAIL = b"UI hierchary dumped to: /dev/tty\n"


def node(kind: str, bounds: str, inner: str = "", **facts: str) -> str:
    words = " ".join(f'{k.replace("_", "-")}="{v}"' for k, v in {"text": "", "enabled": "true", **facts}.items())
    return f'<node class="android.widget.{kind}" bounds="{bounds}" {words}>{inner}</node>'


def screen(inner: str) -> Screen:
    xml = (
        f'<?xml version="1.0"?><hierarchy rotation="0">{node("FrameLayout", "[0,0][800,1600]", inner, package="org.example.x")}</hierarchy>'
    )
    return read_android(xml.encode() + TAIL, 800, 1600, 320)


class Trees(unittest.TestCase):
    def test_a_dump_that_is_no_tree_has_a_sentence(self) -> None:
        table = {
            b"": "it printed nothing",
            b"ERROR: could not get idle state.\n": "could not get idle state",
            b"<?xml version='1.0'?><hierarchy rotation='0'><node": "no element tree",
            b"<hierarchy><node></hierarchy>": "not well-formed",
            b"<hierarchy></hierarchy>": "empty",
            b"\xff\xfe\x00</hierarchy>": "not well-formed",
        }
        for dump, words in table.items():
            with self.subTest(dump), self.assertRaises(TreeUnreadable) as caught:
                read_android(dump, 800, 1600, 320)
            self.assertIn(words, caught.exception.sentence)

    def test_no_bytes_break_it_otherwise(self) -> None:
        good = f'<hierarchy rotation="0">{node("Button", "[0,0][10,10]", text="a")}</hierarchy>'.encode()
        chance = random.Random(3)
        for _ in range(600):
            data = bytearray(good)
            for _ in range(chance.randrange(1, 6)):
                data[chance.randrange(len(data))] = chance.randrange(256)
            try:
                read_android(bytes(data), 800, 1600, 320)
            except TreeUnreadable:
                continue

    def test_lengths_are_dp_and_what_the_tree_says_is_kept(self) -> None:
        found = screen(
            node("Button", "[20,40][220,140]", text="12", content_desc="Go", resource_id="org.x:id/go", clickable="true", password="true")
        )
        button = named(found, "button", "Go")
        self.assertEqual((found.width, found.height, found.app), (400, 800, "org.example.x"))
        self.assertEqual(button.box, Box(10, 20, 110, 70))
        self.assertEqual((button.id, button.text), ("go", "••"), "what a password field holds goes no further")
        self.assertTrue(button.has(Flag.CLICKABLE) and button.has(Flag.PASSWORD) and not button.has(Flag.CHECKED))


class Names(unittest.TestCase):
    def test_what_a_person_would_call_it(self) -> None:
        caption = node("TextView", "[20,20][300,60]", text="Brood frames")
        value = node("TextView", "[700,20][760,60]", text="6")
        table = [
            ("label before text", node("Button", "[0,0][9,9]", text="x", content_desc="Close"), "button", "Close"),
            ("caption above a slider", caption + value + node("SeekBar", "[20,70][760,140]", text="6.0"), "slider", "Brood frames"),
            ("caption beside a switch", caption + node("Switch", "[600,10][760,70]"), "switch", "Brood frames"),
            (
                "caption above a field, not its content",
                caption + node("EditText", "[20,70][760,140]", text="six"),
                "textbox",
                "Brood frames",
            ),
            ("hint of a field without caption", node("EditText", "[20,70][760,140]", hint="Notes"), "textbox", "Notes"),
            (
                "first words inside a button",
                node("Button", "[0,0][99,99]", node("TextView", "[9,9][80,40]", text="Save")),
                "button",
                "Save",
            ),
            (
                "heading over a list",
                node("TextView", "[20,20][300,60]", text="Hives") + node("ListView", "[0,100][800,900]"),
                "list",
                "Hives",
            ),
            ("no caption a screen away", caption + node("SeekBar", "[20,900][760,960]"), "slider", ""),
        ]
        for claim, inner, role, name in table:
            with self.subTest(claim):
                self.assertEqual([e.name for e in screen(inner) if e.role == role], [name])

    def test_what_a_bar_or_a_floating_button_stands_over_lies_under_it(self) -> None:
        rows = "".join(node("TextView", f"[0,{top}][800,{top + 100}]", text=f"Row {top // 100}") for top in range(0, 1500, 100))
        over = node("Button", "[0,150][800,200]", text="In the list")
        listed = node("ScrollView", "[0,0][800,1400]", rows + over, scrollable="true")
        bar = node("LinearLayout", "[0,1350][800,1600]", node("Button", "[0,1400][400,1600]", text="Home"))
        button = node("Button", "[600,1100][760,1260]", text="+")
        seen = screen(listed + bar + button)
        under = {e.name for e in seen if e.name and lies_under(e)}
        self.assertEqual(under, {"Row 11", "Row 12", "Row 13", "Row 14"}, "what is scrolled along with it does not")
        whole = screen(listed + node("FrameLayout", "[0,0][800,1600]", node("TextView", "[0,0][800,40]", text="Over all")))
        under = {e.name for e in whole if e.name and lies_under(e)}
        self.assertEqual(under, {"Row 0"}, "what only holds things may be drawn nowhere")

    def test_a_list_is_not_called_by_a_row_of_its_own(self) -> None:
        row = node("LinearLayout", "[0,100][800,140]", node("TextView", "[20,100][300,103]", text="Hive 12"))
        found = screen(node("TextView", "[20,20][300,60]", text="Hives") + node("ListView", "[0,100][800,900]", row))
        self.assertEqual([e.name for e in found if e.role == "list"], ["Hives"])
        self.assertEqual([e.name for e in found if e.role == "listitem"], ["Hive 12"])


class Readings(LabCase):
    def test_the_form_on_every_phone_reads_as_a_person_reads_it(self) -> None:
        for name in ("Alder 5", "Wren mini", "Plateau 10"):
            found = self.screen(name, "form")
            self.assertEqual(reads(named(found, "slider", "Brood frames")), "3")
            self.assertEqual(reads(named(found, "switch", "Queen seen")), "off")
            self.assertEqual(reads(named(found, "radiogroup", "Temper")), "")
            self.assertEqual(reads(named(found, "textbox", "Notes")), "")

    def test_a_captions_value_stands_beside_it(self) -> None:
        found = self.screen("Plateau 10", "hive")
        self.assertEqual(value_of_caption(named(found, "text", "Temper")), "Hot")
        self.assertEqual(value_of_caption(named(found, "text", "Brood frames")), "4")

    def test_a_slider_without_a_text_of_its_own_is_read_beside_its_caption(self) -> None:
        caption = node("TextView", "[20,20][300,60]", text="Frames") + node("TextView", "[700,20][760,60]", text="7")
        self.assertEqual(reads(named(screen(caption + node("SeekBar", "[20,70][760,140]")), "slider", "Frames")), "7")

    def test_numbers_lose_an_empty_fraction_only(self) -> None:
        self.assertEqual([number_words(w) for w in ("6.0", "6.5", "six", "")], ["6", "6.5", "six", ""])
