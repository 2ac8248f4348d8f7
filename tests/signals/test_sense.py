"""Sensor and contact chains, against hand-worked cases and by properties."""

from __future__ import annotations

import itertools
import math
import unittest

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import at, demo, put
from zombrel.calibrate import thermocouple
from zombrel.catalog import DEMO
from zombrel.job.model import Chain, LoadResistor, PullUp, Relay
from zombrel.job.problem import Problem
from zombrel.job.sheet import Curve, InputSheet, Takes
from zombrel.job.source import (
    BlendSender,
    BrakeSide,
    Duty,
    Ratiometric,
    SensorSpec,
    Source,
    Switch,
    Thermistor,
    ThermocoupleK,
    Volts,
)
from zombrel.job.state import State
from zombrel.signals.contact import contact
from zombrel.signals.kinds.senders import thermistor_ohm
from zombrel.signals.sense import Sensor, count_step, ideal, joined, shown_at, sound, strip_of
from zombrel.signals.study import study
from zombrel.store.zjob import load

BETA = 3435.0


def beta_ohm(celsius: float) -> float:
    """A 10 kΩ part by the β equation (IEC 60539-1), worked out here."""
    return 10000.0 * math.exp(BETA * (1 / (celsius + 273.15) - 1 / 298.15))


PART: Curve = tuple((c + 273.15, beta_ohm(c)) for c in range(-20, 121, 10))


def sensor(
    spec: SensorSpec, takes: Takes, curve: Curve, hops: tuple[PullUp, ...] = (), **more: float
) -> Sensor:
    sheet = InputSheet(pin="IN", quantity="coolant", takes=takes, **more)  # type: ignore[arg-type]
    source = Source(id="s", name="Sender", quantity="coolant", spec=spec)
    chain = Chain(
        id="c", title="c", quantity="coolant", source="s", device="d", pin="IN", hops=hops
    )
    return joined(chain, source, sheet, curve, None)


