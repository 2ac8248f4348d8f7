"""Outputs follow their inputs: dead without them, wrong with them, times a ratio box's setting."""

from __future__ import annotations

import unittest

from tests.demo import apply, at, demo, found, put
from zombrel.actions.parts import add_device
from zombrel.behaviour.wanted import wanted
from zombrel.catalog.sheets import shelf
from zombrel.findings.settle import settle
from zombrel.job.edits import Add, Remove
from zombrel.job.model import Device, Job, Vehicle, by_id
from zombrel.signals.chain_reading import ready
from zombrel.signals.following import circles, given_by

SHEETS = {s.id: s for s in shelf()[0]}
GENERATOR = {
    "id": "cable",
    "name": "Generator in the cable",
    "quantity": "speed",
    "spec": {"type": "cable", "pulses_per_rev": 8, "drive_teeth": 8, "driven_teeth": 21},
}


def chain(key: str, source: str, device: str, pin: str, quantity: str = "speed") -> Add:
    value = {
        "id": key,
        "title": key,
        "quantity": quantity,
        "source": source,
        "device": device,
        "pin": pin,
    }
    return Add(path="chains", value=value)


def through_a_box() -> Job:
    """A cable generator through a ratio box to the car's own speedometer; nothing set yet."""
    job = Job(vehicle=Vehicle(tyre="195/70 R15", final_drive=4.10, redline_rps=80.0))
    for key in ("ardle-k2", "brackwell-d1"):
        job = apply(job, add_device(job, SHEETS[key]))
    job = apply(job, Add(path="sources", value=GENERATOR))
    box = next(s.id for s in job.sources if s.id != "cable" and s.quantity == "speed")
    ids = {d.sheet.id: d.id for d in job.devices}
    job = apply(job, chain("in", "cable", ids["ardle-k2"], "SPEED IN"))
    return apply(job, chain("out", box, ids["brackwell-d1"], "SPEED"))


def box_of(job: Job) -> Device:
    return next(d for d in job.devices if d.sheet.id == "ardle-k2")


class RatioBox(unittest.TestCase):
    def test_the_gauge_is_foretold_and_the_setting_worked_out(self) -> None:
        """8 a turn · 8/21 · 4.10 a turn of a 1995 mm wheel: 6.263 a metre; built for 4."""
        job = through_a_box()
        box = box_of(job)
        control = box.sheet.control("SPEED RATIO")
        assert control is not None
        per_m = 8 * 8 / 21 * 4.10 / 1.99517
        want = wanted(job, box, control)
        self.assertAlmostEqual(want.target, 4.0 / per_m, places=3)
        edit = {"pin": "SPEED RATIO", "at": "1"}
        job = apply(job, Add(path=f"devices.{box.id}.settings", value=edit))
        reading = at(job).chain("out")
        self.assertAlmostEqual(reading.shown / reading.true, per_m / 4.0, places=3)
        said = next(f for f in at(job).findings if f.id == "setting-out")
        mend = said.mends[0]
        self.assertIn("Set Ratio box to 0.639", mend.label)
        assert mend.edit is not None
        job = apply(job, mend.edit)
        self.assertLess(abs(at(job).chain("out").error), 0.002)
        self.assertNotIn("setting-out", found(job))

    def test_it_carries_where_its_input_counts(self) -> None:
        job = through_a_box()
        edit = {"pin": "SPEED RATIO", "at": "0.639"}
        job = apply(job, Add(path=f"devices.{box_of(job).id}.settings", value=edit))
        slow = put(job, f"devices.{box_of(job).id}.sheet.inputs.SPEED IN.max_hz", 100.0)
        self.assertAlmostEqual(ready(slow, "out").span[1], ready(slow, "in").span[1], places=6)
        self.assertGreater(ready(job, "out").span[1], ready(slow, "out").span[1])

    def test_settled_it_reads_true(self) -> None:
        done, _ = settle(through_a_box())
        self.assertLess(abs(at(done).chain("out").error), 0.01)


class Made(unittest.TestCase):
    def test_a_tach_output_without_its_pick_up_is_dead(self) -> None:
        job = apply(demo(), Remove(path="chains.pick-spark"))
        self.assertEqual(at(demo()).chain("tach-hub").status, "counting")
        self.assertEqual(at(job).chain("tach-hub").shown, 0.0)
        self.assertFalse(at(job).chain("tach-hub").powered)
        said = next(f for f in at(job).findings if f.id == "dead-tach-hub")
        edit = said.mends[0].edit
        assert edit is not None
        self.assertNotIn("dead-tach-hub", found(apply(job, edit)))

    def test_an_output_is_wrong_by_what_its_own_input_is(self) -> None:
        """The blend reader takes 27 % for what its curve, moved by a tenth, makes of it."""
        whole = put(demo(), "studs.G3.ohm", 0.0)
        moved = put(whole, "devices.blend.sheet.inputs.SENDER.curve", [[0.1, 50], [1.1, 150]])
        got = at(moved)
        self.assertAlmostEqual(got.chain("blend-reader").shown, 0.37, places=3)
        self.assertAlmostEqual(got.chain("blend-ecu").shown, 0.37, delta=0.003)
        self.assertAlmostEqual(got.chain("blend-ecu").true, 0.27)
        silent = apply(whole, Remove(path="chains.blend-reader"))
        self.assertNotEqual(
            at(silent).chain("blend-ecu").shown, at(silent).chain("blend-ecu").shown
        )

    def test_a_circle_is_said_and_nothing_hangs(self) -> None:
        job = through_a_box()
        job = apply(job, add_device(job, SHEETS["ardle-k2"]))
        first, second = (d.id for d in job.devices if d.sheet.id == "ardle-k2")
        outs = {
            s.spec.device: s.id  # type: ignore[union-attr]
            for s in job.sources
            if s.id != "cable" and s.quantity == "speed"
        }
        job = put(job, "chains.in.source", outs[second])
        job = apply(job, chain("back", outs[first], second, "SPEED IN"))
        for box in (first, second):
            edit = {"pin": "SPEED RATIO", "at": "1"}
            job = apply(job, Add(path=f"devices.{box}.settings", value=edit))
        self.assertEqual(set(circles(job)), {"in", "back"})
        got = at(job)
        self.assertIn("circle", got.chain("out").problem)
        self.assertIn("dead-in", {f.id for f in got.findings})
        self.assertIsNotNone(by_id(job.chains, "out"))


class BehindADivider(unittest.TestCase):
    def test_a_box_makes_its_output_of_what_is_left_behind_a_divider(self) -> None:
        job = through_a_box()
        setting = {"pin": "SPEED RATIO", "at": "1"}
        job = apply(job, Add(path=f"devices.{box_of(job).id}.settings", value=setting))
        out = next(s for s in job.sources if s.id == job.chains[1].source)
        straight = given_by(job, out).rate
        halved = put(job, "chains.in.hops", [{"type": "divider", "by": 2}])
        self.assertAlmostEqual(given_by(halved, out).rate, straight / 2)


if __name__ == "__main__":
    unittest.main()
