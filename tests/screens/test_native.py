import unittest

from copione.model.errors import TreeUnreadable
from copione.model.geometry import Box
from copione.model.screen import Flag, Screen
from copione.screens.native import read_native
from copione.screens.reading import reads


def element(kind: str, frame: tuple[int, int, int, int], inner: str = "", **facts: str) -> str:
    x, y, w, h = frame
    words = " ".join(f'{k}="{v}"' for k, v in facts.items())
    return f'<{kind} type="{kind}" x="{x}" y="{y}" width="{w}" height="{h}" {words}>{inner}</{kind}>'


def screen(inner: str) -> Screen:
    return read_native(
        f'<Application type="Application" bundle="org.x" x="0" y="0" width="400" height="800">{inner}</Application>'.encode(), 400, 800
    )


class Native(unittest.TestCase):
    def test_types_become_roles_with_or_without_a_frameworks_prefix(self) -> None:
        for kind, role in {
            "Button": "button",
            "XxElementTypeStaticText": "text",
            "SecureTextField": "textbox",
            "Cell": "listitem",
            "Odd": "text",  # which only says something
        }.items():
            self.assertEqual(screen(element(kind, (0, 0, 9, 9), label="a")).roles[1], role)

    def test_labels_values_and_states(self) -> None:
        found = screen(
            element("StaticText", (10, 10, 200, 20), label="Queen seen")
            + element("Switch", (340, 10, 50, 20), value="1")
            + element("StaticText", (10, 50, 100, 20), label="Frames")
            + element("StaticText", (380, 50, 10, 20), label="6")
            + element("Slider", (10, 72, 380, 30), value="60%", enabled="false")
            + element("SecureTextField", (10, 200, 380, 40), label="Password", value="••••", focused="true")
        )
        switch, slider, secret = (found.element(row) for row in (2, 5, 6))
        self.assertEqual((switch.name, reads(switch)), ("Queen seen", "on"))
        self.assertEqual((slider.name, reads(slider), slider.has(Flag.ENABLED)), ("Frames", "6", False))
        self.assertTrue(secret.has(Flag.PASSWORD) and secret.has(Flag.FOCUSED))
        self.assertEqual((secret.name, secret.text), ("Password", "••••"))

    def test_what_is_invisible_is_left_out_and_what_is_scrolled_is_clipped(self) -> None:
        rows = element("Cell", (0, 80, 400, 60), element("StaticText", (10, 90, 90, 20), label="Hive 1")) + element(
            "Cell", (0, 460, 400, 80), label="Hive 9"
        )
        found = screen(element("Table", (0, 100, 400, 400), rows) + element("Button", (0, 0, 9, 9), label="no", visible="false"))
        self.assertNotIn("no", found.names)
        cells = [e.box for e in found if e.role == "listitem"]
        self.assertEqual(cells, [Box(0, 100, 400, 140), Box(0, 460, 400, 500)])

    def test_the_keyboard_is_a_box_and_its_keys_no_elements(self) -> None:
        found = screen(
            element("Keyboard", (0, 500, 400, 300), element("Key", (0, 500, 40, 40), label="q"))
            + element("Button", (0, 0, 9, 9), label="a")
        )
        self.assertEqual(found.keyboard, Box(0, 500, 400, 800))
        self.assertNotIn("q", found.names)

    def test_what_is_no_tree_has_a_sentence(self) -> None:
        for source, words in ((b"", "it is empty"), (b"<Application", "not well-formed"), (b"<Application/>", "is empty")):
            with self.assertRaises(TreeUnreadable) as caught:
                read_native(source, 400, 800)
            self.assertIn(words, caught.exception.sentence)
        self.assertEqual(screen(element("Button", (0, 0, 9, 9), label="a").replace('x="0"', 'x="left"', 1)).element(1).box, Box(0, 0, 0, 0))
