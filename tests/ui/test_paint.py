"""What is painted by hand: readable in sun and footwell, told apart without colour."""

from __future__ import annotations

import itertools
import unittest

from PySide6.QtCore import QPoint, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel

from tests.ui.base import WindowTest
from zombrel.ui import theme
from zombrel.ui.qtapp import application
from zombrel.ui.road.chart import road_picture
from zombrel.ui.theme import DAY, NIGHT, font
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.marks import WORDS, Mark, draw_mark
from zombrel.ui.widgets.paint import ROLES, Pill, Slider, Words
from zombrel.ui.widgets.plot import Plot


def luminance(text: str) -> float:
    """Relative luminance of a colour (WCAG 2.1, definition)."""
    c = QColor(text)
    parts = [
        v / 12.92 if v <= 0.03928 else ((v + 0.055) / 1.055) ** 2.4
        for v in (c.redF(), c.greenF(), c.blueF())
    ]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(a: str, b: str) -> float:
    """Contrast ratio of two colours (WCAG 2.1, 1.4.3)."""
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


class Readable(unittest.TestCase):
    def test_words_stand_out_from_their_ground(self) -> None:
        """4.5 to 1 for text (WCAG AA), by day and by night."""
        for t in (DAY, NIGHT):
            for ink, ground in itertools.product(
                (t.ink, t.quiet, t.petrol, t.trouble, t.good), (t.panel, t.well)
            ):
                with self.subTest(theme=t.name, ink=ink, ground=ground):
                    self.assertGreaterEqual(contrast(ink, ground), 4.5)
            for ink, ground in (
                (t.on_petrol, t.petrol),
                (t.on_marigold, t.marigold),
                (t.ink, t.ground),
                (t.quiet, t.ground),
                (t.rail_ink, t.rail),
                (t.rail_quiet, t.rail),
                (t.ink, t.tint),
            ):
                with self.subTest(theme=t.name, ink=ink, ground=ground):
                    self.assertGreaterEqual(contrast(ink, ground), 4.5)
            self.assertGreaterEqual(contrast(t.watch, t.panel), 3.9)  # bold, beside its triangle

    def test_nothing_is_smaller_than_twelve_pixels(self) -> None:
        for role, (px, *_) in ROLES.items():
            self.assertGreaterEqual(px, 12, role)

    def test_marks_differ_in_shape_not_only_in_colour(self) -> None:
        application()
        masks: dict[str, bytes] = {}
        for mark in WORDS:
            image = QImage(32, 32, QImage.Format.Format_ARGB32)
            image.fill(Qt.GlobalColor.transparent)
            p = QPainter(image)
            draw_mark(p, QRectF(2, 2, 28, 28), mark, DAY)
            p.end()
            alpha = bytes(
                255 if QColor(image.pixelColor(x, y)).alpha() > 100 else 0
                for x in range(32)
                for y in range(32)
            )
            self.assertGreater(sum(alpha), 255 * 40, mark)
            masks[mark] = alpha
        for a, b in itertools.combinations(masks, 2):
            differ = sum(x != y for x, y in zip(masks[a], masks[b], strict=True))
            self.assertGreater(differ, 60, (a, b))

    def test_the_shipped_font_is_the_one_in_use(self) -> None:
        application()
        self.assertEqual(QLabel().font().family(), "B612")
        self.assertTrue(font(12, mono=True).exactMatch())
        self.assertIs(font(14, bold=True), font(14, bold=True))


