"""What is asked of each job; ``record.py`` beside this makes the record and says how to read it."""

from __future__ import annotations

import json
import unittest
from typing import Any

from tests.whole.record import Change, kept, outcome, states
from zombrel.job.follow.query import forget, take_notes


class AsRecorded:
    """A job says what is recorded of it. A class of its own, in a file of its own, for each job."""

    name = ""
    maxDiff = None

    @property
    def told(self) -> dict[str, Any]:
        """The record."""
        found: dict[str, Any] = json.loads(kept(self.name).read_text(encoding="utf-8"))
        return found

    def test_all_that_it_says(self) -> None:
        assert isinstance(self, unittest.TestCase)
        for begin in (forget, take_notes):  # read without notes, and with them
            begin()
            with self.subTest(begin.__name__):
                self.assertEqual(states(self.name), self.told["as it ships"])

    def test_what_each_fact_does(self) -> None:
        assert isinstance(self, unittest.TestCase)
        for change in self.told["changed"]:
            with self.subTest(change["path"], value=change["value"]):
                done = outcome(Change(self.name, change["path"], change["value"]))
                self.assertEqual(done, change["does"])
