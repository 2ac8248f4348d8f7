"""What the command line says about whole jobs: the keys are a contract."""

from __future__ import annotations

import json
import tempfile
import unittest
from pathlib import Path

from tests.demo import at, demo, put
from zombrel.calc import all as calcs
from zombrel.calc.all import run
from zombrel.job.problem import Problem
from zombrel.store.pairs_file import read_pairs
from zombrel.store.zjob import save


class FindSource(unittest.TestCase):
    def test_the_keys_and_the_order(self) -> None:
        got = calcs.run("find-source", {"job": "demo", "input": "pace.SPEED"})
        json.dumps(got)
        ranked = got["ranked"]
        self.assertEqual([r["source"] for r in ranked], ["ring", "prop", "gps"])
        for row in ranked:
            self.assertLessEqual({"source", "score", "conditioning", "reasons"}, set(row))
            self.assertTrue(row["reasons"])
            self.assertNotIn("{", "".join(row["reasons"]))
        self.assertEqual(ranked[0]["conditioning"], ["divider ÷7"])
        scores = [r["score"] for r in ranked]
        self.assertEqual(scores, sorted(scores, reverse=True))
        self.assertIn("loses because of work: 90 min against 40", ranked[1]["reasons"][-1])

    def test_by_name_and_from_a_file(self) -> None:
        by_name = calcs.run("find-source", {"job": "demo", "input": "Shift lamp.TACH"})
        self.assertEqual(by_name["ranked"][0]["source"], "s4out")
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "mine.zjob"
            save(put(demo(), "sources.prop.spec.magnets", 3), path)
            got = calcs.run("find-source", {"job": str(path), "input": "pace.SPEED"})
            prop = next(r for r in got["ranked"] if r["source"] == "prop")
            self.assertNotIn("−1.3 %", " ".join(prop["reasons"]))
        camper = calcs.run("find-source", {"job": "demo-0413", "input": "pace.SPEED"})
        gearbox = next(r for r in camper["ranked"] if r["source"] == "gearbox")
        self.assertEqual((gearbox["score"], gearbox["possible"]), (0.0, False))

    def test_speeds_of_a_chain_carry_their_units(self) -> None:
        got = calcs.run("assess", {"job": "demo", "state": "Hot hill"})
        row = next(r for r in got["chains"] if r.get("chain", r.get("id")) == "speed-pace")
        reading = at(demo(), "Hot hill").chain("speed-pace")
        self.assertAlmostEqual(row["true_kmh"], 90)
        self.assertAlmostEqual(row["shown_kmh"], reading.shown * 3.6)
        self.assertAlmostEqual(row["counts_from_kmh"], reading.start * 3.6)
        self.assertAlmostEqual(row["counts_to_kmh"], reading.stop * 3.6)
        tach = next(r for r in got["chains"] if r.get("chain", r.get("id")) == "tach-hub")
        stop = at(demo(), "Hot hill").chain("tach-hub").stop
        self.assertAlmostEqual(tach["counts_to_rpm"], stop * 60)

    def test_what_is_not_there_is_named(self) -> None:
        for words, said in (
            ({"job": "demo", "input": "toaster.SPEED"}, "no device “toaster”.*pace"),
            ({"job": "demo", "input": "pace.FOO"}, "no input “FOO”.*SPEED, CANCEL, COIL"),
            ({"job": "demo", "input": "pace"}, "no input “”"),
            ({"job": "/no/where.zjob", "input": "pace.SPEED"}, "where.zjob"),
        ):
            with self.subTest(said), self.assertRaisesRegex(Problem, said):
                calcs.run("find-source", words)


class Assess(unittest.TestCase):
    def test_sensors_and_contacts_carry_their_units(self) -> None:
        rows = {r["id"]: r for r in calcs.run("assess", {"job": "demo"})["chains"]}
        self.assertAlmostEqual(rows["temp-hub"]["true_c"], 88.0)
        self.assertAlmostEqual(rows["blend-ecu"]["shown_pct"], 67.0, delta=0.1)
        self.assertAlmostEqual(rows["blend-ecu"]["ground_lift_volts"], 1.60, delta=0.005)
        self.assertAlmostEqual(rows["oil-hub"]["true_kpa"], 350)
        self.assertAlmostEqual(rows["fuel-hub"]["true_l"], 30)
        self.assertIs(rows["clutch-lamp"]["right"], True)
        racer = {r["id"]: r for r in calcs.run("assess", {"job": "demo-0409"})["chains"]}
        self.assertAlmostEqual(racer["lambda"]["true_lambda"], 1.0)
        self.assertEqual((racer["clutch"]["true_on"], racer["clutch"]["seen_on"]), (False, True))

    def test_small_sums(self) -> None:
        got = calcs.run("pedal-tracks", {"first_v": "2.0", "second_v": "1.05"})
        self.assertEqual((got["plausible"], round(got["off_v"], 3)), (True, -0.1))
        held = calcs.run(
            "held-launch",
            {"stall_rpm": "2150", "torque_nm": "246", "hold_nm": "2400", "gear": "11.234"},
        )
        # 2400/11.234 = 213.6 N·m at the output; 2150·√(213.6/(1.9·246))
        self.assertAlmostEqual(held["rpm"], 2150 * (213.637 / (1.9 * 246)) ** 0.5, delta=0.5)


class PairsFile(unittest.TestCase):
    def test_every_usual_way_of_writing_pairs(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "p.csv"
            for text in (
                "c;ohm\n0;5000\n25;2000,5\n100;200\n",
                "c,ohm\n0,5000\n25,2000.5\n100,200\n",
                "# made up\n0 5000\n25 2000.5\n100 200\n",
                "0:5000, 25:2000.5, 100:200",
            ):
                path.write_text(text, encoding="utf-8")
                self.assertEqual(read_pairs(path), ((0, 5000), (25, 2000.5), (100, 200)), text)

    def test_what_cannot_be_read_names_the_file(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "p.csv"
            for text, said in (
                ("", "empty"),
                ("hello\nworld\n", "p.csv"),
                ("1;2\n", "p.csv"),
                ("\n".join(f"{i};{i}" for i in range(80)), "64 at most"),
            ):
                path.write_text(text)
                with self.subTest(said), self.assertRaisesRegex(Problem, said):
                    read_pairs(path)
            path.write_bytes(b"\xff\xfe\x00bad")
            with self.assertRaisesRegex(Problem, "is not a text file|is not a pair"):
                read_pairs(path)
            with self.assertRaisesRegex(Problem, "cannot be read"):
                read_pairs(Path(folder) / "none.csv")


class WireFaults(unittest.TestCase):
    def test_a_resistance_in_a_wire_is_its_own_fault(self) -> None:
        def then(fault: str) -> object:
            return run("chain-if", {**ask, "fault": fault})["then"]

        ask = {"job": "demo", "chain": "brake-pace", "wire": "W3"}
        self.assertNotEqual(then("ohms:100000"), then("ohms:0"))
        for wrong in ("ohms:", "ohms:-1", "ohms:much", "burnt"):
            with self.subTest(wrong), self.assertRaisesRegex(Problem, "is no fault"):
                then(wrong)


if __name__ == "__main__":
    unittest.main()
