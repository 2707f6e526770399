"""One bad phone: what it says is its own trouble, in a sentence, within its time and its bytes."""

import base64
import gzip
import json
import struct
import tempfile
import threading
import unittest
import zlib
from collections.abc import Callable
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

from copione.links.adb import facts
from copione.links.adb.link import AdbLink, own_seconds
from copione.links.adb.server import AdbServer, Route
from copione.links.adb.source import AdbSource
from copione.links.adb.wire import parse_listing
from copione.links.bench import Bench
from copione.links.limits import PNG, Limit, one_line, trouble_with
from copione.links.webdriver.dialect import at, read_dialect
from copione.links.webdriver.link import WebDriverLink, look_up
from copione.model.device import Readiness
from copione.model.errors import CopioneError, FileTrouble, LinkError
from copione_lab import shell

from ..benches import APP, SERIALS, LabCase
from ..hostile import Babbler, packets


def chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def png(width: int, height: int, data: bytes = b"\0") -> bytes:
    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return PNG + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(data)) + chunk(b"IEND", b"")


class Facts(unittest.TestCase):
    def test_no_text_gives_a_fact_that_no_phone_has(self) -> None:
        long = "9" * 40_000
        for words in (f"Physical size: {long}x{long}", "Physical size: 0x0", "Physical size: 99999x99999", "Physical size: ²x³"):
            self.assertIsNone(facts.size(words), words[:40])
        for words in ("Physical density: 0", f"Physical density: {long}", "Physical density: 9999"):
            self.assertIsNone(facts.density(words))
        for words in ("1.2.3 x 1.2.3 dpi", f"{long} x {long} dpi", "0.0 x 1.0 dpi", "inf x nan dpi"):
            self.assertIsNone(facts.glass_dpi(words))
        self.assertEqual(
            [facts.text_scale(words) for words in ("1.15", "nan", "0", "9" * 400, "²", "1.3\n", "1.0\x1e")], [1.15, 1, 1, 1, 1, 1.3, 1]
        )
        self.assertEqual(facts.rotation(f"mRotation={long}"), facts.rotation("mRotation=999"))
        for words in ("Window #1 Window{" * 50_000, "ABS_MT_POSITION_X : " * 50_000, "mFocusedApp=" * 50_000):
            self.assertEqual((facts.keyboard(words), facts.panel(words), facts.front(words)), (None, None, ("", "")))

    def test_a_garbled_listing_leaves_the_good_lines(self) -> None:
        listing = b"\xff\xfe\nA device model:Wren\n\x00 device\n" + b"x" * 20_000 + b" device\nhttp://127.0.0.1:1/ device\n\n"
        self.assertEqual([serial for serial, _, _ in parse_listing(listing)], ["A", "http://127.0.0.1:1/"])

    def test_names_are_one_short_line(self) -> None:
        table = {"Wren [/] mini": "Wren [/] mini", "a\x1b[2Jb\x9b\n c\u202e": "a[2Jb c", "": "", "x" * 20_000: "x" * 79 + "…"}
        for said, name in table.items():
            self.assertEqual(one_line(said), name)

    def test_pictures_are_known_by_their_head_and_end(self) -> None:
        good = png(4, 4)
        table = [
            (good, ""),
            (b"", "no picture"),
            (b"\xff\xd8\xff", "no picture"),
            (good[:-5], "cut short"),
            (good[:33] + good[-12:], ""),  # no shorter one has a head and an end; pixels are not unpacked here
            (png(30_000, 30_000), "30000 × 30000 pixels"),
            (png(0, 9), "0 × 9"),
            (good.replace(b"IDAT", b"IDAT\1", 1), "damaged"),
        ]
        for data, words in table:
            self.assertIn(words, trouble_with(data) or "")
            self.assertEqual(bool(trouble_with(data)), bool(words))

    def test_a_command_may_take_as_long_as_it_says(self) -> None:
        self.assertAlmostEqual(own_seconds("input motionevent DOWN 1 2; sleep 0.50; input motionevent UP 1 2"), 0.7)
        self.assertAlmostEqual(own_seconds("input swipe 1 2 3 4 800"), 0.8)


