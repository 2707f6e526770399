"""Trouble on demand: a control port on loopback that takes one JSON object a line and answers with one.

`{"do": "unplug", "phone": "Alder 5", "token": "..."}`; what can be done is in `TROUBLES`. The token is told to whoever started the lab; a
line that is no such object, or has another token, ends the connection: what a page in a browser could send is none.
"""

from __future__ import annotations

import json
import secrets
import socket
import socketserver
from collections.abc import Callable
from typing import Any

from .bench import Bench
from .faces.loopback import Loopback

WIRE = ("hang", "refuse", "slow", "close", "garbage", "drip", "cut-picture", "giant-picture")  # what a phone does on the wire
TROUBLES = ("unplug", "plug", "unapprove", "offline", *WIRE, "fail-dumps", "no-network", "sleep", "lock", "mend", "kill-server")
LONGEST = 10_000  # bytes of one line


def cause(bench: Bench, do: str, phone: str, kill: Callable[[], None] = lambda: None) -> str:
    """Do it; a sentence about what was done. Raises ValueError naming what there is."""
    if do not in TROUBLES:
        raise ValueError(f"There is no trouble {do}. There are: {', '.join(TROUBLES)}.")
    if do == "kill-server":
        kill()
        return "The server is gone."
    serial = next((s for s, p in bench.phones.items() if phone.casefold() in {p.model.name.casefold(), s.casefold()}), None)
    if serial is None:
        raise ValueError(f"No phone is called {phone}. There are: {', '.join(p.model.name for p in bench.phones.values())}.")
    if do == "unplug":
        bench.unplug(serial)
    elif do in {"plug", "mend"}:
        bench.mend(serial)
    elif do in {"unapprove", "offline"}:
        bench.set_state(serial, "unauthorized" if do == "unapprove" else "offline")
    elif do == "no-network":
        bench.phones[serial].conditions.airplane = True
    elif do in ("sleep", "lock"):
        bench.phones[serial].fall_asleep("secure" if do == "lock" else "swipe")
    elif do == "fail-dumps":
        bench.failing_dumps[serial] = b"ERROR: could not get idle state.\n"
    else:
        bench.trouble[serial] = do
    return f"{phone}: {do}."


class Control(Loopback):
    """Listens until closed. `kill` ends the server faces."""

    def __init__(self, bench: Bench, kill: Callable[[], None], port: int = 0) -> None:
        self.token = secrets.token_urlsafe(12)
        token = self.token

        class Handler(socketserver.StreamRequestHandler):
            def handle(self) -> None:
                while line := self.rfile.readline(LONGEST):
                    try:
                        asked: dict[str, Any] = json.loads(line)
                        if not secrets.compare_digest(str(asked["token"]).encode(), token.encode()):
                            raise PermissionError("The token is another one.")
                    except (ValueError, KeyError, TypeError, RecursionError, PermissionError):
                        self.wfile.write(b'{"error": "Ask with the token that the lab printed when it started."}\n')
                        return
                    try:
                        answer = {"done": cause(bench, str(asked["do"]), str(asked.get("phone", "")), kill)}
                    except (ValueError, KeyError) as error:
                        answer = {"error": str(error)}
                    self.wfile.write(json.dumps(answer).encode() + b"\n")

        super().__init__(Handler, "lab-control", port)


def ask(port: int, token: str, do: str, phone: str) -> str:
    """Ask a running lab for trouble. Raises ValueError with what it answers, OSError when none runs there."""
    with socket.create_connection(("127.0.0.1", port), timeout=5) as connection:
        connection.sendall(json.dumps({"do": do, "phone": phone, "token": token}).encode() + b"\n")
        answer = json.loads(connection.makefile().readline())
    if "error" in answer:
        raise ValueError(answer["error"])
    return str(answer["done"])
