"""A connector drawn, filled from paper and looked into, on the real window of an empty job."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit, QPlainTextEdit

from tests.ui.base import WindowTest
from zombrel.harness.plugs import face
from zombrel.job.ledger import provenance
from zombrel.job.model import Job, Vehicle
from zombrel.job.wiring import Connector
from zombrel.ui.wire.plugs.earlier_faces import earlier
from zombrel.ui.wire.plugs.faces import FacesPage


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


class Changing(WindowTest):
    def test_a_swap_is_planned_made_metered_and_taken_back(self) -> None:
        self.session.open_demo("0409")
        self.go("wire:faces/E26.3")
        page = self.window.findChildren(FacesPage)[0]
        self.press("swap at cavity 3", page)
        self.assertIn("Say the other cavity", self.texts(page))
        self.type(self.named(QLineEdit, "The other cavity", page), "4")
        self.settle()
        self.assertIn("All out first: pull 2 terminals", self.texts(page))
        self.assertIn("The way back: 4 into 3; 3 into 4.", self.texts(page))
        self.press("It is made", page)
        self.assertIn("3 fan relay", self.circuits())
        self.press("Face before or after", page)
        self.assertIn("as it was found", self.texts(page))
        change = self.job.changes[-1]
        self.assertIn(f"change-{change.id}-unmetered", self.findings())
        self.type(self.named(QLineEdit, "What the meter showed", page), "0.2 ohm each")
        self.settle()
        self.assertEqual(self.job.changes[-1].state, "proven")
        self.assertIn("Metered: 0.2 ohm each", self.texts(page))
        self.press("Take it back on the car", page)
        self.assertIn("3 lambda heater", self.circuits())
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertIn("3 fan relay", self.circuits())

    def circuits(self) -> list[str]:
        plug = next(c for c in self.job.connectors if c.id == "E26")
        return [f"{x.n} {x.circuit}" for x in plug.cavities]

    def test_a_plug_of_an_earlier_job_is_offered_as_another_car_s(self) -> None:
        self.session.open_demo("0409")
        path = self.home / "before.zjob"
        self.session.save(path)
        self.session.start(Job(vehicle=Vehicle(name=self.job.vehicle.name)))
        self.go("wire:faces/")
        page = self.window.findChildren(FacesPage)[0]
        offers = earlier(self.session)
        self.assertIn("Car's 52-way plug, 52 ways, 35 named; job 0409", offers[0].words)
        page.take_over(offers[0])
        self.settle()
        (plug,) = self.job.connectors
        self.assertEqual(face.cavity(plug, 5).circuit, "crank +")
        self.assertEqual({x.seen for x in plug.cavities}, {""})  # nobody looked into this one
        self.assertEqual(provenance(self.job, "connectors.V52.cavities"), "other car")
        self.assertIn("seen on another car", self.texts(page))
        self.assertIn("count before use", self.job.ledger[-1].note)
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual((self.job.connectors, self.job.ledger), ((), ()))
