"""Phones without a cable: found by the server, paired by a code, connected."""

from unittest import mock

from click.testing import CliRunner

from copione.cli.main import main
from copione.links.adb.server import AdbServer
from copione.links.adb.wireless import Nearby, checked, connect, nearby, pair
from copione.model.errors import NotPaired
from copione_lab.bench import Wireless

from ..benches import APP, SERIALS, LabCase

AT, PAIRING, CODE = "192.168.0.7:41235", "192.168.0.7:37001", "314159"


class WithoutACable(LabCase):
    def setUp(self) -> None:
        super().setUp()
        self.lab.unplug(SERIALS["Alder 5"])
        self.lab.near[AT] = Wireless(SERIALS["Alder 5"], PAIRING, CODE)
        self.server = AdbServer(port=self.face.port)

    def test_it_is_found_paired_by_its_code_and_connected(self) -> None:
        name = f"adb-{SERIALS['Alder 5']}"
        self.assertEqual(nearby(self.server), [Nearby(name, PAIRING, True), Nearby(name, AT, False)])
        for act, words in (
            (lambda: connect(self.server, AT), "was not connected: failed to connect"),
            (lambda: pair(self.server, PAIRING, "000000"), "was not paired: Failed: Wrong password"),
            (lambda: pair(self.server, "10.0.0.9:5", CODE), "Unable to start pairing client"),
            (lambda: pair(self.server, PAIRING, "what it shows"), "the six digits"),
            (lambda: connect(self.server, "10.0.0.9:5"), "Connection refused"),
        ):
            with self.assertRaises(NotPaired) as caught:
                act()
            self.assertIn(words, caught.exception.sentence)
            self.assertNotIn(CODE, caught.exception.sentence)
        pair(self.server, PAIRING, " 314 159")
        connect(self.server, AT)
        connect(self.server, AT)  # it is there already
        self.assertIn(SERIALS["Alder 5"], [device.address for device in self.server.devices()])
        self.assertEqual([each.pairs for each in nearby(self.server)], [False])

    def test_what_is_no_address_is_not_asked_for(self) -> None:
        for address in ("", "192.168.0.7", "192.168.0.7:0", "192.168.0.7:99999", "a:1\nhost:kill", "host:features", "a b:5"):
            self.assertRaises(NotPaired, checked, address)
        for address in ("192.168.0.7:41235", "phone.local:5555", "[fe80::1%wlan0]:5555"):
            self.assertEqual(checked(f" {address} "), address)

    def test_what_a_server_makes_up_is_left_out(self) -> None:
        said = (
            b"a\t_http._tcp\t1.2.3.4:80\nb\t_adb-tls-connect._tcp\t1.2.3.4\n\xff\xfe\n\tx\nc\t_adb-tls-connect._tcp.\t1.2.3.4:5\n"
            + b"d\n" * 500
        )
        with mock.patch.object(AdbServer, "ask", lambda *_: said):
            self.assertEqual(nearby(self.server), [Nearby("c", "1.2.3.4:5", False)])

    def test_from_a_terminal(self) -> None:
        def said(*words: str) -> str:
            return CliRunner().invoke(main, ["connect", *words, "--adb", f"127.0.0.1:{self.face.port}"]).output

        self.assertIn(f"wants to be paired at {PAIRING}", said())
        self.assertIn("Pairing takes both", said("--code", CODE))
        self.assertIn("Wrong password", said(AT, "--pair-at", PAIRING, "--code", "111111"))
        self.assertIn(f"{AT} is connected.", said(AT, "--pair-at", PAIRING, "--code", CODE))

    def test_a_check_of_a_phone_tells_no_word_of_its_screen(self) -> None:
        phone = self.lab.phones[SERIALS["Wren mini"]]
        phone.launch(APP)
        file = self.scratch / "check.txt"
        asked = ["phone-check", "--on", "Wren mini", "--adb", f"127.0.0.1:{self.face.port}", "--to", str(file)]
        said = CliRunner().invoke(main, asked)
        kept = file.read_text("utf-8")
        self.assertEqual(said.exit_code, 0, said.output)
        told = ("profile: android 12, 480 x 960 px", "unpacked", "apps: 3, 1 came with it; in front: one of them", "told: memory_kb")
        for words in (*told, "language: no"):
            self.assertIn(words, kept)
        for words in ("FAILED", "Hives", SERIALS["Wren mini"], "org.example"):
            self.assertNotIn(words, kept)
