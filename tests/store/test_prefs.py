"""Where the program keeps what is not part of a job."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from zombrel.store import prefs


class Places(unittest.TestCase):
    def test_everything_lies_under_the_user_s_own_folders(self) -> None:
        with tempfile.TemporaryDirectory() as home:
            names = ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME")
            with mock.patch.dict(os.environ, {n: f"{home}/{n}" for n in names}):
                for place, within, name in (
                    (prefs.config_file(), "XDG_CONFIG_HOME", "prefs.json"),
                    (prefs.user_sheets(), "XDG_DATA_HOME", "sheets"),
                    (prefs.user_sources(), "XDG_DATA_HOME", "sources"),
                    (prefs.recovery_root(), "XDG_STATE_HOME", "recovery"),
                ):
                    self.assertEqual(place, Path(home) / within / "zombrel" / name)


if __name__ == "__main__":
    unittest.main()
