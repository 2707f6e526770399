"""The browsers of this computer, to be put on the bench one by one: which there are, and what to install where an engine is missing."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout

from ..links.browser.engines import ENGINES, Installed, installed
from ..links.browser.kept import BrowserSpec, wanted
from ..links.browser.source import BrowserSource
from ..model.errors import CopioneError
from .parts import Label, named, to_copy
from .workspace import Workspace


class BrowserCard(QFrame):
    """A line for each, with what puts it on the bench and what ends it. What is installed is looked up beside Qt's thread."""

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.setObjectName("card")
        self.workspace = workspace
        self._found: tuple[BrowserSpec, ...] = ()
        self._asked: set[str] = set()  # are being started
        self.buttons: dict[str, QPushButton] = {}
        self._layout = QVBoxLayout(self)
        self._layout.setSpacing(6)
        what = "Each is started for itself, with nobody's data in it, and is a device like any other. Its app is an address."
        words = Label(f"<b>Browsers of this computer</b><br>{what}", rich=True)
        words.setWordWrap(True)
        self._layout.addWidget(words)
        self.said = named(Label("Looking which are installed"), "muted")
        self.said.setWordWrap(True)
        self._layout.addWidget(self.said)
        workspace.devices_changed.connect(self._mark)
        workspace.courier.read(_look, self._show, self._failed)

    def _failed(self, error: CopioneError) -> None:
        self.said.setText(error.sentence)
        self.said.show()

    def _show(self, found: tuple[dict[str, Installed], Sequence[BrowserSpec]]) -> None:
        engines, browsers = found
        self.said.hide()
        for engine in (each for each in engines.values() if each.missing):
            missing = Label(f"{engine.engine.name}: {engine.missing}.")
            missing.setWordWrap(True)
            self._layout.addWidget(missing)
            self._layout.addLayout(to_copy(f"sudo apt install {engine.engine.packages}", engine.engine.name))
        self._found = tuple(each for each in browsers if each.endpoint or not engines[each.engine].missing)
        for browser in self._found:
            row = QHBoxLayout()
            row.addWidget(Label(browser.name), 2)
            facts = f"{browser.width} × {browser.height} dp, {browser.language}" + (", dark" if browser.dark else "")
            row.addWidget(named(Label(facts), "muted"), 3)
            button = QPushButton()
            button.setMinimumWidth(112)
            button.clicked.connect(lambda _checked=False, each=browser: self._toggle(each))
            self.buttons[browser.name] = button
            row.addWidget(button, 0, Qt.AlignmentFlag.AlignRight)
            self._layout.addLayout(row)
        self._mark()

    def _on_bench(self) -> dict[str, str]:
        """Those on the bench, with what is wrong with them."""
        return {d.listed.name: d.trouble for d in self.workspace.devices if isinstance(d.source, BrowserSource)}

    def _mark(self) -> None:
        there = self._on_bench()
        self._asked -= set(there)
        for name, button in self.buttons.items():
            starting = name in self._asked
            button.setText("Starting" if starting else "End it" if name in there else "Put on bench")
            button.setAccessibleName(f"{button.text()}: {name}")
            button.setEnabled(not starting)
        trouble = next((words for words in there.values() if words), "")
        if trouble:
            self.said.setText(trouble)
        self.said.setVisible(bool(trouble) or not self._found)

    def _toggle(self, browser: BrowserSpec) -> None:
        bench, name = self.workspace.bench, browser.name
        if name in self._on_bench():
            self.workspace.courier.think(lambda: bench.remove_browser(name), lambda _done: None, self._failed)
            return
        self._asked.add(name)
        self._mark()

        def failed(error: CopioneError) -> None:
            self._asked.discard(name)
            self._failed(error)
            self._mark()

        self.workspace.courier.think(lambda: bench.add_browsers([browser]), lambda _done: self._mark(), failed)


def _look() -> tuple[dict[str, Installed], tuple[BrowserSpec, ...]]:
    return {word: installed(engine) for word, engine in ENGINES.items()}, wanted()
