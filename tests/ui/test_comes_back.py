"""What came up on other jobs is told where a device is added; a cause that was found is kept."""

from __future__ import annotations

import unittest

from PySide6.QtWidgets import QLabel

from tests.ui.base import WindowTest
from zombrel.catalog.sheets import shelf


class ComesBack(WindowTest):
    def test_a_device_that_made_trouble_before_says_so(self) -> None:
        page = self.go("survey")
        self.wait(lambda: not page.back.waiting)
        self.settle()
        told = [w.text() for w in page.back.findChildren(QLabel)]
        self.assertTrue(any("LED lamps without a relay" in x for x in told), told)
        sheet = next(s for s in shelf()[0] if s.id == "ardle-g2")
        page.add_device(sheet)
        self.wait(lambda: not page.back.waiting)
        self.settle()
        self.assertNotIn("Comes back", self.said())  # it came up once only
        pace = next(d for d in self.job.devices if d.id == "pace")
        page._drop(pace)
        self.settle()
        self.wait(lambda: not page.back.waiting)
        page.add_device(pace.sheet)
        self.settle()
        self.wait(lambda: "Comes back: LED lamps without a relay" in self.said())

    def test_a_cause_that_was_found_is_written_down(self) -> None:
        view = self.go("prove:wrong/blend-ecu").explain
        view.true.setText("27")
        view.shown.setText("67")
        view.add_pair()
        self.settle()
        for _ in range(12):
            answers = [b for b in self.buttons(view) if b.startswith("It is: ")]
            if not answers:
                break
            self.press(answers[0], view)
            self.settle()
        was = [b for b in self.buttons(view) if b.startswith("It was: ")]
        self.assertTrue(was, self.texts(view))
        self.press(was[0], view)
        (made,) = self.job.met
        self.assertEqual((made.kind, made.id), ("cause", "cause blend-ecu"))
        self.assertIn("the job book counts it", self.said())

    def buttons(self, view: object) -> list[str]:
        from PySide6.QtWidgets import QAbstractButton

        return [b.accessibleName() for b in view.findChildren(QAbstractButton) if b.isVisible()]  # type: ignore[attr-defined]


if __name__ == "__main__":
    unittest.main()
