"""Every record of the core is frozen and names its fields: nothing is changed behind one's back."""

from __future__ import annotations

import importlib
import inspect
import pkgutil
import unittest
from collections.abc import Iterator

import msgspec

import zombrel
from zombrel.job.sheet import Frozen
from zombrel.job.value import Value


def records() -> Iterator[type[msgspec.Struct]]:
    """Every record that a module below the window defines."""
    for found in pkgutil.walk_packages(zombrel.__path__, "zombrel."):
        if found.name.startswith("zombrel.ui") or found.name.endswith("__main__"):
            continue
        for thing in vars(importlib.import_module(found.name)).values():
            record = isinstance(thing, type) and issubclass(thing, msgspec.Struct)
            if record and thing.__module__ == found.name:
                yield thing


class Records(unittest.TestCase):
    def test_all_are_frozen_and_named(self) -> None:
        found = list(records())
        self.assertGreater(len(found), 80)
        for record in found:
            with self.subTest(record.__qualname__):
                self.assertTrue(record.__struct_config__.frozen)
                if issubclass(record, Frozen):
                    kinds = {p.kind for p in inspect.signature(record).parameters.values()}
                    self.assertLessEqual(kinds, {inspect.Parameter.KEYWORD_ONLY})

    def test_what_comes_from_outside_may_hold_nothing_unknown(self) -> None:
        for record in records():
            outside = record.__module__.startswith("zombrel.job.") and not issubclass(record, Value)
            if outside and record.__struct_fields__:
                self.assertTrue(record.__struct_config__.forbid_unknown_fields, record)


if __name__ == "__main__":
    unittest.main()
