"""Conditioning by search, and the finder's order, on cases whose answer is known."""

from __future__ import annotations

import math
import unittest

import msgspec

from tests.demo import demo, put
from zombrel.catalog import DEMO
from zombrel.catalog.sources import templates
from zombrel.job.edits import apply
from zombrel.job.ledger import evidence
from zombrel.job.model import (
    Attenuator,
    Device,
    Divider,
    Job,
    Multiplier,
    PullUp,
)
from zombrel.job.sheet import Buttons, DeviceSheet, InputSheet, Quantity
from zombrel.job.source import (
    BusReader,
    CoilTap,
    EngineComputer,
    GearboxSensor,
    Source,
    SourceSpec,
    StatedSpeed,
    Switch,
    Thermistor,
    WheelRing,
)
from zombrel.signals.finder import Candidate, candidates
from zombrel.signals.kinds import kind_of
from zombrel.signals.ways import _load, way_words, ways
from zombrel.store.zjob import load

SIX = demo().vehicle


def bench(spec: SourceSpec, quantity: Quantity, **inputs: object) -> tuple[Job, Device, InputSheet]:
    """A job with one source and one device with one input."""
    sheet = InputSheet(pin="IN", quantity=quantity, **inputs)  # type: ignore[arg-type]
    device = Device(
        id="d", name="D", sheet=DeviceSheet(id="d", maker="m", model="m", name="D", inputs=(sheet,))
    )
    source = Source(id="s", name="S", quantity=quantity, spec=spec)
    return Job(vehicle=SIX, devices=(device,), sources=(source,)), device, sheet


def first(spec: SourceSpec, quantity: Quantity, **inputs: object) -> str:
    job, device, sheet = bench(spec, quantity, **inputs)
    way = ways(job, device, sheet, job.sources[0])[0]
    return way_words(way.hops) + ("" if not way.failed else f"; {way.failed[0]}")


class Load(unittest.TestCase):
    def test_what_a_source_is_loaded_with_is_the_first_that_hangs_on_it(self) -> None:
        sheet = InputSheet(pin="IN", quantity="speed", input_ohm=47000)
        for hops, ohm in (
            ((), 47000),
            ((Divider(by=5, input_ohm=20000),), 20000),
            ((Multiplier(by=3, input_ohm=30000),), 30000),
            ((Attenuator(series_ohm=8000, ground_ohm=2000),), 10000),
            ((PullUp(ohm=1000), Divider(by=2, input_ohm=9000)), 9000),
        ):
            self.assertEqual(_load(hops, sheet), ohm)


RATES = Buttons(low=0.5, high=12, step=0.5, unit="pulses/rev")
PER_KM = Buttons(low=2000, high=20000, step=10, unit="pulses/km")
NTC = tuple(
    (c + 273.15, 10000 * math.exp(3600 * (1 / (c + 273.15) - 1 / 298.15))) for c in range(0, 121, 5)
)


