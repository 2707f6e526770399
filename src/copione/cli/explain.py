"""Commands for people who ask why: what Copione makes of a touch log, a tree dump, a portrait."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from ..model.errors import CopioneError, FileTrouble, TreeUnreadable
from ..model.roles import role_word
from ..model.target import Target
from .terminal import json_text, say, tell

if TYPE_CHECKING:
    from ..model.gesture import Gesture
    from ..model.portrait import Portrait
    from ..model.screen import Element, Screen


class _Size(click.ParamType[tuple[int, int]]):
    """WIDTHxHEIGHT in pixels or panel units."""

    name = "WxH"

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> tuple[int, int]:
        if isinstance(value, tuple):
            return value
        width, _, height = str(value).lower().partition("x")
        if not (width.isdigit() and height.isdigit() and int(width) and int(height)):
            self.fail(f"{value} is not a size. One looks like 1080x2400.", param, ctx)
        return int(width), int(height)


class _Place(click.ParamType[tuple[float, float]]):
    """X,Y in pixels."""

    name = "X,Y"

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> tuple[float, float]:
        if isinstance(value, tuple):
            return value
        try:
            x, y = (float(word) for word in str(value).split(","))
        except ValueError:
            self.fail(f"{value} is not a place. One looks like 540,1200.", param, ctx)
        return x, y


_size = click.option("--size", type=_Size(), required=True, help="The screen's size in pixels, held upright.")
_density = click.option(
    "--density", type=click.IntRange(min=1), required=True, metavar="DPI", help="The screen's density; 160 means one pixel per dp."
)
_json = click.option("--json", "as_json", is_flag=True, help="Print JSON.")
_tree = click.option("--tree", type=click.Path(path_type=Path, dir_okay=False), required=True, metavar="DUMP", help="A saved tree dump.")
_portraits = click.option(
    "--portraits", type=click.Path(path_type=Path, dir_okay=False), required=True, metavar="FILE", help="The portraits file."
)


def _bytes(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as error:
        raise FileTrouble(f"{path} cannot be read: {error.strerror}.") from error


# touches


@click.command("read-touch")
@click.argument("log", type=click.Path(path_type=Path, dir_okay=False))
@_size
@_density
@click.option("--panel", type=_Size(), help="The touch panel's range, if its units are not pixels.")
@_json
def read_touch(log: Path, size: tuple[int, int], density: int, panel: tuple[int, int] | None, as_json: bool) -> None:
    """Show the gestures that Copione recognises in LOG, the output of `getevent -lt`."""
    from ..touch.panel import parse_events, tracks
    from ..touch.reading import read_tracks

    k = density / 160.0
    x_scale, y_scale = (size[0] / panel[0], size[1] / panel[1]) if panel else (1.0, 1.0)
    events = parse_events(_bytes(log))
    for doubt in events.doubts:
        say(doubt)
    found = read_tracks(tracks(events, x_scale / k, y_scale / k))
    if as_json:
        click.echo(json_text([gesture_facts(gesture, k) for gesture in found], indent=1))
        return
    if not found:
        click.echo(
            "There is no touch in this log. `getevent -lt` prints lines like: [ 1.25] /dev/input/event2: EV_ABS ABS_MT_SLOT 00000000"
        )
    for gesture in found:
        click.echo(gesture_words(gesture))


def gesture_facts(gesture: Gesture, density: float) -> dict[str, Any]:
    """A gesture as plain values; places in pixels, `density` pixels a dp. What a kind has not is null."""
    return {
        "kind": gesture.kind,
        "start_s": round(gesture.since, 6),
        "end_s": round(gesture.until, 6),
        "fingers": gesture.fingers,
        "direction_deg": round(gesture.direction_deg, 1) if gesture.moves else None,
        "scale": round(gesture.scale, 4),
        "angle_deg": round(gesture.angle, 2),
        "from_px": [round(v * density, 1) for v in gesture.begin],
        "to_px": [round(v * density, 1) for v in gesture.end],
        "confidence": round(gesture.confidence, 3),
        "second": gesture.second,
    }


def gesture_words(gesture: Gesture) -> str:
    """A gesture as a line for people, dp."""
    (x0, y0), (x1, y1) = gesture.begin, gesture.end
    words = f"{gesture.since:.3f} s: {gesture.kind} for {gesture.seconds:.2f} s at {x0:.0f}, {y0:.0f} dp"
    if gesture.moves:
        words += f" to {x1:.0f}, {y1:.0f} ({gesture.direction})"
    if gesture.fingers > 1:
        words += f", {gesture.fingers} fingers, scale {gesture.scale:.2f}, turned {gesture.angle:.0f} degrees"
    second = f", else {gesture.second}" if gesture.second else ""
    return f"{words}; {gesture.confidence:.0%} sure{second}"


# elements


def read_tree(path: Path, size: tuple[int, int], density: int) -> Screen:
    """A saved dump of either platform. Raises FileTrouble, TreeUnreadable."""
    from ..screens.android import read_android
    from ..screens.native import read_native

    data = _bytes(path)
    try:
        if b"<hierarchy" in data or b"<" not in data:
            return read_android(data, *size, density)
        k = density / 160.0
        return read_native(data, size[0] / k, size[1] / k)
    except TreeUnreadable as error:
        raise TreeUnreadable(f"{path.name}: {error.sentence}") from error


def element_at(screen: Screen, x: float, y: float) -> Element | None:
    """The element that is meant by a point: one whose very middle it is, else what a finger there acts on, else the topmost."""
    from ..recording.intent import ACTING, touched

    over = [e for e in screen.at(x, y) if e.parent is not None]
    centred = [e for e in over if abs(e.box.centre[0] - x) <= 1.0 and abs(e.box.centre[1] - y) <= 1.0]
    acting = [e for e in centred if e.role in ACTING]
    return next(iter([*acting, *centred]), None) or touched(screen, x, y) or next(iter(over), None)


@click.command()
@click.argument("script", type=click.Path(path_type=Path, dir_okay=False), required=False)
@click.option("--run", type=click.Path(path_type=Path, file_okay=False), help="The run to take SCRIPT's portraits from.")
@click.option("--device", default="", metavar="NAME", help="With --run: the device to take them from (default: the run's first).")
@click.option("--tree", type=click.Path(path_type=Path, dir_okay=False), metavar="DUMP", help="A saved tree dump.")
@click.option("--size", type=_Size(), help="The screen's size in pixels, held upright.")
@click.option("--density", type=click.IntRange(min=1), metavar="DPI", help="The screen's density; 160 means one pixel per dp.")
@click.option("--at", type=_Place(), help="A pixel inside the element.")
@click.option("--name", help="The target's name in the portraits file.")
@click.option("--portraits", type=click.Path(path_type=Path, dir_okay=False), metavar="FILE", help="The portraits file.")
@_json
def portray(
    script: Path | None,
    run: Path | None,
    device: str,
    tree: Path | None,
    size: tuple[int, int] | None,
    density: int | None,
    at: tuple[float, float] | None,
    name: str | None,
    portraits: Path | None,
    as_json: bool,
) -> None:
    """Store portraits: of SCRIPT's targets as a run found them, or of the element at a pixel of a saved tree dump."""
    if run is not None:
        if script is None:
            raise click.UsageError("--run wants the SCRIPT whose targets are to be known: copione portray SCRIPT --run RUN")
        _portray_from_run(script, run, device)
        return
    wanted = {"--tree": tree, "--size": size, "--density": density, "--at": at, "--name": name, "--portraits": portraits}
    missing = [option for option, value in wanted.items() if value is None]
    if missing:
        raise click.UsageError(f"Missing option {missing[0]!r}; or name a SCRIPT and a --run.")
    assert tree is not None and size is not None and density is not None and at is not None and name is not None and portraits is not None
    _portray_at(tree, size, density, at, name, portraits, as_json)


