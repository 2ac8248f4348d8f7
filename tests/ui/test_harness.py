"""Wiring on the real window: probe, reroute, intercept, plan a day, meter a feed, write files."""

from __future__ import annotations

import json
import unittest
from pathlib import Path

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit

from tests.ui import test_demos
from tests.ui.base import WindowTest
from zombrel.harness.plugs.conducts import Nets
from zombrel.job.ledger import provenance
from zombrel.job.model import by_id
from zombrel.ui.wire.plan_view import PlanView
from zombrel.ui.wire.plugs.face_view import FaceView


class Probing(WindowTest):
    def test_a_ten_way_lead_with_a_swap_by_keyboard_alone(self) -> None:
        paper = [(f"P.{n}", f"Q.{n}") for n in range(1, 11)]
        path = self.home / "lead.csv"
        path.write_text("a,b\n" + "".join(f"{a},{b}\n" for a, b in paper))
        page = self.go("wire:probe").page("probe")
        self.assertIn("Nothing to probe yet", self.texts(page))
        page.read_file(path)
        self.settle()
        real = dict(paper) | {"P.3": "Q.7", "P.7": "Q.3"}
        meter = Nets(list(real.items()))
        self.assertIn("Touch these two", self.texts(page))
        self.assertIn("1 of 19", self.texts(page))
        for _ in range(60):
            a, b = (w.text().replace("  ", ".") for w in (page._a, page._b))
            if not a:
                break
            yes = meter.joined(a, b)
            self.key(Qt.Key.Key_Y if yes else Qt.Key.Key_N)
        said = self.texts(page)
        self.assertIn("All probed", said)
        self.assertIn("Q.3 and Q.7 have changed places", said)
        self.assertIn("lead-lead", self.findings())
        words = "Q.3 and Q.7 have changed places"
        self.press(f"The lead was wrong: {words}", page)  # repaired: what was touched is open again
        self.assertIn("repaired, and not probed again", self.findings()["lead-lead"].title)
        self.assertIn("Repaired, to be probed again", self.texts(page))
        self.key(Qt.Key.Key_Z, self.window, ctrl=True)
        self.press(f"The paper is wrong: {words}", page)
        self.assertEqual({(r.a, r.b) for r in self.job.leads[0].rows}, set(real.items()))
        self.assertEqual(provenance(self.job, "leads.lead.rows"), "measured")
        self.assertNotIn("not as the paper", " ".join(f.title for f in self.findings().values()))
        out = self.home / "out.csv"
        page.write_file(out)
        self.assertIn('"P.3","Q.7"', out.read_text())
        self.assertIn("measured", out.read_text())
        self.key(Qt.Key.Key_Z, self.window, ctrl=True)
        self.assertIn("⇄ Q.3 and Q.7 have changed places", self.texts(page))

    def test_a_wrong_key_is_taken_back(self) -> None:
        page = self.go("wire:probe").page("probe")
        self.press("Probe our own wires", page)
        self.key(Qt.Key.Key_Space)
        self.assertEqual(len(self.job.leads[0].answers), 1)
        self.key(Qt.Key.Key_Backspace)
        self.assertEqual(self.job.leads[0].answers, ())
        self.key(Qt.Key.Key_Backspace)
        self.assertIn("Nothing to take back", self.said())
        self.key(Qt.Key.Key_W)
        self.assertIn("path cover", self.texts(self.dialog()))

    def test_the_paper_of_the_racer_is_put_right(self) -> None:
        self.session.open_demo("0409")
        page = self.go("wire:probe").page("probe")
        face = self.named(FaceView, "Connector face", page)
        self.assertIn("row 1, first from the corner mark", face.accessibleName())
        self.press("Take the sample probing", page)
        said = self.texts(page)
        for words in (
            "E26.3 and E26.4 have changed places",
            "V52.14 comes out at E40.26, not at E40.16",
            "V52.50 to E26.21 does not conduct",
        ):
            self.assertIn(words, said)
        self.assertEqual(self.findings()["lead-remap"].level, "trouble")
        self.press("The paper is wrong in all of it", page)
        rows = {r.signal: r.b for r in self.job.leads[0].rows}
        self.assertEqual((rows["lambda heater"], rows["fan relay"]), ("E26.4", "E26.3"))
        self.assertEqual(rows["5 V pressure"], "E40.26")
        self.assertNotIn("check lamp", rows)

    def test_a_bad_file_says_so_and_adds_nothing(self) -> None:
        page = self.go("wire:probe").page("probe")
        bad = self.home / "bad.csv"
        bad.write_text("only one\n")
        page.read_file(bad)
        self.assertIn("line 1: two names are wanted", self.said())
        self.assertEqual(self.job.leads, ())


