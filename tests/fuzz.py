"""Fuzzing whatever comes from outside: `python -m tests.fuzz SECONDS`, a part of the time for each target, or `--only TARGET`.

Each input is something genuine, changed at random. What may come of it is a value or one of Copione's own errors, within five seconds;
anything else is printed with the seed that makes it again. Seeds are printed in any case.
"""

from __future__ import annotations

import argparse
import base64
import contextlib
import io
import json
import random
import shutil
import sys
import tempfile
import threading
import time
import traceback
from collections.abc import Callable, Iterator
from datetime import date
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

from PIL import Image

from copione.engine.judging import assessed, found_in, usual_baseline
from copione.language import refactor
from copione.language.assist import CompletionContext, suggestions
from copione.language.document import formatted, parse
from copione.language.folding import stretches
from copione.language.script_problems import DocumentContext, script_problems
from copione.links.adb.link import AdbLink
from copione.links.adb.server import AdbServer
from copione.links.bench import Bench
from copione.links.webdriver.link import WebDriverLink, look_up
from copione.model.address import Address
from copione.model.device import DeviceProfile
from copione.model.errors import CopioneError
from copione.model.library import OWN, Library
from copione.model.outcome import Outcome, Result
from copione.model.screen import Screen
from copione.model.take import TakeName
from copione.model.target import Target
from copione.project.archive import RunWriter, read_run
from copione.project.data import sniffed
from copione.project.history import RunIndex
from copione.project.journal import unfinished
from copione.project.project import Project
from copione.recognition.ease import ease
from copione.recognition.sighting import sight
from copione.report.junit import junit
from copione.report.page import page
from copione.screens.android import read_android
from copione.screens.native import read_native
from copione.touch.panel import fingers_down, parse_events, tracks
from copione.touch.reading import read_tracks
from copione_lab import shell
from copione_lab.model import load_models
from copione_lab.phone import Phone

from .benches import APP, EXAMPLE
from .hostile import Babbler, packets
from .strange import MAKERS, in_its_place, read_apart

SLOW_S = 5.0
TOKENS = (
    *(b"", b"\0", b"\xff\xfe", b"\xc2\x9b", b"\n", b'"', b"{", b"}", b"[", b"<", b">", b"&", b"\\", b"'", b"#", b"../", b"%s"),
    *(b"nan", b"inf", b"-1", b"0", b"1e999", b"9" * 5000, b"7fffffff", b"ffffffffffffffff", b"null", b"true", b"\xed\xa0\x80"),
    *("²".encode(), "\u202e".encode()),
    *(b"[[[[[[[[", b'{"a":' * 50, b"{password}", b"<a>" * 300, b"OKAY", b"FAIL", b"0000", b"zzzz", b"=1+1", b"http://[::1"),
)
ODD: tuple[Any, ...] = (
    *(None, True, -1, 0, 1e308, float("nan"), float("inf"), 10**400, [], {}, [[]], {"a": 1}),
    *("", "x" * 20_000, "\ud800", "\u202eab\x1b[2J"),
)


def changed(data: bytes, chance: random.Random) -> bytes:
    """Bytes with a few of them flipped, dropped, doubled, or replaced by something odd."""
    out = bytearray(data)
    for _ in range(chance.choice((1, 1, 2, 3, 8))):
        at = chance.randrange(len(out) + 1)
        span = min(len(out) - at, chance.choice((1, 1, 4, 20, 200)))
        how = chance.randrange(5)
        if how == 0 and out:
            out[min(at, len(out) - 1)] = chance.randrange(256)
        elif how == 1:
            del out[at : at + span]
        elif how == 2:
            out[at:at] = out[at : at + span] * chance.choice((1, 2, 30))
        elif how == 3:
            out[at : at + chance.choice((0, span))] = chance.choice(TOKENS)
        elif chance.random() < 0.3:
            del out[at:]
    return bytes(out)


def odd(value: Any, chance: random.Random) -> Any:
    """A value of JSON in which one part, at any depth, is another one."""
    if isinstance(value, dict) and value and chance.random() < 0.8:
        name = chance.choice(list(value))
        return {**value, name: odd(value[name], chance)}
    if isinstance(value, list) and value and chance.random() < 0.8:
        at = chance.randrange(len(value))
        return [*value[:at], odd(value[at], chance), *value[at + 1 :]]
    if isinstance(value, str) and chance.random() < 0.5:
        return changed(value.encode(), chance).decode("utf-8", "surrogateescape")
    return chance.choice(ODD)


