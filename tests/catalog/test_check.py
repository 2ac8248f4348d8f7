"""The parts shelf as data: what is wrong with a sheet or a source is named by its field."""

from __future__ import annotations

import json
import tempfile
import unittest
from pathlib import Path
from typing import Any

import msgspec

from zombrel.catalog import DATA
from zombrel.catalog.check import sheet_troubles
from zombrel.catalog.diagnostic import diagnostic, label
from zombrel.catalog.parse import parse_sheet, parse_source
from zombrel.catalog.sheets import shelf
from zombrel.catalog.sources import source_shelf, templates
from zombrel.job.problem import Problem
from zombrel.store.shelf_files import file_of, is_own, keep, text_of, throw_away

BARE: dict[str, Any] = {"id": "x", "maker": "Me", "model": "1", "name": "Thing"}
TACH: dict[str, Any] = {"pin": "IN", "quantity": "tach"}
TEMP: dict[str, Any] = {
    "pin": "T",
    "quantity": "coolant",
    "takes": "ohm",
    "pull_up_ohm": 1000,
    "setting": {"type": "curves", "free_points": 8},
}


def sheet(**more: Any) -> bytes:
    return json.dumps({**BARE, **more}).encode()


def menu(**more: Any) -> dict[str, Any]:
    return {"type": "menu", "path": [], "low": 1, "high": 6, "step": 1, "unit": "rpm", **more}


OWNED = {
    "type": "lookup",
    "bank": "DIP",
    "bits": [1, 2],
    "unit": "cylinders",
    "rows": [["00", 4], ["01", 6]],
}


def choice(means: str, for_what: list[list[str]], **more: Any) -> dict[str, Any]:
    setting = {"type": "lookup", "unit": "step", "rows": [["00", 0], ["01", 1]], **more}
    return {"pin": "K", "label": "k", "means": means, "stands_for": for_what, "setting": setting}


class Sheets(unittest.TestCase):
    def test_each_trouble_names_its_field(self) -> None:
        cases: tuple[tuple[bytes, str], ...] = (
            (b"{", "not complete JSON"),
            (sheet(name=""), "name"),
            (sheet(inputs=[{**TACH, "max_hz": -3}]), r"inputs\[0\].max_hz"),
            (sheet(inputs=[{**TACH, "colour": "red"}]), "colour"),
            (sheet(inputs=[TACH, TACH]), "“IN” is there 2 times"),
            (sheet(inputs=[{**TACH, "pin": "A.B"}]), "full stop"),
            (sheet(inputs=[{**TACH, "takes": "volts"}]), r"inputs\[0\].takes: tach is counted"),
            (sheet(inputs=[{**TEMP, "takes": "pulses"}]), r"inputs\[0\].takes: coolant is read"),
            (sheet(inputs=[{**TEMP, "pull_up_ohm": 0}]), r"inputs\[0\].pull_up_ohm"),
            (sheet(inputs=[{**TEMP, "setting": None}]), r"inputs\[0\].curve"),
            (sheet(inputs=[{**TEMP, "setting": {"type": "curves"}}]), "free_points"),
            (sheet(inputs=[{**TACH, "setting": menu(high=1)}]), r"inputs\[0\].setting.high"),
            (sheet(inputs=[{**TACH, "setting": menu(step=1e-6)}]), "100 000 positions"),
            (
                sheet(
                    controls=[
                        {"pin": "L", "label": "l", "means": "limit", "of": "NO", "setting": menu()}
                    ]
                ),
                r"controls\[0\].of: there is no input “NO”",
            ),
            (
                sheet(
                    controls=[
                        {
                            "pin": "L",
                            "label": "l",
                            "means": "limit",
                            "setting": {
                                "type": "rotary",
                                "positions": [["1", 1], ["1", 2]],
                                "unit": "rpm",
                            },
                        }
                    ]
                ),
                "two positions have the same name",
            ),
            (
                sheet(
                    controls=[
                        {
                            "pin": "L",
                            "label": "l",
                            "means": "idle",
                            "setting": {
                                "type": "plug",
                                "known": [[1, 5], [2, 6], [3, 5]],
                                "unit": "rpm",
                            },
                        }
                    ]
                ),
                "values turn back",
            ),
            (sheet(controls=[choice("signal", [])]), "which position is for sine, square, kick"),
            (sheet(controls=[choice("idle", [["00", "x"]])]), "only for a choice"),
            (sheet(controls=[choice("signal", [["00", "sqare"]])]), "level, not “sqare”"),
            (sheet(controls=[choice("gearbox", [["10", "manual"]])]), "no position “10”"),
            (
                sheet(controls=[choice("contact", [["00", "open"]], rows=[["0", 0], ["01", 1]])]),
                r"controls\[0\].setting.rows\[1\]: a combination is 1 times 0 or 1",
            ),
            (
                sheet(controls=[choice("contact", [["00", "open"]], bits=[1])]),
                "name 2 switches",
            ),
            (
                sheet(
                    inputs=[{**TACH, "setting": OWNED}],
                    controls=[choice("contact", [["00", "open"]], bank="DIP", bits=[2, 3])],
                ),
                "switch 2 of bank “DIP” is IN's and K's",
            ),
            (sheet(supplies=[{"pin": "P", "kind": "power", "amps": 1}]), r"supplies\[0\].feeds"),
            (
                sheet(
                    inputs=[
                        {
                            **TEMP,
                            "setting": {
                                "type": "curves",
                                "presets": [{"name": "A", "points": [[300, 5], [290, 6]]}],
                            },
                        }
                    ]
                ),
                "must rise",
            ),
        )
        for text, said in cases:
            with self.subTest(said), self.assertRaisesRegex(Problem, said):
                parse_sheet(text)

    def test_every_shipped_sheet_is_sound_and_goes_round(self) -> None:
        for one in shelf()[0]:
            self.assertEqual(list(sheet_troubles(one)), [], one.id)
            self.assertEqual(parse_sheet(text_of(one)), one)
            self.assertLess(len(text_of(one)), len(msgspec.json.encode(one)) * 3)

    def test_sources_too(self) -> None:
        for one in templates():
            self.assertEqual(parse_source(text_of(one)), one)
        bad = {
            "id": "s",
            "name": "S",
            "quantity": "coolant",
            "spec": {"type": "thermistor", "points": [[300, 5], [310, 6], [320, 4]]},
        }
        for change, said in (
            ({}, "spec.points: at 320 the values turn back"),
            ({"quantity": "smell"}, "quantity"),
            ({"spec": {"type": "magic"}}, "magic"),
            ({"minutes": -1}, "minutes"),
        ):
            with self.subTest(said), self.assertRaisesRegex(Problem, said):
                parse_source(json.dumps({**bad, **change}))


