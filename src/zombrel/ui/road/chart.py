"""The picture of the difference between shown and true speed, with its line.

The difference is drawn, not the two speeds: a scale error of one per cent is then plain to
see.
"""

from __future__ import annotations

from collections.abc import Sequence

from zombrel.plots.picture import Axis, Cloud, Line, Picture

MOST = 0.9
"""Before there is a fit, so many of the points must find room."""
LEAST, ROOM = 2.0, 1.35
"""Half height at least, and how much more than the points need."""
EMPTY_TOP, TOP = 150.0, 1.06


def road_picture(
    x: Sequence[float],
    y: Sequence[float],
    kept: Sequence[bool],
    line: tuple[float, float] | None,
    unit: str,
) -> Picture:
    """``x`` true, ``y`` shown, in ``unit``; ``line`` is (scale, offset).

    Points used are filled, points set aside are hollow; what lies outside stands at the edge.
    """
    kept = kept or [True] * len(x)
    off = [b - a for a, b in zip(x, y, strict=True)]
    reach = _reach(off, kept if not all(kept) or line is not None else [])
    top = max([10.0, *x]) * TOP if x else EMPTY_TOP
    held = [max(-reach, min(reach, v)) for v in off]
    clouds = tuple(
        Cloud(
            [a for a, k in zip(x, kept, strict=True) if k == used],
            [b for b, k in zip(held, kept, strict=True) if k == used],
            used,
        )
        for used in (False, True)
    )
    lines = [Line(((0.0, 0.0), (top, 0.0)), "the truth", "second")]
    if line is not None:
        scale, offset = line
        lines.append(Line(((0.0, offset), (top, (scale - 1) * top + offset)), "fitted", "fit"))
    return Picture(
        Axis(f"satellite speed, {unit}", 0.0, top),
        Axis(f"shown minus satellite, {unit}", -reach, reach),
        tuple(lines) if x else (),  # the words stand where the line of truth would run
        clouds=clouds,
        about=f"Shown against satellite speed in {unit}: {len(x)} points, {sum(kept)} used"
        + (f", scale {line[0]:.4f}." if line else "."),
        empty="" if x else "No points yet: read a log, or play a recording.",
    )


def _reach(off: Sequence[float], kept: Sequence[bool]) -> float:
    """Half height: what the points that count need, and a little more."""
    if kept:
        counted = [abs(v) for v, k in zip(off, kept, strict=True) if k]
    else:
        counted = sorted(abs(v) for v in off)[: max(1, round(len(off) * MOST))]
    return max([LEAST, *counted]) * ROOM
