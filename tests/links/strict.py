"""A remote end written from the standard, over phones that behave as ever: it takes nothing that it does not have to.

`python -m tests.links.strict KEY CERTIFICATE` prints its addresses, one a line, and serves until its input ends. A session needs the
capabilities that it knows, every request somebody who signs in, over TLS. It tells Android's widgets by their classes, in pixels, and has
pixels for coordinates; the other platform's elements have names and no identifiers. What the standard has no word for is asked of it by
scripts of its own.
"""

from __future__ import annotations

import base64
import json
import ssl
import sys
import threading
import uuid
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

from lxml import etree

from copione_lab.bench import Bench
from copione_lab.faces.webdriver import _actions
from copione_lab.model import load_models
from copione_lab.phone import Phone

USER, PASSWORD = "ada", "of the ninth comb"
NEEDED = "bench:engine"
MODELS = ("Alder 5", "Kestrel S")


class Refused(Exception):
    """An error of the standard: its status, word and message."""


def android(phone: Phone) -> str:
    root = etree.fromstring(phone.dump().partition(b"UI hierchary")[0])
    for node in root.iter("node"):
        node.tag = node.attrib.pop("class").replace("$", ".") or "android.view.View"
    return etree.tostring(root, encoding="unicode")


def native(phone: Phone) -> str:
    root = etree.fromstring(phone.source())
    for element in root.iter():
        kind, own = element.attrib.pop("type", str(element.tag)), element.attrib.pop("identifier", "")
        element.attrib.pop("bundle", "")
        element.tag = f"BenchElementType{kind}"
        element.set("type", element.tag)
        if own or element.get("label"):
            element.set("name", own or element.get("label", ""))
    whole = etree.Element("Bench")
    whole.append(root)
    return etree.tostring(whole, encoding="unicode")


class Strict:
    """One phone behind one address."""

    def __init__(self, phone: Phone) -> None:
        self.phone, self.session = phone, ""
        self.k = phone.model.density if phone.model.platform == "android" else 1.0

    def answer(self, method: str, path: list[str], body: dict[str, Any]) -> Any:
        phone = self.phone
        match method, path:
            case "GET", ["status"]:
                return {"ready": True, "message": "as you please"}
            case "POST", ["session"]:
                return self._opened(body["capabilities"])
            case _, ["session", one, *_] if one != self.session:
                raise Refused(404, "invalid session id", "There is no such session.")
            case "DELETE", ["session", _]:
                self.session = ""
                return None
            case "GET", ["session", _, "window", "rect"]:
                return {"x": 0, "y": 0, "width": round(phone.width * self.k), "height": round(phone.height * self.k)}
            case "GET", ["session", _, "screenshot"]:
                return base64.b64encode(phone.png()).decode()
            case "GET", ["session", _, "source"]:
                return android(phone) if phone.model.platform == "android" else native(phone)
            case "POST", ["session", _, "actions"]:
                for source in body["actions"]:
                    downs = [a["type"] for a in source["actions"]]
                    if downs.count("pointerDown") != downs.count("pointerUp"):
                        raise Refused(400, "invalid argument", "Every finger is lifted.")
                    for action in source["actions"]:
                        action |= {axis: action[axis] / self.k for axis in ("x", "y") if axis in action}
                return _actions(phone, body)
            case "POST", ["session", _, "back"]:
                return phone.key("BACK")
            case "POST", ["session", _, "execute", "sync"]:
                return self._done(body["script"], *body["args"])
        raise Refused(404, "unknown command", f"{method} {'/'.join(path)} is no command of the standard.")

    def _opened(self, asked: dict[str, Any]) -> Any:
        every = [{**asked.get("alwaysMatch", {}), **each} for each in asked.get("firstMatch", [{}])]
        known = {"platformName", "acceptInsecureCerts", NEEDED, "bench:app"}
        fits = [c for c in every if c.get(NEEDED) == "two" and c.get("platformName") == self.phone.model.platform and c.keys() <= known]
        if not fits:
            raise Refused(500, "session not created", f"A session here needs platformName, {NEEDED} two, and nothing unknown.")
        self.session, model = uuid.uuid4().hex, self.phone.model
        told = {"platformName": model.platform, "platformVersion": model.release, "bench:model": model.name, NEEDED: "two"}
        told |= {"bench:speaks": model.locale, "bench:text": model.text_scale}
        told |= {"bench:density": model.dpi} if model.platform == "android" else {}
        return {"sessionId": self.session, "capabilities": told}

    def _done(self, script: str, *arguments: Any) -> Any:
        phone, given = self.phone, arguments[0] if arguments else None
        app = given.get("id", "") if isinstance(given, dict) else ""
        if script in {"bench: start", "bench: end", "bench: empty", "bench: remove"} and app not in dict(phone.installed()):
            raise Refused(500, "unknown error", f"{app} is not here.")
        match script:
            case "bench: apps":
                return {"apps": [{"id": package, "about": {"version": version}} for package, version in phone.installed()]}
            case "bench: front":
                return {"id": phone.front()[0]}
            case "bench: start":
                return phone.launch(app)
            case "bench: end":
                return phone.stop(app)
            case "bench: empty":
                return phone.clear(app)
            case "bench: remove":
                return phone.uninstall(app)
            case "bench: put":
                try:
                    return phone.install(base64.b64decode(given["data"]))
                except ValueError as error:
                    raise Refused(500, "unknown error", str(error)) from error
            case "bench: home":
                return phone.key("HOME")
            case "bench: keys":
                left, top, right, bottom = phone.keyboard_box_px() or (0, 0, 0, 0)
                return {"x": left, "y": top, "width": right - left, "height": bottom - top}
            case "bench: hold":
                phone.turn(int(given == "LANDSCAPE"))
                return None
            case "bench: said":
                return [{"line": words} for at, words in list(phone.log_lines) if at * 1000 >= given]
        raise Refused(500, "javascript error", f"{script} is no script of this remote end.")


