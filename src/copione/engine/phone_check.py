"""A phone's answers to everything Copione asks of phones, as a text to send to whoever maintains Copione. The phone is not touched. The
text has counts, sizes, times and errors; no words from its screen or log, and no names of its apps.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Callable

from .. import __version__
from ..links.link import HasConditions, HoldsFinger, KeepsLog, Link, RunsApps, Sleeps, TellsCosts, TellsTouches
from ..model.condition import Condition
from ..model.errors import CannotDo, CopioneError
from ..model.number import LONGEST
from ..recognition.pictures import decode

LOG_S = 60.0


def phone_check(link: Link, told: Callable[[str], object] = lambda line: None) -> str:
    """Ask everything once. `told` hears of each line as it comes."""
    lines: list[str] = []

    def say(line: str) -> None:
        lines.append(line)
        told(line)

    say(f"Copione {__version__}, {time.strftime('%Y-%m-%d')}")
    for name, ask in _ASKED:
        since = time.monotonic()
        try:
            said = ask(link)
        except CannotDo as error:
            said = f"no: {error.sentence.replace(link.address, 'ADDRESS')}"
        except CopioneError as error:
            said = f"FAILED: {error.sentence.replace(link.address, 'ADDRESS')}"
        except Exception as error:
            said = f"FAILED: an error in Copione, {type(error).__name__}"
        say(f"{name}: {said[:LONGEST]} ({time.monotonic() - since:.2f} s)")
    return "\n".join(lines) + "\n"


def _profile(link: Link) -> str:
    p = link.profile()
    return f"{p.platform} {p.release}, {p.width_px} x {p.height_px} px, {p.dpi} dpi, text {p.text_scale:.2f}, {p.locale or 'no language'}"


def _picture(link: Link) -> str:
    png = link.picture()
    shown = decode(png, link.profile().width)
    return f"{len(png) // 1000} KB, {'unpacked' if shown is not None else 'FAILED: it cannot be unpacked'}"


def _tree(link: Link) -> str:
    moment = link.moment()
    if moment.screen is None:
        return f"FAILED: {moment.trouble}"
    roles = Counter(element.role for element in moment.screen)
    return f"{len(moment.screen)} elements, {sum(map(bool, moment.screen.ids))} with an id: {dict(roles.most_common(8))}"


def _keyboard(link: Link) -> str:
    screen = link.glimpse().screen
    return "up" if screen is not None and screen.keyboard is not None else "not up"


def _apps(link: Link) -> str:
    apps = link.able(RunsApps).apps()
    front = link.able(RunsApps).front()[0]
    where = "none of them" if front not in {app.package for app in apps} else "one of them"
    return f"{len(apps)}, {sum(app.own for app in apps)} came with it; in front: {where if front else 'not told'}"


def _conditions(link: Link) -> str:
    told = []
    for condition in Condition:
        try:
            told.append(f"{condition.value} {link.able(HasConditions).condition(condition, '') or 'not told'}")
        except CannotDo:
            told.append(f"{condition.value}: no")
        except CopioneError as error:
            told.append(f"{condition.value} FAILED: {error.sentence[:80]}")
    return "; ".join(told)


def _log(link: Link) -> str:
    return f"{len(link.able(KeepsLog).log(time.time() - LOG_S).splitlines())} lines of the last minute"


def _cost(link: Link) -> str:
    front = link.able(RunsApps).front()[0]
    cost = link.able(TellsCosts).cost(front) if front else None
    if cost is None:
        return "the app in front has no process that is told"
    known = [name for name in ("memory_kb", "cpu_s", "frames", "late", "received", "battery", "warmth") if getattr(cost, name) is not None]
    return f"told: {', '.join(known) or 'nothing'}"


def _sleep(link: Link) -> str:
    return "can be woken" if link.has(Sleeps) else Sleeps.without


def _panel(link: Link) -> str:
    return "{} x {}".format(*link.able(TellsTouches).panel())


_ASKED: tuple[tuple[str, Callable[[Link], str]], ...] = (
    ("profile", _profile),
    ("picture", _picture),
    ("tree", _tree),
    ("picture and tree again", _tree),
    ("keyboard", _keyboard),
    ("apps", _apps),
    ("conditions", _conditions),
    ("log", _log),
    ("costs", _cost),
    ("sleep", _sleep),
    ("touch panel", _panel),
    ("finger in parts", lambda link: "yes" if link.has(HoldsFinger) else "no"),
)
