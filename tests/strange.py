"""Project files as nobody should make them: pipes, devices, huge and deep ones, and pictures that are bombs."""

from __future__ import annotations

import contextlib
import os
import random
import resource
import shutil
import socket
import struct
import time
import traceback
import zlib
from collections.abc import Callable, Iterator, Mapping
from datetime import date
from pathlib import Path

from copione.engine.judging import assessed, found_in, lanes_of, usual_baseline
from copione.files.reading import FileKind, read_bytes
from copione.model.errors import CopioneError
from copione.model.secrecy import Redactor
from copione.project.allowances import read_allowances
from copione.project.archive import read_run, runs_in
from copione.project.cleaning import clean_folder
from copione.project.elements import elements_of
from copione.project.history import RunIndex
from copione.project.journal import unfinished
from copione.project.project import Project
from copione.project.remarks import wanted_off
from copione.project.shelf import runs_of, scripts_of
from copione.recognition.pictures import decode
from copione.report.junit import junit
from copione.report.page import write_page

SLOW_S, WAITS, KILL_S, MOST_MB = 5.0, 2, 30.0, 300
Maker = Callable[[Path, bytes, random.Random], None]


def _socket(path: Path, _data: bytes, _chance: random.Random) -> None:
    with socket.socket(socket.AF_UNIX) as made, contextlib.chdir(path.parent):
        made.bind(path.name)


def _device(path: Path, _data: bytes, chance: random.Random) -> None:
    path.symlink_to(chance.choice(("/dev/zero", "/dev/full", "/dev/urandom", "/dev/tty", "/proc/self/mem", "/dev/stdin")))


def _link(path: Path, _data: bytes, chance: random.Random) -> None:
    path.symlink_to(chance.choice((path.name, "nothing there", "/", "x" * 200)))


def _sparse(path: Path, _data: bytes, chance: random.Random) -> None:
    with path.open("wb") as file:
        file.truncate(1 << chance.choice((23, 26, 31, 40)))


def _large(path: Path, data: bytes, chance: random.Random) -> None:
    """About as large as its kind may be, of what is read with most trouble."""
    makers = {".copione": _script, ".csv": _table, ".toml": _settings, ".json": _json, ".jsonl": _lines, ".png": _picture}
    path.write_bytes(makers.get(path.suffix, lambda data, _chance: data * 1000)(data, chance))


def _script(data: bytes, chance: random.Random) -> bytes:
    head, _, _ = data.partition(b"scene")
    lines = [b'scene "One"', b"    launch afresh"]
    many = (FileKind.SCRIPT.most - 100_000) // 60
    return head + chance.choice(
        (
            b"\n".join(lines) + b'\n    tap button "Hive {hive} with {frames}"' * min(many, 24_900),
            b"\n".join(lines) + b"\n    check text {" + b"1 + " * 900_000 + b"1} is shown\n",
            b"\n".join(lines) + b'\n    when text "A" is shown' * 24_000,
            b"\n".join(b'scene "S%d"\n    perform "S%d"' % (n, n + 1) for n in range(12_000)),
            b"\n".join(b'scene "S%d"\n    perform "T%d" with {hive}' % (n, n) for n in range(12_000)),
            b"\n".join(lines) + b'\n    tap item "{a%d}" in list "{b}" within 3 s' % 1 * 20_000,
            b"\n".join(lines) + b'\n    whenever text "{hive}" is shown tap button "{x}"' * 20_000,
            b"\n".join(b'    for each row of "t%d.csv"' % n for n in range(5_000)),
            b'scene "' + b"x" * (FileKind.SCRIPT.most - 10_000) + b'"\n',
            b"nonsense " * 400_000,
            b"needs a%d\n" * 1 + b"".join(b"needs a%d = %d\n" % (n, n) for n in range(24_000)),
            b"uses " + b'"x.copione" ' * 100_000 + b"\n",
        )
    )


def _table(_data: bytes, chance: random.Random) -> bytes:
    return chance.choice(
        (
            b"hive,frames,note\n" + b"Hive 7,5,calm\n" * 19_990,
            b",".join(b"c%d" % n for n in range(490)) + b"\n" + (b",".join([b"x"] * 490) + b"\n") * 15_000,
            b"hive,frames,note\n" + b'"' + b"x" * (15 << 20) + b'",1,2\n',
            b"hive,frames,note\n" + b'"' * (15 << 20),
            b"," * (15 << 20),
            b"\n" * (15 << 20),
        )
    )


def _settings(data: bytes, chance: random.Random) -> bytes:
    return (
        data
        + b"\n"
        + chance.choice(
            (
                b"x = " + b"[" * 100_000 + b"]" * 100_000,
                b".".join([b"a"] * 60_000) + b" = 1",
                b"name = " + b"9" * 400_000,
                b"x = [" + b"1," * 150_000 + b"]",
                b"".join(b"[apps.a%d]\nandroid = 'org.a%d'\n" % (n, n) for n in range(12_000)),
                b'x = "' + b"\\u0041" * 70_000 + b'"',
                b"x = {" + b"a.b.c = {" * 3000,
            )
        )
    )