def serve(key: str, certificate: str) -> None:
    """Until the input ends."""
    bench = Bench([model for model in load_models() if model.name in MODELS])
    ends = {phone.model.key: Strict(phone) for phone in bench.phones.values()}
    signed = "Basic " + base64.b64encode(f"{USER}:{PASSWORD}".encode()).decode()

    class Handler(BaseHTTPRequestHandler):
        protocol_version = "HTTP/1.1"
        wbufsize = -1  # head and body in one piece
        disable_nagle_algorithm = True

        def log_message(self, *_args: object) -> None: ...

        def do_GET(self) -> None:
            given = json.loads(self.rfile.read(int(self.headers.get("Content-Length") or 0)) or b"{}")
            name, *path = self.path.strip("/").split("/")
            try:
                if self.headers.get("Authorization") != signed:
                    raise Refused(401, "unknown error", "Who are you?")
                status, value = 200, ends[name].answer(self.command, path, given)
            except Refused as refused:
                status, error, message = refused.args
                value = {"error": error, "message": message, "stacktrace": ""}
            data = json.dumps({"value": value}).encode()
            self.send_response(status)
            self.send_header("Content-Type", "application/json")
            self.send_header("Content-Length", str(len(data)))
            self.end_headers()
            self.wfile.write(data)

        do_POST = do_DELETE = do_GET

    class Server(ThreadingHTTPServer):
        def handle_error(self, *_about: object) -> None:
            """Who does not trust it goes away."""

    server = Server(("127.0.0.1", 0), Handler)
    secure = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    secure.load_cert_chain(certificate, key)
    server.socket = secure.wrap_socket(server.socket, server_side=True, do_handshake_on_connect=False)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    for name in ends:
        print(f"https://127.0.0.1:{server.server_address[1]}/{name}", flush=True)
    sys.stdin.read()


if __name__ == "__main__":
    serve(*sys.argv[1:])
