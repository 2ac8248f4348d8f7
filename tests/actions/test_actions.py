"""Actions: edits with a name, undone by putting back what they took."""

from __future__ import annotations

import unittest

import msgspec

from tests.demo import apply, demo, whole
from zombrel.actions import notes, parts, records, signals
from zombrel.actions.parts import change_sheet
from zombrel.actions.searches import _failed, toggled
from zombrel.catalog import DEMO
from zombrel.catalog.sheets import shelf
from zombrel.job.ledger import provenance
from zombrel.job.model import Job, Proof, RoadRun, Search, Seen, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.validate import validate
from zombrel.job.wiring import KeyVolts
from zombrel.signals.key_matrix import classify
from zombrel.store.zjob import load

SHEETS = {s.model: s for s in shelf()[0]}


class Parts(unittest.TestCase):
    def test_a_device_comes_with_its_outputs_and_goes_with_all_that_hangs_on_it(self) -> None:
        job = apply(demo(), parts.add_device(demo(), SHEETS["S4"]))
        added = set(index(job.devices)) - set(index(demo().devices))
        self.assertEqual(added, {"s4"})
        self.assertIn("s4-out", index(job.sources))
        twice = apply(job, parts.add_device(job, SHEETS["S4"]))
        self.assertIn("s4-2", index(twice.devices))
        self.assertIn("s4-2-out", index(twice.sources))
        again = apply(job, parts.remove_device(job, index(job.devices)["s4"]))
        self.assertEqual((again.devices, again.sources), (demo().devices, demo().sources))
        for device in demo().devices:
            left = validate(apply(demo(), parts.remove_device(demo(), device)))
            self.assertNotIn(device.id, {c.device for c in left.chains})

    def test_names_are_free_and_without_a_stop(self) -> None:
        self.assertEqual(parts.free_name("a.b", {"a-b", "a-b-2"}), "a-b-3")

    def test_a_signal_begins_where_the_finder_says(self) -> None:
        lamp = index(demo().devices)["lamp"]
        sheet = lamp.sheet.input("TACH")
        assert sheet is not None
        job = apply(demo(), parts.begin_signal(demo(), lamp, sheet))
        self.assertEqual(job.chains[-1].source, "s4out")
        with self.assertRaisesRegex(Problem, "Nothing this car offers"):
            parts.begin_signal(Job(), lamp, sheet)

    def test_a_wire_goes_out_of_its_signal_and_its_change(self) -> None:
        job = validate(apply(demo(), parts.remove_wire(demo(), "W3")))
        self.assertNotIn("W3", index(job.wires))
        self.assertEqual(index(job.chains)["brake-pace"].wires, ())
        self.assertNotIn("W3", {c.wire for c in job.changes})

    def test_whatever_is_taken_out_leaves_a_sound_job(self) -> None:
        """Sources with their signals, drives, proofs, leads: each alone, out of each demo."""
        for number in ("0409", "0412", "0413"):
            job = load(DEMO / f"{number}.zjob")
            for source in job.sources:
                with self.subTest(f"{number} {source.id}"):
                    left = validate(apply(job, signals.remove_source(job, source)))
                    self.assertNotIn(source.id, {c.source for c in left.chains})
                    ends = {e.place for w in left.wires for e in (w.a, w.b)}
                    self.assertNotIn(source.id, ends)
            for lead in job.leads:
                self.assertNotIn(lead, apply(job, records.remove_lead(lead)).leads)
        run = RoadRun(id="r1", name="a drive", device="pace", pin="SPEED")
        driven = msgspec.structs.replace(
            demo(),
            road=(run,),
            proofs=tuple(Proof(id=n, step=step, verdict="fail") for n, step in enumerate("aab", 1)),
        )
        self.assertEqual(apply(driven, records.remove_run(run)).road, ())
        edit = records.forget_proofs(driven, "a")
        assert edit is not None
        self.assertEqual([p.step for p in apply(driven, edit).proofs], ["b"])
        self.assertIsNone(records.forget_proofs(driven, "c"))


class Notes(unittest.TestCase):
    def test_a_wish_is_made_changed_and_taken_back(self) -> None:
        job = apply(demo(), notes.wish(demo(), "spark/LIMIT", 110.0))
        self.assertEqual(index(job.wishes)["spark/LIMIT"].value, 110.0)
        job = apply(job, notes.wish(job, "spark/LIMIT", 112.0))
        self.assertEqual(index(job.wishes)["spark/LIMIT"].value, 112.0)
        self.assertEqual(apply(job, notes.unwish("spark/LIMIT")).wishes, demo().wishes)

    def test_what_the_meter_says_is_measured(self) -> None:
        feed = index(demo().feeds)["F7"]
        met = classify(KeyVolts(off=0, acc=0, run=0, crank=0, lights=6.0))
        job = apply(demo(), notes.classify(demo(), feed, met))
        got = index(job.feeds)["F7"]
        self.assertEqual((got.feed, got.dimmed), ("illumination", True))
        self.assertEqual(provenance(job, "feeds.F7.feed"), "measured")


class Complaints(unittest.TestCase):
    def test_one_complaint_is_taken_back_and_the_others_stay(self) -> None:
        search = Search(id="speed-hub", said=("a", "b", "c"))
        self.assertEqual(toggled(search, "b").said, ("a", "c"))
        self.assertEqual(toggled(search, "d").said, ("a", "b", "c", "d"))

    def test_a_changed_sheet_reaches_its_own_devices_alone(self) -> None:
        job = demo()
        sheet = msgspec.structs.replace(by_id(job.devices, "hub").sheet, maker="another")
        self.assertEqual([d.id for d in job.devices if d.sheet.id == sheet.id], ["hub"])
        done = apply(job, change_sheet(job, sheet))
        changed = [d.id for d, was in zip(done.devices, job.devices, strict=True) if d != was]
        self.assertEqual(changed, ["hub"])
        self.assertIsNone(change_sheet(done, sheet))

    def test_what_a_failed_gate_saw_begins_the_search(self) -> None:
        seen = (Seen(name="rest", value=0.2), Seen(name="pressed", value=7.1))
        proof = Proof(id=1, step="brake-brake-pace", verdict="fail", seen=seen)
        job = msgspec.structs.replace(whole(), proofs=(proof,))
        self.assertEqual(_failed(job, "brake-pace"), ((0.0, 0.2), (1.0, 7.1)))


if __name__ == "__main__":
    unittest.main()