class Plan(WindowTest):
    def test_a_run_is_moved_out_of_the_heat_by_one_key(self) -> None:
        self.session.open_demo("0413")
        page = self.go("wire:plan/W12").page("plan")
        self.assertIn("fuse-W12", self.findings())
        view = self.named(PlanView, "Plan of the vehicle", page)
        self.assertIn("Bay right", view.accessibleName())
        self.assertIn("60 K hotter", self.texts(page))
        self.key(Qt.Key.Key_1, view)
        self.assertNotIn("fuse-W12", self.findings())
        self.assertNotIn("Bay right", view.accessibleName())
        self.key(Qt.Key.Key_Z, self.window, ctrl=True)
        self.assertIn("fuse-W12", self.findings())

    def test_the_noisy_run_is_mended_from_settle_next(self) -> None:
        self.go("wire")
        self.press("Run it by the sill left", self.window.settle)
        self.assertNotIn("noise-W1-0", self.findings())
        self.assertEqual(by_id(self.job.wires, "W2").via, by_id(self.job.wires, "W1").via)  # type: ignore[union-attr]

    def test_each_planted_wiring_trouble_takes_one_action(self) -> None:
        self.go("wire")
        for key, label in (
            ("slot-F9", "Back to 10 A"),
            ("colour-W3-a", "Counted: it is 27"),
            ("feed-W15", "Feed from F8"),
            ("noise-W1-0", "Run it by"),
        ):
            self.assertIn(key, self.findings())
            self.press(label, self.window.settle)
            self.assertNotIn(key, self.findings())

    def test_a_dragged_zone_takes_lengths_along(self) -> None:
        page = self.go("wire:plan/W4").page("plan")
        view = page.view
        before = self.session.assessment.run("W4").length_m
        foot = by_id(self.job.zones, "foot-left")
        assert foot is not None
        middle = view.box(foot).center().toPoint()
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=middle)
        QTest.mouseMove(view, middle + QPoint(60, 0))
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=middle + QPoint(60, 0))
        self.settle()
        moved = by_id(self.job.zones, "foot-left")
        assert moved is not None
        self.assertGreater(moved.x_m, foot.x_m + 0.1)
        self.assertGreater(self.session.assessment.run("W4").length_m, before)
        self.assertIn("Ways from here", self.texts(page))
        self.key(Qt.Key.Key_Left, view)
        nudged = by_id(self.job.zones, "foot-left")
        self.assertAlmostEqual(nudged.x_m, round(moved.x_m - 0.05, 2))  # type: ignore[union-attr]
        heat = self.named(QLineEdit, "Foot left: hotter by", page)
        self.type(heat, "warm")
        self.assertIn("is not a number", self.said())
        self.type(heat, "12")
        self.assertEqual(by_id(self.job.zones, "foot-left").over_ambient_k, 12)  # type: ignore[union-attr]
        self.type(self.named(QLineEdit, "Length of the way to Dash", page), "2")
        self.assertEqual(self.session.assessment.run("W4").length_m, 2.4)

    def test_an_empty_job_is_given_a_plan(self) -> None:
        self.session.start(type(self.job)())
        page = self.go("wire:plan").page("plan")
        self.assertIn("No plan yet", self.texts(page))
        self.press("Van or camper", page)
        self.assertEqual(len(self.job.zones), 15)
        self.assertIn("No wires yet", self.texts(page))

    def test_zones_and_ways_are_added_and_taken_out(self) -> None:
        page = self.go("wire:plan/boot").page("plan")
        self.press("New zone beside", page)
        self.assertEqual(self.job.zones[-1].id, "zone-1")
        self.press("Take Zone 1 out", page)
        self.assertIsNone(by_id(self.job.zones, "zone-1"))
        self.key(Qt.Key.Key_W, page.view)
        self.assertIn("Dijkstra", self.texts(self.dialog()))


