"""The road fit finds planted scales in noise, lag and nonsense."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from zombrel.calibrate.roadfit import COARSEST, _grain, fit
from zombrel.job.problem import Problem


def run(scale: float, offset: float, seed: int, outliers: int = 0, lag: int = 1):  # type: ignore[no-untyped-def]
    """A drive over five steady speeds: satellite lags a second, both are noisy."""
    rng = np.random.default_rng(seed)
    true = np.concatenate([np.full(40, v / 3.6) for v in (50, 70, 90, 110, 60)])
    true = np.convolve(np.pad(true, 4, mode="edge"), np.ones(9) / 9, "valid")
    shown = true * scale + offset + rng.normal(0, 0.08, len(true))
    seen = np.concatenate([np.repeat(true[0], lag), true[: len(true) - lag]])
    seen = seen + rng.normal(0, 0.03, len(true))
    wrong = rng.choice(len(true), outliers, replace=False)
    seen[wrong] += rng.choice([-1, 1], outliers) * rng.uniform(2, 9, outliers)
    return np.arange(len(true), dtype=float), seen, shown


class Fits(unittest.TestCase):
    @settings(max_examples=25, deadline=None)
    @given(st.floats(0.85, 1.2), st.floats(-1, 1), st.integers(0, 10_000))
    def test_finds_scale_and_offset(self, scale: float, offset: float, seed: int) -> None:
        got = fit(*run(scale, offset, seed, outliers=6))
        self.assertAlmostEqual(got.scale, scale, delta=0.008)
        self.assertAlmostEqual(got.offset, offset, delta=0.2)
        self.assertLess(got.scale_low, got.scale)
        self.assertGreater(got.scale_high, got.scale)

    def test_interval_covers_the_truth_about_as_often_as_it_says(self) -> None:
        hits = 0
        for seed in range(120):
            got = fit(*run(1.02, 0.0, seed))
            hits += got.scale_low <= 1.02 <= got.scale_high
        self.assertGreaterEqual(hits, 105)

    def test_points_set_aside_are_named(self) -> None:
        t, seen, shown = run(1.05, 0.0, 3, outliers=8)
        got = fit(t, seen, shown)
        self.assertEqual(got.used + got.set_aside, len(t))
        self.assertGreaterEqual(got.accelerating, 10)
        self.assertGreaterEqual(got.outliers, 1)
        self.assertEqual(sum(got.kept), got.used)

    def test_outliers_hardly_move_it(self) -> None:
        clean = fit(*run(1.03, 0.0, 5))
        dirty = fit(*run(1.03, 0.0, 5, outliers=20))
        self.assertAlmostEqual(clean.scale, dirty.scale, delta=0.004)

    def test_a_rounded_display_is_not_trusted_past_its_last_digit(self) -> None:
        """Whole km/h that agree by chance still leave half a step of doubt."""
        true = np.repeat([50.2, 60.2, 80.2], 14) / 3.6
        shown = np.repeat([52.0, 63.0, 84.0], 14) / 3.6
        got = fit(np.arange(42.0), true, shown)
        self.assertGreater(got.scale_high - got.scale_low, 0.003)
        self.assertEqual(got.outliers, 0)
        self.assertTrue(got.scale_low < 84 / 80.2 < got.scale_high + 0.02)

    def test_the_grain_of_a_column(self) -> None:
        for values, want in (
            (np.array([52, 63, 84, 84, 90]) / 3.6, 1 / 3.6),
            (np.array([50.5, 51.0, 53.5, 60.0]) / 3.6, 0.5 / 3.6),
            (np.array([31, 37, 52, 56]) * 0.44704, 0.44704),
            (np.full(9, 20.0), 0.0),
            (np.random.default_rng(1).uniform(10, 30, 200), 0.0),
            (np.array([10.0, 30.0]), COARSEST),
        ):
            self.assertAlmostEqual(_grain(values), want, places=3)

    def test_order_of_scale_does_not_depend_on_the_unit(self) -> None:
        """Dimensional check: metres a second or knots, the scale is the same."""
        t, seen, shown = run(1.04, 0.2, 11)
        a, b = fit(t, seen, shown), fit(t, seen * 1.2, shown * 1.2)
        self.assertAlmostEqual(a.scale, b.scale, places=2)

    def test_a_slow_drive_is_set_aside(self) -> None:
        t = np.arange(80.0)
        true = np.concatenate([np.full(40, 2.0), np.full(40, 20.0)])
        got = fit(t, true, true * 1.1)
        self.assertEqual(got.slow, 40)
        self.assertAlmostEqual(got.scale, 1.1, places=3)

    def test_one_speed_cannot_tell_scale_from_offset(self) -> None:
        t = np.arange(60.0)
        true = np.full(60, 25.0) + np.sin(t) * 0.02
        got = fit(t, true, true * 1.04)
        self.assertTrue(got.through_origin)
        self.assertEqual(got.offset, 0.0)
        self.assertAlmostEqual(got.scale, 1.04, places=3)

    def test_too_little_says_what_to_do(self) -> None:
        t = np.arange(20.0)
        with self.assertRaises(Problem) as caught:
            fit(t, t * 2.0, t * 2.0)  # accelerating all the time
        self.assertIn("steady", str(caught.exception))


class NotFitted(unittest.TestCase):
    def test_a_device_that_shows_nothing_is_not_fitted(self) -> None:
        t = np.arange(0, 200, 1.0)
        true = np.where(t < 100, 15.0, 25.0)
        shown = np.where((t > 40) & (t < 60), 0.0, true * 1.02)
        found = fit(t, true, shown)
        self.assertAlmostEqual(found.scale, 1.02, places=6)
        self.assertFalse(any(found.kept[41:60]))
        with self.assertRaises(Problem):
            fit(t, true, 0 * shown)


if __name__ == "__main__":
    unittest.main()
