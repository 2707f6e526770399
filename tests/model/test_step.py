import unittest

from copione.model.step import Scene, Script, Step, Target, UnknownVariable, fill


class Variables(unittest.TestCase):
    def test_they_are_filled_from_the_row_everywhere(self) -> None:
        step = Step("find", Target("item", "{hive}", Target("list", "{list}")), "{n} of {n}")
        filled = step.filled({"hive": "Hive 7", "list": "Hives", "n": "3"})
        self.assertEqual(filled.key(), 'item "Hive 7" in list "Hives"')
        self.assertEqual(filled.value, "3 of 3")

    def test_a_missing_column_is_named_with_those_there_are(self) -> None:
        with self.assertRaises(UnknownVariable) as caught:
            fill("{hvie}", {"hive": "x", "note": "y"})
        self.assertEqual(caught.exception.sentence, "The data has no column hvie. Columns: hive, note.")

    def test_a_script_knows_which_it_uses(self) -> None:
        steps = (Step("tap", Target("item", "{a}", Target("list", "{b}"))), Step("note", value="{c} and {not a name}"))
        self.assertEqual(Script("s", scenes=(Scene("x", steps),)).variables(), {"a", "b", "c"})