class Search(unittest.TestCase):
    def test_a_shared_ring_keeps_its_level_for_the_brakes(self) -> None:
        # 1.2 kΩ of winding, 10 kΩ of its own reader: 2 kΩ more leave 0.65 of the level
        for shared, ohm, says in (
            (True, 2000.0, "leaves 65 % of the level"),
            (True, 1e6, ""),
            (False, 2000.0, ""),
        ):
            spec = WheelRing(
                teeth=46, volts_per_hz=0.009, into_ohm=10000, winding_ohm=1200, shared=shared
            )
            job, device, sheet = bench(
                spec, "speed", threshold_v=0.1, input_ohm=ohm, waveforms=("sine",), setting=PER_KM
            )
            tried = ways(job, device, sheet, job.sources[0])
            failed = next(way.failed for way in tried if not way.hops)
            with self.subTest(shared=shared, ohm=ohm):
                self.assertEqual(any("leaves" in f for f in failed), bool(says), failed)
                self.assertTrue(not says or any(says in f for f in failed), failed)

    def test_the_simplest_way_that_serves(self) -> None:
        cases: tuple[tuple[SourceSpec, Quantity, dict[str, object], str], ...] = (
            # an open collector needs a pull-up and nothing else
            (
                EngineComputer(pulses_per_rev=3),
                "tach",
                {"threshold_v": 3.0, "setting": RATES},
                "pull-up 4.7 kΩ to the supply",
            ),
            # the input has one of its own
            (
                EngineComputer(pulses_per_rev=3),
                "tach",
                {"threshold_v": 3.0, "pull_up_ohm": 4700.0, "setting": RATES},
                "as it is",
            ),
            # 300 V into a 60 V square input: brought down, then squared
            (
                CoilTap(),
                "tach",
                {"threshold_v": 3.0, "setting": RATES},
                "level shifter 10 kΩ / 1.0 kΩ and zero-cross squarer",
            ),
            # 0.5 pulses a metre are too few for 2000 per km at least: four for one
            (
                StatedSpeed(pulses_per_m=0.5),
                "speed",
                {"threshold_v": 3.0, "setting": PER_KM},
                "multiplier ×4",
            ),
            # too fast for the input, and a whole divider lands on a setting
            (
                StatedSpeed(pulses_per_m=24.0),
                "speed",
                {"threshold_v": 3.0, "max_hz": 1000.0, "setting": PER_KM},
                "divider ÷2",
            ),
            # a resistor into volts: √(least · greatest) to the converter's reference
            (
                Thermistor(points=NTC),
                "coolant",
                {
                    "takes": "volts",
                    "input_ohm": 1e9,
                    "full_v": 5.0,
                    "curve": tuple((k, 5 * r / (r + 4000)) for k, r in NTC),
                },
                "pull-up 4.0 kΩ to 5 V",
            ),
            # a switch that rests closed into an input that takes closed for on
            (Switch(rests="closed", to="ground"), "clutch", {"takes": "contact"}, "relay"),
            (Switch(rests="open", to="ground"), "clutch", {"takes": "contact"}, "as it is"),
        )
        for spec, quantity, inputs, words in cases:
            with self.subTest(words):
                self.assertEqual(first(spec, quantity, **inputs), words)

    def test_what_is_tried_is_kept_with_its_number(self) -> None:
        job, device, sheet = bench(CoilTap(), "tach", threshold_v=3.0, setting=RATES)
        tried = {way_words(w.hops): w.failed for w in ways(job, device, sheet, job.sources[0])}
        self.assertIn("300 V peaks against 60 V", tried["as it is"])
        self.assertIn("a kick into an input for square", tried["as it is"])
        job, device, sheet = bench(
            StatedSpeed(pulses_per_m=24.0), "speed", threshold_v=3.0, max_hz=1000.0, setting=PER_KM
        )
        tried = {way_words(w.hops): w.failed for w in ways(job, device, sheet, job.sources[0])}
        self.assertIn("1333 Hz at {v:55.55555555555556:0} against 1000 Hz", tried["as it is"])
        kinds = {type(h) for w in ways(job, device, sheet, job.sources[0]) for h in w.hops}
        self.assertIn(Divider, kinds)
        self.assertFalse(kinds & {Attenuator, PullUp, Multiplier} - {Multiplier})


def ranked(job: Job, device: int, pin: str) -> list[Candidate]:
    owner = job.devices[device]
    sheet = owner.sheet.input(pin)
    assert sheet is not None
    return list(candidates(job, owner, sheet))


