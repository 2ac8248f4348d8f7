"""Labels, panels and buttons that paint themselves.

A style sheet could do the same, but it is asked for every widget at every paint; these cost
a fraction of it, and the window is up sooner.
"""

from __future__ import annotations

import functools

from PySide6.QtCore import QRect, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPalette, QPen
from PySide6.QtWidgets import QFrame, QLabel, QPushButton, QScrollBar, QSizePolicy, QSlider

from zombrel.ui import theme
from zombrel.ui.theme import font
from zombrel.units import words

TEXT = QPalette.ColorRole.WindowText
ROLES: dict[str, tuple[int, bool, bool, QPalette.ColorRole]] = {
    "": (14, False, False, TEXT),
    "title": (21, True, False, TEXT),
    "head": (15, True, False, TEXT),
    "ask": (27, True, False, TEXT),
    "expect": (29, True, False, TEXT),
    "huge": (40, True, False, TEXT),
    "big": (25, True, False, TEXT),
    "mid": (20, True, False, TEXT),
    "bigbad": (25, True, False, theme.TROUBLE_ROLE),
    "midbad": (20, True, False, theme.TROUBLE_ROLE),
    "strong": (14, True, False, TEXT),
    "strong13": (13, True, False, TEXT),
    "petrol": (13, True, False, theme.PETROL_ROLE),
    "quiet": (13, False, False, theme.QUIET_ROLE),
    "small": (12, False, False, theme.QUIET_ROLE),
    "mono": (13, False, False, TEXT),
    "good": (13, True, False, theme.GOOD_ROLE),
    "watch": (13, True, False, theme.WATCH_ROLE),
    "trouble": (13, True, False, theme.TROUBLE_ROLE),
    "open": (13, True, False, theme.QUIET_ROLE),
    "locked": (13, True, False, theme.QUIET_ROLE),
}
"""Role: (pixels, bold, mono, palette role of the colour)."""


def shown(text: str) -> str:
    """What a label or a button shows: quantities inside a sentence in the user's units."""
    return words(text, theme.units())


def fill(p: QPainter, rect: QRect, colour: str) -> None:
    """Fill a rectangle with one colour; leaves no pen and no brush.

    Not by ``fillRect``: its first call makes PySide6 name 169 gradients before the first frame.
    """
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(QColor(colour))
    p.drawRect(rect)
    p.setBrush(Qt.BrushStyle.NoBrush)


class Words(QLabel):
    """A label with a role."""

    def __init__(self, text: str = "", role: str = "") -> None:
        super().__init__(shown(text))
        self.setTextFormat(Qt.TextFormat.PlainText)
        self._role: str | None = None
        self.set_role(role)

    def setText(self, text: str) -> None:
        super().setText(shown(text))

    def set_role(self, role: str) -> None:
        """Change size, weight and colour."""
        if role != self._role:
            self._role = role
            px, bold, mono, color = ROLES[role]
            self.setFont(font(px, bold, mono))
            self.setForegroundRole(color)


class Panel(QFrame):
    """A card, a chosen card, a well or a caution."""

    def __init__(self, kind: str = "card") -> None:
        super().__init__()
        self.kind = kind

    def set_kind(self, kind: str) -> None:
        """Change the look."""
        if kind != self.kind:
            self.kind = kind
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.current()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        edge, width, fill = {
            "card": (t.line, 1.0, t.panel),
            "selected": (t.focus, 2.0, t.panel),
            "well": (t.well, 1.0, t.well),
            "caution": (t.watch, 1.0, t.well),
        }[self.kind]
        p.setPen(QPen(QColor(edge), width))
        p.setBrush(QColor(fill))
        half = width / 2
        p.drawRoundedRect(QRectF(self.rect()).adjusted(half, half, -half, -half), 8, 8)


@functools.lru_cache(maxsize=2000)
def _pill_size(text: str, kind: str, px: int) -> QSize:
    """Room for a button's text in bold, so that it keeps its size when chosen."""
    wide = QFontMetrics(font(px, bold=True)).horizontalAdvance(text)
    match kind:
        case "value":
            return QSize(wide + 8, 28)
        case "big" | "bigprimary":
            return QSize(wide + 44, 48)
        case "known":
            return QSize(wide + 18, 28)
        case _:
            return QSize(wide + 32, 34)


