"""Where the program keeps what is not part of a job, and what the user likes."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from zombrel.store import prefs

XDG = ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME")


class Preferences(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.home = folder.name
        within = mock.patch.dict(os.environ, {n: f"{self.home}/{n}" for n in XDG})
        within.start()
        self.addCleanup(within.stop)

    def test_everything_lies_under_the_user_s_own_folders(self) -> None:
        for place, within, name in (
            (prefs.config_file(), "XDG_CONFIG_HOME", "prefs.json"),
            (prefs.user_sheets(), "XDG_DATA_HOME", "sheets"),
            (prefs.user_sources(), "XDG_DATA_HOME", "sources"),
            (prefs.versions_root(), "XDG_DATA_HOME", "versions"),
            (prefs.recovery_root(), "XDG_STATE_HOME", "recovery"),
            (prefs.claims_root(), "XDG_STATE_HOME", "claims"),
        ):
            self.assertEqual(place, Path(self.home) / within / "zombrel" / name)

    def test_round_trip_and_damage(self) -> None:
        self.assertEqual(prefs.load_prefs(), prefs.Prefs())
        liked = prefs.with_recent(prefs.Prefs(night=True), Path(self.home) / "a.zjob")
        prefs.save_prefs(liked)
        self.assertEqual(prefs.load_prefs(), liked)
        prefs.config_file().write_text("{broken")
        self.assertEqual(prefs.load_prefs(), prefs.Prefs())

    def test_recent_jobs_are_few_and_unique(self) -> None:
        p = prefs.Prefs()
        for i in (1, 2, 3, 1, 4, 5, 6, 7, 8, 9):
            p = prefs.with_recent(p, Path(f"/jobs/{i}.zjob"))
        self.assertEqual(len(p.recent), 8)
        self.assertEqual(p.recent[0], "/jobs/9.zjob")
        self.assertEqual(len(set(p.recent)), 8)


if __name__ == "__main__":
    unittest.main()
