"""What controls should stand at, against sums worked by hand."""

from __future__ import annotations

import math
import unittest
from typing import Any

from tests.demo import demo, put
from zombrel.behaviour import tables
from zombrel.behaviour.gearing import gears, held_launch
from zombrel.behaviour.sensitivity import in_words, movers
from zombrel.behaviour.wanted import wanted
from zombrel.calibrate.settings.setting import moves
from zombrel.catalog import DEMO
from zombrel.job.edits import Add, apply
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.sheet import TABLE, Buttons, Curves, Menu, Plug, Presses, Rotary, Switches
from zombrel.store.zjob import load
from zombrel.units import Units, words

CAMPER = load(DEMO / "0413.zjob")
RACER = load(DEMO / "0409.zjob")


def want(job: Job, device: str, pin: str) -> str:
    owner = next(d for d in job.devices if d.id == device)
    control = owner.sheet.control(pin)
    assert control is not None
    return wanted(job, owner, control).at


def wish(job: Job, key: str, value: float) -> Job:
    return apply(job, Add(path="wishes", value={"id": key, "value": value}))


STEPS = "devices.pace.sheet.controls.TAKE-UP.setting.positions"
GAIN = "devices.pace.sheet.controls.SENSITIVITY.setting.positions"
SEVEN = [[name, value] for name, value in zip("abcdefg", range(3, 10), strict=True)]
"""A dial of seven steps that begins at 3."""


STANDS_FOR = [["00", "sine"], ["01", "square"], ["10", "manual"], ["11", "open"]]


def choose(job: Job, device: str, means: str, of: str) -> Job:
    """The job with a choice of switches on a device."""
    rows = [[name, i] for i, (name, _) in enumerate(STANDS_FOR)]
    setting = {"type": "lookup", "unit": means, "rows": rows}
    control = {"pin": "KIND", "label": "Kind", "means": means, "of": of, "setting": setting}
    path = f"devices.{device}.sheet.controls"
    return apply(job, Add(path=path, value={**control, "stands_for": STANDS_FOR}))


