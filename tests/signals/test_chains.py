"""Whole chains of the demo job: every kind of source, supplies, states, alternatives."""

from __future__ import annotations

import itertools
import math
import unittest

import msgspec

from tests.demo import at, demo, put, whole
from zombrel.behaviour.suppose import named, turns_per_metre, with_engine, with_gear, with_speed
from zombrel.job import model as m
from zombrel.job import source as src
from zombrel.job.model import by_id, index
from zombrel.job.problem import Problem
from zombrel.job.source import BusReader
from zombrel.job.state import State
from zombrel.signals.begin import best_chain
from zombrel.signals.finder import Candidate, _risk, candidates
from zombrel.signals.over_range import choices, sweep
from zombrel.signals.reduce import box_for, emission, input_of
from zombrel.signals.waveform import trace
from zombrel.units import METRIC, words

V = demo().vehicle
AROUND = 3.05 * 0.627


def source(spec: src.SourceSpec, quantity: str = "tach", **more: float) -> src.Source:
    return src.Source(id="x", name="x", quantity=quantity, spec=spec, **more)  # type: ignore[arg-type]


class Sources(unittest.TestCase):
    def test_every_kind_has_its_rate_and_shape(self) -> None:
        ring = src.WheelRing(teeth=46, volts_per_hz=0.009)
        shaft = src.PropShaft(magnets=2, volts_per_hz=0.02)
        cable = src.CableGenerator(pulses_per_rev=4, drive_teeth=8, driven_teeth=21)
        for spec, rate, shape in (
            (ring, 46 / AROUND, "sine"),
            (shaft, 2 * 3.64 / AROUND, "sine"),
            (cable, 4 * 8 / 21 * 3.64 / AROUND, "square"),
            (src.StatedSpeed(pulses_per_m=4.971), 4.971, "square"),
            (src.CoilTap(), 1.0, "kick"),
            (src.CommonFeed(), 3.0, "square"),
            (src.EngineComputer(pulses_per_rev=2), 2.0, "square"),
            (src.Alternator(pole_pairs=6, pulley_ratio=2.35), 14.1, "sine"),
            (src.ToothedWheel(teeth=36, missing=1), 35.0, "sine"),
        ):
            with self.subTest(spec=type(spec).__name__):
                got = emission(source(spec), V, None)
                self.assertAlmostEqual(got.rate, rate)
                self.assertEqual(got.waveform, shape)

    def test_the_box_output_comes_from_its_sheet(self) -> None:
        s4 = next(s for s in demo().sources if s.id == "s4out")
        got = emission(s4, V, box_for(demo(), s4))
        self.assertEqual((got.rate, got.volts, got.waveform), (3, 12, "square"))

    def test_the_box_makes_the_coil_spark_three_times(self) -> None:
        coil = next(s for s in demo().sources if s.id == "coil2")
        self.assertEqual(emission(coil, V, box_for(demo(), coil)).sparks, 3)
        self.assertEqual(emission(coil, V, None).sparks, 1)

    def test_trim_scales(self) -> None:
        spec = src.WheelRing(teeth=46, volts_per_hz=0.009)
        plain = emission(source(spec), V, None)
        self.assertAlmostEqual(emission(source(spec, trim=1.02), V, None).rate, plain.rate * 1.02)

    def test_missing_facts_are_named(self) -> None:
        bare = m.Vehicle()
        for spec, word in (
            (src.WheelRing(teeth=46, volts_per_hz=0.009), "tyre"),
            (src.CommonFeed(), "cylinders"),
            (src.CoilTap(), "cylinders"),
            (src.BrakeSide(), "no pulses"),
        ):
            with self.subTest(word), self.assertRaises(Problem) as caught:
                emission(source(spec), bare, None)
            self.assertIn(word, str(caught.exception))
        tyred = m.Vehicle(tyre="205/60 R15")
        with self.assertRaises(Problem) as caught:
            emission(source(src.PropShaft(magnets=2, volts_per_hz=0.02)), tyred, None)
        self.assertIn("final drive", str(caught.exception))


