"""Misreadings: single causes ranked, none of these, shares, tests that part the rivals."""

from __future__ import annotations

import math
import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from tests.demo import demo, put, whole
from tools.bench.diagnose import calibration, case_lines, false_alarms, order_ratio, outside, score
from zombrel.calc.misread import misread, next_test
from zombrel.calc.registry import CALCS
from zombrel.diagnose.misread import cases, of_job, probes, senses
from zombrel.diagnose.misread.complaints import entrances
from zombrel.diagnose.misread.lines import Contact, contact_meter
from zombrel.diagnose.misread.outage import outage
from zombrel.diagnose.misread.pulsed import Pulsed
from zombrel.diagnose.misread.together import Seen, common
from zombrel.diagnose.misread.weigh import Pair, away, spread
from zombrel.job.model import HouseFigure, Job
from zombrel.job.problem import Problem
from zombrel.job.sheet import InputSheet
from zombrel.job.source import ThermocoupleK

RING = "set_pulses_per_km=3436 source_pulses_per_km=24054 divider=7"
SIX = "set_cylinders=6 cylinders=6"
NTC = "points_ohm=0:5896,20:2500,40:1180,60:600,80:325,100:187 pull_up_ohm=1000"
TABLE: tuple[tuple[str, str, str, str], ...] = (
    # chain, points, facts, what leads
    ("speed", "50:350", RING, "divider-missing"),
    ("speed", "50:80.5", RING, "unit-mix"),
    ("speed", "50:57,100:114.2", RING, "pulses-setting"),
    ("speed", "50:7.1", RING, "divider-doubled"),
    ("speed", "50:0", RING, "dead"),
    ("speed", "0:22,50:72", RING, "noise-counts"),
    ("speed", "50:41,80:52,100:93", RING, "drop-outs"),
    ("speed", "50:350,100:20", RING, "none-of-these"),
    ("speed", "50:563.3,100:1126.5", RING, "divider-missing + unit-mix"),
    (
        "tach",
        "850:1133,2000:1333,3200:2133",
        "set_cylinders=4 cylinders=4",
        "noise-counts + cylinders-setting",
    ),
    ("speed", "50:70", "set_pulses_per_km=4000 source_pulses_per_km=5600", "pulses-setting"),
    ("tach", "850:1275", SIX, "cylinders-setting"),
    ("tach", "850:1700", "set_cylinders=4 cylinders=8", "cylinders-setting"),
    ("tach", "850:2550,3000:3000", SIX, "noise-counts"),
    ("tach", "850:0", SIX, "dead"),
    ("tach", "850:1011", SIX, "none-of-these"),  # idle times 1.19 is no setting
    ("tach", "850:1011", "set_cylinders=4 cylinders=4", "none-of-these"),
    ("temperature", "20:68,80:176", NTC, "unit-mix"),
    ("temperature", "20:2.5,88:63", NTC, "double-pull-up"),
    ("temperature", "60:10,88:140", NTC, "none-of-these"),
    ("blend", "27:67,40:80", "", "ground-offset"),
    ("blend", "27:67", "", "ground-offset"),
    ("blend", "20:80,40:60", "", "reversed-pair"),
    ("pressure", "0:101,200:301", "low=0 high=1000", "wrong-curve"),
    ("pressure", "200:29,400:58", "low=0 high=1000", "unit-mix"),
    ("level", "10:10.2,40:40.1", "points_ohm=0:84,55:7 pull_up_ohm=220", "sound"),
    ("brake", "0:7,1:12.6", "lamps=led", "open-ground"),
    ("brake", "0:12.6,1:12.6", "", "hot-side"),
    ("brake", "0:0.05,1:6", "", "dirty-contact"),
    ("brake", "0:12.6,1:0", "", "swapped-pair"),
    ("brake", "0:3.0,1:4.0", "", "none-of-these"),
    ("supply", "12.6:24", "", "none-of-these"),
    ("supply", "12.6:10.1,12.6:10.1,12.6:10.1", "", "ground-offset"),
    ("supply", "12.6:0.02,12.6:12.5", "", "dead"),
)


def asked(**given: str) -> dict[str, Any]:
    """``calc misread`` with its defaults."""
    calc = next(c for c in CALCS.values() if c.name == "misread")
    words = dict(part.split("=") for part in given.pop("facts", "").split())
    values = {p.name: given.get(p.name, words.get(p.name, p.default)) for p in calc.params}
    for p in calc.params:
        if p.kind == "number" and isinstance(values[p.name], str):
            values[p.name] = float(values[p.name])
    return misread(**values)