class Power(WindowTest):
    def test_the_class_follows_as_volts_are_typed(self) -> None:
        page = self.go("wire:power").page("power")
        for position, volts in (("off", "12.5"), ("acc.", "12.5"), ("run", "12.4")):
            self.type(self.named(QLineEdit, f"Slot F9: volts, {position}", page), volts, False)
        self.assertIn("four positions decide", self.texts(page))
        self.type(self.named(QLineEdit, "Slot F9: volts, crank", page), "10.1", enter=False)
        self.assertIn("constant, noted: run", self.texts(page))
        self.named(QLineEdit, "Slot F9: volts, lights", page).setFocus()
        self.settle()
        self.assertIn("class-F9", self.findings())
        self.press("Slot F9: it is constant", page)
        self.assertEqual(by_id(self.job.feeds, "F9").feed, "constant")  # type: ignore[union-attr]
        self.assertEqual(provenance(self.job, "feeds.F9.feed"), "measured")
        self.type(self.named(QLineEdit, "Slot F9: volts, crank", page), "90", enter=False)
        self.assertIn("no reading of a 12 or 24 V vehicle", self.texts(page))

    def test_tree_and_sums(self) -> None:
        page = self.go("wire:power").page("power")
        said = self.texts(page)
        for words in (
            "Starts after 48 days",
            "13 A to spare at idle",
            "Slot F9: 20 A fuse",
            "◆ wrong: W15",
            "lifted 1.60 V",
        ):
            self.assertIn(words, said)
        self.type(self.named(QLineEdit, "Battery size", page), "20")
        self.assertIn("Starts after 16 days", self.texts(page))
        self.assertIn("flat", self.findings())
        self.type(self.named(QLineEdit, "Name of a new feed", page), "F11")
        self.assertIn("Slot F11", self.texts(page))


class Faces(WindowTest):
    def test_a_pin_is_intercepted(self) -> None:
        page = self.go("wire:faces/D2").page("faces")
        face = page.face
        for _ in range(2):
            self.key(Qt.Key.Key_Down, face)
        for _ in range(6):
            self.key(Qt.Key.Key_Right, face)
        self.assertIn("Cavity 27", face.accessibleName())
        self.press("intercept at cavity 27", page)
        said = self.texts(page)
        for words in (
            "C2: intercept at cavity 27",
            "Count to D2 cavity 27 (row 3, seventh",
            "male half",
            "Lay out: female terminal BK 2.8",
        ):
            self.assertIn(words, said)
        self.assertEqual(self.job.changes[-1].wire, "W3")
        self.press("Face before or after", page)
        self.assertIn("W3 ours", face.words())
        self.press("Face before or after", page)
        self.assertNotIn("W3 ours", face.words())
        self.press("Turn the connector round", page)
        self.assertIn("mating face", self.texts(page))
        box = self.named(QComboBox, "Our wire", page)
        box.setCurrentText("W13")
        box.activated.emit(box.currentIndex())
        self.settle()
        self.assertIn("W13 is 4 mm²", self.texts(page))
        self.assertIn("change-C2-0", self.findings())
        self.press("Drop", page)
        self.assertEqual(len(self.job.changes), 1)

    def test_any_face_comes_from_a_file_and_the_keyings_are_compared(self) -> None:
        page = self.go("wire:faces").page("faces")
        path = self.home / "round.json"
        path.write_text(
            json.dumps({"id": "R7", "name": "round seven", "columns": 7, "round": True})
        )
        page.read_file(str(path))
        self.settle()
        self.assertIn("R7", [c.id for c in self.job.connectors])
        self.assertIn("round the ring", page.face.words())
        page.read_file(str(self.home / "none.json"))
        self.assertIn("cannot be read", self.said())
        self.session.open_demo("0409")
        page.show_item("CSE")
        self.settle()
        self.assertIn(
            "cam signal and cam supply exchanged; cam screen added in cavity 4",
            self.texts(page),
        )
        order = self.named(QLineEdit, "Firing order", page)
        self.type(order, "1-5-3-6-2-4")
        lengths = self.named(QLineEdit, "Lead lengths", page)
        self.type(lengths, "575 480 385 290 195 100", enter=False)
        self.assertIn("360° late", self.texts(page))


