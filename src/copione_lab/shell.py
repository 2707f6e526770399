"""The phone's shell: the commands a stand-in answers, as a phone's own tools answer them."""

from __future__ import annotations

import hashlib
import shlex
import struct
from collections.abc import Callable

from . import panel
from .apps import OWN
from .launcher import LAUNCHER
from .phone import Phone
from .uinput import Injection

Answer = tuple[bytes, int]
OPERATORS = {";", "&&", "||", "|", "&"}
LOCALES_SINCE = 13  # and from which an app may have a language of its own
UINPUT_SINCE = 12  # the release from which a phone has the `uinput` tool
COMBINATIONS_SINCE = 12  # and `input keycombination`
MOVE_EVERY_S = 1 / 60
KEYCODES = {"3": "HOME", "4": "BACK", "66": "ENTER", "67": "DEL", "112": "FORWARD_DEL", "113": "CTRL_LEFT", "123": "MOVE_END"}
KEYCODES |= {
    "19": "DPAD_UP",
    "20": "DPAD_DOWN",
    "21": "DPAD_LEFT",
    "22": "DPAD_RIGHT",
    "24": "VOLUME_UP",
    "25": "VOLUME_DOWN",
    "111": "ESCAPE",
    "224": "WAKEUP",
}


def run(phone: Phone, line: str, given: bytes = b"") -> Answer:
    """Run one command line: words quoted as in sh, commands joined by ; && || and |. `given` is its standard input.

    Returns output and exit code.
    """
    try:
        lexer = shlex.shlex(line, posix=True, punctuation_chars=";&|<>")
        lexer.whitespace_split = True
        words = list(lexer)
    except ValueError as error:
        return f"/system/bin/sh: syntax error: {error}\n".encode(), 1
    output, code = b"", 0
    command: list[str] = []
    skip = False
    for word in [*words, ";"]:
        if word in OPERATORS:
            if command and not skip:
                more, code = _one(phone, command, given)
                if word == "|":
                    given, more = more, b""
                output += more
            skip = (word == "&&" and code != 0) or (word == "||" and code == 0)
            command = []
        else:
            command.append(word)
    return output, code


def stream(phone: Phone, line: str, write: Callable[[bytes], bool], given: bytes = b"") -> int:
    """Run one command line and hand its output on as it comes; `write` says whether anybody still takes it. Returns the exit code."""
    if line.split()[:2] == ["getevent", "-lt"]:
        phone.panel.stream(write)
        return 0
    output, code = run(phone, line, given)
    write(output)
    return code


def wants(line: str) -> int:
    """How many bytes of standard input a command line is given before it runs: a package's size."""
    words = line.replace("'", "").split()
    return int(words[words.index("-S") + 1]) if "install" in words and "-S" in words[:-1] else 0


def _one(phone: Phone, words: list[str], given: bytes) -> Answer:
    name, arguments = words[0], words[1:]
    if name == "uinput" and int(phone.model.release.split(".")[0]) >= UINPUT_SINCE:
        return _uinput(phone, arguments, given)
    if "install" in arguments[:2]:
        return _install(phone, given)
    command = COMMANDS.get(name)
    if command is None:
        return f"/system/bin/sh: {name}: inaccessible or not found\n".encode(), 127
    return command(phone, arguments)


def _uinput(phone: Phone, arguments: list[str], given: bytes) -> Answer:
    if arguments != ["-"]:
        return _said("Error: only standard input is read: uinput -\n", 1)
    try:
        Injection(phone).run(given.decode())
    except (ValueError, KeyError, TypeError) as error:
        return _said(f"Error: {error}\n", 1)
    return b"", 0


def _install(phone: Phone, given: bytes) -> Answer:
    try:
        phone.install(given)
    except ValueError as error:
        return _said(f"Failure [{error}]\n", 1)
    return _said("Success\n")


def _said(words: str, code: int = 0) -> Answer:
    return words.encode(), code


def _getprop(phone: Phone, arguments: list[str]) -> Answer:
    model = phone.model
    props = {
        "ro.serialno": phone.number,
        "ro.product.model": model.name,
        "ro.product.manufacturer": "Lab",
        "ro.build.version.release": model.release,
        "ro.build.version.sdk": str(int(model.release.split(".")[0]) + 20),
        "persist.sys.locale": model.locale,
        "ro.product.locale": model.locale,
        "sys.boot_completed": "1",
    }
    if arguments:
        return _said(props.get(arguments[0], "") + "\n")
    return _said("".join(f"[{key}]: [{value}]\n" for key, value in props.items()))


