"""Nodal analysis of a direct-current network.

Conductances between nodes, currents into them, and a few parts whose law bends (a lamp, a load that
takes less once its supply falls): straight between their corners, so that with every part on one of
its pieces the network is linear, and the pieces are changed until the solution lies on all of them.

References:
    [1] Ho, Ruehli, Brennan, *The modified nodal approach to network analysis*, IEEE Trans. CAS 22
        (1975): nodes with a known voltage are taken to the right-hand side.
    [2] Katzenelson, *An algorithm for solving nonlinear resistor networks*, Bell Syst. Tech. J. 44
        (1965): piece by piece.
    [3] George & Liu, *Computer Solution of Large Sparse Positive Definite Systems* (1981), ch. 5:
        elimination in the order of least degree.
"""

from __future__ import annotations

import functools
import heapq
from collections.abc import Hashable, Iterable, Mapping, Sequence

from zombrel.job.value import Value

Node = Hashable
"""Whatever names a place where conductors meet."""
GROUND: Node = "⏚"
"""Battery negative, 0 V."""
LEAK = 1e-10
"""Conductance from every node to battery negative [S]: dirt and damp; a line that is joined to
nothing else rests at 0 V by it."""
LEAST_OHM = 1e-5
"""No joint has less [Ω]."""
LARGE = 80
"""So many unknown nodes are left to the sparse solver; below it its import costs more."""
FEW = 10
"""Of so few nodes all are worked out: to look for those that matter takes longer."""
ROUNDS = 60
"""So often pieces are changed at most."""


class Piece(Value, frozen=True):
    """One straight piece of a bent law, from a voltage on: I = siemens · V + amps."""

    above: float
    siemens: float
    amps: float


class Bent(Value, frozen=True):
    """A part between two nodes whose current rises with voltage in straight pieces."""

    a: Node
    b: Node
    pieces: tuple[Piece, ...]
    """Rising in ``above``; the first reaches down without end."""


class Network(Value, frozen=True):
    """What is joined to what. Currents flow from the first node to the second."""

    ohms: Sequence[tuple[Node, Node, float]] = ()
    """(node, node, Ω)."""
    amps: Sequence[tuple[Node, Node, float]] = ()
    """(from, to, A): a current that is driven whatever the voltage."""
    bent: Sequence[Bent] = ()
    fixed: Mapping[Node, float] = {}
    """Volts of nodes that are held."""


def load(a: Node, b: Node, amps: float, full_v: float) -> Bent:
    """A load that takes ``amps`` [A] from ``full_v`` [V] on and proportionally less below it."""
    return Bent(a, b, (Piece(float("-inf"), amps / full_v, 0.0), Piece(full_v, 0.0, amps)))


class Solver:
    """A network with its known nodes taken out, factored once for any number of currents."""

    def __init__(self, network: Network, on: Sequence[int]) -> None:
        """``on`` the piece that each bent part stands on."""
        self.fixed = {GROUND: 0.0, **network.fixed}
        self.rows: dict[Node, dict[Node, float]] = {}
        self.into: dict[Node, float] = {}
        for a, b, ohm in network.ohms:
            self._join(a, b, 1.0 / (ohm if ohm > LEAST_OHM else LEAST_OHM))
        for part, piece in zip(network.bent, on, strict=True):
            chosen = part.pieces[piece]
            self._join(part.a, part.b, chosen.siemens)
            self._drive(part.a, part.b, chosen.amps)
        for a, b, amps in network.amps:
            self._join(a, b, 0.0)
            self._drive(a, b, amps)
        self._factored: _Small | _Large | None = None

    def _join(self, a: Node, b: Node, siemens: float) -> None:
        at_a, at_b = self.fixed.get(a), self.fixed.get(b)
        if at_a is None:
            self._one_side(a, b, siemens, at_b)
        if at_b is None:
            self._one_side(b, a, siemens, at_a)

    def _one_side(self, node: Node, other: Node, siemens: float, held: float | None) -> None:
        """What a conductor adds to the row of a free ``node``; ``held`` volts of the ``other``."""
        row = self.rows.get(node)
        if row is None:
            row = self.rows[node] = {node: LEAK}
            self.into[node] = 0.0
        row[node] += siemens
        if held is not None:
            self.into[node] += siemens * held
        elif other != node:
            row[other] = row.get(other, 0.0) - siemens

    def _drive(self, a: Node, b: Node, amps: float) -> None:
        if a in self.into:
            self.into[a] -= amps
        if b in self.into:
            self.into[b] += amps

    def volts(self) -> dict[Node, float]:
        """Volts of every node, the held ones with them."""
        return {**self.fixed, **self.answer(self.into)}

    def answer(
        self, into: Mapping[Node, float], want: Iterable[Node] | None = None
    ) -> dict[Node, float]:
        """Volts [V] for currents into the free nodes [A], the held ones at 0 V but for those.

        Only of the nodes in ``want``, and perhaps of some more, when it is given.
        """
        if self._factored is None:
            self._factored = (_Small if len(self.rows) <= LARGE else _Large)(self.rows)
        return self._factored.answer(into, want)


