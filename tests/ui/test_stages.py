"""Wire, Set, Prove and Road: one whole task each, on the real window."""

from __future__ import annotations

import re
import threading
import unittest
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit, QMenu

from tests.ui.base import WindowTest
from zombrel.behaviour.reports import dials_map, paced
from zombrel.catalog import DEMO
from zombrel.diagnose.steps import steps
from zombrel.findings.settle import settle
from zombrel.job.ledger import provenance
from zombrel.job.model import by_id
from zombrel.signals.reduce import divider_of
from zombrel.store.zjob import load
from zombrel.ui.wire.plugs.face_view import FaceView


class Wire(WindowTest):
    def test_count_the_like_coloured_wire_on_its_face(self) -> None:
        page = self.go("wire:W3").page("list")
        face = self.named(FaceView, "Connector face", page)
        self.assertIn("row 3, seventh from the lever end", face.accessibleName())
        self.assertIn("Cavity 4 has the same green/white", self.texts(page))
        face.setFocus()
        before = face._cell(27).center().x()
        self.key(Qt.Key.Key_M, face)
        self.assertIn("mating face", face.accessibleName())
        middle = face._shell().center().x()
        self.assertAlmostEqual(face._cell(27).center().x() - middle, middle - before, delta=1)
        self.key(Qt.Key.Key_Right, face)  # to the right on the mating face is one lower
        self.assertIn("Cavity 26", face.accessibleName())
        self.key(Qt.Key.Key_Up, face)
        self.assertIn("Cavity 16", face.accessibleName())
        self.assertIn("Seen empty", face.words())
        self.press("D2 cavity 27", page)
        menu = page.findChildren(QMenu)[-1]
        next(a for a in menu.actions() if a.text().startswith("counted")).trigger()
        self.settle()
        self.assertEqual(provenance(self.job, "wires.W3.a"), "counted")
        self.assertNotIn("colour-W3-a", self.findings())

    def test_a_cavity_is_named_by_the_mouse(self) -> None:
        page = self.go("wire:W3").page("list")
        face = self.named(FaceView, "Connector face", page)
        QTest.mouseClick(face, Qt.MouseButton.LeftButton, pos=face._cell(4).center().toPoint())
        self.assertIn("Cavity 4: row 1, fourth", face.accessibleName())

    def test_the_table_reads_as_the_job_is(self) -> None:
        page = self.go("wire").page("list")
        model = page.model
        rows = {model.rows[i][0]: model.rows[i] for i in range(model.rowCount())}
        self.assertEqual(len(rows), 23)
        self.assertEqual(
            rows["W13"][1:8],
            ("Battery post", "Spark box BATT", "4", "3.6 m", "12 A", "1.5 %", "20 A"),
        )
        self.assertEqual(rows["W11"][8], "other car")

    def test_size_length_and_fuse_are_edited(self) -> None:
        page = self.go("wire:W13").page("list")
        size = self.named(QComboBox, "Cross-section", page)
        size.setCurrentText("1 mm²")
        size.activated.emit(size.currentIndex())
        self.settle()
        self.assertIn("fuse-W13", self.findings())
        self.assertIn("20 A fuse on a", self.texts(page))
        self.type(self.named(QLineEdit, "Length", page), "0,8")
        wire = by_id(self.job.wires, "W13")
        assert wire is not None
        self.assertEqual((wire.area_mm2, wire.length_m), (1.0, 0.8))
        self.type(self.named(QLineEdit, "Length", page), "far")
        self.assertIn("not a length", self.said())
        fuse = self.named(QComboBox, "In-line fuse", page)
        fuse.setCurrentText("5 A")
        fuse.activated.emit(fuse.currentIndex())
        self.settle()
        self.assertNotIn("fuse-W13", self.findings())
        self.press("twisted pair", page)
        self.assertTrue(by_id(self.job.wires, "W13").twisted)  # type: ignore[union-attr]

    def test_arrow_keys_why_and_gauges(self) -> None:
        page = self.go("wire").page("list")
        self.key(Qt.Key.Key_Down, page.table)
        self.assertEqual(page._chosen, "W2")
        self.key(Qt.Key.Key_W, page.table)
        self.assertIn("IEC 60028", self.texts(self.dialog()))
        self.press("Close", self.dialog())
        self.window.actions_.all["area"].run()
        self.settle()
        self.assertTrue(page.model.rows[0][3].startswith("AWG"))


