"""Data rows: a CSV with a header line."""

from __future__ import annotations

import csv
import io
import itertools
import re
from collections import Counter
from collections.abc import Callable, Sequence
from pathlib import Path

from ..files.changing import change_file
from ..files.reading import FileKind, decoded, read_bytes
from ..files.writing import FileVersion, write_whole
from ..model.errors import FileTrouble
from ..model.secrecy import Redactor

Row = dict[str, str]
_FORMULA = frozenset("=+-@\t\r")  # what a cell begins with that spreadsheets take for a formula
_NUMBER = re.compile(r"[-+]?\d+([.,]\d+)?")
_OURS = "'\u2060"  # an apostrophe that somebody wrote by hand has no word joiner behind it
MOST_ROWS, MOST_COLUMNS = 20_000, 500


def save_rows(path: Path, rows: Sequence[Row], redactor: Redactor | None = None, replaces: FileVersion | None = None) -> FileVersion:
    """Rows that all have the same columns, under a line that names them, without the redactor's secrets.

    See `write_whole` for `replaces`. Raises FileTrouble.
    """
    return write_whole(path, _as_bytes(rows, redactor), replaces)


def change_rows(path: Path, change: Callable[[list[Row]], Sequence[Row]], redactor: Redactor | None = None) -> None:
    """Change a table, or make it of one empty row; once more where another program wrote it meanwhile. Raises FileTrouble."""

    def apply(data: bytes | None) -> bytes:
        return _as_bytes(change(rows_in(data, path) if data is not None else [{}]), redactor)

    change_file(path, FileKind.TABLE, apply)


def _as_bytes(rows: Sequence[Row], redactor: Redactor | None) -> bytes:
    text = io.StringIO()
    writer = csv.DictWriter(text, list(rows[0]), lineterminator="\n")
    writer.writeheader()
    writer.writerows({name: _cell(value) for name, value in row.items()} for row in rows)
    words = text.getvalue()
    return (redactor.words(words) if redactor is not None else words).encode("utf-8", "replace")


def _cell(value: str) -> str:
    """A value as a cell: what a spreadsheet would compute gets an apostrophe, as people put there by hand, and a mark that it is ours."""
    computed = value[:1] in _FORMULA and not _NUMBER.fullmatch(value)
    return _OURS + value if computed or value.startswith(_OURS) else value


def _from_cell(cell: str) -> str:
    return cell.removeprefix(_OURS)


def load_rows(path: Path) -> list[Row]:
    """All rows of a CSV as text by column. Raises FileTrouble naming the line that is wrong."""
    return read_rows(path)[0]


def read_rows(path: Path) -> tuple[list[Row], FileVersion]:
    """The same, and which version of the file they are from."""
    data = read_bytes(path, FileKind.TABLE)
    return rows_in(data, path), FileVersion.of(data)


def rows_in(data: bytes, path: Path) -> list[Row]:
    """The rows of a CSV's bytes; `path` is for the sentence. Raises FileTrouble naming the line that is wrong."""
    text = decoded(data, path).lstrip("\ufeff")
    reader = csv.reader(io.StringIO(text))
    try:
        lines = list(itertools.islice(reader, MOST_ROWS + 2))
    except csv.Error as error:
        raise FileTrouble(f"{path.name} line {reader.line_num}: {error}.", path=path, line=reader.line_num) from error
    if not lines or not any(cell.strip() for cell in lines[0]):
        raise FileTrouble(f"{path.name} is empty: its first line names the columns.", path=path)
    columns = [cell.strip() for cell in lines[0]]
    _not_too_many(len(lines), len(columns), path.name)
    twice = next((c for c, count in Counter(columns).items() if count > 1), None)
    if twice is not None:
        raise FileTrouble(f"{path.name} has two columns named {twice or 'nothing'}.", path=path)
    rows = []
    for number, cells in enumerate(lines[1:], 2):
        if not any(cell.strip() for cell in cells):
            continue
        if len(cells) != len(columns):
            raise FileTrouble(f"{path.name} line {number} has {len(cells)} values for {len(columns)} columns.", path=path, line=number)
        rows.append(dict(zip(columns, map(_from_cell, cells), strict=True)))
    if not rows:
        raise FileTrouble(f"{path.name} has columns and no rows.", path=path)
    return rows


def _not_too_many(lines: int, columns: int, name: str) -> None:
    if lines > MOST_ROWS + 1 or columns > MOST_COLUMNS:
        raise FileTrouble(f"{name} is too large for a table of a script: {MOST_ROWS:,} rows and {MOST_COLUMNS} columns are the most.")


def rename_column(path: Path, old: str, new: str) -> None:
    """Another name for a column. Raises FileTrouble."""
    change_rows(path, lambda rows: [{new if name == old else name: value for name, value in row.items()} for row in rows])


def add_column(path: Path, name: str, value: str, redactor: Redactor | None = None) -> None:
    """One more column, the same value in each row; a table is made where there is none. Raises FileTrouble."""
    change_rows(path, lambda rows: [{**row, name: value} for row in rows], redactor)


def sniffed(data: bytes) -> list[list[str]]:
    """Cells of a table somebody gives: its encoding and what separates its cells are found out. Rows of one length; none empty.

    Raises FileTrouble for what is no table.
    """
    text = _decoded(data)
    lines = text.replace("\r\n", "\n").replace("\r", "\n").strip("\n")
    if not lines.strip():
        raise FileTrouble("It is empty.")
    separator = _separator(lines)
    try:
        found = list(itertools.islice(csv.reader(io.StringIO(lines), delimiter=separator), MOST_ROWS + 2))
    except csv.Error as error:
        raise FileTrouble(f"It is not a table: {error}.") from error
    wide = max(map(len, found), default=0)
    _not_too_many(len(found), wide, "It")
    cells = [row for row in ([_from_cell(cell.strip()) for cell in each] for each in found) if any(row)]
    if not cells:
        raise FileTrouble("It is empty.")
    return [[*row, *[""] * (wide - len(row))] for row in cells]


def _decoded(data: bytes) -> str:
    """UTF-8 or UTF-16 by their marks, else UTF-8 if it is, else what spreadsheets write where they do not."""
    for mark, code in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            try:
                return data.decode(code)
            except UnicodeDecodeError as error:
                raise FileTrouble(f"It is damaged: {error.reason} at byte {error.start}.") from error
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError:
        return data.decode("cp1252", "replace")


def _separator(text: str) -> str:
    """What stands between cells: the sign that is in the first lines equally often, the more often the better."""
    lines = [re.sub(r'"[^"]*"', "", line) for line in text.split("\n")[:20] if line.strip()]

    def fit(sign: str) -> tuple[bool, int]:
        counts = [line.count(sign) for line in lines]
        return min(counts) > 0 and len(set(counts)) == 1, min(counts)

    best = max(("\t", ";", ",", "|"), key=fit)
    if fit(best)[1]:
        return best
    return max(("\t", ";", ",", "|"), key=text.count) if any(sign in text for sign in "\t;|") else ","
