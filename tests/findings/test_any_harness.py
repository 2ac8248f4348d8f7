"""Whatever is entered about the wiring, every view of it answers, and what is remembered holds."""

from __future__ import annotations

import itertools
import math
import unittest
from datetime import date
from typing import Any

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import Put, apply, demo, put, state
from zombrel.catalog import DEMO
from zombrel.findings.assess import assess
from zombrel.handover import files
from zombrel.handover.drawing import drawing
from zombrel.handover.labels import labels
from zombrel.harness import route
from zombrel.harness.laid import bundles, laid
from zombrel.harness.parts_list import parts_list
from zombrel.harness.plugs import changes, face, lead
from zombrel.job.edits import Add, Remove
from zombrel.job.follow.query import forget
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.validate import validate
from zombrel.job.wiring import Answer, Lead
from zombrel.plan.day import work_order
from zombrel.plan.tasks import tasks
from zombrel.store.zjob import load

RACER = load(DEMO / "0409.zjob")
ZONES = [z.id for z in demo().zones]
volts = st.one_of(st.none(), st.floats(-1, 30))
facts = st.one_of(
    st.tuples(st.sampled_from([f"zones.{z}.over_ambient_k" for z in ZONES]), st.floats(0, 400)),
    st.tuples(st.sampled_from([f"zones.{z}.x_m" for z in ZONES]), st.floats(-20, 20)),
    st.tuples(st.sampled_from([f"zones.{z}.access_min" for z in ZONES]), st.floats(0, 500)),
    st.tuples(st.sampled_from([f"zones.{z}.airbag" for z in ZONES]), st.booleans()),
    st.tuples(st.sampled_from([f"zones.{z}.moving" for z in ZONES]), st.booleans()),
    st.tuples(st.sampled_from([f"zones.{z}.name" for z in ZONES]), st.text(min_size=1, max_size=9)),
    st.tuples(
        st.just("zones.bay-left.near"),
        st.sampled_from(
            [
                [],
                [{"what": "ignition lead", "name": "lead 3", "spacing_m": 0.01, "along_m": 2.0}],
                [{"what": "coil", "name": "coil 2", "spacing_m": 5.0, "along_m": 0.01}],
            ]
        ),
    ),
    st.tuples(st.just("ways.foot-left-dash.length_m"), st.one_of(st.none(), st.floats(0.01, 1e6))),
    st.tuples(st.just("ways.bulkhead-left-foot-left.hole_mm"), st.floats(0, 200)),
    st.tuples(st.just("wires.W1.via"), st.lists(st.sampled_from(ZONES), max_size=6)),
    st.tuples(st.just("wires.W13.via"), st.lists(st.sampled_from(ZONES), max_size=3)),
    st.tuples(
        st.sampled_from(["wires.W1.fixed", "wires.W4.shielded", "wires.W9.twisted"]), st.booleans()
    ),
    st.tuples(st.just("wires.W4.area_mm2"), st.floats(0.01, 500)),
    st.tuples(st.just("wires.W4.colour"), st.text(min_size=1, max_size=30)),
    st.tuples(st.just("devices.pace.zone"), st.sampled_from(["", "nowhere", "boot", "dash"])),
    st.tuples(st.just("devices.pace.name"), st.text(min_size=1, max_size=80)),
    st.tuples(
        st.just("feeds.F9.volts"),
        st.fixed_dictionaries(
            {k: st.floats(-1, 30) for k in ("off", "acc", "run", "crank")},
            optional={"after": volts},
        ),
    ),
    st.tuples(st.just("feeds.F7.load_a"), st.floats(0, 1e6)),
    st.tuples(st.just("feeds.BAT.kind"), st.sampled_from(["slot", "box", "battery"])),
    st.tuples(st.just("studs.G3.ohm"), st.floats(0, 1e6)),
    st.tuples(st.just("studs.G1.rings"), st.integers(0, 12)),
    st.tuples(st.just("vehicle.battery_ah"), st.one_of(st.none(), st.floats(0.001, 1e6))),
    st.tuples(st.just("vehicle.sleep_a"), st.floats(0, 1e6)),
    st.tuples(st.just("house.start_reserve"), st.floats(0.001, 10)),
    st.tuples(st.just("house.tail_m"), st.floats(0, 1e6)),
    st.tuples(st.just("house.joint_by"), st.sampled_from(["crimp", "solder", "tap"])),
    st.tuples(st.just("house.day_end"), st.sampled_from(["00:00", "08:31", "23:59"])),
    st.tuples(st.just("changes.C1.kind"), st.sampled_from(list(changes.KINDS))),
    st.tuples(st.just("changes.C1.cavity"), st.integers(1, 400)),
    st.tuples(st.just("changes.C1.connector"), st.sampled_from(["D2", "B4", "gone"])),
    st.tuples(st.just("changes.C1.to"), st.sampled_from(["", "B4.6", "D2.3", "x", "D2.x"])),
    st.tuples(st.just("connectors.D2.rows"), st.integers(1, 12)),
    st.tuples(st.just("connectors.D2.corner"), st.sampled_from(["top right", "bottom left"])),
    st.tuples(st.just("devices.pace.sheet.supplies.POWER.inrush_a"), st.floats(0, 1e6)),
)


def changed(edits: list[tuple[str, Any]]) -> Job:
    """The demo job with facts changed; those that cannot be are left out."""
    job = demo()
    for path, value in edits:
        try:
            job = validate(put(job, path, value))
        except Problem:
            continue
    return job


