"""How speed, gear and engine hang together, and what a supposed state keeps when facts change."""

from __future__ import annotations

import math
import unittest

import msgspec
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.demo import demo
from zombrel.behaviour.suppose import (
    USUAL,
    follow,
    named,
    turns_per_metre,
    usual,
    with_engine,
    with_gear,
    with_speed,
)
from zombrel.job.model import Vehicle
from zombrel.job.state import State
from zombrel.units import KMH, RPM

CAR = demo().vehicle
AROUND = math.pi * (15 * 25.4 + 2 * 0.60 * 205) / 1000 * 0.97
"""Rolling circumference of a 205/60 R15 as ``calibrate.tyre`` takes it, give or take [m]."""


def change(**facts: object) -> Vehicle:
    return msgspec.structs.replace(CAR, **facts)


class Kinematics(unittest.TestCase):
    def test_fourth_gear_by_hand(self) -> None:
        """70 km/h, 3.64 and the fourth gear, over the circumference."""
        got = with_speed(CAR, State(gear=4), 70 * KMH).engine / RPM
        want = 70 / 3.6 / AROUND * 3.64 * CAR.ratios[3] * 60
        self.assertAlmostEqual(got / want, 1, delta=0.01)

    def test_wear_turns_the_engine_faster(self) -> None:
        new, worn = turns_per_metre(CAR, 3), turns_per_metre(CAR, 3, 0.015)
        assert new is not None
        assert worn is not None
        self.assertAlmostEqual(worn / new, 1 / 0.985)

    def test_what_is_not_joined_stays(self) -> None:
        for words, vehicle, state in (
            ("neutral", CAR, State(gear=0, engine=20.0)),
            ("clutch", CAR, State(gear=3, engine=20.0, clutch=True)),
            ("no such gear", CAR, State(gear=9, engine=20.0)),
            ("no tyre", change(tyre=""), State(gear=3, engine=20.0)),
            ("no tyre that is one", change(tyre="round"), State(gear=3, engine=20.0)),
            ("no final drive", change(final_drive=None), State(gear=3, engine=20.0)),
        ):
            with self.subTest(words):
                self.assertEqual(with_speed(vehicle, state, 15.0).engine, 20.0)
                self.assertEqual(with_engine(vehicle, state, 30.0).speed, state.speed)

    def test_an_engine_on_the_road_never_stands(self) -> None:
        for vehicle in (Vehicle(), change(tyre=""), change(final_drive=None), change(ratios=())):
            for name in (USUAL, "Hot hill"):
                self.assertEqual(dict(named(vehicle))[name].engine, 2500 / 60)

    @given(st.integers(1, 5), st.floats(0.5, 60), st.floats(0, 0.05))
    def test_there_and_back(self, gear: int, speed: float, wear: float) -> None:
        there = with_speed(CAR, State(gear=gear, wear=wear), speed)
        self.assertAlmostEqual(with_engine(CAR, there, there.engine).speed, speed, places=9)
        self.assertEqual(with_gear(CAR, there, gear), there)


class Follow(unittest.TestCase):
    def test_a_named_state_follows_the_facts(self) -> None:
        for name, facts in (
            (USUAL, {"tyre": "195/50 R15"}),
            (USUAL, {"final_drive": 4.1}),
            ("Idle", {"idle_rps": 15.0}),
            ("Cranking", {"system_v": 24}),
            ("Launch", {"redline_rps": 90.0}),
        ):
            with self.subTest(name, facts=facts):
                after = change(**facts)
                got = follow(CAR, after, dict(named(CAR))[name], name)
                self.assertEqual(got, dict(named(after))[name])
                self.assertNotEqual(got, dict(named(CAR))[name])

    def test_what_was_supposed_by_hand_stays(self) -> None:
        braked = msgspec.structs.replace(usual(CAR), brake=True, volts=13.1)
        got = follow(CAR, change(tyre="195/50 R15"), braked, USUAL)
        self.assertTrue(got.brake)
        self.assertEqual(got.volts, 13.1)
        self.assertNotEqual(got.engine, braked.engine)

    @given(st.integers(1, 5), st.floats(1, 60), st.sampled_from(["195/50 R15", "225/45 R17"]))
    def test_a_state_without_a_name_keeps_its_speed(
        self, gear: int, speed: float, tyre: str
    ) -> None:
        after = change(tyre=tyre)
        state = with_speed(CAR, State(gear=gear, volts=13.1), speed)
        got = follow(CAR, after, state, "")
        self.assertEqual((got.speed, got.volts, got.gear), (speed, 13.1, gear))
        turns = turns_per_metre(after, gear)
        assert turns is not None
        self.assertAlmostEqual(got.engine, speed * turns)

    @given(st.sampled_from([n for n, _ in named(CAR)]), st.integers(700, 1500))
    def test_nothing_moves_when_nothing_changed_it(self, name: str, mass: int) -> None:
        state = dict(named(CAR))[name]
        assume(mass != CAR.mass_kg)
        self.assertEqual(follow(CAR, change(mass_kg=float(mass)), state, name), state)


if __name__ == "__main__":
    unittest.main()
