"""Logs on the real window: the demo's pulls compared, a log looked at, a unit asked for."""

from __future__ import annotations

import struct
import unittest
from typing import Any
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit

from tests.logs.test_kinds import DBC
from tests.ui.base import WindowTest
from zombrel.catalog import DEMO
from zombrel.job.records.logs import files_of
from zombrel.store import log_files
from zombrel.store.zjob import from_bytes, to_bytes
from zombrel.ui.road.logs_reader import LogReader
from zombrel.ui.widgets.graph import spread


class Logs(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.session.open_demo("0413")
        self.settle()

    def page(self, view: str) -> Any:
        return self.go(f"road:{view}").page(view)

    def test_before_and_after_of_the_demo(self) -> None:
        page = self.page("compare")
        self.assertIn("Read a log from before the change", self.texts(page))
        self.press("Read the demo logs", page)
        self.wait(lambda: len(self.job.logs) == 2 and not page._reader.background.busy)
        self.wait(lambda: "less rise" in self.texts(page))
        said = self.texts(page)
        for words in ("95 of 100", "before 3", "It recovers in"):
            self.assertIn(words, said)
        self.press("Put into the sheet", page)
        self.assertEqual(self.job.compared[0].verdict, "better")
        self.type(self.named(QLineEdit, "What was changed", page), "pump and hose")
        self.assertIn("says nothing of each alone", self.texts(page))
        self.arrow(self.named(QComboBox, "Weather before", page), "rain")
        self.arrow(self.named(QComboBox, "Weather after", page), "dry")
        self.assertIn("Not comparable", self.texts(page))
        self.arrow(self.named(QComboBox, "Weather before", page), "dry")
        self.assertIn("less rise", self.texts(page))
        self.press("Put into the sheet", page)
        paper = self.go("handover:compare").view
        self.wait(lambda: "7.9 K less rise" in paper.accessibleDescription())

    def test_a_log_is_seen_with_its_places(self) -> None:
        page = self.page("logs")
        self.assertIn("No log yet", self.texts(page))
        page.read(DEMO / "0413-pulls-before.csv")
        self.wait(lambda: "charge air" in self.texts(page))
        self.assertIn("20.0 s  pull", self.texts(page))
        graph = page._graphs["%"]
        before = graph.plot.getViewBox().viewRange()[0]
        self.key(Qt.Key.Key_Plus, graph)
        after = graph.plot.getViewBox().viewRange()[0]
        self.assertLess(after[1] - after[0], before[1] - before[0])
        self.press("20.0 s  pull", page)
        self.assertAlmostEqual(graph.cursor_x, 26.9, delta=0.5)
        self.assertIn("load 9", self.texts(page))
        self.key(Qt.Key.Key_Home, graph)
        self.press("Take this log out", page)
        self.assertIn("No log yet", self.texts(page))

    def test_a_moment_is_marked_by_keys(self) -> None:
        page = self.page("logs")
        page.read(DEMO / "0413-pulls-before.csv")
        self.wait(lambda: page._graphs)
        graph = page._graphs["%"]
        graph.put_cursor(26.0)
        graph.setFocus()
        self.key(Qt.Key.Key_M, graph)
        field = self.named(QLineEdit, "What is seen at the cursor", page)
        self.wait(field.hasFocus)
        QTest.keyClicks(field, "knock heard")
        self.key(Qt.Key.Key_Return, field)
        self.assertEqual([m.words for m in self.job.logs[0].marks], ["knock heard"])
        page._graphs["%"].put_cursor(300.0)
        self.press("Mark: 26.0 s  knock heard", page)
        self.assertAlmostEqual(page._graphs["%"].cursor_x, 26.0, places=3)
        self.type(self.named(QLineEdit, "Note on this log", page), "coast road, two up")
        self.assertEqual(self.job.logs[0].note, "coast road, two up")
        self.press("Take the mark 26.0 s  knock heard out", page)
        self.assertEqual(self.job.logs[0].marks, ())
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual(len(self.job.logs[0].marks), 1)

    def test_what_was_before_belongs_to_survey(self) -> None:
        page = self.go("survey")
        self.assertIn("No log from before yet", self.texts(page))
        self.type(self.named(QLineEdit, "Codes stored", page), "P0301")
        page.before.read(DEMO / "0413-pulls-before.csv")
        self.wait(lambda: bool(self.job.logs))
        self.assertEqual(self.job.logs[0].part, "before")
        self.assertIn("Log from before: 0413-pulls-before.csv", self.texts(page))
        self.press("See the log from before", page)
        view = self.window.page("road").page("compare")
        self.wait(lambda: view._reader.held(self.job.logs[0]) is not None)  # it is drawn anew then
        self.settle()
        self.assertEqual(self.named(QLineEdit, "Codes stored before", view).text(), "P0301")
        self.arrow(self.named(QComboBox, "Weather before", view), "damp")
        self.assertEqual(self.job.baseline.weather, "damp")

    def test_what_a_device_should_have_shown_is_drawn_beside_it(self) -> None:
        self.session.open_demo("0412")
        self.mend_all()
        view = self.go("road:logs").page("logs")
        view.read(DEMO / "0412-road.csv")
        self.wait(lambda: view._graphs)
        self.settle()
        (graph,) = view._graphs.values()
        self.assertIn("Pace unit should show", graph.accessibleName())
        self.assertIn("Gauge hub should show", graph.accessibleName())
        words = graph.property("readout").text()
        should = float(words.partition("Pace unit should show ")[2].split()[0])
        true = float(words.partition("satellite km/h ")[2].split()[0])
        self.assertAlmostEqual(should / true, 1.0019, delta=0.004)  # as Source says of C1 behind 7
        heights = spread([60.0, 60.1, 80.0, 60.05], 3.0)
        self.assertEqual(heights, [60.0, 66.0, 80.0, 63.0])

    def test_a_stand_in_is_recorded_into_the_job(self) -> None:
        page = self.page("logs")
        self.arrow(self.named(QComboBox, "Instrument", page), "Stand-in: receiver")
        self.press("Record live", page)
        self.wait(lambda: "satellite speed" in self.texts(page.live))
        self.wait(lambda: "km/h" in self.texts(page.live))
        self.wait(lambda: len(page.live._path.read_text().splitlines()) > 12)
        self.press("Stop recording", page)
        self.wait(lambda: bool(self.job.logs))
        self.wait(lambda: "satellite speed" in self.texts(page))
        self.assertFalse(page.live.running)

    def test_readings_are_typed_while_it_runs(self) -> None:
        page = self.page("logs")
        self.arrow(self.named(QComboBox, "Instrument", page), "Meter, typed in")
        self.press("Record live", page)
        field = self.named(QLineEdit, "Reading of the meter", page)
        self.type(field, "twelve")
        self.assertIn("is no reading", self.said())
        for text in ("12,6 V", "12.1 V", "11.8 V"):
            self.type(field, text)
            QTest.qWait(5)  # nobody reads a meter twice in a millisecond
        self.wait(lambda: "11.8" in self.texts(page.live))
        self.press("Stop recording", page)
        self.wait(lambda: bool(self.job.logs))
        self.wait(lambda: page._graphs)
        held = page._reader.held(self.job.logs[0])
        self.assertEqual([round(float(v), 1) for v in held.channels[0].v], [12.6, 12.1, 11.8])

    def test_what_a_column_was_taken_for_is_corrected(self) -> None:
        path = self.home / "log.csv"
        path.write_text("time s,bay temp C\n" + "".join(f"{i},{200 + i}\n" for i in range(30)))
        page = self.page("logs")
        page.read(path)
        self.wait(lambda: page._graphs)
        self.press("What its columns are", page)
        dialog = self.dialog()
        self.assertIn("its heading ends in C", self.texts(dialog))
        self.arrow(self.named(QComboBox, "Unit of bay temp C", dialog), "°F")
        self.press("Read it", dialog)
        self.assertEqual(self.job.logs[0].units, (("bay temp C", "°F"),))
        self.wait(lambda: page._reader.held(self.job.logs[0]) is not None)
        held = page._reader.held(self.job.logs[0])
        self.assertAlmostEqual(float(held.channels[0].v[0]), (200 - 32) / 1.8 + 273.15, places=2)
        self.key(Qt.Key.Key_Z, ctrl=True)
        self.assertEqual(self.job.logs[0].units, ())

    def test_a_scope_is_recorded_with_its_signal(self) -> None:
        page = self.page("logs")
        self.arrow(self.named(QComboBox, "Instrument", page), "Stand-in: scope on a tone ring")
        self.press("Record live", page)
        self.wait(lambda: "signal Hz" in self.texts(page.live))
        self.wait(lambda: len(page.live._path.read_text().splitlines()) > 12)
        self.press("Stop recording", page)
        self.assertIn("The signal itself is kept in", self.said())
        self.wait(lambda: bool(self.job.logs))
        self.wait(lambda: page._graphs)
        self.assertIn("signal Hz", " ".join(g.accessibleName() for g in page._graphs.values()))

    def test_an_instrument_that_is_not_there_is_said(self) -> None:
        page = self.page("logs")
        self.type(self.named(QLineEdit, "Where the instrument is", page), "/dev/nowhere")
        self.press("Record live", page)
        self.assertIn("Nothing answers at /dev/nowhere", self.said())
        self.assertFalse(page.live.running)

    def test_messages_of_a_bus_ask_for_their_description_once(self) -> None:
        described = self.home / "bus.dbc"
        described.write_text(DBC)
        for k in (1, 2):
            data = [struct.pack("<HB5x", 5000 + k * i, 120).hex() for i in range(50)]
            lines = (f"({1000 + i * 0.02:.6f}) can0 100#{d}\n" for i, d in enumerate(data))
            (self.home / f"drive{k}.log").write_text("".join(lines))
        page = self.page("logs")
        where = "zombrel.ui.road.logs_reader.QFileDialog.getOpenFileName"
        with mock.patch(where, return_value=("", "")):
            page.read(self.home / "drive1.log")
        self.assertIn("without the description of its bus", self.said())
        with mock.patch(where, return_value=(str(described), "")) as asked:
            page.read(self.home / "drive1.log")
            self.wait(lambda: bool(self.job.logs))
            page.read(self.home / "drive2.log")
            self.wait(lambda: len(self.job.logs) == 2)
        asked.assert_called_once()
        self.wait(lambda: page._graphs)
        self.assertEqual({x.bus_name for x in self.job.logs}, {"bus.dbc"})
        whole = to_bytes(self.job)
        for path in log_files.folder().glob("*.z"):
            path.unlink()  # another machine: all comes out of the job's file
        self.assertEqual(len(files_of(self.job.logs)), 3)
        again = from_bytes(whole, "again")
        self.assertEqual(again.logs, self.job.logs)
        fresh = LogReader(self.session, page)  # read anew from what the job carries
        fresh.want(list(self.job.logs), lambda: None)
        self.wait(lambda: fresh.held(self.job.logs[0]) is not None)
        held = fresh.held(self.job.logs[0])
        self.assertEqual([c.name for c in held.channels], ["Speed", "Coolant"])  # type: ignore[union-attr]

    def test_a_unit_is_asked_for_and_remembered(self) -> None:
        path = self.home / "log.csv"
        path.write_text("time s,speed\n" + "".join(f"{i},{i}\n" for i in range(30)))
        page = self.page("logs")
        page.read(path)
        dialog = self.dialog()
        self.assertIn("Nothing says the unit of speed", self.texts(dialog))
        self.arrow(self.named(QComboBox, "Unit of speed", dialog), "mph")
        self.press("Read it", dialog)
        self.wait(lambda: bool(self.job.logs))
        self.assertEqual(self.job.logs[0].units, (("speed", "mph"),))
        path.write_text("time s,speed\n" + "".join(f"{i},{2 * i}\n" for i in range(30)))
        page.read(path)  # of the same kind: nothing is asked
        self.wait(lambda: len(self.job.logs) == 2)
        self.assertEqual(self.job.logs[1].units, (("speed", "mph"),))


if __name__ == "__main__":
    unittest.main()