def _wm(phone: Phone, arguments: list[str]) -> Answer:
    model = phone.model
    if arguments[:1] == ["size"]:
        return _said(f"Physical size: {model.width_px}x{model.height_px}\n")
    if arguments[:1] == ["density"]:
        return _said(f"Physical density: {model.dpi}\n")
    if arguments[:1] == ["dismiss-keyguard"]:
        phone.unlock()
        return b"", 0
    if arguments[:1] == ["user-rotation"] and arguments[1:2] in (["lock"], ["free"]):
        phone.turn(int(arguments[2]) if len(arguments) > 2 and arguments[1] == "lock" else 0)
        return b"", 0
    return _said("Window manager (window) commands:\n", 1)


def _settings(phone: Phone, arguments: list[str]) -> Answer:
    values = {
        ("system", "font_scale"): str(phone.metrics.text_scale),
        ("global", "device_name"): phone.model.name,
        ("secure", "android_id"): hashlib.sha256(phone.number.encode()).hexdigest()[:16],
        ("system", "user_rotation"): str(phone.rotation),
        ("system", "accelerometer_rotation"): str(int(phone.conditions.free_to_turn)),
        ("global", "airplane_mode_on"): str(int(phone.conditions.airplane)),
        ("global", "wifi_on"): str(int(phone.conditions.connected["wifi"])),
        ("global", "mobile_data"): str(int(phone.conditions.connected["data"])),
        ("global", "stay_on_while_plugged_in"): str(phone.conditions.stays_on),
        ("global", "low_power"): str(int(phone.conditions.saver)),
    }
    put = tuple(arguments[1:3]) if arguments[:1] == ["put"] and len(arguments) == 4 else ()
    if put == ("system", "font_scale"):
        phone.scale_text(min(3.0, max(0.5, float(arguments[3]))))
    elif put == ("global", "low_power"):
        phone.conditions.saver = arguments[3] == "1"
    elif put == ("global", "stay_on_while_plugged_in"):
        phone.conditions.stays_on = int(arguments[3])
    elif put == ("system", "accelerometer_rotation"):
        phone.conditions.free_to_turn = arguments[3] == "1"
    if arguments[:3] == ["put", "system", "user_rotation"] and len(arguments) == 4:
        phone.turn(int(arguments[3]))
        return b"", 0
    if arguments[:1] == ["put"] and len(arguments) == 4:
        return b"", 0
    if arguments[:1] == ["get"] and len(arguments) == 3:
        return _said(values.get((arguments[1], arguments[2]), "null") + "\n")
    return _said("Invalid arguments\n", 1)


def _screencap(phone: Phone, arguments: list[str]) -> Answer:
    if "-p" in arguments:
        return phone.png(), 0
    image = phone.picture()
    head = struct.pack("<III", image.width, image.height, 1)
    if int(phone.model.release.split(".")[0]) >= 9:
        head += struct.pack("<I", 1)
    return head + image.convert("RGBA").tobytes(), 0


def _uiautomator(phone: Phone, arguments: list[str]) -> Answer:
    if arguments[:1] != ["dump"]:
        return _said("Usage: uiautomator <subcommand> [options]\n", 1)
    place = next((word for word in arguments[1:] if not word.startswith("-")), "/sdcard/window_dump.xml")
    xml = phone.dump() if place == "/dev/tty" else b""
    return xml + f"UI hierchary dumped to: {place}\n".encode(), 0


