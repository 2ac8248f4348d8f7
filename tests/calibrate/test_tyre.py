"""Tyre sizes: published geometry, all the ways they are written, and what cannot be."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zombrel.calibrate.tyre import parse
from zombrel.job.problem import Problem


class Sizes(unittest.TestCase):
    def test_written_as_on_the_sidewall(self) -> None:
        # (size, free diameter mm, width mm): ISO 4000-1 geometry, by hand
        for size, diameter, width in (
            ("205/60 R15", 381 + 2 * 123, 205),
            ("205/60R15", 627, 205),
            ("205/60-15", 627, 205),
            ("205 / 60 r 15", 627, 205),
            ("195/70R15C", 381 + 2 * 136.5, 195),
            ("195/70 R15 104/102R", 654, 195),
            ("P225/50ZR16 92W", 406.4 + 2 * 112.5, 225),
            ("LT235/75R15", 381 + 2 * 176.25, 235),
            ("225/40 ZR18 92Y XL", 457.2 + 2 * 90, 225),
            ("31x10.50R15", 787.4, 266.7),
            ("31X10,50 R15", 787.4, 266.7),
            ("33x12.5R15LT", 838.2, 317.5),
            ("275/40 ZR20 (106Y)", 508 + 2 * 110, 275),
            ("165 R13", 330.2 + 2 * 165 * 0.82, 165),
            ("145SR12", 304.8 + 2 * 145 * 0.82, 145),
        ):
            with self.subTest(size):
                tyre = parse(size)
                self.assertAlmostEqual(tyre.free_diameter * 1000, diameter, places=6)
                self.assertAlmostEqual(tyre.width * 1000, width, places=6)
                self.assertAlmostEqual(tyre.rolling_circumference, 3.05 * diameter / 1000)

    def test_sizes_in_inches_and_bias_tyres(self) -> None:
        """ETRTO: 7.50R16 about 808 mm, 6.50-16 about 754, 5.60-15 about 650; 2.99 for diagonal."""
        for size, diameter, rolls in (
            ("7.50R16", 808, 3.05),
            ("7.50 R 16 C", 808, 3.05),
            ("6.50-16", 754, 2.99),
            ("6.00-16 6PR", 728, 2.99),
            ("5.60-15", 650, 2.99),
            ("195/70D15", 654, 2.99),
            ("205/60VR15", 627, 3.05),
        ):
            with self.subTest(size):
                found = parse(size)
                self.assertAlmostEqual(found.free_diameter * 1000, diameter, delta=0.02 * diameter)
                self.assertAlmostEqual(found.rolling_circumference / found.free_diameter, rolls)

    def test_scenario_values(self) -> None:
        curlew, heron = parse("205/60 R15"), parse("195/70 R15")
        self.assertAlmostEqual(1 / curlew.rolling_circumference * 1000, 522.9, places=1)
        self.assertAlmostEqual(heron.rolling_circumference * 1000, 1995, delta=0.5)
        self.assertAlmostEqual(1 / heron.rolling_circumference * 1000, 501.3, places=1)

    def test_what_cannot_be_says_so(self) -> None:
        for size, part in (
            ("", "not a tyre size"),
            ("round", "not a tyre size"),
            ("205/60", "not a tyre size"),
            ("205/60R15x", "not a tyre size"),
            ("9x5R22", "not a tyre size"),
            ("22x9R22", "cannot go on"),
            ("205/5R15", "not a tyre size"),
            ("205/15R15", "aspect ratio"),
            ("205/60R31", "rim"),
            ("999/60R15", "width"),
            ("-205/60R15", "not a tyre size"),
        ):
            with self.subTest(size), self.assertRaises(Problem) as caught:
                parse(size)
            self.assertIn(part, str(caught.exception))

    @given(st.integers(125, 335), st.integers(25, 85), st.integers(12, 22))
    def test_a_higher_sidewall_rolls_further(self, w: int, a: int, d: int) -> None:
        low, high = parse(f"{w}/{a} R{d}"), parse(f"{w}/{a + 5} R{d}")
        self.assertAlmostEqual(high.free_diameter - low.free_diameter, 2 * w * 0.05 / 1000)
        self.assertGreater(low.free_diameter, low.rim)


if __name__ == "__main__":
    unittest.main()