# what is fuzzed: functions of a source of chance, made once with whatever they need

Target_ = Callable[[random.Random], None]


def _use(screen: Screen) -> None:
    """What recording and replay ask of any screen."""
    for element in list(screen)[:40]:
        ease(element)
        sight(screen, Target("", element.name), ())


@contextlib.contextmanager
def script() -> Iterator[Target_]:
    text = next((EXAMPLE / "scripts").glob("*.copione")).read_bytes()

    def once(chance: random.Random) -> None:
        said = changed(text, chance).decode("utf-8", "replace")
        document = parse(said)
        if document.text != said:
            raise AssertionError("a text comes back letter by letter")
        for problem in document.problems:
            problem.pointed()
        formatted(said)
        stretches(document)
        script_problems(document, DocumentContext(Library({OWN: document.script})))
        line = chance.randrange(1, len(document.lines) + 1)
        column = chance.randrange(len(document.lines[line - 1].text) + 1)
        suggestions(document.lines[line - 1].text, column, CompletionContext(('button "Save"',)))
        refactor.subject_at(document, line, column)
        with contextlib.suppress(CopioneError):
            refactor.scene_of(document, line, min(len(document.lines), line + 3), "New", refactor.candidates(document, line, line))
        with contextlib.suppress(CopioneError):
            sniffed(changed(b"a;b\n1;2\n", chance))

    yield once


@contextlib.contextmanager
def touch() -> Iterator[Target_]:
    phone = Phone(load_models()[0])
    said = bytearray()
    listener = threading.Thread(target=lambda: phone.panel.stream(lambda data: said.extend(data) or len(said) < 1 << 20), daemon=True)
    listener.start()
    while not phone.panel._listeners:
        time.sleep(0.01)
    for n in range(6):
        for i, action in enumerate(("down", "move", "move", "up")):
            phone.panel.touch(action, n % 3, 100 + 40 * i, 200 + 30 * i * n, 10 + n + i * 0.05)
    while said.count(b"BTN_TOUCH") < 12:
        time.sleep(0.01)
    log = bytes(said)

    def once(chance: random.Random) -> None:
        events = parse_events(changed(log, chance))
        fingers_down(events)
        read_tracks(tracks(events))

    yield once


@contextlib.contextmanager
def adb() -> Iterator[Target_]:
    phone = Phone(load_models()[0])
    phone.launch(APP)
    chance_now = random.Random()
    told: dict[str, bytes] = {}

    def answer(service: str) -> bytes:
        kind, _, line = service.partition(":")
        if kind == "host":
            listing = b"LABALDER5              device product:a model:Alder_5\n"
            body = {"version": b"0029"}.get(line, listing)
            said = b"OKAY" + b"%04x" % len(body) + body
            return said if chance_now.random() < 0.5 else changed(said, chance_now)
        if line not in told:
            told[line] = shell.run(phone, line)[0]
        said = told[line] if chance_now.random() < 0.6 else changed(told[line], chance_now)
        whole = b"OKAY" + (packets(said) if kind == "shell,v2" else said)
        return whole if chance_now.random() < 0.9 else changed(whole, chance_now)

    with Babbler(answer) as face:
        server = AdbServer(port=face.port, patience=3)

        def once(chance: random.Random) -> None:
            chance_now.seed(chance.random())
            link = AdbLink(server, "LABALDER5")
            for ask in (server.version, server.devices, link.profile, link.apps, link.front, link.panel, lambda: link.log(0.0)):
                with contextlib.suppress(CopioneError):
                    ask()
            moment = link.moment()
            if moment.screen is not None:
                _use(moment.screen)
            Bench(server).look()

        yield once


