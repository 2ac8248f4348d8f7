"""The plan, painted: vehicle, zones, bundles, the chosen run, and names in free places."""

from __future__ import annotations

import itertools

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF, QTransform

from zombrel.harness.ends import end_words
from zombrel.harness.laid import Bundle
from zombrel.job.model import Job
from zombrel.job.value import Value
from zombrel.job.wiring import Wire, Zone
from zombrel.ui.theme import Theme, color, font
from zombrel.ui.wire.plan_body import Body, is_under
from zombrel.ui.wire.plan_labels import Spot, Taken, around, in_box
from zombrel.units import Units
from zombrel.units.measure import written

HOT_K = 30.0
TALL = 16.0
"""Height of a name [px]."""
LEAST = 5
"""A name cut shorter than this says nothing."""
STRAIGHT = 24.0
"""A bend smaller than this is none [px]."""


class Scene(Value, frozen=True):
    """What is to be painted."""

    job: Job
    units: Units
    theme: Theme
    boxes: dict[str, QRectF]
    """Zones in pixels."""
    metres: QTransform
    """From metres of the plan to pixels."""
    bounds: QRectF
    body: Body
    bundles: tuple[Bundle, ...]
    wire: Wire | None
    zone: str
    """The chosen zone."""
    under: bool
    """The underbody is on top."""


def bent(a: QPointF, b: QPointF) -> list[QPointF]:
    """From ``a`` to ``b`` with one corner, the same whichever way round."""
    first, last = (a, b) if (a.x(), a.y()) <= (b.x(), b.y()) else (b, a)
    corner = QPointF(last.x(), first.y()) if last.y() < first.y() else QPointF(first.x(), last.y())
    if abs(a.x() - b.x()) < STRAIGHT or abs(a.y() - b.y()) < STRAIGHT:
        return [a, b]
    return [a, corner, b]


def paint(p: QPainter, scene: Scene) -> None:
    """Paint the whole plan; names that find no free place are left to the tip and the list."""
    _vehicle(p, scene)
    for zone in _drawn(scene):
        _zone(p, scene, zone)
    lines = _bundles(p, scene) + _run(p, scene)
    taken = Taken([*lines, *map(scene.metres.map, scene.body.lines)], scene.bounds)
    _noise(p, scene, taken)
    _ends(p, scene, taken)
    for zone in sorted(_drawn(scene), key=lambda z: z.id != scene.zone):
        _name(p, scene, zone, taken)


def _drawn(scene: Scene) -> list[Zone]:
    """The zones of the layer that is on top."""
    zones = scene.job.zones
    return [z for z in zones if is_under(z, zones) == scene.under]


def _vehicle(p: QPainter, scene: Scene) -> None:
    t, made = scene.theme, scene.body
    to = scene.metres
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(QColor(t.quiet))
    for wheel in made.wheels:
        p.drawRoundedRect(to.mapRect(wheel), 5, 5)
    if made.outline is not None:
        p.setPen(QPen(QColor(t.outline), 2))
        p.setBrush(QColor(t.ground if scene.under else t.well))
        p.drawPath(to.map(made.outline))
    p.setPen(QPen(QColor(t.outline), 2))
    for line in made.lines:
        p.drawLine(to.map(line))
    p.setPen(QPen(QColor(t.line), 1.4))
    p.setBrush(QColor(t.panel))
    for seat in made.seats if not scene.under else ():
        p.drawRoundedRect(to.mapRect(seat), 8, 8)


def _zone(p: QPainter, scene: Scene, zone: Zone) -> None:
    t = scene.theme
    chosen = zone.id == scene.zone
    fill = QColor(color(t.panel, 150 if scene.body.outline is not None else 255))
    if zone.over_ambient_k >= HOT_K:
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(fill)
        p.drawRoundedRect(scene.boxes[zone.id], 6, 6)
        fill = color(t.trouble, 26 + min(int(zone.over_ambient_k - HOT_K), 40))
    pen = QPen(QColor(t.focus), 2.5) if chosen else QPen(QColor(t.line), 1)
    if scene.under and not chosen:
        pen.setStyle(Qt.PenStyle.DashLine)
    p.setPen(pen)
    p.setBrush(fill)
    p.drawRoundedRect(scene.boxes[zone.id], 6, 6)


def _lines_of(points: list[QPointF]) -> list[QLineF]:
    return [QLineF(a, b) for a, b in itertools.pairwise(points)]


def _bundles(p: QPainter, scene: Scene) -> list[QLineF]:
    """Thin and quiet: only the chosen wire is strong. Their lines, for the names to keep off."""
    at = {k: box.center() for k, box in scene.boxes.items()}
    zones = {z.id: z for z in scene.job.zones}
    lines: list[QLineF] = []
    for b in scene.bundles:
        under = any(is_under(zones[z], scene.job.zones) for z in (b.a, b.b))
        if under and not scene.under:
            continue
        points = bent(at[b.a], at[b.b])
        pen = QPen(color(scene.theme.quiet, 110), 1 + 0.15 * b.diameter_mm)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        p.setPen(pen)
        p.drawPolyline(QPolygonF(points))
        lines += _lines_of(points)
    return lines


