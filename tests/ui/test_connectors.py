"""A connector drawn, filled from paper and looked into, on the real window of an empty job."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit, QPlainTextEdit

from tests.ui.base import WindowTest
from zombrel.harness.plugs import face
from zombrel.job.wiring import Connector
from zombrel.ui.wire.faces import FacesPage


class Connectors(WindowTest):
    demo = False

    def page(self) -> FacesPage:
        self.go("wire:faces/")
        return self.window.findChildren(FacesPage)[0]

    def test_from_nothing_to_a_face_that_was_looked_into(self) -> None:
        page = self.page()
        self.assertIn("No connector is drawn yet", self.texts(page))
        self.press("Draw a connector", page)
        dialog = self.dialog()
        for name, text in (("Name", "Dash plug"), ("Rows", "2"), ("Cavities in a row", "6")):
            self.type(self.named(QLineEdit, name, dialog), text)
            self.settle()
        self.assertIn("12 cavities", self.texts(dialog))
        self.type(self.named(QLineEdit, "Cavities in a row", dialog), "0")
        self.assertIn("at least 1", self.texts(dialog))
        self.type(self.named(QLineEdit, "Cavities in a row", dialog), "6")
        self.settle()
        box = self.named(QComboBox, "Numbers run", dialog)
        box.setCurrentIndex(2)
        box.activated.emit(2)
        self.settle()
        self.press("Keep", dialog)
        c = self.job.connectors[0]
        self.assertEqual((c.name, c.rows, c.columns), ("Dash plug", 2, 6))
        self.assertEqual(c.numbering, "forth and back")
        self.paper_and_eyes(page, c)
        page.take_out(self.job.connectors[0])
        self.settle()
        self.assertEqual(self.job.connectors, ())
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual(len(self.job.connectors), 1)

    def paper_and_eyes(self, page: FacesPage, c: Connector) -> None:
        page.paste_paper(c)
        paper = self.dialog()
        table = self.named(QPlainTextEdit, "Pin-out, one cavity a line", paper)
        table.setPlainText("cavity;colour;circuit\n3;green/white;brake lamps\n13;red;feed")
        self.assertIn("“13” is no cavity of Dash plug", self.texts(paper))
        table.setPlainText("cavity;colour;circuit\n3;green/white;brake lamps\n5;red;feed")
        self.assertIn("2 cavities are understood", self.texts(paper))
        self.press("Keep", paper)
        page.face.choose(3)
        self.settle()
        self.assertIn("on paper only", self.texts(page))
        self.assertIn("10 not looked into", self.texts(page))

        page.face.setFocus()
        QTest.keyClick(page.face, Qt.Key.Key_E)
        self.settle()
        self.assertIn("Seen empty; on paper green/white, brake lamps", self.texts(page))
        self.assertIn("not what was seen", self.texts(page))
        page.face.choose(5)
        page.face.setFocus()
        QTest.keyClick(page.face, Qt.Key.Key_S)
        self.settle()
        self.type(self.named(QLineEdit, "Colour that was seen", page), "red/black")
        self.settle()
        self.assertIn("not what was seen", self.texts(page))
        self.press("The other 10 not noted are empty", page)
        c = self.job.connectors[0]
        self.assertEqual(len(face.vacant(c)), 11)
        self.assertEqual(face.state(c, 5), "occupied")
        for _ in range(4):
            self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertIn("on paper only", face.words(self.job.connectors[0], 3))
