import json
import os
import re
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import msgspec

from copione.links.adb import conditions, facts, uinput
from copione.links.adb.link import input_commands, text_pieces
from copione.links.bare import ObservationOverhead
from copione.links.browser.capabilities import capabilities
from copione.links.browser.engines import ENGINES, Installed, installed
from copione.links.browser.kept import BrowserSpec, settings_file, wanted
from copione.model.condition import Condition
from copione.model.errors import CannotDo, FileTrouble
from copione.model.geometry import Box
from copione.model.gesture import Contact
from copione.touch.making import drag, hold, swipe, tap

NEW = """  mCurrentFocus=Window{9f1 u0 org.example.a/org.example.a.ui.Main}
    InsetsSource id=3 type=ime frame=[0,1443][1080,2274] visible=true flags=[]"""
OLD = """  Window #1 Window{3f u0 InputMethod}:
    mHasSurface=true isReadyForDisplay()=true
    mGivenContentInsets=[0,900][0,0]
    touchable region=SkRegion((0,1200,1080,1920))
  Window #2 Window{2a u0 org.example.a/.Main}:
  mCurrentFocus=null
  mFocusedApp=ActivityRecord{7c u0 org.example.a/.Main t12}"""


class Facts(unittest.TestCase):
    def test_sizes_and_densities_an_override_wins(self) -> None:
        self.assertEqual(facts.size("Physical size: 1080x2340\nOverride size: 720x1560\n"), (720, 1560))
        self.assertEqual(facts.density("Physical density: 420\n"), 420)
        self.assertEqual((facts.size("error"), facts.density("")), (None, None))
        self.assertEqual(facts.glass_dpi("density 420, 403.411 x 400.3 dpi}"), (403.411, 400.3))
        self.assertIsNone(facts.glass_dpi("0.0 x 0.0 dpi"))

    def test_the_app_in_front_on_old_and_new_releases(self) -> None:
        self.assertEqual(facts.front(NEW), ("org.example.a", ".ui.Main"))
        self.assertEqual(facts.front(OLD), ("org.example.a", ".Main"))
        self.assertEqual(facts.front("nothing"), ("", ""))

    def test_the_keyboard_on_old_and_new_releases(self) -> None:
        self.assertEqual(facts.keyboard(NEW), Box(0, 1443, 1080, 2274))
        self.assertIsNone(facts.keyboard(NEW.replace("visible=true", "visible=false")))
        self.assertEqual(facts.keyboard(OLD), Box(0, 1200, 1080, 1920))
        self.assertIsNone(facts.keyboard(OLD.replace("isReadyForDisplay()=true", "isReadyForDisplay()=false")))

    def test_versions_and_components(self) -> None:
        self.assertEqual(facts.version("    versionName=2.4-beta\n"), "2.4-beta")
        self.assertEqual(facts.components("priority=0 match=0x1\norg.a/.Main\n"), ["org.a/.Main"])
        self.assertEqual(facts.components("No activity found\n"), [])


