"""Whatever is entered about sensors, contacts and controls, the assessment answers."""

from __future__ import annotations

import math
import unittest
from typing import Any

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import Put, apply, demo, state
from zombrel.catalog import DEMO
from zombrel.findings.assess import assess
from zombrel.handover.paper import dossier_html
from zombrel.job.follow.query import forget
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.state import State
from zombrel.job.validate import validate
from zombrel.store.zjob import load
from zombrel.ui.source.words import tiles, verdict
from zombrel.units import Units

JOBS = {"0412": demo(), "0413": load(DEMO / "0413.zjob"), "0409": load(DEMO / "0409.zjob")}
CURVES = [
    [[273.15, 5000.0], [298.15, 2000.0], [373.15, 200.0]],
    [[250.0, 1.0], [300.0, 1e6], [380.0, 2e6]],
    [[290.0, 100.0], [291.0, 99.0], [292.0, 98.0]],
    [[300.0, 5.0], [310.0, 5.0], [320.0, 5.0]],
    [[-5.0, -3.0], [0.0, 0.0], [1.0, 1.0]],
    [[320.0, 5.0], [310.0, 6.0], [300.0, 7.0]],
]
TABLES = [[], [[273.15, 5000.0], [373.15, 200.0]], [[0.0, 0.5], [1.0, 4.5]]]
EDITS: dict[str, list[tuple[str, st.SearchStrategy[Any]]]] = {
    "0412": [
        ("sources.clt.spec.points", st.sampled_from(CURVES)),
        ("sources.clt.spec.one_wire", st.booleans()),
        ("sources.clt.spec.seal", st.sampled_from(["tape", "washer"])),
        ("sources.clt.spec.shared_ohm", st.floats(0, 1e5)),
        ("chains.temp-hub.source", st.sampled_from(["clt", "clt-car"])),
        ("chains.temp-hub.hops", st.sampled_from([[], [{"type": "pull-up", "ohm": 470.0}]])),
        ("devices.hub.settings.TEMP.at", st.sampled_from(["A", "B", "C", "D", "table", "Z"])),
        ("devices.hub.settings.TEMP.table", st.sampled_from(TABLES)),
        ("devices.hub.sheet.inputs.TEMP.pull_up_ohm", st.floats(0, 1e5)),
        ("sources.oil.spec.high", st.floats(1e5, 5e6)),
        ("sources.oil.spec.absolute", st.booleans()),
        (
            "sources.tank.spec.points",
            st.sampled_from([[[0.0, 70.0], [0.05, 5.0]], [[0.0, 5.0], [0.05, 70.0]]]),
        ),
        ("vehicle.tank_l", st.one_of(st.none(), st.floats(1, 200))),
        ("studs.G3.ohm", st.floats(0, 5)),
        ("wires.W18.area_mm2", st.floats(0.1, 10)),
        ("sources.lamps.spec.rests", st.sampled_from(["open", "closed"])),
        ("sources.clutch.spec.to", st.sampled_from(["ground", "supply"])),
        ("devices.spark.settings.LAUNCH.at", st.sampled_from(["20", "60", "61", "x"])),
        ("devices.lamp.settings.SHIFT.at", st.sampled_from(["2000", "9000", "1", ""])),
        (
            "vehicle.torque",
            st.sampled_from([[], [[20.0, 100.0], [100.0, 150.0]], [[100.0, 5.0], [101.0, 4.0]]]),
        ),
        ("vehicle.mass_kg", st.one_of(st.none(), st.floats(100, 9000))),
        ("house.per_cent_min", st.floats(0.1, 500)),
        ("house.speed_prefers", st.sampled_from(["", "wheel-ring", "nothing"])),
    ],
    "0413": [
        ("sources.map.spec.absolute", st.booleans()),
        ("devices.gauge.settings.BOOST.at", st.sampled_from(["2 bar", "3 bar", "table"])),
        ("chains.speed-pace.source", st.sampled_from(["cable", "gps", "gearbox"])),
        (
            "chains.speed-pace.hops",
            st.sampled_from(
                [
                    [],
                    [{"type": "multiplier", "by": 3}],
                    [{"type": "attenuator", "series_ohm": 1e4, "ground_ohm": 1e3}],
                ]
            ),
        ),
        ("vehicle.stall_rps", st.one_of(st.none(), st.floats(10, 80))),
        ("devices.pump.settings.SENSE.at", st.sampled_from(["A", "B", "C"])),
        ("sources.handle.spec.rests", st.sampled_from(["open", "closed"])),
        ("feeds.F4.dimmed", st.booleans()),
        ("feeds.F4.feed", st.sampled_from(["illumination", "retained", "dead", "run"])),
    ],
    "0409": [
        ("chains.crank.polarity", st.sampled_from(["", "kept", "reversed"])),
        (
            "sources.wide.spec.points",
            st.sampled_from([[[0.68, 0.0], [1.36, 5.0]], [[0.5, 5.0], [1.5, 0.0]]]),
        ),
        ("devices.ecu.settings.LAMBDA.table", st.sampled_from([[], [[0.7, 0.0], [1.3, 5.0]]])),
        ("devices.match.settings.GAP.at", st.sampled_from(["1", "8", "9"])),
        ("chains.clutch.hops", st.sampled_from([[], [{"type": "relay"}]])),
    ],
}
some_edits = st.sampled_from(sorted(EDITS)).flatmap(
    lambda key: st.tuples(
        st.just(key),
        st.lists(
            st.sampled_from(EDITS[key]).flatmap(lambda e: st.tuples(st.just(e[0]), e[1])),
            min_size=1,
            max_size=6,
        ),
    )
)
some_state = st.builds(
    State,
    key=st.sampled_from(["off", "on", "crank"]),
    volts=st.floats(0, 36),
    coolant=st.floats(210, 480),
    oil=st.floats(0, 1.9e6),
    boost=st.floats(-9e4, 4e5),
    barometer=st.floats(5e4, 1.05e5),
    fuel=st.floats(0, 1),
    blend=st.floats(0, 1),
    mixture=st.floats(0.5, 2),
    lights=st.booleans(),
    clutch=st.booleans(),
    park=st.booleans(),
    arm=st.booleans(),
)


