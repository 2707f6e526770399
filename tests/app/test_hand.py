import unittest

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from copione_lab.hand import Glass
from copione_lab.model import load_models
from copione_lab.phone import Phone

from ..benches import APP
from .windows import application


class OnTheGlass(unittest.TestCase):
    def test_the_mouse_is_a_finger_that_the_panel_reports(self) -> None:
        application()
        phone = Phone(load_models()[0])
        phone.launch(APP)
        glass = Glass(phone)
        glass.show()
        lines = phone.panel.listen()
        button = next(n for n in phone.frame().page.walk() if n.id == "open_hives")
        k = phone.model.density * glass.scale
        QTest.mouseClick(glass, Qt.MouseButton.LeftButton, pos=QPoint(round((button.box.left + 40) * k), round((button.box.top + 20) * k)))
        self.assertEqual(phone._app(APP).place, "hives")
        heard = []
        while not lines.empty():
            heard.append(lines.get())
        self.assertEqual(sum("ABS_MT_TRACKING_ID" in line for line in heard), 2)
        self.assertFalse(glass.grab().isNull())
        glass.close()
        glass.deleteLater()
