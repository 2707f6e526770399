"""Keys watched at the window: one that is held down, wherever its release goes, and those that a text field keeps for itself."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QWindow
from PySide6.QtWidgets import QApplication, QLineEdit, QPlainTextEdit, QTextEdit

HOLD_MS = 300  # a letter that is typed is let go of sooner


class HeldKey(QObject):
    """A key that means something while it is down. A popup may take the focus meanwhile: its release is seen all the same.

    `wanted`: is it for whoever asks? `letter`: would it be a letter as well? Then it is one (`typed`) when it is let go of soon, or another
    key comes before; held, or with a click (`hold`), it means what it means.
    """

    changed = Signal(bool)
    typed = Signal(str)

    def __init__(self, key: Qt.Key, wanted: Callable[[], bool], letter: Callable[[], bool], parent: QObject) -> None:
        super().__init__(parent)
        self.key, self.wanted, self.letter = key, wanted, letter
        self.down = False
        self._words = ""  # what it would type, while that is open
        self._open = QTimer(self, singleShot=True, interval=HOLD_MS)
        self._open.timeout.connect(self.hold)

    def watch(self, window: QWindow) -> None:
        """From now on, the keys of that window."""
        window.installEventFilter(self)

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:
        kind = event.type()
        if kind == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            return self._pressed(event)
        if kind == QEvent.Type.KeyRelease and isinstance(event, QKeyEvent):
            if event.key() == self.key and not event.isAutoRepeat():
                self._type()
                self._set(False)
        elif kind in (QEvent.Type.FocusOut, QEvent.Type.Hide, QEvent.Type.Close):
            self._type()
            self._set(False)  # the window lost the keyboard: the release will not come
        return False

    def _pressed(self, event: QKeyEvent) -> bool:
        """Is it taken?"""
        if event.key() != self.key or event.modifiers():
            self._type()
            return False
        if event.isAutoRepeat():
            return self.down or bool(self._words)
        if not self.wanted():
            return False
        if self.letter():
            self._words = event.text()
            self._open.start()
            return True
        self._set(True)
        return False

    def hold(self) -> None:
        """It is no letter: it is held."""
        if self._words:
            self._words = ""
            self._open.stop()
            self._set(True)

    def _type(self) -> None:
        words, self._words = self._words, ""
        self._open.stop()
        if words:
            self.typed.emit(words)

    def _set(self, down: bool) -> None:
        if down != self.down:
            self.down = down
            self.changed.emit(down)


class TextFieldsFirst(QObject):
    """A text field that has the focus edits by its own keys; no action of a page or the window takes them away from it."""

    KEYS = frozenset({Qt.Key.Key_Backspace, Qt.Key.Key_Delete, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Home, Qt.Key.Key_End})
    LETTERS = frozenset({Qt.Key.Key_A, Qt.Key.Key_C, Qt.Key.Key_V, Qt.Key.Key_X, Qt.Key.Key_Z})

    def watch(self, window: QWindow) -> None:
        """From now on, the keys of that window."""
        window.installEventFilter(self)

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            field = QApplication.focusWidget()
            if isinstance(field, QLineEdit | QPlainTextEdit | QTextEdit) and not field.isReadOnly() and self._edits(event):
                event.accept()
                return True
        return False

    def _edits(self, event: QKeyEvent) -> bool:
        key, modifiers = Qt.Key(event.key()), event.modifiers()
        if modifiers & Qt.KeyboardModifier.AltModifier:
            return False
        return key in self.KEYS or (bool(modifiers & Qt.KeyboardModifier.ControlModifier) and key in self.LETTERS)
