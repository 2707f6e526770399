"""What sets the failing devices apart: the simplest rules that hold for each of them and for none that passed, and what they are worth.

Such a rule is a claim. With few devices many rules fit by chance: `chance` is the share of all ways to pick as many devices of these
that some rule as simple would fit as well, counted, not estimated. Pure.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import IntEnum
from functools import lru_cache
from itertools import combinations
from math import comb

from ..model.wording import listed
from .traits import BY_KEY, TRAITS, Scale, Trait, TraitSubject, Value

MOST_WORDS = 3  # values that one test may name
WORDS_IN_PAIRS = 2  # the same, where a rule has two tests
MOST_RULES = 6  # rules that are told
NO_EXPLANATION = 0.1  # from this chance on a rule is a candidate, and no explanation
FEW, FEW_EXPLAIN = 2, 0.02  # of so few failing devices: from this chance on
EXCEPTED = 3  # failing devices from which on a rule may have an exception
WORTH_SAYING = 0.02  # from this chance on it is told beside the rule


@dataclass(frozen=True)
class Test:
    """One test of a trait: at most or at least a number (or a release), or one of some words.

    `value` is the failing devices' nearest value, `gap` reaches from it to the passing ones' nearest; None for words.
    """

    trait: str
    relation: str
    values: tuple[Value, ...]
    gap: tuple[Value, Value] | None = None

    @property
    def _trait(self) -> Trait:
        return BY_KEY[self.trait]

    def fits(self, value: Value | None) -> bool | None:
        """Does a value pass the test? None for one that is not known, or that lies in the gap."""
        if value is None:
            return None
        if self.relation == "one of":
            return value in self.values
        assert self.gap is not None
        bound, beyond = self.gap
        if isinstance(value, tuple) and isinstance(bound, tuple) and value[0] != bound[0]:
            return False
        below = self.relation == "at most"
        if _not_beyond(value, bound, below):
            return True
        return False if value == beyond or _not_beyond(beyond, value, below) else None

    @property
    def words(self) -> str:
        """The value in words: `320 dp or less`, `de or he`."""
        said = " or ".join(self._trait.said(value) for value in self.values)
        if self.relation == "one of":
            return said
        if self._trait.scale is Scale.ORDER:
            return f"{said} {'and before' if self.relation == 'at most' else 'or later'}"
        return f"{said} {'or less' if self.relation == 'at most' else 'or more'}"

    @property
    def having(self) -> str:
        """As what a device has or is: `with text at 130 % or more`."""
        return self._trait.having.format(self.words)

    @property
    def others(self) -> str:
        """How the passing devices are, where it is a number: `up to 115 %`."""
        return f"{'from' if self.relation == 'at most' else 'up to'} {self._trait.said(self.gap[1])}" if self.gap is not None else ""

    def to_dict(self) -> dict[str, object]:
        """Plain values, as JSON has them."""
        values = [_told(value) for value in self.values]
        gap = [_told(value) for value in self.gap] if self.gap is not None else []
        return {"trait": self.trait, "test": self.relation, "value": values[0] if len(values) == 1 else values, "gap": gap}


def _told(value: Value) -> object:
    return ".".join(map(str, value[1])) if isinstance(value, tuple) else value


def _not_beyond(value: Value, bound: Value, below: bool) -> bool:
    return bool(value <= bound if below else value >= bound)  # type: ignore[operator]


class Plainness(IntEnum):
    """How plain a rule is: one test, both ends of one trait, one test that one device breaks, tests of two traits."""

    ONE, RANGE, BUT_ONE, TWO = range(1, 5)


@dataclass(frozen=True)
class Rule:
    """One test, or two that have to hold together; `but` is a device of which the rule holds, and that passed all the same."""

    tests: tuple[Test, ...]
    but: str = ""

    @property
    def plainness(self) -> Plainness:
        """The plainer, the fewer others would have done."""
        if self.but:
            return Plainness.BUT_ONE
        if len(self.tests) == 1:
            return Plainness.ONE
        return Plainness.RANGE if len({test.trait for test in self.tests}) == 1 else Plainness.TWO

    def fits(self, facts: Mapping[str, Value]) -> bool | None:
        """Does it hold there? None where that cannot be told."""
        answers = [test.fits(facts.get(test.trait)) for test in self.tests]
        return False if False in answers else None if None in answers else True

    @property
    def having(self) -> str:
        """As what a device has or is; both ends of one trait as a range: `with a width of 360 dp to 390 dp`."""
        ends = {test.relation: test for test in self.tests}
        if len({test.trait for test in self.tests}) == 1 and set(ends) == {"at least", "at most"}:
            trait = BY_KEY[self.tests[0].trait]
            said = list(dict.fromkeys(trait.said(ends[way].values[0]) for way in ("at least", "at most")))
            return trait.having.format(" to ".join(said))
        but = f", but for {self.but}" if self.but else ""
        return " and ".join(test.having for test in self.tests) + but


@dataclass(frozen=True)
class Discriminator:
    """What sets some devices apart from others. `rules` the plainest first; empty where nothing does, or nothing is known of others.

    `alike` are those that never came so far and would fail as well by the first rule; `deciding` are those of them, or of the rules, that
    would tell which rule it is.
    """

    failing: int
    known: int
    rules: tuple[Rule, ...] = ()
    chance: float = 1.0
    alike: tuple[str, ...] = ()
    deciding: str = ""

    @property
    def explains(self) -> bool:
        """Is it more than what chance brings?"""
        return bool(self.rules) and self.chance < (FEW_EXPLAIN if self.failing <= FEW else NO_EXPLANATION)

    @property
    def sentence(self) -> str:
        """For people; empty where there is nothing to compare with."""
        if self.known == self.failing:
            return ""
        if not self.rules:
            return "Nothing that is known of the devices sets these apart."
        said = [_claim(rule) for rule in self.rules[:3]]
        claims = "; or ".join(said)
        parts = [f"Only devices {claims}." if self.explains else f"What sets them apart cannot be told with these devices: {claims}."]
        if self.chance >= WORTH_SAYING:
            who = "one failing device" if self.failing == 1 else f"{self.failing} failing devices"
            parts.append(f"With {who} of {self.known} some trait would fit by chance in {share(self.chance)}.")
        if self.alike:
            parts.append(f"{listed(self.alike)} {'is' if len(self.alike) == 1 else 'are'} so too, and never came to this step.")
        if self.deciding:
            parts.append(self.deciding)
        return " ".join(parts)


def _claim(rule: Rule) -> str:
    others = [test.others for test in rule.tests if test.others]
    return f"{rule.having} (others {', '.join(others)})" if others else rule.having


def share(chance: float) -> str:
    """A share of cases in words: `1 of 6`."""
    if chance >= 0.95:
        return "nearly every case"
    if chance > 0.5:
        n = round(1 / (1 - chance))
        return f"{n - 1} of {n} cases"
    return f"1 of {round(1 / chance)} cases"


def apart(
    failing: Sequence[TraitSubject], passing: Sequence[TraitSubject], unknown: Sequence[TraitSubject] = (), likely: Sequence[str] = ()
) -> Discriminator:
    """What sets the failing apart from the passing. `unknown` never came so far; they are no evidence, only told of.

    `likely` are traits that such a cause has most often to do with: they come first among rules that are as plain.
    """
    many, known = len(failing), len(failing) + len(passing)
    rules = separating(failing, passing, likely) if failing and passing else ()
    if not rules:
        return Discriminator(many, known)
    alike = tuple(subject.name for subject in unknown if rules[0].fits(subject.facts))
    chance = chance_of([*failing, *passing], many, rules[0].plainness)
    if rules[0].plainness is Plainness.BUT_ONE:
        pairs = tuple(rule for rule in rules if rule.plainness is Plainness.TWO)
        of_pairs = chance_of([*failing, *passing], many, Plainness.TWO) if pairs else 1.0
        if of_pairs < chance:
            rules, chance = pairs, of_pairs
    return Discriminator(many, known, rules[:MOST_RULES], chance, alike, _deciding(rules, unknown))


def separating(failing: Sequence[TraitSubject], passing: Sequence[TraitSubject], likely: Sequence[str] = ()) -> tuple[Rule, ...]:
    """Every rule of one test that separates them, or, where there is none, of both ends of one trait; where there is none either, those of
    one test that one device breaks, and those of two traits. The plainest first, and of these the likeliest.
    """
    tests = [test for trait in _telling([*failing, *passing]) for test in _tests(trait, failing, passing)]
    left = {test: frozenset(i for i, s in enumerate(passing) if test.fits(s.facts.get(test.trait)) is not False) for test in tests}
    tests.sort(key=lambda test: likely.index(test.trait) if test.trait in likely else len(likely))
    alone = [Rule((test,)) for test in tests if not left[test]]
    useful = [test for test in tests if len(test.values) <= WORDS_IN_PAIRS]
    pairs = [Rule(pair) for pair in combinations(useful, 2) if not left[pair[0]] & left[pair[1]]] if not alone else []
    ranges = [rule for rule in pairs if rule.plainness is Plainness.RANGE]
    broken = [Rule((test,), passing[next(iter(left[test]))].name) for test in tests if len(left[test]) == 1]
    found = alone or ranges or [*(broken if len(failing) >= EXCEPTED else ()), *pairs]

    def rank(rule: Rule) -> tuple[int, bool, int]:
        unlikely = not any(test.trait in likely for test in rule.tests)
        return rule.plainness, unlikely, sum(len(test.values) for test in rule.tests)

    return tuple(sorted(found, key=rank))


def _telling(subjects: Sequence[TraitSubject]) -> list[Trait]:
    """The traits, without one that says the same of each as one before it."""
    found: dict[tuple[Value | None, ...], Trait] = {}
    for trait in TRAITS:
        found.setdefault(tuple(s.facts.get(trait.key) for s in subjects), trait)
    return list(found.values())


def _tests(trait: Trait, failing: Sequence[TraitSubject], passing: Sequence[TraitSubject]) -> Iterable[Test]:
    """The closest tests of a trait that every failing one passes."""
    bad = [s.facts.get(trait.key) for s in failing]
    good = [value for s in passing if (value := s.facts.get(trait.key)) is not None]
    if None in bad or len(good) < len(passing):
        return
    values = [value for value in bad if value is not None]
    if trait.scale is Scale.WORD:
        told = sorted({str(value) for value in values})
        if len(told) <= MOST_WORDS and set(good) - set(told):
            yield Test(trait.key, "one of", tuple(told))
        return
    if len({value[0] for value in values if isinstance(value, tuple)}) > 1:
        return
    group = values[0][0] if isinstance(values[0], tuple) else None
    rivals = [value for value in good if group is None or (isinstance(value, tuple) and value[0] == group)]
    for relation, nearest in (("at most", max(values)), ("at least", min(values))):
        below = relation == "at most"
        beyond = [value for value in rivals if not _not_beyond(value, nearest, below)]
        if beyond:
            yield Test(trait.key, relation, (nearest,), (nearest, min(beyond) if below else max(beyond)))


# what it is worth


def chance_of(subjects: Sequence[TraitSubject], many: int, plainness: Plainness) -> float:
    """The share of all ways to pick so `many` of the subjects, not all, that some rule as plain, or plainer, would pick as well."""
    columns = tuple(tuple(s.facts.get(trait.key) for s in subjects) for trait in TRAITS)
    return _chance(columns, len(subjects), many, plainness)


@lru_cache
def _chance(columns: tuple[tuple[Value | None, ...], ...], total: int, many: int, plainness: Plainness) -> float:
    picked = {region for column, trait in zip(columns, TRAITS, strict=True) for region in _regions(column, trait, MOST_WORDS, many)}
    found = {region for region in picked if region.bit_count() == many}
    if plainness is not Plainness.ONE:
        wide = [{*_regions(column, trait, WORDS_IN_PAIRS, many)} for column, trait in zip(columns, TRAITS, strict=True)]
        ends = [sorted(regions) for regions in wide]
        if plainness is Plainness.TWO:
            ends = [sorted({region for regions in wide for region in regions})]
        found |= {both for regions in ends for one, other in combinations(regions, 2) if (both := one & other).bit_count() == many}
    if plainness is Plainness.BUT_ONE:
        found |= {region ^ 1 << i for region in picked if region.bit_count() == many + 1 for i in range(total) if region >> i & 1}
    return len(found) / comb(total, many)


def _regions(column: Sequence[Value | None], trait: Trait, most: int, many: int) -> Iterable[int]:
    """What one test may pick of the subjects, as bits: at least so many."""
    if None in column:
        return
    if trait.scale is Scale.WORD:
        classes = {value: _bits(i for i, each in enumerate(column) if each == value) for value in column}
        for size in range(1, most + 1):
            for chosen in combinations(classes.values(), size):
                region = sum(chosen)  # they share no bits
                if region.bit_count() >= many:
                    yield region
        return
    groups = {value[0] if isinstance(value, tuple) else None for value in column}
    for group in groups:
        within = [i for i, value in enumerate(column) if group is None or (isinstance(value, tuple) and value[0] == group)]
        known = {i: value for i in within if (value := column[i]) is not None}
        for bound in set(known.values()):
            for below in (True, False):
                region = _bits(i for i, value in known.items() if _not_beyond(value, bound, below))
                if region.bit_count() >= many:
                    yield region


def _bits(places: Iterable[int]) -> int:
    return sum(1 << place for place in places)


def _deciding(rules: Sequence[Rule], unknown: Sequence[TraitSubject]) -> str:
    """Which device would tell two rules apart."""
    if rules[0].plainness is not Plainness.ONE:
        return ""
    first = rules[0]
    other = next((rule for rule in rules[1:] if rule.tests[0].trait != first.tests[0].trait), None)
    if other is None:
        return ""
    for subject in unknown:
        if {first.fits(subject.facts), other.fits(subject.facts)} == {True, False}:
            return f"{subject.name} would tell, which never came to this step."
    return f"A device {first.having} that is not {other.having}, or the other way round, would tell."
