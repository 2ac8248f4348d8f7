"""Settings: every position, the nearest, the divider rule, against brute force."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from zombrel.calibrate.settings.setting import CLOSE, choose, options, pulses, value_of
from zombrel.job.problem import Problem
from zombrel.job.sheet import Buttons, Dial, Dials, Lookup, Menu

PACE = Dials(
    base=800,
    unit="pulses/km",
    dials=(
        Dial(name="coarse", positions=tuple("ABCDE"), octaves=1),
        Dial(name="fine", positions=tuple("0123456789"), octaves=0.1),
    ),
)
HUB = Menu(path=("Speed",), low=500, high=40000, step=10, unit="pulses/km")
LAMP = Buttons(low=0.5, high=6, step=0.5, unit="pulses/rev")


class Positions(unittest.TestCase):
    def test_the_two_dials(self) -> None:
        table = options(PACE)
        self.assertEqual(len(table.names), 50)
        self.assertEqual((table.names[0], table.names[-1]), ("A0", "E9"))
        self.assertEqual(list(table.values), sorted(table.values))
        for at, want in (("A0", 800), ("B0", 1600), ("C1", 800 * 2**2.1), ("E9", 800 * 2**4.9)):
            self.assertAlmostEqual(value_of(PACE, at), want)

    def test_menu_and_buttons(self) -> None:
        self.assertEqual(options(LAMP).values[:3], (0.5, 1.0, 1.5))
        self.assertEqual(len(options(HUB).values), 3951)
        self.assertEqual(value_of(HUB, "24050"), 24050)
        self.assertEqual(value_of(LAMP, "1,5"), 1.5)

    def test_no_such_position(self) -> None:
        for sheet, at, part in (
            (PACE, "F3", "A0 to E9"),
            (PACE, "", "no position"),
            (HUB, "24055", "between two steps"),
            (HUB, "100", "outside"),
            (HUB, "lots", "not a number"),
            (LAMP, "0.7", "between two steps"),
        ):
            with self.subTest(at=at), self.assertRaises(Problem) as caught:
                value_of(sheet, at)
            self.assertIn(part, str(caught.exception))

    def test_cylinders_are_half_pulses(self) -> None:
        self.assertEqual(pulses("cylinders", 6), 3)
        self.assertEqual(pulses("pulses/rev", 3), 3)
        self.assertEqual(pulses("pulses/km", 24000), 24)


class Choosing(unittest.TestCase):
    def pace(
        self, rate: float, divider_max: int = 10, max_hz: float = 1000, top: float = 200 / 3.6
    ):  # type: ignore[no-untyped-def]
        table = options(PACE)
        values = tuple(v / 1000 for v in table.values)
        return choose(rate, table.names, values, max_hz, top, divider_max)

    def test_scenario_divide_by_seven_and_c1(self) -> None:
        best = self.pace(46 / (3.05 * 0.627))[0]
        self.assertEqual((best.divider, best.setting), (7, "C1"))
        self.assertLess(abs(best.error), 0.002)
        by = {c.divider: c for c in self.pace(46 / (3.05 * 0.627))}
        self.assertGreater(abs(by[5].error), abs(best.error))
        self.assertGreater(abs(by[4].error), abs(best.error))
        self.assertNotIn(1, by)  # 1336 Hz is past the limit at 200 km/h

    def test_high_reads_positive(self) -> None:
        names, values = ("A", "B"), (1.2, 2.4)
        best = choose(2.5, names, values, 1e9, 50)[0]
        self.assertEqual(best.setting, "B")
        self.assertAlmostEqual(best.error, 2.5 / 2.4 - 1)

    def test_a_smaller_divider_wins_when_nearly_as_good(self) -> None:
        # undivided 0.09 % off, divided by 2 exact: the difference is under 0.1 point
        ranked = choose(2.0018, ("A", "B"), (1.0009, 2.0), 1e9, 50, 2)
        self.assertEqual((ranked[0].divider, ranked[0].setting), (1, "B"))
        # 0.2 % off is too much to forgive
        ranked = choose(2.004, ("A", "B"), (1.002, 2.0), 1e9, 50, 2)
        self.assertEqual((ranked[0].divider, ranked[0].setting), (2, "A"))

    def test_nothing_fits(self) -> None:
        with self.assertRaises(Problem) as caught:
            choose(24.0, ("A",), (1.0,), 100, 55.5, 2)
        self.assertIn("at least 14", str(caught.exception))

    @settings(max_examples=200)
    @given(
        st.floats(0.1, 50),
        st.lists(st.floats(0.05, 60), min_size=1, max_size=12, unique=True),
        st.floats(50, 5000),
        st.floats(10, 80),
        st.integers(1, 12),
    )
    def test_against_brute_force(
        self, rate: float, values: list[float], max_hz: float, top: float, most: int
    ) -> None:
        table = tuple(sorted(values))
        names = tuple(str(i) for i in range(len(table)))
        every = [
            (abs(rate / n / v - 1), n)
            for n in range(1, most + 1)
            if rate / n * top <= max_hz
            for v in table
        ]
        if not every:
            with self.assertRaises(Problem):
                choose(rate, names, table, max_hz, top, most)
            return
        least = min(every)[0]
        allowed = min(n for e, n in every if e <= least + CLOSE + 1e-12)
        best = choose(rate, names, table, max_hz, top, most)[0]
        self.assertEqual(best.divider, allowed)
        self.assertLessEqual(abs(best.error), least + CLOSE + 1e-9)
        self.assertLessEqual(best.hz_at_top, max_hz)


class Options(unittest.TestCase):
    def test_a_setting_of_one_step_and_names_of_switches(self) -> None:
        one = options(Menu(path=("A",), low=5, high=5, step=1, unit="rpm"))
        self.assertEqual(len(one.names), 1)
        bank = options(Lookup(rows=(("010", 1.0), ("100", 2.0)), unit="cylinders"))
        self.assertEqual(len(bank.names), 2)


if __name__ == "__main__":
    unittest.main()
