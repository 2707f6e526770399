"""How to connect a device: what is on the ports, what the adb server says, and what to do, with the words to copy."""

from __future__ import annotations

import html
from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QDialog, QFrame, QHBoxLayout, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ..links.usb import Hint, Plugged, hints, plugged
from ..links.webdriver.examining import Examined
from ..model.errors import CopioneError, LinkError
from . import theme
from .browsers import BrowserCard
from .parts import Label, named, to_copy
from .reaching import Reaching
from .wireless import WirelessCard
from .workspace import Workspace

LOOK_MS = 1500


class ConnectDialog(QDialog):
    """Stays up to date while it is open."""

    def __init__(self, workspace: Workspace, reaching: Reaching, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.workspace, self.reaching = workspace, reaching
        self.setWindowTitle("Connect a device")
        self.setMinimumSize(620, 660)
        title = named(Label("Connect a device"), "title")
        title.setFont(theme.font(theme.HEADLINE, 600))
        self.now = named(Label(), "muted")
        self.now.setWordWrap(True)
        self.ports = Label()
        self.ports.setWordWrap(True)
        self._hints = QVBoxLayout()
        self._hints.setSpacing(8)
        holder = QWidget()
        inner = QVBoxLayout(holder)
        inner.setContentsMargins(0, 0, 8, 0)
        inner.setSpacing(10)
        inner.addLayout(self._hints)
        self.browsers = BrowserCard(workspace)
        self.wireless = WirelessCard(workspace)
        inner.addWidget(self.wireless)
        inner.addWidget(self._endpoint())
        inner.addWidget(self.browsers)
        inner.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidget(holder)
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # the keys come to what is in it
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(24, 20, 24, 18)
        layout.setSpacing(8)
        for widget in (title, self.now, self.ports):
            layout.addWidget(widget)
        layout.addWidget(scroll, 1)
        layout.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        self._shown: list[Hint] | None = None
        self._looking = False
        self.look_at_ports: Callable[[], list[Plugged]] = plugged
        self._timer = QTimer(self, interval=LOOK_MS)
        self._timer.timeout.connect(self.refresh)
        self._timer.start()
        workspace.devices_changed.connect(self.refresh)
        self.refresh()

    def _endpoint(self) -> QWidget:
        """A field for a WebDriver endpoint, which is remembered."""
        card = named(QFrame(), "card")
        layout = QVBoxLayout(card)
        what = "Give the address of its endpoint once; it is looked for at once, and at every start from then on."
        words = Label(f"<b>A device behind WebDriver</b><br>{what}", rich=True)
        words.setWordWrap(True)
        self.address = QLineEdit(placeholderText="http://192.168.0.7:4444")
        self.address.setAccessibleName("Address of a WebDriver endpoint")
        add = QPushButton("Look there")
        add.clicked.connect(self._remember)
        self.address.returnPressed.connect(self._remember)
        self.said = named(Label(), "muted")
        self.said.setWordWrap(True)
        self.said.hide()
        row = QHBoxLayout()
        row.addWidget(self.address, 1)
        row.addWidget(add)
        self.test = QPushButton("Test connection")
        self.test.setToolTip("Go from the name to the glass, and say where it ends")
        self.test.clicked.connect(self._examine)
        row.addWidget(self.test)
        layout.addWidget(words)
        layout.addLayout(row)
        layout.addWidget(self.said)
        return card

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.show()

    def _remember(self) -> None:
        address = self.address.text().strip()

        def remembered(known: Sequence[str]) -> None:
            self._say("Looked for at " + ", ".join(known))
            self.address.clear()

        self.reaching.add_endpoint(address, remembered, lambda error: self._say(error.sentence))

    def _examine(self) -> None:
        """Try the address step by step, and show the result of each step as it comes."""
        told: list[str] = []
        self.test.setEnabled(False)

        def over() -> None:
            self.test.setEnabled(True)
            self.test.setFocus()

        def step(found: Examined | None) -> None:
            if found is None:
                over()
                return
            told.append(f"{'✓' if found.fine else '✗'} {found.step}: {found.words}")
            self._say("\n".join(told))
            self.reaching.next_step(tried, step, failed)

        def failed(error: CopioneError) -> None:
            over()
            self._say("\n".join([*told, error.sentence]))

        self._say("Trying ...")
        tried = self.reaching.examine(self.address.text().strip())
        self.reaching.next_step(tried, step, failed)

    def refresh(self) -> None:
        """Look at the ports and ask the server again, beside Qt's thread."""
        self.wireless.refresh()
        if self._looking:
            return
        self._looking = True
        server = self.workspace.bench.server

        def look() -> tuple[list[Plugged], int | None]:
            try:
                version = server.version()
            except LinkError:
                version = None
            return self.look_at_ports(), version

        self.workspace.courier.think(look, self._looked, lambda _error: self._looked(([], None)))

    def _looked(self, found: tuple[list[Plugged], int | None]) -> None:
        self._looking = False
        ports, version = found
        w = self.workspace
        ready = [d.name for d in w.devices if d.ready]
        server = f"{w.bench.server.host}:{w.bench.server.port}"
        state = f"The adb server at {server} answers (version {version})." if version else f"No adb server answers at {server}."
        self.now.setText(f"{state} Ready: {', '.join(ready) or 'no device'}.")
        self.ports.setText("On the USB ports: " + (", ".join(f"{p.name} ({p.vendor}:{p.product})" for p in ports) or "no phone") + ".")
        told = hints(ports, [d.listed for d in w.devices], version)
        if told != self._shown:
            self._shown = told
            while (item := self._hints.takeAt(0)) is not None:
                widget = item.widget()
                if widget is not None:
                    widget.deleteLater()
            for hint in told:
                self._hints.addWidget(_card(hint))


def _card(hint: Hint) -> QWidget:
    """One thing to do, with a button that copies its words."""
    card = named(QFrame(), "card")
    layout = QVBoxLayout(card)
    layout.setSpacing(6)
    words = Label(f"<b>{html.escape(hint.about)}</b><br>{html.escape(hint.what)}", rich=True)
    words.setWordWrap(True)
    layout.addWidget(words)
    if hint.copy:
        layout.addLayout(to_copy(hint.copy, hint.about))
    return card
