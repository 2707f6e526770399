"""What nobody checks: each kind is noticed on the odd device, and each rule is silent where it should be."""

import unittest
from collections.abc import Callable
from dataclasses import replace

from copione.comparison.findings import findings
from copione.comparison.focus_order import jumps
from copione.comparison.lanes import lay
from copione.comparison.noticing import RunRemarks
from copione.comparison.reading_order import reading_order
from copione.comparison.remarks import remarks
from copione.comparison.views import Aim, SeenElement, View
from copione.model import remark_kinds as kinds
from copione.model.address import Address
from copione.model.geometry import Box
from copione.model.outcome import Cause, Outcome, Reason
from copione.model.remark import Remark
from copione.model.take import TakeName
from copione.project.remarks import lines_of, read_remarks

from .test_findings import ALDER, lane, result

HERE = Address.of(1)
ODD = TakeName("Odd")
GREEN, RED = "0bb8" + "00" * 64 + "305030" * 25, "0bb8" + "00" * 64 + "3030c0" * 25


def text(key: str, said: str, top: float, **more: object) -> SeenElement:
    return SeenElement(key, "text", said, said, said, Box(16, top, 200, top + 20), contrast=13.0, ground="f6f3ec", **more)


def page(**more: object) -> View:
    """A page with a title, values, a switch, a picture and a button."""
    elements = (
        text("title", "Hive 17", 30),
        SeenElement("comb", "img", "Comb", "", "", Box(16, 60, 300, 160), fingerprint=GREEN),
        text("seen", "Today", 170),
        text("weight", "31.4 kg", 200),
        SeenElement("queen", "switch", "Queen", "", "", Box(16, 230, 70, 262), tappable=True, state="off"),
        text("note", "No note", 270),
        SeenElement("save", "button", "Save", "Save", "Save", Box(16, 300, 300, 348), tappable=True, contrast=8.0, jump=""),
        text("foot", "Hive Diary", 360),
    )
    view = View(elements, 400, 800, Box(0, 0, 400, 800), "android", False, "en-GB", 1.0)
    return replace(view, **more)


def changed(key: str, **more: object) -> Callable[[View], View]:
    return lambda view: replace(view, elements=tuple(replace(e, **more) if e.key == key else e for e in view.elements))


def reading(said: str) -> Callable[[View], View]:
    """The note is another text, which has nothing but its words."""
    return lambda view: replace(
        view,
        elements=tuple(
            replace(text(f"text {said}", said, 270), tappable=e.tappable, worded=True) if e.key == "note" else e for e in view.elements
        ),
    )


def without(key: str) -> Callable[[View], View]:
    return lambda view: replace(view, elements=tuple(e for e in view.elements if e.key != key))


def with_more(view: View) -> View:
    extra = SeenElement("offer", "button", "Offer", "Offer", "Offer", Box(16, 292, 300, 299), tappable=True)
    return replace(view, elements=(*view.elements[:6], extra, *view.elements[6:]))


def listing(*names: str) -> View:
    rows = (SeenElement(f"row {n}", "listitem", n, "", n, Box(0, 60 * i, 400, 60 * i + 50), tappable=True) for i, n in enumerate(names, 1))
    return replace(page(), elements=(page().elements[0], *rows))


def piled(*names: str, gap: float = 30) -> View:
    """Rows with a mark in each, over its words where there is little gap."""
    rows = [text(f"row {n}", n, 100 + 80 * i) for i, n in enumerate(names)]
    marks = [SeenElement(f"mark {n}", "img", n, "", "", Box(16 + gap, 100 + 80 * i, 210, 120 + 80 * i)) for i, n in enumerate(names)]
    return replace(page(), elements=tuple(replace(e, box=Box(16, e.box.top, 70, e.box.bottom)) for e in rows) + tuple(marks))


def aiming(**more: object) -> View:
    return page(aim=Aim("button Save", "Save", Box(16, 300, 300, 348), **more))


def noticed(odd: View, others: int = 4, usual: View | None = None, before: View | None = None) -> list[tuple[str, str]]:
    views = {TakeName(f"Device {n}"): usual or page() for n in range(others)} | {ODD: odd}
    found = remarks(HERE, views, dict.fromkeys(views, before) if before is not None else {})
    return [(r.kind.value, r.key) for r in found if r.take == ODD]


