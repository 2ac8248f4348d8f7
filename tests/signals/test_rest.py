"""What the network of a job comes to rest at."""

from __future__ import annotations

import unittest

import msgspec
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import astuple

from tests.demo import apply, demo, put, state, whole
from zombrel.calibrate.copper import RHO_20
from zombrel.catalog import DEMO
from zombrel.harness.laid import laid
from zombrel.job.edits import Add
from zombrel.job.model import Chain, Device, Job, by_id
from zombrel.job.quantity import group
from zombrel.job.sheet import DeviceSheet, InputSheet, SupplySheet
from zombrel.job.source import BoxOutput, Source, Thermistor
from zombrel.job.state import State
from zombrel.job.wiring import End, Feed, Stud, Wire
from zombrel.signals.chain_reading import felt, port_of, ready
from zombrel.signals.circuit.build import Electric
from zombrel.signals.circuit.rest import lifts, of_chain, of_wire
from zombrel.signals.law import loaded
from zombrel.signals.sense import ideal, shown_at
from zombrel.signals.what_if import what_if
from zombrel.store.zjob import load


def device(key: str, amps: float) -> Device:
    return Device(
        id=key,
        name=key,
        sheet=DeviceSheet(
            id=key,
            maker="m",
            model="m",
            name=key,
            inputs=(
                InputSheet(pin="IN", quantity="coolant", takes="volts", curve=((0, 0), (1, 5))),
            ),
            supplies=(
                SupplySheet(pin="+", kind="power", amps=amps, feeds=("run",)),
                SupplySheet(pin="GROUND", kind="ground", amps=amps),
            ),
        ),
    )


def ground(key: str, place: str, stud: str, length: float, area: float) -> Wire:
    return Wire(
        id=key,
        a=End(place=place, pin="GROUND"),
        b=End(place=stud),
        colour="black",
        carries="ground",
        area_mm2=area,
        length_m=length,
    )


PART = Thermistor(points=((273.15, 5000.0), (298.15, 2000.0), (373.15, 200.0)))
SENDER = Source(id="s", name="S", quantity="coolant", spec=PART)


def chain(source: str = "s", wires: tuple[str, ...] = ()) -> Chain:
    return Chain(
        id="c", title="c", quantity="coolant", source=source, device="reader", pin="IN", wires=wires
    )


def at() -> Electric:
    return Electric("on", 13.8, 293.15, False, 1e9)


