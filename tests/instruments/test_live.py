"""Instruments and their stand-ins: values come, are recorded, and survive a pulled plug."""

from __future__ import annotations

import itertools
import os
import pty
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path

import numpy as np

from zombrel.instruments.bus import PIDS, BusReader
from zombrel.instruments.lines import Meter, Receiver, open_port
from zombrel.instruments.live import Live, Recorder, Sample
from zombrel.instruments.scope import Scope, scope_at, told
from zombrel.instruments.simulated import (
    Car,
    SimulatedMeter,
    SimulatedReceiver,
    SimulatedResponder,
    SimulatedSignal,
    sentence,
)
from zombrel.job.problem import Problem
from zombrel.logs.read_any import read_any
from zombrel.units import KMH


class Steady(Car):
    """It keeps its speed, so that what was read is right however late it is looked at."""

    def speed(self, t: float) -> float:
        return 80 * KMH


class Instruments(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.path = Path(place.name) / "drive.csv"
        self.car = Steady()

    def until(self, happens: Callable[[], object]) -> None:
        for _ in range(30_000):  # minutes: what has not happened by then never does
            if happens():
                return
            time.sleep(0.02)
        self.fail("it never happened")

    def gather(self, live: Live, count: int) -> list[Sample]:
        found: list[Sample] = []
        self.until(lambda: bool(found.extend(live.fetch())) or len(found) >= count)
        return found

    def test_a_receiver_over_tcp_and_its_recording(self) -> None:
        stand_in = SimulatedReceiver(self.car, 0.05)
        self.addCleanup(stand_in.stop)
        live = Live(Receiver(stand_in.address), self.path)
        found = self.gather(live, 12)
        live.stop()
        speeds = [s.value for s in found if s.name == "satellite speed"]
        self.assertAlmostEqual(speeds[-1], self.car.speed(self.car.t), delta=0.6)
        log = read_any(self.path)
        self.assertEqual([c.what for c in log.channels], ["speed", "speed", "angle"])
        self.assertGreaterEqual(sum(len(c.t) for c in log.channels), 10)

    def test_a_scope_tells_rate_swing_and_on_time_and_keeps_the_signal(self) -> None:
        wav = self.path.with_suffix(".wav")
        live = Live(Scope(SimulatedSignal(self.car), 2.0, wav), self.path)
        self.gather(live, 20)
        half = read_any(wav)  # whole at any moment, whatever happens next
        self.assertAlmostEqual(half.channels[0].rate_hz, 48000, delta=1)
        live.stop()
        self.assertEqual(live.trouble, "")
        log = read_any(self.path)
        rate = log.channel("signal Hz")
        swing = log.first("voltage")
        assert rate is not None
        assert swing is not None
        self.assertAlmostEqual(float(rate.v[-1]), 24 * self.car.speed(self.car.t), delta=8)
        self.assertAlmostEqual(float(swing.v[-1]), 2.4, delta=0.25)
        again = scope_at(f"wav:{wav}@2.0")
        values = [v for name, _, v in itertools.islice(again.samples(), 9) if "Hz" in name]
        again.close()
        self.assertAlmostEqual(values[0], float(rate.v[0]), delta=8)
        t = np.arange(24000) / 48000
        square = np.where((t * 130) % 1 < 0.3, 0.9, 0.0).astype(np.float32)
        on = {n: v for n, _, v in told(square, 48000, 1)}["on"]
        self.assertAlmostEqual(on, 0.3, places=2)
        hum = 0.001 * np.sin(2 * np.pi * 50 * t)
        self.assertEqual([n for n, *_ in told(hum, 48000, 1)], ["swing"])
        for address, words in (
            ("wav:/none.wav", "none.wav"),
            ("default@nought", "no full scale"),
            (f"wav:{self.path}", "cannot be read"),
        ):
            with self.assertRaisesRegex(Problem, words):
                scope_at(address)

    def test_a_card_that_is_not_there_is_said(self) -> None:
        with self.assertRaisesRegex(Problem, "No sound comes from|PortAudio"):
            scope_at("a card that nobody has")

    def test_a_pulled_plug_is_said_and_nothing_is_lost(self) -> None:
        stand_in = SimulatedReceiver(self.car, 0.05)
        live = Live(Receiver(stand_in.address), self.path)
        self.gather(live, 9)
        stand_in.stop()
        self.until(lambda: not live.running)
        self.assertIn("is gone", live.trouble)
        self.assertGreaterEqual(sum(len(c.t) for c in read_any(self.path).channels), 8)
        live.stop()

    def test_a_meter_on_a_line(self) -> None:
        stand_in = SimulatedMeter(self.car, 0.02)
        self.addCleanup(stand_in.stop)
        live = Live(Meter(stand_in.address), self.path)
        found = self.gather(live, 5)
        live.stop()
        self.assertEqual({(s.name, s.what) for s in found}, {("volts", "voltage")})
        self.assertAlmostEqual(found[-1].value, 13.9, delta=0.1)

    def test_what_meters_send(self) -> None:
        mine, theirs = pty.openpty()
        self.addCleanup(os.close, mine)
        meter = Meter(os.ttyname(theirs))
        self.addCleanup(meter.close)
        for line, says in (
            ("+1.2345E+1 V DC", [("volts", "voltage", 12.345)]),
            ("  4.71 kohm", [("resistance", "resistance", 4710.0)]),
            ("-12.5 mV", [("volts", "voltage", -0.0125)]),
            ("20.5 °C", [("degrees", "temperature", 293.65)]),
            ("OL", []),
            ("hello", []),
        ):
            found = list(meter.parse(line))
            self.assertEqual([f[:2] for f in found], [t[:2] for t in says], line)
            for f, t in zip(found, says, strict=True):
                self.assertAlmostEqual(f[2], t[2])

    def test_a_bus_reader_asks_and_a_car_answers(self) -> None:
        stand_in = SimulatedResponder(self.car, "here")
        self.addCleanup(stand_in.stop)
        live = Live(BusReader("virtual", "here"), self.path)
        found = self.gather(live, 8)
        live.stop()
        values = {s.name: s.value for s in found}
        self.assertAlmostEqual(values["vehicle speed"], self.car.speed(self.car.t), delta=1.0)
        self.assertAlmostEqual(values["engine"], self.car.engine(self.car.t), delta=2.0)
        self.assertIn("coolant", values)
        # SAE J1979: 0x1AF8 ÷ 4 is 1726 rpm; 0x7B − 40 is 83 °C
        self.assertAlmostEqual(PIDS[0x0C].value(b"\x1a\xf8") * 60, 1726)
        self.assertAlmostEqual(PIDS[0x05].value(b"\x7b") - 273.15, 83)

    def test_a_dead_bus_and_a_port_that_is_not_there(self) -> None:
        live = Live(BusReader("virtual", "nobody", (0x0C,)))
        self.until(lambda: not live.running)
        self.assertIn("is the key on", live.trouble)
        for address in ("/dev/nowhere", "tcp:127.0.0.1:1", "tcp:x"):
            with self.assertRaises(Problem):
                open_port(address)

    def test_a_damaged_sentence_says_nothing(self) -> None:
        stand_in = SimulatedReceiver(self.car)
        self.addCleanup(stand_in.stop)
        receiver = Receiver(stand_in.address)
        self.addCleanup(receiver.close)
        good = sentence("GPRMC,101500.00,A,0,N,0,E,10.00,90.0,191126,,,A").decode().strip()
        self.assertEqual(len(list(receiver.parse(good))), 2)
        self.assertEqual(list(receiver.parse(good[:-1] + "0")), [])
        self.assertEqual(list(receiver.parse("$PZIND,1,2*00")), [])

    def test_a_recorder_takes_a_new_channel_at_any_time(self) -> None:
        recorder = Recorder(self.path)
        for i in range(5):
            recorder.write(Sample(i / 10, "a", "speed", float(i)))
        recorder.write(Sample(0.5, "b", "temperature", 300.0))
        recorder.write(Sample(0.6, "b", "temperature", 301.0))
        recorder.close()
        recorder.write(Sample(0.7, "b", "temperature", 302.0))  # too late, and no harm
        log = read_any(self.path)
        self.assertEqual([(c.name, len(c.t)) for c in log.channels], [("a", 5), ("b", 2)])


class Bytes(unittest.TestCase):
    def test_a_voltage_over_the_bus_has_two_bytes(self) -> None:
        self.assertAlmostEqual(PIDS[0x42].value(bytes((0x35, 0x70))), 13.68)  # 0x3570 mV
        self.assertAlmostEqual(PIDS[0x0C].value(bytes((0x1A, 0xF8))) * 60, 1726)  # ISO 15031-5


if __name__ == "__main__":
    unittest.main()