class States(unittest.TestCase):
    def test_seventy_on_the_flat(self) -> None:
        got = {c.id: c for c in at(demo()).chains}
        pace = got["speed-pace"]
        self.assertAlmostEqual(pace.source_hz, 467.7, places=1)
        # E7 believes 800·2^4.7 per km, the ring gives 24 054
        self.assertAlmostEqual(pace.error, 24054.17 / (800 * 2**4.7) - 1, places=6)
        self.assertAlmostEqual(got["speed-hub"].error, 24054.17 / 24050 - 1, places=6)
        self.assertAlmostEqual(got["tach-hub"].error, 0)
        self.assertAlmostEqual(got["tach-lamp"].error, 2.0)  # three sparks for one
        self.assertEqual(got["brake-pace"].status, "unsure")

    def test_cranking_drops_the_accessory_feed(self) -> None:
        got = {c.id: c for c in at(demo(), "Cranking").chains}
        self.assertFalse(got["tach-hub"].powered)
        mended = {c.id: c for c in at(whole(), "Cranking").chains}
        self.assertFalse(mended["tach-hub"].powered)  # the hub's run feed dies as well
        low = put(demo(), "wires.W15.a", {"place": "F8", "pin": ""})
        low = put(low, "wires.W6.a", {"place": "F8", "pin": ""})
        self.assertTrue({c.id: c for c in at(low, "Cranking").chains}["tach-hub"].powered)

    def test_key_off_reads_nothing(self) -> None:
        for reading in at(demo(), "Key off").chains:
            self.assertFalse(reading.powered, reading.id)

    def test_a_worn_tyre_reads_high(self) -> None:
        from zombrel.findings.assess import assess

        new = dict(named(V))["70 on the flat"]
        worn = msgspec.structs.replace(new, wear=0.015)
        a = assess(whole(), new).chain("speed-hub")
        b = assess(whole(), worn).chain("speed-hub")
        self.assertAlmostEqual((1 + b.error) / (1 + a.error), 1 / 0.985, places=9)

    def test_pedal_pressed(self) -> None:
        from zombrel.findings.assess import assess

        pressed = msgspec.structs.replace(dict(named(V))["Idle"], brake=True)
        self.assertEqual(assess(whole(), pressed).chain("brake-pace").status, "pressed")
        self.assertEqual(at(whole(), "Idle").chain("brake-pace").status, "released")

    def test_sweep_has_the_drop_out(self) -> None:
        job = demo()
        chain, device = job.chains[0], job.devices[0]
        x, shown = sweep(job, chain, job.sources[0], device, points=401)
        lost = x[[math.isnan(v) for v in shown]]
        self.assertAlmostEqual(lost.min() * 3.6, 150, delta=0.6)

    def test_gear_joins_speed_and_engine(self) -> None:
        state = with_speed(V, State(gear=4), 70 / 3.6)
        self.assertAlmostEqual(state.engine * 60, 70 / 3.6 / AROUND * 3.64 * 60)
        back = with_engine(V, state, state.engine)
        self.assertAlmostEqual(back.speed, state.speed)
        fifth = with_gear(V, state, 5)
        self.assertAlmostEqual(fifth.engine / state.engine, 0.79)
        clutched = msgspec.structs.replace(state, clutch=True)
        self.assertEqual(with_speed(V, clutched, 5.0).engine, state.engine)
        self.assertIsNone(turns_per_metre(V, 0))
        self.assertIsNone(turns_per_metre(m.Vehicle(), 1))


def ranked_for(job: m.Job, chain: m.Chain) -> tuple[Candidate, ...]:
    return candidates(job, *input_of(job, chain))


class Ranking(unittest.TestCase):
    def test_the_tone_ring_wins_and_the_shaft_says_why_it_loses(self) -> None:
        job = demo()
        ranked = ranked_for(job, job.chains[0])
        self.assertEqual([a.source for a in ranked], ["ring", "prop", "gps"])
        self.assertEqual((ranked[0].divider, ranked[0].setting), (7, "C1"))
        self.assertEqual(ranked[0].faults, ())
        tried = {r.way: r.why for r in ranked[0].rejected}
        self.assertIn("1336 Hz", tried["zero-cross squarer"])
        self.assertIn("a sine into an input for square", tried["as it is"])
        self.assertIn("nearest setting", " ".join(ranked[1].faults))
        self.assertRegex(ranked[1].loses, r"^work: 90 min against 40 of Left rear tone ring$")
        self.assertRegex(ranked[2].loses, r"^risk: 300 min")

    def test_never_the_coil_with_a_capacitor_box(self) -> None:
        job = demo()
        ranked = ranked_for(job, next(c for c in job.chains if c.id == "tach-lamp"))
        self.assertEqual(ranked[0].source, "s4out")
        coil = next(a for a in ranked if a.source == "coil2")
        self.assertIn("3 sparks", " ".join(coil.reasons))
        common = next(a for a in ranked if a.source == "common")
        self.assertIn("no pulses", " ".join(common.faults))

    def test_the_hot_side_is_no_choice(self) -> None:
        job = demo()
        ranked = ranked_for(job, next(c for c in job.chains if c.quantity == "brake"))
        self.assertEqual(ranked[0].source, "cold")
        self.assertFalse(ranked[1].possible)

    def test_choices_follow_the_tyre(self) -> None:
        job = put(demo(), "vehicle.tyre", "195/50 R15")
        before = choices(
            demo(), demo().chains[0], demo().sources[0], demo().devices[0].sheet.inputs[0]
        )
        after = choices(job, job.chains[0], job.sources[0], job.devices[0].sheet.inputs[0])
        self.assertNotEqual(before[0], after[0])


