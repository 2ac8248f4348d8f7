"""What stands against handing over: the gate that is shut and every open trouble, nothing else."""

from __future__ import annotations

import unittest

from tests.demo import demo, proven, put, whole
from zombrel.behaviour.suppose import usual
from zombrel.findings.against import against
from zombrel.findings.assess import assess
from zombrel.findings.seals import SHORT, seal
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.sealing import hash_of


def stands(job: Job) -> tuple[str, ...]:
    return against(job, assess(job, usual(job.vehicle)))


class Against(unittest.TestCase):
    def test_troubles_are_named_and_watches_are_not(self) -> None:
        judged = assess(demo(), usual(demo().vehicle))
        levels = {f.level for f in judged.findings}
        self.assertLessEqual({"trouble", "watch"}, levels)
        found = against(demo(), judged)
        troubles = [f.title for f in judged.findings if f.level == "trouble"]
        self.assertEqual(len(found), len(troubles) + 1)  # and the gate
        self.assertIn("Brake cancels", found[0])
        for f in judged.findings:
            self.assertEqual(f"{f.title}." in found, f.level == "trouble", f.id)

    def test_a_proven_job_may_go_and_a_changed_fact_stops_it(self) -> None:
        self.assertEqual(stands(proven()), ())
        self.assertEqual(len(stands(whole())), 1)
        found = stands(put(proven(), "vehicle.system_v", 24))
        self.assertTrue(found)
        self.assertIn("Brake cancels", found[0])

    def test_an_empty_job_has_nothing_against_it(self) -> None:
        self.assertEqual(stands(Job()), ())

    def test_a_reason_is_kept_only_where_one_is_wanted(self) -> None:
        judged = assess(proven(), usual(proven().vehicle))
        made, _ = seal(proven(), judged, hash_of(proven()), " Ada ", "now", "for no reason")
        self.assertEqual((made.who, made.reason, made.against), ("Ada", "", ()))
        self.assertEqual(made.content[:SHORT], hash_of(proven())[:12])
        judged = assess(demo(), usual(demo().vehicle))
        made, _ = seal(demo(), judged, hash_of(demo()), "Ada", "now", " on a trailer ")
        self.assertEqual(made.reason, "on a trailer")
        self.assertGreater(len(made.against), 5)
        self.assertNotIn("{", " ".join(made.against))  # written out, not as tokens
        with self.assertRaisesRegex(Problem, "Mend that, or say why"):
            seal(demo(), judged, hash_of(demo()), "Ada", "now")


if __name__ == "__main__":
    unittest.main()
