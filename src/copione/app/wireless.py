"""Phones without a cable: those in the local network, pairing by a code, connecting."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout

from ..links.adb import wireless
from ..model.errors import CopioneError
from .parts import Label, named
from .workspace import Workspace

HOW = (
    "Under Developer options turn on wireless debugging, in the same network as this computer. The first time, choose to pair with a code, "
    "and type what the phone shows."
)


class WirelessCard(QFrame):
    """What the server finds nearby, and two lines: pair, connect."""

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        named(self, "card")
        self.workspace = workspace
        words = Label(f"<b>Without a cable</b><br>{HOW}", rich=True)
        words.setWordWrap(True)
        self.near = named(Label("Looking in the local network ..."), "muted")
        self.near.setWordWrap(True)
        self.pairing = QLineEdit(placeholderText="Pairing address, 192.168.0.7:37001")
        self.pairing.setAccessibleName("Pairing address")
        self.code = QLineEdit(placeholderText="Code")
        self.code.setAccessibleName("Pairing code")
        self.code.setMaximumWidth(110)
        self.address = QLineEdit(placeholderText="Address, 192.168.0.7:41235")
        self.address.setAccessibleName("Address of a phone without a cable")
        self.pair = QPushButton("Pair")
        self.connect_ = QPushButton("Connect")
        for field in (self.pairing, self.code):
            field.returnPressed.connect(self.pair.click)
        self.address.returnPressed.connect(self.connect_.click)
        self.pair.clicked.connect(self._pair)
        self.connect_.clicked.connect(self._connect)
        self.said = named(Label(), "muted")
        self.said.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setSpacing(6)
        layout.addWidget(words)
        layout.addWidget(self.near)
        for widgets in ((self.pairing, self.code, self.pair), (self.address, self.connect_)):
            row = QHBoxLayout()
            for widget in widgets:
                row.addWidget(widget, int(widget in (self.pairing, self.address)))
            layout.addLayout(row)
        layout.addWidget(self.said)
        self.said.hide()
        self._looking = False

    def refresh(self) -> None:
        """Ask the server again what it finds, beside Qt's thread; an empty field takes the address of the only phone that fits."""
        if self._looking:
            return
        self._looking = True
        server = self.workspace.bench.server
        self.workspace.courier.think(lambda: wireless.nearby(server), self._found, lambda _error: self._found([]))

    def _found(self, found: list[wireless.Nearby]) -> None:
        self._looking = False
        told = [f"{each.name} at {each.address}{', to be paired' if each.pairs else ''}" for each in found]
        nobody = "No phone with wireless debugging is found in the local network."
        self.near.setText(f"In the local network: {'; '.join(told)}." if told else nobody)
        for field, pairs in ((self.pairing, True), (self.address, False)):
            fit = [each.address for each in found if each.pairs is pairs]
            if len(fit) == 1 and not field.text():
                field.setText(fit[0])

    def _pair(self) -> None:
        address, code = self.pairing.text().strip(), self.code.text()
        self._ask(
            self.pair, lambda: wireless.pair(self.workspace.bench.server, address, code), f"{address} is paired: connect it now.", self.code
        )

    def _connect(self) -> None:
        address = self.address.text().strip()
        self._ask(self.connect_, lambda: wireless.connect(self.workspace.bench.server, address), f"{address} is connected.", self.address)

    def _ask(self, button: QPushButton, act: Callable[[], None], words: str, done_with: QLineEdit) -> None:
        held = button.hasFocus()
        button.setEnabled(False)
        self._say("Asking the phone ...")

        def over() -> None:
            button.setEnabled(True)
            if held:
                button.setFocus()

        def done(_nothing: None) -> None:
            over()
            done_with.clear()
            self._say(words)
            self.refresh()

        def failed(error: CopioneError) -> None:
            over()
            self._say(error.sentence)

        self.workspace.courier.think(act, done, failed)

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.show()
