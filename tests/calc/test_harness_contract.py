"""Names and keys of the wiring calculations, as scripts use them, and ``export``."""

from __future__ import annotations

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path

from zombrel.calc.all import run
from zombrel.cli.main import main
from zombrel.job.problem import Problem

PAPER = "a,b\n" + "".join(f"P.{n},Q.{n}\n" for n in range(1, 11))
FLAGS = {
    "wires": "csv",
    "cuts": "csv",
    "pins": "csv",
    "labels": "pdf",
    "drawing": "svg",
    "parts": "csv",
    "plan": "ics",
}


class Contract(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.at = Path(folder.name)

    def file(self, name: str, text: str) -> str:
        path = self.at / name
        path.write_text(text, encoding="utf-8")
        return str(path)

    def test_continuity_and_probes(self) -> None:
        paper = self.file("e.csv", PAPER)
        seen = self.file("s.csv", PAPER.replace("P.3,Q.3", "P.3,Q.7").replace("P.7,Q.7", "P.7,Q.3"))
        got = run("continuity", {"expected": paper, "seen": seen})
        self.assertEqual((got["opens"], got["bridges"]), ([], []))
        self.assertEqual(got["swaps"], [["Q.3", "Q.7"]])
        self.assertIn("changed places", got["verdict"])
        order = run("probe-order", {"expected": paper})
        self.assertEqual(order["count"], len(order["probes"]))
        self.assertEqual(order["count"], 19)
        semicolons = self.file("x.csv", PAPER.replace(",", ";"))
        self.assertEqual(run("probe-order", {"expected": semicolons})["count"], 19)

    def test_figures(self) -> None:
        cases: tuple[tuple[str, dict[str, str], dict[str, object]], ...] = (
            ("bundle", {"diameters_mm": "2 2 2 2 2 2 2"}, {"bundle_mm": 6.0, "loom_mm": 7.5}),
            (
                "standby",
                {"ma": "26", "battery_ah": "60", "start_reserve_pct": "50"},
                {"days": 30 / 0.026 / 24},
            ),
            ("crimp", {"mm2": "0.75"}, {"pull_n": 85.0}),
            ("crimp", {"mm2": "0.32"}, {"pull_n": 40.0}),
            (
                "fuse-check",
                {
                    "fuse_a": "20",
                    "wire_mm2": "1.0",
                    "ambient_c": "20",
                    "bundle": "1",
                    "load_a": "6",
                },
                {"ok": False, "largest_fuse_a": 15.0},
            ),
            (
                "firing",
                {"leads_mm": "100 195 290 385 480 575", "order": "1-5-3-6-2-4"},
                {"orientation": "as marked", "fires": "1-5-3-6-2-4"},
            ),
            ("rotation", {"early": "A B C", "late": "C A B"}, {"places": 1}),
            ("inrush", {"fuse_a": "10", "inrush_a": "20", "inrush_s": "0.1"}, {"holds": True}),
        )
        for name, words, want in cases:
            got = run(name, words)
            for key, value in want.items():
                with self.subTest(name, key=key):
                    if isinstance(value, float):
                        self.assertAlmostEqual(got[key], value, places=6)
                    else:
                        self.assertEqual(got[key], value)

    def test_coils_and_a_file_of_a_pin_out_with_comments(self) -> None:
        """13.8 V over 90 Ω are 153 mA: 680 Ω across the coil carry them at 104 V more."""
        ways = run("relay-coil", {"volts": "13.8", "coil_ohm": "90"})["ways"]
        self.assertEqual(
            [w["way"] for w in ways], ["nothing", "680 Ω across the coil", "diode across the coil"]
        )
        self.assertAlmostEqual(ways[1]["kick_v"], 13.8 + 13.8 / 90 * 680)
        self.assertLess(ways[1]["release_ms"], ways[2]["release_ms"])
        noted = self.file("n.csv", "# from the bench\n\n" + PAPER + "\n  \n")
        self.assertEqual(run("probe-order", {"expected": noted})["count"], 19)
        got = run("continuity", {"expected": noted, "seen": noted})
        self.assertEqual((got["slip"], got["moved"]), ("none", []))
        nothing = self.file("z.csv", "a,b\n")
        self.assertEqual(len(run("continuity", {"expected": noted, "seen": nothing})["opens"]), 10)

    def test_faces_read_from_the_left(self) -> None:
        path = self.file("c.json", json.dumps({"rows": 2, "columns": 3, "key": "the latch"}))
        wire = run("face", {"file": path, "view": "wire"})["cells"]
        self.assertEqual([c["cavity"] for c in wire], [1, 2, 3, 4, 5, 6])
        mating = run("face", {"file": path, "view": "mating"})["cells"]
        self.assertEqual([c["cavity"] for c in mating], [3, 2, 1, 6, 5, 4])
        self.assertEqual([(c["x"], c["y"]) for c in mating], [(c["x"], c["y"]) for c in wire])
        self.assertIn("second from the latch", run("cavity", {"file": path, "n": "5"})["words"])

    def test_bad_input_is_one_sentence(self) -> None:
        paper = self.file("e.csv", PAPER)
        for name, words, said in (
            ("continuity", {"expected": "/nowhere.csv", "seen": paper}, "cannot be read"),
            ("continuity", {"expected": self.file("b.csv", "P.1\n"), "seen": paper}, "line 1"),
            ("probe-order", {"expected": self.file("n.csv", "a,b\n")}, "names no conductor"),
            ("face", {"file": self.file("f.json", "{"), "view": "wire"}, "is not complete JSON"),
            ("face", {"file": self.file("g.json", '{"rows": 0}'), "view": "wire"}, "at least 1"),
            ("bundle", {"diameters_mm": "two"}, "numbers"),
            ("firing", {"leads_mm": "1 2", "order": "1-3-4-2"}, "one for each"),
            ("crimp", {"mm2": "50"}, "own sheet"),
            ("standby", {"ma": "-1", "battery_ah": "60"}, "at least 0"),
        ):
            with self.subTest(name, said=said), self.assertRaisesRegex(Problem, said):
                run(name, words)

    def export(self, *words: str) -> tuple[int, str]:
        err = io.StringIO()
        with contextlib.redirect_stdout(io.StringIO()), contextlib.redirect_stderr(err):
            code = main(["export", *words])
        return code, err.getvalue()

    def test_export_writes_all_and_never_over(self) -> None:
        words = [w for k, e in FLAGS.items() for w in (f"--{k}", str(self.at / f"{k}.{e}"))]
        self.assertEqual(self.export("demo", *words)[0], 0)
        for k, e in FLAGS.items():
            self.assertGreater((self.at / f"{k}.{e}").stat().st_size, 100)
        code, said = self.export("demo", *words)
        self.assertEqual(code, 2)
        self.assertIn("--force", said)
        self.assertEqual(self.export("demo", *words, "--force")[0], 0)

    def test_export_refuses_before_it_writes(self) -> None:
        good = str(self.at / "w.csv")
        for words, said in (
            (["demo", "--wires", good, "--labels", "x.txt"], "writes .pdf or .svg"),
            (["demo", "--wires", good, "--parts", str(self.at / "no" / "p.csv")], "no folder"),
            (["demo", "--wires", good, "--cuts", good], "given twice"),
            (["demo", "--wires"], "--wires: expected"),
            (["demo"], "export JOB"),
            (["demo", "--colour", good], "--colour"),
            (["/nowhere.zjob", "--wires", good], "cannot be read"),
        ):
            code, err = self.export(*words)
            self.assertEqual(code, 2)
            self.assertIn(said, err)
            self.assertFalse(Path(good).exists())


if __name__ == "__main__":
    unittest.main()
