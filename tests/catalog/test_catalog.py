"""Shipped data, a user's own sheet, cautions that follow the job."""

from __future__ import annotations

import json
import tempfile
import unittest
from pathlib import Path

from tests.demo import demo, put
from zombrel.catalog import DATA
from zombrel.catalog.cautions import all_cautions, cautions
from zombrel.catalog.sheets import read_sheet, shelf
from zombrel.catalog.sources import templates
from zombrel.job.problem import Problem
from zombrel.job.quantity import group
from zombrel.signals.reduce import emission


class Sheets(unittest.TestCase):
    def test_the_shelf(self) -> None:
        sheets, troubles = shelf()
        self.assertEqual(
            {s.model for s in sheets},
            {
                "P7",
                "G6",
                "S4",
                "L2",
                "B3",
                "G2",
                "T1",
                "H1",
                "C4",
                "R5",
                "E9",
                "E5",
                "K2",
                "D1",
                "M7",
            },
        )
        self.assertEqual({s.maker for s in sheets}, {"Ardle", "Brackwell"})
        self.assertEqual(troubles, ())

    def test_a_user_adds_one_by_hand(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            mine = {
                "id": "mine",
                "maker": "Me",
                "model": "1",
                "name": "Home-made tach",
                "inputs": [{"pin": "IN", "quantity": "tach"}],
            }
            (folder / "mine.json").write_text(json.dumps(mine))
            (folder / "broken.json").write_text('{"id": "x"')
            (folder / "wrong.json").write_text(json.dumps({**mine, "min_v": -3}))
            sheets, troubles = shelf(folder)
            self.assertIn("Home-made tach", [s.name for s in sheets])
            self.assertEqual(len(troubles), 2)
            self.assertIn("broken.json", troubles[0])
            self.assertIn("min_v", troubles[1])

    def test_his_own_replaces_the_shipped(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            text = (DATA / "sheets" / "ardle-p7.json").read_text()
            (Path(name) / "p7.json").write_text(text.replace('"max_hz": 1000', '"max_hz": 2000'))
            sheets, _ = shelf(Path(name))
            pace = next(s for s in sheets if s.id == "ardle-p7")
            self.assertEqual(pace.inputs[0].max_hz, 2000)
            self.assertEqual(len(sheets), len(shelf()[0]))

    def test_unreadable(self) -> None:
        with self.assertRaises(Problem):
            read_sheet(Path("/none.json"))

    def test_no_registry_host_and_no_real_maker_in_data(self) -> None:
        for path in DATA.rglob("*.json"):
            self.assertNotIn("http", path.read_text(), path)


class Sources(unittest.TestCase):
    def test_every_template_can_be_worked_out_in_the_demo_car(self) -> None:
        kinds = set()
        for source in templates():
            kinds.add(type(source.spec).__name__)
            if group(source.quantity) == "rate":
                self.assertGreater(emission(source, demo().vehicle, None).rate, 0)
        self.assertEqual(len(kinds), 21)


class Cautions(unittest.TestCase):
    def words(self, job) -> set[str]:  # type: ignore[no-untyped-def]
        return {c.id for c in cautions(job)}

    def test_they_follow_the_job(self) -> None:
        base = self.words(demo())
        for key in ("battery", "ignition", "cancel", "road", "led", "law"):
            self.assertIn(key, base)
        self.assertNotIn("airbag", base)
        self.assertNotIn("two-batteries", base)
        self.assertIn("airbag", self.words(put(demo(), "vehicle.wheel_airbag", None)))
        self.assertIn("airbag", self.words(put(demo(), "vehicle.wheel_airbag", True)))
        self.assertIn("two-batteries", self.words(put(demo(), "vehicle.batteries", 2)))
        self.assertNotIn("led", self.words(put(demo(), "vehicle.lamps", "filament")))

    def test_by_stage(self) -> None:
        for caution in all_cautions():
            self.assertIn(caution.stage, ("wire", "source", "prove", "road", "handover"))
        self.assertTrue(all(c.stage == "road" for c in cautions(demo(), "road")))


if __name__ == "__main__":
    unittest.main()
