"""Pairs harvested from made-up drives whose curve, delay and noise are known."""

from __future__ import annotations

import math
import unittest

import numpy as np

from zombrel.job.problem import Problem
from zombrel.logs.harvest import harvest, pulled
from zombrel.logs.recording import Channel

T25 = 298.15


def bead(kelvin: np.ndarray, beta: float = 3500.0, r25: float = 2500.0) -> np.ndarray:
    """Resistance of a thermistor by the beta equation (IEC 60539-1, 3.2) [Ω]."""
    return r25 * np.exp(beta * (1 / kelvin - 1 / T25))


def warming(rng: np.random.Generator, lag: float, noise: float) -> tuple[Channel, Channel]:
    """A warm-up of twenty minutes: a reference that answers ``lag`` later, and the sender."""
    t = np.arange(0, 1200, 0.5)

    def kelvin(at: np.ndarray) -> np.ndarray:
        return 285 + 82 * (1 - np.exp(-np.maximum(at, 0) / 330)) + 2.5 * np.sin(at / 37)

    shown = bead(kelvin(t)) * (1 + rng.normal(0, 0.004, len(t)))
    fast = np.arange(0, 1200, 0.2)
    true = kelvin(fast - lag) + rng.normal(0, noise, len(fast))
    return (
        Channel("reference", "temperature", "K", fast, true),
        Channel("wire", "resistance", "Ω", t, shown),
    )


class Harvested(unittest.TestCase):
    def test_the_curve_comes_back_whatever_the_delay(self) -> None:
        for seed, lag in enumerate((0.0, 0.0, 3.0, 8.0, -5.0)):
            rng = np.random.default_rng(seed)
            found = harvest(*warming(rng, lag, 0.3))
            with self.subTest(lag=lag):
                self.assertAlmostEqual(found.lag_s, lag, delta=1.01)
                self.assertEqual(len(found.pairs), 8)
                self.assertLess(found.scatter, 0.8)
                for kelvin, ohm in found.pairs:
                    beside = 1 / (1 / T25 + math.log(ohm / 2500.0) / 3500.0)
                    self.assertAlmostEqual(kelvin, beside, delta=0.6)

    def test_spikes_and_silence_move_nothing(self) -> None:
        rng = np.random.default_rng(9)
        truth, wire = warming(rng, 2.0, 0.2)
        spoilt = wire.v.copy()
        spoilt[rng.choice(len(spoilt), 60, replace=False)] = 30_000
        keep = (truth.t < 300) | (truth.t > 340)
        found = harvest(truth.but(t=truth.t[keep], v=truth.v[keep]), wire.but(v=spoilt), 6)
        for kelvin, ohm in found.pairs:
            self.assertAlmostEqual(float(bead(np.array([kelvin]))[0]) / ohm, 1, delta=0.03)

    def test_volts_under_a_pull_up_are_ohms(self) -> None:
        truth, wire = warming(np.random.default_rng(1), 0.0, 0.2)
        volts = 5.0 * wire.v / (wire.v + 2200)
        volts[:20] = 5.0  # unplugged
        ohms = pulled(Channel("pin", "voltage", "V", wire.t, volts), 2200, 5.0)
        self.assertAlmostEqual(float(ohms.v[100] / wire.v[120]), 1, places=9)
        self.assertEqual(len(harvest(truth, ohms).pairs), 8)

    def test_what_gives_no_curve_is_refused(self) -> None:
        rng = np.random.default_rng(2)
        truth, wire = warming(rng, 0.0, 0.2)
        noise = wire.but(v=rng.uniform(100, 9000, len(wire.v)))
        still = truth.but(v=np.full(len(truth.v), 300.0))
        later = wire.but(t=wire.t + 5000)
        shorted = wire.but(what="voltage", v=np.zeros(len(wire.v)))
        for a, b, words in (
            (truth, noise, "does not follow"),
            (still, wire, "does not move"),
            (truth, later, "not recorded at the same time"),
        ):
            with self.assertRaisesRegex(Problem, words):
                harvest(a, b)
        with self.assertRaisesRegex(Problem, "does not lie between ground and 5 V"):
            pulled(shorted, 2200, 5.0)


if __name__ == "__main__":
    unittest.main()