class Lift(unittest.TestCase):
    """Where a sender's ground really stands, by Ohm's law."""

    def place(self, stud_ohm: float, other_a: float, *wires: str, source: str = "s") -> Job:
        back = Wire(
            id="W3",
            a=End(place="s", pin="-"),
            b=End(place="G2"),
            colour="black",
            carries="ground",
            area_mm2=0.5,
            length_m=3.0,
        )
        signal = msgspec.structs.replace(
            back, id="W4", a=End(place="s", pin="+"), b=End(place="reader", pin="IN")
        )
        output = Source(id="o", name="O", quantity="coolant", spec=BoxOutput(device="box", pin="X"))
        feed = Feed(id="F", name="F", feed="run")
        power = [
            msgspec.structs.replace(
                back, id=f"P-{d}", a=End(place="F"), b=End(place=d, pin="+"), carries="power"
            )
            for d in ("reader", "box")
        ]
        return Job(
            devices=(device("reader", 2.0), device("box", 3.0)),
            sources=(SENDER, output),
            chains=(chain(source, ("W4", *wires) if wires else ()),),
            feeds=(feed,),
            wires=(
                ground("W1", "reader", "G1", 1.0, 1.0),
                ground("W2", "box", "G2", 2.0, 0.5),
                back,
                signal,
                *power,
            ),
            studs=(
                Stud(id="G1", name="clean"),
                Stud(id="G2", name="bad", ohm=stud_ohm, load_a=other_a),
            ),
        )

    def lift(self, job: Job, when: Electric | None = None) -> float:
        return of_chain(job, "c", when or at()).lift_v

    def test_a_star_has_none_but_the_readers_own_wire(self) -> None:
        self.assertAlmostEqual(self.lift(self.place(0.0, 0.0)), -2.0 * RHO_20 / 1e-6, places=5)

    def test_a_return_of_ones_own_at_a_bad_stud(self) -> None:
        """The stud carries the box's 3 A and the other 8 A; the sender's own wire carries none."""
        job = self.place(0.05, 8.0, "W3")
        own = 2.0 * RHO_20 / 1e-6
        self.assertAlmostEqual(lifts(job, at())["G2"], 11 * 0.05, places=4)
        self.assertAlmostEqual(self.lift(job), 11 * 0.05 - own, places=3)

    def test_an_output_stands_on_its_devices_ground(self) -> None:
        along = 3.0 * 2.0 * RHO_20 / 0.5e-6
        job = self.place(0.05, 8.0, source="o")
        self.assertAlmostEqual(self.lift(job), along + 11 * 0.05 - 2.0 * RHO_20 / 1e-6, places=4)

    def test_no_current_no_lift(self) -> None:
        job = self.place(0.5, 8.0, "W3")
        self.assertAlmostEqual(self.lift(job, at()._replace(key="off")), 0.0, places=3)

    def test_it_is_capped_by_the_supply(self) -> None:
        """A stud that hardly conducts would be lifted to 8000 V by 8 A; the supply ends it."""
        job = self.place(1000.0, 8.0, "W3")
        self.assertLess(lifts(job, at())["G2"], 13.8)

    @given(st.floats(0.01, 1), st.floats(0, 30))
    def test_it_grows_with_resistance_and_current(self, ohm: float, amps: float) -> None:
        base = self.lift(self.place(ohm, amps, "W3"))
        self.assertGreaterEqual(self.lift(self.place(ohm + 0.1, amps, "W3")), base)
        self.assertGreaterEqual(self.lift(self.place(ohm, amps + 1, "W3")), base)

    def test_moving_the_ground_wire_settles_the_blend_reader(self) -> None:
        job = laid(demo())
        moved = put(job, "wires.W18.b", {"place": "G2", "pin": ""})
        self.assertAlmostEqual(of_chain(job, "blend-ecu", at()).lift_v, 1.603, places=3)
        self.assertLess(abs(of_chain(moved, "blend-ecu", at()).lift_v), 0.01)


