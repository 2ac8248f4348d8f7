"""A chart of the difference between shown and true speed, with its line.

The difference is drawn, not the two speeds: a scale error of one per cent is then plain to
see.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

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

    def _reach(self) -> float:
        """Half height of the chart: what the points that count need, and a little more."""
        counted = [
            abs(y - x)
            for i, (x, y) in enumerate(zip(self._x, self._y, strict=True))
            if not self._kept or self._kept[i]
        ]
        if not self._kept:
            counted = sorted(counted)[: max(1, round(len(counted) * 0.9))]
        return max([2.0, *counted]) * 1.35

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(52, 26, self.width() - 66, self.height() - 66)
        top = max([10.0, *self._x]) * 1.06 if self._x else 150.0
        reach = self._reach()

        def at(x: float, y: float) -> QPointF:
            y = max(-reach, min(reach, y))
            return QPointF(
                area.left() + x / top * area.width(),
                area.center().y() - y / reach * area.height() / 2,
            )

        self._paint_grid(p, area, top, reach, at)
        for i, (x, y) in enumerate(zip(self._x, self._y, strict=True)):
            kept = not self._kept or self._kept[i]
            p.setPen(QPen(QColor(t.petrol if kept else t.watch), 1.2))
            fill = QColor(t.petrol)
            fill.setAlpha(110)
            p.setBrush(fill if kept else Qt.BrushStyle.NoBrush)
            p.drawEllipse(at(x, y - x), 3.4, 3.4)
        if self._line is not None:
            scale, offset = self._line
            p.setPen(QPen(QColor(t.focus), 2.4))
            p.drawLine(at(0, offset), at(top, (scale - 1) * top + offset))
        if not self._x:
            p.setPen(QColor(t.quiet))
            p.setFont(font(14))
            p.drawText(
                area.adjusted(0, -30, 0, -30),
                Qt.AlignmentFlag.AlignCenter,
                "No points yet: read a log, or play a recording.",
            )

    def _paint_grid(
        self,
        p: QPainter,
        area: QRectF,
        top: float,
        reach: float,
        at: Callable[[float, float], QPointF],
    ) -> None:
        t = self._session.theme
        p.setFont(font(12))
        step = next(s for s in (5, 10, 20, 25, 50, 100, 200, 1000) if top / s <= 8)
        x = 0.0
        while x <= top:
            p.setPen(QPen(QColor(t.line), 1))
            p.drawLine(at(x, -reach), at(x, reach))
            p.setPen(QColor(t.quiet))
            p.drawText(
                QRectF(at(x, 0).x() - 24, area.bottom() + 3, 48, 16),
                Qt.AlignmentFlag.AlignCenter,
                f"{x:g}",
            )
            x += step
        up = next(s for s in (0.5, 1, 2, 5, 10, 20, 50, 1000) if reach / s <= 4)
        n = int(reach / up)
        for k in range(-n, n + 1):
            y = k * up
            p.setPen(QPen(QColor(t.quiet if k == 0 else t.line), 1.6 if k == 0 else 1))
            p.drawLine(at(0, y), at(top, y))
            p.setPen(QColor(t.quiet))
            text = f"+{y:g}" if y > 0 else f"\u2212{-y:g}" if y < 0 else "0"
            p.drawText(QRectF(0, at(0, y).y() - 8, 46, 16), Qt.AlignmentFlag.AlignRight, text)
        p.drawText(
            QRectF(area.left(), area.bottom() + 19, area.width(), 18),
            Qt.AlignmentFlag.AlignCenter,
            f"satellite speed, {self._unit}",
        )
        p.drawText(
            QRectF(6, 4, area.width(), 18),
            Qt.AlignmentFlag.AlignLeft,
            f"shown minus satellite, {self._unit}",
        )
