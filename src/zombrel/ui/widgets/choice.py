"""A list to choose from: its arrow is painted, what does not fit ends in …, the wheel passes by."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QSize, Qt
from PySide6.QtGui import (
    QColor,
    QCursor,
    QKeyEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QWheelEvent,
)
from PySide6.QtWidgets import QComboBox, QStyleOptionComboBox, QToolTip

from zombrel.ui.theme import current
from zombrel.ui.widgets.paint import shown

ARROW_PX = 5.0
FROM_EDGE_PX = 15.0
LEAST_PX = 120
"""So wide it wants to be at least, however long its lines are [px]."""
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

    def minimumSizeHint(self) -> QSize:
        """What does not fit is cut short, so its longest line asks for no room.

        After a change of colours the library would ask for it, and cards beside would be cut.
        """
        hint = super().minimumSizeHint()
        return QSize(min(hint.width(), LEAST_PX), hint.height())

    def event(self, event: QEvent) -> bool:
        """Its tip is the whole of what is cut short, where it has none of its own."""
        if event.type() == QEvent.Type.ToolTip and not self.toolTip():
            QToolTip.showText(QCursor.pos(), shown(self.currentText()), self)
            return True
        return super().event(event)

    def initStyleOption(self, option: QStyleOptionComboBox) -> None:
        """What is painted of its text: as much as there is room for."""
        super().initStyleOption(option)
        room = self.width() - FROM_EDGE_PX - ARROW_PX - self.fontMetrics().averageCharWidth() * 2
        option.currentText = self.fontMetrics().elidedText(  # type: ignore[attr-defined]
            self.currentText(), Qt.TextElideMode.ElideRight, int(room)
        )

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
