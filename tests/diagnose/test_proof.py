"""Proof steps, verdicts, rivals, staleness and the road gate."""

from __future__ import annotations

import math
import unittest

import msgspec
from hypothesis import given
from hypothesis import strategies as st

from tests.demo import DEMO, Add, apply, at, demo, load, put, whole
from zombrel.behaviour.wanted import wanted
from zombrel.diagnose.gates import engine_gate, opens_at, road_gate
from zombrel.diagnose.kinds.holds import LEVERS
from zombrel.diagnose.record import BOUNDS
from zombrel.diagnose.record import prove as record
from zombrel.diagnose.rests import changed_since
from zombrel.diagnose.step import over_path
from zombrel.diagnose.steps import (
    basis,
    count_steps,
    expected_flashes,
    gates,
    latest,
    standing,
    steps,
)
from zombrel.diagnose.verdict import judge, rivals
from zombrel.findings.settle import settle
from zombrel.job.edits import Put, Remove
from zombrel.job.figures import figure
from zombrel.job.ledger import provenance
from zombrel.job.model import Job, Proof
from zombrel.job.records.retrofit import Retrofit
from zombrel.job.sheet import HOLDS
from zombrel.units import METRIC
from zombrel.units import words as in_units


def step(job: Job, key: str):  # type: ignore[no-untyped-def]
    return next(s for s in steps(job) if s.id == key)


def prove(job: Job, key: str, verdict: str = "pass") -> Job:
    made = Proof(
        id=900 + len(job.proofs),
        step=key,
        verdict=verdict,  # type: ignore[arg-type]
        basis=basis(job, step(job, key)),
    )
    return apply(job, Add(path="proofs", value=msgspec.to_builtins(made)))


class Steps(unittest.TestCase):
    def test_order_and_count(self) -> None:
        got = steps(demo())
        kinds = list(dict.fromkeys(s.kind for s in got))
        self.assertEqual(kinds[:5], ["plugs", "ground", "short", "volts", "off"])
        self.assertEqual(kinds[5:10], ["brake", "contact", "roll", "slack", "drain"])
        self.assertEqual(kinds[10:], ["crank", "idle", "sensor", "timing", "trial", "lift"])
        self.assertEqual(count_steps(demo()), len(got))
        self.assertEqual([s.id for s in gates(demo())], ["brake-brake-pace"])
        self.assertEqual(steps(Job()), ())
        self.assertEqual(count_steps(Job()), 0)

    def test_key_on_expects_the_drop_of_its_own_wire(self) -> None:
        fields = {f.name: f for f in step(demo(), "power-BAT").fields}
        # W13: 12 A over 3.6 m of 4 mm² copper at 20 °C
        loss = 12 * 3.6 * 0.01724 / 4
        self.assertAlmostEqual(fields["spark.BATT"].low, 12.6 - loss - 0.3, places=6)

    def test_what_cannot_pass_says_why(self) -> None:
        self.assertIn("7.0 V", step(demo(), "brake-brake-pace").blocked)
        self.assertEqual(step(whole(), "brake-brake-pace").blocked, "")
        self.assertIn("too weak", step(demo(), "roll-speed-pace").blocked)
        self.assertEqual(step(whole(), "roll-speed-pace").blocked, "")
        unknown = put(demo(), "vehicle.lamps", None)
        self.assertIn("Survey", step(unknown, "brake-brake-pace").blocked)

    def test_roll_says_how_far_for_one_per_cent(self) -> None:
        # 24 054/7 per km and four to a flash: 0.859 a metre, 116 m for a hundred
        fields = {f.name: f for f in step(whole(), "roll-speed-pace").fields}
        self.assertEqual(in_units(fields["flashes"].expect, METRIC), "4 or 5 in 5 m")
        self.assertIn("116 m for 1 %", in_units(fields["distance"].because, METRIC))

    def test_idle(self) -> None:
        shown = step(demo(), "idle-tach-hub").fields[1]
        self.assertTrue(shown.low <= 850 <= shown.high)
        wrong = put(demo(), "devices.hub.settings.TACH.at", "4")
        self.assertIn("1.5 times", step(wrong, "idle-tach-hub").blocked)


