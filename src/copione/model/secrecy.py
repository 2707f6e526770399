"""What must not be written down, and the one redactor that stands at every exit: files, terminal, log, exceptions, pictures.

A secret comes back in many shapes: as it was typed, quoted for a shell, a URL, JSON or XML, in base64 or UTF-16, cut in two by a log that
breaks its lines. Each shape of each secret is looked for, and its variable's name put in its place.
"""

from __future__ import annotations

import base64
import html
import json
import re
import shlex
import threading
import unicodedata
from collections.abc import Iterator, Mapping
from urllib.parse import quote, quote_plus

SHORTEST = 4  # characters; shorter ones are in everything and cannot be hidden
CORE = 5  # characters of base64 or hexadecimal that are taken for a secret
BULLET = "•"
#: What may stand between two characters of a secret: UTF-16's noughts, or a line's end with the head that a log gives its next line.
_BREAK = r"\x00|\r?\n[ \t]*|\r?\n[^\n]{0,80}?[:|] [ \t]*"
_ANY_CASE = re.compile(r"%[0-9A-F]|&|\\|^[0-9a-f]{8,}$")  # what writes letters as numbers does so in either case
_BLANKS = re.compile(r"[\x00\s]+")
_HEADS = re.compile(r"\n[^\n]{0,80}?[:|] "), re.compile(r"\n[^\n]{0,80}[:|] ")  # of a log's lines: to the first colon, or the last


class Redactor:
    """Knows the secrets of one session; may be asked and told from any thread."""

    def __init__(self, secrets: Mapping[str, str] | None = None) -> None:
        self._lock = threading.Lock()
        self._values: tuple[tuple[str, str], ...] = ()  # name, value
        self._shapes: tuple[tuple[str, str, re.Pattern[str]], ...] = ()  # folded, name, pattern; the longest first
        self._raw: tuple[bytes, ...] = ()  # the shapes as bytes
        self.learn(secrets or {})

    def __getstate__(self) -> dict[str, object]:
        """Its secrets go along where it is pickled: it has to hide them there too."""
        return {"values": self._values}

    def __setstate__(self, state: dict[str, tuple[tuple[str, str], ...]]) -> None:
        self.__init__()  # type: ignore[misc]
        for name, value in state["values"]:
            self.learn({name: value})

    def learn(self, secrets: Mapping[str, str]) -> None:
        """These are secret from now on, by the names of their variables, besides what was secret before."""
        with self._lock:
            new = [pair for pair in secrets.items() if len(pair[1].strip()) >= SHORTEST and pair not in self._values]
            if not new:
                return
            self._values += tuple(new)
            names = {shape: name for name, value in self._values for shape in shapes_of(value)}
            longest_first = sorted(names, key=len, reverse=True)
            self._shapes = tuple((_BLANKS.sub("", shape.casefold()), names[shape], _pattern(shape)) for shape in longest_first)
            self._raw = tuple(shape.encode("utf-8", "replace") for shape in longest_first)

    @property
    def version(self) -> int:
        """Another number each time something more is known to be secret: what was written before may hold it."""
        return len(self._values)

    def seems_in(self, data: bytes) -> bool:
        """Is one in a file, by a quick look: as it is written in one line of UTF-8?"""
        return any(shape in data for shape in self._raw)

    @property
    def knows_any(self) -> bool:
        """Is there anything to hide?"""
        return bool(self._shapes)

    def words(self, said: str) -> str:
        """A text without secrets: each is its variable in braces."""
        for name, pattern in self._in(said):
            said = pattern.sub("{" + name + "}", said)
        return said

    def _in(self, said: str) -> list[tuple[str, re.Pattern[str]]]:
        """Those that seem to be in it, by a quick look: most texts hold none."""
        if not self._shapes or not said:
            return []
        folded = said.casefold()
        looks = {_BLANKS.sub("", folded)}
        if "\n" in folded:
            looks |= {_BLANKS.sub("", heads.sub("", folded)) for heads in _HEADS}
        return [(name, pattern) for shape, name, pattern in self._shapes if any(shape in look for look in looks)]

    def bytes(self, said: bytes) -> bytes:
        """The same for what is sent or written, in whatever encoding."""
        if not self._shapes:
            return said
        try:
            return self.words(said.decode("utf-8")).encode()
        except UnicodeDecodeError:
            return self.words(said.decode("latin-1")).encode("latin-1", "replace")

    def holds(self, said: str) -> bool:
        """Is a secret in it?"""
        return any(pattern.search(said) for _, pattern in self._in(said))

    def stands_out(self, said: str) -> bool:
        """Is a secret in what a reader of pictures read? It takes some letters for others, and breaks words: those are folded."""
        read = _as_read(said)
        return any(_as_read(value) in read for _, value in self._values)


def _pattern(shape: str) -> re.Pattern[str]:
    letters = (r"[ \t]*" if letter.isspace() else re.escape(letter) for letter in shape)
    return re.compile(f"(?:{_BREAK})?".join(letters), re.IGNORECASE if _ANY_CASE.search(shape) else 0)


def too_short(secrets: Mapping[str, str]) -> list[str]:
    """Names of those that cannot be hidden."""
    return sorted(name for name, value in secrets.items() if 0 < len(value.strip()) < SHORTEST)


def shapes_of(value: str) -> set[str]:
    """Every shape in which a value may come back."""
    found = {value, value.strip()}
    found |= {unicodedata.normalize(form, value) for form in ("NFC", "NFD")}
    found |= {line.strip() for line in value.splitlines() if len(line.strip()) >= SHORTEST}
    for plain in tuple(found):
        found |= {quote(plain), quote(plain, safe=""), quote_plus(plain)}
        for typed in (plain, plain.replace(" ", "%s")):
            found |= {typed, shlex.quote(typed).strip("'"), re.sub(r"([^\w])", r"\\\1", typed)}
        found |= {json.dumps(plain)[1:-1], json.dumps(plain, ensure_ascii=False)[1:-1], repr(plain)[1:-1], repr(plain.encode())[2:-1]}
        found |= {html.escape(plain), html.escape(plain, quote=False), html.escape(plain, quote=False).replace('"', "&quot;")}
        found |= {"".join(f"&#{ord(c)};" for c in plain), "".join(f"&#x{ord(c):x};" for c in plain)}
        found |= {"".join(f"\\u{ord(c):04x}" for c in plain if ord(c) < 0x10000), plain.encode().decode("latin-1")}
        found |= set(_packed(plain))
    return {shape for shape in found if len(shape) >= SHORTEST}


def _packed(plain: str) -> Iterator[str]:
    """Base64 at each of the three places it may begin at (RFC 4648: three bytes are four letters), and hexadecimal, in three encodings."""
    for code in ("utf-8", "utf-16-le", "utf-16-be"):
        data = plain.encode(code)
        yield data.hex()
        for before in range(3):
            packed = base64.b64encode(bytes(before) + data).decode()
            first = -(-before * 8 // 6)  # letters that what stands before has a part in
            last = (before + len(data)) * 8 // 6  # and from here on what comes after
            core = packed[first:last]
            if len(core) >= CORE:
                yield core
                yield core.replace("+", "-").replace("/", "_")


def _as_read(said: str) -> str:
    folded = unicodedata.normalize("NFKD", said).casefold().translate(str.maketrans("0158|!", "oisbll"))
    return "".join(c for c in folded if c.isalnum()).replace("i", "l")
