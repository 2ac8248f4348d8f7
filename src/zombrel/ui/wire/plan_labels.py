"""Where names stand on a plan: on no other name, on no line, inside the picture."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from PySide6.QtCore import QLineF, QPointF, QRectF

from zombrel.job.value import Value

GAP = 3.0
"""Kept free round a name [px]."""


class Spot(Value, frozen=True):
    """One place a name can stand."""

    rect: QRectF
    turned: bool = False
    """Read from below, along the picture's height."""


def crosses(rect: QRectF, line: QLineF) -> bool:
    """Whether a stretch of ``line`` lies in ``rect``."""
    if rect.contains(line.p1()) or rect.contains(line.p2()):
        return True
    corners = (rect.topLeft(), rect.topRight(), rect.bottomRight(), rect.bottomLeft())
    for a, b in zip(corners, (*corners[1:], corners[0]), strict=True):
        kind, _ = QLineF(a, b).intersects(line)
        if kind == QLineF.IntersectionType.BoundedIntersection:
            return True
    return False


class Taken:
    """What is in the way of names: lines, and the names that stand already."""

    def __init__(self, lines: Iterable[QLineF], bounds: QRectF) -> None:
        self._lines = list(lines)
        self._rects: list[QRectF] = []
        self._bounds = bounds

    def add(self, rect: QRectF) -> None:
        """Keep a place free."""
        self._rects.append(rect)

    def first_free(self, spots: Iterable[Spot], lines: bool = True) -> Spot | None:
        """The first spot that nothing lies on, taken from now on; None when all are covered.

        ``lines`` False lets a name stand on a line: only one that must be read, on a plate.
        """
        for spot in spots:
            room = spot.rect.adjusted(-GAP, -GAP, GAP, GAP)
            if not self._bounds.contains(spot.rect) or any(map(room.intersects, self._rects)):
                continue
            if lines and any(crosses(room, line) for line in self._lines):
                continue
            self.add(spot.rect)
            return spot
        return None


def in_box(box: QRectF, wide: float, tall: float) -> Sequence[Spot]:
    """Spots for a name of that size inside the box of a zone; none where it does not fit."""
    spots: list[Spot] = []
    if wide + 8 <= box.width() and tall + 4 <= box.height():
        left, right = box.left() + 6, box.right() - wide - 4
        top, low = box.top() + 3, box.bottom() - tall - 2
        middle = box.center().y() - tall / 2
        for y in (top, low, middle):
            spots += [Spot(QRectF(x, y, wide, tall)) for x in (left, right)]
        spots.append(Spot(QRectF(box.center().x() - wide / 2, middle, wide, tall)))
    if wide + 8 <= box.height() and tall + 2 <= box.width():
        x = box.center().x() - tall / 2
        for y in (box.center().y() - wide / 2, box.top() + 5, box.bottom() - wide - 5):
            spots.append(Spot(QRectF(x, y, tall, wide), turned=True))
    return spots


def around(at: QPointF, wide: float, tall: float, off: float) -> Sequence[Spot]:
    """Spots for a name beside a point, ``off`` away from it, the nearest ones first."""
    spots = []
    for far in (off, off + 14, off + 30, off + 50):
        spots += [
            Spot(QRectF(at.x() - wide / 2, at.y() + far, wide, tall)),
            Spot(QRectF(at.x() - wide / 2, at.y() - far - tall, wide, tall)),
            Spot(QRectF(at.x() + far, at.y() - tall / 2, wide, tall)),
            Spot(QRectF(at.x() - far - wide, at.y() - tall / 2, wide, tall)),
            Spot(QRectF(at.x() + far, at.y() + far, wide, tall)),
            Spot(QRectF(at.x() - far - wide, at.y() + far, wide, tall)),
            Spot(QRectF(at.x() + far, at.y() - far - tall, wide, tall)),
            Spot(QRectF(at.x() - far - wide, at.y() - far - tall, wide, tall)),
        ]
    return spots
