"""What a continuity check found against what the paper says, and the likeliest slip behind it.

Pins are named ``plug.cavity``. What conducts to what forms nets; a pair whose ends lie in one net
of the paper is as it should be, whether or not the paper lists that very pair.

Reference: nets as connected components of an undirected graph, any textbook of graph theory.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Literal

import msgspec

from zombrel.harness.plugs import face
from zombrel.harness.plugs.conducts import Nets, Pair, plug_of, split_pin
from zombrel.harness.plugs.slipped import (
    name_of,
    put_where_they_are,
    slipped,
    taken_off,
    words_of,
)
from zombrel.harness.plugs.slips import Slip
from zombrel.job.sheet import Frozen
from zombrel.job.wiring import Connector

NAMED = 6
"""So many things are said one by one."""

Kind = Literal["none", "slip", "swap", "moved", "bridge", "open", "mixed"]
"""What is the matter, taken together."""


class Moved(Frozen, frozen=True, kw_only=True):
    """One conductor that comes out elsewhere than the paper says."""

    a: str
    expected: str
    found: str


class Continuity(Frozen, frozen=True, kw_only=True):
    """The comparison."""

    opens: tuple[Pair, ...] = ()
    """Listed pairs that do not conduct and are no part of a swap."""
    bridges: tuple[Pair, ...] = ()
    """Pairs that conduct and should not, and are no part of a swap."""
    swaps: tuple[Pair, ...] = ()
    """Two far ends that have changed places."""
    moved: tuple[Moved, ...] = ()
    """Conductors found in another cavity, swaps included."""
    pinned: tuple[tuple[Pair, Pair], ...] = ()
    """Of a slip: (conductor on the paper, the same as it is pinned)."""
    slip: Slip = "none"
    """How a whole plug was pinned; what else is named is beside that."""
    kind: Kind = "none"
    verdict: str = ""

    @property
    def right(self) -> bool:
        """Everything is as the paper says."""
        return self.kind == "none"


def compare(
    expected: Sequence[Pair],
    seen: Sequence[Pair],
    faces: Mapping[str, Connector] | None = None,
) -> Continuity:
    """What differs between the paper and the meter.

    Args:
        expected: one conductor a pair, (near end, far end).
        seen: the pairs that conduct, in any order and either way round.
        faces: of the plugs by name, as far as they are known: a slip is of a face.
    """
    found = slipped(expected, seen, faces or {})
    paper = put_where_they_are(expected, found)
    rest = _against(paper, seen)
    moved, opens = rest.moved, rest.opens
    pinned: tuple[tuple[Pair, Pair], ...] = ()
    if found:
        ends = dict(zip(paper, expected, strict=True))
        told = {m.a for m in rest.moved}
        pinned = tuple(
            (e, p) for p, e in ends.items() if p != e and p[0] not in told and p not in rest.opens
        )
        moved += tuple(
            Moved(a=e[0], expected=e[1], found=p[1])
            if p[0] == e[0]
            else Moved(a=e[1], expected=e[0], found=p[0])  # seen from the far end
            for e, p in pinned
        )
        opens = tuple(ends.get(p, p) for p in rest.opens)
    lost = taken_off(expected, found)
    apart = msgspec.structs.replace(rest, opens=tuple(p for p in rest.opens if p not in lost))
    kind, verdict = _verdict(expected, apart)
    if found:
        verdict = words_of(found) + (f" Beside that: {verdict}" if kind != "none" else "")
        kind = "slip" if kind == "none" else "mixed"
    return Continuity(
        opens=opens,
        bridges=rest.bridges,
        swaps=rest.swaps,
        moved=moved,
        pinned=pinned,
        slip=name_of(found) if found else _alone(rest, faces or {}),
        kind=kind,
        verdict=verdict,
    )


def _alone(found: Continuity, faces: Mapping[str, Connector]) -> Slip:
    """A conductor by itself that is a row or a cavity off, and nothing else the matter."""
    gone = {(m.a, m.expected) for m in found.moved}
    only = found.moved and not found.swaps and set(found.opens) <= gone
    return "row-off" if only and all(_next_to(m, faces) for m in found.moved) else "none"


def _next_to(m: Moved, faces: Mapping[str, Connector]) -> bool:
    """It lies in a cavity beside the one it should be in."""
    (plug, was), (where, now) = split_pin(m.expected), split_pin(m.found)
    if plug != where or was is None or now is None:
        return False
    c = faces.get(plug_of(plug))
    if c is None:
        return abs(now - was) == 1
    return (min(was, now), max(was, now)) in face.neighbours(c)


def _against(expected: Sequence[Pair], seen: Sequence[Pair]) -> Continuity:
    """Each deviation by itself."""
    paper, meter = Nets(expected), Nets(seen)
    missing = [(a, b) for a, b in dict.fromkeys(expected) if not meter.joined(a, b)]
    extra = _once((a, b) for a, b in seen if a != b and not paper.joined(a, b))
    swaps, moved, missing, extra = _swaps(missing, extra, meter)
    moved += [
        Moved(a=a, expected=b, found=other)
        for a, b in missing
        for other in [_elsewhere(a, b, extra)]
        if other
    ]
    return Continuity(
        opens=tuple(missing), bridges=tuple(extra), swaps=tuple(swaps), moved=tuple(moved)
    )


def _once(pairs: Iterable[Pair]) -> list[Pair]:
    """Pairs without repeats, whichever way round."""
    found: dict[frozenset[str], Pair] = {}
    for pair in pairs:
        found.setdefault(frozenset(pair), pair)
    return list(found.values())


def _swaps(
    missing: list[Pair], extra: list[Pair], meter: Nets
) -> tuple[list[Pair], list[Moved], list[Pair], list[Pair]]:
    """Take the swaps out of what is missing and what is too many."""
    swaps: list[Pair] = []
    moved: list[Moved] = []
    left = list(missing)
    for i, (a, b) in enumerate(missing):
        if (a, b) not in left:
            continue
        for c, d in missing[i + 1 :]:
            if (c, d) not in left or not (meter.joined(a, d) and meter.joined(c, b)):
                continue
            swaps.append((b, d))
            moved += [Moved(a=a, expected=b, found=d), Moved(a=c, expected=d, found=b)]
            left = [p for p in left if p not in ((a, b), (c, d))]
            crossed = ({a, d}, {c, b})
            extra = [p for p in extra if not any(_within(p, x, meter) for x in crossed)]
            break
    return swaps, moved, left, extra


def _within(pair: Pair, crossed: set[str], meter: Nets) -> bool:
    """``pair`` is nothing but the crossed conductor: it lies in its net."""
    pin = next(iter(crossed))
    return meter.joined(pair[0], pin) and meter.joined(pair[1], pin)


def _elsewhere(a: str, b: str, extra: Sequence[Pair]) -> str:
    """Where the conductor from ``a`` came out instead of ``b``; empty when nowhere."""
    return next((d if c == a else c for c, d in extra if a in (c, d)), "")


def _verdict(expected: Sequence[Pair], found: Continuity) -> tuple[Kind, str]:
    if not (found.opens or found.bridges or found.swaps):
        return "none", f"All {len(expected)} conductors are where the paper says."
    parts: list[tuple[Kind, str]] = []
    parts += [("swap", f"{a} and {b} have changed places") for a, b in found.swaps]
    gone = {(m.a, m.found) for m in found.moved}
    for m in found.moved:
        if not any(m.expected in s for s in found.swaps):
            words = f"{m.a} comes out at {m.found} instead of {m.expected}"
            parts.append(("moved", words + _one_off(m)))
    left = [
        p for p in found.opens if not any(m.a == p[0] and m.expected == p[1] for m in found.moved)
    ]
    parts += [("open", f"{a} to {b} does not conduct") for a, b in left]
    parts += [
        ("bridge", f"{a} and {b} are bridged{_side_by_side(a, b)}")
        for a, b in found.bridges
        if (a, b) not in gone and (b, a) not in gone
    ]
    kinds = {kind for kind, _ in parts}
    text = "; ".join(words for _, words in parts[:NAMED])
    more = f"; and {len(parts) - NAMED} more" if len(parts) > NAMED else ""
    return (kinds.pop() if len(kinds) == 1 else "mixed"), text[0].upper() + text[1:] + more + "."


def _one_off(m: Moved) -> str:
    (plug, was), (where, now) = split_pin(m.expected), split_pin(m.found)
    if plug != where or was is None or now is None:
        return ""
    return f", {abs(now - was)} off: a row or a cavity miscounted" if was != now else ""


def _side_by_side(a: str, b: str) -> str:
    (plug, n), (other, m) = split_pin(a), split_pin(b)
    if plug == other and n is not None and m is not None and abs(n - m) == 1:
        return ": neighbours, look for a stray strand"
    return ""
