"""Where nothing is refused: a figure of zero, and beside it the least that is taken."""

from __future__ import annotations

import math
import unittest
from collections.abc import Callable

from zombrel.calibrate import advance, blend, pressure, shift, thermistor
from zombrel.calibrate.resistor_code import learn
from zombrel.harness.coupling import clear_spacing
from zombrel.job.problem import Problem
from zombrel.signals.brake import brake_line

LEAST = 1e-6
PULL = ((1000.0, 2.0), (2200.0, 3.0), (4700.0, 4.0))
THREE = ((273.15, 9800.0), (293.15, 3030.0), (373.15, 187.0))
TORQUE = ((15.0, 200.0), (60.0, 250.0))


def line(
    watts: float = 21.0, pull: float = 10e3, volts: float = 12.0, load: float = 50.0
) -> object:
    """A brake line of bulbs."""
    return brake_line("filament", watts, 2, pull, volts, load, None, 100.0)


REFUSED: tuple[tuple[str, Callable[[float], object]], ...] = (
    ("circumference", lambda x: shift.matched(20.0, x, 3.7, 1.0)),
    ("final drive", lambda x: shift.matched(20.0, 1.9, x, 1.0)),
    ("ratio", lambda x: shift.matched(20.0, 1.9, 3.7, x)),
    ("lamp", lambda x: shift.lamp_speed(10.0 + x, 10.0, 1.0)),
    ("top ratio", lambda x: shift.shift_points(TORQUE, (3.0, x), 100.0)),
    ("torque", lambda x: shift.shift_points(((15.0, 0.0), (60.0, x)), (3.0, 1.0), 100.0)),
    ("engine speed of torque", lambda x: shift.shift_points(((x, 1.0), (60.0, 2.0)), (3, 1), 100)),
    ("temperature", lambda x: thermistor.fit(THREE).equation.ohm(200.0 if x else 0.0)),
    ("pair's temperature", lambda x: thermistor.fit(((x, 1e9), *THREE[1:]))),
    ("speed of the current", lambda x: advance.box_current(10.0, x, 5.0, 1.0)),
    ("stall", lambda x: advance.held_launch(x, 200.0, 900.0, 2.0)),
    ("stall torque", lambda x: advance.held_launch(40.0, x, 900.0, 2.0)),
    ("hold", lambda x: advance.held_launch(40.0, 200.0, x, 2.0)),
    ("resistor", lambda x: learn(((x, 1.0), *PULL), 5.0) if not x else None),
    ("reference", lambda x: learn(PULL, x or 0.0) if not x else None),
    ("supply", lambda x: pressure.ratiometric(0.0, x, 0.1, 0.9, 0.0, 1e6)),
    ("barometer", lambda x: pressure.boost(1e5, x)),
    ("tank", lambda x: blend.mix(0.0, 0.1, 0.85, 0.5, x)),
    ("flow", lambda x: blend.highest_blend(x, 1.0)),
    ("lamp watts", lambda x: line(watts=x)),
    ("pull-up", lambda x: line(pull=x)),
    ("volts", lambda x: line(volts=x)),
    ("load", lambda x: line(load=x)),
)
TAKEN: tuple[tuple[str, Callable[[], object]], ...] = (
    ("no rise", lambda: shift.lamp_speed(10.0, 0.0, 1.0)),
    ("no delay", lambda: shift.lamp_speed(10.0, 5.0, 0.0)),
    ("standing engine", lambda: advance.total(10.0, ((0.0, 0.0), (40.0, 10.0)), 0.0, 0.0)),
    ("no pressure at all", lambda: pressure.boost(0.0, 1e5)),
    ("empty tank", lambda: blend.mix(0.0, 0.1, 0.85, 0.5, 50.0)),
    ("full tank", lambda: blend.mix(50.0, 0.1, 0.85, 0.1, 50.0)),
    ("converter that does not multiply", lambda: advance.held_launch(40.0, 200.0, 900.0, 1.0)),
)


class Nothing(unittest.TestCase):
    def test_zero_is_refused_and_the_least_is_not(self) -> None:
        for name, call in REFUSED:
            with self.subTest(name):
                with self.assertRaises(Problem):
                    call(0.0)
                call(LEAST)

    def test_nothing_of_these_is_sound(self) -> None:
        for name, call in TAKEN:
            with self.subTest(name):
                call()

    def test_where_nothing_may_be_picked_up_no_distance_is_enough(self) -> None:
        self.assertEqual(clear_spacing("coil", 0.5, 100.0, 0.0), math.inf)
        self.assertLess(clear_spacing("coil", 0.5, 100.0, 0.01), math.inf)
        self.assertEqual(clear_spacing("a loom that is quiet", 0.5, 100.0, 0.0), 0.0)


if __name__ == "__main__":
    unittest.main()
