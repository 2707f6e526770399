"""The whole path without a monitor: replay the demo scripts on three stand-in phones, and see exactly what is seeded in them.

Ends 0 when in the inspection Wren mini alone is stuck at the save step because the keyboard covers it, when in the week of rounds nothing
goes wrong, and when there one branch is taken on the tablet only.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

ON = ["--on", "Alder 5", "--on", "Wren mini", "--on", "Plateau 10"]
SCRIPTS = Path(__file__).parent / "hive-diary" / "scripts"
PASSWORD = {"COPIONE_PASSWORD": "comb-and-smoker"}  # of nobody
STUCK = ("wren-mini-row1", "stuck", 'tap button "Save inspection"', "covered by the keyboard")
BESIDE = 'check list "Hives" is shown'  # on a tablet the list stands beside the page


def replayed(name: str, out: Path) -> tuple[int, list[tuple[str, str, str, str]]]:
    """Replay a script and write its report: the exit code, and take, outcome, step and reason of each result."""
    copione = [sys.executable, "-m", "copione"]
    runs = out / "runs"
    command = [*copione, "replay", str(SCRIPTS / f"{name}.copione"), *ON, "--lab", "--junit", str(out / f"{name}.xml"), "--out", str(runs)]
    code = subprocess.run(command, env={**os.environ, **PASSWORD}).returncode
    newest = max(runs.iterdir(), key=lambda p: p.stat().st_mtime)
    subprocess.run([*copione, "report", str(newest), "--out", str(out / f"{name}.html")], check=True)
    print(f"JUnit XML in {out / name}.xml")
    seen = []
    for steps in sorted(newest.glob("takes/*/steps.jsonl")):
        for line in steps.read_text("utf-8").splitlines():
            result = json.loads(line)
            seen.append((steps.parent.name, result["outcome"], result["step"], result.get("reason", "")))
    return code, seen


def main() -> int:
    out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")
    code, inspection = replayed("spring-inspection", out)
    wrong = [each for each in inspection if each[1] in {"stuck", "differs"}]
    if code != 3 or wrong != [STUCK]:
        print(f"Not as expected: exit code {code}, found {wrong}", file=sys.stderr)
        return 1
    code, rounds = replayed("a-week-of-rounds", out)
    beside = {take for take, outcome, step, _ in rounds if step == BESIDE and outcome == "held"}
    left = {take for take, outcome, step, _ in rounds if step == BESIDE and outcome == "skipped"}
    if code != 0 or beside != {"plateau-10-row1"} or left != {"alder-5-row1", "wren-mini-row1"}:
        print(f"Not as expected: exit code {code}, {BESIDE!r} held on {beside}, skipped on {left}", file=sys.stderr)
        return 1
    print("As expected: only the seeded fault was found, on Wren mini, and one branch was taken on the tablet only.")
    return 0


if __name__ == "__main__":
    sys.exit(main())
