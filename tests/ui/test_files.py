"""Files as the user meets them: two windows, a changed file, versions, no room for recovery."""

from __future__ import annotations

import unittest
from typing import Any
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QAbstractButton, QFileDialog, QMenu

from tests.demo import Put, demo, put
from tests.ui.base import WindowTest
from zombrel.catalog import DATA
from zombrel.store import prefs, zjob
from zombrel.store.journal import Event, Journal
from zombrel.store.open_job import OpenJob
from zombrel.store.recovery import left_behind


class Files(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.path = self.home / "shop.zjob"
        zjob.save(demo(), self.path)

    def answer(self, reply: str) -> Any:
        return mock.patch("zombrel.ui.widgets.ask.ask", return_value=reply)

    def note(self, text: str) -> bool:
        return self.session.do(f"note {text}", Put(path="notes", value=text))

    def menu(self) -> list[str]:
        self.press("Job file menu")
        menu = self.window.findChildren(QMenu)[-1]
        words = [a.text() for a in menu.actions() if a.text()]
        menu.close()
        return words

    def test_shipped_jobs_open_without_a_file_and_are_saved_elsewhere(self) -> None:
        program = DATA.parents[1]
        before = {
            p: p.stat().st_mtime_ns for p in program.rglob("*") if "__pycache__" not in str(p)
        }
        shipped = sorted(DATA.rglob("*.zjob"))
        self.assertGreater(len(shipped), 20)
        for path in shipped:
            with self.subTest(path.name):
                self.window.files.open_path(path)
                self.assertIsNone(self.session.path)
                self.assertTrue(self.note("mine"))
                target = self.home / f"mine-{path.name}"
                for chosen in (path, target):  # the first place belongs to the program
                    name = mock.patch.object(
                        QFileDialog, "getSaveFileName", return_value=(str(chosen), "")
                    )
                    with name:
                        self.key(Qt.Key.Key_S, self.window, ctrl=True)
                    self.assertEqual(self.session.path, target if chosen == target else None)
                self.assertTrue(target.exists())
        after = {p: p.stat().st_mtime_ns for p in program.rglob("*") if "__pycache__" not in str(p)}
        self.assertEqual(after, before)

    def test_long_logs_are_packed_and_read_aside_or_given_up(self) -> None:
        with mock.patch.multiple("zombrel.ui.job_files", LARGE=-1, LARGE_BYTES=0):
            self.window.files.open_path(self.path)
            self.assertEqual(self.session.path, self.path)
            self.note("kept")
            self.key(Qt.Key.Key_S, self.window, ctrl=True)
            self.assertEqual(zjob.load(self.path).notes, "kept")
            with mock.patch.object(self.window.files._background, "run", return_value=None):
                self.note("not kept")
                self.assertFalse(self.window.files.save())
                self.assertIn("Not saved: it was given up", self.said())
                self.window.files._open(self.path, "read")
                self.assertIn("Not opened: it was given up", self.said())
            self.path.write_bytes(b"no job")
            self.window.files._open(self.path, "read")
            self.assertIn("shop.zjob", self.said())
        self.assertTrue(self.session.dirty)

    def test_what_is_entered_while_logs_are_packed_or_read_is_not_lost(self) -> None:
        files = self.window.files
        run, late = files._background.run, iter(("late", "later"))

        def slowly(words: str, work: Any) -> Any:
            done = run(words, work)
            text = next(late, "")
            if text:
                self.note(text)
            return done

        with mock.patch.multiple("zombrel.ui.job_files", LARGE=-1, LARGE_BYTES=0):
            files.open_path(self.path)
            with mock.patch.object(files._background, "run", slowly):
                self.assertTrue(files.save())
                self.assertEqual((zjob.load(self.path).notes, self.session.dirty), ("later", False))
                late = iter(("last",))
                with self.answer("Stay") as asked:
                    files.open_path(self.path)
            self.assertIn("not saved", asked.call_args[0][2])
            self.assertEqual((self.job.notes, self.session.dirty), ("last", True))

    def test_a_job_that_another_window_has(self) -> None:
        other = OpenJob()
        other.open(self.path)
        self.addCleanup(other.close)
        with self.answer("Leave it"):
            self.window.files.open_path(self.path)
        self.assertIsNone(self.session.path)
        with self.answer("Open it to read") as asked:
            self.window.files.open_path(self.path)
        self.assertIn("another Zombrel window (process", asked.call_args[0][2])
        self.settle()
        self.assertIn("to read only", self.texts())
        self.assertFalse(self.note("x"))
        self.assertIn("take it over (Job file menu)", self.said())
        self.assertIn("Take this job over from the other window", self.menu())
        self.window.actions_.all["take-over"].run()
        self.settle()
        self.assertNotIn("to read only", self.texts())
        self.assertTrue(self.note("mine"))
        self.key(Qt.Key.Key_S, self.window, ctrl=True)
        self.assertEqual(zjob.load(self.path).notes, "mine")
        self.assertNotIn("Take this job over from the other window", self.menu())

    def test_a_file_changed_by_another(self) -> None:
        self.window.files.open_path(self.path)
        self.note("mine")
        zjob.save(put(demo(), "vehicle.tyre", "195/65 R15"), self.path)
        with self.answer("Not now") as asked:
            self.key(Qt.Key.Key_S, self.window, ctrl=True)
        self.assertIn("Changed there: tyres (205/60 R15 → 195/65 R15)", asked.call_args[0][2])
        self.assertEqual(zjob.load(self.path).notes, demo().notes)
        with self.answer("Overwrite it"):
            self.key(Qt.Key.Key_S, self.window, ctrl=True)
        self.assertEqual(zjob.load(self.path).notes, "mine")

    def test_back_to_an_earlier_version(self) -> None:
        self.assertNotIn("Earlier versions of this job", self.menu())
        self.window.files.earlier()
        self.assertIn("save it first", self.said())
        self.window.files.open_path(self.path)
        for text in ("first", "second"):
            self.note(text)
            self.key(Qt.Key.Key_S, self.window, ctrl=True)
        self.assertIn("Earlier versions of this job", self.menu())
        self.window.files.earlier()
        dialog = self.dialog()
        self.assertEqual(self.texts(dialog).count("notes (second → first)"), 1)
        self.assertIn("The same as what is open.", self.texts(dialog))
        ways = [b for b in dialog.findChildren(QAbstractButton) if b.text() == "Go back to it"]
        self.assertEqual([b.isEnabled() for b in ways], [False, True])
        ways[1].click()
        self.settle()
        self.assertEqual(self.job.notes, "first")
        self.assertEqual(zjob.load(self.path).notes, "second")
        self.key(Qt.Key.Key_Z, self.window, ctrl=True)
        self.assertEqual(self.job.notes, "second")

    def test_no_room_for_recovery_is_a_standing_mark_and_ends_by_itself(self) -> None:
        root = prefs.recovery_root()
        root.parent.mkdir(parents=True, exist_ok=True)
        root.write_text("a file where the folder should be")
        self.assertTrue(self.note("x"))
        self.settle()
        self.assertIn("No recovery is being kept", self.texts())
        self.press("No recovery is being kept")
        self.assertIn("What you enter is only on screen", self.said())
        root.unlink()
        self.session._try_again()  # as its clock does every few seconds
        self.settle()
        self.assertNotIn("No recovery is being kept", self.texts())
        self.assertTrue(self.session.desk._journal)

    def test_what_cannot_be_brought_back_is_named_and_kept(self) -> None:
        for damage in ("whole", "part", "nothing"):
            desk = OpenJob()
            desk.start(demo())
            for text in ("one", "two"):
                desk.do(step(text))
            journal = desk._journal
            assert isinstance(journal, Journal)
            journal.write(Event(draft=("vehicle.tyre", "1")))
            journal.leave()
            log = journal.folder / "journal"
            if damage == "part":
                log.write_bytes(log.read_bytes().replace(b'"two"', b'"TWO"'))
            elif damage == "nothing":
                next(journal.folder.glob("base*")).unlink()
        with self.answer("Bring back what is here") as asked:
            self.window.files.offer_recovery()
        asked_for = [call[0][2] for call in asked.call_args_list]
        self.assertEqual(sum("Not all of it: line" in words for words in asked_for), 1)
        self.assertIn("is missing. Nothing was thrown away; it is kept in", self.said())
        kept = sorted(p.name[:6] for p in prefs.recovery_root().iterdir())
        self.assertIn("aside-", kept)
        for one in left_behind(prefs.recovery_root()):
            one.lock.end()  # type: ignore[union-attr]


def step(text: str) -> Any:
    from zombrel.job.edits import Step

    return Step(label=text, edit=Put(path="notes", value=text))


if __name__ == "__main__":
    unittest.main()
