"""Wires on the real window: drawn, changed, moved, found, and what every view says of them."""

from __future__ import annotations

import unittest

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit, QMenu, QWidget

from tests.ui.base import WindowTest
from zombrel.job.edits import Put
from zombrel.job.model import by_id


class Views(WindowTest):
    def test_views_by_alt_and_number(self) -> None:
        self.go("wire")
        for i, view in enumerate(("list", "plan", "power", "faces", "probe", "work"), 1):
            QTest.keyClick(
                self.window, getattr(Qt.Key, f"Key_{i}"), Qt.KeyboardModifier.AltModifier
            )
            self.settle()
            stage = self.window.page("wire")
            self.assertEqual(stage.view, view)  # type: ignore[attr-defined]
            self.assertEqual(self.window.settle.isVisible(), view == "list")

    def test_joints_of_a_wire(self) -> None:
        page = self.go("wire:W13").page("list")
        self.press("How each end is joined", page)
        said = self.texts(self.dialog())
        self.assertIn("crimped ring on clean metal", said)
        self.assertIn("Pull test: 310\u00a0N", said)


class Drawing(WindowTest):
    def test_what_is_missing_is_drawn_by_one_button(self) -> None:
        page = self.go("wire").page("list")
        self.assertIn("undrawn", self.findings())
        self.press("Draw the missing wires")
        self.assertNotIn("undrawn", self.findings())
        self.assertEqual(len(self.job.wires), 31)
        self.assertEqual(page._draw.isVisible(), False)
        said = self.texts(self.dialog())
        self.assertIn("8 wires drawn", said)
        self.assertIn("m, by the plan", said)
        self.press("Take it back", self.dialog())
        self.assertEqual(len(self.job.wires), 23)

    def test_a_wire_is_made_changed_and_taken_out(self) -> None:
        page = self.go("wire").page("list")
        self.press("New wire")
        dialog = self.dialog()
        self.named(QComboBox, "From", dialog).setCurrentText("Side lamp feed, D2 cavity 19 1")
        self.named(QComboBox, "To", dialog).setCurrentText("nowhere")
        self.press("Keep", dialog)
        self.assertIn("“nowhere” is no place of this job", self.texts(dialog))
        self.named(QComboBox, "To", dialog).setCurrentText("Gauge hub DIM")
        self.named(QComboBox, "Colour", dialog).setCurrentText("grey/red")
        self.press("Keep", dialog)
        self.assertFalse(dialog.isVisible())
        self.assertEqual(page._chosen, "W23")
        made = by_id(self.job.wires, "W23")
        assert made is not None
        self.assertEqual((made.b.place, made.b.pin, made.colour), ("hub", "DIM", "grey/red"))
        self.assertIn("unrouted", self.findings())
        self.press("Change the wire's ends", page)
        dialog = self.dialog()
        self.named(QComboBox, "From", dialog).setCurrentText("Gauge hub DIM")
        self.press("Keep", dialog)
        self.assertIn("two different ends", self.texts(dialog))
        self.named(QComboBox, "From", dialog).setCurrentText("D2 cavity 19")
        self.press("Keep", dialog)
        self.assertEqual(by_id(self.job.wires, "W23").a.place, "D2")  # type: ignore[union-attr]
        self.press("Take the wire out", page)
        self.assertIsNone(by_id(self.job.wires, "W23"))

    def test_a_wire_of_a_signal_goes_from_it_too(self) -> None:
        page = self.go("wire:W3").page("list")
        self.press("Take the wire out", page)
        self.assertEqual(by_id(self.job.chains, "brake-pace").wires, ())  # type: ignore[union-attr]
        self.assertEqual(self.job.changes[0].wire, "")
        self.assertIn("undrawn", self.findings())
        self.key(Qt.Key.Key_Z, self.window, ctrl=True)
        self.assertEqual(by_id(self.job.chains, "brake-pace").wires, ("W3",))  # type: ignore[union-attr]

    def test_the_first_wire_of_an_empty_job(self) -> None:
        self.session.start(type(self.job)())
        self.go("wire")
        self.press("New wire")
        dialog = self.dialog()
        self.press("Keep", dialog)
        self.assertIn("is no place of this job", self.texts(dialog))
        self.press("Leave it", dialog)
        self.assertEqual(self.job.wires, ())


