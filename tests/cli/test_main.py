"""The command line as a whole: each command has help, refuses the unknown, keeps files."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from tests.calc.test_contract import call
from zombrel import __version__
from zombrel.catalog import DEMO
from zombrel.cli import book, shared
from zombrel.cli.main import COMMANDS

NESTED = [(name, one) for name, m in (("book", book), ("shared", shared)) for one in m.DOES]


class Commands(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.place = Path(place.name)

    def test_each_has_help(self) -> None:
        for words in (*((name,) for name in COMMANDS), *NESTED):
            with self.subTest(words):
                code, out, err = call(*words, "--help")
                self.assertEqual((code, err), (0, ""))
                self.assertTrue(out.startswith(f"usage: zombrel {' '.join(words)}"), out)
        code, out, _ = call("--help")
        self.assertEqual(code, 0)
        for name, does in COMMANDS.items():
            self.assertIn(name, out)
            self.assertIn(does, out)
        self.assertEqual(call("--version"), (0, f"zombrel {__version__}\n", ""))

    def test_an_unknown_option_is_refused_in_one_sentence(self) -> None:
        for words in ((), *((name,) for name in COMMANDS)):
            with self.subTest(words):
                code, out, err = call(*words, "--frobnicate")
                self.assertEqual((code, out), (2, ""))
                self.assertEqual(err.count("\n"), 1, err)
        self.assertEqual(
            call("log", str(DEMO / "0412-road.csv"), "--in")[0], 2
        )  # nothing is guessed

    def test_nothing_is_written_over_unless_it_is_said(self) -> None:
        pulls = str(DEMO / "0413-pulls-before.csv")
        drive = self.place / "drive.csv"
        drive.write_text("time_s,speed_kmh\n0,50\n1,60\n", encoding="utf-8")
        for ending, words in (
            ("zjob", ("edit", "demo", "--set", "title", '"x"', "--out")),
            ("html", ("report", "demo", "--owner")),
            ("csv", ("export", "demo", "--wires")),
            ("csv", ("simulate", "demo", "--drive", str(drive), "--out")),
            ("csv", ("log", pulls, "--to")),
            ("zjob", ("merge", "demo", "demo", "demo", "--out")),
        ):
            path = self.place / f"{words[0]}.{ending}"
            path.write_text("mine", encoding="utf-8")
            with self.subTest(words[0]):
                code, out, err = call(*words, str(path))
                self.assertEqual((code, out, path.read_text()), (2, "", "mine"))
                self.assertIn("--force", err)
                self.assertEqual(call(*words, str(path), "--force")[0], 0)
                self.assertGreater(path.stat().st_size, 10)

    def test_nothing_is_written_into_the_programs_own_folders(self) -> None:
        past = DEMO / "past" / "0381.zjob"
        before = past.read_bytes()
        for words in (
            ("edit", str(past), "--out", str(past), "--force"),
            ("export", "demo", "--wires", str(DEMO / "wires.csv")),
            ("seal", str(past), "--by", "Ada", "--because", "tried"),
        ):
            with self.subTest(words[0]):
                code, _, err = call(*words)
                self.assertEqual((code, past.read_bytes()), (2, before))
                self.assertIn("belongs to the program", err)
        one = str(self.place / "both.pdf")
        code, _, err = call("report", "demo", "--owner", one, "--dossier", one)
        self.assertEqual((code, "each its own" in err), (2, True))

    def test_a_figure_below_zero_is_no_option(self) -> None:
        out = self.place / "it.zjob"
        words = ("--set", "sources.clt.trim", "-1e3")
        code, _, err = call("edit", "demo", *words, "--out", str(out))
        self.assertEqual(code, 2)
        self.assertIn("sources.clt.trim", err)  # refused as a trim, not as an option
        words = ("--settle", "--prove", "ground-hub", "-0.02")
        self.assertEqual(call("edit", "demo", *words, "--out", str(out))[0], 0)


if __name__ == "__main__":
    unittest.main()
