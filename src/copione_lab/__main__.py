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
from .model import PACES, SHIPPED, load_faults, load_models


def main() -> int:
    parser = argparse.ArgumentParser(prog="copione_lab", description=__doc__)
    parser.add_argument("--port", type=int, default=0)
    parser.add_argument("--pace", choices=PACES, default="brisk")
    parser.add_argument("--faults", default=str(SHIPPED / "faults"), help="a folder of seeded faults, or none")
    parser.add_argument("--tied", action="store_true", help="end when the standard input closes")
    options = parser.parse_args()
    bench = Bench(load_models(), load_faults(None if options.faults == "none" else Path(options.faults)), options.pace)
    with AdbServer(bench, options.port) as server:
        print(json.dumps({"port": server.port, "phones": [p.model.name for p in bench.phones.values()]}), flush=True)
        with contextlib.suppress(KeyboardInterrupt):
            if options.tied:
                sys.stdin.read()
            else:
                threading.Event().wait()
    return 0


if __name__ == "__main__":
    sys.exit(main())
