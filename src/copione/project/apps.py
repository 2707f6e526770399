"""The word by which scripts call an app, made from its package or address."""

from __future__ import annotations

import itertools
import re
import unicodedata
from collections.abc import Iterator, Mapping
from urllib.parse import urlsplit

from ..model.app_name import telling_parts

WEB = "web"


def word_for(package: str, platform: str, apps: Mapping[str, Mapping[str, str]]) -> str:
    """The word for a package on a platform, given the packages by platform of every word that there is.

    A word that means the same app on another platform gets this one too. No word is ever given another package.
    """
    for word, packages in apps.items():
        if packages.get(platform) == package:
            return word
    for word in _candidates(package, platform):
        there = apps.get(word)
        if there is None or (platform not in there and _may_be_same(package, platform, there)):
            return word
    raise AssertionError("there is always a number that is free")


def _candidates(package: str, platform: str) -> Iterator[str]:
    parts = _telling(package, platform)
    for first in range(len(parts) - 1, -1, -1):
        yield app_word("-".join(parts[first:]))
    yield from (f"{app_word(parts[-1])}-{number}" for number in itertools.count(2))


def _telling(package: str, platform: str) -> list[str]:
    """The parts of a package up to the last that says which app it is; of a web app what its host is called by."""
    if platform != WEB:
        return telling_parts(package)
    host = urlsplit(package).hostname or ""
    named = [part for part in host.split(".") if part != "www" and not part.isdigit()]
    return [named[0]] if named and named[0] != "localhost" else ["web app"]


def _may_be_same(package: str, platform: str, there: Mapping[str, str]) -> bool:
    """Is it the same app on another platform? Packages name the maker before the app; where both do, it must be the same."""
    makers = _makers(package, platform)
    others = [_makers(other, name) for name, other in there.items()]
    return any(not makers or not other or makers & other for other in others)


def _makers(package: str, platform: str) -> set[str]:
    return {part.casefold() for part in _telling(package, platform)[1:-1]}


def app_word(words: str) -> str:
    """Words as the name of an app in scripts: ASCII letters, digits and dashes, a letter first."""
    plain = unicodedata.normalize("NFKD", words).encode("ascii", "ignore").decode().lower()
    word = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")
    return word if word[:1].isalpha() else f"app-{word}".strip("-")
