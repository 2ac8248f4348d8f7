"""A road run becomes a setting, the model and the road agree afterwards, and undo undoes."""

from __future__ import annotations

import unittest

from tests.demo import apply, at, demo, found, put, whole
from zombrel.catalog import DEMO
from zombrel.findings.roadwork import add_run, fit_run, proposal, stood, stood_words
from zombrel.job.edits import Step
from zombrel.job.history import History
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.logs.speedlog import read


def with_run(job: Job, was: tuple[str, int] | None = ("C1", 7)) -> Job:
    log = read(DEMO / "0412-road.csv")
    return apply(
        job, add_run(job, job.chains[0], "x", (log.t, log.true, log.shown), "today", was=was)
    )


class Road(unittest.TestCase):
    def test_the_planted_scale_is_found(self) -> None:
        job = with_run(whole())
        got = fit_run(job.road[0])
        planted = 46 / 1.91174 * 1.0135 / (0.8 * 2**2.1 * 7)
        self.assertTrue(got.scale_low <= planted <= got.scale_high)

    def test_the_proposal_makes_model_and_road_agree(self) -> None:
        job = with_run(whole())
        offer = proposal(job, job.road[0])
        self.assertTrue(offer.worth_it)
        self.assertIn("road-setting", found(job))
        before = at(job).chain("speed-pace")
        after_job = apply(job, offer.edit)
        after = at(after_job).chain("speed-pace")
        self.assertAlmostEqual(before.error, 0.00192, places=4)  # the model does not know yet
        self.assertAlmostEqual(after.error, offer.error_new, places=9)
        self.assertNotIn("road-setting", found(after_job))
        again = proposal(after_job, after_job.road[0])
        self.assertFalse(again.worth_it)
        self.assertAlmostEqual(again.pulses_per_m, offer.pulses_per_m, places=9)

    def test_the_trim_reaches_every_chain_of_the_source(self) -> None:
        job = with_run(whole())
        after = at(apply(job, proposal(job, job.road[0]).edit))
        scale = fit_run(job.road[0]).scale
        self.assertAlmostEqual(after.chain("speed-hub").error, 0.0154, delta=0.004)
        self.assertGreater(scale, 1)

    def test_it_is_one_undoable_edit(self) -> None:
        job = with_run(whole())
        history = History(present=job).do(Step(label="road", edit=proposal(job, job.road[0]).edit))
        self.assertNotEqual(history.present, job)
        self.assertIs(history.undo().present, job)
        self.assertEqual(history.undo().redo().present, history.present)

    def test_where_it_stood(self) -> None:
        self.assertEqual(stood(demo(), demo().chains[0]), ("E7", 1))
        self.assertEqual(stood(whole(), whole().chains[0]), ("C1", 7))
        self.assertEqual((stood_words("C1", 7), stood_words("24050", 1)), ("C1 ÷7", "24050"))

    def test_what_cannot_be_used(self) -> None:
        job = with_run(whole(), was=("Q1", 1))
        with self.assertRaises(Problem):
            proposal(job, job.road[0])
        self.assertNotIn("road-setting", found(job))
        gone = put(with_run(whole()), "road.run1.pin", "OTHER")
        with self.assertRaises(Problem):
            proposal(gone, gone.road[0])


if __name__ == "__main__":
    unittest.main()
