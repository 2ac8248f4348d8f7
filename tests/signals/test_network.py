"""Nodal analysis against sums by hand, against the sparse solver, and by properties."""

from __future__ import annotations

import random
import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.demo import demo, put
from zombrel.signals.brake import lamp_law
from zombrel.signals.circuit.build import DRIVER_OHM, Electric, build
from zombrel.signals.circuit.network import (
    GROUND,
    LARGE,
    Bent,
    Network,
    Solver,
    flow,
    load,
    solve,
)
from zombrel.signals.circuit.rest import islands


def ladder(rungs: int) -> Network:
    """Equal resistors, a volt at its head."""
    series = [(i, i + 1, 1.0) for i in range(rungs)]
    across = [(i + 1, GROUND, 1.0) for i in range(rungs)]
    return Network(ohms=[*series, *across], fixed={0: 1.0})


def any_network(rng: random.Random, nodes: int) -> Network:
    ohms = [(i, rng.randrange(i) if i else GROUND, 10 ** rng.uniform(-3, 5)) for i in range(nodes)]
    ohms += [
        (rng.randrange(nodes), rng.randrange(nodes), 10 ** rng.uniform(-3, 5))
        for _ in range(nodes // 2)
    ]
    return Network(ohms=ohms, amps=[(GROUND, rng.randrange(nodes), 1.0)])


class ByHand(unittest.TestCase):
    def test_a_ladder_falls_by_fibonacci_numbers(self) -> None:
        """n rungs of equal resistors: V(k) = F(2(n − k) + 1) ÷ F(2n + 1)."""
        fib = [0, 1]
        while len(fib) < 2 * LARGE + 60:
            fib.append(fib[-1] + fib[-2])
        for rungs in (1, 2, 5, 20, LARGE + 20):
            volts = solve(ladder(rungs)).volts
            for k in range(0, min(rungs, 12) + 1):
                want = fib[2 * (rungs - k) + 1] / fib[2 * rungs + 1]
                self.assertAlmostEqual(volts[k], want, delta=1e-6 * want)

    def test_a_load_behind_a_wire(self) -> None:
        """2 A through 0.1 Ω there and 0.2 Ω back from 12 V; below 6 V it takes less."""
        for ohm, amps in ((0.1, 2.0), (12.0, 12.0 / (12.0 + 0.2 + 3.0))):
            part = load("p", "g", 2.0, 6.0)
            found = solve(
                Network(ohms=[("+", "p", ohm), ("g", GROUND, 0.2)], bent=[part], fixed={"+": 12.0})
            )
            self.assertAlmostEqual(flow(part, found.volts), amps, places=6)
            self.assertAlmostEqual(found.volts["g"], 0.2 * amps, places=6)
            self.assertTrue(found.settled)

    def test_lamps(self) -> None:
        """Two 21 W filaments at their rated volts; LED lamps pulled up by 4.7 kΩ (brake sums)."""
        lit = Bent("a", GROUND, lamp_law("filament", 21, 2))
        self.assertAlmostEqual(flow(lit, {"a": 13.5, GROUND: 0.0}), 42 / 13.5, places=9)
        led = Bent("a", GROUND, lamp_law("led", 21, 2))
        found = solve(Network(ohms=[("+", "a", 4700.0)], bent=[led], fixed={"+": 13.8}))
        self.assertAlmostEqual(
            found.volts["a"], (13.8 / 4700 + 6.8 / 150) / (1 / 4700 + 1 / 150), places=4
        )

    def test_a_line_that_leads_nowhere_rests_at_nothing(self) -> None:
        volts = solve(Network(ohms=[("a", "b", 1.0)], amps=[(GROUND, "c", 0.0)])).volts
        self.assertEqual(volts["a"], 0.0)
        self.assertEqual(volts["c"], 0.0)


class Whole(unittest.TestCase):
    def test_both_solvers_agree(self) -> None:
        rng = random.Random(7)
        for nodes in (3, 10, 40, LARGE + 30):
            ours = Solver(any_network(rng, nodes), ())
            volts = ours.volts()
            at = {i: volts[node] for node, i in ours.at.items()}
            for i, (row, amps) in enumerate(zip(ours.rows, ours.into, strict=True)):
                # what flows in flows out: Kirchhoff's first law at every node
                out = sum(s * at[j] for j, s in row.items())
                self.assertAlmostEqual(out, amps, delta=1e-5 * max(1, abs(at[i])))

    def test_a_conductor_with_both_ends_at_one_node_carries_nothing(self) -> None:
        """Kirchhoff's second law: a loop of one resistor has no voltage in it."""
        lone = Network(ohms=[("a", GROUND, 2.0)], amps=[(GROUND, "a", 3.0)])
        for more in ([], [("a", "a", 0.01)], [("a", "a", 0.01), (GROUND, GROUND, 1.0)]):
            with self.subTest(more=more):
                volts = solve(lone.but(ohms=[*lone.ohms, *more])).volts
                self.assertAlmostEqual(volts["a"], 6.0, places=6)

    @given(st.integers(0, 10**6), st.integers(3, 25))
    def test_reciprocity(self, seed: int, nodes: int) -> None:
        """A current at i lifts j as the same at j lifts i (reciprocity theorem)."""
        rng = random.Random(seed)
        solver = Solver(any_network(rng, nodes), ())
        i, j = rng.randrange(nodes), rng.randrange(nodes)
        there, back = solver.moved(GROUND, i, [j])[0], solver.moved(GROUND, j, [i])[0]
        self.assertAlmostEqual(there, back, delta=1e-6 * max(1.0, abs(there)))


class NoSupply(unittest.TestCase):
    def test_behind_a_divider_without_supply_there_is_nothing(self) -> None:
        job = put(demo(), "chains.speed-pace.hops", [{"type": "divider", "by": 7, "out_v": 5.0}])
        for key, driven in (("on", [5.0 / DRIVER_OHM]), ("off", [])):
            made = [build(job, island, Electric(key)) for island in islands(job).islands]  # type: ignore[arg-type]
            amps = [a for b in made for _, node, a in b.network.amps if str(node).endswith(">1")]
            with self.subTest(key):
                self.assertEqual(amps, driven)


if __name__ == "__main__":
    unittest.main()
