"""Browsers for tests: one of each engine that is installed, and pages served on loopback."""

from __future__ import annotations

import tempfile
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import ClassVar

from copione.links.browser.engines import ENGINES, installed
from copione.links.browser.kept import BrowserSpec
from copione.links.browser.link import BrowserLink
from copione.model.screen import Element, Moment, Screen
from copione.touch.making import tap
from copione_lab.kiln_book.serving import Served

HEAD = '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>A page</title>'


def engines() -> list[str]:
    """The words of those that are installed."""
    return [word for word, engine in ENGINES.items() if not installed(engine).missing]


@unittest.skipUnless(engines(), "no browser with its driver is installed: chromium chromium-driver, webkit2gtk-driver")
class BrowserCase(unittest.TestCase):
    """Each engine's browser is started once for a class; `each` runs a test in every one of them."""

    size: ClassVar[tuple[int, int]] = (412, 800)
    links: ClassVar[dict[str, BrowserLink]]
    served: ClassVar[Served]
    folder: ClassVar[Path]

    @classmethod
    def setUpClass(cls) -> None:
        scratch = tempfile.TemporaryDirectory()
        cls.addClassCleanup(scratch.cleanup)
        cls.folder = Path(scratch.name)
        cls.served = Served(cls.folder)
        cls.addClassCleanup(cls.served.close)
        cls.links = {}
        for word in engines():
            link = BrowserLink(BrowserSpec(f"A {word}", word, *cls.size))
            cls.links[word] = link
            cls.addClassCleanup(link.close)

    def each(self, test: Callable[[BrowserLink], None]) -> None:
        for word, link in self.links.items():
            with self.subTest(word):
                test(link)

    def shown(self, link: BrowserLink, body: str, name: str = "page.html") -> Screen:
        """A page with that body, opened."""
        (self.folder / name).write_text(HEAD + body, "utf-8")
        link.launch(self.served.url)
        link.open(f"{self.served.url}/{name}")
        return screen_of(link.moment())


def screen_of(moment: Moment) -> Screen:
    assert moment.screen is not None, moment.trouble
    return moment.screen


def named(screen: Screen, name: str, role: str = "") -> Element:
    found = [e for e in screen if e.name == name and (not role or e.role == role)]
    assert found, (name, role, [(e.role, e.name) for e in screen])
    return found[0]


def tapped(link: BrowserLink, element: Element) -> Screen:
    link.touch([tap(*element.box.centre)])
    return screen_of(link.moment())
