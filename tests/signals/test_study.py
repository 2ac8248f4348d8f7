"""A sensor studied: fits, doubts, matches and tables against second methods."""

from __future__ import annotations

import math
import unittest

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import at, demo, put, state
from zombrel.calibrate import curve as curves
from zombrel.calibrate.points import worst_error
from zombrel.catalog import DEMO
from zombrel.handover.dossier.make import dossier
from zombrel.handover.dossier.page import Words
from zombrel.job.model import Chain, Job, by_id
from zombrel.job.pairs import between
from zombrel.job.problem import Problem
from zombrel.job.sheet import Curve
from zombrel.signals import study as studies
from zombrel.signals.alone import alone
from zombrel.signals.study import Study, checked, modelled, study
from zombrel.signals.ways import table_for
from zombrel.store.zjob import load
from zombrel.units import METRIC

BETA = 3500.0


def part(celsius: float, beta: float = BETA) -> float:
    """A 2.5 kΩ part by the β equation, worked out here (IEC 60539-1)."""
    return 2500 * math.exp(beta * (1 / (celsius + 273.15) - 1 / 298.15))


def chain(job: Job, key: str) -> Chain:
    found = by_id(job.chains, key)
    assert found is not None
    return found


def of(celsius: tuple[float, ...], beta: float = BETA) -> Curve:
    return tuple((c + 273.15, part(c, beta)) for c in celsius)


def temp(points: Curve, kind: curves.Kind = "straight pieces", count: int | None = None) -> Study:
    return study(demo(), chain(demo(), "temp-hub"), kind, points, count)


class Fits(unittest.TestCase):
    def test_a_part_of_the_devices_own_kind_matches_its_curve(self) -> None:
        """Preset B is this very part; straight lines between 20 K steps bulge between them."""
        got = temp(of(tuple(range(-20, 141, 5))))
        self.assertEqual(got.matches[0].name, "B")
        # the worst bulge, by hand: in the middle of the first piece, 0 to 20 °C
        mid = between(tuple((part(c), c) for c in (20.0, 0.0)), part(9.0))
        self.assertAlmostEqual(got.matches[0].worst, abs(mid - 9.0), delta=0.3)

    def test_every_model_runs_through_good_pairs(self) -> None:
        points = of((0, 20, 40, 60, 80, 100, 120))
        for kind in ("steinhart-hart", "beta", "spline", "straight pieces"):
            got = temp(points, kind)  # type: ignore[arg-type]
            self.assertEqual(got.doubtful, (), kind)
            self.assertLess(max(abs(r) for r in got.residuals), 0.4, kind)
            for celsius in (10.0, 55.0, 95.0):
                read = between(tuple(sorted((e, v) for v, e in got.truth)), part(celsius))
                self.assertAlmostEqual(read - 273.15, celsius, delta=1.2, msg=kind)

    def test_the_pair_that_was_misread_is_named_wherever_it_is(self) -> None:
        base = of((0, 20, 40, 60, 80, 100, 120))
        for i in range(1, 6):
            bad = tuple((k, r * (1.25 if j == i else 1)) for j, (k, r) in enumerate(base))
            with self.subTest(i):
                self.assertEqual(temp(bad, "steinhart-hart").doubtful, (i,))
                self.assertEqual(temp(bad).doubtful, (i,))

    def test_pairs_that_make_no_curve_say_which(self) -> None:
        for points, said in (
            (((300.0, 5.0),), "two pairs or more"),
            (((300.0, 5.0), (310.0, 4.0), (310.0, 3.0)), "twice"),
            (((300.0, 5.0), (310.0, 4.0), (320.0, 6.0)), "turn back"),
        ):
            with self.subTest(said), self.assertRaisesRegex(Problem, said):
                checked(points, "Sender")
        with self.assertRaisesRegex(Problem, "falls below zero"):
            study(
                demo(), chain(demo(), "fuel-hub"), "line", ((0.0, 90.0), (0.01, 5.0), (0.055, 4.0))
            )


