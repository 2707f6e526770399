"""An action, a relation and its reading, a fact, a block, a kind of remark and a protocol, defined here with the product unchanged."""

import unittest
from collections.abc import Iterator
from dataclasses import dataclass
from typing import ClassVar
from urllib.parse import urlsplit

from copione.comparison.columns import RULES, ViewColumn, remark_on, rule
from copione.comparison.remarks import remarks
from copione.comparison.views import View
from copione.comparison.wording import remark_title
from copione.engine.comparing import compared
from copione.engine.judging import judged
from copione.engine.reporting import write_report
from copione.language.assist import CompletionContext, suggestions
from copione.language.document import formatted, parse
from copione.language.quoting import number, quoted, target
from copione.language.registry import Form, Origin, Spec, forget, register, spec_of
from copione.links.adb.link import AdbLink
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.links.endpoints import remember
from copione.links.source import SCHEMES, DeviceSource, serves
from copione.model import remark_kinds
from copione.model.action import Action, Opening
from copione.model.address import Address
from copione.model.clock import Clock, SteppedClock
from copione.model.device import DeviceProfile, ListedDevice, Readiness
from copione.model.fact import Fact
from copione.model.outcome import Outcome
from copione.model.reading import BranchTaken, Reading
from copione.model.relation import Relation
from copione.model.remark import Remark, RemarkKind
from copione.model.screen import Element
from copione.model.take import TakeName
from copione.model.target import Target
from copione.model.words import InvalidValue, Text, text
from copione.project.archive import read_run
from copione.project.remarks import FILE, KEPT, lines_of, read_remarks, wanted_off
from copione.recognition.evidence import visible
from copione.replay.context import StepContext
from copione.replay.performers.registry import PERFORMERS, READERS, performs, reads
from copione.replay.run import Run
from copione.touch.making import tap

from .benches import SERIALS, Heard
from .comparison.test_findings import ALDER
from .comparison.test_remarks import changed, page
from .replay.test_take import RunCase


@dataclass(frozen=True)
class Knock(Action):
    """Tap a little apart, so many times."""

    verb: ClassVar[str] = "knock"
    target: Target
    times: float

    def __post_init__(self) -> None:
        if not 1 <= self.times <= 3:
            raise InvalidValue("Nobody knocks so often.", f"{self.times:g}", "1 to 3 times")


@dataclass(frozen=True)
class Twice(Opening):
    """Two turns, with which of them it is as a value."""

    verb: ClassVar[str] = "twice"
    loops: ClassVar[bool] = True


@dataclass(frozen=True)
class Length(Reading):
    """How many letters."""

    kind: ClassVar[str] = "test-length"
    letters: int

    @property
    def words(self) -> str:
        return f"{self.letters} letters"


@dataclass(frozen=True)
class Letters(Relation):
    """It has as many letters as these words."""

    like: str = text(Text.READING)

    def fits(self, reading: Reading) -> bool:
        return isinstance(reading, Length) and reading.letters == len(self.like)


@dataclass(frozen=True)
class Tall(Fact):
    """It is higher than wide by this factor."""

    factor: float

    def holds(self, device: DeviceProfile, width: float) -> bool:
        return device.height_px >= self.factor * device.width_px

    def said(self, device: DeviceProfile, width: float) -> str:
        return f"the device is {device.height_px / device.width_px:.1f} times as high as wide"


class PigeonSource(DeviceSource):
    """Phones at `pigeon://host:port/serial`."""

    def __init__(self, endpoint: str, stand_ins: bool) -> None:
        self.endpoint, self.stand_ins = endpoint, stand_ins

    def listed(self) -> tuple[ListedDevice, ...]:
        return (ListedDevice(self.endpoint, "A phone by pigeon", Readiness.READY),)

    def open(self, listed: ListedDevice, clock: Clock) -> AdbLink:
        parts = urlsplit(listed.address)
        return AdbLink(AdbServer(parts.hostname, parts.port), parts.path[1:], clock)


LOUD = RemarkKind("loud", "{what} shouts {on}")


def loud(column: ViewColumn, take: TakeName, view: View) -> Iterator[Remark]:
    """What ends with an exclamation mark here alone."""
    for seen in view.by_key.values():
        quiet = [name for name, other in column.others(take, seen.key) if not other.said.endswith("!")]
        if seen.said.endswith("!") and quiet:
            yield remark_on(column, LOUD, take, seen, (seen.said, "said quietly"), quiet)


SPECS = (
    Spec(
        Knock,
        (Form('"knock" NUMBER "times" "on" target', lambda times, on: Knock(on, float(times))),),
        lambda meant: f"knock {number(meant.times)} times on {target(meant.target)}",
        origins=frozenset({Origin.GESTURE}),
        may_be_idle=True,
    ),
    Spec(Twice, (Form('"twice"', Twice),), lambda meant: "twice", blocks={"do it twice": "twice\n    \nend"}),
    Spec(
        Letters,
        (Form('"is" "as" "long" "as" STRING', lambda words: Letters(str(words))),),
        lambda meant: f"is as long as {quoted(meant.like)}",
        samples=(Letters("x"),),
    ),
    Spec(Tall, (Form('"is" "tall" "by" NUMBER', lambda by: Tall(float(by))),), lambda meant: f"is tall by {number(meant.factor)}"),
)
SCRIPT = """script "Other"
app hive-diary
patience 3 s
scene "One"
    launch afresh
    knock 1 times on button "Hives"
    twice
        check text "Hive 2" is as long as "Hive 7"
    end
    when device is tall by 1.8
        check text "Hive 2" is as long as "Hive"
    end
"""


