"""Workbooks as people make them: margins, dates, times, formulas, many sheets, other formats."""

from __future__ import annotations

import datetime as dt
import tempfile
import unittest
import zipfile
from pathlib import Path
from typing import Any
from unittest import mock

import openpyxl

from zombrel.job.problem import Problem
from zombrel.logs.read_any import is_table, read_any
from zombrel.logs.table.read import preview
from zombrel.logs.table.workbook import as_table, workbook

BEGIN = dt.datetime(2026, 11, 27, 9, 0)


class Workbooks(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.place = Path(place.name)

    def book(self, rows: list[list[Any]], name: str = "drive.xlsx", title: str = "Log") -> Path:
        made = openpyxl.Workbook()
        made.active.title = title
        for row in rows:
            made.active.append(row)
        path = self.place / name
        made.save(path)
        return path

    def text(self, rows: list[list[Any]]) -> list[str]:
        with as_table(self.book(rows)) as sheet:
            return sheet.path.read_text(encoding="utf-8").splitlines()

    def test_cells_of_every_kind(self) -> None:
        head = ["t", "a", "b", "c", "d", "e"]
        cells = [
            (0, "0"),
            (1.5, "1.5"),
            (True, "on"),
            (False, "off"),
            (None, ""),
            ("#REF!", ""),
            (dt.timedelta(minutes=1, milliseconds=500), "60.5"),
            (BEGIN, "2026-11-27 09:00:00"),
            (dt.time(9, 30, 15), "09:30:15"),
            ("a\nb", "a b"),
            ('say "so", he', '"say ""so"", he"'),
            (1e-7, "1e-07"),
        ]
        for cell, said in cells:
            with self.subTest(cell):
                found = self.text([head, [0, 1, cell, 3, 4, 5], [1, 1, cell, 3, 4, 5]])
                self.assertEqual(found[1].partition("0,1,")[2], f"{said},3,4,5")

    def test_margins_are_left_and_rows_of_nothing_too(self) -> None:
        rows = [
            [],
            [None, None, "time s", "engine rpm"],
            [],
            *[[None, None, i / 10, 900 + i] for i in range(30)],
            [],
            [None, None, None, None],
        ]
        found = self.text(rows)
        self.assertEqual(found[0], "time s,engine rpm")
        self.assertEqual(len(found), 31)
        log = read_any(self.book(rows))
        self.assertEqual([(c.name, len(c.t)) for c in log.channels], [("engine rpm", 30)])

    def test_the_sheet_with_figures_is_taken_wherever_it_stands(self) -> None:
        path = self.book([["Read me"], ["made in the car"]], title="Cover")
        made = openpyxl.load_workbook(path)
        one = made.create_sheet("One row")
        one.append(["a", 1.0])
        data = made.create_sheet("Drive")
        data.append(["time s", "coolant °C"])
        for i in range(20):
            data.append([i, 20 + i])
        made.create_sheet("Later").append([1, 2])
        made.save(path)
        seen = preview(path)
        self.assertEqual(
            seen.layout.why[0], "a workbook: sheet “Drive”, the first of 4 with figures"
        )
        self.assertEqual([g.what for g in seen.columns], ["number", "temperature"])
        self.assertTrue(is_table(path))

    def test_dates_and_clock_times_are_its_time(self) -> None:
        for cells, last in (
            ([BEGIN + dt.timedelta(seconds=2 * i) for i in range(10)], 18.0),
            ([(BEGIN + dt.timedelta(seconds=2 * i)).time() for i in range(10)], 18.0),
        ):
            rows: list[list[Any]] = [["time", "speed km/h"]]
            rows += [[cell, 36 + i] for i, cell in enumerate(cells)]
            log = read_any(self.book(rows))
            self.assertAlmostEqual(float(log.channels[0].t[-1]), last)
            self.assertAlmostEqual(float(log.channels[0].v[0]), 10.0)

    def test_only_as_much_is_taken_as_is_wanted(self) -> None:
        rows = [["time s", "engine rpm"], *[[i, 800 + i] for i in range(5000)]]
        path = self.book(rows)
        with as_table(path, 300) as sheet:
            self.assertEqual(len(sheet.path.read_text().splitlines()), 300)
            kept = sheet.path
        self.assertFalse(kept.exists())  # gone with whoever looked at it
        beats: list[float] = []
        read_any(path, tell=lambda share: not beats.append(share))
        self.assertGreaterEqual(len(beats), 3)
        self.assertEqual(beats, sorted(beats))
        self.assertLessEqual(max(beats), 1.0)

    def test_what_is_none_is_refused_in_words(self) -> None:
        whole = self.book([["time s", "a"], [0, 1], [1, 2]]).read_bytes()
        cases = {
            "old.xls": (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + bytes(600), "Save it as .xlsx"),
            "half.xlsx": (whole[: len(whole) // 2], "Save it as .xlsx"),
            "words.xlsx": (
                self.book([["only"], ["words"]], "w.xlsx").read_bytes(),
                "no sheet with",
            ),
        }
        for name, (data, words) in cases.items():
            path = self.place / name
            path.write_bytes(data)
            with self.subTest(name), self.assertRaisesRegex(Problem, words):
                read_any(path)
        named = self.place / "table.xls"  # a table of text that calls itself a spreadsheet
        named.write_text("time s\tengine rpm\n0\t900\n1\t950\n2\t990\n")
        self.assertFalse(workbook(named))
        self.assertEqual(read_any(named).channels[0].what, "engine")

    def test_one_that_unpacks_to_too_much_is_not_unpacked(self) -> None:
        path = self.book([["time s", "a"], [0, 1], [1, 2]])
        with (
            mock.patch("zombrel.logs.table.workbook.MOST_BYTES", 1000),
            self.assertRaisesRegex(Problem, "unpacks to"),
        ):
            read_any(path)
        other = self.place / "job.zip"
        with zipfile.ZipFile(other, "w") as packed:
            packed.writestr("job.json", "{}")
        self.assertFalse(workbook(other))


if __name__ == "__main__":
    unittest.main()
