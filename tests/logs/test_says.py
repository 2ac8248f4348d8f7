"""What a log says in words: each said where it is so, nothing where it is not."""

from __future__ import annotations

import re
import unittest

import numpy as np

from tests.logs.made_up import RATIOS, channel, coasting, through_gears
from zombrel.catalog import DEMO
from zombrel.job.problem import Problem
from zombrel.logs.gearfit import final_drive, gears
from zombrel.logs.read_any import read_any
from zombrel.logs.recording import Recording
from zombrel.logs.says import Car, says
from zombrel.logs.spots import RULES, spots
from zombrel.units import Units, words


def titles(log: Recording, mass_kg: float | None = None) -> dict[str, str]:
    return {s.title: words(s.words, Units()) for s in says(log, Car(mass_kg))}


def _said(log: Recording, final: float) -> list[tuple[str, str]]:
    return [(s.title, s.words) for s in says(log, Car(1300.0, RATIOS, final, 1.912))]


class Says(unittest.TestCase):
    def test_nothing_of_a_log_that_holds_nothing(self) -> None:
        t = np.arange(0, 60, 0.1)
        for made in (
            Recording("volts", (channel("volts", "voltage", t, 13.8 + 0 * t),)),
            Recording("standing", (channel("gps", "speed", t, 0 * t),)),
            Recording("steady", (channel("gps", "speed", t, 25 + 0 * t),)),
            Recording("short", (channel("gps", "speed", t[:5], 25 + t[:5]),)),
        ):
            with self.subTest(made.name):
                self.assertEqual(titles(made, 1300.0), {})

    def test_gears_in_words_are_those_of_the_drive(self) -> None:
        log, true = through_gears(np.random.default_rng(4))
        said = titles(log)["5 gears"]
        told, _, at = said.partition(" rpm at ")
        self.assertEqual(at, "50\xa0km/h")
        # revolutions a metre at 50 km/h, times sixty
        np.testing.assert_allclose(
            [float(x) for x in told.split(",")], true * 60 * 50 / 3.6, rtol=3e-3
        )

    def test_the_final_drive_by_the_steps_of_the_gears(self) -> None:
        log, true = through_gears(np.random.default_rng(4))
        around = 1.912
        final = float(true[0]) * around / RATIOS[0]
        found = gears(log)
        for which in ((0, 1, 2, 3, 4), (1, 2, 3), (3, 4)):
            axle = final_drive(tuple(found[i] for i in which), RATIOS, around)
            self.assertEqual(axle.gears, tuple(i + 1 for i in which))
            self.assertTrue(axle.low <= final <= axle.high, which)
        right = words(dict(_said(log, final))["Final drive"], Units())
        self.assertIn("as Survey has it", right)
        other = dict(_said(log, final * 1.09))["Final drive"]
        self.assertIn("8 % other: axle, tyre size or ratios", other)
        self.assertNotIn("Final drive", titles(log))
        for few, ratios in ((found[:1], RATIOS), (found, (4.2, 3.0, 2.2, 1.7, 1.2))):
            with self.assertRaises(Problem):
                final_drive(few, ratios, around)

    def test_a_coast_down_is_told_with_its_interval_or_not_at_all(self) -> None:
        log, cda, _, mass = coasting(np.random.default_rng(9))
        said = titles(log, mass)["Coast-down"]
        told, low, high = (float(x) for x in re.findall(r"\d+\.\d+", said)[:3])
        self.assertLess(low, told)
        self.assertTrue(low - 0.05 <= cda <= high + 0.05, said)
        self.assertNotIn("Coast-down", titles(log))  # nobody said what it weighs
        gps = log.channels[0]
        short = gps.t < 12
        brief = Recording("brief", (gps.but(t=gps.t[short], v=gps.v[short]),))
        self.assertIn("too short to part drag from rolling", titles(brief, mass)["Coast-down"])

    def test_a_surge_and_its_side(self) -> None:
        t = np.arange(0, 300, 0.1)
        rng = np.random.default_rng(2)
        for rate, side in ((0.1, "gain or take-up too firm"), (0.45, "slack, or a sticking cable")):
            v = 25 + 0.8 * np.sin(2 * np.pi * rate * t) + rng.normal(0, 0.05, len(t))
            said = titles(Recording("s", (channel("gps", "speed", t, v),)))["Surge"]
            self.assertIn(f"{rate:.2f} Hz", said)
            self.assertIn(side, said)
        calm = 25 + rng.normal(0, 0.05, len(t))
        self.assertNotIn("Surge", titles(Recording("c", (channel("gps", "speed", t, calm),))))

    def test_who_drives_in_miles_reads_miles(self) -> None:
        log, *_, mass = coasting(np.random.default_rng(3))
        gears, _ = through_gears(np.random.default_rng(3))
        demo = read_any(DEMO / "0412-road.csv")
        told = [s.words for x in (log, gears, demo) for s in (*says(x, Car(mass)), *spots(x))]
        told += [rule.told for rule in RULES.values()]
        self.assertGreater(len(told), 20)
        for text in told:
            self.assertNotIn("km", words(text, Units(distance="mi")))
        self.assertIn("rpm at 31\xa0mph", words(says(gears)[0].words, Units(distance="mi")))

    def test_every_one_has_its_reason(self) -> None:
        log, *_, mass = coasting(np.random.default_rng(3))
        gears, _ = through_gears(np.random.default_rng(3))
        for said in (*says(log, Car(mass)), *says(gears)):
            with self.subTest(said.title):
                self.assertTrue(said.reason.formula)
                self.assertTrue(said.reason.result)
                self.assertTrue(said.reason.given or said.reason.assumption)


if __name__ == "__main__":
    unittest.main()
