"""What stands against handing over: the gate that is shut and every open trouble, nothing else."""

from __future__ import annotations

import re
import unittest

from tests.demo import demo, handed, put, whole
from zombrel.behaviour.suppose import named, usual
from zombrel.findings.against import against
from zombrel.findings.assess import assess
from zombrel.findings.seals import SHORT, hash_of, seal
from zombrel.job.model import Job
from zombrel.job.problem import Problem


def stands(job: Job) -> tuple[str, ...]:
    return against(job, assess(job, usual(job.vehicle)))


class Against(unittest.TestCase):
    def test_troubles_are_named_and_watches_are_not(self) -> None:
        judged = assess(demo(), usual(demo().vehicle))
        levels = {f.level for f in judged.findings}
        self.assertLessEqual({"trouble", "watch"}, levels)
        found = against(demo(), judged)
        troubles = [f.title for f in judged.findings if f.level == "trouble"]
        self.assertGreater(len(found), len(troubles))  # the gate, and what other states bring
        self.assertEqual(list(found[1 : len(troubles) + 1]), [f"{x}." for x in troubles])
        self.assertIn("Brake cancels", found[0])
        for f in judged.findings:
            if f.level == "trouble":
                self.assertIn(f"{f.title}.", found)

    def test_what_is_supposed_now_hides_no_trouble(self) -> None:
        """Whatever state the bench stands in, the same stands against it."""
        every = [set(against(demo(), assess(demo(), s))) for _, s in named(demo().vehicle)]
        self.assertGreater(len(every), 4)
        # the figures in a title are of the state; which troubles there are is not
        plain = {frozenset(re.sub(r"[\d.]+", "#", x) for x in found) for found in every}
        self.assertEqual(len(plain), 1)

    def test_a_proven_job_may_go_and_a_changed_fact_stops_it(self) -> None:
        self.assertEqual(stands(handed()), ())
        self.assertGreaterEqual(len(stands(whole())), 1)
        found = stands(put(handed(), "vehicle.system_v", 24))
        self.assertTrue(found)
        self.assertIn("Brake cancels", found[0])

    def test_an_empty_job_has_nothing_against_it(self) -> None:
        self.assertEqual(stands(Job()), ())

    def test_a_reason_is_kept_only_where_one_is_wanted(self) -> None:
        judged = assess(handed(), usual(handed().vehicle))
        made, _ = seal(handed(), judged, hash_of(handed()), " Ada ", "now", "for no reason")
        self.assertEqual((made.who, made.reason, made.against), ("Ada", "", ()))
        self.assertEqual(made.content[:SHORT], hash_of(handed())[:12])
        judged = assess(demo(), usual(demo().vehicle))
        made, _ = seal(demo(), judged, hash_of(demo()), "Ada", "now", " on a trailer ")
        self.assertEqual(made.reason, "on a trailer")
        self.assertGreater(len(made.against), 5)
        self.assertNotIn("{", " ".join(made.against))  # written out, not as tokens
        with self.assertRaisesRegex(Problem, "Mend that, or say why"):
            seal(demo(), judged, hash_of(demo()), "Ada", "now")


if __name__ == "__main__":
    unittest.main()
