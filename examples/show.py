"""The whole path without a monitor: replay the demo script on the stand-in phones and see exactly the seeded fault.

Ends 0 when Wren mini is stuck at the save step because the keyboard covers it, and everything else held or adapted.
"""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

ON = ["--on", "Alder 5", "--on", "Wren mini", "--on", "Plateau 10"]
HERE = Path(__file__).parent
SCRIPT = HERE / "hive-diary" / "scripts" / "spring-inspection.copione"


def main() -> int:
    out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")
    copione = [sys.executable, "-m", "copione"]
    runs = out / "runs"
    command = [*copione, "replay", str(SCRIPT), *ON, "--lab", "--junit", str(out / "junit.xml"), "--out", str(runs)]
    code = subprocess.run(command).returncode
    newest = max(runs.iterdir(), key=lambda p: p.stat().st_mtime)
    subprocess.run([*copione, "report", str(newest), "--out", str(out / "report.html")], check=True)
    print(f"JUnit XML in {out / 'junit.xml'}")
    seen = []
    for steps in sorted(newest.glob("takes/*/steps.jsonl")):
        for line in steps.read_text("utf-8").splitlines():
            result = json.loads(line)
            if result["outcome"] in {"stuck", "differs"}:
                seen.append((steps.parent.name, result["outcome"], result["step"], result.get("reason", "")))
    expected = [("wren-mini-row1", "stuck", 'tap button "Save inspection"', "covered by the keyboard")]
    if code == 3 and seen == expected:
        print("As expected: exit code 3, and only the seeded fault was found, on Wren mini.")
        return 0
    print(f"Not as expected: exit code {code}, found {seen}", file=sys.stderr)
    return 1


if __name__ == "__main__":
    sys.exit(main())
