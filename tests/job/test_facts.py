"""Stated facts: what is shown can be typed again, in any of the user's units."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import demo
from tests.units.test_measure import UNITS
from zombrel.catalog import DEMO
from zombrel.job import facts
from zombrel.job.edits import fact
from zombrel.job.pairs import between, falling_or_rising, parse, rising, write
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES, truth
from zombrel.job.state import State
from zombrel.job.typed import facts as typed
from zombrel.store.zjob import load
from zombrel.units import METRIC, Units

JOBS = [demo(), load(DEMO / "0413.zjob"), load(DEMO / "0409.zjob")]
BY_PATH = {f.path: f for f in facts.all_facts(demo())}


class Round(unittest.TestCase):
    @settings(max_examples=40)
    @given(st.sampled_from(JOBS), UNITS)
    def test_shown_and_typed_again(self, job, units: Units) -> None:  # type: ignore[no-untyped-def]
        for sheet in facts.all_facts(job):
            text = typed.show(job, sheet, units)
            if not text:
                continue
            again = typed.parse(sheet, text, units)
            kept = fact(job, sheet.path)
            if sheet.kind == "pairs":
                assert isinstance(again, list)
                for (x, y), (u, v) in zip(again, kept, strict=True):
                    self.assertAlmostEqual(x / u if u else x + 1, 1, places=4)
                    self.assertAlmostEqual(y, v)
            elif isinstance(kept, float) and sheet.kind != "ratios":
                assert isinstance(again, float | int)
                self.assertAlmostEqual(again / kept if kept else again + 1, 1, delta=0.02)

    def test_pairs_in_the_users_unit(self) -> None:
        sheet = BY_PATH["sources.clt.spec.points"]
        us = Units(temperature="F")
        self.assertEqual(typed.unit_of(sheet, Units()), "°C : reading")
        self.assertTrue(typed.show(demo(), sheet, us).startswith("68:3030, 104:1437"))
        again = typed.parse(sheet, "32:9800, 212:187", us)
        assert isinstance(again, list)
        self.assertAlmostEqual(again[0][0], 273.15)
        self.assertAlmostEqual(again[1][0], 373.15)
        torque = BY_PATH["vehicle.torque"]
        got = typed.parse(torque, "1500:205, 6000:230", Units())
        assert isinstance(got, list)
        self.assertEqual([round(n * 60) for n, _ in got], [1500, 6000])
        self.assertEqual(typed.parse(torque, "  ", Units()), [])

    def test_what_cannot_be_typed_says_what_is_wanted(self) -> None:
        for path, text, said in (
            ("vehicle.torque", "fast", "not a pair"),
            ("vehicle.torque", "1500", "2"),
            ("vehicle.torque", "1500:205, 1500:210", "twice"),
            ("vehicle.tank_l", "big", "is not a volume"),
            ("vehicle.stall_rps", "x", "rpm"),
        ):
            with self.subTest(text), self.assertRaisesRegex(Problem, said):
                typed.parse(BY_PATH[path], text, Units())


class Pairs(unittest.TestCase):
    @given(
        st.lists(
            st.tuples(st.floats(-1e5, 1e5), st.floats(-1e6, 1e6)),
            min_size=2,
            max_size=20,
            unique_by=lambda p: f"{p[0] + 0.0:.9g}",
        )
    )
    def test_written_and_read(self, pairs: list[tuple[float, float]]) -> None:
        ordered = rising(tuple((x + 0.0, y) for x, y in pairs), "test")
        again = parse(write(ordered), "test")
        self.assertEqual(len(again), len(ordered))
        for (x, y), (u, v) in zip(again, ordered, strict=True):
            self.assertAlmostEqual(x, u, delta=abs(u) * 1e-8 + 1e-8)
            self.assertAlmostEqual(y, v, delta=abs(v) * 1e-8 + 1e-8)

    @given(st.lists(st.floats(0, 1000), min_size=3, max_size=9, unique=True), st.floats(0, 1000))
    def test_between_stays_between(self, xs: list[float], at: float) -> None:
        points = tuple((x, x * 2 + 1) for x in sorted(xs))
        got = between(points, at)
        self.assertLessEqual(got, points[-1][1])
        self.assertGreaterEqual(got, points[0][1])
        if points[0][0] <= at <= points[-1][0]:
            self.assertAlmostEqual(got, at * 2 + 1, delta=1e-6 * max(1, abs(got)))

    def test_which_way_it_goes(self) -> None:
        self.assertTrue(falling_or_rising(((0, 1), (1, 2)), "x"))
        self.assertFalse(falling_or_rising(((0, 2), (1, 1)), "x"))
        with self.assertRaisesRegex(Problem, "at 2 the values turn back"):
            falling_or_rising(((0, 1), (1, 3), (2, 2)), "x")

    def test_every_quantity_lies_in_the_state(self) -> None:
        state = State()
        for name, sheet in QUANTITIES.items():
            value = truth(name, state)
            self.assertIsInstance(value, float)
            self.assertLess(sheet.low, sheet.high)


class Dates(unittest.TestCase):
    def test_dates_by_points_and_by_dashes(self) -> None:
        sheet = next(f for f in facts.all_facts(demo()) if f.kind == "date")
        for text, kept in (("4.11.2026", "2026-11-04"), ("2026-2-9", "2026-02-09")):
            self.assertEqual(typed.parse(sheet, text, METRIC), kept)
        for text in ("4/11/2026", "31.4.2026", "2026-13-01", "soon"):
            with self.subTest(text), self.assertRaises(Problem):
                typed.parse(sheet, text, METRIC)

    def test_a_curve_that_stands_still_is_none(self) -> None:
        for points in (((0, 1), (1, 1), (2, 2)), ((0, 2), (1, 1), (2, 1))):
            with self.assertRaisesRegex(Problem, "at 1 the values|at 2 the values"):
                falling_or_rising(points, "pairs")
        self.assertTrue(falling_or_rising(((0, 1), (1, 2)), "pairs"))
        self.assertFalse(falling_or_rising(((0, 2), (1, 1)), "pairs"))


if __name__ == "__main__":
    unittest.main()
