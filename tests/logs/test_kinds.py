"""Tracks, sentences, sounds, bus logs: what was put in comes out; hostile ones are refused."""

from __future__ import annotations

import datetime as dt
import functools
import operator
import struct
import tempfile
import unittest
import wave
from pathlib import Path

import numpy as np
import openpyxl

from tests.logs.made_up import channel
from zombrel.catalog import DEMO
from zombrel.instruments.simulated import sentence
from zombrel.job.problem import Problem
from zombrel.logs.compare import charge_of
from zombrel.logs.edges import edges
from zombrel.logs.gpx import read_gpx, speeds_of
from zombrel.logs.nmea import read_nmea_log
from zombrel.logs.read_any import read_any
from zombrel.logs.recording import Channel, Recording
from zombrel.logs.wav import read_wav
from zombrel.logs.write import to_gpx

DBC = """VERSION ""
BU_: ECU
BO_ 256 Motion: 8 ECU
 SG_ Speed : 0|16@1+ (0.01,0) [0|300] "km/h" ECU
 SG_ Coolant : 16|8@1+ (1,-40) [-40|215] "degC" ECU
"""


class Kinds(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.place = Path(place.name)

    def wav(self, v: np.ndarray, rate: int = 48000, width: int = 2) -> Path:
        path = self.place / "scope.wav"
        top = {1: 127, 2: 32767, 3: 2**23 - 1, 4: 2**31 - 1}[width]
        raw = np.round(v * top).astype(np.int64)
        if width == 1:
            data = (raw + 128).astype(np.uint8).tobytes()
        else:
            data = b"".join(int(x).to_bytes(width, "little", signed=True) for x in raw)
        with wave.open(str(path), "wb") as out:
            out.setnchannels(1)
            out.setsampwidth(width)
            out.setframerate(rate)
            out.writeframes(data)
        return path

    def test_a_sound_in_every_width_and_its_edges(self) -> None:
        t = np.arange(24000) / 48000
        for width in (1, 2, 3, 4):
            log = read_any(self.wav(0.8 * np.sin(2 * np.pi * 250 * t), width=width))
            v = log.channels[0].v
            self.assertAlmostEqual(float(v.max()), 0.8, delta=0.02)
            e = edges(v, 48000, 0.1, 0.05)
            self.assertAlmostEqual(e.rate_hz, 250, delta=0.01)
            self.assertEqual(len(e.rising), 125)

    def test_heights_come_with_their_sentences(self) -> None:
        from zombrel.instruments.simulated import sentence

        path = self.place / "hill.nmea"
        lines = []
        for i in range(20):
            clock = f"1015{i:02d}.00"
            lines.append(
                sentence(f"GPGGA,{clock},0000.000,N,00000.000,E,1,08,1.0,{100 + i},M,0,M,,")
            )
            lines.append(sentence(f"GPRMC,{clock},A,0000.000,N,00000.000,E,20.0,90.0,191126,,,A"))
        path.write_bytes(b"".join(lines))
        height = read_any(path).channel("height")
        assert height is not None
        self.assertEqual((float(height.v[0]), float(height.v[-1])), (100.0, 119.0))

    def test_a_workbook_is_read_by_its_sheet_of_figures(self) -> None:
        """Cover sheet, empty margin, dates, flags, an error of a formula, a column without unit."""
        book = openpyxl.Workbook()
        book.active["A1"] = "Drive of Tuesday"
        data = book.create_sheet("Data")
        data.append([])
        data.append([None, "time", "engine [rpm]", "coolant °F", "cut"])
        begin = dt.datetime(2026, 11, 20, 23, 59, 50)
        for i in range(100):
            at = begin + dt.timedelta(seconds=i / 2)
            data.append([None, at, 1000 + 30 * i, 212 if i != 7 else "#DIV/0!", i % 10 == 0])
        path = self.place / "drive.xlsx"
        book.save(path)
        log = read_any(path)
        self.assertIn("a workbook: sheet “Data”, the first of 2 with figures", log.notes)
        self.assertEqual([c.what for c in log.channels], ["engine", "temperature", "contact"])
        engine, coolant, cut = log.channels
        self.assertAlmostEqual(float(engine.t[-1]), 49.5, places=6)
        self.assertAlmostEqual(float(engine.v[-1]), (1000 + 30 * 99) / 60, places=3)
        self.assertEqual((len(coolant.v), float(cut.v.sum())), (99, 10.0))
        self.assertAlmostEqual(float(coolant.v[0]), 373.15, places=2)
        beats: list[float] = []
        read_any(path, tell=lambda share: not beats.append(share))
        self.assertTrue(beats)
        with self.assertRaisesRegex(Problem, "given up"):
            read_any(path, tell=lambda share: False)
        data["C2"] = "speed"
        book.save(path)
        with self.assertRaisesRegex(Problem, "“speed” cannot be told"):
            read_any(path)
        self.assertEqual(read_any(path, {"speed": "mph"}).channels[0].what, "speed")
        half = self.place / "half.xlsx"
        half.write_bytes(path.read_bytes()[:3000])
        empty = self.place / "words.xlsx"
        del book["Data"]
        book.save(empty)
        for bad, words in ((half, "does not open as a workbook"), (empty, "no sheet with rows")):
            with self.assertRaisesRegex(Problem, words):
                read_any(bad)

    def test_edges_against_the_textbook(self) -> None:
        rate, n = 100_000.0, 100_000
        for duty in (0.2, 0.5, 0.9):
            phase = (np.arange(n) * 137.0 / rate) % 1
            e = edges((phase < duty).astype(np.float32), rate, 0.5)
            self.assertAlmostEqual(e.rate_hz, 137.0, delta=0.02)
            self.assertAlmostEqual(e.duty, duty, delta=0.003)
            self.assertLess(e.jitter_s, 1.0 / rate)  # a sample is what it is taken to
        rng = np.random.default_rng(4)
        noisy = np.sin(2 * np.pi * 100 * np.arange(n) / rate) + rng.normal(0, 0.03, n)
        self.assertGreater(len(edges(noisy, rate, 0.0).rising), 120)
        self.assertAlmostEqual(len(edges(noisy, rate, 0.0, 0.3).rising), 100, delta=1)
        with self.assertRaises(Problem):
            edges(np.zeros(1), rate, 0.5)
        self.assertTrue(np.isnan(edges(np.zeros(9), rate, 0.5).rate_hz))

    def test_a_track_and_its_speed(self) -> None:
        t = np.arange(0.0, 60.0)
        lat = 50 + t * 20.0 / 111_195.0  # a degree of the meridian on that sphere
        log = Recording(
            "x",
            (
                Channel("latitude", "angle", "°", t, lat),
                Channel("longitude", "angle", "°", t, np.full(60, 8.0)),
            ),
        )
        path = self.place / "track.gpx"
        path.write_bytes(to_gpx(log))
        back = read_any(path)
        speed = back.channel("satellite speed")
        assert speed is not None
        np.testing.assert_allclose(speed.v, 20.0, rtol=1e-3)
        heading = back.channel("heading")
        assert heading is not None
        np.testing.assert_allclose(np.cos(np.radians(heading.v)), 1.0, atol=1e-6)
        circle = speeds_of(t, np.zeros(60), np.radians(t * 0.001))
        np.testing.assert_allclose(circle, np.radians(0.001) * 6_371_008.8, rtol=1e-6)
        path.write_text("<!DOCTYPE x [<!ENTITY a 'b'>]><gpx>&a;</gpx>")
        with self.assertRaisesRegex(Problem, "definitions of its own"):
            read_any(path)

    def test_messages_of_a_bus(self) -> None:
        (self.place / "bus.dbc").write_text(DBC)
        lines = []
        for k in range(50):
            data = struct.pack("<HB5x", 5000 + 10 * k, 40 + 80).hex().upper()
            lines.append(f"({1000 + k * 0.02:.6f}) can0 100#{data}")
            lines.append(f"({1000 + k * 0.02 + 0.001:.6f}) can0 7FF#00")
        path = self.place / "drive.log"
        path.write_text("\n".join(lines) + "\n")
        log = read_any(path, description=self.place / "bus.dbc")
        speed, coolant = log.channel("Speed"), log.channel("Coolant")
        assert speed is not None
        assert coolant is not None
        self.assertAlmostEqual(speed.v[0] * 3.6, 50.0, places=4)
        self.assertAlmostEqual(coolant.v[0], 80 + 273.15, places=4)
        self.assertAlmostEqual(speed.rate_hz, 50.0, places=3)
        self.assertIn("1 kinds that the description does not know", log.notes)
        with self.assertRaisesRegex(Problem, "which bus description"):
            read_any(path)

    def test_sentences_of_the_demo(self) -> None:
        log = read_any(DEMO / "0412-road.nmea")
        table = read_any(DEMO / "0412-road.csv")
        self.assertEqual([c.what for c in log.channels], ["speed", "angle", "speed"])
        shown = log.channel("indicated speed")
        assert shown is not None
        self.assertEqual(shown.gaps[0], (139.0, 146.0))
        self.assertGreater(len(table.channels), 1)

    def test_hostile_files(self) -> None:
        for name, data in (
            ("a.wav", b"RIFF\xff\xff\xff\xffWAVEfmt "),
            ("b.wav", b"RIFF"),
            ("c.gpx", b"<gpx>"),
            ("d.nmea", b"$GPRMC,x\n"),
            ("e.blf", b"LOGG" + bytes(200)),
            ("f.asc", b"date x\n"),
        ):
            path = self.place / name
            path.write_bytes(data)
            (self.place / "bus.dbc").write_text(DBC)
            with self.subTest(name), self.assertRaises(Problem) as caught:
                read_any(path, description=self.place / "bus.dbc")
            self.assertLess(len(str(caught.exception)), 400)


class Gaps(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.place = Path(place.name)

    def test_a_gap_shows_in_few_samples(self) -> None:
        for t, gaps in (
            ([0.0, 1.0, 2.0, 10.0, 11.0], ((2.0, 10.0),)),
            ([0.0, 1.0, 7.0], ()),
            ([0.0, 9.0], ()),
        ):
            with self.subTest(t):
                at = np.array(t)
                self.assertEqual(Channel("a", "speed", "", at, at).gaps, gaps)

    def test_two_samples_are_a_signal_and_one_is_none(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for count in (1, 2):
                path = Path(folder) / f"{count}.wav"
                with wave.open(str(path), "wb") as out:
                    out.setparams((1, 2, 1000, 0, "NONE", ""))
                    out.writeframes(b"\x00\x40" * count)
                with self.subTest(count):
                    if count == 1:
                        self.assertRaises(Problem, read_wav, path)
                    else:
                        (channel,) = read_wav(path, full_v=2.0).channels
                        self.assertEqual(list(channel.v), [1.0, 1.0])

    def test_a_track_of_five_points_a_second_keeps_them(self) -> None:
        point = '<trkpt lat="{:.6f}" lon="8.0"><time>2026-11-27T10:00:{:06.3f}Z</time></trkpt>'
        points = "".join(point.format(50 + i * 1e-5, i / 5) for i in range(20))
        path = self.place / "t.gpx"
        path.write_text(
            '<gpx version="1.1" creator="x" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>'
            f"{points}</trkseg></trk></gpx>"
        )
        self.assertEqual(len(read_gpx(path).channels[0].t), 20)

    def test_fixes_without_a_lock_are_counted_and_heights_kept(self) -> None:
        def sentence(body: str) -> str:
            mark = functools.reduce(operator.xor, body.encode())  # IEC 61162-1: exclusive or
            return f"${body}*{mark:02X}"

        lines = []
        for i in range(8):
            lock = "V" if i in (2, 5) else "A"
            lines.append(
                sentence(
                    f"GPGGA,1000{i:02d}.00,5000.000,N,00800.{i:03d},E,1,8,1.0,{100 + i}.0,M,0,M,,"
                )
            )
            lines.append(
                sentence(
                    f"GPRMC,1000{i:02d}.00,{lock},5000.000,N,00800.{i:03d},E,20.0,90.0,191126,,,A"
                )
            )
        path = self.place / "t.nmea"
        path.write_text("\n".join([*lines, "$GPRMC,damaged*00"]))
        log = read_nmea_log(path)
        self.assertIn("2 without a satellite lock", log.notes)
        self.assertIn("1 damaged sentences left out", log.notes)
        high = next(c for c in log.channels if c.name == "height")
        self.assertEqual((len(high.v), float(high.v[-1])), (6, 107.0))

    def test_the_temperature_that_is_compared_is_not_the_air_outside(self) -> None:
        t = np.arange(0.0, 10.0)
        air, other = (channel(name, "temperature", t, 290 + t) for name in ("ambient", "T7"))
        self.assertIs(charge_of(Recording("x", (air, other))), other)
        self.assertIsNone(charge_of(Recording("x", (air,))))

    def test_a_drive_over_the_full_hour_and_over_midnight(self) -> None:
        for clocks, last in ((("105958.00", "110003.50"), 5.5), (("235959.00", "000002.25"), 3.25)):
            path = self.place / "hour.nmea"
            rmc = "GPRMC,{},A,0000.000,N,00000.000,E,20.0,90.0,191126,,,A"
            path.write_bytes(b"".join(sentence(rmc.format(c)) for c in clocks))
            with self.subTest(clocks):
                self.assertAlmostEqual(float(read_nmea_log(path).channels[0].t[-1]), last)

    def test_full_scale_multiplies(self) -> None:
        path = self.place / "half.wav"
        with wave.open(str(path), "wb") as out:
            out.setnchannels(1)
            out.setsampwidth(2)
            out.setframerate(8000)
            out.writeframes(np.full(100, 16384, "<i2").tobytes())
        self.assertAlmostEqual(float(read_wav(path, 4.0).channels[0].v[5]), 2.0, places=3)


if __name__ == "__main__":
    unittest.main()
