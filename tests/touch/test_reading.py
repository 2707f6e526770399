import random
import unittest

from copione.model.gesture import Contact
from copione.model.strokes import svg_strokes
from copione.touch import making
from copione.touch.panel import parse_events, tracks
from copione.touch.path import svg_words
from copione.touch.reading import read_contacts, read_tracks
from copione.touch.thresholds import HOLD_S, SLOP

from .hands import KINDS, Finger, made, noisy, printed


def heard(log: str, density: float = 2.0) -> list:
    return read_tracks(tracks(parse_events(log.encode()), 1 / density, 1 / density))


class Gestures(unittest.TestCase):
    def test_noisy_gestures_of_every_kind_are_read_as_they_were_meant(self) -> None:
        chance = random.Random(20)
        wrong = []
        for i in range(1100):
            kind, density = KINDS[i % len(KINDS)], chance.choice((2.0, 2.625, 3.5))
            hz = chance.choice((60, 90, 120, 240))
            fingers = noisy(made(kind, chance, 50.0), chance, hz)
            found = heard(printed(fingers, density, first_id=65530), density)
            if [g.kind for g in found] != [kind]:
                wrong.append((kind, [g.kind for g in found]))
        self.assertLess(len(wrong), 11, wrong)

    def test_what_is_made_is_read_as_it_was_meant(self) -> None:
        table = {
            "tap": [making.tap(5, 5)],
            "double-tap": making.double_tap(5, 5),
            "hold": [making.hold(5, 5)],
            "swipe": [making.swipe(10, 300, 10, 100)],
            "fling": [making.fling(10, 300, 10, 100)],
            "drag": [making.drag(10, 300, 10, 100, 1.0)],
            "hold-drag": [making.hold_drag(10, 300, 10, 100)],
            "pinch": making.two_fingers((200, 400), 90, scale=2.0),
            "twist": making.two_fingers((200, 400), 90, angle=-70),
            "pan": making.two_fingers((200, 400), 60, shift=(90, 0)),
            "draw": [making.freehand([(20, 20), (120, 30), (60, 120), (20, 20)])],
        }
        self.assertEqual(set(table), set(KINDS))
        for kind, contacts in table.items():
            gesture = read_contacts(contacts)
            self.assertEqual(gesture.kind, kind)
            if kind == "pinch":
                self.assertAlmostEqual(gesture.scale, 2.0, delta=0.05)
            if kind == "twist":
                self.assertAlmostEqual(gesture.angle, -70, delta=1)

    def test_directions_and_speeds_are_kept(self) -> None:
        for direction, degrees, (dx, dy) in (("left", 180, (-90, 0)), ("right", 0, (90, 0)), ("up", 270, (0, -90)), ("down", 90, (0, 90))):
            gesture = read_contacts([making.swipe(200, 200, 200 + dx, 200 + dy)])
            self.assertEqual((gesture.direction, round(gesture.direction_deg)), (direction, degrees))

    def test_near_the_line_it_is_unsure_and_names_the_other_reading(self) -> None:
        unsure = read_contacts([Contact(0, ((0, 10, 10), (0.1, 10 + SLOP * 1.05, 10)), 0.1)])
        self.assertEqual((unsure.kind, unsure.second), ("swipe", "tap"))
        self.assertLess(unsure.confidence, 0.6)
        self.assertGreater(read_contacts([making.tap(9, 9)]).confidence, 0.9)
        self.assertEqual(read_contacts([Contact(0, ((0, 10, 10),), HOLD_S * 0.97)]).second, "hold")

    def test_what_is_no_finger_of_the_gesture_is_left_out(self) -> None:
        tap, palm = Finger([(5.0, 200, 300)], 5.1), Finger([(4.5, 30, 800), (4.8, 33, 802)], 5.6)
        self.assertEqual([(g.kind, g.fingers) for g in heard(printed([palm, tap], 2.0))], [("tap", 1)])
        broken = [
            Finger([(1 + i * 0.01, 100, 500 - i * 8) for i in range(12)], 1.12),
            Finger([(1.13 + i * 0.01, 100, 400 - i * 8) for i in range(12)], 1.26),
        ]
        (mended,) = heard(printed(broken, 2.0))
        self.assertAlmostEqual(mended.length, 188, delta=2)
        jump = [(i * 0.02, 160.0 if i == 4 else 100.0, 100.0) for i in range(10)]
        self.assertEqual(read_contacts([Contact(0, tuple(jump), 0.2)]).kind, "tap")
        with self.assertRaises(ValueError):
            read_contacts([])


class Panels(unittest.TestCase):
    def test_a_place_that_is_not_said_again_is_where_the_slot_was(self) -> None:
        lines = [
            (1.0, "ABS_MT_TRACKING_ID", "00000005"),
            (1.0, "ABS_MT_POSITION_X", "00000064"),
            (1.0, "ABS_MT_POSITION_Y", "000000c8"),
            (1.0, "SYN_REPORT", "00000000"),
        ]
        lines += [(1.1, "ABS_MT_TRACKING_ID", "ffffffff"), (1.1, "SYN_REPORT", "00000000"), (2.0, "ABS_MT_TRACKING_ID", "00000005")]
        lines += [
            (2.0, "ABS_MT_POSITION_Y", "0000012c"),
            (2.0, "SYN_REPORT", "00000000"),
            (2.5, "BTN_TOUCH", "UP"),
            (2.5, "SYN_REPORT", "00000000"),
        ]
        quick = "".join(f"[{t:15.6f}] /dev/input/event2: {'EV_ABS':<12} {code:<20} {value:<20}\n" for t, code, value in lines)
        slow = "".join(f"[ {t:.6f}] EV_ABS {code} {value}\n" for t, code, value in lines)
        for log in (quick, slow, "add device 1: /dev/input/event2\n" + slow):
            first, second = tracks(parse_events(log.encode()))
            self.assertEqual((first.begin, first.lift), ((100, 200), 1.1))
            self.assertEqual((second.begin, second.lift), ((100, 300), 2.5))
        self.assertEqual(tracks(parse_events(b"nothing of the kind\n")), [])

    def test_both_ways_to_read_a_log_agree(self) -> None:
        chance = random.Random(4)
        log = printed(noisy([*made("pinch", chance, 9.0), *made("draw", chance, 12.0)], chance, 120), 3.0)
        squeezed = "\n".join(" ".join(line.split()).replace("[ ", "[") for line in log.splitlines())
        quick, slow = (tracks(parse_events(words.encode())) for words in (log, squeezed))
        self.assertEqual([t.path for t in quick], [t.path for t in slow])


class Paths(unittest.TestCase):
    def test_a_path_is_written_in_few_points_and_read_back(self) -> None:
        words = svg_words([(i / 50, 0.5) for i in range(51)] + [(1.0, 0.5 + i / 100) for i in range(40)])
        self.assertEqual(words, "M 0 .5 L 1 .5 L 1 .89")
        self.assertEqual(
            svg_strokes(words + " M .1 .1 l .2 0"), [[(0, 0.5), (1, 0.5), (1, 0.89)], [(0.1, 0.1), (0.30000000000000004, 0.1)]]
        )
        for broken in ("L 1 1", "M 1", "M a b", ""):
            with self.assertRaises(ValueError):
                svg_strokes(broken)
