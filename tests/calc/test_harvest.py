"""``calc harvest``: pairs out of a file, and every way in which they cannot be had."""

from __future__ import annotations

import contextlib
import io
import json
import math
import tempfile
import unittest
from pathlib import Path

import numpy as np

from tests.logs.test_harvest import T25, bead, warming
from zombrel.cli.main import main


class Harvest(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.folder = tempfile.TemporaryDirectory()
        cls.path = Path(cls.folder.name) / "warm-up.csv"
        truth, wire = warming(np.random.default_rng(5), 0.0, 0.2)
        celsius = truth.at(wire.t) - 273.15
        volts = 5.0 * wire.v / (wire.v + 2200)
        rows = zip(wire.t, celsius, wire.v, volts, strict=True)
        lines = (f"{t:.1f},{c:.2f},{o:.1f},{v:.4f}\n" for t, c, o, v in rows)
        head = "time s,reference °C,wire Ω,pin V\n"
        cls.path.write_text(head + "".join(lines), encoding="utf-8")

    @classmethod
    def tearDownClass(cls) -> None:
        cls.folder.cleanup()
        super().tearDownClass()

    def run_it(self, *given: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(["calc", "harvest", f"file={self.path}", *given])
        return code, out.getvalue(), err.getvalue()

    def pairs(self, *given: str) -> list[tuple[float, float]]:
        code, out, err = self.run_it("truth=reference °C", *given)
        self.assertEqual((code, err), (0, ""))
        found = json.loads(out)
        self.assertGreater(found["samples"], 2000)
        self.assertLess(found["scatter"], 1.0)
        self.assertEqual(set(found), {"pairs", "scatter", "lag_s", "samples", "left_out"})
        return [tuple(p) for p in found["pairs"]]

    def test_ohms_come_as_they_are(self) -> None:
        for count in (2, 8, 20):
            found = self.pairs("wire=wire Ω", f"pairs={count}")
            self.assertLessEqual(len(found), count)
            for celsius, ohm in found:
                beside = 1 / (1 / T25 + math.log(ohm / 2500.0) / 3500.0) - 273.15
                self.assertAlmostEqual(celsius, beside, delta=1.2 if count == 2 else 0.8)

    def test_volts_under_a_stated_pull_up_become_ohms(self) -> None:
        found = self.pairs("wire=pin V", "pull_up_ohm=2200", "pull_up_v=5")
        for celsius, ohm in found:
            self.assertAlmostEqual(
                float(bead(np.array([celsius + 273.15]))[0]) / ohm, 1, delta=0.03
            )
        raw = self.pairs("wire=pin V")  # or stay volts, for a device that goes by them
        self.assertTrue(all(0 < v < 5 for _, v in raw))

    def test_what_cannot_be_is_said_in_one_line(self) -> None:
        for given, words in (
            (("truth=oven °C", "wire=wire Ω"), "no column “oven °C”"),
            (("truth=reference °C", "wire=pin"), "no column “pin”"),
            (("truth=reference °C", "wire=wire Ω", "pairs=1"), "pairs"),
            (("truth=reference °C", "wire=wire Ω", "pairs=99"), "pairs"),
            (
                ("truth=reference °C", "wire=pin V", "pull_up_ohm=2200", "pull_up_v=0.1"),
                "ground and",
            ),
            (("truth=reference °C",), "wire"),
        ):
            code, out, err = self.run_it(*given)
            with self.subTest(given):
                self.assertEqual((code, out), (2, ""))
                self.assertIn(words, err)
                self.assertEqual(len(err.strip().splitlines()), 1)


if __name__ == "__main__":
    unittest.main()
