"""The surface that all plots share, and graphs of logs on it: figures, peaks, marks, keys."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.ui.base import WindowTest
from zombrel.plots.picture import Axis, along, at_share, share_of, value_at
from zombrel.ui.source.strip import range_picture
from zombrel.ui.theme import DAY, NIGHT
from zombrel.ui.widgets.axis import PlainAxis
from zombrel.ui.widgets.graph import Curve, Graph
from zombrel.ui.widgets.plot import Plot

T = np.linspace(0.0, 100.0, 50_001)
Y = np.sin(T)
PEAK = np.where(np.arange(len(T)) == 31_337, 40.0, Y)


class Figures(WindowTest):
    def axis(self, side: str, log: bool = False, unit: str = "") -> PlainAxis:
        made = PlainAxis(side)
        made.go_by(log, unit)
        return made

    def test_figures_are_round_inside_and_at_both_ends(self) -> None:
        for side, low, high, size in (
            ("bottom", 0.0, 120.0, 740.0),
            ("left", -0.5, 0.5, 210.0),
            ("bottom", 3.2, 3.9, 300.0),
            ("left", 1e6, 5e6, 400.0),
        ):
            axis = self.axis(side)
            ((_, places),) = axis.tickValues(low, high, size)
            with self.subTest((low, high)):
                self.assertGreaterEqual(len(places), 2)
                self.assertTrue(all(low <= x <= high for x in places))
                self.assertEqual(len(set(axis.tickStrings(places, 1.0, 1.0))), len(places))
        ((_, ends),) = self.axis("bottom").tickValues(0.0, 120.0, 740.0)
        self.assertEqual((ends[0], ends[-1]), (0.0, 120.0))

    def test_powers_of_ten_are_written_as_what_they_are(self) -> None:
        axis = self.axis("left", log=True)
        ((_, places),) = axis.tickValues(math.log10(90), math.log10(24_000), 200.0)
        self.assertEqual(axis.tickStrings(places, 1.0, 1.0), ["100", "1000", "10 k"])

    def test_the_last_figure_has_the_unit_where_the_axis_has_no_name(self) -> None:
        axis = self.axis("bottom", unit="km/h")
        self.assertEqual(axis.tickStrings([0.0, 50.0, 100.0], 1.0, 50.0), ["0", "50", "100 km/h"])
        self.assertEqual(axis.tickStrings([], 1.0, 1.0), [])
        self.assertEqual(axis.tickValues(5.0, 5.0, 100.0), [])

    @settings(max_examples=60, deadline=None)
    @given(st.floats(1e-3, 1e5), st.floats(1.5, 1e4), st.booleans(), st.floats(0.0, 1.0))
    def test_places_and_values_are_each_others_way_back(
        self, low: float, times: float, log: bool, share: float
    ) -> None:
        axis = Axis("x", low, low * times, log)
        value = at_share(axis, share)
        self.assertAlmostEqual(share_of(axis, value), share, places=6)
        self.assertTrue(math.isclose(value_at(axis, along(axis, value)), value, rel_tol=1e-9))


class Graphs(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.graph = Graph(DAY, "s", "km/h")
        self.addCleanup(self.graph.deleteLater)
        self.graph.resize(640, 300)
        self.graph.show()

    def range(self) -> tuple[float, float]:
        low, high = self.graph.plot.getViewBox().viewRange()[0]
        return float(low), float(high)

    def test_a_peak_of_one_sample_is_seen_from_afar(self) -> None:
        self.graph.show_curves([Curve(T, PEAK, "speed", DAY.petrol)])
        self.settle()
        item = self.graph.plot.listDataItems()[0]
        _, shown = item.getData()
        self.assertLess(len(shown), len(T))  # not every sample is drawn
        self.assertEqual(float(np.nanmax(shown)), 40.0)

    def test_keys_pan_zoom_and_bring_all_back(self) -> None:
        self.graph.show_curves([Curve(T, Y, "speed", DAY.petrol)], cursor=True)
        self.graph.put_cursor(50.0)
        self.settle()
        whole = self.range()
        QTest.keyClick(self.graph, Qt.Key.Key_Plus)
        near = self.range()
        self.assertAlmostEqual((whole[1] - whole[0]) / (near[1] - near[0]), 1.4, places=3)
        self.assertAlmostEqual(sum(near) / 2, 50.0, delta=1.0)  # about the cursor
        QTest.keyClick(self.graph, Qt.Key.Key_Right)
        self.assertGreater(self.range()[0], near[0])
        moved: list[float] = []
        self.graph.moved.connect(moved.append)
        QTest.keyClick(self.graph, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        self.assertGreater(moved[-1], 50.0)
        QTest.keyClick(self.graph, Qt.Key.Key_Home)
        self.settle()
        self.assertAlmostEqual(self.range()[0], whole[0], delta=1.0)

    def test_marks_stay_through_another_theme_and_a_stretch_is_shaded_once(self) -> None:
        marks = [(20.0, "fan on"), (60.0, "knock")]
        self.graph.show_curves([Curve(T, Y, "speed", DAY.petrol)], True, (), marks)
        before = len(self.graph.plot.plotItem.items)
        self.graph.mark(10.0, 20.0)
        self.graph.mark(30.0, 40.0)
        self.assertEqual(len(self.graph.plot.plotItem.items), before + 1)
        low, high = self.range()
        self.assertLess(low, 30.0)
        self.assertGreater(high, 40.0)
        self.graph.dress(NIGHT)
        self.assertEqual(self.graph._marks, tuple(marks))
        self.assertEqual(len(self.graph.plot.plotItem.items), before)
        self.assertIn("speed, 50001 points", self.graph.accessibleName())


class Strip(WindowTest):
    def test_a_range_breaks_where_the_reading_does(self) -> None:
        corners = [(0.0, 0.0), (40.0, 0.0), (40.0, 41.0), (150.0, 152.0), (150.0, math.nan)]
        corners.append((200.0, math.nan))
        made = range_picture(corners, 260.0, "km/h", "Counts from 40, then drops out.")
        self.assertEqual(
            [(z.begin, z.end, z.words) for z in made.zones], [(150.0, 200.0, "drops out")]
        )
        self.assertEqual(made.now, 200.0)  # what lies outside stands at the end
        self.assertEqual((made.x.name, made.x.low, made.x.high), ("km/h", 0.0, 200.0))
        strip = Plot(self.session, bare=True)
        self.addCleanup(strip.deleteLater)
        strip.resize(400, 78)
        strip.show_picture(made)
        strip.show()
        self.settle()
        self.assertEqual(strip.accessibleName(), "Counts from 40, then drops out.")
        whole = range_picture([(0.0, 0.0), (200.0, 200.0)], 70.0, "km/h", "It counts.")
        self.assertEqual(whole.zones, ())
        before = strip.grab().toImage()
        strip.show_picture(whole)
        self.settle()
        self.assertNotEqual(strip.grab().toImage(), before)

    def test_below_nought_the_floor_is_the_least_of_all(self) -> None:
        made = range_picture([(-60.0, -55.0), (180.0, 170.0)], 0.0, "kPa", "Boost.")
        self.assertLess(made.y.low, -60.0)
        self.assertGreater(made.y.high, 180.0)


if __name__ == "__main__":
    unittest.main()
