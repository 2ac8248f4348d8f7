"""Survey: a newcomer enters a car by keyboard, from nothing to a working signal."""

from __future__ import annotations

import json
import unittest

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLineEdit

from tests.ui.base import WindowTest
from zombrel.catalog.sheets import shelf
from zombrel.catalog.sources import templates
from zombrel.job.ledger import provenance
from zombrel.store.prefs import user_sheets
from zombrel.ui.survey.page import KnownButton


class FromNothing(WindowTest):
    demo = False

    def choose(self, page, name: str, words: str) -> None:  # type: ignore[no-untyped-def]
        box = self.named(QComboBox, name, page)
        box.setCurrentText(words)
        box.activated.emit(box.currentIndex())
        self.settle()

    def test_a_car_entered_by_hand_gets_its_signals(self) -> None:
        page = self.go("survey")
        self.assertIn("add the devices", page.subtitle)
        # devices and sources through the same doors the menus use
        page.add_device(next(s for s in shelf()[0] if s.model == "P7"))
        self.assertIn("missing", page.subtitle)
        self.assertIn("Not known yet", self.texts())
        self.named(QAbstractButton, "5 more of Engine", page)  # what a pace unit does not ask
        for name, text in (
            ("Tyres", "195/70 R15"),
            ("Final drive", "4.10"),
            ("Cylinders", "4"),
            ("Idle", "800"),
            ("Redline", "4600"),
            ("Ratios", "2.8 1.5 1.0 0.73"),
            ("Vehicle", "Brackwell Heron"),
        ):
            self.type(self.named(QLineEdit, name, page), text)
        self.choose(page, "Ignition", "diesel, none")
        self.choose(page, "Tail lamps", "bulbs")
        self.assertEqual(self.job.vehicle.tyre, "195/70 R15")
        self.assertEqual(self.job.vehicle.ratios, (2.8, 1.5, 1.0, 0.73))
        self.assertAlmostEqual(self.job.vehicle.idle_rps or 0, 800 / 60)
        for kind in ("cable", "brake-cold"):
            page.add_source(next(s for s in templates() if s.id == kind))
        self.settle()
        self.assertIn("no source yet for SPEED, CANCEL", self.texts(page))
        self.press("Use Generator in the speedometer cable", self.window.settle)
        self.press("Use Brake switch, cold side", self.window.settle)
        self.assertEqual([c.quantity for c in self.job.chains], ["speed", "brake"])
        self.assertIn("every input has a source", self.texts(page))
        # and the board works it out: 3132 per km is nearest to B9 or C0
        self.go("set")
        self.press("Set B9" if "Set B9" in self.texts() else "Set C0", self.window.page("set"))
        reading = self.session.assessment.chain(self.job.chains[0].id)
        self.assertLess(abs(reading.error), 0.035)
        self.go("survey")
        for _ in range(60):
            self.session.undo()
        self.assertEqual(self.job.devices, ())

    def test_the_first_screen_is_survey_with_the_first_gap(self) -> None:
        page = self.go("survey")
        self.assertTrue(self.named(QLineEdit, "Vehicle", page).hasFocus())


class Facts(WindowTest):
    def test_editing_a_tyre_changes_the_whole_window(self) -> None:
        page = self.go("survey")
        self.type(self.named(QLineEdit, "Tyres", page), "195/50 R15")
        self.assertIsNone(provenance(self.job, "vehicle.tyre"))
        self.go("source")
        self.assertIn("Best: ", self.texts())
        ring = self.session.assessment.chain("speed-pace")
        self.assertAlmostEqual(ring.source_hz, 46 / (3.05 * 0.576) * 70 / 3.6, places=1)
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual(self.job.vehicle.tyre, "205/60 R15")
        self.assertEqual(provenance(self.job, "vehicle.tyre"), "measured")

    def test_nonsense_is_refused_and_stays_in_the_field(self) -> None:
        page = self.go("survey")
        field = self.named(QLineEdit, "Tyres", page)
        self.type(field, "22x9R22")
        self.assertIn("cannot go on", self.said())
        self.assertEqual(self.job.vehicle.tyre, "205/60 R15")
        self.assertEqual(field.text(), "22x9R22")
        self.assertEqual(field.property("bad"), "true")
        self.key(Qt.Key.Key_Escape, field)
        self.assertEqual(field.text(), "205/60 R15")
        self.type(self.named(QLineEdit, "Cylinders", page), "six")
        self.assertIn("whole number", self.said())
        self.type(self.named(QLineEdit, "Final drive", page), "-3")
        self.assertIn("Final drive", self.said())
        self.assertEqual(self.job.vehicle.final_drive, 3.64)

    def test_provenance_is_written_by_its_button(self) -> None:
        page = self.go("survey")
        button = self.named(KnownButton, "Tail lamps", page)
        self.assertIn("somebody said so", button.accessibleName())
        button.ask()
        self.settle()
        from PySide6.QtWidgets import QMenu

        choices = button.findChildren(QMenu)[-1].actions()
        self.assertEqual(len(choices), 7)
        choices[5].trigger()
        self.settle()
        self.assertEqual(provenance(self.job, "vehicle.lamps"), "measured")
        self.assertIn("measured", button.text())

    def test_miles(self) -> None:
        page = self.go("survey")
        self.press("Kilometres or miles")
        self.assertEqual(self.named(QLineEdit, "Top speed", page).text(), "124")
        self.assertIn("mph", self.texts(page))
        self.type(self.named(QLineEdit, "Top speed", page), "100")
        self.assertAlmostEqual(self.job.vehicle.top_mps, 100 * 1609.344 / 3600)

    def test_removing_a_device_takes_its_signals_along(self) -> None:
        self.go("survey")
        self.press("Remove Spark box")
        self.assertNotIn("tach-hub", [c.id for c in self.job.chains])
        self.assertNotIn("s4out", [s.id for s in self.job.sources])
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertIn("tach-hub", [c.id for c in self.job.chains])

    def test_a_sheet_of_one_s_own_is_on_the_shelf(self) -> None:
        user_sheets().mkdir(parents=True)
        mine = {
            "id": "mine",
            "maker": "Me",
            "model": "1",
            "name": "Own tach",
            "inputs": [{"pin": "IN", "quantity": "tach"}],
        }
        (user_sheets() / "mine.json").write_text(json.dumps(mine))
        (user_sheets() / "bad.json").write_text("{")
        page = self.go("survey")
        page._ask_device()
        self.settle()
        from PySide6.QtWidgets import QMenu

        menu = page.findChildren(QMenu)[-1]
        entry = next(a for a in menu.actions() if "Own tach" in a.text())
        self.assertIn("bad.json", self.said())
        entry.trigger()
        self.settle()
        self.assertEqual(self.job.devices[-1].name, "Own tach")
        self.assertIn("unconnected-mine-IN", self.findings())

    def test_a_source_is_added_corrected_and_removed(self) -> None:
        page = self.go("survey")
        page.add_source(next(s for s in templates() if s.id == "alternator"))
        self.settle()
        self.assertIn("Alternator phase terminal", self.texts(page))
        self.press("Remove Alternator phase terminal", page)
        self.assertNotIn("alternator", [s.id for s in self.job.sources])
        field = self.named(QLineEdit, "teeth", page)
        self.type(field, "48")
        self.assertAlmostEqual(
            self.session.assessment.chain("speed-hub").error, 48 / 46 - 1, delta=0.001
        )


if __name__ == "__main__":
    unittest.main()