class Extending(RunCase):
    def setUp(self) -> None:
        super().setUp()
        register(*SPECS)
        self.addCleanup(forget, *(spec.of for spec in SPECS))
        self.addCleanup(lambda: [PERFORMERS.pop(kind, None) for kind in (Knock, Twice)])
        self.addCleanup(lambda: READERS.pop(Letters, None))
        remark_kinds.register(LOUD)
        self.addCleanup(remark_kinds.forget, LOUD)
        rule(loud)
        self.addCleanup(RULES.remove, loud)
        serves("pigeon")(PigeonSource)
        self.addCleanup(SCHEMES.pop, "pigeon")

        @performs(Knock)
        def knock(context: StepContext, action: Knock) -> None:
            found = context.find()
            if found is not None:
                x, y = found.point
                context.mark = ((x, y),)
                context.gesture([tap(x, y) for _ in range(int(action.times))], found.element)

        @performs(Twice)
        def twice(context: StepContext, _action: Twice) -> None:
            context.turns = ({"turn": "1"}, {"turn": "2"})
            context.reading = BranchTaken("2 turns")

        @reads(Letters)
        def length(_context: StepContext, _target: Target, _relation: Letters, element: Element) -> Length:
            assert not visible(element).empty
            return Length(len(element.text))

    def test_they_are_parsed_printed_completed_and_checked(self) -> None:
        document = parse(SCRIPT)
        self.assertEqual(document.problems, ())
        self.assertEqual([step.action for _, step in document.script.steps()][1], Knock(Target("button", "Hives"), 1))
        self.assertEqual(formatted(SCRIPT.replace("    ", " ")), formatted(SCRIPT))
        wrong = parse(SCRIPT.replace("knock 1", "knock 9")).problems[0]
        self.assertEqual((wrong.line, wrong.column, wrong.message), (6, 11, "Nobody knocks so often."))
        self.assertIn("^", wrong.pointed())
        around = CompletionContext()
        heads = ("kno", "twi", 'check text "a" ', "when device ")
        offered = {each.words for head in heads for each in suggestions(head, len(head), around)[1]}
        self.assertLessEqual({"knock", "do it twice"}, offered)
        self.assertTrue(any("is as long as" in words for words in offered), offered)
        self.assertTrue(spec_of(Knock).may_be_idle)

    def test_a_kind_of_remark_is_found_kept_told_and_turned_off(self) -> None:
        quiet, shouting = page(), changed("seen", said="Today!", text="Today!")(page())
        views = {TakeName(f"Device {n}"): quiet for n in range(3)} | {TakeName("Odd"): shouting}
        found = [each for each in remarks(Address.of(1), views) if each.kind == LOUD]
        self.assertEqual([each.take for each in found], [TakeName("Odd")])
        run = self.scratch / "run"
        run.mkdir()
        (run / KEPT).write_text(lines_of(found), "utf-8")
        self.assertEqual(remark_title(read_remarks(run)[0], ("Odd",)), "“Today” shouts on Odd")
        (run / FILE).write_text('[[off]]\nkind = "loud"\nwhy = "so wanted"\n', "utf-8")
        self.assertTrue(wanted_off(run)[0].fits(found[0], ALDER))

    def test_a_protocol_of_ones_own_brings_devices_to_the_bench(self) -> None:
        address = f"pigeon://127.0.0.1:{self.face.port}/{SERIALS['Wren mini']}"
        self.assertEqual(remember(address, self.scratch / "endpoints.toml"), (address,))
        bench = Bench(AdbServer(port=9), endpoints=[address])  # where no adb server answers
        self.addCleanup(bench.close)
        self.assertEqual([(d.name, d.listed.address, d.ready) for d in bench.look()], [("Wren mini", address, True)])
        self.script("launch afresh", 'tap button "Hives"', 'check text "Hive 2" is shown')
        run = Run(self.project, self.project.load(self.demo), bench.devices(), heard := Heard(), SteppedClock())
        run.start()
        run.wait()
        self.assertEqual([r.outcome for r in heard.results["Wren mini"]], [Outcome.HELD] * 3)

    def test_they_are_replayed_archived_compared_and_reported(self) -> None:
        self.script('note "x"')
        self.demo.write_text(SCRIPT, "utf-8")
        first = self.run_on("Alder 5", "Plateau 10")
        outcomes = {name: [r.outcome for r in results] for name, results in first.results.items()}
        held, differs, skipped = Outcome.HELD, Outcome.DIFFERS, Outcome.SKIPPED
        self.assertEqual(outcomes["Alder 5"], [held, held, held, held, held, held, differs])
        self.assertEqual(outcomes["Plateau 10"][-2:], [held, skipped])
        folder = self.run_made.folder
        record = read_run(folder)
        self.assertEqual(record.takes[0].results[-1].reading, Length(6))
        self.assertEqual(record.takes[0].results[1].action, Knock(Target("button", "Hives"), 1))
        self.assertTrue(any("6 letters" in each.finding.title for each in judged(folder).known.standing))
        self.demo.write_text(SCRIPT.replace('"Hive"', '"Hive 7"'), "utf-8")
        self.run_on("Alder 5", "Plateau 10")
        self.assertFalse(compared(folder, self.run_made.folder).worse)
        self.assertIn("knock 1 times", write_report(folder).read_text("utf-8"))


if __name__ == "__main__":
    unittest.main()
