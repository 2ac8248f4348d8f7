"""Thermistor, thermocouple, level, pressure, resistor code: tables, hand sums, properties."""

from __future__ import annotations

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zombrel.calibrate import level, preferred, pressure, resistor_code, thermistor
from zombrel.calibrate import thermocouple as couple
from zombrel.job import pairs
from zombrel.job.problem import Problem
from zombrel.units import ZERO_C
from zombrel.units.measure import PSI


def beta_table(beta: float = 3950.0, r25: float = 10000.0) -> pairs.Pairs:
    """A 10 kΩ β table computed from its definition (IEC 60539-1)."""
    t0 = ZERO_C + 25
    return tuple(
        (ZERO_C + c, r25 * math.exp(beta * (1 / (ZERO_C + c) - 1 / t0)))
        for c in (-20, 0, 25, 50, 80, 110)
    )


class Thermistor(unittest.TestCase):
    def test_a_beta_table_gives_back_its_beta(self) -> None:
        got = thermistor.fit(beta_table())
        self.assertAlmostEqual(got.beta, 3950, places=3)
        self.assertLess(got.worst, 1e-6)
        self.assertLess(abs(got.equation.c), 1e-12)  # β is the equation without its cube

    def test_three_pairs_are_met_exactly(self) -> None:
        points = ((273.15, 32650.0), (298.15, 10000.0), (373.15, 679.0))
        got = thermistor.fit(points)
        for kelvin, ohm in points:
            self.assertAlmostEqual(got.equation.kelvin(ohm), kelvin, places=6)
            self.assertAlmostEqual(got.equation.ohm(kelvin) / ohm, 1, places=7)
        # c > 0 and 1/T = a + b ln R + c ln³R at 25 °C, by hand
        e, log = got.equation, math.log(10000)
        self.assertAlmostEqual(1 / (e.a + e.b * log + e.c * log**3), 298.15, places=6)

    @given(st.floats(230, 420), st.floats(2500, 4500), st.floats(500, 50000))
    def test_there_and_back(self, kelvin: float, beta: float, r25: float) -> None:
        equation = thermistor.fit(beta_table(beta, r25)).equation
        self.assertAlmostEqual(equation.kelvin(equation.ohm(kelvin)), kelvin, places=5)

    def test_an_equation_that_bends_the_other_way_has_three_roots_and_one_part(self) -> None:
        # c below zero: 1/T rises with ln R to ln R = √(−b/3c) ≈ 63, far above any part
        equation = thermistor.SteinhartHart(a=1.1e-3, b=2.4e-4, c=-2e-8)
        for kelvin in (233.15, 273.15, 298.15, 353.15, 423.15):
            ohm = equation.ohm(kelvin)
            self.assertAlmostEqual(equation.kelvin(ohm), kelvin, places=6)
            self.assertTrue(1 < ohm < 1e6, ohm)

    def test_pull_up_has_the_greatest_swing(self) -> None:
        def swing(pull: float) -> float:
            return 9000 / (9000 + pull) - 250 / (250 + pull)

        best = thermistor.best_pull_up(9000, 250)
        self.assertAlmostEqual(best, 1500)
        self.assertTrue(all(swing(best) > swing(best * k) for k in (0.8, 0.95, 1.05, 1.25)))

    def test_step_of_a_count(self) -> None:
        # by hand: share s = R/(R+P) = 1/2, ds/dT = -β/T² · s(1-s) = -3950/298.15²/4
        equation = thermistor.fit(beta_table()).equation
        step = thermistor.kelvin_per_count(equation, 298.15, 10000, 10)
        self.assertAlmostEqual(step, 1 / (1024 * 3950 / 298.15**2 / 4), places=5)


class Thermocouple(unittest.TestCase):
    TABLE = (
        (-270, -6.458),
        (-100, -3.554),
        (0, 0.0),
        (25, 1.000),
        (100, 4.096),
        (300, 12.209),
        (500, 20.644),
        (800, 33.275),
        (1000, 41.276),
        (1372, 54.886),
    )

    def test_reference_table(self) -> None:
        """NIST Monograph 175, type K, to its last printed digit (1 µV)."""
        for celsius, mv in self.TABLE:
            self.assertAlmostEqual(couple.millivolts(celsius), mv, delta=6e-4, msg=str(celsius))

    @given(st.floats(-200, 1300), st.floats(-20, 80))
    def test_there_and_back(self, hot: float, cold: float) -> None:
        mv = couple.millivolts(hot) - couple.millivolts(cold)
        self.assertAlmostEqual(couple.celsius(mv, cold), hot, places=5)


