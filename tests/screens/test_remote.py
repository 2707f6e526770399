"""Sources of remote ends: the rules of the platforms, whoever wrote them down."""

import unittest

from copione.model.device import DeviceProfile
from copione.model.geometry import Box
from copione.model.screen import Screen
from copione.screens.remote import keepable_source, read_source

ANDROID = DeviceProfile("a", "android", "14", 1080, 2400, 480)
OTHER = DeviceProfile("o", "ios", "17", 1170, 2532, 480)


def android(button: str, root: str, head: str = '<hierarchy rotation="0">{}</hierarchy>') -> Screen:
    inner = f'<android.widget.Button text="Go" resource-id="org.x:id/go" clickable="true" bounds="{button}"/>'
    source = head.format(f'<android.widget.FrameLayout package="org.x" bounds="{root}">{inner}</android.widget.FrameLayout>')
    return read_source(source.encode(), ANDROID)


class Remote(unittest.TestCase):
    def test_boxes_are_dp_whether_told_in_pixels_or_in_dp(self) -> None:
        for button, root in (("[30,60][330,210]", "[0,0][1080,2400]"), ("[10,20][110,70]", "[0,0][360,800]")):
            for head in ('<hierarchy rotation="0">{}</hierarchy>', '<hierarchy width="1" class="hierarchy">{}</hierarchy>', "{}"):
                found = android(button, root, head)
                (go,) = (e for e in found if e.role == "button")
                self.assertEqual((go.box, go.id, go.name, found.app), (Box(10, 20, 110, 70), "go", "Go", "org.x"), (root, head))
                self.assertEqual((found.width, found.height, found.rotation), (360, 800, 0))

    def test_a_turned_screen_is_told_by_its_root_where_nothing_else_tells(self) -> None:
        for root, button in (("[0,0][2400,1080]", "[30,60][330,210]"), ("[0,0][800,360]", "[10,20][110,70]")):
            found = android(button, root, "<hierarchy>{}</hierarchy>")
            self.assertEqual((found.width, found.height, found.rotation, found.element(1).box), (800, 360, 1, Box(10, 20, 110, 70)))

    def test_names_are_identifiers_where_nobody_reads_them(self) -> None:
        frame = 'x="0" y="{}" width="200" height="40" visible="true"'
        source = (
            f"<Whole><XxApplication type='XxApplication' name='Hives' bundleId='org.x' {frame.format(0).replace('200', '390')}>"
            f"<XxButton type='XxButton' name='goNow' label='Go' {frame.format(0)}/>"
            f"<XxButton type='XxButton' name='Stop' label='Stop' {frame.format(50)}/>"
            f"<XxTextField type='XxTextField' name='who' value='Your name' placeholderValue='Your name' {frame.format(100)}/>"
            f"<XxSecureTextField type='XxSecureTextField' name='word' value='geheim' {frame.format(150)}/>"
            "</XxApplication></Whole>"
        ).encode()
        found = read_source(source, OTHER)
        go, stop, who = (next(e for e in found if e.name == name) for name in ("Go", "Stop", "Your name"))
        self.assertEqual((go.id, stop.id, who.id, who.text, found.app), ("goNow", "", "who", "", "org.x"))
        self.assertNotIn(b"geheim", keepable_source(source))


if __name__ == "__main__":
    unittest.main()
