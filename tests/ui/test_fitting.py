"""Fitting on the real window: a device screwed down, a hose laid, a thread, the kit ticked."""

from __future__ import annotations

import unittest

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QLineEdit

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


if __name__ == "__main__":
    unittest.main()
