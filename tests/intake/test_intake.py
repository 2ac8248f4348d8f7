"""The one way in: what is no file, what is no text, how names of files are made."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path
from typing import Any

import msgspec
from hypothesis import given
from hypothesis import strategies as st

from zombrel.intake.file import as_text, check, encoding, one_line, reading, take
from zombrel.intake.name import LONGEST_BYTES, file_name, xml_text
from zombrel.intake.record import record
from zombrel.job.problem import Problem


class Way(msgspec.Struct, forbid_unknown_fields=True):
    a: int = 0


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.home = Path(folder.name)

    def test_only_files_are_read_and_never_more_than_asked_for(self) -> None:
        pipe, big, empty = self.home / "pipe", self.home / "big.json", self.home / "empty"
        os.mkfifo(pipe)
        big.write_bytes(b"x" * 101)
        empty.touch()
        for read in (take, check):
            for path, said in (
                (Path("/dev/zero"), "/dev/zero is a device, not a sheet"),
                (pipe, "is a pipe, not a sheet"),
                (self.home, "is a folder, not a sheet"),
                (big, r"big.json is larger than any sheet \(0.0001 MB\)"),
                (self.home / "none", "none cannot be read: No such file"),
                (Path("/x" * 3000), "cannot be read: File name too long"),
            ):
                with self.subTest(said), self.assertRaisesRegex(Problem, said):
                    read(path, 100, "sheet")
        self.assertEqual(take(empty, 100), b"")
        with self.assertRaisesRegex(Problem, "is empty"):
            check(empty, 100)
        self.assertEqual(len(take(big, 101)), 101)

    def test_whatever_goes_wrong_is_one_line_that_names_the_file(self) -> None:
        for error, said in (
            (ValueError("a\nb" * 400), "x.csv cannot be read: a b"),
            (MemoryError(), "x.csv cannot be read: it is nested too deep or too large."),
            (RecursionError(), "nested too deep"),
            (KeyError(), "KeyError"),
            (Problem("two\nlines"), "two lines"),
        ):
            with self.subTest(said), self.assertRaises(Problem) as caught, reading("x.csv"):
                raise error
            self.assertIn(said, str(caught.exception))
            self.assertLessEqual(len(str(caught.exception)), 300)
            self.assertNotIn("\n", str(caught.exception))

    def test_text_in_every_usual_encoding(self) -> None:
        text = "Gerät;Größe\n1;2,5\n"
        for how in ("utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "latin-1"):
            self.assertEqual(as_text(text.encode(how), "x"), text)
        for noise in (b"\0\1\2", b"abc\0def", b"\x07bell", os.urandom(64) + b"\0"):
            with self.assertRaisesRegex(Problem, "x is not a text file"):
                as_text(noise, "x")

    def test_records(self) -> None:
        for how in ("utf-8", "utf-8-sig", "utf-16"):
            self.assertEqual(record('{"a": 5}'.encode(how), Way, "w"), Way(5))
        for data, said in (
            (b"{", "w is not complete JSON"),
            (b'{"a": "x"}', r"w: must be a whole number \(in a\)"),
            (b'{"b": 1}', "w: .*unknown field `b`"),
            (b"[" * 100_000, "w cannot be read: it is nested too deep"),
            (b"[" + b"1," * 200_000 + b"1]", "200000 parts of hardly anything"),
        ):
            with self.subTest(said), self.assertRaisesRegex(Problem, said):
                record(data, Any if data[:1] == b"[" else Way, "w")  # type: ignore[arg-type]


class Names(unittest.TestCase):
    def test_by_hand(self) -> None:
        for text, name in (
            ("2024/17", "2024-17"),
            ("../../etc/passwd", "etc-passwd"),
            ("C:\\x\0y", "C-x-y"),
            (".hidden", "hidden"),
            ("", "job"),
            ("...", "job"),
            ("Größe 5 (neu)", "Größe 5 (neu)"),
            ("a\nb\tc", "a-b-c"),
            ("ß" * 300, "ß" * (LONGEST_BYTES // 2)),
        ):
            self.assertEqual(file_name(text), name)
        self.assertEqual(file_name("a/b", ".zjob"), "a-b.zjob")

    @given(st.text(alphabet=st.characters(), max_size=300))
    def test_nothing_leads_out_of_its_folder(self, text: str) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / file_name(text, ".x")
            path.touch()
            self.assertEqual([p.name for p in Path(folder).iterdir()], [path.name])
            self.assertEqual(path.resolve().parent, Path(folder).resolve())

    def test_a_line_and_a_paper(self) -> None:
        self.assertEqual(one_line("a \n\n b"), "a b")
        self.assertEqual(len(one_line("x" * 999)), 300)
        self.assertEqual(xml_text("a\x00\x0b\ud800\uffff💧\n"), "a\ufffd\ufffd\ufffd\ufffd💧\n")


class Beginnings(unittest.TestCase):
    def test_text_is_told_by_how_it_begins(self) -> None:
        for data, how in (
            (b"a,b\n" * 900, "utf-8"),
            (b"a,b\n" * 1100 + b"\0", "utf-8"),
            (b"a,b\n" * 900 + b"\0", None),
            (("a,b\n" * 9).encode("utf-16-le"), "utf-16-le"),
            (("a,b\n" * 9).encode("utf-16-be"), "utf-16-be"),
            (("a" * 2000 + "\u0100" * 3000).encode("utf-16-be"), "utf-16-be"),
        ):
            with self.subTest(how, size=len(data)):
                self.assertEqual(encoding(data), how)


if __name__ == "__main__":
    unittest.main()
