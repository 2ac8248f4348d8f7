"""A pace unit at work: the vehicle, the loop, what the driver feels, one change at a time."""

from __future__ import annotations

import math
import unittest

import msgspec

from tests.demo import demo, put, whole
from zombrel.behaviour.cruise import (
    HUNTS_KMH,
    Unit,
    advice,
    cruise,
    drive,
    felt,
    flat,
    gusty,
)
from zombrel.behaviour.longitudinal import Body, acceleration, opening, pull, resistance
from zombrel.behaviour.reports import REPORTS, body_of, dials_map, next_change, paced, unit_of
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.units import KMH

SALOON = Body(1290, 0.68, 95e3)
VAN = Body(2650, 1.4, 75e3)
STRONG = Body(1200, 0.6, 190e3)
NINETY = 90 * KMH


class Vehicle(unittest.TestCase):
    def test_resistance_by_hand(self) -> None:
        # 25 m/s: ½ · 1.2 · 0.68 · 625 = 255 N of air, 1290 · 9.80665 · 0.012 = 151.8 N of rolling
        self.assertAlmostEqual(resistance(SALOON, 25.0, 0.0), 255 + 151.8, delta=0.1)
        # 5 % up: m·g·sin(atan 0.05) = 631.7 N more
        more = resistance(SALOON, 25.0, 0.05) - resistance(SALOON, 25.0, 0.0)
        self.assertAlmostEqual(more, 631.7, delta=0.5)
        # a head wind of 5 m/s is air at 30 m/s; a tail wind of 30 m/s pushes
        self.assertAlmostEqual(
            resistance(SALOON, 25, 0, 5) - 151.8, 0.5 * 1.2 * 0.68 * 900, delta=0.1
        )
        self.assertLess(resistance(SALOON, 25.0, 0.0, -30.0), 151.8)

    def test_full_throttle_is_the_engine_s_power_and_shut_brakes(self) -> None:
        self.assertAlmostEqual(pull(SALOON, 25.0, 1.0) * 25.0, SALOON.power)
        self.assertAlmostEqual(pull(SALOON, 25.0, 0.0), -SALOON.braking)
        for force in (0.0, 400.0, 2000.0):
            self.assertAlmostEqual(pull(SALOON, 25.0, opening(SALOON, 25.0, force)), force)
        held = opening(SALOON, 25.0, resistance(SALOON, 25.0, 0.02))
        self.assertAlmostEqual(acceleration(SALOON, 25.0, held, 0.02), 0.0)


class Loop(unittest.TestCase):
    def test_what_the_trade_knows(self) -> None:
        """A firmer take-up sags less; slack and hills sag more; a lively car hunts first."""
        base = cruise(VAN, Unit(1, 1, 1.0), NINETY, 0.0)
        self.assertLess(cruise(VAN, Unit(1, 3, 1.0), NINETY, 0.0).droop_kmh, base.droop_kmh)
        self.assertLess(cruise(VAN, Unit(3, 1, 1.0), NINETY, 0.0).droop_kmh, base.droop_kmh)
        self.assertGreater(cruise(VAN, Unit(1, 1, 8.0), NINETY, 0.0).droop_kmh, base.droop_kmh)
        self.assertGreater(cruise(VAN, Unit(1, 1, 1.0), NINETY, 0.015).droop_kmh, base.droop_kmh)
        self.assertGreater(cruise(STRONG, Unit(4, 2, 1.0), NINETY, 0.0).surge_kmh, HUNTS_KMH)
        self.assertLess(cruise(STRONG, Unit(1, 2, 1.0), NINETY, 0.0).surge_kmh, HUNTS_KMH)
        self.assertLess(cruise(VAN, Unit(4, 2, 1.0), NINETY, 0.0).surge_kmh, HUNTS_KMH)
        self.assertGreater(cruise(STRONG, Unit(1, 4, 1.0), NINETY, 0.0).overshoot_kmh, 2.0)

    def test_seeded_gusts_repeat(self) -> None:
        runs = [drive(SALOON, Unit(2, 2, 1.0), gusty(0, 5, 2, s), NINETY).v for s in (1, 1, 2)]
        self.assertEqual(runs[0], runs[1])
        self.assertNotEqual(runs[0], runs[2])
        calm = felt(drive(SALOON, Unit(2, 2, 1.0), flat(0, 5), NINETY), NINETY)
        gusts = felt(drive(SALOON, Unit(2, 2, 1.0), gusty(0, 5, 2, 1), NINETY), NINETY)
        self.assertGreater(gusts.surge_kmh, calm.surge_kmh)

    def test_a_hill_the_engine_cannot_hold_is_said(self) -> None:
        with self.assertRaisesRegex(Problem, "no setting holds it"):
            cruise(VAN, Unit(2, 2, 1.0), 130 * KMH, 0.06)

    def test_one_change_that_does_what_it_says(self) -> None:
        for body, unit, grade, change in (
            (VAN, Unit(1, 1, 1.0), 0.01, "take-up"),
            (VAN, Unit(1, 4, 6.0), 0.0, "slack"),
            (VAN, Unit(1, 4, 1.0), 0.02, "gain"),
            (STRONG, Unit(4, 2, 1.0), 0.0, "gain"),
            (SALOON, Unit(2, 2, -1.0), 0.0, "slack"),
            (SALOON, Unit(2, 3, 1.0), 0.0, ""),
        ):
            with self.subTest(unit=unit, grade=grade):
                told = advice(body, unit, NINETY, grade)
                self.assertEqual(told.change, change, told)
                if not change or unit.slack_mm < 0:
                    continue
                field = {"take-up": "take_up", "slack": "slack_mm"}.get(change, change)
                after = cruise(body, unit.but(**{field: told.to}), NINETY, grade)
                before = cruise(body, unit, NINETY, grade)
                worst = "surge_kmh" if before.surge_kmh > HUNTS_KMH else "droop_kmh"
                self.assertLess(getattr(after, worst), getattr(before, worst))


