"""Pages without an element tree inside: a comb sketch that takes freehand drawing, and an apiary map moved by one or two fingers."""

from __future__ import annotations

from ..toolkit.node import Node, column, text
from . import look
from .diary import Diary


def sketch(app: Diary) -> list[Node]:
    canvas = Node(
        "canvas",
        id="comb_sketch",
        desc=app.say("Comb sketch"),
        height=300,
        fill="#FFFFFF",
        border="#C9D2C2",
        radius=8,
        on_touch=app.sketch.touch,
        drawn=[(stroke, False) for stroke in app.sketch.strokes],
    )
    clear = look.button(app.say("Clear"), "clear_sketch", app.sketch.strokes.clear, quiet=True)
    head = look.bar(app.say("Comb sketch"), "toolbar_title", app.around.platform, app.back)
    return [head, column(text(app.say("Draw what you saw"), ink="#4B5547"), canvas, clear, pad=(16, 16), gap=12)]


def apiary(app: Diary) -> list[Node]:
    field = Node(
        "canvas",
        id="apiary_map",
        desc=app.say("Apiary map"),
        height=360,
        fill="#DCE6D2",
        radius=8,
        on_touch=app.map.touch,
        drawn=[([place], True) for place in app.map.places()],
    )
    words = text(f"{app.map.scale:.0%}", id="map_scale", weight="Medium")
    head = look.bar(app.say("Apiary map"), "toolbar_title", app.around.platform, app.back)
    return [head, column(field, words, pad=(16, 16), gap=10)]
