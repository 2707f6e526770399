"""Data rows: a CSV with a header line."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from pathlib import Path

from ..model.errors import FileTrouble
from ..model.secrecy import Redactor
from .files import read_text, write_whole

Row = dict[str, str]
_FORMULA = frozenset("=+-@\t\r")  # what a cell begins with that spreadsheets take for a formula
_NUMBER = re.compile(r"[-+]?\d+([.,]\d+)?")


def save_rows(path: Path, rows: Sequence[Row], redactor: Redactor | None = None) -> None:
    """Rows that all have the same columns, under a line that names them, without the redactor's secrets. Raises FileTrouble."""
    text = io.StringIO()
    writer = csv.DictWriter(text, list(rows[0]), lineterminator="\n")
    writer.writeheader()
    writer.writerows({name: _cell(value) for name, value in row.items()} for row in rows)
    words = text.getvalue()
    write_whole(path, (redactor.words(words) if redactor is not None else words).encode())


def _cell(value: str) -> str:
    """A value as a cell: what a spreadsheet would reckon with gets an apostrophe, as people put there by hand."""
    return f"'{value}" if value[:1] in _FORMULA and not _NUMBER.fullmatch(value) else value


def _from_cell(cell: str) -> str:
    return cell[1:] if cell[:1] == "'" and cell[1:2] in _FORMULA and len(cell) > 1 else cell


def load_rows(path: Path) -> list[Row]:
    """All rows of a CSV as text by column. Raises FileTrouble naming the line that is wrong."""
    text = read_text(path).lstrip("\ufeff")
    reader = csv.reader(io.StringIO(text))
    try:
        lines = list(reader)
    except csv.Error as error:
        raise FileTrouble(f"{path.name} line {reader.line_num}: {error}.", path=path, line=reader.line_num) from error
    if not lines or not any(cell.strip() for cell in lines[0]):
        raise FileTrouble(f"{path.name} is empty: its first line names the columns.", path=path)
    columns = [cell.strip() for cell in lines[0]]
    twice = next((c for c in columns if columns.count(c) > 1), None)
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
