"""What people type into a field of figures, and what must come of it."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zombrel.job.problem import Problem
from zombrel.job.typed.read import parts_of, read, read_list

READ = (
    # kind, typed, value in the kind's unit; factors from NIST SP 811, app. B.8
    ("length", "10 ft", 3.048),
    ("length", "10'6\"", 3.2004),
    ("length", "8 ft 2 in", 2.4892),
    ("length", "5′ 3 1/2″", 1.6129),
    ("length", "6'2", 1.8796),
    ("length", "6 feet 2", 1.8796),
    ("mass", "1'900 kg", 1900.0),
    ("length", "2,5 m", 2.5),
    ("length", "250cm", 2.5),
    ("length", "3/8 in", 0.009525),
    ("length", "1 1/2 in", 0.0381),
    ("speed", "100 mph", 160.9344),
    ("speed", "112", 112.0),
    ("speed", "60 kn", 111.12),
    ("speed", "27.78 m/s", 100.008),
    ("speed", "70 KM/H", 70.0),
    ("rpm", "700 rpm", 700.0),
    ("rpm", "7k", 7000.0),
    ("rpm", "2 200", 2200.0),
    ("rpm", "700/min", 700.0),
    ("rpm", "40 rps", 2400.0),
    ("mass", "1900 kg", 1900.0),
    ("mass", "4200 lb", 1905.0879),
    ("mass", "1.9 t", 1900.0),
    ("mass", "1 900", 1900.0),
    ("mass", "1.234,5", 1234.5),
    ("mass", "1,234.5", 1234.5),
    ("volume", "65 l", 65.0),
    ("volume", "17 gal", 64.352),
    ("volume", "14 gal (imp)", 63.6453),
    ("voltage", "12.5 V", 12.5),
    ("voltage", "12,5", 12.5),
    ("voltage", "3V3", 3.3),
    ("voltage", "−0.6 V", -0.6),
    ("voltage", "350 mV", 0.35),
    ("resistance", "2k2", 2200.0),
    ("resistance", "4k7", 4700.0),
    ("resistance", "4R7", 4.7),
    ("resistance", "1M", 1e6),
    ("resistance", "0,22 Ω", 0.22),
    ("resistance", "10 kohm", 1e4),
    ("resistance", "30 mΩ", 0.03),
    ("current", "20 mA", 0.02),
    ("current", "3.5 amps", 3.5),
    ("pressure", "43 psi", 296.4746),
    ("pressure", "3 bar", 300.0),
    ("pressure", "-0.6 bar", -60.0),
    ("temperature", "190 °F", 87.7778),
    ("temperature", "-40 F", -40.0),
    ("temperature", "361.15 K", 88.0),
    ("rate", "4000 per mile", 2485.4848),
    ("rate", "2485/km", 2485.0),
    ("rate", "8k pulses per km", 8000.0),
    ("rate", "4000 p/mi", 2485.4848),
    ("ratio", "3.64:1", 3.64),
    ("ratio", "3.909", 3.909),
    ("ratio", "41/11", 3.72727),
    ("torque", "150 lb·ft", 203.3727),
    ("torque", "150 ft-lbs".removesuffix("s"), 203.3727),
    ("torque", "205 Nm", 205.0),
    ("area", "0.75 mm²", 0.75),
    ("area", "AWG 18", 0.82304),
    ("area", "2/0 AWG", 67.4309),
    ("frequency", "1.2 kHz", 1200.0),
    ("frequency", "468 Hz", 468.0),
)
REFUSED = (
    # kind, typed, words of the answer
    ("mass", "1,900", "1.9 or 1900: which?"),
    ("mass", "1.900 kg", "1.9 or 1900: which?"),
    ("rpm", "2,200 rpm", "2.2 or 2200: which?"),
    ("ratio", "1:3.64", "3.64 or 0.2747: which?"),
    ("resistance", "10m", "10 mΩ or 10 MΩ: which?"),
    ("resistance", "4m7", "4.7 mΩ or 4.7 MΩ: which?"),
    ("rate", "4000 ppm", "per mile or per minute?"),
    ("rate", "4000 pulses a turn", "pulses per what?"),
    ("pressure", "30 psia", "gauge or absolute"),
    ("area", "18 gauge", "which gauge?"),
    ("area", "AWG 55", "not a gauge"),
    ("speed", "10 ft", "is a length; a speed is wanted, such as 70 km/h"),
    ("length", "10 kg", "is a mass; a length is wanted"),
    ("mass", "12 stones throw", "not known"),
    ("length", "-2 m", "is below 0 m"),
    ("temperature", "-300 °C", "is below -273.15 °C"),
    ("mass", "0", "is nothing"),
    ("mass", "nan", "is not a mass"),
    ("mass", "1e400", "more than any mass"),
    ("rpm", "fast", "is not an engine speed"),
    ("voltage", "", "No voltage is given"),
    ("voltage", "12.5.1", "not a number"),
    ("mass", "1,23,456", "not a number"),
    ("ratio", "41/0", "divides by nothing"),
)
LISTS = (
    ("3.42 2.05 1.39", (3.42, 2.05, 1.39)),
    ("3,42 2,05 1,39", (3.42, 2.05, 1.39)),
    ("3.42, 2.05, 1.39", (3.42, 2.05, 1.39)),
    ("3,42; 2,05; 1", (3.42, 2.05, 1.0)),
    ("3.42/2.05/1.39", (3.42, 2.05, 1.39)),
    ("3.42,2.05,1.39", (3.42, 2.05, 1.39)),
    ("3,42, 2,05", (3.42, 2.05)),
)


class Typed(unittest.TestCase):
    def test_understood(self) -> None:
        for what, text, value in READ:
            with self.subTest(text, what=what):
                self.assertAlmostEqual(read(what, text) / value, 1, delta=2e-5)

    def test_asked_or_refused_and_never_guessed(self) -> None:
        for what, text, words in REFUSED:
            with self.subTest(text, what=what):
                with self.assertRaises(Problem) as refused:
                    read(what, text)
                self.assertIn(words, str(refused.exception))

    def test_without_a_unit_it_is_in_the_fields(self) -> None:
        for what, unit, value in (
            ("length", "ft", 3.048),
            ("mass", "lb", 4.5359237),
            ("rate", "mile", 6.2137119),
            ("temperature", "F", -12.222222),
            ("area", "awg", 5.2612),
        ):
            with self.subTest(what):
                self.assertAlmostEqual(read(what, "10", unit) / value, 1, delta=2e-5)

    def test_lists_with_either_separator(self) -> None:
        for text, values in LISTS:
            with self.subTest(text):
                self.assertEqual(read_list("ratio", text), values)
        with self.assertRaisesRegex(Problem, "between the figures"):
            parts_of("3,42,2,05")

    @given(st.floats(1e-3, 1e6), st.sampled_from(("kg", "lb", "t")))
    def test_what_is_written_plainly_is_read_back(self, value: float, unit: str) -> None:
        size = {"kg": 1.0, "lb": 0.45359237, "t": 1000.0}[unit]
        text = f"{value:.4f}"
        if float(text) * size > 1e6 or float(text) == 0:
            return
        self.assertAlmostEqual(read("mass", f"{text} {unit}") / (float(text) * size), 1)
        self.assertAlmostEqual(
            read("mass", f"{text.replace('.', ',')}{unit}"), read("mass", f"{text} {unit}")
        )