class Finder(unittest.TestCase):
    def test_the_camper(self) -> None:
        job = load(DEMO / "0413.zjob")
        order = ranked(job, 0, "SPEED")
        self.assertEqual([c.source for c in order], ["cable", "gps", "gearbox"])
        self.assertFalse(order[2].possible)
        self.assertEqual(order[2].score, 0)
        self.assertIn("may not share it", order[2].loses)
        # worked out by hand: 8 · 8/21 · 4.10 / 1.995 m = 6.263 per metre
        self.assertAlmostEqual(order[0].error, 6.263 / 6.4 - 1, delta=0.002)

    def test_house_rules_weigh(self) -> None:
        job = demo()
        base = {c.source: c for c in ranked(job, 0, "SPEED")}
        bold = {c.source: c for c in ranked(put(job, "house.risk_weight", 0.0), 0, "SPEED")}
        self.assertGreater(bold["gps"].score, base["gps"].score + 20)
        liked = ranked(put(job, "house.speed_prefers", "propshaft"), 0, "SPEED")
        self.assertGreater(next(c for c in liked if c.source == "ring").cost, base["ring"].cost)
        exact = ranked(put(job, "house.per_cent_min", 200.0), 0, "SPEED")
        self.assertLess(next(c for c in exact if c.source == "prop").score, base["prop"].score)

    def test_knowing_better_raises_the_score(self) -> None:
        job = demo()
        before = ranked(job, 0, "SPEED")[1]
        after = ranked(
            apply(job, evidence(job, f"sources.{before.source}.spec.magnets", "measured")),
            0,
            "SPEED",
        )[1]
        self.assertEqual((before.known, after.known), (None, "measured"))
        self.assertAlmostEqual(before.cost - after.cost, 20)

    def test_the_sum_is_what_it_says(self) -> None:
        for number in ("0412", "0413", "0409"):
            job = load(DEMO / f"{number}.zjob")
            for i, device in enumerate(job.devices):
                for sheet in device.sheet.inputs:
                    order = ranked(job, i, sheet.pin)
                    costs = [c.cost for c in order]
                    self.assertEqual(costs, sorted(costs))
                    for c in order:
                        if c.possible:
                            self.assertAlmostEqual(c.cost, sum(m for _, m in c.parts))
                            self.assertAlmostEqual(c.score, 6000 / (60 + c.cost))
                        self.assertTrue(c.reasons, c.source)
                        self.assertEqual(bool(c.loses), c is not order[0])

    def test_a_shared_sender_says_what_it_would_rob(self) -> None:
        order = ranked(demo(), 1, "TEMP")
        self.assertEqual([c.source for c in order], ["clt", "clt-car"])
        self.assertIn("vehicle's own reading", order[1].faults[0])

    def test_a_slow_bus_is_no_speed_for_a_loop(self) -> None:
        job = demo()
        for period, risk in ((0.1, 0.0), (1.0, 120.0)):
            spec = BusReader(signal="Speed", message=0x201, period_s=period, pulses=4)
            bus = Source(id="bus", name="Bus", quantity="speed", spec=spec)
            more = msgspec.structs.replace(job, sources=(*job.sources, bus))
            got = next(c for c in ranked(more, 0, "SPEED") if c.source == "bus")
            self.assertEqual(dict(got.parts)["risk"], risk)

    def test_what_may_be_done_to_each_kind(self) -> None:
        """Every kind of source says whether it may be tapped, cut into, or not touched."""
        seen = {type(s.spec).__name__: kind_of(s.spec).tolerates(s.spec) for s in templates()}
        self.assertEqual(seen["GearboxSensor"], "never")
        self.assertEqual((seen["CommonFeed"], seen["CableGenerator"]), ("intercept", "intercept"))
        for kind in ("WheelRing", "CoilTap", "StatedSpeed", "Alternator", "Switch"):
            self.assertEqual(seen[kind], "tap", kind)
        for kind in ("Satellite", "PropShaft", "Ratiometric", "ThermocoupleK"):
            self.assertEqual(seen[kind], "own", kind)
        shared, own = (Thermistor(points=NTC, shared_ohm=ohm) for ohm in (680.0, 0.0))
        self.assertEqual(
            (kind_of(shared).tolerates(shared), kind_of(own).tolerates(own)), ("tap", "own")
        )
        plain = GearboxSensor(teeth=24, electronic=False)
        self.assertEqual(kind_of(plain).tolerates(plain), "tap")
        for c in ranked(demo(), 0, "SPEED"):
            words = " ".join(c.reasons)
            self.assertTrue("tapped" in words or "fitted for this" in words, c.source)


if __name__ == "__main__":
    unittest.main()
