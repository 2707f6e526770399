"""Where a keyboard's focus leaves the order in which a page is read (WCAG 2.2, success criterion 2.4.3)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
import numpy.typing as npt

from ..model.geometry import Box

FEWEST = 3  # things that the focus comes to, for their order to tell something
CLOSE_DP = 4.0  # so far two things may lie over each other and still be one above or beside the other
Sides = npt.NDArray[np.float64]
Pairs = npt.NDArray[np.bool_]


def jumps(boxes: Sequence[Box], names: Sequence[str], from_right: bool) -> Mapping[int, str]:
    """Numbers of those that the focus comes to too early or too late, and before or after what, in words. The boxes come as the focus does.

    What stands above another, or before it on one line, is read first; anything else may be read either way, line by line or column by
    column. The fewest are told without which the order holds: always the one next that is at odds with most.
    """
    if len(boxes) < FEWEST:
        return {}
    sides = np.array(boxes, np.float64)
    left, top, right, bottom = sides.T
    above = _ends_before(bottom, top) & _meet(left, right)
    beside = _ends_before(right, left) & _meet(top, bottom)
    first = above | (beside.T if from_right else beside)  # [i, j]: i is read before j
    odd = np.triu(first.T, 1)  # [i, j]: the focus comes to i before j, and should not
    against = odd | odd.T
    told: dict[int, str] = {}
    while against.any():
        number = int(against.sum(axis=1).argmax())
        early = np.flatnonzero(odd[number] & against[number])
        late = np.flatnonzero(odd[:, number] & against[number])
        told[number] = f"before “{names[early[0]]}”" if early.size else f"after “{names[late[0]]}”"
        against[number] = against[:, number] = False
    return told


def _ends_before(ends: Sides, begins: Sides) -> Pairs:
    return ends[:, None] <= begins[None, :] + CLOSE_DP


def _meet(begins: Sides, ends: Sides) -> Pairs:
    return (begins[:, None] < ends[None, :] - CLOSE_DP) & (begins[None, :] < ends[:, None] - CLOSE_DP)
