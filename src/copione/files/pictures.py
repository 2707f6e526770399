"""Pictures in files: opened only where they are no larger than a screen may be."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

from ..model.device import MOST_PIXELS
from ..model.errors import FileTrouble
from .places import Place
from .reading import FileKind, read_bytes

if TYPE_CHECKING:
    from PIL import Image


def open_picture(path: Place, width: int = 0) -> Image.Image:
    """A picture as RGB; with `width`, it need not be larger than that many pixels across. Raises FileTrouble."""
    from PIL import Image

    data = read_bytes(path, FileKind.PICTURE)
    try:
        with Image.open(io.BytesIO(data)) as opened:
            if opened.width * opened.height > MOST_PIXELS:
                raise FileTrouble(f"{path.name} has {opened.width} x {opened.height} pixels: it is not a screenshot.", path=path)
            if width:
                opened.draft("RGB", (width, width * 3))
            return opened.convert("RGB")
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise FileTrouble(f"{path.name} is not a readable image.", path=path) from error
