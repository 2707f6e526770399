"""Replays on the command line that are ended at a random instant: is the phone as it was, are the results there? And two at one phone."""

from __future__ import annotations

import contextlib
import itertools
import json
import os
import random
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

from lxml import etree
from tests.benches import APP, SERIALS

from copione.project.history import FILE
from copione.project.project import Project
from copione_lab.bench import Bench as LabBench
from copione_lab.faces.adb_server import AdbServer as LabServer
from copione_lab.model import load_models

NAME = "Alder 5"
ENDS = ("term", "hangup", "once", "twice", "three times", "kill", "full disk", "index locked", "index damaged", "output closed")
SIGNALS = {"term": [signal.SIGTERM], "hangup": [signal.SIGHUP], "kill": [signal.SIGKILL], "once": [signal.SIGINT]}
SIGNALS |= {"twice": [signal.SIGINT] * 2, "three times": [signal.SIGINT] * 3}
CHANGES = ("turn network off", "turn dark mode on", "turn battery saver on", "turn text size to 1.3", "turn landscape")
LONGEST_S, LIMIT_S, SMALL_DISK = 6.0, 60.0, "700k"
ENVIRONMENTS = ({}, {"XDG_RUNTIME_DIR": None}, {"XDG_STATE_HOME": "/tmp/elsewhere"}, {"TMPDIR": "/var/tmp"}, {"HOME": "/nonexistent"})


class OnePhone:
    """A stand-in phone in this process behind its real wire, and a project for it."""

    def __init__(self, folder: Path) -> None:
        self.lab = LabBench([m for m in load_models() if m.name in SERIALS], [])
        self.face = LabServer(self.lab)
        self.phone = self.lab.phones[SERIALS[NAME]]
        self.folder = folder
        self.project(folder / "project")

    @staticmethod
    def project(folder: Path) -> Project:
        project = Project.create(folder, "Bees")
        project.learn_app(APP, "android")
        return project

    def script(self, folder: Path, name: str, *steps: str) -> Path:
        path = Project(folder).script_path(name)
        path.write_text(f'script "{name}"\napp hive-diary\npatience 3 s\nscene "One"\n    ' + "\n    ".join(steps) + "\n", "utf-8")
        return path

    def start(self, script: Path, junit: Path, *more: str, host: str = "127.0.0.1", **environment: str | None) -> subprocess.Popen[str]:
        words = [sys.executable, "-m", "copione", "replay", str(script), "--on", NAME, "--json", "--junit", str(junit), *more]
        known = {name: value for name, value in {**os.environ, **environment}.items() if value is not None}
        return subprocess.Popen(
            [*words, "--adb", f"{host}:{self.face.port}"], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, env=known
        )

    def condition(self) -> tuple[object, ...]:
        """All that a script may have changed."""
        now = self.phone.conditions
        return now.online, now.dark, now.saver, self.phone.metrics.text_scale, self.phone.rotation % 2


@contextlib.contextmanager
def small_disk(folder: Path) -> Iterator[Path | None]:
    """A disk that is soon full; None where this user may not make one."""
    folder.mkdir(exist_ok=True)
    made = subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={SMALL_DISK}", "tmpfs", str(folder)], capture_output=True, check=False)
    try:
        yield folder if made.returncode == 0 else None
    finally:
        if made.returncode == 0:
            subprocess.run(["umount", "-l", str(folder)], check=True)


