"""The few points that follow a curve best with straight lines between them.

For a tolerance ε the fewest lines that stay within ε of the curve are found by walking the
tube curve ± ε from the left, each line going as far as any can; the least ε that needs no
more than the given points is found by bisection. Points need not lie on the curve.

Reference:
    Imai & Iri, "An optimal algorithm for approximating a piecewise linear function",
    *J. Information Processing* 9 (1986).
"""

from __future__ import annotations

import itertools
import math

from zombrel.job.pairs import LEAST_PAIRS, Pairs, between
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.job.value import Value

HALVINGS = 48
NOTHING = 1e-14
"""Of a curve as wide as one."""
Wall = list[tuple[float, float]]


class Table(Frozen, frozen=True, kw_only=True):
    """Points for a device and how far it then strays from the curve."""

    points: Pairs
    worst: float
    """Greatest absolute error, in the unit of y."""


class _Line(Value, frozen=True):
    slope: float
    at_0: float

    def y(self, x: float) -> float:
        return self.slope * x + self.at_0


def place(curve: Pairs, count: int) -> Table:
    """``count`` points with the least worst error against ``curve`` (straight between pairs).

    Pairs and result in the units of the curve [any].

    Raises:
        Problem: fewer than two points asked for, or given.
    """
    if count < LEAST_PAIRS:
        raise Problem("A table needs two points or more.")
    if len(curve) < LEAST_PAIRS:
        raise Problem("A curve needs two pairs or more.")
    if count >= len(curve):
        return Table(points=_padded(curve, count), worst=0.0)
    # the walk is in shares of the ranges, so that units do not cost digits
    x0, wide = curve[0][0], curve[-1][0] - curve[0][0]
    ys = [y for _, y in curve]
    y0, tall = min(ys), (max(ys) - min(ys)) or 1.0
    shares = tuple(((x - x0) / wide, (y - y0) / tall) for x, y in curve)
    low, high = 0.0, 0.5000001
    best = _walk(shares, high, count - 1)
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        walked = _walk(shares, middle, count - 1)
        if walked is None:
            low = middle
        else:
            high, best = middle, walked
    assert best is not None  # half the range is one level line
    knots = tuple((x0 + x * wide, y0 + y * tall) for x, y in _padded(best, count))
    return Table(points=knots, worst=worst_error(curve, knots))


def worst_error(curve: Pairs, table: Pairs) -> float:
    """Greatest absolute distance of two broken lines; it lies at a corner of one of them.

    Result in the unit of the second of each pair [any].
    """
    corners = [x for x, _ in curve] + [x for x, _ in table if curve[0][0] <= x <= curve[-1][0]]
    return max(abs(between(table, x) - between(curve, x)) for x in corners)


def _padded(points: Pairs, count: int) -> Pairs:
    """Points put on the longest pieces until there are ``count``: some devices want all rows."""
    out = list(points)
    while len(out) < count:
        i = max(range(len(out) - 1), key=lambda k: out[k + 1][0] - out[k][0])
        (xa, ya), (xb, yb) = out[i], out[i + 1]
        out.insert(i + 1, ((xa + xb) / 2, (ya + yb) / 2))
    return tuple(out)


def _walk(curve: Pairs, tolerance: float, most: int) -> Pairs | None:
    """Corners of a broken line of at most ``most`` pieces within the tube, or None."""
    lower = [(x, y - tolerance) for x, y in curve]
    upper = [(x, y + tolerance) for x, y in curve]
    lines: list[_Line] = []
    within: list[tuple[float, float]] = []
    for _ in range(most):
        line, windows = _reach(lower, upper)
        lines.append(line)
        if windows is None:
            return _corners(curve, lines, within)
        lower, upper = windows
        within.append((min(lower[0][0], upper[0][0]), max(lower[0][0], upper[0][0])))
    return None


