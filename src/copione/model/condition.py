"""What of the device a script may change for a while; it is put back when the take ends."""

from __future__ import annotations

import re
from enum import Enum

from .number import plain_number
from .words import InvalidValue

_LOCALE = re.compile(r"[A-Za-z]{2,3}(-[A-Za-z0-9]{2,8})*")
ON_OFF = ("on", "off")


class Condition(Enum):
    """The value is the script's words for it."""

    NETWORK = "network"
    DARK = "dark mode"
    SAVER = "battery saver"
    TEXT_SIZE = "text size"
    LANGUAGE = "language"
    ORIENTATION = "orientation"  # its step is `turn landscape`
    AWAKE = "screen staying on"  # while Copione uses it; no step turns it

    def checked(self, value: str) -> str:
        """A value that it can have, as it is written. Raises InvalidValue."""
        if self is Condition.TEXT_SIZE:
            scale = plain_number(value)
            if scale is None or not 0.5 <= scale <= 3:
                raise InvalidValue(f"The text size cannot be {value}.", value, "0.5 to 3 times the ordinary size")
            return f"{scale:g}"
        if self is Condition.LANGUAGE:
            if not _LOCALE.fullmatch(value):
                raise InvalidValue(f"{value} is not a language.", value, "a language such as de or pt-BR")
            return value
        known = (*ON_OFF, "slow") if self is Condition.NETWORK else ON_OFF
        if value not in known:
            raise InvalidValue(f"The {self.value} cannot be {value}.", value, *known)
        return value
