"""Whatever is entered, the assessment answers: no fact, hop or state can break it."""

from __future__ import annotations

import math
import unittest
from typing import Any

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import Many, Put, apply, demo, put, state
from zombrel.behaviour.suppose import named
from zombrel.diagnose.steps import basis, steps
from zombrel.findings.assess import assess
from zombrel.handover.paper import dossier_html
from zombrel.job.edits import Remove
from zombrel.job.follow.query import forget
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.state import State
from zombrel.job.validate import validate
from zombrel.signals.finder import candidates
from zombrel.signals.reduce import input_of
from zombrel.ui.source.words import tiles, verdict
from zombrel.units import Units

HOPS = (
    [],
    [{"type": "divider", "by": 7}],
    [{"type": "divider", "by": 1, "out_v": 2.0}],
    [{"type": "pull-up", "ohm": 4700.0}],
    [{"type": "relay"}],
    [{"type": "load", "ohm": 47.0}],
)
facts = st.one_of(
    st.tuples(st.just("vehicle.tyre"), st.sampled_from(["", "205/60 R15", "31x10.5R15"])),
    st.tuples(st.just("vehicle.cylinders"), st.one_of(st.none(), st.integers(1, 16))),
    st.tuples(st.just("vehicle.strokes"), st.sampled_from([2, 4])),
    st.tuples(
        st.just("vehicle.ignition"),
        st.sampled_from([None, "none", "distributor", "wasted-spark", "coil-per-plug"]),
    ),
    st.tuples(st.just("vehicle.lamps"), st.sampled_from([None, "led", "filament"])),
    st.tuples(st.just("vehicle.system_v"), st.sampled_from([12, 24])),
    st.tuples(st.just("vehicle.final_drive"), st.one_of(st.none(), st.floats(0.5, 9))),
    st.tuples(st.just("vehicle.top_mps"), st.floats(5, 110)),
    st.tuples(st.just("vehicle.redline_rps"), st.one_of(st.none(), st.floats(10, 300))),
    st.tuples(st.just("vehicle.ratios"), st.lists(st.floats(0.3, 6), max_size=8)),
    st.tuples(st.just("sources.ring.spec.teeth"), st.integers(1, 500)),
    st.tuples(st.just("sources.ring.spec.volts_per_hz"), st.floats(1e-6, 1)),
    st.tuples(st.just("sources.ring.trim"), st.floats(0.3, 4)),
    st.tuples(
        st.just("devices.pace.settings.SPEED.at"), st.sampled_from(["A0", "E9", "C1", "zz", "17"])
    ),
    st.tuples(st.just("devices.hub.settings.TACH.at"), st.sampled_from(["1", "12", "6.5", "-"])),
    st.tuples(st.just("devices.pace.sheet.inputs.SPEED.max_hz"), st.floats(0.1, 1e6)),
    st.tuples(st.just("devices.pace.sheet.inputs.SPEED.threshold_v"), st.floats(0, 1e5)),
    st.tuples(st.just("chains.speed-pace.source"), st.sampled_from(["ring", "prop"])),
    st.tuples(st.just("chains.tach-hub.source"), st.sampled_from(["coil2", "common", "s4out"])),
    st.tuples(st.just("chains.speed-pace.hops"), st.sampled_from(HOPS)),
    st.tuples(st.just("chains.brake-pace.hops"), st.sampled_from(HOPS)),
    st.tuples(st.just("wires.W13.area_mm2"), st.floats(0.05, 200)),
    st.tuples(st.just("wires.W13.length_m"), st.floats(0.01, 500)),
    st.tuples(st.just("wires.W13.bundle"), st.integers(1, 60)),
    st.tuples(st.just("wires.W1.over_ambient_k"), st.floats(0, 300)),
    st.tuples(st.just("wires.W1.neighbours.0.spacing_m"), st.floats(0.001, 10)),
    st.tuples(st.just("feeds.F9.fuse_a"), st.one_of(st.none(), st.floats(0.5, 300))),
    st.tuples(st.just("feeds.F9.wire_mm2"), st.one_of(st.none(), st.floats(0.1, 100))),
    st.tuples(st.just("feeds.F9.marked_a"), st.one_of(st.none(), st.floats(0.5, 300))),
    st.tuples(
        st.just("feeds.F5.feed"),
        st.sampled_from(["constant", "accessory", "run", "run-and-crank", "start"]),
    ),
    st.tuples(st.just("house.setting_ok"), st.floats(0.0001, 0.5)),
)
any_state = st.builds(
    State,
    key=st.sampled_from(["off", "on", "crank"]),
    speed=st.floats(0, 120),
    engine=st.floats(0, 400),
    gear=st.integers(0, 12),
    volts=st.floats(0, 36),
    ambient=st.floats(200, 340),
    wear=st.floats(-0.03, 0.03),
    brake=st.booleans(),
    clutch=st.booleans(),
)


def changed(edits: list[tuple[str, Any]]) -> Job:
    job = demo()
    for path, value in edits:
        job = put(job, path, value)
    return validate(job)