class Joined(unittest.TestCase):
    """What the network gives against the sums of the laws without it."""

    def test_bare_chains_read_as_the_formula_says(self) -> None:
        """Wires without loss: Millman's theorem and the network are two ways to one number."""
        for job in (demo(), load(DEMO / "0413.zjob"), load(DEMO / "0409.zjob")):
            bare = bared(job)
            for one in bare.chains:
                if group(one.quantity) != "sensed":
                    continue
                with self.subTest(one.id):
                    sender = felt(bare, one.id).sender
                    want = ideal(sender, State(volts=13.8))
                    got = of_chain(bare, one.id, at())
                    for mine, theirs in zip(astuple(got), astuple(want), strict=True):
                        self.assertAlmostEqual(mine, theirs, delta=1e-4 * max(1.0, abs(theirs)))

    def test_a_wire_between_two_ground_pins_of_a_device_takes_nothing_from_its_ground(self) -> None:
        job = demo()
        sheet = next(d.sheet for d in job.devices if d.id == "hub")
        pins = [
            *sheet.supplies,
            msgspec.structs.replace(sheet.supplies[-1], pin="G2", kind="ground"),
        ]
        job = put(job, "devices.hub.sheet.supplies", msgspec.to_builtins(pins))
        ground = next(
            w for w in job.wires if "hub" in (w.a.place, w.b.place) and w.carries == "ground"
        )
        pin = ground.a.pin if ground.a.place == "hub" else ground.b.pin
        ends = {"a": {"place": "hub", "pin": pin}, "b": {"place": "hub", "pin": "G2"}}
        more = Add(path="wires", value=msgspec.to_builtins(ground) | {"id": "WX"} | ends)
        alone, beside = (of_wire(j, ground.id, at()) for j in (job, apply(job, more)))
        self.assertGreater(abs(alone), 1.0)
        self.assertAlmostEqual(beside, alone, places=6)

    def test_every_tap_loads_a_winding(self) -> None:
        """Ring 1200 Ω into 10 kΩ: 47 kΩ of a hub and 100 kΩ of a divider at once."""
        job = put(demo(), "chains.speed-pace.hops", [{"type": "divider", "by": 7}])
        both = 1 / (1 / 47e3 + 1 / 100e3)
        for key in ("speed-hub", "speed-pace"):
            self.assertAlmostEqual(
                ready(bared(job), key).law.v_per_hz, loaded(0.009, 10e3, 1200, both), places=8
            )

    def test_a_ratiometric_sender_lifts_as_its_span_does(self) -> None:
        """Half its supply: a foot that is lifted by 0.4 V lifts its output by 0.2 V."""
        sender = felt(demo(), "oil-hub").sender
        state, port = State(), of_chain(bared(demo()), "oil-hub", at())
        plain_, lifted = (shown_at(sender, 5e5, p, state)[1] for p in (port, port.lifted(0.4)))
        self.assertAlmostEqual(lifted.pin_v - plain_.pin_v, 0.2, places=3)
        self.assertAlmostEqual(plain_.pin_v, 2.5, delta=0.01)

    def test_pull_ups_of_an_open_collector(self) -> None:
        """Into 47 kΩ: none, 1 MΩ and 47 Ω leave it silent, 4.7 kΩ does not."""
        spec = {"type": "stated", "pulses_per_m": 4.0, "open_collector": True}
        job = put(demo(), "sources.gps.spec", spec)
        job = bared(put(job, "chains.speed-pace.source", "gps"))
        for ohm, counts in ((None, False), (1e6, False), (47.0, False), (4700.0, True)):
            hops = [] if ohm is None else [{"type": "pull-up", "ohm": ohm}]
            with self.subTest(ohm=ohm):
                found = ready(put(job, "chains.speed-pace.hops", hops), "speed-pace").span
                self.assertEqual(found[1] > 0, counts)


def bared(job: Job) -> Job:
    """A job without wires: every chain joined straight to its input."""
    chains = tuple(msgspec.structs.replace(c, wires=()) for c in job.chains)
    return msgspec.structs.replace(job, wires=(), chains=chains)


class Contacts(unittest.TestCase):
    def test_a_contact_is_seen_as_it_is(self) -> None:
        """A lamp line that is led to the supply while the lights are on, and on means closed."""
        job = whole()
        dark, lit = state(job), msgspec.structs.replace(state(job), lights=True)
        self.assertEqual(astuple(what_if(job, dark, "dim-hub"))[:2], ("off", 0.0))
        self.assertEqual(astuple(what_if(job, lit, "dim-hub"))[:2], ("on", 1.0))
        turned = put(job, "devices.hub.sheet.inputs.DIM.active", "open")
        self.assertEqual(astuple(what_if(turned, lit, "dim-hub"))[:2], ("off", 0.0))

    def test_a_pedal_is_pressed_only_while_it_is(self) -> None:
        job = whole()
        up, down = state(job), msgspec.structs.replace(state(job), brake=True)
        self.assertEqual(what_if(job, up, "brake-pace").status, "released")
        self.assertEqual(what_if(job, down, "brake-pace").status, "pressed")
        led = demo()  # no relay: it floats, and nobody may take that for a pedal
        self.assertEqual(what_if(led, state(led), "brake-pace").status, "unsure")

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


if __name__ == "__main__":
    unittest.main()
