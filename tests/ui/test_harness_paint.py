"""What is painted of the wiring: colours where things are, names on hover, by day and by night."""

from __future__ import annotations

import unittest

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QImage, QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget

from tests.ui.base import WindowTest
from zombrel.handover.drawing import A3, drawing
from zombrel.harness.laid import laid
from zombrel.harness.plugs import face
from zombrel.job.model import by_id
from zombrel.job.wiring import Connector
from zombrel.ui.wire.plugs.face_view import FaceView


def colour(image: QImage, at: QPointF) -> QColor:
    return image.pixelColor(at.toPoint())


def near(a: QColor, b: QColor, most: int = 40) -> bool:
    """Alike to the eye."""
    return all(abs(x - y) <= most for x, y in zip(a.getRgb()[:3], b.getRgb()[:3], strict=True))


class Painted(WindowTest):
    def image(self, widget: QWidget) -> QImage:
        self.settle()
        return widget.grab().toImage()

    def night(self, on: bool) -> None:
        if self.session.prefs.night != on:
            self.key(Qt.Key.Key_L, self.window, ctrl=True)

    def test_the_run_is_drawn_through_its_zones(self) -> None:
        view = self.go("wire:plan/W13").page("plan").view
        for on in (False, True):
            self.night(on)
            image, t = self.image(view), self.session.theme
            run = self.session.assessment.run("W13")
            zones = {z.id: z for z in self.job.zones}
            for key in run.via[1:-1]:
                middle = view.box(zones[key]).center()
                found = [
                    colour(image, middle + QPointF(dx, dy))
                    for dx in range(-8, 9)
                    for dy in range(-8, 9)
                ]
                self.assertTrue(any(near(c, QColor(t.petrol)) for c in found), (key, on))
            other = view.box(zones["bay-right"]).center() + QPointF(20, 20)
            self.assertFalse(near(colour(image, other), QColor(t.petrol)))

    def test_hot_zones_are_tinted_and_the_chosen_one_is_framed(self) -> None:
        view = self.go("wire:plan").page("plan").view
        zones = {z.id: z for z in self.job.zones}
        image, t = self.image(view), self.session.theme
        hot = colour(image, view.box(zones["bay-right"]).bottomRight() - QPointF(8, 8))
        cool = colour(image, view.box(zones["boot"]).bottomRight() - QPointF(8, 8))
        self.assertGreater(hot.red() - hot.blue(), cool.red() - cool.blue() + 10)
        view.zone_chosen.emit("boot")
        box = view.box(zones["boot"])
        edge = [
            colour(self.image(view), QPointF(box.center().x() + dx, box.bottom() + dy))
            for dy in (-1, 0, 1)
            for dx in (-30, 30)
        ]
        self.assertTrue(any(near(c, QColor(t.focus), 60) for c in edge))

    def test_each_kind_of_cavity_looks_its_own(self) -> None:
        page = self.go("wire:faces/B4").page("faces")
        view = page.face
        image = self.image(view)
        centre = {n: colour(image, view._cell(n).center()) for n in (1, 4, 6, 13)}
        self.assertTrue(near(centre[1], QColor("#B23232")))  # a red wire
        self.assertTrue(near(centre[4], QColor(self.session.theme.quiet), 70))  # blanked: a stroke
        self.assertFalse(near(centre[6], QColor("#B23232")))  # vacant
        self.assertNotEqual(centre[13], centre[6])  # crossed out

    def test_a_cavity_is_named_on_hover_and_walked_by_arrows_on_odd_faces(self) -> None:
        view = self.go("wire:faces/B4").page("faces").face
        at = view._cell(7).center()
        event = QMouseEvent(
            QMouseEvent.Type.MouseMove,
            at,
            at,
            Qt.MouseButton.NoButton,
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
        )
        view.mouseMoveEvent(event)
        self.assertIn("Cavity 7: row 2, third from the square corner", view.toolTip())
        view.choose(1)
        self.key(Qt.Key.Key_Down, view)  # rows of four and five: half a pitch aside
        self.assertIn(view.cavity, (5, 6))
        self.key(Qt.Key.Key_Up, view)
        self.assertIn(view.cavity, (1, 2))
        view.choose(4)
        self.key(Qt.Key.Key_Right, view)
        self.assertEqual(view.cavity, 4)  # the edge of the face

    def test_every_cavity_can_be_reached_and_lies_inside(self) -> None:
        for c in (
            Connector(rows=3, columns=4, stagger=0.5),
            Connector(columns=7, round=True),
            Connector(rows=2, columns=13, numbering="forth and back"),
            Connector(rows=1, columns=60),
            Connector(places=((1, 0, 0), (9, 4, 3), (4, 2, -2))),
        ):
            view = FaceView(self.session)
            view.resize(320, 200)
            view.show_face(c, 0)
            for mating in (False, True):
                view.mating = mating
                for p in face.places(c):
                    cell = view._cell(p.n)
                    self.assertTrue(QPointF(0, 0).x() <= cell.left() and cell.right() <= 320)
                    self.assertTrue(cell.top() >= 0 and cell.bottom() <= 200)
                    self.assertEqual(view._at(cell.center()), p.n)

    def test_the_drawing_on_the_screen_is_the_one_on_paper(self) -> None:
        page = self.go("handover:drawing")
        self.wait(lambda: page.view.count)
        self.assertEqual(page.view.count, len(drawing(laid(self.job))))
        image = page.view._rendered(0, 1.0)
        self.assertAlmostEqual(image.width() / image.height(), A3.size[0] / A3.size[1], places=2)
        self.assertTrue(near(image.pixelColor(QPoint(6, 6)), QColor("#FFFFFF")))
        inked = sum(
            image.pixelColor(x, y).lightness() < 90
            for x in range(0, image.width(), 7)
            for y in range(0, image.height(), 7)
        )
        self.assertGreater(inked, 100)

    def test_a_click_on_the_plan_chooses_the_smallest_zone_there(self) -> None:
        view = self.go("wire:plan").page("plan").view
        sill = by_id(self.job.zones, "sill-left")
        assert sill is not None
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.box(sill).center().toPoint())
        self.settle()
        self.assertEqual(view.zone, "sill-left")
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(3, 3))
        self.settle()
        self.assertEqual(view.zone, "")


if __name__ == "__main__":
    unittest.main()
