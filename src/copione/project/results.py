"""The result of a step as plain values, a line of an archive each, and read back from them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from typing import Any

import msgspec

from ..language.parser import parse_line
from ..model.action import Action
from ..model.address import Address
from ..model.geometry import Box
from ..model.outcome import Cause, Evidence, Obstacle, ObstacleKind, Outcome, Reason, Result
from ..model.reading import Reading
from ..model.step import Step


def result_record(result: Result) -> dict[str, Any]:
    """A result as plain values; empty ones left out."""
    record: dict[str, Any] = {
        "number": result.number,
        "address": str(result.address),
        "line": result.line,
        "outcome": result.outcome.value,
        "scene": result.scene,
        "step": result.step,
        "verb": result.verb,
        "target": result.target,
        "evidence": [each.value for each in result.evidence],
        "by": result.by,
        "seconds": round(result.seconds, 4),
        "usual": round(result.usual, 4),
        "reason": result.why.words if result.why else "",
        "cause": result.why.cause.name.lower() if result.why else "",
        "about": result.why.about if result.why else "",
        "read": result.read,
        "file": result.file,
        "own": result.own,
        "scrolled": result.scrolled,
        "obstacle": result.obstacle.way.name.lower() if result.obstacle else "",
        "obstacle_name": result.obstacle.name if result.obstacle else "",
        "meant": result.meant,
        "turned": result.turned,
        "keyboard": round(result.keyboard, 1),
        "answer": round(result.answer, 4),
        "box": [round(v, 2) for v in result.box] if result.box is not None else None,
        "before": result.before,
        "after": result.after,
        "tree": result.tree,
        "begin": round(result.begin, 4),
        "end": round(result.end, 4),
        "mark": result.mark,
    }
    if result.reading is not None:
        record["reading"] = _reading_record(result.reading)
    return {name: value for name, value in record.items() if value or name == "number"}


def _reading_record(reading: Reading) -> dict[str, Any]:
    derived = {each.name for each in fields(reading) if each.metadata.get("derived")}
    values = {name: value for name, value in msgspec.to_builtins(reading).items() if name not in derived}
    return {"kind": reading.kind, **{name: round(value, 4) if isinstance(value, float) else value for name, value in values.items()}}


def _reading(record: Mapping[str, Any] | None) -> Reading | None:
    """Raises KeyError or ValueError for what is none."""
    if record is None:
        return None
    values = dict(record)
    return msgspec.convert(values, Reading.kinds[values.pop("kind")])


class ResultReader:
    """Results from plain values. What a step's words mean is found out once for all of a run's takes."""

    def __init__(self) -> None:
        self._actions: dict[str, Action | None] = {}

    def result(self, record: Mapping[str, Any]) -> Result:
        """Raises KeyError, ValueError, TypeError on a record that is not one."""
        words = str(record.get("step", ""))
        if words not in self._actions:
            item = parse_line(words, 0)[0] if words else None
            self._actions[words] = item.action if isinstance(item, Step) else None
        box = record.get("box")
        return Result(
            number=int(record["number"]),
            address=Address.parse(str(record["address"])),
            scene=str(record.get("scene", "")),
            step=words,
            target=str(record.get("target", "")),
            outcome=Outcome(record["outcome"]),
            action=self._actions[words],
            evidence=tuple(Evidence(value) for value in record.get("evidence", ())),
            seconds=float(record.get("seconds", 0.0)),
            why=_reason(record),
            reading=_reading(record.get("reading")),
            box=Box(*(float(v) for v in box)) if box else None,
            before=str(record.get("before", "")),
            after=str(record.get("after", "")),
            tree=str(record.get("tree", "")),
            begin=float(record.get("begin", 0.0)),
            end=float(record.get("end", 0.0)),
            mark=tuple((float(x), float(y)) for x, y in record.get("mark", ())),
            usual=float(record.get("usual", 0.0)),
            file=str(record.get("file", "")),
            own=int(record.get("own", 0)),
            scrolled=bool(record.get("scrolled", False)),
            obstacle=_obstacle(record),
            meant=str(record.get("meant", "")),
            turned=bool(record.get("turned", False)),
            keyboard=float(record.get("keyboard", 0.0)),
            answer=float(record.get("answer", 0.0)),
        )


def _reason(record: Mapping[str, Any]) -> Reason | None:
    words = str(record.get("reason", ""))
    return Reason(Cause[str(record["cause"]).upper()], words, str(record.get("about", ""))) if words else None


def _obstacle(record: Mapping[str, Any]) -> Obstacle | None:
    name = str(record.get("obstacle", "")).upper()
    return Obstacle(ObstacleKind[name], str(record.get("obstacle_name", ""))) if name in ObstacleKind.__members__ else None
