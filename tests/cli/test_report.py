"""``report`` on the command line: each paper in its form, everything at once, or nothing."""

from __future__ import annotations

import contextlib
import io
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import pypdf

from tests.paper import texts
from zombrel.cli.main import main
from zombrel.job.problem import Problem
from zombrel.store import folder
from zombrel.store.folder import write_folder


class Report(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.home = Path(place.name)

    def call(self, *argv: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(["report", *argv])
        return code, out.getvalue(), err.getvalue()

    def test_owner_and_dossier_in_one_go(self) -> None:
        owner, dossier, html = (self.home / n for n in ("o.pdf", "d.pdf", "d.html"))
        line = ("0413", "--owner", str(owner), "--dossier", str(dossier), "--html", str(html))
        code, out, err = self.call(*line)
        self.assertEqual((code, err), (0, ""))
        self.assertEqual(out.split(), [str(owner), str(dossier), str(html)])
        self.assertLessEqual(len(texts(owner.read_bytes())), 2)
        self.assertIn("Contents", texts(dossier.read_bytes())[0])
        self.assertIn("<title>Job 0413", html.read_text(encoding="utf-8"))
        self.assertEqual(self.call(*line)[0], 2)  # they lie there
        self.assertEqual(self.call(*line, "--force")[0], 0)

    def test_the_photo_of_the_demo_is_in_the_dossier(self) -> None:
        html = self.home / "d.html"
        self.assertEqual(self.call("demo", "--html", str(html))[0], 0)
        text = html.read_text(encoding="utf-8")
        self.assertIn("data:image/jpeg;base64,", text)
        self.assertIn("cavity 4: the same colours", text)

    def test_letter(self) -> None:
        path = self.home / "o.pdf"
        self.assertEqual(self.call("0409", "--owner", str(path), "--paper", "Letter")[0], 0)
        self.assertEqual(round(float(pypdf.PdfReader(path).pages[0].mediabox.width)), 612)

    def test_everything_into_a_folder_of_the_jobs_name(self) -> None:
        code, out, _ = self.call("0409", "--all", str(self.home))
        self.assertEqual(code, 0)
        made = self.home / "0409 Curlew club racer, Saltmarsh club car"
        made = made if made.exists() else next(self.home.iterdir())
        self.assertTrue(made.name.startswith("0409 "))
        names = {p.name for p in made.iterdir()}
        for name in (
            "owner.pdf",
            "dossier.html",
            "wires.csv",
            "pins.json",
            "plan.ics",
            "leads.pdf",
        ):
            self.assertIn(f"0409-{name}", names)
        self.assertEqual({Path(x).name for x in out.splitlines()}, names)
        self.assertEqual(self.call("0409", "--all", str(self.home))[0], 2)

    def test_a_sentence_and_exit_two(self) -> None:
        for line, part in (
            (("demo", "--paper", "A3", "--html", "/tmp/x.html"), "'A4', 'Letter'"),
            (("demo", "--owner", "/tmp/x.doc"), "written as pdf or html"),
            (("demo", "--paper", "A4"), "a paper"),
            (("demo", "--dossier"), "--dossier: expected"),
        ):
            with self.subTest(line):
                code, out, err = self.call(*line)
                self.assertEqual((code, out), (2, ""))
                self.assertIn(part, err)

    def test_all_files_or_none(self) -> None:
        place = self.home / "papers"
        with (
            mock.patch.object(folder, "write_atomically", side_effect=OSError(28, "full")),
            self.assertRaisesRegex(Problem, "full"),
        ):
            write_folder(place, {"a": b"1"})
        self.assertEqual(list(self.home.iterdir()), [])
        write_folder(place, {"a": b"1", "b": b"2"})
        self.assertEqual({p.name for p in place.iterdir()}, {"a", "b"})
        with self.assertRaisesRegex(Problem, "is there already"):
            write_folder(place, {"a": b"1"})


if __name__ == "__main__":
    unittest.main()
