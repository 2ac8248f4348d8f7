"""Painted pieces of the board: hop tiles with their waveforms."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QAbstractButton, QSizePolicy

from zombrel.signals.waveform import trace
from zombrel.ui.session import Session
from zombrel.ui.source.words import Tile, Wave
from zombrel.ui.theme import Theme, font
from zombrel.ui.widgets.paint import shown
from zombrel.ui.widgets.tip import tip

BRIEF_PX, WAVE_PX = 44, 44
"""Height of a tile in brief, and what its waveform takes of it."""
WINDOW_S = 0.02
"""Time drawn in a tile's waveform [s]; a slow signal gets more."""


def draw_wave(p: QPainter, r: QRectF, wave: Wave, t: Theme) -> None:
    """Paint a waveform over a window that shows the rate, with the threshold dashed."""
    window = WINDOW_S if wave.hz > 60 else 0.1
    top = max(wave.peak, wave.threshold, 0.1) * 1.1
    low = -top if wave.kind in ("sine", "kick") else -0.15 * top
    scale = r.height() / (top - low)

    def y(v: float) -> float:
        return r.bottom() - (v - low) * scale

    if wave.threshold > 0:
        p.setPen(QPen(QColor(t.quiet), 1, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(r.left(), y(wave.threshold)), QPointF(r.right(), y(wave.threshold)))
    p.setPen(QPen(QColor(t.petrol), 1.6))
    left, across, base = r.left(), r.width() / window, r.bottom() + low * scale
    points = trace(wave.kind, wave.hz, wave.peak, window)
    p.drawPolyline(QPolygonF([QPointF(left + a * across, base - v * scale) for a, v in points]))


class HopTile(QAbstractButton):
    """One hop: heading, detail, value, waveform."""

    def __init__(self, session: Session, key: str) -> None:
        super().__init__()
        self._session = session
        self.key = key
        self._tile = Tile(key, "", "", "")
        self._chosen = self._brief = False
        self.walk: Callable[[QKeyEvent], bool] | None = None
        """What the board does with a key; True when it took it."""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMinimumWidth(112)

    def sizeHint(self) -> QSize:
        return QSize(132, BRIEF_PX if self._brief else 88)

    def set_brief(self, brief: bool) -> None:
        """Two lines instead of the whole of it."""
        if brief != self._brief:
            self._brief = brief
            self.updateGeometry()
            self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.walk is None or not self.walk(event):
            super().keyPressEvent(event)

    def show_tile(self, tile: Tile, chosen: bool, title: str) -> None:
        tile = tile.but(head=shown(tile.head), sub=shown(tile.sub), value=shown(tile.value))
        if (tile, chosen) == (self._tile, self._chosen):
            return
        self._tile, self._chosen = tile, chosen
        words = ", ".join(x for x in (tile.head, tile.sub, tile.value) if x)
        self.setAccessibleName(f"{title}, {tile.key}: {words}")
        tip(self, words)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        t, tile = self._session.theme, self._tile
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        edge = t.focus if self._chosen or self.hasFocus() else t.well
        p.setPen(QPen(QColor(edge), 2))
        p.setBrush(QColor(t.tint if self.underMouse() and not self._chosen else t.well))
        p.drawRoundedRect(box, 6, 6)
        if tile.empty:
            self._paint_empty(p, box, t)
            return
        w = self.width() - 18
        p.setPen(QColor(t.ink))
        p.setFont(font(13, bold=True))
        if self._brief:
            self._paint_brief(p, t, w)
            return
        p.drawText(QRectF(9, 6, w, 18), Qt.AlignmentFlag.AlignVCenter, _fit(p, tile.head, w))
        p.setPen(QColor(t.quiet))
        p.setFont(font(12))
        p.drawText(QRectF(9, 24, w, 16), Qt.AlignmentFlag.AlignVCenter, _fit(p, tile.sub, w))
        p.setPen(QColor(t.trouble if tile.bad else t.petrol))
        p.setFont(font(12, bold=tile.bad))
        if p.fontMetrics().horizontalAdvance(tile.value) > w + 2:
            p.setFont(font(12, bold=tile.bad))
        value = _fit(p, tile.value, w + 6)
        p.drawText(QRectF(9, 41, w + 6, 17), Qt.AlignmentFlag.AlignVCenter, value)
        if tile.wave is not None:
            draw_wave(p, QRectF(10, 61, w - 2, 20), tile.wave, t)

    def _paint_brief(self, p: QPainter, t: Theme, w: float) -> None:
        tile = self._tile
        p.drawText(QRectF(9, 4, w, 18), Qt.AlignmentFlag.AlignVCenter, _fit(p, tile.head, w))
        p.setPen(QColor(t.trouble if tile.bad else t.petrol))
        p.setFont(font(12, bold=tile.bad))
        said = tile.value or tile.sub
        wave = tile.wave if p.fontMetrics().horizontalAdvance(said) + WAVE_PX < w else None
        value = _fit(p, said, w + 6)
        p.drawText(QRectF(9, 22, w + 6, 17), Qt.AlignmentFlag.AlignVCenter, value)
        if wave is not None:
            draw_wave(p, QRectF(self.width() - WAVE_PX, 24, WAVE_PX - 10, 14), wave, t)

    def _paint_empty(self, p: QPainter, box: QRectF, t: Theme) -> None:
        if self._brief:
            p.setPen(QColor(t.quiet))
            p.setFont(font(12))
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, "nothing here")
            return
        p.setPen(QPen(QColor(t.line), 1.4, Qt.PenStyle.DashLine))
        y = 22.0
        p.drawLine(QPointF(box.left() + 8, y), QPointF(box.right() - 8, y))
        p.setPen(QColor(t.quiet))
        p.setFont(font(12))
        p.drawText(QRectF(0, 28, self.width(), 18), Qt.AlignmentFlag.AlignCenter, "nothing here")
        p.setPen(QColor(t.petrol))
        p.setFont(font(13, bold=True))
        p.drawText(QRectF(0, 50, self.width(), 22), Qt.AlignmentFlag.AlignCenter, "+ add")


def _fit(p: QPainter, text: str, room: float) -> str:
    """The text, or as much as fits with dots; the tool tip has it all."""
    return p.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(room))
