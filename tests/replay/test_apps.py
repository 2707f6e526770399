"""Apps installed, removed and cleared by a script, several in one script, and addresses that lead into one."""

from copione.links.adb.link import AdbLink
from copione.links.adb.server import AdbServer
from copione.links.webdriver.link import WebDriverLink
from copione.model.outcome import Outcome
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.adb_server import AdbServer as LabServer
from copione_lab.faces.webdriver import WebDriverServer
from copione_lab.model import load_models
from copione_lab.package import pack

from ..benches import APP, SERIALS
from ..recording.tour import run_on
from .test_take import RunCase

CONTACTS = "org.example.contacts"


class Apps(RunCase):
    def setUp(self) -> None:
        super().setUp()
        self.builds = self.project.builds_folder
        self.phone = self.lab.phones[SERIALS["Alder 5"]]

    def test_the_demo_scripts_hold_over_adb_and_behind_webdriver(self) -> None:
        models = [model for model in load_models() if model.name in ("Alder 5", "Heron Max", "Bramble")]
        for name in ("two-apps", "deep-link", "upgrade"):
            lab = LabBench(models)
            heard = run_on(lab, self.project.scripts_folder / f"{name}.copione")
            self.assertEqual(len(heard.results), 3)
            for device, results in heard.results.items():
                self.assertEqual([(r.step, r.reason) for r in results if not r.outcome.good], [], (name, device))
                self.assertTrue(results)
        for phone in lab.phones.values():
            self.assertEqual(phone.installations[APP], 2)

    def test_what_is_stored_is_kept_until_it_is_cleared(self) -> None:
        night = ('tap button "Settings"', 'check switch "Night mode" is on')
        kept = self.one("launch afresh", night[0], 'switch on "Night mode"', "quit", "launch keeping its data", *night)
        self.assertEqual([r.reason for r in kept if not r.outcome.good], [])
        for step in ("clear data", "clear data of hive-diary", "uninstall"):
            more = ['install "hive-diary-2.4.zip"'] * (step == "uninstall")
            results = self.one("launch", "press back", *night[:1], 'switch on "Night mode"', step, *more, "launch", *night)
            self.assertEqual([r.outcome for r in results[-2:]], [Outcome.HELD, Outcome.DIFFERS], step)

    def test_what_a_phone_does_not_take_is_said_in_its_words_and_what_to_do(self) -> None:
        (self.builds / "note.txt").write_text("no package", "utf-8")
        (self.builds / "kiln-3.0.zip").write_bytes(pack("org.example.kiln_book", "3.0"))
        table = (
            ("hive-diary-2.3.zip", 1 << 40, "VERSION_DOWNGRADE", "uninstall it first, which deletes its data"),
            ("hive-diary-2.4.zip", 10, "INSUFFICIENT_STORAGE", "Free some room on the phone"),
            ("note.txt", 1 << 40, "NOT_APK", "The file is no package for Android"),
            ("../project.toml", 1 << 40, "nothing outside of it is used", ""),
            ("hive-diary-9.zip", 1 << 40, "There is no file", ""),
            ("kiln-3.0.zip", 1 << 40, "holds another app", ""),
        )
        for file, room, said, advice in table:
            self.phone.free_bytes = room
            with self.subTest(file):
                [result] = self.one(f'install "{file}"')
                self.assertIs(result.outcome, Outcome.STUCK)
                self.assertIn(said, result.reason)
                self.assertIn(advice, result.reason)
        self.phone.uninstall(APP)
        [result] = self.one('install "kiln-3.0.zip"')
        self.assertIn("kiln-3.0.zip holds another app", result.reason)

    def test_an_app_that_a_phone_came_with_is_not_uninstalled(self) -> None:
        self.script('note "x"')
        text = self.demo.read_text("utf-8").replace("app hive-diary", "app hive-diary\napp contacts").replace('note "x"', "{step}")
        for step, reason in (
            ("uninstall contacts", "DELETE_FAILED"),
            ('open "otherapp://here"', "No app on Alder 5 opens otherapp://here"),
        ):
            self.demo.write_text(text.replace("{step}", step), "utf-8")
            [result] = self.run_on("Alder 5").results["Alder 5"]
            self.assertIs(result.outcome, Outcome.STUCK)
            self.assertIn(reason, result.reason)
        self.assertIn(CONTACTS, dict(self.phone.installed()))

    def test_an_app_that_the_head_or_the_project_does_not_name(self) -> None:
        self.script("switch to contacts")
        problem = self.project.load(self.demo).problems()[0]
        self.assertEqual((problem.line, problem.column), (5, 15))
        self.assertIn("add `app contacts` above the scenes", problem.sentence)
        self.demo.write_text(self.demo.read_text("utf-8").replace("app hive-diary", "app hive-diary\napp weather"), "utf-8")
        self.demo.write_text(self.demo.read_text("utf-8").replace("contacts", "weather"), "utf-8")
        [result] = self.run_on("Alder 5").results["Alder 5"]
        self.assertIn("does not say which android app weather is", result.reason)

    def test_every_app_that_can_be_started_is_told_with_its_name(self) -> None:
        lab = LabBench(load_models())
        with LabServer(lab) as adb, WebDriverServer(lab) as web:
            for link in (AdbLink(AdbServer(port=adb.port), SERIALS["Alder 5"]), WebDriverLink(web.endpoints[0])):
                found = {app.package: (app.name, app.version) for app in link.apps()}
                self.assertEqual(found[CONTACTS][0], "Contacts")
                self.assertEqual(found[APP][1], "2.4")
                self.assertNotIn("org.example.launcher", found)
                link.close()
