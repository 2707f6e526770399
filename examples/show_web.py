"""Browsers as devices: replay the script of the web app at three sizes and in two engines, and see exactly what is seeded in it.

Ends 0 when the narrow page alone differs, at the step that reads the last figures of the peak, the order of its focus is remarked on,
and nothing else is found anywhere.
"""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

from copione.links.browser.engines import ENGINES, installed
from copione_lab.kiln_book.serving import Served

BOOK = Path(__file__).parent / "kiln-book"
DIFFERS = ("chromium-small-phone-row1", "differs", 'check text like "Celadon*" in item "Tall vases" reads "Celadon, 1220 °C"')
NOTICED = ("Chromium small phone", "focus order")


def main() -> int:
    out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")
    for engine in ENGINES.values():
        found = installed(engine)
        if found.missing:
            print(f"{engine.name}: {found.missing}. {found.advice}", file=sys.stderr)
            return 1
    runs = out / "web-runs"
    copione = [sys.executable, "-m", "copione"]
    with Served() as served:
        where = ["--browsers-from", str(BOOK / "browsers.toml"), "--base", served.url, "--on", "all"]
        command = [*copione, "replay", str(BOOK / "scripts" / "a-firing.copione"), *where, "--junit", str(out / "web.xml")]
        code = subprocess.run([*command, "--out", str(runs)]).returncode
    newest = max(runs.iterdir(), key=lambda p: p.stat().st_mtime)
    subprocess.run([*copione, "report", str(newest), "--out", str(out / "web.html")], check=True)
    wrong = []
    for steps in sorted(newest.glob("takes/*/steps.jsonl")):
        for line in steps.read_text("utf-8").splitlines():
            result = json.loads(line)
            if result["outcome"] in {"stuck", "differs"}:
                wrong.append((steps.parent.name, result["outcome"], result["step"]))
    told = map(json.loads, (newest / "remarks.jsonl").read_text("utf-8").splitlines())
    noticed = sorted({(remark["take"][0], remark["kind"]) for remark in told})
    if code != 3 or wrong != [DIFFERS] or noticed != [NOTICED]:
        print(f"Not as expected: exit code {code}, found {wrong}, noticed {noticed}", file=sys.stderr)
        return 1
    print("As expected: only the two seeded faults were found, on the narrow page.")
    return 0


if __name__ == "__main__":
    sys.exit(main())
