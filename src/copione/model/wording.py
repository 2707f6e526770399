"""Several names in a sentence."""

from __future__ import annotations

from collections.abc import Sequence

MOST = 5


def together(names: Sequence[str], most: int = MOST) -> str:
    """`A`, `A and B`, `A, B and C`; of many the first few, and how many more."""
    shown = list(names) if len(names) <= most else [*names[: most - 1], f"{len(names) - most + 1} more"]
    return " and ".join(filter(None, (", ".join(shown[:-1]), *shown[-1:])))
