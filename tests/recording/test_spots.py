from pathlib import Path

from copione.model.doubt import Doubt
from copione.model.geometry import Box
from copione.model.outcome import Outcome
from copione.model.relation import LooksAsRecorded
from copione.project.journal import unfinished
from copione.project.naming import portraits_path
from copione.project.portraits import load_portraits
from copione.recording.checks import area_checks, likely_checks
from copione.recording.session import Session
from copione.touch.making import double_tap, hold, swipe, tap, two_fingers, with_fingers

from ..benches import EXAMPLE, named
from .test_session import RecordingCase
from .tour import replayed


class WithoutATree(RecordingCase):
    """The scale's page never rests: the phone gives no tree of it."""

    def on_the_scale(self) -> Session:
        session = self.begin()
        self.tap(session, "button", "Hive scale")
        self.assertIsNone(session.moment.screen)
        return session

    def test_gestures_are_kept_by_picture_and_said_to_be(self) -> None:
        session = self.on_the_scale()
        for contacts in (
            [tap(100, 222)],  # words that stay as they are, below those that never do
            [hold(104, 223)],
            double_tap(60, 52),
            [swipe(200, 700, 200, 400)],
            two_fingers((200, 600), 60, scale=2.0),
            with_fingers(tap(104, 223), 2, 200, 40),
        ):
            session.touch(contacts)
        self.assertEqual(
            self.words(session)[2:],
            [
                'tap area "Spot 1"',
                'hold area "Spot 1"',
                'double-tap area "Spot 2"',
                'swipe up on area "Whole page"',
                'pinch area "Whole page" by 2',
                'tap area "Spot 1" using 2 fingers',
            ],
        )
        last = session.recording.steps[-1]
        self.assertEqual((last.bars, last.doubt), (1, Doubt.ONLY_PLACE))
        session.journal.close()
        (kept,) = unfinished(self.project.recordings_folder)
        self.assertEqual(kept.steps[2].portraits[0][1].part, session.recording.steps[2].portraits[0][1].part)

    def test_an_area_can_be_checked_by_its_words_and_its_look(self) -> None:
        for words, said in (
            ("34.05 kg", ["reads 34", "looks as", "looks as", "is between 30.64 and 37.45", 'contains "kg"', "matches"]),
            ("", ["looks as recorded", "looks as recorded allowing 3 dp 20 %"]),
        ):
            found = area_checks(None, (412, 892), Box(14, 150, 150, 200), 1, words)
            self.assertEqual(len(found), len(said))
        session = self.begin()
        screen = session.moment.screen
        assert screen is not None
        box = named(screen, "img", "Honeycomb").box
        inner = area_checks(screen, (412, 892), box.part(Box(0.2, 0.2, 0.5, 0.8)), 3)[0]
        self.assertEqual((inner.step.target.name, inner.step.place), ("Honeycomb 3", False))
        first = likely_checks(named(screen, "img", "Honeycomb"))[0]
        self.assertEqual(first.step.action.relation, LooksAsRecorded())


class ReplayedElsewhere(RecordingCase):
    def begin(self, name: str = "Alder 5") -> Session:
        session = super().begin(name)
        (self.project.folder / "project.toml").write_text((EXAMPLE / "project.toml").read_text("utf-8"), "utf-8")
        return session

    def recorded(self) -> Path:
        session = self.begin()
        screen = session.moment.screen
        assert screen is not None
        session.check(likely_checks(named(screen, "img", "Honeycomb"))[0])
        self.tap(session, "button", "Hive scale")
        session.touch([tap(206, 273)])  # the button that stops it
        self.tap(session, "button", "Apiary map")
        canvas = named(session.moment.screen, "canvas", "Apiary map").box
        session.check(area_checks(session.moment.screen, (412, 892), canvas.part(Box(0.2, 0.2, 0.5, 0.5)), 2)[1])
        session.recording.app = "hive-diary"
        path = session.save("Spots")
        part = load_portraits(portraits_path(path))['area "Apiary map 2"'][0].part
        for got, meant in zip(part, (0.2, 0.2, 0.5, 0.5), strict=True):
            self.assertAlmostEqual(got, meant, 3)
        return path

    def test_by_its_picture_where_it_looks_alike_and_not_at_all_where_it_reads_otherwise(self) -> None:
        heard, logs = replayed(self.recorded(), "2.4", {"Kestrel S", "Juniper Fold", "Bramble"})
        for name in ("Kestrel S", "Juniper Fold"):
            results = heard.results[name]
            self.assertEqual([r.step for r in results if not r.outcome.good], [], name)
            self.assertEqual(next(r.by for r in results if "Spot" in r.step), "picture", name)
            self.assertRegex(next(r.read for r in results if "Honeycomb" in r.step), r"^as recorded, \d+ × 140 dp large")
        spot = next(r for r in heard.results["Bramble"] if "Spot" in r.step)  # its words are German
        self.assertEqual((spot.outcome, spot.reason), (Outcome.STUCK, "nothing on the screen looks like it"))
        self.assertEqual(logs["Bramble"][-1], "page scale")
