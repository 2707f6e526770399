"""Apps recorded as they are built one way, replayed as they are built another way: the app's own log is the judge."""

import tempfile
import unittest
from collections.abc import Iterable
from dataclasses import replace
from pathlib import Path

from copione.recognition.text import can_read
from copione_lab.bench import Bench as LabBench
from copione_lab.model import load_models
from copione_lab.phone import Phone

from ..benches import Heard, reads_pictures
from . import firing, tour


def bench(kinds: Iterable[str], names: Iterable[str]) -> LabBench:
    """Phones called by model and toolkit."""
    models = [model for model in load_models() if model.name in set(names)]
    named = ((model, kind, f"{model.name} {kind}") for model in models for kind in kinds)
    return LabBench([replace(m, key=f"{m.key}-{k}", name=n, serial=f"{m.serial}{k.upper()}", toolkit=k) for m, k, n in named])


class Toolkits(unittest.TestCase):
    def good(self, phone: Phone, heard: Heard, meant: list[str]) -> None:
        """Every step was done, and the app got what it got when it was recorded."""
        name = phone.model.name
        self.assertEqual([(r.step, r.reason) for r in heard.results[name] if r.outcome.bad], [], name)
        self.assertEqual(tour.deeds(phone)[-1:], meant[-1:], name)
        self.assertEqual(tour.wrong_deeds(meant, tour.deeds(phone)), [], name)

    def test_a_firing_is_logged_whatever_the_app_is_built_with(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            script, meant = firing.recorded(Path(folder) / "project")
            phones = bench(("flat", "merged", "page"), ("Wren mini", "Kestrel S"))
            heard = tour.run_on(phones, script)
        for phone in phones.phones.values():
            self.good(phone, heard, meant)

    @reads_pictures
    def test_a_firing_is_logged_where_all_is_drawn_and_the_tree_tells_nothing(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            script, meant = firing.recorded_by_glass(Path(folder) / "project", "views", firing.Glass.form)
            phones = bench(("drawn",), ("Alder 5",))
            heard = tour.run_on(phones, script)
        for phone in phones.phones.values():
            self.good(phone, heard, meant)

    def test_what_is_replayed_where_it_was_recorded_is_held(self) -> None:
        for kind in ("flat", "page", *(("drawn",) if can_read() else ())):
            with tempfile.TemporaryDirectory() as folder:
                does = firing.Glass.form if kind == "drawn" else firing.Glass.whole
                script, meant = firing.recorded_by_glass(Path(folder) / "project", kind, does)
                phones = bench((kind,), ("Alder 5",))
                heard = tour.run_on(phones, script)
            self.assertEqual([(r.step, r.reason) for r in heard.results[f"Alder 5 {kind}"] if r.outcome.value != "held"], [], kind)
            for phone in phones.phones.values():
                self.good(phone, heard, meant)

    def test_the_whole_diary_in_a_web_view_and_with_merged_rows(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            script, meant = tour.recorded(Path(folder) / "project")
            phones = bench(("flat", "merged", "page"), ("Alder 5",))
            heard = tour.run_on(phones, script)
        for phone in phones.phones.values():
            if phone.model.toolkit != "flat":
                self.good(phone, heard, meant)
                continue
            self.assertEqual(tour.wrong_deeds(meant, tour.deeds(phone)), [])
            stuck = [
                r for r in heard.results[phone.model.name] if r.outcome.value == "stuck"
            ]  # as far as its tree tells, and why no further
            self.assertEqual((len(stuck), bool(stuck[0].reason)), (1, True))
