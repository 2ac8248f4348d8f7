"""The open job: saves, undo across them, two windows, files changed by others, earlier versions."""

from __future__ import annotations

import errno
import os
import re
import shutil
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from tests.demo import Put, demo, put
from zombrel.job.differences import differences, into
from zombrel.job.edits import Remove, Step, apply
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.store import claims, open_job, prefs, versions, zjob
from zombrel.store.open_job import Changed, Held, OpenJob
from zombrel.store.recovery import Found, left_behind
from zombrel.units import CUSTOMARY, METRIC, Units, words

XDG = ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME")


def note(text: str) -> Step:
    return Step(label=f"note {text}", edit=Put(path="notes", value=text))


class AtHome(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.home = Path(folder.name)
        within = mock.patch.dict(os.environ, {n: str(self.home / n) for n in XDG})
        within.start()
        self.addCleanup(within.stop)
        self.path = self.home / "2024 job.zjob"
        zjob.save(demo(), self.path)

    def opened(self) -> OpenJob:
        desk = OpenJob()
        desk.open(self.path)
        self.addCleanup(desk.close)
        return desk

    def kill(self, desk: OpenJob) -> None:
        """As when the process is gone: locks go, files stay."""
        if desk._journal is not None:
            desk._journal.leave()
            desk._journal = None
        if desk._claim is not None:
            desk._claim.lock.end()
            desk._claim = None

    def brought_back(self) -> OpenJob | None:
        found = left_behind(prefs.recovery_root())
        if not found:
            return None
        (one,) = found
        assert isinstance(one, Found)
        desk = OpenJob()
        desk.recover(one)
        self.addCleanup(desk.close)
        return desk


class Killed(AtHome):
    def test_undo_across_a_save(self) -> None:
        desk = self.opened()
        desk.do(note("one"))
        desk.save()
        desk.undo()
        self.kill(desk)
        again = self.brought_back()
        assert again is not None
        self.assertEqual(again.history, desk.history)
        self.assertEqual((again.job.notes, again.dirty), (demo().notes, True))
        again.redo()
        self.assertEqual((again.job.notes, again.dirty), ("one", False))
        again.undo()
        again.undo()  # nothing is left to undo
        again.do(note("two"))
        self.kill(again)
        third = self.brought_back()
        assert third is not None
        self.assertEqual(third.history, again.history)
        third.save()
        self.kill(third)
        self.assertIsNone(self.brought_back())
        self.assertEqual(zjob.load(self.path).notes, "two")

    def test_killed_anywhere_in_a_long_session(self) -> None:
        """Written anew when it grew long, saved under other names, undone to the bottom."""
        desk = self.opened()
        with mock.patch("zombrel.store.journal.LONG", 20):
            for i in range(90):
                desk.do(note(str(i)))
                if i % 4 == 1:
                    desk.undo()
                if i == 30:
                    desk.save(self.home / "other.zjob")
                if i % 17 == 3:
                    self.kill(desk)
                    again = self.brought_back()
                    assert again is not None
                    self.assertEqual(again.history, desk.history)
                    self.assertEqual(again.path, desk.path)
                    desk = again

    def test_bringing_back_on_a_full_disk_keeps_the_old_copy(self) -> None:
        desk = self.opened()
        desk.do(note("one"))
        self.kill(desk)
        full = OSError(errno.ENOSPC, "No space left on device")
        with mock.patch("zombrel.store.atomic.os.fsync", side_effect=full):
            again = self.brought_back()
            assert again is not None
            self.assertEqual(again.job.notes, "one")
            self.assertIn("No space left", again.not_kept)
            again.do(note("two"))
            self.assertIn("No space left", again.not_kept)
        held = len(list(prefs.recovery_root().iterdir()))
        self.assertEqual(held, 1)  # the one that was left behind
        self.assertTrue(again.try_again())
        self.kill(again)
        third = self.brought_back()
        assert third is not None
        self.assertEqual(third.history, again.history)

    def test_a_journal_whose_folder_is_gone_begins_anew(self) -> None:
        desk = self.opened()
        desk.do(note("one"))
        shutil.rmtree(prefs.recovery_root())
        desk.do(note("two"))
        self.assertTrue(desk.not_kept)
        desk.do(note("three"))
        self.assertFalse(desk.not_kept)
        self.kill(desk)
        again = self.brought_back()
        assert again is not None
        self.assertEqual(again.history, desk.history)

    def test_a_step_may_be_as_if_it_had_never_been(self) -> None:
        desk = self.opened()
        desk.do(note("one"))
        desk.do(note("undone"))
        desk.undo()
        before = desk.history
        desk.do(note("two"))
        desk.go_back_to(before)
        self.assertEqual(desk.job.notes, "one")
        self.assertEqual([s.label for s, _ in desk.history.future], ["note undone"])
        self.kill(desk)
        again = self.brought_back()
        assert again is not None
        self.assertEqual(again.history, desk.history)

    def test_what_no_file_can_keep_is_refused(self) -> None:
        desk = self.opened()
        before = desk.history
        for step in (
            note("lone half \ud800"),
            Step(label="x", edit=Remove(path="sources.ring")),  # chains lead from it
        ):
            with self.assertRaises(Problem):
                desk.do(step)
            self.assertIs(desk.history, before)


class Shared(AtHome):
    def test_a_second_window_reads_or_takes_over(self) -> None:
        first, second = self.opened(), OpenJob()
        self.addCleanup(second.close)
        with self.assertRaisesRegex(
            Held, rf"another Zombrel window \(process {os.getpid()}, since"
        ):
            second.open(self.path)
        self.assertEqual(second.job, Job())
        second.open(self.path, "read")
        for change in (lambda: second.do(note("x")), second.save, second.undo):
            with self.assertRaisesRegex(Problem, "to read only. Nothing can be changed here"):
                change()
        second.save(self.home / "copy.zjob")
        second.do(note("mine"))
        second.open(self.path, "take over")
        second.do(note("second"))
        second.save()
        with self.assertRaisesRegex(Problem, "taken this job over"):
            first.do(note("first"))
        with self.assertRaises(Problem):
            first.save()
        self.assertEqual(zjob.load(self.path).notes, "second")
        first.save(self.home / "first.zjob")
        second.close()
        third = self.opened()
        third.do(note("third"))

    def test_a_killed_window_holds_nothing(self) -> None:
        first = self.opened()
        self.kill(first)
        self.opened().do(note("x"))

    def test_a_file_changed_meanwhile_is_not_overwritten_unasked(self) -> None:
        desk = self.opened()
        desk.do(note("mine"))
        zjob.save(put(demo(), "wires.W1.length_m", 2.0), self.path)
        with self.assertRaises(Changed) as raised:
            desk.save()
        said = words(str(raised.exception), METRIC)
        self.assertRegex(said, r"wire W1, length \(5\.2.m → 2.m\)")
        self.assertEqual(zjob.load(self.path).wires[0].length_m, 2.0)
        desk.save(over=True)
        self.assertEqual(zjob.load(self.path).notes, "mine")
        kept = versions.versions(prefs.versions_root(), self.path)
        self.assertEqual(
            [zjob.load(v.file).wires[0].length_m for v in kept], [5.2, 2.0]
        )  # theirs is not lost either
        self.path.write_bytes(b"noise")
        desk.do(note("again"))
        with self.assertRaisesRegex(Changed, "no longer be read"):
            desk.save()
        self.path.unlink()
        desk.save()
        self.assertEqual(zjob.load(self.path).notes, "again")

    def test_the_last_five_versions(self) -> None:
        desk = self.opened()
        for i in range(8):
            desk.do(note(str(i)))
            desk.save()
            desk.save()  # the same again is not another version
        kept = versions.versions(prefs.versions_root(), self.path)
        self.assertEqual([zjob.load(v.file).notes for v in kept], ["7", "6", "5", "4", "3"])
        desk.do(Step(label="back", edit=into(desk.job, zjob.load(kept[-1].file))))
        self.assertEqual(desk.job.notes, "3")
        desk.undo()
        self.assertEqual(desk.job.notes, "7")

    def test_a_save_that_reached_the_disk_did_not_fail(self) -> None:
        desk = self.opened()
        desk.do(note("one"))
        broken = OSError(errno.EIO, "Input/output error")
        with (
            mock.patch("zombrel.store.atomic.os.open", side_effect=broken),
            mock.patch("zombrel.store.versions.write_atomically", side_effect=Problem("full")),
        ):
            desk.save()
        self.assertEqual(zjob.load(self.path).notes, "one")
        self.assertFalse(desk.dirty)

    def test_a_link_stays_a_link(self) -> None:
        link = self.home / "link.zjob"
        link.symlink_to(self.path)
        os.chmod(self.path, 0o640)
        zjob.save(put(demo(), "notes", "through"), link)
        self.assertTrue(link.is_symlink())
        self.assertEqual(zjob.load(self.path).notes, "through")
        self.assertEqual(self.path.stat().st_mode & 0o777, 0o640)


class Differ(unittest.TestCase):
    def told(self, old: Job, new: Job, most: int = 8, units: Units = METRIC) -> tuple[str, ...]:
        told = (words(line, units) for line in differences(old, new, most))
        return tuple(re.sub(r"[\u00a0\u202f]", " ", line) for line in told)

    def test_every_figure_says_its_unit_in_the_users(self) -> None:
        old = put(demo(), "vehicle.lamps", "filament")
        for path, value, metric, customary in (
            ("vehicle.top_mps", 60.0, "top speed (200.0 km/h → 216.0 km/h)", "134.2 mph)"),
            ("vehicle.idle_rps", 14.0, "idle (850 rpm → 840 rpm)", "840 rpm)"),
            ("vehicle.tank_l", 60.0, "tank (55.0 l → 60.0 l)", "15.9 gal (US))"),
            ("vehicle.chassis", 12345678, "→ 12345678)", "12345678)"),
            ("vehicle.final_drive", 3.9, "→ 3.9)", "3.9)"),
            ("vehicle.lamps", "led", "tail lamps (bulbs → LED)", "LED)"),
            ("vehicle.wheel_airbag", True, "airbag in the wheel (no → yes)", "yes)"),
            ("house.conductor_max_k", 378.15, "(85 °C → 105 °C)", "221 °F)"),
            ("house.direct_above_a", 12.0, "(10 A → 12 A)", "12 A)"),
            ("wires.W3.area_mm2", 1.5, "section (0.75 mm² → 1.5 mm²)", "AWG 14)"),
            ("feeds.F7.fuse_a", None, "→ unknown)", "unknown)"),
        ):
            with self.subTest(path):
                for units, wanted in ((METRIC, metric), (CUSTOMARY, customary)):
                    (said,) = self.told(old, put(old, path, value), units=units)
                    self.assertTrue(said.endswith(wanted), said)

    def test_in_words(self) -> None:
        old = demo()
        new = put(put(old, "wires.W1.length_m", 9.0), "vehicle.tyre", "195/65 R15")
        new = apply(
            put(new, "notes", "a long text that is not repeated here"), Remove(path="studs.G3")
        )
        said = (
            "tyres (205/60 R15 → 195/65 R15)",
            "wire W1, length (5.2 m → 9 m)",
            "Lift bracket, painted: gone",
            "notes",
        )
        self.assertEqual(self.told(old, new), said)
        self.assertEqual(differences(new, old)[2], "Lift bracket, painted: new")
        self.assertEqual(self.told(old, new, 2), (*said[:2], "and 2 more"))
        self.assertEqual(differences(old, old), ())
        self.assertEqual(apply(old, into(old, new)), new)


class Unclaimed(unittest.TestCase):
    def setUp(self) -> None:
        self.home = Path(self.enterContext(tempfile.TemporaryDirectory()))
        deep = {n: str(self.home / "new" / n) for n in ("XDG_DATA_HOME", "XDG_STATE_HOME")}
        self.enterContext(mock.patch.dict(os.environ, deep))

    def test_a_place_that_could_not_be_written_is_claimed_no_longer(self) -> None:
        desk = OpenJob()
        self.addCleanup(desk.close)
        desk.start(Job(number="1"))
        own, other = self.home / "own.zjob", self.home / "other.zjob"
        desk.save(own)
        failing = mock.patch.object(open_job, "write_atomically", side_effect=Problem("full"))
        for path, held in ((other, False), (own, True)):
            with self.subTest(path.name):
                with failing, self.assertRaisesRegex(Problem, "full"):
                    desk.save(path)
                claimed = claims.claim(prefs.claims_root(), path)
                self.assertEqual(isinstance(claimed, claims.Holder), held)
                if isinstance(claimed, claims.Claim):
                    claimed.end()


if __name__ == "__main__":
    unittest.main()
