"""The road sheet of jobs as they come: it answers, and no leg stays passed on other facts."""

from __future__ import annotations

import re
import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import apply, at, proven, put
from tests.findings.test_any_job import facts
from zombrel.catalog import DEMO
from zombrel.findings.legs import KINDS, WORDS, Leg, drove, legs, sign, sign_lacks
from zombrel.handover.paper import dossier_html
from zombrel.job.follow.view import plain
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.validate import validate
from zombrel.store.zjob import load
from zombrel.units import Units, words

BRACES = re.compile(r"\{q:|\bnan\b|\binf\b|None")
"""What no user may read."""


def driven() -> Job:
    """The demo job with every leg driven that can be answered by word."""
    job = put(put(proven(), "outing.driver", "Ann"), "outing.reader", "Bo")
    for leg in legs(job):
        verdict: Any = "not reached" if leg.sheet.kind == "read" else "pass"
        now = next(x for x in legs(job) if x.sheet.id == leg.sheet.id)
        job = apply(job, drove(job, now, verdict, "", "2026-11-26 10:00"))
    return job


def told(leg: Leg) -> tuple[str, ...]:
    """All that its driver goes by."""
    return leg.sheet.short, leg.sheet.ask, leg.sheet.where, leg.sheet.caution


class AnyRoad(unittest.TestCase):
    @settings(max_examples=20)
    @given(st.lists(facts, max_size=6), st.sampled_from(["km", "mi"]))
    def test_it_answers_in_words(self, edits: list[tuple[str, Any]], distance: Any) -> None:
        job = proven()
        for path, value in edits:
            job = put(job, path, value)
        units = Units(distance=distance)
        for leg in legs(validate(job)):
            self.assertIn(leg.state, WORDS)
            self.assertTrue(leg.sheet.ask)
            self.assertTrue(leg.sheet.where)
            self.assertTrue(leg.sheet.caution)
            for text in (*told(leg), leg.said, leg.wait, leg.sheet.otherwise):
                self.assertIsNone(BRACES.search(words(text, units)), words(text, units))

    @settings(max_examples=20)
    @given(st.lists(facts, min_size=1, max_size=4))
    def test_nothing_stays_passed_on_other_facts(self, edits: list[tuple[str, Any]]) -> None:
        job = driven()
        before = {x.sheet.id: x for x in legs(job)}
        self.assertEqual(sign_lacks(job, tuple(before.values())), "")
        for path, value in edits:
            job = put(job, path, value)
        for leg in legs(job):
            old = before.get(leg.sheet.id)
            if leg.state == "passed":
                assert old is not None
                self.assertEqual(told(leg), told(old))

    def test_taken_back_it_stands_as_it_did(self) -> None:
        job = driven()
        mass = job.vehicle.mass_kg
        heavy = put(job, "vehicle.mass_kg", 2222.0)
        self.assertIn("stale", {x.state for x in legs(heavy)})
        again = put(heavy, "vehicle.mass_kg", mass)
        self.assertEqual([x.state for x in legs(again)], [x.state for x in legs(job)])

    def test_every_demo(self) -> None:
        wanted = {  # what holds back, what reads, what can be felt, as the scenario has them
            "0409": ["off", "cancel", "read", "feel"],
            "0412": ["off", "cancel", "read", "read", "pace", "feel"],
            "0413": ["off", "cancel", "read", "pace", "feel", "feel"],
        }
        for number, kinds in wanted.items():
            found = legs(load(DEMO / f"{number}.zjob"))
            self.assertEqual([x.sheet.kind for x in found], kinds)
            order = [list(KINDS).index(x.sheet.kind) for x in found]
            self.assertEqual(order, sorted(order))
            ids = [x.sheet.id for x in found]
            self.assertEqual(len(ids), len(set(ids)))

    def test_nobody_parks_while_the_car_rolls(self) -> None:
        for number in ("0409", "0413"):
            for leg in legs(load(DEMO / f"{number}.zjob")):
                if leg.sheet.kind == "cancel":
                    self.assertNotRegex(leg.sheet.ask, "(?i)park|lever|gear")
        job = load(DEMO / "0412.zjob")
        pin = "devices.pace.sheet.inputs.CANCEL"
        park = put(put(job, f"{pin}.quantity", "park"), "chains.brake-pace.quantity", "park")
        self.assertNotIn("cancel", {x.sheet.kind for x in legs(park)})
        self.assertIn("cancel", {x.sheet.kind for x in legs(job)})

    def test_on_paper(self) -> None:
        bare, job = proven(), driven()
        self.assertNotIn("Off, gently", dossier_html(bare, at(bare), Units()))
        sheet = dossier_html(job, at(job), Units())
        self.assertIn("Off, gently", sheet)
        self.assertIn("Ann drove, Bo read", sheet)
        self.assertNotIn("Signed off", sheet)
        signed = apply(job, sign(plain(job), "Cy", "2026-11-26 11:00"))
        self.assertIn(
            "Signed off by Cy, 2026-11-26 11:00.", dossier_html(signed, at(signed), Units())
        )
        heavy = put(signed, "vehicle.mass_kg", 2222.0)
        self.assertIn("No longer whole", dossier_html(heavy, at(heavy), Units()))

    def test_a_lock_that_closes_again_shuts_every_leg(self) -> None:
        job = put(driven(), "chains.brake-pace.hops", [])
        found = legs(job)
        self.assertTrue(all("locked" in x.wait for x in found))
        self.assertRaises(Problem, drove, job, found[0], "pass", "", "today")
        self.assertRaises(Problem, sign, job, "Cy", "today")


if __name__ == "__main__":
    unittest.main()
