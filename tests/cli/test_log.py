"""``zombrel log``: what is in a file, what is found in it, written as a table or a track."""

from __future__ import annotations

import csv
import io
import json
import tempfile
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from tests.calc.test_contract import call
from zombrel.catalog import DEMO
from zombrel.logs.read_any import read_any

PULLS = str(DEMO / "0413-pulls-before.csv")
NO_UNIT = "time;speed\n" + "".join(f"{k / 10:g};{50 + k % 7}\n" for k in range(40))


class Log(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.place = Path(place.name)

    def told(self, *words: str) -> Any:
        code, out, err = call("log", *words)
        self.assertEqual((code, err), (0, ""))
        return json.loads(out)

    def refused(self, *words: str) -> str:
        code, out, err = call("log", *words)
        self.assertEqual((code, out), (2, ""))
        self.assertNotIn("Traceback", err)
        return err

    def test_what_is_in_it(self) -> None:
        told = self.told(PULLS, "--info")
        names = {c["name"]: c for c in told["columns"]}
        self.assertEqual(
            {n: (c["what"], c["unit"], c["si"]) for n, c in names.items()},
            {
                "load": ("fraction", "%", "1"),
                "charge air": ("temperature", "°C", "K"),
                "ambient": ("temperature", "°C", "K"),
                "engine": ("engine", "rpm", "1/s"),
                "road speed": ("speed", "km/h", "m/s"),
            },
        )
        rows = list(csv.reader(io.StringIO(Path(PULLS).read_text())))[2:]
        charge = [float(r[2]) + 273.15 for r in rows if r[2]]
        self.assertAlmostEqual(names["charge air"]["high"], max(charge), places=3)
        self.assertEqual(names["charge air"]["samples"], len(charge))
        self.assertAlmostEqual(names["load"]["rate_hz"], 10.0, places=6)
        self.assertTrue(all(g["why"] for g in told["guesses"]))

    def test_what_is_found_in_it(self) -> None:
        spots = self.told(PULLS, "--spots")
        pulls = [s for s in spots if s["kind"] == "pull"]
        self.assertEqual(len(pulls), 3)
        rows = list(csv.reader(io.StringIO(Path(PULLS).read_text())))[2:]
        loads = [(float(r[0]), float(r[1])) for r in rows]
        for pull in pulls:
            inside = [v for t, v in loads if pull["begin_s"] + 1 < t < pull["end_s"] - 1]
            self.assertGreater(min(inside), 85.0)
        gears = {s["title"] for s in self.told(PULLS, "--says")}
        self.assertIn("2 gears", gears)

    def test_written_as_a_table_it_reads_as_it_was(self) -> None:
        out = self.place / "again.csv"
        self.assertEqual(call("log", PULLS, "--to", str(out))[0], 0)
        before, after = read_any(Path(PULLS)), read_any(out)
        self.assertEqual([c.name for c in before.channels], [c.name for c in after.channels])
        for a, b in zip(before.channels, after.channels, strict=True):
            np.testing.assert_allclose(b.v, a.v, rtol=1e-5)
            np.testing.assert_allclose(b.t, a.t, atol=1e-6)
        self.assertIn("--force", self.refused(PULLS, "--to", str(out)))
        self.assertEqual(call("log", PULLS, "--to", str(out), "--force")[0], 0)

    def test_written_as_a_track(self) -> None:
        """20 m/s along the equator, a sentence a second; speeds come back out of the positions."""
        lines = []
        for k in range(90):
            east = np.degrees(20.0 * k / 6_371_008.8)
            degrees, minutes = int(east), east % 1 * 60
            place = f"0000.0000,N,{degrees:03d}{minutes:08.5f},E"
            clock = f"10{k // 60:02d}{k % 60:02d}.00"
            body = f"GPRMC,{clock},A,{place},38.877,90.0,191126,,,A"
            check = 0
            for character in body:
                check ^= ord(character)
            lines.append(f"${body}*{check:02X}")
        nmea, out, again = (self.place / n for n in ("d.nmea", "d.gpx", "again.gpx"))
        nmea.write_text("\n".join(lines))
        self.assertEqual(call("log", str(nmea), "--to", str(out))[0], 0)
        self.assertEqual(call("log", str(out), "--to", str(again))[0], 0)
        for path in (nmea, out, again):
            log = read_any(path)
            speed, east = log.first("speed"), log.channel("longitude")
            assert speed is not None
            assert east is not None
            np.testing.assert_allclose(speed.v, 20.0, rtol=2e-3)
            self.assertAlmostEqual(
                float(np.ptp(east.v)), np.degrees(20 * 89 / 6_371_008.8), places=5
            )
        # the demo’s receiver never moves: it has no track, and says so
        self.assertIn(
            "no latitude", self.refused(str(DEMO / "0412-road.nmea"), "--to", str(out), "--force")
        )

    def test_a_unit_that_nobody_can_tell(self) -> None:
        path = self.place / "bare.csv"
        path.write_text(NO_UNIT)
        told = self.told(str(path), "--info")
        self.assertEqual(told["asked"], ["speed"])
        self.assertEqual(told["columns"], [])
        err = self.refused(str(path), "--spots")
        self.assertIn("speed", err)
        for unit, per in (("km/h", 1 / 3.6), ("mph", 0.44704), ("m/s", 1.0)):
            high = self.told(str(path), "--info", "--unit", f"speed={unit}")["columns"][0]["high"]
            self.assertAlmostEqual(high, 56 * per, places=3)

    def test_what_it_does_not_take(self) -> None:
        (self.place / "empty.csv").write_text("")
        cases = (
            ((), "required: FILE"),
            ((str(self.place / "none.csv"), "--info"), "none.csv"),
            ((str(self.place / "empty.csv"), "--info"), "empty.csv"),
            ((PULLS, "--info", "--unit", "load"), "load"),
            ((PULLS, "--info", "--unit", "load=furlongs"), "furlongs"),
            ((PULLS, "--info", "--unit", "nothing=km/h"), "nothing"),
            ((PULLS, "--to", str(self.place / "x.xyz")), ".csv or .gpx"),
            ((PULLS, "--to", str(self.place / "x.gpx")), "latitude"),
            ((PULLS, "--frobnicate"), "--frobnicate"),
            ((PULLS, PULLS), PULLS),
            ((PULLS, "--to"), "--to: expected"),
        )
        for words, named in cases:
            with self.subTest(words=words):
                self.assertIn(named, self.refused(*words))
        self.assertEqual(sorted(p.name for p in self.place.iterdir()), ["empty.csv"])


if __name__ == "__main__":
    unittest.main()
