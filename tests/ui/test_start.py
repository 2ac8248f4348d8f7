"""The front door: from an empty window to a first number, by keys alone and by mouse."""

from __future__ import annotations

import re
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLineEdit, QWidget

from tests.ui.base import WindowTest
from zombrel.job.model import Job
from zombrel.ui.start.page import StartStage
from zombrel.ui.start.rows import QuestionRow

DEVICE = "What is fitted: type a device or its maker"


class Start(WindowTest):
    demo = False

    def setUp(self) -> None:
        super().setUp()
        self.page: StartStage = self.go("start")  # type: ignore[assignment]
        self.actions_counted = 0

    def typed(self, text: str) -> None:
        """Type into what has the keyboard and press Enter: two actions."""
        field = self.window.focusWidget()
        QTest.keyClicks(field, text)
        self.settle()
        self.key(Qt.Key.Key_Return, field)
        self.actions_counted += 2

    def test_six_actions_to_the_first_number(self) -> None:
        self.assertIn("New job", self.window._subtitle.text())
        self.assertIn("what it will see stands here", self.texts(self.page))
        self.assertFalse(self.window.rail._buttons["survey"].isVisible())
        self.typed("pace")
        self.assertEqual([d.id for d in self.job.devices], ["p7"])
        self.choose("Where does the road speed signal come from?", "Wheel tone ring")
        self.assertIn("tyre size is missing", self.texts(self.page.first))
        self.named(QLineEdit, "Tyres", self.page).setFocus()
        self.actions_counted += 1
        self.typed("205/60 R15")
        self.assertLessEqual(self.actions_counted, 6)
        self.assertIn("488 Hz", self.texts(self.page.first))  # 48 teeth over 1.912 m at 19.44 m/s
        self.press("Set it so", self.page.first)
        self.assertIn("B8", str(self.job.devices[0].setting("SPEED")))
        self.assertIn("SPEED", self.texts(self.page.first))

    def choose(self, name: str, words: str) -> None:
        """Pick from a list: one action."""
        box = self.named(QComboBox, name, self.page)
        box.setCurrentText(words)
        box.activated.emit(box.currentIndex())
        self.actions_counted += 1
        self.settle()

    def test_unknown_devices_are_refused_and_the_words_go_when_mended(self) -> None:
        self.typed("flux box")
        field = self.named(QLineEdit, DEVICE, self.page)
        self.assertEqual(field.text(), "flux box")
        self.assertIn("No device here is called", self.said())
        field.clear()
        self.typed("tachom")
        self.assertEqual([d.name for d in self.job.devices], ["Tachometer"])
        self.assertFalse(self.window._said.isVisible())
        self.press("Remove Tachometer", self.page)
        self.assertEqual(self.job.devices, ())
        self.key(Qt.Key.Key_Return, field)
        self.assertIn("Say first what is fitted", self.said())

    def test_enter_goes_from_question_to_question(self) -> None:
        self.typed("tachom")
        cylinders = self.named(QLineEdit, "Cylinders", self.page)
        cylinders.setFocus()
        self.typed("6")
        after = self.window.focusWidget()
        row = after.parentWidget()
        while row is not None and not isinstance(row, QuestionRow):
            row = row.parentWidget()
        assert row is not None  # the keyboard is in another question
        self.assertNotEqual(row.sheet.path, "vehicle.cylinders")
        self.assertEqual(self.job.vehicle.cylinders, 6)

    def test_the_best_for_every_input_says_what_it_could_not(self) -> None:
        self.typed("pace")
        self.press("Take the best source for every input", self.page)
        dialog = self.dialog()
        self.assertIn("2 still without", self.texts(dialog))
        self.assertIn("need not be joined: Pace unit COIL", self.texts(dialog))
        self.press("Take the usual: Brake switch, cold side", dialog)
        self.assertEqual([c.quantity for c in self.job.chains], ["brake"])
        self.assertIn("1 still without", self.texts(dialog))
        self.press("Choose another", dialog)
        self.assertEqual(self.window._stage, "survey")
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual(self.job.chains, ())

    def test_an_earlier_job_is_offered_with_its_facts(self) -> None:
        file = Path(self.home, "0412.zjob")
        self.session.open_demo()
        self.session.save(file)
        self.session.start(Job())
        self.go("start")
        self.named(QAbstractButton, "Open 0412 Curlew shooting-brake, Marsh", self.page)
        self.typed("tachom")
        name = self.named(QLineEdit, "Which vehicle: name or model", self.page)
        self.type(name, "Curlew estate")
        self.press("Like 0412", self.page)
        self.assertEqual(self.job.vehicle.cylinders, 6)
        self.assertEqual({e.rung for e in self.job.ledger}, {"other car"})
        self.assertIn("Tachometer in Curlew estate", self.window._subtitle.text())


class Fields(WindowTest):
    def test_undo_in_a_field_that_was_taken_undoes_the_job(self) -> None:
        page = self.go("survey")
        idle = self.named(QLineEdit, "Idle", page)
        self.type(idle, "900 rpm")
        self.assertEqual(idle.text(), "900")
        self.key(Qt.Key.Key_Z, idle, ctrl=True)
        self.assertAlmostEqual((self.job.vehicle.idle_rps or 0) * 60, 850)
        self.type(idle, "950", enter=False)  # still being typed
        self.window.files.save = lambda: True  # type: ignore[method-assign]
        self.window.take_field()
        self.assertAlmostEqual((self.job.vehicle.idle_rps or 0) * 60, 950)

    def test_units_are_followed_on_every_page(self) -> None:
        """In the other half's units no page says kilometres, metres, litres, mm² or °C."""
        import msgspec

        from zombrel.units import CUSTOMARY

        self.session.set_prefs(msgspec.structs.replace(self.session.prefs, units=CUSTOMARY))
        token = re.compile(r"\{[qdrv]:")
        metric = re.compile(r"\d[\d.,\u00a0]* ?(km/h|km\b|m\b|mm²|l\b|kg|N·m|°C|kPa|bar)(?![\w/])")
        stages = ["survey", "source", "set", "prove", "handover", "road", "wire:faces", "wire:work"]
        for where in [*stages, "wire:list", "wire:power", "wire:plan"]:
            page = self.go(where)
            found = [m[0] for m in metric.finditer(self.texts(page))]
            named = [w.accessibleName() for w in page.findChildren(QWidget)]
            tipped = [w.toolTip() for w in page.findChildren(QWidget)]
            raw = [t for t in (*named, *tipped, self.texts()) if token.search(t)]
            with self.subTest(where):
                self.assertEqual((found, raw), ([], []))

    def test_a_refused_field_keeps_its_text_and_its_mark_until_it_is_mended(self) -> None:
        page = self.go("survey")
        mass = self.named(QLineEdit, "Mass", page)
        self.type(mass, "1,900")
        self.assertEqual(mass.text(), "1,900")
        self.assertIn("1.9 or 1900", self.said())
        self.assertIn("which?", mass.accessibleDescription())
        self.session.do("something else", self.other())
        self.assertEqual(mass.text(), "1,900")  # what was typed is not written over
        self.type(mass, "4200 lb")
        self.assertAlmostEqual(self.job.vehicle.mass_kg or 0, 1905.09, delta=0.01)
        self.assertEqual(mass.accessibleDescription(), "")
        self.assertFalse(self.window._said.isVisible())
        self.session.next_units("mass", ("kg", "lb"))
        self.assertEqual(mass.text(), "4200")

    @staticmethod
    def other() -> object:
        from zombrel.actions.notes import put_fact

        return put_fact("vehicle.owner", "somebody")
