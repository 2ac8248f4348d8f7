"""Hand over, a whole task at a time on the real window; and every stage by day and by night."""

from __future__ import annotations

import unittest
from pathlib import Path
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtGui import QPixmap
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtWidgets import QFileDialog, QLabel, QLineEdit

from tests.ui.base import WindowTest
from zombrel.job.edits import Put
from zombrel.store.zjob import load
from zombrel.ui.frame.copied import copied


class HandOver(WindowTest):
    def test_preview_html_and_pdf(self) -> None:
        page = self.go("handover:dossier")
        self.wait(lambda: page.view.count)
        said = page.view.accessibleDescription()
        for part in ("Contents", "Brake pedal may not cancel", "Known by hearsay"):
            self.assertIn(part, said)
        pdf = self.home / "sheet.pdf"
        page.save_pdf(pdf)
        self.wait(lambda: not page.background.busy)
        self.assertTrue(pdf.read_bytes().startswith(b"%PDF-"))
        self.assertIn("Written to", self.said())
        page.save_pdf(Path("/nowhere/at/all.pdf"))
        self.wait(lambda: not page.background.busy)
        self.assertIn("cannot be written", self.said())

    def test_the_owners_page_is_turned_kept_and_printed(self) -> None:
        page = self.go("handover:owner")
        view = page.view
        self.wait(lambda: view.count)
        self.assertIn("page 1 of 2", view.accessibleName())
        self.assertIn("Not to be handed over yet", view.accessibleDescription())
        self.assertIn("Saltmarsh Instrument Works", view.accessibleDescription())
        before = view.grab().toImage()
        self.key(Qt.Key.Key_PageDown, view)
        self.assertEqual(view.page, 2)
        self.assertNotEqual(view.grab().toImage(), before)
        self.key(Qt.Key.Key_Home, view)
        self.key(Qt.Key.Key_Plus, view)
        self.key(Qt.Key.Key_Down, view)
        self.assertNotEqual(view.grab().toImage(), before)
        for ending in ("pdf", "html"):
            name = str(self.home / f"owner.{ending}")
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(name, "")):
                self.press(f"Save as {ending.upper()}", page)
            self.wait(lambda name=name: Path(name).exists())
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setOutputFileName(str(self.home / "printed.pdf"))
        page.print_on(printer)
        self.assertIn("Owner's page sent to the printer", self.said())
        self.mend_all()
        self.wait(lambda: "Brake pedal may not" not in view.accessibleDescription())

    def test_it_is_signed_off_with_its_reasons(self) -> None:
        self.mend_all()
        page = self.go("handover:owner")
        self.assertIn("Not signed off yet", self.texts(page))
        self.press("Sign the job off", page)
        dialog = self.dialog()
        self.assertIn("“Brake cancels” has not been tried", self.texts(dialog))
        self.press("Sign off", dialog)
        self.assertIn("Say who signs", self.texts(dialog))
        self.named(QLineEdit, "Who signs", dialog).setText("Ada")
        self.press("Sign off", dialog)
        self.assertIn("say why it goes out nevertheless", self.texts(dialog))
        self.named(QLineEdit, "Why it goes out nevertheless", dialog).setText("towed home")
        self.press("Sign off", dialog)
        (made,) = self.job.seals
        words = f"Signed off by Ada, {made.when}; seal {made.content[:12]}"
        self.wait(lambda: words in self.texts(page))
        view = page.view
        self.wait(lambda: "Ada hands it over nevertheless" in view.accessibleDescription())
        self.assertIn(f"seal {made.content[:9]}", view.accessibleDescription())
        self.session.do("tyre", Put(path="vehicle.tyre", value="195/65 R15"))
        self.wait(lambda: "Changed since Ada signed it off" in self.texts(page))
        self.wait(lambda: made.content[:9] not in view.accessibleDescription())
        self.press("Sign the job off", page)
        dialog = self.dialog()
        self.assertIn("tyres (205/60 R15 → 195/65 R15)", self.texts(dialog))
        with mock.patch.object(
            QFileDialog, "getSaveFileName", return_value=(str(self.home / "signed"), "")
        ):
            self.press("Write what was signed…", dialog)
        self.assertEqual(load(self.home / "signed.zjob").vehicle.tyre, "205/60 R15")
        self.press("Leave it", self.dialog())
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.wait(lambda: "Signed off by Ada" in self.texts(page))

    def test_it_is_printed_and_what_is_read_is_copied(self) -> None:
        page = self.go("handover")
        for paper in ("Connectors", "Labels"):
            self.press(f"Show: {paper}", page)
            self.wait(lambda: page.view.count)
            printer = QPrinter(QPrinter.PrinterMode.HighResolution)
            file = self.home / f"{paper}.pdf"
            printer.setOutputFileName(str(file))
            page.print_on(printer)
            self.assertTrue(file.read_bytes().startswith(b"%PDF-"))
            self.assertIn(f"{paper} sent to the printer", self.said())
        self.go("source:speed-pace")
        self.key(Qt.Key.Key_C, ctrl=True)
        clipboard = self.app.clipboard()
        self.assertIn("Road speed, source: Tone ring, 46 teeth", clipboard.text())
        big = next(w for w in self.window.findChildren(QLabel) if w.text() == "81.0")
        self.assertEqual(copied(big), "81.0")
        self.go("wire:list")
        self.key(Qt.Key.Key_C, ctrl=True)
        self.assertIn("W1", clipboard.text().split("\t")[0])

    def test_it_follows_an_edit(self) -> None:
        page = self.go("handover:dossier")
        gone = "Brake pedal may not cancel"
        self.wait(lambda: gone in page.view.accessibleDescription())
        self.key(Qt.Key.Key_M, ctrl=True)
        self.wait(lambda: gone not in page.view.accessibleDescription())
        self.assertIn("14 findings are still open", page.subtitle)


class Looks(WindowTest):
    def test_every_stage_is_painted_by_day_and_by_night(self) -> None:
        """No stage is blank, and night is dark."""
        for night in (False, True):
            if self.session.prefs.night != night:
                self.key(Qt.Key.Key_L, self.window, ctrl=True)
            for stage in ("survey", "source", "wire", "set", "prove", "road", "handover"):
                self.go(stage)
                picture: QPixmap = self.window.grab()
                image = picture.toImage().scaled(64, 40)
                shades = {image.pixel(x, y) for x in range(64) for y in range(40)}
                self.assertGreater(len(shades), 60, stage)
                ground = picture.toImage().pixelColor(picture.width() - 6, 300).lightness()
                (self.assertLess if night else self.assertGreater)(ground, 128, stage)


if __name__ == "__main__":
    unittest.main()
