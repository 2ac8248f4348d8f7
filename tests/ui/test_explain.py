"""Something reads wrong: a whole search on the real window, by keys and by hand."""

from __future__ import annotations

import unittest

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QComboBox, QWidget

from tests.ui.base import WindowTest
from zombrel.actions.searches import search_of
from zombrel.job.edits import Put, apply
from zombrel.store.zjob import from_bytes, to_bytes


class Explaining(WindowTest):
    def pick(self, name: str, words: str, inside: QWidget) -> None:
        box = self.named(QComboBox, name, inside)
        box.setCurrentText(words)
        box.activated.emit(box.currentIndex())
        self.settle()

    def test_from_a_failed_step_to_the_cause(self) -> None:
        self.mend_all()
        page = self.go("prove:sensor-temp-hub")
        page.enter(["20", "2.6", "88", "63"])
        self.settle()
        self.assertIn("does not fit", self.said())
        self.assertIn("What explains it", self.texts(page))
        self.key(Qt.Key.Key_W, page)
        view = page.explain
        words = self.texts(view)
        self.assertIn("Coolant on Gauge hub reads wrong", words)
        self.assertIn("20 shown 2.6", words)  # what the step saw came along
        self.assertIn("Two pull-ups of the same kind", words)
        self.assertIn("None of these", words)
        self.assertIn("would show", words)
        self.key(Qt.Key.Key_1, view)  # the setting stands as noted: another curve is out
        sure = self.texts(view)
        self.assertIn("Unplug the other taker", sure)
        self.key(Qt.Key.Key_W, view)
        self.assertIn("In this order", self.texts(page))
        self.assertEqual(page._now, "sensor-temp-hub")

    def test_pairs_typed_tests_answered_and_taken_back(self) -> None:
        page = self.go("prove:wrong/tach-hub")
        view = page.explain
        self.assertIn("Enter what was true", self.texts(view))
        view.true.setFocus()
        QTest.keyClicks(view.true, "850")
        self.key(Qt.Key.Key_Return, view.true)
        QTest.keyClicks(view.shown, "1700")
        self.key(Qt.Key.Key_Return, view.shown)
        words = self.texts(view)
        self.assertIn("Engine speed on Gauge hub reads wrong", words)
        self.assertIn("Next test", words)
        lead = next(x for x in words.splitlines() if " min." in x)
        self.key(Qt.Key.Key_Q, view)  # that one cannot be reached: another is asked
        self.assertIn("Next test", self.texts(view))
        self.assertNotEqual(words.split(lead)[1][:40], self.texts(view).split("Next test")[1][:40])
        asked = self.texts(view)
        self.session.start(from_bytes(to_bytes(self.job)))  # another day
        self.settle()
        self.go("prove:wrong/tach-hub")
        self.assertEqual(self.texts(view), asked)
        self.press("Forget the tests", view)
        self.assertEqual(self.texts(view), words)
        self.session.undo()
        self.settle()
        self.assertEqual(self.texts(view), asked)
        self.session.redo()
        self.settle()
        moved = apply(self.job, Put(path="chains.tach-hub.source", value="coil"))
        self.assertEqual(search_of(moved, "tach-hub").pairs, ())  # of another signal by that name
        self.press("Take out pair 1", view)
        self.assertIn("Enter what was true", self.texts(view))
        view.add_pair()
        self.assertIn("A pair wants both", self.said())

    def test_a_complaint_is_an_entrance(self) -> None:
        page = self.go("prove:wrong/temp-hub")
        view = page.explain
        self.pick("What is said of it", "Double at low revs", view)
        self.assertEqual(
            self.job.chains[[c.id for c in self.job.chains].index(view.key)].quantity, "tach"
        )
        self.assertIn("counted", self.texts(view))
        self.pick("What is said of it", "Fans run with the key off", view)
        self.assertIn("Key out. Every switched supply must be dead.", self.texts(page))

    def test_nothing_works_since_yesterday(self) -> None:
        page = self.go("prove:wrong/temp-hub")
        self.pick("What is said of it", "Nothing works since yesterday", page.explain)
        view = page.outage
        self.assertIn("A device that is dead", self.texts(view))
        for name in ("□ Pace unit: not looked at", "□ Shift lamp: not looked at"):
            self.press(name, view)
        for _ in range(2):
            name = next(b for b in ("□ Gauge hub: not looked at", "◆ Gauge hub: dead")
                        if b in self.texts(view) or self.named_button(b, view))  # fmt: skip
            self.press(name, view)
        self.assertIn("Slot F7 or its fuse", self.texts(view).split("What it may be")[1][:60])
        self.assertIn("Meter at the battery posts", self.texts(view))  # a minute, and half is known
        self.key(Qt.Key.Key_1, view)
        self.assertIn("Meter at Slot F7, behind its fuse.", self.texts(view))
        self.key(Qt.Key.Key_2, view)
        self.assertIn("Sure enough", self.texts(view))
        self.key(Qt.Key.Key_W, view)
        self.assertIn("In this order", self.texts(page))

    def named_button(self, name: str, inside: QWidget) -> bool:
        return any(
            b.isVisible() and name in (b.accessibleName(), b.text())
            for b in inside.findChildren(QAbstractButton)
        )

    def test_nothing_to_read(self) -> None:
        self.session.start(type(self.job)())
        page = self.go("prove")
        self.key(Qt.Key.Key_W, page)
        self.assertIn("add one in Source", self.texts(page))


if __name__ == "__main__":
    unittest.main()
