"""Fuses, slots, studs, drain, joints and leads, each against figures worked by hand."""

from __future__ import annotations

import math
import unittest

from tests.demo import apply, at, demo, put, state
from zombrel.calibrate.firing import judge_leads, parse_order
from zombrel.catalog import DEMO
from zombrel.harness import joint, power
from zombrel.harness.conductor import ampacity
from zombrel.harness.power import read_power
from zombrel.harness.wire_reading import read_wires
from zombrel.job.edits import Add
from zombrel.job.model import House, by_id
from zombrel.job.problem import Problem
from zombrel.store.zjob import load

ROOM = 293.15


class Fuses(unittest.TestCase):
    def test_the_planted_slot(self) -> None:
        got = power.fuse_check(20, 1.0, ROOM, 1, 6, House())
        self.assertFalse(got.ok)
        self.assertEqual(got.largest_a, 15)
        self.assertAlmostEqual(got.carries_a, ampacity(1.0, ROOM))
        self.assertIn("burn before", got.reason)
        for fuse, amps, ok, said in (
            (15, 6, True, "cool"),
            (15, 12, False, "75 %"),
            (5, 6, False, "opens a 5 A"),
            (15, 11.25, True, "cool"),
        ):
            got = power.fuse_check(fuse, 1.0, ROOM, 1, amps, House())
            self.assertEqual(got.ok, ok, got.reason)
            self.assertIn(said, got.reason)

    def test_inrush_between_the_points_of_the_standard(self) -> None:
        """ISO 8820-3: 200 % holds 0.15 s, 350 % 0.04 s, 600 % 0.02 s at least."""
        for multiple, seconds, holds in (
            (1.2, 100, True),
            (2.0, 0.14, True),
            (2.0, 0.16, False),
            (3.5, 0.039, True),
            (3.5, 0.041, False),
            (6.0, 0.019, True),
            (12.0, 0.019, False),
            (2.65, 0.077, True),
        ):
            self.assertEqual(power.holds_inrush(10, 10 * multiple, seconds), holds, multiple)
        pump = load(DEMO / "0413.zjob")
        weak = put(pump, "wires.W12.fuse_a", 7.5)
        self.assertIn("inrush-W12", {f.id for f in at(weak).findings})
        self.assertNotIn("inrush-W12", {f.id for f in at(pump).findings})

    def test_slots_add_up(self) -> None:
        r = {f.id: f for f in at(demo()).power.feeds}
        self.assertAlmostEqual(r["F7"].total_a, 3.6 + 0.3)
        self.assertAlmostEqual(r["F9"].total_a, 2.0 + 4.0)
        heavy = put(demo(), "feeds.F7.load_a", 5.0)
        self.assertIn("load-F7", {f.id for f in at(heavy).findings})

    def test_heavy_loads_leave_the_slots(self) -> None:
        slot = put(demo(), "feeds.BAT.kind", "slot")
        self.assertIn("heavy-W13", {f.id for f in at(slot).findings})
        self.assertNotIn("heavy-W13", {f.id for f in at(demo()).findings})

    def test_coils(self) -> None:
        """13.8 V over 90 Ω is 153 mA; 680 Ω lift it to 104 V over the supply."""
        bare, resistor, diode = power.suppressions(13.8, 90)
        self.assertAlmostEqual(resistor.kick_v, 13.8 + 13.8 / 90 * 680)
        self.assertAlmostEqual(diode.release_ms, math.log(10) * 0.5 / 90 * 1000)
        self.assertLess(bare.release_ms, resistor.release_ms)


class Tree(unittest.TestCase):
    def test_grounds(self) -> None:
        studs = {s.id: s for s in at(demo()).power.studs}
        self.assertEqual((studs["G1"].rings, studs["G1"].wires), (3, ("W5", "W8", "W16")))
        self.assertAlmostEqual(studs["G3"].lift_v, 0.199 * 8.05, places=6)
        full = put(demo(), "studs.G1.rings", 2)
        self.assertIn("stack-G1", {f.id for f in at(full).findings})
        shared = put(demo(), "wires.W19.b", {"place": "G3"})
        found = {f.id: f for f in at(shared).findings}["shared-G3"]
        assert found.mends[0].edit is not None
        after = apply(shared, found.mends[0].edit)
        self.assertEqual(by_id(after.wires, "W19").b.place, "G1")  # type: ignore[union-attr]

    def test_days_parked(self) -> None:
        self.assertAlmostEqual(power.days_to_flat(0.026, 60, 0.5), 30 / 0.026 / 24)
        self.assertEqual(power.days_to_flat(0, 60, 0.5), math.inf)
        got = at(demo()).power
        self.assertAlmostEqual(got.days or 0, 60 * 0.5 / (0.020 + 0.006) / 24)
        for path, value, key in (
            ("vehicle.sleep_a", 0.09, "flat"),
            ("vehicle.alternator_idle_a", 30.0, "alternator"),
        ):
            self.assertIn(key, {f.id for f in at(put(demo(), path, value)).findings})
        # the spark box takes 0.6 A at rest and 12 A at 7 000 rpm: 1.98 A at 850
        spark = 0.6 + 11.4 * 850 / 7000
        rest = 3.6 + 2.0 + 0.1 + 0.3 + 0.05 + 0.2
        self.assertAlmostEqual(got.idle_load_a, 27 + spark + rest, places=6)

    def test_a_meter_contradicts_the_noted_class(self) -> None:
        volts = {"off": 0, "acc": 0, "run": 12.4, "crank": 10.4}
        job = put(demo(), "feeds.F2.volts", volts)
        found = {f.id: f for f in at(job).findings}["class-F2"]
        self.assertIn("run-and-crank, not constant", found.title)
        assert found.mends[0].edit is not None
        after = apply(job, found.mends[0].edit)
        self.assertEqual(by_id(after.feeds, "F2").feed, "run-and-crank")  # type: ignore[union-attr]


