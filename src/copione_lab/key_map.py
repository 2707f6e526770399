"""The letters of a phone's keyboard map, as its platform documents the generic one: keys by their codes, with Alt and Shift."""

from __future__ import annotations

import unicodedata

ALT, SHIFT, A, GRAVE = "57", "59", 29, "68"
_DEAD = {"e": "\u0301", "i": "\u0302", "n": "\u0303", "u": "\u0308"}
_WITH_ALT = {"c": "ç", "s": "ß"}


class KeyMap:
    """Keys into letters; an accent waits for the letter behind it."""

    def __init__(self) -> None:
        self._accent = ""

    def letter(self, code: str, held: frozenset[str]) -> str | None:
        """What a key gives: perhaps nothing yet. None for a key that is no letter's."""
        number = int(code) - A if code.isdigit() else -1
        if code == GRAVE and ALT in held:
            self._accent = "\u0300"
            return ""
        if not 0 <= number < 26 or held - {ALT, SHIFT}:
            return None
        letter = chr(ord("a") + number)
        if ALT in held:
            if letter in _DEAD:
                self._accent = _DEAD[letter]
                return ""
            letter = _WITH_ALT.get(letter, letter)
        accent, self._accent = self._accent, ""
        typed = letter.upper() if SHIFT in held and letter != "ß" else letter
        composed = unicodedata.normalize("NFC", typed + accent)
        return composed if len(composed) == 1 else typed  # an accent that goes with nothing is lost
