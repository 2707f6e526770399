"""`python -m tests [--core | --rest | --journeys] [NAME ...]`: all tests but the journeys; a part of them; or the journeys.

The core's run where neither PySide6 nor the reader of text in pictures is installed; the rest needs these, or browsers.
Each test belongs to one of the two: both together are all.

Warnings are errors. Journeys go through a real window on an X server of their own, moved by X events.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
import unittest
import warnings
from collections.abc import Iterator
from pathlib import Path

HERE = Path(__file__).parent
REST = (".app.", ".browsers.", ".test_toolkits")
"""Modules that need PySide6, browsers, or for most of what they do the reader of text in pictures."""
BESIDE = (".test_others.", ".test_kiln_book.")
"""Browser tests that run with the core's tests, so that both runs take about the same time."""


def each(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    """The tests of a suite, however deep they lie."""
    for test in suite:
        if isinstance(test, unittest.TestSuite):
            yield from each(test)
        else:
            yield test


def in_core(test: unittest.TestCase) -> bool:
    """Is nothing asked for but what the core is installed with?"""
    reads = getattr(test, "reads", False) or getattr(getattr(test, test._testMethodName, None), "reads", False)
    return not reads and not of_rest(f"{test.id()}.")


def of_rest(name: str) -> bool:
    """Does a module or a test belong to the rest? `name`: its dotted name, with a dot at the end."""
    return any(part in name for part in REST) and not any(part in name for part in BESIDE)


class Timed(unittest.TextTestResult):
    """Records how long each test took, in seconds, including what its class prepares before its first test."""

    def startTestRun(self) -> None:
        super().startTestRun()
        self.took: list[tuple[float, str]] = []
        self._since = time.monotonic()

    def stopTest(self, test: unittest.TestCase) -> None:
        super().stopTest(test)
        now = time.monotonic()
        self.took.append((now - self._since, test.id()))
        self._since = now


def main() -> int:
    warnings.simplefilter("error")
    state = tempfile.TemporaryDirectory()  # what is tested logs there, not among the user's own files
    os.environ["XDG_STATE_HOME"] = state.name
    names = [a for a in sys.argv[1:] if not a.startswith("-")]
    core, rest, journeys = (part in sys.argv for part in ("--core", "--rest", "--journeys"))
    loader = unittest.TestLoader()
    suite = unittest.TestSuite()
    for path in sorted(HERE.rglob("test_*.py")):
        module = ".".join(path.relative_to(HERE.parent).with_suffix("").parts)
        if (
            (core and of_rest(f"{module}."))  # not even imported
            or journeys != (".journeys." in module)
            or (names and not any(n in module for n in names))
        ):
            continue
        tests = loader.loadTestsFromName(module)
        suite.addTests(test for test in each(tests) if not (core or rest) or in_core(test) == core)
    if core:
        for banned in ("PySide6", "shiboken6"):
            try:
                __import__(banned)
            except ImportError:
                continue
            print(f"{banned} is installed here: these tests are to run without it.")
            return 1
    result = unittest.TextTestRunner(verbosity=1, warnings="error", resultclass=Timed).run(suite)
    for seconds, name in sorted(result.took, reverse=True)[:15]:
        print(f"{seconds:7.1f} s  {name}")
    state.cleanup()
    print(
        f"{result.testsRun - len(result.failures) - len(result.errors) - len(result.skipped)} passed, "
        f"{len(result.failures) + len(result.errors)} failed, {len(result.skipped)} skipped"
    )
    return 0 if result.wasSuccessful() and result.testsRun else 1


if __name__ == "__main__":
    sys.exit(main())
