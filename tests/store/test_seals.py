"""Sealed hand-overs: what was signed stays, what changed since is told, damage is noticed."""

from __future__ import annotations

import contextlib
import io
import json
import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest import mock

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from tests.demo import apply, demo, put, whole
from zombrel.behaviour.suppose import usual
from zombrel.cli.main import main
from zombrel.findings.assess import assess
from zombrel.findings.seals import content, hash_of, seal, seal_on
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.store import log_files
from zombrel.store.photos import picture_of, take_photo
from zombrel.store.seals import keep, sealed
from zombrel.store.zjob import from_bytes, job_of, load, save, to_bytes


class Seals(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.home = Path(place.name)
        away = mock.patch.object(log_files, "data_root", return_value=self.home / "data")
        away.start()
        self.addCleanup(away.stop)

    def signed(self, job: Job, who: str = "Ada", reason: str = "towed home") -> Job:
        judged = assess(job, usual(job.vehicle))
        return apply(job, seal(job, judged, keep(job), who, "2026-11-27 10:00", reason)[1])

    def run_it(self, *words: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(list(words))
        return code, out.getvalue(), err.getvalue()

    def test_what_was_signed_stays_whatever_is_changed_later(self) -> None:
        job = self.signed(whole())
        (made,) = job.seals
        self.assertEqual(made.content, hash_of(whole()))
        self.assertEqual(seal_on(job), made.content)
        self.assertIn("Brake cancels", made.against[0])
        later = put(job, "vehicle.final_drive", 3.9)
        self.assertEqual(seal_on(later), "")
        self.assertEqual(hash_of(sealed(later.seals[0])), made.content)
        self.assertEqual(sealed(later.seals[0]).vehicle.final_drive, 3.64)
        again = self.signed(later, "Bram")
        self.assertEqual([s.who for s in again.seals], ["Ada", "Bram"])
        self.assertEqual(seal_on(put(again, "vehicle.final_drive", 3.64)), "")  # not the last one

    def test_what_was_signed_keeps_its_photos_and_logs(self) -> None:
        """Dropped from the job later, they still travel with it; the snapshot is a job again."""
        shot = self.home / "shot.png"
        Image.new("RGB", (40, 30), "red").save(shot)
        photo = msgspec.structs.replace(take_photo(shot, "now"), id="P1")
        job = self.signed(msgspec.structs.replace(whole(), photos=(photo,)))
        self.assertIn(photo.file, job.seals[0].files)
        path, out = self.home / "job.zjob", self.home / "signed.zjob"
        save(msgspec.structs.replace(job, photos=()), path)
        log_files.packed(photo.file).unlink()  # another machine
        code, _, err = self.run_it("seal", str(path), "--out", str(out))
        self.assertEqual((code, err), (0, ""))
        log_files.packed(photo.file).unlink()
        self.assertEqual(load(out).photos, (photo,))
        self.assertTrue(picture_of(photo))
        self.assertEqual(hash_of(load(out)), job.seals[0].content)
        self.assertIn("exists already", self.run_it("seal", str(path), "--out", str(out))[2])

    def test_nobody_and_no_reason_and_nothing_new_are_refused(self) -> None:
        job, judged = whole(), assess(whole(), usual(whole().vehicle))
        for who, reason, words in ((" ", "x", "who signs"), ("Ada", " ", "Brake cancels")):
            with self.assertRaisesRegex(Problem, words):
                seal(job, judged, keep(job), who, "now", reason)
        signed = self.signed(job)
        with self.assertRaisesRegex(Problem, "Nothing has changed since Ada"):
            seal(signed, judged, keep(signed), "Bram", "now", "x")

    @settings(max_examples=25, deadline=None)
    @given(st.sampled_from(["vehicle.mass_kg", "vehicle.final_drive"]), st.floats(1, 5))
    def test_one_hash_for_one_content(self, path: str, value: float) -> None:
        job = put(demo(), path, value)
        again = job_of(content(job), "it")
        self.assertEqual(hash_of(again), hash_of(job))
        self.assertEqual(hash_of(job) == hash_of(demo()), content(job) == content(demo()))

    def test_it_travels_with_the_job_and_damage_is_noticed(self) -> None:
        job = self.signed(msgspec.structs.replace(whole(), photos=()))
        data = to_bytes(job)
        kept = log_files.packed(job.seals[0].content)
        kept.unlink()
        with self.assertRaisesRegex(Problem, "no longer on this machine"):
            sealed(job.seals[0])
        self.assertEqual(from_bytes(data, "it").seals, job.seals)
        self.assertEqual(hash_of(sealed(job.seals[0])), job.seals[0].content)
        kept.write_bytes(log_files.packed(keep(demo())).read_bytes())
        with self.assertRaisesRegex(Problem, "not what was sealed"):
            sealed(job.seals[0])
        kept.unlink()
        bad = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(bad, "w") as new:
            for name in old.namelist():
                body = old.read(name)
                new.writestr(name, body[::-1] if name.startswith("files/") else body)
        with self.assertRaisesRegex(Problem, "damaged"):
            from_bytes(bad.getvalue(), "it")

    def test_the_command_line_signs_and_tells_what_differs(self) -> None:
        path = self.home / "job.zjob"
        save(msgspec.structs.replace(whole(), photos=()), path)
        for words, said in (
            (("seal", str(path)), "Say who signs"),
            (("seal", str(path), "--by", "Ada"), "Brake cancels"),
            (("seal", "demo", "--by", "Ada"), "own file"),
            (("diff", str(path)), "Nobody has signed"),
            (("diff",), "required: JOB"),
        ):
            code, _, err = self.run_it(*words)
            self.assertEqual(code, 2, words)
            self.assertIn(said, err)
        code, out, _ = self.run_it("seal", str(path), "--by", "Ada", "--because", "towed home")
        self.assertEqual(code, 0)
        self.assertEqual(
            json.loads(out)["seal"], hash_of(msgspec.structs.replace(whole(), photos=()))
        )
        self.assertEqual(json.loads(self.run_it("diff", str(path))[1]), [])
        other = self.home / "other.zjob"
        self.run_it("edit", str(path), "--out", str(other), "--set", "vehicle.final_drive", "3.9")
        found = json.loads(self.run_it("diff", str(other))[1])
        self.assertEqual(found, ["final drive (3.64 → 3.9)"])
        self.assertEqual(json.loads(self.run_it("diff", str(path), str(other))[1]), found)


if __name__ == "__main__":
    unittest.main()
