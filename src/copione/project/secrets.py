"""What must not be written down: values of variables that come from the environment or a prompt, and what password fields show."""

from __future__ import annotations

import io
import os
from collections.abc import Mapping
from dataclasses import replace

from ..model.screen import Flag, Moment

INK = (0x22, 0x26, 0x2F)


def from_environment(names: set[str]) -> dict[str, str]:
    """The values that the environment gives for variables, each under its own name or in capitals."""
    found = {name: os.environ.get(name, os.environ.get(name.upper())) for name in names}
    return {name: value for name, value in found.items() if value is not None}


def masked(values: Mapping[str, str], secrets: Mapping[str, str]) -> dict[str, str]:
    """A data row for the eye: secrets stay variables."""
    return {**values, **{name: "{" + name + "}" for name in secrets}}


def blanked(moment: Moment) -> Moment:
    """The moment with a blank where a password field holds something; the same one where none does."""
    screen = moment.screen
    if screen is None or not (screen.flags & Flag.PASSWORD).any():
        return moment
    boxes = [e.box for e in screen if e.has(Flag.PASSWORD) and e.text]
    if not boxes:
        return moment
    from PIL import Image, ImageDraw

    image = Image.open(io.BytesIO(moment.png)).convert("RGB")
    k = image.width / screen.width
    draw = ImageDraw.Draw(image)
    for box in boxes:
        draw.rectangle((box.left * k, box.top * k, box.right * k, box.bottom * k), fill=INK)
    data = io.BytesIO()
    image.save(data, "PNG", compress_level=1)
    return replace(moment, png=data.getvalue())
