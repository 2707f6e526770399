"""The colours of outcomes on paper, as hex digits: the window, the report and its pictures are drawn in the same ones."""

from __future__ import annotations

from .outcome import Outcome

MUTED = "#676972"  # a little darker than pencil grey: a contrast of 4.5:1 on paper too
OUTCOMES = {
    Outcome.HELD: "#2B7A78",
    Outcome.ADAPTED: "#B9851B",
    Outcome.DIFFERS: "#9C3A6E",
    Outcome.STUCK: "#7A2318",
    Outcome.UNREACHED: "#A9A598",
    Outcome.SKIPPED: "#8C8E95",
}
#: The same for words: a contrast of 4.5:1 at least.
OUTCOME_WORDS = OUTCOMES | {Outcome.ADAPTED: "#8A6210", Outcome.UNREACHED: MUTED, Outcome.SKIPPED: MUTED}
