"""Logs beside the job: kept once, carried by the saved file, put back, and checked."""

from __future__ import annotations

import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest import mock

import msgspec
from msgspec.structs import astuple

from tests.demo import apply, demo
from zombrel.actions.logs import (
    add_log,
    add_mark,
    compare_logs,
    day_of,
    keep_comparison,
    of_part,
    put_day,
    put_log,
    remove_log,
    remove_mark,
    stale,
)
from zombrel.catalog import DEMO
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.logs.read_any import read_any
from zombrel.store import log_files
from zombrel.store.zjob import from_bytes, save, to_bytes

SIDES = ("before", "after")


class Files(unittest.TestCase):
    def setUp(self) -> None:
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        self.home = Path(home.name)
        patch = mock.patch.object(log_files, "data_root", return_value=self.home)
        patch.start()
        self.addCleanup(patch.stop)
        self.job = demo()
        for side in SIDES:
            path = DEMO / f"0413-pulls-{side}.csv"
            sha, size = log_files.keep(path)
            _, edit = add_log(self.job, path.name, sha, size, side, {}, "2026-11-27")  # type: ignore[arg-type]
            self.job = apply(self.job, edit)

    def test_kept_carried_and_put_back(self) -> None:
        data = to_bytes(self.job)
        self.assertEqual(data, to_bytes(self.job))
        with zipfile.ZipFile(__import__("io").BytesIO(data)) as archive:
            kinds = {i.compress_type for i in archive.infolist() if i.filename.startswith("files/")}
        self.assertEqual(kinds, {zipfile.ZIP_STORED})  # a save packs nothing again
        for path in log_files.folder().iterdir():
            path.unlink()
        again = from_bytes(data)
        self.assertEqual(again.logs, self.job.logs)
        log = again.logs[0]
        with log_files.opened(log.file, log.name) as path:
            self.assertEqual(path.read_bytes(), (DEMO / log.name).read_bytes())

    def test_what_was_wiped_since_is_taken_from_the_file_that_is_written_over(self) -> None:
        path = self.home / "0413.zjob"
        save(self.job, path)
        whole = path.read_bytes()
        for kept in log_files.folder().iterdir():
            kept.unlink()
        save(self.job, path)
        self.assertEqual(path.read_bytes(), whole)
        for kept in log_files.folder().iterdir():
            kept.unlink()
        path.write_bytes(b"not a job any more")
        with self.assertRaisesRegex(Problem, "take it in again, or take it out"):
            save(self.job, path)
        self.assertEqual(path.read_bytes(), b"not a job any more")

    def test_a_log_that_is_gone_or_altered_is_said(self) -> None:
        log = self.job.logs[0]
        data = to_bytes(self.job)
        kept = log_files.packed(log.file).read_bytes()
        log_files.packed(log.file).unlink()
        with self.assertRaisesRegex(Problem, "no longer on this machine"):
            to_bytes(self.job)
        with self.assertRaisesRegex(Problem, "not the one that the job names"):
            log_files.restore("0" * 64, kept, "x")
        with self.assertRaisesRegex(Problem, "damaged"):
            log_files.restore(log.file, b"no" + kept, "x")
        self.assertFalse(log_files.packed(log.file).exists())
        from_bytes(data)
        self.assertTrue(log_files.packed(log.file).exists())

    def test_given_up_leaves_nothing_half_written(self) -> None:
        before = sorted(log_files.folder().iterdir())
        with self.assertRaisesRegex(Problem, "given up"):
            log_files.keep(DEMO / "0412-road.csv", lambda _: False)
        self.assertEqual(sorted(log_files.folder().iterdir()), before)

    def compared(self, job: Job) -> Job:
        logs = [read_any(DEMO / f"0413-pulls-{side}.csv") for side in SIDES]
        return apply(job, keep_comparison(job, compare_logs(job, *logs), "2026-11-27"))

    def test_a_comparison_is_kept_and_goes_stale_with_its_logs(self) -> None:
        job = self.compared(self.job)
        made = job.compared[0]
        self.assertEqual((made.verdict, len(made.pulls)), ("better", 6))
        self.assertFalse(stale(job, made))
        self.assertIn("weather of both days is not noted", " ".join(made.mind))
        log = of_part(job, "after")
        assert log is not None
        gone = apply(job, remove_log(job, log))
        self.assertEqual(gone.compared, ())
        again = self.compared(job)
        self.assertEqual(len(again.compared), 1)  # put in its place
        with self.assertRaisesRegex(Problem, "in the job already"):
            add_log(job, log.name, log.file, 1, "after", {}, "")

    def test_a_wet_day_is_refused_and_a_tank_is_named(self) -> None:
        after = of_part(self.job, "after")
        before = of_part(self.job, "before")
        assert after is not None
        assert before is not None
        wet = apply(self.job, put_log(msgspec.structs.replace(after, weather="rain", tank=1.0)))
        wet = apply(wet, put_log(msgspec.structs.replace(before, weather="dry", tank=0.25)))
        made = self.compared(wet).compared[0]
        self.assertEqual(made.verdict, "refused")
        self.assertIn("wet after", made.why)
        self.assertIn("tank differed by 75 %", " ".join(made.mind))

    def test_the_day_before_is_what_survey_says_and_new_codes_are_named(self) -> None:
        said = put_day(self.job, "before", weather="rain", codes="P0301, and 12 blinks")
        job = apply(self.job, said)
        self.assertEqual(job.baseline.weather, "rain")
        self.assertEqual(astuple(day_of(job, "before"))[:2], ("rain", None))
        kept = self.compared(apply(job, put_day(job, "after", weather="rain", codes="p0301")))
        self.assertNotIn("stored after", " ".join(kept.compared[0].mind))
        again = apply(kept, put_day(kept, "after", codes="P0301 P1234-00, 14.2 V, 41"))
        self.assertTrue(stale(again, again.compared[0]))
        mind = " ".join(self.compared(again).compared[0].mind)
        self.assertIn("stored after and not before: P1234-00, 41", mind)

    def test_marks_are_kept_and_taken_out(self) -> None:
        log = self.job.logs[0]
        key, edit = add_mark(log, 12.3456, "  fan on ")
        job = apply(self.job, edit)
        self.assertEqual([(m.at_s, m.words) for m in job.logs[0].marks], [(12.346, "fan on")])
        second, edit = add_mark(job.logs[0], 1.0, "idle")
        job = apply(job, edit)
        self.assertNotEqual(key, second)
        job = apply(job, remove_mark(job.logs[0], job.logs[0].marks[0]))
        self.assertEqual([m.words for m in job.logs[0].marks], ["idle"])
        with self.assertRaisesRegex(Problem, "Say what is to be seen"):
            add_mark(log, 1.0, " ")


if __name__ == "__main__":
    unittest.main()