def leads(found: dict[str, Any]) -> str:
    """The cause that leads, or that nothing is the matter."""
    first = found["ranked"][0]
    return "sound" if found["sound"] > first["probability"] else str(first["cause"])


class Causes(unittest.TestCase):
    def test_what_leads(self) -> None:
        for chain, points, facts, cause in TABLE:
            with self.subTest(chain=chain, points=points, facts=facts):
                found = asked(chain=chain, points=points, facts=facts)
                self.assertEqual(leads(found), cause)
                total = found["sound"] + sum(r["probability"] for r in found["ranked"])
                self.assertAlmostEqual(total, 1)
                self.assertIn("none-of-these", [r["cause"] for r in found["ranked"]])

    def test_the_unknown_is_told(self) -> None:
        for chain, points, facts, value, within in (
            ("blend", "27:67,40:80", "", 1.6, 0.06),  # 40 points of 100 over 4 V
            ("speed", "50:350", RING, 7, 1e-9),
            ("speed", "50:57,100:114", RING, 1.14, 0.01),
            ("tach", "850:1275", SIX, 4, 1e-9),
            ("brake", "0:0.05,1:6", "", 6 / 12.6, 0.02),
        ):
            with self.subTest(points=points):
                first = asked(chain=chain, points=points, facts=facts)["ranked"][0]
                self.assertAlmostEqual(first["parameter"], value, delta=within)

    def test_the_same_prediction_has_the_same_share(self) -> None:
        for chain, points, facts, pair in (
            ("supply", "12.6:12.5,12.6:9.8", "", ("supply-low", "dirty-contact")),
            ("temperature", "40:100,88:100", NTC, ("dead", "missing-pull-up")),
            ("pressure", "200:1000", "", ("open-ground", "swapped-pair")),
        ):
            with self.subTest(points=points):
                found = asked(chain=chain, points=points, facts=facts)
                by = {r["cause"]: r["probability"] for r in found["ranked"]}
                self.assertGreater(by[pair[0]], 0.1)
                self.assertAlmostEqual(by[pair[0]], by[pair[1]], places=6)
                self.assertIsNotNone(found["next_test"])  # what parts them is said

    @settings(max_examples=60)
    @given(st.floats(5, 200), st.floats(0, 400), st.floats(0.2, 5))
    def test_shares_are_shares(self, true: float, shown: float, ratio: float) -> None:
        case = cases.speed_case(3436, 3436 * ratio)
        found = cases.answer(case, [Pair(true, shown)])
        self.assertTrue(all(0 <= r.share <= 1 for r in found.ranked))
        self.assertAlmostEqual(found.sound + sum(r.share for r in found.ranked), 1)

    def test_the_shops_own_record_counts(self) -> None:
        rare = (HouseFigure(id="cause, hot-side", value=0.001),)
        line = cases.lines.Brake(12.6, False, False, 0.05)
        pairs = [Pair(0, 12.5), Pair(1, 12.6)]
        usual, own = (cases.answer(cases.brake_case(line, h), pairs) for h in ((), rare))
        self.assertEqual(usual.ranked[0].cause, "hot-side")
        self.assertEqual(own.ranked[0].cause, "open-ground")

    def test_bad_input_is_named(self) -> None:
        for given_, words in (
            ({"chain": "speed", "points": "50:80"}, "set_pulses_per_km"),
            ({"chain": "blend", "points": "27"}, "not true:shown"),
            ({"chain": "blend", "points": "27:nan"}, "not true:shown"),
            ({"chain": "temperature", "points": "20:30"}, "points_ohm"),
            ({"chain": "level", "points": "20:30", "facts": "points_ohm=0:-1,5:9"}, "below zero"),
            ({"points": "20:30"}, "chain and points"),
            ({"job": "demo"}, "readings"),
            ({"job": "demo", "readings": "nobody:1:2"}, "no signal “nobody”"),
            ({"chain": "blend", "points": "27:67", "answers": "pins:blue"}, "exchanged"),
        ):
            with self.subTest(given_), self.assertRaises(Problem) as caught:
                asked(**given_)  # type: ignore[arg-type]
            self.assertIn(words, str(caught.exception))


