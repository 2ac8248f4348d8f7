"""The vehicle behind the zones: outline, wheels, bulkhead and seats, drawn from where zones lie."""

from __future__ import annotations

from PySide6.QtCore import QLineF, QPointF, QRectF
from PySide6.QtGui import QPainterPath

from zombrel.job.value import Value
from zombrel.job.wiring import Zone

WHEEL_M = (0.62, 0.17)
"""Length and width of a wheel on the plan [m] (ASSUMED: only drawn)."""
LEAST_M = 0.2
"""A seat that has less room is not drawn [m]."""
OUT_M = 0.12
"""The outline lies so far outside the zones [m]."""


class Body(Value, frozen=True):
    """What is drawn of a vehicle; all in metres of the plan."""

    outline: QPainterPath | None
    wheels: tuple[QRectF, ...] = ()
    lines: tuple[QLineF, ...] = ()
    """Bulkhead, cab back, edge of a bed."""
    seats: tuple[QRectF, ...] = ()


def is_under(zone: Zone, zones: tuple[Zone, ...]) -> bool:
    """It lies beneath the body: reached from below, and drawn aside of what is above it."""
    if not zone.lifted:
        return False
    low = max((z.y_m + z.deep_m / 2 for z in zones if not z.lifted), default=0.0)
    return zone.y_m > low


def hull(zones: tuple[Zone, ...]) -> QRectF:
    """What the zones above the floor cover [m]."""
    found = QRectF()
    for z in zones:
        if not is_under(z, zones):
            r = QRectF(z.x_m - z.wide_m / 2, z.y_m - z.deep_m / 2, z.wide_m, z.deep_m)
            found = found.united(r)
    return found


def body(zones: tuple[Zone, ...]) -> Body:
    """The vehicle that such zones belong to; no outline where they tell of no body."""
    at = {z.id: z for z in zones}
    around = hull(zones).adjusted(-OUT_M, -OUT_M, OUT_M, OUT_M)
    if "bars" in at:
        return _cycle(at)
    if "dash" not in at or "bulkhead-left" not in at:
        return Body(None)
    front = at["bulkhead-left"].x_m - WHEEL_M[0] if "trunk" not in at else 0.75
    rear = _rear_axle(at, around)
    wheels = tuple(
        QRectF(x - WHEEL_M[0] / 2, y - WHEEL_M[1] / 2, *WHEEL_M)
        for x in (front, rear)
        for y in (around.top() + 0.02, around.bottom() - 0.02)
    )
    wall = at["bulkhead-left"]
    lines = [_across(wall.x_m + wall.wide_m / 2 + 0.04, around)]
    if "cab-back" in at:
        lines.append(_across(at["cab-back"].x_m + at["cab-back"].wide_m / 2 + 0.06, around))
    return Body(_outline(around, box="cabin-left" in at), wheels, tuple(lines), _seats(at, around))


def _rear_axle(at: dict[str, Zone], around: QRectF) -> float:
    hub = at.get("hub-left") or at.get("axle")
    return hub.x_m if hub is not None else around.right() - 0.85


def _across(x: float, around: QRectF) -> QLineF:
    return QLineF(x, around.top() + 0.05, x, around.bottom() - 0.05)


def _outline(r: QRectF, box: bool) -> QPainterPath:
    """A rounded nose and a tail that is rounder on a car than on a van."""
    path = QPainterPath()
    nose, tail = 0.42, 0.12 if box else 0.34
    path.moveTo(r.left() + nose, r.top())
    path.lineTo(r.right() - tail, r.top())
    path.quadTo(r.right(), r.top(), r.right(), r.top() + tail)
    path.lineTo(r.right(), r.bottom() - tail)
    path.quadTo(r.right(), r.bottom(), r.right() - tail, r.bottom())
    path.lineTo(r.left() + nose, r.bottom())
    path.cubicTo(
        QPointF(r.left() + 0.05, r.bottom()),
        QPointF(r.left() - 0.08, r.bottom() - 0.35),
        QPointF(r.left() - 0.08, r.center().y()),
    )
    path.cubicTo(
        QPointF(r.left() - 0.08, r.top() + 0.35),
        QPointF(r.left() + 0.05, r.top()),
        QPointF(r.left() + nose, r.top()),
    )
    return path


def _seats(at: dict[str, Zone], around: QRectF) -> tuple[QRectF, ...]:
    """Front seats behind the footwells; rear ones where there is a zone of that name."""
    found = []
    behind = [at[k].x_m - at[k].wide_m / 2 for k in ("cab-back", "seat") if k in at]
    for foot in ("foot-left", "foot-right"):
        z = at.get(foot)
        if z is not None:
            left = z.x_m + z.wide_m / 2 + 0.06
            deep = min([0.44, *(x - left - 0.04 for x in behind)])
            found.append(QRectF(left, z.y_m - 0.22, deep, 0.44))
    rear = at.get("seat")
    if rear is not None and rear.name.lower().startswith("rear"):
        for y in (rear.y_m - rear.deep_m / 4, rear.y_m + rear.deep_m / 4):
            found.append(QRectF(rear.x_m - 0.18, y - 0.2, 0.4, 0.4))
    return tuple(r for r in found if r.width() > LEAST_M and r.right() < around.right() - 0.1)


def _cycle(at: dict[str, Zone]) -> Body:
    """Two wheels in line."""
    bars = at["bars"]
    wheels = tuple(
        QRectF(z.x_m - WHEEL_M[0] / 2 + 0.08, bars.y_m - WHEEL_M[1] / 2, *WHEEL_M)
        for z in (at.get("lamp"), at.get("rear-hub"))
        if z is not None
    )
    return Body(None, wheels)
