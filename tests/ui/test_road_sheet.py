"""A road test as two people do it: names, legs by single keys, a change and its way back."""

from __future__ import annotations

import unittest

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLineEdit

from tests.demo import proven
from tests.ui.base import WindowTest


class RoadSheet(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.session.start(proven())
        self.page = self.go("road:sheet").page("sheet")
        self.settle()

    def test_from_names_to_the_sign_off(self) -> None:
        self.assertIn("It takes two", self.texts(self.page))
        self.key(Qt.Key.Key_Space, self.page)
        self.assertIn("It takes two", self.said())
        self.type(self.named(QLineEdit, "Who drives"), "Ann")
        self.type(self.named(QLineEdit, "Who reads"), "Bo")
        self.settle()
        self.assertEqual((self.job.outing.driver, self.job.outing.reader), ("Ann", "Bo"))
        self.page.choose("leg-off-car")
        self.key(Qt.Key.Key_Space, self.page)
        self.assertIn("Brake lets go, Pace unit", self.texts(self.page))
        self.key(Qt.Key.Key_X, self.page)
        self.assertIn("Nothing else is driven before it does", self.texts(self.page))
        self.key(Qt.Key.Key_Down, self.page)
        self.assertIn("mend it and drive it again first", self.texts(self.page))
        self.key(Qt.Key.Key_Up, self.page)
        self.key(Qt.Key.Key_Space, self.page)
        for _ in range(2):  # what only a record can answer is left out, and named
            self.key(Qt.Key.Key_Space, self.page)
            self.assertIn("answered by its record", self.said())
            self.key(Qt.Key.Key_Q, self.page)
        self.key(Qt.Key.Key_Space, self.page)
        self.key(Qt.Key.Key_Space, self.page)
        self.assertIn("Left out: By satellite, Pace unit", self.texts(self.page))
        signer = self.named(QLineEdit, "Who signs the road test off")
        self.type(signer, "Cy")
        self.settle()
        self.assertIn("Signed off by Cy", self.texts(self.page))
        self.session.undo()
        self.settle()
        self.assertEqual(self.job.outing.signed, "")

    def test_a_name_half_typed_is_not_lost(self) -> None:
        field = self.named(QLineEdit, "Who drives")
        self.type(field, "An", enter=False)
        self.page.refresh()
        self.assertEqual(field.text(), "An")

    def test_a_change_and_its_way_back(self) -> None:
        page = self.go("road:drive")
        self.settle()
        told = page.reported
        told.report.setCurrentText(told.report.itemText(1))
        told.refresh()
        before = self.job.devices
        told.take()
        self.settle()
        self.assertNotEqual(self.job.devices, before)
        self.assertIn("say what came of it", self.texts(told))
        self.assertNotIn("take-up stands wrong", self.texts())  # it is being tried out
        self.press("No better: put it back", told)
        self.settle()
        self.assertEqual(self.job.devices, before)
        self.assertIn("no better, put back", self.texts(told))
        told.report.setCurrentText(told.report.itemText(1))
        told.refresh()
        told.take()
        self.settle()
        self.press("It is better", told)
        self.settle()
        self.assertEqual(self.job.trials[-1].result, "better")
        wanting = [f.title for f in self.session.assessment.findings if "stands wrong" in f.title]
        self.assertEqual(wanting, [])  # what the road decided is what is wanted
        self.assertEqual(self.job.wishes[-1].note.partition(",")[0], "better on the road")


if __name__ == "__main__":
    unittest.main()
