"""What is asked of each job; ``record.py`` beside this makes the record and says how to read it."""

from __future__ import annotations

import functools
import itertools
import json
import unittest
from collections.abc import Callable
from typing import Any

from tests.whole.record import Change, kept, outcome, states
from zombrel.job.follow.query import forget, take_notes

AT_ONCE = 8
"""So many facts are changed by one test: mutants are tried test by test."""


@functools.cache
def record(name: str) -> dict[str, Any]:
    """The record of a job."""
    found: dict[str, Any] = json.loads(kept(name).read_text(encoding="utf-8"))
    return found


def part(path: str) -> str:
    """Which part of a job a fact belongs to."""
    return path.split(".", maxsplit=1)[0]


class AsShipped:
    """A job says what is recorded of it."""

    name = ""
    maxDiff = None

    def test_all_that_it_says(self) -> None:
        assert isinstance(self, unittest.TestCase)
        for begin in (forget, take_notes):  # read without notes, and with them
            begin()
            with self.subTest(begin.__name__):
                self.assertEqual(states(self.name), record(self.name)["as it ships"])


class Changed:
    """Each fact does what is recorded of it. Files of their own for many: they run side by side."""

    name = ""
    maxDiff = None

    def __init_subclass__(cls, parts: tuple[str, ...] = (), but: tuple[str, ...] = ()) -> None:
        """Tests for the ``parts`` of a job, or for all ``but`` some."""
        super().__init_subclass__()
        of: dict[str, list[dict[str, Any]]] = {}
        for change in record(cls.name)["changed"]:
            named = part(change["path"])
            if (named in parts or not parts) and named not in but:
                of.setdefault(named, []).append(change)
        for named, changes in of.items():
            for i in range(0, len(changes), AT_ONCE):
                few = list(itertools.islice(changes, i, i + AT_ONCE))
                setattr(cls, f"test_{named}_{i // AT_ONCE + 1}", _does(few))


def _does(changes: list[dict[str, Any]]) -> Callable[[Any], None]:
    def test(self: Any) -> None:
        for change in changes:
            with self.subTest(change["path"], value=change["value"]):
                done = outcome(Change(self.name, change["path"], change["value"]))
                self.assertEqual(done, change["does"])

    return test
