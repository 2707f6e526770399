"""What an app costs its device, asked beside a take, on a thread of its own."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from ..links.link import Link, TellsCosts
from ..model.cost import Cost
from ..model.errors import CopioneError

LOG = logging.getLogger(__name__)
EVERY_S = 2.0
SHARE = 0.02  # of the time that asking may take: where an answer takes long, it is asked for less
MOST = 20_000  # of one take
CLOSE_S = 5.0  # that an answer under way is waited for


@contextmanager
def watched(link: Link, package: str, keep: Callable[[Cost], None], every_s: float | None = None) -> Iterator[None]:
    """Ask meanwhile what the app costs, and `keep` each answer, on a thread of its own. A device that does not tell is not asked again."""
    if not package or not link.has(TellsCosts):
        yield
        return
    over = threading.Event()
    thread = threading.Thread(target=_ask, args=(link.able(TellsCosts), package, keep, every_s or EVERY_S, over), name="costs", daemon=True)
    thread.start()
    try:
        yield
    finally:
        over.set()
        thread.join(CLOSE_S)


def _ask(link: TellsCosts, package: str, keep: Callable[[Cost], None], every_s: float, over: threading.Event) -> None:
    for _ in range(MOST):
        since = time.monotonic()
        try:
            cost = link.cost(package)
            if cost is not None:
                keep(cost)
        except CopioneError as error:
            LOG.info("what %s costs is not asked any more: %s", package, error.sentence)
            return
        except Exception:
            LOG.exception("what %s costs could not be asked", package)
            return
        took = time.monotonic() - since
        if over.wait(max(every_s, took / SHARE)):
            return
