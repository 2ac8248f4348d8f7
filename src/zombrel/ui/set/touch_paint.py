"""The pictures of settings: dials, knobs, switch banks, screens, a plug with its resistor."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from zombrel.calibrate.settings.face import BANDS, Knob, Part, Resistor, Screen, Slide, angle, rings
from zombrel.job.value import Value
from zombrel.ui.theme import Theme, font

CENTRE = Qt.AlignmentFlag.AlignCenter
LABELS = 12
"""More positions than this are ticks, and only some are named."""


class Look(Value, frozen=True):
    """What a picture is drawn for."""

    theme: Theme
    box: QRectF
    part: int
    """The dial or switch that has the keyboard; −1 when the widget has not."""


def wrap(value: float) -> float:
    """An angle brought to ±π."""
    return (value + math.pi) % (2 * math.pi) - math.pi


def dial_place(width: float, count: int, i: int) -> tuple[QPointF, float]:
    """Centre and radius of dial ``i`` of ``count``."""
    each = width / count
    return QPointF(each * (i + 0.5), 84), 40.0


def draw(p: QPainter, parts: tuple[Part, ...], look: Look) -> None:
    """Paint a setting as it stands, with where it should stand."""
    t = look.theme
    p.setPen(QPen(QColor(t.focus if look.part >= 0 else t.line), 2))
    p.setBrush(QColor(t.well))
    p.drawRoundedRect(look.box.adjusted(1, 1, -1, -1), 8, 8)
    if any(isinstance(part, Slide) for part in parts):
        p.setPen(QColor(t.quiet))
        p.setFont(font(12))
        p.drawText(QRectF(0, 12, look.box.width(), 18), CENTRE, "up is on")
    for i, part in enumerate(parts):
        match part:
            case Knob():
                _knob(p, look, i, len(parts), part)
            case Slide():
                _slide(p, look, i, len(parts), part)
            case Resistor():
                _plug(p, part, look)
            case Screen():
                _screen(p, part, look)


def _knob(p: QPainter, look: Look, i: int, count: int, knob: Knob) -> None:
    name, names, now, want = knob.name, knob.places, knob.now, knob.want
    t = look.theme
    centre, radius = dial_place(look.box.width(), count, i)
    n = len(names)
    p.setPen(QPen(QColor(t.ink), 2))
    p.setBrush(QColor(t.panel))
    p.drawEllipse(centre, radius, radius)
    every = max(1, math.ceil(n / LABELS))
    for k, words in enumerate(names):
        a = angle(k, n)
        way = QPointF(math.sin(a), -math.cos(a))
        wanted, here = want == k, now == k
        special = wanted or here
        crowded = any(
            x is not None and 0 < abs(x - k) < every for x in (now, want)
        )  # a name beside one that must be read makes way
        if not special and (k % every or crowded):
            p.setPen(QPen(QColor(t.quiet), 1))
            p.drawLine(centre + way * (radius + 3), centre + way * (radius + 7))
            continue
        at = centre + way * (radius + 15)
        if wanted:
            p.setPen(QPen(QColor(t.good if here else t.focus), 2.4))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(at, 12, 12)
        p.setPen(QColor(t.ink))
        p.setFont(font(13, bold=special))
        p.drawText(QRectF(at.x() - 16, at.y() - 10, 32, 20), CENTRE, words)
    if now is not None:
        a = angle(now, n)
        tip, side = QPointF(math.sin(a), -math.cos(a)), QPointF(math.cos(a), math.sin(a))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(t.petrol))
        # One end only is sharp, so that nobody reads the other.
        wide, hub = side * radius * 0.2, radius * 0.2
        p.drawPolygon([centre + tip * radius * 0.9, centre + wide, centre - wide])
        p.drawEllipse(centre, hub, hub)
    p.setPen(QColor(t.petrol if look.part == i else t.quiet))
    p.setFont(font(12, bold=look.part == i))
    p.drawText(QRectF(centre.x() - 60, 146, 120, 18), CENTRE, name)


def _slide(p: QPainter, look: Look, i: int, count: int, slide: Slide) -> None:
    """A slide switch, up is on; where it should move, a word below it says so."""
    t = look.theme
    x = look.box.width() / count * (i + 0.5)
    p.setPen(QPen(QColor(t.focus if look.part == i else t.ink), 2))
    p.setBrush(QColor(t.panel))
    p.drawRoundedRect(QRectF(x - 10, 38, 20, 84), 5, 5)
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(QColor(t.petrol))
    p.drawRoundedRect(QRectF(x - 8, 41 if slide.now else 84, 16, 35), 4, 4)
    p.setPen(QColor(t.quiet))
    p.setFont(font(12))
    p.drawText(QRectF(x - 14, 126, 28, 18), CENTRE, slide.name)
    if slide.want is not None and slide.want != slide.now:
        p.setFont(font(12, bold=True))
        p.setPen(QColor(t.watch))
        p.drawText(QRectF(x - 14, 144, 28, 18), CENTRE, "on" if slide.want else "off")


def _plug(p: QPainter, part: Resistor, look: Look) -> None:
    t = look.theme
    middle = look.box.center()
    body = QRectF(middle.x() - 52, 58, 104, 34)
    p.setPen(QPen(QColor(t.ink), 3))
    p.drawLine(QPointF(24, 75), body.topLeft() + QPointF(0, 17))
    p.drawLine(body.topRight() + QPointF(0, 17), QPointF(look.box.width() - 24, 75))
    p.setBrush(QColor("#D9C7A0"))
    p.setPen(QPen(QColor(t.ink), 2))
    p.drawRoundedRect(body, 12, 12)
    if part.ohm is not None and part.ohm >= 1:
        for i, digit in enumerate(rings(part.ohm)):
            p.fillRect(
                QRectF(body.left() + 18 + i * 18, body.top() + 1, 9, 32),
                QColor(BANDS[max(0, min(digit, 9))]),
            )
        p.fillRect(QRectF(body.right() - 20, body.top() + 1, 9, 32), QColor("#B08D3A"))
    p.setPen(QColor(t.ink))
    p.setFont(font(22, bold=True))
    p.drawText(QRectF(0, 102, look.box.width(), 30), CENTRE, part.now or "no part")
    p.setFont(font(12))
    p.setPen(QColor(t.quiet))
    p.drawText(QRectF(0, 18, look.box.width(), 18), CENTRE, "resistor at the plug")
    if part.want:
        p.setPen(QColor(t.watch))
        p.setFont(font(13, bold=True))
        p.drawText(QRectF(0, 136, look.box.width(), 20), CENTRE, f"to {part.want}")


def _screen(p: QPainter, part: Screen, look: Look) -> None:
    path, unit, shown = part.path, part.unit, part.now
    t, w, h = look.theme, look.box.width(), look.box.height()
    screen = QRectF(14, 14, w - 92, h - 28)
    p.setPen(QPen(QColor(t.ink), 2))
    p.setBrush(QColor(t.panel))
    p.drawRoundedRect(screen, 6, 6)
    inner = screen.adjusted(12, 9, -10, -9)
    p.setPen(QColor(t.quiet))
    p.setFont(font(12))
    p.drawText(inner, Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, path)
    p.setPen(QColor(t.ink))
    size = 34 if len(shown) < 6 else 29 if len(shown) < 8 else 21
    p.setFont(font(size, bold=True))
    p.drawText(inner.adjusted(0, 38, 0, -26), Qt.AlignmentFlag.AlignVCenter, shown or "–")
    p.setPen(QColor(t.quiet))
    p.setFont(font(12))
    p.drawText(inner, Qt.AlignmentFlag.AlignBottom, unit)
    if part.want:
        p.setPen(QColor(t.watch))
        p.setFont(font(13, bold=True))
        p.drawText(
            inner, Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignRight, f"to {part.want}"
        )
    for k, up in enumerate((True, False)):
        key = QRectF(w - 64, 18 + k * (h / 2 - 12), 50, h / 2 - 24)
        p.setPen(QPen(QColor(t.ink), 2))
        p.setBrush(QColor(t.panel))
        p.drawRoundedRect(key, 8, 8)
        c, s = key.center(), -9 if up else 9
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(t.petrol))
        p.drawPolygon(
            [
                QPointF(c.x(), c.y() + s),
                QPointF(c.x() - 11, c.y() - s * 0.7),
                QPointF(c.x() + 11, c.y() - s * 0.7),
            ]
        )
