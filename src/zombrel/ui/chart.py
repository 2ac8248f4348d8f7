"""A scatter chart of shown against true speed with its line."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.ui.session import Session
from zombrel.ui.theme import font


class RoadChart(QWidget):
    """Points used are filled, points set aside are hollow; the fitted line and the truth."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._x: Sequence[float] = ()
        self._y: Sequence[float] = ()
        self._kept: Sequence[bool] = ()
        self._line: tuple[float, float] | None = None
        self._unit = ""
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(300, 220)

    def sizeHint(self) -> QSize:
        return QSize(520, 320)

    def show_points(
        self,
        x: Sequence[float],
        y: Sequence[float],
        kept: Sequence[bool],
        line: tuple[float, float] | None,
        unit: str,
    ) -> None:
        """``x`` true, ``y`` shown, in ``unit``; ``line`` is (scale, offset)."""
        self._x, self._y, self._kept, self._line, self._unit = x, y, kept, line, unit
        used = sum(kept) if kept else len(x)
        self.setAccessibleName(
            f"Shown against satellite speed in {unit}: {len(x)} points, {used} used"
            + (f", scale {line[0]:.4f}" if line else "")
        )
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(48, 12, self.width() - 62, self.height() - 50)
        top = max([1.0, *self._x, *self._y]) * 1.06 if self._x else 150.0
        step = next(s for s in (5, 10, 20, 25, 50, 100, 200, 1000) if top / s <= 8)

        def at(x: float, y: float) -> QPointF:
            return QPointF(area.left() + x / top * area.width(),
                           area.bottom() - y / top * area.height())  # fmt: skip

        p.setFont(font(12))
        value = 0.0
        while value <= top:
            p.setPen(QPen(QColor(t.line), 1))
            p.drawLine(at(value, 0), at(value, top))
            p.drawLine(at(0, value), at(top, value))
            p.setPen(QColor(t.quiet))
            here = at(value, 0)
            p.drawText(QRectF(here.x() - 24, area.bottom() + 3, 48, 16),
                       Qt.AlignmentFlag.AlignCenter, f"{value:g}")  # fmt: skip
            p.drawText(QRectF(0, at(0, value).y() - 8, 42, 16), Qt.AlignmentFlag.AlignRight,
                       f"{value:g}")  # fmt: skip
            value += step
        p.drawText(QRectF(area.left(), area.bottom() + 19, area.width(), 18),
                   Qt.AlignmentFlag.AlignCenter, f"satellite speed, {self._unit}")  # fmt: skip
        p.setPen(QPen(QColor(t.quiet), 1.3, Qt.PenStyle.DashLine))
        p.drawLine(at(0, 0), at(top, top))
        p.setPen(QColor(t.quiet))
        p.drawText(at(top * 0.02, top * 0.94), f"shown, {self._unit}")
        for i, (x, y) in enumerate(zip(self._x, self._y, strict=True)):
            kept = not self._kept or self._kept[i]
            p.setPen(QPen(QColor(t.petrol if kept else t.watch), 1.2))
            fill = QColor(t.petrol)
            fill.setAlpha(120)
            p.setBrush(fill if kept else Qt.BrushStyle.NoBrush)
            p.drawEllipse(at(x, y), 3.2, 3.2)
        if self._line is not None:
            scale, offset = self._line
            p.setPen(QPen(QColor(t.marigold), 2.2))
            p.drawLine(at(0, max(offset, 0)), at(min(top, (top - offset) / scale),
                                                 min(top, scale * top + offset)))  # fmt: skip
        if not self._x:
            p.setPen(QColor(t.quiet))
            p.setFont(font(14))
            p.drawText(area, Qt.AlignmentFlag.AlignCenter,
                       "No points yet: read a log, or play a recording.")  # fmt: skip
