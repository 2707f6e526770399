"""Stand-in phones for tests: in this process, behind their real adb server face."""

from __future__ import annotations

import contextlib
import tempfile
import unittest
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TypeVar

from copione.links.adb.link import AdbLink
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench, Device
from copione.model.outcome import Result
from copione.model.remark import Remark
from copione.model.screen import Element, Screen
from copione.model.take import TakeName
from copione.recognition.text import can_read
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.adb_server import AdbServer as LabServer
from copione_lab.model import load_faults, load_models

APP = "org.example.hive_diary"
OTHER = "org.example.kiln_book"
EXAMPLE = Path(__file__).parent.parent / "examples" / "hive-diary"
T = TypeVar("T")
SERIALS = {"Alder 5": "LABALDER5", "Wren mini": "LABWRENMINI", "Plateau 10": "LABPLATEAU10"}


def reads_pictures(test: T) -> T:
    """For a test (or all of a class) that reads text in pictures: it is not among the core's, and skipped where nothing reads."""
    test.reads = True
    return unittest.skipUnless(can_read(), "the extra that reads text in pictures is not installed")(test)


class LabCase(unittest.TestCase):
    """A fresh lab for each test. `faults` off unless a test is about them."""

    faults = False

    def setUp(self) -> None:
        stack = contextlib.ExitStack()
        self.addCleanup(stack.close)
        self.lab = LabBench([m for m in load_models() if m.name in SERIALS], load_faults() if self.faults else [])
        self.face = stack.enter_context(LabServer(self.lab))
        self.server = AdbServer(port=self.face.port, patience=10)
        self.scratch = Path(stack.enter_context(tempfile.TemporaryDirectory()))
        self._stack = stack

    def link(self, name: str = "Alder 5") -> AdbLink:
        return AdbLink(self.server, SERIALS[name])

    def devices(self, *names: str) -> list[Device]:
        """Ready devices by name, in that order; all without names. Their workers end with the test."""
        bench = Bench(self.server)
        self._stack.callback(bench.close)
        found = {d.name: d for d in bench.look()}
        return [found[name] for name in names or found]

    def screen(self, name: str, place: str, hive: str = "Hive 7") -> Screen:
        """The screen of one of the app's pages on a phone, read over the wire."""
        phone = self.lab.phones[SERIALS[name]]
        with phone.lock:
            phone.launch(APP)
            app = phone._app(APP)
            app.hive = next(h for h in app.hives if h.name == hive)
            app.go(place)
            phone._changed()
        screen = self.link(name).moment().screen
        assert screen is not None
        return screen


class Heard:
    """A run's listener that remembers; `on_step` is called on the device's thread."""

    def __init__(self, on_step: Callable[[TakeName, Result], None] = lambda take, result: None) -> None:
        self.results: dict[str, list[Result]] = {}
        self.troubles: dict[str, str] = {}
        self.ended: list[str] = []
        self.remarks: tuple[Remark, ...] = ()
        self._on_step = on_step

    def take_started(self, take: TakeName, begun: object) -> None:
        self.results.setdefault(take.device, [])

    def step_done(self, take: TakeName, result: Result) -> None:
        self.results.setdefault(take.device, []).append(result)
        self._on_step(take, result)

    def take_ended(self, take: TakeName, trouble: str) -> None:
        self.troubles[take.device] = trouble

    def noticed(self, remarks: tuple[Remark, ...]) -> None:
        self.remarks += remarks

    def run_ended(self, trouble: str) -> None:
        self.ended.append(trouble)


def named(screen: Screen | None, role: str, name: str) -> Element:
    """The element of that role and name."""
    assert screen is not None
    return next(e for e in screen if (e.role, e.name) == (role, name))


def elements(screen: Screen, *roles: str) -> Iterator[Element]:
    return (e for e in screen if e.role in roles and e.name)