class Hand(unittest.TestCase):
    def test_thermistor_behind_a_pull_up(self) -> None:
        one = sensor(
            Thermistor(points=PART), "ohm", PART, pull_up_ohm=2000, pull_up_v=5, adc_bits=10
        )
        ohm = beta_ohm(30)
        shown, how = shown_at(one, 303.15, None, State())
        self.assertAlmostEqual(how.pin_v, 5 * ohm / (ohm + 2000))
        self.assertAlmostEqual(shown, 303.15, places=6)
        # one count: dV = 5/1024; dR/dT = -β R/T²; dV/dT = 5·P/(R+P)²·dR/dT
        slope = 5 * 2000 / (ohm + 2000) ** 2 * BETA * ohm / 303.15**2
        self.assertAlmostEqual(count_step(one, how.pin_v, State()), 5 / 1024 / slope, delta=0.03)

    def test_between_pairs_the_beta_equation_holds_exactly(self) -> None:
        for celsius in (-15.0, 3.3, 47.0, 115.0, 135.0, -30.0):
            self.assertAlmostEqual(
                thermistor_ohm(PART, celsius + 273.15) / beta_ohm(celsius), 1, places=9
            )

    def test_the_strip_covers_the_range_and_its_corners(self) -> None:
        part: Curve = ((273.15, 32000.0), (311.0, 5800.0), (373.15, 680.0))
        one = sensor(Thermistor(points=part), "ohm", part, pull_up_ohm=2000, pull_up_v=5)
        strip = strip_of(one, 280.0, 360.0, ideal(one, State()), State(), steps=8)
        self.assertEqual([x for x, _ in strip], sorted({*range(280, 361, 10), 311.0}))
        # on a pair it is right; between them the device goes straight where the part bends
        self.assertAlmostEqual(dict(strip)[311.0], 311.0, places=6)
        self.assertGreater(dict(strip)[290.0], 291.0)

    def test_pairs_that_are_none_are_refused(self) -> None:
        sound(PART, "Sender", thermistor=True)
        for words, points, said in (
            ("order", (PART[1], PART[0]), "must rise"),
            ("below nothing", ((280.0, 5.0), (290.0, -1.0)), "below zero"),
            ("no ohms", ((280.0, 5.0), (290.0, 0.0)), "above zero"),
            ("turning", ((280.0, 5.0), (290.0, 3.0), (300.0, 4.0)), "turn"),
        ):
            with self.subTest(words), self.assertRaisesRegex(Problem, said):
                sound(points, "Sender", thermistor=True)

    def test_two_pull_ups_by_millman(self) -> None:
        spec = Thermistor(points=PART, shared_ohm=1000, shared_v=5)
        one = sensor(spec, "ohm", PART, pull_up_ohm=1000, pull_up_v=5)
        ohm = beta_ohm(60)
        shown, how = shown_at(one, 333.15, None, State())
        volts = (5 / 1000 + 5 / 1000) / (2 / 1000 + 1 / ohm)
        self.assertAlmostEqual(how.pin_v, volts)
        taken = 1000 * volts / (5 - volts)  # what either side takes the sender to be
        wrong = 1 / (1 / 298.15 + math.log(taken / 10000) / BETA)
        self.assertAlmostEqual(shown, wrong, delta=0.3)
        self.assertAlmostEqual(how.own_shift, wrong - 333.15, delta=0.1)

    def test_thermistor_into_volts_through_a_pull_up_of_ones_own(self) -> None:
        volts: Curve = tuple((k, 5 * r / (r + 2200)) for k, r in PART)
        one = sensor(
            Thermistor(points=PART), "volts", volts, (PullUp(ohm=2200, to_v=5),), input_ohm=1e9
        )
        self.assertAlmostEqual(shown_at(one, 353.15, None, State())[0], 353.15, delta=0.05)
        with self.assertRaisesRegex(Problem, "needs a pull-up"):
            sensor(Thermistor(points=PART), "volts", volts)

    def test_absolute_sender_and_the_barometer(self) -> None:
        """On a pass at 80 kPa a device that takes the standard atmosphere reads 21.3 kPa low."""
        spec = Ratiometric(low=20e3, high=300e3, absolute=True, out_ohm=0)
        curve: Curve = ((20e3, 0.5), (300e3, 4.5))
        for kind, off in (("own", 0.0), ("fixed", 80e3 - 101325)):
            sheet = InputSheet(
                pin="IN", quantity="boost", takes="volts", input_ohm=1e9, barometer=kind
            )  # type: ignore[arg-type]
            source = Source(id="s", name="Sender", quantity="boost", spec=spec)
            chain = Chain(id="c", title="c", quantity="boost", source="s", device="d", pin="IN")
            one = joined(chain, source, sheet, curve, None)
            shown, how = shown_at(one, 90e3, None, State(barometer=80e3))
            self.assertAlmostEqual(how.electrical, 0.5 + 4 * (170e3 - 20e3) / 280e3)
            self.assertAlmostEqual(shown - 90e3, off, delta=2)

    def test_thermocouple_with_a_copper_extension(self) -> None:
        for lead, cold in (("type K", 20.0), ("copper", 60.0)):
            one = sensor(ThermocoupleK(extension=lead), "thermocouple", ())  # type: ignore[arg-type]
            shown, _ = shown_at(one, 973.15, None, State())
            seen = thermocouple.millivolts(700) - thermocouple.millivolts(cold)
            expect = thermocouple.celsius(seen, 20.0)
            self.assertAlmostEqual(shown - 273.15, expect, places=6)
        self.assertLess(shown, 973.15 - 35)

    def test_duty_blend_and_volts(self) -> None:
        cases: tuple[tuple[SensorSpec, Takes, Curve, float], ...] = (
            (
                Duty(points=((0.0, 0.1), (1.0, 0.9)), inverted=True),
                "duty",
                ((0.0, 0.9), (1.0, 0.1)),
                0.3,
            ),
            (BlendSender(open_collector=False), "hz", ((0.0, 50.0), (1.0, 150.0)), 0.12),
            (
                Volts(points=((0.0, 0.5), (1.0, 4.5)), out_ohm=0),
                "volts",
                ((0.0, 0.5), (1.0, 4.5)),
                0.74,
            ),
        )
        for spec, takes, curve, value in cases:
            shown, how = shown_at(sensor(spec, takes, curve, input_ohm=1e9), value, None, State())
            self.assertAlmostEqual(shown, value, places=6)
            self.assertEqual(how.fault, "")
        bare = sensor(BlendSender(), "hz", ((0.0, 50.0), (1.0, 150.0)))
        self.assertIn("pull-up", shown_at(bare, 0.5, None, State())[1].fault)

    def test_tape_and_the_ends_of_a_curve(self) -> None:
        taped = sensor(
            Thermistor(points=PART, one_wire=True, seal="tape"),
            "ohm",
            PART,
            pull_up_ohm=1000,
            pull_up_v=5,
        )
        self.assertEqual(shown_at(taped, 333.15, None, State())[1].fault, "open")
        hot = sensor(Thermistor(points=PART), "ohm", PART[:5], pull_up_ohm=1000, pull_up_v=5)
        self.assertEqual(shown_at(hot, 393.15, None, State())[1].fault, "below")

    def test_the_lifted_blend_sender_of_the_scenario(self) -> None:
        reading = at(demo()).chain("blend-ecu")
        assert reading.sense is not None
        self.assertAlmostEqual(reading.sense.lift_v, 8.05 * 0.199, delta=0.002)
        self.assertEqual(round(reading.shown * 100), 67)
        clean = at(put(demo(), "studs.G3.ohm", 0.0)).chain("blend-ecu")
        self.assertAlmostEqual(clean.shown, 0.27, delta=0.002)

    def test_a_senders_ground_on_a_power_wire_shifts_it(self) -> None:
        """2.1 A over 0.4 m of 1 mm², 8 K over the air, lift the hub's own ground; thinner more."""
        plain = at(demo()).chain("oil-hub")
        assert plain.sense is not None
        self.assertAlmostEqual(
            plain.sense.lift_v, -2.1 * 0.4 * 0.01724 * (1 + 0.00393 * 8), places=6
        )
        thin = at(put(demo(), "wires.W8.area_mm2", 0.25)).chain("oil-hub")
        assert thin.sense is not None
        self.assertAlmostEqual(thin.sense.lift_v, 4 * plain.sense.lift_v, places=6)


