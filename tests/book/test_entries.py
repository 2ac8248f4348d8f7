"""What a job leaves in the book: everything that tells, in words that are found again."""

from __future__ import annotations

import unittest

import msgspec

from tests.demo import apply, demo, put
from zombrel.actions.lessons import add_lesson
from zombrel.book.entries import entries, happened, summary, timed
from zombrel.book.entry import KINDS
from zombrel.catalog import DEMO
from zombrel.findings.seals import bare, content, hash_of
from zombrel.job.edits import fact
from zombrel.job.ledger import provenance, provenances
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.wiring import Work
from zombrel.store.book.words import body_of, phrases, plain, wanted
from zombrel.store.zjob import job_of, peek
from zombrel.units import CUSTOMARY, METRIC, words

JOBS = [peek(p) for p in sorted(DEMO.rglob("*.zjob"))]


class Entries(unittest.TestCase):
    def test_every_entry_reads_well_and_its_place_is_there(self) -> None:
        for job in JOBS:
            for e in entries(job):
                with self.subTest(job.number, at=e.at):
                    self.assertIn(e.kind, KINDS)
                    for units in (METRIC, CUSTOMARY):
                        self.assertNotRegex(words(e.text, units), r"\{[a-z]:|None|nan")
                    self.assertTrue(e.text.strip())
                    if e.kind not in ("pin-out", "trouble", "cause", "time"):
                        fact(job, e.at)  # raises where there is none

    def test_pins_feeds_sources_and_settings_of_the_demo(self) -> None:
        said = {
            e.at: (e.kind, words(e.text, METRIC).replace("\xa0", " "), e.known)
            for e in entries(demo())
        }
        for at, kind, text in (
            ("connectors.D2.27", "pin-out", "D2 cavity 27: green/white, brake lamps"),
            ("feeds.F9", "feed", "Slot F9: run, fuse 20 A, marked 10 A, 1 mm² behind it"),
            ("sources.ring", "source", "Left rear tone ring, road speed, 24 054 pulses per km"),
            ("devices.pace.settings.SPEED", "setting", "Pace unit SPEED: E7"),
            ("sources.clt.spec.points", "curve", "Coolant sender of the hub: "),
        ):
            with self.subTest(at):
                self.assertEqual(said[at][0], kind)
                self.assertIn(text, said[at][1])
        self.assertEqual(said["devices.pace.settings.SPEED"][2], "measured")

    def test_times_by_kind_and_those_with_a_note_by_themselves(self) -> None:
        work = (
            Work(id="join a", kind="join", minutes=20, planned=10, zone="Dash"),
            Work(id="join b", kind="join", minutes=40, planned=30, note="the nut was seized"),
            Work(id="run c", kind="run", state="begun", minutes=5),
        )
        job = msgspec.structs.replace(demo(), work=work)
        said = [words(e.text, METRIC) for e in entries(job) if e.kind == "time"]
        self.assertEqual(
            said, ["join b: 40 min: the nut was seized", "join, 2 times: 1 h 00, planned 40 min"]
        )
        self.assertEqual([(t.zone, t.minutes) for t in timed(job)], [("Dash", 20), ("", 40)])

    def test_what_a_job_is_until_it_is_handed_over(self) -> None:
        self.assertEqual(summary(demo()).state, "open")
        past = next(j for j in JOBS if j.number == "0349")
        self.assertIn("signed off by bay 1", summary(past).state)
        self.assertEqual(
            [h.title for h in happened(past) if h.kind == "setting"],
            ["Pace unit SPEED ended at C1 ÷7"],
        )
        self.assertEqual((entries(Job()), timed(Job()), happened(Job())), ((), (), ()))

    def test_a_lesson_taken_over_says_from_where(self) -> None:
        job = apply(demo(), add_lesson(demo(), "count it", source="0398"))
        last = [e for e in entries(job) if e.kind == "lesson" and e.at.startswith("lessons.")][-1]
        self.assertEqual((last.text, last.known), ("count it (from 0398)", "other car"))

    def test_how_it_is_known_is_what_the_ledger_says(self) -> None:
        job = demo()
        how = provenances(job)
        for line in job.ledger:
            self.assertEqual(how(line.path), provenance(job, line.path))
        self.assertIsNone(how("vehicle.nothing"))
        changed = put(job, "vehicle.tyre", "195/65 R15")
        self.assertIsNone(provenances(changed)("vehicle.tyre"))


class Plain(unittest.TestCase):
    def test_words_as_they_are_held_and_asked(self) -> None:
        for text, want in (
            ("Green/White, cavity 4", " green white cavity 4 "),
            ("24\u202f054 per km", " 24054 per km "),
            ("Böschung É", " boschung e "),
            ("0.75 mm²", " 0 75 mm2 "),
            ("", "  "),
        ):
            self.assertEqual(plain(text), want)
        self.assertEqual(phrases("green/white  24 054 C1"), ["green white", "24054", "c1"])
        self.assertEqual(wanted(["green white", "c"]), [" green white ", " c"])
        self.assertIn(" 24054 ", body_of("24054 pulses"))
        self.assertEqual(len(phrases("a " * 50)), 12)

    def test_both_halves_of_the_trade_find_it(self) -> None:
        from zombrel.units.measure import length_of

        body = body_of(f"loom {length_of(3.048)}")
        self.assertIn(" 10 0 ft ", body.replace(" 10 ft ", " 10 0 ft "))
        self.assertIn(" m ", body)


class Sealed(unittest.TestCase):
    def test_a_seal_holds_all_a_job_says_and_nothing_else(self) -> None:
        for job in JOBS:
            with self.subTest(job.number):
                self.assertEqual(job_of(content(job), "it"), bare(job))
                shared = put(job, "shared", "3.7")
                self.assertEqual(hash_of(shared), hash_of(job))
                self.assertNotEqual(hash_of(put(job, "notes", "other")), hash_of(job))

    def test_what_stands_at_its_default_is_left_out(self) -> None:
        self.assertEqual(content(Job()), b'{"schema":%d}' % Job().schema)
        with self.assertRaises(Problem):
            job_of(b'{"schema":0,"what":1}', "it")


if __name__ == "__main__":
    unittest.main()
