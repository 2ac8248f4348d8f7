"""Missing wires: everything that wants one gets one that serves it, and nothing gets two."""

from __future__ import annotations

import unittest

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import apply, at, demo, put
from zombrel.actions.parts import leave_out
from zombrel.catalog import DEMO
from zombrel.harness import route
from zombrel.harness.conductor import ampacity
from zombrel.harness.missing import _area, draw, missing, places, undrawn
from zombrel.job.edits import Many, Put, Remove
from zombrel.job.model import House, Job, by_id, index
from zombrel.job.sheet import SupplySheet
from zombrel.job.validate import validate
from zombrel.store.zjob import load

JOBS = tuple(load(DEMO / f"{n}.zjob") for n in ("0412", "0413", "0409"))


def bare(job: Job) -> Job:
    """The job without a wire."""
    edits = [Put(path=f"chains.{c.id}.wires", value=[]) for c in job.chains]
    job = apply(job, Many(edits=tuple(edits)))
    return msgspec.structs.replace(job, wires=(), changes=())


class Missing(unittest.TestCase):
    def test_a_bare_job_is_wired_whole(self) -> None:
        for job in map(bare, JOBS):
            with self.subTest(job.number):
                edit = draw(job)
                assert edit is not None
                done = validate(apply(job, edit))
                self.assertEqual(undrawn(done), ())
                self.assertIsNone(draw(done))
                used = [w for c in done.chains for w in c.wires]
                self.assertEqual(len(used), len(set(used)))
                known = {(e.place, e.pin) for e, _ in places(done)}
                for wire in done.wires:
                    self.assertNotEqual(wire.a, wire.b)
                    self.assertIn((wire.a.place, wire.a.pin), known)
                self.assertNotIn("unrouted", {f.id for f in at(done).findings})

    def test_a_sender_gets_all_its_wires_and_reads_as_before(self) -> None:
        """Supply, ground and signal: from the device, or from a feed; none for the car's own."""
        job = bare(JOBS[0])
        edit = draw(job)
        assert edit is not None
        done = apply(job, edit)
        ends = {(w.a.place, w.a.pin, w.b.place, w.b.pin) for w in done.wires}
        for want in (
            ("oil", "2", "hub", "SGND"),
            ("oil", "3", "hub", "5V"),
            ("flex", "2", "blend", "GROUND"),
        ):
            self.assertIn(want, ends)
        fed = next(w for w in done.wires if (w.b.place, w.b.pin) == ("flex", "3"))
        self.assertEqual((fed.carries, fed.fuse_a), ("power", 1.0))
        own = apply(job, Put(path="sources.clt.spec.shared_ohm", value=1000.0))
        self.assertNotIn(("clt", "2"), {(w.a.place, w.a.pin) for w in missing(own)})
        sound = {f.id for f in at(job).findings}
        new = [f.id for f in at(done).findings if f.id not in sound and f.level == "trouble"]
        self.assertEqual([n for n in new if n.startswith(("oil", "flex", "supply"))], [])
        for chain in ("oil-hub", "blend-reader"):
            if chain in index(job.chains):
                before, after = at(job).chain(chain).shown, at(done).chain(chain).shown
                self.assertAlmostEqual(before, after, delta=abs(before) * 1e-3)
        left = validate(apply(done, leave_out(done, index(done.devices)["blend"])))
        self.assertNotIn("flex", {e.place for w in left.wires for e in (w.a, w.b)})

    def test_power_comes_from_a_class_that_serves_and_a_fuse_the_wire_carries(self) -> None:
        for job in map(bare, JOBS):
            devices, feeds = index(job.devices), index(job.feeds)
            for wire in missing(job):
                if wire.carries != "power" or wire.b.place not in devices:
                    continue
                supply = devices[wire.b.place].sheet.supply(wire.b.pin)
                assert supply is not None
                self.assertIn(feeds[wire.a.place].feed, supply.feeds)
                assert wire.fuse_a is not None
                self.assertGreaterEqual(ampacity(wire.area_mm2, 293.15), wire.fuse_a)
                self.assertGreaterEqual(wire.fuse_a, supply.amps)

    def test_a_drawn_job_is_free_of_wiring_trouble(self) -> None:
        job = bare(JOBS[0])
        edit = draw(job)
        assert edit is not None
        found = {f.id: f for f in at(apply(job, edit)).findings if f.stage == "wire"}
        wrong = [k for k, f in found.items() if f.level == "trouble" and k != "slot-F9"]
        self.assertEqual(wrong, [])

    def test_pick_ups_get_their_return_twisted(self) -> None:
        made = [w for w in missing(demo()) if w.a.place == "pick"]
        self.assertEqual([(w.a.pin, w.b.pin) for w in made], [("+", "PICK-UP"), ("-", "PICK-UP-")])
        self.assertTrue(all(w.twisted for w in made))
        edit = draw(demo())
        assert edit is not None
        done = apply(demo(), edit)
        self.assertEqual(by_id(done.chains, "pick-spark").wires, tuple(w.id for w in made))  # type: ignore[union-attr]

    def test_grounds_go_to_a_clean_stud_with_room(self) -> None:
        job = bare(JOBS[0])
        grounds = {w.a.place: w.b.place for w in missing(job) if w.carries == "ground"}
        self.assertNotIn("G3", grounds.values())  # painted
        self.assertEqual(grounds["spark"], "G2")
        full = put(job, "studs.G1.rings", 4)
        moved = {w.a.place: w.b.place for w in missing(full) if w.carries == "ground"}
        self.assertEqual(moved["hub"], "G2")

    def test_the_house_s_school_decides_between_feeds(self) -> None:
        job = bare(JOBS[0])
        box = {"id": "BOX", "name": "Our box", "feed": "run", "kind": "box", "load_a": 0.0}
        job = apply(job, msgspec.convert({"type": "add", "path": "feeds", "value": box}, _add()))
        slot = next(w for w in missing(job) if w.b.place == "pace" and w.carries == "power")
        self.assertNotEqual(slot.a.place, "BOX")
        own = put(job, "house.power", "box")
        boxed = next(w for w in missing(own) if w.b.place == "pace" and w.carries == "power")
        self.assertEqual(boxed.a.place, "BOX")

    def test_without_feeds_studs_or_plan_it_does_what_it_can(self) -> None:
        job = msgspec.structs.replace(bare(JOBS[1]), feeds=(), studs=(), zones=(), ways=())
        made = missing(job)
        self.assertTrue(made)
        self.assertEqual({w.carries for w in made}, {"signal"})
        self.assertTrue(all(not w.via for w in made))
        self.assertEqual(missing(Job()), ())
        self.assertIsNone(draw(Job()))

    @settings(max_examples=25, deadline=None)
    @given(st.sets(st.sampled_from([w.id for w in demo().wires])))
    def test_any_wires_taken_out_are_drawn_again(self, gone: set[str]) -> None:
        job = demo()
        edits: list[Put | Remove] = []
        for c in job.chains:
            kept = [w for w in c.wires if w not in gone]
            if len(kept) < len(c.wires):
                edits.append(Put(path=f"chains.{c.id}.wires", value=kept))
        edits += [Put(path=f"changes.{c.id}.wire", value="") for c in job.changes]
        edits += [Remove(path=f"wires.{w}") for w in sorted(gone)]
        less = validate(apply(job, Many(edits=tuple(edits))))
        edit = draw(less)
        done = validate(apply(less, edit)) if edit is not None else less
        supplies = {(d.id, s.pin) for d in done.devices for s in d.sheet.supplies}
        ends = {(e.place, e.pin) for w in done.wires for e in (w.a, w.b)}
        self.assertLessEqual(supplies, ends)
        names = [w.id for w in done.wires]
        self.assertEqual(len(names), len(set(names)))
        for wire in done.wires:
            if wire.via:
                self.assertTrue(route.connected(done.zones, done.ways, wire.via))


def _add() -> type:
    from zombrel.job.edits import Add

    return Add


class Thinnest(unittest.TestCase):
    def test_what_takes_next_to_nothing_needs_the_thinnest_wire(self) -> None:
        for amps, area in ((0.0, 0.5), (0.2, 0.5), (30.0, 12.0)):
            with self.subTest(amps):
                pin = SupplySheet(pin="BATT", kind="power", amps=amps)
                self.assertEqual(_area(pin, House(), None), area)


if __name__ == "__main__":
    unittest.main()