def _portray_from_run(script: Path, run: Path, device: str) -> None:
    from ..project.archive import read_run
    from ..project.portraying import portray_from

    made = portray_from(read_run(run), script, device)
    for target in made:
        tell(target)
    tell(f"{len(made)} targets of {script.name} are known from {run.name} now." if made else "There was no target without a portrait.")


def _portray_at(
    tree: Path, size: tuple[int, int], density: int, at: tuple[float, float], name: str, portraits: Path, as_json: bool
) -> None:
    from ..model.portrait import Portrait
    from ..project.portraits import change_portraits
    from ..recognition.ease import advice, ease
    from ..recognition.evidence import pieces

    screen = read_tree(tree, size, density)
    k = density / 160.0
    element = element_at(screen, at[0] / k, at[1] / k)
    if element is None:
        raise CopioneError(f"There is no element at {at[0]:g},{at[1]:g} in {tree.name}.")
    portrait = Portrait(screen, element.row)
    change_portraits(portraits, lambda known: {**known, name: (portrait,)})
    evidence = pieces(portrait)
    if as_json:
        facts = {"target": name, "role": element.role, "name": element.name, "bounds_px": _bounds_px(element, k), "ease": ease(element)}
        facts["evidence"] = [{"kind": p.kind, "value": p.value, "count": p.count} for p in evidence]
        click.echo(json_text(facts, indent=1))
        return
    tell(f"{name}: {element.called}, {('hard', 'fair', 'easy')[ease(element) - 1]} to find again")
    for piece in evidence:
        tell(f"  {piece.kind:<8}{piece.value}  {piece.uniqueness}".rstrip())
    if advice(element):
        tell(advice(element))


