"""A drive with faults that come and go; what was seen, entered from the command line."""

from __future__ import annotations

import csv
import io
import json
import shutil
import tempfile
import unittest
from pathlib import Path
from typing import Any

from tests.calc.test_contract import call
from zombrel.behaviour.suppose import usual
from zombrel.findings.assess import assess
from zombrel.store.zjob import load


class Folder(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, name: str, text: str) -> str:
        path = self.folder / name
        path.write_text(text, encoding="utf-8")
        return str(path)


class Simulating(Folder):
    def run_it(self, drive: str, faults: object = None) -> tuple[int, list[dict[str, str]], str]:
        out = self.folder / "out.csv"
        words = ["demo", "--drive", self.file("drive.csv", drive), "--out", str(out), "--force"]
        if faults is not None:
            words += ["--faults", self.file("faults.json", json.dumps(faults))]
        code, _, err = call("simulate", *words)
        text = out.read_text(encoding="utf-8") if code == 0 else ""
        rows = list(csv.DictReader(io.StringIO(text)))
        return code, rows, err

    def test_faults_come_and_go(self) -> None:
        drive = "time_s,speed_kmh,coolant_c\n" + "".join(f"{t},70,88\n" for t in range(0, 50, 10))
        faults = [
            {"from_s": 10, "to_s": 20, "wire": "W20", "fault": "ohms:500"},
            {"from_s": 30, "wire": "W10", "fault": "open"},
            {"from_s": 20, "to_s": 30, "set": "devices.hub.settings.TACH.at", "value": "4"},
        ]
        _, rows, _ = self.run_it(drive, faults)
        coolant = [float(r["temp-hub shown °C"]) for r in rows]
        self.assertAlmostEqual(coolant[0], 89.9, delta=0.1)  # shared, and so two pull-ups at it
        self.assertLess(coolant[1], coolant[0] - 10)  # 500 Ω more read as colder
        self.assertEqual(coolant[2:], [coolant[0]] * 3)
        turns = [float(r["tach-hub shown rpm"]) for r in rows]
        self.assertAlmostEqual(turns[2], 1.5 * turns[0], delta=1)  # six read as four
        self.assertEqual(turns[3:], [0.0, 0.0])
        self.assertEqual(rows[3]["tach-hub status"], "below threshold")
        self.assertEqual({r["speed-hub true km/h"] for r in rows}, {"70"})
        self.assertEqual(rows[0]["blend-ecu shown %"][:2], "67")  # the pump lifts its ground

    def test_what_is_wrong_is_named(self) -> None:
        for drive, faults, words in (
            ("speed_kmh\n70\n", None, "no column time_s"),
            ("time_s,spede\n0,70\n", None, "column “spede”"),
            ("time_s,speed_kmh\n0,fast\n", None, "line 2, speed_kmh: “fast”"),
            ("time_s,key\n0,left\n", None, "off, on or crank"),
            ("time_s,speed_kmh\n0,-4\n", None, "line 2"),
            ("time_s\n0\n", {"wire": "W1"}, "a list of faults"),
            ("time_s\n0\n", [{"wire": "W1"}], "fault 1"),
            ("time_s\n0\n", [{"wire": "W1", "fault": "bent"}], "“bent” is no fault"),
            ("time_s\n0\n", [{"wire": "W999", "fault": "open"}], "no wire “W999”"),
            ("time_s\n0\n", [{"set": "vehicle.nothing", "value": 1}], "nothing"),
        ):
            with self.subTest(words):
                code, _, err = self.run_it(drive, faults)
                self.assertEqual(code, 2)
                self.assertIn(words, err)
                self.assertFalse((self.folder / "out.csv").exists())


class Proving(Folder):
    def edit(self, job: str, *words: str) -> tuple[int, str, str]:
        out = str(self.folder / "made.zjob")
        code, _, err = call("edit", job, "--out", out, "--force", *words)
        return code, err, out

    def steps(self, job: str) -> dict[str, Any]:
        code, out, err = call("calc", "steps", f"job={job}")
        assert code == 0, err
        return {s["id"]: s for s in json.loads(out)["steps"]}

    def test_gates_cannot_be_got_round(self) -> None:
        """Every way to the road of the van, tried with its gates shut; then each opened in turn."""
        code, _, made = self.edit("0413", "--settle")
        self.assertEqual(code, 0)
        steps = self.steps(made)
        gates = [s for s in steps.values() if s["gate"]]
        self.assertGreaterEqual({s["kind"] for s in gates}, {"brake", "hold", "row"})
        for step in gates:
            running = step["running"]
            self.assertEqual(step["state"], "blocked" if running else "not tried")
            if running:  # numbers that fit do not help while the engine is shut
                middle = [str((f["low"] + f["high"]) / 2) for f in step["fields"]]
                code, err, _ = self.edit(made, "--prove", step["id"], ",".join(middle))
                self.assertEqual(code, 2)
                self.assertIn("The engine stays off", err)
        code, err, _ = self.edit(made, "--prove", gates[0]["id"], "9,9")
        self.assertEqual(code, 0)  # noted as failed
        for step in gates:
            self.assertTrue(self.lock(made))
            middle = [str((max(f["low"], 0) + f["high"]) / 2) for f in step["fields"]]
            code, err, made = self.edit(made, "--prove", step["id"], ",".join(middle))
            self.assertEqual(code, 0, err)
            self.assertEqual(self.steps(made)[step["id"]]["state"], "passed", step)
        self.assertEqual(self.lock(made), "")
        good = shutil.copy(made, self.folder / "good.zjob")
        for path, value in (
            ("vehicle.lamps", '"led"'),
            ("wires.W2.area_mm2", "0.35"),
            ("sources.handle.spec.rests", '"closed"'),
            ("devices.idle.sheet.inputs.PARK.active", '"open"'),
        ):
            code, err, changed = self.edit(str(good), "--set", path, value)
            self.assertEqual(code, 0, err)
            self.assertIn("stay locked", self.lock(changed), path)

    @staticmethod
    def lock(job: str) -> str:
        tree = load(Path(job))
        return assess(tree, usual(tree.vehicle)).road_lock

    def test_bad_values_are_named(self) -> None:
        for step, text, words in (
            ("nobody", "1", "no such step"),
            ("power-BAT", "12.5,3", "takes 1 values"),
            ("power-BAT", "much", "no figure"),
            ("power-BAT", "inf", "no figure"),
            ("brake-brake-pace", "0.05,12.5", "cannot pass"),
        ):
            with self.subTest(step=step, text=text):
                code, err, _ = self.edit("0412", "--prove", step, text)
                self.assertEqual(code, 2)
                self.assertIn(words, err)
        code, _, made = self.edit("0412", "--prove", "plugs", "yes", "--prove", "power-BAT", "3")
        self.assertEqual(code, 0)
        steps = self.steps(made)
        self.assertEqual(
            (steps["plugs"]["state"], steps["power-BAT"]["state"]), ("passed", "failed")
        )


if __name__ == "__main__":
    unittest.main()
