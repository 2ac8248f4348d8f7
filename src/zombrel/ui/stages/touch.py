"""Settings painted as the thing the installer touches: dials, a menu, up and down buttons."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from zombrel.calibrate.setting import options
from zombrel.job.sheet import Buttons, Dials, Menu, SettingSheet
from zombrel.ui.session import Session
from zombrel.ui.theme import Theme, font


class TouchView(QWidget):
    """The setting as it stands and as it should stand; keys and clicks move it."""

    moved = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._sheet: SettingSheet | None = None
        self._now, self._want = "", ""
        self._dial = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return QSize(264, 168)

    def show_setting(self, sheet: SettingSheet, now: str, want: str, name: str) -> None:
        """Show ``now`` against ``want``."""
        self._sheet, self._now, self._want = sheet, now, want
        same = "as it should" if now == want else f"should stand at {want}"
        self.setAccessibleName(f"{name} stands at {now or 'nothing'}, {same}. Arrow keys move it.")
        self.update()

    # ---- moving

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if isinstance(self._sheet, Dials) and key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            count = len(self._sheet.dials)
            self._dial = (self._dial + (1 if key == Qt.Key.Key_Right else -1)) % count
            self.update()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right):
            up = key in (Qt.Key.Key_Up, Qt.Key.Key_Right)
            self._step(1 if up else -1)
        else:
            super().keyPressEvent(event)

    def _step(self, by: int) -> None:
        sheet = self._sheet
        if sheet is None:
            return
        if isinstance(sheet, Dials):
            places = self._places(sheet, self._now)
            if places is None:
                self.moved.emit(options(sheet).names[0])
                return
            size = len(sheet.dials[self._dial].positions)
            places[self._dial] = (places[self._dial] + by) % size
            self.moved.emit(
                "".join(d.positions[i] for d, i in zip(sheet.dials, places, strict=True))
            )
            return
        names = options(sheet).names
        at = names.index(self._now) if self._now in names else -1
        new = min(max(at + by, 0), len(names) - 1)
        if new != at:
            self.moved.emit(names[new])

    @staticmethod
    def _places(sheet: Dials, text: str) -> list[int] | None:
        """Index of each dial's position in ``text``."""
        places, rest = [], text
        for dial in sheet.dials:
            found = [i for i, p in enumerate(dial.positions) if rest.startswith(p)]
            if not found:
                return None
            best = max(found, key=lambda i: len(dial.positions[i]))
            places.append(best)
            rest = rest[len(dial.positions[best]) :]
        return places

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        sheet = self._sheet
        if isinstance(sheet, Dials):
            width = self.width() / len(sheet.dials)
            self._dial = min(int(event.position().x() // width), len(sheet.dials) - 1)
            self._turn_to(sheet, event.position())
        elif event.position().x() > self.width() - 70:
            self._step(1 if event.position().y() < self.height() / 2 else -1)
        self.update()

    def _turn_to(self, sheet: Dials, at: QPointF) -> None:
        dial = sheet.dials[self._dial]
        centre, radius = self._dial_place(sheet, self._dial)
        d = at - centre
        if math.hypot(d.x(), d.y()) < radius * 0.3:
            return
        angle = math.atan2(d.x(), -d.y())
        n = len(dial.positions)
        nearest = min(range(n), key=lambda i: abs(_wrap(_angle(i, n) - angle)))
        places = self._places(sheet, self._now) or [0] * len(sheet.dials)
        places[self._dial] = nearest
        self.moved.emit("".join(d.positions[i] for d, i in zip(sheet.dials, places, strict=True)))

    # ---- painting

    def _dial_place(self, sheet: Dials, i: int) -> tuple[QPointF, float]:
        width = self.width() / len(sheet.dials)
        return QPointF(width * (i + 0.5), 84), 40.0

    def paintEvent(self, event: QPaintEvent) -> None:
        sheet = self._sheet
        if sheet is None:
            return
        t = self._session.theme
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(QPen(QColor(t.marigold if self.hasFocus() else t.line), 2))
        p.setBrush(QColor(t.well))
        p.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, 8)
        if isinstance(sheet, Dials):
            for i in range(len(sheet.dials)):
                self._paint_dial(p, sheet, i, t)
        elif isinstance(sheet, Menu):
            self._paint_screen(p, t, " › ".join(sheet.path), sheet.unit)
        elif isinstance(sheet, Buttons):
            self._paint_screen(p, t, "press up or down", sheet.unit)

    def _paint_dial(self, p: QPainter, sheet: Dials, i: int, t: Theme) -> None:
        dial = sheet.dials[i]
        centre, radius = self._dial_place(sheet, i)
        now, want = self._places(sheet, self._now), self._places(sheet, self._want)
        n = len(dial.positions)
        p.setPen(QPen(QColor(t.ink), 2))
        p.setBrush(QColor(t.panel))
        p.drawEllipse(centre, radius, radius)
        for k, words in enumerate(dial.positions):
            a = _angle(k, n)
            at = centre + QPointF(math.sin(a), -math.cos(a)) * (radius + 14)
            wanted = want is not None and want[i] == k
            here = now is not None and now[i] == k
            if wanted:
                p.setPen(QPen(QColor(t.good if here else t.marigold), 2.4))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawEllipse(at, 11, 11)
            p.setPen(QColor(t.ink))
            p.setFont(font(13, bold=here or wanted))
            p.drawText(QRectF(at.x() - 14, at.y() - 10, 28, 20), Qt.AlignmentFlag.AlignCenter,
                       words)  # fmt: skip
        if now is not None:
            a = _angle(now[i], n)
            tip = QPointF(math.sin(a), -math.cos(a))
            p.setPen(QPen(QColor(t.petrol), 7, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            p.drawLine(centre - tip * radius * 0.55, centre + tip * radius * 0.72)
        p.setPen(QColor(t.petrol if self.hasFocus() and self._dial == i else t.quiet))
        p.setFont(font(12, bold=self.hasFocus() and self._dial == i))
        p.drawText(QRectF(centre.x() - 60, 146, 120, 18), Qt.AlignmentFlag.AlignCenter, dial.name)

    def _paint_screen(self, p: QPainter, t: Theme, path: str, unit: str) -> None:
        screen = QRectF(14, 14, self.width() - 92, self.height() - 28)
        p.setPen(QPen(QColor(t.ink), 2))
        p.setBrush(QColor(t.panel))
        p.drawRoundedRect(screen, 6, 6)
        inner = screen.adjusted(12, 9, -10, -9)
        p.setPen(QColor(t.quiet))
        p.setFont(font(12))
        p.drawText(inner, Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, path)
        p.setPen(QColor(t.ink))
        p.setFont(font(34 if len(self._now) < 6 else 29, bold=True, mono=True))
        p.drawText(inner.adjusted(0, 28, 0, -26), Qt.AlignmentFlag.AlignVCenter, self._now or "–")
        p.setPen(QColor(t.quiet))
        p.setFont(font(12))
        p.drawText(inner, Qt.AlignmentFlag.AlignBottom, unit)
        if self._want and self._want != self._now:
            p.setPen(QColor(t.watch))
            p.setFont(font(13, bold=True))
            p.drawText(inner, Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignRight,
                       f"to {self._want}")  # fmt: skip
        for k, up in enumerate((True, False)):
            key = QRectF(self.width() - 64, 18 + k * (self.height() / 2 - 12), 50,
                         self.height() / 2 - 24)  # fmt: skip
            p.setPen(QPen(QColor(t.ink), 2))
            p.setBrush(QColor(t.panel))
            p.drawRoundedRect(key, 8, 8)
            c, s = key.center(), -9 if up else 9
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(t.petrol))
            p.drawPolygon([QPointF(c.x(), c.y() + s), QPointF(c.x() - 11, c.y() - s * 0.7),
                           QPointF(c.x() + 11, c.y() - s * 0.7)])  # fmt: skip


def _angle(k: int, n: int) -> float:
    """Angle of position k of n, clockwise from the top; 300° from first to last."""
    sweep = math.radians(300)
    return -sweep / 2 + sweep * k / max(n - 1, 1)


def _wrap(angle: float) -> float:
    return (angle + math.pi) % (2 * math.pi) - math.pi
