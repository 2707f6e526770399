"""Pictures for the views: decoded and cut off the Qt thread, kept while there is room."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Sequence

from PySide6.QtCore import QObject, QRectF, QRunnable, QSize, QSizeF, Qt, QThreadPool, Signal, Slot
from PySide6.QtGui import QImage, QPixmap

from ..files.places import Place, is_in
from ..files.reading import FileKind, read_bytes
from ..model.errors import FileTrouble

KEEP_BYTES = 96 * 1024 * 1024
Key = tuple[Place, tuple[float, ...], int, int]


def close_part(box: Sequence[float], width: float, height: float, shape: QSize, least: float) -> tuple[float, float, float, float]:
    """The part of a screen (dp) round a box, for a picture of that shape, at least `least` dp wide: left, top, width, height, 0..1."""
    wide = min(width, max(least, (box[2] - box[0]) * 1.1))
    tall = min(height, wide * shape.height() / shape.width())
    x = min(max(0.0, (box[0] + box[2]) / 2 - wide / 2), width - wide)
    y = min(max(0.0, (box[1] + box[3]) / 2 - tall / 2), height - tall)
    return x / width, y / height, wide / width, tall / height


def fitted(image: QImage, size: QSizeF, ratio: float) -> QImage:
    """A picture as small as it is drawn, without what a painter alone would leave ragged; `ratio` device pixels a pixel."""
    return image.scaled((size * ratio).toSize(), Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)


def image_in(path: Place) -> QImage:
    """The picture in a file; a null one where there is none that can be read. Not for Qt's thread."""
    try:
        return QImage.fromData(read_bytes(path, FileKind.PICTURE))
    except FileTrouble:
        return QImage()


class _Cut(QRunnable):
    """Decodes one file and scales the wanted part of it."""

    def __init__(self, key: Key, shelf: PictureCache) -> None:
        super().__init__()
        self.key, self.shelf = key, shelf

    def run(self) -> None:
        path, part, width, height = self.key
        image = image_in(path)
        if not image.isNull() and part:
            x, y, w, h = part
            image = image.copy(QRectF(x * image.width(), y * image.height(), w * image.width(), h * image.height()).toRect())
        if not image.isNull():
            image = image.scaled(width, height, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
        self.shelf.cut.emit(self.key, image)


class PictureCache(QObject):
    """`get` gives a pixmap that is there, or None and fetches it; `arrived` tells when something came."""

    cut = Signal(object, QImage)
    arrived = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._kept: OrderedDict[Key, tuple[QPixmap, int]] = OrderedDict()  # with how many bytes it takes
        self._bytes = 0
        self._asked: set[Key] = set()
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(2)
        self.cut.connect(self._keep, Qt.ConnectionType.QueuedConnection)

    def get(self, path: Place, size: QSize, part: tuple[float, float, float, float] | None = None) -> QPixmap | None:
        """The picture scaled into `size` (device pixels), keeping its shape. `part`: left, top, width, height as fractions."""
        key: Key = (path, part or (), size.width(), size.height())
        kept = self._kept.get(key)
        if kept is not None:
            self._kept.move_to_end(key)
            return kept[0]
        if key not in self._asked:
            self._asked.add(key)
            self._pool.start(_Cut(key, self))
        return None

    def drop(self, folder: Place, but: Place | None) -> None:
        """Forget the pictures in a folder, but for those in one of its own."""
        gone = [key for key in self._kept if is_in(key[0], folder) and not (but is not None and is_in(key[0], but))]
        for key in gone:
            self._bytes -= self._kept.pop(key)[1]

    def busy(self) -> bool:
        return bool(self._asked)

    def close(self) -> None:
        self._pool.clear()
        self._pool.waitForDone(5000)

    @Slot(object, QImage)
    def _keep(self, key: Key, image: QImage) -> None:
        self._asked.discard(key)
        self._kept[key] = QPixmap.fromImage(image), image.sizeInBytes()
        self._bytes += image.sizeInBytes()
        while self._bytes > KEEP_BYTES and len(self._kept) > 1:
            self._bytes -= self._kept.popitem(last=False)[1][1]
        self.arrived.emit()
