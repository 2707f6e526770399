"""`python -m copione_lab`: the stand-in phones until the standard input closes or the process is stopped."""

from __future__ import annotations

import argparse
import contextlib
import json
import sys
import threading
from pathlib import Path

from .bench import Bench
from .faces.adb_server import AdbServer
from .faces.webdriver import WebDriverServer
from .model import PACES, SHIPPED, load_faults, load_models


def main() -> int:
    parser = argparse.ArgumentParser(prog="copione_lab", description=__doc__)
    parser.add_argument("--port", type=int, default=0)
    parser.add_argument("--pace", choices=PACES, default="brisk")
    parser.add_argument("--models", type=Path, action="append", default=[], help="a folder with more models")
    parser.add_argument("--faults", default=str(SHIPPED / "faults"), help="a folder of seeded faults, or none")
    parser.add_argument("--tied", action="store_true", help="end when the standard input closes")
    options = parser.parse_args()
    try:
        models = load_models(SHIPPED / "models", *options.models)
        faults = load_faults(None if options.faults == "none" else Path(options.faults))
    except ValueError as error:
        print(error, file=sys.stderr)
        return 1
    bench = Bench(models, faults, options.pace)
    with AdbServer(bench, options.port) as server, WebDriverServer(bench) as web:
        names = [p.model.name for p in bench.phones.values()]
        print(json.dumps({"port": server.port, "endpoints": web.endpoints, "phones": names}), flush=True)
        with contextlib.suppress(KeyboardInterrupt):
            if options.tied:
                sys.stdin.read()
            else:
                threading.Event().wait()
    return 0


if __name__ == "__main__":
    sys.exit(main())
