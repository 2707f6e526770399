"""Letters that `input text` refuses, as the keys by which the platform's own keyboard map makes them: an accent first, then its letter.

The map is Android's generic one (Generic.kcm): Alt with E, I, N, U or the grave key is an accent that waits for a letter, Alt with C or S
a letter of its own. Needs `input keycombination` (Android 12).
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator

ALT, SHIFT = 57, 59
A = 29  # the code of the key A; the others follow
GRAVE = 68
_ACCENTS = {"\u0301": A + 4, "\u0302": A + 8, "\u0303": A + 13, "\u0308": A + 20, "\u0300": GRAVE}  # on E, I, N, U and the grave key
_OWN = {"ß": (ALT, A + 18), "ç": (ALT, A + 2), "Ç": (ALT, SHIFT, A + 2)}
Held = tuple[int, ...]  # codes of keys that are pressed together


def keys_of(letter: str) -> tuple[Held, ...]:
    """The keys that make a letter, one after the other; none where the map has no way to it."""
    if letter in _OWN:
        return (_OWN[letter],)
    base, *marks = list(unicodedata.normalize("NFD", letter))
    if len(marks) != 1 or marks[0] not in _ACCENTS or not ("a" <= base.lower() <= "z"):
        return ()
    key = A + ord(base.lower()) - ord("a")
    return (ALT, _ACCENTS[marks[0]]), ((SHIFT, key) if base.isupper() else (key,))


def cannot_type(words: str) -> str:
    """The letters of a text that neither `input text` nor the keys make, each once."""
    return "".join(dict.fromkeys(c for c in words if not c.isascii() and not keys_of(c)))


def parts(words: str) -> Iterator[str | tuple[Held, ...]]:
    """A text as it is typed: stretches for `input text`, and keys for each letter between them."""
    plain = ""
    for letter in words:
        if letter.isascii():
            plain += letter
            continue
        if plain:
            yield plain
            plain = ""
        yield keys_of(letter)
    if plain:
        yield plain
