"""A run as one self-contained HTML page: lanes, steps with pictures, how each target was found, times."""

from __future__ import annotations

import base64
import io
import time
from pathlib import Path

from jinja2 import Environment, PackageLoader
from PIL import Image, ImageDraw

from ..comparison.findings import findings
from ..comparison.lanes import Lane
from ..language.document import parse
from ..model.outcome import Outcome, Result
from ..project.archive import RunRecord, picture_path
from .lanes_of import lanes_of

SHOT_WIDTH = 220  # pixels on the page
INKS = {
    Outcome.HELD: "#2B7A78",
    Outcome.ADAPTED: "#B9851B",
    Outcome.DIFFERS: "#9C3A6E",
    Outcome.STUCK: "#7A2318",
    Outcome.UNREACHED: "#6E7079",
    Outcome.SKIPPED: "#6E7079",
}


def page(run: RunRecord) -> str:
    """The HTML. Everything that comes from a device is escaped by the template."""
    environment = Environment(loader=PackageLoader("copione.report", "."), autoescape=True, trim_blocks=True, lstrip_blocks=True)
    lanes = lanes_of(run)
    counts = lanes.counts
    return environment.get_template("page.html.j2").render(
        run=run,
        lanes=lanes,
        findings=findings(lanes),
        covers=parse(run.text).script.covers,
        counts=[(o.value, counts[o]) for o in Outcome if counts.get(o)],
        started=time.strftime("%d %B %Y, %H:%M", time.localtime(run.started)),
        shot=shot,
        inks={o.value: ink for o, ink in INKS.items()},
        longest=lanes.longest or 1.0,
    )


def shot(lane: Lane, result: Result) -> str:
    """The step's picture with its target outlined, small, as a data URI; empty where there is none."""
    name = result.before or result.after
    if lane.folder is None or not name:
        return ""
    return _small(picture_path(lane.folder, name), result.box, INKS[result.outcome], lane.device.density)


def _small(path: Path, box: tuple[float, float, float, float] | None, ink: str, density: float) -> str:
    try:
        with Image.open(path) as opened:
            opened.draft("RGB", (SHOT_WIDTH, SHOT_WIDTH * 3))
            image = opened.convert("RGB")
    except (OSError, ValueError):
        return ""
    scale = SHOT_WIDTH / image.width
    image = image.resize((SHOT_WIDTH, max(1, round(image.height * scale))), Image.Resampling.BILINEAR)
    if box is not None:
        k = density * scale
        edges = (box[0] * k - 2, box[1] * k - 2, box[2] * k + 2, box[3] * k + 2)
        if edges[2] > edges[0] and edges[3] > edges[1]:
            ImageDraw.Draw(image).rounded_rectangle(edges, 4, outline=ink, width=2)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=80)
    return "data:image/jpeg;base64," + base64.b64encode(out.getvalue()).decode()