class _Small:
    """Elimination in the order of least degree, in plain floats [3].

    A current into one node reaches only the nodes that were taken out after it and hang on it, and
    the volts of a node need only those: its ancestors in the tree of the elimination.
    """

    def __init__(self, rows: Mapping[Node, Mapping[Node, float]]) -> None:
        left = {node: dict(row) for node, row in rows.items()}
        self.order: list[Node] = []
        self.steps: dict[Node, tuple[float, list[tuple[Node, float]]]] = {}
        waiting = [(len(row), i, node) for i, (node, row) in enumerate(left.items())]
        heapq.heapify(waiting)
        while waiting:
            degree, i, node = heapq.heappop(waiting)
            row = left.get(node)
            if row is None:
                continue
            if len(row) > degree:  # it has grown since: put it back
                heapq.heappush(waiting, (len(row), i, node))
                continue
            del left[node]
            pivot = row.pop(node)
            others = list(row.items())
            self.order.append(node)
            self.steps[node] = (pivot, others)
            for other, value in others:
                into = left[other]
                into.pop(node, None)
                share = value / pivot
                for third, third_value in others:
                    into[third] = into.get(third, 0.0) - share * third_value
                heapq.heappush(waiting, (len(into), i, other))

    @functools.cached_property
    def place(self) -> dict[Node, int]:
        """When each node was taken out."""
        return {node: i for i, node in enumerate(self.order)}

    @functools.cached_property
    def up(self) -> dict[Node, Node | None]:
        """What hangs on a node and is taken out next after it."""
        place = self.place
        return {
            node: min([o for o, _ in others], key=place.__getitem__, default=None)
            for node, (_, others) in self.steps.items()
        }

    def _lines(self, nodes: Iterable[Node]) -> list[Node]:
        """The nodes and all their ancestors, in the order of elimination."""
        found: set[Node] = set()
        for start in nodes:
            node: Node | None = start if start in self.steps else None
            while node is not None and node not in found:
                found.add(node)
                node = self.up[node]
        return sorted(found, key=self.place.__getitem__)

    def answer(self, into: Mapping[Node, float], want: Iterable[Node] | None) -> dict[Node, float]:
        """Volts for currents into the nodes."""
        right = dict(into)
        steps = self.steps
        order = self.order
        if want is not None and len(order) > FEW:
            order = self._lines({*into, *want})
        for node in order:
            amps = right.get(node, 0.0)
            if amps:
                pivot, others = steps[node]
                for other, value in others:
                    right[other] = right.get(other, 0.0) - amps * value / pivot
        found: dict[Node, float] = {}
        for node in reversed(order):
            pivot, others = steps[node]
            amps = right.get(node, 0.0)
            for other, value in others:
                amps -= value * found[other]
            found[node] = amps / pivot
        return found


class _Large:
    """The sparse solver of SciPy."""

    def __init__(self, rows: Mapping[Node, Mapping[Node, float]]) -> None:
        from scipy.sparse import csc_matrix
        from scipy.sparse.linalg import splu

        self.at = {node: i for i, node in enumerate(rows)}
        ends = [0]
        values: list[float] = []
        columns: list[int] = []
        for row in rows.values():
            for other, value in row.items():
                columns.append(self.at[other])
                values.append(value)
            ends.append(len(values))
        # symmetric, so that rows and columns are the same thing
        self.lu = splu(csc_matrix((values, columns, ends)), permc_spec="MMD_AT_PLUS_A")

    def answer(self, into: Mapping[Node, float], want: Iterable[Node] | None) -> dict[Node, float]:
        """Volts for currents into the nodes."""
        import numpy as np

        right = np.zeros(len(self.at))
        for node, amps in into.items():
            right[self.at[node]] = amps
        return dict(zip(self.at, self.lu.solve(right).tolist(), strict=True))


class Solved(Value, frozen=True):
    """A network at rest."""

    volts: dict[Node, float]
    solver: Solver
    """Linear about this point."""
    settled: bool
    """Every bent part lies on its piece; False when no such state was found."""


def solve(network: Network) -> Solved:
    """Volts of every node of ``network`` [V]."""
    # a load that takes the same whatever it gets is full, anything else at rest, to begin with
    on = [len(p.pieces) - 1 if not p.pieces[-1].siemens else 0 for p in network.bent]
    for turn in range(ROUNDS):
        solver = Solver(network, on)
        volts = solver.volts()
        off = [i for i, p in enumerate(network.bent) if _piece(p, volts) != on[i]]
        if not off:
            return Solved(volts, solver, True)
        # all at once to begin with; one at a time once that has gone round in a circle
        for i in off if turn < ROUNDS // 3 else off[:1]:
            on[i] = _piece(network.bent[i], volts)
    return Solved(volts, solver, False)


def _piece(part: Bent, volts: Mapping[Node, float]) -> int:
    across = volts[part.a] - volts[part.b]
    place = len(part.pieces) - 1
    while place and across < part.pieces[place].above - 1e-9:
        place -= 1
    return place


def flow(part: Bent, volts: Mapping[Node, float]) -> float:
    """Current through a bent part [A]."""
    piece = part.pieces[_piece(part, volts)]
    return piece.siemens * (volts[part.a] - volts[part.b]) + piece.amps


def reach(start: Iterable[Node], joined: Iterable[tuple[Node, Node]]) -> set[Node]:
    """Every node that conductors lead to from ``start``."""
    near: dict[Node, list[Node]] = {}
    for a, b in joined:
        near.setdefault(a, []).append(b)
        near.setdefault(b, []).append(a)
    found = set(start)
    todo = list(found)
    while todo:
        for other in near.get(todo.pop(), ()):
            if other not in found:
                found.add(other)
                todo.append(other)
    return found
