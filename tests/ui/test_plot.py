"""The plot worked by hand, and settings painted as things: places, keys, fingers, paint."""

from __future__ import annotations

import math
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import QPoint, QRectF, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtTest import QTest

from tests.ui.base import WindowTest
from zombrel.calibrate.settings.setting import face, names
from zombrel.job.sheet import (
    TABLE,
    Buttons,
    Curves,
    Dial,
    Dials,
    Menu,
    Plug,
    Preset,
    Presses,
    Rotary,
    SettingSheet,
    Switches,
)
from zombrel.plots.picture import Axis, Dot, Line, Picture, Threshold, tick_words, ticks
from zombrel.ui.set.touch import TouchView
from zombrel.ui.set.touch_paint import Look, draw
from zombrel.ui.theme import DAY, NIGHT
from zombrel.ui.widgets.plot import Plot

LINEAR = Axis("x", 0.0, 120.0)
LOG = Axis("Ω", 100.0, 20000.0, log=True)
PICTURE = Picture(
    LINEAR,
    LOG,
    (Line(((0.0, 9000.0), (120.0, 110.0)), "sender"),),
    (Dot(20.0, 3000.0), Dot(60.0, 700.0, doubt=True), Dot(100.0, 240.0, held=False)),
    (Threshold("HIGH", 105.0, "HIGH 105", back=102.0), Threshold("", 115.0, "end", held=False)),
    88.0,
    "A sensor's curve.",
)


class Ticks(unittest.TestCase):
    @given(st.floats(-1e6, 1e6), st.floats(1e-3, 1e6), st.integers(2, 12))
    def test_round_inside_and_not_too_many(self, low: float, span: float, most: int) -> None:
        axis = Axis("x", low, low + span)
        found = ticks(axis, most)
        self.assertLessEqual(len(found), most + 1)
        for value in found:
            self.assertGreaterEqual(value, low - span * 1e-6)
            self.assertLessEqual(value, low + span * (1 + 1e-6))
        if len(found) > 1:
            step = found[1] - found[0]
            lead = step / 10 ** math.floor(math.log10(step) + 1e-9)
            self.assertTrue(any(math.isclose(lead, k, rel_tol=1e-6) for k in (1, 2, 5, 10)))

    def test_decades(self) -> None:
        self.assertEqual(ticks(Axis("Ω", 90, 11000, log=True), 5), [100.0, 1000.0, 10000.0])
        self.assertEqual(ticks(Axis("Ω", 100, 900, log=True), 5), [100.0, 200.0, 500.0])
        self.assertEqual(
            [tick_words(v) for v in (0.0, 1500.0, 24000.0, 2e6, -3.0)],
            ["0", "1500", "24 k", "2 M", "\u22123"],
        )