def _input(phone: Phone, arguments: list[str]) -> Answer:
    if arguments and arguments[0] in {"touchscreen", "keyboard"}:
        arguments = arguments[1:]
    try:
        kind, rest = arguments[0], arguments[1:]
        if kind == "tap":
            _swipe(phone, [*map(float, rest[:2]), *map(float, rest[:2])], 0.06)
        elif kind == "swipe":
            _swipe(phone, [float(word) for word in rest[:4]], float(rest[4]) / 1000 if len(rest) > 4 else 0.3)
        elif kind == "motionevent":
            actions = {"DOWN": "down", "MOVE": "move", "UP": "up", "CANCEL": "cancel"}
            phone.pointer(actions[rest[0].upper()], 0, float(rest[1]), float(rest[2]), phone.now())
        elif kind == "text":
            if not rest[0].isascii():
                return _said("Exception occurred while executing 'text':\njava.lang.NullPointerException\n", 255)
            phone.text(rest[0].replace("%s", " "))
            phone.sleep(0.01 * len(rest[0]))
        elif kind == "keyevent":
            for word in rest:
                if word != "--longpress" and not phone.letter_key(word, frozenset()):
                    phone.key(KEYCODES.get(word, word.removeprefix("KEYCODE_")))
        elif kind == "keycombination" and int(phone.model.release.split(".")[0]) >= COMBINATIONS_SINCE:
            *held, key = rest
            if not phone.letter_key(key, frozenset(held)):
                phone.key("_".join([KEYCODES[held[0]].partition("_")[0], KEYCODES[key]]))
        else:
            return _said(f"Error: Unknown command: {kind}\n", 255)
    except (IndexError, ValueError, KeyError):
        return _said("Error: Invalid arguments for command: input\n", 255)
    return b"", 0


def _swipe(phone: Phone, ends: list[float], seconds: float) -> None:
    x1, y1, x2, y2 = ends
    begin = phone.now()
    phone.pointer("down", 0, x1, y1, begin)
    steps = max(1, round(seconds / MOVE_EVERY_S))
    for i in range(1, steps + 1):
        phone.sleep(seconds / steps)
        share = i / steps
        phone.pointer("move", 0, x1 + (x2 - x1) * share, y1 + (y2 - y1) * share, begin + seconds * share)
    phone.pointer("up", 0, x2, y2, begin + seconds)


def _am(phone: Phone, arguments: list[str]) -> Answer:
    if arguments[:1] == ["force-stop"] and len(arguments) == 2:
        phone.stop(arguments[1])
        return b"", 0
    if arguments[:1] == ["start"] and "-n" in arguments:
        component = arguments[arguments.index("-n") + 1]
        if phone.launch(component.split("/")[0]):
            return _said(f"Starting: Intent {{ cmp={component} }}\n")
        return _said(f"Error type 3\nError: Activity class {{{component}}} does not exist.\n", 1)
    if arguments[:1] == ["start"] and "-d" in arguments:
        address = arguments[arguments.index("-d") + 1]
        intent = f"Intent {{ act=android.intent.action.VIEW dat={address} }}"
        if phone.open(address):
            return _said(f"Starting: {intent}\n")
        return _said(f"Starting: {intent}\nError: Activity not started, unable to resolve {intent}\n", 1)
    return _said("Error: Unknown command\n", 255)


def _pm(phone: Phone, arguments: list[str]) -> Answer:
    packages = dict(phone.installed())
    if arguments[:2] == ["list", "packages"]:
        names = [word for word in arguments[2:] if not word.startswith("-")]
        third = "-3" in arguments
        fit = (p for p in packages if not (third and p in OWN) and (not names or names[0] in p))
        return _said("".join(f"package:{p}\n" for p in fit))
    if arguments[:1] == ["uninstall"] and len(arguments) == 2:
        known = arguments[1] in packages
        refusal = "Failure [DELETE_FAILED_INTERNAL_ERROR]\n" if known else f"Failure [not installed for 0]: {arguments[1]}\n"
        return _said("Success\n") if phone.uninstall(arguments[1]) else _said(refusal, 1)
    if arguments[:1] == ["clear"] and len(arguments) == 2:
        return _said("Success\n") if phone.clear(arguments[1]) else _said("Failed\n", 1)
    return _said("Unknown command\n", 255)


