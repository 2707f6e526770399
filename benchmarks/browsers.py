"""What a browser costs as a device: reading a large page beside a script that gives nothing, and a take beside its bare commands."""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from rich.console import Console
from tests.benches import Heard

from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.links.browser.engines import ENGINES, installed
from copione.links.browser.kept import BrowserSpec
from copione.links.browser.link import BrowserLink
from copione.model.clock import SystemClock
from copione.project.project import Project
from copione.replay.run import Run
from copione_lab.kiln_book.serving import Served

ROWS, COLUMNS = 98, 10
SCRIPT = """script "Taps"
app kiln-book

scene "There and back"
    launch afresh
    repeat 10 times
        tap tab "Shelf"
        tap button "Mix" under "Shino"
        tap tab "Kiln"
        tap tab "Firings"
    end
"""


def large() -> str:
    """A page of 2,000 elements, all in sight: cells of a table with a button in each."""
    cell = '<td><button aria-label="Cell {0}-{1}">x</button><i>{0}-{1}</i></td>'
    rows = "".join("<tr>" + "".join(cell.format(r, c) for c in range(COLUMNS)) + "</tr>" for r in range(ROWS))
    small = "button { width: 30px; height: 8px; padding: 0 } i { font-size: 4px } table { border-spacing: 0; font: 6px/6px sans-serif }"
    return f'<meta name="viewport" content="width=device-width"><style>{small}</style><table>{rows}</table>'


def median_ms(act: Callable[[], object], times: int = 15) -> float:
    found = []
    for _ in range(times):
        since = time.perf_counter()
        act()
        found.append((time.perf_counter() - since) * 1000)
    return statistics.median(found)


def reading(engine: str, folder: Path, served: Served) -> tuple[int, float, float]:
    """Elements of a large page; milliseconds of reading it, and of a script call that gives nothing."""
    (folder / "index.html").write_text(large(), "utf-8")
    link = BrowserLink(BrowserSpec("Read", engine, 1000, 2000))
    try:
        link.launch(served.url)
        link.moment()
        screen = link.glimpse().screen
        assert screen is not None
        return len(screen), median_ms(link.glimpse), median_ms(lambda: link.tab.run("return '';"))
    finally:
        link.close()


def take() -> tuple[float, float]:
    """Seconds of a take in Chromium, and of the same WebDriver commands sent bare: as many reads, pictures and acts as it needs."""
    with Served() as served, tempfile.TemporaryDirectory() as scratch:
        project = Project.create(Path(scratch), "Bench")
        path = project.scripts_folder / "taps.copione"
        path.write_text(SCRIPT, "utf-8")
        project.learn_app(served.url, "web")
        project.apps = {"kiln-book": next(iter(project.apps.values()))}
        bench = Bench(AdbServer(port=9))
        bench.add_browsers([BrowserSpec("Take", "chromium", 412, 892)])
        try:
            (device,) = bench.look()
            assert device.worker is not None and isinstance(device.worker.link, BrowserLink)
            tab = device.worker.link.tab
            sent: list[tuple[tuple[object, ...], dict[str, object]]] = []
            bare = tab.remote.command

            def noted(*words: object, **more: object) -> object:
                sent.append((words, more))
                return bare(*words, **more)  # type: ignore[arg-type]

            tab.remote.command = noted  # type: ignore[method-assign, assignment]
            heard = Heard()
            run = Run(project, project.load(path), [device], heard, SystemClock())
            since = time.perf_counter()
            run.start()
            run.wait()
            took = time.perf_counter() - since
            assert all(result.outcome.good for result in heard.results["Take"]), heard.results
            kept = [each for each in sent if "url" not in each[0]]
            since = time.perf_counter()
            for words, more in kept:
                bare(*words, **more)  # type: ignore[arg-type]
            return took, time.perf_counter() - since
        finally:
            bench.close()


def main() -> int:
    """Prints both, for every engine that is installed; not 0 where a bar is missed."""
    console, missed = Console(), False
    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch)
        with Served(folder) as served:
            for word, engine in ENGINES.items():
                if installed(engine).missing:
                    console.print(f"{engine.name} is not installed.")
                    continue
                count, whole, nothing = reading(word, folder, served)
                missed = missed or whole - nothing > 100
                console.print(f"{engine.name}: {count} elements read in {whole:.0f} ms, an empty script {nothing:.0f} ms (bar 100 more).")
    if not installed(ENGINES["chromium"]).missing:
        took, bare = take()
        missed = missed or took > 1.3 * bare
        console.print(f"A take in Chromium: {took:.1f} s, its commands sent bare {bare:.1f} s: {took / bare:.2f} times (bar 1.3).")
    return int(missed)


if __name__ == "__main__":
    sys.exit(main())
