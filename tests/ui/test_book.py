"""The job book in the window: found, taken over by keys, planned by hand, backed up."""

from __future__ import annotations

import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QFileDialog, QLineEdit, QPushButton

from tests.demo import apply
from tests.server import running
from tests.ui.base import WindowTest
from zombrel.job.edits import Put
from zombrel.job.ledger import provenance
from zombrel.job.records.kept_plug import KeptPlug
from zombrel.store.book.book import Book
from zombrel.store.book.shared import Shared
from zombrel.store.plug_library import keep_plug


class JobBook(WindowTest):
    def opened(self) -> Any:
        self.key(Qt.Key.Key_9, self.window, ctrl=True)
        page = self.window.page("book")
        self.wait(lambda: page._asked is not None and not page.background.busy)
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
        self.wait(lambda: not page.background.busy and not page._soon.isActive())
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
        self.press("Who works in which bay, and the helper's days", page)
        dialog = self.dialog()
        self.named(QLineEdit, "Who works in bay 1", dialog).setText("Ada")
        self.named(QLineEdit, "Working days from an order to its parts", dialog).setText("soon")
        self.press("Keep it", dialog)
        self.assertIn("“soon” is no count of days", self.texts(dialog))
        self.named(QLineEdit, "Working days from an order to its parts", dialog).setText("5")
        self.named(QCheckBox, "The helper is there on Mon", dialog).setChecked(True)
        self.press("Keep it", dialog)
        self.assertEqual((page._shop.lead_days, page._shop.helper_days), (5, (0, 3)))
        self.assertIn("Ada", week.accessibleDescription())
        self.press("Leave all to the planner", page)
        self.press("One bay more", page)
        self.assertIn("2 bays", page._week_head.text())

    def on_server(self, page: Any) -> str:
        """The book moves to a server, once an address answers."""
        address = running().database("zombrel_ui")
        self.assertFalse(page.together.isVisible())
        self.key(Qt.Key.Key_F10, page)
        dialog = self.dialog()
        dialog.address.setText("postgresql://nobody@127.0.0.1:1/none")
        self.press("Try it and take it", dialog)
        self.wait(lambda: "cannot be reached" in self.texts(dialog))
        dialog.address.setText(address)
        self.press("Try it and take it", dialog)
        self.wait(lambda: "The book lies at" in self.said())
        self.wait(lambda: not page.background.busy)
        self.settle()
        return address

    def test_a_job_that_two_bays_work_on(self) -> None:
        page = self.opened()
        address = self.on_server(page)
        card = page.together
        self.assertTrue(card.isVisible())
        card._who.setText("Ada")
        card._place.setText("bay 1")
        card._named()
        self.press("Put this job where the other bays have it", page)
        self.wait(lambda: self.job.shared == "1.1")
        with Book.opened(where=address) as book:
            other = Shared(book)
            _, theirs = other.fetch(1)
            other.hold(1, "devices.hub", "Ben", "bay 2", "10:00")
            theirs = apply(theirs, Put(path="vehicle.tyre", value="195/65 R15"))
            other.send(1, 1, theirs, "Ben", "2026-11-27 10:01")
        self.session.do("pace", Put(path="devices.pace.settings.SPEED.at", value="C1"))
        self.wait(lambda: "devices.pace: Ada" in card._words.text())
        self.session.do("hub", Put(path="devices.hub.name", value="Hub"))
        self.wait(lambda: "Ben has devices.hub in hand at bay 2" in self.said())
        self.press("Bring both works together", page)
        self.wait(lambda: self.job.shared == "1.3")
        self.assertEqual(self.job.vehicle.tyre, "195/65 R15")
        self.assertEqual([d.setting("SPEED") for d in self.job.devices if d.id == "pace"], ["C1"])
        self.assertEqual([d.name for d in self.job.devices if d.id == "hub"], ["Gauge hub"])
        self.assertIn("Yours is kept beside theirs", self.said())
        self.session.undo()
        self.assertEqual(self.job.shared, "1.1")  # taken back, it goes on from the old version
        self.session.redo()
        with Book.opened(where=address) as book:
            self.assertIn("Hub", Shared(book).aparts(1)[0]["mine"])
            self.assertEqual([h.part for h in Shared(book).holds(1)], ["devices.hub"])
        self.key(Qt.Key.Key_F11, page)
        self.wait(lambda: not page.background.busy)
        dialog = self.dialog()
        self.assertIn("number 1, version 3, Ada", self.texts(dialog))
        self.assertIn("Kept beside the open job", self.texts(dialog))
        self.press("Take devices.hub over from Ben", dialog)
        self.wait(lambda: "devices.hub is in your hand now" in self.said())
        self.key(Qt.Key.Key_F11, page)
        self.wait(lambda: not page.background.busy)
        dialog = self.dialog()
        self.assertIn("devices.hub: Ada, bay 1", self.texts(dialog))
        path = self.home / "fetched.zjob"
        self.session.save(self.home / "mine.zjob")
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            self.press("Fetch 0412, number 1", dialog)
        self.wait(lambda: self.session.path == path)
        self.assertEqual(self.job.shared, "1.3")

    def test_who_may_change_the_house_rules_is_said_in_the_window(self) -> None:
        page = self.opened()
        self.key(Qt.Key.Key_F12, page)
        self.assertIn("only a server tells people apart", self.said())
        self.on_server(page)
        self.key(Qt.Key.Key_F12, page)
        self.wait(lambda: not page.background.busy)
        dialog = self.dialog()
        self.assertIn("Nobody is named, so everybody may", self.texts(dialog))
        self.press("May change the house rules", dialog)
        self.assertIn("Type a name first", self.texts(dialog))
        for typed, asked, words in (
            ("eve", "Let this account work with the book", "knows no account “eve”"),
            ("Ada", "May change the house rules", "Ada"),
        ):
            dialog.name.setText(typed)
            self.press(asked, dialog)
            self.wait(lambda: not dialog.background.busy)
            self.settle()
            self.assertIn(words, self.texts(dialog))
        self.press("Ada may not change the house rules any more", dialog)
        self.wait(lambda: not dialog.background.busy)
        self.assertIn("Nobody may not say who changes the house rules", self.texts(dialog))

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
        self.wait(lambda: not page.background.busy)
        self.assertIn("each was read again and is whole", self.said())
        page.files.restore(self.home / "shop.zip")
        self.wait(lambda: not page.background.busy)
        self.assertIn("0 files put back", self.said())
        page.files.restore(Path(__file__))
        self.wait(lambda: not page.background.busy)
        self.assertIn("not a backup", self.said())
        page.files.add_folder(self.home / "nowhere")
        self.wait(lambda: not page.background.busy)
        self.assertIn("There is no folder", self.said())

    def test_what_goes_to_another_shop_and_comes_from_one_is_chosen(self) -> None:
        page = self.opened()
        share = self.home / "share.zip"
        job = self.session.history.present
        keep_plug(KeptPlug(id="pedal", marque="Brackwell", connector=job.connectors[0]))
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(share), "")):
            self.key(Qt.Key.Key_F8, page)
            dialog = self.dialog()
            self.assertIn("without the owner's name", self.texts(dialog))
            boxes = dialog.findChildren(QCheckBox)
            self.assertEqual([b.isChecked() for b in boxes], [True, False])
            self.assertIn("Pin-out: ", boxes[1].text())
            boxes[0].click()
            self.assertFalse(self.named(QPushButton, "Write it…", dialog).isEnabled())
            boxes[0].click()
            boxes[1].click()
            self.press("Write it…", dialog)
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(share), "")):
            self.key(Qt.Key.Key_F9, page)
        self.wait(lambda: not page.background.busy)
        dialog = self.dialog()
        self.assertIn("From Saltmarsh Instrument Works", self.texts(dialog))
        self.assertIn("nothing is written yet", self.texts(dialog))
        self.press("Take what is chosen", dialog)
        self.wait(lambda: not page.background.busy)
        self.assertIn("1 taken", self.said())


if __name__ == "__main__":
    unittest.main()
