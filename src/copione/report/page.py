"""A run as one HTML page: findings with their evidence, lanes, times, steps with pictures, environment. It works by keyboard and prints."""

from __future__ import annotations

import base64
import io
import time
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from statistics import median

from jinja2 import Environment, PackageLoader
from PIL import Image, ImageDraw

from ..comparison.causes import FindingKind
from ..comparison.costs import summed
from ..comparison.evidence import Dots, dots_of
from ..comparison.lanes import Lane, LaneColumn, Lanes
from ..comparison.standing import Assessed, FindingStanding
from ..comparison.wording import COST_HEADS, cost_words
from ..files.pictures import open_picture
from ..files.places import Place
from ..files.writing import write_whole
from ..language.document import parse
from ..model import colours
from ..model.errors import FileTrouble
from ..model.geometry import Box
from ..model.outcome import Outcome, Result
from ..model.wording import counted, number
from ..project.archive import RunRecord, picture_path
from .writeup import Shown, WriteUp, write_up

SHOT_WIDTH, THUMB_WIDTH = 300, 150  # pixels on the page: of a finding, of a step
MOST_SHOWN = 8  # takes of a step that are shown one by one
MOST_EMBEDDED = 240  # pictures in the page itself; the others are in the run's folder
INKS = colours.OUTCOMES | dict.fromkeys((Outcome.UNREACHED, Outcome.SKIPPED), colours.MUTED)
FLAGS = {FindingKind.STUCK: INKS[Outcome.STUCK], FindingKind.DIFFERS: INKS[Outcome.DIFFERS]}


@dataclass(frozen=True)
class Pane:
    """One finding on the page."""

    standing: FindingStanding
    told: WriteUp
    ink: str
    dots: tuple[Dots, ...]
    pictures: tuple[tuple[str, str, bool], ...]  # address, device, failing


class ReportPictures:
    """Gives pictures their addresses: within the page, or in a folder beside it. The same picture is kept once."""

    def __init__(self, beside: Place | None) -> None:
        self._beside, self._left = beside, MOST_EMBEDDED
        self._known: dict[object, str] = {}

    def address(self, path: Place, box: Box | None, ink: str, density: float, width: int) -> str:
        """Of a picture with its place marked; empty where there is none, or no more room."""
        key = (path, box, ink, width)
        if key not in self._known:
            data = self._small(path, box, ink, density, width) if self._beside is not None or self._left > 0 else None
            self._known[key] = self._kept(data) if data is not None else ""
        return self._known[key]

    def _kept(self, data: bytes) -> str:
        if self._beside is None:
            self._left -= 1
            return "data:image/jpeg;base64," + base64.b64encode(data).decode()
        name = f"{len(self._known) + 1:05d}.jpg"
        write_whole(self._beside / name, data)
        return f"{self._beside.name}/{name}"

    @staticmethod
    def _small(path: Place, box: Box | None, ink: str, density: float, width: int) -> bytes | None:
        try:
            image = open_picture(path, width)
        except FileTrouble:
            return None
        scale = width / image.width
        image = image.resize((width, max(1, round(image.height * scale))), Image.Resampling.BILINEAR)
        if box is not None:
            k = density * scale
            edges = (box.left * k - 2, box.top * k - 2, box.right * k + 2, box.bottom * k + 2)
            if edges[2] > edges[0] and edges[3] > edges[1]:
                ImageDraw.Draw(image).rounded_rectangle(edges, 4, outline=ink, width=2)
        out = io.BytesIO()
        image.save(out, "JPEG", quality=72)
        return out.getvalue()


def write_page(
    path: Place,
    run: RunRecord,
    lanes: Lanes,
    known: Assessed,
    *,
    beside: bool = False,
    progress: Callable[[float], None] = lambda share: None,
) -> None:
    """Write the page, with its pictures in a folder of its name where `beside` says so. `progress` is told 0..1. Raises FileTrouble."""
    pictures = ReportPictures(path.parent / path.stem if beside else None)
    write_whole(path, page(run, lanes, known, pictures, progress).encode("utf-8", "replace"))