class Commands(unittest.TestCase):
    def test_one_finger_becomes_the_shortest_command_that_does_it(self) -> None:
        table = [
            (tap(10, 20), ["tap 20 40"]),
            (hold(10, 20, 0.8), ["swipe 20 40 20 40 800"]),
            (swipe(10, 100, 10, 20, 0.3), ["swipe 20 200 20 40 300"]),
        ]
        for contact, commands in table:
            self.assertEqual(input_commands(contact, 2.0), commands)

    def test_a_stroke_that_stops_before_it_lifts_pauses_there(self) -> None:
        commands = input_commands(drag(10, 100, 10, 20, 0.4, 0.2), 2.0)
        self.assertEqual(commands[0], "motionevent DOWN 20 200")
        self.assertEqual(commands[-2:], ["motionevent MOVE 20 40; sleep 0.20", "motionevent UP 20 40"])

    def test_a_bent_path_is_followed(self) -> None:
        bent = Contact(0, ((0, 0, 0), (0.1, 50, 0), (0.2, 50, 50)), 0.25)
        self.assertEqual([c.split()[1] for c in input_commands(bent, 1.0)], ["DOWN", "MOVE", "MOVE", "UP"])

    def test_what_is_still_straight_and_what_is_a_rest(self) -> None:
        for path, lift, first in (
            (((0, 0, 0), (0.05, 30, 46), (0.1, 60, 80)), 0.15, "swipe"),  # 6 dp beside its chord
            (((0, 0, 0), (0.05, 30, 52), (0.1, 60, 80)), 0.15, "motionevent"),
            (((0, 60, 80), (0.05, 30, 52), (0.1, 0, 0)), 0.15, "motionevent"),
            (((0, 60, 0), (0.05, 30, 52), (0.1, 0, 80)), 0.15, "motionevent"),
            (((0, 0, 0), (0.05, 30, 40), (0.2, 60, 80)), 0.25, "motionevent"),  # it rests on the way
            (((0, 0, 0), (0.09, 60, 80)), 0.18, "swipe"),
            (((0, 0, 0), (0.09, 60, 80)), 0.2, "motionevent"),  # and at the end
            (((0, 10, 10), (0.05, 12, 12), (0.1, 10, 10)), 0.2, "tap"),
            (((0, 10, 10), (0.05, 12, 12), (0.1, 10, 10)), 0.25, "swipe"),  # a hold that trembles
            (((0, 10, 10), (0.05, 13, 12), (0.1, 10, 10)), 0.2, "motionevent"),  # there and back
        ):
            with self.subTest(path, lift=lift):
                self.assertEqual(input_commands(Contact(0, path, lift), 2.0)[0].split()[0], first)
        there = Contact(0, ((0, 0, 0), (0.05, 30, 40), (0.2, 60, 80)), 0.45)
        commands = ["motionevent DOWN 0 0", "motionevent MOVE 60 80; sleep 0.15", "motionevent MOVE 120 160; sleep 0.25"]
        self.assertEqual(input_commands(there, 2.0), [*commands, "motionevent UP 120 160"])
        later = Contact(0, tuple((t + 5, x, y) for t, x, y in ((0, 0, 0), (0.05, 30, 52), (0.1, 60, 80))), 5.15)
        self.assertFalse([c for c in input_commands(later, 2.0) if "sleep" in c], "when it began makes no pause")

    def test_two_fingers_on_a_panel_of_ones_own(self) -> None:
        fingers = [Contact(0, ((0, 10, 20), (1 / 30, 30, 20)), 0.05), Contact(1, ((1 / 60, 50, 60),), 0.04)]
        lines = [json.loads(line) for line in uinput.uinput_commands(fingers, (100, 200), 2.0).splitlines()]
        self.assertEqual([line["command"] for line in lines], ["register", *["delay", "inject"] * 4, "delay"])
        register = lines[0]
        self.assertEqual([each["data"] for each in register["configuration"]], [[1, 3], [0x14A], [0x2F, 0x35, 0x36, 0x39], [1]])
        self.assertEqual([each["info"]["maximum"] for each in register["abs_info"]], [9, 99, 199, 65535])
        self.assertEqual([line["duration"] for line in lines if line["command"] == "delay"], [300, 17, 17, 17, 17])
        down = [3, 0x2F, 0, 3, 0x39, 1, 1, 0x14A, 1, 3, 0x35, 20, 3, 0x36, 40, 0, 0, 0]
        both = [3, 0x2F, 0, 3, 0x35, 40, 3, 0x36, 40, 3, 0x2F, 1, 3, 0x39, 2, 3, 0x35, 99, 3, 0x36, 120, 0, 0, 0]
        still = [3, 0x2F, 0, 3, 0x35, 60, 3, 0x36, 40, 3, 0x2F, 1, 3, 0x35, 99, 3, 0x36, 120, 0, 0, 0]
        up = [3, 0x2F, 0, 3, 0x39, -1, 3, 0x2F, 1, 3, 0x39, -1, 1, 0x14A, 0, 0, 0, 0]
        self.assertEqual([line["events"] for line in lines if line["command"] == "inject"], [down, both, still, up])
        bent = Contact(0, ((1.0, 0, 0), (2.0, 10, 0), (2.0, 10, 20), (3.0, 10, 40)), 4.0)
        for t, place in ((0.5, (0, 0)), (1.5, (5, 0)), (2.0, (10, 0)), (2.5, (10, 30)), (9.0, (10, 40))):
            self.assertEqual(uinput.at_time(bent, t), place)
        turned = [uinput.to_panel(10, 20, 100, 200, rotation) for rotation in range(5)]
        self.assertEqual(turned, [(10, 20), (80, 10), (90, 180), (20, 190), (10, 20)])

    def test_text_is_cut_where_the_phone_would_read_it_otherwise(self) -> None:
        self.assertEqual(list(text_pieces("50%soft\nnext")), ["50%", "soft", "\n", "next"])
        self.assertEqual("".join(text_pieces("a%s%s b")), "a%s%s b")


