"""Pairs out of a log in the window: what a log must have, and what is said where it has not."""

from __future__ import annotations

import unittest
from pathlib import Path
from typing import Any

import numpy as np
from PySide6.QtWidgets import QComboBox

from tests.logs.test_harvest import warming
from tests.ui.base import WindowTest

TRUTH, WIRE = warming(np.random.default_rng(8), 0.0, 0.2)
AT = WIRE.t
CELSIUS = TRUTH.at(AT) - 273.15


class Harvest(WindowTest):
    def log(self, name: str, **columns: np.ndarray) -> Path:
        """A table of these columns over the warm-up's time."""
        path = self.home / name
        heads = {
            "ref": "ref °C",
            "ohm": "wire Ω",
            "volt": "pin V",
            "rpm": "engine rpm",
            "raw": "raw",
        }
        lines = [",".join(["time s", *(heads[k] for k in columns)])]
        for i, t in enumerate(AT):
            lines.append(",".join([f"{t:.1f}", *(f"{v[i]:.3f}" for v in columns.values())]))
        path.write_text("\n".join(lines), encoding="utf-8")
        return path

    def view(self, path: Path, chain: str = "temp-hub") -> Any:
        page = self.go(f"set:{chain}")
        self.press("Take pairs out of a log", page)
        dialog: Any = self.dialog()
        dialog.read(path)
        self.wait(lambda: bool(self.job.logs) and "being read" not in self.texts(dialog))
        return dialog

    def test_a_log_without_the_reference_or_the_wire_is_told_so(self) -> None:
        dialog = self.view(self.log("bare.csv", rpm=900 + AT))
        self.assertIn("has no column of the wire: it wants temperature and Ω", self.texts(dialog))
        self.assertFalse(dialog._keep.isEnabled())
        dialog.read(self.log("wire.csv", ohm=WIRE.v, rpm=900 + AT))
        self.wait(lambda: "what is true" in self.texts(dialog))
        self.assertFalse(dialog._keep.isEnabled())

    def test_what_does_not_follow_is_refused_and_another_column_taken(self) -> None:
        noise = np.random.default_rng(1).uniform(100, 9000, len(AT))
        dialog = self.view(self.log("two.csv", ref=CELSIUS, raw=noise, ohm=WIRE.v))
        self.assertEqual(dialog._wire.currentText(), "wire Ω")  # what says it is ohms comes first
        self.assertTrue(dialog._keep.isEnabled())
        self.arrow(self.named(QComboBox, "What the wire showed", dialog), "raw")
        self.assertIn("does not follow", self.texts(dialog))
        self.assertFalse(dialog._keep.isEnabled())
        self.arrow(self.named(QComboBox, "What the wire showed", dialog), "wire Ω")
        self.assertTrue(dialog._keep.isEnabled())

    def test_a_reference_is_not_its_own_wire(self) -> None:
        """Of two plain columns either may be either, but not both at once."""
        dialog = self.view(self.log("plain.csv", raw=CELSIUS, ohm=WIRE.v))
        self.assertEqual(dialog._truth.currentText(), "raw")
        self.arrow(self.named(QComboBox, "What the wire showed", dialog), "raw")
        self.assertIn("The reference cannot be the wire itself", self.texts(dialog))
        self.assertFalse(dialog._keep.isEnabled())
        self.arrow(self.named(QComboBox, "What the wire showed", dialog), "wire Ω")
        self.assertTrue(dialog._keep.isEnabled())
        kelvin = [x for x, _ in dialog._pairs]  # a plain figure is one in the unit that is shown
        self.assertGreater(min(kelvin), 273.15)
        self.assertLess(max(kelvin), 400.0)
        self.assertNotIn("scatters", self.texts(dialog))
        self.press("Take these pairs", dialog)
        source = next(s for s in self.job.sources if s.id == "clt")
        self.assertEqual(len(source.spec.points), 8)  # type: ignore[union-attr]

    def test_volts_want_the_pull_up_of_the_input(self) -> None:
        sheet = self.session.job.devices[1].sheet.input("TEMP")
        assert sheet is not None
        volts = sheet.pull_up_v * WIRE.v / (WIRE.v + sheet.pull_up_ohm)
        dialog = self.view(self.log("volts.csv", ref=CELSIUS, volt=volts))
        self.assertIn("8 pairs from", self.texts(dialog))
        by_ohms = self.view(self.log("ohms.csv", ref=CELSIUS, ohm=WIRE.v))
        for (_, volt), (_, ohm) in zip(dialog._pairs, by_ohms._pairs, strict=True):
            self.assertAlmostEqual(volt / ohm, 1, delta=0.01)

    def test_pairs_are_told_in_the_readers_unit_and_kept_in_kelvin(self) -> None:
        dialog = self.view(self.log("both.csv", ref=CELSIUS, ohm=WIRE.v))
        self.assertIn("8 pairs from", self.texts(dialog))
        first = float(dialog._found.text().split(":")[0])
        self.assertAlmostEqual(dialog._pairs[0][0] - 273.15, first, delta=0.02)
        self.press("Leave it", dialog)
        self.assertNotIn("out of", str(self.job.ledger[-1].note if self.job.ledger else ""))


if __name__ == "__main__":
    unittest.main()
