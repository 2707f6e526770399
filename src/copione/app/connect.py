"""How to connect a device: what the server says now, and what to do."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QLabel, QPushButton, QVBoxLayout, QWidget

from .workspace import Workspace

STEPS = """<ol style="margin-left:-18px">
<li>On the phone, open Settings, About, and tap the build number seven times.</li>
<li>Under Developer options, turn on USB debugging.</li>
<li>Plug the phone in with a cable that carries data, not only current.</li>
<li>Approve this computer in the dialog on the phone's screen.</li>
</ol>
<p>The phone then shows up on the bench by itself. On this computer an adb server has to run: <b>adb start-server</b>.</p>"""


class ConnectDialog(QDialog):
    """Stays up to date while it is open."""

    def __init__(self, workspace: Workspace, parent: QWidget) -> None:
        super().__init__(parent)
        self.workspace = workspace
        self.setWindowTitle("Connect a device")
        self.setFixedWidth(460)
        title = QLabel("Connect a device", objectName="title")
        self.now = QLabel()
        self.now.setWordWrap(True)
        how = QLabel(STEPS)
        how.setWordWrap(True)
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(22, 18, 22, 18)
        for widget in (title, self.now, how):
            layout.addWidget(widget)
        layout.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        workspace.devices_changed.connect(self._refresh)
        self._refresh()

    def _refresh(self) -> None:
        w = self.workspace
        waiting = [d for d in w.devices if not d.ready]
        lines = [f"{d.name}: {d.trouble or d.listed.readiness.value + '. ' + d.listed.advice}" for d in waiting]
        count = len(w.devices) - len(waiting)
        lines.insert(0, w.server_trouble or f"The adb server at {w.bench.server.host}:{w.bench.server.port} lists {count} ready.")
        self.now.setText("\n".join(lines))