@contextlib.contextmanager
def webdriver() -> Iterator[Target_]:
    png = io.BytesIO()
    Image.new("RGB", (40, 80)).save(png, "PNG")
    button = '<Button type="Button" label="a" x="1" y="1" width="9" height="9"/>'
    source = f'<Application type="Application" x="0" y="0" width="40" height="80">{button}</Application>'
    capabilities = {"platformName": "ios", "lab:deviceName": "Wren", "lab:app": "a", "lab:millimetres": [60, 120], "lab:textScale": 1.0}
    values = {
        "session": {"sessionId": "abc", "capabilities": capabilities},
        "status": {"ready": True, "message": "", "lab:name": "Wren"},
        "rect": {"x": 0, "y": 0, "width": 40, "height": 80},
        "screenshot": base64.b64encode(png.getvalue()).decode(),
        "source": source,
        "app": [{"app": "org.a", "version": "1"}],
        "log": ["a", "b"],
    }
    chance_now = random.Random()

    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            self.rfile.read(int(self.headers.get("Content-Length") or 0))
            name = self.path.rstrip("/").rpartition("/")[2]
            value = values.get(name)
            value = odd(value, chance_now) if chance_now.random() < 0.3 else value
            body = json.dumps({"value": value}).encode()
            if chance_now.random() < 0.15:
                body = changed(body, chance_now)
            self.send_response(chance_now.choice((200, 200, 200, 200, 404, 500)))
            self.send_header("Content-Length", str(len(body)))
            if chance_now.random() < 0.02:
                self.send_header("Content-Encoding", "gzip")
            self.end_headers()
            self.wfile.write(body)

        do_POST = do_DELETE = do_GET

        def log_message(self, *_: Any) -> None:
            pass

    face = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=face.serve_forever, daemon=True).start()
    url = f"http://127.0.0.1:{face.server_port}"

    def once(chance: random.Random) -> None:
        chance_now.seed(chance.random())
        look_up(url)
        link = WebDriverLink(url)
        try:
            for ask in (link.profile, link.apps, link.front, link.picture, lambda: link.log(0.0), lambda: link.type_text("a")):
                with contextlib.suppress(CopioneError):
                    ask()
            moment = link.moment()
            if moment.screen is not None:
                _use(moment.screen)
        finally:
            link.close()

    try:
        yield once
    finally:
        face.shutdown()
        face.server_close()


@contextlib.contextmanager
def trees() -> Iterator[Target_]:
    phone = Phone(load_models()[0])
    phone.launch(APP)
    phone._app(APP).go("sign-in")
    phone._changed()
    android, native = phone.dump(), phone.source()

    def once(chance: random.Random) -> None:
        with contextlib.suppress(CopioneError):
            _use(read_android(changed(android, chance), 1080, 2340, 420))
        with contextlib.suppress(CopioneError):
            _use(read_native(changed(native, chance), 412.0, 892.0))

    yield once


@contextlib.contextmanager
def _made() -> Iterator[Path]:
    """A project with scripts, settings of every kind, a run with pictures, and a recording."""
    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch) / "project"
        shutil.copytree(EXAMPLE, folder, ignore=shutil.ignore_patterns("runs", "recordings"))
        (folder / "allowances.toml").write_text(
            '[[allowed]]\nscript = "Spring"\nstep = "x"\nwhy = "so"\nby = "Ada"\nsince = 2026-01-01\n', "utf-8"
        )
        (folder / "remarks.toml").write_text("", "utf-8")
        profile = DeviceProfile("Alder 5", "android", "14", 1080, 2340, 420)
        run = RunWriter(folder / "runs", "Spring", "", "bees", ["Alder 5"])
        take = run.take(profile, TakeName("Alder 5"), {"hive": "Hive 7"}, "2.4")
        take.step(Result(1, Address.of(3), "One", 'tap button "Hives"', 'button "Hives"', Outcome.HELD, box=None, before="0001.png"))
        take.step(Result(2, Address.of(4), "One", 'check label "a" reads "b"', 'label "a"', Outcome.DIFFERS, before="0001.png"))
        take.close()
        frame = next((folder / "scripts").rglob("*.png")).read_bytes()
        (take.folder / "shots").mkdir(exist_ok=True)
        (take.folder / "shots" / "0001.png").write_bytes(frame)
        run.finish(1.0)
        journal = folder / "recordings" / "2026-01-01-000000"
        journal.mkdir(parents=True)
        lines = [{"app": "bees", "started": 1.0, "into": None}, {"order": [1], "scene": "One", "values": {}, "new": [_journalled()]}]
        (journal / "journal.jsonl").write_text("".join(json.dumps(line) + "\n" for line in lines), "utf-8")
        RunIndex(folder / "runs").complete()
        yield folder