class More(WindowTest):
    def test_length_of_a_run_is_fixed_and_freed(self) -> None:
        page = self.go("wire:W4").page("list")
        plan = self.session.assessment.run("W4").length_m
        self.assertIn("Foot left – Dash", self.texts(page))
        self.type(self.named(QLineEdit, "Length", page), f"{plan:g}")
        self.assertFalse(by_id(self.job.wires, "W4").fixed)  # type: ignore[union-attr]
        self.type(self.named(QLineEdit, "Length", page), "2.75")
        self.assertIn("Measured length", self.texts(page))
        self.assertEqual(self.session.assessment.run("W4").length_m, 2.75)
        self.press("Length by plan", page)
        self.assertEqual(self.session.assessment.run("W4").length_m, plan)
        self.press("shielded", page)
        self.assertTrue(by_id(self.job.wires, "W4").shielded)  # type: ignore[union-attr]
        self.press("Show this wire on the plan", page)
        self.assertEqual(self.window.page("wire").view, "plan")  # type: ignore[attr-defined]
        self.assertEqual(self.window.page("wire").page("plan").chosen, "W4")  # type: ignore[attr-defined]

    def test_where_a_thing_lies_is_said_from_a_menu(self) -> None:
        page = self.go("wire:plan/W19").page("plan")
        self.press("Engine computer lies in: Foot right", page)
        menu = page.findChildren(QMenu)[-1]
        next(a for a in menu.actions() if a.text() == "Boot").trigger()
        self.settle()
        self.assertEqual(by_id(self.job.devices, "ecu").zone, "boot")  # type: ignore[union-attr]
        menu.close()
        self.key(Qt.Key.Key_1, page.view)
        self.assertEqual(by_id(self.job.wires, "W19").via[-1], "boot")  # type: ignore[union-attr]

    def test_up_and_down_walk_the_wires_and_escape_leaves_the_zone(self) -> None:
        page = self.go("wire:plan").page("plan")
        self.key(Qt.Key.Key_Down, page.view)
        self.key(Qt.Key.Key_Down, page.view)
        self.key(Qt.Key.Key_Up, page.view)
        self.assertEqual(page.chosen, "W2")
        self.key(Qt.Key.Key_Z, page.view)
        self.assertIn("Zone Nose chosen", page.view.accessibleName())
        self.press("wet", page)
        self.assertFalse(by_id(self.job.zones, "nose").wet)  # type: ignore[union-attr]
        self.key(Qt.Key.Key_Escape, page.view)
        self.assertEqual(page.view.zone, "")
        self.type_zone_name(page)

    def type_zone_name(self, page: QWidget) -> None:
        self.go("wire:plan/tunnel")
        self.type(self.named(QLineEdit, "Name of the zone", page), "Long tunnel")
        self.assertEqual(by_id(self.job.zones, "tunnel").name, "Long tunnel")  # type: ignore[union-attr]

    def test_a_lifted_stud_is_no_good_stud(self) -> None:
        """The stud says what is wrong with it where it is listed, until it is right."""
        page = self.go("wire:power").page("power")
        title = "Blend reader OUT: ground lifted by 1.60 V"
        self.assertIn(title, self.texts(page))
        self.session.do("cleaned", Put(path="studs.G3.ohm", value=0.0))
        self.settle()
        self.assertNotIn("ground lifted", self.texts(page))

    def test_the_slot_is_mended_where_it_hangs(self) -> None:
        page = self.go("wire:power/F9").page("power")
        self.press("Back to 10 A", page)
        self.assertNotIn("slot-F9", self.findings())
        self.press("Why: days parked", page)
        self.assertIn("A·h", self.texts(self.dialog()))

    def test_volts_are_cleared_and_a_half_row_is_not_kept(self) -> None:
        page = self.go("wire:power").page("power")
        field = self.named(QLineEdit, "Slot F8: volts, crank", page)
        self.type(field, "ten")
        self.assertEqual(by_id(self.job.feeds, "F8").volts.crank, 10.6)  # type: ignore[union-attr]
        for position in ("off", "acc.", "run", "crank", "lights"):
            one = self.named(QLineEdit, f"Slot F8: volts, {position}", page)
            one.setFocus()
            one.clear()
        self.named(QLineEdit, "Slot F2: volts, off", page).setFocus()
        self.settle()
        self.assertIsNone(by_id(self.job.feeds, "F8").volts)  # type: ignore[union-attr]
        self.press("Add a feed", page)
        self.assertIn("Give the new feed a name", self.said())

    def test_a_wire_is_moved_to_another_connector(self) -> None:
        page = self.go("wire:faces/D2.27").page("faces")
        self.assertIn("Cavity 27", page.face.accessibleName())
        self.press("remap at cavity 27", page)
        goal = self.named(QLineEdit, "Goes to connector.cavity", page)
        self.assertEqual(goal.text(), "B4.6")
        self.type(goal, "B4.1")
        self.assertIn("B4 cavity 1 is occupied", self.texts(page))
        self.type(self.named(QLineEdit, "Goes to connector.cavity", page), "B4.9")
        self.assertNotIn("change-C2-0", self.findings())
        self.assertIn("cut it off and crimp the new one on", self.texts(page))
        self.key(Qt.Key.Key_B, page)
        self.assertIn("Seen empty", page.face.words())
        picked = self.named(QComboBox, "Connector", page)
        picked.setCurrentIndex(1)
        picked.activated.emit(1)
        self.settle()
        self.assertIn("the square corner", self.texts(page))

    def test_a_foot_pedal_answers_and_the_faces_turn(self) -> None:
        self.session.open_demo("0409")
        page = self.go("wire:probe/remap").page("probe")
        self.key(Qt.Key.Key_PageDown)
        self.key(Qt.Key.Key_PageUp)
        said = [x.conducts for x in self.job.leads[0].answers]
        self.assertEqual(said, [True, False])
        self.key(Qt.Key.Key_M)
        self.assertIn("mating face", self.texts(page))
        self.assertIn("V52.1 – E40.1: sounds", self.texts(page))
        self.press("No, it is open", page)
        self.assertIn("lead-remap", self.findings())
        picked = self.named(QComboBox, "Lead", page)
        picked.activated.emit(0)
        self.assertEqual(page.lead.id, "remap")

    def test_everything_of_the_wiring_is_found_by_name(self) -> None:
        for text, part, view in (
            ("zone tunnel", "Zone: Tunnel", "plan"),
            ("feed f9", "Feed F9", "power"),
            ("b4 cavity 7", "B4 cavity 7: green/white brake lamps", "faces"),
            ("battery size", "Fact: Battery size 60", "power"),
            ("wire: order", "Wire: order of work", "work"),
        ):
            self.window.open_find()
            self.settle()
            dialog = self.dialog()
            field = self.named(QLineEdit, "Find anything", dialog)
            self.type(field, text, enter=False)
            listed = [dialog.results.item(i).text() for i in range(dialog.results.count())]  # type: ignore[attr-defined]
            row = next(i for i, words in enumerate(listed) if part in words)
            dialog.results.setCurrentRow(row)  # type: ignore[attr-defined]
            self.key(Qt.Key.Key_Return, field)
            with self.subTest(text):
                self.assertEqual(self.window.page("wire").view, view)  # type: ignore[attr-defined]

    def test_cautions_stand_on_every_view(self) -> None:
        for view in ("list", "plan", "power", "faces", "probe", "work"):
            page = self.go(f"wire:{view}")
            self.assertIn("Battery negative comes off first", self.texts(page))
        self.press("All cautions", page)
        self.assertIn("Control-unit connectors are parted", self.texts(self.dialog()))

    def test_a_whole_order_is_shown_and_a_tick_taken_back(self) -> None:
        page = self.go("wire:work").page("work")
        self.wait(lambda: page.order is not None)
        self.settle()
        self.press("Show all", page)
        self.assertIn("Road test", self.texts(page))
        self.press("Show fewer", page)
        self.assertNotIn("Road test", self.texts(page))
        page.finish(page.current())
        self.wait(lambda: page.order.done)
        self.settle()
        self.press("Not done after all", page)
        self.wait(lambda: not page.order.done)
        self.assertEqual(self.job.work[0].state, "paused")

    def test_paper_of_an_empty_job_says_what_is_missing(self) -> None:
        self.session.start(type(self.job)())
        page = self.go("handover:drawing")
        self.assertIn("nothing to draw", page.view.accessibleDescription())
        self.press("Show: Dossier", page)
        self.assertNotIn("nothing to draw", page.view.accessibleDescription())


if __name__ == "__main__":
    unittest.main()
