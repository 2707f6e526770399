"""Data rows: a CSV with a header line."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from pathlib import Path

from ..model.errors import FileTrouble
from .files import read_text, write_whole

Row = dict[str, str]


def save_rows(path: Path, rows: Sequence[Row]) -> None:
    """Rows that all have the same columns, under a line that names them. Raises FileTrouble."""
    text = io.StringIO()
    writer = csv.DictWriter(text, list(rows[0]), lineterminator="\n")
    writer.writeheader()
    writer.writerows(rows)
    write_whole(path, text.getvalue().encode())


def load_rows(path: Path) -> list[Row]:
    """All rows of a CSV as text by column. Raises FileTrouble naming the line that is wrong."""
    text = read_text(path).lstrip("\ufeff")
    lines = list(csv.reader(io.StringIO(text)))
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
        rows.append(dict(zip(columns, cells, strict=True)))
    if not rows:
        raise FileTrouble(f"{path.name} has columns and no rows.", path=path)
    return rows
