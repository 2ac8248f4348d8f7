"""Places where a slip had passed unseen, once more: one case each, worked by hand."""

from __future__ import annotations

import math
import os
import tempfile
import unittest
from collections.abc import Iterator
from pathlib import Path
from unittest import mock

import msgspec
import numpy as np

from tests.demo import apply, at, demo, put, state
from tests.signals.test_following import box_of, through_a_box
from tests.store.test_shop_times import timed
from zombrel.behaviour.cruise import Unit, drive, flat
from zombrel.behaviour.reports import REPORTS, body_of, next_change, paced
from zombrel.findings.overall.progress_rules import stage_states
from zombrel.findings.scene import Scene
from zombrel.handover.dossier.make import dossier
from zombrel.handover.dossier.page import Words
from zombrel.job.edits import Add
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.records.fitting import Hose
from zombrel.logs.gearfit import WIDTH, _peaks
from zombrel.logs.recording import Channel, Recording
from zombrel.logs.speedpair import pulses_per_km, surge
from zombrel.logs.table.side_by_side import in_order, workers
from zombrel.plan.tasks import tasks
from zombrel.signals.circuit.build import DRIVER_OHM, Electric, build
from zombrel.signals.circuit.rest import islands
from zombrel.signals.following import given_by
from zombrel.signals.study import study
from zombrel.store import claims, open_job, prefs, shop_times
from zombrel.store.open_job import OpenJob
from zombrel.units import METRIC


class Signals(unittest.TestCase):
    def test_a_box_makes_its_output_of_what_is_left_behind_a_divider(self) -> None:
        job = through_a_box()
        setting = {"pin": "SPEED RATIO", "at": "1"}
        job = apply(job, Add(path=f"devices.{box_of(job).id}.settings", value=setting))
        out = next(s for s in job.sources if s.id == job.chains[1].source)
        straight = given_by(job, out).rate
        halved = put(job, "chains.in.hops", [{"type": "divider", "by": 2}])
        self.assertAlmostEqual(given_by(halved, out).rate, straight / 2)

    def test_behind_a_divider_without_supply_there_is_nothing(self) -> None:
        job = put(demo(), "chains.speed-pace.hops", [{"type": "divider", "by": 7, "out_v": 5.0}])
        for key, driven in (("on", [5.0 / DRIVER_OHM]), ("off", [])):
            made = [build(job, island, Electric(key)) for island in islands(job).islands]  # type: ignore[arg-type]
            amps = [a for b in made for _, node, a in b.network.amps if str(node).endswith(">1")]
            with self.subTest(key):
                self.assertEqual(amps, driven)

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


class Wires(unittest.TestCase):
    def test_a_hose_that_burns_is_laid_with_the_battery_off(self) -> None:
        for medium, off in (("fuel", True), ("coolant", None)):
            hose = Hose(id="h", name="Hose", medium=medium)  # type: ignore[arg-type]
            job = msgspec.structs.replace(demo(), hoses=(hose,))
            task = next(t for t in tasks(job) if t.kind == "hose")
            self.assertEqual(bool(task.battery_off), bool(off), medium)

    def test_two_wires_in_one_cavity_are_told_and_one_is_not(self) -> None:
        job = demo()
        like = next(w for w in job.wires if w.id == "W3")

        def crowded(*names: str) -> list[str]:
            more = [
                msgspec.structs.replace(like, id=name, a=msgspec.structs.replace(like.a, pin="5"))
                for name in names
            ]
            other = msgspec.structs.replace(job, wires=(*job.wires, *more))
            return [f.id for f in at(other).findings if f.id.startswith("crowded")]

        self.assertEqual(crowded("X1"), [])
        self.assertEqual(crowded("X1", "X2"), ["crowded-D2-5"])


class Told(unittest.TestCase):
    def test_a_stage_is_as_bad_as_the_worst_that_is_said_of_it(self) -> None:
        job = demo()
        found = at(job).findings
        trouble = next(f for f in found if f.level == "trouble" and f.stage == "wire")
        watch = msgspec.structs.replace(trouble, level="watch")
        for said, mark in (
            ((watch,), "watch"),
            ((watch, trouble), "trouble"),
            ((trouble, watch), "trouble"),
            ((), "good"),
        ):
            stages = {s.stage: s.mark for s in stage_states(Scene(job, state(job)), said, "")}
            with self.subTest([f.level for f in said]):
                self.assertEqual(stages["wire"], mark)

    def test_half_a_tooth_of_a_wheel_on_the_cam_is_a_whole_one_of_the_crank(self) -> None:
        """Six teeth: 720/6/2 on a cam of four strokes, 360/6/2 on the crank and of two strokes."""
        for on_cam, strokes, late in ((True, 4, 60.0), (False, 4, 30.0), (True, 2, 30.0)):
            job = put(put(demo(), "chains.pick-spark.polarity", "reversed"), "ledger", [])
            job = put(put(job, "sources.pick.spec.on_cam", on_cam), "vehicle.strokes", strokes)
            said = next(f for f in at(job).findings if f.id == "polarity-pick-spark")
            with self.subTest(on_cam=on_cam, strokes=strokes):
                self.assertIn(f"about {late:.1f}° of crank later", said.text)

    def test_where_the_point_of_a_final_drive_slipped(self) -> None:
        for typed, meant in ((36.4, "3.64"), (0.364, "3.64"), (364.0, "3.64"), (0.0364, "3.64")):
            job = put(put(demo(), "vehicle.final_drive", typed), "ledger", [])
            labels = [m.label for f in at(job).findings for m in f.mends]
            with self.subTest(typed):
                self.assertIn(f"The point slipped: {meant}", labels)

    def test_a_unit_that_knows_at_once_sees_no_more_than_there_is(self) -> None:
        body = body_of(demo().vehicle)
        runs = [drive(body, Unit(2, 2, 1.0, lag_s=lag), flat(0.03), 25.0).v for lag in (1e-9, 1e-3)]
        self.assertEqual(*runs)
        self.assertLess(max(runs[0]) - min(runs[0]), 5.0)


