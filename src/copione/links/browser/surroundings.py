"""How a browser's page is held and what is round it: its size, its turn, dark or light, the network. What an engine cannot is said."""

from __future__ import annotations

from typing import Any

from ...model.condition import Condition
from ...model.errors import CannotDo
from ..webdriver.wire import list_in
from .engines import Engine
from .kept import BrowserSpec
from .tab import PAUSE_S, Tab

FITTING = 3  # times that a window is resized until its page is as large as it should be
NETWORKS = {
    "on": {"offline": False, "latency": 0, "download_throughput": -1, "upload_throughput": -1},
    "slow": {"offline": False, "latency": 400, "download_throughput": 50_000, "upload_throughput": 25_000},
    "off": {"offline": True, "latency": 0, "download_throughput": 0, "upload_throughput": 0},
}


class BrowserConditions:
    """Of one browser; every session begins with `prepare`."""

    def __init__(self, wanted: BrowserSpec, engine: Engine) -> None:
        self.wanted, self.engine = wanted, engine
        self.wide = False
        self._now = self._at_first()

    def _at_first(self) -> dict[Condition, str]:
        return {Condition.DARK: "on" if self.wanted.dark else "off", Condition.NETWORK: "on"}

    def prepare(self, tab: Tab) -> None:
        """A session has just been opened."""
        self.wide, self._now = False, self._at_first()
        if self.engine.devtools:
            devtools(tab, "Emulation.setLocaleOverride", {"locale": self.wanted.language})
            if self.wanted.dark:
                self._dark(tab, "on")
        else:
            _fit(tab, self.wanted.width, self.wanted.height)

    def turn(self, tab: Tab, orientation: str) -> None:
        """Hold it as `landscape` or `portrait`."""
        self.wide = orientation == "landscape"
        width, height = sorted((self.wanted.width, self.wanted.height), reverse=self.wide)
        if self.engine.devtools:
            held = {"type": "landscapePrimary", "angle": 90} if self.wide else {"type": "portraitPrimary", "angle": 0}
            metrics = {"width": width, "height": height, "deviceScaleFactor": self.wanted.density, "mobile": True}
            devtools(tab, "Emulation.setDeviceMetricsOverride", metrics | {"screenOrientation": held})
        else:
            _fit(tab, width, height)

    def condition(self, condition: Condition) -> str:
        """How it is. Raises LinkError where the engine does not tell."""
        if condition is Condition.ORIENTATION:
            return "landscape" if self.wide else "portrait"
        if condition in self._now and self.engine.devtools:
            return self._now[condition]
        raise CannotDo(f"The {condition.value} of {self.wanted.name} cannot be told from here.")

    def have(self, tab: Tab, condition: Condition, value: str) -> None:
        """Have it otherwise. Raises LinkError where the engine cannot."""
        if condition is Condition.ORIENTATION:
            self.turn(tab, value)
        elif condition is Condition.DARK and self.engine.devtools:
            self._dark(tab, value)
        elif condition is Condition.NETWORK and self.engine.devtools and value in NETWORKS:
            tab.command("POST", "chromium/network_conditions", {"network_conditions": NETWORKS[value]})
            self._now[condition] = value
        else:
            raise CannotDo(f"The {condition.value} of {self.wanted.name} cannot be turned to {value} from here.")

    def _dark(self, tab: Tab, value: str) -> None:
        feature = {"name": "prefers-color-scheme", "value": "dark" if value == "on" else "light"}
        devtools(tab, "Emulation.setEmulatedMedia", {"features": [feature]})
        self._now[Condition.DARK] = value


def devtools(tab: Tab, name: str, facts: dict[str, Any]) -> None:
    """A command of Chromium's own protocol, through its driver."""
    tab.command("POST", "goog/cdp/execute", {"cmd": name, "params": facts})


def _fit(tab: Tab, width: int, height: int) -> None:
    """Resize the window until the page in it has that size, or as near to it as the engine lets it."""
    outer = [width, height]
    for _ in range(FITTING):
        tab.command("POST", "window/rect", {"x": 0, "y": 0, "width": outer[0], "height": outer[1]})
        inner = _inner(tab)
        if inner == [width, height]:
            return
        if min(inner) > 0:
            outer = [max(width, outer[0] + width - inner[0]), max(height, outer[1] + height - inner[1])]


def _inner(tab: Tab) -> list[int]:
    """The page's size, once the window that was resized rests."""
    last: list[int] = []
    for _ in range(FITTING * 4):
        with tab.remote.sane():
            inner = [int(each) for each in list_in(tab.run("return [innerWidth, innerHeight];"), "the page's size")][:2]
        if inner == last and min(inner, default=0) > 0:
            break
        last = inner
        tab.clock.sleep(PAUSE_S)
    return [*last, 0, 0][:2]
