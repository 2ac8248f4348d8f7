"""What kinds of source are called, and what is said of their own figures."""

from __future__ import annotations

import unittest

import msgspec

from tests.demo import demo
from zombrel.catalog.sources import templates
from zombrel.job.source import BrakeSide, Duty, Ratiometric, Source, Thermistor
from zombrel.signals.kinds import words_of

PAIRS = ((0.0, 0.1), (1.0, 0.9), (2.0, 0.95))


class Words(unittest.TestCase):
    def test_what_matters_of_each_is_said(self) -> None:
        for spec, said in (
            (Duty(points=PAIRS), ("Duty cycle", "100 Hz")),
            (Duty(points=PAIRS, hz=60, inverted=True), ("Duty cycle", "60 Hz, inverted")),
            (Ratiometric(low=0, high=1), ("Pressure", "10–90 %, gauge")),
            (Ratiometric(low=0, high=1, absolute=True), ("Pressure", "10–90 %, absolute")),
            (Thermistor(points=PAIRS), ("Thermistor", "3 pairs")),
            (Thermistor(points=PAIRS, shared_ohm=1000), ("Thermistor", "3 pairs, shared")),
            (BrakeSide(side="cold"), ("Lamp feed", "cold side, LED lamps")),
        ):
            source = Source(id="s", name="S", quantity="coolant", spec=spec)
            self.assertEqual(words_of(source, demo()), said)

    def test_every_kind_on_the_shelf_has_words(self) -> None:
        for source in templates():
            head, sub = words_of(source, demo())
            tag = msgspec.structs.asdict(source)["spec"].__struct_config__.tag
            with self.subTest(tag):
                self.assertTrue(head and sub)


if __name__ == "__main__":
    unittest.main()
