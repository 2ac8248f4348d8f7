"""What a continuity check found against what the paper says, and the likeliest slip behind it.

Pins are named ``plug.cavity``. What conducts to what forms nets; a pair whose ends lie in one net
of the paper is as it should be, whether or not the paper lists that very pair.

Reference: nets as connected components of an undirected graph, any textbook of graph theory.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from typing import Literal

from zombrel.job.sheet import Frozen

A_ROW = 2
"""More conductors moved alike are a row shifted, not a swap."""
NAMED = 6
"""So many things are said one by one."""

Pair = tuple[str, str]
Slip = Literal["none", "swap", "row off", "mirrored", "wrong cavity", "bridge", "open", "mixed"]


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
    slip: Slip = "none"
    verdict: str = ""

    @property
    def right(self) -> bool:
        """Everything is as the paper says."""
        return self.slip == "none"


class Nets:
    """Which pins conduct to one another."""

    def __init__(self, pairs: Iterable[Pair]) -> None:
        self._up: dict[str, str] = {}
        for a, b in pairs:
            self.join(a, b)

    def join(self, a: str, b: str) -> None:
        """``a`` and ``b`` conduct from now on."""
        self._up[self.of(a)] = self.of(b)

    def of(self, pin: str) -> str:
        """A name for the net ``pin`` lies in; a pin never mentioned is its own."""
        self._up.setdefault(pin, pin)
        while self._up[pin] != pin:
            self._up[pin] = self._up[self._up[pin]]
            pin = self._up[pin]
        return pin

    def joined(self, a: str, b: str) -> bool:
        """``a`` conducts to ``b``."""
        return self.of(a) == self.of(b)


def split_pin(pin: str) -> tuple[str, int | None]:
    """``"P1.12" -> ("P1.", 12)``; no number: None."""
    found = re.search(r"(\d+)$", pin)
    return (pin[: found.start()], int(found[1])) if found else (pin, None)


def compare(expected: Sequence[Pair], seen: Sequence[Pair]) -> Continuity:
    """What differs between the paper and the meter.

    Args:
        expected: one conductor a pair, (near end, far end).
        seen: the pairs that conduct, in any order and either way round.
    """
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
    slip, verdict = _verdict(expected, missing, extra, swaps, moved)
    return Continuity(
        opens=tuple(missing),
        bridges=tuple(extra),
        swaps=tuple(swaps),
        moved=tuple(moved),
        slip=slip,
        verdict=verdict,
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


def _verdict(
    expected: Sequence[Pair],
    opens: list[Pair],
    bridges: list[Pair],
    swaps: list[Pair],
    moved: list[Moved],
) -> tuple[Slip, str]:
    if not (opens or bridges or swaps):
        return "none", f"All {len(expected)} conductors are where the paper says; no bridges."
    if len(moved) > A_ROW:
        pattern = _pattern(moved)
        if pattern is not None:
            return pattern
    parts: list[tuple[Slip, str]] = []
    parts += [("swap", f"{a} and {b} have changed places") for a, b in swaps]
    gone = {(m.a, m.found) for m in moved}
    for m in moved:
        if any(m.expected in s for s in swaps):
            continue
        near = _one_off(m)
        parts.append(
            (
                "row off" if near else "wrong cavity",
                f"{m.a} comes out at {m.found} instead of {m.expected}" + near,
            )
        )
    left = [p for p in opens if not any(m.a == p[0] and m.expected == p[1] for m in moved)]
    parts += [("open", f"{a} to {b} does not conduct") for a, b in left]
    parts += [
        ("bridge", f"{a} and {b} are bridged{_side_by_side(a, b)}")
        for a, b in bridges
        if (a, b) not in gone and (b, a) not in gone
    ]
    kinds = {kind for kind, _ in parts}
    text = "; ".join(words for _, words in parts[:NAMED])
    more = f"; and {len(parts) - NAMED} more" if len(parts) > NAMED else ""
    return (kinds.pop() if len(kinds) == 1 else "mixed"), text[0].upper() + text[1:] + more + "."


def _pattern(moved: Sequence[Moved]) -> tuple[Slip, str] | None:
    """One slip that explains every conductor that moved."""
    steps, sums, plugs = set(), set(), set()
    for m in moved:
        (plug, was), (where, now) = split_pin(m.expected), split_pin(m.found)
        if was is None or now is None or plug != where:
            return None
        steps.add(now - was)
        sums.add(now + was)
        plugs.add(plug)
    name = next(iter(plugs)).rstrip(".- ") if len(plugs) == 1 else ""
    if not name:
        return None
    if len(sums) == 1 and len(moved) > A_ROW:
        total = next(iter(sums))
        return "mirrored", (
            f"{name} is pinned as its mirror image: what belongs in n is in {total} − n. It was "
            "counted from the other side of the face."
        )
    if len(steps) == 1:
        step = next(iter(steps))
        return "row off", (
            f"Everything that moved in {name} sits {abs(step)} "
            f"{'further on' if step > 0 else 'further back'}: one row or one cavity off in "
            "counting."
        )
    return None


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
