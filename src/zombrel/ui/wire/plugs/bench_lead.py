"""The lead as it will lie on the bench: plugs, trunk and branches, wires in their colours."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.catalog.colours import stripe
from zombrel.harness.plugs.build import Build
from zombrel.harness.plugs.conducts import plug_of
from zombrel.ui.session import Session
from zombrel.ui.theme import font

BOX = (64.0, 52.0)
MOST = 9
"""So many wires are drawn of one plug; the rest lie under them."""


class BenchLead(QWidget):
    """Near plugs at the left, far ones at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._build: Build | None = None
        self.setMinimumHeight(170)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("The lead on the bench")

    def show_build(self, build: Build | None) -> None:
        """Show another lead; None: none yet."""
        self._build = build
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = self._session.theme
        if self._build is None:
            p.setPen(QColor(t.quiet))
            p.setFont(font(13))
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            p.drawText(self.rect(), int(flags), "No conductor yet: take what matches.")
            return
        near = [x.name for x in self._build.plugs if x.near]
        far = [x.name for x in self._build.plugs if not x.near]
        places = self._places(near, 8.0) | self._places(far, self.width() - BOX[0] - 8.0)
        drawn: dict[tuple[str, str], int] = {}
        total: dict[tuple[str, str], int] = {}
        ways = []
        for piece in self._build.pieces:
            a, b = (plug_of(x) for x in (piece.row.a, piece.row.b))
            total[a, b] = total.get((a, b), 0) + 1
            ways.append((a, b, piece.row.colour))
        for a, b, colour in ways:
            i = drawn.get((a, b), 0)
            drawn[a, b] = i + 1
            if i < MOST:
                count = min(total[a, b], MOST)
                self._wire(p, places[a], places[b], (i - (count - 1) / 2), colour)
        p.setFont(font(13, bold=True))
        for name, r in places.items():
            p.setPen(QPen(QColor(t.ink), 1.4))
            p.setBrush(QColor(t.well))
            p.drawRoundedRect(r, 6, 6)
            p.drawText(r, int(Qt.AlignmentFlag.AlignCenter), name)

    def _places(self, names: list[str], x: float) -> dict[str, QRectF]:
        step = self.height() / (len(names) + 1)
        return {name: QRectF(x, step * (i + 1) - BOX[1] / 2, *BOX) for i, name in enumerate(names)}

    def _wire(self, p: QPainter, a: QRectF, b: QRectF, at: float, colour: str) -> None:
        """One wire; ``at`` counts from the middle of its bundle."""
        gap = 3.0
        if a.left() == b.left():  # a link inside the lead
            left = a.left() < self.width() / 2
            x, bow = (a.right(), 34.0) if left else (a.left(), -34.0)
            start = QPointF(x, a.center().y() - 9 - at * gap)
            end = QPointF(x, b.center().y() + 9 + at * gap)
            middle = x + bow
        else:
            start = QPointF(a.right(), a.center().y() + at * gap)
            end = QPointF(b.left(), b.center().y() + at * gap)
            middle = (start.x() + end.x()) / 2
        path = QPainterPath(start)
        path.cubicTo(QPointF(middle, start.y()), QPointF(middle, end.y()), end)
        base, mark = stripe(colour)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(QColor(base), 2.2))
        p.drawPath(path)
        if mark is not None:
            pen = QPen(QColor(mark), 1.0)
            pen.setDashPattern([4, 4])
            p.setPen(pen)
            p.drawPath(path)
