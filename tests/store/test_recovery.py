"""The journal: killed at any moment, everything entered comes back, and nothing is lost unread."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from tests.demo import Put, demo, put
from zombrel.job.edits import Step
from zombrel.job.history import History
from zombrel.store.journal import Event, Header, Journal, Saved, line
from zombrel.store.recovery import ASIDE, Found, Unread, discard, left_behind, put_aside
from zombrel.store.zjob import to_bytes

WRITER = """
import sys, time
from pathlib import Path
from tests.demo import demo, Put
from zombrel.job.edits import Step
from zombrel.job.history import History
from zombrel.store.journal import Event, Journal
journal = Journal.begin(Path(sys.argv[1]), History(present=demo()), Path("/jobs/0412.zjob"), None)
for i in range(1000000):
    journal.write(Event(do=Step(label=str(i), edit=Put(path="wires.W1.length_m", value=1.0 + i))))
    print(i, flush=True)
"""


def put_length(x: float) -> Step:
    return Step(label=f"length {x}", edit=Put(path="wires.W1.length_m", value=x))


class Recovery(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.root = Path(folder.name)

    def leave(self, *events: Event) -> Path:
        """A journal as a killed program leaves it: written, not closed, lock gone."""
        journal = Journal.begin(self.root, History(present=demo()), None, None)
        for event in events:
            journal.write(event)
        journal.leave()
        return journal.folder

    def found(self) -> Found:
        (one,) = left_behind(self.root)
        assert isinstance(one, Found), one
        one.lock.end()
        return one

    def test_edits_undo_and_redo_are_replayed(self) -> None:
        note = Step(label="note", edit=Put(path="notes", value="x"))
        self.leave(
            Event(do=put_length(2.0)),
            Event(do=put_length(3.0)),
            Event(move="undo"),
            Event(do=note),
            Event(move="undo"),
            Event(move="redo"),
            Event(do=put_length(4.0)),
            Event(move="undo"),
        )
        found = self.found()
        want = put(put(demo(), "wires.W1.length_m", 2.0), "notes", "x")
        self.assertEqual(found.history.present, want)
        self.assertEqual([s.label for s, _ in found.history.past], ["length 2.0", "note"])
        self.assertEqual([s.label for s, _ in found.history.future], ["length 4.0"])
        self.assertEqual((found.title, found.path, found.steps), (f"0412 {demo().title}", None, 3))

    def test_a_journal_written_anew_replays_to_the_same(self) -> None:
        history = History(present=demo())
        for x in (2.0, 3.0, 4.0):
            history = history.do(put_length(x))
        history = history.undo()
        for in_file in (history.oldest, history.present, history.future[0][1], None):
            saved = None if in_file is None else Saved(in_file, "/jobs/a.zjob", "0" * 64)
            journal = Journal.begin(self.root, history, None, saved)
            journal.rewrite(history, None, saved)
            journal.leave()
            if in_file is history.present:
                self.assertEqual(left_behind(self.root), [])  # all of it lies in the file
                continue
            found = self.found()
            self.assertEqual(found.history, history)
            self.assertEqual(found.saved, saved)
            discard(found)

    def test_a_half_written_line_costs_only_itself(self) -> None:
        folder = self.leave(Event(do=put_length(2.0)), Event(do=put_length(3.0)))
        log = folder / "journal"
        whole = log.read_bytes()
        for cut in range(len(whole) - len(line(Event(do=put_length(3.0)))), len(whole)):
            log.write_bytes(whole[:cut])
            found = self.found()
            want = 3.0 if cut == len(whole) - 1 else 2.0  # only the end of the line is missing
            self.assertEqual((found.history.present.wires[0].length_m, found.lost), (want, ""))

    def test_a_damaged_line_keeps_all_before_it_and_the_folder(self) -> None:
        folder = self.leave(*(Event(do=put_length(x)) for x in (2.0, 3.0, 4.0)))
        log = folder / "journal"
        lines = log.read_bytes().split(b"\n")
        lines[2] = lines[2].replace(b"3.0", b"8.0")  # still JSON, no longer what was entered
        log.write_bytes(b"\n".join(lines))
        found = self.found()
        self.assertEqual(found.history.present.wires[0].length_m, 2.0)
        self.assertIn("line 3 of 4 is damaged", found.lost)
        discard(found)
        self.assertEqual([p.name for p in self.root.iterdir()], [ASIDE + folder.name])
        self.assertEqual(left_behind(self.root), [])

    def test_what_cannot_be_read_is_named_and_hides_nothing_else(self) -> None:
        cases = {}
        for name in ("no base", "base damaged", "no journal", "first line", "newer"):
            folder = self.leave(Event(do=put_length(2.0)))
            base = next(folder.glob("base-*"))
            if name == "no base":
                base.unlink()
            elif name == "base damaged":
                base.write_bytes(base.read_bytes()[:-9] + b"!" * 9)
            elif name == "no journal":
                (folder / "journal").unlink()
            elif name == "first line":
                (folder / "journal").write_bytes(b"00000000 {}\n")
            else:
                (folder / "journal").write_bytes(line(Header(format=99, base=base.name[5:-5])))
            cases[folder] = name
        good = self.leave(Event(do=put_length(5.0)))
        said = {}
        for one in left_behind(self.root):
            if isinstance(one, Found):
                self.assertEqual(one.folder, good)
                one.lock.end()
                continue
            self.assertIsInstance(one, Unread)
            said[cases[one.folder]] = one.why
            self.assertTrue(put_aside(one).is_dir())
        self.assertEqual(len(said), 5)
        self.assertRegex(said["no base"], r"base-\w+\.zjob is missing")
        self.assertIn("grew from is damaged", said["base damaged"])
        self.assertIn("journal is missing", said["no journal"])
        self.assertIn("first line of its journal is damaged", said["first line"])
        self.assertIn("newer Zombrel", said["newer"])

    def test_the_old_copy_goes_only_once_the_new_one_reads_back_whole(self) -> None:
        history = History(present=demo()).do(put_length(2.0))
        for damaged in (False, True):
            old = self.leave(Event(do=put_length(2.0)))
            new = Journal.begin(self.root, history, None, None, old.name)
            new.leave()
            if damaged:
                next(new.folder.glob("base*")).unlink()
            left = left_behind(self.root)
            kept = {x.folder for x in left if isinstance(x, Found)}
            self.assertEqual(kept, {old} if damaged else {new.folder})
            self.assertEqual(old.exists(), damaged)
            for one in left:
                if isinstance(one, Found):
                    discard(one)

    def test_what_was_being_typed(self) -> None:
        self.leave(Event(draft=("vehicle.tyre", "195/65 R1")))
        self.assertEqual(self.found().draft, ("vehicle.tyre", "195/65 R1"))

    def test_nothing_to_bring_back(self) -> None:
        self.leave()
        self.assertEqual(left_behind(self.root), [])
        self.assertEqual(list(self.root.iterdir()), [])

    def test_a_living_program_keeps_its_own(self) -> None:
        journal = Journal.begin(self.root, History(present=demo()), None, None)
        journal.write(Event(do=put_length(2.0)))
        self.assertEqual(left_behind(self.root), [])
        journal.close()
        self.assertEqual(list(self.root.iterdir()), [])

    def test_a_save_that_reached_the_disk_asks_nothing(self) -> None:
        """Killed after the file was written and before the journal says so."""
        place = self.root.parent / f"{self.root.name}.zjob"
        self.addCleanup(place.unlink, missing_ok=True)
        job = put(demo(), "wires.W1.length_m", 2.0)
        data = to_bytes(job)
        from zombrel.store.atomic import digest

        saving = Event(saving=(str(place), digest(data)))
        for reached in (False, True):
            self.leave(Event(do=put_length(2.0)), saving)
            if reached:
                place.write_bytes(data)
                self.assertEqual(left_behind(self.root), [])
            else:
                discard(self.found())

    def test_killed_in_the_middle_of_writing(self) -> None:
        """kill -9 while edits stream in: every edit acknowledged is there again."""
        for wait in (3, 25):
            child = subprocess.Popen(
                [sys.executable, "-c", WRITER, str(self.root)],
                stdout=subprocess.PIPE,
                text=True,
                env={**os.environ},
            )
            assert child.stdout is not None
            last = -1
            for _ in range(wait):
                last = int(child.stdout.readline())
            os.kill(child.pid, signal.SIGKILL)
            rest = child.stdout.read().split()
            child.wait()
            child.stdout.close()
            acknowledged = int(rest[-1]) if rest else last
            found = self.found()
            self.assertGreaterEqual(found.history.present.wires[0].length_m, 1.0 + acknowledged)
            self.assertEqual(found.path, Path("/jobs/0412.zjob"))
            discard(found)


if __name__ == "__main__":
    unittest.main()
