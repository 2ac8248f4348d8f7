"""Edges of logs, places and routes that a changed sign or bound would move without a word."""

from __future__ import annotations

import tempfile
import unittest
import wave
from pathlib import Path

import msgspec
import numpy as np

from tests.demo import demo
from zombrel.calc.all import run
from zombrel.calibrate.roadfit import fit
from zombrel.harness.route import nature_of, pickups
from zombrel.instruments.simulated import sentence
from zombrel.job.problem import Problem
from zombrel.logs.compare import _around
from zombrel.logs.nmea import read_nmea_log
from zombrel.logs.table.read import preview
from zombrel.logs.wav import read_wav


class Edges(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.place = Path(place.name)

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

    def test_water_that_is_thrown_is_not_water_that_lies(self) -> None:
        def against(water: str, sealing: str) -> set[str]:
            given = {"hottest_c": "85", "over_ambient_k": "5", "heat_w": "0"}
            found = run("place", {**given, "water": water, "sealing": sealing})["against"]
            return set(found) if isinstance(found, dict) else set()

        self.assertEqual(against("spray", "dry"), {"water"})
        self.assertEqual(against("none", "dry"), set())
        self.assertEqual(against("wet", "splash"), set())

    def test_what_a_wire_is_to_the_router(self) -> None:
        job = demo()
        bare = pickups(job)
        wire = next(w for w in job.wires if w.carries == "signal" and w.a.place in bare)
        self.assertEqual(nature_of(wire, bare), "pick-up")
        self.assertEqual(nature_of(wire), "signal")
        power = msgspec.structs.replace(wire, carries="power")
        self.assertEqual(nature_of(power, bare), "power")

    def test_where_a_pull_begins_is_by_what_lies_before_it(self) -> None:
        t = np.arange(0, 10, 0.1)
        v = np.where(t <= 5, 40 + 0.5 * t, 42.5 + 6 * (t - 5))
        self.assertAlmostEqual(_around(t, v, 5.0), 42.5, places=6)
        self.assertAlmostEqual(_around(t[49:], v[49:], 5.0), 42.5, places=1)

    def test_a_column_that_falls_is_no_time(self) -> None:
        path = self.place / "falls.csv"
        path.write_text("a,b\n" + "".join(f"{50 - i},{i * i}\n" for i in range(20)))
        self.assertEqual([bool(g.time) for g in preview(path).columns], [False, True])

    def test_a_device_that_shows_nothing_is_not_fitted(self) -> None:
        t = np.arange(0, 200, 1.0)
        true = np.where(t < 100, 15.0, 25.0)
        shown = np.where((t > 40) & (t < 60), 0.0, true * 1.02)
        found = fit(t, true, shown)
        self.assertAlmostEqual(found.scale, 1.02, places=6)
        self.assertFalse(any(found.kept[41:60]))
        with self.assertRaises(Problem):
            fit(t, true, 0 * shown)


if __name__ == "__main__":
    unittest.main()
