import random
import struct
import unittest

from copione.links.adb.wire import Answers, ServerRefused, ShellStream, WireError, parse_listing, request


def packet(kind: int, data: bytes) -> bytes:
    return struct.pack("<BI", kind, len(data)) + data


SHELL = packet(1, b"hello ") + packet(2, b"oops") + packet(1, b"world") + packet(3, b"\x07")


class Requests(unittest.TestCase):
    def test_four_hex_digits_and_the_service(self) -> None:
        self.assertEqual(request("host:version"), b"000chost:version")
        self.assertEqual(request("exec:é"), b"0007exec:" + "é".encode())

    def test_a_command_that_does_not_fit_is_refused(self) -> None:
        with self.assertRaises(WireError):
            request("x" * 70_000)


class Statuses(unittest.TestCase):
    def test_whole_and_byte_by_byte_come_to_the_same(self) -> None:
        table = {b"OKAY": True, b"FAIL0006no way": ServerRefused("no way")}
        for data, expected in table.items():
            whole, slow = Answers(), Answers()
            whole.feed(data)
            self.assertEqual(whole.take_status(), expected)
            for i in range(len(data)):
                self.assertIsNone(slow.take_status())
                slow.feed(data[i : i + 1])
            self.assertEqual(slow.take_status(), expected)

    def test_what_follows_stays_for_the_next(self) -> None:
        answers = Answers()
        answers.feed(b"OKAY0004abcdjunk")
        self.assertEqual((answers.take_status(), answers.take_counted(), answers.take_rest()), (True, b"abcd", b"junk"))

    def test_another_protocol_is_noticed_at_once(self) -> None:
        for data in (b"HTTP/1.1", b"X", b"OKAX"):
            answers = Answers()
            answers.feed(data)
            with self.assertRaises(WireError):
                answers.take_status()
        answers = Answers()
        answers.feed(b"zzzz")
        with self.assertRaises(WireError):
            answers.take_counted()


class Shell(unittest.TestCase):
    def test_whole_and_byte_by_byte_come_to_the_same(self) -> None:
        whole, slow = ShellStream(), ShellStream()
        whole.feed(SHELL)
        for i in range(len(SHELL)):
            self.assertIsNone(slow.code)
            slow.feed(SHELL[i : i + 1])
        for stream in (whole, slow):
            self.assertEqual((bytes(stream.stdout), bytes(stream.stderr), stream.code), (b"hello world", b"oops", 7))

    def test_random_bytes_raise_its_own_error_or_nothing(self) -> None:
        chance = random.Random(5)
        for _ in range(2000):
            data = bytes(chance.randrange(256) for _ in range(chance.randrange(40)))
            stream, answers = ShellStream(), Answers()
            answers.feed(data)
            for take in (lambda s=stream, d=data: s.feed(d), answers.take_status, answers.take_counted):
                try:
                    take()
                except WireError:
                    continue


class Listings(unittest.TestCase):
    def test_every_state_as_servers_print_it(self) -> None:
        block = (
            b"emulator-5554          device product:sdk model:Alder_5 device:x transport_id:1\n"
            b"ABC\tunauthorized\n"
            b"0123456789             no permissions (missing udev rules? user is in the plugdev group); see [url]\n"
            b"XYZ                    offline transport_id:4\n\n"
        )
        self.assertEqual(
            [(serial, state, facts.get("model")) for serial, state, facts in parse_listing(block)],
            [
                ("emulator-5554", "device", "Alder_5"),
                ("ABC", "unauthorized", None),
                ("0123456789", "no permissions", None),
                ("XYZ", "offline", None),
            ],
        )
