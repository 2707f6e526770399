"""What sets devices apart, held against trying out every rule and every split."""

import random
import unittest
from itertools import combinations
from math import comb

from copione.comparison.apart import MOST_WORDS, WORDS_IN_PAIRS, Plainness, apart, chance_of, separating
from copione.comparison.traits import TRAITS, Scale, TraitSubject, facts_of

from .test_findings import ALDER

WORDS = {
    "language": ("en", "de", "he", "fr", "ja"),
    "form": ("phone", "tablet"),
    "platform": ("android", "ios"),
    "region": ("GB", "DE", "US"),
}


def bench(chance: random.Random, many: int) -> list[TraitSubject]:
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
            "build": ("", (2, chance.randint(1, 3))),
        }
        found.append(TraitSubject(f"device {n}", facts))
    return found


def picked_by_one_test(subjects: list[TraitSubject], words: int) -> set[frozenset[int]]:
    """Every set of places that one test picks, by trying out all values that occur, one after the other."""
    return set().union(*picked_by_trait(subjects, words))


def picked_by_trait(subjects: list[TraitSubject], words: int) -> list[set[frozenset[int]]]:
    """The same, by trait."""
    every = []
    for trait in TRAITS:
        found = set()
        every.append(found)
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
    return every


class AgainstTryingOut(unittest.TestCase):
    def test_both_ends_of_one_trait_are_a_range(self) -> None:
        others = [TraitSubject(f"{width}", {"width": width}) for width in (320.0, 430.0)]
        for widths, said in (((390.0,), "with a width of 390 dp"), ((360.0, 390.0), "with a width of 360 dp to 390 dp")):
            (rule,) = apart([TraitSubject(f"{width}", {"width": width}) for width in widths], others).rules
            self.assertEqual(rule.having, said)
        builds = [[TraitSubject(f"{n} {build}", facts_of(ALDER, build)) for n in range(5)] for build in ("2.5", "2.4")]
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
                self.assertEqual(rules[0].plainness is Plainness.ONE, one_would_do)
                for rule in rules:
                    self.assertTrue(all(rule.fits(s.facts) is True for s in failing), rule)
                    self.assertTrue(all(rule.fits(s.facts) is False for s in passing if s.name != rule.but), rule)
                if not one_would_do:
                    ranged = any(one & other == region for each in picked_by_trait(subjects, 2) for one in each for other in each)
                    self.assertEqual(rules[0].plainness is Plainness.RANGE, ranged)
            counts[len(rules[0].tests)] += 1
        self.assertGreater(min(counts[1:]), 5)

    def test_what_no_rule_explains_is_not_explained(self) -> None:
        chance = random.Random(4)
        for _ in range(40):
            subjects = bench(chance, 7)
            one, two = chance.sample(range(7), 2)
            subjects[two] = TraitSubject("twin", subjects[one].facts)  # one of two that are the same
            self.assertEqual(separating([subjects[one]], [s for i, s in enumerate(subjects) if i != one]), ())

    def test_the_chance_is_the_counted_one(self) -> None:
        seed = random.SystemRandom().randrange(10**6)
        chance = random.Random(seed)
        for many, of in ((1, 5), (2, 8), (3, 10), (4, 12), (1, 13), (2, 20), (2, 40), (2, 60)):
            for plain in Plainness:
                subjects = bench(chance, of)
                single = picked_by_one_test(subjects, MOST_WORDS)
                ends = (
                    [picked_by_one_test(subjects, WORDS_IN_PAIRS)] if plain is Plainness.TWO else picked_by_trait(subjects, WORDS_IN_PAIRS)
                )
                sets = single | {one & other for each in ends if plain is not Plainness.ONE for one, other in combinations(each, 2)}
                if plain is Plainness.BUT_ONE:
                    sets |= {each - {i} for each in single if len(each) == many + 1 for i in each}
                counted = sum(frozenset(split) in sets for split in combinations(range(of), many)) / comb(of, many)
                with self.subTest(seed=seed, many=many, of=of, plain=plain):
                    self.assertAlmostEqual(chance_of(subjects, many, plain), counted, delta=0.02)


