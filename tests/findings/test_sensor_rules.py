"""The rules the trade learned the hard way: each is found, said with numbers, and mended."""

from __future__ import annotations

import unittest

import msgspec

from tests.demo import apply, at, demo, put
from zombrel.catalog import DEMO
from zombrel.findings.assess import assess
from zombrel.findings.explain import explain_input, explain_source
from zombrel.harness.laid import laid
from zombrel.job.edits import Many, Put, fact
from zombrel.job.model import Job
from zombrel.job.source import GearboxSensor, Source
from zombrel.signals.chain_reading import read_chains
from zombrel.store.zjob import load
from zombrel.units import Units, words

CAMPER, RACER = load(DEMO / "0413.zjob"), load(DEMO / "0409.zjob")


def several(job: Job, **paths: object) -> Job:
    """``job`` with facts changed; double underscores stand for stops."""
    return apply(
        job, Many(edits=tuple(Put(path=k.replace("__", "."), value=v) for k, v in paths.items()))
    )


def taped(job: Job) -> Job:
    return several(job, sources__clt__spec__one_wire=True, sources__clt__spec__seal="tape")


def spliced(job: Job) -> Job:
    raw = Source(id="raw", name="Gearbox sensor", quantity="speed", spec=GearboxSensor(teeth=24))
    more = msgspec.structs.replace(job, sources=(*job.sources, raw))
    return put(more, "chains.speed-pace.source", "raw")


def noisy(job: Job) -> Job:
    """The coolant lead lies along an ignition lead for a metre."""
    near = {"what": "ignition lead", "name": "lead 4", "spacing_m": 0.004, "along_m": 1.2}
    return put(job, "wires.W20.neighbours", [near])


def thin(job: Job) -> Job:
    """A long thin feed to the spark box, known to be what it is."""
    return several(
        job, wires__W13__area_mm2=0.35, wires__W13__length_m=26.0, wires__W13__fixed=True
    )


CASES: tuple[tuple[str, Job, str], ...] = (
    ("spliced-speed-pace", spliced(demo()), "shifts by this pair"),
    ("satellite-speed-pace", put(demo(), "chains.speed-pace.source", "gps"), "lags 1.2 s"),
    ("tape-temp-hub", taped(demo()), "thread is wound with tape"),
    (
        "pulled-twice-temp-hub",
        put(demo(), "chains.temp-hub.source", "clt-car"),
        "1000 Ω and 680 Ω share it",
    ),
    ("lift-blend-ecu", demo(), "0.199 Ω to battery negative and carries 8.1 A"),
    ("curve-temp-hub", put(demo(), "devices.hub.settings.TEMP.at", "C"), "stays within"),
    ("curve-boost", CAMPER, "shows 81 kPa at 180 kPa"),
    ("contact-clutch", RACER, "rests closed"),
    ("contact-dim-hub", put(demo(), "sources.lamps.spec.to", "ground"), "looks for supply"),
    ("polarity-crank", RACER, "5.0° of crank later"),
    (
        "polarity-pick-spark",
        put(demo(), "chains.pick-spark.polarity", "reversed"),
        "Change the two wires over",
    ),
    ("dimmed-W12", put(demo(), "feeds.F7.dimmed", True), "reads a fraction"),
    ("feed-W15", demo(), "dies while cranking"),
    ("brake-brake-pace", demo(), "50 Ω"),
    ("coil-tach-lamp", demo(), "3 sparks at a time"),
    ("split-W3", demo(), "2714"),
    ("colour-W3-a", demo(), "27 and 4 look alike"),
    ("control-spark-LIMIT", put(demo(), "devices.spark.settings.LIMIT.at", "72"), "7200 rpm"),
    ("control-pump-SENSE", CAMPER, "B is wanted"),
    ("unset-idle", CAMPER, "high idle"),
    ("noise-W20-0", noisy(demo()), "move the reading by up to"),
    ("cranking-spark", thin(demo()), "needs 8.8 V"),
)