class Tests(unittest.TestCase):
    def test_an_answer_moves_the_shares(self) -> None:
        facts = {"chain": "tach", "points": "850:425", "facts": "set_cylinders=4 cylinders=4"}
        before = asked(**facts)
        self.assertEqual(before["next_test"]["test"], "setting")
        after = asked(**facts, answers="setting:as noted")
        lost = {r["cause"]: r["probability"] for r in after["ranked"]}
        self.assertLess(lost["cylinders-setting"], 0.1)
        self.assertNotEqual(after["next_test"]["test"], "setting")
        sure = asked(**facts, answers="setting:otherwise")
        self.assertGreater(sure["ranked"][0]["probability"], probes.SURE)
        self.assertIsNone(sure["next_test"])

    def test_gain_is_mutual_information(self) -> None:
        # two causes as likely, a test that tells them apart but for its slips:
        # 1 − H(slip) bits, by the binary entropy
        probe = probes.Probe("x", "x", 1, ("a", "b"), {"dead": 1})
        slip = probes.SLIP
        entropy = -slip * math.log2(slip) - (1 - slip) * math.log2(1 - slip)
        shares = {"dead": 0.5, "unit-mix": 0.5}
        self.assertAlmostEqual(probes.gain(shares, probe), 1 - entropy)  # type: ignore[arg-type]
        useless = probes.Probe("y", "y", 1, ("a", "b"), {})
        self.assertAlmostEqual(probes.gain(shares, useless), 0)  # type: ignore[arg-type]

    def test_hazard_is_not_first(self) -> None:
        shares = {"noise-counts": 0.5, "dead": 0.5}
        calm = probes.Probe("calm", "calm", 3.0, ("a", "b"), {"dead": 1})
        wild = calm.but(key="wild", minutes=1.0, hazard=1)
        found = probes.best(shares, (wild, calm))  # type: ignore[arg-type]
        assert found is not None
        self.assertEqual(found.probe.key, "calm")

    def test_trials(self) -> None:
        """A tenth of the bench: enough to see that it stands."""
        got = score(count=120)
        self.assertGreaterEqual(got.first, 0.85)
        self.assertGreaterEqual(got.in_three, 0.97)
        self.assertLessEqual(false_alarms(count=150), 0.03)
        self.assertGreaterEqual(outside(count=60), 0.8)
        self.assertLessEqual(calibration(count=200), 0.15)
        self.assertLessEqual(order_ratio(count=8), 1.3)
        self.assertGreater(len(case_lines()), 90)


BLEND = Pulsed("hz", lambda x: 50 + x, lambda hz: hz - 50, 0, 100)
"""The usual square wave of a blend sender: 50 Hz without, 150 Hz all of it."""
ON_TIME = Pulsed("duty", lambda x: 0.1 + 0.008 * x, lambda s: (s - 0.1) / 0.008, 0, 100)
JUNCTION = Pulsed("thermocouple", lambda c: (c - 25) * 0.041, lambda mv: 25 + mv / 0.041, 0, 1200)
"""Near 41 µV/K (IEC 60584-1), the device at 25 °C."""
BEATS: tuple[tuple[Pulsed, tuple[tuple[float, float], ...], str, float], ...] = (
    (BLEND, ((10, 10), (85, 84)), "sound", 1),
    (BLEND, ((10, 70), (40, 100)), "noise-counts", 2),  # 60 Hz twice is 120 Hz
    (BLEND, ((10, 30), (40, 60), (60, 80)), "noise-counts", 20),  # 20 Hz more, whatever it gives
    (BLEND, ((30, 14), (80, 54)), "wrong-curve", 0.8),  # 80 and 130 Hz, taken for 64 and 104
    (BLEND, ((20, 50), (60, 30)), "none-of-these", 0),
    (ON_TIME, ((20, 80), (70, 30)), "reversed-pair", 0),
    (ON_TIME, ((20, 100), (70, 100)), "dead", 1),
    (JUNCTION, ((25, 25), (600, 601)), "sound", 1),
    (JUNCTION, ((100, 130), (600, 632)), "ground-offset", 1.25),  # 31 K
    (JUNCTION, ((300, 25), (700, 25)), "dead", 0),
    (JUNCTION, ((300, 140), (700, 308)), "swapped-pair", 0.42),
    (JUNCTION, ((25, 1370), (600, 1370)), "open-ground", 1370),
)


