"""Every kind of step: what it expects, by hand; what blocks it; what its answers come to."""

from __future__ import annotations

import unittest

import msgspec

from tests.demo import Add, Remove, apply, demo, put, whole
from zombrel.catalog import DEMO
from zombrel.diagnose.kinds.acts import trial_rpm
from zombrel.diagnose.kinds.rows import _rows
from zombrel.diagnose.step import StepSheet, said
from zombrel.diagnose.steps import KINDS, standing, steps
from zombrel.diagnose.verdict import judge, seen_of
from zombrel.findings.settle import settle
from zombrel.harness.laid import laid
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.store.zjob import load
from zombrel.units import CUSTOMARY, METRIC, words


def step(job: Job, key: str) -> StepSheet:
    return next(s for s in steps(job) if s.id == key)


def fields(job: Job, key: str) -> dict[str, tuple[float, float]]:
    return {f.name: (f.low, f.high) for f in step(job, key).fields}


def ground_of(job: Job, device: str) -> str:
    grounds = (w for w in job.wires if w.carries == "ground")
    return next(w.id for w in grounds if device in (w.a.place, w.b.place))


class Power(unittest.TestCase):
    def test_a_ground_is_as_good_as_its_copper_and_the_leads(self) -> None:
        # length · 0.01724 / section, and 0.3 Ω for leads and zero
        job = whole()
        name, (low, high) = next(iter(fields(job, "ground-pace").items()))
        wire = index(laid(job).wires)[name.partition(".")[2]]
        ohm = wire.length_m * 0.01724 / wire.area_mm2
        self.assertLess(low, 0)
        self.assertAlmostEqual(high, ohm + 0.3, places=4)
        one = step(job, "ground-pace")
        self.assertTrue(judge(job, one, seen_of(one, [0.2])).passed)
        self.assertFalse(judge(job, one, seen_of(one, [2.0])).passed)

    def test_without_a_wire_it_is_blocked_and_says_where(self) -> None:
        job = whole()
        bare = step(apply(job, Remove(path=f"wires.{ground_of(job, 'lamp')}")), "ground-lamp")
        self.assertIn("No wire leads Shift lamp GROUND", bare.blocked)
        self.assertEqual(bare.go, "wire:list")
        power = next(w for w in job.wires if w.carries == "power" and w.b.place == "lamp")
        fed = step(apply(job, Remove(path=f"wires.{power.id}")), "short-lamp")
        self.assertIn("Shift lamp POWER", fed.blocked)

    def test_a_short_is_told_from_a_load(self) -> None:
        # 12.6 V at 12 A is 1.05 Ω: less than a quarter of that is no load of this box
        low, _ = next(v for k, v in fields(demo(), "short-spark").items() if k.startswith("BATT"))
        self.assertAlmostEqual(low, 0.25 * 12.6 / 12, places=6)

    def test_what_lives_with_the_key_off_is_metered_so(self) -> None:
        order = [s.id for s in steps(demo()) if s.kind == "volts"]
        self.assertEqual(order[:2], ["power-BAT", "power-F2"])  # constant first
        self.assertIn("Key off", step(demo(), "power-BAT").where)
        self.assertIn("Key on", step(demo(), "power-F7").where)
        truck = put(demo(), "vehicle.system_v", 24)
        self.assertAlmostEqual(fields(truck, "power-F7")["pace.POWER"][1], 25.2 + 0.3)

    def test_off_is_off_for_what_dies_with_the_key(self) -> None:
        names = set(fields(demo(), "off"))
        self.assertIn("pace.POWER", names)
        self.assertNotIn("hub.CONST", names)
        constant = put(demo(), "feeds.F7.feed", "constant")
        self.assertNotIn("pace.POWER", fields(constant, "off"))

    def test_drain_is_the_sum_of_what_stands_by(self) -> None:
        # the hub's 6 mA and the car's own 20 mA; half as much again is somebody awake
        low, high = fields(demo(), "drain")["amps"]
        self.assertAlmostEqual(high, 0.039)
        self.assertLess(low, 0.026)
        awake = {"amps": 0.3}
        self.assertFalse(judge(demo(), step(demo(), "drain"), awake).passed)

    def test_cranking(self) -> None:
        job = whole()
        self.assertEqual(fields(job, "crank-spark")["lowest"][0], 8.8)
        thin = put(put(job, "wires.W13.area_mm2", 0.35), "wires.W13.length_m", 40.0)
        thin = put(thin, "wires.W13.via", [])
        self.assertIn("it resets below 8.8 V", step(thin, "crank-spark").blocked)


