"""State marks: a shape for each state, so that colour is never alone."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from zombrel.ui.theme import Theme, current

WORDS = {
    "good": "settled",
    "watch": "to watch",
    "trouble": "trouble",
    "open": "open",
    "locked": "locked",
}


def draw_mark(p: QPainter, r: QRectF, mark: str, t: Theme) -> None:
    """Paint the shape of ``mark`` into ``r``."""
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink = QColor(t.mark(mark))
    c, half = r.center(), min(r.width(), r.height()) / 2
    if mark == "good":
        p.setPen(
            QPen(
                ink,
                half * 0.34,
                Qt.PenStyle.SolidLine,
                Qt.PenCapStyle.RoundCap,
                Qt.PenJoinStyle.RoundJoin,
            )
        )
        p.drawPolyline(
            QPolygonF(
                [
                    QPointF(c.x() - 0.75 * half, c.y() + 0.05 * half),
                    QPointF(c.x() - 0.2 * half, c.y() + 0.6 * half),
                    QPointF(c.x() + 0.8 * half, c.y() - 0.6 * half),
                ]
            )
        )
    elif mark == "watch":
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink)
        p.drawPolygon(
            QPolygonF(
                [
                    QPointF(c.x(), c.y() - 0.85 * half),
                    QPointF(c.x() + 0.95 * half, c.y() + 0.8 * half),
                    QPointF(c.x() - 0.95 * half, c.y() + 0.8 * half),
                ]
            )
        )
    elif mark == "trouble":
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink)
        p.drawPolygon(
            QPolygonF(
                [
                    QPointF(c.x(), c.y() - half),
                    QPointF(c.x() + half, c.y()),
                    QPointF(c.x(), c.y() + half),
                    QPointF(c.x() - half, c.y()),
                ]
            )
        )
        p.setPen(QPen(QColor(t.panel), half * 0.26, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        p.drawLine(QPointF(c.x(), c.y() - 0.5 * half), QPointF(c.x(), c.y() + 0.08 * half))
        p.drawPoint(QPointF(c.x(), c.y() + 0.48 * half))
    elif mark == "locked":
        p.setPen(QPen(ink, half * 0.22))
        p.drawArc(QRectF(c.x() - 0.4 * half, c.y() - 0.85 * half, 0.8 * half, 0.9 * half), 0, 2880)
        p.setBrush(ink)
        p.setPen(Qt.PenStyle.NoPen)
        p.drawRoundedRect(QRectF(c.x() - 0.65 * half, c.y() - 0.35 * half, 1.3 * half, half), 2, 2)
    else:
        p.setPen(QPen(ink, half * 0.24))
        p.setBrush(Qt.BrushStyle.NoBrush)
        side = half * 1.3
        p.drawRect(QRectF(c.x() - side / 2, c.y() - side / 2, side, side))
    p.restore()


class Mark(QWidget):
    """A mark as a widget, in the theme in use."""

    def __init__(self, mark: str = "open", size: int = 16) -> None:
        super().__init__()
        self._mark = mark
        self.setFixedSize(QSize(size, size))
        self._name()

    def show_mark(self, mark: str) -> None:
        """Change what is shown."""
        if mark != self._mark:
            self._mark = mark
            self._name()
            self.update()

    def _name(self) -> None:
        self.setAccessibleName(WORDS.get(self._mark, self._mark))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        draw_mark(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1), self._mark, current())
