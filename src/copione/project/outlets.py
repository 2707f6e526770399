"""What the program itself prints when something goes wrong: its log and the tracebacks of crashes, without secrets."""

from __future__ import annotations

import logging
import sys
import threading
import traceback
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import TracebackType

from ..model.secrecy import Redactor

LOG_BYTES, LOGS = 1_000_000, 3  # of one log, and how many older ones are kept


class _Clean(logging.Formatter):
    def __init__(self, redactor: Redactor, head: str = "") -> None:
        super().__init__(head + "%(levelname)s %(name)s: %(message)s")
        self._redactor = redactor

    def format(self, record: logging.LogRecord) -> str:
        return self._redactor.words(super().format(record))


def _log_in(file: Path) -> logging.Handler | None:
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
        handler = RotatingFileHandler(file, maxBytes=LOG_BYTES, backupCount=LOGS, encoding="utf-8", errors="replace")
    except OSError:
        return None
    handler.setLevel(logging.INFO)
    return handler


def guard(redactor: Redactor, file: Path | None = None, level: int = logging.WARNING) -> None:
    """From now on the log and every uncaught exception go to the standard error without the redactor's secrets.

    `level`: from which on it is told there. All from INFO on goes to `file` too, which is begun anew when it is long; one that cannot be
    written is done without.
    """
    root = logging.getLogger()
    for before in [each for each in root.handlers if isinstance(each.formatter, _Clean)]:
        root.removeHandler(before)
        before.close()
    handlers: list[logging.Handler] = [logging.StreamHandler()]
    handlers[0].setLevel(level)
    kept = _log_in(file) if file is not None else None
    if kept is not None:
        handlers.append(kept)
    for handler, head in zip(handlers, ("", "%(asctime)s "), strict=False):
        handler.setFormatter(_Clean(redactor, head))
        root.addHandler(handler)
    logging.getLogger("copione").setLevel(logging.INFO)

    def told(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        words = redactor.words("".join(traceback.format_exception(kind, error, trace)))
        sys.stderr.write(words)
        if kept is not None:
            kept.handle(logging.LogRecord("copione", logging.CRITICAL, "", 0, "%s", (words,), None))

    def of_thread(args: threading.ExceptHookArgs) -> None:
        if args.exc_type is not SystemExit and args.exc_value is not None:
            told(args.exc_type, args.exc_value, args.exc_traceback)

    sys.excepthook = told
    threading.excepthook = of_thread