class Prove(WindowTest):
    def test_bench_proof_by_keyboard_alone(self) -> None:
        self.mend_all()
        page = self.go("prove")
        self.assertIn("Take the fuses of what is fitted out", self.texts(page))
        while page._now != "brake-brake-pace":
            self.key(Qt.Key.Key_Space, page)  # all as expected, without figures
        self.assertEqual(provenance(self.job, "wires.W6.a"), "document")  # a tick is no evidence
        self.assertIn("Press and release the brake", self.texts(page))
        self.assertIn("must pass before any road test", self.texts(page))
        self.key(Qt.Key.Key_Space, page)
        self.assertIn("type what was seen", self.said())
        for digit in "0.05":
            QTest.keyClick(self.window.focusWidget(), digit)
        self.key(Qt.Key.Key_Return)
        QTest.keyClicks(self.window.focusWidget(), "12.5")
        self.key(Qt.Key.Key_Return)
        self.assertEqual(provenance(self.job, "wires.W3.a"), "proven")
        self.assertEqual(provenance(self.job, "vehicle.lamps"), "proven")
        page = self.go("prove:roll-speed-pace")
        self.assertIn("Roll the car by hand", self.texts(page))
        for text in ("116", "99"):
            QTest.keyClicks(self.window.focusWidget(), text)
            self.key(Qt.Key.Key_Return)
        self.assertIn("right within 1 %", self.said())
        page = self.go("prove:idle-tach-hub")
        for text in ("850", "855"):
            QTest.keyClicks(self.window.focusWidget(), text)
            self.key(Qt.Key.Key_Return)
        self.assertIn("Idle, Gauge hub: proven", self.said())
        page = self.go("prove:sensor-temp-hub")
        for text in ("21", "21.4", "88", "89"):
            QTest.keyClicks(self.window.focusWidget(), text)
            self.key(Qt.Key.Key_Return)
        self.assertIn("Coolant, Gauge hub: proven", self.said())

    def test_rows_of_a_device_are_answered_by_one_key(self) -> None:
        self.session.start(settle(load(DEMO / "0409.zjob"))[0])
        page = self.go("prove:row-match-011")
        self.key(Qt.Key.Key_Space, page)
        self.assertIn("The engine stays off", self.said())  # first what holds it back
        self.assertEqual(self.job.proofs, ())
        for step in [s for s in steps(self.job) if s.kind == "hold"]:
            page = self.go(f"prove:{step.id}")
            page.enter([f"{(max(f.low, 0) + f.high) / 2:.1f}" for f in step.fields])
        page = self.go("prove:row-match-011")
        self.assertIn("Let it act, then: brake down.", self.texts(page))
        self.key(Qt.Key.Key_X, page)
        self.assertIn("proof-row-match-011", self.findings())
        self.go("prove:row-match-011")
        self.key(Qt.Key.Key_Space, page)
        self.assertNotIn("proof-row-match-011", self.findings())
        self.assertIn("armed", self.texts(page))
        self.assertIn("Clutch up, Rev-match module", self.session.assessment.road_lock)

    def test_a_gate_is_left_with_a_reason_and_stays_shut(self) -> None:
        self.mend_all()
        page = self.go("prove:brake-brake-pace")
        self.key(Qt.Key.Key_Q, page)
        self.press("Leave it out", self.dialog())
        self.assertEqual(self.job.proofs, ())  # not without a reason
        self.named(QLineEdit, "Why it is left out", self.dialog()).setText("no helper today")
        self.press("Leave it out", self.dialog())
        self.assertEqual(self.job.proofs[0].note, "no helper today")
        self.assertIn("no helper today", self.session.assessment.road_lock)

    def test_what_was_seen_ranks_the_causes(self) -> None:
        self.mend_all()
        page = self.go("prove:brake-brake-pace")
        page.enter(["7.0", "12.6"])
        self.settle()
        self.assertIn("Pedal up 7 V is above", self.said())
        cards = self.texts(page)
        self.assertIn("No path to ground at rest", cards)
        self.assertLess(cards.index("No path to ground"), cards.index("hot side"))
        self.assertIn("proof-brake-brake-pace", self.findings())
        page.enter(["0.05", "12.6"])
        self.assertNotIn("proof-brake-brake-pace", self.findings())

    def test_volts_that_were_read_are_evidence_for_the_feeds(self) -> None:
        self.mend_all()
        slot = next(s for s in steps(self.job) if any(f.name == "spark.KEY" for f in s.fields))
        page = self.go(f"prove:{slot.id}")
        wrong = ["11.0" if f.name == "spark.KEY" else "12.5" for f in slot.fields]
        page.enter(wrong)
        self.assertIn("Spark box KEY 11 V is below", self.said())
        wire = next(w for w in self.job.wires if (w.b.place, w.b.pin) == ("spark", "KEY"))
        self.assertNotEqual(provenance(self.job, f"wires.{wire.id}.a"), "measured")
        self.go(f"prove:{slot.id}")
        page.enter(["12.5"] * len(slot.fields))
        self.assertEqual(provenance(self.job, f"wires.{wire.id}.a"), "measured")

    def test_the_flashes_follow_the_distance(self) -> None:
        self.mend_all()
        page = self.go("prove:roll-speed-pace")
        self.assertIn("4 or 5 in 5 m", self.texts(page))
        field = page._fields[0].edit
        for text, part in (("20", "17 or 18 in 20 m"), ("z", "4 or 5 in 5 m")):
            field.selectAll()
            QTest.keyClicks(field, text)
            self.settle()
            self.assertIn(part, self.texts(page))

    def test_the_gate_wants_numbers_and_a_line_that_can_pass(self) -> None:
        page = self.go("prove:brake-brake-pace")
        self.assertIn("cannot pass", self.texts(page))
        page.as_expected()
        self.assertIn("fit the relay", self.said())
        self.assertEqual(self.job.proofs, ())
        self.mend_all()
        self.go("prove:brake-brake-pace")
        page.as_expected()
        self.assertIn("type what was seen", self.said())
        self.assertEqual(self.job.proofs, ())
        page.enter(["abc", ""])
        self.assertIn("not a voltage", self.said())
        page.enter(["0.1", ""])
        self.assertIn("Still to be seen: Pedal down", self.said())

    def test_left_out_stays_open(self) -> None:
        page = self.go("prove:power-BAT")
        self.key(Qt.Key.Key_Q, page)
        self.assertEqual(self.job.proofs[0].verdict, "not reached")
        self.assertEqual(page._now, "power-F2")
        self.key(Qt.Key.Key_PageUp, page)
        self.assertEqual(page._now, "power-BAT")
        self.assertIn("left out", self.texts(page))
        self.key(Qt.Key.Key_X, page)
        self.assertIn("Type what was seen", self.said())
        self.press("Why: Power, Battery post", page)
        self.assertIn("I · L · ρ/A", self.texts(self.dialog()))
        self.press("Close", self.dialog())


