"""A list to choose from: its arrow is painted, and the wheel scrolls the page past it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent
from PySide6.QtWidgets import QComboBox

from zombrel.ui.theme import current

ARROW_PX = 5.0
FROM_EDGE_PX = 15.0
OPENS = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter)


class Choice(QComboBox):
    """A combo box that shows that it is one."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows open the list: what is passed over on the way is not taken."""
        if event.key() in OPENS and not event.modifiers():
            self.showPopup()
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        event.ignore()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        x, y = self.width() - FROM_EDGE_PX, self.height() / 2
        p.setPen(QPen(QColor(current().quiet), 2, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        half = ARROW_PX / 2
        corners = [
            QPointF(x - ARROW_PX, y - half),
            QPointF(x, y + half),
            QPointF(x + ARROW_PX, y - half),
        ]
        p.drawPolyline(QPolygonF(corners))
