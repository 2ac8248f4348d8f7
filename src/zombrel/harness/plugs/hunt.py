"""A plug pinned by a slip, found while probing: which two cavities tell the slips apart best.

Once two conductors did not answer where the paper has them, every slip of that plug's face is a
rival; each probe is of one conductor and one cavity, chosen so that about half of what is left
would conduct. A slip is named when two conductors came out where it alone takes them; then the
rest are looked for there, a probe each.

Reference: search by halving (any textbook of algorithms); slips as in ``plugs.slips``.
"""

from __future__ import annotations

import functools
from collections.abc import Mapping, Sequence

from zombrel.harness.plugs.conducts import Pair, plug_of, split_pin
from zombrel.harness.plugs.probing import Probe
from zombrel.harness.plugs.slips import Map, maps
from zombrel.job.follow.view import plain
from zombrel.job.value import Value
from zombrel.job.wiring import Connector

FAILED, SMALL_LEAD = 2, 5
"""So many conductors must be missed where the paper has them; of so small a lead one is enough."""
SURE = 2
"""So many must be met where a slip takes them."""
AMISS = 1
"""One answer may be against a slip: a conductor may be broken besides."""
Said = Mapping[frozenset[str], bool]


class Rival(Value, frozen=True):
    """One slip and how it stands."""

    map: Map
    met: int
    against: int


@functools.lru_cache(maxsize=32)
def _maps(c: Connector) -> tuple[Map, ...]:
    return maps(c)


def _plugs(rows: Sequence[Pair]) -> dict[str, list[tuple[str, int]]]:
    """(near end, cavity) of the conductors that end in each plug."""
    found: dict[str, list[tuple[str, int]]] = {}
    for a, b in rows:
        plug, n = split_pin(b)
        if n is not None:
            found.setdefault(plug, []).append((a, n))
    return found


def _standing(plug: str, ends: Sequence[tuple[str, int]], said: Said, one: Map) -> Rival:
    """How many answers a slip explains that the paper does not, and how many are against it."""
    met = against = 0
    for a, n in ends:
        goes = one.to.get(n)
        for pair, yes in said.items():
            if a not in pair or len(pair) == 1:
                continue
            (other,) = pair - {a}
            where, m = split_pin(other)
            if where != plug or m is None:
                continue
            if yes and m == goes and goes != n:
                met += 1
            against += yes != (m == goes)
    return Rival(one, met, against)


def next_probe(rows: Sequence[Pair], said: Said, faces: Mapping[str, Connector]) -> Probe | None:
    """The probe that tells slips apart, or confirms the one that was named; None: nothing to do."""
    for plug, ends in _plugs(rows).items():
        c = faces.get(plug_of(plug))
        if c is None or _missed(plug, ends, said) < _needed(ends):
            continue
        found = _of_plug(plug, ends, said, c)
        if found is not None:
            return found
    return None


def named(rows: Sequence[Pair], said: Said, faces: Mapping[str, Connector]) -> dict[str, Map]:
    """The slip of each plug that is sure by now."""
    found = {}
    for plug, ends in _plugs(rows).items():
        c = faces.get(plug_of(plug))
        if c is None or _missed(plug, ends, said) < _needed(ends):
            continue
        left = _left(plug, ends, said, c)
        if _is_sure(ends, left):
            found[plug] = left[0].map
    return found


def _needed(ends: Sequence[tuple[str, int]]) -> int:
    return FAILED if len(ends) > SMALL_LEAD else 1


def _missed(plug: str, ends: Sequence[tuple[str, int]], said: Said) -> int:
    return sum(said.get(frozenset((a, f"{plug}{n}"))) is False for a, n in ends)


def _left(plug: str, ends: Sequence[tuple[str, int]], said: Said, c: Connector) -> list[Rival]:
    """The slips that still can be, the likeliest first."""
    rivals = [_standing(plug, ends, said, one) for one in _maps(plain(c))]
    least = min((r.against for r in rivals), default=0)
    if least > AMISS:
        return []
    kept = [r for r in rivals if r.against == least]
    return sorted(kept, key=lambda r: (-r.met, -r.map.weight))


def _is_sure(ends: Sequence[tuple[str, int]], left: Sequence[Rival]) -> bool:
    """One slip is left, or all that are left take these conductors to the same cavities."""
    if not left or left[0].met < SURE:
        return False
    first = [left[0].map.to.get(n) for _, n in ends]
    return all([r.map.to.get(n) for _, n in ends] == first for r in left)


def _of_plug(plug: str, ends: Sequence[tuple[str, int]], said: Said, c: Connector) -> Probe | None:
    left = _left(plug, ends, said, c)
    if not left:
        return None
    if _is_sure(ends, left):
        return _confirm(plug, ends, said, left[0].map)
    total = sum(r.map.weight for r in left)
    best, closest = None, 0.0
    for a, n in ends:
        if _met(plug, a, said):
            continue
        for m in dict.fromkeys(r.map.to.get(n) for r in left):
            if m is None or frozenset((a, f"{plug}{m}")) in said:
                continue
            yes = sum(r.map.weight for r in left if r.map.to.get(n) == m)
            apart = min(yes, total - yes) + (SMALL * yes if yes == total else 0.0)
            if best is None or apart > closest:
                best, closest = Probe(a, f"{plug}{m}", conducts=False), apart
    return best


SMALL = 1e-3
"""A probe that parts nothing still confirms."""


def _met(plug: str, a: str, said: Said) -> bool:
    """The conductor from ``a`` was met in this plug."""
    return any(
        yes and a in pair and any(split_pin(x)[0] == plug for x in pair if x != a)
        for pair, yes in said.items()
    )


def _confirm(plug: str, ends: Sequence[tuple[str, int]], said: Said, one: Map) -> Probe | None:
    for a, n in ends:
        m = one.to.get(n)
        if m is None or _met(plug, a, said):
            continue
        if frozenset((a, f"{plug}{m}")) not in said:
            return Probe(a, f"{plug}{m}", conducts=True)
    return None
