"""What is shown outside of the page just now: which popup, and what a touch on it does."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from ...model.errors import LinkError
from ...model.gesture import Contact
from ...screens.web import WebPage
from .popups import Popup, days, dialog, options, other_month
from .tab import Control, Tab

TAP_S, TAP_DP = 0.4, 12.0  # what opens the choices of a control is a touch no longer, and goes no farther


class BrowserPopup:
    """Of one browser. `popup` is what is shown, None for nothing; `asking`: it is the page's own dialog, and nothing else answers."""

    def __init__(self) -> None:
        self.popup: Popup | None = None
        self._of: Control | None = None  # the control whose choices it shows
        self._month = date(2000, 1, 1)

    @property
    def asking(self) -> bool:
        """Is it the page's own dialog?"""
        return self.popup is not None and self._of is None

    def close(self) -> None:
        """Nothing is shown any more."""
        self.popup = self._of = None

    def asked(self, tab: Tab, size: tuple[float, float]) -> Popup:
        """The dialog that the page has opened. Raises LinkError where there is none."""
        popup = self.popup
        blank = popup is not None and not popup.spots[0].words and not popup.held  # one that is just opening tells no words yet
        if popup is None or not self.asking or blank:
            question = tab.question()
            if question is None:
                raise LinkError(f"{tab.remote.who} says that a dialog is open, and shows none.")
            self.popup = popup = dialog(*size, *question)
            self._of = None
        return popup

    def opened(self, tab: Tab, page: WebPage | None, contacts: Sequence[Contact]) -> bool:
        """Was it a tap on a control whose choices the browser shows outside of the page? Then they are shown here."""
        contact = contacts[0]
        (x0, y0), (x1, y1) = contact.begin, contact.end
        if page is None or not page.kinds or len(contacts) > 1 or contact.seconds > TAP_S or abs(x1 - x0) + abs(y1 - y0) > TAP_DP:
            return False
        row = next((e.row for e in page.screen.at(x0, y0) if e.row in page.kinds), None)
        control = tab.facts(row) if row is not None and page.screen.covers[row] < 0 else None
        if row is None or control is None:
            return False
        size, kind, name = (page.screen.width, page.screen.height), page.kinds[row], page.screen.names[row]
        if kind == "select":
            self.popup, self._of = options(*size, name, control.offered, control.chosen), control
        elif kind == "date":
            held = _day(control.value)
            self._month = (held or date.today()).replace(day=1)
            self.popup, self._of = days(*size, name, self._month, held), control
        return True

    def act(self, tab: Tab, act: tuple[object, ...]) -> None:
        """Do what was touched: an answer to the page, a choice for a control, another month."""
        popup, control = self.popup, self._of
        if popup is None or not act:
            return
        what, words = str(act[0]), str(act[-1])
        if control is None:
            if what in {"ok", "cancel"}:
                asks = any(spot.role == "textbox" for spot in popup.spots)
                self.close()
                tab.answer(what == "ok", popup.held if asks else None)
        elif what == "month":
            self._month = other_month(self._month, int(words))
            self.popup = days(popup.width, popup.height, popup.spots[0].words, self._month, None)
        elif what in {"option", "day", "cancel"}:
            self.close()
            if what == "option":
                tab.choose(control, int(words))
            elif what == "day":
                tab.set_value(control, words)


def _day(words: str) -> date | None:
    try:
        return date.fromisoformat(words)
    except ValueError:
        return None


def held_s(contact: Contact) -> float:
    """Seconds that a finger stayed where it began."""
    x0, y0 = contact.begin
    moved = (t for t, x, y in contact.path if abs(x - x0) + abs(y - y0) > TAP_DP)
    return next(moved, contact.lift) - contact.since
