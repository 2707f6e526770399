"""What can be done with the apps on the lead, and on every device that takes part."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from ...files.reading import FileKind, read_bytes
from ...links.link import InstallsApps, RunsApps
from ...model.action import Start
from ..workspace import Workspace

if TYPE_CHECKING:
    from ...links.link import InstalledApp, Link


class AppsMenu(QMenu):
    """What is in front, and what can be done with each app: opened, stopped, cleared, installed."""

    def __init__(self, workspace: Workspace, apps: Sequence[InstalledApp], front: tuple[str, str], parent: QWidget) -> None:
        super().__init__(parent)
        self.workspace, self.lead = workspace, workspace.lead
        shown = f"{front[0]} {front[1]}".strip()
        self.addAction(f"In front: {shown or 'no app'}", lambda: self._copy(shown)).setToolTip("Copy package and activity")
        self.addSeparator()
        for app in apps:
            if not app.own:
                self._of_app(self.addMenu(_title(app)), app)
        own = [app for app in apps if app.own]
        if own:
            came = self.addMenu("Came with the phone")
            for app in own:
                self._of_app(came.addMenu(_title(app)), app)
        self.addSeparator()
        self.addAction("Install a package file", lambda: self._install(False))
        self.addAction("Install a package file on the whole bench", lambda: self._install(True))
        if not apps:
            self.addAction("No app can be started on it").setEnabled(False)

    def _of_app(self, menu: QMenu, app: InstalledApp) -> None:
        lead, everywhere, package = self.lead, self.workspace.everywhere, app.package
        menu.addAction("Open", lambda: lead.open_app(package))
        menu.addAction("Stop", lambda: lead.stop_app(package))
        menu.addAction("Open afresh, its data cleared", lambda: self._open_afresh(package))
        menu.addSeparator()
        menu.addAction("Stop on the whole bench", lambda: everywhere(lambda link: link.able(RunsApps).stop(package)))
        if not app.own:
            menu.addAction("Uninstall, its data deleted", lambda: self._uninstall(package))
        cleared = "Open afresh on the whole bench, its data cleared"
        menu.addAction(cleared, lambda: self._open_afresh_everywhere(package))

    def _uninstall(self, package: str) -> None:
        device = self.lead.device
        if device is not None and self.workspace.clearing.may([device], lambda _device: [package]) and device is self.lead.device:
            self.lead.do(lambda link: link.able(InstallsApps).uninstall(package))

    def _open_afresh(self, package: str) -> None:
        device = self.lead.device
        if device is not None and self.workspace.clearing.may([device], lambda _device: [package]) and device is self.lead.device:
            self.lead.open_app(package, Start.AFRESH)

    def _open_afresh_everywhere(self, package: str) -> None:
        devices = self.workspace.chosen()
        if self.workspace.clearing.may(devices, lambda _device: [package]):
            self.workspace.everywhere(lambda link: link.able(RunsApps).launch(package, Start.AFRESH), devices)

    def _install(self, everywhere: bool) -> None:
        name, _ = QFileDialog.getOpenFileName(self.parentWidget(), "Install a package file", "", "Packages (*.apk *.zip);;All files (*)")
        if name:
            path = Path(name)

            def act(link: Link) -> None:
                link.able(InstallsApps).install(read_bytes(path, FileKind.PACKAGE))  # read on each device's own thread

            if everywhere:
                self.workspace.everywhere(act)
            else:
                self.lead.do(act)

    def _copy(self, words: str) -> None:
        QGuiApplication.clipboard().setText(words)
        self.lead.told.emit(f"Copied: {words}")


def _title(app: InstalledApp) -> str:
    """An app as the menu names it: its name where it has one, its version, its package."""
    return "   ".join(filter(None, (app.name, app.version, app.package))).replace("&", "&&")
