"""Conductors against ASTM B258, IEC 60028 and a heat balance worked by hand."""

from __future__ import annotations

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zombrel.calibrate.copper import resistance_per_m
from zombrel.harness import conductor as c
from zombrel.harness import coupling
from zombrel.job.problem import Problem
from zombrel.units import gauge

ROOM = 293.15


class Gauges(unittest.TestCase):
    def test_published_table(self) -> None:
        # ASTM B258 table 1: diameter mm, area mm²; resistance from IEC 60028 copper
        for name, diameter, area in (
            ("4/0", 11.684, 107.2),
            ("1/0", 8.252, 53.49),
            ("10", 2.588, 5.261),
            ("12", 2.053, 3.309),
            ("18", 1.024, 0.8230),
            ("24", 0.5106, 0.2047),
            ("36", 0.127, 0.01267),
        ):
            with self.subTest(name):
                n = c.awg_number(name)
                self.assertAlmostEqual(gauge.diameter(n) * 1000 / diameter, 1, delta=4e-4)
                self.assertAlmostEqual(gauge.area(n) / area, 1, delta=1e-3)

    def test_spellings(self) -> None:
        for text, want in (("18", 18), ("AWG 18", 18), ("18 awg", 18), ("1/0", 0), ("4/0", -3)):
            self.assertEqual(c.awg_number(text), want)

    def test_no_gauge(self) -> None:
        for text in ("", "x", "5/0", "1/1", "41", "-2", "1.5"):
            with self.subTest(text), self.assertRaises(Problem):
                c.awg_number(text)

    def test_metric_to_stock_gauge(self) -> None:
        for area, want in ((0.5, "20"), (0.75, "18"), (1.0, "16"), (1.5, "14"), (4, "10")):
            self.assertEqual(gauge.at_least(area), want)


class Copper(unittest.TestCase):
    def test_resistance(self) -> None:
        self.assertAlmostEqual(resistance_per_m(1.0), 0.01724, places=6)
        self.assertAlmostEqual(resistance_per_m(1.0, ROOM + 50), 0.01724 * 1.1965, places=6)

    def test_ampacity_is_a_heat_balance(self) -> None:
        for area, ambient in ((0.5, ROOM), (1.0, ROOM + 20), (4.0, ROOM + 40)):
            amps = c.ampacity(area, ambient, 1, 358.15)
            heat_in = amps**2 * resistance_per_m(area, 358.15)
            heat_out = c.FILM * math.pi * c.outer_diameter(area) * (358.15 - ambient)
            self.assertAlmostEqual(heat_in, heat_out, places=9)

    def test_one_square_millimetre_is_good_for_about_thirteen_amperes_when_warm(self) -> None:
        self.assertAlmostEqual(c.ampacity(1.0, ROOM + 15), 13, delta=1)

    @given(
        st.sampled_from(c.AREAS), st.sampled_from(c.AREAS), st.floats(250, 340), st.integers(1, 30)
    )
    def test_monotone(self, a: float, b: float, ambient: float, n: int) -> None:
        thin, thick = min(a, b), max(a, b)
        self.assertLessEqual(c.ampacity(thin, ambient, n), c.ampacity(thick, ambient, n) + 1e-9)
        self.assertLessEqual(c.ampacity(a, ambient + 5, n), c.ampacity(a, ambient, n))
        self.assertLessEqual(c.ampacity(a, ambient, n + 1), c.ampacity(a, ambient, n))

    def test_air_as_hot_as_the_insulation(self) -> None:
        self.assertEqual(c.ampacity(1.0, 358.15), 0.0)
        with self.assertRaises(Problem):
            c.size(5, 2, 12, 0.03, 360)

    def test_bunching_table(self) -> None:
        for n, want in ((1, 1.0), (2, 0.8), (3, 0.7), (9, 0.5), (12, 0.45), (20, 0.38), (50, 0.38)):
            self.assertEqual(c.bunch_factor(n), want)
        self.assertTrue(0.45 < c.bunch_factor(10) < 0.5)


class Fuses(unittest.TestCase):
    def test_load_at_most_three_quarters(self) -> None:
        for load, want in ((0.75, 1), (2, 3), (3.6, 5), (3.75, 5), (3.76, 7.5), (12, 20), (29, 40)):
            self.assertEqual(c.fuse_for(load), want)
        self.assertIsNone(c.fuse_for(400))

    def test_largest_that_protects(self) -> None:
        for amps, want in ((0.5, None), (13.7, 10.0), (15.0, 15.0), (500, 300.0)):
            self.assertEqual(c.largest_fuse(amps), want)