def _json(data: bytes, chance: random.Random) -> bytes:
    most = FileKind.PORTRAITS.most - 1000
    elements = data.replace(b'"elements": [', b'"elements": [' + b'[-1, "button", "", "a", "", "a", [0, 0, 1, 1], 3], ' * 300_000)
    return chance.choice(
        (
            b"[" * most,
            b'{"a":' * (most // 5),
            b"[" + b"1," * (most // 2 - 2) + b"1]",
            b'{"format": 1, "screens": {"x": "' + b"x" * (most - 100) + b'"}}',
            elements[:most],
            (data[:1] + b'"%s": 1, ' * 3000 % tuple(b"k%d" % n for n in range(3000)) + data[1:])[:most],
        )
    )


def _lines(data: bytes, chance: random.Random) -> bytes:
    first = data.split(b"\n")[0] + b"\n"
    return chance.choice((first * ((60 << 20) // len(first)), b"{" * (60 << 20), first + b"\n" * (60 << 20), first[:-1] * 200_000))


def _picture(_data: bytes, chance: random.Random) -> bytes:
    """Small in its file, and as many pixels as one cares for."""
    side = chance.choice((2000, 8000, 30_000))

    def chunk(kind: bytes, body: bytes) -> bytes:
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    pack = zlib.compressobj(9)
    body = b"".join(pack.compress(b"\0" * (side * 3 + 1)) for _ in range(side)) + pack.flush()
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", struct.pack(">IIBBBBB", side, side, 8, 2, 0, 0, 0))
        + chunk(b"IDAT", body)
        + chunk(b"IEND", b"")
    )


MAKERS: Mapping[str, Maker] = {
    "pipe": lambda path, _data, _chance: os.mkfifo(path),
    "socket": _socket,
    "device": _device,
    "folder": lambda path, _data, _chance: path.mkdir(),
    "link": _link,
    "sparse": _sparse,
    "large": _large,
}


@contextlib.contextmanager
def in_its_place(path: Path, kind: str, chance: random.Random) -> Iterator[None]:
    """Something of that kind where a file was; it is there again afterwards."""
    data, aside = path.read_bytes(), path.with_name(path.name + ".as it was")
    path.rename(aside)
    try:
        MAKERS[kind](path, data, chance)
        yield
    finally:
        if path.is_dir() and not path.is_symlink():
            shutil.rmtree(path)
        else:
            path.unlink(missing_ok=True)
        aside.rename(path)


def readers(folder: Path) -> Iterator[tuple[str, Callable[[], object]]]:
    """All that is read of a project, each for itself."""
    redactor = Redactor()
    redactor.learn({"password": "h0neypot"})
    yield "allowances", lambda: (read_allowances(folder), wanted_off(folder))
    yield "journals", lambda: unfinished(folder / "recordings")
    for run in runs_in(folder / "runs"):
        yield "run", lambda run=run: _run(folder, run)
    yield "index", lambda: RunIndex(folder / "runs").complete()
    yield "pictures", lambda: [decode(read_bytes(path, FileKind.PICTURE), 412.0) for path in folder.rglob("*.png")]
    yield "secrets", lambda: clean_folder(folder / "runs", redactor)
    project = Project(folder)
    for path in project.scripts():
        yield path.stem, lambda path=path: project.load(path).remarks()
    yield "scripts", lambda: scripts_of(project)
    yield "runs", lambda: runs_of(project, {}, lambda run: lanes_of(run).counts)
    yield "elements", lambda: elements_of(project)


def _run(folder: Path, path: Path) -> None:
    run = read_run(path)
    lanes, found = found_in(run)
    known = assessed(folder, run, lanes, found, usual_baseline(run.folder, run.script), date(2026, 11, 26))
    junit(lanes, run.script, (), known)
    write_page(path / "report.html", run, lanes, known)


def read_apart(folder: Path) -> list[str]:
    """Read a project in a process of its own: what took too long, too much memory, or ended otherwise than with a sentence."""
    told, tell = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(told)
        with os.fdopen(tell, "w", buffering=1) as say:
            _read_all(folder, say.write)
        os._exit(0)
    os.close(tell)
    until = time.monotonic() + KILL_S
    while os.waitid(os.P_PID, child, os.WEXITED | os.WNOHANG | os.WNOWAIT) is None and time.monotonic() < until:
        time.sleep(0.005)
    late = time.monotonic() >= until
    if late:
        os.kill(child, 9)
    os.waitpid(child, 0)
    with os.fdopen(told) as heard:
        said = heard.read()
    if late:
        return [f"{said[-200:]} and more: it did not end within {KILL_S:g} s"]
    return [line for line in said.split("\0") if line.startswith("!")]


def _read_all(folder: Path, say: Callable[[str], object]) -> None:
    before = _peak_mb()
    going = readers(folder)
    while True:
        began, spent, name = time.monotonic(), time.process_time(), "project.toml"
        try:
            found = next(going, None)
            if found is None:
                return
            name, read = found
            say(f"{name}\0")
            read()
        except CopioneError:
            if name == "project.toml":
                return
        except BaseException:
            say(f"!{name}: {traceback.format_exc()}\0")
            if name == "project.toml":
                return
        took, own = time.monotonic() - began, time.process_time() - spent
        if own > SLOW_S or took - own > SLOW_S * WAITS:  # others may keep the computer busy meanwhile
            say(f"!{name} took {took:.1f} s, {own:.1f} of them its own\0")
        more, before = _peak_mb() - before, max(before, _peak_mb())
        if more > MOST_MB:
            say(f"!{name} took {more:.0f} MB\0")


def _peak_mb() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
