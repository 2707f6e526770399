"""A firing logged, looked up and given up in Kiln Book by some hand while a recording goes on."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from copione.links.adb.link import AdbLink
from copione.links.adb.server import AdbServer
from copione.model.action import Start
from copione.project.project import Project
from copione.recording.checks import likely_checks
from copione.recording.session import Session
from copione.touch import making
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.adb_server import AdbServer as LabServer
from copione_lab.model import load_models
from copione_lab.phone import Phone

from ..benches import EXAMPLE
from .tour import Guest, deeds

APP = "org.example.kiln_book"
BOOK = EXAMPLE.parent / "kiln-book"


def check(session: Session, guest: Guest, role: str, name: str) -> None:
    """The likeliest check of an element."""
    session.check(likely_checks(guest.see(role, name))[0])


def firing(session: Session, guest: Guest) -> None:
    """Every page of Kiln Book."""
    scene = session.recording.new_scene
    scene("Log a firing")
    session.launch(Start.AFRESH)
    guest.tap("button", "New firing")
    guest.tap("textbox", "Load")
    guest.write("Tall vases")
    guest.tap("combobox", "Glaze")
    guest.tap("option", "Celadon")
    slider = guest.see("slider", "Peak").box
    begin, length, level = slider.left + 12, slider.width - 24, slider.centre[1]
    guest.put([making.swipe(begin + 0.5 * length, level, begin + 0.8 * length, level, 0.5)])
    guest.tap("radio", "Reduction")
    guest.tap("switch", "Witness cones set")
    guest.tap("textbox", "Notes")
    guest.write("Slow cooling")
    guest.tap("button", "Save firing")
    check(session, guest, "text", "Firing saved")
    scene("Look it up")
    guest.tap("textbox", "Search")
    guest.write("tall")
    guest.tap("listitem", "Tall vases")
    check(session, guest, "text", "Celadon")
    check(session, guest, "text", "Reduction")
    guest.tap("button", "Back")
    scene("Far down the list")
    guest.up(420)
    guest.up(420)
    row = guest.see("listitem", "Bird baths")
    again = next(e for e in row.descendants() if e.role == "button")
    guest.put([making.tap(*again.box.centre)])
    check(session, guest, "text", "Bird baths is planned")
    scene("Other parts")
    guest.tap("tab", "Shelf")
    heading = guest.see("text", "Shino")
    mix = [e for e in session.moment.screen or () if e.name == "Mix" and e.role == "button" and e.box.top > heading.box.top]
    guest.put([making.tap(*mix[0].box.centre)])
    check(session, guest, "text", "Shino is mixed")
    guest.tap("tab", "Kiln")
    guest.tap("switch", "Kiln on")
    check(session, guest, "text", "15")
    scene("Give it up")
    guest.tap("tab", "Firings")
    guest.put([making.drag(200, 420, 200, 800, 0.3)])
    guest.put([making.drag(200, 420, 200, 800, 0.3)])
    guest.tap("listitem", "Tall vases")
    guest.tap("button", "Delete")
    guest.tap("button", "Delete it")
    check(session, guest, "text", "Firing deleted")


def recorded(folder: Path) -> tuple[Path, list[str]]:
    """The script in a project at `folder`, and what the app's widgets received while it was recorded."""
    shutil.copytree(BOOK, folder, ignore=shutil.ignore_patterns("runs", "recordings", "scripts"))
    lab = LabBench([m for m in load_models() if m.name == "Alder 5"])
    with LabServer(lab) as face:
        session = Session(AdbLink(AdbServer(port=face.port), "LABALDER5"), Project(folder), APP)
        firing(session, Guest(session, session.touch, session.type))
        path = session.save("By hand")
    return path, deeds(lab.phones["LABALDER5"])


class Glass:
    """A hand that sees the glass alone, and not the tree: touches what the app drew, wherever it is."""

    def __init__(self, session: Session, phone: Phone) -> None:
        self.session, self.phone = session, phone

    def tap(self, id: str, inside: str = "", number: int = 0) -> None:
        """The so many-th widget with that id, or that says that; `inside` what says that."""
        page = self.phone.frame().page
        rows = (
            [node for node in page.walk() if node.id == "firing" and any(each.text == inside for each in node.walk())] if inside else [page]
        )
        found = [node for node in rows[0].walk() if id in (node.id, node.text) and not node.seen.empty]
        box = found[number].seen
        self.session.touch([making.tap((box.left + box.right) / 2, (box.top + box.bottom) / 2)])

    def form(self) -> None:
        """A firing is begun and saved."""
        session = self.session
        session.launch(Start.AFRESH)
        self.tap("new_firing")
        self.tap("load")
        session.type("Tall vases")
        self.tap("glaze")
        self.tap("Celadon")
        self.tap("air_reduction")
        self.tap("cones")
        self.tap("save_firing")

    def whole(self) -> None:
        """And looked for, another one planned, glazes mixed, the kiln lit, the firing deleted."""
        self.form()
        self.tap("search")
        self.session.type("tall")
        self.tap("Tall vases")
        self.tap("back")
        for _ in range(2):
            self.session.touch([making.drag(200, 700, 200, 300, 0.5)])
        self.tap("fire_again", inside="Bird baths")
        self.tap("tab_shelf")
        self.tap("mix", number=2)
        self.tap("tab_kiln")
        self.tap("kiln_on")
        self.tap("tab_firings")
        for _ in range(2):
            self.session.touch([making.drag(200, 420, 200, 800, 0.3)])
        self.tap("Tall vases")
        self.tap("delete")
        self.tap("delete_it")


def recorded_by_glass(folder: Path, toolkit: str, does: Callable[[Glass], None]) -> tuple[Path, list[str]]:
    """As `recorded`, on a phone whose apps are built that way."""
    shutil.copytree(BOOK, folder, ignore=shutil.ignore_patterns("runs", "recordings", "scripts"))
    lab = LabBench([replace(m, toolkit=toolkit) for m in load_models() if m.name == "Alder 5"])
    phone = lab.phones["LABALDER5"]
    with LabServer(lab) as face:
        session = Session(AdbLink(AdbServer(port=face.port), "LABALDER5"), Project(folder), APP)
        does(Glass(session, phone))
        path = session.save("By glass")
    return path, deeds(phone)
