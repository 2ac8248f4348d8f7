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
HELD = -1
"""In the place of a row: a node whose voltage is known."""
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
        self.at: dict[Node, int] = dict.fromkeys(self.fixed, HELD)
        """The row of each node."""
        self.rows: list[dict[int, float]] = []
        """Conductances of the free nodes [S]: row → row → minus what joins them."""
        self.into: list[float] = []
        """Currents into them [A], what comes from held nodes among them."""
        for a, b, ohm in network.ohms:
            self._join(a, b, 1.0 / ohm if ohm > LEAST_OHM else 1.0 / LEAST_OHM)
        for part, piece in zip(network.bent, on, strict=True):
            chosen = part.pieces[piece]
            self._join(part.a, part.b, chosen.siemens)
            self._drive(part.a, part.b, chosen.amps)
        for a, b, amps in network.amps:
            self._drive(a, b, amps)
        self._factored: _Small | _Large | None = None

    def _row(self, node: Node) -> int:
        """The row of a node that is met for the first time."""
        at = self.at[node] = len(self.rows)
        self.rows.append({at: LEAK})
        self.into.append(0.0)
        return at

    def _join(self, a: Node, b: Node, siemens: float) -> None:
        at, rows = self.at, self.rows
        i = at[a] if a in at else self._row(a)
        j = at[b] if b in at else self._row(b)
        if i == j:  # both ends at one voltage, or both held: nothing to be found
            return
        if i < 0:
            rows[j][j] += siemens
            self.into[j] += siemens * self.fixed[a]
            return
        row = rows[i]
        row[i] += siemens
        if j < 0:
            self.into[i] += siemens * self.fixed[b]
        else:
            rows[j][j] += siemens
            row[j] = rows[j][i] = row.get(j, 0.0) - siemens

    def _drive(self, a: Node, b: Node, amps: float) -> None:
        at = self.at
        i = at[a] if a in at else self._row(a)
        j = at[b] if b in at else self._row(b)
        if i >= 0:
            self.into[i] -= amps
        if j >= 0:
            self.into[j] += amps

    def volts(self) -> dict[Node, float]:
        """Volts of every node [V], the held ones with them."""
        found = self._factors().answer(list(self.into))
        return {node: found[i] if i >= 0 else self.fixed[node] for node, i in self.at.items()}

    def moved(self, plus: Node, minus: Node, want: Sequence[Node]) -> list[float]:
        """How far nodes move [V] while 1 A is driven from ``plus`` to ``minus`` outside of it.

        Held nodes, and those it does not have, stand still.
        """
        at = self.at
        i, j = at.get(plus, HELD), at.get(minus, HELD)
        if i == j:
            return [0.0] * len(want)
        right = [0.0] * len(self.rows)
        if i >= 0:
            right[i] = -1.0
        if j >= 0:
            right[j] = 1.0
        rows = [at.get(node, HELD) for node in want]
        found = self._factors().answer(right, ((i, j), rows))
        return [found[row] if row >= 0 else 0.0 for row in rows]

    def _factors(self) -> _Small | _Large:
        if self._factored is None:
            self._factored = (_Small if len(self.rows) <= LARGE else _Large)(self.rows)
        return self._factored


Some = tuple[Iterable[int], Iterable[int]]
"""(rows that currents flow into, rows whose volts are asked for), any of them ``HELD``."""
_Step = tuple[int, float, list[tuple[int, float]]]
"""(row taken out, its pivot, what hangs on it and is taken out later)."""


class _Small:
    """Elimination in the order of least degree, in plain floats [3].

    A current into one row reaches only its ancestors in the tree of the elimination (what hangs on
    it and is taken out next is its parent), and the volts of a row need only those of its own.
    """

    def __init__(self, rows: Sequence[Mapping[int, float]]) -> None:
        left = [dict(row) for row in rows]
        self.steps: list[_Step] = []
        self.turn = [len(rows)] * len(rows)
        """When each row was taken out."""
        waiting = [(len(row), i) for i, row in enumerate(left)]
        heapq.heapify(waiting)
        while waiting:
            degree, i = heapq.heappop(waiting)
            if self.turn[i] < len(rows):
                continue
            row = left[i]
            if len(row) > degree:  # it has grown since: put it back
                heapq.heappush(waiting, (len(row), i))
                continue
            self.turn[i] = len(self.steps)
            pivot = row.pop(i)
            others = list(row.items())
            self.steps.append((i, pivot, others))
            for other, value in others:
                into = left[other]
                del into[i]
                share = value / pivot
                for third, third_value in others:
                    into[third] = into.get(third, 0.0) - share * third_value
                heapq.heappush(waiting, (len(into), other))
        self.above: dict[int, list[int]] = {}

    def _lines(self, rows: Iterable[int]) -> list[_Step]:
        """The steps of some rows and of all their ancestors, in their order."""
        turns: set[int] = set()
        for i in rows:
            if i >= 0:
                turns.update(self.above.get(i) or self._line(i))
        steps = self.steps
        return [steps[t] for t in sorted(turns)]

    def _line(self, i: int) -> list[int]:
        """The turn of a row, and of all its ancestors."""
        found = self.above.get(i)
        if found is None:
            place = self.turn[i]
            others = self.steps[place][2]
            up = min([self.turn[o] for o, _ in others], default=None)
            found = [place] if up is None else [place, *self._line(self.steps[up][0])]
            self.above[i] = found
        return found

    def answer(self, right: list[float], some: Some | None = None) -> list[float]:
        """Volts for currents into the rows, in whose place they are given back.

        Right for all of them, or for those asked for in ``some``.
        """
        down, up = self.steps, self.steps[::-1]
        if some is not None:
            fed, asked = some
            down, up = self._lines(fed), self._lines(asked)[::-1]
        for i, pivot, others in down:
            share = right[i] / pivot
            for other, value in others:
                right[other] -= share * value
        for i, pivot, others in up:
            amps = right[i]
            for other, value in others:
                amps -= value * right[other]
            right[i] = amps / pivot
        return right


class _Large:
    """The sparse solver of SciPy."""

    def __init__(self, rows: Sequence[Mapping[int, float]]) -> None:
        from scipy.sparse import csc_matrix
        from scipy.sparse.linalg import splu

        ends = [0]
        values: list[float] = []
        columns: list[int] = []
        for row in rows:
            columns += row
            values += row.values()
            ends.append(len(values))
        # symmetric, so that rows and columns are the same thing
        self.lu = splu(csc_matrix((values, columns, ends)), permc_spec="MMD_AT_PLUS_A")

    def answer(self, right: list[float], some: Some | None = None) -> list[float]:
        """Volts of all rows for currents into them."""
        import numpy as np

        return self.lu.solve(np.array(right)).tolist()  # type: ignore[no-any-return]


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
