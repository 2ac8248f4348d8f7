"""Places where a slip had passed unseen, further on: one case each, worked by hand."""

from __future__ import annotations

import math
import tempfile
import unittest
import wave
from pathlib import Path

import msgspec
import numpy as np

from tests.demo import demo, put, state
from zombrel.calc.logs import _stated
from zombrel.calc.speed import _settings
from zombrel.findings.overall.fact_rules import _engine
from zombrel.handover.marks import head_of
from zombrel.handover.owner.make import _spots
from zombrel.harness.coupling import clear_spacing, noise
from zombrel.harness.plugs.hunt import _standing
from zombrel.harness.plugs.slips import Map
from zombrel.harness.power import read_power
from zombrel.harness.wire_reading import read_wires
from zombrel.instruments.simulated import Car
from zombrel.intake.file import encoding
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.source import BusReader
from zombrel.logs.recording import Channel
from zombrel.logs.table.read import read
from zombrel.logs.wav import read_wav
from zombrel.signals.alone import alone
from zombrel.signals.finder import _risk
from zombrel.units import KMH


class Signals(unittest.TestCase):
    def test_a_lead_that_may_pick_up_anything_may_lie_on_the_coil(self) -> None:
        """The spacing falls with what is allowed, down to nothing, however much that is."""
        found = [clear_spacing("coil", 1.0, 100.0, volts) for volts in (0.1, 1.0, 1e3, 1e9)]
        self.assertEqual(found, sorted(found, reverse=True))
        self.assertLess(found[-1], 1e-9)
        self.assertAlmostEqual(noise("coil", found[0], 1.0, 100.0, twisted=False), 0.1, places=6)

    def test_pairs_that_are_no_curve_are_told_where_a_sender_is_read_alone(self) -> None:
        job = demo()
        for source in job.sources:
            points = getattr(source.spec, "points", ())
            if len(points) > 1:
                with self.subTest(source.id):
                    self.assertIsNotNone(alone(job, state(job), source))
                    turned = msgspec.structs.replace(
                        source, spec=msgspec.structs.replace(source.spec, points=points[::-1])
                    )
                    with self.assertRaises(Problem):
                        alone(job, state(job), turned)

    def test_a_value_from_the_bus_that_comes_seldom_is_told(self) -> None:
        """Once a second is enough for a gauge; what steadies a car wants it more often."""
        job = demo()
        sheet = by_id(job.devices, "hub").sheet.inputs[0]
        source = job.sources[0]
        for period, steady, slow in ((0.9, False, False), (2.0, False, True), (0.9, True, True)):
            with self.subTest(period=period, steady=steady):
                spec = BusReader(signal="speed", message=1, period_s=period)
                _, said = _risk(
                    job,
                    msgspec.structs.replace(sheet, steady=steady),
                    msgspec.structs.replace(source, spec=spec),
                )
                self.assertEqual(f"one value each {period:g} s is too slow" in said, slow)

    def test_a_car_that_is_made_up_keeps_to_its_road(self) -> None:
        """From 50 to 110 km/h and back, a cosine of 2 π · 19.1 s."""
        car = Car()
        for t, kmh in ((0.0, 50.0), (19.1 * math.pi / 2, 80.0), (19.1 * math.pi, 110.0)):
            with self.subTest(t=t):
                self.assertAlmostEqual(car.speed(t) / KMH, kmh)
                self.assertAlmostEqual(car.engine(t), kmh * KMH * car.rev_per_m)


class Logs(unittest.TestCase):
    def test_a_gap_shows_in_few_samples(self) -> None:
        for t, gaps in (
            ([0.0, 1.0, 2.0, 10.0, 11.0], ((2.0, 10.0),)),
            ([0.0, 1.0, 7.0], ()),
            ([0.0, 9.0], ()),
        ):
            with self.subTest(t):
                at = np.array(t)
                self.assertEqual(Channel("a", "speed", "", at, at).gaps, gaps)

    def test_of_many_columns_the_first_are_named(self) -> None:
        names = [f"c{i}" for i in range(10)]
        lines = [",".join(["time (s)", *names[1:]])] + [
            ",".join(str(i + k / 10) for k in range(10)) for i in range(20)
        ]
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "x.csv"
            path.write_text("\n".join(lines) + "\n")
            with self.assertRaises(Problem) as caught:
                read(path, {"zz": "km/h"})
        self.assertIn("it has time, c1, c2, c3, c4, c5, c6, c7 and 2 more.", str(caught.exception))


