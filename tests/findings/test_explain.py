"""Every number can be asked why; the answer carries inputs, formula and provenance."""

from __future__ import annotations

import unittest

import msgspec

from tests.demo import at, demo, put, state
from zombrel.findings import explain
from zombrel.findings.explain import explain_fact
from zombrel.job import facts
from zombrel.job.facts import VEHICLE, source_facts
from zombrel.job.model import Evidence, by_id
from zombrel.units import CUSTOMARY, Units, words

KM, MI = Units(), Units(distance="mi")


class Why(unittest.TestCase):
    def test_sources_and_inputs(self) -> None:
        job, got = demo(), at(demo())
        for chain, reading in zip(job.chains, got.chains, strict=True):
            for units in (KM, MI):
                a = explain.explain_source(job, chain, reading, units)
                b = explain.explain_input(job, chain, reading, units)
                self.assertTrue(a.given and a.formula and a.result, chain.id)
                self.assertTrue(b.given and b.formula and b.result, chain.id)
        ring = explain.explain_source(job, job.chains[0], got.chains[0], KM)
        self.assertIn("24\u00a0054 per km", ring.result)
        known = {g.name: g.known for g in ring.given}
        self.assertEqual(known["teeth"], "measured")
        self.assertEqual(known["tyre"], "measured")

    def test_what_was_found_on_the_road_is_said_and_counts(self) -> None:
        for trim in (1.0, 1.02):
            job = put(demo(), "sources.ring.trim", trim)
            why = explain.explain_source(job, job.chains[0], at(job).chains[0], KM)
            found = {g.name: g for g in why.given}
            with self.subTest(trim):
                self.assertEqual("found on the road" in found, trim != 1)
                per_km = 24054 * trim
                self.assertIn(f"{per_km // 1000:.0f}\u00a0{per_km % 1000:03.0f} per km", why.result)
        self.assertEqual(found["found on the road"].value, "× 1.0200")

    def test_unknown_stays_unknown(self) -> None:
        job = put(demo(), "vehicle.tyre", "")
        got = at(job)
        why = explain.explain_source(job, job.chains[0], got.chains[0], KM)
        self.assertEqual(why.result, "unknown")
        self.assertIn("tyre", why.formula)

    def test_wires(self) -> None:
        job, got = demo(), at(demo())
        for wire, reading in zip(job.wires, got.wires, strict=True):
            why = explain.explain_wire(job, wire, reading, state(job))
            self.assertIn("mm²", words(why.title, KM))
            self.assertIn("AWG", words(why.title, CUSTOMARY))
            self.assertIn("may carry", why.result)

    def test_facts_tell_their_history(self) -> None:
        job = demo()
        for sheet in (*VEHICLE, *source_facts(job)):
            self.assertTrue(explain.explain_fact(job, sheet, KM).title)
        lamps = next(f for f in VEHICLE if f.path == "vehicle.lamps")
        self.assertEqual(explain.explain_fact(job, lamps, KM).given[0].known, "hearsay")

    def test_reach(self) -> None:
        job, got = demo(), at(demo())
        words = {
            c.id: explain.reach_words(job, c, r, KM)
            for c, r in zip(job.chains, got.chains, strict=True)
            if r.brake is None
        }
        self.assertIn("then drops out", words["speed-pace"])
        self.assertEqual(words["tach-hub"], "counts from 129 rpm up")
        self.assertIn("up", words["speed-hub"])

    def test_brake_names_heat_and_coil(self) -> None:
        job = put(demo(), "chains.brake-pace.hops", [{"type": "load", "ohm": 47.0}])
        chain = by_id(job.chains, "brake-pace")
        assert chain is not None
        why = explain.explain_brake(job, chain, at(job).chain("brake-pace"))
        self.assertIn("heat in the load", [g.name for g in why.given])


class Ledger(unittest.TestCase):
    def test_the_last_six_lines_of_the_ledger_answer_why(self) -> None:
        sheet = next(f for f in facts.VEHICLE if f.path == "vehicle.mass_kg")
        lines = tuple(
            Evidence(id=900 + i, path=sheet.path, value=str(i), rung="hearsay", note=f"n{i}")
            for i in range(9)
        )
        job = msgspec.structs.replace(demo(), ledger=lines)
        told = explain_fact(job, sheet, Units())
        self.assertEqual([g.value for g in told.given], [f"{i}: n{i}" for i in range(3, 9)])
        in_pounds = explain_fact(job, sheet, Units(mass="lb")).result
        self.assertTrue(in_pounds.endswith(" lb"), in_pounds)


if __name__ == "__main__":
    unittest.main()
