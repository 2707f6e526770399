"""The evidence as dots on lines, and a step's history as a strip."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from ...comparison.evidence import Dots
from ...model.outcome import Outcome
from ...project.history import History
from .. import theme

TALL = 62
RUNS = 12
FAILING, FINE = theme.OUTCOMES[Outcome.STUCK], theme.OUTCOMES[Outcome.HELD]


class DotsLine(QWidget):
    """One trait: passing devices as round dots, failing ones as squares, the gap between them shaded."""

    def __init__(self, line: Dots) -> None:
        super().__init__()
        self.line = line
        self.setMinimumHeight(TALL)
        self.setAccessibleName(f"{line.title}: failing {line.said(True)}; the others {line.said(False)}")

    def sizeHint(self) -> QSize:
        return QSize(420, TALL)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font(12, 600))
        painter.setPen(theme.INK)
        painter.drawText(0, 12, self.line.title)
        left, right, y = 10.0, self.width() - 10.0, 28.0
        painter.setPen(QPen(theme.RULE, 2))
        painter.drawLine(int(left), int(y), int(right), int(y))
        span = right - left
        if self.line.gap is not None:
            low, high = self.line.gap
            shade = QColor(FAILING)
            shade.setAlphaF(0.14)
            painter.fillRect(QRectF(left + span * low, y - 5, span * (high - low), 10), shade)
        painter.setPen(Qt.PenStyle.NoPen)
        for dot in sorted(self.line.dots, key=lambda d: d.failing):
            x = left + span * dot.place
            painter.setBrush(FAILING if dot.failing else FINE)
            if dot.failing:
                painter.drawRoundedRect(QRectF(x - 7, y - 7, 14, 14), 2, 2)
            else:
                painter.drawEllipse(QRectF(x - 5.5, y - 5.5, 11, 11))
        self._captions(painter)

    def _captions(self, painter: QPainter) -> None:
        """The failing values under where they are, the others' beside them."""
        painter.setFont(theme.font(theme.CAPTION))
        metrics = painter.fontMetrics()
        for failing, ink in ((True, FAILING), (False, theme.MUTED)):
            own = [dot for dot in self.line.dots if dot.failing is failing]
            if not own:
                continue
            said = metrics.elidedText(self.line.said(failing), Qt.TextElideMode.ElideRight, int(self.width() * 0.6))
            wide = metrics.horizontalAdvance(said)
            middle = 10 + (self.width() - 20) * (own[0].place + own[-1].place) / 2
            before = sum(d.place for d in own) / len(own) <= sum(d.place for d in self.line.dots) / len(self.line.dots)
            x = 4.0 if before else self.width() - wide - 4.0
            x = min(max(4.0, middle - wide / 2), self.width() - wide - 4.0) if wide < self.width() * 0.3 else x
            painter.setPen(ink)
            painter.drawText(int(x), 52, said)


class HistoryStrip(QWidget):
    """The last runs, the newest at the right: full where the step held, deep where it did not."""

    def __init__(self, history: History) -> None:
        super().__init__()
        self.history = history
        self.setMinimumHeight(30)
        self.setAccessibleName(history.words)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        entries = self.history.entries[-RUNS:]
        for place, entry in enumerate(entries):
            painter.setBrush(theme.OUTCOMES[entry.outcome])
            area = QRectF(23 * place, 8, 11, 16) if entry.outcome.good else QRectF(23 * place, 6, 11, 20)
            painter.drawRoundedRect(area, 1.5, 1.5)
        painter.setFont(theme.font(12))
        painter.setPen(theme.MUTED)
        left = 23 * len(entries) + 10
        area = QRectF(left, 0, self.width() - left, 32)
        painter.drawText(area, Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap, self.history.words)
