"""W3C WebDriver remote ends for the phones of the second platform: one HTTP server on loopback, a base path a phone.

App lifecycle and the device log are extension commands under the vendor prefix `lab`.
"""

from __future__ import annotations

import base64
import contextlib
import json
import re
import threading
import uuid
from collections.abc import Callable
from email.message import Message
from http.server import BaseHTTPRequestHandler
from typing import Any

from ..apps import APPS
from ..bench import Bench
from ..phone import Phone
from . import elements
from .loopback import Loopback
from .w3c import ERRORS, WireFault

KEYS = {"\ue003": "DEL", "\ue006": "ENTER", "\ue007": "ENTER", "\ue010": "MOVE_END", "\ue017": "FORWARD_DEL", "\ue00c": "ESCAPE"}
KEYS |= {"\ue004": "TAB", "\ue012": "DPAD_LEFT", "\ue013": "DPAD_UP", "\ue014": "DPAD_RIGHT", "\ue015": "DPAD_DOWN"}
CONTROL = "\ue009"
MOVE_EVERY_S = 1 / 60


MOST_BYTES = 64 << 20  # of a request: a package file in base64
LOOPBACK = re.compile(r"(127\.0\.0\.1|localhost|\[::1\])(:\d{1,5})?", re.I)


def stranger(headers: Message) -> str:
    """Why a request is not answered: a page in a browser asks under a foreign name, from a foreign origin, or sends what is no JSON."""
    host, origin = headers.get("Host", ""), headers.get("Origin")
    if not LOOPBACK.fullmatch(host):
        return f"This is asked for as {host[:80]!r}; only this computer's own names are answered."
    if origin is not None and not LOOPBACK.fullmatch(origin.partition("://")[2]):
        return "Pages of other origins are not answered."
    if int(headers.get("Content-Length") or 0) and headers.get_content_type() != "application/json":
        return "Only JSON is taken."
    return ""


