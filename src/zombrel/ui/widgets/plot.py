"""A plot that is worked by hand: points and thresholds are dragged, or moved by keys."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial
from typing import Any

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFocusEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy

from zombrel.plots.picture import Picture, along, at_share, share_of, value_at
from zombrel.ui.session import Session
from zombrel.ui.theme import font
from zombrel.ui.widgets.canvas import AXIS_PX, TOP_PX, Canvas
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.plot_items import MAKERS, Ink, pen_of

GRIP = 16.0
"""How near a finger or the mouse must come to take hold [px]."""
EDGE, RIGHT, STRIP_PX = 2, 18, 22
"""Room at the edge, at the right, and for the names above [px]."""
BARE_PX = 34
"""Room beside a strip: its last figure has its unit [px]."""
ZOOM = 1.4
"""A key or a notch of the wheel zooms by so much."""
ROW_PX = 17.0
"""Names of lines stand below one another by so much [px]."""


class Plot(Commanded, Canvas):
    """Curves with what can be moved on them; ``bare`` ones are a strip without names."""

    dragging = Signal(int, float, float)
    """(dot, x, y) while it moves, in the units shown."""
    dropped = Signal(int, float, float)
    sliding = Signal(str, float)
    """(threshold, x) while it moves."""
    slid = Signal(str, float)

    def __init__(self, session: Session, bare: bool = False) -> None:
        super().__init__(session.theme)
        self._session = session
        self._picture: Picture | None = None
        self._bare = bare
        self._hold = -1
        """What is held: dots first, then thresholds; −1 for nothing."""
        self._drag = False
        self._drawn: dict[tuple[str, int], tuple[tuple[Any, ...], list[Any]]] = {}
        """What lies on the plot: what it shows, and its items."""
        self.plot.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.plot.getViewBox().setDefaultPadding(0)
        self.setMouseTracking(True)
        if bare:
            self.plot.hideAxis("left")
            self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        else:
            self.body.setContentsMargins(EDGE, STRIP_PX, EDGE, EDGE)
            self.setMinimumSize(320, 200)
        sides = (BARE_PX / 2, BARE_PX) if bare else (0, RIGHT)
        self.plot.plotItem.layout.setContentsMargins(sides[0], TOP_PX, sides[1], 0)
        session.restyled.connect(self.restyle)
        # names of thresholds keep their distance in pixels
        self.plot.getViewBox().sigResized.connect(lambda _: self._draw())
        self._dress()

    def sizeHint(self) -> QSize:
        return QSize(560, 280)

    def _dress(self) -> None:
        t = self._session.theme
        name = self._picture.x.name if self._picture is not None else ""
        self.dress_axes(t, "" if self._bare else name, "", t.panel if self._bare else t.well)

    def show_picture(self, picture: Picture) -> None:
        """Show another picture; what is held stays held, and so does the view of the same axes."""
        old, self._picture = self._picture, picture
        if self._hold >= len(picture.dots) + len(picture.thresholds):
            self._hold = -1
        moved = sum(d.held for d in picture.dots) + sum(th.held for th in picture.thresholds)
        how = " Left and right choose, up and down move." if moved else ""
        self.setAccessibleName(f"{picture.about}{how}")
        if old is None or (old.x, old.y) != (picture.x, picture.y):
            self.set_log(picture.x.log, picture.y.log, picture.x.name if self._bare else "")
            self._dress()
            self.show_all()
        self._draw()

    # ---- places

    def show_all(self) -> None:
        """The whole of both axes."""
        picture = self._picture
        if picture is not None:
            self.plot.setRange(
                xRange=(along(picture.x, picture.x.low), along(picture.x, picture.x.high)),
                yRange=(along(picture.y, picture.y.low), along(picture.y, picture.y.high)),
                padding=0,
            )

    def _zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Nearer or further about a place; never further than the axes go."""
        picture = self._picture
        if picture is None:
            return
        box = self.plot.getViewBox()
        spans = []
        for axis, (low, high), centre in zip(
            (picture.x, picture.y),
            box.viewRange(),
            (None, None) if at is None else tuple(map(float, self._inside(at))),
            strict=True,
        ):
            ends = along(axis, axis.low), along(axis, axis.high)
            middle = (low + high) / 2 if centre is None else centre
            spans.append(
                (
                    max(ends[0], middle - (middle - low) * factor),
                    min(ends[1], middle + (high - middle) * factor),
                )
            )
        box.setRange(xRange=spans[0], yRange=spans[1], padding=0)
        self._draw()

    def wheelEvent(self, event: QWheelEvent) -> None:
        """With Ctrl it zooms; else the page scrolls."""
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and event.angleDelta().y():
            self._zoom(1 / ZOOM if event.angleDelta().y() > 0 else ZOOM, event.position())
        else:
            event.ignore()

    def place(self, x: float, y: float) -> QPointF:
        """Where a point lies on the widget."""
        picture = self._picture
        assert picture is not None  # only asked while something is shown
        at = self.plot.getViewBox().mapViewToScene(
            QPointF(along(picture.x, x), along(picture.y, y))
        )
        return QPointF(at) + QPointF(self.plot.pos())

    def _across(self, x: float) -> float:
        picture = self._picture
        assert picture is not None
        return self.place(x, picture.y.high).x()

    def _inside(self, at: QPointF) -> tuple[float, float]:
        """Where a place on the widget lies, as the axes count."""
        found = self.plot.getViewBox().mapSceneToView(at - QPointF(self.plot.pos()))
        (left, right), (low, high) = self.plot.getViewBox().viewRange()
        return min(max(found.x(), left), right), min(max(found.y(), low), high)

    def _value(self, at: QPointF) -> tuple[float, float]:
        picture = self._picture
        assert picture is not None
        x, y = self._inside(at)
        return value_at(picture.x, x), value_at(picture.y, y)

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
            far = abs(self._across(line.x) - at.x())
            if line.held and far < best:
                best, found = far, len(picture.dots) + i
        return found

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        self._hold = self._near(event.position())
        self._drag = self._hold >= 0
        self._draw()

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
        """What keys do on a plot: more where it has something to move."""
        nearer = (
            Command("Plot: nearer", "+ =", partial(self._zoom, 1 / ZOOM)),
            Command("Plot: further", "-", partial(self._zoom, ZOOM)),
            Command("Plot: all of it", "Home", self.show_all),
        )
        if not self._held():
            return nearer
        return (
            Command("Next point or line", "Right", partial(self._take, 1)),
            Command("Point or line before", "Left", partial(self._take, -1)),
            Command("Move it up", "Up", partial(self._nudge, 1, False)),
            Command("Move it down", "Down", partial(self._nudge, -1, False)),
            Command("Move it right", "Shift+Right", partial(self._nudge, 1, True)),
            Command("Move it left", "Shift+Left", partial(self._nudge, -1, True)),
            *nearer,
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
        self._draw()

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
            share = share_of(picture.y, dot.y) + by * 0.005
            self._tell(dot.x, at_share(picture.y, share), final=True)

    # ---- drawing

    def _draw(self) -> None:
        """Bring what lies on the plot to the picture: only what differs is made anew."""
        picture, t = self._picture, self._session.theme
        if picture is None:
            return
        ink = Ink(self._pg, t, self._bare)
        wanted = dict(self._parts(picture))
        axes = (picture.x, picture.y, t.name)
        for slot, (was, items) in list(self._drawn.items()):
            if wanted.get(slot) != was[:-1] or was[-1] != axes:
                del self._drawn[slot]
                for item in items:
                    self.plot.removeItem(item)
        for slot, part in wanted.items():
            if slot not in self._drawn:
                items = MAKERS[slot[0]](ink, picture, *part)
                for item in items:
                    self.plot.addItem(item)
                self._drawn[slot] = ((*part, axes), items)
        self.update()

    def _parts(self, picture: Picture) -> Iterator[tuple[tuple[str, int], tuple[Any, ...]]]:
        """All that should lie on the plot: (kind, which of it), and what it shows."""
        for i, zone in enumerate(picture.zones):
            yield ("zone", i), (zone,)
        for i, cloud in enumerate(picture.clouds):
            yield ("cloud", i), (cloud,)
        for i, line in enumerate(picture.lines):
            yield ("line", i), (line,)
        if picture.now is not None and picture.x.low <= picture.now <= picture.x.high:
            yield ("now", 0), (picture.now,)
        tall = round(self.plot.getViewBox().height())
        for i, threshold in enumerate(picture.thresholds):
            held = self._hold == len(picture.dots) + i and self.hasFocus()
            yield ("threshold", i), (threshold, held, 1 - ROW_PX * (1 + i % 3) / max(tall, ROW_PX))
        yield ("dots", 0), (tuple(d for d in picture.dots if not d.doubt),)
        yield ("dots", 1), (tuple(d for d in picture.dots if d.doubt),)
        if 0 <= self._hold < len(picture.dots) and self.hasFocus():
            yield ("ring", 0), (picture.dots[self._hold],)
        if picture.empty:
            yield ("empty", 0), (picture.empty,)

    def restyle(self) -> None:
        """Colours of the theme that is on."""
        self._dress()
        self._draw()

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self._draw()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self._draw()

    def paintEvent(self, event: QPaintEvent) -> None:
        """The well it lies in, and above it what the lines are called."""
        picture, t = self._picture, self._session.theme
        if picture is None or self._bare:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(QPen(QColor(t.focus if self.hasFocus() else t.line), 1.6))
        p.setBrush(QColor(t.well))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, 8)
        p.setFont(font(12))
        p.setPen(QColor(t.quiet))
        p.drawText(QRectF(8, 5, AXIS_PX * 4, 16), Qt.AlignmentFlag.AlignLeft, picture.y.name)
        x = float(self.width() - RIGHT)
        for line in reversed(picture.lines):
            if not line.name:
                continue
            wide = p.fontMetrics().horizontalAdvance(line.name)
            x -= wide + 34
            p.setPen(pen_of(line.style, t))
            p.drawLine(QPointF(x, 13), QPointF(x + 22, 13))
            p.setPen(QColor(t.ink))
            p.drawText(QRectF(x + 27, 5, wide + 4, 16), Qt.AlignmentFlag.AlignLeft, line.name)