class Acts(unittest.TestCase):
    def test_a_limit_is_tried_low_and_put_back(self) -> None:
        job = whole()
        trial = step(job, "trial-spark-LAUNCH")
        got = fields(job, "trial-spark-LAUNCH")
        # 2 200 rpm, half a step of 200 and 3 %
        self.assertAlmostEqual(got["acts"][0], 2200 - 66 - 100)
        self.assertIn("2200 rpm", trial.ask)
        back = next(d for d in job.devices if d.id == "spark").setting("LAUNCH")
        self.assertIsNotNone(back)
        self.assertTrue(trial.running)
        control = index(job.devices)["spark"].sheet.control("LAUNCH")
        assert control is not None
        self.assertEqual(trial_rpm(control, 850), 2200)
        self.assertGreaterEqual(trial_rpm(control, 1900), 1900 * 1.6)
        for seen, passed in (((2190, 4200), True), ((4400, 4200), False), ((2190, 2200), False)):
            values = dict(zip(got, seen, strict=True))
            values["back"] = got["back"][0] + 1 if seen[1] == 4200 else 2200
            self.assertEqual(judge(job, trial, values).passed, passed, seen)

    def test_timing_by_the_survey_or_as_it_was(self) -> None:
        job = whole()
        self.assertEqual(fields(job, "timing-spark")["idle"], (8.0, 12.0))  # 10° at idle ± 2°
        bare = put(job, "vehicle.initial_deg", None)
        one = step(bare, "timing-spark")
        self.assertTrue(judge(bare, one, {"before": 12.0, "after": 13.0}).passed)
        self.assertFalse(judge(bare, one, {"before": 12.0, "after": 17.0}).passed)

    def test_two_presses_inside_and_outside_the_gap(self) -> None:
        job = settle(load(DEMO / "0409.zjob"))[0]
        got = fields(job, "gap-match")
        self.assertEqual((got["inside"], got["outside"]), ((1, 1), (2, 2)))
        gap = step(job, "gap-match")
        self.assertIn("0.2 s", gap.fields[0].label)  # half of 0.4 s
        self.assertFalse(judge(job, gap, {"inside": 2, "outside": 2}).passed)

    def test_a_pump_line_has_a_sense(self) -> None:
        van = settle(load(DEMO / "0413.zjob"))[0]
        got = fields(van, "pump-pump")
        least = sum(got["duty"]) / 2
        turned = {"duty": 100 - least, "faster": 0.0}
        self.assertFalse(judge(van, step(van, "pump-pump"), turned).passed)
        self.assertTrue(judge(van, step(van, "pump-pump"), {"duty": least, "faster": 1.0}).passed)
        self.assertEqual(fields(van, "after-pump")["runs"], (0, 0))

    def test_slack_only_where_there_is_a_cable(self) -> None:
        self.assertEqual(fields(whole(), "slack-pace")["slack"], (0.5, 3.0))
        wire = put(whole(), "vehicle.throttle", "wire")
        self.assertNotIn("slack-pace", {s.id for s in steps(wire)})

    def test_the_live_half_of_a_cut_feed(self) -> None:
        job = demo()
        feed = {
            "id": "feed", "name": "Common feed of the coils", "quantity": "tach",
            "spec": {"type": "common-feed"},
        }  # fmt: skip
        job = put(apply(job, Add(path="sources", value=feed)), "chains.tach-hub.source", "feed")
        got = fields(job, "cut-tach-hub")
        self.assertAlmostEqual(got["live"][0], 12.6 - 0.6)
        self.assertLess(got["dead"][1], 1)


