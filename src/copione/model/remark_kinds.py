"""The kinds of remark, each with everything that is true of it; the rules that find them are in `comparison`."""

from __future__ import annotations

from collections.abc import Iterable

from .remark import RemarkKind

_KINDS: dict[str, RemarkKind] = {}


def register(kind: RemarkKind) -> RemarkKind:
    """Add a kind, so that its remarks can be archived, read again and muted."""
    _KINDS[kind.value] = kind
    return kind


def forget(kind: RemarkKind) -> None:
    """Remove a kind again."""
    _KINDS.pop(kind.value, None)


def kinds() -> tuple[RemarkKind, ...]:
    """Every kind."""
    return tuple(_KINDS.values())


def kind_called(value: str) -> RemarkKind:
    """The kind of that value. Raises ValueError, with those that there are."""
    if value not in _KINDS:
        raise ValueError(f"{value!r} is no kind of remark; there are {', '.join(_KINDS)}")
    return _KINDS[value]


def _kind(
    value: str,
    title: str = "{what} reads {here} {on}",
    said_by: Iterable[str] = (),
    *,
    likely: tuple[str, ...] = (),
    presence: bool = False,
    conventional: bool = False,
    by_words: bool = False,
) -> RemarkKind:
    return register(RemarkKind(value, title, frozenset(said_by), likely, presence, conventional, by_words))


_DIALOG = ("dialog", "system")
MISSING = _kind("missing", "{what} is not there {on}", ("missing", "ambiguous", "edge", *_DIALOG), presence=True, conventional=True)
NEW = _kind("new", "{what} is there {on}, and nowhere else", ("ambiguous", "cover", *_DIALOG), presence=True, conventional=True)
WORDS = _kind("other words", said_by=("missing", "reads otherwise", "lost"), conventional=True, by_words=True)
CUT = _kind("text cut", "{elsewhere} ends early {on}: {here}", ("missing", "reads otherwise"))
SPILLS = _kind("spills over", "{what} does not fit {on}", ("edge",), conventional=True)
OVERLAPS = _kind("overlaps", "{what} lies {here} {on}", ("cover", "edge", *_DIALOG), presence=True, conventional=True)
REACH = _kind("out of reach", "{what} is beyond the edge {on}", ("missing", "cover", "edge"))
SMALL = _kind("small target", "{what} is {here} small {on}", conventional=True)
UNTRANSLATED = _kind("untranslated", "{here} is not translated {on}", ("reads otherwise",), likely=("language", "region"))
FORMAT = _kind("other format", "{here} is in another format {on}", ("reads otherwise",), likely=("language", "region"))
PICTURE = _kind("other picture", "{what} is another picture {on}", ("looks otherwise",))
CONTRAST = _kind("weak contrast", "{what} is hard to read {on}: {here}")
STATE = _kind("other state", "{what} is {here} {on}", ("reads otherwise", "lost", "not taken"))
LOST = _kind("state lost", "{what} is {here} after the turn {on}", ("lost", "not taken"))
FOCUS = _kind("focus order", "The focus comes to {what} {here} {on}", conventional=True)
VALUE = _kind("other value", said_by=("lost",), by_words=True)
ORDER = _kind("other order", "{here} stand in another order {on}")
COLOUR = _kind("other colour", "{what} stands on another colour {on}", by_words=True)
DISABLED = _kind("disabled", "{what} is {here} {on}")
HEAVIER = _kind("heavier", "The app takes {here} of memory {on}", likely=("build",))
GROWS = _kind("grows", "The app takes more and more memory {on}: {here}")
HIDDEN = _kind("typed out of sight", "{what} is {here} {on}", ("keyboard",))
