"""The script's tables under its text: edited in place, pasted into from a spreadsheet, imported from a file."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QGuiApplication, QKeyEvent, QKeySequence
from PySide6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QButtonGroup,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QMenu,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...files.writing import FileVersion
from ...model.errors import CopioneError
from ...project.data import Row, sniffed
from ..parts import Label, checkable, named, panel
from ..sheet import ask_name
from ..workspace import Workspace

ROWS_SHOWN = 5
KEPT = 30  # changes that can be taken back


class Tables(QWidget):
    """The data of the script and the tables of its loops, one at a time. `row_chosen`: the row for a trial, from 1."""

    row_chosen = Signal(int)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.workspace = workspace
        self.name = ""
        self.columns: list[str] = []
        self.row = 1
        self._filling = False
        self._writing: Counter[str] = Counter()  # how often each table is being written just now
        self._rows: list[Row] = []  # as they were laid, before what is being typed
        self._read: FileVersion | None = None  # of the file that they were read from
        self._undo: dict[str, list[list[Row]]] = {}  # by table, kept while the project is open
        self._redo: dict[str, list[list[Row]]] = {}
        head = panel("desk")
        self._tabs = QHBoxLayout(head)
        self._tabs.setContentsMargins(12, 5, 8, 5)
        self._tabs.setSpacing(4)
        self._names = QButtonGroup(self)
        self._told = named(Label(), "section")
        self.more = QPushButton("Change")
        self.more.setAccessibleName("Change the table")
        self.more.clicked.connect(self._menu)
        self.table = QTableWidget()
        self.table.setAccessibleName("Data rows")
        self.table.setCornerButtonEnabled(False)
        self.table.setTabKeyNavigation(False)  # the tabulator leaves it, arrows walk it
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectItems)
        self.table.verticalHeader().setFixedWidth(34)
        self.table.verticalHeader().setDefaultSectionSize(29)
        header = self.table.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        header.setStretchLastSection(True)
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        header.setFixedHeight(30)
        header.sectionDoubleClicked.connect(self._ask_column)
        self.table.itemChanged.connect(self._typed)
        self.table.currentCellChanged.connect(lambda row, *_rest: self._choose(row))
        self.table.installEventFilter(self)
        self.table.itemDelegate().closeEditor.connect(self.show_script)  # what was not laid while a cell was being typed
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(head)
        column.addWidget(self.table)

    # what is shown

    def show_script(self) -> None:
        """The tables that the script names now."""
        loaded = self.workspace.loaded
        names = list(loaded.tables) if loaded is not None else []
        own = loaded.script.data if loaded is not None else ""
        names.sort(key=lambda name: (name != own, name))
        self.setVisible(loaded is not None and bool(names))
        if self.name not in names:
            self.name, self.row = (names[0] if names else ""), 1
        self._show_names(names)
        if not self._writing[self.name] and self._typed_into() is None:  # what is read meanwhile is older than what stands here
            self._read = loaded.as_read.tables.get(self.name) if loaded is not None else None
            self._fill(loaded.tables.get(self.name, ()) if loaded is not None else ())

    def _show_names(self, names: Sequence[str]) -> None:
        shown = self._names.buttons()
        if [button.text() for button in shown] == list(names):  # one of them may be pressed just now
            for button in shown:
                button.setChecked(button.text() == self.name)
            return
        while (item := self._tabs.takeAt(0)) is not None:
            old = item.widget()
            if old is not None and old not in (self._told, self.more):
                self._names.removeButton(old)  # type: ignore[arg-type]
                old.deleteLater()
        for name in names:
            button = checkable(named(QPushButton(name), "table"))
            button.setChecked(name == self.name)
            button.setAccessibleName(f"Table {name}")
            button.clicked.connect(lambda _checked=False, n=name: self._show(n))
            self._names.addButton(button)
            self._tabs.addWidget(button)
        self._tabs.addStretch(1)
        self._tabs.addWidget(self._told)
        self._tabs.addWidget(self.more)

    def _show(self, name: str) -> None:
        self.take_in()
        self.name, self.row = name, 1
        self.show_script()

    def _fill(self, rows: Sequence[Row]) -> None:
        columns = list(rows[0]) if rows else []
        shown = [row for row in self.rows() if any(row.values())]  # an empty one is none in the file: it waits to be filled
        if columns == self.columns and list(rows) == shown and shown:
            self._tell()
            return
        self._lay(rows)

    def _lay(self, rows: Sequence[Row]) -> None:
        """Those rows, whatever was there."""
        columns = list(rows[0]) if rows else []
        self._filling = True
        self.columns, self._rows = columns, [dict(row) for row in rows]
        here = self.table.currentRow(), self.table.currentColumn()
        self.table.setColumnCount(len(columns))
        self.table.setRowCount(len(rows))
        self.table.setHorizontalHeaderLabels(columns)
        self.table.setVerticalHeaderLabels([str(number) for number in range(1, len(rows) + 1)])
        for r, row in enumerate(rows):
            for c, name in enumerate(columns):
                item = self.table.item(r, c)
                if item is None:
                    self.table.setItem(r, c, QTableWidgetItem(row[name]))
                elif item.text() != row[name]:
                    item.setText(row[name])
        self.table.setFixedHeight(min(ROWS_SHOWN, len(rows)) * 29 + 34)
        if columns and 0 <= here[0] < len(rows) and here[1] < len(columns):
            self.table.setCurrentCell(*here)
        self._filling = False
        self._tell()

    def _tell(self) -> None:
        count = self.table.rowCount()
        own = self.workspace.loaded is not None and self.workspace.loaded.script.data == self.name
        trial = f"row {min(self.row, count)} of {count} for a trial" if own and count > 1 else ""
        self._told.setText(trial or f"{count} row{'s' * (count != 1)}")

    def _choose(self, row: int) -> None:
        if row >= 0 and not self._filling and row + 1 != self.row:
            self.row = row + 1
            self._tell()
            self.row_chosen.emit(self.row)

    # changing

    def rows(self) -> list[Row]:
        """What the table says."""

        def cell(r: int, c: int) -> str:
            item = self.table.item(r, c)
            return item.text() if item is not None else ""

        return [{name: cell(r, c) for c, name in enumerate(self.columns)} for r in range(self.table.rowCount())]

    def _put(self, rows: list[Row], *, undo: bool = True) -> None:
        """Another content, written at once; a table has one column and one row at least."""
        if not rows or not rows[0]:
            self.workspace.told.emit("A table has at least one column and one row.")
            self.show_script()
            return
        if undo:
            self._undo[self.name] = [*self._undo.get(self.name, [])[-KEPT:], self._rows]
            self._redo.pop(self.name, None)
        name = self.name
        self._writing[name] += 1
        self.workspace.saving.save_table(name, rows, self._read, lambda: self._writing.subtract([name]))
        self._lay(rows)

    def undo(self) -> bool:
        """Take the last change back; was there one?"""
        return self._taken(self._undo, self._redo)

    def redo(self) -> bool:
        """And do it again."""
        return self._taken(self._redo, self._undo)

    def _taken(self, here: dict[str, list[list[Row]]], there: dict[str, list[list[Row]]]) -> bool:
        self.take_in()
        if not here.get(self.name):
            return False
        rows = here[self.name].pop()
        there.setdefault(self.name, []).append(self._rows)
        self._put(rows, undo=False)
        return True

    def forget(self) -> None:
        """Another project: what was done to a table of this name was done to another one."""
        self._undo, self._redo = {}, {}

    def _typed(self, _item: QTableWidgetItem) -> None:
        if not self._filling:
            self._put(self.rows())

    def take_in(self) -> None:
        """What is being typed into a cell."""
        field = self._typed_into()
        if field is not None:
            self.table.commitData(field)
            self.table.closeEditor(field, QAbstractItemDelegate.EndEditHint.NoHint)

    def _typed_into(self) -> QLineEdit | None:
        """The field over a cell, while one is being typed into."""
        editing = self.table.state() == QAbstractItemView.State.EditingState
        return self.table.viewport().findChild(QLineEdit) if editing else None

    def _menu(self) -> None:
        menu = QMenu(self)
        menu.addAction("Add a row", self.add_row)
        menu.addAction("Remove the row", self.remove_row)
        menu.addSeparator()
        menu.addAction("Add a column …", self.add_column)
        menu.addAction("Rename the column …", lambda: self._ask_column(self.table.currentColumn()))
        menu.addAction("Remove the column", self.remove_column)
        menu.addSeparator()
        menu.addAction("Paste a table", self.paste)
        menu.addAction("Import a file …", self.ask_import)
        menu.exec(self.more.mapToGlobal(self.more.rect().bottomLeft()))
        menu.deleteLater()

    def add_row(self) -> None:
        """An empty one behind the current."""
        rows = self.rows()
        place = self.table.currentRow() + 1 if self.table.currentRow() >= 0 else len(rows)
        rows.insert(place, dict.fromkeys(self.columns, ""))
        self._put(rows)
        self.table.setCurrentCell(place, 0)

    def remove_row(self) -> None:
        """The current one."""
        rows = self.rows()
        place = self.table.currentRow()
        if 0 <= place < len(rows) and len(rows) > 1:
            del rows[place]
            self._put(rows)
        else:
            self.workspace.told.emit("A table has at least one row.")

    def add_column(self) -> None:
        """With a name, empty in each row."""

        def done(name: str) -> None:
            if name in self.columns:
                self.workspace.told.emit(f"There is a column {name} already.")
                return
            self._put([{**row, name: ""} for row in self.rows()])

        ask_name(self, "A new column", "Add it", "", done)

    def remove_column(self) -> None:
        """The current one."""
        place = self.table.currentColumn()
        if 0 <= place < len(self.columns) and len(self.columns) > 1:
            gone = self.columns[place]
            self._put([{name: value for name, value in row.items() if name != gone} for row in self.rows()])
        else:
            self.workspace.told.emit("A table has at least one column.")

    def _ask_column(self, place: int) -> None:
        """Another name for a column, also where the script uses it."""
        if 0 <= place < len(self.columns):
            old = self.columns[place]
            ask_name(self, f"Rename the column {old}", "Rename it", old, lambda new: self.workspace.editing.rename_variable(old, new))

    def _empty_chosen(self) -> None:
        """The cells that are chosen, as one change."""
        rows, chosen = self.rows(), [(index.row(), index.column()) for index in self.table.selectedIndexes()]
        for row, column in chosen:
            rows[row][self.columns[column]] = ""
        if rows != self._rows:
            self._put(rows)

    # from elsewhere

    def paste(self) -> None:
        """What a spreadsheet put on the clipboard: from the current cell on; with a head of column names, the whole table."""
        words = QGuiApplication.clipboard().text()
        try:
            cells = sniffed(words.encode())
        except CopioneError as error:
            self.workspace.told.emit(error.sentence)
            return
        if set(cells[0]) == set(self.columns) and len(cells) > 1:
            self._put([dict(zip(cells[0], row, strict=True)) for row in cells[1:]])
            return
        rows, top, left = self.rows(), max(0, self.table.currentRow()), max(0, self.table.currentColumn())
        for r, line in enumerate(cells):
            while top + r >= len(rows):
                rows.append(dict.fromkeys(self.columns, ""))
            for c, value in enumerate(line[: len(self.columns) - left]):
                rows[top + r][self.columns[left + c]] = value
        self._put(rows)

    def ask_import(self) -> None:
        """A file of whatever separator and encoding, in place of this table."""
        name, _ = QFileDialog.getOpenFileName(self, "Import a table", "", "Tables (*.csv *.tsv *.txt);;All files (*)")
        if name:
            self.import_table(Path(name))

    def import_table(self, path: Path) -> None:
        """Read a file as the table: its first line names the columns."""

        def read() -> list[Row]:
            from ...files.reading import FileKind, read_bytes

            cells = sniffed(read_bytes(path, FileKind.TABLE))
            if len(cells) < 2 or len(set(cells[0])) < len(cells[0]) or not all(cells[0]):
                raise CopioneError(f"{path.name}: the first line must name the columns, each once, and at least one row must follow.")
            return [dict(zip(cells[0], row, strict=True)) for row in cells[1:]]

        self.workspace.courier.read(read, self._put, self.workspace.failed)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.KeyPress and watched is self.table and isinstance(event, QKeyEvent):
            if event.matches(QKeySequence.StandardKey.Paste):
                self.paste()
                return True
            if event.key() == Qt.Key.Key_Delete:
                self._empty_chosen()
                return True
            if event.key() == Qt.Key.Key_Insert:
                self.add_row()
                return True
        return super().eventFilter(watched, event)