class AnyJob(unittest.TestCase):
    @settings(max_examples=50)
    @given(st.lists(facts, max_size=8), any_state, st.sampled_from(["km", "mi"]))
    def test_everything_answers(
        self, edits: list[tuple[str, Any]], now: State, distance: Any
    ) -> None:
        job, units = changed(edits), Units(distance=distance)
        got = assess(job, now)
        self.assertEqual(len(got.chains), len(job.chains))
        for finding in got.findings:
            self.assertTrue(finding.title)
            self.assertTrue(finding.reason.result)
            for mend in finding.mends:
                if mend.edit is not None:
                    validate(apply(job, mend.edit))
        for chain, reading in zip(job.chains, got.chains, strict=True):
            self.assertTrue(verdict(job, chain, reading, got, units).words)
            self.assertEqual(len(tiles(job, chain, reading, units)), 4)
            candidates(job, *input_of(job, chain))
        self.assertIn("Signals", dossier_html(job, got, units))
        for step in steps(job):
            self.assertTrue(basis(job, step))

    @settings(max_examples=20)
    @given(st.lists(facts, min_size=1, max_size=5))
    def test_what_is_remembered_is_what_would_be_computed(
        self, edits: list[tuple[str, Any]]
    ) -> None:
        """After a row of edits the incremental answer equals a fresh one."""
        now = state(demo())
        job = demo()
        for path, value in edits:
            job = put(job, path, value)
            assess(job, now)
        warm = assess(job, now)
        forget()
        copy = msgspec.json.decode(msgspec.json.encode(job), type=Job)
        cold = assess(copy, now)
        self.assertEqual(
            [(f.id, f.title, f.text, f.mends) for f in warm.findings],
            [(f.id, f.title, f.text, f.mends) for f in cold.findings],
        )
        self.assertEqual(str(warm.chains), str(cold.chains))
        self.assertEqual(warm.wires, cold.wires)
        self.assertEqual(warm.stages, cold.stages)

    @settings(max_examples=20)
    @given(st.permutations(range(14)), st.integers(0, 14))
    def test_chains_may_go_in_any_order(self, order: list[int], keep: int) -> None:
        ids = [demo().chains[i].id for i in order[keep:]]
        job = apply(demo(), Many(edits=tuple(Remove(path=f"chains.{key}") for key in ids)))
        got = assess(job, state(job))
        self.assertEqual(len(got.chains), len(demo().chains) - len(ids))
        for chain, reading in zip(job.chains, got.chains, strict=True):
            self.assertEqual(chain.id, reading.id)

    @given(any_state)
    def test_a_reading_never_lies_about_counting(self, now: State) -> None:
        for reading in assess(demo(), now).chains:
            if reading.status == "counting":
                self.assertTrue(math.isfinite(reading.shown))
                self.assertGreaterEqual(reading.source_hz, 0)
            if not reading.powered and reading.quantity != "brake":
                self.assertFalse(reading.status in ("counting", "reading", "on"))

    def test_scaling_a_tyre_scales_every_speed_rate(self) -> None:
        """Dimensional check: rates go as one over the circumference."""
        small, large = put(demo(), "vehicle.tyre", "200/50 R15"), demo()
        ratio = (381 + 200) / 627
        a = {c.id: c for c in assess(small, state(large)).chains}
        b = {c.id: c for c in assess(large, state(large)).chains}
        for key in ("speed-pace", "speed-hub"):
            self.assertAlmostEqual(b[key].source_hz / a[key].source_hz, ratio, places=9)

    def test_named_states_fit_the_vehicle(self) -> None:
        lorry = put(put(demo(), "vehicle.system_v", 24), "vehicle.idle_rps", 10.0)
        states = dict(named(lorry.vehicle))
        self.assertAlmostEqual(states["Key on"].volts, 25.2)
        self.assertAlmostEqual(states["Idle"].engine, 10.0)
        self.assertEqual(states["Cranking"].key, "crank")
        bare = dict(named(Job().vehicle))
        self.assertAlmostEqual(bare["70 on the flat"].engine * 60, 2500)  # on the road it runs
        self.assertAlmostEqual(bare["70 on the flat"].speed * 3.6, 70)

    def test_house_rules_move_the_line(self) -> None:
        off = put(demo(), "devices.hub.settings.SPEED.at", "23900")  # 0.65 % high
        self.assertNotIn("setting-speed-hub", {f.id for f in assess(off, state(off)).findings})
        strict = put(off, "house.setting_ok", 0.005)
        self.assertIn("setting-speed-hub", {f.id for f in assess(strict, state(strict)).findings})
        loose = apply(demo(), Put(path="house.setting_ok", value=0.2))
        self.assertNotIn("setting-speed-pace", {f.id for f in assess(loose, state(loose)).findings})

    def test_an_edit_that_breaks_a_reference_is_caught(self) -> None:
        with self.assertRaises(Problem):
            validate(put(demo(), "chains.speed-pace.source", "nothing"))


if __name__ == "__main__":
    unittest.main()
