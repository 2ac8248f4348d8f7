"""The recorded NMEA file through the simulated receiver."""

from __future__ import annotations

import functools
import math
import operator
import tempfile
import unittest
from pathlib import Path

from zombrel.catalog import DEMO
from zombrel.instruments.satellite import Fix, PlayedReceiver, read_nmea
from zombrel.instruments.simulated import Car
from zombrel.job.problem import Problem
from zombrel.units import KMH


def write(text: str) -> Path:
    with tempfile.NamedTemporaryFile("w", suffix=".nmea", delete=False) as handle:
        handle.write(text)
    return Path(handle.name)


class Reading(unittest.TestCase):
    def test_the_demo_recording(self) -> None:
        fixes, note = read_nmea(DEMO / "0412-road.nmea")
        self.assertEqual(len(fixes), 250)
        self.assertEqual(sum(f.speed is None for f in fixes), 6)
        self.assertIn("6 without a satellite lock", note)
        steady = fixes[30]
        assert steady.speed is not None
        assert steady.shown is not None
        self.assertAlmostEqual(steady.speed * 3.6, 50, delta=1)
        self.assertAlmostEqual(steady.shown * 3.6, 51, delta=1.1)

    def test_damage_is_counted_and_skipped(self) -> None:
        good = (DEMO / "0412-road.nmea").read_text().splitlines()
        bad = [*good[:20], "$GPRMC,garbage*00", "$PZIND,1,2*FF", "noise", "$GPGGA,x", *good[20:40]]
        fixes, note = read_nmea(write("\n".join(bad)))
        self.assertIn("3 damaged sentences", note)
        self.assertGreater(len(fixes), 15)

    def test_a_speed_without_a_lock_is_none(self) -> None:
        """Status V: what stands in the sentence is the last that was known."""
        bodies = [
            f"GPRMC,10000{i}.00,{status},0000.000,N,00000.000,E,{knots},90.0,191126,,,A"
            for i, (status, knots) in enumerate([("A", "27.0"), ("V", "27.0"), ("A", "")])
        ]
        lines = [f"${b}*{functools.reduce(operator.xor, b.encode()):02X}" for b in bodies]
        fixes, note = read_nmea(write("\n".join(lines)))
        self.assertEqual([f.speed is None for f in fixes], [False, True, True])
        self.assertIn("2 without a satellite lock", note)

    def test_no_speed_at_all(self) -> None:
        for text in ("", "hello\n", "$GPGGA,1,2*00\n"):
            with self.assertRaises(Problem):
                read_nmea(write(text))
        with self.assertRaises(Problem):
            read_nmea(Path("/nowhere.nmea"))


class Playing(unittest.TestCase):
    def test_each_fix_once_and_in_its_time(self) -> None:
        fixes = tuple(Fix(t=float(i), speed=10.0) for i in range(10))
        player = PlayedReceiver(fixes, rate=2.0)
        self.assertEqual(len(player.poll(0.0)), 1)
        self.assertEqual([f.t for f in player.poll(1.1)], [1.0, 2.0])
        self.assertFalse(player.finished)
        self.assertEqual(player.poll(1.1), ())
        self.assertEqual(len(player.poll(100.0)), 7)
        self.assertTrue(player.finished)
        self.assertEqual(player.length, 9.0)


class MadeUp(unittest.TestCase):
    def test_a_car_that_is_made_up_keeps_to_its_road(self) -> None:
        """From 50 to 110 km/h and back, a cosine of 2 π · 19.1 s."""
        car = Car()
        for t, kmh in ((0.0, 50.0), (19.1 * math.pi / 2, 80.0), (19.1 * math.pi, 110.0)):
            with self.subTest(t=t):
                self.assertAlmostEqual(car.speed(t) / KMH, kmh)
                self.assertAlmostEqual(car.engine(t), kmh * KMH * car.rev_per_m)


if __name__ == "__main__":
    unittest.main()
