"""Edges that a changed sign or bound would move without a word."""

import unittest

import msgspec

from tests.demo import demo
from zombrel.calc.all import run
from zombrel.calc.sums import work_out
from zombrel.calibrate.settings.setting import options
from zombrel.findings.explain import explain_fact
from zombrel.job import facts
from zombrel.job.model import Evidence
from zombrel.job.problem import Problem
from zombrel.job.sheet import Lookup, Menu
from zombrel.logs.speedlog import parse
from zombrel.units import Units


class Edges(unittest.TestCase):
    def test_a_resistance_in_a_wire_is_its_own_fault(self) -> None:
        def then(fault: str) -> object:
            return run("chain-if", {**ask, "fault": fault})["then"]

        ask = {"job": "demo", "chain": "brake-pace", "wire": "W3"}
        self.assertNotEqual(then("ohms:100000"), then("ohms:0"))
        for wrong in ("ohms:", "ohms:-1", "ohms:much", "burnt"):
            with self.subTest(wrong), self.assertRaisesRegex(Problem, "is no fault"):
                then(wrong)

    def test_walking_pace_gives_pulses_and_standing_none(self) -> None:
        said = work_out("10 Hz at 3 km/h")[0][1]
        self.assertEqual(said.replace("\u00a0", " "), "12 000 per km")
        self.assertEqual(work_out("10 Hz at 0 km/h")[0][0], "no")

    def test_a_crawl_stays_when_the_impossible_goes(self) -> None:
        rows = ["time s,satellite km/h,indicated km/h", *(f"{i},{i / 2},{i / 2}" for i in range(9))]
        log = parse("\n".join([*rows, "9,-5,3"]))
        self.assertEqual(len(log.true), 9)
        self.assertAlmostEqual(log.true[1] * 3.6, 0.5)

    def test_a_setting_of_one_step_and_names_of_switches(self) -> None:
        one = options(Menu(path=("A",), low=5, high=5, step=1, unit="rpm"))
        self.assertEqual(len(one.names), 1)
        bank = options(Lookup(rows=(("010", 1.0), ("100", 2.0)), unit="cylinders"))
        self.assertEqual(len(bank.names), 2)

    def test_the_last_six_lines_of_the_ledger_answer_why(self) -> None:
        sheet = next(f for f in facts.VEHICLE if f.path == "vehicle.mass_kg")
        lines = tuple(
            Evidence(id=900 + i, path=sheet.path, value=str(i), rung="hearsay", note=f"n{i}")
            for i in range(9)
        )
        job = msgspec.structs.replace(demo(), ledger=lines)
        told = explain_fact(job, sheet, Units())
        self.assertEqual([g.value for g in told.given], [f"{i}: n{i}" for i in range(3, 9)])
        in_pounds = explain_fact(job, sheet, Units(mass="lb")).result
        self.assertTrue(in_pounds.endswith(" lb"), in_pounds)