class Pill(QPushButton):
    """A button; its kind says how loud it is."""

    def __init__(self, text: str = "", kind: str = "") -> None:
        super().__init__(shown(text))
        self.kind = kind
        self.on = False
        self.ink: str | None = None
        self.setSizePolicy(QSizePolicy.Policy.Minimum, QSizePolicy.Policy.Fixed)
        self.setAttribute(Qt.WidgetAttribute.WA_Hover)

    def setText(self, text: str) -> None:
        super().setText(shown(text))

    def set_on(self, on: bool) -> None:
        """Show it as the chosen one of several."""
        if on != self.on:
            self.on = on
            self.update()

    def _font(self):  # type: ignore[no-untyped-def]
        if self.kind in ("big", "bigprimary", "value"):
            return font(16, bold=True)
        bold = self.kind not in ("plain", "toggle", "known")
        return font(13 if self.kind == "known" else 14, bold=bold)

    def sizeHint(self) -> QSize:
        return _pill_size(self.text(), self.kind, self._font().pixelSize())

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.current()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink, fill, edge, bold = self._look()
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        radius = 6.0 if self.kind in ("toggle", "value") else min(box.height() / 2, 24)
        if self.kind == "known":
            radius = 9.0
        p.setPen(QPen(QColor(t.focus), 2) if self.hasFocus() else QPen(QColor(edge), 1))
        if self.kind == "value" and not self.hasFocus():
            p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(fill) if fill else Qt.BrushStyle.NoBrush)
        p.drawRoundedRect(box, radius, radius)
        p.setPen(QColor(ink))
        face = self._font()
        p.setFont(font(face.pixelSize(), bold=face.bold() or bold))
        where = Qt.AlignmentFlag.AlignCenter
        if self.kind in ("value", "known"):
            where = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft
            box = box.adjusted(2 if self.kind == "value" else 8, 0, 0, 0)
        text, room = self.text(), self.width() - 12
        if self.width() < self.sizeHint().width():
            text = p.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, room)
        p.drawText(box, where, text)

    def _look(self) -> tuple[str, str, str, bool]:
        """(ink, fill, edge, bold)."""
        t = theme.current()
        hover = self.underMouse() and self.isEnabled()
        if not self.isEnabled():
            loud = self.kind in ("primary", "bigprimary")
            return t.quiet, t.line if loud else t.panel, t.line, False
        if self.kind in ("primary", "bigprimary") or (self.kind == "plain" and self.on):
            return t.on_petrol, t.petrol, t.ink if hover else t.petrol, True
        if self.kind == "toggle" and self.isChecked():
            return t.on_marigold, t.marigold, t.marigold, True
        if self.kind in ("plain", "toggle", "known"):
            return self.ink or t.ink, t.tint if hover else t.well, t.line, False
        if self.kind == "value":
            return t.ink, t.tint if hover else "", t.panel, True
        return t.petrol, t.tint if hover or self.isDown() else t.panel, t.petrol, True


class Slider(QSlider):
    """A horizontal slider with a round, large handle."""

    def __init__(self) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self.setMinimumHeight(22)

    def _handle(self) -> float:
        """Centre of the handle [px]."""
        span = self.maximum() - self.minimum()
        share = (self.value() - self.minimum()) / span if span else 0.0
        return 10 + share * (self.width() - 20)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._drag(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._drag(event)

    def _drag(self, event: QMouseEvent) -> None:
        share = (event.position().x() - 10) / max(self.width() - 20, 1)
        span = self.maximum() - self.minimum()
        self.setValue(self.minimum() + round(min(max(share, 0.0), 1.0) * span))
        event.accept()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.current()
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        y, x = self.height() / 2, self._handle()
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(t.line))
        p.drawRoundedRect(QRectF(0, y - 2, self.width(), 4), 2, 2)
        p.setBrush(QColor(t.petrol))
        p.drawRoundedRect(QRectF(0, y - 2, x, 4), 2, 2)
        edge = t.focus if self.hasFocus() else t.panel
        p.setPen(QPen(QColor(edge), 3 if self.hasFocus() else 2))
        p.drawEllipse(QRectF(x - 9, y - 9, 18, 18))


class Bar(QScrollBar):
    """A quiet scroll bar."""

    def __init__(self, way: Qt.Orientation = Qt.Orientation.Vertical) -> None:
        super().__init__(way)
        self.setAccessibleName("Scroll" if way == Qt.Orientation.Vertical else "Scroll sideways")

    def sizeHint(self) -> QSize:
        size = QSize(11, 60)
        return size if self.orientation() == Qt.Orientation.Vertical else size.transposed()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.current()
        p = QPainter(self)
        fill(p, self.rect(), t.ground)
        span = self.maximum() - self.minimum() + self.pageStep()
        if self.maximum() <= self.minimum() or span <= 0:
            return
        upright = self.orientation() == Qt.Orientation.Vertical
        whole = self.height() if upright else self.width()
        tall = max(40.0, whole * self.pageStep() / span)
        share = (self.value() - self.minimum()) / (self.maximum() - self.minimum())
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(t.quiet if self.underMouse() else t.line))
        at = share * (whole - tall)
        grip = QRectF(0, at, 11, tall) if upright else QRectF(at, 0, tall, 11)
        p.drawRoundedRect(grip, 5, 5)