class Tables(unittest.TestCase):
    @settings(max_examples=15, deadline=None)
    @given(st.integers(2, 12), st.floats(2800, 4200))
    def test_a_table_is_as_good_as_it_says(self, count: int, beta: float) -> None:
        got = temp(of(tuple(range(-10, 131, 10)), beta), count=count)
        turned = tuple(sorted((e, v) for v, e in got.truth))
        device = tuple(sorted((e, v) for v, e in got.table))
        self.assertLessEqual(worst_error(turned, device), got.table_worst * 1.05 + 0.1)
        self.assertEqual([v for v, _ in got.table], sorted(v for v, _ in got.table))

    def test_two_points_of_a_straight_sender_are_enough(self) -> None:
        job = load(DEMO / "0409.zjob")
        got = study(job, chain(job, "lambda"), "straight pieces", count=2)
        self.assertEqual(len(got.table), 2)
        self.assertLess(got.table_worst, 1e-6)

    def test_points_are_placed_where_the_curve_bends(self) -> None:
        """Equal steps of temperature are far worse than placed points."""
        truth = tuple((c + 273.15, part(c)) for c in range(0, 121, 2))
        placed = table_for(truth, 6)
        even = tuple((c + 273.15, part(c)) for c in (0, 24, 48, 72, 96, 120))
        turned = tuple(sorted((e, v) for v, e in truth))
        errors = [
            worst_error(turned, tuple(sorted((e, v) for v, e in table))) for table in (placed, even)
        ]
        self.assertLess(errors[0], errors[1] * 0.6)

    def test_quick_for_a_finger_leaves_the_slow_parts_out(self) -> None:
        got = temp(of((0, 20, 40, 60, 80, 100, 120)), count=0)
        self.assertEqual((got.table, got.doubtful), ((), ()))
        self.assertTrue(math.isnan(got.table_worst))
        self.assertTrue(got.truth and got.matches)


class Figures(unittest.TestCase):
    def test_counts_ground_and_pull_up_by_hand(self) -> None:
        got = temp(of((0, 20, 40, 60, 80, 100, 120)))
        # the widest swing: √(R(0 °C) · R(120 °C))
        self.assertAlmostEqual(got.pull_up, math.sqrt(part(0) * part(120)), delta=2)
        # 12 bits over 5 V, coarsest where the divider is flattest: dV/dT = 5·P·β·R/((R+P)²·T²)
        slopes = [
            5 * 1000 * BETA * part(c) / ((part(c) + 1000) ** 2 * (c + 273.15) ** 2)
            for c in (6.0, 114.0)
        ]
        self.assertAlmostEqual(got.count_worst, 5 / 4096 / min(slopes), delta=0.03)
        self.assertLess(got.per_10mv, 0)  # a higher voltage reads colder

    def test_the_jobs_setting_is_judged(self) -> None:
        for stands, worst in (("A", 25.0), ("C", 65.0)):
            job = put(demo(), "devices.hub.settings.TEMP.at", stands)
            got = study(job, chain(job, "temp-hub"), "straight pieces")
            match = next(m for m in got.matches if m.name == stands)
            self.assertAlmostEqual(got.now_worst, match.worst, delta=0.5)
            self.assertLess(got.now_worst, worst)
            self.assertGreater(got.now_worst, got.good_enough)

    def test_a_model_is_sampled_over_the_range_only(self) -> None:
        points = of((0, 50, 100))
        line = modelled(points, "beta", 280.0, 360.0)
        self.assertAlmostEqual(line[0][0], 280.0)
        self.assertAlmostEqual(line[-1][0], 360.0)
        spline = modelled(points, "spline", 250.0, 400.0)
        self.assertAlmostEqual(spline[0][0], 273.15)
        self.assertAlmostEqual(spline[-1][0], 373.15)
        self.assertEqual(modelled(points, "straight pieces", 250.0, 400.0), points)


class Kinds(unittest.TestCase):
    def test_a_falling_resistance_over_temperatures_is_a_thermistor(self) -> None:
        ntc = ((273.15, 5896.0), (373.15, 187.0))
        for pairs, is_one in (
            (ntc, True),
            (((200.0, 5896.0), (373.15, 187.0)), False),  # no temperature of any car
            (((273.15, 100.0), (373.15, 138.5)), False),  # it rises
            (((273.15, 100.0), (373.15, 50.0)), False),  # half is not less than half
            (((0.0, 84.0), (0.055, 7.0)), False),  # litres
        ):
            with self.subTest(pairs):
                self.assertIs(studies._is_thermistor(pairs), is_one)

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

    def test_a_sender_that_knows_one_value_of_the_range_has_no_curve_to_draw(self) -> None:
        """From a full tank upwards: what it knows and the range meet in one point."""
        job = demo()
        full = job.vehicle.tank_l / 1000
        for least, refused in ((full, True), (full * 0.5, False)):
            beyond = put(job, "sources.tank.spec.points", [[least, 10.0], [2 * full, 180.0]])
            chain = next(c for c in job.chains if c.id == "fuel-hub")
            pages = dossier(beyond, at(beyond), METRIC, "today").sections
            said = [b.text for s in pages for b in s.blocks if isinstance(b, Words)]
            self.assertEqual(any("The range is empty" in text for text in said), refused)
            if refused:
                with self.assertRaisesRegex(Problem, "check the unit they were typed in"):
                    study(beyond, chain, "straight pieces")
            else:
                self.assertEqual(study(beyond, chain, "straight pieces").span, (least, full))


if __name__ == "__main__":
    unittest.main()