class Work(WindowTest):
    def page_ready(self) -> object:
        page = self.go("wire:work").page("work")
        self.wait(lambda: page.order is not None)
        self.settle()
        return page

    def test_a_day_is_planned_and_worked_by_keyboard(self) -> None:
        page = self.page_ready()
        said = self.texts(page)
        self.assertIn("battery off 1 ×", said)
        self.assertIn("Open the bonnet", said)
        self.assertIn("4 × blade fuse 1 A", said)
        first = page.current()
        self.key(Qt.Key.Key_Space, page)
        self.assertEqual(self.job.work[0].state, "begun")
        self.assertIn("Running", self.texts(page))
        self.key(Qt.Key.Key_Space, page)
        self.assertEqual(self.job.work[0].state, "paused")
        self.key(Qt.Key.Key_D, page)
        self.wait(lambda: page.order.done)
        self.settle()
        self.assertIn(f"✓ {first.title}", self.texts(page))
        self.assertNotEqual(page.current().id, first.id)
        held = page.current()
        self.key(Qt.Key.Key_H, page)
        self.wait(lambda: page.order.held)
        self.settle()
        self.assertIn("Meanwhile", self.texts(page))
        self.assertNotEqual(page.current().id, held.id)
        self.press("Part is here", page)
        self.wait(lambda: not page.order.held)
        self.key(Qt.Key.Key_W, page)
        self.assertIn("Held and Karp", self.texts(self.dialog()))

    def test_the_order_is_whole_in_both_sizes(self) -> None:
        for size in test_demos.SIZES:
            self.window.resize(*size)
            page = self.page_ready()
            test_demos.Everywhere.check_page(self, page, f"work {size}")  # type: ignore[arg-type]

    def test_no_work_says_what_to_do(self) -> None:
        self.session.start(type(self.job)())
        page = self.page_ready()
        self.assertIn("No work yet", self.texts(page))


class Papers(WindowTest):
    def test_drawing_labels_and_all_files(self) -> None:
        page = self.go("handover:drawing")
        self.wait(lambda: "W13" in page.view.accessibleDescription())
        self.press("Show: Labels", page)
        self.wait(lambda: "Battery post" in page.view.accessibleDescription())
        page.save_pdf(Path(self.home / "labels.pdf"))
        self.wait(lambda: not page.background.busy)
        self.assertTrue((self.home / "labels.pdf").read_bytes().startswith(b"%PDF"))
        page.write_all(self.home)
        self.wait(lambda: not page.background.busy)
        self.assertIn("20 files written", self.said())
        folder = self.home / "0412 Curlew shooting-brake, Marsh"
        self.assertEqual(len(list(folder.iterdir())), 20)
        self.assertTrue((folder / "0412-dossier.pdf").read_bytes().startswith(b"%PDF"))
        page.write_all(self.home)
        self.wait(lambda: not page.background.busy)
        self.assertIn("is there already", self.said())
        self.press("Show: Leads", page)
        self.assertIn("No remap lead", page.view.accessibleDescription())


if __name__ == "__main__":
    unittest.main()
