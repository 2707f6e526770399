"""The whole of Hive Diary, recorded on one phone, replayed on every model in two builds; the apps' own logs judge what was touched:
not 0 where anything else was touched than when it was recorded.
"""

from __future__ import annotations

import sys
import tempfile
from collections import Counter
from pathlib import Path

from tests.recording.tour import recorded, replayed, wrong_deeds

from copione.model.outcome import Outcome


def main() -> int:
    with tempfile.TemporaryDirectory() as scratch:
        script, meant = recorded(Path(scratch) / "project")
        print(script.read_text("utf-8"))
        total, erred, counts = 0, 0, Counter[str]()
        for build in ("2.4", "2.5"):
            heard, logs = replayed(script, build)
            for name, results in heard.results.items():
                total += len(results)
                counts.update(r.outcome.value for r in results)
                wrong = wrong_deeds(meant, logs[name])
                erred += len(wrong)
                bad = [f"{r.step}: {r.reason}" for r in results if r.outcome in (Outcome.STUCK, Outcome.DIFFERS)]
                ended = sum(r.outcome is Outcome.UNREACHED for r in results)
                done = len(results) - len(bad) - ended
                print(f"{build} {name}: {done} of {len(results)} done; wrong acts {wrong or 'none'}; {'; '.join(bad)}")
        print(f"{total} steps:", dict(counts))
    return int(erred > 0)


if __name__ == "__main__":
    sys.exit(main())
