"""Set: dials, knobs, switches, plugs, curves and thresholds worked on the real window."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any

import numpy as np
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit

from tests.ui.base import WindowTest
from zombrel.job.ledger import provenance
from zombrel.job.source import Source
from zombrel.ui.set.cards import Entry
from zombrel.ui.set.touch import TouchView
from zombrel.ui.set.touch_paint import dial_place
from zombrel.ui.widgets.plot import Plot


class SetTest(WindowTest):
    def touch(self, name: str) -> TouchView:
        return self.named(TouchView, name, self.window.page("set"))

    def source(self, key: str) -> Source:
        return next(s for s in self.job.sources if s.id == key)

    def drag(self, plot: Plot, start: QPointF, end: QPointF) -> str:
        """Drag on a plot; what could be read half-way."""
        QTest.mousePress(plot, Qt.MouseButton.LeftButton, pos=start.toPoint())
        QTest.mouseMove(plot, ((start + end) / 2).toPoint())
        self.settle()
        during = self.texts(self.window.page("set"))
        QTest.mouseMove(plot, end.toPoint())
        QTest.mouseRelease(plot, Qt.MouseButton.LeftButton, pos=end.toPoint())
        self.settle()
        return during


class Scales(SetTest):
    def test_turning_the_dials_by_key_until_it_stands_right(self) -> None:
        page = self.go("set")
        dials = self.touch("Pace unit SPEED")
        self.assertIn("stands at E7, should stand at E9", dials.accessibleName())
        self.assertIn("2 steps from E9", self.texts(page))
        self.assertIn("+15.68 %", self.texts(page))
        dials.setFocus()
        self.key(Qt.Key.Key_Right, dials)  # to the fine dial
        self.key(Qt.Key.Key_Up, dials)
        self.assertEqual(self.job.devices[0].setting("SPEED"), "E8")
        self.key(Qt.Key.Key_Up, dials)
        self.assertEqual(self.job.devices[0].setting("SPEED"), "E9")
        self.assertIn("Stands where it should: +0.71 %", self.texts(page))
        self.assertNotIn("setting-speed-pace", self.findings())

    def test_divider_and_setting_in_one(self) -> None:
        page = self.go("set")
        self.press("Fit ÷7, set C1", page)
        self.assertIn("Stands where it should: +0.19 %", self.texts(page))
        self.assertIn("behind ÷7", self.texts(page))
        self.press("Pace unit SPEED: I read it back, C1", page)
        self.assertEqual(provenance(self.job, "devices.pace.settings.SPEED.at"), "measured")

    def test_clicking_dials_and_buttons(self) -> None:
        page = self.go("set")
        dials = self.touch("Pace unit SPEED")
        centre, radius = dial_place(dials.width(), 2, 0)
        QTest.mouseClick(
            dials, Qt.MouseButton.LeftButton, pos=(centre - QPointF(0, radius)).toPoint()
        )
        self.settle()
        self.assertEqual(self.job.devices[0].setting("SPEED"), "C7")
        page.select("tach-lamp")
        lamp = self.touch("Shift lamp TACH")
        QTest.mouseClick(lamp, Qt.MouseButton.LeftButton, pos=QPoint(lamp.width() - 35, 40))
        self.settle()
        self.assertEqual(self.job.devices[3].setting("TACH"), "1.5")
        self.key(Qt.Key.Key_Down, lamp)
        self.assertEqual(self.job.devices[3].setting("TACH"), "1")

    def test_the_menu_value_follows_the_tyre(self) -> None:
        page = self.go("set:speed-hub")
        self.assertIn(
            "stands at 24050, as it should", self.touch("Gauge hub SPEED").accessibleName()
        )
        self.window.go("survey")
        self.type(self.named(QLineEdit, "Tyres"), "195/55 R15")
        self.go("set:speed-hub")
        self.assertIn("should stand at 25330", self.touch("Gauge hub SPEED").accessibleName())
        self.press("Gauge hub SPEED: set 25330", page)
        self.assertEqual(self.job.devices[1].setting("SPEED"), "25330")

    def test_miles(self) -> None:
        page = self.go("set")
        self.press("Kilometres or miles")
        self.assertIn("60 mph", self.texts(page))
        self.assertIn("per mile", self.texts(page))

    def test_a_measured_distance_trims_the_setting(self) -> None:
        page = self.go("set:speed-hub")
        self.type(self.named(QLineEdit, "Gauge hub SPEED: true value"), "10.00", enter=False)
        self.type(self.named(QLineEdit, "Gauge hub SPEED: what it showed"), "10.14", enter=False)
        self.assertIn("it read +1.4 %", self.texts(page))
        self.press("Gauge hub SPEED: take the measured trim", page)
        self.assertEqual(self.job.devices[1].setting("SPEED"), "24390")
        self.assertIn("Stands where it should", self.texts(page))


class Curves(SetTest):
    def test_a_sensor_from_measured_pairs_to_the_devices_table(self) -> None:
        page = self.go("set:temp-hub")
        field = self.named(QLineEdit, "Measured pairs, °C and Ω", page)
        self.assertEqual(field.text(), "20:3030, 40:1437, 60:741, 80:407, 100:239")
        self.type(field, "0:9800, 20:3750, 40:1600, 60:750, 80:380, 100:207, 120:120")
        self.assertEqual(len(self.source("clt").spec.points), 7)  # type: ignore[union-attr]
        self.assertEqual(provenance(self.job, "sources.clt.spec.points"), "measured")
        self.assertIn("curve-temp-hub", self.findings())
        self.press("Gauge hub TEMP: load 12 points", page)
        hub = self.job.devices[1]
        self.assertEqual((hub.setting("TEMP"), len(hub.table("TEMP"))), ("table", 12))
        self.assertNotIn("curve-temp-hub", self.findings())
        self.assertRegex(self.texts(page), r"Within 0\.[0-6]\s°C over the range")
        self.press("Gauge hub TEMP: I read it back, table", page)
        self.assertEqual(provenance(self.job, "devices.hub.settings.TEMP.at"), "measured")

    def test_a_pair_that_does_not_fit_is_named(self) -> None:
        page = self.go("set:temp-hub")
        field = self.named(QLineEdit, "Measured pairs", page)
        self.type(field, "0:9800, 20:3750, 40:1600, 60:980, 80:380, 100:207, 120:120")
        self.press("Model: Steinhart–Hart", page)
        self.assertIn("measure again", self.texts(page))

    def test_bad_pairs_change_nothing(self) -> None:
        page = self.go("set:temp-hub")
        before = self.job
        field = self.named(QLineEdit, "Measured pairs", page)
        for text, said in (
            ("20:3030, forty:1437", "forty"),
            ("20:3030, 40:1437, 60:1900, 80:407", "turn back"),
            ("20:3030", "at least 2"),
        ):
            self.type(field, text)
            self.assertIn(said, self.said(), text)
            self.assertIs(self.job, before)

    def test_dragging_a_pair_shows_the_error_before_it_is_let_go(self) -> None:
        page = self.go("set:temp-hub")
        plot = page._cards["temp-hub"].plot
        start = plot.place(60, 741)
        during = self.drag(plot, start, start + QPointF(0, -12))
        self.assertIn("Would be within", during)
        moved = self.source("clt").spec.points  # type: ignore[union-attr]
        self.assertGreater(moved[2][1], 850)
        self.assertEqual(provenance(self.job, "sources.clt.spec.points"), "hearsay")
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual(self.source("clt").spec.points[2][1], 741)  # type: ignore[union-attr]

    def test_pairs_come_out_of_a_log(self) -> None:
        """A warm-up with a reference beside the sender's wire gives this sender's own curve."""
        from tests.logs.test_harvest import bead, warming

        truth, wire = warming(np.random.default_rng(3), 0.0, 0.2)
        path = self.home / "warm-up.csv"
        rows = zip(wire.t, truth.at(wire.t) - 273.15, wire.v, strict=True)
        lines = (f"{t:.1f},{c:.2f},{o:.1f}\n" for t, c, o in rows)
        path.write_text("time s,reference °C,wire Ω\n" + "".join(lines), encoding="utf-8")
        page = self.go("set:temp-hub")
        self.press("Take pairs out of a log", page)
        dialog: Any = self.dialog()
        self.assertIn("no log yet", self.texts(dialog))
        dialog.read(path)
        self.wait(lambda: dialog._pairs)
        self.assertIn("8 pairs from 2", self.texts(dialog))
        self.press("Take these pairs", dialog)
        points = self.source("clt").spec.points  # type: ignore[union-attr]
        self.assertEqual(len(points), 8)
        for kelvin, ohm in points:
            self.assertAlmostEqual(float(bead(np.array([kelvin]))[0]) / ohm, 1, delta=0.02)
        self.assertEqual(provenance(self.job, "sources.clt.spec.points"), "measured")
        self.assertIn("out of warm-up.csv", self.texts(page) + str(self.job.ledger))

    def test_points_and_thresholds_move_by_key(self) -> None:
        page = self.go("set:temp-hub")
        plot = page._cards["temp-hub"].plot
        plot.setFocus()
        self.key(Qt.Key.Key_Right, plot)
        self.key(Qt.Key.Key_Up, plot)
        self.assertGreater(self.source("clt").spec.points[0][1], 3030)  # type: ignore[union-attr]
        for _ in range(5):
            self.key(Qt.Key.Key_Right, plot)
        self.key(Qt.Key.Key_Down, plot)
        self.assertEqual(self.job.devices[1].setting("TEMP HIGH"), "104")

    def test_a_threshold_is_dragged_on_the_curve_that_causes_it(self) -> None:
        page = self.go("set:hub/TEMP HIGH")
        plot = page._cards["hub/TEMP HIGH"].plot
        self.drag(plot, plot.place(105, 500), plot.place(112, 500))
        self.assertEqual(self.job.devices[1].setting("TEMP HIGH"), "112")
        self.assertIn("105 °C is wanted", self.texts(page))

    def test_pairs_from_a_file(self) -> None:
        page = self.go("set:fuel-hub")
        card = page._cards["fuel-hub"]
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "tank.csv"
            path.write_text("litre;ohm\n0;72\n20;50,5\n55;5\n", encoding="utf-8")
            card.import_file(str(path))
            self.settle()
            tank = self.source("tank").spec
            self.assertEqual([round(y, 1) for _, y in tank.points], [72, 50.5, 5])  # type: ignore[union-attr]
            self.assertAlmostEqual(tank.points[1][0], 0.02)  # type: ignore[union-attr]
            path.write_text("litre\n", encoding="utf-8")
            before = self.job
            card.import_file(str(path))
            self.assertIn("tank.csv", self.said())
            self.assertIs(self.job, before)

    def test_units_of_the_user(self) -> None:
        page = self.go("set:oil-hub")
        self.window.actions_.all["pressure"].run()
        self.window.actions_.all["pressure"].run()
        self.settle()
        self.assertIn("psi", self.texts(page))
        self.go("set:fuel-hub")
        self.window.actions_.all["volume"].run()
        self.settle()
        self.assertIn("gal", self.texts(page))
        self.go("set:temp-hub")
        self.window.actions_.all["temperature"].run()
        self.settle()
        self.assertIn("68:3030", self.named(QLineEdit, "Measured pairs", page).text())


class Controls(SetTest):
    def test_a_limit_above_the_redline_is_danger_until_it_is_turned_back(self) -> None:
        page = self.go("set:spark/LIMIT")
        knob = self.touch("Spark box LIMIT")
        knob.setFocus()
        for _ in range(3):
            self.key(Qt.Key.Key_Up, knob)
        self.assertEqual(self.job.devices[2].setting("LIMIT"), "71")
        self.assertEqual(self.findings()["control-spark-LIMIT"].level, "trouble")
        self.assertIn("turn to 68: 3 clicks left", self.texts(page))
        self.press("Spark box LIMIT: set 68", page)
        self.assertNotIn("control-spark-LIMIT", self.findings())

    def test_what_is_wished_is_followed(self) -> None:
        page = self.go("set:spark/LAUNCH")
        field = self.named(QLineEdit, "Spark box LAUNCH: wanted", page)
        self.assertEqual(field.text(), "4200")
        self.type(field, "3850")
        self.assertIn("3800 rpm is wanted", self.texts(page))
        field.clear()
        self.key(Qt.Key.Key_Return, field)
        self.assertIn("4400 rpm is wanted", self.texts(page))  # peak torque at 4500, below it
        self.press("Why: Spark box LAUNCH", page)
        self.assertIn("greatest torque", self.texts(self.dialog()))
        self.press("Close", self.dialog())
        self.type(field, "many")
        self.assertIn("is not an engine speed", self.said())

    def test_the_shift_lamp_says_where_and_how_early(self) -> None:
        page = self.go("set:lamp/SHIFT")
        text = self.texts(page)
        for part in ("6800 (redline)", "6611", "5222", "2328", "6218"):
            self.assertIn(part, text)
        self.go("set:lamp/LAUNCH")
        for part in ("Launch lamp, every state", "dark", "lit", "flashing", "shift lamp only"):
            self.assertIn(part, self.texts(page))

    def test_every_thing_has_its_page_and_page_keys_walk_them(self) -> None:
        for number in ("0412", "0413", "0409"):
            self.session.open_demo(number)
            page = self.go("set")
            for _ in range(len(page._items)):
                self.key(Qt.Key.Key_PageDown, page)
                self.assertTrue(page._cards[page._chosen].isVisible())
                entry = next(e for e in page.findChildren(Entry) if e.isChecked())
                self.assertEqual(entry.key, page._chosen)


class Camper(SetTest):
    def setUp(self) -> None:
        super().setUp()
        self.session.open_demo("0413")
        self.settle()

    def test_a_resistor_at_a_plug(self) -> None:
        page = self.go("set:idle/IDLE")
        text = self.texts(page)
        self.assertIn("8.2 kΩ gives 1359 rpm, 1345 to 1373", text)
        self.assertIn("fit 8.2 kΩ", text)
        self.press("High-idle coder IDLE: set 8200", page)
        self.assertNotIn("unset-idle", self.findings())
        self.type(self.named(QLineEdit, "High-idle coder IDLE: wanted", page), "1200")
        self.assertRegex(self.texts(page), r"Set 1[3-6]\.?0? ?kΩ|Set 15 kΩ")
        self.go("set:idle/interlocks")
        self.assertEqual(self.texts(page).count("raised"), 1)

    def test_switches_are_flipped_by_finger_and_by_key(self) -> None:
        page = self.go("set:tach")
        bank = self.touch("Tachometer TACH")
        self.assertIn("Stands where it should: 0.00 %", self.texts(page))
        QTest.mouseClick(bank, Qt.MouseButton.LeftButton, pos=QPoint(10, 80))
        self.settle()
        self.assertEqual(self.job.devices[1].setting("TACH"), "01000001")
        self.assertIn("switch 1 on", self.texts(page))
        self.key(Qt.Key.Key_Space, bank)
        self.assertEqual(self.job.devices[1].setting("TACH"), "11000001")

    def test_the_boost_gauge_gets_its_own_sender(self) -> None:
        page = self.go("set:boost")
        self.assertIn("curve-boost", self.findings())
        self.press("Boost gauge BOOST: set curve 3 bar", page)
        self.assertNotIn("curve-boost", self.findings())


class WholeJob(SetTest):
    def test_timing_by_lamp(self) -> None:
        page = self.go("set:timing")
        self.assertIn("+0.7°", self.texts(page))
        self.press("Note the initial as 10.5°", page)
        self.assertEqual(self.job.vehicle.initial_deg, 10.5)
        self.type(self.named(QLineEdit, "Measured by lamp", page), "900:10.4, 3000:27")
        self.assertEqual(len(self.job.vehicle.timing_seen), 2)

    def test_blend_arithmetic(self) -> None:
        page = self.go("set:blend")
        # 20 l of 12 % and x of 85 % make 40 %: x = 20 · 28/45
        self.assertIn("12.4 l", self.texts(page))
        self.type(self.named(QLineEdit, "pump or injectors give an hour", page), "55", enter=False)
        self.assertIn("too little", self.texts(page))
        self.type(self.named(QLineEdit, "wanted, %", page), "x", enter=False)
        self.assertIn("Fill in every field", self.texts(page))

    def test_gears_follow_the_torque_curve(self) -> None:
        page = self.go("set:gears")
        self.assertIn("7595 over the redline", self.texts(page))
        self.go("survey")
        field = self.named(QLineEdit, "Torque at full load")
        self.type(field, "1500:205, 4000:262, 5000:200, 6800:90")
        self.go("set:gears")
        self.assertNotIn("(redline)", self.texts(page))
