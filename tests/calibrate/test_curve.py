"""Curves: fits, the pair to doubt, presets, and points that cannot be placed better."""

from __future__ import annotations

import itertools
import math
import unittest

from hypothesis import example, given, settings
from hypothesis import strategies as st

from tests.calibrate.test_sensors import beta_table
from zombrel.calibrate import curve, points
from zombrel.job import pairs
from zombrel.job.problem import Problem


class Fits(unittest.TestCase):
    def test_every_kind_meets_what_it_can_meet(self) -> None:
        straight = tuple((float(x), 3.0 - 2.0 * x) for x in range(6))
        for kind, given_pairs in (
            ("line", straight),
            ("spline", straight),
            ("beta", beta_table()),
            ("steinhart-hart", beta_table()),
            ("straight pieces", straight),
        ):
            got = curve.judge(given_pairs, kind)  # type: ignore[arg-type]
            self.assertLess(got.worst, 1e-5 * max(abs(y) for _, y in given_pairs), kind)
            self.assertEqual(got.doubtful, (), kind)

    def test_the_bad_pair_is_named(self) -> None:
        straight = tuple((float(x), 2.0 * x) for x in range(8))
        bent = tuple((float(x), x * x / 9.0) for x in range(9))
        for kind, made, at in (
            ("line", straight, 3),
            ("steinhart-hart", beta_table(), 2),
            ("beta", beta_table(), 3),
            ("spline", bent, 4),
        ):
            spoilt = list(made)
            spoilt[at] = (made[at][0], made[at][1] * 1.25)
            self.assertEqual(curve.judge(tuple(spoilt), kind).doubtful, (at,), kind)  # type: ignore[arg-type]

    def test_five_pairs_are_enough_to_doubt_one_and_four_are_not(self) -> None:
        five = ((0.0, 0.0), (1.0, 1.0), (2.0, 2.0), (3.0, 9.0), (4.0, 4.0))
        self.assertEqual(curve.judge(five, "line").doubtful, (3,))
        self.assertEqual(curve.judge(five[:4], "line").doubtful, ())

    def test_the_right_preset_wins_with_its_error(self) -> None:
        own, other = beta_table(3950), beta_table(3435)
        truth = curve.model(own, "steinhart-hart")
        ranked = curve.match(truth, (("A", other), ("B", own)), 273.15, 363.15)
        self.assertEqual([m.name for m in ranked], ["B", "A"])
        # by hand at 50 °C: R = 3588 Ω; on curve A straight between 25 and 50 °C …
        ohm = truth(ranked[1].worst_at)
        self.assertAlmostEqual(curve.reads(other, ohm), ranked[1].shown_at_worst, places=6)
        self.assertGreater(ranked[1].worst, 2 * ranked[0].worst)
        with self.assertRaisesRegex(Problem, "range"):
            curve.match(truth, (("A", own),), 300, 300)


def brute(shape: pairs.Pairs, count: int) -> float:
    """Least worst error with every point on the curve: an upper bound that is easily had."""
    inner = itertools.combinations(shape[1:-1], count - 2)
    return min(points.worst_error(shape, (shape[0], *some, shape[-1])) for some in inner)


class Placed(unittest.TestCase):
    def test_a_parabola_by_theory(self) -> None:
        """k chords of x² over width w, free to leave it, stray w²/(16 k²)·2/2 = (w/k)²/8 · ½·2.

        For f'' = 2 a straight piece of width h errs h²/8 to either side when lifted by half
        its sag h²/4; all pieces alike, so h = w/k.
        """
        fine = tuple((x / 200, (x / 200) ** 2) for x in range(201))
        for pieces in (1, 2, 4, 5):
            got = points.place(fine, pieces + 1)
            self.assertEqual(len(got.points), pieces + 1)
            self.assertAlmostEqual(got.worst, 1 / pieces**2 / 8, delta=2e-4)

    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.floats(-50, 50), min_size=4, max_size=9), st.integers(2, 5))
    @example([1.0, 1.0, 0.0, 0.0], 3)  # one line does it, but for a rounding
    @example([0.0, 2.0, 0.0, -1.0, 1.0, 0.0, 2.0], 5)  # two lines of one slope
    def test_never_worse_than_the_best_on_the_curve(self, ys: list[float], count: int) -> None:
        shape = tuple((float(i), y) for i, y in enumerate(ys))
        got = points.place(shape, count)
        self.assertEqual(len(got.points), count)
        self.assertEqual([x for x, _ in got.points], sorted(x for x, _ in got.points))
        self.assertTrue(all(math.isfinite(x) and math.isfinite(y) for x, y in got.points))
        self.assertAlmostEqual(got.worst, points.worst_error(shape, got.points), places=9)
        if count < len(shape):
            self.assertLessEqual(got.worst, brute(shape, count) + 1e-6)

    def test_a_single_line_is_the_minimax_line(self) -> None:
        # of (0,0) (1,1) (2,0): the level line at one half (Chebyshev's equioscillation)
        got = points.place(((0.0, 0.0), (1.0, 1.0), (2.0, 0.0)), 2)
        self.assertAlmostEqual(got.worst, 0.5, places=6)

    def test_thermistor_table_on_a_gauge(self) -> None:
        shape = tuple((ohm, k) for k, ohm in reversed(beta_table()))
        for count in (6, 12):
            got = points.place(shape, count)
            self.assertEqual((len(got.points), got.worst), (count, 0.0))
        self.assertTrue(math.isfinite(points.place(shape, 4).worst))


if __name__ == "__main__":
    unittest.main()
