"""Kiln Book, recorded once on views, replayed on every model built in every way; the app's own log judges what was touched.

`python -m benchmarks.toolkits [TOOLKIT ...]`. The drawn one is read from pictures, which takes most of the time.
"""

from __future__ import annotations

import sys
import tempfile
from collections import Counter
from dataclasses import replace
from pathlib import Path

from rich.console import Console
from rich.table import Table
from tests.recording.firing import recorded
from tests.recording.tour import deeds, run_on, wrong_deeds

from copione.model.outcome import Outcome
from copione_lab.bench import Bench as LabBench
from copione_lab.habits import TOOLKITS
from copione_lab.model import load_models


def main(kinds: tuple[str, ...] = TOOLKITS) -> int:
    """The table, and what was stuck; not 0 where anything else was touched than when it was recorded."""
    console, table = Console(), Table("", "held", "adapted", "stuck", "unreached", "wrong acts", title="Steps of the takes on all models")
    wrong, total = 0, Counter[str]()
    with tempfile.TemporaryDirectory() as scratch:
        script, meant = recorded(Path(scratch) / "project")
        for kind in kinds:
            lab = LabBench([replace(model, toolkit=kind) for model in load_models()])
            heard = run_on(lab, script)
            counts, erred = Counter[str](), 0
            for phone in lab.phones.values():
                results = heard.results[phone.model.name]
                counts.update(r.outcome.value for r in results)
                others = wrong_deeds(meant, deeds(phone))
                erred += len(others)
                bad = [f"{r.step}: {r.reason}" for r in results if r.outcome in (Outcome.STUCK, Outcome.DIFFERS)]
                if bad or others:
                    console.print(f"{kind}, {phone.model.name}: {'; '.join(bad)} {others or ''}", markup=False)
            stuck = counts["stuck"] + counts["differs"]
            table.add_row(kind, *map(str, (counts["held"], counts["adapted"], stuck, counts["unreached"], erred)))
            wrong, total = wrong + erred, total + counts
    console.print(table)
    console.print(f"{total.total()} steps: {(total['stuck'] + total['differs']) / total.total():.1%} stuck, {wrong} wrong acts")
    return int(wrong > 0)


if __name__ == "__main__":
    sys.exit(main(tuple(sys.argv[1:]) or TOOLKITS))
