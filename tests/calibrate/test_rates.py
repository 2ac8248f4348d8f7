"""Pulse rates against the scenario's figures and textbook firing counts."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zombrel.calibrate import preferred, rates
from zombrel.calibrate.roll import roll
from zombrel.job.problem import Problem

AROUND = 3.05 * 0.627


class Parts(unittest.TestCase):
    def test_the_parts_on_either_side(self) -> None:
        """E24 and E96 of IEC 60063."""
        self.assertEqual(preferred.around("E24", 500), (470, 510))
        self.assertEqual(preferred.around("E24", 470), (470, 470))
        self.assertEqual(preferred.around("E96", 5000), (4990, 5110))
        self.assertEqual(preferred.around("E24", 0.1), (1, 1))
        self.assertEqual(preferred.around("E24", 9e7), (1e7, 1e7))


class Speed(unittest.TestCase):
    def test_scenario(self) -> None:
        ring = rates.wheel_ring(46, AROUND)
        self.assertAlmostEqual(ring * 1000, 24054, delta=0.5)
        self.assertAlmostEqual(ring * 70 / 3.6, 467.7, places=1)
        shaft = rates.propshaft(1, 3.64, AROUND)
        self.assertAlmostEqual(shaft * 1000, 1903, delta=0.5)

    def test_cable_of_the_camper(self) -> None:
        # 4 pulses a turn, 8 drives 21, final drive 4.10, 1.9947 m: by hand 3132 per km
        got = rates.cable(4, 8, 21, 4.10, 3.05 * 0.654)
        self.assertAlmostEqual(got * 1000, 4 * 8 / 21 * 4.10 / (3.05 * 0.654) * 1000)
        self.assertAlmostEqual(got * 1000, 3132.1, places=1)

    @given(st.integers(1, 200), st.floats(1.0, 3.5))
    def test_twice_the_teeth_twice_the_rate(self, teeth: int, around: float) -> None:
        self.assertAlmostEqual(
            rates.wheel_ring(2 * teeth, around), 2 * rates.wheel_ring(teeth, around)
        )


class Engine(unittest.TestCase):
    def test_firings_per_turn(self) -> None:
        # Heywood ch. 1: n/2 firings a turn for a four-stroke engine, n for a two-stroke
        for ignition, cylinders, strokes, want in (
            ("distributor", 4, 4, 2.0),
            ("distributor", 6, 4, 3.0),
            ("distributor", 8, 4, 4.0),
            ("distributor", 2, 2, 2.0),
            ("wasted-spark", 6, 4, 1.0),
            ("wasted-spark", 2, 4, 1.0),
            ("coil-per-plug", 5, 4, 0.5),
            ("coil-per-plug", 3, 2, 1.0),
        ):
            with self.subTest(ignition=ignition, cylinders=cylinders, strokes=strokes):
                self.assertEqual(rates.coil_pulses(ignition, cylinders, strokes), want)

    @given(st.integers(1, 12), st.sampled_from([2, 4]))
    def test_all_coils_together_fire_like_one_distributor(self, n: int, strokes: int) -> None:
        self.assertEqual(rates.all_coils(n, strokes), rates.coil_pulses("distributor", n, strokes))

    def test_others(self) -> None:
        self.assertAlmostEqual(rates.alternator(6, 2.35), 14.1)
        self.assertEqual(rates.toothed_wheel(36, 1, on_cam=False), 35)
        self.assertEqual(rates.toothed_wheel(60, 2, on_cam=True), 29)

    def test_impossible(self) -> None:
        for call in (
            lambda: rates.coil_pulses("none", 4, 4),
            lambda: rates.coil_pulses("wasted-spark", 1, 4),
            lambda: rates.toothed_wheel(2, 2, on_cam=False),
        ):
            with self.assertRaises(Problem):
                call()


class Rolling(unittest.TestCase):
    def test_counts_and_distance(self) -> None:
        got = roll(3.436, 5.0, 4)
        self.assertAlmostEqual(got.flashes, 4.295)
        self.assertEqual((got.low, got.high), (4, 5))
        self.assertAlmostEqual(got.distance_for_1pct, 400 / 3.436)
        exact = roll(4.0, 3.0, 4)
        self.assertEqual((exact.low, exact.high), (3, 3))

    @given(st.floats(0.5, 60), st.floats(0.1, 500), st.integers(1, 20))
    def test_a_hundred_flashes_make_one_per_cent(self, rate: float, d: float, n: int) -> None:
        got = roll(rate, d, n)
        self.assertLessEqual(got.low, got.flashes + 1e-6)
        self.assertGreaterEqual(got.high, got.flashes - 1e-6)
        self.assertLessEqual(got.high - got.low, 1)
        self.assertAlmostEqual(roll(rate, got.distance_for_1pct, n).flashes, 100, places=6)


if __name__ == "__main__":
    unittest.main()