class Told(unittest.TestCase):
    def test_what_is_said_of_a_bench(self) -> None:
        def device(name: str, width: float, text: float, language: str = "en") -> TraitSubject:
            return TraitSubject(name, {"width": width, "text size": text, "language": language})

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

    def test_word_for_word(self) -> None:
        def devices(trait: str, *values: object) -> list[TraitSubject]:
            return [TraitSubject(f"{n}: {value}", {trait: value}) for n, value in enumerate(values)]

        fifteen, nine = ("android", (15, 0)), ("android", (9, 1))
        chance, open_ = "some trait would fit by chance in 1 of", "cannot be told with these devices:"
        for trait, failing, passing, said in (
            ("language", ["he"], ["en"] * 9, f"{open_} set to he. With one failing device of 10 {chance} 10"),
            (
                "language",
                ["he"],
                ["en"] * 49,
                f"{open_} set to he. With one failing device of 50 {chance} 50 cases.",
            ),
            ("language", ["he"], ["en"] * 50, "Only devices set to he."),
            ("language", ["he"] * 2, ["en"] * 8, f"{open_} set to he. With 2 failing devices of 10 {chance} 45"),
            (
                "language",
                ["he"] * 3,
                ["en"] * 2,
                f"{open_} set to he. With 3 failing devices of 5 {chance} 10 cases.",
            ),
            ("language", ["he"] * 3, ["en"] * 4, f"Only devices set to he. With 3 failing devices of 7 {chance} 35 cases."),
            (
                "language",
                ["he"] * 3,
                ["en"] * 5 + ["he"],
                f"Only devices set to he, but for 5: he. With 3 failing devices of 9 {chance} 21",
            ),
            ("release", [("ios", (17,))] * 3, [("ios", (16,)), ("ios", (18,))] * 9, "Only devices running iOS 17 (others"),
            ("language", ["he", "he"], ["en"] * 25, "Only devices set to he."),
            ("language", ["he", "fr", "ja"], ["en"] * 90, "Only devices set to fr or he or ja."),
            ("language", ["he", "fr", "ja", "de"], ["en"] * 90, "Nothing that is known of the devices sets these apart."),
            ("language", ["en"], ["en"], "Nothing that is known of the devices sets these apart."),
            ("release", [nine] * 2, [fifteen] * 25, "Only devices running Android 9.1 and before (others from Android 15.0)."),
            ("release", [fifteen] * 2, [nine] * 25, "Only devices running Android 15.0 or later (others up to Android 9.1)."),
            ("release", [fifteen] * 2, [("ios", (9,))] * 25, "Nothing that is known of the devices sets these apart."),
            ("release", [fifteen, ("ios", (9,))], [nine] * 25, "Nothing that is known of the devices sets these apart."),
            ("build", [("", (2, 5))] * 2, [("", (2, 4))] * 25, "Only devices with build 2.5 or later (others up to 2.4)."),
            ("density", [120.0] * 2, [160.0] * 25, "Only devices with a density of 120 dpi or less (others from 160 dpi)."),
            ("text size", [1.3] * 2, [1.0] * 5 + [1.15], f"With 2 failing devices of 8 {chance} 28 cases."),
        ):
            with self.subTest(said):
                found = apart(devices(trait, *failing), devices(trait, *passing))
                self.assertIn(said, found.sentence)
                self.assertEqual((found.failing, found.known), (len(failing), len(failing) + len(passing)))
        known = [TraitSubject("a", {"width": 320.0}), TraitSubject("b", {})]
        for failing, passing in ((known, devices("width", 400.0)), (devices("width", 400.0), known)):
            self.assertEqual(apart(failing, passing).rules, (), "a trait that is not known of each is no evidence")
        self.assertEqual((apart(known, ()).chance, apart(known, ()).sentence), (1.0, ""))

    def test_several_rules(self) -> None:
        small = {"width": 320.0, "height": 500.0, "density": 120.0, "keyboard": 200.0, "language": "he", "region": "IL", "form": "phone"}
        large = {"width": 400.0, "height": 800.0, "density": 320.0, "keyboard": 300.0, "language": "en", "region": "GB", "form": "tablet"}
        near = {**small, "width": 350.0}
        others = [
            TraitSubject(f"o{n}", {**large, "height": 800.0 + n, "density": 320.0 + n % 5, "keyboard": 300.0 + n % 3}) for n in range(12)
        ]
        others = [TraitSubject(s.name, {**s.facts, "region": ("GB", "US")[n % 2], "width": 400.0 + n % 7}) for n, s in enumerate(others)]
        unknown = [
            TraitSubject("so too", small),
            TraitSubject("and so", small),
            TraitSubject("in the gap", near),
            TraitSubject("large", large),
        ]
        found = apart([TraitSubject("s", small)], others, unknown)
        self.assertEqual(len(found.rules), 6, "no more are told")
        self.assertEqual(found.alike, ("so too", "and so"))
        self.assertIn("so too and and so are so too, and never came to this step.", found.sentence)
        claims = "with a width of 320 dp or less (others from 400 dp); or with a height of 500 dp or less (others from 800 dp); "
        self.assertIn(claims + "or with a density of 120 dpi or less (others from 320 dpi). With one", found.sentence)
        self.assertIn("A device with a width of 320 dp or less that is not with a height of 500 dp or less", found.sentence)
        self.assertEqual(found.rules[0].tests[0].to_dict(), {"trait": "width", "test": "at most", "value": 320.0, "gap": [320.0, 400.0]})
        (first, *_) = apart([TraitSubject("s", small)], others, likely=("language",)).rules
        self.assertEqual(first.tests[0].to_dict(), {"trait": "language", "test": "one of", "value": "he", "gap": []})
        rule = apart([TraitSubject("a", {"build": ("", (2, 5))})], [TraitSubject("b", {"build": ("", (2, 4))})]).rules[0]
        self.assertEqual(rule.tests[0].to_dict()["gap"], ["2.5", "2.4"])
        three = apart([TraitSubject(each, {"language": each}) for each in ("he", "fr")], others).rules[0].tests[0]
        self.assertEqual((three.to_dict()["value"], three.fits("en"), three.fits(None)), (["fr", "he"], False, None))
        for width, fits in ((None, None), (319.0, True), (320.0, True), (399.9, None), (400.0, False), (900.0, False)):
            self.assertIs(found.rules[0].tests[0].fits(width), fits)

    def test_rules_of_two_tests(self) -> None:
        def device(width: float, language: str) -> TraitSubject:
            return TraitSubject(f"{width} {language}", {"width": width, "language": language})

        others = [device(320.0, "en"), device(400.0, "he"), device(400.0, "fr"), device(400.0, "ja"), device(430.0, "en")] * 9
        (rule,) = apart([device(320.0, "he")], others).rules
        self.assertEqual(rule.having, "with a width of 320 dp or less and set to he")
        found = apart([device(320.0, "he"), device(300.0, "fr")], others)
        self.assertEqual((found.rules[0].having, found.deciding), ("with a width of 320 dp or less and set to fr or he", ""))
        self.assertEqual(apart([device(320.0, each) for each in ("he", "fr", "ja")], others).rules, (), "three words are too many for that")
        self.assertIsNone(rule.fits({"width": 320.0}))
        self.assertIs(rule.fits({"width": 430.0}), False)


if __name__ == "__main__":
    unittest.main()
