"""An archived run as lanes."""

from __future__ import annotations

from ..comparison.lanes import Lane, Lanes, lay
from ..project.archive import RunRecord


def lanes_of(run: RunRecord) -> Lanes:
    """The takes of a run side by side."""
    return lay((Lane.of(t.name, t.device, t.results, t.folder, t.build) for t in run.takes), run.lead)