def ended(one: OnePhone, how: str, chance: random.Random, place: Path) -> list[str]:
    """One replay that ends so: what went wrong."""
    before, junit = one.condition(), one.folder / "junit.xml"
    junit.unlink(missing_ok=True)
    changes = chance.sample(CHANGES, 3)
    script = one.script(place, "Ended", "launch afresh", *changes, 'wait until text "Nobody" is shown', 'tap button "Hives"')
    process = one.start(script, junit)
    assert process.stdout is not None and process.stderr is not None
    lines: list[str] = []
    reader = threading.Thread(target=lambda: lines.extend(process.stdout or ()), daemon=True)
    if how == "output closed":
        lines += [process.stdout.readline()]
        process.stdout.close()
        process.stdout = None
    else:
        reader.start()
    with contextlib.ExitStack() as stack:
        index = Project(place).folder / FILE
        if how == "index locked":
            base = stack.enter_context(contextlib.closing(sqlite3.connect(index, isolation_level=None)))
            base.execute("begin exclusive")
        elif how == "index damaged":
            index.write_bytes(b"no index" * 200)
            stack.callback(index.unlink, missing_ok=True)
        if how in SIGNALS:
            time.sleep(chance.uniform(0.5, LONGEST_S))
            for number in SIGNALS[how]:
                process.send_signal(number)
                time.sleep(chance.uniform(0.0, 0.2))
        try:
            process.wait(LIMIT_S)
        except subprocess.TimeoutExpired:
            process.kill()
            return [f"{how}: it did not end within {LIMIT_S:g} s"]
        if reader.ident is not None:
            reader.join(5)
    said = process.stderr.read()
    wrong = [f"{how}: {said[-400:]}"] if "Traceback" in said or "error in Copione" in said else []
    done = sum('"outcome"' in line for line in lines if line.endswith("\n") and json.loads(line))
    if done and how != "kill":
        try:
            etree.parse(str(junit))
        except (OSError, etree.XMLSyntaxError) as error:
            wrong.append(f"{how}: {done} steps were done, and there is no JUnit: {error}; {said[-200:]}")
    if how != "kill" and one.condition() != before:
        wrong.append(f"{how}: the phone is not as it was, {before} is {one.condition()}; {said[-200:]}")
    return wrong


def ends(times: int, chance: random.Random) -> tuple[int, list[str], Counter[str]]:
    """Run `times` replays, end each in another way, and let another one find the phone as it was. How often it was so, what went wrong."""
    wrong: list[str] = []
    counts, as_it_was = Counter[str](), 0
    with tempfile.TemporaryDirectory() as scratch:
        one = OnePhone(Path(scratch))
        with one.face:
            before = one.condition()
            for number in range(times):
                how = ENDS[number % len(ENDS)]
                place: Path | None = one.folder / "project"
                with contextlib.ExitStack() as stack:
                    if how == "full disk":
                        place = stack.enter_context(small_disk(one.folder / "small"))
                        if place is None:
                            counts["full disk: not measured, no disk can be made here"] += 1
                            place, how = one.folder / "project", "term"
                        else:
                            one.project(place)
                    counts[how] += 1
                    wrong += ended(one, how, chance, place)
                last = one.start(one.script(one.folder / "project", "Next", "launch afresh"), one.folder / "next.xml", XDG_RUNTIME_DIR=None)
                _, said = last.communicate(timeout=LIMIT_S)
                if last.returncode != 0 or one.condition() != before:
                    wrong.append(f"after {how}: the next ended with {last.returncode}, {before} is {one.condition()}: {said[-300:]}")
                else:
                    as_it_was += 1
    return as_it_was, wrong, counts


def two_at_one(times: int, chance: random.Random) -> tuple[int, list[str]]:
    """Two Copiones from two environments at one phone: how often the app's log has an act of the one among those of the other."""
    overlapping, wrong = 0, []
    with tempfile.TemporaryDirectory() as scratch:
        one = OnePhone(Path(scratch))
        with one.face:
            for _ in range(times):
                processes = []
                since = time.time()
                for number, host, environment in zip((1, 2), ("127.0.0.1", "localhost"), chance.sample(ENVIRONMENTS, 2), strict=True):
                    folder = one.folder / f"of {number}"
                    one.project(folder)
                    opened = (f'tap item "Hive {number}"', "press back") * 3
                    script = one.script(folder, f"Of {number}", "launch afresh", 'tap button "Hives"', *opened)
                    processes.append(one.start(script, folder / "junit.xml", "--busy", "wait", host=host, **environment))
                    time.sleep(chance.uniform(0.0, 1.5))
                for process in processes:
                    _, said = process.communicate(timeout=2 * LIMIT_S)
                    if process.returncode != 0:
                        wrong.append(f"two at one phone: exit code {process.returncode}: {said[-300:]}")
                opens = [words[-1] for at, words in one.phone.log_lines if at >= since and "HiveDiary: open Hive" in words]
                blocks = [(who, len(list(acts))) for who, acts in itertools.groupby(opens)]
                if sorted(blocks) != [("1", 3), ("2", 3)]:
                    overlapping += 1
                    wrong.append(f"two at one phone: {blocks}")
    return overlapping, wrong
