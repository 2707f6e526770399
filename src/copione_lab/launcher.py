"""The phone's home screen."""

from __future__ import annotations

from collections.abc import Callable

from .app import Surroundings
from .toolkit.node import Node, column, row, spacer, text

LAUNCHER = "org.example.launcher"


class Launcher:
    """An icon a app."""

    package = LAUNCHER
    label = "Home"
    version = "1.0"
    keeps: tuple[str, ...] = ()

    def __init__(self, apps: Callable[[], list[tuple[str, str]]], launch: Callable[[str], object]) -> None:
        self._apps = apps
        self._launch = launch

    def opens(self, address: str) -> bool:
        return False

    def activity(self) -> str:
        return ".Home"

    def back(self) -> bool:
        return True

    def restless(self) -> bool:
        return False

    def turned(self) -> None:
        """Icons have no state."""

    def next_change(self) -> float | None:
        return None

    def page(self, around: Surroundings) -> Node:
        icons: list[Node] = [
            column(
                Node("image", height=56, width=56, radius=14),
                text(label, size=12, ink="#FFFFFF", align="centre"),
                desc=label,
                on_tap=lambda package=package: self._launch(package),
                width=84,
                pad=(6, 6),
                gap=6,
            )
            for package, label in self._apps()
        ]
        most = max(1, int((around.width - 28) // 96))
        rows = [row(*icons[at : at + most], pad=(20, 8), gap=12) for at in range(0, len(icons), most)]
        return column(spacer(around.height * 0.3), *rows, fill="#5B6B73")