class Readings(unittest.TestCase):
    def test_a_sensor_is_held_to_what_was_stated(self) -> None:
        job = whole()
        one = step(job, "sensor-temp-hub")
        self.assertIn("second pull-up", one.leaves)
        for seen, passed in (
            ((20, 21, 88, 89), True),
            ((35, 35.5, 70, 71), True),  # another truth, another expectation
            ((20, 30, 88, 89), False),
            ((20, 21, 60, 89), False),
        ):
            with self.subTest(seen):
                self.assertEqual(judge(job, one, seen_of(one, seen)).passed, passed)
        with self.assertRaisesRegex(Problem, "takes 4 values"):
            seen_of(one, (1, 2))

    def test_a_wrong_curve_blocks_instead_of_being_expected(self) -> None:
        job = put(whole(), "devices.hub.settings.TEMP.at", "D")
        one = step(job, "sensor-temp-hub")
        self.assertIn("mend it first", one.blocked)
        unset = put(whole(), "devices.hub.settings", [])
        self.assertTrue(step(unset, "sensor-temp-hub").go.startswith("set:"))

    def test_a_held_speed_follows_what_is_true(self) -> None:
        job = whole()
        one = step(job, "lift-speed-hub")
        self.assertTrue(judge(job, one, {"true": 50, "shown": 50.4}).passed)
        self.assertTrue(judge(job, one, {"true": 80, "shown": 80.5}).passed)
        self.assertFalse(judge(job, one, {"true": 80, "shown": 50}).passed)
        self.assertIn(
            "truth",
            step(put(job, "devices.hub.settings.SPEED.at", "12000"), "lift-speed-hub").blocked,
        )

    def test_figures_are_told_in_the_users_unit(self) -> None:
        self.assertEqual(words(said(20.0, "°C"), CUSTOMARY), "68\u00a0°F")
        self.assertEqual(words(said(12.6, "V"), CUSTOMARY), "12.6 V")
        self.assertEqual(words(said(50.0, "km/h"), METRIC).replace("\u00a0", " "), "50.0 km/h")


class Rows(unittest.TestCase):
    def test_single_holds_first_then_acting_then_the_rest(self) -> None:
        self.assertEqual(_rows(2), ["01", "10", "11", "00"])
        self.assertEqual(len(_rows(4)), 16)
        self.assertEqual(len(_rows(5)), 6)  # each alone, and acting

    def test_no_row_is_about_an_input_it_does_not_have(self) -> None:
        van = settle(load(DEMO / "0413.zjob"))[0]
        rows = [s for s in steps(van) if s.kind == "row"]
        self.assertEqual({s.table for s in rows}, {"idle"})  # the pace unit wants the road
        self.assertEqual(len(rows), 8)
        less = apply(van, Remove(path="chains.brake-idle"))
        fewer = [s for s in steps(less) if s.kind == "row"]
        self.assertEqual(len(fewer), 4)
        self.assertNotIn("BRAKE", {name for s in fewer for name, _ in s.row})
        self.assertEqual(sum(s.gate for s in rows), 3)

    def test_an_idle_that_stays_up_fails(self) -> None:
        van = settle(load(DEMO / "0413.zjob"))[0]
        row = step(van, "row-idle-101")
        self.assertTrue(judge(van, row, {"rpm": 790, "within": 0.8}).passed)
        self.assertFalse(judge(van, row, {"rpm": 1350, "within": 0.8}).passed)
        self.assertFalse(judge(van, row, {"rpm": 790, "within": 4.0}).passed)
        acts = step(van, "row-idle-111")
        self.assertTrue(judge(van, acts, {"rpm": 1350}).passed)

    def test_a_clutch_lets_it_act_where_its_sheet_says_so(self) -> None:
        racer = settle(load(DEMO / "0409.zjob"))[0]
        act = dict(step(racer, "row-match-111").row)
        self.assertEqual((act["BRAKE"], act["CLUTCH"], act["ARM"]), ("up", "down", "armed"))
        plain = put(racer, "devices.match.sheet.inputs.CLUTCH.permits", "")
        self.assertEqual(dict(step(plain, "row-match-111").row)["CLUTCH"], "up")


class All(unittest.TestCase):
    def test_every_step_says_what_a_person_needs(self) -> None:
        names = {k.name for k in KINDS}
        for number in ("0412", "0413", "0409"):
            job = settle(load(DEMO / f"{number}.zjob"))[0]
            found = steps(job)
            self.assertEqual(len({s.id for s in found}), len(found))
            for one in found:
                with self.subTest(number, step=one.id):
                    self.assertIn(one.kind, names)
                    self.assertTrue(one.caution and one.ask and one.where and one.source)
                    self.assertTrue(one.otherwise and one.leaves and one.minutes > 0)
                    self.assertEqual(standing(job, one), "open")
                    for field in one.fields:
                        self.assertLessEqual(field.low, field.high, field.label)
                        self.assertTrue(field.expect)
                    again = msgspec.json.decode(msgspec.json.encode(one), type=StepSheet)
                    self.assertEqual(again, one)


if __name__ == "__main__":
    unittest.main()