class Verdicts(unittest.TestCase):
    def test_cases(self) -> None:
        job = whole()
        for key, seen, passed in (
            ("brake-brake-pace", {"rest": 0.05, "pressed": 12.6}, True),
            ("brake-brake-pace", {"rest": 7.0, "pressed": 12.6}, False),
            ("brake-brake-pace", {"rest": 0.05, "pressed": 3.0}, False),
            ("roll-speed-pace", {"distance": 5, "flashes": 4}, True),
            ("roll-speed-pace", {"distance": 5, "flashes": 5}, True),
            ("roll-speed-pace", {"distance": 5, "flashes": 30}, False),
            ("roll-speed-pace", {"distance": 116, "flashes": 99}, True),
            ("roll-speed-pace", {"distance": 116, "flashes": 90}, False),
            ("idle-tach-hub", {"true": 850, "shown": 860}, True),
            ("idle-tach-hub", {"true": 850, "shown": 2550}, False),
        ):
            with self.subTest(key=key, seen=seen):
                self.assertEqual(judge(job, step(job, key), seen).passed, passed)

    def test_volts_name_the_pin_that_is_off(self) -> None:
        job = whole()
        fed = next(s for s in steps(job) if any(f.name == "spark.KEY" for f in s.fields))
        seen = {f.name: 12.6 for f in fed.fields}
        self.assertTrue(judge(job, fed, seen).passed)
        seen["spark.KEY"] = 0.1
        got = judge(job, fed, seen)
        self.assertIn("Spark box KEY", got.text)
        self.assertIn("No supply at pin", got.rivals[0].cause)

    def test_the_leading_cause_fits_what_was_seen(self) -> None:
        job = whole()
        for key, seen, words in (
            ("brake-brake-pace", {"rest": 7.0, "pressed": 12.6}, "No path to ground"),
            ("brake-brake-pace", {"rest": 12.5, "pressed": 12.6}, "hot side"),
            ("brake-brake-pace", {"rest": 0.0, "pressed": 0.1}, "On a ground"),
            ("brake-brake-pace", {"rest": 12.4, "pressed": 0.2}, "exchanged"),
            ("roll-speed-pace", {"distance": 5, "flashes": 30}, "divider by 7 is left out"),
            ("roll-speed-pace", {"distance": 5, "flashes": 0}, "No pulse arrives"),
            ("idle-tach-hub", {"true": 850, "shown": 425}, "Every other pulse"),
            ("idle-tach-hub", {"true": 850, "shown": 1275}, "It goes by 4 cylinders"),
        ):
            with self.subTest(words):
                self.assertIn(words, judge(job, step(job, key), seen).rivals[0].cause)

    def test_before_anything_is_seen_the_shops_odds_stand(self) -> None:
        shares = {r.cause: r.share for r in rivals(whole(), step(whole(), "brake-brake-pace"), {})}
        hot, dead = (next(s for c, s in shares.items() if w in c) for w in ("hot side", "blown"))
        self.assertAlmostEqual(hot / dead, figure("cause, hot-side") / figure("cause, dead"))
        self.assertIn("None of these", shares)
        old = [{"id": "cause, hot side or open", "value": 9.0}]  # as earlier jobs called it
        own = {r.cause: r.share for r in rivals(put(whole(), "house.figures", old),
               step(whole(), "brake-brake-pace"), {})}  # fmt: skip
        self.assertGreater(max(own.values()), 0.8)

    def test_what_nothing_explains_is_none_of_these(self) -> None:
        job = whole()
        for key, seen in (
            ("brake-brake-pace", {"rest": 3.0, "pressed": 4.0}),
            ("power-BAT", {"spark.BATT": 24.0}),
            ("idle-tach-hub", {"true": 850, "shown": 1011}),
            ("sensor-temp-hub", {"true1": 20, "shown1": 90, "true2": 88, "shown2": 5}),
        ):
            with self.subTest(key):
                said = judge(job, step(job, key), seen)
                self.assertFalse(said.passed)
                self.assertEqual(said.rivals[0].cause, "None of these")

    @given(st.floats(-1, 15), st.floats(-1, 15))
    def test_shares_are_a_distribution(self, rest: float, pressed: float) -> None:
        job = whole()
        got = rivals(job, step(job, "brake-brake-pace"), {"rest": rest, "pressed": pressed})
        self.assertAlmostEqual(sum(r.share for r in got), 1, places=6)
        self.assertEqual(list(got), sorted(got, key=lambda r: -r.share))