def page(
    run: RunRecord,
    lanes: Lanes,
    known: Assessed,
    pictures: ReportPictures | None = None,
    progress: Callable[[float], None] = lambda share: None,
) -> str:
    """The HTML. Everything that comes from a device is escaped by the template."""
    pictures = pictures or ReportPictures(None)
    environment = Environment(loader=PackageLoader("copione.report", "."), autoescape=True, trim_blocks=True, lstrip_blocks=True)
    panes = []
    for place, standing in enumerate(known.standing):
        panes.append(_pane(lanes, standing, pictures))
        progress(0.5 * (place + 1) / len(known.standing))
    steps = []
    for place, column in enumerate(lanes.columns):
        steps.append(_step(lanes, column, pictures))
        progress(0.5 + 0.5 * (place + 1) / len(lanes.columns))
    return environment.get_template("page.html.j2").render(
        run=run,
        lanes=lanes,
        summary=summary(known, lanes),
        causes=[p for p in panes if p.standing.finding.kind is not FindingKind.REMARK and not p.standing.expected],
        remarks=[p for p in panes if p.standing.finding.kind is FindingKind.REMARK and not p.standing.expected],
        expected=[p for p in panes if p.standing.expected],
        known=known,
        covers=parse(run.text).script.covers,
        counts=[(o.value, lanes.counts[o]) for o in Outcome if lanes.counts.get(o)],
        started=time.strftime("%d %B %Y, %H:%M", time.localtime(run.started)),
        inks={o.value: ink for o, ink in INKS.items()},
        steps=steps,
        reached={take.name: take.configured for take in run.takes if take.configured},
        costs=cost_rows(run),
        cost_heads=COST_HEADS,
        longest=lanes.longest or 1.0,
        slowest=max((lane.seconds for lane in lanes.lanes), default=1.0) or 1.0,
    )


def cost_rows(run: RunRecord) -> list[tuple[str, list[str]]]:
    """Of each take that knows what the app cost its device, its name and the figures as words, `COST_HEADS` over them."""
    rows = []
    for take in run.takes:
        if take.costs:
            rows.append((f"{take.name.device}{f' · row {take.name.row}' if take.name.row > 1 else ''}", cost_words(summed(take.costs))))
    return rows


def summary(known: Assessed, lanes: Lanes) -> str:
    """What came of the run, in a sentence."""
    causes = sum(f.kind is not FindingKind.REMARK for f in known.open)
    remarks = len(known.open) - causes
    devices = len({(lane.name.device, lane.name.which) for lane in lanes.lanes})
    where = f"between {devices} devices" if devices > 1 else "on the one device"
    differ = {0: "Nothing differs", 1: "One thing differs"}.get(causes, f"{number(causes).capitalize()} things differ")
    noticed = {0: "", 1: ", one more was noticed"}.get(remarks, f", {number(remarks)} more were noticed")
    new = sum(each.new for each in known.standing if not each.expected)
    since = f"; {number(new)} of them {'is' if new == 1 else 'are'} new since {known.since}" if new and known.since else ""
    return f"{differ} {where}{noticed}{since}."


def _pane(lanes: Lanes, standing: FindingStanding, pictures: ReportPictures) -> Pane:
    told = write_up(lanes, standing.finding)
    shown = [(_address(each, pictures), each.device, each.failing) for each in told.pictures]
    ink = FLAGS.get(standing.finding.kind, "#22262F")
    return Pane(standing, told, ink, dots_of(standing.finding), tuple(each for each in shown if each[0]))


def _address(shown: Shown, pictures: ReportPictures) -> str:
    ink = INKS[Outcome.STUCK] if shown.failing else INKS[Outcome.HELD]
    return pictures.address(shown.path, shown.box, ink, shown.density, SHOT_WIDTH)


@dataclass(frozen=True)
class StepShown:
    """One step: the takes that are shown with a picture, how the others ended, and the times."""

    column: LaneColumn
    cells: tuple[tuple[Lane, Result, str], ...]
    others: str
    least: float
    usual: float
    most: float


def _step(lanes: Lanes, column: LaneColumn, pictures: ReportPictures) -> StepShown:
    """The lead's and whatever did not simply hold; of the others how they ended."""
    cells = lanes.cells(column.address)
    telling = [(lane, r) for place, (lane, r) in enumerate(cells) if place == 0 or r.outcome not in (Outcome.HELD, Outcome.UNREACHED)]
    telling = sorted(telling, key=lambda pair: pair[0] is not cells[0][0] and not pair[1].outcome.bad)[:MOST_SHOWN]
    shown = tuple((lane, r, _picture(lane, r, pictures)) for lane, r in telling)
    rest = Counter(r.outcome.value for lane, r in cells if all(lane is not other for other, _ in telling))
    others = ", ".join(f"{name} on {counted(many, 'other')}" for name, many in rest.items())
    times = [r.seconds for _, r in cells if r.outcome.tried]
    return StepShown(column, shown, others, min(times, default=0.0), median(times) if times else 0.0, max(times, default=0.0))


def _picture(lane: Lane, result: Result, pictures: ReportPictures) -> str:
    name = result.before or result.after
    if lane.folder is None or not name:
        return ""
    return pictures.address(picture_path(lane.folder, name), result.box, INKS[result.outcome], lane.device.density, THUMB_WIDTH)
