"""How the vehicle came: told and not known, kept with the job, printed, never evidence."""

from __future__ import annotations

import unittest

from msgspec.structs import astuple

from tests.demo import apply, demo, put, whole
from zombrel.actions.logs import day_of, new_codes
from zombrel.actions.notes import put_fact
from zombrel.behaviour.questions import questions
from zombrel.behaviour.suppose import usual
from zombrel.findings.assess import assess
from zombrel.handover.paper import dossier_html
from zombrel.job import facts
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.typed import facts as typed
from zombrel.store.zjob import from_bytes, to_bytes
from zombrel.units import METRIC

SHEETS = {f.path: f for f in facts.BASELINE}


def told(job: Job, path: str, text: str) -> Job:
    """``job`` with one thing said as it is typed in Survey."""
    return apply(job, put_fact(path, typed.parse(SHEETS[path], text, METRIC)))


class Baseline(unittest.TestCase):
    def test_what_is_typed_is_shown_and_comes_back_from_a_file(self) -> None:
        job = demo()
        for path, text, kept in (
            ("baseline.codes", "P0301, P0420-00", "P0301, P0420-00"),
            ("baseline.works", "heater stays cold", "heater stays cold"),
            ("baseline.day", "27.11.2026", "2026-11-27"),
            ("baseline.weather", "damp", "damp"),
            ("baseline.tank", "three quarters", "three quarters"),
        ):
            job = told(job, path, text)
            with self.subTest(path):
                self.assertEqual(typed.show(job, SHEETS[path], METRIC), kept)
        self.assertEqual(job.baseline.tank, 0.75)
        self.assertEqual(from_bytes(to_bytes(job), "it").baseline, job.baseline)
        empty = told(job, "baseline.tank", "")
        self.assertIsNone(empty.baseline.tank)

    def test_what_is_none_of_the_choices_is_refused(self) -> None:
        for path, text in (
            ("baseline.weather", "foggy"),
            ("baseline.tank", "2.0"),
            ("baseline.day", "yesterday"),
        ):
            with self.subTest(path), self.assertRaises(Problem):
                told(demo(), path, text)

    def test_nobody_asks_for_it_and_it_changes_no_verdict(self) -> None:
        job = whole()
        said = told(told(job, "baseline.codes", "none"), "baseline.weather", "rain")
        asked = {q.sheet.path for q in questions(said)}
        self.assertFalse(asked & set(SHEETS))
        before, after = (assess(j, usual(j.vehicle)) for j in (job, said))
        self.assertEqual([f.id for f in before.findings], [f.id for f in after.findings])

    def test_it_is_printed_once_and_not_as_hearsay(self) -> None:
        job = told(demo(), "baseline.codes", "P0301")
        html = dossier_html(job, assess(job, usual(job.vehicle)))
        self.assertEqual(html.count("P0301"), 1)
        self.assertLess(html.index("Before the work"), html.index("P0301"))
        plain = dossier_html(demo(), assess(demo(), usual(demo().vehicle)))
        self.assertNotIn("Before the work", plain)

    def test_codes_are_told_from_other_figures(self) -> None:
        for before, after, fresh in (
            ("none", "P0301", ("P0301",)),
            ("P0301", "p0301", ()),
            ("", "P0301 P0301 U0100", ("P0301", "U0100")),
            ("12", "12, 41", ("41",)),
            ("none", "14.2 V at idle, 3 lamps", ()),
            ("C1234-1F", "C1234-2F", ("C1234-2F",)),
        ):
            with self.subTest(after):
                self.assertEqual(new_codes(before, after), fresh)

    def test_the_day_before_is_the_baselines_even_without_a_log(self) -> None:
        job = put(put(Job(), "baseline.weather", "snow"), "baseline.codes", "P0301")
        self.assertEqual(astuple(day_of(job, "before")), ("snow", None, "P0301"))
        self.assertEqual(astuple(day_of(job, "after")), ("", None, ""))


if __name__ == "__main__":
    unittest.main()
