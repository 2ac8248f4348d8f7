"""The road sheet: what there is to drive, what holds it up, what a drive answers, the sign-off."""

from __future__ import annotations

import unittest

from tests.demo import apply, demo, proven, put
from tests.findings.test_roadwork import with_run
from zombrel.actions.signals import put_setting
from zombrel.actions.trials import came, tried, untold
from zombrel.behaviour.reports import next_change, spoken
from zombrel.findings.legs import Leg, drove, legs, sign, sign_lacks
from zombrel.findings.roadwork import proposal
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem


def crewed() -> Job:
    return put(put(proven(), "outing.driver", "Ann"), "outing.reader", "Bo")


def leg(job: Job, key: str) -> Leg:
    return next(x for x in legs(job) if x.sheet.id.startswith(f"leg-{key}"))


def drive(job: Job, key: str, verdict: str = "pass") -> Job:
    return apply(job, drove(job, leg(job, key), verdict, "", "today"))  # type: ignore[arg-type]


class Legs(unittest.TestCase):
    def test_who_may_drive(self) -> None:
        cases = (
            (demo(), "Road tests stay locked"),
            (proven(), "It takes two"),
            (put(crewed(), "outing.reader", " ann "), "name a second one"),
            (crewed(), ""),
        )
        for job, words in cases:
            with self.subTest(words):
                wait = leg(job, "off").wait
                self.assertIn(words, wait)
                self.assertEqual(bool(wait), bool(words))
                if words:
                    self.assertRaises(Problem, drive, job, "off")
        self.assertEqual(legs(Job()), ())
        self.assertIn("no device", sign_lacks(Job(), ()))

    def test_a_leg_that_failed_holds_up_those_after_it(self) -> None:
        job = drive(crewed(), "cancel", "fail")
        self.assertEqual(leg(job, "off").wait, "")
        self.assertEqual(leg(job, "cancel").wait, "")  # it is driven again
        self.assertIn("Brake lets go", leg(job, "pace").wait)
        self.assertRaises(Problem, drive, job, "pace")
        self.assertEqual(leg(drive(job, "cancel"), "pace").wait, "")

    def test_a_leg_rests_on_what_it_was_worked_out_of(self) -> None:
        job = drive(drive(crewed(), "pace"), "feel-lamp")
        self.assertEqual(leg(job, "pace").state, "passed")
        heavy = put(job, "vehicle.mass_kg", 2400.0)
        self.assertEqual(leg(heavy, "pace").state, "stale")
        self.assertNotEqual(leg(heavy, "pace").sheet.where, leg(job, "pace").sheet.where)
        lamp = put_setting(index(job.devices)["lamp"], "SHIFT", "5800")
        self.assertEqual(leg(apply(job, lamp), "feel-lamp").state, "stale")
        self.assertEqual(leg(apply(job, lamp), "pace").state, "passed")

    def test_the_record_answers_and_nobody_else(self) -> None:
        job = crewed()
        with self.assertRaisesRegex(Problem, "answered by its record"):
            drive(job, "read-speed-pace")
        ran = with_run(job)
        self.assertEqual(leg(ran, "read-speed-pace").state, "failed")
        self.assertIn("would read nearer", leg(ran, "read-speed-pace").said)
        offer = apply(ran, proposal(ran, ran.road[0]).edit)
        self.assertEqual(leg(offer, "read-speed-pace").state, "open")  # set otherwise: drive again
        self.assertEqual(leg(ran, "read-speed-hub").state, "open")
        self.assertEqual(
            leg(drive(job, "read-speed-hub", "not reached"), "read-speed-hub").state, "not reached"
        )

    def test_signed_off_when_all_is_driven(self) -> None:
        job = crewed()
        for key in ("off", "cancel", "pace", "feel-lamp"):
            self.assertRaises(Problem, sign, job, "Cy", "today")
            job = drive(job, key)
        for key in ("read-speed-pace", "read-speed-hub"):
            job = drive(job, key, "not reached")
        self.assertRaises(Problem, sign, job, " ", "today")
        signed = apply(job, sign(job, "Cy", "today"))
        self.assertEqual(sign_lacks(signed, legs(signed)), "")
        self.assertIn(
            "again",
            sign_lacks(
                put(signed, "vehicle.mass_kg", 2400.0), legs(put(signed, "vehicle.mass_kg", 2400.0))
            ),
        )

    def test_one_change_at_a_time(self) -> None:
        job = crewed()
        device, reports = spoken(job)[0]
        change = next_change(job, device, reports[0])
        said = (reports[0].words, change.words)
        once = apply(job, tried(job, device, change.pin, change.at, said, "now"))
        self.assertEqual(index(once.devices)[device.id].setting(change.pin), change.at)
        with self.assertRaisesRegex(Problem, "One change at a time"):
            tried(once, device, change.pin, "4", ("x", "y"), "now")
        back = came(once, "no better")
        assert back is not None
        self.assertEqual(apply(once, back).devices, job.devices)
        good = came(once, "better")
        assert good is not None
        kept = apply(once, good)
        self.assertIsNone(untold(kept))
        self.assertEqual(kept.wishes[-1].id, f"{device.id}/{change.pin}")
        self.assertIsNone(came(kept, "better"))
        noted = apply(kept, tried(kept, device, "", "", ("It jerks", "cable shorter"), "now"))
        self.assertEqual(noted.devices, kept.devices)  # a cable has no dial


if __name__ == "__main__":
    unittest.main()
