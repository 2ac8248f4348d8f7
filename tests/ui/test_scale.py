"""Everything larger or smaller: begun anew on the same job, and fitting a small screen."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.ui.base import WindowTest
from zombrel.actions.notes import put_fact
from zombrel.catalog import DEMO
from zombrel.job.problem import Problem
from zombrel.store.prefs import load_prefs
from zombrel.ui.scale import (
    SCALES,
    again_of,
    begin_fitting,
    fitting,
    go_on,
    set_scale,
    stepped,
    taken_again,
)
from zombrel.ui.session import Session
from zombrel.ui.wire.views import VIEWS

PLACES = ("start", "survey", "source", "wire:list", "set", "prove", "road", "handover", "shelf")


class Screen:
    def __init__(self, dpi: float) -> None:
        self.dpi = dpi

    def logicalDotsPerInch(self) -> float:
        return self.dpi


class Scale(WindowTest):
    def press_plus(self) -> mock.Mock:
        """Ctrl and +, where the program would be begun anew."""
        control = Qt.KeyboardModifier.ControlModifier
        with mock.patch.object(os, "execv") as begun:
            QTest.keyClick(self.window, Qt.Key.Key_Plus, control)
            self.settle()
        self.addCleanup(os.environ.pop, "ZOMBREL_AGAIN", None)
        return begun

    def test_it_comes_back_with_all_that_was_entered(self) -> None:
        self.comes_back(saved=False)

    def test_what_is_saved_can_still_be_undone_after_it(self) -> None:
        self.comes_back(saved=True)

    def comes_back(self, saved: bool) -> None:
        self.go("set")
        self.session.do("Tyres", put_fact("vehicle.tyre", "195/65 R15"))
        if saved:
            self.session.save(Path(tempfile.mkdtemp()) / "job.zjob")
        self.assertTrue(self.press_plus().called)
        self.assertEqual(load_prefs().scale, 1.1)
        again = taken_again()
        assert again is not None
        self.assertEqual(again.stage, "set")
        self.assertIsNone(taken_again())  # once
        for held in (self.session.desk._journal._lock, self.session.desk._claim):
            if held is not None:
                held.end()  # as the end of a process does
        later = Session()
        self.addCleanup(later.deleteLater)
        self.assertEqual(go_on(later, again), "")
        self.assertEqual(later.job.vehicle.tyre, "195/65 R15")
        self.assertEqual((later.path, later.dirty), (self.session.path, not saved))
        later.undo()
        self.assertEqual(later.job.vehicle.tyre, "205/60 R15")
        later.close_journal()

    def test_a_demo_that_nobody_touched_comes_back_too(self) -> None:
        self.press_plus()
        again = taken_again()
        assert again is not None
        later = Session(journal=False)
        self.addCleanup(later.deleteLater)
        self.assertEqual((go_on(later, again), later.job.number), ("", "0412"))
        past = DEMO / "past" / "0381.zjob"
        self.session.open(past)
        self.assertEqual(go_on(later, again_of(self.session, "set")), "")
        self.assertEqual((later.job.number, later.path, later.dirty), ("0381", None, False))

    def test_steps_and_the_size_of_the_desktop(self) -> None:
        self.assertEqual([stepped(1.0, by) for by in (1, -1, 0)], [1.1, 0.9, 1.0])
        self.assertEqual([stepped(SCALES[0], -1), stepped(SCALES[-1], 1)], [SCALES[0], SCALES[-1]])
        self.assertEqual([fitting(Screen(d)) for d in (96, 120, 144)], [1.0, 1.25, 1.5])
        with mock.patch.dict(os.environ):
            os.environ.pop("QT_SCALE_FACTOR", None)
            set_scale(load_prefs())
            self.assertNotIn("QT_SCALE_FACTOR", os.environ)

    def test_the_first_start_keeps_the_words_it_was_begun_with(self) -> None:
        words = ["zombrel", "--demo", "--night"]
        unsaved = mock.patch("zombrel.ui.scale.save_prefs", side_effect=Problem("read only"))
        for dpi, told, begun in ((144, "", 1), (96, "", 0), (144, "1.25", 0)):
            with (
                self.subTest(dpi=dpi, told=told),
                mock.patch.dict(os.environ),
                mock.patch.object(os, "execv") as run,
                mock.patch.object(sys, "argv", words),
                unsaved,
            ):
                os.environ.pop("QT_SCALE_FACTOR", None)
                if told:
                    os.environ["QT_SCALE_FACTOR"] = told
                begin_fitting(load_prefs(), Screen(dpi))
                self.assertEqual(run.call_count, begun)
                if begun:
                    self.assertEqual(run.call_args[0][1][1:], ["-m", *words])
                    self.assertEqual(os.environ["QT_SCALE_FACTOR"], "1.5")
                    begin_fitting(load_prefs(), Screen(dpi))  # once, though nothing was kept
                    self.assertEqual(run.call_count, 1)

    def test_a_small_screen_at_one_and_a_half(self) -> None:
        """1024 by 700 at 1.5 is 683 by 467: every page fits, or is scrolled to its end."""
        self.window.resize(683, 467)
        self.settle()
        for place in PLACES:
            self.go(place)
            self.window.hush()
            self.settle()
            with self.subTest(place):
                size = self.window.size()
                self.assertEqual((size.width(), size.height()), (683, 467))
                area, page = self.window._area, self.window._pages
                across = area.horizontalScrollBar().maximum() + area.viewport().width()
                self.assertGreaterEqual(across, page.minimumSizeHint().width())
                self.assertGreaterEqual(area.viewport().width(), 500)
                for pill in self.window.rail._buttons.values():
                    self.assertLessEqual(pill.geometry().bottom(), 467)
        self.window.resize(1024, 700)
        for place in (*PLACES, *(f"wire:{key}" for key in VIEWS)):
            self.go(place)
            self.settle()
            for bar in (
                self.window._area.horizontalScrollBar(),
                self.window._area.verticalScrollBar(),
            ):
                self.assertEqual(bar.maximum(), 0, place)