class Widgets(WindowTest):
    def test_a_mark_says_its_word(self) -> None:
        mark = Mark("trouble")
        self.assertEqual(mark.accessibleName(), "trouble")
        mark.show_mark("good")
        self.assertEqual(mark.accessibleName(), "settled")

    def test_a_mark_follows_the_theme(self) -> None:
        """One that stands while day turns to night is drawn in the night's colours."""
        mark = Mark("watch")
        mark.setParent(self.window)
        before = mark.grab().toImage()
        theme.use(NIGHT if theme.current() == DAY else DAY)
        self.addCleanup(theme.use, DAY)
        self.assertNotEqual(mark.grab().toImage(), before)

    def test_labels_follow_the_theme(self) -> None:
        words = Words("x", "trouble")
        words.setParent(self.window)
        for _ in range(2):
            t = theme.current()
            role = words.foregroundRole()
            self.assertEqual(words.palette().color(role).name().upper(), t.trouble.upper())
            self.session.toggle_night()
            self.settle()
        words.set_role("big")
        self.assertEqual(words.font().pixelSize(), 25)

    def test_buttons_keep_their_size_when_chosen(self) -> None:
        pill = Pill("70 on the flat", "plain")
        before = pill.sizeHint()
        pill.set_on(True)
        self.assertEqual(pill.sizeHint(), before)
        self.assertGreaterEqual(before.height(), 34)  # a gloved finger

    def test_every_kind_of_button_is_painted_differently_when_disabled(self) -> None:
        for kind in ("", "primary", "plain", "toggle", "big", "bigprimary"):
            pill = Pill("Fit a relay", kind)
            pill.resize(pill.sizeHint())
            on = pill.grab().toImage()
            pill.setEnabled(False)
            self.assertNotEqual(on, pill.grab().toImage(), kind)

    def test_the_slider_goes_where_it_is_dragged(self) -> None:
        slider = Slider()
        slider.setRange(0, 100)
        slider.resize(220, 24)
        for x, want in ((10, 0), (110, 50), (210, 100), (400, 100)):
            QTest.mouseClick(slider, Qt.MouseButton.LeftButton, pos=QPoint(x, 12))
            self.assertEqual(slider.value(), want)
        QTest.keyClick(slider, Qt.Key.Key_Left)
        self.assertEqual(slider.value(), 99)

    def test_a_long_line_to_choose_asks_for_no_room(self) -> None:
        """After a change of colours the library asks for all of it: cards beside were cut."""
        choice = Choice()
        choice.addItems(["a line that is much longer than the card it stands in"])
        choice.show()
        self.session.toggle_night()
        self.settle()
        self.assertLessEqual(choice.minimumSizeHint().width(), 120)
        self.assertGreater(choice.sizeHint().width(), 200)

    def test_the_chart_scales_to_the_points_that_count(self) -> None:
        chart = Plot(self.session)
        x, y = [50.0, 60.0, 70.0, 80.0], [51.0, 61.2, 71.4, 120.0]
        kept = [True, True, True, False]
        picture = road_picture(x, y, kept, (1.02, 0.0), "km/h")
        chart.show_picture(picture)
        self.assertLess(picture.y.high, 4)
        self.assertEqual([len(c.x) for c in picture.clouds], [1, 3])
        self.assertIn("4 points, 3 used, scale 1.0200", chart.accessibleName())
        chart.resize(500, 320)
        filled = chart.grab().toImage()
        chart.show_picture(road_picture([], [], [], None, "km/h"))
        self.assertNotEqual(filled, chart.grab().toImage())
        self.assertIn("0 points", chart.accessibleName())


class SurveyKeys(WindowTest):
    def test_a_tyre_is_read_while_it_is_typed(self) -> None:
        page = self.go("survey")
        row = page._rows["vehicle.tyre"]
        self.assertIn("1912 mm a turn, 522.9 per km", self.texts(page))
        row.field.selectAll()
        for text, part in (("195/5", "not a size yet"), ("0 R15", "1757 mm a turn")):
            QTest.keyClicks(row.field, text)
            self.settle()
            self.assertIn(part, self.texts(page))
        self.assertEqual(self.job.vehicle.tyre, "205/60 R15")  # not entered yet
        self.key(Qt.Key.Key_Escape, row.field)
        self.assertIn("1912 mm", self.texts(page))

    def test_why_and_how_known_by_key(self) -> None:
        page = self.go("survey")
        row = page._rows["vehicle.final_drive"]
        self.key(Qt.Key.Key_F3, row.field)
        self.assertIn("axle tag not read yet", self.texts(self.dialog()))
        self.key(Qt.Key.Key_Escape, self.dialog())
        self.key(Qt.Key.Key_F2, row.field)
        from PySide6.QtWidgets import QMenu

        menu = row.known.findChildren(QMenu)[-1]
        self.assertTrue(menu.isVisible())
        menu.close()


if __name__ == "__main__":
    unittest.main()
