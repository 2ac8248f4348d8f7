"""The plug is pulled on the computer itself: what was recorded is there."""

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

from zombrel.logs.read_any import read_any

RECORDS = """
import sys, time
from pathlib import Path
from zombrel.instruments.live import Live
from zombrel.instruments.lines import Meter, Receiver
from zombrel.instruments.simulated import Car, SimulatedMeter, SimulatedReceiver
stand_in = (SimulatedReceiver if sys.argv[2] == "receiver" else SimulatedMeter)(Car(), 0.02)
source = (Receiver if sys.argv[2] == "receiver" else Meter)(stand_in.address)
live = Live(source, Path(sys.argv[1]))
count = 0
while True:
    count += len(live.fetch())
    print(count, flush=True)
    time.sleep(0.05)
"""


def kept_of(path: Path) -> int:
    """Lines of values that the file holds by now."""
    return len(path.read_bytes().splitlines()) - 1


class Killed(unittest.TestCase):
    def test_what_was_recorded_is_there(self) -> None:
        for kind in ("receiver", "meter"):
            with self.subTest(kind), tempfile.TemporaryDirectory() as place:
                path = Path(place) / "drive.csv"
                # a person stops at any moment: not on a line, not when all is written
                running = subprocess.Popen(
                    [sys.executable, "-c", RECORDS, str(path), kind],
                    stdout=subprocess.PIPE,
                    text=True,
                    env={**os.environ, "PYTHONPATH": "src"},
                )
                assert running.stdout is not None
                said = 0
                while said < 120 or not path.exists():
                    line = running.stdout.readline()
                    self.assertTrue(line, "the recorder died")
                    said = int(line)
                while kept_of(path) < 0.9 * said:  # it writes once a second
                    time.sleep(0.05)
                running.send_signal(signal.SIGKILL)
                running.wait()
                running.stdout.close()
                log = read_any(path)
                self.assertGreaterEqual(sum(len(c.t) for c in log.channels), 0.9 * said)
                for c in log.channels:
                    self.assertTrue(np.isfinite(c.v).all())


if __name__ == "__main__":
    unittest.main()
