"""Which plugs of a lead are pinned by a slip, seen from where the conductors come out.

A slip is named when several conductors lie just where it takes them and hardly any lies otherwise;
two that changed places are two that changed places.

Reference: as in ``plugs.slips``.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence

from zombrel.harness.plugs.conducts import Nets, Pair, plug_of, split_pin
from zombrel.harness.plugs.slips import Map, Slip, maps
from zombrel.job.value import Value
from zombrel.job.wiring import Connector

NEEDED = 3
"""So many conductors must have moved alike."""
STRAY = 0.34
"""And of those that were found, no more than this share may lie elsewhere."""


class Slipped(Value, frozen=True):
    """One plug and the slip it was pinned by."""

    plug: str
    """With the mark that parts it from its cavities, as ``P1.``."""
    side: int
    """Which end of the listed pairs it is: 0 or 1."""
    map: Map


class _At(Value, frozen=True):
    """A conductor that should be in cavity ``n`` of a plug, and where on it it was found."""

    n: int
    found: frozenset[int]


def slipped(
    expected: Sequence[Pair], seen: Sequence[Pair], faces: Mapping[str, Connector]
) -> tuple[Slipped, ...]:
    """The slips of a lead, far ends first; ``faces`` by the name of the plug.

    Without a face only a mirror and a constant step in number can be told.
    """
    meter = Nets(seen)
    met: dict[str, list[str]] = {}
    for pin in dict.fromkeys(p for pair in (*seen, *expected) for p in pair):
        met.setdefault(meter.of(pin), []).append(pin)
    far, near = (_of_side(expected, side, meter, met, faces) for side in (1, 0))
    # what one end explains better is told of that end; alike, of the far one
    found, _ = far if far[1] >= near[1] else near
    return tuple(found)


def _of_side(
    expected: Sequence[Pair],
    side: int,
    meter: Nets,
    met: Mapping[str, Sequence[str]],
    faces: Mapping[str, Connector],
) -> tuple[list[Slipped], int]:
    """The slips of the plugs at one end, and how many conductors they explain."""
    found: list[Slipped] = []
    explained = 0
    for plug, at in _by_plug(expected, side, meter, met).items():
        best, good = _best(at, _maps(at, faces.get(plug_of(plug))))
        if best is not None:
            found.append(Slipped(plug, side, best))
            explained += good
    return found, explained


def _by_plug(
    expected: Sequence[Pair], side: int, meter: Nets, met: Mapping[str, Sequence[str]]
) -> dict[str, list[_At]]:
    by: dict[str, list[_At]] = {}
    for pair in dict.fromkeys(expected):
        plug, n = split_pin(pair[side])
        if n is None:
            continue
        pins = [split_pin(p) for p in met[meter.of(pair[1 - side])] if p != pair[1 - side]]
        cavities = frozenset(m for where, m in pins if where == plug and m is not None)
        by.setdefault(plug, []).append(_At(n, cavities))
    return by


def _maps(at: Sequence[_At], c: Connector | None) -> tuple[Map, ...]:
    return maps(c) if c is not None else _by_number(at)


def _by_number(at: Sequence[_At]) -> tuple[Map, ...]:
    """What can be told of a plug whose face nobody knows: sums or steps that are the same."""
    moved = [(x.n, m) for x in at for m in x.found if len(x.found) == 1 and m != x.n]
    found = []
    for total, _ in Counter(n + m for n, m in moved).most_common(1):
        how = f"what belongs in n is in {total} − n: it was counted from the other side or end"
        to = {x.n: total - x.n for x in at if total > x.n}
        again = "Turn its list round and pin it anew."
        found.append(Map("mirror", how, again, 1.0, to))
    for step, _ in Counter(m - n for n, m in moved).most_common(1):
        way = "on" if step > 0 else "back"
        how = f"everything that moved sits {abs(step)} further {way}: one row or one cavity off"
        to = {x.n: x.n + step for x in at if x.n + step > 0}
        found.append(Map("row-off", how, f"Move each terminal {abs(step)} the other way.", 1.0, to))
    return tuple(found)


def _best(at: Sequence[_At], tried: Sequence[Map]) -> tuple[Map | None, int]:
    """The slip that most conductors obey and how many less those it loses; None where unsure."""
    alike = sum(x.n in x.found for x in at)
    best, most = None, (0, 0)
    for one in tried:
        moved = sum(one.to.get(x.n, x.n) != x.n and one.to[x.n] in x.found for x in at)
        stays = sum(one.to.get(x.n) == x.n and x.n in x.found for x in at)
        stray = sum(bool(x.found) for x in at) - moved - stays
        every = moved + stays == len(at) >= NEEDED  # of a small plug all must agree
        if moved < NEEDED and not every:
            continue
        # what should have come out and did not: a slip that takes it off the face explains that
        lost = sum(x.n in one.to and not x.found for x in at)
        score = moved + stays
        if score > alike and (score, -lost) > most and stray <= STRAY * (score + stray):
            best, most = one, (score, -lost)
    return best, sum(most)


def put_where_they_are(expected: Sequence[Pair], found: Sequence[Slipped]) -> list[Pair]:
    """The conductors with every slip in them; those taken off the face keep their place."""
    out = []
    for pair in expected:
        ends = list(pair)
        for slip in found:
            plug, n = split_pin(ends[slip.side])
            if plug == slip.plug and n is not None:
                ends[slip.side] = f"{plug}{slip.map.to.get(n, n)}"
        out.append((ends[0], ends[1]))
    return out


def taken_off(expected: Sequence[Pair], found: Sequence[Slipped]) -> frozenset[Pair]:
    """Conductors for which a slip leaves no cavity: that they are open is part of it."""
    out = set()
    for pair in expected:
        for slip in found:
            plug, n = split_pin(pair[slip.side])
            if plug == slip.plug and n is not None and n not in slip.map.to:
                out.add(pair)
    return frozenset(out)


def name_of(found: Sequence[Slipped]) -> Slip:
    """The slip to name first."""
    return found[0].map.slip if found else "none"


def words_of(found: Sequence[Slipped]) -> str:
    """Every slip and how it is put right, in sentences."""
    return " ".join(
        f"{plug_of(s.plug)} is pinned by a slip ({s.map.slip}): {s.map.how}. {s.map.mend}"
        for s in found
    )
