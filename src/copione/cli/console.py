"""What a terminal, or a program that reads it, is told of a run."""

from __future__ import annotations

import contextlib
import threading
from collections import Counter
from dataclasses import asdict
from typing import Any

from ..comparison.costs import summed
from ..comparison.lanes import Lanes
from ..comparison.standing import Assessed
from ..comparison.telling import to_dict
from ..files.places import Place
from ..model.outcome import Outcome, Result
from ..model.reading import BranchTaken
from ..model.remark import Remark
from ..model.take import TakeName
from ..project.archive import RunRecord
from ..project.loaded import Loaded
from ..replay.listening import TakeBegun
from ..replay.order import planned
from .terminal import OutputLost, json_text, put_out, rich_text, say, shown

MOST_COLUMNS = 5  # devices side by side in a terminal
INKS = {"held": "green", "adapted": "yellow", "differs": "magenta", "stuck": "red", "unreached": "dim", "skipped": "dim"}


class Console:
    """Tells a terminal, or a program, how a run goes. Called from the devices' threads."""

    def __init__(self, loaded: Loaded, as_json: bool) -> None:
        from rich.console import Console as Terminal
        from rich.progress import BarColumn, Progress, TextColumn, TimeElapsedColumn

        self.as_json = as_json
        self.steps = sum(1 for _ in planned(loaded.library))
        self.lock = threading.Lock()
        self.progress = Progress(
            TextColumn("{task.description}", markup=False),
            BarColumn(),
            TextColumn("{task.fields[step]}", markup=False),
            TimeElapsedColumn(),
            console=Terminal(stderr=True),
        )
        self.tasks: dict[TakeName, Any] = {}
        self.lost: OutputLost | None = None  # why nothing can be printed any more

    def shown(self) -> contextlib.AbstractContextManager[object]:
        """Show how far each take is meanwhile, where a person looks on."""
        return contextlib.nullcontext() if self.as_json else self.progress

    def take_started(self, take: TakeName, begun: TakeBegun) -> None:
        """A line of its own in the progress."""
        if not self.as_json:
            row = f" row {take.row}" if take.row > 1 else ""
            self.tasks[take] = self.progress.add_task(shown(f"{take.device}{row}"), total=self.steps, step="")

    def step_done(self, take: TakeName, result: Result) -> None:
        """The step in the progress, or as an object of JSON."""
        if self.as_json:
            record = {
                "device": take.device,
                "row": take.row,
                "step": result.number,
                "words": result.step,
                "line": result.line,
                "verb": result.verb,
                "target": result.target,
                "outcome": result.outcome.value,
                "by": result.by,
                "seconds": round(result.seconds, 4),
                "reason": result.reason,
                "address": str(result.address),
                "file": result.file,
            }
            with self.lock:
                try:
                    put_out(json_text(record))
                except OutputLost as error:  # the run goes on: its results are written elsewhere too
                    self.lost = error
        elif take in self.tasks:
            self.progress.update(self.tasks[take], advance=1, step=shown(result.step)[:48])

    def take_ended(self, take: TakeName, trouble: str) -> None:
        """What kept it from being done."""
        if trouble:
            say(f"{take.device}: {trouble}")

    def noticed(self, remarks: tuple[Remark, ...]) -> None:
        """Nothing to say now: they come with the findings."""

    def run_ended(self, trouble: str) -> None:
        """Nothing to say: the table follows, and an error is shown by the command."""


def print_findings(known: Assessed) -> None:
    """One object of JSON for each finding and remark, those first that are worst."""
    for each in known.standing:
        put_out(json_text({"finding": to_dict(each.finding, each)}))


def print_costs(run: RunRecord) -> None:
    """One object of JSON for each take of which it is known what the app cost its device."""
    for take in run.takes:
        if take.costs:
            put_out(json_text({"costs": {"device": take.name.device, "row": take.name.row, **asdict(summed(take.costs))}}))


def print_table(lanes: Lanes, known: Assessed, folder: Place) -> None:
    """The outcomes as a table, what differs as sentences, and where the run is kept."""
    from rich.console import Console as Terminal

    console = Terminal()
    console.print(_by_device(lanes) if len(lanes.lanes) > MOST_COLUMNS else _by_step(lanes))
    for each in known.standing:
        finding, ink = each.finding, "dim" if each.expected else INKS[each.finding.outcome.value]
        signs = " · ".join(filter(None, (finding.flag, "new" if each.new else "", f"expected: {each.expected}" if each.expected else "")))
        console.print(f"[{ink}]{rich_text(finding.title)}[/] ({rich_text(signs)})\n  {rich_text(finding.detail)}")
        if finding.apart:
            console.print(f"  [dim]{rich_text(finding.apart)}[/]")
    if not known.standing:
        console.print("Nothing differs between the devices.")
    if known.gone:
        console.print(f"Gone since {rich_text(known.since)}: {rich_text('; '.join(f.title for f in known.gone))}")
    for allowance in known.stale:
        console.print(f"Expected, and met nowhere: {rich_text(f'{allowance.about} {allowance.what} on {allowance.scope.words}')}")
    console.print(f"Run kept in {rich_text(str(folder))}", soft_wrap=True)


def _by_device(lanes: Lanes) -> Any:
    """Many devices: a line each, what its steps became and where it went wrong first."""
    from rich.table import Table

    table = Table("Device", "Outcomes", "Seconds", "First that went wrong", header_style="bold", pad_edge=False)
    for lane in lanes.lanes:
        results = list(lane.results())
        counts = Counter(r.outcome for r in results)
        wrong = next((r for r in results if r.outcome.bad), None)
        words = f"[{INKS[wrong.outcome.value]}]{wrong.number}. {rich_text(wrong.step)}: {rich_text(wrong.reason)}[/]" if wrong else ""
        name = rich_text(lane.device.name) + (f" row {lane.row}" if lane.row > 1 else "")
        table.add_row(name, ", ".join(f"{counts[o]} {o.value}" for o in Outcome if counts[o]), f"{lane.seconds:.1f}", words)
    return table


def _by_step(lanes: Lanes) -> Any:
    """Few devices: a line a step, a column a device."""
    from rich.table import Table

    table = Table(title=None, header_style="bold", pad_edge=False)
    table.add_column("Step", overflow="fold")
    for lane in lanes.lanes:
        table.add_column(rich_text(lane.device.name) + (f"\nrow {lane.row}" if lane.row > 1 else ""))
    for column in lanes.columns:
        cells = [lane.result(column.address) for lane in lanes.lanes]
        words = [_cell(r) if r else "" for r in cells]
        inside = "  " * (len(column.address) - 1)
        table.add_row(f"{column.number}. {inside}{rich_text(column.words)}", *words)
    return table


def _cell(result: Result) -> str:
    seconds = f" {result.seconds:.2f} s" if result.outcome.tried else ""
    way = f"\n{rich_text(result.read)}" if isinstance(result.reading, BranchTaken) else ""
    return f"[{INKS[result.outcome.value]}]{result.outcome.value}[/]{seconds}{way}"
