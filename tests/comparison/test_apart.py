"""What sets devices apart, held against trying out every rule and every split."""

import random
import unittest
from itertools import combinations
from math import comb

from copione.comparison.apart import MOST_WORDS, WORDS_IN_PAIRS, apart, chance_of, separating
from copione.comparison.traits import TRAITS, Scale, Subject, facts_of

from .test_findings import ALDER

WORDS = {
    "language": ("en", "de", "he", "fr", "ja"),
    "form": ("phone", "tablet"),
    "platform": ("android", "ios"),
    "region": ("GB", "DE", "US"),
}


def bench(chance: random.Random, many: int) -> list[Subject]:
    """Made-up devices."""
    found = []
    for n in range(many):
        platform = chance.choice(WORDS["platform"])
        width = chance.choice((320, 360, 375, 390, 393, 411, 412, 430, 600, 673, 800, 820)) * 1.0
        facts = {
            "platform": platform,
            "width": width,
            "density": chance.choice((160.0, 240.0, 320.0, 480.0)),
            "text size": chance.choice((1.0, 1.0, 1.0, 1.15, 1.3, 2.0)),
            "language": chance.choice(WORDS["language"]),
            "region": chance.choice(WORDS["region"]),
            "form": "tablet" if width >= 600 else "phone",
            "release": (platform, (chance.randint(9, 15), chance.randint(0, 2))),
        }
        found.append(Subject(f"device {n}", facts))
    return found


def picked_by_one_test(subjects: list[Subject], words: int) -> set[frozenset[int]]:
    """Every set of places that one test picks, by trying out all values that occur, one after the other."""
    found = set()
    for trait in TRAITS:
        column = [s.facts.get(trait.key) for s in subjects]
        if None in column:
            continue
        if trait.scale is Scale.WORD:
            for size in range(1, words + 1):
                for values in combinations(sorted(set(column)), size):
                    found.add(frozenset(i for i, v in enumerate(column) if v in values))
            continue
        for bound in column:
            same = [i for i, v in enumerate(column) if not isinstance(v, tuple) or v[0] == bound[0]]
            found |= {frozenset(i for i in same if column[i] <= bound), frozenset(i for i in same if column[i] >= bound)}
            if same != list(range(len(column))):
                # all of a platform's releases is no test of the release
                found -= {frozenset(same)} if all(column[i] == bound or trait.scale is Scale.ORDER for i in same) else set()
    return found


class AgainstTryingOut(unittest.TestCase):
    def test_both_ends_of_one_trait_are_a_range(self) -> None:
        others = [Subject(f"{width}", {"width": width}) for width in (320.0, 430.0)]
        for widths, said in (((390.0,), "with a width of 390 dp"), ((360.0, 390.0), "with a width of 360 dp to 390 dp")):
            (rule,) = apart([Subject(f"{width}", {"width": width}) for width in widths], others).rules
            self.assertEqual(rule.having, said)
        builds = [[Subject(f"{n} {build}", facts_of(ALDER, build)) for n in range(5)] for build in ("2.5", "2.4")]
        self.assertEqual(apart(*builds).sentence, "Only devices with build 2.5 or later (others up to 2.4).")

    def test_the_simplest_true_rule_is_found_where_there_is_one(self) -> None:
        seed = random.SystemRandom().randrange(10**6)
        chance = random.Random(seed)
        counts = [0, 0, 0]
        for _ in range(120):
            subjects = bench(chance, chance.choice((5, 8, 13, 25, 40, 60)))
            tests = chance.choice((1, 1, 2))
            regions = sorted(picked_by_one_test(subjects, MOST_WORDS if tests == 1 else WORDS_IN_PAIRS), key=sorted)
            region = frozenset.intersection(*chance.sample(regions, tests))
            if not 0 < len(region) < len(subjects):
                continue
            failing = [s for i, s in enumerate(subjects) if i in region]
            passing = [s for i, s in enumerate(subjects) if i not in region]
            rules = separating(failing, passing)
            with self.subTest(seed=seed, failing=[s.facts for s in failing]):
                self.assertTrue(rules)
                self.assertLessEqual(len(rules[0].tests), tests)
                one_would_do = region in picked_by_one_test(subjects, MOST_WORDS)
                self.assertEqual(len(rules[0].tests) == 1, one_would_do)
                for rule in rules:
                    self.assertTrue(all(rule.fits(s.facts) is True for s in failing), rule)
                    self.assertTrue(all(rule.fits(s.facts) is False for s in passing), rule)
            counts[len(rules[0].tests)] += 1
        self.assertGreater(min(counts[1:]), 5)

    def test_what_no_rule_explains_is_not_explained(self) -> None:
        chance = random.Random(4)
        for _ in range(40):
            subjects = bench(chance, 7)
            one, two = chance.sample(range(7), 2)
            subjects[two] = Subject("twin", subjects[one].facts)  # one of two that are the same
            self.assertEqual(separating([subjects[one]], [s for i, s in enumerate(subjects) if i != one]), ())

    def test_the_chance_is_the_counted_one(self) -> None:
        seed = random.SystemRandom().randrange(10**6)
        chance = random.Random(seed)
        for many, of in ((1, 5), (2, 8), (3, 10), (4, 12), (1, 13), (2, 20), (2, 40), (2, 60)):
            for tests in (1, 2):
                subjects = bench(chance, of)
                sets = picked_by_one_test(subjects, MOST_WORDS)
                if tests == 2:
                    narrow = picked_by_one_test(subjects, WORDS_IN_PAIRS)
                    sets = sets | {one & other for one, other in combinations(narrow, 2)}
                counted = sum(frozenset(split) in sets for split in combinations(range(of), many)) / comb(of, many)
                with self.subTest(seed=seed, many=many, of=of, tests=tests):
                    self.assertAlmostEqual(chance_of(subjects, many, tests), counted, delta=0.02)


class Told(unittest.TestCase):
    def test_what_is_said_of_a_bench(self) -> None:
        def device(name: str, width: float, text: float, language: str = "en") -> Subject:
            return Subject(name, {"width": width, "text size": text, "language": language})

        ordinary = [device(f"{n}", 360.0 + 10 * n, 1.0 + 0.01 * n) for n in range(12)]
        table = [
            ([device("a", 320.0, 1.3)], ordinary, (), "cannot be told with these devices: with text at 130 % or more"),
            ([device("a", 320.0, 1.3)], ordinary, (), "With one failing device of 13 some trait would fit by chance in"),
            ([device("a", 320.0, 1.3)], ordinary, (), "A device with text at 130 % or more (or"),
            ([device("a", 320.0, 1.3)], ordinary, (device("b", 500.0, 1.4),), "b is so too, and never came to this step. b would tell"),
            (
                [device(f"w{n}", 320.0, 1.0) for n in range(4)],
                ordinary,
                (),
                "Only devices with a width of 320 dp or less (others from 360 dp",
            ),
            ([device("a", 400.0, 1.0)], [device("b", 400.0, 1.0)], (), "Nothing that is known of the devices sets these apart."),
            ([device("a", 400.0, 1.0)], [], (), ""),
        ]
        for failing, passing, unknown, words in table:
            with self.subTest(words):
                self.assertIn(words.replace(" (or", ""), apart(failing, passing, unknown).sentence)


if __name__ == "__main__":
    unittest.main()
