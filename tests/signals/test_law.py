"""The law of a rate chain: plain floats and NumPy agree, corners are exact, physics holds."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from zombrel.signals import law as laws
from zombrel.signals.law import COUNTING, DEAD, OVER, SILENT, Law

RING = Law(
    rate=24.054,
    v_per_hz=0.009,
    v_fixed=0,
    divider=1,
    first_threshold=2.5,
    first_max_hz=math.inf,
    second_level=0,
    second_threshold=0,
    device_max_hz=1000,
    setting=20.79,
    multi=1,
    multi_below=0,
)

some_law = st.builds(
    Law,
    rate=st.floats(0.1, 60),
    v_per_hz=st.sampled_from([0.0, 0.002, 0.009, 0.05]),
    v_fixed=st.sampled_from([0.0, 5.0, 12.0]),
    divider=st.integers(1, 12).map(float),
    first_threshold=st.sampled_from([0.0, 0.08, 0.4, 2.5]),
    first_max_hz=st.sampled_from([500.0, 20000.0, math.inf]),
    second_level=st.sampled_from([0.0, 5.0]),
    second_threshold=st.sampled_from([0.0, 2.5]),
    device_max_hz=st.sampled_from([200.0, 1000.0, 5000.0]),
    setting=st.floats(0.1, 60),
    multi=st.sampled_from([1.0, 3.0]),
    multi_below=st.sampled_from([0.0, 50.0]),
    least=st.sampled_from([0.0, 1.4]),
)


class OneLaw(unittest.TestCase):
    @settings(max_examples=300)
    @given(st.lists(st.tuples(some_law, st.floats(0, 120), st.booleans()), min_size=1, max_size=8))
    def test_plain_floats_agree_with_the_array_pass(
        self, cases: list[tuple[Law, float, bool]]
    ) -> None:
        stacked = laws.table([one._replace(alive=float(on)) for one, _, on in cases])
        got = laws.evaluate(stacked, np.array([[x] for _, x, _ in cases]))
        for i, (one, x, on) in enumerate(cases):
            point = laws.at(one, x, on)
            self.assertEqual(point.status, got.status[i, 0])
            for a, b in (
                (point.source_hz, got.source_hz[i, 0]),
                (point.source_v, got.source_v[i, 0]),
                (point.device_hz, got.device_hz[i, 0]),
                (point.shown, got.shown[i, 0]),
            ):
                np.testing.assert_allclose(a, b, rtol=1e-12, equal_nan=True)

    def test_one_pass_over_many_states(self) -> None:
        x = np.linspace(0, 55, 500)
        got = laws.evaluate(laws.table([RING, RING._replace(divider=7.0)]), np.vstack([x, x]))
        self.assertEqual(got.shown.shape, (2, 500))
        self.assertEqual(set(np.unique(got.status[0])), {SILENT, COUNTING, OVER})

    @settings(max_examples=200)
    @given(some_law, st.floats(5, 100), st.floats(0, 1))
    def test_corners_join_to_the_law(self, one: Law, top: float, share: float) -> None:
        corners = laws.corners(one, top)
        xs = [x for x, _ in corners]
        self.assertEqual(xs, sorted(xs))
        x = share * top
        want = laws.at(one, x, alive=True).shown
        i = max(k for k in range(len(xs)) if xs[k] <= x)
        (x0, y0), (x1, y1) = corners[i], corners[min(i + 1, len(xs) - 1)]
        if x1 - x0 < 1e-6:
            return  # on a step
        got = y0 + (y1 - y0) * (x - x0) / (x1 - x0)
        np.testing.assert_allclose(got, want, rtol=1e-6, atol=1e-6, equal_nan=True)


class Physics(unittest.TestCase):
    def test_scenario_ring(self) -> None:
        at70 = laws.at(RING, 70 / 3.6, alive=True)
        self.assertAlmostEqual(at70.source_hz, 467.7, places=1)
        self.assertAlmostEqual(at70.source_v, 4.21, places=2)
        self.assertEqual(at70.status, COUNTING)
        start, stop = laws.span(RING)
        self.assertAlmostEqual(start * 3.6, 2.5 / 0.009 / 24.054 * 3.6, places=6)
        self.assertAlmostEqual(stop * 3.6, 149.7, places=1)

    def test_outside_its_range(self) -> None:
        for x, status in ((0.0, SILENT), (5.0, SILENT), (30.0, COUNTING), (50.0, OVER)):
            self.assertEqual(laws.at(RING, x, alive=True).status, status)
        self.assertEqual(laws.at(RING, 30.0, alive=False).status, DEAD)
        self.assertTrue(math.isnan(laws.at(RING, 50.0, alive=True).shown))

    def test_divider_squares_and_lowers(self) -> None:
        divided = RING._replace(
            divider=7.0, first_threshold=0.08, second_level=5.0, second_threshold=2.5
        )
        got = laws.at(divided, 70 / 3.6, alive=True)
        self.assertAlmostEqual(got.device_hz, 467.7 / 7, places=1)
        self.assertLess(laws.span(divided)[0], 0.5)
        too_low = divided._replace(second_level=2.0)
        self.assertEqual(laws.span(too_low), (math.inf, 0.0))

    def test_multi_spark_multiplies_below_its_limit(self) -> None:
        coil = RING._replace(rate=1.0, v_per_hz=0, v_fixed=300, multi=3, multi_below=50, setting=1)
        self.assertAlmostEqual(laws.at(coil, 850 / 60, alive=True).shown * 60, 2550)
        self.assertAlmostEqual(laws.at(coil, 4000 / 60, alive=True).shown * 60, 4000)

    @given(st.floats(1e3, 1e6), st.floats(1e3, 1e6))
    def test_more_load_less_signal(self, a: float, b: float) -> None:
        light, heavy = max(a, b), min(a, b)
        self.assertLessEqual(
            laws.loaded(1.0, 10000, 1200, heavy), laws.loaded(1.0, 10000, 1200, light) + 1e-12
        )
        self.assertLess(laws.loaded(1.0, 10000, 1200, heavy), 1.0)

    def test_loading_by_hand(self) -> None:
        # 10 kΩ and 10 kΩ make 5 kΩ: 5/6.2 of open against 10/11.2 before
        self.assertAlmostEqual(laws.loaded(1.0, 10e3, 1200, 10e3), (5 / 6.2) / (10 / 11.2))


if __name__ == "__main__":
    unittest.main()