@contextlib.contextmanager
def project() -> Iterator[Target_]:
    with _made() as folder:
        files = {path: path.read_bytes() for path in folder.rglob("*") if path.is_file()}
        small = [path for path, data in files.items() if len(data) < 1 << 20]

        def once(chance: random.Random) -> None:
            path = chance.choice(small)
            try:
                path.write_bytes(_damaged(files[path], path.suffix, chance))
                for read in (_read_project, _read_runs, _read_journals):
                    with contextlib.suppress(CopioneError):
                        read(folder)
            finally:
                path.write_bytes(files[path])

        yield once


@contextlib.contextmanager
def files() -> Iterator[Target_]:
    """Files of a project that are none, or huge, or deep."""
    with _made() as folder:
        kinds = {path.suffix + path.parent.name[:5]: path for path in sorted(folder.rglob("*")) if path.is_file()}

        def once(chance: random.Random) -> None:
            path, kind = chance.choice(list(kinds.values())), chance.choice(list(MAKERS))
            with in_its_place(path, kind, chance):
                bad = read_apart(folder)
            if bad:
                raise AssertionError(f"{path.relative_to(folder)} as {kind}: {'; '.join(bad)}")

        yield once


def _journalled() -> dict[str, Any]:
    facts: dict[str, Any] = {"uid": 1, "scene": "One", "step": 'tap button "Hives"', "portraits": [], "shot": "0001", "mark": [[1, 2]]}
    return {**facts, "scrolled": False, "bars": 3, "doubt": "", "others": []}


def _damaged(data: bytes, kind: str, chance: random.Random) -> bytes:
    if kind in {".json", ".jsonl"} and chance.random() < 0.6:
        lines = data.split(b"\n") if kind == ".jsonl" else [data]
        at = chance.randrange(max(1, len(lines) - 1))
        lines[at] = json.dumps(odd(json.loads(lines[at]), chance)).encode("utf-8", "surrogatepass")
        return b"\n".join(lines)
    return changed(data, chance)


def _read_project(folder: Path) -> None:
    found = Project(folder)
    for path in found.scripts():
        found.load(path).remarks()
    found.phrases("de-AT")


def _read_runs(folder: Path) -> None:
    for path in (folder / "runs").iterdir():
        run = read_run(path)
        lanes, found = found_in(run)
        known = assessed(folder, run, lanes, found, usual_baseline(run.folder, run.script), date(2026, 11, 26))
        junit(lanes, run.script, (), known)
        page(run, lanes, known)


def _read_journals(folder: Path) -> None:
    unfinished(folder / "recordings")


TARGETS: dict[str, Callable[[], contextlib.AbstractContextManager[Target_]]] = {
    each.__name__: each for each in (script, touch, adb, webdriver, trees, project, files)
}


def fuzz(name: str, seed: int, going: Callable[[int], bool]) -> tuple[int, list[str]]:
    """Fuzz one target from a seed as long as `going` says of the number done. How often, and what went wrong, with its seed."""
    bad: list[str] = []
    number = 0
    with TARGETS[name]() as once:
        while going(number):
            one = seed + number
            began = time.monotonic()
            try:
                once(random.Random(one))
            except CopioneError:
                pass
            except Exception:
                bad.append(f"{name} --seed {one}:\n{traceback.format_exc()}")
            if time.monotonic() - began > SLOW_S and name != "files":  # of those each reader is measured for itself
                bad.append(f"{name} --seed {one}: took {time.monotonic() - began:.1f} s")
            number += 1
    return number, bad


def main() -> int:
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("seconds", type=float)
    given.add_argument("--only", choices=TARGETS)
    given.add_argument("--seed", type=int, default=random.randrange(1 << 30))
    options = given.parse_args()
    names = [options.only] if options.only else list(TARGETS)
    wrong = 0
    for name in names:
        until = time.monotonic() + options.seconds / len(names)
        count, bad = fuzz(name, options.seed, lambda number, until=until: number == 0 or time.monotonic() < until)
        wrong += len(bad)
        print(f"{name}: {count} inputs from seed {options.seed}, {len(bad)} that went wrong", flush=True)
        for each in bad[:5]:
            print(each)
    return int(bool(wrong))


if __name__ == "__main__":
    sys.exit(main())
