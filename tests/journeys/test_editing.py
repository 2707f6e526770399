"""A script edited, broken and mended; scripts made, renamed, copied, deleted and brought back."""

import signal

from ..benches import EXAMPLE
from .hand import Journey


class Editing(Journey):
    def text(self, name: str = "spring-inspection") -> str:
        return (self.project / "scripts" / f"{name}.copione").read_text("utf-8")

    def scripts(self) -> list[str]:
        found, shipped = ({path.name for path in (folder / "scripts").glob("*.copione")} for folder in (self.project, EXAMPLE))
        return sorted(found - (shipped - {"spring-inspection.copione"}))  # the demo's others stay as they are

    def test_a_script_is_edited_broken_and_mended(self) -> None:
        self.demo()
        before = self.text()
        self.key("ctrl+2")
        self.click("Script")
        self.key("ctrl+End")
        self.type('    check label "Temper" reeds "Calm"')
        self.until("window().page(1).problem.isVisible() and 'reads' in window().page(1).problem.text()")
        self.until("workspace().editing.problems")
        self.key("ctrl+shift+Left", "ctrl+shift+Left", "ctrl+shift+Left", "ctrl+shift+Left", "BackSpace")
        self.type('reads "Calm"')
        self.until("not window().page(1).problem.isVisible() and not workspace().editing.problems")
        self.until("len(list(workspace().loaded.script.steps())) == 16")
        for _ in range(60):
            self.key("ctrl+z")
        self.until(f"window().page(1).editor.toPlainText() == {before!r}")
        self.assertEqual(self.quit(), 0)
        self.assertEqual(self.text(), before)

    def test_what_was_just_typed_is_there_however_the_window_ended(self) -> None:
        self.demo()
        for number, end in enumerate((self.ends(signal.SIGTERM), self.ends(signal.SIGHUP), self.pull_the_plug), 1):
            with self.subTest(number):
                if number > 1:
                    self.start("demo", "--project", str(self.project))
                    self.until("workspace() is not None and workspace().loaded is not None and idle()")
                self.key("ctrl+2")
                self.click("Script")
                self.key("ctrl+End")
                self.type(f"# letter {number}")
                self.until(f"window().page(1).editor.toPlainText().endswith('# letter {number}')")
                end()
                self.assertIn(f"# letter {number}", self.text())
        self.assertEqual(list((self.project / "scripts").glob("*.new")), [])

    def ends(self, how: signal.Signals):
        return lambda: self.assertEqual(self.kill(how), 0)

    def test_scripts_come_and_go_and_come_back(self) -> None:
        self.demo()
        self.key("ctrl+2")
        self.click("New script")
        self.until("sheet() or where('Name')")
        self.type("Sign in")
        self.key("Return")
        self.until("workspace().loaded.script.name == 'Sign in'")
        self.click("Script")
        self.key("ctrl+End")
        self.type("    launch")
        self.until("len(list(workspace().loaded.script.steps())) == 1")
        self.click("Spring inspection")
        self.until("workspace().loaded.script.name == 'Spring inspection'")
        self.key("ctrl+z")  # what was done in the other script is not undone here
        self.click("Sign in")
        self.until("workspace().loaded.script.name == 'Sign in' and focus() == 'Scripts'")
        self.key("F2")
        self.until("sheet()")
        self.key("ctrl+a")
        self.type("Sign in and out")
        self.key("Return")
        self.until("workspace().loaded.path.name == 'sign-in-and-out.copione'")
        self.click("Sign in and out", button=3)
        self.click("Duplicate")
        self.until("workspace().loaded.path.name == 'sign-in-and-out-2.copione'")
        self.click("Sign in and out 2")
        self.key("Delete")
        self.until("'was deleted' in message() and workspace().loaded is None")
        self.assertEqual(self.scripts(), ["sign-in-and-out.copione", "spring-inspection.copione"])
        self.click("Bring it back")
        self.until("workspace().loaded is not None and workspace().loaded.path.name == 'sign-in-and-out-2.copione'")
        self.assertEqual(self.quit(), 0)
        self.assertEqual(self.scripts(), ["sign-in-and-out-2.copione", "sign-in-and-out.copione", "spring-inspection.copione"])
        self.assertIn("    launch", self.text("sign-in-and-out"))
