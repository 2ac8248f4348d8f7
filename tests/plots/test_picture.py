"""Axes and marks of plots."""

from __future__ import annotations

import unittest

from zombrel.plots.picture import Axis, ticks


class Marks(unittest.TestCase):
    def test_ten_steps_of_one_are_ten_marks(self) -> None:
        self.assertEqual(ticks(Axis("x", 0.0, 10.0), 10), [float(x) for x in range(11)])


if __name__ == "__main__":
    unittest.main()
