"""`python -m copione_lab`: the stand-in phones until the standard input closes or the process is stopped."""

from __future__ import annotations

import argparse
import contextlib
import json
import sys
import threading
from pathlib import Path

from .bench import Bench
from .control import Control
from .faces.adb_daemon import AdbDaemon
from .faces.adb_server import AdbServer
from .faces.webdriver import WebDriverServer
from .model import PACES, SHIPPED, faults_folder, load_faults, load_models


def main() -> int:
    parser = argparse.ArgumentParser(prog="copione_lab", description=__doc__)
    parser.add_argument("--port", type=int, default=0)
    parser.add_argument("--pace", choices=PACES, default="brisk")
    parser.add_argument("--models", type=Path, action="append", default=[], help="a folder with more models")
    parser.add_argument("--faults", default=str(SHIPPED / "faults"), help="a folder of seeded faults, or none")
    parser.add_argument("--tied", action="store_true", help="end when the standard input closes")
    parser.add_argument("--build", choices=("2.4", "2.5"), default="2.4", help="which build of Hive Diary is installed")
    parser.add_argument("--hand", metavar="NAME", help="show that phone in a window of its own: your finger on its glass")
    options = parser.parse_args()
    try:
        models = load_models(SHIPPED / "models", *options.models)
        faults = load_faults(faults_folder(options.faults), models)
    except ValueError as error:
        print(error, file=sys.stderr)
        return 1
    bench = Bench(models, faults, options.pace, options.build)
    with contextlib.ExitStack() as stack:
        server = stack.enter_context(AdbServer(bench, options.port))
        web = stack.enter_context(WebDriverServer(bench))
        daemons = {s: stack.enter_context(AdbDaemon(bench, s)) for s, p in bench.phones.items() if p.model.platform == "android"}
        control = stack.enter_context(Control(bench, server.close))
        print(
            json.dumps(
                {
                    "port": server.port,
                    "endpoints": web.endpoints,
                    "control": f"{control.port}:{control.token}",
                    "daemons": {bench.phones[s].model.name: d.port for s, d in daemons.items()},
                    "phones": [p.model.name for p in bench.phones.values()],
                }
            ),
            flush=True,
        )
        with contextlib.suppress(KeyboardInterrupt):
            if options.hand:
                return _hand(bench, options.hand)
            if options.tied:
                sys.stdin.read()
            else:
                threading.Event().wait()
    return 0


def _hand(bench: Bench, name: str) -> int:
    phone = next((p for p in bench.phones.values() if p.model.name.casefold() == name.casefold()), None)
    if phone is None:
        print(f"No phone is called {name}.", file=sys.stderr)
        return 2
    from .hand import show

    return show(phone)


if __name__ == "__main__":
    sys.exit(main())