def _cmd(phone: Phone, arguments: list[str]) -> Answer:
    if arguments[:2] == ["package", "resolve-activity"]:
        package = LAUNCHER if "android.intent.category.HOME" in arguments else arguments[-1]
        known = package == LAUNCHER or package in dict(phone.installed())
        return _said(f"priority=0 preferredOrder=0 match=0x108000\n{package}/.Home\n" if known else "No activity found\n")
    if arguments[:2] == ["package", "query-activities"]:
        found = [f"  Activity #{n}:\n    priority=0 match=0x108000\n    {p}/.Home\n" for n, p in enumerate(dict(phone.installed()))]
        return _said(f"{len(found)} activities found:\n{''.join(found)}")
    if arguments[:2] == ["connectivity", "airplane-mode"] and arguments[2:] in (["enable"], ["disable"]):
        phone.conditions.airplane = arguments[2] == "enable"
        return b"", 0
    if arguments[:2] == ["uimode", "night"]:
        if len(arguments) > 2:
            phone.change(lambda now: setattr(now, "dark", arguments[2] == "yes"))
        return _said(f"Night mode: {'yes' if phone.conditions.dark else 'no'}\n")
    if arguments[:1] == ["locale"] and len(arguments) > 2 and int(phone.model.release.split(".")[0]) >= LOCALES_SINCE:
        if arguments[1] == "set-app-locales" and "--locales" in arguments:
            told = ",".join(arguments[arguments.index("--locales") + 1 :][:1])
            phone.change(lambda now: now.app_locales.update({arguments[2]: told}))
            return b"", 0
        return _said(f"Locales for {arguments[2]} for user 0 are [{phone.conditions.app_locales.get(arguments[2], '')}]\n")
    if arguments[:1] == ["package"]:
        return _pm(phone, arguments[1:])
    return _said("Can't find service\n", 20)


def _dumpsys(phone: Phone, arguments: list[str]) -> Answer:
    service = arguments[0] if arguments else ""
    report = {
        "window": _windows,
        "package": _package,
        "battery": _battery,
        "display": _display,
        "power": _power,
        "meminfo": _memory,
        "gfxinfo": _frames,
    }.get(service)
    return report(phone, arguments[1:]) if report else _said(f"Can't find service: {service}\n")


def _windows(phone: Phone, _arguments: list[str]) -> Answer:
    package, activity = phone.front()
    window = f"{package}/{package}{activity}"
    keys = phone.keyboard_box_px()
    width, height = phone.size_px
    left, top, right, bottom = keys or (0, height, width, height)
    shown = "true" if keys else "false"
    lines = [
        "WINDOW MANAGER WINDOWS (dumpsys window windows)",
        "  Window #1 Window{3f InputMethod}:",
        f"    mHasSurface={shown} isReadyForDisplay()={shown}",
        f"    touchable region=SkRegion(({left},{top},{right},{bottom}))",
        f"  Window #2 Window{{2a u0 {window}}}:",
        f"    mRotation=ROTATION_{phone.rotation * 90}",
        f"  mDreamingLockscreen={'true' if phone.lock_kind else 'false'}",
        f"  mCurrentFocus=Window{{2a u0 {window}}}",
        f"  mFocusedApp=ActivityRecord{{7c u0 {package}/{activity} t12}}",
        f"    InsetsSource id=3 type=ime frame=[{left},{top}][{right},{bottom}] visible={shown}",
    ]
    return _said("\n".join(lines) + "\n")


def _package(phone: Phone, arguments: list[str]) -> Answer:
    versions = dict(phone.installed())
    if not arguments or arguments[0] not in versions:
        return _said("Unable to find package\n")
    path = f"/data/app/~~{phone.installations[arguments[0]]:x}==/{arguments[0]}"
    facts = f"codePath={path}\n    versionCode=24 minSdk=24\n    versionName={versions[arguments[0]]}"
    return _said(f"Packages:\n  Package [{arguments[0]}]:\n    {facts}\n")


def _power(phone: Phone, _arguments: list[str]) -> Answer:
    return _said(f"POWER MANAGER (dumpsys power)\n  mWakefulness={'Asleep' if phone.asleep else 'Awake'}\n")


def _battery(phone: Phone, _arguments: list[str]) -> Answer:
    warmth = phone.vitals.warmth()
    return _said(f"Current Battery Service state:\n  USB powered: true\n  level: 84\n  scale: 100\n  temperature: {warmth}\n")


def _memory(phone: Phone, arguments: list[str]) -> Answer:
    package = arguments[0] if arguments else ""
    if phone.vitals.pid(package) is None:
        return _said(f"No process found for: {package}\n")
    pid, kb = phone.vitals.pid(package), phone.vitals.memory_kb(package)
    total = f"TOTAL PSS: {kb:>8}            TOTAL RSS: {2 * kb:>8}"
    return _said(f"** MEMINFO in pid {pid} [{package}] **\n           {total}\n")


def _frames(phone: Phone, arguments: list[str]) -> Answer:
    frames, late = phone.vitals.frames(arguments[0] if arguments else "")
    return _said(f"Total frames rendered: {frames}\nJanky frames: {late} ({100 * late / max(1, frames):.2f}%)\n")


