"""Fitting on the real window: a device screwed down, a hose laid, a thread, the kit ticked."""

from __future__ import annotations

import unittest

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit, QPlainTextEdit

from tests.ui.base import WindowTest
from zombrel.job.model import by_id
from zombrel.ui.wire.fitting.page import FittingPage


class Fitting(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.go("wire:fit")
        self.page = self.window.findChildren(FittingPage)[0]

    def say(self, name: str, text: str) -> None:
        self.type(self.named(QLineEdit, name, self.page), text)
        self.settle()

    def test_a_device_is_screwed_down_and_the_wrong_screw_is_found(self) -> None:
        self.press("Pace unit")
        self.arrow(self.named(QComboBox, "Fixed by", self.page), "screws")
        self.assertIn("Not known yet", self.texts(self.page))
        for name, text in (
            ("Panel is thick", "1.2"),
            ("Free behind it", "14"),
            ("Under their heads", "1/8 in"),
            ("Screws at hand", "25"),
        ):
            self.say(name, text)
        self.assertIn("A screw of 25 mm reaches what lies behind; 10 mm", self.texts(self.page))
        self.assertIn("mount-pace", self.findings())
        self.press("Take screws of 10 mm")
        self.assertNotIn("mount-pace", self.findings())
        self.assertIn("Drill 4.5 mm with a stop", self.texts(self.page))
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertIn("mount-pace", self.findings())

    def test_a_fuel_hose_from_nothing(self) -> None:
        self.page.add_hose("fuel")  # its menu is native
        self.settle()
        self.assertIn("Nobody has said its bore", self.texts(self.page))
        self.arrow(self.named(QComboBox, "From: where", self.page), "Underbody rear")
        self.arrow(self.named(QComboBox, "To: where", self.page), "Bay left")
        self.arrow(self.named(QComboBox, "Made of", self.page), "coolant rubber")
        for name, text in (("Bore", "8"), ("at its start", "8"), ("at its end", "10 mm")):
            self.say(name, text)
        said = self.texts(self.page)
        self.assertIn("Coolant rubber hose is not for fuel; injection fuel rubber does", said)
        self.assertIn("step adapter 8 mm to 10 mm", said)
        self.assertIn("extinguisher at hand", said)
        self.press("Take injection fuel rubber")
        self.press("A clamp at each end")
        self.assertIn("Nothing that is known stands against it", self.texts(self.page))
        self.assertTrue(by_id(self.job.hoses, "H1"))
        self.press("Take this hose out")
        self.assertFalse(self.job.hoses)

    def test_a_thread_and_its_adapter(self) -> None:
        self.press("Oil pressure sender")
        self.arrow(self.named(QComboBox, "Its thread", self.page), "1/8-27 NPT")
        self.arrow(self.named(QComboBox, "Thread of the hole", self.page), "M10×1")
        self.assertIn("it starts by hand, then binds", self.texts(self.page))
        self.press("Take the adapter")
        self.assertIn("adapter M10×1 outside, 1/8-27 NPT inside", self.texts(self.page))
        self.assertNotIn("thread-oil", self.findings())

    def test_the_kit_is_ticked_and_what_lacks_is_found(self) -> None:
        self.press("What the kit holds")
        self.assertNotIn("kit", self.findings())
        self.press("All of it is there")
        self.assertIn("All is there.", self.texts(self.page))
        self.press("Not there: Pace unit")
        self.assertIn("1 of ", self.texts(self.page))
        self.assertIn("The kit lacks 1 part", self.findings()["kit"].title)
        self.say("There: Pace unit", "1")
        self.assertNotIn("kit", self.findings())

    def test_a_retrofit_by_function_with_its_counts_noted(self) -> None:
        self.page.add_retrofit()
        self.settle()
        self.arrow(self.named(QComboBox, "Its plug", self.page), "B4, Bulkhead connector B4")
        lines = self.named(QPlainTextEdit, "What it shall do", self.page)
        lines.setFocus()
        QTest.keyClicks(lines, "Lamps: brake lamps, lights, set switch")
        QTest.keyClick(lines, Qt.Key.Key_Tab)
        self.settle()
        said = self.texts(self.page)
        self.assertIn("Lamps: lacks 1", said)
        self.assertIn("set switch: the paper of its plug has no such pin", said)
        self.arrow(self.named(QComboBox, "It counts and shows", self.page), "distance")
        self.assertIn("note the distance before it is parted", self.texts(self.page))
        self.say("The car shows, before", "112000 mi")
        self.assertNotIn("retrofit-R1-noted", self.findings())
        self.assertAlmostEqual(self.job.retrofits[0].car_m or 0, 112000 * 1609.344, 0)
        self.go("prove:kept-R1")
        self.assertIn("180", self.texts())
        self.assertIn("an offence", self.texts())

    def test_two_cavities_are_drawn_together_by_hand(self) -> None:
        self.session.open_demo("0409")
        page = self.go("wire:remap").page("remap")
        self.key(Qt.Key.Key_F, page)
        facing = page.facing
        self.assertTrue(facing.isVisible())
        old = len(page.lead.rows)
        start, end = facing._faces["E26"], facing._faces["E40"]
        a, b = (v.cell(n).center().toPoint() for v, n in ((start, 12), (end, 40)))
        QTest.mousePress(start, Qt.MouseButton.LeftButton, pos=a)
        QTest.mouseMove(start, a + QPoint(8, -8))
        goal = start.mapFromGlobal(end.mapToGlobal(b))
        QTest.mouseRelease(start, Qt.MouseButton.LeftButton, pos=goal)
        self.settle()
        self.assertEqual(len(page.lead.rows), old + 1)
        self.assertEqual({page.lead.rows[-1].a, page.lead.rows[-1].b}, {"E26.12", "E40.40"})
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual(len(page.lead.rows), old)
        facing._faces["V52"].choose(9)  # by keys: J here, J there
        self.key(Qt.Key.Key_J, facing._faces["V52"])
        facing._faces["E40"].choose(8)
        self.key(Qt.Key.Key_J, facing._faces["E40"])
        self.assertIn(("V52.9", "E40.8"), [(r.a, r.b) for r in page.lead.rows])


if __name__ == "__main__":
    unittest.main()