def changed(job: Job, edits: list[tuple[str, Any]]) -> Job:
    """The job with every edit that it takes."""
    for path, value in edits:
        try:
            job = validate(apply(job, Put(path=path, value=value)))
        except Problem:
            continue
    return job


class AnySensorJob(unittest.TestCase):
    @settings(max_examples=20, deadline=None)
    @given(some_edits, some_state)
    def test_everything_answers(self, made: tuple[str, list[tuple[str, Any]]], now: State) -> None:
        key, edits = made
        job = changed(JOBS[key], edits)
        got = assess(job, now)
        for chain, reading in zip(job.chains, got.chains, strict=True):
            self.assertEqual(len(tiles(job, chain, reading, Units())), 4)
            self.assertTrue(verdict(job, chain, reading, got, Units()).words)
            if reading.sense is not None and reading.powered and not reading.sense.fault:
                self.assertTrue(math.isfinite(reading.shown), chain.id)
        for finding in got.findings:
            self.assertTrue(finding.title and finding.reason.result, finding.id)
            for mend in finding.mends:
                if mend.edit is not None:
                    validate(apply(job, mend.edit))
        self.assertIn("Signals", dossier_html(job, got))

    @settings(max_examples=12, deadline=None)
    @given(some_edits)
    def test_what_is_remembered_is_what_would_be_computed(
        self, made: tuple[str, list[tuple[str, Any]]]
    ) -> None:
        """Edit by edit, then the same job from nothing: the answers are equal."""
        key, edits = made
        job = JOBS[key]
        assess(job, state(job))
        for i in range(len(edits)):
            job = changed(job, edits[i : i + 1])
            got = assess(job, state(job))
        fresh = msgspec.json.decode(msgspec.json.encode(job), type=Job)
        forget()
        again = assess(fresh, state(fresh))
        self.assertEqual([f.id for f in got.findings], [f.id for f in again.findings])
        self.assertEqual([f.text for f in got.findings], [f.text for f in again.findings])
        for a, b in zip(got.chains, again.chains, strict=True):
            self.assertEqual((a.status, a.problem), (b.status, b.problem))
            self.assertTrue(a.shown == b.shown or (math.isnan(a.shown) and math.isnan(b.shown)))

    @settings(max_examples=10, deadline=None)
    @given(some_state)
    def test_a_contact_that_is_right_agrees_in_every_state(self, now: State) -> None:
        for job in JOBS.values():
            for reading in assess(job, now).chains:
                if reading.contact is not None and reading.contact.right and reading.powered:
                    self.assertEqual(reading.status, "on" if reading.true else "off")


if __name__ == "__main__":
    unittest.main()