class Reports(unittest.TestCase):
    def test_one_step_in_the_trade_s_order(self) -> None:
        job = whole()
        unit = paced(job)
        assert unit is not None
        self.assertEqual(unit.id, "pace")
        by = {r.key: next_change(job, unit, r) for r in REPORTS if r.symptom}
        self.assertEqual((by["hills"].pin, by["hills"].at), ("TAKE-UP", "2"))
        self.assertIn("instead of", by["hills"].feels)
        self.assertEqual(by["hunts"].pin, "")  # at its lowest already: the cable, then the signal
        self.assertIn("cable", by["hunts"].words)
        lively = put(job, "devices.pace.settings.SENSITIVITY.at", "3")
        unit = paced(lively)
        assert unit is not None
        change = next_change(lively, unit, next(r for r in REPORTS if r.key == "hunts"))
        self.assertEqual((change.pin, change.at), ("SENSITIVITY", "2"))
        self.assertIn("slack", by["idle"].words)

    def test_the_map_of_the_dials(self) -> None:
        """Each cell is the loop at those positions; one of them is where they stand."""
        job = put(whole(), "devices.pace.settings.TAKE-UP.at", "3")
        unit = paced(job)
        assert unit is not None
        spots = dials_map(job, unit, 0.03)
        self.assertEqual(
            [(s.gain, s.take_up) for s in spots], [(g, t) for g in "1234" for t in "1234"]
        )
        stands = [s for s in spots if s.stands]
        self.assertEqual([(s.gain, s.take_up) for s in stands], [("1", "3")])
        felt = cruise(body_of(job.vehicle), Unit(1, 3, 1.0), NINETY, 0.03)
        self.assertEqual(stands[0].felt, felt)
        self.assertEqual(stands[0].calm, felt.droop_kmh <= 2 and felt.surge_kmh <= HUNTS_KMH)
        self.assertEqual({s.calm for s in spots}, {True, False})

    def test_what_is_not_known_is_said_and_the_order_stands(self) -> None:
        job = put(whole(), "vehicle.torque", [])
        unit = paced(job)
        assert unit is not None
        change = next_change(job, unit, REPORTS[0])
        self.assertEqual(change.pin, "TAKE-UP")
        self.assertIn("torque", change.feels)
        self.assertIsNone(paced(Job()))

    def test_the_dials_are_read_on_their_own_scale(self) -> None:
        job = put(whole(), "devices.pace.settings.TAKE-UP.at", "4")
        unit = paced(job)
        assert unit is not None
        self.assertEqual(unit_of(unit).take_up, 4.0)
        body = body_of(job.vehicle, 25.0)
        # 25 m/s in the last gear: 25/1.912 · 3.64 · 0.79 = 37.60 turns; 2 256 rpm: 225.4 N·m there
        self.assertAlmostEqual(body.power, 225.4 * 2 * math.pi * 37.6, delta=30)


class Reported(unittest.TestCase):
    def test_a_cable_without_slack_is_right_and_a_tight_one_is_not(self) -> None:
        car = Body(1290, 0.68, 95e3)
        self.assertNotEqual(advice(car, Unit(1, 1, 0.0), 25.0, 0.0).change, "slack")
        self.assertEqual(advice(car, Unit(1, 1, -0.1), 25.0, 0.0).change, "slack")

    def test_what_holds_a_speed_is_known_by_either_dial(self) -> None:
        job = whole()
        pace = index(job.devices)["pace"]
        for means in ("engage", "gain"):
            left = tuple(c for c in pace.sheet.controls if c.means == means)
            sheet = msgspec.structs.replace(pace.sheet, controls=left)
            one = msgspec.structs.replace(pace, sheet=sheet)
            self.assertEqual(paced(msgspec.structs.replace(job, devices=(one,))), one)

    def test_a_unit_that_knows_at_once_sees_no_more_than_there_is(self) -> None:
        body = body_of(demo().vehicle)
        runs = [drive(body, Unit(2, 2, 1.0, lag_s=lag), flat(0.03), 25.0).v for lag in (1e-9, 1e-3)]
        self.assertEqual(*runs)
        self.assertLess(max(runs[0]) - min(runs[0]), 5.0)

    def test_a_dial_can_be_turned_to_its_first_position(self) -> None:
        hunts = next(r for r in REPORTS if r.key == "hunts")
        for stands, to in (("2", "1"), ("1", "")):
            job = put(demo(), "devices.pace.settings.SENSITIVITY.at", stands)
            unit = paced(job)
            assert unit is not None
            self.assertEqual(next_change(job, unit, hunts).at, to)


if __name__ == "__main__":
    unittest.main()