class Reported(unittest.TestCase):
    def test_a_dial_can_be_turned_to_its_first_position(self) -> None:
        hunts = next(r for r in REPORTS if r.key == "hunts")
        for stands, to in (("2", "1"), ("1", "")):
            job = put(demo(), "devices.pace.settings.SENSITIVITY.at", stands)
            unit = paced(job)
            assert unit is not None
            self.assertEqual(next_change(job, unit, hunts).at, to)


class Logs(unittest.TestCase):
    def test_so_many_pieces_are_in_hand_and_no_more(self) -> None:
        taken: list[int] = []

        def pieces() -> Iterator[int]:
            for i in range(20):
                taken.append(i)
                yield i

        results = in_order(lambda i: i * i, pieces())
        for n in range(20):
            self.assertEqual(next(results), n * n)
            self.assertEqual(len(taken), min(20, workers() + 1 + n))

    def test_pulses_of_a_short_drive_count_as_three_seconds(self) -> None:
        """Neighbours a tenth of a second apart say nearly the same: 5 % to and fro at 20 m/s."""
        for n, seconds in ((24, 3.0), (200, 20.0)):
            t = np.arange(n) * 0.1
            hz = 100.0 * np.where(np.arange(n) % 2, 1.05, 0.95)
            speed = Channel("satellite speed", "speed", "m/s", t, np.full(n, 20.0))
            log = Recording("drive", (speed, Channel("pulses Hz", "rate", "Hz", t, hz)))
            middle, low, high = pulses_per_km(log)
            self.assertAlmostEqual(middle, 5000.0)
            self.assertAlmostEqual(high - middle, 1.96 * 250 / math.sqrt(seconds))
            self.assertAlmostEqual(middle - low, high - middle)

    def test_a_surge_wants_a_sample_in_ten_seconds(self) -> None:
        """Its slowest rate is 0.05 Hz, which two samples a turn show: one in ten seconds."""
        for step, refused in ((9.0, False), (10.0, True), (12.0, True)):
            t = np.arange(200) * step
            log = Recording("d", (Channel("speed", "speed", "m/s", t, 20 + np.sin(t / 40)),))
            with self.subTest(step):
                said = ""
                try:
                    surge(log)
                except Problem as problem:
                    said = str(problem)
                self.assertEqual("too few samples a second" in said, refused)

    def test_a_gear_between_two_steps_of_the_count_is_one(self) -> None:
        """As much on either side: the peak is as high in both, and is one all the same."""
        self.assertEqual(len(_peaks(np.array([-1e-9, 1e-9]))), 1)
        apart = _peaks(np.array([0.0, 0.0, 40 * WIDTH]))
        self.assertEqual(len(apart), 2)


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        self.home = Path(self.enterContext(tempfile.TemporaryDirectory()))
        deep = {n: str(self.home / "new" / n) for n in ("XDG_DATA_HOME", "XDG_STATE_HOME")}
        self.enterContext(mock.patch.dict(os.environ, deep))

    def test_times_are_kept_in_a_home_that_has_nothing_yet(self) -> None:
        self.assertEqual(shop_times.keep_times(timed("7", 1.5)), "")
        self.assertTrue(shop_times.read_times())
        self.assertEqual(shop_times.keep_times(timed("8", 1.5)), "")
        self.assertEqual(len(shop_times.read_times()), 2)

    def test_a_place_that_could_not_be_written_is_claimed_no_longer(self) -> None:
        desk = OpenJob()
        self.addCleanup(desk.close)
        desk.start(Job(number="1"))
        own, other = self.home / "own.zjob", self.home / "other.zjob"
        desk.save(own)
        failing = mock.patch.object(open_job, "write_atomically", side_effect=Problem("full"))
        for path, held in ((other, False), (own, True)):
            with self.subTest(path.name):
                with failing, self.assertRaisesRegex(Problem, "full"):
                    desk.save(path)
                claimed = claims.claim(prefs.claims_root(), path)
                self.assertEqual(isinstance(claimed, claims.Holder), held)
                if isinstance(claimed, claims.Claim):
                    claimed.end()


if __name__ == "__main__":
    unittest.main()