class Standing(unittest.TestCase):
    def test_the_gate_opens_only_on_the_proof(self) -> None:
        job = whole()
        self.assertIn("has not been tried", road_gate(job))
        self.assertIn("failed", road_gate(prove(job, "brake-brake-pace", "fail")))
        self.assertIn("left out", road_gate(prove(job, "brake-brake-pace", "not reached")))
        open_ = prove(job, "brake-brake-pace")
        self.assertEqual(road_gate(open_), "")
        self.assertEqual(at(open_).stages[5].words, "may begin")

    def test_no_brake_chain_is_no_way_round_the_gate(self) -> None:
        bare = apply(prove(whole(), "brake-brake-pace"), Remove(path="chains.brake-pace"))
        self.assertIn("nothing is joined to", road_gate(bare))
        self.assertEqual(at(bare).stages[5].mark, "locked")

    def test_what_is_expected_is_what_is_judged(self) -> None:
        for field in step(whole(), "brake-brake-pace").fields:
            low, high = field.expect.removesuffix(" V").split(" to ")
            self.assertAlmostEqual(float(low), field.low, delta=0.051)
            self.assertAlmostEqual(float(high), field.high, delta=0.051)

    def test_changing_what_it_rests_on_makes_it_stale(self) -> None:
        job = prove(whole(), "brake-brake-pace")
        for path, value in (
            ("vehicle.lamps", "filament"),
            ("chains.brake-pace.hops", []),
            ("wires.W3.area_mm2", 1.5),
        ):
            changed = put(job, path, value)
            with self.subTest(path):
                self.assertEqual(standing(changed, step(changed, "brake-brake-pace")), "stale")
                self.assertIn("changed", road_gate(changed))
                self.assertTrue(any(f.id.startswith("proof-brake") for f in at(changed).findings))
        untouched = put(job, "vehicle.tyre", "195/60 R15")
        self.assertEqual(standing(untouched, step(untouched, "brake-brake-pace")), "passed")

    def test_a_tyre_makes_the_roll_stale(self) -> None:
        job = prove(whole(), "roll-speed-pace")
        changed = put(job, "vehicle.tyre", "195/60 R15")
        self.assertEqual(standing(changed, step(changed, "roll-speed-pace")), "stale")

    def test_the_newest_proof_counts(self) -> None:
        job = prove(prove(whole(), "brake-brake-pace", "fail"), "brake-brake-pace")
        proof = latest(job, step(job, "brake-brake-pace"))
        assert proof is not None
        self.assertEqual((proof.verdict, changed_since(job, proof)), ("pass", ()))