def _run(p: QPainter, scene: Scene) -> list[QLineF]:
    """The chosen wire, dashed where it lies beneath the body."""
    wire = scene.wire
    if wire is None or any(z not in scene.boxes for z in wire.via):
        return []
    zones = {z.id: z for z in scene.job.zones}
    lines: list[QLineF] = []
    p.setBrush(Qt.BrushStyle.NoBrush)
    for a, b in itertools.pairwise(wire.via):
        under = any(is_under(zones[z], scene.job.zones) for z in (a, b))
        pen = QPen(QColor(scene.theme.petrol), 4.5)
        pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        pen.setCapStyle(Qt.PenCapStyle.FlatCap if under else Qt.PenCapStyle.RoundCap)
        if under and not scene.under:
            pen.setStyle(Qt.PenStyle.DashLine)
        p.setPen(pen)
        points = bent(scene.boxes[a].center(), scene.boxes[b].center())
        p.drawPolyline(QPolygonF(points))
        lines += _lines_of(points)
    return lines


def _noise(p: QPainter, scene: Scene, taken: Taken) -> None:
    """What makes noise where the chosen run passes."""
    t, wire = scene.theme, scene.wire
    for near in wire.neighbours if wire is not None else ():
        box = scene.boxes.get(near.zone)
        if box is None or near.what not in ("coil", "ignition lead"):
            continue
        p.setPen(QPen(QColor(t.watch), 2, Qt.PenStyle.DashLine))
        p.setBrush(color(t.marigold, 60))
        p.drawEllipse(box.center(), 24, 18)
        away = written("short", near.spacing_m, scene.units)
        _plate(p, scene, box.center(), f"{near.name}, {away}", 20, taken)


def _ends(p: QPainter, scene: Scene, taken: Taken) -> None:
    """The two ends of the chosen wire with their names."""
    wire = scene.wire
    points = [scene.boxes[z].center() for z in wire.via if z in scene.boxes] if wire else []
    if wire is None or not points:
        return
    t, same = scene.theme, len(points) == 1
    for i, (end, centre) in enumerate(((wire.a, points[0]), (wire.b, points[-1]))):
        where = centre + (QPointF(0, -14 + 28 * i) if same else QPointF(0, 0))
        knob = QRectF(where.x() - 8, where.y() - 8, 16, 16)
        p.setPen(QPen(QColor(t.ink), 2))
        p.setBrush(QColor(t.panel))
        p.drawRoundedRect(knob, 4, 4)
        taken.add(knob)
        _plate(p, scene, where, end_words(scene.job, end), 12, taken)


def _plate(p: QPainter, scene: Scene, at: QPointF, text: str, off: float, taken: Taken) -> None:
    """A name on a plate beside a point; it must be read, so a line may run behind it."""
    t = scene.theme
    p.setFont(font(12, bold=True))
    wide = p.fontMetrics().horizontalAdvance(text) + 12.0
    spots = around(at, wide, 20.0, off)
    spot = taken.first_free(spots) or taken.first_free(spots, lines=False)
    if spot is None:
        return
    p.setPen(QPen(QColor(t.line), 1))
    p.setBrush(QColor(t.panel))
    p.drawRoundedRect(spot.rect, 5, 5)
    p.setPen(QColor(t.ink))
    p.drawText(spot.rect, Qt.AlignmentFlag.AlignCenter, text)


def _name(p: QPainter, scene: Scene, zone: Zone, taken: Taken) -> None:
    box, chosen = scene.boxes[zone.id], zone.id == scene.zone
    p.setFont(font(12, bold=chosen))
    wide = p.fontMetrics().horizontalAdvance(zone.name) + 2.0
    spot, said = taken.first_free(in_box(box, wide, TALL)), zone.name
    if spot is None and chosen:
        _plate(p, scene, box.center(), zone.name, 6, taken)
        return
    if spot is None:
        room = max(box.width(), box.height()) - 10
        said = p.fontMetrics().elidedText(zone.name, Qt.TextElideMode.ElideRight, int(room))
        if len(said) < LEAST:
            return
        wide = p.fontMetrics().horizontalAdvance(said) + 2.0
        spot = taken.first_free(in_box(box, wide, TALL))
    if spot is None:
        return
    p.setPen(QColor(scene.theme.ink))
    _write(p, spot, said)
    marks = marks_of(zone)
    if marks:
        p.setFont(font(12))
        below = taken.first_free(in_box(box, p.fontMetrics().horizontalAdvance(marks) + 2.0, TALL))
        if below is not None:
            p.setPen(QColor(scene.theme.quiet))
            _write(p, below, marks)


def _write(p: QPainter, spot: Spot, text: str) -> None:
    if not spot.turned:
        p.drawText(spot.rect, Qt.AlignmentFlag.AlignCenter, text)
        return
    p.save()
    p.translate(spot.rect.center())
    p.rotate(-90)
    turned = QRectF(-spot.rect.height() / 2, -spot.rect.width() / 2, *_turned(spot.rect))
    p.drawText(turned, Qt.AlignmentFlag.AlignCenter, text)
    p.restore()


def _turned(r: QRectF) -> tuple[float, float]:
    return r.height(), r.width()


def marks_of(zone: Zone) -> str:
    """What of a zone costs a run, in few words."""
    said = [
        *([f"+{zone.over_ambient_k:.0f} K"] if zone.over_ambient_k else []),
        *(["wet"] if zone.wet else []),
        *(["moving"] if zone.moving else []),
        *(["AIRBAG"] if zone.airbag else []),
        *(["raised"] if zone.lifted else []),
    ]
    return ", ".join(said)
