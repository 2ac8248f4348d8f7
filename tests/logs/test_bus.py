"""Bus descriptions: a small file written here, decoded by hand."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

import msgspec

from zombrel.calc import all as calcs
from zombrel.job.problem import Problem
from zombrel.job.source import BusReader
from zombrel.logs import bus
from zombrel.logs.bus import as_source, decode, values
from zombrel.units import ZERO_C

TEXT = """VERSION ""
NS_ :
BS_:
BU_: GW
BO_ 513 Drive: 8 GW
 SG_ RoadSpeed : 7|16@0+ (0.01,0) [0|300] "km/h" GW
 SG_ EngineSpeed : 23|16@0+ (0.25,0) [0|8000] "rpm" GW
BO_ 514 Temps: 8 GW
 SG_ Coolant : 7|8@0+ (1,-40) [-40|150] "degC" GW
 SG_ Counter : 15|4@0+ (1,0) [0|15] "" GW
BA_DEF_ BO_ "GenMsgCycleTime" INT 0 10000;
BA_DEF_DEF_ "GenMsgCycleTime" 0;
BA_ "GenMsgCycleTime" BO_ 513 20;
"""


class Descriptions(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "car.dbc"
        self.path.write_text(TEXT)

    def test_what_is_in_it(self) -> None:
        found = {v.name: v for v in values(self.path)}
        self.assertEqual(set(found), {"RoadSpeed", "EngineSpeed", "Coolant", "Counter"})
        self.assertEqual(found["RoadSpeed"].message, 0x201)
        self.assertEqual((found["RoadSpeed"].step, found["RoadSpeed"].period_s), (0.01, 0.02))

    def test_a_frame_by_hand(self) -> None:
        # 0x1B58 = 7000 → 70.00 km/h; 0x0FA0 = 4000 → 1000 rpm, most significant byte first
        got = decode(self.path, 0x201, bytes.fromhex("1B580FA000000000"))
        self.assertEqual(got, {"RoadSpeed": 70.0, "EngineSpeed": 1000.0})
        self.assertEqual(decode(self.path, 0x202, bytes([128] + [0] * 7))["Coolant"], 88.0)

    def test_values_become_sources(self) -> None:
        made = {v.name: as_source(v) for v in values(self.path)}
        speed, heat = made["RoadSpeed"], made["Coolant"]
        assert speed is not None
        assert heat is not None
        assert isinstance(speed.spec, BusReader)
        assert isinstance(heat.spec, BusReader)
        self.assertEqual((speed.quantity, speed.spec.period_s), ("speed", 0.02))
        self.assertEqual(heat.quantity, "coolant")
        self.assertAlmostEqual(heat.spec.points[0][0], ZERO_C - 40)
        self.assertIsNone(made["Counter"])

    def test_every_unit_it_knows(self) -> None:
        found = {v.name: v for v in values(self.path)}["RoadSpeed"]
        for unit, quantity, pulses in (
            ("km/h", "speed", 4.0),
            ("kph", "speed", 4.0),
            ("m/s", "speed", 4.0),
            ("MPH", "speed", 4.0),
            ("rpm", "tach", 2.0),
            ("1/min", "tach", 2.0),
        ):
            with self.subTest(unit):
                made = as_source(msgspec.structs.replace(found, unit=unit))
                assert made is not None
                assert isinstance(made.spec, BusReader)
                self.assertEqual((made.quantity, made.spec.pulses), (quantity, pulses))
                self.assertEqual((made.minutes, made.spec.period_s), (30, 0.02))

    def test_what_cannot_be_read_says_why(self) -> None:
        for call, said in (
            (lambda: values(self.path.with_name("none.dbc")), "cannot be read"),
            (lambda: decode(self.path, 0x999, b""), "no message 0x999"),
            (lambda: decode(self.path, 0x201, b"\x01"), "0x201"),
        ):
            with self.assertRaisesRegex(Problem, said):
                call()
        self.path.write_text("this is no description at all {")
        with self.assertRaisesRegex(Problem, "cannot be read as a bus description"):
            values(self.path)

    def test_from_the_command_line(self) -> None:
        got = calcs.run(
            "bus-decode", {"file": str(self.path), "id": "0x201", "data": "1B58 0FA0 0000 0000"}
        )
        self.assertEqual(got["values"]["RoadSpeed"], 70.0)
        pins = calcs.run("diagnostic-pins", {"ways": "16"})
        self.assertEqual(pins["protocols"][0]["pins"], ["6", "14"])
        for name, words, said in (
            ("bus-decode", {"file": str(self.path), "id": "x", "data": "00"}, "id=0x201"),
            ("diagnostic-pins", {"ways": "12"}, "16, 9 and 6"),
        ):
            with self.assertRaisesRegex(Problem, said):
                calcs.run(name, words)


class Widest(unittest.TestCase):
    def test_a_signal_of_as_many_bits_as_may_be(self) -> None:
        signal = ' SG_ X : 0|{}@1+ (1,0) [0|0] "" E'
        bus._sizes(signal.format(bus.MOST_BITS), "x.dbc")
        with self.assertRaisesRegex(Problem, "no bus has that"):
            bus._sizes(signal.format(bus.MOST_BITS + 1), "x.dbc")


if __name__ == "__main__":
    unittest.main()
