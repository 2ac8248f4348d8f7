"""Answers as people give them at a step, and what several signals say together."""

from __future__ import annotations

import unittest

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox

from tests.ui.base import WindowTest
from zombrel.actions.searches import keep, search_of, with_pairs


class Answers(WindowTest):
    def answer(self, step: str, *words: str) -> str:
        """Type into the fields of a step and take it, by keys alone."""
        page = self.go(f"prove:{step}")
        for field, word in zip(page._fields, words, strict=True):
            field.edit.setFocus()
            field.edit.selectAll()
            QTest.keyClicks(field.edit, word)
            self.key(Qt.Key.Key_Return, field.edit)
        self.settle()
        return next((p.verdict for p in reversed(self.job.proofs) if p.step == step), "")

    def test_a_contact_is_open_or_closed(self) -> None:
        self.session.open_demo("0413")
        self.mend_all()
        page = self.go("prove:hold-park")
        self.assertIn("in ohms over 11.0", self.texts(page))
        self.assertIn("Or plug off, key off", self.texts(page))
        self.assertEqual(self.answer("hold-park", "open", "closed"), "pass")
        self.assertEqual(self.answer("hold-handle", "12.4", "120ohm"), "pass")
        self.assertEqual(self.answer("hold-handle", "closed", "open"), "fail")
        self.assertIn("The contact rests the other way", self.texts(page))
        self.assertEqual(self.answer("hold-brake-idle", "0.1", "12.4"), "pass")
        lamp = self.go("prove:hold-brake-idle")  # it closes to the supply: volts only
        self.assertNotIn("Or plug off", self.texts(lamp))

    def test_a_cancel_line_wants_its_ohms_and_not_one_more(self) -> None:
        self.mend_all()
        self.assertEqual(self.answer("brake-brake-pace", "60ohm", "12.5"), "fail")
        self.assertEqual(self.answer("brake-brake-pace", "30ohm", "12.5"), "pass")

    def test_the_next_change_of_a_pump(self) -> None:
        self.session.open_demo("0413")
        self.mend_all()
        page = self.window.page("road")
        page.reported.refresh()
        box = page.reported.report
        words = [box.itemText(i) for i in range(box.count())]
        self.assertIn("Pump driver: It gets hotter pull by pull", words)
        self.assertIn("High-idle coder: It lurches when put in gear at raised idle", words)
        box.setCurrentText("Pump driver: It gets hotter pull by pull")
        page.reported.refresh()
        page.reported.take()
        pump = next(d for d in self.job.devices if d.id == "pump")
        self.assertEqual(pump.setting("LEAST"), "3")
        self.assertIn("least duty: 2 → 3", self.job.trials[0].change)

    def test_two_signals_of_one_device_are_weighed_together(self) -> None:
        self.mend_all()
        alone = self.led("temp-hub", [(70.0, 58.0)])
        self.assertNotIn("weighed together", alone)
        both = self.led("oil-hub", [(100.0, 185.0), (400.0, 475.0)])
        self.assertIn("weighed together with Coolant on Gauge hub", both)
        view = self.window.page("prove").explain
        low, high = view._range(view._case, [])
        self.assertLess(low, 100.0)  # what was read lies on the drawing
        self.assertGreater(high, 400.0)
        box = self.named(QComboBox, "Which signal reads wrong", view)
        self.assertIn("Oil pressure on Gauge hub", box.currentText())

    def led(self, chain: str, pairs: list[tuple[float, float]]) -> str:
        s = self.session
        s.do("pairs", keep(s.history.present, with_pairs(search_of(s.job, chain), pairs)))
        page = self.go(f"prove:wrong/{chain}")
        page.explain.refresh()
        self.settle()
        return self.texts(page.explain)


if __name__ == "__main__":
    unittest.main()