class Controls(unittest.TestCase):
    def test_each_control_of_the_demo_jobs(self) -> None:
        for job, device, pin, at in (
            (demo(), "pace", "TAKE-UP", "1"),  # 143 kW on 1290 kg are 111 W/kg
            (demo(), "pace", "SENSITIVITY", "1"),
            (demo(), "spark", "LIMIT", "68"),
            (demo(), "spark", "LAUNCH", "42"),  # as wished
            (demo(), "lamp", "SHIFT", "6200"),
            (demo(), "hub", "TEMP HIGH", "105"),
            (demo(), "hub", "TEMP BACK", "3"),  # 2 % of 120 K is 2.4, the next degree above
            (demo(), "hub", "TEMP WAIT", "5"),
            (demo(), "hub", "OIL LOW", "0.8"),
            (demo(), "hub", "OIL BACK", "0.2"),  # 2 % of 7 bar is 0.14
            (demo(), "hub", "RESERVE", "7"),  # 13 % of 55 l
            (CAMPER, "idle", "IDLE", "8200"),
            (CAMPER, "pump", "SENSE", "B"),
            (CAMPER, "pump", "LEAST", "2"),
            (CAMPER, "gauge", "HIGH", "1.2"),
            (RACER, "match", "GAP", "4"),
            (put(demo(), "vehicle.redline_rps", 6549 / 60), "spark", "LIMIT", "65"),
            (put(demo(), "vehicle.mass_kg", 3000.0), "pace", "TAKE-UP", "3"),
            (put(put(demo(), STEPS, SEVEN), "vehicle.mass_kg", 3000.0), "pace", "TAKE-UP", "e"),
            (put(demo(), GAIN, SEVEN), "pace", "SENSITIVITY", "a"),
            (wish(demo(), "hub/TEMP HIGH", 273.15 + 98), "hub", "TEMP HIGH", "98"),
            (wish(demo(), "spark/LIMIT", 9000 / 60), "spark", "LIMIT", "68"),  # redline stands
        ):
            with self.subTest(f"{job.number} {device} {pin}"):
                self.assertEqual(want(job, device, pin), at)

    def test_a_choice_that_is_no_number_follows_chain_and_vehicle(self) -> None:
        for job, device, means, of, at in (
            (demo(), "pace", "signal", "SPEED", "00"),  # the tone ring
            (CAMPER, "pace", "signal", "SPEED", "01"),  # the cable's generator
            (demo(), "pace", "gearbox", "", "10"),
            (demo(), "lamp", "contact", "CLUTCH", "11"),
        ):
            with self.subTest(f"{job.number} {means}"):
                self.assertEqual(want(choose(job, device, means, of), device, "KIND"), at)
        for job, device, means, of, said in (
            (CAMPER, "pace", "gearbox", "", "no position for automatic; it has sine"),
            (put(demo(), "vehicle.gearbox", None), "pace", "gearbox", "", "gearbox"),
            (demo(), "pace", "contact", "SPEED", "has no contact yet"),
            (demo(), "spark", "signal", "NONE", "has no signal yet"),
        ):
            with self.subTest(said), self.assertRaisesRegex(Problem, said):
                want(choose(job, device, means, of), device, "KIND")

    def test_a_warning_says_whose_figure_it_is(self) -> None:
        for job, formula, wish_words in (
            (demo(), "usual figure of the trade", "none"),
            (wish(demo(), "hub/TEMP HIGH", 273.15 + 98), "as wished", "98"),
        ):
            hub = next(d for d in job.devices if d.id == "hub")
            control = hub.sheet.control("TEMP HIGH")
            assert control is not None
            reason = wanted(job, hub, control).reason
            with self.subTest(formula):
                self.assertEqual(reason.formula.partition(";")[0], formula)
                said = words(next(g.value for g in reason.given if g.name == "wish"), Units())
                self.assertIn(wish_words, said)
                self.assertEqual(bool(reason.assumption), formula.startswith("usual"))

    def test_what_is_missing_is_named(self) -> None:
        for job, device, pin, said in (
            (put(demo(), "vehicle.redline_rps", None), "spark", "LIMIT", "redline"),
            (put(demo(), "vehicle.torque", []), "lamp", "SHIFT", "torque curve"),
            (put(demo(), "vehicle.mass_kg", None), "lamp", "SHIFT", "mass"),
            (put(CAMPER, "wishes", []), "idle", "IDLE", "nobody has said"),
            (put(CAMPER, "wishes", []), "pump", "SENSE", "measure the pump line"),
            (put(demo(), "vehicle.tank_l", None), "hub", "RESERVE", "tank"),
        ):
            with self.assertRaisesRegex(Problem, said):
                want(job, device, pin)

    def test_the_lamps_lead_by_hand(self) -> None:
        """Out of first at the redline: 188 N·m, 3.42 · 3.64 over 1.912 m, 1290 kg, 0.25 s."""
        per_metre = 3.42 * 3.64 / (3.05 * 0.627)
        rise = 188 * per_metre**2 * 2 * math.pi / 1290
        first = gears(demo().vehicle)[0]
        self.assertTrue(first.limited)
        self.assertAlmostEqual(first.rise, rise, places=6)
        self.assertAlmostEqual(first.lamp * 60, 6800 - rise * 60 * 0.25, places=4)
        fourth = gears(demo().vehicle)[3]
        self.assertFalse(fourth.limited)
        # where 1.00 and 0.79 pull alike, checked by the curve itself
        from zombrel.job.pairs import between

        torque = demo().vehicle.torque
        self.assertAlmostEqual(
            between(torque, fourth.at), between(torque, fourth.at * 0.79) * 0.79, places=6
        )

    def test_an_automatic_launches_no_higher_than_its_brakes_hold(self) -> None:
        v = CAMPER.vehicle
        hold = 2400 / (4.10 * 2.74)
        at_stall = 248 - (2150 - 2000) / 600 * 8
        held = 2150 * min(1.0, math.sqrt(hold / (1.9 * at_stall)))
        self.assertAlmostEqual(held_launch(v) * 60, held, delta=0.5)

    def test_why_says_which_input_moves_it_most(self) -> None:
        owner = next(d for d in demo().devices if d.id == "lamp")
        control = owner.sheet.control("SHIFT")
        assert control is not None
        reason = wanted(demo(), owner, control).reason
        self.assertIn("1 % of final drive: −12 rpm".replace("−", "-"), reason.moves)
        found = movers(lambda g: g["a"] ** 2 * g["b"], {"a": 3.0, "b": 2.0})
        self.assertEqual([m.name for m in found], ["a", "b"])
        self.assertAlmostEqual(found[0].change, 18 * (1.01**2 - 1))
        self.assertEqual(in_words((), str), "")


