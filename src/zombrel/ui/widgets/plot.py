"""A plot that is worked by hand: points and thresholds are dragged, or moved by keys."""

from __future__ import annotations

import math
from functools import partial
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFontMetrics,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.ui.session import Session
from zombrel.ui.theme import Theme, font
from zombrel.ui.widgets.commands import Command, Commanded

GRIP = 16.0
"""How near a finger or the mouse must come to take hold [px]."""
LEFT, RIGHT, TOP, BOTTOM = 58.0, 14.0, 26.0, 40.0
"""Room around the drawing area [px]."""


class Axis(NamedTuple):
    """One axis, in the units shown."""

    name: str
    low: float
    high: float
    log: bool = False


class Line(NamedTuple):
    """A curve; ``style`` is main, second or faint."""

    points: tuple[tuple[float, float], ...]
    name: str
    style: str = "main"


class Dot(NamedTuple):
    """A point; ``held`` ones can be moved, ``doubt`` ones are marked."""

    x: float
    y: float
    held: bool = True
    doubt: bool = False


class Threshold(NamedTuple):
    """A line across at one x; ``back`` is where it lets go again."""

    key: str
    x: float
    name: str
    back: float | None = None
    held: bool = True


class Picture(NamedTuple):
    """All a plot shows."""

    x: Axis
    y: Axis
    lines: tuple[Line, ...] = ()
    dots: tuple[Dot, ...] = ()
    thresholds: tuple[Threshold, ...] = ()
    now: float | None = None
    """Where the supposed state stands."""
    about: str = ""


def ticks(axis: Axis, most: int) -> list[float]:
    """Round values along an axis: 1, 2 or 5 times a power of ten; decades when logarithmic."""
    if axis.log:
        low = math.ceil(math.log10(axis.low) - 1e-9)
        high = math.floor(math.log10(axis.high) + 1e-9)
        decades = [10.0**k for k in range(low, high + 1)]
        if len(decades) >= 3:
            return decades
        return [
            m * 10.0**k
            for k in range(low - 1, high + 1)
            for m in (1, 2, 5)
            if axis.low <= m * 10.0**k <= axis.high
        ]
    span = axis.high - axis.low
    rough = span / max(most, 1)
    power = 10 ** math.floor(math.log10(rough))
    step = next(m * power for m in (1, 2, 5, 10) if m * power >= rough * 0.999)
    first = math.ceil(axis.low / step - 1e-9)
    return [k * step for k in range(first, math.floor(axis.high / step + 1e-9) + 1)]


def tick_words(value: float) -> str:
    """A tick without needless digits."""
    if abs(value) >= 1e6:
        return f"{value / 1e6:g} M"
    if abs(value) >= 1e4:
        return f"{value / 1e3:g} k"
    return f"{value:.6g}".replace("-", "\u2212")