@click.command()
@_portraits
@_tree
@_size
@_density
@click.argument("names", nargs=-1, metavar="[NAME]...")
@_json
def sight(portraits: Path, tree: Path, size: tuple[int, int], density: int, names: tuple[str, ...], as_json: bool) -> None:
    """Look for the stored targets, or those named, in a saved tree dump."""
    from ..project.portraits import load_portraits

    if not portraits.exists():
        raise FileTrouble(f"There is no file {portraits}. `copione portray` makes one.")
    known = load_portraits(portraits)
    missing = [name for name in names if name not in known]
    if missing:
        raise FileTrouble(f"{portraits.name} has no portrait of {', '.join(missing)}. It has {', '.join(known) or 'none'}.")
    screen = read_tree(tree, size, density)
    found = [sighting_facts(name, known[name], screen, density / 160.0) for name in names or known]
    if as_json:
        click.echo(json_text(found, indent=1))
        return
    for facts in found:
        if facts["found"]:
            tell(f"{facts['target']}: at {facts['bounds_px']} by {facts['by']}, score {facts['score']}, margin {facts['margin']}")
        else:
            tell(f"{facts['target']}: not found: {facts['reason']}")


def sighting_facts(name: str, portraits: Sequence[Portrait], screen: Screen, density: float) -> dict[str, Any]:
    """A lookup as plain values; bounds in pixels."""
    from ..model.portrait import NotFound, Sighting
    from ..recognition.sighting import sight as look_up

    found = look_up(screen, Target("", ""), (), portraits)
    if isinstance(found, NotFound):
        return {
            "target": name,
            "found": False,
            "bounds_px": None,
            "by": "",
            "score": round(found.score, 4),
            "margin": round(found.margin, 4),
            "second": _second(found.second),
            "reason": found.reason,
        }
    assert isinstance(found, Sighting)
    return {
        "target": name,
        "found": True,
        "bounds_px": _bounds_px(found.element, density),
        "by": " and ".join(each.value for each in found.by),
        "score": round(found.score, 4),
        "margin": round(found.margin, 4),
        "second": _second(found.second),
        "reason": found.weaker,
    }


def _second(element: Element | None) -> str:
    return f"{role_word(element.role)} “{element.name or element.id}”" if element is not None else ""


def _bounds_px(element: Element, density: float) -> list[int]:
    return [round(v * density) for v in element.box]