class Files(unittest.TestCase):
    def test_kept_read_thrown_away_and_brought_back(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name) / "deep" / "sheets"
            one = msgspec.structs.replace(shelf()[0][0], id="my/own thing", name="Mine")
            path = keep(folder, one)
            self.assertEqual(path, file_of(folder, one.id))
            self.assertTrue(is_own(folder, one.id))
            self.assertIn("Mine", [s.name for s in shelf(folder)[0]])
            self.assertEqual([p.name for p in folder.iterdir()], [path.name])
            text = throw_away(folder, one.id)
            assert text is not None
            self.assertEqual(parse_sheet(text), one)
            self.assertIsNone(throw_away(folder, one.id))

    def test_a_folder_that_cannot_be_written_says_so(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            (Path(name) / "sheets").write_text("in the way")
            with self.assertRaisesRegex(Problem, "cannot be written"):
                keep(Path(name) / "sheets", shelf()[0][0])

    def test_a_broken_source_is_left_out_and_named(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            keep(Path(name), msgspec.structs.replace(templates()[0], id="mine"))
            (Path(name) / "broken.json").write_text("{")
            found, troubles = source_shelf(Path(name))
            self.assertIn("mine", [s.id for s in found])
            self.assertEqual(len(troubles), 1)
            self.assertIn("broken.json", troubles[0])


class Plugs(unittest.TestCase):
    def test_pins_by_protocol_as_the_standards_have_them(self) -> None:
        """ISO 15031-3 table 3; SAE J1939-13 table 1."""
        sixteen, nine, six = diagnostic()
        pins = {p.name: [label(sixteen.connector, n) for n in p.pins] for p in sixteen.protocols}
        self.assertEqual(pins["CAN"], ["6", "14"])
        self.assertEqual(pins["K line"], ["7", "15"])
        self.assertEqual(pins["supply and grounds"], ["4", "5", "16"])
        self.assertEqual(
            [label(nine.connector, n) for n in nine.protocols[0].pins], ["C", "D", "E"]
        )
        self.assertEqual([label(six.connector, n) for n in six.protocols[0].pins], ["A", "B"])
        for one in (sixteen, nine, six):
            self.assertEqual(one.connector.counted_on, "mating face")
            count = one.connector.rows * one.connector.columns
            self.assertTrue(all(1 <= n <= count for p in one.protocols for n in p.pins))

    def test_the_schema_takes_every_shipped_sheet(self) -> None:
        import jsonschema

        schema = json.loads((DATA / "sheet.schema.json").read_text())
        for path in sorted((DATA / "sheets").glob("*.json")):
            jsonschema.validate(json.loads(path.read_text()), schema)


if __name__ == "__main__":
    unittest.main()