class Sums(unittest.TestCase):
    def test_level_either_way_round(self) -> None:
        for ohm, empty, full, want in (
            (40, 70, 10, 0.5),
            (40, 10, 70, 0.5),
            (10, 70, 10, 1),
            (85, 70, 10, -0.25),
        ):
            self.assertAlmostEqual(level.fraction(ohm, empty, full), want)
        steps = ((0.0, 70.0), (20.0, 52.0), (40.0, 20.0), (55.0, 5.0))
        for ohm, litres in ((70, 0), (61, 10), (36, 30), (5, 55), (2, 55), (90, 0)):
            self.assertAlmostEqual(level.volume(ohm, steps), litres)
            if 5 <= ohm <= 70:
                self.assertAlmostEqual(level.resistance(litres, steps), ohm)
        with self.assertRaisesRegex(Problem, "turn back"):
            level.volume(40, ((0.0, 70.0), (20.0, 75.0), (40.0, 20.0)))

    def test_pressure(self) -> None:
        for volts, supply, want in ((0.5, 5, 0), (4.5, 5, 1000), (2.5, 5, 500), (2.45, 4.9, 500)):
            self.assertAlmostEqual(
                pressure.ratiometric(volts, supply, 0.1, 0.9, 0, 1000), want, places=9
            )
        for volts, says in ((0.1, "below"), (4.9, "above"), (0.5, "^$"), (4.6, "^$")):
            self.assertRegex(pressure.fault(volts, 5, 0.1, 0.9), says)
        self.assertAlmostEqual(pressure.boost(180e3, 100e3) / PSI, 11.6030, places=4)


class ResistorCode(unittest.TestCase):
    @given(st.floats(500, 100000), st.floats(-400, -50), st.floats(1000, 3000))
    def test_finds_the_law_it_was_made_by(self, pull: float, b: float, a: float) -> None:
        known = tuple(
            (ohm, a + b * 5 * ohm / (ohm + pull)) for ohm in (pull / 3, pull * 1.1, pull * 4)
        )
        law = resistor_code.learn(known, 5)
        self.assertAlmostEqual(law.pull_up / pull, 1, places=3)
        target = (known[0][1] + known[1][1]) / 2
        self.assertAlmostEqual(law.value(law.ohm(target)), target, places=6)

    def test_parts(self) -> None:
        # 10 kΩ to 5 V, value = 1870 − 227·V: 1350 wants V = 2.2907, R = 8455.3 Ω
        law = resistor_code.Law(pull_up=10000, vref=5, a=1870, b=-227, worst=0)
        self.assertAlmostEqual(law.ohm(1350), 8455.3, places=1)
        e24 = resistor_code.part(law, 1350, "E24", 0.05)
        self.assertEqual(e24.ohm, 8200)
        self.assertAlmostEqual(e24.value, 1870 - 227 * 5 * 8200 / 18200, places=9)
        self.assertAlmostEqual(e24.low, 1870 - 227 * 5 * 8610 / 18610, places=9)
        self.assertEqual(resistor_code.part(law, 1350, "E96", 0.01).ohm, 8450)
        with self.assertRaisesRegex(Problem, "from a short to an open"):
            law.ohm(2000)

    def test_two_pairs_give_a_band_that_holds_the_truth(self) -> None:
        """The made-up law of the part above, from two of its pairs: pull-up 10 kΩ, so between."""
        made = resistor_code.Law(pull_up=4000, vref=5, a=1870, b=-227, worst=0)
        known = tuple((ohm, made.value(ohm)) for ohm in (2000.0, 22000.0))
        law = resistor_code.learn(known, 5)
        self.assertTrue(law.open)
        part = resistor_code.part(law, 1350, "E24", 0.05)
        self.assertTrue(part.low < made.value(part.ohm) < part.high)
        self.assertGreater(part.high - part.low, 40)
        third = resistor_code.learn((known[0], (6800.0, made.value(6800.0)), known[1]), 5)
        self.assertFalse(third.open)
        self.assertAlmostEqual(third.pull_up / 4000, 1, places=3)
        with self.assertRaisesRegex(Problem, "Two pairs"):
            resistor_code.learn(known[:1], 5)

    def test_a_ptc_is_told_where_it_belongs(self) -> None:
        rising = ((273.15, 100.0), (298.15, 110.0), (373.15, 139.0))
        with self.assertRaisesRegex(Problem, "PTC sender.*curve editor"):
            thermistor.fit(rising)

    def test_series(self) -> None:
        """IEC 60063: counts, ends and a few awkward members."""
        for series, per_decade, members in (
            ("E24", 24, (330.0, 3300.0, 9100.0)),
            ("E96", 96, (9.76, 8450.0, 1.02)),
        ):
            parts = preferred.values(series)  # type: ignore[arg-type]
            self.assertEqual(len(parts), per_decade * 7 + 1)
            self.assertEqual(sorted(set(parts)), list(parts))
            self.assertTrue(set(members) <= set(parts))
        self.assertEqual(preferred.around("E24", 8455), (8200, 9100))
        self.assertEqual(preferred.nearest("E24", 8200), 8200)


class Typed(unittest.TestCase):
    def test_pairs_in_every_dress(self) -> None:
        want = ((0.0, 32650.0), (25.0, 10000.0))
        for text in (
            "0:32650,25:10000",
            "25:10000, 0:32650",
            "T;R\n0;32650\n25;10000\n",
            "0,32650\n25,10000",
            "0 32650\n25 10000",
            "# made up\n0\t32650\n25\t10000",
            "0,0;32650,0\n25,0;10000,0",
        ):
            self.assertEqual(pairs.parse(text, "points"), want, text)
        self.assertEqual(pairs.parse(pairs.write(want), "points"), want)
        for text, says in (
            ("0:1", "at least 2"),
            ("0:1,0:2", "twice"),
            ("0:1,x:2", "not a pair"),
            ("0:1,5:nan", "not a pair"),
            ("", "at least|not a pair"),
        ):
            with self.assertRaisesRegex(Problem, says):
                pairs.parse(text, "points")


if __name__ == "__main__":
    unittest.main()
