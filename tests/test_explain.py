import json
import random
import tempfile
import unittest
from pathlib import Path

from click.testing import CliRunner, Result

from copione.cli import main
from copione_lab.model import load_models
from copione_lab.phone import Phone

from .benches import APP
from .touch.hands import made, noisy, printed

SIZE = ("--size", "824x1784", "--density", "320")


class Explained(unittest.TestCase):
    """What the commands for people who ask why make of saved logs and dumps."""

    def setUp(self) -> None:
        scratch = tempfile.TemporaryDirectory()
        self.addCleanup(scratch.cleanup)
        self.scratch = Path(scratch.name)

    def say(self, *words: object) -> Result:
        return CliRunner().invoke(main, [str(word) for word in words])

    def dump(self, key: str, build: str = "2.4", turned: bool = False) -> Path:
        """The form on a model, as its tools print it."""
        model = next(m for m in load_models() if m.key == key)
        phone = Phone(model, build=build)
        phone.launch(APP)
        app = phone._app(APP)
        app.open_hive(app.hives[4])
        app.go("form")
        phone._changed()
        path = self.scratch / f"{key}-{build}.xml"
        path.write_bytes(phone.dump() + b"UI hierchary dumped to: /dev/tty\n" if model.platform == "android" else phone.source())
        return path

    def test_a_touch_log_as_gestures(self) -> None:
        chance, log, fingers, at = random.Random(8), self.scratch / "touch.log", [], 7.0
        kinds = ["tap", "fling", "pinch"]
        for kind in kinds:
            fingers += noisy(made(kind, chance, at), chance, 120)
            at = max(f.lift for f in fingers) + 0.8
        log.write_text(printed(fingers, 2.0))
        found = json.loads(self.say("read-touch", log, *SIZE, "--json").stdout)
        self.assertEqual([g["kind"] for g in found], kinds)
        self.assertEqual([g["fingers"] for g in found], [1, 1, 2])
        self.assertAlmostEqual(found[0]["start_s"], 7.0, places=3)
        self.assertEqual(found[0]["direction_deg"], None)
        self.assertTrue(0 <= found[1]["direction_deg"] < 360 and found[1]["end_s"] > found[1]["start_s"])
        half = json.loads(self.say("read-touch", log, *SIZE, "--panel", "1648x3568", "--json").stdout)
        self.assertAlmostEqual(half[0]["from_px"][0], found[0]["from_px"][0] / 2, delta=0.2)
        self.assertIn("pinch", self.say("read-touch", log, *SIZE).stdout)
        log.write_text("nothing\n")
        self.assertIn("There is no touch in this log", self.say("read-touch", log, *SIZE).stdout)
        self.assertEqual(self.say("read-touch", log, "--size", "wide", "--density", "320").exit_code, 2)
        self.assertIn("cannot be read", self.say("read-touch", self.scratch / "none", *SIZE).stderr)

    def test_a_portrait_is_kept_and_found_in_other_dumps(self) -> None:
        file = self.scratch / "p.json"
        keep = ("portray", "--tree", self.dump("alder-5"), *SIZE, "--portraits", file)
        said = self.say(*keep, "--at", "412,1720", "--name", "save")
        self.assertIn("button “Save inspection”, easy to find again", said.stdout)
        self.assertEqual(json.loads(self.say(*keep, "--at", "740,374", "--name", "queen", "--json").stdout)["role"], "switch")
        for key, build, size in (("wren-mini", "2.5", "640x1280"), ("bramble", "2.4", "786x1704"), ("kestrel-s", "2.5", "780x1688")):
            tree = self.dump(key, build)
            found = json.loads(self.say("sight", "--portraits", file, "--tree", tree, "--size", size, "--density", "320", "--json").stdout)
            self.assertEqual([(f["target"], f["found"]) for f in found], [("queen", True), ("save", True)], key)
            self.assertEqual(set(found[0]), {"target", "found", "bounds_px", "by", "score", "margin", "second", "reason"})
        gone = self.scratch / "gone.xml"
        gone.write_bytes(self.dump("alder-5").read_bytes().replace(b"Save inspection", b"Close").replace(b"save_inspection", b"close"))
        (save,) = json.loads(self.say("sight", "--portraits", file, "--tree", gone, *SIZE, "save", "--json").stdout)
        self.assertEqual((save["found"], save["bounds_px"]), (False, None))
        self.assertIn("save: not found: ", self.say("sight", "--portraits", file, "--tree", gone, *SIZE, "save").stdout)

    def test_what_cannot_be_is_said(self) -> None:
        tree, file = self.dump("alder-5"), self.scratch / "p.json"
        broken = self.scratch / "broken.xml"
        broken.write_text("ERROR: could not get idle state.")
        keep = ("portray", *SIZE, "--portraits", file, "--name", "x")
        for words, sentence in (
            ((*keep, "--tree", broken, "--at", "9,9"), "gave no element tree"),
            ((*keep, "--tree", tree, "--at", "99999,9"), "There is no element at 99999,9"),
            (("sight", "--portraits", file, "--tree", tree, *SIZE), "There is no file"),
        ):
            said = self.say(*words)
            self.assertEqual(said.exit_code, 1)
            self.assertIn(sentence, said.stderr)
        self.assertEqual(self.say(*keep, "--tree", tree, "--at", "here").exit_code, 2)
        self.say(*keep, "--tree", tree, "--at", "412,1720")
        self.assertIn("no portrait of nobody", self.say("sight", "--portraits", file, "--tree", tree, *SIZE, "nobody").stderr)