class Bounds(unittest.TestCase):
    def test_a_trial_on_the_car_narrows_the_launch(self) -> None:
        job = put(whole(), "vehicle.gearbox", "automatic")
        device = next(d for d in job.devices if d.id == "lamp")
        control = device.sheet.control("LAUNCH")
        assert control is not None
        one = step(job, "bound-lamp-LAUNCH")
        edit = record(job, one, "pass", {"held": 1800, "pushed": 2000}, "seen", "today")
        tried = apply(job, edit)
        self.assertAlmostEqual(tried.vehicle.held_rps or 0, 30.0)
        want = wanted(tried, device, control)
        self.assertAlmostEqual(want.target, 1800)
        self.assertIn("held in a trial", str(want.reason))
        self.assertEqual(provenance(tried, "vehicle.held_rps"), "measured")
        only = wanted(put(job, "vehicle.pushed_rps", 2000 / 60), device, control)
        self.assertLess(only.target, 2000)
        manual = [s.kind for s in steps(whole())]
        self.assertNotIn("bound", manual)  # no converter, nothing creeps


class Holds(unittest.TestCase):
    """What holds high idle and rev-match back is tried both ways before anything moves."""

    def test_all_that_can_hold_back_has_a_lever(self) -> None:
        self.assertEqual(set(LEVERS), set(HOLDS))

    def test_levels_are_those_that_the_pin_must_see(self) -> None:
        """By hand: 12.6 V, low to 30 % = 3.78 V, high from 70 % = 8.82 V to 12.9 V."""
        low, high = (-0.05, 3.78), (8.82, 12.9)
        van, coupe = (load(DEMO / f"{n}.zjob") for n in ("0413", "0409"))
        for job, key, off, on in (
            (van, "hold-park", high, low),  # closes to ground in park
            (van, "hold-brake-idle", low, high),  # the lamp feed closes to the supply
            (coupe, "hold-arming", high, low),
        ):
            with self.subTest(key):
                one = step(job, key)
                self.assertTrue(one.gate)
                for field, (least, most) in zip(one.fields, (off, on), strict=True):
                    self.assertAlmostEqual(field.low, least)
                    self.assertAlmostEqual(field.high, most)
        truck = step(put(van, "vehicle.system_v", 24), "hold-park")
        self.assertAlmostEqual(truck.fields[0].low, 0.7 * 25.2)
        self.assertEqual(step(van, "hold-park").blocked, "")

    def test_a_contact_may_be_felt_as_ohms(self) -> None:
        """By hand: 3.78 V of 12.6 V over 4.7 kΩ is a path of 3.78 · 4700 / 8.82 = 2 014 Ω."""
        van = load(DEMO / "0413.zjob")
        off, on = step(van, "hold-park").fields
        self.assertAlmostEqual(on.ohms[1], 2014.3, places=1)
        self.assertEqual(off.ohms[1], math.inf)
        for text, volts in (
            ("closed", 0.0),
            ("OL", 12.6),
            ("2k", None),
            ("1.2 kΩ", 12.6 * 1200 / 5900),
            ("120ohm", 12.6 * 120 / 4820),
            ("12.4", None),
        ):
            with self.subTest(text):
                got = over_path(on, text)
                self.assertEqual(got is None, volts is None)
                self.assertAlmostEqual(got or 0.0, volts or 0.0)
        rest = step(van, "brake-brake-pace").fields[0]  # its sheet wants 50 Ω, and not one more
        for text, passes in (("49ohm", True), ("52ohm", False), ("open", False)):
            self.assertEqual((over_path(rest, text) or 0.0) <= rest.high, passes, text)
        lamp = step(van, "hold-brake-idle").fields[0]  # its contact leads to the supply: volts
        self.assertIsNone(over_path(lamp, "open"))

    def test_a_contact_that_rests_the_wrong_way_cannot_pass(self) -> None:
        coupe = load(DEMO / "0409.zjob")
        self.assertIn("takes “pedal down” for “pedal up”", step(coupe, "hold-clutch").blocked)
        self.assertIn("Clutch seen, Rev-match module” is blocked", road_gate(coupe))
        self.assertEqual(at(coupe).stages[5].mark, "locked")

    def test_every_gate_opens_the_road_and_a_changed_wire_shuts_it(self) -> None:
        van = settle(load(DEMO / "0413.zjob"))[0]
        for one in gates(van):
            self.assertNotEqual(road_gate(van), "")
            self.assertEqual(bool(engine_gate(van)), not one.running, one.id)
            van = prove(van, one.id)
        self.assertEqual(road_gate(van), "")
        turned = put(van, "sources.handle.spec.rests", "closed")
        self.assertIn("Park brake seen, High-idle coder” was proven before", road_gate(turned))
        bare = apply(van, Remove(path="chains.park"))
        self.assertIn("nothing is joined to High-idle coder PARK", road_gate(bare))
        self.assertEqual(opens_at(bare), "source")
        floating = apply(van, Remove(path="wires.W15"))  # the coder's ground
        self.assertIn("no wire leads High-idle coder GROUND to its supply", road_gate(floating))
        astray = put(van, "wires.W15.b", {"place": "gauge", "pin": "BOOST"})
        self.assertEqual(opens_at(astray), "wire")  # a wire there is, and no ground
        self.assertEqual(opens_at(floating), "wire")

    def test_what_was_seen_names_its_cause(self) -> None:
        van = load(DEMO / "0413.zjob")
        one = step(van, "hold-park")
        for off, on, passed, cause in (
            (12.5, 0.1, True, ""),
            (0.1, 12.5, False, "the other way"),
            (12.5, 12.5, False, "Bridged to a supply"),
            (0.0, 0.0, False, "Bridged to a ground"),
        ):
            with self.subTest(off=off, on=on):
                said = judge(van, one, {"off": off, "on": on})
                self.assertEqual(said.passed, passed)
                self.assertIn(cause, said.rivals[0].cause)
                self.assertAlmostEqual(sum(r.share for r in said.rivals), 1)


