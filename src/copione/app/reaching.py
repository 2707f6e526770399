"""How the window comes to phones: the adb server is started, an endpoint is added, the stand-ins are put on the bench."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING

from ..model.errors import CopioneError
from .workspace import Workspace

if TYPE_CHECKING:
    from ..links.bench import Bench
    from ..links.webdriver.examining import Examined


class Reaching:
    """`join_stand_ins` and `make_demo` come from outside; without them there are none. All of it goes on beside Qt's thread."""

    def __init__(
        self,
        workspace: Workspace,
        join_stand_ins: Callable[[Bench], object] | None = None,
        make_demo: Callable[[], Path] | None = None,
    ) -> None:
        self.workspace, self.join_stand_ins, self.make_demo = workspace, join_stand_ins, make_demo

    def try_stand_ins(self) -> None:
        """The stand-in phones on the bench; where there is no project yet, with the demo project."""
        join, make_demo = self.join_stand_ins, self.make_demo
        if join is None:
            return
        self.join_stand_ins = None  # once
        self.workspace.devices_changed.emit()
        if make_demo is not None and not self.workspace.project.made:
            self.workspace.courier.with_files(make_demo, self.workspace.open_project, self.workspace.failed)

        def failed(error: CopioneError) -> None:
            self.join_stand_ins = join
            self.workspace.failed(error)
            self.workspace.devices_changed.emit()

        self.workspace.courier.think(lambda: join(self.workspace.bench), lambda _joined: None, failed)

    def start_server(self) -> None:
        """This computer's own adb server."""
        port = self.workspace.bench.server.port

        def start() -> None:
            from ..links.adb.start import start_server

            start_server(port)

        self.workspace.courier.think(start, lambda _started: self.workspace.told.emit("The adb server is starting."), self.workspace.failed)

    def examine(self, address: str) -> Iterator[Examined]:
        """The steps from the name of an endpoint to its glass, each tried when it is asked for; see `next_step`."""
        from ..links.endpoints import called, checked, kept, spec_of
        from ..links.webdriver.examining import examine

        known = any(address in (each.name, each.url, each.url.rstrip("/")) for each in kept())
        yield from examine(called(address) if known else spec_of(checked(address)))

    def next_step(
        self, steps: Iterator[Examined], done: Callable[[Examined | None], object], failed: Callable[[CopioneError], object]
    ) -> None:
        """Try the next of those steps, beside Qt's thread; None when there is none."""
        self.workspace.courier.think(lambda: next(steps, None), done, failed)

    def add_endpoint(self, address: str, done: Callable[[tuple[str, ...]], object], failed: Callable[[CopioneError], object]) -> None:
        """A WebDriver endpoint: remembered, and looked for at once."""

        def add() -> tuple[str, ...]:
            from ..links.endpoints import checked, remember

            known = remember(address)
            endpoint = checked(address)
            self.workspace.courier.think(lambda: self.workspace.bench.add_endpoint(endpoint), lambda _done: None)
            return known

        self.workspace.courier.with_files(add, done, failed)
