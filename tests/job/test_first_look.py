"""A job looked at for the first time is read without notes, and reads the same."""

from __future__ import annotations

import unittest

from tests.demo import demo, proven, put, state
from zombrel.diagnose.gates import road_gate
from zombrel.diagnose.steps import standing, steps
from zombrel.findings.assess import assess
from zombrel.harness.laid import laid
from zombrel.job.follow.engine import Engine
from zombrel.job.follow.first_look import FirstLook
from zombrel.job.follow.query import Watch, engine, forget, query, take_notes, takes_notes
from zombrel.job.model import Job
from zombrel.job.problem import Problem

ran: list[str] = []


@query
def _title(job: Job) -> str:
    ran.append("title")
    if not job.title:
        raise Problem("no title")
    return job.title


@query
def _twice(job: Job) -> str:
    return _title(job) + _title(job)


@query
def _supposed(job: Job) -> str:
    return _title(put(demo(), "title", "Another")) + _title(job)


class Looks(unittest.TestCase):
    def setUp(self) -> None:
        forget()
        self.addCleanup(forget)
        ran.clear()

    def test_it_reads_what_one_reads_that_takes_notes(self) -> None:
        first = assess(demo(), state(demo()))
        self.assertFalse(takes_notes())
        take_notes()
        self.assertIsInstance(engine(), Engine)
        self.assertEqual(repr(assess(demo(), state(demo()))), repr(first))

    def test_a_proof_that_stands_does_so_on_the_first_look_too(self) -> None:
        job = proven()
        for begin in (forget, take_notes):
            begin()
            self.assertEqual({standing(job, s) for s in steps(job)}, {"passed"})
            self.assertEqual(road_gate(job), "")
        changed = put(job, "vehicle.system_v", 24)
        for begin in (forget, take_notes):
            begin()
            self.assertIn("stale", {standing(changed, s) for s in steps(changed)})
            self.assertNotEqual(road_gate(changed), "")

    def test_each_result_is_worked_out_once(self) -> None:
        self.assertEqual(_twice(demo()), 2 * demo().title)
        self.assertEqual(_title(demo()), demo().title)
        self.assertEqual(ran, ["title"])

    def test_a_problem_is_kept_like_a_result(self) -> None:
        job = put(demo(), "title", "")
        for asked in (_title, _twice):
            with self.assertRaisesRegex(Problem, "no title"):
                asked(job)
        self.assertEqual(ran, ["title"])

    def test_a_supposed_job_does_not_end_it(self) -> None:
        self.assertEqual(_supposed(demo()), "Another" + demo().title)
        self.assertFalse(takes_notes())
        self.assertIs(laid(laid(demo())), laid(demo()))
        self.assertFalse(takes_notes())

    def test_a_changed_job_ends_it_and_what_was_shown_is_due(self) -> None:
        watch, job = Watch(), demo()
        with watch.making():
            engine().shown(job)
            _title(job)
        self.assertFalse(watch.due((job,)))
        self.assertIsInstance(engine(), FirstLook)
        changed = put(job, "title", "Other")
        self.assertEqual(_title(changed), "Other")
        self.assertTrue(takes_notes())
        self.assertTrue(watch.due((changed,)))


if __name__ == "__main__":
    unittest.main()
