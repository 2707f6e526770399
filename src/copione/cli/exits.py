"""Exit codes beside 0 (all held or adapted) and 2 (used wrongly)."""

from __future__ import annotations

FAILED = 1  # could not run
DIFFER = 3  # outcomes differ, or are stuck
