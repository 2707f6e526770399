"""Acting on a device: it is claimed meanwhile, and first put back as it was where an earlier owner could not do that."""

from __future__ import annotations

import contextlib
import logging
from collections.abc import Callable, Iterator

from ..model.condition import Condition
from ..model.errors import CopioneError, DeviceGone, LinkError
from .claims import Busy, Changed
from .link import HasConditions, Link, Sleeps, TakesCalls

LOG = logging.getLogger(__name__)
CALL = "CALL"  # what a `Changed` is about that is no condition: a call that came in on a stand-in phone


@contextlib.contextmanager
def held(link: Link, doing: str, busy: Busy = Busy.TELL, cancelled: Callable[[], bool] = lambda: False) -> Iterator[None]:
    """Have a device meanwhile, to act on it. Raises DeviceTaken, NoClaim; LinkError where it cannot be put back as it was.

    `doing` is told to whoever else wants it; `cancelled` is asked while another Copione's owner is waited for.
    """
    with link.claim.held(doing, busy, cancelled):
        for changed in reversed(link.claim.left):
            try:
                put_back(link, changed)
            except CopioneError as error:
                what = "a call" if changed.what == CALL else f"the {Condition[changed.what].value}"
                raise LinkError(
                    f"An earlier run left {what} of {link.claim.name} changed, and it cannot be put back: {error.sentence} "
                    f"Put it back by hand ({changed.before or 'as it was'}), and try again."
                ) from error
        yield


@contextlib.contextmanager
def awake(link: Link) -> Iterator[None]:
    """Have a device's screen on meanwhile, unlocked, and staying so; what of that it cannot be told stays as it is.

    Raises DeviceNotReady where it is locked.
    """
    if not link.has(Sleeps):
        yield
        return
    link.able(Sleeps).wake()
    changed = _stay_awake(link)
    try:
        yield
    finally:
        if changed is not None:
            with contextlib.suppress(CopioneError):  # of a device that has gone; whoever has it next puts it back
                put_back(link, changed)


def _stay_awake(link: Link) -> Changed | None:
    """Have the screen stay on; what to put back. None, and it goes dark when it likes, where that cannot be told it or not be noted."""
    try:
        changed = Changed(Condition.AWAKE.name, "", link.able(HasConditions).condition(Condition.AWAKE, ""))
        link.claim.note(changed)
        link.able(HasConditions).have(Condition.AWAKE, "on", "")
    except DeviceGone:
        raise
    except CopioneError as error:
        LOG.info("%s may go to sleep: %s", link.claim.name, error.sentence)
        return None
    return changed


def put_back(link: Link, changed: Changed) -> None:
    """Have something as it was, see that it is, and strike it out. Raises LinkError."""
    if changed.what == CALL:
        link.able(TakesCalls).ring("")
    elif changed.what in Condition.__members__:
        condition = Condition[changed.what]
        if link.able(HasConditions).condition(condition, changed.package) != changed.before:
            link.able(HasConditions).have(condition, changed.before, changed.package)
            now = link.able(HasConditions).condition(condition, changed.package)
            if now != changed.before:
                raise LinkError(f"it is {now or 'as the phone has it'} still.")
    link.claim.strike(changed)