class Conditions(unittest.TestCase):
    def test_how_a_phone_is_and_what_is_put_back(self) -> None:
        for condition, said, value in (
            (Condition.NETWORK, {"settings get global wifi_on": "1\n", "settings get global mobile_data": "1"}, "wifi data"),
            (Condition.NETWORK, {"settings get global wifi_on": "0", "settings get global mobile_data": "1"}, "data"),
            (Condition.NETWORK, {}, "off"),
            (Condition.DARK, {"cmd uimode night": "Night mode: yes"}, "yes"),
            (Condition.DARK, {"cmd uimode night": "Night mode: nothing"}, "no"),
            (Condition.SAVER, {"settings get global low_power": "1"}, "on"),
            (Condition.SAVER, {"settings get global low_power": "null"}, "off"),
            (Condition.TEXT_SIZE, {"settings get system font_scale": "1.3"}, "1.3"),
            (Condition.TEXT_SIZE, {"settings get system font_scale": "null"}, "1.0"),
            (Condition.TEXT_SIZE, {"settings get system font_scale": "1; reboot"}, "1.0"),
            (Condition.LANGUAGE, {"cmd locale get-app-locales 'a b'": "Locales for a b: [de-DE,en]"}, "de-DE,en"),
            (Condition.LANGUAGE, {}, ""),
            (Condition.ORIENTATION, {"settings get system accelerometer_rotation": "1", "settings get system user_rotation": "3"}, "1 3"),
            (Condition.ORIENTATION, {}, "0 0"),
        ):
            with self.subTest(condition, value=value):
                self.assertEqual(conditions.read(lambda command, said=said: said.get(command, ""), condition, "a b", 14), value)

    def test_the_commands_for_each(self) -> None:
        for condition, value, commands in (
            (Condition.NETWORK, "on", ["svc wifi enable", "svc data enable"]),
            (Condition.NETWORK, "off", ["svc wifi disable", "svc data disable"]),
            (Condition.NETWORK, "data", ["svc wifi disable", "svc data enable"]),
            (Condition.DARK, "on", ["cmd uimode night yes"]),
            (Condition.DARK, "off", ["cmd uimode night no"]),
            (Condition.DARK, "auto", ["cmd uimode night auto"]),
            (Condition.SAVER, "on", ["settings put global low_power 1"]),
            (Condition.SAVER, "off", ["settings put global low_power 0"]),
            (Condition.TEXT_SIZE, "1; reboot", ["settings put system font_scale '1; reboot'"]),
            (Condition.LANGUAGE, "de", ["cmd locale set-app-locales a --locales de"]),
            (Condition.LANGUAGE, "", ["cmd locale set-app-locales a --locales ''"]),
            (Condition.ORIENTATION, "1 3", ["settings put system user_rotation 3", "settings put system accelerometer_rotation 1"]),
            (Condition.ORIENTATION, "0", ["settings put system user_rotation 0", "settings put system accelerometer_rotation 0"]),
        ):
            with self.subTest(condition, value=value):
                done: list[str] = []
                conditions.put(lambda command, done=done: done.append(command) or "", condition, value, "a", 13)
                self.assertEqual(done, commands)
        for condition, value, release in ((Condition.NETWORK, "slow", 14), (Condition.LANGUAGE, "de", 12)):
            with self.assertRaises(CannotDo):
                conditions.put(lambda _command: "", condition, value, "a", release)


class Looks(unittest.TestCase):
    def test_the_longest_of_the_last_nine_is_what_a_look_takes(self) -> None:
        bare = ObservationOverhead()
        self.assertEqual((bare.longest, bare.own(10.0, 10.4, 9.5)), (0.0, 0.5))
        self.assertEqual(bare.own(10.0, 10.4, 10.2), 0.0)
        bare.add(0.9)
        for _ in range(8):
            bare.add(0.3)
        self.assertEqual((bare.longest, bare.own(10.0, 12.0, 9.0)), (0.9, 2.1))
        bare.add(0.4)
        self.assertEqual(bare.longest, 0.4)


