"""`python -m tests.journeys.child ARGS`: Copione's own command line, with a spy that tells where things are on the screen.

A line of Python on the standard input is worked out on Qt's thread; its value, or its error, comes back as a line of JSON.
"""

from __future__ import annotations

import json
import os
import sys
import threading
import time

ANSWERS = os.fdopen(os.dup(1), "w", buffering=1)
os.dup2(2, 1)  # what is printed does not mix with the answers


def spy() -> None:
    while "PySide6.QtWidgets" not in sys.modules:  # two threads that load PySide6 at once get in each other's way
        time.sleep(0.01)
    from PySide6.QtCore import QObject, Qt, Signal
    from PySide6.QtWidgets import QApplication

    while QApplication.instance() is None:
        time.sleep(0.01)
    from . import seeing

    class Ear(QObject):
        asked = Signal(str)

    ear = Ear()
    ear.moveToThread(QApplication.instance().thread())
    ear.asked.connect(lambda words: answer(words, vars(seeing)), Qt.ConnectionType.QueuedConnection)
    for line in sys.stdin:
        ear.asked.emit(line)


def answer(words: str, known: dict[str, object]) -> None:
    try:
        told = {"value": eval(words, dict(known))}
        said = json.dumps(told, default=str)
    except Exception as error:
        said = json.dumps({"error": f"{type(error).__name__}: {error}"})
    ANSWERS.write(said + "\n")


if __name__ == "__main__":
    threading.Thread(target=spy, daemon=True).start()
    from copione.cli import main

    sys.argv[0] = "copione"
    main()