class Beats(unittest.TestCase):
    def test_what_leads(self) -> None:
        for line, points, cause, unknown in BEATS:
            with self.subTest(kind=line.kind, points=points):
                found = cases.answer(cases.pulsed_case(line), [Pair(*p) for p in points])
                if cause == "sound":
                    self.assertGreater(found.sound, 0.8)
                    continue
                first = found.ranked[0]
                self.assertEqual(first.cause, cause)
                self.assertAlmostEqual(first.unknown, unknown, delta=0.1 * abs(unknown) + 0.01)

    def test_a_scope_parts_what_is_still_from_what_is_added(self) -> None:
        case = cases.pulsed_case(BLEND)
        still = cases.answer(case, [Pair(10, 0), Pair(85, 0)])
        same = {r.cause: r.share for r in still.ranked}
        self.assertAlmostEqual(same["dead"], same["missing-pull-up"])
        self.assertIsNotNone(still.next)
        said = cases.answer(case, [Pair(10, 0), Pair(85, 0)], {"ground-ohms": 1})
        self.assertEqual(said.ranked[0].cause, "open-ground")


class Outages(unittest.TestCase):
    def test_what_the_dead_have_in_common(self) -> None:
        every = ("pace", "lamp", "hub", "spark", "blend")
        for dead, lead in (
            (("pace", "lamp"), "feed:F7"),
            (every, "battery"),
            (("spark",), "device:spark"),
        ):
            with self.subTest(dead):
                alive = [d for d in every if d not in dead]
                found = outage(demo(), dead, alive)
                order = [w.suspect.key for w in found.ranked]
                self.assertAlmostEqual(sum(w.share for w in found.ranked), 1)
                self.assertIn(lead, order[:4])
                if lead != "device:spark":  # one alone: its feed, its ground or itself
                    self.assertEqual(order[0], lead)

    def test_a_test_clears_or_blames(self) -> None:
        found = outage(demo(), ["hub"], ["pace", "spark"])
        assert found.next is not None
        good = outage(demo(), ["hub"], ["pace", "spark"], {found.next.key: True})
        bad = outage(demo(), ["hub"], ["pace", "spark"], {found.next.key: False})
        shares = [{w.suspect.key: w.share for w in o.ranked} for o in (good, found, bad)]
        told = [s[found.next.key] for s in shares]
        self.assertEqual(told, sorted(told))
        with self.assertRaisesRegex(Problem, "no fed device"):
            outage(demo(), ["nobody"])


class Together(unittest.TestCase):
    """Several signals of one device at once."""

    def lines(self, cause: str, unknown: float, every: bool = True) -> list[Seen]:
        """Readings of the hub's sensed signals under one cause, of all of them or of the first."""
        found = []
        for key in ("temp-hub", "oil-hub", "fuel-hub"):
            case = of_job.case_of(whole(), key)
            sick = cause if every or not found else "sound"
            form = next(r for r in case.rivals if r.cause == sick)
            at = [case.low + share * (case.high - case.low) for share in (0.25, 0.5, 0.75)]
            found.append(Seen(case, tuple(Pair(t, form.shows(unknown, t)) for t in at)))
        return found

    def test_what_they_share(self) -> None:
        for cause, unknown in (("ground-offset", 0.4), ("supply-low", 0.85)):
            with self.subTest(cause):
                lines = self.lines(cause, unknown)
                shared = common(lines)
                self.assertGreater(shared[cause], 0.95)
                alone = cases.answer(lines[0].case, lines[0].pairs[:1])
                beside = cases.answer(lines[0].case, lines[0].pairs[:1], common=shared)
                self.assertEqual(beside.ranked[0].cause, cause)
                self.assertLess(alone.ranked[0].share, beside.ranked[0].share)

    def test_what_they_do_not_share(self) -> None:
        self.assertLess(sum(common(self.lines("ground-offset", 0.4, every=False)).values()), 1e-6)
        self.assertLess(sum(common(self.lines("sound", 0.0)).values()), 0.01)
        self.assertEqual(common(self.lines("ground-offset", 0.4)[:1]), {})  # one shares nothing

    def test_by_name(self) -> None:
        readings = "temp-hub:20:30,temp-hub:88:92,oil-hub:100:185,oil-hub:400:475"
        said = misread(job="demo", readings=readings, chain=None, points=None, answers=None)
        self.assertEqual(set(said["shared"]), {"hub"})
        both = next(r for r in said["ranked"] if "+" in r["cause"])
        self.assertEqual(len(both["parameter"]), 2)


