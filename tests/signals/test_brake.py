"""The cold side of the brake switch, by hand and by property."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from zombrel.job.problem import Problem
from zombrel.signals.brake import LED_KNEE_V, brake_line, filament_ohm, load_for


class Lines(unittest.TestCase):
    def test_two_bulbs(self) -> None:
        # 13.5²/21 = 8.68 Ω hot, a tenth cold, two in parallel: 0.434 Ω
        self.assertAlmostEqual(filament_ohm(21, 2), 0.4339, places=4)
        got = brake_line("filament", 21, 2, 4700, 12.6)
        self.assertTrue(got.sure)
        self.assertAlmostEqual(got.path_ohm, 0.4339, places=4)
        self.assertAlmostEqual(got.rest_v, 12.6 * 0.4339 / 4700.4339, places=6)
        self.assertEqual(got.pressed_v, 12.6)

    def test_led_lamps_float_near_seven_volts(self) -> None:
        got = brake_line("led", 3, 2, 4700, 13.8)
        self.assertFalse(got.sure)
        # above the knee: I = (13.8 − 6.8)/(4700 + 150), V = 6.8 + 150·I
        current = (13.8 - 6.8) / 4850
        self.assertAlmostEqual(got.rest_v, 6.8 + 150 * current, places=9)
        self.assertAlmostEqual(got.path_ohm, got.rest_v / current, places=6)

    def test_what_mends_it(self) -> None:
        load = brake_line("led", 3, 2, 4700, 13.8, load_ohm=47)
        self.assertTrue(load.sure)
        self.assertAlmostEqual(load.path_ohm, 47, places=6)
        self.assertAlmostEqual(load.load_w, 13.8**2 / 47)
        relay = brake_line("led", 3, 2, 4700, 13.8, relay=(90, 0.1))
        self.assertTrue(relay.sure)
        self.assertLess(relay.rest_v, 0.001)
        self.assertAlmostEqual(relay.coil_a, 13.8 / 90)
        self.assertEqual(relay.load_w, 0)
        weak = brake_line("led", 3, 2, 4700, 13.8, load_ohm=100)
        self.assertFalse(weak.sure)

    def test_a_twenty_four_volt_lorry(self) -> None:
        got = brake_line("led", 3, 2, 4700, 27.6)
        self.assertGreater(got.rest_v, 2 * LED_KNEE_V)
        bulbs = brake_line("filament", 21, 2, 4700, 25.2)
        self.assertAlmostEqual(bulbs.path_ohm, 4 * 0.4339, places=3)

    def test_impossible(self) -> None:
        good: dict[str, Any] = {
            "lamps": "led",
            "lamp_w": 21.0,
            "lamp_count": 2,
            "pull_up_ohm": 4700.0,
            "volts": 12.6,
        }
        for change in (
            {"lamp_w": 0.0},
            {"lamp_w": -5.0},
            {"lamp_count": 0},
            {"pull_up_ohm": 0.0},
            {"volts": 0.0},
            {"load_ohm": 0.0},
        ):
            with self.subTest(change), self.assertRaises(Problem):
                brake_line(**{**good, **change})

    @given(
        st.sampled_from(["led", "filament"]),
        st.integers(1, 6),
        st.floats(500, 50_000),
        st.floats(9, 15),
        st.one_of(st.none(), st.floats(1, 5000)),
    )
    def test_the_line_lies_between_ground_and_supply(
        self, lamps: Any, n: int, pull: float, volts: float, load: float | None
    ) -> None:
        got = brake_line(lamps, 21, n, pull, volts, load)
        self.assertGreaterEqual(got.rest_v, 0)
        self.assertLess(got.rest_v, volts)
        # Kirchhoff: the pull-up's current is what the path carries
        self.assertAlmostEqual((volts - got.rest_v) / pull, got.rest_v / got.path_ohm, places=9)
        self.assertEqual(got.sure, got.path_ohm < 50)
        if load is not None:
            self.assertLessEqual(got.path_ohm, load * (1 + 1e-9))


class Loads(unittest.TestCase):
    def test_a_resistor_for_any_need(self) -> None:
        """Nine tenths of the need in whole ohms; below one ohm as it is, never none."""
        for need, ohm in ((50, 47.0), (20, 18.0), (1.0, 0.9), (0.0, 0.01)):
            self.assertAlmostEqual(load_for(need, 12).ohm, ohm)


if __name__ == "__main__":
    unittest.main()
