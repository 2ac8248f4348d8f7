"""The spark box's supply and the answers to why, against sums worked by hand."""

from __future__ import annotations

import unittest

from tests.demo import demo, put
from zombrel.behaviour.spark_supply import loop_ohm, supplied
from zombrel.findings import explain_set
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem

RHO = 0.01724
"""Copper at 20 °C [Ω·mm²/m] (IEC 60028)."""


class Supply(unittest.TestCase):
    def test_current_and_drop(self) -> None:
        """4.6 m out and 0.4 m back of 4 mm²; 12 A at 7000 rpm, 0.6 A standing."""
        box = by_id(demo().devices, "spark")
        assert box is not None
        ohm = (4.6 + 0.4) * RHO / 4
        self.assertAlmostEqual(loop_ohm(demo(), box), ohm, delta=ohm * 0.01)
        got = supplied(demo(), box, 3500 / 60, 13.8)
        self.assertAlmostEqual(got.amps, 0.6 + 11.4 / 2)
        self.assertAlmostEqual(got.volts, 13.8 - got.amps * ohm, places=2)
        self.assertAlmostEqual(supplied(demo(), box, 7000 / 60, 13.8).amps, 12.0)

    def test_a_poor_stud_adds_its_ohms(self) -> None:
        box = by_id(demo().devices, "spark")
        assert box is not None
        ends = [w.b.place for w in demo().wires if w.carries == "ground" and w.a.place == "spark"]
        poor = put(demo(), f"studs.{ends[0]}.ohm", 0.05)
        self.assertAlmostEqual(loop_ohm(poor, box), loop_ohm(demo(), box) + 0.05, places=6)

    def test_a_thin_lead_resets_it_while_cranking(self) -> None:
        thin = put(put(demo(), "wires.W13.area_mm2", 0.35), "wires.W13.length_m", 26.0)
        box = by_id(thin.devices, "spark")
        assert box is not None
        got = supplied(thin, box, 200 / 60, 9.8)
        self.assertLess(got.volts, box.sheet.min_v)
        self.assertIn("8.8 V needed", explain_set.supply(thin, box).result)

    def test_a_box_whose_sheet_is_silent(self) -> None:
        hub = by_id(demo().devices, "hub")
        assert hub is not None
        with self.assertRaisesRegex(Problem, "does not say"):
            supplied(demo(), hub, 50, 13.8)
        self.assertEqual(explain_set.supply(demo(), hub).result, "unknown")


class Why(unittest.TestCase):
    def test_each_answer_has_inputs_formula_source_and_what_moves_it(self) -> None:
        box = by_id(demo().devices, "spark")
        assert box is not None
        for reason in (
            explain_set.shift_points(demo()),
            explain_set.timing(demo(), 3000 / 60),
            explain_set.supply(demo(), box),
            explain_set.fuel_blend(demo(), 0.85, 60.0),
        ):
            with self.subTest(reason.title):
                self.assertGreaterEqual(len(reason.given), 3)
                self.assertTrue(reason.formula and reason.source and reason.moves)
        # 10 + 16.6 at 3000 rpm, between 2500:13 and 3600:21
        self.assertIn("26.6°", explain_set.timing(demo(), 3000 / 60).result)

    def test_nothing_known_says_so(self) -> None:
        bare = Job()
        for reason in (
            explain_set.shift_points(bare),
            explain_set.timing(bare, 50),
            explain_set.fuel_blend(bare, 0.1, 10),
        ):
            self.assertEqual(reason.result, "unknown")


if __name__ == "__main__":
    unittest.main()
