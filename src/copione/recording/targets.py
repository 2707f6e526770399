"""How a person would word an element: by its role and its name, and by what sets it apart from its like."""

from __future__ import annotations

import numpy as np

from ..model.roles import role_word, roles_of
from ..model.screen import Element, Screen
from ..model.target import Target
from ..recognition.evidence import fold, words_of_id
from ..recognition.placing import section

#: What tells one of several of a name apart by standing round it.
HOLDERS = frozenset({"listitem", "list", "radiogroup", "dialog", "region"})
#: Roles of the words that may set what is under them apart, and how many of the nearest ones are tried.
HEADS, HEADS_TRIED = frozenset({"text", "heading"}), 6


def target_of(element: Element) -> Target:
    """How a person would word it: role and name, with what it stands in or under where that alone does not tell it apart.

    What has no name is told by the item that it stands in; else it is called by its id.
    """
    word = role_word(element.role)
    name = _telling_name(element)
    if name != element.name:
        return Target(word, name)
    same = [e for e in _called(element.screen, word, element.name) if not (e.within(element) or element.within(e))]
    if same or not element.name:
        for holder in element.ancestors():
            if holder.name and holder.role in HOLDERS and not any(e.within(holder) for e in same) and _is_only(holder):
                return Target(word, element.name, Target(role_word(holder.role), holder.name))
    if same and element.name:
        return Target(word, element.name, under=_words_over(element, same))
    return Target(word, element.name or words_of_id(element.id))


def _telling_name(element: Element) -> str:
    """Its name; if that is only a symbol, such as a star, its title or whatever else it is called that no other element is."""
    name = element.name
    if not name or any(c.isalnum() for c in name):
        return name
    taken = {fold(words) for e in element.screen if e != element for words in (e.name, *e.also)}
    return next((words for words in element.also if any(c.isalnum() for c in words) and fold(words) not in taken), name)


def _words_over(element: Element, same: list[Element]) -> str:
    """The nearest words before an element that no other element of its name is under; empty if there are none."""
    screen = element.screen
    alike = np.zeros(len(screen), bool)
    alike[[element.row, *(e.row for e in same)]] = True
    heads = [e for e in screen if e.row < element.row and e.role in HEADS and any(c.isalpha() for c in e.text)]
    for head in heads[: -HEADS_TRIED - 1 : -1]:
        found = section(screen, head.text, alike)
        if not isinstance(found, str) and np.flatnonzero(found & alike).tolist() == [element.row]:
            return head.text
    return ""


def _called(screen: Screen, word: str, name: str) -> list[Element]:
    said, roles = fold(name), roles_of(word)
    return [e for e in screen if (e.role in roles or not roles) and fold(e.name) == said]


def _is_only(holder: Element) -> bool:
    """Does its own name tell an item? Of two of the same name neither is told by it."""
    return holder.role != "listitem" or len(_called(holder.screen, role_word(holder.role), holder.name)) == 1
