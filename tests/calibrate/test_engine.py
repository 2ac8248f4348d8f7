"""Shift points, lead, rev-match, advance, blends, key positions: hand sums and properties."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zombrel.calibrate import advance, blend, shift
from zombrel.calibrate.shift import shift_points
from zombrel.job.pairs import between
from zombrel.job.problem import Problem
from zombrel.job.wiring import KeyVolts
from zombrel.signals.key_matrix import classify

TORQUE = (
    (1500.0, 205.0),
    (2500.0, 232.0),
    (3500.0, 255.0),
    (4500.0, 262.0),
    (5500.0, 247.0),
    (6200.0, 221.0),
    (6800.0, 188.0),
)
RATIOS = (3.42, 2.05, 1.39, 1.00, 0.79)


class Shifting(unittest.TestCase):
    def test_against_a_fine_search(self) -> None:
        """The second method: step through the speeds and see which gear pulls harder."""
        for got, low, high in zip(
            shift.shift_points(TORQUE, RATIOS, 6800), RATIOS, RATIOS[1:], strict=False
        ):
            drop = high / low
            better = [
                n
                for n in range(2000, 6801)
                if between(TORQUE, n * drop) * high > between(TORQUE, n) * low
            ]
            self.assertAlmostEqual(got.at, better[0] if better else 6800, delta=1.01)
            self.assertAlmostEqual(got.after, got.at * drop)
        self.assertEqual(
            [s.limited for s in shift.shift_points(TORQUE, RATIOS, 6800)], [True, True, True, False]
        )

    def test_flat_power_crosses_where_torque_is_level(self) -> None:
        # torque ∝ 1/n is constant power: any gear pulls alike, so shift as late as allowed
        flat = tuple((float(n), 1e6 / n) for n in range(1000, 8001, 10))
        got = shift.shift_points(flat, (2.0, 1.0), 6000)[0]
        self.assertLess(abs(got.loss), 1e-3)

    def test_what_is_just_sound(self) -> None:
        shift.checked(((0.5, 0.0), (50.0, 0.5)), (2.0, 0.5), 51.0)

    def test_nonsense(self) -> None:
        for torque, ratios, redline, says in (
            (((0.0, 10.0), (50.0, 10.0)), RATIOS, 6800, "none below zero"),
            (((1.0, -0.5), (50.0, 10.0)), RATIOS, 6800, "none below zero"),
            (((1.0, 0.0), (50.0, 0.0)), RATIOS, 6800, "without any torque"),
            (TORQUE, (2.0, 2.0), 6800, "must fall"),
            (TORQUE, (2.0, 0.0), 6800, "must fall"),
            (TORQUE, RATIOS, TORQUE[0][0], "lies below"),
            (TORQUE, (1.0, 2.0), 6800, "must fall"),
            (TORQUE, (2.0,), 6800, "two gears"),
            (TORQUE, RATIOS, 900, "redline"),
            (TORQUE[:1], RATIOS, 6800, "torque curve"),
        ):
            with self.assertRaisesRegex(Problem, says):
                shift.shift_points(torque, ratios, redline)

    def test_rev_match_needs_all_three(self) -> None:
        for around, final, ratio in ((0.0, 3.6, 1.4), (1.9, 0.0, 1.4), (1.9, 3.6, -1.0)):
            with self.assertRaisesRegex(Problem, "above zero"):
                shift.matched(20.0, around, final, ratio)

    def test_sums(self) -> None:
        self.assertAlmostEqual(shift.lamp_speed(6600, 3000, 0.15), 6150)
        for rise, delay in ((-1.0, 0.1), (100.0, -0.1)):
            with self.assertRaisesRegex(Problem, "below zero"):
                shift.lamp_speed(6600, rise, delay)
        # 80 km/h, 1.91174 m, 3.64 · 1.39: 22.222 / 1.91174 · 5.0596 · 60
        self.assertAlmostEqual(shift.matched(80 / 3.6, 1.91174, 3.64, 1.39) * 60, 3528.8, places=1)
        # second gear: F = 262·2.05·3.64·2π/1.91174 = 6426 N; a = 4.98 m/s²; · 3.903 turns/m
        self.assertAlmostEqual(shift.rise(262, 2.05, 3.64, 1290, 1.91174), 19.44, places=2)
        self.assertEqual(
            [shift.launch_lamp(n, 4000, 4400) for n in (3999, 4000, 4400, 4401)],
            ["dark", "lit", "lit", "flashing"],
        )


class Ignition(unittest.TestCase):
    def test_advance(self) -> None:
        curve = ((1000.0, 0.0), (3000.0, 20.0))
        for n, want in ((800, 15), (1000, 15), (2000, 25), (3000, 35), (6000, 35)):
            self.assertAlmostEqual(advance.total(10, curve, 5, n), want)
        checks, move = advance.by_lamp(((1000.0, 12.0), (3000.0, 33.0)), 10, curve, 0)
        self.assertEqual([round(c.off, 6) for c in checks], [2, 3])
        self.assertAlmostEqual(move, 2.5)

    def test_supply_and_stall(self) -> None:
        self.assertAlmostEqual(advance.box_current(3500, 7000, 12, 0.5), 6.25)
        # a quarter of the torque is held at half the speed: K·n²
        self.assertAlmostEqual(advance.held_launch(2400, 250, 125, 2.0), 1200)
        self.assertEqual(advance.held_launch(2400, 250, 900, 2.0), 2400)


class Blends(unittest.TestCase):
    def test_sender(self) -> None:
        for hz, part, fault in (
            (50, 0, ""),
            (100, 0.5, ""),
            (150, 1, ""),
            (155, 1, ""),
            (44, None, "no-signal"),
            (161, None, "contaminated"),
        ):
            self.assertEqual((blend.sender_fraction(hz), blend.sender_fault(hz)), (part, fault))
        for pulse, celsius in ((1e-3, -40), (5e-3, 125), (3e-3, 42.5)):
            self.assertAlmostEqual((blend.sender_kelvin(pulse) or 0) - 273.15, celsius)
        self.assertIsNone(blend.sender_kelvin(6e-3))

    def test_lifted_ground(self) -> None:
        self.assertAlmostEqual(blend.output_fraction(1.58), 0.27)
        self.assertAlmostEqual(blend.output_fraction(1.58 + 1.60), 0.67)

    @given(st.floats(1, 40), st.floats(0, 1), st.floats(0, 1), st.floats(0, 1))
    def test_the_mixture_is_what_was_wanted(self, now: float, a: float, b: float, t: float) -> None:
        got = blend.mix(now, a, b, t, 60)
        if got.add is not None and got.add < 1e6:
            self.assertAlmostEqual((now * a + got.add * b) / (now + got.add), t, places=6)
            self.assertEqual(got.possible, now + got.add <= 60 * (1 + 1e-12))
        else:
            self.assertFalse(got.possible and got.add is None)

    def test_stoichiometry_ends_and_headroom(self) -> None:
        self.assertAlmostEqual(blend.stoichiometric(0), 14.7)
        self.assertAlmostEqual(blend.stoichiometric(1), 9.0)
        # E85 by hand: mass share 0.85·789/782.4 = 0.85717; 14.7 − 5.7·0.85717
        self.assertAlmostEqual(blend.stoichiometric(0.85), 9.8141, places=4)
        self.assertAlmostEqual(blend.flow_factor(1), 14.7 * 745 / (9 * 789), places=9)
        most = blend.highest_blend(50, 60)
        self.assertAlmostEqual(50 * blend.flow_factor(most or 0), 60, places=5)
        self.assertIsNone(blend.highest_blend(50, 49))
        self.assertEqual(blend.highest_blend(50, 500), 1.0)
        with self.assertRaisesRegex(Problem, "above zero"):
            blend.highest_blend(0, 10)


class Keys(unittest.TestCase):
    def test_classes(self) -> None:
        """off, accessory, run, crank, lights, after → class, what the warnings must say."""
        for volts, kind, says in (
            ((12.6, 12.6, 12.4, 10.1, 12.3, 12.6), "constant", "^$"),
            ((0, 12.5, 12.4, 0, 12.3, 0), "accessory", "^$"),
            ((0, 0, 12.4, 0, 12.3, 0), "run", "^$"),
            ((0, 0, 12.4, 10.2, 12.3, 0), "run-and-crank", "^$"),
            ((0, 0, 0, 10.2, 0, 0), "start", "^$"),
            ((0, 0, 0, 0, 5.1, 0), "illumination", "dimmed: 5.1 V"),
            ((0, 0, 0, 0, 12.3, 0), "illumination", "^$"),
            ((12.6, 12.6, 12.4, 10.1, 12.3, 0), "retained", "dies later"),
            ((0, 0.1, 0.1, 0, 0.3, 0), "dead", "^$"),
            ((0, 0, 12.4, 8.3, 12.3, 0), "run-and-crank", "sags while cranking: 8.3 V"),
            ((0, 0, 12.4, 0, 4.0, 0), "run", "dimmed"),
            ((0, 12.5, 12.4, 10.0, 12.3, 0), "run-and-crank", "alive in accessory"),
            ((0, 3.1, 12.4, 0, 12.3, 0), "run", "floating .* in acc"),
            ((0, 0, 24.8, 20.4, 24.6, 0), "run-and-crank", "^$"),
            ((0, 0, 24.8, 16.4, 24.6, 0), "run-and-crank", "sags"),
        ):
            names = ("off", "acc", "run", "crank", "lights", "after")
            got = classify(KeyVolts(**dict(zip(names, map(float, volts), strict=True))))
            self.assertEqual(got.kind, kind, volts)
            self.assertRegex("; ".join(got.warnings), says)
        with self.assertRaisesRegex(Problem, "48 V"):
            classify(KeyVolts(off=48, acc=0, run=0, crank=0))


class NoTorque(unittest.TestCase):
    def test_an_engine_without_torque_gives_no_loss(self) -> None:
        """Nothing here and nothing there: no share of it can be lost."""
        dies = ((1000.0, 100.0), (2000.0, 100.0), (3000.0, 0.0), (7000.0, 0.0))
        (one,) = shift_points(dies, (3.0, 2.9), 6500.0)
        self.assertEqual((one.limited, one.loss), (True, 0.0))


if __name__ == "__main__":
    unittest.main()