class Plot(Commanded, QWidget):
    """Curves with what can be moved on them."""

    dragging = Signal(int, float, float)
    """(dot, x, y) while it moves, in the units shown."""
    dropped = Signal(int, float, float)
    sliding = Signal(str, float)
    """(threshold, x) while it moves."""
    slid = Signal(str, float)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._picture: Picture | None = None
        self._hold = -1
        """What is held: dots first, then thresholds; −1 for nothing."""
        self._drag = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(320, 200)

    def sizeHint(self) -> QSize:
        return QSize(560, 280)

    def show_picture(self, picture: Picture) -> None:
        """Show another picture; what is held stays held."""
        self._picture = picture
        if self._hold >= len(picture.dots) + len(picture.thresholds):
            self._hold = -1
        moved = sum(d.held for d in picture.dots) + sum(th.held for th in picture.thresholds)
        how = " Left and right choose, up and down move." if moved else ""
        self.setAccessibleName(f"{picture.about}{how}")
        self.update()

    # ---- places

    def _area(self) -> QRectF:
        return QRectF(self.rect()).adjusted(LEFT, TOP, -RIGHT, -BOTTOM)

    def place(self, x: float, y: float) -> QPointF:
        """Where a point lies on the widget."""
        picture, area = self._picture, self._area()
        assert picture is not None  # only asked while something is shown
        return QPointF(
            area.left() + _share(picture.x, x) * area.width(),
            area.bottom() - _share(picture.y, y) * area.height(),
        )

    def _value(self, at: QPointF) -> tuple[float, float]:
        picture, area = self._picture, self._area()
        assert picture is not None
        sx = min(max((at.x() - area.left()) / area.width(), 0.0), 1.0)
        sy = min(max((area.bottom() - at.y()) / area.height(), 0.0), 1.0)
        return _unshare(picture.x, sx), _unshare(picture.y, sy)

    # ---- moving

    def _near(self, at: QPointF) -> int:
        picture = self._picture
        if picture is None:
            return -1
        best, found = GRIP, -1
        for i, dot in enumerate(picture.dots):
            d = self.place(dot.x, dot.y) - at
            far = math.hypot(d.x(), d.y())
            if dot.held and far < best:
                best, found = far, i
        if found >= 0:
            return found
        for i, line in enumerate(picture.thresholds):
            far = abs(self.place(line.x, picture.y.low).x() - at.x())
            if line.held and far < best:
                best, found = far, len(picture.dots) + i
        return found

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        self._hold = self._near(event.position())
        self._drag = self._hold >= 0
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag:
            self._send(event.position(), final=False)
        else:
            over = self._near(event.position()) >= 0
            self.setCursor(Qt.CursorShape.OpenHandCursor if over else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag:
            self._drag = False
            self._send(event.position(), final=True)

    def _send(self, at: QPointF, final: bool) -> None:
        x, y = self._value(at)
        self._tell(x, y, final)

    def _tell(self, x: float, y: float, final: bool) -> None:
        picture = self._picture
        if picture is None or self._hold < 0:
            return
        if self._hold < len(picture.dots):
            (self.dropped if final else self.dragging).emit(self._hold, x, y)
        else:
            key = picture.thresholds[self._hold - len(picture.dots)].key
            (self.slid if final else self.sliding).emit(key, x)

    def commands(self) -> tuple[Command, ...]:
        """What keys do on a plot that has something to move."""
        if not self._held():
            return ()
        return (
            Command("Next point or line", "Right", partial(self._take, 1)),
            Command("Point or line before", "Left", partial(self._take, -1)),
            Command("Move it up", "Up", partial(self._nudge, 1, False)),
            Command("Move it down", "Down", partial(self._nudge, -1, False)),
            Command("Move it right", "Shift+Right", partial(self._nudge, 1, True)),
            Command("Move it left", "Shift+Left", partial(self._nudge, -1, True)),
        )

    def _held(self) -> list[int]:
        """Numbers of what can be moved: points, then lines."""
        picture = self._picture
        if picture is None:
            return []
        held = [i for i, d in enumerate(picture.dots) if d.held]
        return held + [len(picture.dots) + i for i, th in enumerate(picture.thresholds) if th.held]

    def _take(self, step: int) -> None:
        held = self._held()
        at = held.index(self._hold) if self._hold in held else (-1 if step > 0 else 0)
        self._hold = held[(at + step) % len(held)]
        self.update()

    def _nudge(self, by: int, sideways: bool) -> None:
        picture = self._picture
        if picture is None or self._hold < 0:
            return
        if self._hold >= len(picture.dots):
            line = picture.thresholds[self._hold - len(picture.dots)]
            self._tell(line.x + by * (picture.x.high - picture.x.low) / 100, 0.0, final=True)
            return
        dot = picture.dots[self._hold]
        if sideways:
            self._tell(dot.x + by * (picture.x.high - picture.x.low) / 200, dot.y, final=True)
        else:
            share = _share(picture.y, dot.y) + by * 0.005
            self._tell(dot.x, _unshare(picture.y, share), final=True)

    # ---- painting

    def paintEvent(self, event: QPaintEvent) -> None:
        picture = self._picture
        if picture is None:
            return
        t = self._session.theme
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = self._area()
        p.setPen(QPen(QColor(t.focus if self.hasFocus() else t.line), 1.6))
        p.setBrush(QColor(t.well))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, 8)
        self._paint_axes(p, picture, area, t)
        p.setClipRect(area.adjusted(-1, -1, 1, 1))
        for line in picture.lines:
            self._paint_line(p, line, t)
        if picture.now is not None and picture.x.low <= picture.now <= picture.x.high:
            x = self.place(picture.now, picture.y.low).x()
            p.setPen(QPen(QColor(t.focus), 2))
            p.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
        p.setClipping(False)
        self._paint_thresholds(p, picture, area, t)
        for i, dot in enumerate(picture.dots):
            self._paint_dot(p, dot, i == self._hold and self.hasFocus(), t)
        self._paint_legend(p, picture, area, t)

    def _paint_axes(self, p: QPainter, picture: Picture, area: QRectF, t: Theme) -> None:
        p.setFont(font(12))
        for value in ticks(picture.x, max(2, int(area.width() // 80))):
            x = self.place(value, picture.y.low).x()
            p.setPen(QPen(QColor(t.line), 1))
            p.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
            p.setPen(QColor(t.quiet))
            p.drawText(
                QRectF(x - 40, area.bottom() + 3, 80, 16),
                Qt.AlignmentFlag.AlignCenter,
                tick_words(value),
            )
        for value in ticks(picture.y, max(3, int(area.height() // 34))):
            y = self.place(picture.x.low, value).y()
            p.setPen(QPen(QColor(t.line), 1))
            p.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            p.setPen(QColor(t.quiet))
            p.drawText(
                QRectF(2, y - 8, LEFT - 8, 16),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                tick_words(value),
            )
        p.setPen(QColor(t.quiet))
        p.drawText(
            QRectF(area.left(), area.bottom() + 20, area.width(), 16),
            Qt.AlignmentFlag.AlignRight,
            picture.x.name,
        )
        p.drawText(QRectF(8, 5, 150, 16), Qt.AlignmentFlag.AlignLeft, picture.y.name)

    def _paint_line(self, p: QPainter, line: Line, t: Theme) -> None:
        p.setPen(_pen(line.style, t))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolyline(QPolygonF([self.place(x, y) for x, y in line.points]))

    def _paint_thresholds(self, p: QPainter, picture: Picture, area: QRectF, t: Theme) -> None:
        for i, line in enumerate(picture.thresholds):
            x = self.place(line.x, picture.y.low).x()
            if line.back is not None:
                back = self.place(line.back, picture.y.low).x()
                shade = QColor(t.watch)
                shade.setAlpha(40)
                p.fillRect(QRectF(min(x, back), area.top(), abs(x - back), area.height()), shade)
            held = self._hold == len(picture.dots) + i and self.hasFocus()
            p.setPen(QPen(QColor(t.watch), 3.4 if held else 2.2))
            p.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
            grip = QRectF(x - 7, area.top() - 5, 14, 14)
            p.setBrush(QColor(t.watch if not held else t.focus))
            p.drawRoundedRect(grip, 3, 3)
            p.setFont(font(12, bold=True))
            wide = QFontMetrics(font(12, bold=True)).horizontalAdvance(line.name) + 6
            left = x + 10 if x + 10 + wide < area.right() else x - 10 - wide
            row = area.top() + 14 + 17 * (i % 3)
            name = QRectF(left - 3, row, wide + 2, 17)
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(t.well))
            p.drawRect(name)
            p.setPen(QColor(t.ink))
            p.drawText(name, Qt.AlignmentFlag.AlignCenter, line.name)

    def _paint_dot(self, p: QPainter, dot: Dot, held: bool, t: Theme) -> None:
        at = self.place(dot.x, dot.y)
        if dot.doubt:
            p.setPen(QPen(QColor(t.trouble), 2.4))
            p.setBrush(QColor(t.panel))
            p.drawRect(QRectF(at.x() - 6, at.y() - 6, 12, 12))
            p.drawLine(at + QPointF(-4, -4), at + QPointF(4, 4))
            p.drawLine(at + QPointF(-4, 4), at + QPointF(4, -4))
        else:
            p.setPen(QPen(QColor(t.ink), 1.6))
            p.setBrush(QColor(t.petrol if dot.held else t.panel))
            p.drawEllipse(at, 5.5, 5.5)
        if held:
            p.setPen(QPen(QColor(t.focus), 2.6))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(at, 10, 10)

    def _paint_legend(self, p: QPainter, picture: Picture, area: QRectF, t: Theme) -> None:
        p.setFont(font(12))
        metrics = QFontMetrics(font(12))
        x = area.right()
        for line in reversed(picture.lines):
            if not line.name:
                continue
            wide = metrics.horizontalAdvance(line.name)
            x -= wide + 34
            p.setPen(_pen(line.style, t))
            p.drawLine(QPointF(x, 13), QPointF(x + 22, 13))
            p.setPen(QColor(t.ink))
            p.drawText(QRectF(x + 27, 5, wide + 4, 16), Qt.AlignmentFlag.AlignLeft, line.name)


def _pen(style: str, t: Theme) -> QPen:
    """Main lines are whole, second ones dashed, faint ones dotted."""
    return {
        "main": QPen(QColor(t.petrol), 2.4),
        "second": QPen(QColor(t.ink), 1.8, Qt.PenStyle.DashLine),
        "faint": QPen(QColor(t.quiet), 1.3, Qt.PenStyle.DotLine),
    }[style]


def _share(axis: Axis, value: float) -> float:
    if axis.log:
        value = max(value, axis.low * 1e-3)
        return math.log(value / axis.low) / math.log(axis.high / axis.low)
    return (value - axis.low) / (axis.high - axis.low)


def _unshare(axis: Axis, share: float) -> float:
    if axis.log:
        return float(axis.low * (axis.high / axis.low) ** share)
    return axis.low + (axis.high - axis.low) * share
