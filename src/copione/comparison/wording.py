"""Findings in words that a developer of the app understands."""

from __future__ import annotations

from collections.abc import Sequence

from ..model.cost import CostSummary
from ..model.deviation import OFF, Deviation
from ..model.outcome import Result
from ..model.relation import Reads
from ..model.remark import Remark
from ..model.roles import role_word
from ..model.wording import counted, listed
from .causes import CauseKey, target_of

MOST_DEVICES = 3  # that are named one by one


COST_HEADS = ("Memory", "At most", "Processor", "Frames late", "Received", "Sent", "Warmer by")


def cost_words(cost: CostSummary) -> list[str]:
    """What a take cost, as words under `COST_HEADS`; an empty one for what is not known."""
    kb = (f"{value / 1000:.0f} MB" if value is not None else "" for value in (cost.memory_kb, cost.peak_kb))
    shares = (f"{value:.0%}" if value is not None else "" for value in (cost.processor, cost.late))
    size = (f"{value / 1e6:.1f} MB" if value is not None else "" for value in (cost.received, cost.sent))
    return [*kb, *shares, *size, f"{cost.warmer:.1f} °C" if cost.warmer is not None else ""]


def device_names(names: Sequence[str]) -> str:
    """`Bramble and Tamarisk`; from four on `Bramble and three others`."""
    return listed(names, MOST_DEVICES, 1)


def sentence(words: str) -> str:
    """With a capital and a full stop."""
    return words[:1].upper() + words[1:] + ("" if words.endswith((".", "?", "!")) else ".") if words else ""


def target_name(result: Result) -> str:
    """What a step is about, as a person calls it: `“Save inspection”`, or `the list` where it has no name."""
    targets = result.action.targets() if result.action is not None else ()
    if not targets:
        return target_of(result)
    target = targets[0]
    return f"“{target.name}”" if target.name else f"the {role_word(target.role)}"


def title(key: CauseKey, first: Result, names: Sequence[str], others: int) -> str:
    """What is wrong, and where. `others`: how many other targets come of the same."""
    on, target = f"on {device_names(names)}", target_name(first)
    name = first.obstacle.name if first.obstacle is not None else ""
    called = f" “{name}”" if name else ""
    several = len(names) > 1
    match key.about:
        case "dialog":
            return f"The dialog{called} covers {_page(first)} {on}"
        case "system":
            return f"The system asks{called} {on}"
        case "page":
            return f"The page{called} is shown instead of that with {target} {on}"
        case "gone":
            return f"The app ends by itself {on}"
        case "elsewhere":
            return f"Another app is in front {on}: {name}"
        case "keyboard":
            return f"The keyboard covers {target} {on}"
        case "edge":
            return f"{_capital(target)} lies beyond the edge of the screen {on}"
        case "cover":
            return f"{_capital(f'“{name}”' if name else 'Something')} covers {target} {on}"
        case "silent":
            return f"{device_names(names)} {'do' if several else 'does'} not answer"
        case "limit":
            return f"{device_names(names)} cannot do this: {first.step}"
        case "missing":
            return f"{_capital(target)} is missing {on}"
        case "ambiguous":
            return f"{_capital(target)} cannot be told from another {on}"
        case "reads otherwise":
            return _reads(key, first, on)
        case "looks otherwise":
            return f"{_capital(target)} looks different {on}"
        case "not shown":
            return f"{_capital(target)} is not shown {on}"
        case "shown":
            return f"{_capital(target)} is shown {on}, and should not be"
        case "disabled":
            return f"{_capital(target)} is disabled {on}"
        case "unreadable":
            return f"{device_names(names)} {'tell' if several else 'tells'} nothing of the screen"
        case "touched":
            about = first.why.about if first.why is not None else ""
            return f"{_capital(about) or 'Something else'} was touched {on}, where {target} was meant"
        case "lost":
            what = f"{_capital(target)} and {counted(others, 'other')} are" if others else f"{_capital(target)} is"
            return f"{what} lost after “{key.what}” {on}"
        case "not taken":
            return f"{_capital(target)} does not take what was done {on}"
        case _:
            return f"{_capital(first.outcome.value)} {on}: {first.step}"


def _page(first: Result) -> str:
    return f"the page with {target_name(first)}" if target_name(first) != first.step else "the page"


def _reads(key: CauseKey, first: Result, on: str) -> str:
    target = _capital(target_name(first))
    about = first.why.about if first.why is not None else ""
    if about == Deviation.LANGUAGE.value:
        return f"{target} is not translated {on}"
    if about == Deviation.FORMAT.value:
        return f"{target} is in another format {on}"
    if about == Deviation.CUT.value:
        return f"{target} is cut short {on}"
    if about == Deviation.NOTHING.value:
        return f"{target} is empty {on}"
    if about.startswith(OFF):
        return f"{target} is {about} {on}"
    return f"{target} reads “{first.read}” {on}"


def expected(first: Result) -> str:
    """What should have been, where the script says it."""
    relation = getattr(first.action, "relation", None)
    if isinstance(relation, Reads):
        return f"“{relation.text}”"
    return ""


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def detail(step: int, many: int, of: int, rows: tuple[int, int], untried: tuple[int, int], reason: str) -> str:
    """Where, how often, and what was never tried because of it. `rows` and `untried` are (so many, of so many) and (steps, devices)."""
    parts = [f"Step {step}", f"{many} of {counted(of, 'device')}" if of > 1 else "the only device"]
    if rows[1] > 1:
        parts.append("every data row" if rows[0] == rows[1] else f"{rows[0]} of {rows[1]} data rows")
    if untried[0]:
        devices = f" on {untried[1]} devices" if untried[1] > 1 else ""
        were = "was" if untried[0] == 1 else "were"
        parts.append(f"{counted(untried[0], 'step')} {were} never tried{devices} because of it")
    return f"{', '.join(parts)}. {sentence(reason)}".strip()


def remark_title(remark: Remark, names: Sequence[str]) -> str:
    """What was noticed, and where."""
    what = f"“{remark.name}”"
    if remark.kind.by_words and remark.here == what:
        what = remark.elsewhere
    return remark.kind.title.format(what=what, here=remark.here, elsewhere=remark.elsewhere, on=f"on {device_names(names)}")


def remark_words(remark: Remark) -> str:
    """What is so here, and what elsewhere."""
    return sentence(f"{remark.here} here, {remark.elsewhere} elsewhere")
