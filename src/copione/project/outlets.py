"""What the program itself prints when something goes wrong: its log and the tracebacks of crashes, without secrets."""

from __future__ import annotations

import logging
import sys
import threading
import traceback
from types import TracebackType

from ..model.secrecy import Redactor


class _Clean(logging.Formatter):
    def __init__(self, redactor: Redactor) -> None:
        super().__init__("%(levelname)s %(name)s: %(message)s")
        self._redactor = redactor

    def format(self, record: logging.LogRecord) -> str:
        return self._redactor.words(super().format(record))


def guard(redactor: Redactor) -> None:
    """From now on the log and every uncaught exception go to the standard error without the redactor's secrets."""
    root = logging.getLogger()
    for before in [each for each in root.handlers if isinstance(each.formatter, _Clean)]:
        root.removeHandler(before)
    handler = logging.StreamHandler()
    handler.setFormatter(_Clean(redactor))
    handler.setLevel(logging.WARNING)
    root.addHandler(handler)

    def told(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        sys.stderr.write(redactor.words("".join(traceback.format_exception(kind, error, trace))))

    def of_thread(args: threading.ExceptHookArgs) -> None:
        if args.exc_type is not SystemExit and args.exc_value is not None:
            told(args.exc_type, args.exc_value, args.exc_traceback)

    sys.excepthook = told
    threading.excepthook = of_thread
