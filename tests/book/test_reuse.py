"""Taken over from another job: never known better than from another car, and said so."""

from __future__ import annotations

import functools
import unittest

import msgspec

from tests.demo import apply, demo, put
from zombrel.book.entries import entries
from zombrel.book.entry import TAKEN
from zombrel.book.reuse import lowered, note_of, use
from zombrel.catalog import DEMO
from zombrel.harness.plugs import face
from zombrel.job.ledger import RANK, provenance
from zombrel.job.model import RUNGS, Job, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.validate import validate
from zombrel.store.zjob import peek


@functools.cache
def past(number: str) -> Job:
    return peek(DEMO / "past" / f"{number}.zjob")


class Taken(unittest.TestCase):
    def test_every_entry_of_every_past_job_is_taken_or_refused_in_words(self) -> None:
        here = demo()
        strong = {r for r in RUNGS if RANK[r] > RANK["other car"]}
        took = 0
        for number in ("0306", "0349", "0371", "0398", "0401"):
            there = past(number)
            for entry in entries(there):
                with self.subTest(number, at=entry.at):
                    try:
                        after = validate(apply(here, use(here, there, entry.at, "2026-11-27")))
                    except Problem as problem:
                        self.assertTrue(str(problem).endswith("."), problem)
                        continue
                    took += 1
                    self.assertIn(entry.kind, TAKEN)
                    old = {line.id for line in here.ledger}
                    new = [line for line in after.ledger if line.id not in old]
                    self.assertFalse({line.rung for line in new} & strong)
                    for line in new:
                        self.assertEqual(provenance(after, line.path), line.rung)
                        self.assertIn("another car", line.note)
                    for c in after.connectors:
                        mine = by_id(here.connectors, c.id)
                        for x in c.cavities:
                            if mine is None or face.cavity(mine, x.n) != x:
                                self.assertNotIn(x.known, strong)
        self.assertGreater(took, 60)

    def test_one_cavity_into_the_connector_that_is_there(self) -> None:
        here, there = demo(), past("0398")
        after = apply(here, use(here, there, "connectors.D2.11"))
        mine = index(after.connectors)["D2"]
        taken = face.cavity(mine, 11)
        assert taken is not None
        self.assertEqual((taken.colour, taken.circuit), ("blue", "park brake"))
        self.assertEqual(taken.known, "other car")
        others = [x for x in mine.cavities if x.n != 11]
        before = index(here.connectors)["D2"]
        self.assertEqual(others, [x for x in before.cavities if x.n != 11])

    def test_what_was_seen_on_this_car_stays_seen(self) -> None:
        here = demo()
        after = apply(here, use(here, past("0398"), "connectors.D2.27"))
        was = face.cavity(index(here.connectors)["D2"], 27)
        now = face.cavity(index(after.connectors)["D2"], 27)
        assert was is not None
        assert now is not None
        self.assertEqual((now.seen, now.seen_colour), (was.seen, was.seen_colour))
        self.assertEqual(now.circuit, "rear wiper")

    def test_a_setting_and_a_curve_go_where_they_fit(self) -> None:
        here = demo()
        after = apply(here, use(here, past("0349"), "devices.pace.settings.SPEED"))
        self.assertEqual(index(after.devices)["pace"].setting("SPEED"), "C1")
        self.assertEqual(provenance(after, "devices.pace.settings.SPEED.at"), "other car")
        with self.assertRaisesRegex(Problem, "stands at C1 already"):
            use(after, past("0349"), "devices.pace.settings.SPEED")
        bare = msgspec.structs.replace(here, devices=(), chains=(), wires=())
        with self.assertRaisesRegex(Problem, "has no Ardle P7"):
            use(bare, past("0349"), "devices.pace.settings.SPEED")

    def test_lessons_say_where_they_come_from(self) -> None:
        here = demo()
        for at, words in (
            ("lessons.L1", "Cavity 4 green/white was the speed line"),
            ("met.brake unsure", "Look out for: LED lamps"),
        ):
            after = apply(here, use(here, past("0398"), at))
            self.assertIn(words, after.lessons[-1].text)
            self.assertEqual(after.lessons[-1].source, "0398")
            with self.assertRaisesRegex(Problem, "written down already"):
                use(after, past("0398"), at)

    def test_what_is_gone_or_only_to_look_at_says_so(self) -> None:
        for at, words in (
            ("connectors.D9.4", "no connector “D9” any more"),
            ("lessons.L9", "no lesson “L9”"),
            ("vehicle", "only to be looked at"),
            ("photos.F1", "only to be looked at"),
        ):
            with self.subTest(at), self.assertRaisesRegex(Problem, words):
                use(demo(), past("0398"), at)

    def test_a_rung_is_lowered_and_the_split_is_told(self) -> None:
        for rung in RUNGS:
            want = rung if rung in ("hearsay", "other car") else "other car"
            self.assertEqual(lowered(rung), want)
        self.assertEqual(lowered(""), "other car")
        here = demo()  # chassis 2714, split at 2600
        self.assertIn("THE OTHER SIDE OF THE SPLIT", note_of(here, past("0306"), "counted"))
        self.assertIn(
            "counted on 0349, another car, same side", note_of(here, past("0349"), "counted")
        )
        unknown = put(here, "vehicle.chassis", None)
        self.assertNotIn("split", note_of(unknown, past("0349"), "").casefold())


if __name__ == "__main__":
    unittest.main()
