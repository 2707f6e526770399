"""What is known of a remote end before it is asked: how it is reached, what a session there must have, which dialect it speaks."""

from __future__ import annotations

import re
from typing import Any
from urllib.parse import urlsplit

import msgspec

from ...model.errors import LinkError

MATCHES = frozenset({"alwaysMatch", "firstMatch"})
_HEADER = re.compile(r"[A-Za-z0-9-]{1,60}")
LONGEST_S = 600.0


class EndpointSpec(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """One configuration of a remote end. Of several with one address, the one that is `active` is used.

    `dialect`: the name of one that ships or that the user keeps, empty for whichever the remote end turns out to speak. `user`: who signs
    in; the password is kept elsewhere. `certificate`: a file of certificates that are trusted besides. `proxy`: an address, http://.
    `seconds`: what one command may take, 0 for as usual. `capabilities`: those that a session must have, or `alwaysMatch` and
    `firstMatch` as in the standard (W3C WebDriver, 7.1). Raises ValueError.
    """

    url: str
    name: str = ""
    active: bool = True
    dialect: str = ""
    user: str = ""
    certificate: str = ""
    proxy: str = ""
    seconds: float = 0.0
    headers: dict[str, str] = {}
    capabilities: dict[str, Any] = {}

    def __post_init__(self) -> None:
        if not self.called.isprintable() or len(self.called) > 200:
            raise ValueError("a name is one line of at most 200 characters")
        if not 0 <= self.seconds <= LONGEST_S:
            raise ValueError(f"{self.called}: a command may take 0 to {LONGEST_S:g} seconds")
        for name, value in self.headers.items():
            if not _HEADER.fullmatch(name) or not value.isprintable() or not value.isascii():
                raise ValueError(f"{self.called}: {name[:60]!r} is no header that can be sent")
            if name.lower() in {"authorization", "cookie", "host", "content-length"}:
                raise ValueError(f"{self.called}: {name} cannot be set here; who signs in is the `user`")
        if self.proxy and (urlsplit(self.proxy).scheme != "http" or "@" in self.proxy):
            raise ValueError(f"{self.called}: a proxy is an address such as http://10.0.0.1:3128, without a password")
        if MATCHES & self.capabilities.keys() and not self.capabilities.keys() <= MATCHES:
            raise ValueError(f"{self.called}: beside alwaysMatch and firstMatch there are no other capabilities")
        every = self.capabilities.get("firstMatch", []) if MATCHES & self.capabilities.keys() else []
        if not isinstance(self.always, dict) or not isinstance(every, list) or not all(isinstance(each, dict) for each in every):
            raise ValueError(f"{self.called}: capabilities are a table, and firstMatch is a list of tables")

    @property
    def called(self) -> str:
        """Its name, else its address."""
        return self.name or self.url

    @property
    def always(self) -> dict[str, Any]:
        """What a session must have."""
        return self.capabilities.get("alwaysMatch", {}) if MATCHES & self.capabilities.keys() else self.capabilities

    @property
    def first(self) -> list[dict[str, Any]]:
        """What it must have besides: one of these."""
        return list(self.capabilities.get("firstMatch", [])) if MATCHES & self.capabilities.keys() else []

    @property
    def wanted(self) -> dict[str, Any]:
        """Both, as a session is asked for."""
        return {"alwaysMatch": self.always, **({"firstMatch": self.first} if self.first else {})}

    def must_fit(self, given: dict[str, Any]) -> None:
        """Raises LinkError where the session that was opened is not of the kind that was asked for."""
        wrong = [_mismatch({**self.always, **each}, given) for each in self.first or [{}]]
        if all(wrong):
            raise LinkError(f"{self.called} opened another session than was asked for: {wrong[0]}.")


def _mismatch(asked: dict[str, Any], given: dict[str, Any]) -> str:
    for name, value in asked.items():
        there = given.get(name)
        same = there == value or (isinstance(there, str) and isinstance(value, str) and there.casefold() == value.casefold())
        if name in given and isinstance(value, str | bool | int | float) and not same:
            return f"{name} is {str(there)[:80]!r}, not {str(value)[:80]!r}"
    return ""
