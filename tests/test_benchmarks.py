"""A small round of the benchmarks that judge without a clock: they still run, and what they judge holds."""

import os
import subprocess
import sys
import tempfile
import unittest
from dataclasses import dataclass

LIMIT_S = 240.0
CODE = """
import sys
from benchmarks import {name} as it
if __name__ == "__main__":
    {smaller}
    sys.exit(it.{main})
"""


@dataclass(frozen=True)
class Round:
    """A benchmark, what is made smaller in it (statements on `it`, the module), how it is called, and its arguments."""

    name: str
    smaller: str = "pass"
    main: str = "main()"
    arguments: str = ""

    def ended(self) -> tuple[int, str]:
        """Its exit code, and the end of what it printed."""
        code = CODE.format(name=self.name, smaller=self.smaller, main=self.main)
        with tempfile.TemporaryDirectory() as folder:
            environment = os.environ | {"XDG_STATE_HOME": folder, "QT_QPA_PLATFORM": "offscreen"}
            command = [sys.executable, "-c", code, *self.arguments.split()]
            done = subprocess.run(command, capture_output=True, text=True, timeout=LIMIT_S, env=environment, check=False)
        return done.returncode, f"{done.stdout[-1500:]}{done.stderr[-1500:]}"


ROUNDS = (
    Round("attribution", arguments="--draws 60 --seed 1"),
    Round("gestures", "it.COUNT = 200"),
    Round("sightings", main="main(4, 1)"),
    Round("costs", "it.TURNS = 8", "main(1, 0, 1)"),
)


class SmallRounds(unittest.TestCase):
    def test_what_they_judge_holds(self) -> None:
        for each in ROUNDS:
            with self.subTest(each.name):
                code, said = each.ended()
                self.assertEqual(code, 0, said)
