"""The journal: killed at any moment, everything entered comes back."""

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
from zombrel.store import prefs
from zombrel.store.recovery import Event, Journal, discard, left_behind

WRITER = """
import sys, time
from pathlib import Path
from tests.demo import demo, Put
from zombrel.job.edits import Step
from zombrel.store.recovery import Event, Journal
journal = Journal(Path(sys.argv[1]), demo(), Path("/jobs/0412.zjob"))
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

    def leave(self, *events: Event, unsaved: bool = False) -> Path:
        """A journal as a killed program leaves it: written, not closed, lock gone."""
        journal = Journal(self.root, demo(), None)
        if unsaved:
            journal.rebase(demo(), None, unsaved=True)
        for event in events:
            journal.write(event)
        journal._stream.close()
        return journal.folder

    def test_edits_undo_and_redo_are_replayed(self) -> None:
        self.leave(
            Event(do=put_length(2.0)),
            Event(do=put_length(3.0)),
            Event(move="undo"),
            Event(do=Step(label="note", edit=Put(path="notes", value="x"))),
            Event(move="undo"),
            Event(move="redo"),
        )
        (found,) = left_behind(self.root)
        want = put(put(demo(), "wires.W1.length_m", 2.0), "notes", "x")
        self.assertEqual(found.history.present, want)
        self.assertEqual([label for label, _ in found.history.past], ["length 2.0", "note"])
        self.assertEqual((found.title, found.path), (demo().title, None))

    def test_a_half_written_line_costs_only_itself(self) -> None:
        folder = self.leave(Event(do=put_length(2.0)), Event(do=put_length(3.0)))
        log = folder / "edits.jsonl"
        whole = log.read_bytes()
        for cut in range(len(whole) // 2 + 2, len(whole)):
            log.write_bytes(whole[:cut])
            (found,) = left_behind(self.root)
            self.assertIn(found.history.present.wires[0].length_m, (2.0, 3.0))

    def test_what_was_being_typed(self) -> None:
        self.leave(Event(draft=("vehicle.tyre", "195/65 R1")))
        (found,) = left_behind(self.root)
        self.assertEqual(found.draft, ("vehicle.tyre", "195/65 R1"))

    def test_nothing_to_bring_back(self) -> None:
        self.leave()
        self.assertEqual(left_behind(self.root), [])
        self.assertEqual(list(self.root.iterdir()), [])
        self.leave(unsaved=True)
        self.assertEqual(len(left_behind(self.root)), 1)

    def test_a_living_program_keeps_its_own(self) -> None:
        journal = Journal(self.root, demo(), None)
        journal.write(Event(do=put_length(2.0)))
        self.assertEqual(left_behind(self.root), [])
        journal.close()
        self.assertEqual(list(self.root.iterdir()), [])

    def test_saving_starts_anew(self) -> None:
        journal = Journal(self.root, demo(), None)
        journal.write(Event(do=put_length(2.0)))
        journal.rebase(put(demo(), "wires.W1.length_m", 2.0), Path("/x.zjob"))
        journal._stream.close()
        self.assertEqual(left_behind(self.root), [])

    def test_damage_is_thrown_away_quietly(self) -> None:
        folder = self.leave(Event(do=put_length(2.0)))
        (folder / "base.zjob").write_bytes(b"noise")
        self.assertEqual(left_behind(self.root), [])

    def test_discard(self) -> None:
        self.leave(Event(do=put_length(2.0)))
        (found,) = left_behind(self.root)
        discard(found)
        self.assertEqual(left_behind(self.root), [])

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
            (found,) = left_behind(self.root)
            self.assertGreaterEqual(found.history.present.wires[0].length_m, 1.0 + acknowledged)
            self.assertEqual(found.path, Path("/jobs/0412.zjob"))
            discard(found)


class Preferences(unittest.TestCase):
    def test_round_trip_and_damage(self) -> None:
        with tempfile.TemporaryDirectory() as home:
            old = {k: os.environ.get(k) for k in ("HOME", "XDG_CONFIG_HOME")}
            os.environ.update(HOME=home, XDG_CONFIG_HOME=home)
            try:
                self.assertEqual(prefs.load_prefs(), prefs.Prefs())
                liked = prefs.with_recent(prefs.Prefs(night=True), Path(home) / "a.zjob")
                prefs.save_prefs(liked)
                self.assertEqual(prefs.load_prefs(), liked)
                prefs.config_file().write_text("{broken")
                self.assertEqual(prefs.load_prefs(), prefs.Prefs())
            finally:
                for key, value in old.items():
                    if value is None:
                        os.environ.pop(key, None)
                    else:
                        os.environ[key] = value

    def test_recent_jobs_are_few_and_unique(self) -> None:
        p = prefs.Prefs()
        for i in (1, 2, 3, 1, 4, 5, 6, 7, 8, 9):
            p = prefs.with_recent(p, Path(f"/jobs/{i}.zjob"))
        self.assertEqual(len(p.recent), 8)
        self.assertEqual(p.recent[0], "/jobs/9.zjob")
        self.assertEqual(len(set(p.recent)), 8)


if __name__ == "__main__":
    unittest.main()