class Moves(unittest.TestCase):
    def test_why_names_what_moves_a_number_most(self) -> None:
        """A rate goes with its teeth one for one; 10 mV of ground move a thermistor's reading."""
        job = demo()
        got = at(job)
        for key, explain, said in (
            ("speed-pace", explain_source, "1 % of teeth: +1.00 %"),
            ("speed-pace", explain_input, "one step of the setting: 6.70 %"),
            ("tach-hub", explain_input, "one step of the setting: 14.29 %"),
            ("temp-hub", explain_input, "10 mV of ground lift: −0."),
            ("oil-hub", explain_source, "10 mV of ground lift: +1.5"),
        ):
            chain = next(c for c in job.chains if c.id == key)
            with self.subTest(key):
                self.assertIn(said, explain(job, chain, got.chain(key), Units()).moves)
        camper = next(c for c in CAMPER.chains if c.id == "speed-pace")
        moves = explain_source(CAMPER, camper, at(CAMPER).chain("speed-pace"), Units()).moves
        self.assertIn("1 % of final drive: +1.00 %", moves)
        self.assertIn("pulses per rev", moves)
        self.assertEqual(moves.count(";"), 2)

    def test_a_falling_share_is_said_as_such(self) -> None:
        """The driven gear works the other way: a tooth more, fewer pulses."""
        chain = next(c for c in CAMPER.chains if c.id == "speed-pace")
        fewer = put(CAMPER, "sources.cable.spec.driven_teeth", 42)
        rates = [at(job).chain("speed-pace").source_hz for job in (CAMPER, fewer)]
        self.assertAlmostEqual(rates[0] / rates[1], 2.0)
        self.assertTrue(explain_source(fewer, chain, at(fewer).chain("speed-pace"), Units()).moves)


class Learned(unittest.TestCase):
    def test_each_is_found_and_says_its_number(self) -> None:
        for key, job, said in CASES:
            with self.subTest(key):
                found = {f.id: f for f in at(job).findings}
                self.assertIn(key, found)
                text = words(found[key].text, Units()).replace("\u00a0", " ")
                self.assertIn(said, text)
                reason = found[key].reason
                self.assertTrue(reason.result)
                self.assertTrue(reason.formula)

    def test_a_curve_that_is_off_is_said_though_the_device_has_no_better(self) -> None:
        """At the best it has, another sender is offered, not another curve."""
        job = put(demo(), "devices.hub.sheet.inputs.TEMP.setting.free_points", 0)
        points = fact(job, "sources.clt.spec.points")
        for factor, best in ((0.5, "A"), (1.2, "B"), (2.0, "D"), (3.0, "C")):
            off = put(job, "sources.clt.spec.points", [[k, o * factor] for k, o in points])
            for at_ in "ABCD":
                tried = put(off, "devices.hub.settings.TEMP.at", at_)
                said = next(f for f in at(tried).findings if f.id == "curve-temp-hub")
                with self.subTest(factor, at=at_):
                    self.assertEqual(said.level, "trouble")
                    if at_ == best:
                        self.assertTrue(said.mends[0].label.startswith("Fit the sender"))

    def test_its_first_edit_settles_it(self) -> None:
        for key, job, _ in CASES:
            finding = next(f for f in at(job).findings if f.id == key)
            edit = next((m.edit for m in finding.mends if m.edit is not None), None)
            if edit is None:
                self.assertTrue(finding.mends, key)
                continue
            with self.subTest(key):
                left = {f.id for f in at(apply(job, edit)).findings}
                self.assertNotIn(key, left)

    def test_every_number_of_every_job_has_a_why(self) -> None:
        for job in (demo(), CAMPER, RACER):
            state = dict(
                __import__("zombrel.behaviour.suppose", fromlist=["named"]).named(job.vehicle)
            )["70 on the flat"]
            got = assess(job, state)
            for chain, reading in zip(job.chains, got.chains, strict=True):
                for explain in (explain_source, explain_input):
                    reason = explain(job, chain, reading, Units())
                    self.assertTrue(reason.title and reason.result and reason.formula, chain.id)
            self.assertEqual(read_chains(laid(job), state), got.chains)


if __name__ == "__main__":
    unittest.main()
