"""Conversions against their definitions, and numbers as a person reads them."""

from __future__ import annotations

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zombrel import units as u
from zombrel.units import Units

KM, MI = Units(), Units(distance="mi", temperature="F", area="awg")


class Definitions(unittest.TestCase):
    def test_factors_are_the_international_ones(self) -> None:
        for name, got, want in (
            ("km/h", u.KMH * 3.6, 1.0),
            ("mph", u.MPH / u.KMH, 1.609344),
            ("knot", u.KNOT * 3600, 1852.0),
            ("inch", u.INCH, 0.0254),
            ("rpm", u.RPM * 60, 1.0),
        ):
            with self.subTest(name):
                self.assertAlmostEqual(got, want, places=12)

    @given(st.floats(allow_nan=False, allow_infinity=False), st.sampled_from((1e3, 1e6, 1e9)))
    def test_rounded_to_parts(self, x: float, parts: float) -> None:
        """Within half a part of what was given (and one bit), and never less than nothing as -0."""
        got = u.rounded(x, parts)
        self.assertLessEqual(abs(got - x), 0.5 / parts + math.ulp(x))
        self.assertEqual(u.rounded(got, parts), got)
        if abs(x) * parts < 1:
            self.assertIn(got, (0.0, 1 / parts, -1 / parts))
            self.assertFalse(got == 0 and math.copysign(1, got) < 0)

    def test_rounded_leaves_what_is_no_number(self) -> None:
        self.assertTrue(math.isnan(u.rounded(math.nan, 1e6)))
        self.assertEqual(u.rounded(-math.inf, 1e6), -math.inf)
        self.assertEqual(u.rounded(0.1 + 0.2, 1e9), 0.3)

    @given(st.floats(0, 400))
    def test_speed_goes_out_and_comes_back(self, v: float) -> None:
        for units in (KM, MI):
            self.assertAlmostEqual(u.speed_from(u.speed_value(v, units), units), v, places=9)

    @given(st.floats(0.01, 100))
    def test_a_mile_holds_1_609344_times_the_pulses_of_a_kilometre(self, rate: float) -> None:
        km = float(u.per_distance(rate, KM).split(" per")[0].replace("\u00a0", ""))
        mile = float(u.per_distance(rate, MI).split(" per")[0].replace("\u00a0", ""))
        self.assertAlmostEqual(mile, km * 1.609344, delta=1.5)


class Tokens(unittest.TestCase):
    def test_sentences_are_written_at_the_edge(self) -> None:
        text = f"from {u.speed_token(70 * u.KMH, 1)} at {u.rate_token(24.0542)}"
        self.assertEqual(u.words(text, KM), "from 70.0 km/h at 24\u00a0054 pulses per km")
        self.assertEqual(u.words(text, MI), "from 43.5 mph at 38\u00a0711 pulses per mile")

    def test_other_braces_stay(self) -> None:
        for text in ("", "a {b} c", "{", "{v}", "{x:1}"):
            self.assertEqual(u.words(text, KM), text)


class Reading(unittest.TestCase):
    def test_numbers(self) -> None:
        for value, digits, want in (
            (24054.2, 0, "24\u00a0054"),
            (9999, 0, "9999"),
            (1234567.891, 1, "1\u00a0234\u00a0567.9"),
            (-1.25, 1, "\u22121.2"),
            (-0.001, 1, "0.0"),
            (0, 2, "0.00"),
            (math.nan, 1, "–"),
            (math.inf, 0, "–"),
        ):
            with self.subTest(value=value):
                self.assertEqual(u.number(value, digits), want)

    def test_prefixes_keep_the_number_between_one_and_a_thousand(self) -> None:
        for value, unit, want in (
            (4700, "Ω", "4.70 kΩ"),
            (0.12, "V", "120 mV"),
            (0.1, "Ω", "100 mΩ"),
            (468.0, "Hz", "468 Hz"),
            (0.0000042, "A", "4.20 µA"),
            (999.7, "Ω", "1.00 kΩ"),
            (0.0, "V", "0 V"),
        ):
            with self.subTest(value=value):
                self.assertEqual(u.prefixed(value, unit), want)

    def test_per_cent_shows_its_sign(self) -> None:
        for value, digits, want in (
            (0.1568, 1, "+15.7 %"),
            (-0.0081, 1, "\u22120.8 %"),
            (0.00019, 1, "0.0 %"),
            (0.0019, 2, "+0.19 %"),
        ):
            with self.subTest(value=value):
                self.assertEqual(u.percent(value, digits), want)

    def test_words_follow_the_user_s_units(self) -> None:
        v = 70 * u.KMH
        self.assertEqual(u.speed(v, KM), "70.0 km/h")
        self.assertEqual(u.speed(v, MI), "43.5 mph")
        self.assertEqual(u.temperature(293.15, KM), "20 °C")
        self.assertEqual(u.temperature(293.15, MI), "68 °F")
        self.assertEqual(u.rpm(2221 / 60), "2221 rpm")


if __name__ == "__main__":
    unittest.main()