class OneBadPhone(LabCase):
    """A server where one phone of two says something else in answer to one command."""

    def babbling(self, service: str, said: Callable[[bytes], bytes]) -> Babbler:
        phone = self.lab.phones[SERIALS["Alder 5"]]

        def answer(asked: str) -> bytes:
            kind, _, line = asked.partition(":")
            if kind == "host":
                listing = b"BAD device model:Wren\nGOOD device model:Alder\n"
                return b"OKAY" + b"%04x" % len(listing) + listing
            output = shell.run(phone, line)[0]
            output = said(output) if line.startswith(service) and self.asked.pop(line, True) else output
            return b"OKAY" + (packets(output) if kind == "shell,v2" else output)

        self.asked: dict[str, bool] = {}
        return self._stack.enter_context(Babbler(answer))

    def test_what_it_says_instead_has_a_sentence_and_an_end(self) -> None:
        table: list[tuple[str, bytes, str]] = [
            ("screencap", png(30_000, 30_000), "30000 × 30000 pixels"),
            ("screencap", png(1080, 2340)[:-9], "cut short"),
            ("uiautomator", b"<hierarchy rotation='\xc2\xb2'><node bounds='[0,0][99999999,9]'/></hierarchy>", ""),
            ("uiautomator", b"<hierarchy>" + b"<node>" * 400 + b"</node>" * 400 + b"</hierarchy>", "well-formed"),
            ("uiautomator", b"<hierarchy>" + b"<node/>" * 13_000 + b"</hierarchy>", "more than 12,000 elements"),
        ]
        for service, output, words in table:
            with self.subTest(service, words=words):
                moment = AdbLink(AdbServer(port=self.babbling(service, lambda _, output=output: output).port, patience=5), "BAD").moment()
                self.assertIn(words, moment.trouble)
                self.assertEqual(bool(moment.png), service != "screencap", "the picture is left out, and everything else goes on")
                self.assertEqual(moment.screen is None, "uiautomator" in service and bool(words))

    def test_more_bytes_than_a_command_may_have_are_not_taken(self) -> None:
        face = self.babbling("getprop", lambda _: b"x" * (1 << 16))
        with self.assertRaises(LinkError) as caught:
            AdbServer(port=face.port).shell(Route("BAD"), "getprop a", limit=Limit(1 << 12, 5))
        self.assertIn("more than 0.00390625 MB", caught.exception.sentence)

    def test_a_profile_that_makes_no_sense_is_that_devices_trouble(self) -> None:
        for service, output in (("wm size", b"Physical size: 1x99999"), ("wm density", b"Physical density: 0")):
            bench = Bench(AdbServer(port=self.babbling(service, lambda _, output=output: output).port, patience=5))
            devices = bench.look()
            bench.close()
            self.assertEqual([bool(d.trouble) for d in devices], [True, True])
            self.assertIn("does not tell its screen size", devices[0].trouble)

    def test_whatever_else_happens_the_benchs_thread_goes_on(self) -> None:
        bench = Bench(self.server)
        self.addCleanup(bench.close)
        heard: list[int] = []
        twice = threading.Event()

        def fails(devices: list[Any], _trouble: str) -> None:
            heard.append(len(devices))
            if len(heard) > 2:
                twice.set()
            raise RuntimeError("whoever hears of it")

        bench.changed = fails
        with self.assertLogs("copione.links.bench", "ERROR"):
            bench.watch()
            self.lab.unplug(SERIALS["Wren mini"])
            self.assertTrue(twice.wait(20))

    def test_a_serial_that_looks_like_an_address_is_a_serial(self) -> None:
        called = threading.Event()

        class Handler(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                called.set()

            do_POST = do_GET

        listener = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        self.addCleanup(listener.server_close)
        url = f"http://127.0.0.1:{listener.server_port}"
        listing = f"{url} device model:Wren\n".encode()
        face = self._stack.enter_context(Babbler(lambda _: b"OKAY" + b"%04x" % len(listing) + listing))
        bench = Bench(AdbServer(port=face.port, patience=2))
        self.assertEqual([(d.listed.address, type(d.source)) for d in bench.look()], [(url, AdbSource)])
        bench.close()
        self.assertFalse(called.is_set())


class BadDriver(unittest.TestCase):
    """A WebDriver endpoint that answers with anything."""

    def driver(self, value: Callable[[str], Any], body: bytes | None = None, packed: bool = False) -> str:
        class Handler(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                self.rfile.read(int(self.headers.get("Content-Length") or 0))
                name = self.path.rstrip("/").rpartition("/")[2]
                said = body if body is not None else json.dumps({"value": value(name)}).encode()
                self.send_response(200)
                if packed:
                    self.send_header("Content-Encoding", "gzip")
                self.send_header("Content-Length", str(len(said)))
                self.end_headers()
                self.wfile.write(said)

            do_POST = do_DELETE = do_GET

            def log_message(self, *_: Any) -> None:
                pass

        face = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        threading.Thread(target=face.serve_forever, daemon=True).start()
        self.addCleanup(face.server_close)
        self.addCleanup(face.shutdown)
        return f"http://127.0.0.1:{face.server_port}"

    GOOD = {
        "session": {"sessionId": "a", "capabilities": {"platformName": "ios", "lab:app": "x"}},
        "rect": {"width": 4, "height": 4, "x": 0, "y": 0},
        "screenshot": base64.b64encode(png(4, 4)).decode(),
    }

    def test_values_of_another_kind_have_a_sentence(self) -> None:
        odd: list[tuple[str, Any]] = [
            *(
                ("session", value)
                for value in (None, [], {"sessionId": None}, {"capabilities": {}}, {"sessionId": "../a", "capabilities": {}})
            ),
            ("session", {"sessionId": "a", "capabilities": []}),
            *(("rect", value) for value in (None, [], {}, {"width": 0}, {"width": "nan"}, {"width": 10**400}, {"width": [1]})),
            *(("screenshot", value) for value in (None, [], 5, "no base64!", base64.b64encode(b"GIF89a").decode())),
        ]
        for name, value in odd:
            with self.subTest(name, value=str(value)[:40]):
                link = WebDriverLink(self.driver(lambda asked, name=name, value=value: value if asked == name else self.GOOD.get(asked)))
                with self.assertRaises(LinkError):
                    link.profile()
                link.close()

    def test_an_answer_that_is_none_has_a_sentence(self) -> None:
        bodies = (
            b"",
            b"null",
            b"[" * 100_000,
            b'{"value": ' + b"9" * 5000,
            b"\xff\xfe",
            b'{"value": {"sessionId": "\\ud800", "capabilities": {}}}',
        )
        for body in bodies:
            url = self.driver(lambda _: None, body)
            link = WebDriverLink(url)
            with self.subTest(body[:20]), self.assertRaises(CopioneError):
                link.profile()
            self.assertIs(look_up(url).readiness, Readiness.OFFLINE)
            link.close()

    def test_a_dialect_that_cannot_be_meant_is_refused_and_an_odd_answer_is_an_error(self) -> None:
        place = Path(self.enterContext(tempfile.TemporaryDirectory())) / "odd.toml"
        for need, words in (
            ('sing = { path = "a" }', "there is no need sing"),
            ("launch = { }", "either a path or a script"),
            ('launch = { path = "a", script = "b" }', "either a path or a script"),
            ('launch = { path = "../other" }', "below the session"),
            ('launch = { path = "a", method = "PUT" }', "no method PUT"),
            ('launch = { path = "a", body = { of = ["{password}"] } }', "nothing stands for {password}"),
            ('launch = { path = "a", more = 1 }', "unknown field `more`"),
        ):
            place.write_text(f'about = "odd"\n[needs]\n{need}\n', "utf-8")
            with self.subTest(need), self.assertRaisesRegex(FileTrouble, words):
                read_dialect(place)
        for answer, where in (([], "0"), ({}, "a"), ("a", "a"), (None, "a.b"), ({"a": [1]}, "a.b")):
            with self.subTest(where), self.assertRaises(ValueError):
                at(answer, where)

    def test_nothing_packed_is_unpacked(self) -> None:
        bomb = gzip.compress(b'{"value": "' + b"a" * (50 << 20) + b'"}')
        link = WebDriverLink(self.driver(lambda _: None, bomb, packed=True))
        with self.assertRaises(LinkError) as caught:
            link.profile()
        self.assertIn("is not a WebDriver remote end", caught.exception.sentence)
        link.close()

    def test_half_letters_become_whole_ones(self) -> None:
        told = {**self.GOOD, "session": {"sessionId": "a", "capabilities": {"platformName": "ios", "lab:deviceName": "Wren \ud800 mini"}}}
        link = WebDriverLink(self.driver(told.get))
        self.assertEqual(link.profile().name.encode("utf-8").decode(), link.profile().name)
        link.close()


class Hanging(LabCase):
    def test_a_drip_ends_with_its_deadline_not_with_its_reads(self) -> None:
        phone = self.lab.phones[SERIALS["Alder 5"]]
        phone.launch(APP)
        self.lab.trouble[SERIALS["Alder 5"]] = "drip"
        with self.assertRaises(LinkError) as caught:
            AdbServer(port=self.face.port).execute(Route(SERIALS["Alder 5"]), "screencap -p", limit=Limit(1 << 20, 0.4))
        self.assertIn("no whole answer for 0.4 s", caught.exception.sentence)


if __name__ == "__main__":
    unittest.main()