class Joints(unittest.TestCase):
    def test_pull_forces_of_the_table(self) -> None:
        for area, newton in ((0.5, 60), (0.75, 85), (1.0, 108), (1.5, 150), (2.5, 230)):
            self.assertEqual(joint.pull_force(area), newton)
        self.assertAlmostEqual(joint.pull_force(1.25), 108 + (135 - 108) * 0.25 / 0.3)
        with self.assertRaisesRegex(Problem, "own sheet"):
            joint.pull_force(16)

    def test_rules_by_place(self) -> None:
        zones = {z.id: z for z in demo().zones}
        bag = put(demo(), "zones.dash.airbag", True)
        for into, zone, school, sensor, want in (
            ("cavity", zones["dash"], "solder", False, "terminal"),
            ("stud", zones["dash"], "crimp", False, "ring"),
            ("wire", zones["dash"], "solder", False, "solder"),
            ("wire", zones["bay-left"], "solder", False, "crimp"),
            ("wire", zones["sill-left"], "tap", False, "tap"),
            ("wire", zones["sill-left"], "tap", True, "crimp"),
            ("wire", by_id(bag.zones, "dash"), "tap", False, "never"),
        ):
            got = joint.choose(into, zone, House(joint_by=school), 0.5, sensor)  # type: ignore[arg-type]
            self.assertEqual(got.method, want)
            self.assertTrue(got.why)
        thick = joint.choose("wire", zones["sill-left"], House(joint_by="tap"), 2.5)
        self.assertEqual(thick.method, "crimp")


class CylinderLeads(unittest.TestCase):
    def test_orientation_from_lengths(self) -> None:
        order = parse_order("1-5-3-6-2-4")
        up = [100.0 + 95 * k for k in range(6)]
        for lengths, front, want, fires in (
            (up, True, "as marked", order),
            (up[::-1], True, "turned round", (6, 2, 4, 1, 5, 3)),
            (up[::-1], False, "as marked", order),
            ([300.0] * 6, True, "unclear", order),
        ):
            got = judge_leads(lengths, order, front)
            self.assertEqual((got.orientation, got.fires), (want, fires))
        self.assertIn("360° late", judge_leads(up[::-1], order).verdict)
        four = judge_leads([575, 480, 385, 290][::1], parse_order("1-3-4-2"))
        self.assertEqual(four.fires, (4, 2, 1, 3))
        wrong = judge_leads(up, order, wired=parse_order("1-2-3-4-5-6"))
        self.assertIn("engine wants 1-5-3-6-2-4", wrong.verdict)

    def test_bad_orders(self) -> None:
        for text in ("1-5-3", "1-1-2", "", "a-b"):
            with self.assertRaises(Problem):
                parse_order(text)
        with self.assertRaisesRegex(Problem, "one for each"):
            judge_leads([1, 2], parse_order("1-3-4-2"))


class Edits(unittest.TestCase):
    def test_a_new_feed_joins_the_tree(self) -> None:
        made = {"id": "F11", "name": "Slot F11", "feed": "run"}
        job = apply(demo(), Add(path="feeds", value=made))
        self.assertEqual(at(job).power.feeds[-1].total_a, 0)


class Weakest(unittest.TestCase):
    def test_of_two_alike_the_cars_own_wire_is_the_weakest(self) -> None:
        job = demo()
        for wire in job.wires:
            job = put(job, f"wires.{wire.id}.fuse_a", None)
        bare = next(f for f in read_power(job, state(job)).feeds if f.wires)
        thin = min(w.weakest_mm2 for w in read_wires(job, state(job)) if w.id in bare.wires)
        for own, said in ((thin * 0.9, True), (thin, True), (thin * 1.1, False)):
            with self.subTest(own):
                other = put(job, f"feeds.{bare.id}.wire_mm2", own)
                feeds = read_power(other, state(other)).feeds
                self.assertEqual("car's own" in by_id(feeds, bare.id).weakest, said)


if __name__ == "__main__":
    unittest.main()
