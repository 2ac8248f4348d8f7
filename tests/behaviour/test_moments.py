"""Short moments: creep at a launch, the lamp's lead, a blip, a falling idle, a pump."""

from __future__ import annotations

import math
import unittest

from tests.demo import DEMO, load, put, whole
from zombrel.behaviour import spin
from zombrel.behaviour.gearing import held_launch
from zombrel.behaviour.moments import moments, of_control
from zombrel.behaviour.reports import REPORTS, next_change, spoken
from zombrel.job.model import Job
from zombrel.job.problem import Problem

ENGINE = spin.Engine(((15.0, 120.0), (100.0, 120.0)), 14.0, 2.0)


def automatic() -> Job:
    """The demo with a converter that its brakes do not hold far."""
    job = put(whole(), "vehicle.gearbox", "automatic")
    return put(put(job, "vehicle.stall_rps", 60.0), "vehicle.brake_hold_nm", 3000.0)


class Physics(unittest.TestCase):
    def test_a_lamp_leads_by_the_rise(self) -> None:
        """By hand: 120 N·m · 10 · 2π/2 m = 3770 N on 1000 · (1.04 + 0.25) kg, 14.6 rps/s."""
        car = spin.Gearing(((15.0, 120.0), (100.0, 120.0)), 10.0, 2.0, 1000.0, 0.0)
        force = 120 * 10 * 2 * math.pi / 2 - 1000 * 9.80665 * 0.012
        by_hand = force / (1000 * 1.29) * 10 / 2
        self.assertAlmostEqual(spin.shifted_at(car, 80.0, 0.25), 80 + by_hand * 0.25, places=6)
        windy = spin.shifted_at(car.but(cda=0.7), 80.0, 0.25)
        self.assertLess(windy, 80 + by_hand * 0.25)

    def test_an_idle_falls_by_its_friction(self) -> None:
        """J · 2π · Δn / T: 0.108 kg·m² and 20 N·m from 25 to 17.33 rps is 0.26 s."""
        fall = spin.hand_back(ENGINE, 25.0, 1e-6)
        shut = spin.SHUT_SHARE * 120
        by_hand = 0.0009 * 120 * 2 * math.pi * (25.0 - 14.0 - spin.NEAR) / shut
        self.assertAlmostEqual(fall.seconds, by_hand, delta=2 * spin.STEP_S)
        self.assertAlmostEqual(fall.pull, (25 / 14) ** 2)
        self.assertGreater(spin.hand_back(ENGINE, 25.0, 1.0).seconds, fall.seconds)

    def test_a_slow_throttle_runs_over(self) -> None:
        quick, slow = (spin.blip(ENGINE, 46.0, 64.0, s) for s in (0.1, 0.4))
        self.assertLess(quick.over * 60, 60)
        self.assertGreater(slow.over * 60, 150)
        self.assertLess(quick.reached, slow.reached)
        self.assertTrue(math.isnan(spin.blip(ENGINE, 20.0, 300.0, 0.1).reached))

    def test_heat_stays_or_goes(self) -> None:
        """Nothing carries it off: two pulls of 12 s at 5 kW into 16 744 J/K are 7.17 K."""
        shut_in = spin.pulls(spin.Loop(0.3, 5000.0, carries_w_k=0.0))
        self.assertAlmostEqual(shut_in.second_k, 2 * 12 * 5000 / (4 * 4186), places=6)
        self.assertTrue(math.isnan(shut_in.back_s))
        little, much = (spin.pulls(spin.Loop(duty, 5000.0)) for duty in (0.1, 0.8))
        self.assertGreater(little.second_k, much.second_k)
        self.assertGreater(little.back_s, much.back_s)


class OfJobs(unittest.TestCase):
    def test_a_launch_creeps_where_the_brakes_no_longer_hold(self) -> None:
        """Another way to the same speed: the closed formula of ``held_launch``."""
        job = automatic()
        lamp = next(d for d in job.devices if d.id == "lamp")
        control = lamp.sheet.control("LAUNCH")
        assert control is not None
        held = held_launch(job.vehicle) * 60
        self.assertTrue(of_control(job, lamp, control, held * 0.99).fine)
        seen = of_control(job, lamp, control, held * 1.15)
        self.assertFalse(seen.fine)
        self.assertIn("it creeps", seen.words)
        tried = put(job, "vehicle.held_rps", held * 1.2 / 60)  # a trial on the car says more
        self.assertTrue(of_control(tried, lamp, control, held * 1.15).fine)
        manual = [pin for _, pin, _ in moments(whole())]
        self.assertNotIn("LAUNCH", manual)

    def test_what_is_missing_is_said(self) -> None:
        bare = put(load(DEMO / "0409.zjob"), "vehicle.torque", [])
        told = [seen for _, pin, seen in moments(bare) if pin == "GAP"]
        self.assertIn("torque curve is missing", str(told[0]))
        coder = next(s for _, pin, s in moments(load(DEMO / "0413.zjob")) if pin == "IDLE")
        self.assertIn("not set yet", str(coder))
        device, _ = spoken(whole())[0]
        with self.assertRaises(Problem):
            of_control(whole(), device, device.sheet.controls[0])

    def test_one_change_for_each_report(self) -> None:
        """(job, report, what is turned or why not)"""
        van, coupe = (load(DEMO / f"{n}.zjob") for n in ("0413", "0409"))
        late = put(whole(), "vehicle.redline_rps", 6600 / 60)
        for job, key, words in (
            (whole(), "limiter", "6200 → 6100"),
            (whole(), "early", "6200 → 6300"),
            (late, "early", "no further than 6200"),  # the next would be past the redline
            (automatic(), "bogs", "no further than"),
            (
                put(automatic(), "vehicle.stall_rps", None),
                "bogs",
                "no further than",
            ),
            (put(whole(), "vehicle.mass_kg", None), "early", "no further than"),
            (coupe, "twice", "2 → 3"),
            (van, "soaks", "2 → 3"),
            (van, "heard", "2 → 1"),
            (van, "lurches", "not set yet"),
        ):
            with self.subTest(key, words=words):
                report = next(r for r in REPORTS if r.key == key)
                device = next(d for d, told in spoken(job) if report in told)
                self.assertIn(words, next_change(job, device, report).words)


if __name__ == "__main__":
    unittest.main()
