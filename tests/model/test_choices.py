import unittest

from copione.model.choices import choices

from ..comparison.test_findings import ALDER, BRAMBLE, MOTH, PLATEAU, WREN


class Choices(unittest.TestCase):
    def test_traits_that_some_have_and_others_do_not(self) -> None:
        devices = [ALDER, WREN, PLATEAU, BRAMBLE, MOTH]
        told = {choice.words: [d.name for d in devices if choice.fits(d)] for choice in choices(devices)}
        self.assertEqual(
            told,
            {
                "Phones": ["Alder 5", "Wren mini", "Bramble", "Moth 2"],
                "Tablets": ["Plateau 10"],
                "Android 9 and before": ["Moth 2"],
                "Android 12 and before": ["Wren mini", "Moth 2"],
                "Text larger than ordinary": ["Wren mini"],
                "Language de": ["Bramble"],
                "Language en": ["Alder 5", "Wren mini", "Plateau 10", "Moth 2"],
            },
        )
        self.assertEqual(choices([ALDER]), ())