class Hand(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.plot = Plot(self.session)
        self.addCleanup(self.plot.deleteLater)
        self.plot.resize(640, 320)
        self.plot.show_picture(PICTURE)
        self.plot.show()
        self.told: list[tuple[Any, ...]] = []
        self.plot.dropped.connect(lambda *a: self.told.append(("dropped", *a)))
        self.plot.dragging.connect(lambda *a: self.told.append(("dragging", *a)))
        self.plot.slid.connect(lambda *a: self.told.append(("slid", *a)))
        self.settle()

    def test_a_place_is_where_its_value_is(self) -> None:
        for x, y in ((0.0, 100.0), (120.0, 20000.0), (60.0, 700.0)):
            back = self.plot._value(self.plot.place(x, y))
            self.assertAlmostEqual(back[0], x, places=6)
            self.assertAlmostEqual(back[1] / y, 1, places=6)

    def test_a_dot_follows_the_finger_and_a_fixed_one_does_not(self) -> None:
        start = self.plot.place(20, 3000).toPoint()
        QTest.mousePress(self.plot, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(self.plot, start + QPoint(0, -10))
        QTest.mouseRelease(self.plot, Qt.MouseButton.LeftButton, pos=start + QPoint(0, -20))
        self.settle()
        self.assertEqual([t[0] for t in self.told], ["dragging", "dropped"])
        self.assertEqual(self.told[-1][1], 0)
        self.assertGreater(self.told[-1][3], 3000)
        self.told.clear()
        QTest.mouseClick(
            self.plot, Qt.MouseButton.LeftButton, pos=self.plot.place(100, 240).toPoint()
        )
        self.assertEqual([t for t in self.told if t[1] == 2], [])

    def test_a_threshold_slides_and_stays_inside(self) -> None:
        start = self.plot.place(105, 15000).toPoint()
        QTest.mousePress(self.plot, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseRelease(self.plot, Qt.MouseButton.LeftButton, pos=start + QPoint(900, 0))
        self.settle()
        self.assertEqual(self.told[-1][:2], ("slid", "HIGH"))
        self.assertAlmostEqual(self.told[-1][2], 120.0)

    def test_keys_walk_what_can_be_held(self) -> None:
        for key, held in (
            (Qt.Key.Key_Right, 0),
            (Qt.Key.Key_Right, 1),
            (Qt.Key.Key_Right, 3),
            (Qt.Key.Key_Right, 0),
            (Qt.Key.Key_Left, 3),
        ):
            QTest.keyClick(self.plot, key)
            self.assertEqual(self.plot._hold, held)
        QTest.keyClick(self.plot, Qt.Key.Key_Down)
        self.assertEqual(self.told[-1][:2], ("slid", "HIGH"))
        self.assertAlmostEqual(self.told[-1][2], 105 - 1.2)
        QTest.keyClick(self.plot, Qt.Key.Key_Right)
        QTest.keyClick(self.plot, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.told[-1][:2], ("dropped", 0))
        self.assertAlmostEqual(self.told[-1][2], 20.6)

    def test_it_is_brought_nearer_and_never_past_its_axes(self) -> None:
        box = self.plot.plot.getViewBox()
        whole = box.viewRange()
        QTest.keyClick(self.plot, Qt.Key.Key_Plus)
        near = box.viewRange()
        self.assertAlmostEqual(
            (whole[0][1] - whole[0][0]) / (near[0][1] - near[0][0]), 1.4, places=6
        )
        x, y = self.plot._value(self.plot.place(60.0, 700.0))  # places follow the view
        self.assertAlmostEqual(x, 60.0, places=6)
        self.assertAlmostEqual(y, 700.0, places=3)
        self.plot.show_picture(PICTURE.but(now=90.0))  # an edit leaves the view alone
        self.assertEqual(box.viewRange(), near)
        for _ in range(3):
            QTest.keyClick(self.plot, Qt.Key.Key_Minus)
        self.assertEqual(box.viewRange(), whole)

    def test_only_what_differs_is_drawn_anew(self) -> None:
        items = {key: item for key, (_, item) in self.plot._drawn.items()}
        dots = (*PICTURE.dots[:1], Dot(60.0, 900.0, doubt=True), *PICTURE.dots[2:])
        self.plot.show_picture(PICTURE.but(dots=dots))
        anew = {key for key, (_, item) in self.plot._drawn.items() if item is not items.get(key)}
        self.assertEqual(anew, {("dots", 1)})
        held = {id(i) for _, found in self.plot._drawn.values() for i in found}
        self.assertLessEqual(held, {id(i) for i in self.plot.plot.plotItem.items})

    def test_it_says_what_it_is_and_how_to_work_it(self) -> None:
        self.assertIn("A sensor's curve.", self.plot.accessibleName())
        self.assertIn("up and down move", self.plot.accessibleName())
        self.plot.show_picture(PICTURE.but(dots=(), thresholds=()))
        self.assertNotIn("move", self.plot.accessibleName())

    def test_day_and_night_differ_and_nothing_is_blank(self) -> None:
        day = self.plot.grab().toImage()
        self.session.toggle_night()
        self.settle()
        night = self.plot.grab().toImage()
        self.assertGreater(day.pixelColor(20, 160).lightness(), 150)
        self.assertLess(night.pixelColor(20, 160).lightness(), 100)
        shades = {day.pixel(x, y) for x in range(0, 640, 3) for y in range(0, 320, 3)}
        self.assertGreater(len(shades), 20)


THINGS: dict[str, tuple[SettingSheet, str, str]] = {
    "dials": (
        Dials(
            base=800,
            unit="pulses/km",
            dials=(
                Dial(name="coarse", positions=tuple("ABCDE"), octaves=1),
                Dial(name="fine", positions=tuple("0123456789"), octaves=0.1),
            ),
        ),
        "E7",
        "C1",
    ),
    "knob": (
        Rotary(positions=tuple((str(n), n * 100.0) for n in range(50, 91)), unit="rpm"),
        "71",
        "68",
    ),
    "bank": (Switches(weights=(1, 2, 4, 8), unit="step"), "1010", "0110"),
    "menu": (Menu(path=("Inputs", "Speed"), low=1, high=99, step=1, unit="rpm"), "7", "9"),
    "buttons": (Buttons(low=0.5, high=6, step=0.5, unit="s"), "1", "2.5"),
    "presses": (Presses(enter="hold 3 s", low=1, high=9, step=1, unit="step"), "1", "4"),
    "plug": (Plug(known=((4700, 1510), (12000, 1250), (33000, 1000)), unit="rpm"), "8200", "12000"),
    "curves": (
        Curves(
            path=("Temp",),
            free_points=8,
            presets=(
                Preset(name="A", points=((0, 1), (1, 2))),
                Preset(name="B", points=((0, 1), (1, 3))),
            ),
        ),
        "A",
        TABLE,
    ),
}


class Things(WindowTest):
    def view(self, name: str) -> tuple[TouchView, list[str]]:
        sheet, now, want = THINGS[name]
        made = TouchView(self.session)
        self.addCleanup(made.deleteLater)
        made.resize(made.sizeHint())
        made.show_setting(sheet, now, want, f"Device {name}")
        made.show()
        told: list[str] = []
        made.moved.connect(told.append)
        self.settle()
        return made, told

    def test_keys_move_to_positions_that_exist(self) -> None:
        for name, (sheet, now, want) in THINGS.items():
            made, told = self.view(name)
            self.assertIn(f"stands at {now}, should stand at {want}", made.accessibleName())
            QTest.keyClick(made, Qt.Key.Key_Up)
            QTest.keyClick(made, Qt.Key.Key_Down)
            with self.subTest(name):
                self.assertTrue(told)
                self.assertLessEqual(set(told), set(names(sheet)))

    def test_a_finger_anywhere_gives_only_positions_that_exist(self) -> None:
        for name, (sheet, _, _) in THINGS.items():
            made, told = self.view(name)
            for x in range(4, made.width(), 26):
                for y in range(4, made.height(), 26):
                    QTest.mouseClick(made, Qt.MouseButton.LeftButton, pos=QPoint(x, y))
            with self.subTest(name):
                self.assertLessEqual(set(told), set(names(sheet)))
                self.assertTrue(told)

    def test_every_thing_is_painted_and_a_wrong_one_looks_different(self) -> None:
        for name, (sheet, now, want) in THINGS.items():
            for theme in (DAY, NIGHT):
                pictures = []
                for at in (now, want, ""):
                    image = QImage(264, 168, QImage.Format.Format_RGB32)
                    image.fill(0)
                    p = QPainter(image)
                    draw(p, face(sheet, at, want), Look(theme, QRectF(0, 0, 264, 168), 0))
                    p.end()
                    pictures.append(image)
                with self.subTest(name, theme=theme.name):
                    self.assertNotEqual(pictures[0], pictures[1])
                    self.assertNotEqual(pictures[1], pictures[2])

    def test_a_position_that_is_none_is_shown_and_not_fatal(self) -> None:
        for name, (sheet, _, want) in THINGS.items():
            made = TouchView(self.session)
            made.resize(made.sizeHint())
            made.show_setting(sheet, "nonsense", want, name)
            self.assertFalse(made.grab().isNull())
            QTest.keyClick(made, Qt.Key.Key_Up)
            made.deleteLater()


if __name__ == "__main__":
    unittest.main()
