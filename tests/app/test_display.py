import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from copione.app import display
from copione.app.display import choose_platform, needs_sentence
from copione.model.errors import CopioneError

LIBRARIES = Path("/usr/lib") / f"{os.uname().machine}-linux-gnu"
#: In a mount namespace of its own: the system's libraries, without those that are named.
HIDE = """
set -e
mkdir "$1/real" "$1/seen"
mount --bind {libraries} "$1/real"
cp -as "$1/real/." "$1/seen/"
for each in $2; do rm -f "$1/seen/$each"*; done
mount --bind "$1/seen" {libraries}
shift 2
exec "$@"
"""
SAID = "The window cannot be shown yet, libraries that Qt needs for {name} are missing: "


def namespaces() -> bool:
    """Does this machine let a test mount in a namespace of its own?"""
    return (
        shutil.which("unshare") is not None and subprocess.run(["unshare", "-rm", "true"], capture_output=True, check=False).returncode == 0
    )


@unittest.skipUnless(namespaces(), "the kernel allows no mount namespaces here: libraries cannot be hidden")
class HiddenLibraries(unittest.TestCase):
    """What a bare machine says, by hiding libraries from the loader."""

    def say(self, hidden: str, **environment: str) -> subprocess.CompletedProcess[str]:
        scratch = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, scratch, ignore_errors=True)
        environment = {"PATH": os.environ["PATH"], "HOME": str(scratch), "XDG_STATE_HOME": str(scratch / "state"), **environment}
        inside = ["sh", "-c", HIDE.format(libraries=LIBRARIES), "sh", str(scratch), hidden, sys.executable, "-m", "copione"]
        return subprocess.run(["unshare", "-rm", *inside], env=environment, capture_output=True, text=True, timeout=60, check=False)

    def test_one_sentence_names_the_packages(self) -> None:
        for hidden, environment, name, packages in (
            ("libxcb-cursor libxcb-icccm libxcb-keysyms", {"DISPLAY": ":0"}, "X11", "libxcb-cursor0 libxcb-icccm4 libxcb-keysyms1"),
            ("libEGL libwayland-cursor", {"WAYLAND_DISPLAY": "wayland-0"}, "Wayland", "libegl1 libwayland-cursor0"),
        ):
            with self.subTest(name):
                told = self.say(hidden, **environment)
                self.assertEqual((told.returncode, told.stdout), (1, ""), told.stderr)
                words = told.stderr.strip().removeprefix("copione: ").split("apt-get install ")
                self.assertEqual(words[0], SAID.format(name=name))
                self.assertLessEqual(set(packages.split()), set(words[1].split()))

    def test_a_display_that_is_not_there_is_no_crash(self) -> None:
        for environment, words in (
            ({}, "There is no display here"),
            ({"DISPLAY": ":4711"}, "The display :4711 does not let Copione in" if _x11() else "libraries that Qt needs for X11"),
        ):
            told = self.say("libnothing", **environment)
            self.assertEqual(told.returncode, 1)
            self.assertIn(words, told.stderr)
            self.assertEqual(len(told.stderr.strip().splitlines()), 1)


class Choosing(unittest.TestCase):
    def test_the_first_display_that_can_be_shown_on_is_taken(self) -> None:
        both = {"WAYLAND_DISPLAY": "w", "DISPLAY": ":0"}
        with mock.patch.object(display, "_no_display", lambda platform: ""):
            for lacking, found in (((), "wayland"), (("wayland",), "xcb")):
                with mock.patch.object(display, "_needs", lambda qt, platform, lacking=lacking: "missing" * (platform in lacking)):
                    self.assertEqual(choose_platform(both), found)
            with (
                mock.patch.object(display, "_needs", lambda qt, platform: f"{platform} is missing"),
                self.assertRaises(CopioneError) as caught,
            ):
                choose_platform(both)
        self.assertEqual(caught.exception.sentence, "xcb is missing")
        self.assertEqual(choose_platform({"QT_QPA_PLATFORM": "offscreen"}), "offscreen")

    def test_a_library_that_nobody_knows_is_named_itself(self) -> None:
        self.assertTrue(needs_sentence("xcb", ["libnew.so.1"]).endswith("install what holds libnew.so.1"))
        self.assertTrue(
            needs_sentence("xcb", ["libGL.so.1", "libnew.so.1"]).endswith("apt-get install libgl1 (and what holds libnew.so.1)")
        )


def _x11() -> bool:
    """Are the libraries of Qt's plugin for X11 here?"""
    return not display._needs(display._qt_folder(), "xcb")
