"""What kinds of source are called, and what is said of their own figures."""

from __future__ import annotations

import itertools
import unittest

import msgspec

from tests.demo import DEMO, assess, demo, load
from zombrel.catalog.sources import templates
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.source import BrakeSide, Duty, Ratiometric, Source, Thermistor
from zombrel.job.state import State
from zombrel.signals.alone import alone
from zombrel.signals.kinds import words_of

PAIRS = ((0.0, 0.1), (1.0, 0.9), (2.0, 0.95))


class Alone(unittest.TestCase):
    def test_a_source_gives_by_itself_what_its_signal_starts_with(self) -> None:
        """Every signal of the worked examples, standing, rolling and on worn tyres."""
        seen = 0
        for number, state in itertools.product(
            ("0409", "0412", "0413"), (State(), State(speed=19, engine=37, wear=0.02, oil=2e5))
        ):
            job = load(DEMO / f"{number}.zjob")
            for r in assess(job, state).chains:
                source = next(s for s in job.sources if s.id == by_id(job.chains, r.id).source)
                found = alone(job, state, source)
                with self.subTest(number, chain=r.id, speed=state.speed):
                    if r.contact is not None or r.brake is not None:
                        self.assertIsNone(found)
                    elif r.sense is not None:
                        self.assertEqual((found.takes, found.true), (r.sense.gives, r.true))
                        self.assertAlmostEqual(found.value, r.sense.electrical)
                        seen += 1
                    else:
                        self.assertAlmostEqual(found.value, r.source_hz)
                        self.assertFalse(found.silent and r.status == "counting")
                        seen += 1
        self.assertGreater(seen, 30)

    def test_what_is_lacking_is_named(self) -> None:
        job = demo()
        ring = by_id(job.sources, "ring")
        bare = msgspec.structs.replace(job, vehicle=msgspec.structs.replace(job.vehicle, tyre=""))
        with self.assertRaisesRegex(Problem, "tyre"):
            alone(bare, State(speed=19), ring)
        self.assertTrue(alone(job, State(speed=0.1), by_id(job.sources, "gps")).silent)


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
