import tempfile
import unittest
from pathlib import Path

from copione.links.usb import DEBUGGING, MEDIA, hints, plugged
from copione.model.device import ListedDevice, Readiness


class Ports(unittest.TestCase):
    def setUp(self) -> None:
        scratch = tempfile.TemporaryDirectory()
        self.addCleanup(scratch.cleanup)
        self.devices, self.nodes = Path(scratch.name) / "devices", Path(scratch.name) / "nodes"

    def plug(self, place: str, name: str, serial: str, *kinds: tuple[str, str, str], node: bool = True) -> None:
        folder = self.devices / place
        facts = {"idVendor": "18d1", "idProduct": "4ee7", "product": name, "serial": serial, "busnum": "1", "devnum": place[-1]}
        for number, kind in enumerate(kinds):
            part = folder / f"{place}:1.{number}"
            part.mkdir(parents=True)
            for fact, value in zip(("bInterfaceClass", "bInterfaceSubClass", "bInterfaceProtocol"), kind, strict=True):
                (part / fact).write_text(value + "\n")
        for fact, value in facts.items():
            (folder / fact).write_text(value + "\n")
        if node:
            (self.nodes / "001").mkdir(parents=True, exist_ok=True)
            (self.nodes / "001" / place[-1].zfill(3)).touch()

    def said(self, listed: tuple[ListedDevice, ...] = (), server: int | None = 41) -> list[str]:
        return [hint.about for hint in hints(plugged(self.devices, self.nodes), listed, server)]

    def test_each_state_has_its_advice(self) -> None:
        self.assertEqual(self.said(), ["Nothing is on the USB ports"])
        self.plug("1-1", "Mouse", "", ("03", "01", "02"))
        self.assertEqual(self.said(), ["Nothing is on the USB ports"])
        self.plug("1-2", "Alder 5", "A5", MEDIA)
        self.plug("1-3", "Moth 2", "M2", MEDIA, DEBUGGING, node=False)
        self.plug("1-4", "Bramble", "B", DEBUGGING)
        self.plug("1-5", "Fennel 3", "F3", DEBUGGING)
        found = self.said((ListedDevice("F3", "Fennel 3", Readiness.UNAPPROVED),), None)
        self.assertEqual(
            found,
            [
                "No adb server answers",
                "Alder 5: debugging is off",
                "Moth 2: no permission on the USB port",
                "Fennel 3: not approved on the phone",
            ],
        )
        self.assertEqual(self.said(server=39)[0], "The adb server is old (version 39)")
        self.assertIn("Bramble: the adb server has not seen it", self.said())
        (rule,) = [h.copy for h in hints(plugged(self.devices, self.nodes), (), 41) if "permission" in h.about]
        self.assertIn('ATTR{idVendor}=="18d1"', rule)
