"""The findings: what differs between devices and what was noticed besides, worst first; the chosen one's evidence and write-up beside."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from PySide6.QtCore import QModelIndex, Qt, Signal
from PySide6.QtGui import QKeyEvent, QShowEvent
from PySide6.QtWidgets import QAbstractItemView, QHBoxLayout, QListView, QMenu, QPushButton, QSplitter, QVBoxLayout, QWidget

from ...comparison.causes import FindingKind
from ...comparison.finding import Finding
from ...comparison.standing import Allowance, Assessed, FindingStanding
from ...model.wording import number
from ..actions import Entry, ShortcutScope
from ..message import Notice
from ..page import RunPage
from ..parts import Label, checkable, named, panel
from ..pictures import PictureCache
from ..renewing import Renewing
from ..shelf import Shelf
from ..wording import day_said
from ..workspace import Workspace
from .expecting import WHO, ask_why
from .known import KnownFindings
from .panel import FindingPanel
from .rows import FindingRows, Painting, Row

ALL, NEW, GONE, EXPECTED = range(4)
MOST_RUNS = 20  # that are offered to compare with


class FindingsPage(RunPage):
    """`open_asked` with the finding that is to be looked at in the lanes."""

    title = "Findings"
    open_asked = Signal(object)

    def __init__(self, workspace: Workspace, shelf: Shelf, pictures: PictureCache, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self.shelf, self.pictures = shelf, pictures
        self.known = KnownFindings(workspace, self)
        self.renewing = Renewing(self, workspace)
        self._filter = ALL
        self._only: dict[str, str] = {}  # what is shown of a device, a scene, a kind
        self.rows = FindingRows()
        self.list = _List(self.rows)
        self.list.setModel(self.rows)
        self.list.setItemDelegate(Painting(self.rows, self.runs, pictures))
        self.list.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.list.setAccessibleName("Findings")
        self.panel = FindingPanel(workspace, self.known, self.renewing)
        self._split = QSplitter(Qt.Orientation.Horizontal)
        self._split.addWidget(self._left())
        self._split.addWidget(self.panel)
        self._split.setSizes([790, 490])
        self._split.setStretchFactor(0, 1)
        self._split.setChildrenCollapsible(False)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self._split)
        self.list.selectionModel().currentChanged.connect(self._chosen)
        self.list.opened.connect(self._open)
        self.panel.open_asked.connect(self.open_asked)
        self.panel.expect_asked.connect(self._expect)
        self.panel.back_asked.connect(self.known.not_expected)
        self.panel.save_asked.connect(self._save)
        self.panel.renew_asked.connect(self._renew)
        pictures.arrived.connect(self.list.viewport().update)
        self.runs.changed.connect(self._refresh)
        self.known.changed.connect(self._refresh)
        self._refresh()

    def _left(self) -> QWidget:
        self._headline, self._counts = named(Label(), "headline"), named(Label(), "muted")
        self._against = named(QPushButton(), "link")
        self._against.setAccessibleName("The run to compare with")
        self._against.setMenu(_menu(self._against, self._fill_runs))
        head = QHBoxLayout()
        head.setContentsMargins(18, 14, 18, 8)
        head.setSpacing(12)
        head.addWidget(self._headline)
        head.addWidget(self._counts, 1)
        head.addWidget(self._against)
        self._filters = [named(checkable(QPushButton()), "choice") for _ in range(4)]
        line = QHBoxLayout()
        line.setContentsMargins(18, 0, 18, 12)
        line.setSpacing(6)
        for which, button in enumerate(self._filters):
            button.clicked.connect(partial(self._show_only, which))
            line.addWidget(button)
        line.addStretch(1)
        self._menus = {}
        for name in ("Device", "Scene", "Kind"):
            button = QPushButton(name)
            button.setMenu(_menu(button, partial(self._fill_choices, name)))
            self._menus[name] = button
            line.addWidget(button)
        side = panel("page")
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addLayout(line)
        column.addWidget(self.list, 1)
        return side

    # as a page

    def take_focus(self) -> None:
        """The list is walked by the arrow keys."""
        self.list.setFocus()

    def splitter(self) -> QSplitter:
        """Between the list and the chosen finding."""
        return self._split

    def undo(self) -> None:
        """What was last said to be expected, or not any more."""
        self.known.undo()

    def redo(self) -> None:
        """Do that again."""
        self.known.redo()

    def entries(self) -> Sequence[Entry]:
        """What can be done with the chosen finding."""

        def chosen(act: Callable[[FindingStanding], object]) -> Callable[[], object]:
            return lambda: act(self.panel.standing) if self.panel.standing is not None else None

        def any_chosen() -> bool:
            return self.panel.standing is not None

        wants = "a finding to be chosen"
        return (
            Entry(
                "Edit",
                "Copy the write-up with its pictures",
                "Ctrl+Shift+C",
                self.panel.copy_write_up,
                any_chosen,
                ShortcutScope.PAGE,
                wants,
            ),
            Entry("Edit", "Expected here…", "Ctrl+J", chosen(self._toggle), any_chosen, ShortcutScope.PAGE, wants),
            Entry(
                "Edit",
                "Take over what is meant so…",
                "Ctrl+Shift+J",
                chosen(self._renew),
                self._can_renew,
                ShortcutScope.PAGE,
                "another reading",
            ),
            Entry(
                "View", "Show the finding in the lanes", "Ctrl+Return", chosen(self._show_in_lanes), any_chosen, ShortcutScope.PAGE, wants
            ),
            Entry(
                "Project", "Save all findings as Markdown", "", self._save_all, lambda: bool(self.rows.rows), ShortcutScope.PAGE, "findings"
            ),
        )

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._refresh()

    # what it shows

    def _refresh(self) -> None:
        if not self.isVisible():
            return  # looked at again when it comes into sight
        lanes, known = self.runs.lanes, self.known.assessed
        if not lanes.columns:
            self._headline.setText("No run yet")
            self._counts.setText("Replay a script on two devices or more.")
        else:
            self._headline.setText(_headline(known))
            self._counts.setText(f"{lanes.done} outcomes")
        self._against.setText(f"compared with {known.since}" if known.since else "compare with a run")
        new = sum(each.new and not each.expected for each in known.standing)
        expected = sum(bool(each.expected) for each in known.standing)
        since = f" since {known.since.partition(',')[0]}" if known.since else ""
        words = ("All", f"New{since} · {new}", f"Gone · {len(known.gone)}", f"Expected · {expected}")
        for which, (button, told) in enumerate(zip(self._filters, words, strict=True)):
            button.setText(told)
            button.setChecked(which == self._filter)
            button.setEnabled(which in (ALL, EXPECTED) or bool(known.since))
        before = self.panel.standing
        if self.rows.show(self._wanted(known)):
            self._choose_again(before)
        elif before is None:
            self._choose_again(None)

    def _wanted(self, known: Assessed) -> tuple[Row, ...]:
        """The rows: causes, then what was noticed, by the filters."""
        if self._filter == GONE:
            return tuple(Row(FindingStanding(finding), gone=True) for finding in known.gone if self._fits(finding))
        standing = [each for each in known.standing if self._fits(each.finding)]
        if self._filter == NEW:
            standing = [each for each in standing if each.new and not each.expected]
        else:
            standing = [each for each in standing if bool(each.expected) == (self._filter == EXPECTED)]
        causes = [Row(each) for each in standing if each.finding.kind is not FindingKind.REMARK]
        noticed = [Row(each) for each in standing if each.finding.kind is FindingKind.REMARK]
        return (*causes, *([Row(words="Noticed, though no check asked")] if noticed else []), *noticed)

    def _fits(self, finding: Finding) -> bool:
        device, scene, kind = (self._only.get(name, "") for name in ("Device", "Scene", "Kind"))
        return (not device or device in finding.devices) and scene in ("", finding.scene) and kind in ("", finding.flag)

    def _choose_again(self, before: FindingStanding | None) -> None:
        """The one that was chosen, as it stands now; else the first."""
        key = before.finding.key if before is not None else None
        places = [place for place, row in enumerate(self.rows.rows) if row.finding is not None]
        place = next((p for p in places if (f := self.rows.rows[p].finding) is not None and f.key == key), next(iter(places), None))
        if place is None:
            self.panel.show_finding(None)
            return
        self.list.setCurrentIndex(self.rows.index(place))
        self.panel.show_finding(self.rows.rows[place].standing)

    def _chosen(self, index: QModelIndex, _before: QModelIndex) -> None:
        if index.isValid() and (standing := self.rows.rows[index.row()].standing) is not None:
            self.panel.show_finding(standing)

    def _show_only(self, which: int, _checked: bool = False) -> None:
        self._filter = which
        self._refresh()
        self.take_focus()

    def _fill_choices(self, name: str, menu: QMenu) -> None:
        found = [each.finding for each in self.known.assessed.standing]
        values = {
            "Device": dict.fromkeys(device for f in found for device in f.devices),
            "Scene": dict.fromkeys(f.scene for f in found),
            "Kind": dict.fromkeys(f.flag for f in found),
        }[name]
        for words, value in (("All", ""), *((value, value) for value in values)):
            action = menu.addAction(words, partial(self._show_some, name, value))
            action.setCheckable(True)
            action.setChecked(self._only.get(name, "") == value)

    def _show_some(self, name: str, value: str) -> None:
        self._only[name] = value
        self._menus[name].setText(value or name)
        self._refresh()

    def _fill_runs(self, menu: QMenu) -> None:
        menu.addAction("The run before of the same script", lambda: self.known.compare_with(None))
        menu.addSeparator()
        for entry in [each for each in self.shelf.runs if each.script == self.runs.title and each.folder != self.runs.folder][:MOST_RUNS]:
            words = f"{day_said(entry.started)} · build {', '.join(entry.builds)}"
            menu.addAction(words, partial(self.known.compare_with, entry.folder))

    # what is done

    def _open(self, place: int) -> None:
        finding = self.rows.rows[place].finding
        if finding is not None:
            self.open_asked.emit(finding)

    def _show_in_lanes(self, standing: FindingStanding) -> None:
        self.open_asked.emit(standing.finding)

    def _toggle(self, standing: FindingStanding) -> None:
        if standing.expected:
            self.known.not_expected(standing.finding)
        else:
            self._expect(standing.finding)

    def _expect(self, finding: Finding) -> None:
        def done(allowance: Allowance) -> None:
            self.workspace.given.remember(WHO, allowance.who)
            self.known.expect(allowance)

        ask_why(self, finding, self.runs.title, self.workspace.given.remembered(WHO), done)

    def _can_renew(self) -> bool:
        standing = self.panel.standing
        return standing is not None and self.renewing.place(standing.finding) is not None

    def _renew(self, standing: FindingStanding) -> None:
        self.renewing.ask(standing.finding)

    def _save_all(self) -> None:
        self._save(tuple(row.finding for row in self.rows.rows if row.finding is not None))

    def _save(self, found: Sequence[Finding]) -> None:
        lanes, folder = self.runs.lanes, self.workspace.project.folder / "defects"
        title = found[0].title if len(found) == 1 else f"{len(found)} findings of {self.runs.title}"

        def write() -> Path:
            from ...report.writeup import save

            return save(folder, lanes, found, title)

        self.workspace.courier.with_files(
            write, lambda path: self.workspace.offered.emit(Notice(f"Saved as {path}")), self.workspace.failed
        )


def _headline(known: Assessed) -> str:
    causes = sum(f.kind is not FindingKind.REMARK for f in known.open)
    noticed = len(known.open) - causes
    differ = {0: "Nothing differs", 1: "One thing differs"}.get(causes, f"{number(causes).capitalize()} things differ")
    if not noticed:
        return differ
    return f"{differ}, {number(noticed)} more {'was' if noticed == 1 else 'were'} noticed"


def _menu(parent: QWidget, fill: Callable[[QMenu], object]) -> QMenu:
    """A menu that is filled when it opens."""
    menu = QMenu(parent)

    def refill() -> None:
        menu.clear()
        fill(menu)

    menu.aboutToShow.connect(refill)
    return menu


class _List(QListView):
    """Enter or a double click opens a row."""

    opened = Signal(int)

    def __init__(self, model: FindingRows) -> None:
        super().__init__()
        self.rows = model
        self.doubleClicked.connect(lambda index: self.opened.emit(index.row()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not event.modifiers() and self.currentIndex().isValid():
            self.opened.emit(self.currentIndex().row())
        else:
            super().keyPressEvent(event)
