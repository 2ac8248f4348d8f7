"""Source: the board by mouse and by keyboard, the strip, alternatives, mends, suppositions."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QLineEdit, QWidget

from tests.ui.base import WindowTest
from tests.ui.test_demos import WIRE
from zombrel.catalog.sheets import shelf
from zombrel.catalog.sources import templates
from zombrel.signals.reduce import divider_of
from zombrel.ui.source.board import HopTile
from zombrel.ui.widgets.paint import Panel, Slider
from zombrel.ui.widgets.plot import Plot


class Board(WindowTest):
    def test_what_a_user_reads_first(self) -> None:
        text = self.texts()
        for part in (
            "Road speed",
            "for Pace unit, SPEED",
            "15.7 % high",
            "81.0",
            "true 70.0",
            "may not cancel",
            "unsure",
            "Settle next: 15",
            "Brake pedal may not cancel",
            "then drops out",
            "Best: divider ÷7, set C1",
        ):
            self.assertIn(part, text)
        tile = self.named(HopTile, "Road speed, source")
        self.assertIn("46 teeth", tile.accessibleName())
        strip = self.named(Plot, "drops out")
        self.assertIn("43.5 km/h to 149.7 km/h", strip.accessibleName())

    def test_a_whole_chain_mended_by_keyboard(self) -> None:
        """Arrow to the empty hop, choose the divider, then the setting is right."""
        self.key(Qt.Key.Key_Right)
        self.assertIn("Ways from this source to this input", self.texts())
        self.press("Fit divider ÷7, C1", self.window.page("source"))
        chain = self.job.chains[0]
        divider = divider_of(chain)
        assert divider is not None
        self.assertEqual(divider.by, 7)
        self.assertIn("0.2 % high", self.texts())
        self.assertNotIn("rate-limit-speed-pace", self.findings())
        self.assertNotIn("waveform-speed-pace", self.findings())
        self.press("Fit as it is", self.window.page("source"))
        self.assertIsNone(divider_of(self.job.chains[0]))
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual(self.job.chains[0].hops, ())
        self.key(Qt.Key.Key_Y, ctrl=True)
        self.assertIsNotNone(divider_of(self.job.chains[0]))

    def test_walking_with_arrows(self) -> None:
        page = self.window.page("source")
        for key, where in (
            (Qt.Key.Key_Down, ("brake-pace", "source")),
            (Qt.Key.Key_Right, ("brake-pace", "way")),
            (Qt.Key.Key_Right, ("brake-pace", "run")),
            (Qt.Key.Key_Right, ("brake-pace", "input")),
            (Qt.Key.Key_Right, ("brake-pace", "input")),
            (Qt.Key.Key_Down, ("tach-lamp", "input")),
            (Qt.Key.Key_Left, ("tach-lamp", "run")),
            (Qt.Key.Key_Up, ("brake-pace", "run")),
            (Qt.Key.Key_Up, ("speed-pace", "run")),
        ):
            self.key(key)
            self.assertEqual((page._chosen, page._hop), where)
            focus = self.window.focusWidget()
            self.assertIsInstance(focus, HopTile)
            self.assertEqual(focus.key, where[1])  # type: ignore[union-attr]

    def test_why_from_the_keyboard(self) -> None:
        self.key(Qt.Key.Key_W)
        dialog = self.dialog()
        words = self.texts(dialog)
        for part in ("24\u00a0054 per km", "teeth ÷ rolling circumference", "measured", "±1.5 %"):
            self.assertIn(part, words)
        self.key(Qt.Key.Key_Escape, dialog)
        self.assertFalse(dialog.isVisible())

    def test_another_source_and_why_it_lost(self) -> None:
        self.go("source:tach-lamp")
        said = [panel.accessibleName() for panel in self.window.findChildren(Panel)]
        self.assertTrue(any("3 sparks per firing" in name for name in said))
        self.assertIn("Engine off and key out before touching", self.texts())
        self.press("Use Spark box TACH OUT", self.window.page("source"))
        self.assertEqual(self.job.chains[2].source, "s4out")
        self.assertEqual(self.job.devices[3].setting("TACH"), "3")
        self.assertNotIn("coil-tach-lamp", self.findings())

    def test_a_worse_source_may_be_taken_and_is_recorded(self) -> None:
        """From bad to best and back: the finder is overruled, and says so."""
        page = self.go("source:speed-pace")
        self.assertIn("Loses by work", self.texts(page))
        said = [panel.accessibleName() for panel in page.findChildren(Panel)]
        self.assertTrue(any("loses because of work: 90 min against 40" in name for name in said))
        self.press("Why: Propeller-shaft magnets", page)
        self.assertIn("score = 100 · 60 ÷ (60 + minutes)", self.texts(self.dialog()))
        self.press("Close", self.dialog())
        self.press("Use Propeller-shaft magnets", page)
        self.assertEqual(self.job.chains[0].source, "prop")
        self.assertIn(
            "taken over Left rear tone ring (score 43)",
            self.findings()["overruled-speed-pace"].text,
        )
        self.press("Use Left rear tone ring", page)
        self.assertEqual(self.job.chains[0].over, "")
        self.assertEqual(divider_of(self.job.chains[0]).by, 7)  # type: ignore[union-attr]
        self.assertEqual(self.job.devices[0].setting("SPEED"), "C1")
        self.assertNotIn("overruled-speed-pace", self.findings())
        self.assertNotIn("setting-speed-pace", self.findings())

    def test_a_sensor_chain_follows_its_quantity(self) -> None:
        """The bench offers what the chosen chain is about; board and strip follow."""
        page = self.go("source:blend-ecu")
        self.assertIn("67", self.texts(page._rows["blend-ecu"]))
        self.press("Open the bench")
        self.press("Fuel blend, type a value")
        self.type(self.named(QLineEdit, "Fuel blend, typed"), "20")
        self.assertAlmostEqual(self.session.state.blend, 0.2)
        self.assertIn("60", self.texts(page._rows["blend-ecu"]))
        self.press("Ground it at Dash stud")
        self.assertIn("20", self.texts(page._rows["blend-ecu"]))
        self.assertNotIn("lift-blend-ecu", self.findings())
        self.go("source:dim-hub")
        self.press("Lights on")
        self.assertIn("true on", self.texts(page._rows["dim-hub"]))

    def test_ways_of_a_sensor_and_of_a_contact(self) -> None:
        self.session.open_demo("0409")
        page = self.go("source:clutch")
        self.key(Qt.Key.Key_Right)
        text = self.texts(page)
        self.assertIn("Relay\nServes.", text)
        self.assertIn("Rests closed: the device would see on for off.", text)
        self.press("Fit relay", page)
        self.assertNotIn("contact-clutch", self.findings())
        self.press("Fit as it is", page)
        self.assertIn("contact-clutch", self.findings())
        page.select("coolant", "input")
        self.settle()
        self.assertIn("reads ohm, pull-up 1.00 kΩ to 5 V, 12 bits over 5 V", self.texts(page))
        self.press("Open in Set", page)
        self.assertEqual(self.window.page("set")._chosen, "coolant")

    def test_cautions_stand_where_the_work_is(self) -> None:
        for chain, part in (
            ("blend-reader", "open fuel"),
            ("temp-hub", "fans can start"),
            ("tach-lamp", "hundreds of volts"),
            ("brake-pace", "must cancel"),
        ):
            page = self.go(f"source:{chain}")
            self.assertIn(part, self.texts(page), chain)

    def test_a_sensors_reading_can_be_asked_why(self) -> None:
        page = self.go("source:temp-hub")
        self.key(Qt.Key.Key_W)
        words = self.texts(self.dialog())
        for part in (
            "R̂ = Rp · V ÷ (Vp − V)",
            "ground lift",
            "one count",
            "Moves it most",
            "measured",
            "Millman",
        ):
            self.assertIn(part, words)
        self.press("Close", self.dialog())
        page.select("clutch-lamp", "input")
        self.key(Qt.Key.Key_W)
        self.assertIn("circuit logic", self.texts(self.dialog()))

    def test_a_chosen_row_is_brought_into_view_whole(self) -> None:
        page = self.window.page("source")
        for key in ("tach-hub", "speed-pace", "tach-lamp"):
            page.select(key, "source")
            row, port = page._rows[key], page._area.viewport()

            def whole(row: QWidget = row, port: QWidget = port) -> bool:
                top = row.mapTo(port, row.rect().topLeft()).y()
                bottom = row.mapTo(port, row.rect().bottomLeft()).y()
                return top >= -1 and bottom <= max(port.height(), row.height()) + 1

            self.wait(whole)

    def test_the_brake_gets_its_relay(self) -> None:
        self.go("source:brake-pace")
        self.key(Qt.Key.Key_Right)
        self.press("Fit relay", self.window.page("source"))
        self.assertIn("cancels for sure", self.texts())
        self.press("Open the bench")
        self.press("Brake pedal pressed")
        self.assertIn("cancel", self.texts())
        self.assertIn("true pressed", self.texts())

    def test_the_run_is_twisted(self) -> None:
        self.go("source:speed-pace")
        self.key(Qt.Key.Key_Right)
        self.key(Qt.Key.Key_Right)
        self.assertIn("60 mm from coil 2", self.texts())
        self.press("Twist W1", self.window.page("source"))
        self.assertNotIn("noise-W1-0", self.findings())

    def test_no_words_are_cut(self) -> None:
        """Every label is given the room its text needs, in both sizes of the window."""
        for size in ((1280, 800), (1024, 700)):
            self.window.resize(*size)
            for stage in ("survey", "source", *WIRE, "set", "prove", "road"):
                self.go(stage)
                for label in self.window.findChildren(type(self.window._title)):
                    if not label.isVisible() or label.wordWrap() or not label.text():
                        continue
                    with self.subTest(size=size, stage=stage, text=label.text()):
                        self.assertGreaterEqual(label.width() + 1, label.sizeHint().width())

    def test_nothing_reaches_past_its_window(self) -> None:
        """No control is pushed out at the side in either size of the window."""
        for size in ((1280, 800), (1024, 700)):
            self.window.resize(*size)
            for stage in ("survey", "source", *WIRE, "set", "prove:brake-brake-pace", "road"):
                page = self.go(stage)
                for widget in (*page.findChildren(QAbstractButton), *page.findChildren(Panel)):
                    if widget.isVisible():
                        right = widget.mapTo(page, widget.rect().topRight()).x()
                        left = widget.mapTo(page, widget.rect().topLeft()).x()
                        name = widget.accessibleName()
                        with self.subTest(size=size, stage=stage, widget=name):
                            self.assertLessEqual(right, page.width())
                            self.assertGreaterEqual(left, 0)

    def test_settle_next_on_a_narrow_window(self) -> None:
        self.window.resize(1024, 700)
        self.settle()
        self.assertFalse(self.window.settle.isVisible())
        self.press("Show or hide what to settle next")
        self.assertIn("Brake pedal may not cancel", self.texts(self.window.settle))
        self.key(Qt.Key.Key_J, self.window, ctrl=True)
        self.assertFalse(self.window.settle.isVisible())
        self.window.resize(1280, 800)
        self.go("source")
        self.assertFalse(self.window.settle.isVisible())
        self.key(Qt.Key.Key_J, self.window, ctrl=True)
        self.assertTrue(self.window.settle.isVisible())


class Settling(WindowTest):
    def test_all_by_ctrl_m_and_back_again(self) -> None:
        start = self.job
        done = 0
        while any(m.edit for f in self.findings().values() for m in f.mends):
            self.key(Qt.Key.Key_M, ctrl=True)
            done += 1
            self.assertLess(done, 20)
        self.assertEqual(set(self.findings()), {"assumed", "uncounted", "undrawn"})
        for _ in range(done):
            self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertIs(self.job, start)

    def test_a_card_s_own_button_and_its_why(self) -> None:
        self.press("Why: Slot F9", self.window.settle)
        self.assertIn("heat balance", self.texts(self.dialog()))
        self.press("Close", self.dialog())
        self.press("Back to 10 A: Slot F9", self.window.settle)
        self.assertNotIn("slot-F9", self.findings())
        self.assertIn("Ctrl+Z takes it back", self.said())

    def test_findings_and_reasons_are_in_the_user_s_units(self) -> None:
        self.assertIn("drops out above 150 km/h", self.texts(self.window.settle))
        self.press("Kilometres or miles")
        text = self.texts(self.window.settle)
        self.assertIn("drops out above 93 mph", text)
        self.assertIn("38\u00a0711 pulses per mile", text)
        self.assertNotIn("km/h", text)
        self.press("Why: Road speed drops out", self.window.settle)
        self.assertIn("pulses per mile", self.texts(self.dialog()))
        self.assertNotIn("{", self.texts(self.dialog()))

    def test_a_finding_leads_to_its_place(self) -> None:
        self.press("Show the face: Two green/white", self.window.settle)
        self.assertEqual(self.window._stage, "wire")
        self.assertEqual(self.window.page("wire").page("list")._chosen, "W3")


class Suppositions(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.window.actions_.qt["bench"].trigger()
        self.settle()

    def quantity(self, name: str) -> Slider:
        return self.named(Slider, name, self.window.bench)

    def test_named_states(self) -> None:
        for name, part in (
            ("Key off", "no supply here"),
            ("Idle", "200.0 % high"),
            ("Launch", "standing still"),
            ("70 on the flat", "81.0"),
        ):
            self.press(f"Suppose: {name}")
            self.assertIn(part, self.texts(self.window.page("source")))
            self.assertEqual(self.session.state_name, name)

    def test_dragging_speed_moves_the_whole_window(self) -> None:
        slider = self.quantity("Speed")
        for v, part in ((30, "too weak to count"), (100, "115.7"), (170, "drops out")):
            slider.setValue(v)
            self.settle()
            self.assertIn(part, self.texts(self.window.page("source")))
        self.assertAlmostEqual(self.session.state.speed, 170 / 3.6)
        # fourth gear is in, so the engine followed
        self.assertIn("5393 rpm", self.texts(self.window.bench))

    def test_a_value_is_typed(self) -> None:
        bench = self.window.bench
        self.press("Engine, type a value", bench)
        field = self.window.focusWidget()
        QTest.keyClicks(field, "3000")
        self.key(Qt.Key.Key_Return, field)
        self.assertAlmostEqual(self.session.state.engine * 60, 3000)
        self.assertAlmostEqual(self.session.state.speed * 3.6, 94.6, delta=0.1)
        self.press("Speed, type a value", bench)
        field = self.window.focusWidget()
        QTest.keyClicks(field, "fast")
        self.key(Qt.Key.Key_Return)
        self.assertAlmostEqual(self.session.state.engine * 60, 3000)
        self.assertIn("is not a speed", self.said())  # and stays to be mended, in any unit
        self.type(field, "60 mph")
        self.assertAlmostEqual(self.session.state.speed * 3.6, 96.56, delta=0.1)

    def test_keys_move_a_slider(self) -> None:
        slider = self.quantity("System")
        slider.setFocus()
        before = self.session.state.volts
        self.key(Qt.Key.Key_Left, slider)
        self.assertAlmostEqual(self.session.state.volts, before - 0.1)

    def test_clutch_frees_the_engine(self) -> None:
        self.press("Clutch pedal pressed")
        rpm = self.session.state.engine
        self.quantity("Speed").setValue(20)
        self.assertEqual(self.session.state.engine, rpm)

    def test_mouse_drags_the_handle(self) -> None:
        slider = self.quantity("Tyre wear")
        QTest.mouseClick(slider, Qt.MouseButton.LeftButton, pos=slider.rect().center())
        self.settle()
        self.assertAlmostEqual(self.session.state.wear, 0.005, delta=0.002)

    def test_low_supply_resets_devices(self) -> None:
        self.quantity("System").setValue(10)
        self.settle()
        self.assertIn("no supply here", self.texts(self.window.page("source")))


class FromNothing(WindowTest):
    demo = False

    def test_a_sensor_begun_in_an_empty_job(self) -> None:
        """Add a hub and a sender, join them, measure pairs, load the table."""
        survey = self.go("survey")
        survey.add_device(next(s for s in shelf()[0] if s.model == "G6"))
        page = self.go("source")
        hub = self.job.devices[0]
        temp = hub.sheet.input("TEMP")
        assert temp is not None
        self.assertEqual(len(page.free_inputs()), 6)
        page.add_signal(hub, temp)
        self.assertIn("add a source of coolant", self.said())
        self.assertEqual(self.job.chains, ())
        survey.add_source(next(s for s in templates() if s.id == "coolant-shared"))
        survey.add_source(next(s for s in templates() if s.id == "coolant-own"))
        page.add_signal(hub, temp)
        self.settle()
        self.assertEqual(self.job.chains[0].source, "coolant-own")
        self.assertIn("shifts the vehicle's own reading", self.texts(page))
        self.assertIn("is not set yet: see Set", self.texts(page))
        setting = self.go("set:coolant-g6")
        field = self.named(QLineEdit, "Measured pairs", setting)
        self.type(field, "0:9800, 20:3750, 40:1600, 60:750, 80:380, 100:207")
        self.press("Gauge hub TEMP: load 12 points", setting)
        reading = self.session.assessment.chain("coolant-g6")
        self.assertLess(abs(reading.shown - reading.true), 0.5)
        page = self.go("source:coolant-g6")
        page.select("coolant-g6", "input")
        self.settle()
        self.press("Remove the signal Coolant", page)
        self.assertEqual(self.job.chains, ())
        self.key(Qt.Key.Key_Z, self.window, ctrl=True)
        self.assertEqual(len(self.job.chains), 1)
