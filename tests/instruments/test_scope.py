"""A sound card as a scope: rate, swing and on-time of known signals; its file is whole always."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

import numpy as np

from zombrel.instruments.live import Live
from zombrel.instruments.scope import Keeper, Scope, WavBlocks, told
from zombrel.job.problem import Problem
from zombrel.logs.read_any import read_any

RATE = 48_000
T = np.arange(RATE // 2) / RATE
RECORD = """
import sys, time
from pathlib import Path
from zombrel.instruments.live import Live
from zombrel.instruments.scope import Scope
from zombrel.instruments.simulated import Car, SimulatedSignal
live = Live(Scope(SimulatedSignal(Car()), keep=Path(sys.argv[1])), Path(sys.argv[2]))
while live.running:
    print(len(live.fetch()), flush=True)
    time.sleep(0.1)
"""


def square(hz: float, duty: float, high: float = 0.8, low: float = 0.0) -> np.ndarray:
    return np.where((T * hz) % 1 < duty, high, low).astype(np.float32)


class Told(unittest.TestCase):
    def values(self, v: np.ndarray, full_v: float = 1.0) -> dict[str, float]:
        return {name: value for name, _, value in told(v, RATE, full_v)}

    def test_rate_and_on_time_of_signals_that_are_known(self) -> None:
        noise = np.random.default_rng(3).normal(0, 0.02, len(T)).astype(np.float32)
        for hz in (12.0, 130.0, 1333.0, 4000.0):
            for duty in (0.2, 0.5, 0.8):
                found = self.values(square(hz, duty) + noise)
                with self.subTest(hz=hz, duty=duty):
                    self.assertAlmostEqual(found["signal Hz"] / hz, 1, delta=0.01)
                    self.assertAlmostEqual(found["on"], duty, delta=0.02 + 2 * hz / RATE)

    def test_swing_is_in_volts_of_full_scale(self) -> None:
        for full_v in (0.5, 1.0, 12.0):
            found = self.values((0.4 * np.sin(2 * np.pi * 200 * T)).astype(np.float32), full_v)
            self.assertAlmostEqual(found["swing"], 0.8 * full_v, delta=0.002 * full_v)

    def test_silence_direct_current_and_too_few_edges_have_no_rate(self) -> None:
        for v in (
            np.zeros(len(T), np.float32),
            np.full(len(T), 0.7, np.float32),
            square(3.0, 0.5),
        ):
            self.assertNotIn("signal Hz", self.values(v))

    def test_an_offset_moves_the_middle_with_it(self) -> None:
        found = self.values(square(250.0, 0.3, 0.9, 0.6))
        self.assertAlmostEqual(found["signal Hz"], 250.0, delta=0.5)
        self.assertAlmostEqual(found["on"], 0.3, delta=0.02)


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.place = Path(place.name)

    def test_what_is_kept_is_what_came_and_whole_after_every_piece(self) -> None:
        path = self.place / "s.wav"
        keeper = Keeper(path, RATE)
        v = (0.5 * np.sin(2 * np.pi * 300 * T)).astype(np.float32)
        for k in range(5):
            keeper.write(v[k * 4800 : (k + 1) * 4800])
            self.assertEqual(len(read_any(path).channels[0].v), (k + 1) * 4800)
        keeper.write(np.array([3.0, -3.0], np.float32))  # more than full scale is full scale
        keeper.close()
        kept = read_any(path).channels[0].v
        np.testing.assert_allclose(kept[: len(v)], v, atol=1e-4)
        self.assertAlmostEqual(float(kept[-2]), 1.0, places=3)
        self.assertAlmostEqual(float(kept[-1]), -1.0, places=3)

    def test_a_recording_ends_by_itself(self) -> None:
        path = self.place / "s.wav"
        keeper = Keeper(path, RATE)
        keeper.write(square(500.0, 0.5))
        keeper.close()
        live = Live(Scope(WavBlocks(path, paced=False)), self.place / "s.csv")
        while live.running:  # for ever, if it never ends: ``check`` says where
            time.sleep(0.02)
        self.assertFalse(live.running)
        live.stop()
        self.assertEqual(live.trouble, "")
        rate = read_any(self.place / "s.csv").channel("signal Hz")
        assert rate is not None
        np.testing.assert_allclose(rate.v, 500.0, rtol=0.01)

    def test_a_card_that_goes_is_said(self) -> None:
        class Broken:
            rate = RATE

            def read(self) -> np.ndarray:
                raise OSError("device unplugged")

            def close(self) -> None:
                return

        live = Live(Scope(Broken()), self.place / "s.csv")
        while live.running:  # for ever, if it never ends: ``check`` says where
            time.sleep(0.02)
        live.stop()
        self.assertIn("The sound card is gone: device unplugged", live.trouble)
        with self.assertRaises(Problem):
            list(Scope(Broken()).samples())

    def test_killed_at_any_moment_both_files_are_read(self) -> None:
        wav, table = self.place / "s.wav", self.place / "s.csv"
        env = {**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)}
        child = subprocess.Popen(
            [sys.executable, "-c", RECORD, str(wav), str(table)],
            stdout=subprocess.PIPE,
            text=True,
            env=env,
        )
        assert child.stdout is not None
        came = 0
        while came < 40:
            line = child.stdout.readline()
            self.assertTrue(line, "the recorder died")
            came += int(line)
        child.send_signal(signal.SIGKILL)
        child.wait()
        child.stdout.close()
        self.assertGreater(len(read_any(wav).channels[0].v), RATE // 2)
        self.assertTrue(read_any(table).channels)


if __name__ == "__main__":
    unittest.main()
