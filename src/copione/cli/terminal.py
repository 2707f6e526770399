"""What a terminal is told: any text made safe for it, whoever wrote it."""

from __future__ import annotations

import contextlib
import errno
import json
import os
import re
import sys

import click

#: Control characters of ASCII and of Latin-1 (among them the terminal's own escapes), and marks that turn the writing round.
_CONTROLS = re.compile(r"[\x00-\x08\x0b-\x1f\x7f-\x9f\u200e\u200f\u202a-\u202e\u2066-\u2069]|[\ud800-\udfff]")


def shown(words: object, *, lines: bool = False) -> str:
    """A text as a terminal may have it: what would move the cursor, colour or name something is a visible sign; `lines`: line ends stay."""
    said = _CONTROLS.sub(lambda match: f"<{ord(match.group()):02X}>", str(words))
    return said if lines else " ".join(said.split("\n"))


def rich_text(words: object) -> str:
    """The same for rich, where brackets are markup."""
    from rich.markup import escape

    return escape(shown(words))


def json_text(value: object, indent: int | None = None) -> str:
    """A value as JSON in which nothing acts on a terminal: control characters are escapes of JSON."""
    return _CONTROLS.sub(lambda match: f"\\u{ord(match.group()):04x}", json.dumps(value, ensure_ascii=False, indent=indent))


def tell(words: object) -> None:
    """A line of what a command prints."""
    click.echo(shown(words))


def say(sentence: object) -> None:
    """A sentence of the program's own, beside what a command prints. Where nobody can be told, nobody is."""
    with contextlib.suppress(OSError):
        click.echo(f"copione: {shown(sentence)}", err=True)


def put_out(line: str) -> None:
    """A line of a command's output, at once. Raises OutputLost where it cannot be written."""
    try:
        click.echo(line)
        sys.stdout.flush()
    except OSError as error:
        raise OutputLost(error) from error


class OutputLost(Exception):
    """What a command prints can be written no more: whoever read it is gone, or its disk is full."""

    def __init__(self, error: OSError) -> None:
        super().__init__(error.strerror or str(error))
        self.reader_gone = error.errno == errno.EPIPE


def leave_output() -> None:
    """Write nothing more to the standard output, so that nothing of it fails once more at the end."""
    with contextlib.suppress(OSError, ValueError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, sys.stdout.fileno())
        os.close(nowhere)
