"""Troubles planted in sound jobs are found, first, and mended; sound variants are left alone.

The whole of both tables is gone through in the usual state, and in one other state each; all states
by ``./zombrel bench --judgement``.
"""

from __future__ import annotations

import functools
import unittest
import zlib

from tests.findings.planted import PLANTED, SOUND
from tests.findings.planting import (
    JOBS,
    Row,
    Sound,
    Verdict,
    false_alarms,
    hits,
    judge,
    settled,
)
from zombrel.behaviour.suppose import USUAL, named
from zombrel.findings.assess import assess
from zombrel.job.edits import Put, apply

STATES = [name for name, _ in named(settled("0412").vehicle)]

EVERY = ("settings behind panels",)
"""Once mended by a move that overheated a wire, on a hot hill alone."""


def states_of(row: Row | Sound) -> tuple[str, ...]:
    """The usual state, and one that stays the same for the same row; none named are all."""
    if row.name in EVERY:
        return ()
    other = STATES[zlib.crc32(f"{row.name} {row.job}".encode()) % len(STATES)]
    return (USUAL, other)


@functools.cache
def verdicts() -> tuple[Verdict, ...]:
    """Of the whole table."""
    return tuple([v for row in PLANTED for v in judge(row, states_of(row))])


class Planted(unittest.TestCase):
    def test_each_is_found_among_the_first_and_its_mend_clears_it(self) -> None:
        for v in verdicts():
            with self.subTest(v.row, job=v.job, state=v.state):
                self.assertTrue(v.found, v.said)
                self.assertTrue(v.first, v.said)
                self.assertTrue(v.cleared, v.said)
                self.assertEqual(v.new, ())

    def test_nothing_new_is_said_of_what_may_be_so(self) -> None:
        self.assertGreaterEqual(len(SOUND), 40)
        for row in SOUND:
            with self.subTest(row.name, job=row.job):
                self.assertEqual(list(false_alarms(row, states_of(row))), [])

    def test_a_settled_job_has_no_trouble_in_any_state(self) -> None:
        for number in JOBS:
            job = settled(number)
            for name, state in named(job.vehicle):
                bad = [f.id for f in assess(job, state).findings if f.level == "trouble"]
                with self.subTest(number, state=name):
                    self.assertEqual(bad, [])

    def test_the_judge_can_say_no(self) -> None:
        """A row about a thing that is not troubled is not found."""
        job = apply(settled("0412"), Put(path="wires.W4.fuse_a", value=4.0))
        said = assess(job, dict(named(job.vehicle))[USUAL]).findings
        row = Row("", "0412", "W13", {})
        self.assertEqual(hits(job, row, said), [])
        self.assertNotEqual(hits(job, row._replace(thing="W4"), said), [])
        nothing = list(judge(Row("nothing", "0412", "W4", {"vehicle.owner": "x"})))
        self.assertFalse(any(v.found for v in nothing))
        loud = Sound("", "0412", {"wires.W4.fuse_a": 4.0})
        self.assertTrue(list(false_alarms(loud)))


if __name__ == "__main__":
    unittest.main()
