"""The job book in the window: found, taken over by keys, planned by hand, backed up."""

from __future__ import annotations

import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from tests.ui.base import WindowTest
from zombrel.job.edits import Put
from zombrel.job.ledger import provenance


class JobBook(WindowTest):
    def opened(self) -> Any:
        self.key(Qt.Key.Key_9, self.window, ctrl=True)
        page = self.window.page("book")
        self.wait(lambda: page._asked is not None and not page.background.busy, 60)
        self.settle()
        return page

    def look_for(self, page: Any, words: str) -> None:
        page.field.clear()
        self.wait(lambda: not page._soon.isActive() and not page.searching.busy)
        page._count.setText("")
        QTest.keyClicks(page.field, words)
        self.wait(lambda: "found" in page._count.text() and not page.searching.busy)
        self.settle()

    def test_a_cavity_is_found_and_taken_over_by_keys_alone(self) -> None:
        page = self.opened()
        self.assertTrue(page.field.hasFocus())
        self.assertIn("25 jobs", page.subtitle)
        self.assertIn("Comes back: ", page._back.text())
        self.assertIn("8 in 10", page._times.text())
        self.look_for(page, "D2 cavity 8 speed")
        self.assertIn("another model: only to be looked at", self.texts(page))
        self.assertNotIn("Use in this job", self.texts(page))
        self.session.do("a Heron", Put(path="vehicle.name", value="Brackwell Heron"))
        self.wait(lambda: not page.background.busy and not page._soon.isActive(), 60)
        self.look_for(page, "D2 cavity 11 blue")
        self.assertIn("park brake", self.texts(page))
        self.key(Qt.Key.Key_Return, page.field)
        taken = next(
            x for c in self.job.connectors if c.id == "D2" for x in c.cavities if x.n == 11
        )
        self.assertEqual(
            (taken.colour, taken.circuit, taken.known), ("blue", "park brake", "other car")
        )
        self.assertIn("Taken over from 0398, known from another car", self.said())
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertFalse([x for x in self.job.connectors[0].cavities if x.n == 11 and x.circuit])

    def test_arrows_walk_and_what_cannot_be_taken_says_why(self) -> None:
        page = self.opened()
        self.look_for(page, "pace unit C1")
        self.key(Qt.Key.Key_Down, page.field)
        self.key(Qt.Key.Key_Up, page.field)
        self.key(Qt.Key.Key_Return, page.field)
        pace = next(d for d in self.job.devices if d.id == "pace")
        self.assertEqual(pace.setting("SPEED"), "C1")
        self.assertEqual(provenance(self.job, "devices.pace.settings.SPEED.at"), "other car")
        self.key(Qt.Key.Key_Return, page.field)
        self.assertIn("stands at C1 already", self.said())
        self.look_for(page, "zzzz")
        self.assertIn("Nothing in the book has “zzzz”", self.texts(page))

    def test_a_lesson_is_written_and_causes_are_gone_by(self) -> None:
        page = self.opened()
        QTest.keyClicks(page._lesson, "The lever end is the left one")
        self.key(Qt.Key.Key_Return, page._lesson)
        self.assertEqual(self.job.lessons[-1].text, "The lever end is the left one")
        self.key(Qt.Key.Key_Return, page._lesson)
        self.assertIn("Say what the next one should know", self.said())
        self.press("Go by the causes that the shop found", page)
        self.assertTrue([f for f in self.job.house.figures if f.id.startswith("cause, ")])

    def test_a_job_is_moved_by_keys_and_by_hand_and_left_to_the_planner(self) -> None:
        page = self.opened()
        week = page.week
        week.setFocus()
        number = week._chosen
        before = next(s for s in page._stays if s.number == number)
        self.key(Qt.Key.Key_Right, week)
        self.key(Qt.Key.Key_Left, week)
        QTest.keyClick(week, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
        self.assertIn(f"{number} moved by hand", self.said())
        after = next(s for s in page._stays if s.number == number)
        self.assertGreater(after.day, before.day)
        self.assertTrue(after.moved)
        self.assertIn(f"{number} ", week.accessibleDescription())
        self.key(Qt.Key.Key_Delete, week)
        self.assertFalse(any(s.moved for s in page._stays))
        stay = page._stays[0]
        at = week._box(stay).center().toPoint()
        other = week._bay_box(0, 2 if stay.bay == 1 else 1).center().toPoint()
        QTest.mousePress(week, Qt.MouseButton.LeftButton, pos=at)
        QTest.mouseMove(week, other + QPoint(2, 2))
        QTest.mouseRelease(week, Qt.MouseButton.LeftButton, pos=other)
        moved = next(s for s in page._stays if s.number == stay.number)
        self.assertNotEqual(moved.bay, stay.bay)
        self.press("One bay less", page)
        self.assertEqual({s.bay for s in page._stays}, {1})
        self.press("Leave all to the planner", page)
        self.press("One bay more", page)
        self.assertIn("2 bays", page._week_head.text())

    def test_files_of_the_book(self) -> None:
        page = self.opened()
        self.press("What to order, and the stock", page)
        dialog = self.dialog()
        line = next(
            i
            for i in range(dialog.table.rowCount())
            if dialog.table.item(i, 0).text() == "blade fuse 1 A"
        )
        need = float(dialog.table.item(line, 3).text())
        dialog.table.item(line, 2).setText("many")
        self.assertIn("“many” is no count of blade fuse 1 A", self.texts(dialog))
        line = next(
            i
            for i in range(dialog.table.rowCount())
            if dialog.table.item(i, 0).text() == "blade fuse 1 A"
        )
        dialog.table.item(line, 2).setText("1")
        rows = [
            [dialog.table.item(i, k).text() for k in range(6)]
            for i in range(dialog.table.rowCount())
        ]
        told = next(r for r in rows if r[0] == "blade fuse 1 A")
        self.assertEqual((told[2], float(told[3])), ("1", need - 1))
        self.press("Done", dialog)
        for name, act in (("week.ics", page._save_ics), ("o.csv", page._save_orders)):
            path = self.home / name
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
                act()
            self.assertGreater(path.stat().st_size, 100)
        page.files.back_up(self.home / "shop.zip")
        self.wait(lambda: not page.background.busy, 60)
        self.assertIn("each was read again and is whole", self.said())
        page.files.restore(self.home / "shop.zip")
        self.wait(lambda: not page.background.busy, 60)
        self.assertIn("0 files put back", self.said())
        page.files.restore(Path(__file__))
        self.wait(lambda: not page.background.busy, 60)
        self.assertIn("no backup", self.said())
        share = self.home / "share.zip"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(share), "")):
            self.key(Qt.Key.Key_F8, page)
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(share), "")):
            self.key(Qt.Key.Key_F9, page)
        self.wait(lambda: not page.background.busy, 60)
        dialog = self.dialog()
        self.assertIn("From Saltmarsh Instrument Works", self.texts(dialog))
        self.assertIn("nothing is written yet", self.texts(dialog))
        self.press("Take what is chosen", dialog)
        self.wait(lambda: not page.background.busy, 60)
        self.assertIn("1 taken", self.said())
        page.files.add_folder(self.home / "nowhere")
        self.wait(lambda: not page.background.busy, 60)
        self.assertIn("There is no folder", self.said())


if __name__ == "__main__":
    unittest.main()
