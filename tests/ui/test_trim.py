"""Measured distance, trimming and what a card says while a setting is turned."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLineEdit

from tests.ui.base import WindowTest
from zombrel.job.model import by_id
from zombrel.ui.set.touch import TouchView


class Trim(WindowTest):
    def fields(self, name: str) -> tuple[QLineEdit, QLineEdit]:
        return (
            self.named(QLineEdit, f"{name}: true value"),
            self.named(QLineEdit, f"{name}: what it showed"),
        )

    def test_through_a_divider_the_source_learns_its_true_rate(self) -> None:
        """Behind ÷7 the dials believe 3430 per km; 2 % high means 24 490 per km at the ring."""
        page = self.go("set:speed-pace")
        self.press("Fit ÷7, set C1", page)
        true, shown = self.fields("Pace unit SPEED")
        self.type(true, "10,00", enter=False)
        self.type(shown, "10,20", enter=False)
        self.assertIn("it read +2.0 %", self.texts(page))
        self.press("Pace unit SPEED: take the measured trim", page)
        ring = by_id(self.job.sources, "ring")
        assert ring is not None
        self.assertAlmostEqual(ring.trim, 3429.74 * 7 * 1.02 / 24054, delta=0.0005)
        self.assertEqual((true.text(), shown.text()), ("", ""))
        # 3498 per km lies nearest C1 still, and what is left is said
        self.assertEqual(self.job.devices[0].setting("SPEED"), "C1")
        self.assertIn("+2.0", self.texts(page))
        self.key(Qt.Key.Key_Z, self.window, ctrl=True)
        self.assertEqual(by_id(self.job.sources, "ring").trim, 1)  # type: ignore[union-attr]

    def test_nothing_is_offered_for_numbers_that_are_none(self) -> None:
        page = self.go("set:tach-hub")
        true, shown = self.fields("Gauge hub TACH")
        for a, b in (("", ""), ("fast", "10"), ("0", "10"), ("-4", "10"), ("10", "")):
            self.type(true, a, enter=False)
            if not a:
                true.clear()
            self.type(shown, b, enter=False)
            if not b:
                shown.clear()
            self.settle()
            self.assertNotIn("Trim to", self.texts(page), (a, b))
        self.type(true, "3000", enter=False)
        self.type(shown, "1500", enter=False)
        self.assertIn("Trim to 3", self.texts(page))  # half the count: half the cylinders

    def test_the_order_to_turn_follows_each_click(self) -> None:
        page = self.go("set:speed-pace")
        dials = self.named(TouchView, "Pace unit SPEED", page)
        self.assertIn("fine to 9: 2 clicks right", self.texts(page))
        dials.setFocus()
        self.key(Qt.Key.Key_Down, dials)
        self.assertIn("coarse to E: 1 click right", self.texts(page))
        self.assertIn("fine to 9: 2 clicks right", self.texts(page))
        self.assertIn("lid off, connector towards you", self.texts(page))

    def test_a_menu_is_opened_step_by_step(self) -> None:
        page = self.go("set:hub/OIL LOW")
        screen = self.named(TouchView, "Gauge hub OIL LOW", page)
        screen.setFocus()
        for _ in range(3):
            self.key(Qt.Key.Key_Up, screen)
        self.assertEqual(self.job.devices[1].setting("OIL LOW"), "1.1")
        self.assertIn("1. open Warnings › Oil › Below; 2. set 0.8; 3. confirm", self.texts(page))
        self.press("Gauge hub OIL LOW: I read it back, 1.1", page)
        self.assertNotIn("I read it back", self.texts(page))
        self.press("Gauge hub OIL LOW: set 0.8", page)
        self.assertIn("I read it back: 0.8", self.texts(page))

    def test_error_over_the_range_says_what_wear_does(self) -> None:
        page = self.go("set:speed-pace")
        card = page._cards["speed-pace"]
        names = [line.name for line in card.plot._picture.lines]
        self.assertEqual(names[:2], ["as it stands, E7", "C1 behind ÷7"])
        self.assertIn("with wear ±1.5 %", names)
        first = card.plot._picture.lines[0].points
        self.assertAlmostEqual(first[-1][0], 149.7, delta=0.2)  # it drops out there
        self.assertAlmostEqual(first[0][1], 15.68, delta=0.01)
        worn = card.plot._picture.lines[2].points
        self.assertAlmostEqual(worn[0][1], (1.0019 / 0.985 - 1) * 100, delta=0.05)
