"""`python -m tests [--core | --journeys] [NAME ...]`: all tests but the journeys, those of the core alone, or the journeys.

Browsers are started, and whole apps replayed on every model, for the tests of all; once is enough, so the core's leave them out.

Warnings are errors. Journeys go through a real window on an X server of their own, moved by X events.
"""

from __future__ import annotations

import os
import sys
import tempfile
import unittest
import warnings
from pathlib import Path

HERE = Path(__file__).parent


def main() -> int:
    warnings.simplefilter("error")
    state = tempfile.TemporaryDirectory()  # what is tested logs there, not among the user's own files
    os.environ["XDG_STATE_HOME"] = state.name
    names = [a for a in sys.argv[1:] if not a.startswith("-")]
    core, journeys = "--core" in sys.argv, "--journeys" in sys.argv
    loader = unittest.TestLoader()
    suite = unittest.TestSuite()
    for path in sorted(HERE.rglob("test_*.py")):
        module = ".".join(path.relative_to(HERE.parent).with_suffix("").parts)
        if (
            (core and any(part in module for part in (".app.", ".browsers.", ".test_toolkits", ".test_tour")))
            or journeys != (".journeys." in module)
            or (names and not any(n in module for n in names))
        ):
            continue
        suite.addTests(loader.loadTestsFromName(module))
    if core:
        for banned in ("PySide6", "shiboken6"):
            try:
                __import__(banned)
            except ImportError:
                continue
            print(f"{banned} is installed here: these tests are to run without it.")
            return 1
    result = unittest.TextTestRunner(verbosity=1, warnings="error").run(suite)
    state.cleanup()
    print(
        f"{result.testsRun - len(result.failures) - len(result.errors) - len(result.skipped)} passed, "
        f"{len(result.failures) + len(result.errors)} failed, {len(result.skipped)} skipped"
    )
    return 0 if result.wasSuccessful() and result.testsRun else 1


if __name__ == "__main__":
    sys.exit(main())