class Sizing(unittest.TestCase):
    def test_by_hand(self) -> None:
        # 4.8 A, 6.2 m there and back, 3 % of 12 V: A ≥ 4.8·12.4·0.01724/0.36 = 2.85 mm²
        got = c.size(4.8, 6.2, 12, 0.03, ROOM)
        self.assertEqual((got.area_mm2, got.limited_by, got.fuse), (3.0, "drop", 7.5))
        self.assertAlmostEqual(got.drop_v, 4.8 * 12.4 * 0.01724 / 3, places=6)

    def test_the_body_as_the_way_back_halves_the_drop(self) -> None:
        both = c.size(20, 4, 12, 0.05, ROOM)
        one = c.size(20, 4, 12, 0.05, ROOM, two_way=False)
        self.assertLessEqual(one.area_mm2, both.area_mm2)
        self.assertAlmostEqual(one.drop_v * one.area_mm2 * 2, both.drop_v * both.area_mm2)

    def test_short_and_heavy_is_limited_by_the_fuse(self) -> None:
        got = c.size(30, 0.3, 12, 0.05, ROOM)
        self.assertEqual(got.limited_by, "ampacity")
        self.assertEqual(got.fuse, 40)

    def test_warm_copper_by_hand(self) -> None:
        """The load warms the wire by I²: (2/13.6)² of the way from air to insulation."""
        got = c.size(2.0, 3.0, 12, 0.05, ROOM)
        rise = (358.15 - ROOM) * (2.0 / got.ampacity) ** 2
        ohm = 6.0 * 0.01724 / got.area_mm2 * (1 + 0.00393 * rise)
        self.assertAlmostEqual(got.drop_hot_v / (2.0 * ohm), 1, delta=1e-4)
        self.assertGreater(got.drop_hot_v, got.drop_v)

    def test_what_no_wire_does_is_said(self) -> None:
        for words, args, said in (
            ("too far for the drop", (60, 90.0, 12, 0.01, ROOM), "more than 120 mm²|allow more"),
            ("too heavy for the fuse", (200, 0.1, 12, 0.5, 355.0), "split it"),
            ("no fuse is made", (400, 1.0, 12, 0.05, ROOM), "split the load"),
            ("air as hot as it may be", (5, 1.0, 12, 0.05, 358.15), "better wire"),
        ):
            with self.subTest(words), self.assertRaisesRegex(Problem, said):
                c.size(*args)

    def test_small_loads_get_a_wire_that_can_be_stripped(self) -> None:
        self.assertEqual(c.size(0.05, 0.5, 12, 0.05, ROOM).area_mm2, c.SMALLEST)

    @given(
        st.floats(0.1, 60),
        st.floats(0.2, 10),
        st.floats(0.01, 0.1),
        st.floats(260, 330),
        st.integers(1, 10),
    )
    def test_what_it_chooses_keeps_all_its_promises(
        self, amps: float, metres: float, drop: float, air: float, n: int
    ) -> None:
        try:
            got = c.size(amps, metres, 12, drop, air, n)
        except Problem:
            return
        self.assertLessEqual(got.drop, drop * (1 + 1e-9))
        self.assertGreaterEqual(got.ampacity, got.fuse)
        self.assertLessEqual(amps, 0.75 * got.fuse + 1e-6)
        self.assertGreaterEqual(got.drop_hot_v, got.drop_v)
        smaller = [a for a in c.AREAS if c.SMALLEST <= a < got.area_mm2]
        if smaller:
            a = smaller[-1]
            too_long = amps * 2 * metres * resistance_per_m(a, air) > drop * 12
            too_thin = c.ampacity(a, air, n) < got.fuse
            self.assertTrue(too_long or too_thin)


class Coupling(unittest.TestCase):
    def test_falls_with_distance_and_twist(self) -> None:
        near = coupling.noise("coil", 0.06, 0.3, 1200, twisted=False)
        far = coupling.noise("coil", 0.15, 0.3, 1200, twisted=False)
        self.assertGreater(near, 3 * far)
        self.assertAlmostEqual(coupling.noise("coil", 0.06, 0.3, 1200, twisted=True), near / 20)
        self.assertEqual(coupling.noise("exhaust", 0.06, 0.3, 1200, twisted=False), 0)

    def test_the_spacing_for_what_is_picked_up_there_is_that_spacing(self) -> None:
        for spacing in (0.03, 0.06, 0.15, 0.4):
            volts = coupling.noise("coil", spacing, 0.3, 1200, twisted=False)
            got = coupling.clear_spacing("coil", 0.3, 1200, volts)
            self.assertAlmostEqual(got, spacing, places=6)

    @given(st.floats(0.05, 1), st.floats(100, 5000), st.floats(0.02, 2))
    def test_clear_spacing_inverts_noise(self, along: float, ohm: float, volts: float) -> None:
        spacing = coupling.clear_spacing("coil", along, ohm, volts)
        if 0.006 < spacing < 4:
            got = coupling.noise("coil", spacing, along, ohm, twisted=False)
            self.assertAlmostEqual(got / volts, 1, places=6)


if __name__ == "__main__":
    unittest.main()
