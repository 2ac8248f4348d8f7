"""Ways through the car, what lies on them, and the bundles they make."""

from __future__ import annotations

import itertools
import math
import unittest

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import apply, at, demo, put
from zombrel.catalog import DEMO
from zombrel.catalog.plans import plans
from zombrel.harness import route
from zombrel.harness.bundle import PACKED, bundle_diameter, loom_size
from zombrel.harness.coupling import clear_spacing, noise
from zombrel.harness.laid import bundles, laid
from zombrel.harness.route import nature_of, pickups
from zombrel.job.edits import Many
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.wiring import Way, Zone
from zombrel.store.zjob import load

CAR = plans()[0]


def small(
    count: int, links: list[tuple[int, int, float]], heat: list[float]
) -> tuple[tuple[Zone, ...], tuple[Way, ...]]:
    """A plan of a few zones."""
    zones = tuple(
        Zone(id=f"z{i}", name=f"z{i}", x_m=i, y_m=0, over_ambient_k=heat[i]) for i in range(count)
    )
    seen: dict[frozenset[int], Way] = {}
    for a, b, length in links:
        if a % count != b % count:
            key = frozenset((a % count, b % count))
            seen.setdefault(
                key,
                Way(id=f"{a}-{b}-{length}", a=f"z{a % count}", b=f"z{b % count}", length_m=length),
            )
    return zones, tuple(seen.values())


class Ways(unittest.TestCase):
    @given(
        st.integers(3, 5),
        st.lists(
            st.tuples(st.integers(0, 4), st.integers(0, 4), st.floats(0.2, 5)),
            min_size=3,
            max_size=9,
        ),
        st.lists(st.sampled_from((0.0, 35.0, 60.0)), min_size=5, max_size=5),
        st.sampled_from(tuple(route.PRICES)),
    )
    @settings(max_examples=80, deadline=None)
    def test_no_way_is_cheaper(self, count, links, heat, nature) -> None:  # type: ignore[no-untyped-def]
        """Against every simple path, tried one by one."""
        zones, ways = small(count, links, heat)
        names = [z.id for z in zones]
        prices = []
        for n in range(count - 1):
            for middle in itertools.permutations(names[1:-1], min(n, count - 2)):
                via = (names[0], *middle, names[-1])
                if route.connected(zones, ways, via):
                    prices.append(route.measure(zones, ways, nature, via).price)
        if not prices:
            with self.assertRaisesRegex(Problem, "No way"):
                route.best(zones, ways, nature, names[0], names[-1])
            return
        best = route.best(zones, ways, nature, names[0], names[-1])
        self.assertAlmostEqual(route.measure(zones, ways, nature, best).price, min(prices))
        rivals = [r.price for r in route.runs(zones, ways, nature, names[0], names[-1], 3)]
        self.assertEqual([round(p, 9) for p in rivals], [round(p, 9) for p in sorted(prices)[:3]])

    def test_a_pick_up_hates_coils_and_a_feed_hates_heat(self) -> None:
        zones, ways = demo().zones, demo().ways
        coil = put(
            demo(),
            "zones.bay-left.near",
            [{"what": "coil", "name": "coil 1", "spacing_m": 0.05, "along_m": 0.4}],
        )
        quiet = route.zone_price(by_id(zones, "bay-left"), "pick-up")  # type: ignore[arg-type]
        loud = route.zone_price(by_id(coil.zones, "bay-left"), "pick-up")  # type: ignore[arg-type]
        self.assertGreater(loud, quiet + 1)
        hot = by_id(zones, "bay-right")
        assert hot is not None
        self.assertGreater(route.zone_price(hot, "power"), 2 * route.zone_price(hot, "signal"))
        way = route.best(zones, ways, "signal", "hub-left", "dash")
        self.assertEqual(way, ("hub-left", "sill-left", "foot-left", "dash"))
        bag = put(demo(), "zones.sill-left.airbag", True)
        self.assertNotIn("sill-left", route.best(bag.zones, bag.ways, "signal", "hub-left", "dash"))

    def test_shipped_plans_hang_together(self) -> None:
        for p in plans():
            job = Job(zones=p.zones, ways=p.ways)
            for z in p.zones[1:]:
                self.assertTrue(route.best(job.zones, job.ways, "signal", p.zones[0].id, z.id))