class AnyHarness(unittest.TestCase):
    @settings(max_examples=20, deadline=None)
    @given(st.lists(facts, max_size=7), st.floats(230, 340))
    def test_everything_answers(self, edits: list[tuple[str, Any]], ambient: float) -> None:
        job = changed(edits)
        now = msgspec.structs.replace(state(job), ambient=ambient)
        got = assess(job, now)
        self.assertEqual([w.id for w in got.runs], [w.id for w in job.wires])
        for finding in got.findings:
            self.assertTrue(finding.title)
            self.assertTrue(finding.reason.result)
            for mend in finding.mends:
                if mend.edit is not None:
                    validate(apply(job, mend.edit))
        flat = laid(job)
        self.assertTrue(all(w.length_m > 0 for w in flat.wires))
        self.assertTrue(parts_list(flat))
        for kind in ("wires", "cuts", "pins", "parts"):
            self.assertTrue(files.make(kind, "csv", job, got, date(2026, 11, 25)))
        self.assertTrue(drawing(flat) and labels(flat))
        for change in job.changes:
            changes.steps(job, change)
            changes.parts(job, change)
        for c in job.connectors:
            for view in face.VIEWS.values():
                self.assertEqual(len(face.seen(c, view)), face.cavity_count(c))
            for p in face.places(c):
                self.assertTrue(face.words(c, p.n))
        self.assertTrue(all(b.diameter_mm > 0 for b in bundles(flat)))
        self.assertTrue(all(math.isfinite(t.minutes) for t in tasks(flat)))

    @settings(max_examples=20, deadline=None)
    @given(st.lists(facts, min_size=1, max_size=5))
    def test_what_is_remembered_is_what_would_be_computed(
        self, edits: list[tuple[str, Any]]
    ) -> None:
        now, job = state(demo()), demo()
        for path, value in edits:
            try:
                job = validate(put(job, path, value))
            except Problem:
                continue
            assess(job, now)
        warm = assess(job, now)
        forget()
        cold = assess(msgspec.json.decode(msgspec.json.encode(job), type=Job), now)
        self.assertEqual(
            [(f.id, f.title, f.text, f.mends) for f in warm.findings],
            [(f.id, f.title, f.text, f.mends) for f in cold.findings],
        )
        self.assertEqual((warm.runs, warm.wires, warm.power), (cold.runs, cold.wires, cold.power))

    @settings(max_examples=8, deadline=None)
    @given(st.lists(facts, max_size=4))
    def test_the_work_can_always_be_ordered(self, edits: list[tuple[str, Any]]) -> None:
        job = laid(changed(edits))
        got = work_order(job)
        self.assertEqual({s.task.id for s in got.slots}, {t.id for t in tasks(job)})
        for a, b in itertools.pairwise(got.slots):
            self.assertLessEqual(a.end, b.begin + 1e-6)

    @settings(max_examples=15, deadline=None)
    @given(st.permutations(ZONES), st.integers(0, len(ZONES)))
    def test_zones_may_go_in_any_order(self, order: list[str], keep: int) -> None:
        job = demo()
        for key in order[keep:]:
            ways = [w.id for w in job.ways if key in (w.a, w.b)]
            for w in ways:
                job = apply(job, Remove(path=f"ways.{w}"))
            job = validate(apply(job, Remove(path=f"zones.{key}")))
        got = assess(job, state(job))
        self.assertEqual(len(got.runs), len(job.wires))
        self.assertTrue(drawing(laid(job)))

    @settings(max_examples=15, deadline=None)
    @given(st.lists(st.booleans(), min_size=200, max_size=200))
    def test_any_answers_lead_to_an_end(self, said: list[bool]) -> None:
        """A meter that lies at random still comes to the end of the probing."""
        one: Lead = RACER.leads[0]
        rows = one.rows[:8]
        one = msgspec.structs.replace(one, rows=rows)
        for i, yes in enumerate(said):
            now = lead.progress(one, RACER.connectors).next
            if now is None:
                break
            edit = Answer(a=now.a, b=now.b, conducts=yes)
            one = msgspec.structs.replace(one, answers=(*one.answers, edit))
            self.assertLess(i, 190)
        self.assertTrue(lead.result(one, RACER.connectors).verdict)
        self.assertTrue(lead.whole(one, RACER.connectors))

    def test_routes_of_every_pair_of_zones(self) -> None:
        zones, ways = demo().zones, demo().ways
        for a, b in itertools.permutations(ZONES, 2):
            there = route.best(zones, ways, "power", a, b)
            back = route.best(zones, ways, "power", b, a)
            self.assertAlmostEqual(
                route.measure(zones, ways, "power", there).price,
                route.measure(zones, ways, "power", back).price,
            )

    def test_what_cannot_be_is_refused_and_nothing_changes(self) -> None:
        job = demo()
        for edit, said in (
            (Put(path="wires.W1.via", value=["x"] * 41), "length"),
            (Put(path="zones.dash.over_ambient_k", value=-4), "at least 0"),
            (Put(path="house.day_start", value="morning"), "house|day start"),
            (Add(path="zones", value={"id": "dash", "name": "d", "x_m": 0, "y_m": 0}), "already"),
            (Put(path="connectors.D2.rows", value=13), "at most 12"),
            (Put(path="changes.C1.kind", value="glue"), "kind"),
        ):
            with self.assertRaisesRegex(Problem, said):
                apply(job, edit)
        with self.assertRaisesRegex(Problem, "not on the plan"):
            validate(put(job, "ways.foot-left-dash.a", "moon"))


if __name__ == "__main__":
    unittest.main()
