"""A panel cut through at a screw or a hole, drawn to scale from what was measured."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.harness.fitting.mounting import CLEARANCE_MM, NUT_MM, Fixing
from zombrel.job.records.fitting import Mounting
from zombrel.ui.session import Session
from zombrel.ui.theme import current, font
from zombrel.units.measure import short_of

SHOWN_M = 0.03
"""So much free depth is drawn where nobody looked [m]."""
HEAD, TEXT = 0.6, 96.0
"""Height of a head over the screw's diameter; room for words at the right [px]."""


class Section(QWidget):
    """What lies in the line of a screw: foot, panel, nut, free depth, what is behind."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._mount, self._fixing = Mounting(), Fixing(0, 0, 0, (), (), "")
        self.setMinimumSize(250, 230)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        return QSize(290, 260)

    def show_mounting(self, mount: Mounting, fixing: Fixing) -> None:
        """Draw another one; its accessible name says it in words."""
        self._mount, self._fixing = mount, fixing
        behind = "not looked at" if mount.behind_m is None else self._say(mount.behind_m)
        self.setAccessibleName(
            f"Panel cut through: panel {self._say(mount.panel_m)}, behind it {behind} free"
        )
        self.update()

    def _say(self, metres: float) -> str:
        return self._session.words(short_of(metres))

    def paintEvent(self, event: QPaintEvent) -> None:
        t, m, f = current(), self._mount, self._fixing
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        dia = float(m.screw[1:]) / 1000
        free = m.behind_m if m.behind_m is not None else SHOWN_M
        screw = m.screw_m or f.length_m
        deep = max(m.panel_m + free, f.stop_m, screw - m.stack_m)
        top = m.stack_m + HEAD * dia
        scale = (self.height() - 44) / max(top + deep + 0.004, 0.02)
        left, right = 10.0, self.width() - TEXT
        y0 = 16 + top * scale  # face of the panel
        line = QPen(QColor(t.ink), 1.6)
        middle = left + (right - left) * 0.42

        def block(y: float, high: float, fill: str, hatch: bool = False) -> QRectF:
            r = QRectF(left, y, right - left, max(high, 1.5))
            p.fillRect(r, QColor(fill))
            if hatch:
                p.fillRect(r, QBrush(QColor(t.quiet), Qt.BrushStyle.BDiagPattern))
            p.setPen(line)
            p.drawRect(r)
            return r

        def say(y: float, words: str, strong: bool = False) -> None:
            p.setFont(font(12, bold=strong))
            p.setPen(QColor(t.ink if strong else t.quiet))
            at = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft
            p.drawText(QRectF(right + 6, y - 9, TEXT - 8, 18), at, words)

        if m.stack_m:
            block(y0 - m.stack_m * scale, m.stack_m * scale, t.well)
            say(y0 - m.stack_m * scale / 2, f"foot {self._say(m.stack_m)}")
        block(y0, m.panel_m * scale, t.line, hatch=True)
        say(y0 + m.panel_m * scale / 2 + 2, f"panel {self._say(m.panel_m)}" if m.panel_m else "?")
        far = y0 + (m.panel_m + free) * scale
        if m.behind_m is None:
            say((y0 + far) / 2, "look behind", True)
        else:
            p.setPen(QPen(QColor(t.trouble), 3))
            p.drawLine(QPointF(left, far), QPointF(right, far))
            say((y0 + m.panel_m * scale + far) / 2, f"free {self._say(m.behind_m)}")
            say(min(far + 8, self.height() - 10), (m.behind or "in the way")[:16], True)
        if m.how == "screws" and screw:
            self._screw(p, QPointF(middle, y0 - m.stack_m * scale), dia, screw, scale)
        if f.stop_m:
            x = left + (right - left) * 0.82
            stop = y0 + f.stop_m * scale
            p.setPen(QPen(QColor(t.petrol), 2, Qt.PenStyle.DashLine))
            p.drawLine(QPointF(x, y0 - 12), QPointF(x, stop))
            p.drawLine(QPointF(x - 7, stop), QPointF(x + 7, stop))
            p.setFont(font(12))
            p.drawText(QPointF(left, self.height() - 6), f"drill stops at {self._say(f.stop_m)}")
        if math.isfinite(f.length_m) and screw:
            say(y0 - top * scale - 4, f"{m.screw} × {self._say(screw)}", True)

    def _screw(self, p: QPainter, under: QPointF, dia: float, long: float, scale: float) -> None:
        """Head, shank and nut."""
        t, m = current(), self._mount
        half = dia * scale / 2
        wrong = any("screw" in words.lower() for words in self._fixing.troubles)
        p.setPen(QPen(QColor(t.trouble if wrong else t.ink), 1.6))
        p.setBrush(QColor(t.panel))
        head = HEAD * dia * scale
        p.drawRoundedRect(QRectF(under.x() - 2 * half, under.y() - head, 4 * half, head), 2, 2)
        p.drawRect(QRectF(under.x() - half, under.y(), 2 * half, long * scale))
        pitch = max(CLEARANCE_MM[m.screw] / 1000 * scale / 5, 3.0)
        y = under.y() + (m.stack_m + m.panel_m) * scale
        end = under.y() + long * scale
        while y + pitch < end:
            p.drawLine(QPointF(under.x() - half, y), QPointF(under.x() + half, y + pitch / 2))
            y += pitch
        nut = NUT_MM[m.screw] / 1000 * scale
        at = under.y() + (m.stack_m + m.panel_m) * scale
        p.drawRect(QRectF(under.x() - 1.9 * half, at, 3.8 * half, nut))
        p.setBrush(Qt.BrushStyle.NoBrush)
