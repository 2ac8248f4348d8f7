"""All three demo jobs on the real window: nothing cut, nothing unnamed, nothing without words."""

from __future__ import annotations

import sys

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractSlider,
    QComboBox,
    QLineEdit,
    QPlainTextEdit,
    QWidget,
)

from tests.demo import put
from tests.ui.base import WindowTest
from zombrel.ui.widgets.paint import Panel, Words
from zombrel.ui.widgets.plot import Plot

WIRE = ("wire", "wire:plan", "wire:power", "wire:faces", "wire:probe", "wire:work")
NUMBERS = ("0412", "0413", "0409")
SIZES = ((1280, 800), (1024, 700))


def cut(page: QWidget) -> list[str]:
    """Texts that are wider than their label."""
    return [
        label.text()
        for label in page.findChildren(Words)
        if label.isVisible() and label.text() and not label.wordWrap()
        if label.width() + 1 < label.sizeHint().width()
    ]


class Everywhere(WindowTest):
    def check_page(self, page: QWidget, where: str) -> None:
        """No label is cut, no control reaches past the page, each has a name."""
        for _ in range(20):  # a layout may still be due
            if cut(page):
                self.settle()
        self.assertEqual(cut(page), [], where)
        for kind in (QAbstractButton, QAbstractSlider, QComboBox, QLineEdit, QPlainTextEdit):
            for widget in page.findChildren(kind):
                if not widget.isVisible() or type(widget).__name__ in ("QScrollBar", "Bar"):
                    continue
                text = widget.text() if hasattr(widget, "text") else ""
                self.assertTrue(widget.accessibleName() or text, (where, widget))
        for widget in (
            *page.findChildren(QAbstractButton),
            *page.findChildren(Panel),
            *page.findChildren(Plot),
        ):
            if widget.isVisible():
                right = widget.mapTo(page, widget.rect().topRight()).x()
                self.assertLessEqual(right, page.width(), (where, widget.accessibleName()))

    def test_every_card_of_set_in_both_sizes(self) -> None:
        for number in NUMBERS:
            self.session.open_demo(number)
            for size in SIZES:
                self.window.resize(*size)
                page = self.go("set")
                for key in list(page._items):
                    page.select(key)
                    self.settle()
                    self.check_page(page, f"{number} {key} {size}")

    def test_every_chain_of_source_in_both_sizes(self) -> None:
        for number in NUMBERS:
            self.session.open_demo(number)
            for size in SIZES:
                self.window.resize(*size)
                page = self.go("source")
                for chain in self.job.chains:
                    for hop in ("source", "way", "run", "input"):
                        page.select(chain.id, hop)
                        self.settle()
                        self.check_page(page, f"{number} {chain.id} {hop} {size}")

    def test_every_part_of_the_shelf(self) -> None:
        page = self.go("shelf")
        for size in SIZES:
            self.window.resize(*size)
            for key in list(page._parts):
                page.select(key)
                self.settle()
                self.check_page(page, f"{key} {size}")

    def test_every_other_stage_of_the_other_jobs(self) -> None:
        for number in NUMBERS[1:]:
            self.session.open_demo(number)
            for stage in ("survey", *WIRE, "prove", "road", "handover:drawing", "handover"):
                page = self.go(stage)
                self.assertTrue(self.texts(page).strip(), stage)
                self.check_page(page, f"{number} {stage}")

    def test_the_jobs_are_in_the_menu_and_can_be_gone_through(self) -> None:
        for number in NUMBERS[1:]:
            self.window.actions_.all[f"demo-{number}"].run()
            self.settle()
            self.assertEqual(self.job.number, number)
            self.assertIn(number, self.texts())
            start = self.job
            for _ in range(12):
                self.window.mend_first()
            self.settle()
            self.assertFalse([f for f in self.findings().values() if f.level == "trouble"])
            while self.job is not start:
                self.key(Qt.Key.Key_Z, self.window, ctrl=True)
                if "Nothing to undo" in self.said():
                    break
            self.assertEqual(self.job, start)

    def test_miles_fahrenheit_psi_and_gallons_everywhere(self) -> None:
        for key in ("distance", "temperature", "pressure", "pressure", "volume", "area"):
            self.window.actions_.all[key].run()
        self.settle()
        self.assertEqual(
            (
                self.session.units.distance,
                self.session.units.temperature,
                self.session.units.pressure,
                self.session.units.volume,
            ),
            ("mi", "F", "psi", "gal"),
        )
        page = self.go("source")
        for chain in self.job.chains:
            page.select(chain.id, "source")
            text = self.texts(page)
            self.assertNotIn(" km/h", text, chain.id)
            self.assertNotIn("\u00a0°C", text, chain.id)
            self.assertNotIn("\u00a0kPa", text, chain.id)
        page = self.go("set")
        for key in ("temp-hub", "oil-hub", "fuel-hub", "gears", "blend"):
            page.select(key)
            self.settle()
            text = self.texts(page._cards[key])
            for metric in ("\u00a0°C", "\u00a0kPa", "\u00a0l ", "km/h"):
                self.assertNotIn(metric, text, key)

    def test_whatever_a_job_file_holds_is_shown_or_said(self) -> None:
        """Values no hand would enter: every card and row still comes up, and says what is wrong."""
        troubles: list[str] = []
        hook, sys.excepthook = sys.excepthook, lambda *a: troubles.append(str(a[1]))
        self.addCleanup(setattr, sys, "excepthook", hook)
        odd = [[-5.0, -3.0], [0.0, 0.0], [1.0, 1.0]]
        flat = [[300.0, 5.0], [310.0, 5.0], [320.0, 5.0]]
        for number, path, value in (
            ("0412", "devices.lamp.settings.LAUNCH.at", "zz"),
            ("0412", "devices.spark.settings.LIMIT.at", "-1"),
            ("0412", "devices.hub.settings.TEMP.at", "Z"),
            ("0412", "devices.hub.settings.FUEL.table", []),
            ("0412", "sources.clt.spec.points", odd),
            ("0412", "sources.clt.spec.points", flat),
            ("0412", "vehicle.torque", [[1.0, 0.0], [2.0, 0.0]]),
            ("0412", "vehicle.mechanical", []),
            ("0412", "vehicle.ratios", [1.0, 1.0]),
            ("0412", "vehicle.tyre", "x"),
            ("0413", "devices.tacho.settings.TACH.at", "2"),
            ("0413", "devices.gauge.settings.BOOST.at", "9 bar"),
            ("0413", "sources.cooler.spec.points", odd),
            ("0413", "wishes", []),
            ("0409", "devices.match.settings.GAP.at", "table"),
            ("0409", "vehicle.redline_rps", None),
        ):
            self.session.open_demo(number)
            self.session.start(put(self.job, path, value))
            page = self.go("set")
            for key in list(page._items):
                page.select(key)
            board = self.go("source")
            for chain in self.job.chains:
                board.select(chain.id, "source")
            self.window.grab()
            self.assertEqual(troubles, [], (path, value))

    def test_a_job_killed_in_the_middle_comes_back_with_its_tables(self) -> None:
        """The journal holds sensor edits too: tables, pairs, wishes."""
        from zombrel.store import prefs
        from zombrel.store.recovery import left_behind

        page = self.go("set:temp-hub")
        self.press("Gauge hub TEMP: load 12 points", page)
        page = self.go("set:spark/LAUNCH")
        self.type(self.named(QLineEdit, "Spark box LAUNCH: wanted"), "3900")
        before = self.job
        journal = self.session.desk._journal
        assert journal is not None
        journal.leave()  # as when the process is gone: the lock goes with it
        found = left_behind(prefs.recovery_root())
        self.assertEqual(len(found), 1)
        self.assertEqual(found[0].history.present, before)
