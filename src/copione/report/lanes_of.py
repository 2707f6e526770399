"""An archived run as lanes."""

from __future__ import annotations

from ..comparison.lanes import Lane, Lanes, lay
from ..project.archive import RunRecord


def lanes_of(run: RunRecord) -> Lanes:
    return lay((Lane(t.device, t.row, t.results, t, t.build) for t in run.takes), run.lead)
