"""Parts made in the form on the real window: typed, chosen, tried, kept, put into the job."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit, QPlainTextEdit

from tests.ui.base import WindowTest
from zombrel.job.sheet import Dials, Switches
from zombrel.store.prefs import user_sheets


class Form(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.page = self.go("shelf")
        self.form = self.page.form

    def fill(self, name: str, text: str) -> None:
        """Type into a field and leave it."""
        field = self.named(QLineEdit, name, self.form)
        self.type(field, text)
        self.settle()

    def choose(self, name: str, words: str) -> None:
        self.arrow(self.named(QComboBox, name, self.form), words)

    def test_a_device_from_nothing_tried_and_put_into_the_job(self) -> None:
        self.press("New device sheet", self.page)
        for name, text in (("Name", "Boost module"), ("Maker", "Ardle"), ("Kept under", "boost-1")):
            self.fill(name, text)
        self.assertIn("“Resets below”", self.texts(self.form))  # said to be missing
        self.fill("Resets below", "9 V")
        self.assertNotIn("a verdict hangs on it", self.texts(self.form))
        self.form.add_part("a speed input")
        self.settle()
        self.fill("Pin", "SPEED")
        self.fill("Counts from", "400 mV")
        self.fill("Follows up to", "2 kHz")
        self.assertIn("counts road speed; square, from 0.4 V, to 2.00 kHz", self.texts(self.form))
        self.assertIn("from Satellite receiver", self.texts(self.form))
        self.press("Shapes it takes: sine", self.form)
        self.assertIn("sine or square", self.texts(self.form))
        self.choose("Set by", "dials")
        self.assertIsInstance(self.form._record.inputs[0].setting, Dials)
        self.assertIn("set by two dials", self.texts(self.form))
        self.form.add_part("a supply")
        self.settle()
        self.fill("Pin", "POWER")
        self.fill("Draws at most", "1,2")
        self.press("Served by feeds live at: accessory", self.form)
        self.assertEqual(self.form._record.supplies[0].feeds, ("accessory", "run"))
        self.press("Keep this part", self.page)
        self.assertEqual([p.name for p in user_sheets().glob("*")], ["boost-1.json"])
        self.press("Add to this job", self.page)
        added = self.job.devices[-1]
        self.assertEqual((added.name, added.sheet.min_v), ("Boost module", 9.0))
        self.assertEqual(added.sheet.inputs[0].threshold_v, 0.4)
        self.form.open_pin(("inputs", 0))
        self.settle()
        self.choose("Set by", "bank that adds")
        self.press("Change it in this job", self.page)
        self.assertIsInstance(self.job.devices[-1].sheet.inputs[0].setting, Switches)
        self.assertEqual(len([d for d in self.job.devices if d.name == "Boost module"]), 1)

    def test_the_drawing_is_turned_and_the_reading_follows(self) -> None:
        self.page.select("device/ardle-p7")
        self.form.open_pin(("inputs", 0))
        self.settle()
        self.assertIn("0.2 % high", self.texts(self.form))
        touch = self.form.touch
        touch.setFocus()
        QTest.keyClick(touch, Qt.Key.Key_Up)  # one step of the coarse dial halves the reading
        self.settle()
        self.assertIn("49.9 % low", self.texts(self.form))
        self.assertIn("D1", touch.accessibleName())

    def test_what_cannot_be_stays_in_its_field_and_is_mended(self) -> None:
        self.page.select("device/ardle-p7")
        self.form.open_pin(("inputs", 0))
        self.settle()
        self.fill("Follows up to", "1,000")
        field = self.named(QLineEdit, "Follows up to", self.form)
        self.assertEqual(field.text(), "1,000")
        self.assertIn("can be 1 or 1000", field.refused)
        self.assertIn("can be 1 or 1000", self.said())
        self.fill("Follows up to", "900")
        self.assertEqual(self.named(QLineEdit, "Follows up to", self.form).refused, "")
        self.assertEqual(self.form._record.inputs[0].max_hz, 900.0)
        self.fill("Pin", "POWER")  # there is one already: sound in itself, not as a whole
        self.assertIn("is there 2 times", self.texts(self.page))
        self.assertFalse(self.page._keep.isEnabled())
        QTest.keyClick(self.form, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.settle()
        self.assertEqual(self.form._record.inputs[0].pin, "SPEED")
        self.press("Take the last change back", self.page)
        self.assertEqual(self.form._record.inputs[0].max_hz, 1000.0)
        self.assertIn("every field checked", self.texts(self.page))

    def test_what_cannot_be_together_is_told_by_its_labels(self) -> None:
        self.page.select("device/ardle-p7")
        self.form.open_pin(("inputs", 0))
        self.settle()
        self.choose("It is about", "coolant")
        self.assertIn("SPEED, It reads: coolant is read as ohm", self.texts(self.page))
        entry = self.form._entries["inputs", 0]
        self.assertIn("cannot be so, trouble", entry.accessibleName())
        self.choose("It reads", "reads ohms")
        self.assertIn("SPEED, Fixed curve: give the fixed curve", self.texts(self.page))
        self.choose("Set by", "curves")
        self.assertIn("SPEED, Pull-up inside: an input that reads ohms", self.texts(self.page))
        self.fill("Pull-up inside", "1k")
        self.assertIn("Sound; not kept yet", self.texts(self.page))
        self.assertNotIn("trouble", entry.accessibleName())

    def test_form_and_text_are_one_part(self) -> None:
        self.page.select("device/ardle-m7")
        self.form.open_pin(("inputs", 1))
        self.settle()
        table = self.named(QPlainTextEdit, "Switches and values", self.form)
        table.setFocus()
        table.setPlainText("000 = 4\n001 = 6\n010 = 8\n011 = 12")
        self.named(QLineEdit, "Pin", self.form).setFocus()
        self.settle()
        self.press("As text", self.page)
        self.assertIn("12.0", self.page.text.toPlainText())
        self.page.text.setPlainText("{")
        self.press("As a form", self.page)
        self.assertIn("Mend the text first", self.said())
        self.assertTrue(self.page.text.isVisible())

    def test_a_source_of_the_job_is_given_its_figures_before_it_is_used(self) -> None:
        self.go("survey")
        self.press("Figures of Propeller-shaft magnets")
        dialog, tried = self.dialog(), "Tried on this vehicle, {}, at 70 km/h"
        self.assertEqual(dialog._gives.accessibleName(), tried.format("148 Hz, 3.0 V"))
        self.type(self.named(QLineEdit, "Magnets", dialog), "3")
        self.settle()
        self.assertEqual(dialog._gives.accessibleName(), tried.format("111 Hz, 2.2 V"))
        self.type(self.named(QLineEdit, "Minutes to reach and join", dialog), "1 h")
        self.assertIn("Minutes to reach and join", self.texts(dialog))
        self.type(self.named(QLineEdit, "Minutes to reach and join", dialog), "60")
        self.settle()
        self.press("Keep", dialog)
        found = next(s for s in self.job.sources if s.name == "Propeller-shaft magnets")
        self.assertEqual((found.spec.magnets, found.minutes), (3, 60.0))  # type: ignore[union-attr]
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertNotEqual(next(s for s in self.job.sources if s.id == found.id), found)
