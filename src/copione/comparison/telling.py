"""A finding as plain values, for programs. Pure."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ..model.take import TakeName
from .finding import Finding
from .standing import FindingStanding


def to_dict(finding: Finding, standing: FindingStanding | None = None) -> dict[str, Any]:
    """Its kind, where, on which devices, and what sets those apart.

    `apart` is the plainest rule, `but` a device that breaks it, `or` are others that would do.
    """
    apart = finding.sides.apart
    rules = [[test.to_dict() for test in rule.tests] for rule in apart.rules]
    return {
        "kind": finding.kind.value,
        "about": finding.about,
        "line": finding.address.line,
        "step": finding.number,
        "words": finding.step,
        "address": str(finding.address),
        "devices": _names(finding.takes),
        "passing": _names(finding.passing),
        "unknown": _names(finding.sides.unknown),
        "sentence": finding.title,
        "reason": finding.reason,
        "apart": rules[0] if rules else [],
        "or": rules[1:],
        "but": apart.rules[0].but if apart.rules else "",
        "explained": apart.explains,
        "said": apart.sentence,
        "chance": round(apart.chance, 4),
        "untried": finding.untried,
        "follows": [str(cell.address) for cell in finding.follows],
        "new": standing.new if standing is not None else False,
        "allowed": standing.expected if standing is not None else "",
    }


def _names(takes: Iterable[TakeName]) -> list[str]:
    return list(dict.fromkeys(take.device for take in takes))
