"""Ground lift: where a sender's ground really stands, by Ohm's law."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.demo import demo, put
from zombrel.job.model import Chain, Device, Job, by_id
from zombrel.job.sheet import DeviceSheet, InputSheet, SupplySheet
from zombrel.job.source import BoxOutput, Source, Thermistor
from zombrel.job.wiring import End, Stud, Wire
from zombrel.signals.chain_reading import felt
from zombrel.signals.ground import COPPER, Grounds, grounds, lift


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
            supplies=(SupplySheet(pin="GROUND", kind="ground", amps=amps),),
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


class Lift(unittest.TestCase):
    def place(self, stud_ohm: float, other_a: float) -> Grounds:
        devices = (device("reader", 2.0), device("box", 3.0))
        wires = (
            ground("W1", "reader", "G1", 1.0, 1.0),
            ground("W2", "box", "G2", 2.0, 0.5),
            Wire(
                id="W3",
                a=End(place="s", pin="-"),
                b=End(place="G2"),
                colour="black",
                carries="ground",
                area_mm2=0.5,
                length_m=3.0,
            ),
        )
        studs = (
            Stud(id="G1", name="clean"),
            Stud(id="G2", name="bad", ohm=stud_ohm, load_a=other_a),
        )
        return grounds(Job(devices=devices, wires=wires, studs=studs))

    def test_a_star_has_none_but_the_readers_own_wire(self) -> None:
        of = self.place(0.0, 0.0)
        self.assertAlmostEqual(lift(chain(), SENDER, of), -2.0 * 1.0 * COPPER / 1e-6)

    def test_a_return_of_ones_own_at_a_bad_stud(self) -> None:
        """The stud carries the box's 3 A and the other 8 A; the sender's own wire carries none."""
        of = self.place(0.05, 8.0)
        own = 2.0 * COPPER / 1e-6
        self.assertAlmostEqual(of.into["G2"], 11.0)
        self.assertAlmostEqual(lift(chain(wires=("W3",)), SENDER, of), 11 * 0.05 - own)

    def test_an_output_stands_on_its_devices_ground(self) -> None:
        of = self.place(0.05, 8.0)
        out = Source(id="o", name="O", quantity="coolant", spec=BoxOutput(device="box", pin="OUT"))
        along = 3.0 * 2.0 * COPPER / 0.5e-6
        self.assertAlmostEqual(lift(chain("o"), out, of), along + 11 * 0.05 - 2.0 * COPPER / 1e-6)

    @given(st.floats(0, 1), st.floats(0, 30))
    def test_it_grows_with_resistance_and_current(self, ohm: float, amps: float) -> None:
        of = self.place(ohm, amps)
        more = self.place(ohm + 0.1, amps)
        worse = self.place(ohm, amps + 1)
        one = chain(wires=("W3",))
        base = lift(one, SENDER, of)
        self.assertGreater(lift(one, SENDER, more), base)
        self.assertGreaterEqual(lift(one, SENDER, worse), base)

    def test_moving_the_ground_wire_settles_the_blend_reader(self) -> None:
        job = demo()
        before = felt(job, "blend-ecu").ground_lift
        after = felt(put(job, "wires.W18.b", {"place": "G2", "pin": ""}), "blend-ecu").ground_lift
        self.assertAlmostEqual(before, 1.603, places=3)
        self.assertLess(abs(after), 0.01)
        self.assertIsNotNone(by_id(job.studs, "G3"))


if __name__ == "__main__":
    unittest.main()
