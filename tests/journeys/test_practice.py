"""Scripts of the kinds that practice needs: recorded, then edited by keys alone, each ending in the text a person would write."""

from __future__ import annotations

import os
import shutil
from collections.abc import Sequence
from pathlib import Path
from unittest import mock

from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.model.clock import SystemClock
from copione.model.outcome import Outcome
from copione.project.project import Project
from copione.replay.run import Run
from copione_lab.spawn import LabProcess

from ..benches import Heard
from .hand import Journey

HEAD = 'script "{}"\napp hive-diary\npatience 8 s\n'
SIGN_IN = (
    HEAD.format("Sign in once")
    + """
scene "Scene 1"
    launch afresh
    perform "Sign in" with "Ada"
    press back
    perform "Sign in" with "Bea"

scene "Sign in" with {name}
    tap button "Settings"
    tap button "Sign in"
    type {name} into field "Name"
    press back
    press back
"""
)
ROWS = (
    HEAD.format("A row per user")
    + """data "a-row-per-user.csv"

scene "Scene 1"
    launch afresh
    tap button "Hives"
    tap item "{hive}"
    check page "{hive}" is shown
"""
)
PAGING = (
    HEAD.format("To the end")
    + """
scene "Scene 1"
    launch afresh
    tap button "Hives"
    repeat until text "Hive 24" is shown at most 20 times
        fling up on list "Hives"
    end
    check text "Hive 24" is shown
"""
)
RATING = (
    HEAD.format("If it asks")
    + """
scene "Scene 1"
    launch afresh
    tap button "Hives"
    tap item "Hive 2"
    when text "Rate this app" is shown
        tap button "Later"
    end
    check page "Hive 2" is shown
"""
)
BOTH = (
    HEAD.format("Phone and tablet")
    + """
scene "Scene 1"
    launch afresh
    tap button "Hives"
    tap item "Hive 2"
    when device is a tablet
        check list "Hives" is shown
    otherwise
        press back
        check page "Hives" is shown
    end
"""
)
FAULTS = Path(__file__).parents[2] / "src" / "copione_lab" / "faults"


class Practice(Journey):
    def recorded(self, name: str, *taps: tuple[str, str]) -> None:
        self.key("ctrl+1")
        self.record()
        for tap in taps:
            self.tap(*tap)
        self.save(name)
        self.until(f"workspace().loaded is not None and workspace().loaded.script.name == {name!r}")
        self.click("Script")
        self.key("ctrl+End")

    def write(self, *lines: str) -> None:
        """Lines as they are typed: the editor knows how deep they stand."""
        for number, line in enumerate(lines):
            self.key("Return") if number else None
            self.type(line) if line else None

    def ends_in(self, text: str) -> None:
        name = text.split('"')[1].lower().replace(" ", "-")
        path = self.project / "scripts" / f"{name}.copione"
        self.until(f"window().page(1).editor.toPlainText().rstrip() == {text.rstrip()!r}")
        self.until(f"open({str(path)!r}).read().rstrip() == {text.rstrip()!r}")
        self.until("not workspace().editing.problems")

    def test_five_scripts_are_recorded_edited_and_held_on_every_model(self) -> None:
        self.demo()
        self.recorded("Sign in once", ("button", "Settings"), ("button", "Sign in"))
        self.write('    type "Ada" into field "Name"', "press back", "press back")
        self.key(*["shift+Up"] * 4, "shift+Home")
        self.key("ctrl+m")
        self.until("focus() == 'Name of the scene'")
        self.type("Sign in")
        self.until("sheet()")
        self.key("Return")
        self.until("""'perform "Sign in" with "Ada"' in window().page(1).editor.toPlainText()""")
        self.key("End", "Return")
        self.write("press back", 'perform "Sign in" with "Bea"')
        self.ends_in(SIGN_IN)

        self.recorded("A row per user", ("button", "Hives"), ("listitem", "Hive 2"))
        self.key("Up", "End", "Left", "Left")
        self.key("ctrl+b")
        self.until("sheet()")
        self.key("ctrl+a")
        self.type("hive")
        self.key("Return")
        self.until("""'{hive}' in window().page(1).editor.toPlainText() and window().page(1).tables.name == 'a-row-per-user.csv'""")
        self.click("Data rows")
        self.key("Insert")
        self.until("window().page(1).table.rowCount() == 2")
        self.type("Hive 5")
        self.key("Return")
        self.click("Script")
        self.key("ctrl+End")
        self.write('    check page "{hive}" is shown')
        self.ends_in(ROWS)
        self.until(f"open({str(self.project / 'data' / 'a-row-per-user.csv')!r}).read() == 'hive\\nHive 2\\nHive 5\\n'")

        self.recorded("To the end", ("button", "Hives"))
        self.write(
            '    repeat until text "Hive 24" is shown at most 20 times', 'fling up on list "Hives"', "end", 'check text "Hive 24" is shown'
        )
        self.ends_in(PAGING)

        self.recorded("If it asks", ("button", "Hives"), ("listitem", "Hive 2"))
        self.write('    when text "Rate this app" is shown', 'tap button "Later"', "end", 'check page "Hive 2" is shown')
        self.ends_in(RATING)

        self.recorded("Phone and tablet", ("button", "Hives"), ("listitem", "Hive 2"))
        self.write(
            "    when device is a tablet", 'check list "Hives" is shown', "otherwise", "press back", 'check page "Hives" is shown', "end"
        )
        self.ends_in(BOTH)
        self.assertEqual(self.quit(), 0)

        self.held("none", ("sign-in-once", "a-row-per-user", "to-the-end", "phone-and-tablet"))
        dialogs = self.scratch / "faults"
        dialogs.mkdir()
        shutil.copy(FAULTS / "rate-dialog.toml", dialogs)
        self.assertEqual(self.held(str(dialogs), ("if-it-asks",)), {"Moth 2"})

    def held(self, faults: str, names: Sequence[str]) -> set[str]:
        """Every script on every model; the devices on which a rating was asked for."""
        asked = set()
        with mock.patch.dict(os.environ, self.environment), LabProcess(faults=faults) as lab:
            bench = Bench(AdbServer(port=lab.port), endpoints=lab.endpoints)
            self.addCleanup(bench.close)
            devices = bench.look()
            self.assertEqual(len(devices), 13)
            project = Project(self.project)
            for name in names:
                heard = Heard()
                run = Run(project, project.load(project.scripts_folder / f"{name}.copione"), devices, heard, SystemClock())
                run.start()
                run.wait()
                for device, results in heard.results.items():
                    self.assertEqual([(r.step, r.reason) for r in results if r.outcome.bad], [], f"{name} on {device}")
                    if any(r.step == 'tap button "Later"' and r.outcome is Outcome.HELD for r in results):
                        asked |= {device}
        return asked
