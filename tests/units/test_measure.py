"""Kinds of quantity: every unit against its definition, there and back again."""

from __future__ import annotations

import math
import typing
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zombrel.units import Units, words
from zombrel.units import measure as m

KINDS = typing.get_args(m.Kind)
UNITS = st.builds(
    Units,
    distance=st.sampled_from(["km", "mi"]),
    temperature=st.sampled_from(["C", "F"]),
    pressure=st.sampled_from(["kPa", "psi", "bar"]),
    volume=st.sampled_from(["l", "gal"]),
)


class Definitions(unittest.TestCase):
    def test_against_published_conversions(self) -> None:
        """NIST SP 811, appendix B; NIST Handbook 44, appendix C."""
        us = Units(distance="mi", temperature="F", pressure="psi", volume="gal")
        for kind, si, metric, american in (
            ("temperature", 373.15, "100 °C", "212 °F"),
            ("temperature", 233.15, "−40 °C", "−40 °F"),
            ("pressure", 689475.7293168, "689 kPa", "100.0 psi"),
            ("volume", 0.003785411784, "3.8 l", "1.0 gal (US)"),
            ("speed", 26.8224, "96.6 km/h", "60.0 mph"),
            ("engine", 100.0, "6000 rpm", "6000 rpm"),
            ("fraction", 0.85, "85 %", "85 %"),
            ("lambda", 0.95, "0.950 λ", "0.950 λ"),
            ("contact", 1.0, "on", "on"),
        ):
            self.assertEqual(m.written(kind, si, Units()).replace("\u00a0", " "), metric)
            self.assertEqual(m.written(kind, si, us).replace("\u00a0", " "), american)
        self.assertEqual(m.written("pressure", 250e3, Units(pressure="bar")), "2.50\u00a0bar")

    def test_differences_carry_a_sign_and_no_offset(self) -> None:
        for kind, delta, units, said in (
            ("temperature", 5.0, Units(), "+5.0 °C"),
            ("temperature", 5.0, Units(temperature="F"), "+9.0 °F"),
            ("temperature", -2.5, Units(), "−2.5 °C"),
            ("fraction", 0.62, Units(), "+62.0 %"),
            ("volume", 0.0, Units(), "0.00 l"),
        ):
            self.assertEqual(m.difference(kind, delta, units).replace("\u00a0", " "), said)

    def test_sentences_are_written_at_the_edge(self) -> None:
        text = f"from {m.token('temperature', 293.15)} by {m.delta_token('temperature', 10.0)}"
        self.assertEqual(words(text, Units()).replace("\u00a0", " "), "from 20 °C by +10.0 °C")
        self.assertEqual(
            words(text, Units(temperature="F")).replace("\u00a0", " "), "from 68 °F by +18.0 °F"
        )
        exact = m.token("pressure", 1e5, 2)
        self.assertEqual(words(exact, Units()).replace("\u00a0", " "), "100.00 kPa")

    @given(st.sampled_from(KINDS), st.floats(-1e6, 1e6), UNITS)
    def test_there_and_back(self, kind: m.Kind, value: float, units: Units) -> None:
        back = m.value_from(kind, m.value_in(kind, value, units), units)
        self.assertTrue(math.isclose(back, value, rel_tol=1e-9, abs_tol=1e-6))

    @given(st.sampled_from(KINDS), st.floats(1, 1e5), st.floats(1, 1e5), UNITS)
    def test_a_difference_is_the_difference_of_two(
        self, kind: m.Kind, a: float, b: float, units: Units
    ) -> None:
        shown = m.value_in(kind, a, units) - m.value_in(kind, b, units)
        scaled = (a - b) * m.scale(kind, units)
        self.assertTrue(math.isclose(shown, scaled, rel_tol=1e-6, abs_tol=1e-4))


if __name__ == "__main__":
    unittest.main()