def _pidof(phone: Phone, arguments: list[str]) -> Answer:
    pid = phone.vitals.pid(arguments[0]) if arguments else None
    return _said(f"{pid}\n") if pid is not None else _said("", 1)


def _cat(phone: Phone, arguments: list[str]) -> Answer:
    """What is told of processes and of the network."""
    path = arguments[0] if arguments else ""
    if path == "/proc/net/dev":
        came, went = phone.vitals.network()
        head = "Inter-|   Receive                                                |  Transmit\n"
        return _said(
            f"{head}    lo:    1200      12    0    0    0     0          0         0     1200      12    0\n"
            f" wlan0: {came:>8}    {came // 900}    0    0    0     0          0         0 {went:>8}     {went // 900}    0\n"
        )
    part = path.split("/")
    package = phone.vitals.package(int(part[2])) if len(part) == 4 and part[1] == "proc" and part[3] == "stat" and part[2].isdigit() else ""
    if not package:
        return _said(f"cat: {path}: No such file or directory\n", 1)
    ticks = phone.vitals.ticks(package)
    return _said(f"{part[2]} ({package[-15:]}) S 612 612 0 0 -1 1077952832 41 0 0 0 {ticks * 3 // 4} {ticks // 4} 0 0 10 -10 31 0\n")


def _display(phone: Phone, _arguments: list[str]) -> Answer:
    model = phone.model
    x_dpi, y_dpi = model.width_px / model.width_mm * 25.4, model.height_px / model.height_mm * 25.4
    size = f"{model.width_px} x {model.height_px}, density {model.dpi}"
    return _said(f'DisplayDeviceInfo{{"Built-in Screen": {size}, {x_dpi:.3f} x {y_dpi:.3f} dpi}}\n')


def _logcat(phone: Phone, arguments: list[str]) -> Answer:
    since = float(arguments[arguments.index("-T") + 1]) if "-T" in arguments else 0.0
    return _said("".join(f"{at:.3f}  100  100 {words}\n" for at, words in list(phone.log_lines) if at >= since))


def _getevent(phone: Phone, arguments: list[str]) -> Answer:
    if "-lp" in arguments or "-p" in arguments:
        return _said(panel.listing(phone.model.width_px, phone.model.height_px))
    return _said("getevent: this shell streams with -lt only\n", 1)


def _printf(_phone: Phone, arguments: list[str]) -> Answer:
    """`printf %s WORDS`, which leaves backslashes alone."""
    return _said("".join(arguments[1:]) if arguments[:1] == ["%s"] else " ".join(arguments))


def _svc(phone: Phone, arguments: list[str]) -> Answer:
    if len(arguments) == 2 and arguments[0] in phone.conditions.connected and arguments[1] in {"enable", "disable"}:
        phone.conditions.connected[arguments[0]] = arguments[1] == "enable"
        return b"", 0
    return _said("Available commands: wifi data\n", 1)


def _stand_in(phone: Phone, arguments: list[str]) -> Answer:
    """What no phone's shell has: `stand-in call WHO`, an empty one ends it."""
    if arguments[:1] != ["call"] or len(arguments) != 2:
        return _said("stand-in call WHO\n", 1)
    phone.ring(arguments[1])
    return _said("stand-in: done\n")


def _sleep(phone: Phone, arguments: list[str]) -> Answer:
    phone.sleep(float(arguments[0]))
    return b"", 0


def _echo(_phone: Phone, arguments: list[str]) -> Answer:
    return _said(" ".join(arguments) + "\n")


def _date(phone: Phone, arguments: list[str]) -> Answer:
    return _said(f"{int(phone.wall())}\n" if arguments == ["+%s"] else f"{phone.wall():.3f}\n")


COMMANDS: dict[str, Callable[[Phone, list[str]], Answer]] = {
    "getprop": _getprop,
    "wm": _wm,
    "settings": _settings,
    "screencap": _screencap,
    "uiautomator": _uiautomator,
    "input": _input,
    "am": _am,
    "pm": _pm,
    "cmd": _cmd,
    "dumpsys": _dumpsys,
    "logcat": _logcat,
    "getevent": _getevent,
    "sleep": _sleep,
    "svc": _svc,
    "stand-in": _stand_in,
    "echo": _echo,
    "printf": _printf,
    "date": _date,
    "pidof": _pidof,
    "cat": _cat,
}
