"""Browsers as devices of a bench."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager

from copione.links.adb.server import AdbServer
from copione.links.bench import Bench, Device
from copione.links.browser.kept import BrowserSpec


@contextmanager
def started(wanted: Sequence[BrowserSpec]) -> Iterator[Bench]:
    """A bench with nothing but them."""
    bench = Bench(AdbServer(port=9))  # where nothing answers
    bench.add_browsers(wanted)
    try:
        yield bench
    finally:
        bench.close()


@contextmanager
def bench_of(wanted: Sequence[BrowserSpec]) -> Iterator[list[Device]]:
    """Started for as long as needed, in that order."""
    with started(wanted) as bench:
        found = {device.name: device for device in bench.look()}
        yield [found[each.name] for each in wanted]
