"""Pairs of numbers as people type them or keep them in a file."""

from __future__ import annotations

import bisect
import itertools
import math
import re
from collections.abc import Iterable, Iterator

from zombrel.job.problem import Problem

Pairs = tuple[tuple[float, float], ...]
MOST = 2000
"""More pairs than anybody measures; a longer list is the wrong file."""

GREATEST = 1e9
"""No figure of a vehicle is larger, in any unit."""

_NUMBER = r"[-+\u2212]?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?"
_PAIR = rf"^({_NUMBER})\s*[:=;,\t ]\s*({_NUMBER})$"


def parse(text: str, what: str, least: int = 2) -> Pairs:
    """Read ``x:y,x:y…``, or lines of ``x;y``, ``x,y`` or ``x y`` with an optional heading.

    The pairs come back ascending in x. ``what`` names them in an error.

    Raises:
        Problem: not pairs, fewer than ``least``, or one x given twice.
    """
    lines = [line.strip() for line in text.strip().splitlines() if line.strip()]
    lines = [line for line in lines if not line.startswith("#")]
    parts = re.split(r"\s*,\s*(?=[^,]*:)", lines[0]) if len(lines) == 1 else lines
    out: list[tuple[float, float]] = []
    for i, part in enumerate(parts):
        pair = _read(part)
        if pair is None:
            if i == 0 and len(parts) > 1 and not re.search(r"\d", part):
                continue  # a heading
            raise Problem(f"{what}: “{part[:40]}” is not a pair such as 25:10000.")
        out.append(pair)
    if len(out) < least:
        raise Problem(f"{what}: {len(out)} pairs given, at least {least} are needed.")
    if len(out) > MOST:
        raise Problem(f"{what}: {len(out)} pairs are more than the {MOST} it can take.")
    return rising(tuple(out), what)


def _read(part: str) -> tuple[float, float] | None:
    text = part.strip().rstrip(",;").strip()
    if ";" in text or "\t" in text:
        text = text.replace(",", ".")  # decimal commas of a spreadsheet
    match = re.match(_PAIR, text)
    if match is None:
        return None
    x, y = (float(g.replace("\u2212", "-")) for g in match.groups())
    return (x, y) if max(abs(x), abs(y)) <= GREATEST else None


def rising(points: Pairs, what: str) -> Pairs:
    """The pairs ascending in x; raises Problem when one x is given twice."""
    ordered = tuple(sorted(points))
    for (x, _), (after, _) in itertools.pairwise(ordered):
        if x == after:
            raise Problem(f"{what}: {x:g} is given twice; keep the reading you trust.")
    return ordered


def write(points: Pairs) -> str:
    """The pairs as ``x:y, x:y``."""
    return ", ".join(f"{x:.10g}:{y:.10g}" for x, y in points)


def falling_or_rising(points: Pairs, what: str) -> bool:
    """Whether y rises with x.

    Raises:
        Problem: y turns back, so that one y would stand for two x.
    """
    steps = [b - a for (_, a), (_, b) in itertools.pairwise(points)]
    if all(s > 0 for s in steps):
        return True
    if all(s < 0 for s in steps):
        return False
    i = next(k for k in range(len(steps)) if steps[k] == 0 or (steps[k] > 0) != (steps[0] > 0))
    x, y = points[i + 1]
    raise Problem(
        f"{what}: at {x:g} the values turn back ({y:g}); one value would mean two things. "
        "Measure that pair again."
    )


def faults(points: Pairs) -> Iterator[str]:
    """Why pairs, perhaps none, cannot be a curve: not ascending, twice the same, turning back."""
    try:
        if rising(points, "pairs") != points:
            yield "the pairs must rise in their first number."
        elif len(points) >= LEAST_PAIRS:
            falling_or_rising(points, "pairs")
    except Problem as problem:
        yield str(problem).removeprefix("pairs: ")


LEAST_PAIRS = 2
"""Fewer make no curve."""


def between(points: Pairs, x: float) -> float:
    """Straight lines between the pairs (ascending x); the end values beyond them."""
    i = bisect.bisect_left(points, (x,))  # a pair comes after its own first number alone
    if not 0 < i < len(points):
        return points[0][1] if x <= points[0][0] else points[-1][1]
    x0, y0 = points[i - 1]
    x1, y1 = points[i]
    y = y0 + (y1 - y0) * (x - x0) / (x1 - x0)
    if y0 <= y <= y1 or y1 <= y <= y0:
        return y
    return _kept_within(y, y0, y1)


def along(points: Pairs, xs: Iterable[float]) -> list[float]:
    """``between`` for many, which lie beside one another as a rule."""
    ys: list[float] = []
    x0, y0, x1, y1 = math.inf, 0.0, math.inf, 0.0
    for x in xs:
        if not x0 < x <= x1:
            i = bisect.bisect_left(points, (x,))
            if not 0 < i < len(points):
                ys.append(points[0][1] if x <= points[0][0] else points[-1][1])
                continue
            (x0, y0), (x1, y1) = points[i - 1], points[i]
        y = y0 + (y1 - y0) * (x - x0) / (x1 - x0)
        ys.append(y if y0 <= y <= y1 or y1 <= y <= y0 else _kept_within(y, y0, y1))
    return ys


def _kept_within(y: float, y0: float, y1: float) -> float:
    """Rounding may overshoot."""
    return y0 if (y < y0) == (y0 <= y1) else y1
