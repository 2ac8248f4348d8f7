"""The parts shelf on the real window: make, change, keep, use, throw away, bring back."""

from __future__ import annotations

import tempfile
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QTextCursor
from PySide6.QtTest import QTest

from tests.logs.test_bus import TEXT
from tests.ui.base import WindowTest
from zombrel.plan.tasks import tasks
from zombrel.store.prefs import user_sheets, user_sources
from zombrel.ui.set.cards import Entry


class Shelf(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        for folder in (user_sheets(), user_sources()):
            self.assertTrue(folder.is_relative_to(self.home), folder)
        self.page = self.go("shelf")
        self.page.show_as("text")

    def replace(self, old: str, new: str) -> None:
        """Find text in the editor and type over it."""
        editor = self.page.text
        cursor = editor.document().find(old)
        self.assertFalse(cursor.isNull(), old)
        editor.setTextCursor(cursor)
        editor.setFocus()
        QTest.keyClicks(editor, new)
        self.settle()

    def test_a_sheet_made_kept_and_used(self) -> None:
        page = self.page
        page.select("device/ardle-l2")
        self.assertIn("every field checked", self.texts(page))
        self.press("New from this", page)
        self.assertIn("Sound; not kept yet", self.texts(page))
        self.replace('"Shift lamp 2"', '"My lamp"')
        self.replace('"threshold_v": 3.0', '"threshold_v": -3')
        self.assertIn("inputs[0].threshold_v", self.texts(page))
        self.assertFalse(page._keep.isEnabled())
        self.replace('"threshold_v": -3', '"threshold_v": 2.5')
        page.show_as("form")
        page.form.add_part("a temperature input")
        self.settle()
        self.assertIn('"NEW"', page.text.toPlainText())
        page.show_as("text")
        self.press("Keep this part", page)
        self.assertEqual([p.name for p in user_sheets().glob("*")], ["ardle-l2-2.json"])
        entry = next(e for e in page.findChildren(Entry) if e.key == "device/ardle-l2-2")
        self.assertIn("My lamp: Ardle L2, yours", entry.accessibleName())
        self.press("Add to this job", page)
        added = self.job.devices[-1]
        self.assertEqual((added.name, added.sheet.inputs[0].threshold_v), ("My lamp", 2.5))
        self.assertIsNotNone(added.sheet.input("NEW"))
        self.replace('"My lamp"', '"My other lamp"')
        self.press("Keep this part", page)
        self.assertIn("My other lamp", (user_sheets() / "ardle-l2-2.json").read_text())
        self.press("Bring it back", page)
        self.assertNotIn("My other lamp", (user_sheets() / "ardle-l2-2.json").read_text())
        self.press("Throw mine away", page)
        self.assertEqual(list(user_sheets().glob("*.json")), [])
        self.press("Bring it back", page)
        self.assertEqual([p.name for p in user_sheets().glob("*")], ["ardle-l2-2.json"])

    def test_house_rules_are_the_jobs_and_weigh_the_finder(self) -> None:
        page = self.page
        page.select("house/rules")
        self.replace('"risk_weight": 1.0', '"risk_weight": 0.0')
        self.assertIn("Sound; not kept yet", self.texts(page))
        self.assertIn("usual 1", self.texts(page))
        self.press("Keep this part", page)
        self.assertEqual(self.job.house.risk_weight, 0.0)
        source = self.go("source:speed-pace")
        self.assertNotIn("Loses because of risk", self.texts(source))
        self.key(Qt.Key.Key_Z, self.window, ctrl=True)
        self.assertEqual(self.job.house.risk_weight, 1.0)
        self.go("shelf")
        page.select("house/rules")
        self.replace('"fuse_load": 0.75', '"fuse_load": -1')
        self.assertIn("fuse_load", self.texts(page))
        self.assertFalse(page._keep.isEnabled())

    def test_a_figure_of_the_trade_is_put_otherwise(self) -> None:
        page = self.page
        page.select("house/rules")
        self.settle()
        self.assertIn("minutes, mount\n20 min", self.texts(page))
        self.replace('"figures": []', '"figures": [{"id": "minutes, dreaming", "value": 1}]')
        self.assertIn("There is no figure “minutes, dreaming”", self.texts(page))
        self.assertFalse(page._keep.isEnabled())
        self.replace("minutes, dreaming", "clean stud")
        self.assertIn("not the shop's to decide", self.texts(page))
        self.replace('"clean stud", "value": 1', '"minutes, mount", "value": 55')
        self.assertIn("minutes, mount\n55 min\nusual 20", self.texts(page))
        self.press("Keep this part", page)
        minutes = {t.id: t.minutes for t in tasks(self.job)}
        self.assertEqual(minutes["mount hub"], 55)
        self.key(Qt.Key.Key_Z, self.window, ctrl=True)
        self.assertEqual({t.id: t.minutes for t in tasks(self.job)}["mount hub"], 20)

    def test_broken_text_loses_nothing(self) -> None:
        page = self.page
        page.select("source/propshaft")
        editor = page.text
        editor.moveCursor(QTextCursor.MoveOperation.End)
        QTest.keyClick(editor, Qt.Key.Key_Backspace)
        self.settle()
        self.assertIn("not complete JSON", self.texts(page))
        self.assertFalse(page._use.isEnabled())
        editor.undo()
        self.settle()
        self.assertIn("every field checked", self.texts(page))

    def test_a_source_goes_into_the_job(self) -> None:
        self.page.select("source/exhaust-k")
        self.press("Add to this job", self.page)
        self.assertEqual(self.job.sources[-1].quantity, "exhaust")
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertNotEqual(self.job.sources[-1].quantity, "exhaust")

    def test_diagnostic_connectors_and_their_mirror(self) -> None:
        page = self.page
        page.select("plug/DLC")
        self.settle()
        text = self.texts(page)
        for part in ("CAN", "6, 14", "ISO 15765-4", "7, 15", "Wire side, the mirror image"):
            self.assertIn(part, text)
        first = page.face._cell(1).center().x()
        self.press("Turn it round", page)
        self.assertIn("Mating face", self.texts(page))
        self.assertLess(page.face._cell(1).center().x(), first)  # cavity 1 is at the left there
        self.press("Add to this job", page)
        self.assertEqual(self.job.connectors[-1].id, "DLC")
        page.select("plug/DLC9")
        centre = page.face._shell().center()
        self.assertAlmostEqual(page.face._cell(9).center().x(), centre.x(), delta=1)

    def test_sources_from_a_bus_description(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "car.dbc"
            path.write_text(TEXT)
            self.page.read_bus(str(path))
            self.wait(lambda: not self.page.background.busy)
            self.settle()
        self.assertIn("3 of 4 values", self.said())
        self.assertEqual(len(list(user_sources().glob("bus-*.json"))), 3)
        self.page.read_bus("/nowhere/else.dbc")
        self.wait(lambda: not self.page.background.busy)
        self.assertIn("cannot be read", self.said())

    def test_no_stage_is_chosen_while_the_shelf_is_open(self) -> None:
        self.assertFalse(any(b.isChecked() for b in self.window.rail._buttons.values()))
        self.key(Qt.Key.Key_2, ctrl=True)
        self.assertTrue(self.window.rail._buttons["source"].isChecked())
        self.key(Qt.Key.Key_8, ctrl=True)
        self.assertIs(self.window._pages.currentWidget(), self.page)