class OfJobs(unittest.TestCase):
    def test_the_demo_s_own_chains(self) -> None:
        for readings, cause in (
            ("blend-ecu:27:67,blend-ecu:40:80", "ground-offset"),
            ("tach-hub:850:1275", "cylinders-setting"),
            ("temp-hub:20:20.4,temp-hub:88:88.6", "sound"),
            ("brake-pace:0:7,brake-pace:1:12.6", "open-ground"),
        ):
            with self.subTest(readings):
                self.assertEqual(leads(asked(job="demo", readings=readings)), cause)
        found = next_test("demo", "brake-pace:0:12.6,brake-pace:1:12.6", None)
        self.assertEqual(found["next_test"]["test"], "lamp-fuse")

    def test_a_wrong_setting_is_its_own_cause(self) -> None:
        job = put(whole(), "devices.hub.settings.TACH.at", "4")
        case = of_job.case_of(job, "tach-hub")
        found = cases.answer(case, [Pair(850, 1275)])
        self.assertEqual(found.ranked[0].cause, "cylinders-setting")
        self.assertGreater(found.ranked[0].share, 0.95)

    def test_a_junction_of_a_job(self) -> None:
        """By the standard's table; what lies beyond it is still answered."""
        job = demo()
        chain = next(c for c in job.chains if c.id == "temp-hub")
        pin = InputSheet(pin=chain.pin, quantity="exhaust", takes="thermocouple")
        hub = next(d for d in job.devices if d.id == chain.device)
        inputs = tuple(pin if i.pin == pin.pin else i for i in hub.sheet.inputs)
        fitted = replace(hub, sheet=replace(hub.sheet, inputs=inputs))
        hot = replace(
            job,
            chains=(replace(chain, quantity="exhaust"),),
            sources=tuple(
                replace(s, quantity="exhaust", spec=ThermocoupleK()) if s.id == chain.source else s
                for s in job.sources
            ),
            devices=tuple(fitted if d is hub else d for d in job.devices),
        )
        case = of_job.case_of(hot, "temp-hub")
        self.assertEqual(case.family, "junction")
        for true, shown, cause in (
            (600, 20, "dead"),
            (600, 1300, "open-ground"),
            (1500, 0, "dead"),
        ):
            found = cases.answer(
                case, [Pair(200, 20 if shown < 1000 else shown), Pair(true, shown)]
            )
            self.assertIn(cause, [r.cause for r in found.ranked[:3]])
        self.assertGreater(cases.answer(case, [Pair(200, 201), Pair(600, 597)]).sound, 0.8)

    def test_exchanged_wires_of_two_signals(self) -> None:
        reads = [of_job.Read("speed-hub", Pair(50, 30)), of_job.Read("speed-pace", Pair(30, 50))]
        self.assertEqual(of_job.exchanged(demo(), reads), ("speed-hub", "speed-pace"))
        self.assertIsNone(of_job.exchanged(demo(), [*reads[:1], reads[1].but(pair=Pair(30, 30))]))

    def test_complaints_are_of_the_job(self) -> None:
        keys = {e.complaint.key for e in entrances(demo())}
        self.assertLessEqual({"no-speed", "pegged", "cancel-unsure", "resets", "wrong-revs"}, keys)
        self.assertNotIn("idle-up", keys)  # nothing raises the idle here
        self.assertEqual(entrances(Job()), ())
        fans = next(e for e in entrances(demo()) if e.complaint.key == "fans")
        self.assertIn("off", {s.id for s in fans.steps})
        case = of_job.case_of(whole(), "blend-ecu")
        odds = next(e for e in entrances(demo()) if e.complaint.key == "loaded").complaint.odds
        bare, said = (cases.answer(case, [Pair(27, 67)], said=s) for s in ((), (odds,)))
        self.assertGreater(said.ranked[0].share, bare.ranked[0].share)

    def test_a_thermistor_by_its_pairs(self) -> None:
        line = senses.by_pairs(((0, 5896), (20, 2500), (100, 187)), 1000, 5, kelvin=True)
        self.assertAlmostEqual(line.gives(20), 2500)
        for true in (3.0, 20.0, 77.0):  # what it gives is read as what it was
            ohm = line.gives(true)
            self.assertAlmostEqual(line.reads(5 * ohm / (ohm + 1000)), true, places=6)
        self.assertAlmostEqual(line.reads(5.0), 0)  # open: the cold end
        self.assertAlmostEqual(sum(w for _, w in away(spread(0.1, 10), 0.2)), 1)


class Meter(unittest.TestCase):
    def test_a_meter_on_a_contact_tells_its_two_levels_apart(self) -> None:
        # a twelfth of what lies between them, and no less than 0.3 V
        for off, on, noise in ((0.0, 12.0, 1.0), (12.0, 0.0, 1.0), (5.0, 7.0, 0.3)):
            self.assertAlmostEqual(contact_meter(Contact(off, on)).least, noise)


if __name__ == "__main__":
    unittest.main()