class Road(WindowTest):
    def test_a_report_gives_one_change_that_is_kept(self) -> None:
        self.prove_brake()
        page = self.go("road")
        box = self.named(QComboBox, "What the driver reports", page)
        box.setCurrentText("Pace unit: It sags on hills")
        box.activated.emit(box.currentIndex())
        self.settle()
        self.assertIn("take-up: 1 → 2. Nothing else.", self.texts(page))
        self.press("Take the change", page)
        pace = by_id(self.job.devices, "pace")
        assert pace is not None
        self.assertEqual(pace.setting("TAKE-UP"), "2")
        self.assertEqual(self.job.trials[0].report, "It sags on hills")
        self.assertIn("it sags on hills", self.texts(page))
        self.window.actions_.all["undo"].run()
        self.settle()
        self.assertEqual(self.job.trials, ())
        lit = "Shift lamp. Lit at 6200 rpm"  # what it does as it is set
        self.assertIn(lit, self.texts(page))
        self.press("Why: Shift lamp, lamp", page)
        self.assertIn("from the lamp to the clutch", self.texts(self.dialog()))
        self.press("Close", self.dialog())
        box.setCurrentText("Shift lamp: The shift lamp comes too early")
        box.activated.emit(box.currentIndex())
        self.settle()
        self.assertIn("Then: Lit at 6300 rpm", self.texts(page))
        self.press("Take the change", page)
        self.assertIn("Shift lamp. Lit at 6300 rpm", self.texts(page))

    def test_every_setting_at_a_glance(self) -> None:
        self.prove_brake()
        page = self.go("road")
        self.press("What every setting would do", page)
        self.wait(lambda: not page._mapping.busy)
        self.settle()
        text = self.texts(page)
        self.assertIn("held at 90 km/h on the level", text)
        self.assertEqual(len(re.findall(r"sags \d", text)), 16)
        self.assertFalse(page.chart.isVisible())
        box = self.named(QComboBox, "What the driver reports", page)
        box.setCurrentText("Pace unit: It sags on hills")
        box.activated.emit(box.currentIndex())
        self.wait(lambda: not page._mapping.busy)
        self.settle()
        text = self.texts(page)
        self.assertIn("held at 90 km/h on 3 % up", text)
        device = paced(self.job)
        assert device is not None
        stands = next(s for s in dials_map(self.job, device, 0.03) if s.stands)
        self.assertIn(f"sags {stands.felt.droop_kmh:.1f}", text)
        self.press("What every setting would do", page)
        self.assertTrue(page.chart.isVisible())

    def prove_brake(self) -> None:
        self.mend_all()
        self.go("prove:brake-brake-pace").enter(["0.05", "12.6"])
        self.window.hush()

    def test_the_gate(self) -> None:
        """Locked says why and leads to the proof; the proof opens it."""
        page = self.go("road")
        self.assertIn("stay locked until all that holds a device back is proven", self.texts(page))
        self.assertIn("cannot pass", self.texts(page))
        self.press("Go to the proof", page)
        self.assertEqual(self.window._stage, "prove")
        self.prove_brake()
        self.go("road")
        self.assertNotIn("locked", self.texts(page))
        self.assertEqual(self.session.assessment.stages[5].words, "may begin")

    def test_a_csv_becomes_a_setting(self) -> None:
        self.prove_brake()
        page = self.go("road")
        page.read_csv(DEMO / "0412-road.csv")
        self.wait(lambda: not page.background.busy)
        self.settle()
        text = self.texts(page)
        for part in ("+1.6 % ±", "C1 ÷7", "while accelerating", "C6 behind ÷5", "95 %"):
            self.assertIn(part, text)
        self.assertIn("250 points", page.chart.accessibleName())
        self.press("Set C6 behind ÷5", page)
        self.assertEqual(self.job.devices[0].setting("SPEED"), "C6")
        divider = divider_of(self.job.chains[0])
        assert divider is not None
        self.assertEqual(divider.by, 5)
        self.assertIn("nothing to change", self.texts(page))
        self.assertEqual(self.session.assessment.stages[5].words, "driven")
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual(self.job.devices[0].setting("SPEED"), "C1")
        self.press("Why: the road fit", page)
        self.assertIn("setting × scale × divider", self.texts(self.dialog()))
        self.press("Close", self.dialog())

    def test_a_recording_is_played_live(self) -> None:
        self.prove_brake()
        page = self.go("road")
        page.play(DEMO / "0412-road.nmea", rate=400.0)
        self.wait(lambda: not page.background.busy)
        self.assertIn("Playing", self.said())
        self.wait(lambda: page._last is not None and len(page._live) > 20)
        self.assertIn("km/h; device shows", self.texts(page))
        self.wait(lambda: self.job.road)
        self.assertEqual(len(self.job.road[0].t), 244)  # six seconds without a lock
        self.assertIn("+1.", self.texts(page))

    def test_a_helper_types_what_the_device_shows(self) -> None:
        self.prove_brake()
        page = self.go("road")
        page.play(DEMO / "0412-road.nmea", rate=60.0)
        self.wait(lambda: not page.background.busy)
        self.wait(lambda: page._last is not None and page._last.t > 5)
        before = len(page._live)
        self.type(page.typed, "52")
        self.assertGreater(len(page._live), before)
        self.type(page.typed, "quick")
        self.assertIn("not a speed", self.said())
        self.press("Stop and fit", page)
        self.assertIsNone(page._receiver)

    def test_bad_logs_change_nothing(self) -> None:
        self.prove_brake()
        page = self.go("road")
        before = self.job
        bad = self.home / "bad.csv"
        bad.write_text("a,b\nx,y\n")
        page.read_csv(bad)
        self.wait(lambda: not page.background.busy)
        self.assertIn("bad.csv", self.said())
        page.play(bad)
        self.wait(lambda: not page.background.busy)
        self.assertIn("no speed", self.said())
        self.assertIs(self.job, before)

    def test_a_unit_is_asked_for_and_a_long_log_waited_for(self) -> None:
        self.prove_brake()
        page = self.go("road")
        log = self.home / "run.csv"
        rows = "\n".join(f"{i / 10},{50 + i // 3000},{52 + i // 3000}" for i in range(120_000))
        log.write_text("time s,gps,shown\n" + rows)
        with mock.patch("zombrel.ui.widgets.ask.ask", return_value="Do not read it") as asked:
            page.read_csv(log)
            self.assertEqual(self.job.road, ())  # nobody waits
            self.wait(lambda: asked.called)
        self.assertIn("the unit of “gps” cannot be told. Which unit is it?", asked.call_args[0][2])
        self.assertFalse(page.background.busy)
        with mock.patch("zombrel.ui.widgets.ask.ask", return_value="mph"):
            page.read_csv(log)
            self.wait(lambda: self.job.road)
        run = self.job.road[0]
        self.assertEqual(len(run.t), 40_000)
        self.assertIn("Of 120000 rows one in 3 is kept", run.note)
        self.assertAlmostEqual(run.true[0], 50 * 1609.344 / 3600)

    def test_work_that_takes_long_shows_a_sign_and_can_be_given_up(self) -> None:
        page = self.go("road")
        told: list[object] = []
        end = threading.Event()
        page.background.start("Reading it", end.wait, told.append, told.append)
        self.wait(lambda: page.background._sign is not None)
        dialog = self.dialog()
        self.assertIn("Reading it", self.texts(dialog))
        self.press("Give it up", dialog)
        self.assertFalse(page.background.busy)
        end.set()
        self.settle()
        self.assertEqual(told, [])

        gone = threading.Event()
        answers: list[bool] = []

        def work() -> None:
            answers.append(page.background.tell(0.4))
            gone.wait()
            answers.append(page.background.tell(0.8))

        page.background.start("Reading it", work, told.append, told.append)
        self.wait(lambda: page.background._sign is not None)
        dialog = self.dialog()
        self.wait(lambda: "40 %" in self.texts(dialog))
        self.press("Give it up", dialog)
        gone.set()
        self.wait(lambda: len(answers) == 2)
        self.assertEqual(answers, [True, False])  # who was given up ends by itself

        def break_down() -> None:
            raise ZeroDivisionError("by nothing")

        page.background.start("Reading it", break_down, told.append, told.append)
        self.wait(lambda: told)
        self.assertIn("Reading it did not succeed: by nothing", str(told[0]))


if __name__ == "__main__":
    unittest.main()
