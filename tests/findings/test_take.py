"""Taking a candidate: source, conditioning, setting, table and wire change together."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import apply, at, demo, put
from zombrel.catalog import DEMO
from zombrel.findings.take import take
from zombrel.job.model import Job, by_id
from zombrel.job.validate import validate
from zombrel.signals.finder import candidates
from zombrel.signals.reduce import input_of
from zombrel.store.zjob import load

JOBS = [demo(), load(DEMO / "0413.zjob"), load(DEMO / "0409.zjob")]


def taken(job: Job, key: str, source: str) -> Job:
    chain = by_id(job.chains, key)
    assert chain is not None
    chosen = next(c for c in candidates(job, *input_of(job, chain)) if c.source == source)
    return apply(job, take(job, chain, chosen))


class Taking(unittest.TestCase):
    def test_the_wire_goes_where_the_source_is(self) -> None:
        job = taken(demo(), "tach-lamp", "s4out")
        wire = by_id(job.wires, "W11")
        assert wire is not None
        self.assertEqual((wire.a.place, wire.a.pin), ("spark", "TACH OUT"))
        self.assertEqual(by_id(job.devices, "lamp").setting("TACH"), "3")  # type: ignore[union-attr]
        back = taken(job, "tach-lamp", "coil2")
        wire = by_id(back.wires, "W11")
        assert wire is not None
        self.assertEqual(wire.a.place, "coil2")
        self.assertEqual(by_id(back.chains, "tach-lamp").over[:9], "Spark box")  # type: ignore[union-attr]

    def test_a_sensors_table_comes_with_it(self) -> None:
        job = taken(put(demo(), "devices.hub.settings.TEMP.at", "D"), "temp-hub", "clt")
        hub = by_id(job.devices, "hub")
        assert hub is not None
        self.assertEqual((hub.setting("TEMP"), len(hub.table("TEMP"))), ("table", 12))
        reading = at(job).chain("temp-hub")
        self.assertLess(abs(reading.shown - reading.true), 2.5)

    @settings(max_examples=60)
    @given(st.sampled_from(JOBS), st.data())
    def test_any_possible_candidate_makes_a_sound_job(self, job: Job, data: st.DataObject) -> None:
        chain = data.draw(st.sampled_from(job.chains))
        able = [c for c in candidates(job, *input_of(job, chain)) if c.possible]
        if not able:
            return
        chosen = data.draw(st.sampled_from(able))
        after = validate(apply(job, take(job, chain, chosen)))
        kept = by_id(after.chains, chain.id)
        assert kept is not None
        self.assertEqual((kept.source, kept.hops), (chosen.source, chosen.hops))
        self.assertEqual(bool(kept.over), chosen is not able[0])
        # how an input is set is not among what candidates rest on
        again = candidates(after, *input_of(after, kept))
        before = candidates(job, *input_of(job, chain))
        # their order may change: what is taken loads its source, and what is made from that
        self.assertEqual({c.source for c in again}, {c.source for c in before})
        for reading in at(after).chains:
            if reading.id == chain.id and not chosen.faults:
                self.assertEqual(reading.problem, "")


if __name__ == "__main__":
    unittest.main()
