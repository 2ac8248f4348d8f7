"""The toolkit's enumerations, put together in one go, are those it makes itself."""

from __future__ import annotations

import enum
import hashlib
import os
import pickle
import re
import subprocess
import sys
import unittest
from collections.abc import Iterator
from typing import Any
from unittest import mock

from zombrel.cli.enums import KNOWN, at_once


def told(value: Any) -> str:
    """All that can be said of what an enumeration holds."""
    if isinstance(value, enum.Enum):
        own = sorted((k, repr(v)) for k, v in vars(value).items())
        return f"{type(value).__qualname__} {value!r} {value} {own}"
    if isinstance(value, dict):
        return str([(repr(k), told(v)) for k, v in value.items()])
    if isinstance(value, classmethod | staticmethod):
        return f"{type(value)} {told(value.__func__)}"
    return str(getattr(value, "__qualname__", re.sub(r" at 0x\w+", "", repr(value))))


def reckoned(cls: Any) -> list[Any]:
    """What its members give together."""
    members = list(cls)
    found: list[Any] = [len(cls), members, dir(cls), cls.__module__, cls.__mro__]
    if members:
        found.append(pickle.loads(pickle.dumps(members[0])) is members[0])
        found += [cls(members[-1].value), cls[members[0].name], members[0] in cls]
    if issubclass(cls, enum.Flag) and len(members) > 1:
        a, b, *_, last = members * 2
        found += [a | b, ~a, a ^ last, a & b, cls(0), list(a | last), cls(0x40000001)]
    return found


def enumerations() -> Iterator[tuple[str, Any]]:
    """All of the toolkit that the window uses."""
    from PySide6 import QtCore, QtGui, QtWidgets

    seen: set[Any] = set()
    for module in (QtCore, QtGui, QtWidgets):
        for name in dir(module):
            cls = getattr(module, name)  # classes and what is in them are made when asked for
            for inner in dir(cls) if isinstance(cls, type) else ():
                thing = getattr(cls, inner, None)
                if isinstance(thing, enum.EnumMeta) and thing not in seen:
                    seen.add(thing)
                    yield f"{name}.{inner}", thing


def main() -> None:
    """A line for each."""
    if "at once" in sys.argv:
        at_once()
    for name, cls in enumerations():
        said = [told(v) for v in reckoned(cls)]
        said += [f"{k}: {told(v)}" for k, v in sorted(vars(cls).items())]
        print(name, len(cls.__members__), hashlib.sha256("\n".join(said).encode()).hexdigest())


class Enums(unittest.TestCase):
    def lines(self, *words: str) -> list[str]:
        done = subprocess.run(
            [sys.executable, "-m", "tests.cli.test_enums", *words],
            check=True,
            capture_output=True,
            text=True,
            env={**os.environ, "PYTHONHASHSEED": "1"},
        )
        return done.stdout.splitlines()

    def test_each_is_the_same_to_the_last_attribute(self) -> None:
        own, quick = self.lines(), self.lines("at once")
        self.assertGreater(len(own), 500)
        self.assertEqual(quick, own)

    @unittest.skipUnless(sys.version_info[:2] == KNOWN, "other versions make them as ever")
    def test_most_are_not_made_as_ever(self) -> None:
        counted = (
            "import enum, sys; made = []; own = enum.EnumMeta._create_\n"
            "enum.EnumMeta._create_ = lambda *a, **k: made.append(1) or own(*a, **k)\n"
            "from zombrel.cli.enums import at_once; at_once(); at_once()\n"
            "from PySide6.QtCore import Qt; Qt.Key; sys.exit(len(made))"
        )
        done = subprocess.run([sys.executable, "-c", counted], check=False)
        self.assertLess(done.returncode, 8)  # an empty one of each base

    def test_others_are_made_as_ever(self) -> None:
        with mock.patch.object(enum.EnumMeta, "_create_", enum.EnumMeta._create_):  # type: ignore[attr-defined]
            at_once()
            for names in (
                "red green",
                ["red", "green"],
                [("red", 1), ("green", "g")],
                [("name", 1), ("value", 2)],
                {"red": 3},
            ):
                with self.subTest(names):
                    made: Any = enum.Enum("Lamp", names)  # type: ignore[misc]
                    kept: Any = enum.Enum("Lamp", names, boundary=enum.KEEP)  # type: ignore[misc]
                    given = {k: v.value for k, v in made.__members__.items()}
                    self.assertEqual(given, {k: v.value for k, v in kept.__members__.items()})
            with self.assertRaises(TypeError):
                enum.Enum("Lamp", [("red", 1), ("red", 2)], boundary=enum.KEEP)
            with self.assertRaises(ValueError):
                enum.Enum("Lamp", [("mro", 1)], boundary=enum.KEEP)


if __name__ == "__main__":
    main()
