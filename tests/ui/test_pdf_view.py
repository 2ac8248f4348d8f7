"""Papers turned in the window: pages, nearness, what is read out, and nothing at all."""

from __future__ import annotations

import unittest

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.ui.base import WindowTest
from zombrel.handover.paper import pdf_of
from zombrel.ui.handover.pdf_view import PdfView

BREAK = "break-after: page"
PAGE = '<section style="break-after: page"><h1>Page {}</h1><p>{}</p></section>'


def paper(count: int) -> bytes:
    inside = "".join(PAGE.format(i, "word " * 40) for i in range(1, count + 1))
    inside = inside if count > 1 else inside.replace(BREAK, "")
    return pdf_of(f'<html lang="en"><head><title>t</title></head><body>{inside}</body></html>')


class Turned(WindowTest):
    long = b""
    short = b""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.long, cls.short = paper(5), paper(1)

    def setUp(self) -> None:
        super().setUp()
        self.view = PdfView(self.session, "Paper")
        self.addCleanup(self.view.deleteLater)
        self.view.resize(420, 500)
        self.view.show()

    def seen(self) -> QImage:
        self.settle()
        return self.view.grab().toImage()

    def wheel(self, notch: int) -> None:
        at = QPointF(50, 50)
        event = QWheelEvent(
            at,
            self.view.mapToGlobal(at),
            QPoint(),
            QPoint(0, notch),
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QApplication.sendEvent(self.view, event)
        self.settle()

    def test_pages_are_turned_by_keys_and_never_past_an_end(self) -> None:
        self.view.show_pdf(self.long)
        self.assertGreaterEqual(self.view.count, 5)
        last = self.view.count
        for key, page in (
            (Qt.Key.Key_PageDown, 2),
            (Qt.Key.Key_Right, 3),
            (Qt.Key.Key_Space, 4),
            (Qt.Key.Key_PageUp, 3),
            (Qt.Key.Key_Left, 2),
            (Qt.Key.Key_End, last),
            (Qt.Key.Key_PageDown, last),
            (Qt.Key.Key_Home, 1),
            (Qt.Key.Key_PageUp, 1),
        ):
            QTest.keyClick(self.view, key)
            self.assertEqual(self.view.page, page, key)
            self.assertEqual(self.view.accessibleName(), f"Paper, page {page} of {last}")
            if page < last:
                self.assertIn(f"Page {page}", self.view.accessibleDescription())

    def test_the_wheel_turns_and_from_near_it_moves(self) -> None:
        self.view.show_pdf(self.long)
        self.wheel(-120)
        self.assertEqual(self.view.page, 2)
        self.wheel(120)
        self.assertEqual(self.view.page, 1)
        QTest.keyClick(self.view, Qt.Key.Key_Plus)
        near = self.seen()
        self.wheel(-120)
        self.assertEqual(self.view.page, 1)
        self.assertNotEqual(self.seen(), near)

    def test_it_is_looked_at_no_nearer_than_makes_sense(self) -> None:
        self.view.show_pdf(self.long)
        whole = self.seen()
        for _ in range(12):
            QTest.keyClick(self.view, Qt.Key.Key_Plus)
        self.assertEqual(self.view._near, 3.0)
        for _ in range(40):
            QTest.keyClick(self.view, Qt.Key.Key_Down)
        self.assertLessEqual(self.view._down, 2 * self.view.height())
        for _ in range(40):
            QTest.keyClick(self.view, Qt.Key.Key_Minus)
        self.assertEqual((self.view._near, self.view._down), (1.0, 0.0))
        self.assertEqual(self.seen(), whole)

    def test_two_pages_lie_side_by_side_where_there_is_room(self) -> None:
        self.view.show_pdf(self.long)
        self.seen()
        self.assertEqual({k[0] for k in self.view._images}, {0})
        self.view.resize(1200, 500)
        self.seen()
        self.assertLessEqual({0, 1}, {k[0] for k in self.view._images})
        QTest.keyClick(self.view, Qt.Key.Key_End)  # the last lies alone
        self.seen()
        self.assertEqual(self.view.page, self.view.count)

    def test_one_page_has_nothing_to_turn_and_words_stand_for_none(self) -> None:
        self.view.say("It is being laid out.")
        self.assertEqual(self.view.count, 0)
        self.assertEqual(self.view.accessibleDescription(), "It is being laid out.")
        blank = self.seen()
        QTest.keyClick(self.view, Qt.Key.Key_PageDown)
        self.view.show_pdf(self.long)
        QTest.keyClick(self.view, Qt.Key.Key_End)
        self.view.show_pdf(self.short)  # fewer pages than before: the last there is
        self.assertEqual((self.view.page, self.view.count), (1, 1))
        self.assertNotEqual(self.seen(), blank)
        self.assertNotIn("Paper: next page", {c.words for c in self.view.commands()})


if __name__ == "__main__":
    unittest.main()