class Waves(unittest.TestCase):
    def test_a_square_has_its_edges_where_the_rate_says(self) -> None:
        points = trace("square", 100.0, 5.0, 0.02)
        edges = [t for (t, a), (u, b) in itertools.pairwise(points) if t == u and a != b]
        self.assertEqual([round(t * 1000, 6) for t in edges], [5, 10, 15])
        self.assertEqual({v for _, v in points}, {0.0, 5.0})

    def test_a_sine_is_symmetrical_and_reaches_its_peak(self) -> None:
        values = [v for _, v in trace("sine", 100.0, 4.0, 0.02, points=400)]
        self.assertAlmostEqual(max(values), 4.0, places=3)
        self.assertAlmostEqual(min(values), -4.0, places=3)
        self.assertAlmostEqual(sum(values), 0.0, places=6)

    def test_a_kick_rings_down(self) -> None:
        values = [abs(v) for _, v in trace("kick", 50.0, 300.0, 0.02, points=200)]
        self.assertEqual(max(values), 300.0)
        self.assertLess(values[150], 3.0)

    def test_nothing_moves_at_a_standstill(self) -> None:
        self.assertEqual(trace("square", 0.0, 5.0, 0.02), [(0.0, 0.0), (0.02, 0.0)])
        self.assertEqual(trace("level", 0.0, 7.0, 0.02), [(0.0, 7.0), (0.02, 7.0)])


class Divided(unittest.TestCase):
    def test_where_a_divided_signal_drops_out(self) -> None:
        # 24 054 a km divided by 2 passes 1 kHz at 1000 · 2 · 3600 / 24 054 = 299 km/h
        job = put(demo(), "chains.speed-pace.hops", [{"type": "divider", "by": 2}])
        job = put(job, "vehicle.top_mps", 90.0)
        found = {f.id: f for f in at(job).findings}["rate-limit-speed-pace"]
        self.assertIn("above 299 km/h", words(found.title, METRIC))

    def test_names_of_signals_count_on(self) -> None:
        job = demo()
        lamp = index(job.devices)["lamp"]
        sheet = lamp.sheet.input("TACH")
        assert sheet is not None
        names = []
        for _ in range(3):
            chain = best_chain(job, lamp, sheet)
            assert chain is not None
            names.append(chain.id)
            job = msgspec.structs.replace(job, chains=(*job.chains, chain))
        self.assertEqual(names, ["tach-lamp-2", "tach-lamp-3", "tach-lamp-4"])

    def test_a_value_from_the_bus_that_comes_seldom_is_told(self) -> None:
        """Once a second is enough for a gauge; what steadies a car wants it more often."""
        job = demo()
        sheet = by_id(job.devices, "hub").sheet.inputs[0]
        source = job.sources[0]
        for period, steady, slow in ((0.9, False, False), (2.0, False, True), (0.9, True, True)):
            with self.subTest(period=period, steady=steady):
                spec = BusReader(signal="speed", message=1, period_s=period)
                _, said = _risk(
                    job,
                    msgspec.structs.replace(sheet, steady=steady),
                    msgspec.structs.replace(source, spec=spec),
                )
                self.assertEqual(f"one value each {period:g} s is too slow" in said, slow)

    def test_a_square_stands_at_nothing_between_its_pulses(self) -> None:
        volts = {v for _, v in trace("square", 10.0, 5.0, 0.5)}
        self.assertEqual(volts, {0.0, 5.0})
        self.assertEqual(trace("square", 0.0, 5.0, 0.5), [(0.0, 0.0), (0.5, 0.0)])


if __name__ == "__main__":
    unittest.main()