class Noticed(unittest.TestCase):
    def test_each_kind_on_the_odd_device_and_nothing_on_the_others(self) -> None:
        german = page(locale="de-DE", translated={"no note": "Keine Notiz", "today": "Heute", "save": "Sichern"})
        spoken = changed("save", text="Sichern")(changed("seen", text="Heute")(german))
        table = [
            ("missing", "note", without("note")(page())),
            ("new", "offer", with_more(page())),
            ("other words", "seen", changed("seen", said="No", text="No")(page())),
            ("text cut", "note", changed("note", said="No n…", text="No n…")(page())),
            ("other format", "weight", changed("weight", said="31,4 kg", text="31,4 kg")(page())),
            ("spills over", "note", changed("note", box=Box(16, 270, 200, 279))(page())),
            ("overlaps", "note", changed("note", box=Box(16, 290, 200, 318))(page())),
            ("out of reach", "save", changed("save", box=Box(380, 300, 660, 348))(page())),
            ("small target", "save", changed("save", box=Box(16, 300, 300, 314))(page())),
            ("untranslated", "note", spoken),
            ("other picture", "comb", changed("comb", fingerprint=RED)(page())),
            ("weak contrast", "note", changed("note", contrast=1.6)(page())),
            ("other state", "queen", changed("queen", state="on")(page())),
            ("state lost", "queen", changed("queen", state="on")(page(turned=1))),
            ("other colour", "title", changed("title", ground="b03a2e")(page())),
            ("disabled", "save", changed("save", enabled=False)(page())),
            ("other words", "seen", changed("seen", said="TODAY", text="TODAY")(page())),
            ("focus order", "save", changed("save", jump="before “Queen”")(page())),
        ]
        tabs = [
            SeenElement(key, "tab", key, key, key, Box(left, 52, left + 90, 58), tappable=True)
            for key, left in (("now", 16), ("past", 120))
        ]
        tabbed = replace(page(), elements=(page().elements[0], *tabs, *page().elements[1:]))
        swapped = replace(page(), elements=(page().elements[0], *tabs[::-1], *page().elements[1:]))
        kilograms, many = reading("in kilograms"), reading("how many")
        supers = changed("queen", role="spinbutton", state="", value="2")(page())
        with_usual = [
            ("other value", "queen", changed("queen", value="3")(supers), supers),
            ("state lost", "queen", replace(changed("queen", value="3")(supers), turned=1), supers),
            ("other words", "text in kilograms", kilograms(page()), many(page())),  # nothing but their place says that it is the same
            ("other order", "past", swapped, tabbed),
            ("other order", "row C", listing("C", "A", "B", "D"), listing("A", "B", "C", "D")),
            ("other order", "row A", piled("A", "C", "B", gap=260), piled("A", "B", "C", gap=260)),  # cards that nothing marks as rows
            ("overlaps", "row A", piled("A", "B", "C"), piled("A", "B", "C", gap=60)),
            ("overlaps", "button Save", aiming(covered="Saved"), aiming()),
            ("typed out of sight", "button Save", aiming(hidden=True), aiming(hidden=False)),
        ]
        shown = {kind for kind, *_ in (*table, *with_usual)}
        of_costs = {kinds.HEAVIER.value, kinds.GROWS.value}  # which no screen tells: see test_costs
        self.assertEqual(shown, {kind.value for kind in kinds.kinds()} - of_costs)
        for kind, key, view, usual in [*((*row, None) for row in table), *with_usual]:
            with self.subTest(kind):
                self.assertEqual(noticed(view, usual=usual), [(kind, key)])

    def test_silent_where_it_tells_nothing(self) -> None:
        pane = Box(0, 60, 400, 800)
        scrolled = replace(page(), elements=tuple(replace(e, pane=pane) for e in page().elements[1:6]) + page().elements[6:])
        table = [
            ("cut by an edge", changed("save", box=Box(16, 300, 300, 314), cut=True)(page())),
            ("the end of what scrolls lies between", without("note")(scrolled)),
            ("another page", page(elements=(text("other", "Settings", 30), text("more", "Night mode", 60)))),
            ("an older look in capitals", changed("save", said="SAVE", text="SAVE")(page())),
            ("a language that the phrasebook does not know", changed("note", said="Bez notatki", text="Bez notatki")(page(locale="pl"))),
            ("dark among light", changed("comb", fingerprint=RED)(page(dark=True))),
            ("another element of its platform, which no other device has", with_more(page(platform="ios"))),
            ("nothing tells the order of the focus elsewhere", changed("queen", jump="after “Save”")(page())),
            ("most of it fades in", replace(page(), elements=tuple(replace(e, contrast=e.contrast and 1.6) for e in page().elements))),
            ("disabled", changed("note", contrast=1.6, enabled=False)(page())),
        ]
        for words, view in table:
            with self.subTest(words):
                self.assertEqual(noticed(view), [])
        self.assertEqual(noticed(changed("seen", said="No", text="No")(page()), others=1), [], "one other is no majority")
        kilograms, many = reading("in kilograms"), reading("how many")
        for odd in (
            kilograms(page(locale="de-DE")),
            kilograms(without("queen")(page())),
            kilograms(changed("note", tappable=True)(page())),
        ):
            self.assertNotIn("other words", [kind for kind, _ in noticed(odd, usual=many(page()))], "another language, place or thing")
        self.assertEqual(noticed(kilograms(page()), usual=many(page()), before=kilograms(page())), [], "it is only late")
        first, second = (changed("seen", role="generic", said=said, text=said)(page()) for said in ("Photo one", "Photo two"))
        self.assertEqual(noticed(first, usual=second, before=first), [], "a carousel that goes on later")
        self.assertEqual(noticed(first, usual=second, before=second), [("other words", "seen")])
        for odd, usual in ((aiming(hidden=True), aiming()), (aiming(covered="Saved"), page()), (aiming(hidden=True), aiming(hidden=True))):
            self.assertEqual(noticed(odd, usual=usual), [], "no keyboard there, nothing done there, or alike")

    def test_what_differs_from_device_to_device_is_not_remarked_on(self) -> None:
        views = {TakeName(f"Device {n}"): changed("weight", said=f"{30 + n} kg", text=f"{30 + n} kg")(page()) for n in range(6)}
        self.assertEqual(remarks(HERE, views), [])

    def test_what_all_of_one_platform_show_is_its_convention(self) -> None:
        ios = changed("save", said="Done", text="Done")(page(platform="ios"))
        views = {TakeName(f"Droid {n}"): page() for n in range(6)} | {TakeName(f"Pear {n}"): ios for n in range(2)}
        self.assertEqual(remarks(HERE, views), [])

    def test_a_wide_page_with_one_other_of_its_layout(self) -> None:
        def wide(view: View) -> View:
            return replace(view, wide=True, width=800)

        narrow = {TakeName(f"Device {n}"): page() for n in range(4)}
        for words, other, expected in (
            ("it has it too", with_more(page()), []),
            ("it shows where it would be", page(), [("new", "offer")]),
            ("it is of another platform, and so may this be its way", page(platform="ios"), [("new", "offer")]),
        ):
            with self.subTest(words):
                found = remarks(HERE, {**narrow, TakeName("Wide"): wide(other), ODD: wide(with_more(page()))})
                self.assertEqual([(r.kind.value, r.key) for r in found if r.take == ODD], expected)
        for more in (page(), with_more(page())):  # what only one of them has stands in the same gap
            found = remarks(
                HERE, {**narrow, TakeName("Wide 1"): wide(page()), TakeName("Wide 2"): wide(more), ODD: wide(without("note")(page()))}
            )
            self.assertEqual([(r.kind.value, r.key) for r in found if r.take == ODD], [("missing", "note")])
        lacking = {**narrow, TakeName("Narrow"): without("note")(page()), TakeName("Small"): without("note")(page())}
        beside = {TakeName(f"Wide {n}"): wide(page()) for n in range(2)}
        found = remarks(HERE, {**lacking, **beside, ODD: wide(without("note")(page()))})
        self.assertEqual({r.take.device for r in found if r.kind is kinds.MISSING}, {"Odd", "Narrow", "Small"})

    def test_two_tablets_whose_lists_show_other_rows_show_the_same_page(self) -> None:
        def listing(view: View, first: int) -> View:
            rows = [text(f"row={n}", f"Hive {n}", 400 + 20 * n, repeated=True) for n in range(first, first + 20)]
            return replace(view, elements=(*view.elements, *rows), wide=True, width=800)

        views = {TakeName(f"Device {n}"): listing(page(), 100 * n) for n in range(3)}
        found = remarks(HERE, {**views, ODD: listing(changed("seen", said="No", text="No")(page()), 700)})
        self.assertEqual([(r.take, r.key) for r in found], [(ODD, "seen")])

    def test_the_same_element_of_another_page_is_another_one(self) -> None:
        told: list[Remark] = []
        takes = [[TakeName(f"Device {n}", row) for n in range(4)] for row in (1, 2)]
        noticing = RunRemarks([*takes[0], *takes[1]], told.extend)
        other = replace(page(), elements=(*page().elements[2:5], *(text(f"more{n}", f"More {n}", 400 + 30 * n) for n in range(6))))
        scrolled = replace(page(), elements=page().elements[1:])
        turned = replace(other, turned=1, width=800, height=400)
        for row in takes:
            for place, view in enumerate((page(), scrolled, other, page(), turned), 1):
                for number, take in enumerate(row):
                    seen = changed("seen", said="No", text="No")(view) if number == 3 else view
                    noticing.see(take, Address.of(place), seen)
        noticing.finish()
        again = [(str(r.address), r.take.row, r.page) for r in told]
        self.assertEqual(again, [("1", 1, 1), ("3", 1, 2), ("1", 2, 1), ("3", 2, 2)])

    def test_what_only_comes_or_goes_late_is_not_remarked_on(self) -> None:
        usual, hurried = [page(), page(), page()], [page(), page(), changed("seen", said="No", text="No")(page())]
        offered, lacking = with_more(page()), without("note")(page())
        saved = text("passes", "Saved", 380)
        said = replace(page(), elements=(*page().elements, saved))
        over = replace(said, elements=(*page().elements, replace(saved, box=Box(16, 310, 200, 330))))
        covered = aiming(covered="Saved")
        elsewhere = replace(page(), elements=tuple(text(f"more{n}", f"More {n}", 30 + 30 * n) for n in range(6)))
        carried = replace(elsewhere, elements=(*elsewhere.elements, saved))
        for words, odd, others, expected in (
            ("it came by the next step", [page(), lacking, page()], usual, []),
            ("it went by the next step", [page(), offered, page()], usual, []),
            ("elsewhere it was there at the step before", [offered, offered, page()], [offered, page(), page()], []),
            ("a message came and went, here sooner", [page(), said, page(), page()], [page(), said, said, page()], []),
            ("it was carried over to another page elsewhere", [page(), said, elsewhere], [page(), said, carried], []),
            ("it was there from the first and went sooner here", [said, page(), page(), page()], [said, said, page(), page()], []),
            ("it came over something here", [page(), over, page()], [page(), said, page()], []),
            ("it stays over something here", [page(), over, over], [page(), said, said], [("overlaps", "2")]),
            ("words that stay elsewhere", [page(), page(), page()], [page(), said, said], [("missing", "2")]),
            ("it was lit up", [page(), changed("save", contrast=2.0)(page()), page()], usual, []),
            ("its picture had not come", [page(), changed("comb", fingerprint=RED)(page()), page()], usual, []),
            ("another picture stays", [page(), *2 * [changed("comb", fingerprint=RED)(page())]], usual, [("other picture", "2")]),
            ("it stays away", [page(), lacking, lacking], usual, [("missing", "2")]),
            ("it stays", [page(), offered, offered], usual, [("new", "2")]),
            (
                "it comes at another place",
                [page(), lacking, replace(lacking, elements=(*lacking.elements, page().elements[5]))],
                usual,
                [("other order", "3"), ("missing", "2")],
            ),
            ("it comes, but the page says something else then", [page(), lacking, page()], hurried, [("other words", "3")]),
            ("what lay over its target has gone elsewhere in time", [said, page(), covered], [said, page(), aiming()], []),
            ("it was not shown elsewhere", [page(), page(), covered], [page(), page(), aiming()], [("overlaps", "3")]),
            (
                "it still shows elsewhere",
                [said, said, replace(said, aim=covered.aim)],
                [said, said, replace(said, aim=aiming().aim)],
                [("overlaps", "3")],
            ),
        ):
            with self.subTest(words):
                told: list[Remark] = []
                takes = [TakeName(f"Device {n}") for n in range(4)]
                noticing = RunRemarks(takes, told.extend)
                for take in takes:
                    for place, view in enumerate(odd if take == takes[3] else others, 1):
                        noticing.see(take, Address.of(place), view)
                noticing.finish()
                self.assertEqual([(r.kind.value, str(r.address)) for r in told if r.take == takes[3]], expected)

    def test_a_wide_page_is_read_part_by_part_and_a_table_line_by_line(self) -> None:
        bar, rail = Box(0, 0, 800, 50), [Box(0, 60 + 47 * n, 100, 80 + 47 * n) for n in range(4)]
        rows = [Box(120, 60 + 31 * n, 380, 80 + 31 * n) for n in range(6)]
        table = [Box(x, 70 + 40 * n, x + 100, 90 + 40 * n) for n in range(3) for x in (400, 600)]
        boxes, whole = [bar, *rail, *rows, *table], Box(0, 0, 800, 600)
        mixed = sorted([*range(len(boxes))], key=lambda i: boxes[i].top)
        placed = reading_order([*(boxes[i] for i in mixed), whole], [True] * len(mixed) + [False], True, False)
        parts = {mixed[i]: part for i, part in placed if i < len(mixed)}
        self.assertEqual([parts[i] for i in range(len(boxes))], [0] + [1] * 4 + [2] * 6 + [3] * 6)
        self.assertEqual([mixed[i] for i, part in placed if part == 3 and i < len(mixed)], list(range(11, 17)), "line by line")
        turned = [mixed[i] for i, _ in reading_order([boxes[i] for i in mixed], [True] * len(mixed), True, True)]
        self.assertEqual(turned, [0, 12, 11, 14, 13, 16, 15, *range(5, 11), *range(1, 5)])

    def test_the_focus_may_go_line_by_line_or_column_by_column(self) -> None:
        def at(*places: tuple[int, int]) -> list[Box]:
            return [Box(x, y, x + 80, y + 30) for x, y in places]

        a, b, c, d = (0, 20), (100, 0), (0, 80), (100, 90)  # two columns whose lines are not quite level
        wide = Box(0, 200, 180, 230)
        for words, boxes, from_right, expected in (
            ("line by line", [*at(a, b, c, d), wide], False, {}),
            ("column by column", [*at(a, c, b, d), wide], False, {}),
            ("from the right", [*at(b, a, d, c), wide], True, {}),
            ("from the right where it is read from the left", [*at(b, a, d, c), wide], False, {0: "before “1”", 2: "before “3”"}),
            ("the last one first", [wide, *at(a, b, c, d)], False, {0: "before “1”"}),
            ("the first one last", [*at(b, c, d), wide, *at(a)], False, {4: "after “0”"}),
            ("two tell nothing", at(c, a), False, {}),
        ):
            with self.subTest(words):
                self.assertEqual(jumps(boxes, [str(n) for n in range(len(boxes))], from_right), expected)

    def test_a_remark_is_a_finding_unless_a_cause_says_the_same(self) -> None:
        import tempfile
        from pathlib import Path

        views = {TakeName(f"Device {n}"): page() for n in range(4)} | {ODD: without("note")(page())}
        found = remarks(HERE, views)
        with tempfile.TemporaryDirectory() as scratch:
            (Path(scratch) / "remarks.jsonl").write_text(lines_of(found) + '{"kind": "mis', "utf-8")
            self.assertEqual(read_remarks(Path(scratch)), tuple(found), "and what was not written whole is left")
        lanes = lay([lane(replace(ALDER, name=take.device), result(1), result(2)) for take in views], "Device 0")
        (finding,) = findings(lanes, found)
        self.assertEqual((finding.flag, finding.devices, len(finding.passing)), ("missing", ("Odd",), 4))
        self.assertEqual(finding.title, "“No note” is not there on Odd")
        lost = replace(result(2, Outcome.STUCK, step='tap text "No note"'), why=Reason(Cause.NOT_HERE, "not here"), scene="Two")
        for first, many in (('check text "Today" is shown', 1), ('tap text "Today"', 2)):
            with self.subTest(first):
                ways = {
                    take: [result(1, step=first), lost if take == ODD else replace(lost, outcome=Outcome.HELD, why=None)] for take in views
                }
                lanes = lay([lane(replace(ALDER, name=take.device), *way) for take, way in ways.items()], "Device 0")
                self.assertEqual(len(findings(lanes, found)), many, "what is missing further on is said once where nothing was touched")


if __name__ == "__main__":
    unittest.main()
