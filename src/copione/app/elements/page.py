"""The elements of the app in one place: by page, where each is used, how it fared, and whether it is on the lead now."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QImage, QShowEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QScrollArea,
    QSplitter,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...language.refactor import named_target
from ...model.errors import CopioneError
from ...model.outcome import Cause, Reason
from ...model.portrait import NotFound, Sighting
from ...model.roles import roles_of
from ...model.screen import Element, Moment
from ...project.naming import frames_folder
from .. import theme
from ..actions import Entry, ShortcutScope
from ..page import Button, WindowPage
from ..parts import Label, named, panel, section
from ..pictures import PictureCache
from ..script.frame import FrameView
from ..sheet import ask_name
from ..wording import quoted
from ..workspace import Workspace
from .known import KnownView
from .sighted import SightedView

if TYPE_CHECKING:
    from ...project.elements import KnownElement

ROOM = int(Qt.ItemDataRole.UserRole)


class ElementsPage(WindowPage):
    """A list by page; of the chosen one its portraits, its uses, its outcomes."""

    title = "Elements"
    use_asked = Signal(object, int)  # a script and a line to look at

    def __init__(self, workspace: Workspace, pictures: PictureCache, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.workspace, self.pictures = workspace, pictures
        self.elements: tuple[KnownElement, ...] = ()
        self._shown: KnownElement | None = None
        self._portrait = 0  # which of its portraits
        self.search = QLineEdit(placeholderText="Search")
        self.search.setAccessibleName("Search elements")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(lambda _words: self._fill())
        self.tree = QTreeWidget()
        self.tree.setHeaderHidden(True)
        self.tree.setAccessibleName("Elements by page")
        self.tree.setIndentation(14)
        self.tree.currentItemChanged.connect(lambda *_: self._choose())
        left = panel("side")
        column = QVBoxLayout(left)
        column.setContentsMargins(14, 14, 10, 10)
        column.addWidget(self.search)
        column.addWidget(self.tree, 1)
        self.frame = FrameView(pictures)
        self.frame.setAccessibleName("Where it was recorded")
        self.sighted = SightedView()
        self._sighted_said = Label()
        self._sighted_said.setWordWrap(True)
        desk = panel("desk")
        across = QHBoxLayout(desk)
        across.setContentsMargins(0, 8, 0, 8)
        self._sides: list[QWidget] = []
        for words, view in (("As recorded", self.frame), ("On the lead now", self.sighted)):
            side = QWidget()
            inner = QVBoxLayout(side)
            title = section(words)
            title.setContentsMargins(18, 6, 0, 0)
            inner.addWidget(title)
            inner.addWidget(view, 1)
            if view is self.sighted:
                inner.addWidget(self._sighted_said)
                self._sighted_said.setContentsMargins(18, 0, 12, 4)
            self._sides.append(side)
            across.addWidget(side, 1)
        self._sides[1].hide()
        self._side = self._make_side()
        self._splitter = QSplitter(Qt.Orientation.Horizontal)
        for widget in (left, desk, self._side):
            self._splitter.addWidget(widget)
        self._splitter.setSizes([300, 520, 400])
        self._splitter.setChildrenCollapsible(False)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self._splitter)
        workspace.script_changed.connect(self._stale)
        workspace.project_opened.connect(self._stale)
        workspace.lead.device_changed.connect(self.changed)

    def _make_side(self) -> QWidget:
        """What is known of the chosen one, and what can be done."""
        self._title = named(Label(), "title")
        self._title.setWordWrap(True)
        self._about = named(Label(), "muted")
        self._about.setWordWrap(True)
        self.look = named(QPushButton("Look for it on the lead"), "check")
        self.look.clicked.connect(self.look_now)
        self.rename = QPushButton("Rename …")
        self.rename.clicked.connect(self.ask_rename)
        self.merge = QPushButton("Merge …")
        self.merge.clicked.connect(self.ask_merge)
        self.forget = QPushButton("Delete")
        self.forget.setEnabled(False)
        self.forget.clicked.connect(self.delete)
        first, second = QHBoxLayout(), QHBoxLayout()
        first.addWidget(self.look)
        first.addStretch(1)
        for button in (self.rename, self.merge, self.forget):
            second.addWidget(button)
        second.addStretch(1)
        self._known = KnownView()
        self._known.turned.connect(self._turn_to)
        self._known.use_asked.connect(self.use_asked)
        inner = panel("side")
        column = QVBoxLayout(inner)
        column.setContentsMargins(18, 14, 18, 16)
        column.setSpacing(8)
        for widget in (self._title, self._about):
            column.addWidget(widget)
        column.addLayout(first)
        column.addLayout(second)
        column.addWidget(self._known)
        column.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setWidget(inner)
        side = panel("side")
        outer = QVBoxLayout(side)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scroll)
        side.setMinimumWidth(300)
        return side

    # as a page

    def primary(self) -> Button:
        """Look for the chosen one on the lead."""
        ready = self._shown is not None and self.workspace.lead.device is not None
        return Button("Look for it", self.look_now, ready)

    def about(self) -> str:
        """How many there are."""
        pages = len({e.page for e in self.elements})
        return f"{len(self.elements)} elements on {pages} pages" if self.elements else self.workspace.project.name

    def entries(self) -> Sequence[Entry]:
        """What can be done with the chosen one."""
        there: Callable[[], bool] = lambda: self._shown is not None  # noqa: E731
        return [
            Entry("Edit", "Look for the element on the lead", "Ctrl+Return", self.look_now, there, ShortcutScope.PAGE, "an element"),
            Entry("Edit", "Rename the element", "F2", self.ask_rename, there, ShortcutScope.PAGE, "an element"),
            Entry("Edit", "Merge the element with another", "", self.ask_merge, there, ShortcutScope.PAGE, "an element"),
            Entry("Edit", "Delete the element that nothing uses", "Del", self.delete, there, ShortcutScope.PAGE, "an element"),
        ]

    def take_focus(self) -> None:
        """Keys are for the list."""
        self.tree.setFocus()

    def splitter(self) -> QSplitter:
        """Between list, frames and what is known."""
        return self._splitter

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.refresh()

    # what it shows

    def _stale(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Read the project again, beside the window's own work."""
        from ...project.elements import elements_of

        project = self.workspace.project
        self.workspace.courier.read(lambda: elements_of(project), self._take, self.workspace.failed)

    def _take(self, elements: tuple[KnownElement, ...]) -> None:
        self.elements = elements
        self._fill()
        self.changed.emit()

    def _fill(self) -> None:
        chosen = self._shown.words if self._shown is not None else ""
        wanted = self.search.text().casefold()
        self.tree.blockSignals(True)
        self.tree.clear()
        pages: dict[str, QTreeWidgetItem] = {}
        current: QTreeWidgetItem | None = None
        for each in self.elements:
            if wanted and wanted not in each.words.casefold() and wanted not in each.page.casefold():
                continue
            page = pages.get(each.page)
            if page is None:
                page = pages[each.page] = QTreeWidgetItem(self.tree, [each.page])
                page.setFont(0, theme.font(theme.BODY, 600))
                page.setFlags(Qt.ItemFlag.ItemIsEnabled)
                page.setExpanded(True)
            item = QTreeWidgetItem(page, [quoted(each.words)])
            item.setData(0, ROOM, each)
            if not each.uses:
                item.setForeground(0, theme.MUTED)
                item.setText(0, f"{quoted(each.words)}   not used")
            if each.words == chosen or current is None:
                current = item
        self.tree.blockSignals(False)
        if current is not None:
            self.tree.setCurrentItem(current)
        self._choose()

    def choose(self, words: str) -> None:
        """Show the element of those words."""
        for number in range(self.tree.topLevelItemCount()):
            page = self.tree.topLevelItem(number)
            for row in range(page.childCount() if page is not None else 0):
                item = page.child(row) if page is not None else None
                if item is not None and item.data(0, ROOM).words == words:
                    self.tree.setCurrentItem(item)

    def _choose(self) -> None:
        item = self.tree.currentItem()
        found = item.data(0, ROOM) if item is not None else None
        if found is None or self._shown is None or found.words != self._shown.words:
            self._portrait = 0
            self._sides[1].hide()
        self._shown = found
        self._show()
        self.changed.emit()

    def _show(self) -> None:
        element = self._shown
        self._side.setVisible(element is not None)
        if element is None:
            self.frame.show_portrait(None, None, False)
            return
        self._title.setText(quoted(element.words))
        scripts = {path.stem for path, _ in element.portraits} | {use.path.stem for use in element.uses}
        builds = f"; its own for build {', '.join(element.builds)}" if element.builds else ""
        many = len(element.portraits)
        self._about.setText(f"{many} portrait{'s' * (many != 1)} in {len(scripts)} script{'s' * (len(scripts) != 1)}{builds}")
        self.look.setEnabled(self.workspace.lead.device is not None)
        self.forget.setEnabled(not element.uses)
        self.forget.setToolTip("Steps use it" if element.uses else "Nothing uses it")
        self._portrait = max(0, min(self._portrait, many - 1))
        self._known.show_element(element, self._portrait)
        if not many:
            self.frame.show_portrait(None, None, False)
            return
        path, portrait = element.portraits[self._portrait]
        self.frame.show_portrait(portrait, frames_folder(path) / portrait.picture if portrait.picture else None, True)

    def _turn_to(self, number: int) -> None:
        self._portrait = number
        self._show()

    # what is done

    def look_now(self) -> None:
        """Is it on the lead's screen, how surely, and what comes next?"""
        element, lead = self._shown, self.workspace.lead
        if element is None or lead.device is None or lead.device.worker is None:
            return
        try:
            target = named_target(element.words)
        except CopioneError as error:
            self.workspace.failed(error)
            return
        portraits = tuple(p for _, p in element.portraits)
        asked = element

        def seen(moment: Moment) -> None:
            from ...recognition.sighting import sight

            screen = moment.screen

            def job() -> tuple[QImage, Sighting | NotFound]:
                image = QImage.fromData(moment.png)
                if screen is None:
                    return image, NotFound(_nothing(moment.trouble))
                return image, sight(screen, target, roles_of(target.role), portraits)

            self.workspace.courier.think(job, lambda found: self._sight(asked, *found))

        self.workspace.courier.deliver(lead.device.worker.submit(lambda link: link.moment()), seen, self.workspace.failed)

    def _sight(self, element: KnownElement, image: QImage, found: Sighting | NotFound) -> None:
        if self._shown is None or element.words != self._shown.words:
            return
        near = found.second if isinstance(found, Sighting) or found.ambiguous else None
        second = f"; next comes {quoted(near.called)}, {found.margin:.0%} behind" if near is not None else ""
        self._sides[1].show()
        pick: Element | None = found.element if isinstance(found, Sighting) else None
        self.sighted.show_screen(image, pick, near)
        if isinstance(found, Sighting):
            by = " and ".join(each.value for each in found.by)
            weaker = f" ({found.weaker})" if found.weaker else ""
            self._sighted_said.setText(f"Here, by {by}{weaker}: {found.score:.0%} of the evidence{second}.")
        else:
            self._sighted_said.setText(f"Not found: {quoted(found.reason)}{second}.")

    def ask_rename(self) -> None:
        """Other words for it, in every script."""
        element = self._shown
        if element is not None:
            ask_name(self, "Rename it in every script", "Rename it", element.words, lambda words: self._renamed(element, words))

    def _renamed(self, element: KnownElement, words: str) -> None:
        from ...project.elements import rename_element

        try:
            target = named_target(words)
        except CopioneError as error:
            self.workspace.failed(error)
            return
        project = self.workspace.project
        self._changed(lambda: rename_element(project, element.words, target), "Renamed")

    def ask_merge(self) -> None:
        """With another one, which keeps its words."""
        element = self._shown
        if element is None:
            return
        menu = QMenu(self)
        menu.setAccessibleName("Merge it into")
        own = element.words.partition(" ")[0]
        for other in self.elements:
            if other.words != element.words and other.words.partition(" ")[0] == own:
                menu.addAction(f"Into {quoted(other.words)}".replace("&", "&&")).triggered.connect(
                    lambda _checked=False, o=other: self._merged(element, o)
                )
        if menu.isEmpty():
            menu.addAction("No other element is of its kind").setEnabled(False)
        menu.exec(self.merge.mapToGlobal(self.merge.rect().bottomLeft()))
        menu.deleteLater()

    def _merged(self, element: KnownElement, other: KnownElement) -> None:
        from ...project.elements import merge_elements

        project = self.workspace.project
        self._changed(lambda: merge_elements(project, element.words, other.words), "Merged")

    def delete(self) -> None:
        """The portraits of one that nothing uses."""
        element = self._shown
        if element is None or element.uses:
            self.workspace.told.emit("Steps use it: delete or change those first.")
            return
        from ...project.elements import forget_element

        project = self.workspace.project
        self._changed(lambda: forget_element(project, element.words), "Deleted")

    def _changed(self, change: Callable[[], list[str]], done: str) -> None:
        """A change of several files; the script that is open is read again where it is among them."""

        def told(names: list[str]) -> None:
            self.workspace.told.emit(f"{done} in {', '.join(names)}." if names else "Nothing was changed.")
            loaded = self.workspace.loaded
            if loaded is not None and loaded.path.name in names:
                self.workspace.open_script(loaded.path, self.workspace.line)
            self.refresh()

        self.workspace.courier.with_files(change, told, self.workspace.failed)


def _nothing(trouble: str) -> Reason:
    return Reason(Cause.NO_TREE, trouble or "the device tells nothing of its screen")