class Counted(unittest.TestCase):
    def test_flashes_of_a_divided_signal(self) -> None:
        # 24.054 a metre, divided by 7, four to a flash: 0.859 a metre; 17.2 in 20 m
        job = whole()
        step = next(s for s in steps(job) if s.id == "roll-speed-pace")
        self.assertIn("17 or 18 in", expected_flashes(job, step, 20.0))

    def test_only_what_found_the_bounds_writes_them_down(self) -> None:
        job = whole()
        volts = next(s for s in steps(job) if s.kind == "volts")
        for kind, verdict, bounds in (
            ("bound", "pass", sorted(BOUNDS.values())),
            ("bound", "fail", []),
            ("volts", "pass", []),
        ):
            with self.subTest(kind, verdict=verdict):
                step = msgspec.structs.replace(volts, kind=kind)
                seen = dict.fromkeys((*BOUNDS, volts.fields[0].name), 50.0)
                made = record(job, step, verdict, seen, "", "today", rests=()).edits
                paths = [e.path for e in made if isinstance(e, Put)]
                self.assertEqual(sorted({*paths} & {*BOUNDS.values()}), bounds)
                self.assertTrue(isinstance(made[0], Add))

    def test_a_trial_says_what_the_device_does(self) -> None:
        told = {s.id: s.fields[0].label for s in steps(whole()) if s.id.startswith("trial-")}
        self.assertEqual(
            told,
            {
                "trial-spark-LAUNCH": "It holds at",
                "trial-spark-LIMIT": "It cuts at",
                "trial-lamp-SHIFT": "It lights at",
                "trial-lamp-LAUNCH": "It lights at",
            },
        )

    def test_a_kept_count_is_no_less_and_a_drive_more(self) -> None:
        had = Retrofit(id="r", coding="not needed", keeps="distance", car_m=123_456_000.0)
        (step,) = [s for s in steps(Job(retrofits=(had,))) if s.fields[0].name == "km"]
        field = step.fields[0]
        self.assertEqual((field.low, field.high), (123_455.0, 123_486.0))
        self.assertIn("123486000", field.expect)  # in metres, until it is written


if __name__ == "__main__":
    unittest.main()