class Sessions(unittest.TestCase):
    def test_what_a_browser_is_asked_for(self) -> None:
        page = BrowserSpec("Page", "chromium", 360, 740, density=3.0, text=1.3, language="pt-BR", dark=True, touch=True, shown=False)
        asked = capabilities(page, Installed(ENGINES["chromium"], "/d", "/b"))
        self.assertEqual((asked["unhandledPromptBehavior"], asked["pageLoadStrategy"]), ("ignore", "none"))
        options = asked["goog:chromeOptions"]
        self.assertEqual(options["binary"], "/b")
        metrics = {"width": 360, "height": 740, "pixelRatio": 3.0, "touch": True, "mobile": True}
        self.assertEqual(options["mobileEmulation"], {"deviceMetrics": metrics})
        self.assertEqual(options["prefs"]["intl"], {"accept_languages": "pt-BR,pt"})
        self.assertEqual(options["prefs"]["webkit"], {"webprefs": {"default_font_size": 21}})
        self.assertIn("--headless=new", options["args"])
        shown = capabilities(msgspec.structs.replace(page, shown=True, language="de"), Installed(ENGINES["chromium"], "/d", "/b"))[
            "goog:chromeOptions"
        ]
        self.assertNotIn("--headless=new", shown["args"])
        self.assertEqual(shown["prefs"]["intl"], {"accept_languages": "de"})
        for text, dark, arguments in (
            (1.0, False, ["--automation"]),
            (1.5, True, ["--automation", "--default-font-size=24", "--dark-mode"]),
        ):
            asked = capabilities(
                msgspec.structs.replace(page, engine="webkit", text=text, dark=dark), Installed(ENGINES["webkit"], "/d", "/b")
            )
            self.assertEqual(asked["webkitgtk:browserOptions"], {"binary": "/b", "args": arguments})

    def test_what_of_an_engine_is_installed(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

        def put(name: str) -> None:
            (folder / name).write_text("#!/bin/sh\n", "utf-8")
            (folder / name).chmod(0o755)

        chromium, webkit = ENGINES["chromium"], ENGINES["webkit"]
        nothing = installed(chromium, str(folder))
        self.assertEqual(nothing.missing, "its driver and the browser itself is not installed")
        self.assertEqual(nothing.advice, "Install it (Debian: sudo apt install chromium chromium-driver).")
        put("chromium-browser")
        self.assertEqual(installed(chromium, str(folder)).missing, "its driver is not installed")
        put("chromium.chromedriver")
        found = installed(chromium, str(folder))
        self.assertEqual((found.missing, found.advice), ("", ""))
        self.assertEqual((found.driver, found.browser), (str(folder / "chromium.chromedriver"), str(folder / "chromium-browser")))
        put("WebKitWebDriver")
        put("MiniBrowser")
        with mock.patch.dict(os.environ, {"DISPLAY": "", "WAYLAND_DISPLAY": ""}):
            self.assertEqual(installed(chromium, str(folder)).missing, "", "it needs no display")
            blind = installed(webkit, str(folder))
            self.assertEqual(blind.missing, "a display, or Xvfb to make one, is not installed")
            self.assertIn("start Copione on a desktop", blind.advice)
            put("Xvfb")
            self.assertEqual(installed(webkit, str(folder)).missing, "")
        (folder / "Xvfb").unlink()
        with mock.patch.dict(os.environ, {"DISPLAY": "", "WAYLAND_DISPLAY": "wayland-0"}):
            self.assertEqual(installed(webkit, str(folder)).missing, "")

    def test_browsers_of_a_file(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        file = folder / "browsers.toml"

        def entry(**more: object) -> str:
            told = {"name": "Page", "engine": "webkit", "width": 360, "height": 740} | more
            return "[[browser]]\n" + "".join(f"{name} = {json.dumps(value)}\n" for name, value in told.items())

        for more, words in (
            ({}, ""),
            ({"width": 200, "height": 4000, "density": 5.0}, ""),
            ({"name": " "}, "a browser needs a name"),
            ({"name": "a\u0007"}, "a browser needs a name"),
            ({"engine": "other"}, "Page: there is no engine 'other'; there are chromium and webkit"),
            ({"width": 199}, "Page: no screen has 199 x 740 at a density of 1"),
            ({"height": 4001}, "no screen has"),
            ({"density": 0.4}, "no screen has"),
            ({"density": 5.1}, "no screen has"),
            ({"text": 0.5}, ""),
            ({"text": 4.0}, ""),
            ({"text": 4.1}, "too large"),
            ({"text": 0.4}, "too large"),
            ({"endpoint": "http://a:1"}, ""),
            ({"endpoint": "http://a:b@c"}, "cannot hold a user name"),
            ({"language": "pt-BR"}, ""),
            ({"language": "pt_BR"}, "is not a language"),
            ({"language": "русский"}, "is not a language"),
            ({"colour": "red"}, "cannot be read"),
        ):
            with self.subTest(more):
                file.write_text(entry(**more), "utf-8")
                if not words:
                    self.assertEqual(len(wanted(file)), 1)
                    continue
                with self.assertRaisesRegex(FileTrouble, re.escape(words)):
                    wanted(file)
        file.write_text("".join(entry(name=f"B {n}") for n in range(40)), "utf-8")
        self.assertEqual(len(wanted(file)), 40)
        for names in ([f"B {n}" for n in range(41)], ["Same", "Same"]):
            file.write_text("".join(entry(name=name) for name in names), "utf-8")
            with self.assertRaisesRegex(FileTrouble, "need names of their own, and may be 40 at most"):
                wanted(file)
        with mock.patch.dict(os.environ, {"XDG_CONFIG_HOME": str(folder)}):
            self.assertEqual(len(wanted()), 5, "those that ship")
            settings_file().parent.mkdir()
            settings_file().write_text(entry(name="My own"), "utf-8")
            self.assertEqual([each.name for each in wanted()], ["My own"])


if __name__ == "__main__":
    unittest.main()
