"""The shortest order of probes that still finds every open, swap, and bridge between neighbours.

A conductor is tested by a probe between two pins of its net. In a net that branches like a tree
with L ends, ⌈L/2⌉ probes between ends run over every branch, and no fewer can (each end needs
one). A bridge between two nets shows only in a probe across just these two, so each pair of nets
with neighbouring pins needs one of its own. Their sum is therefore the least there is.

Reference: minimum path cover of the edges of a tree, e.g. West, *Introduction to Graph Theory*,
§2.1 (a tree with 2k leaves is the union of k paths).
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence

from zombrel.harness.plugs.conducts import Nets, Pair, split_pin
from zombrel.job.value import Value


class Probe(Value, frozen=True):
    """Two pins to touch and what the meter should say."""

    a: str
    b: str
    conducts: bool
    rows: tuple[Pair, ...] = ()
    """The conductors it runs over, as listed."""


def probe_order(
    expected: Sequence[Pair], beside: Sequence[Pair] | None = None
) -> tuple[Probe, ...]:
    """Probes that change at least one answer for any single open, swap or neighbour bridge.

    Args:
        expected: one conductor a pair.
        beside: neighbouring pins; left out, pins of one plug that follow in number.

    A conductor that closes a loop within its net cannot be told from its twin by probing ends;
    loops are opened at the listed pair that closes them, which is then probed by itself.
    """
    rows = [p for p in dict.fromkeys(expected) if p[0] != p[1]]
    nets = Nets(rows)
    found = _covering(rows)
    across = _across(rows, nets, beside)
    return tuple(_walk(found, across))


def _covering(rows: Sequence[Pair]) -> list[Probe]:
    """Probes over every conductor: paths between the ends of each net."""
    grown = Nets([])
    tree: dict[str, list[str]] = {}
    probes: list[Probe] = []
    loops: list[Probe] = []
    for a, b in rows:
        if grown.joined(a, b):
            loops.append(Probe(a, b, conducts=True, rows=((a, b),)))
            continue
        grown.join(a, b)
        tree.setdefault(a, []).append(b)
        tree.setdefault(b, []).append(a)
    by_net: dict[str, list[str]] = {}
    for pin in tree:
        by_net.setdefault(grown.of(pin), []).append(pin)
    listed = {frozenset(pair): pair for pair in reversed(rows)}
    for pins in by_net.values():
        for a, b in _paths(pins, tree):
            path = _between(a, b, tree)
            over = tuple(listed[frozenset(step)] for step in itertools.pairwise(path))
            probes.append(Probe(a, b, conducts=True, rows=over))
    return probes + loops


def _between(a: str, b: str, tree: dict[str, list[str]]) -> list[str]:
    """The pins from ``a`` to ``b`` along a tree."""
    before: dict[str, str] = {a: a}
    stack = [a]
    while b not in before:
        pin = stack.pop()
        for other in tree[pin]:
            if other not in before:
                before[other] = pin
                stack.append(other)
    path = [b]
    while path[-1] != a:
        path.append(before[path[-1]])
    return path[::-1]


def _paths(pins: Sequence[str], tree: dict[str, list[str]]) -> list[Pair]:
    """⌈L/2⌉ probes between the L ends of one tree that together run over all of it.

    Ends taken in the order of a walk round the tree and paired half-way across cover every branch.
    """
    ends = _ends_in_walk(pins, tree)
    half = -(-len(ends) // 2)
    return [(ends[i], ends[i + half] if i + half < len(ends) else ends[0]) for i in range(half)]


def _ends_in_walk(pins: Sequence[str], tree: dict[str, list[str]]) -> list[str]:
    start = next((p for p in pins if len(tree[p]) > 1), pins[0])
    ends, stack, seen = [], [start], {start}
    while stack:
        pin = stack.pop()
        if len(tree[pin]) == 1:
            ends.append(pin)
        for other in reversed(tree[pin]):
            if other not in seen:
                seen.add(other)
                stack.append(other)
    return ends


def _across(rows: Sequence[Pair], nets: Nets, beside: Sequence[Pair] | None) -> list[Probe]:
    """One probe for each two nets with neighbouring pins, far ends preferred."""
    if beside is None:
        beside = (*_in_number([b for _, b in rows]), *_in_number([a for a, _ in rows]))
    known = set(itertools.chain.from_iterable(rows))
    found: dict[frozenset[str], Probe] = {}
    for a, b in beside:
        if a in known and b in known and not nets.joined(a, b):
            across = frozenset((nets.of(a), nets.of(b)))
            found.setdefault(across, Probe(a, b, conducts=False))
    return list(found.values())


def _in_number(pins: Sequence[str]) -> list[Pair]:
    """Pins of each plug that follow one another in number."""
    plugs: dict[str, dict[int, str]] = {}
    for pin in pins:
        plug, n = split_pin(pin)
        if n is not None:
            plugs.setdefault(plug, {})[n] = pin
    return [
        (held[x], held[y]) for held in plugs.values() for x, y in itertools.pairwise(sorted(held))
    ]


def _walk(found: Sequence[Probe], across: Sequence[Probe]) -> list[Probe]:
    """Order the probes so that as few tips as can be are moved from one to the next.

    Greedy: a probe that shares a pin with the last comes next; between them the order of the paper
    holds.
    """
    left = [*found, *across]
    order: list[Probe] = []
    while left:
        last = order[-1] if order else None
        i = next(
            (i for i, p in enumerate(left) if last is not None and {p.a, p.b} & {last.a, last.b}),
            0,
        )
        order.append(left.pop(i))
    return order


def answers(probes: Sequence[Probe], seen: Sequence[Pair]) -> tuple[bool, ...]:
    """What a meter says at each probe of a lead in which ``seen`` conducts."""
    nets = Nets(seen)
    return tuple(nets.joined(p.a, p.b) for p in probes)