class Contacts(unittest.TestCase):
    def test_every_way_a_contact_can_stand(self) -> None:
        """Worked through by hand: closed and leading right means what the input takes for on."""
        ways = itertools.product(
            ("open", "closed"),
            ("ground", "supply"),
            ("open", "closed"),
            ("ground", "supply"),
            (False, True),
        )
        for rests, to, active, closes_to, relay in ways:
            sheet = InputSheet(
                pin="IN", quantity="arm", takes="contact", active=active, closes_to=closes_to
            )  # type: ignore[arg-type]
            source = Source(id="s", name="S", quantity="arm", spec=Switch(rests=rests, to=to))  # type: ignore[arg-type]
            chain = Chain(
                id="c",
                title="c",
                quantity="arm",
                source="s",
                device="d",
                pin="IN",
                hops=(Relay(),) if relay else (),
            )
            got = contact(chain, source, sheet)
            turned = (rests == "closed") != (active == "open")
            if relay:
                self.assertEqual(got.right, turned)
            elif to == closes_to:
                self.assertEqual(got.right, not turned)
                self.assertEqual(got.turned, turned)
            else:
                self.assertFalse(got.right or got.turned)

    def test_the_lamp_side_feeds_and_the_hot_side_never(self) -> None:
        sheet = InputSheet(pin="B", quantity="brake", takes="contact", closes_to="supply")
        cold = Source(id="s", name="S", quantity="brake", spec=BrakeSide(side="cold"))
        chain = Chain(
            id="c",
            title="c",
            quantity="brake",
            source="s",
            device="d",
            pin="B",
            hops=(LoadResistor(ohm=47),),
        )
        self.assertTrue(contact(chain, cold, sheet).right)
        hot = msgspec.structs.replace(cold, spec=BrakeSide(side="hot"))
        with self.assertRaisesRegex(Problem, "always live"):
            contact(chain, hot, sheet)


class Studies(unittest.TestCase):
    @settings(max_examples=25)
    @given(st.integers(2, 12))
    def test_more_points_are_never_worse_and_the_table_keeps_its_word(self, count: int) -> None:
        job = demo()
        chain = next(c for c in job.chains if c.id == "temp-hub")
        got = study(job, chain, "straight pieces", count=count)
        self.assertLessEqual(len(got.table), count)
        more = study(job, chain, "straight pieces", count=min(count + 1, 12))
        self.assertLessEqual(more.table_worst, got.table_worst + 0.05)
        loaded = put(
            put(job, "devices.hub.settings.TEMP.table", [list(p) for p in got.table]),
            "devices.hub.settings.TEMP.at",
            "table",
        )
        again = study(loaded, chain, "straight pieces")
        self.assertAlmostEqual(again.now_worst, got.table_worst, places=6)

    def test_every_sensor_of_every_demo_job_is_studied(self) -> None:
        for number in ("0412", "0413", "0409"):
            job = load(DEMO / f"{number}.zjob")
            for chain in job.chains:
                if at(job).chain(chain.id).sense is not None:
                    got = study(job, chain, "straight pieces")
                    self.assertGreater(len(got.truth), 5, chain.id)


if __name__ == "__main__":
    unittest.main()