class WebDriverServer(Loopback):
    """Serves the bench's phones of the second platform until closed; `endpoints` are their base URLs."""

    def __init__(self, bench: Bench, port: int = 0) -> None:
        self.bench = bench
        self.sessions: dict[str, Phone] = {}
        self._stopping = threading.Event()
        outer = self

        class Handler(BaseHTTPRequestHandler):
            protocol_version = "HTTP/1.1"
            wbufsize = -1  # head and body in one piece
            disable_nagle_algorithm = True

            def log_message(self, *_args: object) -> None:
                """Nobody reads it."""

            def do_GET(self) -> None:
                outer._serve(self)

            do_POST = do_DELETE = do_GET

        super().__init__(Handler, "lab-webdriver", port, http=True)

    def close(self) -> None:
        """Stop listening; what hangs or drips ends."""
        self._stopping.set()
        super().close()

    @property
    def endpoints(self) -> list[str]:
        phones = self.bench.phones.values()
        return [f"http://127.0.0.1:{self.port}/{p.model.key}" for p in phones if p.model.platform != "android"]

    def _serve(self, request: BaseHTTPRequestHandler) -> None:
        try:
            length = int(request.headers.get("Content-Length") or 0)
            if not 0 <= length <= MOST_BYTES:
                raise ValueError("The body is too long.")
            given = request.rfile.read(length)
            refused = stranger(request.headers)
            if refused:
                raise WireFault("unknown error", refused)
            body = json.loads(given or b"{}")
            value, status = self._answer(request.command, request.path, body), 200
        except WireFault as fault:
            value, status = {"error": fault.error, "message": fault.message, "stacktrace": ""}, ERRORS[fault.error]
        except (ValueError, KeyError, TypeError, AttributeError) as error:
            value, status = {"error": "invalid argument", "message": str(error), "stacktrace": ""}, 400
        serial = next((s for s, p in self.bench.phones.items() if request.path.startswith(f"/{p.model.key}/session/")), "")
        picture = request.path.endswith("/screenshot") and status == 200
        if picture and self.bench.trouble.get(serial) in {"cut-picture", "giant-picture"}:
            png = b"".join(self.bench.spoil(serial, base64.b64decode(value), self._stopping, True))
            value = base64.b64encode(png).decode()
        data = json.dumps({"value": value}).encode()
        request.send_response(status)
        request.send_header("Content-Type", "application/json; charset=utf-8")
        request.send_header("Content-Length", str(len(data)))
        request.end_headers()
        with contextlib.suppress(OSError):
            sent = 0
            for piece in self.bench.spoil(serial, data, self._stopping):
                request.wfile.write(piece)
                request.wfile.flush()
                sent += len(piece)
            request.close_connection = request.close_connection or sent < len(data)

    def _answer(self, method: str, path: str, body: dict[str, Any]) -> Any:
        match = re.fullmatch(r"/([a-z0-9-]+)/(status|session)(?:/([^/]+)(?:/(.+))?)?", path)
        phone = next((p for p in self.bench.phones.values() if match and p.model.key == match.group(1)), None)
        if match is None or phone is None:
            raise WireFault("unknown command", f"{path} is no command of this remote end.")
        if match.group(2) == "session" and not self.bench.hold_up(phone.model.serial, self._stopping):
            raise WireFault("unknown error", "The device refuses.")
        state = self.bench.state(phone.model.serial)
        if match.group(2) == "status":
            return {"ready": state == "device", "message": state or "unplugged", "lab:name": phone.model.name}
        if state != "device":
            raise WireFault("unknown error", f"The device is {state or 'not connected any more'}.")
        session, command = match.group(3), match.group(4)
        if session is None:
            return self._new(phone, body)
        if self.sessions.get(session) is not phone:
            raise WireFault("invalid session id", "There is no such session.")
        if command is None and method == "DELETE":
            del self.sessions[session]
            return None
        if (command or "").startswith("element/"):
            return elements.act(phone, method, command, body)
        handler = COMMANDS.get((method, command or ""))
        if handler is None:
            known = any(name == command for _, name in COMMANDS)
            raise WireFault("unknown method" if known else "unknown command", f"{method} {command} is not known here.")
        broken = self.bench.failing_dumps.get(phone.model.serial)
        if command == "source" and broken is not None:
            return broken.decode("utf-8", "replace")
        return handler(phone, body)

    def _new(self, phone: Phone, body: dict[str, Any]) -> Any:
        wanted = body["capabilities"].get("alwaysMatch", {}).get("platformName", phone.model.platform)
        if wanted != phone.model.platform:
            raise WireFault("session not created", f"This is a device of {phone.model.platform}, not {wanted}.")
        session = uuid.uuid4().hex
        self.sessions[session] = phone
        model = phone.model
        return {
            "sessionId": session,
            "capabilities": {
                "platformName": model.platform,
                "browserName": "",
                "browserVersion": model.release,
                "setWindowRect": False,
                "lab:deviceName": model.name,
                "lab:udid": phone.number,
                "lab:platformVersion": model.release,
                "lab:locale": model.locale,
                "lab:textScale": model.text_scale,
                "lab:millimetres": [model.width_mm, model.height_mm],
                "lab:app": True,
            },
        }


def _rect(phone: Phone, _body: dict[str, Any]) -> Any:
    return {"x": 0, "y": 0, "width": round(phone.width), "height": round(phone.height)}


def _screenshot(phone: Phone, _body: dict[str, Any]) -> Any:
    return base64.b64encode(phone.png()).decode()


def _source(phone: Phone, _body: dict[str, Any]) -> Any:
    return phone.source().decode()


def _back(phone: Phone, _body: dict[str, Any]) -> Any:
    phone.key("BACK")


def _orientation(phone: Phone, _body: dict[str, Any]) -> Any:
    return "landscape" if phone.lying else "portrait"


def _turn(phone: Phone, body: dict[str, Any]) -> Any:
    if body["orientation"] not in {"landscape", "portrait"}:
        raise WireFault("invalid argument", "An orientation is landscape or portrait.")
    phone.turn(1 if body["orientation"] == "landscape" else 0)


def _install(phone: Phone, body: dict[str, Any]) -> Any:
    phone.install(base64.b64decode(body["package"]))


