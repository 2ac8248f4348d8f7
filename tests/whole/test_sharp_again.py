"""Once more places where a slip would have passed unseen: one case each, worked by hand."""

from __future__ import annotations

import unittest
from unittest import mock

import msgspec

from tests.demo import demo, put, state, whole
from zombrel.actions.parts import change_sheet
from zombrel.actions.searches import toggled
from zombrel.calibrate.shift import shift_points
from zombrel.diagnose.record import BOUNDS, prove
from zombrel.diagnose.steps import steps
from zombrel.findings.scene import Scene
from zombrel.findings.wiring.slot_rules import separate
from zombrel.harness.fitting.place import sheets_in
from zombrel.harness.missing import _area
from zombrel.harness.plugs.continuity import Moved, _one_off
from zombrel.harness.plugs.function import kind_of
from zombrel.job import unjudged
from zombrel.job.edits import Add, Put, apply
from zombrel.job.model import House, Search, by_id
from zombrel.job.sheet import SupplySheet
from zombrel.logs.table.columns import guesses
from zombrel.logs.table.layout import told
from zombrel.plan.day import finish
from zombrel.plan.tasks import tasks
from zombrel.signals.chain_reading import port_of


class Work(unittest.TestCase):
    def test_minutes_are_kept_to_a_tenth(self) -> None:
        job = demo()
        task = tasks(job)[0]
        done = apply(job, finish(job, task, 1 / 3))
        self.assertEqual(by_id(done.work, task.id).minutes, 0.3)

    def test_only_what_found_the_bounds_writes_them_down(self) -> None:
        job = whole()
        volts = next(s for s in steps(job) if s.kind == "volts")
        for kind, verdict, bounds in (
            ("bound", "pass", sorted(BOUNDS.values())),
            ("bound", "fail", []),
            ("volts", "pass", []),
        ):
            with self.subTest(kind, verdict=verdict):
                step = msgspec.structs.replace(volts, kind=kind)
                seen = dict.fromkeys((*BOUNDS, volts.fields[0].name), 50.0)
                made = prove(job, step, verdict, seen, "", "today", rests=()).edits
                paths = [e.path for e in made if isinstance(e, Put)]
                self.assertEqual(sorted({*paths} & {*BOUNDS.values()}), bounds)
                self.assertTrue(isinstance(made[0], Add))

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

    def test_a_fault_without_words_says_so(self) -> None:
        for error, said in (
            (ValueError(), "ValueError: no words"),
            (ValueError("of  two\nlines"), "ValueError: of two lines"),
        ):
            with (
                self.subTest(said),
                mock.patch.object(unjudged, "_strict", [False]),
                mock.patch.object(unjudged, "_kept", []),
            ):
                self.assertEqual(unjudged.note(error), said)


class Wires(unittest.TestCase):
    def test_what_takes_next_to_nothing_needs_the_thinnest_wire(self) -> None:
        for amps, area in ((0.0, 0.5), (0.2, 0.5), (30.0, 12.0)):
            with self.subTest(amps):
                pin = SupplySheet(pin="BATT", kind="power", amps=amps)
                self.assertEqual(_area(pin, House(), None), area)

    def test_who_else_lies_in_a_zone(self) -> None:
        job = demo()
        for zone in {d.zone for d in job.devices}:
            there = [d for d in job.devices if d.zone == zone]
            with self.subTest(zone):
                self.assertEqual(sheets_in(job, zone), [d.sheet for d in there])
                others = [d.sheet for d in there[1:]]
                self.assertEqual(sheets_in(job, zone, there[0].id), others)

    def test_a_feed_with_nothing_of_ours_on_it_has_nothing_to_part(self) -> None:
        spare = {"id": "F99", "name": "Slot F99", "kind": "slot", "feed": "run", "fuse_a": 10}
        job = apply(demo(), Add(path="feeds", value=spare))
        used = {e.place for w in job.wires for e in (w.a, w.b)}
        self.assertNotIn("F99", used)
        for feed in job.feeds:
            with self.subTest(feed.id):
                parted = separate(Scene(job, state(job)), feed)
                self.assertEqual(parted is not None, feed.id in used)

    def test_only_within_one_plug_is_a_row_miscounted(self) -> None:
        for expected, found, said in (
            ("X1.4", "X1.6", ", 2 off: a row or a cavity miscounted"),
            ("X1.4", "X2.6", ""),
            ("X1.4", "body", ""),
        ):
            with self.subTest(found):
                self.assertEqual(_one_off(Moved(a="Y.1", expected=expected, found=found)), said)

    def test_what_a_pin_is_said_to_carry(self) -> None:
        for said, amps, volts in (
            ("12 V feed", 0.0, 12.0),
            ("500 mA", 0.5, 0.0),
            ("2,5 A", 2.5, 0),
        ):
            with self.subTest(said):
                kind = kind_of(said)
                self.assertEqual((kind.amps, kind.volts), (amps, volts))

    def test_a_clean_contact_lets_all_of_the_voltage_fall_before_it(self) -> None:
        """An ohm more in the contact lifts the pin by the current of its pull-up, V / R."""
        job = demo()
        chain = next(
            c
            for c in job.chains
            if getattr(by_id(job.sources, c.source).spec, "rests", "") == "open"
            and by_id(job.sources, c.source).spec.to == "ground"
        )
        closed = put(job, f"sources.{chain.source}.spec.rests", "closed")
        pulls = by_id(job.devices, chain.device).sheet.input(chain.pin).pulls_ohm
        volts = []
        for ohm in (0.0, 1.0):
            clean = put(closed, f"sources.{chain.source}.spec.contact_ohm", ohm)
            volts.append(port_of(clean, chain.id, state(clean)).pin_v)
        self.assertAlmostEqual(volts[1] - volts[0], 13.8 / pulls, delta=0.1 * 13.8 / pulls)


class Figures(unittest.TestCase):
    def test_an_engine_without_torque_gives_no_loss(self) -> None:
        """Nothing here and nothing there: no share of it can be lost."""
        dies = ((1000.0, 100.0), (2000.0, 100.0), (3000.0, 0.0), (7000.0, 0.0))
        (one,) = shift_points(dies, (3.0, 2.9), 6500.0)
        self.assertEqual((one.limited, one.loss), (True, 0.0))

    def test_time_that_begins_late_is_still_told_by_its_steps(self) -> None:
        for first, step, unit in ((5000, 1, 1.0), (5000, 40, 0.001)):
            rows = "\n".join(f"{first + i * step},{i % 7}" for i in range(40))
            layout = told(f"run,a\n{rows}\n", "x.csv")
            with self.subTest(step):
                (time,) = [g for g in guesses(layout) if g.time]
                self.assertEqual(time.time, unit)


if __name__ == "__main__":
    unittest.main()