class Laid(unittest.TestCase):
    def test_length_heat_and_neighbours_follow_the_way(self) -> None:
        job = demo()
        wire = by_id(laid(job).wires, "W1")
        assert wire is not None
        zones = {z.id: z for z in job.zones}
        ways = {frozenset((w.a, w.b)): route.way_length(w, zones) for w in job.ways}
        way = sum(ways[frozenset(p)] for p in itertools.pairwise(wire.via))
        self.assertEqual(wire.length_m, round(math.ceil((way + 0.4) / 0.05 - 1e-9) * 0.05, 2))
        self.assertEqual(wire.over_ambient_k, 35)
        self.assertEqual([n.name for n in wire.neighbours], ["coil 2"])
        moved = put(job, "wires.W1.via", ["hub-left", "sill-left", "foot-left", "dash"])
        there = by_id(laid(moved).wires, "W1")
        assert there is not None
        self.assertEqual(([n.name for n in there.neighbours], there.over_ambient_k), ([], 10))
        hotter = put(job, "zones.bay-left.over_ambient_k", 50)
        self.assertEqual(by_id(laid(hotter).wires, "W1").over_ambient_k, 50)  # type: ignore[union-attr]
        self.assertIs(laid(laid(job)).wires[0].via, laid(job).wires[0].via)

    def test_measured_lengths_hold_and_lost_ways_keep_what_was_typed(self) -> None:
        job = put(put(demo(), "wires.W1.fixed", True), "wires.W1.length_m", 7.7)
        self.assertEqual(by_id(laid(job).wires, "W1").length_m, 7.7)  # type: ignore[union-attr]
        lost = put(demo(), "wires.W1.via", ["hub-left", "dash"])
        self.assertEqual(by_id(laid(lost).wires, "W1").length_m, 5.2)  # type: ignore[union-attr]
        found = {f.id: f for f in at(lost).findings}["unrouted"]
        self.assertIn("W1", found.text)
        again = apply(lost, found.mends[0].edit or Many(edits=()))
        self.assertNotIn("unrouted", {f.id for f in at(again).findings})

    def test_one_action_takes_the_noise_and_the_heat_away(self) -> None:
        for number, key, label in (
            ("0412", "noise-W1-0", "sill left"),
            ("0413", "fuse-W12", "bulkhead left"),
        ):
            job = load(DEMO / f"{number}.zjob")
            found = {f.id: f for f in at(job).findings}[key]
            self.assertIn(label, found.mends[0].label)
            assert found.mends[0].edit is not None
            after = apply(job, found.mends[0].edit)
            self.assertNotIn(key, {f.id for f in at(after).findings})

    def test_too_thick_for_its_hole(self) -> None:
        job = put(demo(), "ways.bulkhead-left-foot-left.hole_mm", 4.0)
        self.assertIn("hole-bulkhead-left-foot-left", {f.id for f in at(job).findings})
        bare = put(demo(), "ways.bulkhead-left-foot-left.grommet", False)
        self.assertIn("No grommet", " ".join(f.title for f in at(bare).findings))
        self.assertTrue(all(b.fits for b in bundles(laid(demo()))))


class Bundles(unittest.TestCase):
    def test_packed_circles_of_the_table(self) -> None:
        """Graham et al. 1998: one, two, three, four and seven equal circles in a circle."""
        for n, ratio in ((1, 1), (2, 2), (3, 1 + 2 / math.sqrt(3)), (4, 1 + math.sqrt(2)), (7, 3)):
            self.assertAlmostEqual(bundle_diameter([2.0] * n), 2.0 * ratio, delta=2e-4)
        self.assertEqual(len(PACKED), 12)
        self.assertEqual(bundle_diameter([1.6, 1.9]), 3.5)

    @given(st.lists(st.floats(0.5, 8), min_size=1, max_size=30), st.floats(0.5, 8))
    def test_bounds_and_growth(self, wires: list[float], more: float) -> None:
        d = bundle_diameter(wires)
        self.assertGreaterEqual(d * d, sum(x * x for x in wires) * (1 - 1e-9))
        self.assertLessEqual(d, sum(wires) * 1.0001)
        self.assertGreaterEqual(bundle_diameter([*wires, more]), d - 1e-9)
        self.assertAlmostEqual(bundle_diameter([2 * x for x in wires]), 2 * d)

    def test_looms(self) -> None:
        self.assertEqual([loom_size(x) for x in (4.5, 4.6, 12.9)], [4.5, 7.5, 13.0])
        for bad in ([], [0.0], [-1.0]):
            with self.assertRaises(Problem):
                bundle_diameter(bad)
        with self.assertRaisesRegex(Problem, "split it"):
            loom_size(60)


class Coupled(unittest.TestCase):
    def test_a_lead_that_may_pick_up_anything_may_lie_on_the_coil(self) -> None:
        """The spacing falls with what is allowed, down to nothing, however much that is."""
        found = [clear_spacing("coil", 1.0, 100.0, volts) for volts in (0.1, 1.0, 1e3, 1e9)]
        self.assertEqual(found, sorted(found, reverse=True))
        self.assertLess(found[-1], 1e-9)
        self.assertAlmostEqual(noise("coil", found[0], 1.0, 100.0, twisted=False), 0.1, places=6)

    def test_what_a_wire_is_to_the_router(self) -> None:
        job = demo()
        bare = pickups(job)
        wire = next(w for w in job.wires if w.carries == "signal" and w.a.place in bare)
        self.assertEqual(nature_of(wire, bare), "pick-up")
        self.assertEqual(nature_of(wire), "signal")
        power = msgspec.structs.replace(wire, carries="power")
        self.assertEqual(nature_of(power, bare), "power")


if __name__ == "__main__":
    unittest.main()