def _corners(curve: Pairs, lines: list[_Line], within: list[tuple[float, float]]) -> Pairs:
    """Where each line crosses the next; ``within`` the x [of the curve] between which it does."""
    xs = [curve[0][0]]
    for (one, two), (begin, end) in zip(itertools.pairwise(lines), within, strict=True):
        apart = one.slope - two.slope
        # one and the same line, but for a rounding, crosses itself anywhere
        x = (two.at_0 - one.at_0) / apart if apart else end
        xs.append(min(max(x, begin), end))
    out = [(x, line.y(x)) for x, line in zip(xs, lines, strict=True)]
    return (*out, (curve[-1][0], lines[-1].y(curve[-1][0])))


def _reach(lower: Wall, upper: Wall) -> tuple[_Line, tuple[Wall, Wall] | None]:
    """The line that goes farthest between ``lower`` and ``upper``, and what is left beyond it.

    The first point of each list may be where the line before was left; the rest are the
    curve's own corners, the same x in both. None is left when the line reaches the end.
    """
    flattest = (-math.inf, (lower[0], upper[0]))
    steepest = (math.inf, (lower[0], upper[0]))
    seen_low: Wall = []
    seen_high: Wall = []
    for x, is_low, point in _in_order(lower, upper):
        if is_low:
            slopes = [(_slope(o, point), (o, point)) for o in seen_high if o[0] < x]
            flattest = max([flattest, *slopes], key=lambda pair: pair[0])
            seen_low.append(point)
        else:
            slopes = [(_slope(o, point), (o, point)) for o in seen_low if o[0] < x]
            steepest = min([steepest, *slopes], key=lambda pair: pair[0])
            seen_high.append(point)
        if flattest[0] > steepest[0]:
            # the floor rises past the steepest line, or the ceiling comes down past the flattest
            touched = steepest[1] if is_low else flattest[1]
            line = _through(*touched)
            left = _beyond(line, touched[1], point, lower, upper, floor=is_low)
            # past the last corner by a rounding alone: there is nothing for another line to reach
            at_end = max(left[0][0][0], left[1][0][0]) >= lower[-1][0] - NOTHING
            return line, None if at_end else left
    slope = (flattest[0] + steepest[0]) / 2
    at_low = max(y - slope * x for x, y in seen_low)
    at_high = min(y - slope * x for x, y in seen_high)
    return _Line(slope, (at_low + at_high) / 2), None


def _slope(one: tuple[float, float], two: tuple[float, float]) -> float:
    return (two[1] - one[1]) / (two[0] - one[0])


def _in_order(lower: Wall, upper: Wall) -> list[tuple[float, bool, tuple[float, float]]]:
    both = [(p[0], True, p) for p in lower] + [(p[0], False, p) for p in upper]
    return sorted(both, key=lambda item: item[0])


def _through(one: tuple[float, float], two: tuple[float, float]) -> _Line:
    slope = (two[1] - one[1]) / (two[0] - one[0])
    return _Line(slope, one[1] - slope * one[0])


def _beyond(
    line: _Line,
    touch: tuple[float, float],
    blocked: tuple[float, float],
    lower: Wall,
    upper: Wall,
    floor: bool,
) -> tuple[Wall, Wall]:
    """Limits of the next line: it must cross ``line`` between last touch and where it left."""
    wall = lower if floor else upper
    before = [p for p in wall if p[0] < blocked[0]]
    start = before[-1] if before else blocked
    leaves = _meet(line, start, blocked)
    if floor:
        return (
            [leaves, *[p for p in lower if p[0] > leaves[0]]],
            [touch, *[p for p in upper if p[0] > touch[0]]],
        )
    return (
        [touch, *[p for p in lower if p[0] > touch[0]]],
        [leaves, *[p for p in upper if p[0] > leaves[0]]],
    )


def _meet(line: _Line, one: tuple[float, float], two: tuple[float, float]) -> tuple[float, float]:
    """Where ``line`` crosses the wall from ``one`` to ``two``."""
    if two[0] <= one[0]:
        return two
    gap_one, gap_two = line.y(one[0]) - one[1], line.y(two[0]) - two[1]
    share = gap_one / (gap_one - gap_two) if gap_one != gap_two else 1.0
    x = one[0] + (two[0] - one[0]) * min(max(share, 0.0), 1.0)
    return x, line.y(x)
