"""The manual of the language: every script on its page is read, says every word there is, and holds on a stand-in phone."""

from __future__ import annotations

import os
import re
import unittest
from pathlib import Path
from unittest import mock

from copione.language.document import parse
from copione.language.registry import kinds_of, verbs
from copione.language.words import HEADERS
from copione.model import action as a
from copione.model import fact as f
from copione.model import relation as r
from copione.model.roles import ROLES

from ..replay.test_take import RunCase

MANUAL = (Path(__file__).parents[2] / "docs" / "language.md").read_text("utf-8")
EXAMPLES = re.findall(r"```copione\n(.*?)```", MANUAL, re.DOTALL)


class Complete(unittest.TestCase):
    def test_every_word_of_the_language_is_in_it(self) -> None:
        for word in (*verbs(), *HEADERS, *ROLES):
            self.assertRegex(MANUAL, rf"(?<![a-z]){word}(?![a-z])", word)
        seen: set[type] = set()
        for text in EXAMPLES:
            document = parse(text)
            self.assertEqual(document.problems, (), text)
            for _, step in ((scene, step) for scene in document.script.scenes for step in scene.steps):
                seen |= {type(step.action), *(type(getattr(step.action, name, None)) for name in ("relation", "fact"))}
        recorded = {r.LooksAsRecorded, r.IsState, r.IsNotShown, r.IsDay}  # these need a recording, or are run elsewhere
        self.assertEqual({kind for base in (a.Action, r.Relation, f.Fact) for kind in kinds_of(base)} - seen - recorded, set())


class Held(RunCase):
    def test_every_example_holds(self) -> None:
        for number, text in enumerate(each for each in EXAMPLES if "app hive-diary" in each):
            with self.subTest(text.split("\n")[0]), mock.patch.dict(os.environ, {"COPIONE_PASSWORD": "comb-and-smoker"}):
                self.demo = self.project.scripts_folder / f"example-{number}.copione"
                self.demo.write_text(text, "utf-8")
                self.assertEqual(self.project.load(self.demo).problems(), ())
                results = self.run_on("Alder 5").results["Alder 5"]
                self.assertEqual([(r.step, r.outcome.value, r.reason) for r in results if r.outcome.bad], [])