class Order(unittest.TestCase):
    def test_what_to_turn_flip_or_press(self) -> None:
        dials = demo().devices[0].sheet.inputs[0].setting
        knob = Rotary(positions=(("1", 1), ("2", 2), ("3", 3)), unit="step")
        bank = Switches(weights=(1, 2, 4), unit="step")
        menu = Menu(path=("Inputs", "Speed"), low=1, high=9, step=1, unit="rpm")
        press = Presses(enter="hold 3 s", low=1, high=5, step=1, unit="rpm", store="hold again")
        cases: tuple[tuple[Any, str, str, tuple[str, ...]], ...] = (
            (dials, "E7", "E9", ("fine to 9: 2 clicks right",)),
            (dials, "E7", "C1", ("coarse to C: 2 clicks left", "fine to 1: 6 clicks left")),
            (dials, "", "C1", ("coarse to C", "fine to 1")),
            (dials, "C1", "C1", ()),
            (knob, "3", "2", ("turn to 2: 1 click left",)),
            (bank, "101", "011", ("switch 1 off", "switch 2 on")),
            (menu, "3", "7", ("open Inputs › Speed", "set 7", "confirm")),
            (Buttons(low=1, high=9, step=1, unit="rpm"), "7", "4", ("press down 3 times",)),
            (press, "2", "4", ("hold 3 s", "press button up 2 times", "hold again")),
            (press, "4", "2", ("hold 3 s", "press button 3 times, past the top", "hold again")),
            (
                Plug(known=((1, 2), (2, 3), (3, 4)), unit="rpm"),
                "",
                "8200",
                ("pull the plug", "fit 8.2 kΩ", "push it home"),
            ),
            (
                Curves(path=("Sender",), free_points=4),
                "A",
                TABLE,
                ("open Sender", "load the points", "confirm"),
            ),
        )
        for sheet, now, aim, steps in cases:
            self.assertEqual(moves(sheet, now, aim), steps, (now, aim))


class Truth(unittest.TestCase):
    def test_only_one_row_acts_and_it_comes_last(self) -> None:
        self.assertEqual(tables.high_idle().rows[-1].inputs, ("in", "on", "up", "none"))
        self.assertIn(("out", "off", "down", "some"), {r.inputs for r in tables.high_idle().rows})
        for table, word in ((tables.high_idle(), "raised"), (tables.rev_match(), "blip")):
            self.assertEqual(len(table.rows), 16)
            self.assertEqual([r.out for r in table.rows].count(word), 1)
            self.assertEqual(table.rows[-1].out, word)
            self.assertTrue(all(r.fail_safe for r in table.rows[:-1]))

    def test_launch_lamp_and_pedal_tracks(self) -> None:
        rows = {
            r.inputs[0] + " " + r.inputs[1].split(" (")[0]: r.out
            for r in tables.launch(70.0, 75.0).rows
        }
        self.assertEqual(
            [rows[f"down {w}"] for w in ("below", "in the window", "above")],
            ["dark", "lit", "flashing"],
        )
        self.assertEqual(rows["up above"], "shift lamp only")
        self.assertEqual(
            [r.inputs[1] for r in tables.launch(70.0, 75.0).rows[:3]],
            ["below (3780 rpm)", "in the window (4350 rpm)", "above (4950 rpm)"],
        )
        self.assertTrue(tables.two_track(2.0, 1.0))
        self.assertFalse(tables.two_track(2.0, 1.2))


if __name__ == "__main__":
    unittest.main()