def _app(phone: Phone, body: dict[str, Any]) -> Any:
    action, app = body["action"], body.get("app", "")
    if action == "list":
        return [{"app": p, "version": version, "name": APPS[p].label} for p, version in phone.installed()]
    if action == "front":
        return list(phone.front())
    if action == "hide-keyboard":
        phone.lower_keyboard()
        return None
    if action == "home":
        phone.key("HOME")
        return None
    if action == "open":
        if not phone.open(app):
            raise WireFault("invalid argument", f"No app opens {app}.")
        return None
    if app not in dict(phone.installed()):
        raise WireFault("invalid argument", f"{app} is not installed.")
    {"launch": phone.launch, "stop": phone.stop, "clear": phone.clear, "uninstall": phone.uninstall}[action](app)
    return None


def _log(phone: Phone, body: dict[str, Any]) -> Any:
    return [f"{at:.3f} {words}" for at, words in list(phone.log_lines) if at >= float(body["since"])]


def _actions(phone: Phone, body: dict[str, Any]) -> Any:
    """The Actions API: all sources tick by tick; a tick lasts as long as its longest action."""
    sources = body["actions"]
    at = phone.now()
    places: dict[str, tuple[float, float]] = {}
    held: set[str] = set()
    fingers = {source["id"]: number for number, source in enumerate(s for s in sources if s["type"] == "pointer")}
    for tick in range(max((len(s["actions"]) for s in sources), default=0)):
        actions = [(s, s["actions"][tick]) for s in sources if tick < len(s["actions"])]
        seconds = max((float(a.get("duration", 0) or 0) for _, a in actions), default=0.0) / 1000
        moves: list[tuple[int, tuple[float, float], tuple[float, float]]] = []
        for source, action in actions:
            if source["type"] == "key":
                _key(phone, action, held)
            elif source["type"] == "pointer":
                _pointer(phone, source["id"], fingers, action, places, moves, at)
        steps = max(1, round(seconds / MOVE_EVERY_S)) if moves else 1
        for step in range(1, steps + 1):
            phone.sleep(seconds / steps)
            for finger, (x0, y0), (x1, y1) in moves:
                share = step / steps
                x, y = x0 + (x1 - x0) * share, y0 + (y1 - y0) * share
                phone.pointer("move", finger, x * phone.model.density, y * phone.model.density, at + seconds * share)
        at += seconds
    return None


def _pointer(
    phone: Phone,
    source: str,
    fingers: dict[str, int],
    action: dict[str, Any],
    places: dict[str, tuple[float, float]],
    moves: list[tuple[int, tuple[float, float], tuple[float, float]]],
    at: float,
) -> None:
    kind = action["type"]
    if kind == "pause":
        return
    if kind == "pointerMove":
        there = float(action["x"]), float(action["y"])
        if f"down {source}" in places:
            moves.append((fingers[source], places[source], there))
        places[source] = there
        return
    x, y = places.get(source, (0.0, 0.0))
    phone.pointer("down" if kind == "pointerDown" else "up", fingers[source], x * phone.model.density, y * phone.model.density, at)
    if kind == "pointerDown":
        places[f"down {source}"] = (x, y)
    else:
        places.pop(f"down {source}", None)


def _key(phone: Phone, action: dict[str, Any], held: set[str]) -> None:
    value = action["value"]
    if value == CONTROL:
        (held.add if action["type"] == "keyDown" else held.discard)(value)
    elif action["type"] == "keyDown":
        if value in KEYS:
            phone.key(("CTRL_" if held else "") + KEYS[value])
        else:
            phone.text(value)


COMMANDS: dict[tuple[str, str], Callable[[Phone, dict[str, Any]], Any]] = {
    ("GET", "window/rect"): _rect,
    ("GET", "screenshot"): _screenshot,
    ("GET", "source"): _source,
    ("POST", "actions"): _actions,
    ("DELETE", "actions"): lambda phone, body: None,
    ("POST", "back"): _back,
    ("POST", "element"): elements.first,
    ("POST", "elements"): elements.found,
    ("GET", "lab/orientation"): _orientation,
    ("POST", "lab/orientation"): _turn,
    ("POST", "lab/install"): _install,
    ("POST", "lab/app"): _app,
    ("POST", "lab/log"): _log,
}