class Power(unittest.TestCase):
    def test_of_two_alike_the_cars_own_wire_is_the_weakest(self) -> None:
        job = demo()
        for wire in job.wires:
            job = put(job, f"wires.{wire.id}.fuse_a", None)
        bare = next(f for f in read_power(job, state(job)).feeds if f.wires)
        thin = min(w.weakest_mm2 for w in read_wires(job, state(job)) if w.id in bare.wires)
        for own, said in ((thin * 0.9, True), (thin, True), (thin * 1.1, False)):
            with self.subTest(own):
                other = put(job, f"feeds.{bare.id}.wire_mm2", own)
                feeds = read_power(other, state(other)).feeds
                self.assertEqual("car's own" in by_id(feeds, bare.id).weakest, said)


class Papers(unittest.TestCase):
    def test_what_lies_at_the_edge_is_marked_within_the_page(self) -> None:
        """Things in one zone are marked side by side, and none beside the picture."""
        job = demo()
        far = max(job.zones, key=lambda z: z.x_m + z.wide_m / 2)
        for device in job.devices:
            job = put(job, f"devices.{device.id}.zone", far.id)
        job = put(job, f"zones.{far.id}.wide_m", 0.02)
        marked = list(_spots(job))
        self.assertGreater(len(marked), 3)
        self.assertLess(max(s.x for s in marked), 1.0)

    def test_an_arrow_of_no_length_has_a_head_all_the_same(self) -> None:
        for tip in ((5.0, 5.0), (5.0, 7.0)):
            with self.subTest(tip):
                point, left, right, foot = head_of((5.0, 5.0), tip, 1.0)
                self.assertEqual(point, tip)
                long = tip != (5.0, 5.0)
                self.assertAlmostEqual(math.dist(left, right), 1.0 if long else 0.0)
                self.assertAlmostEqual(math.dist(tip, foot), 0.8 if long else 0.0)


class Asked(unittest.TestCase):
    def test_a_unit_without_its_column_is_refused(self) -> None:
        self.assertEqual(_stated("a=km/h; b = C ;"), {"a": "km/h", "b": "C"})
        with self.assertRaises(Problem):
            _stated("a=km/h;C")

    def test_a_setting_that_stands_for_nothing_is_refused(self) -> None:
        self.assertEqual(_settings("A=1200,0.5"), [("A", 1200.0), ("0.5", 0.5)])
        for wrong in ("A=0", "A=-1", "A=x", "A=1,A=2"):
            with self.subTest(wrong), self.assertRaises(Problem):
                _settings(wrong)

    def test_an_engine_that_idles_at_its_redline_is_impossible(self) -> None:
        job = demo()
        for idle, wrong in ((job.vehicle.redline_rps, True), (job.vehicle.redline_rps / 5, False)):
            with self.subTest(idle):
                said = [title for _, title, *_ in _engine(put(job, "vehicle.idle_rps", idle))]
                self.assertEqual("The engine idles above its redline" in said, wrong)

    def test_a_pin_that_meets_itself_says_nothing_of_a_slip(self) -> None:
        ends, slip = [("X1.1", 1), ("X1.2", 2)], Map("swap", "", "", 1.0, {1: 2, 2: 1})
        said = {frozenset({"X1.1", "Y.2"}): True, frozenset({"X1.2"}): True}
        found = _standing("Y.", ends, said, slip)
        self.assertEqual((found.met, found.against), (1, 0))


class Text(unittest.TestCase):
    def test_two_samples_are_a_signal_and_one_is_none(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for count in (1, 2):
                path = Path(folder) / f"{count}.wav"
                with wave.open(str(path), "wb") as out:
                    out.setparams((1, 2, 1000, 0, "NONE", ""))
                    out.writeframes(b"\x00\x40" * count)
                with self.subTest(count):
                    if count == 1:
                        self.assertRaises(Problem, read_wav, path)
                    else:
                        (channel,) = read_wav(path, full_v=2.0).channels
                        self.assertEqual(list(channel.v), [1.0, 1.0])

    def test_text_is_told_by_how_it_begins(self) -> None:
        for data, how in (
            (b"a,b\n" * 900, "utf-8"),
            (b"a,b\n" * 1100 + b"\0", "utf-8"),
            (b"a,b\n" * 900 + b"\0", None),
            (("a,b\n" * 9).encode("utf-16-le"), "utf-16-le"),
            (("a,b\n" * 9).encode("utf-16-be"), "utf-16-be"),
            (("a" * 2000 + "\u0100" * 3000).encode("utf-16-be"), "utf-16-be"),
        ):
            with self.subTest(how, size=len(data)):
                self.assertEqual(encoding(data), how)


if __name__ == "__main__":
    unittest.main()
