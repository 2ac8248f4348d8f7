"""Jobs edited from the command line, and the network asked from there."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any

from tests.calc.test_contract import call
from zombrel.behaviour.suppose import named
from zombrel.findings.assess import assess
from zombrel.store.zjob import load


def asked(*words: str) -> dict[str, Any]:
    code, out, err = call("calc", *words)
    assert code == 0, err
    found: dict[str, Any] = json.loads(out)
    return found


class Piped(unittest.TestCase):
    def test_a_reader_that_has_gone_is_no_trouble(self) -> None:
        # Buffered as on most machines: what is short leaves only at the end.
        env = {k: v for k, v in os.environ.items() if k != "PYTHONUNBUFFERED"}
        for words in (["calc", "assess", "job=demo"], ["calc", "--list"], ["help"]):
            with self.subTest(words):
                read, write = os.pipe()
                os.close(read)  # before there is anything to say, however slow the machine
                start = [sys.executable, "-m", "zombrel", *words]
                done = subprocess.run(
                    start, stdout=write, stderr=subprocess.PIPE, check=False, env=env
                )
                os.close(write)
                self.assertEqual((done.stderr, done.returncode), (b"", 1))
                with open("/dev/full", "wb") as full:
                    done = subprocess.run(
                        start, stdout=full, stderr=subprocess.PIPE, check=False, env=env
                    )
                self.assertIn(b"disk is full", done.stderr)
                self.assertEqual(done.returncode, 2)


class Editing(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.out = Path(folder.name) / "made.zjob"

    def edit(self, *words: str) -> tuple[int, str]:
        code, _, err = call("edit", "demo", "--out", str(self.out), *words)
        return code, err

    def test_a_settled_demo_has_no_trouble_in_any_state(self) -> None:
        code, said = self.edit("--settle")
        self.assertEqual(code, 0)
        self.assertIn("settled: Brake pedal may not cancel", said)
        job = load(self.out)
        for _, state in named(job.vehicle):
            self.assertFalse([f for f in assess(job, state).findings if f.level == "trouble"])

    def test_facts_are_set_added_and_taken_out(self) -> None:
        wire = {
            "a": {"place": "F7"},
            "b": {"place": "hub", "pin": "RUN"},
            "colour": "red",
            "carries": "power",
            "area_mm2": 1,
            "length_m": 1,
        }
        code, _ = self.edit(
            "--set",
            "vehicle.tyre",
            '"195/65 R15"',
            "--set",
            "wires.W88",
            json.dumps(wire),
            "--remove",
            "chains.dim-hub",
        )
        self.assertEqual(code, 0)
        job = load(self.out)
        self.assertEqual(job.vehicle.tyre, "195/65 R15")
        self.assertIn("W88", [w.id for w in job.wires])
        self.assertNotIn("dim-hub", [c.id for c in job.chains])

    def test_what_is_taken_out_takes_along_what_hangs_on_it(self) -> None:
        code, _ = self.edit(
            "--remove", "devices.hub", "--remove", "wires.W11", "--remove", "sources.ring"
        )
        self.assertEqual(code, 0)
        job = load(self.out)
        self.assertNotIn("hub", {c.device for c in job.chains})
        self.assertFalse([w for w in job.wires if "hub" in (w.a.place, w.b.place)])
        self.assertNotIn("W11", [w for c in job.chains for w in c.wires])
        self.assertFalse([c for c in job.chains if c.source == "ring"])

    def test_a_length_that_is_given_holds_against_the_plan(self) -> None:
        self.edit("--settle", "--set", "wires.W4.length_m", "60")
        found = asked("assess", f"job={self.out}")["findings"]
        self.assertIn("Pace unit loses 28.0 % there and back", [f["title"] for f in found])

    def test_only_the_whole_must_hold_together(self) -> None:
        """Two steps of which the first alone would leave a chain without its source."""
        code, err = self.edit(
            "--set",
            "chains.tach-hub.source",
            '"other"',
            "--set",
            "sources.other",
            json.dumps(
                {"name": "other", "quantity": "tach", "minutes": 5, "spec": {"type": "coil"}}
            ),
        )
        self.assertEqual((code, err), (0, ""))

    def test_what_cannot_be_leaves_no_file(self) -> None:
        for words, said in (
            (("--set", "vehicle.lamps", "led"), "not JSON"),
            (("--set", "vehicle.lamps", '"blue"'), "vehicle.lamps"),
            (("--set", "nowhere.at", "1"), "no “nowhere"),
            (("--set", "chains.tach-hub.source", '"gone"'), "after chains.tach-hub.source: Chain"),
            (("--remove", "devices.gone"), "devices.gone: There is no “gone”"),
            (("--set", "vehicle.tyre"), "--set: expected 2"),
            (("--what",), "--what"),
        ):
            with self.subTest(words):
                code, err = self.edit(*words)
                self.assertEqual(code, 2)
                self.assertIn(said, err)
                self.assertFalse(self.out.exists())

    def test_a_file_that_is_there_is_not_written_over(self) -> None:
        self.assertEqual(self.edit()[0], 0)
        before = self.out.read_bytes()
        code, err = self.edit("--set", "title", '"other"')
        self.assertEqual((code, self.out.read_bytes()), (2, before))
        self.assertIn("--force", err)
        self.assertEqual(self.edit("--set", "title", '"other"', "--force")[0], 0)
        self.assertEqual(load(self.out).title, "other")


class Asked(unittest.TestCase):
    def test_volts_and_amps_of_the_demo(self) -> None:
        """Idle: 2 A into the hub; 0.6 A and a share of 11.4 A into the spark box at 850 rpm."""
        got = asked("circuit", "job=demo", "state=Idle")
        self.assertAlmostEqual(got["node_volts"]["F7"], 13.8)
        self.assertAlmostEqual(got["wire_amps"]["W6"], 2.0, places=6)
        self.assertAlmostEqual(got["wire_amps"]["W13"], 0.6 + 11.4 * 850 / 7000, places=6)
        self.assertAlmostEqual(got["fuse_amps"]["F9"], 2.0 + 4.0, places=6)
        self.assertAlmostEqual(got["node_volts"]["G3"], 8.05 * 0.199, delta=0.001)
        off = asked("circuit", "job=demo", "state=Key off")
        self.assertAlmostEqual(off["wire_amps"]["W6"], 0.0, places=4)
        self.assertAlmostEqual(off["wire_amps"]["W7"], 0.006, places=5)
        # what flows into a device flows out of it: Kirchhoff at the hub, but for its signals
        into = got["wire_amps"]["W6"] + got["wire_amps"]["W7"]
        self.assertAlmostEqual(got["wire_amps"]["W8"], into, delta=0.03)

    def test_a_conductor_gone_bad(self) -> None:
        for words, then in (
            ("chain=temp-hub wire=W20 fault=open", ("open: no way to ground", None)),
            ("chain=temp-hub wire=W20 fault=bridge", ("reading", 140.0)),
            ("chain=speed-pace wire=W2 fault=open", ("below threshold", 0.0)),
            ("chain=speed-hub wire=W6 fault=open", ("no supply or no source", 0.0)),
            ("chain=blend-ecu wire=W18 fault=open", ("no supply or no source", None)),
            ("chain=clutch-lamp wire=W12 fault=open", ("no supply or no source", None)),
        ):
            with self.subTest(words):
                got = asked("chain-if", "job=demo", *words.split(" "))
                shown = next(v for k, v in got["then"].items() if k.startswith("shown_"))
                self.assertEqual(got["then"]["status"], then[0])
                if then[1] is None:
                    self.assertIsNone(shown)
                else:
                    self.assertAlmostEqual(shown, then[1], places=6)
                self.assertNotEqual(got["sound"], got["then"])

    def test_more_ohms_in_a_sender_lead_read_colder(self) -> None:
        """88 °C is 330 Ω of the sender; 100 Ω more is 430 Ω, about 78 °C."""
        words = ("chain-if", "job=demo", "chain=temp-hub", "wire=W20", "fault=ohms:100")
        got = asked(*words)
        self.assertAlmostEqual(got["then"]["shown_c"], 79.5, delta=1.5)

    def test_what_is_no_fault_says_so(self) -> None:
        for bad in ("fault=cut", "fault=ohms:x", "fault=ohms:-1", "wire=W99", "chain=none"):
            words = {"chain": "temp-hub", "wire": "W20", "fault": "open"}
            key, value = bad.split("=")
            words[key] = value
            code, _, err = call(
                "calc", "chain-if", "job=demo", *(f"{k}={v}" for k, v in words.items())
            )
            with self.subTest(bad):
                self.assertEqual(code, 2)
                self.assertIn("chain-if", err)


if __name__ == "__main__":
    unittest.main()
