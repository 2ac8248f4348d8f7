"""Photos in the window: added, drawn on by keys and by mouse, bound, found again."""

from __future__ import annotations

import unittest
from unittest import mock

from PIL import Image
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QFileDialog, QLineEdit, QTableView

from tests.ui.base import WindowTest


class Photos(WindowTest):
    def add(self, *names: str) -> None:
        for i, name in enumerate(names):
            if name.endswith(".txt"):
                (self.home / name).write_text("words")
            else:
                Image.new("RGB", (400, 300), (40 * i, 90, 120)).save(self.home / name)
        paths = [str(self.home / n) for n in names]
        page = self.window.page("handover")
        with mock.patch.object(QFileDialog, "getOpenFileNames", return_value=(paths, "")):
            self.press("Add photos", page)
        self.wait(lambda: not page.photos.background.busy)

    def test_a_photo_is_added_to_a_wire_and_drawn_on(self) -> None:
        self.go("wire:W4")
        table = self.named(QTableView, "Wires")
        self.key(Qt.Key.Key_O, table)
        page = self.window.page("handover")
        self.add("chafed.jpg", "words.txt")
        self.assertIn("words.txt is neither a JPEG nor a PNG", self.said())
        self.assertEqual([(p.id, p.at) for p in self.job.photos][1:], [("F2", "wires.W4")])
        canvas = page.photos.canvas
        canvas.setFocus()
        self.key(Qt.Key.Key_A, canvas)
        self.key(Qt.Key.Key_Right, canvas)
        self.key(Qt.Key.Key_Right, canvas)
        self.key(Qt.Key.Key_A, canvas)
        self.key(Qt.Key.Key_N, canvas)
        arrow, number = self.job.photos[1].marks
        self.assertEqual((arrow.kind, number.kind), ("arrow", "number"))
        self.assertAlmostEqual(arrow.x - arrow.from_x, 0.02)
        middle = QPoint(canvas.width() // 2, canvas.height() // 2)
        QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=middle)
        QTest.mouseMove(canvas, middle + QPoint(40, 30))
        QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=middle + QPoint(40, 30))
        drawn = self.job.photos[1].marks[2]
        self.assertEqual(drawn.kind, "arrow")
        self.assertGreater(drawn.x, drawn.from_x)
        self.settle()
        field = self.named(QLineEdit, "What arrow 1 points at", page)
        QTest.keyClicks(field, "through to the copper")
        self.key(Qt.Key.Key_Return, field)
        self.assertEqual(self.job.photos[1].marks[0].words, "through to the copper")
        self.press("Take number 2 off", page)
        self.assertEqual([m.kind for m in self.job.photos[1].marks], ["arrow", "arrow"])
        note = self.named(QLineEdit, "Note on this photo", page)
        QTest.keyClicks(note, "behind the pedal box")
        self.key(Qt.Key.Key_Return, note)
        shows = self.named(QComboBox, "What the photo shows", page)
        shows.setCurrentText("Dash")
        shows.activated.emit(shows.currentIndex())
        self.assertEqual(self.job.photos[1].at.partition(".")[0], "zones")
        self.assertEqual(self.job.photos[1].note, "behind the pedal box")
        self.press("Take this photo out of the job", page)
        self.assertEqual(len(self.job.photos), 1)
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual(len(self.job.photos), 2)

    def test_an_empty_job_says_what_to_do_and_a_cavity_leads_to_its_photo(self) -> None:
        page = self.go("handover:photos/connectors.D2.27")
        canvas = page.photos.canvas
        self.assertIn("cavity 27: brake lamps", canvas.accessibleDescription())
        self.assertFalse(canvas.grab().toImage().isNull())
        self.session.start(type(self.job)())
        page = self.go("handover:photos")
        self.assertIn("No photo yet", page.photos.canvas.accessibleDescription())


if __name__ == "__main__":
    unittest.main()
