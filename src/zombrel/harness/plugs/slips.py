"""How a whole plug can be pinned wrong: by mirror, half turn, a row off, rows exchanged, rotated.

Each slip takes every cavity to another by the geometry of the face, whatever its shape: rows are
what stands at one height, a place in a row is counted from its end. A cavity that a slip takes off
the face is taken nowhere.

Reference: the symmetries of a rectangle and of a ring (any textbook of plane geometry).
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from typing import Literal

from zombrel.harness.plugs import face
from zombrel.harness.plugs.face import SAME_ROW, Place
from zombrel.job.follow.view import plain
from zombrel.job.value import Value
from zombrel.job.wiring import Connector

Slip = Literal["none", "mirror", "half-turn", "row-off", "rows-exchanged", "rotated"]
BESIDE = 0.6
"""A place of the next row is above or below where it is no further aside [pitches]."""
RING_OFF = 0.08
"""Places whose distance from their middle differs by no more are a ring [share]."""
FAR = 0.2
"""Weight of a ring turned by many places: they are rarer each, and many."""
FEWEST = 3
"""A ring has so many places."""


class Map(Value, frozen=True):
    """Where one slip takes every cavity of a face."""

    slip: Slip
    how: str
    """What happened, in words."""
    mend: str
    """How the whole plug is put right."""
    weight: float
    """How often it is met, against the others: ASSUMED."""
    to: Mapping[int, int]
    """Cavity on the paper → cavity it is in; those taken off the face are left out."""


def rows_of(c: Connector) -> tuple[tuple[Place, ...], ...]:
    """The rows of a face from the top, each from the left, on the side it is counted on."""
    found: list[list[Place]] = []
    for p in sorted(face.places(c), key=lambda p: (p.y, p.x)):
        if found and abs(found[-1][0].y - p.y) <= SAME_ROW:
            found[-1].append(p)
        else:
            found.append([p])
    return tuple(tuple(sorted(row, key=lambda p: p.x)) for row in found)


def maps(c: Connector) -> tuple[Map, ...]:
    """Every slip that moves something on this face, each once, the likeliest first."""
    found: list[Map] = []
    known: list[dict[int, int]] = [{p.n: p.n for p in face.places(c)}]
    for one in _all(plain(c)):
        to = dict(one.to)
        if to and to not in known and any(a != b for a, b in to.items()):
            known.append(to)
            found.append(one)
    return tuple(found)


def _all(c: Connector) -> Iterator[Map]:
    ring = _ring(c)
    if ring:
        yield from _round(c, ring)
        return
    rows = rows_of(c)
    again = "Turn the plug’s list round and pin it anew, all out, then all in."
    yield Map(
        "mirror",
        "it was counted from the other side: left and right changed places in every row",
        again,
        4.0,
        _turned(rows, rows, other_end=True),
    )
    yield Map(
        "half-turn",
        "it was counted from the far end: turned half round",
        again,
        3.0,
        _turned(rows, rows[::-1], other_end=True),
    )
    if len(rows) > 1:
        yield Map(
            "rows-exchanged",
            "top and bottom row changed places",
            again,
            1.5,
            _turned(rows, rows[::-1], other_end=False),
        )
        for step, words in ((1, "down"), (-1, "up")):
            yield Map(
                "row-off",
                f"everything sits one row further {words}",
                "Move each terminal one row back, beginning at the free row.",
                2.0,
                _shifted(rows, step),
            )
    else:
        for step, words in ((1, "on"), (-1, "back")):
            yield Map(
                "row-off",
                f"everything sits one cavity further {words} in its row",
                "Move each terminal one cavity, beginning at the free end.",
                2.0,
                _along(rows, step),
            )
    yield from _quarters(c)
    for step in (1, -1):
        yield Map(
            "rotated",
            f"everything sits one place round, by {step:+d} in number",
            "Move each terminal one place round, all out, then all in.",
            1.5,
            _cycled(c, step),
        )


def _turned(
    rows: Sequence[Sequence[Place]], onto: Sequence[Sequence[Place]], other_end: bool
) -> dict[int, int]:
    """Each row onto another, its places counted from the same end or the other."""
    to: dict[int, int] = {}
    for row, there in zip(rows, onto, strict=True):
        line = list(there)[::-1] if other_end else list(there)
        to |= {p.n: q.n for p, q in zip(row, line, strict=False)}
    return to


def _shifted(rows: Sequence[Sequence[Place]], step: int) -> dict[int, int]:
    """Each place onto the one below or above it."""
    to = {}
    for i, row in enumerate(rows):
        if 0 <= i + step < len(rows):
            for p in row:
                near = min(rows[i + step], key=lambda q: abs(q.x - p.x))
                if abs(near.x - p.x) <= BESIDE:
                    to[p.n] = near.n
    return to if len(set(to.values())) == len(to) else {}


def _along(rows: Sequence[Sequence[Place]], step: int) -> dict[int, int]:
    to = {}
    for row in rows:
        for i, p in enumerate(row):
            if 0 <= i + step < len(row):
                to[p.n] = row[i + step].n
    return to


def _cycled(c: Connector, step: int) -> dict[int, int]:
    numbers = sorted(p.n for p in face.places(c))
    count = len(numbers)
    return {n: numbers[(i + step) % count] for i, n in enumerate(numbers)}


def _quarters(c: Connector) -> Iterator[Map]:
    """A square face also fits a quarter turn off."""
    found = face.places(c)
    x0 = sum(p.x for p in found) / len(found)
    y0 = sum(p.y for p in found) / len(found)
    for sign, words in ((1, "right"), (-1, "left")):
        to = {}
        for p in found:
            x, y = x0 - sign * (p.y - y0), y0 + sign * (p.x - x0)
            near = next((q for q in found if math.hypot(q.x - x, q.y - y) < SAME_ROW), None)
            if near is not None:
                to[p.n] = near.n
        if len(to) == len(found):
            yield Map(
                "rotated",
                f"it is turned a quarter to the {words}",
                "Turn the plug’s list a quarter and pin it anew.",
                0.7,
                to,
            )


def _ring(c: Connector) -> tuple[tuple[int, ...], tuple[int, ...]] | None:
    """Cavities round a ring in their order, and those in its middle; None where it is none."""
    found = face.places(c)
    if len(found) < FEWEST:
        return None
    outer = found
    if c.round and not c.places:
        outer = tuple(p for p in found if p.n != face.cavity_count(c))
    x0 = sum(p.x for p in outer) / len(outer)
    y0 = sum(p.y for p in outer) / len(outer)
    away = [math.hypot(p.x - x0, p.y - y0) for p in outer]
    flat = len({round(p.y, 6) for p in outer}) < FEWEST
    if flat or max(away) - min(away) > RING_OFF * max(away):
        return None
    order = sorted(outer, key=lambda p: math.atan2(p.y - y0, p.x - x0))
    middle = tuple(p.n for p in found if p not in outer)
    return tuple(p.n for p in order), middle


def _round(c: Connector, ring: tuple[tuple[int, ...], tuple[int, ...]]) -> Iterator[Map]:
    """Rotations first, those by one place before the rest; then the mirror images."""
    order, middle = ring
    count = len(order)
    fixed = {n: n for n in middle}
    for k in sorted(range(1, count), key=lambda k: min(k, count - k)):
        places = k if k <= count // 2 else k - count
        half = 2 * k == count
        many = f"{abs(places)} place{'s' if abs(places) > 1 else ''}"
        way = "clockwise" if places > 0 else "counter-clockwise"
        yield Map(
            "half-turn" if half else "rotated",
            f"it is turned {many} {way}",
            f"Turn the plug’s list back by {many} and pin it anew.",
            1.5 if abs(places) == 1 else 1.0 if half else FAR,
            fixed | {n: order[(i + k) % count] for i, n in enumerate(order)},
        )
    start = order.index(min(order))
    across = _across(c, order)
    from_first = {n: order[(2 * start - i) % count] for i, n in enumerate(order)}
    for to in (across, from_first):
        yield Map(
            "mirror",
            "it was counted from the other side: the numbers run the other way round",
            "Count on the side that the paper means and pin it anew.",
            3.0,
            fixed | to if to else {},
        )


def _across(c: Connector, order: Sequence[int]) -> dict[int, int]:
    """Each place of a ring onto the one that lies there with left and right exchanged."""
    at = {p.n: p for p in face.places(c) if p.n in order}
    middle = sum(p.x for p in at.values()) / len(at)
    to = {}
    for p in at.values():
        near = min(at.values(), key=lambda q: math.hypot(q.x - 2 * middle + p.x, q.y - p.y))
        to[p.n] = near.n
    return to if len(set(to.values())) == len(to) else {}
