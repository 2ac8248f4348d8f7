"""The picture of a reading against the truth over the whole range."""

from __future__ import annotations

import math

from zombrel.plots.picture import Axis, Line, Picture, Zone

ROOM = 0.06
"""Room above and below the curves, as a share of them."""


def range_picture(corners: list[tuple[float, float]], now: float, unit: str, words: str) -> Picture:
    """Corners (true, shown) and ``now`` in one unit; shown is nan where it drops out."""
    finite = [y for _, y in corners if math.isfinite(y)]
    left, right = corners[0][0], corners[-1][0]
    floor = min([left, *finite, 0.0]) if left >= 0 else min([left, *finite])
    top = max([right, *finite, floor + 1e-9])
    lost = [x for x, y in corners if not math.isfinite(y)]
    room = (top - floor) * ROOM
    return Picture(
        Axis(unit, left, right),
        Axis("", floor - room, top + room),
        (
            Line(((left, left), (right, right)), "the truth", "second"),
            Line(tuple(corners), "what it shows"),
        ),
        now=min(max(now, left), right),
        zones=(Zone(lost[0], right, "drops out"),) if lost else (),
        about=words,
    )
