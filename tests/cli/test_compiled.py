"""Text that a library compiles at every start is compiled once."""

from __future__ import annotations

import builtins
import marshal
import re
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from zombrel.cli.compiled import beside, once

PLAIN = "def load(text): exec(compile(text, 'lib/part.py', 'exec'), made)"
TEXT = "seven = 3 + 4\ndef half(x: float) -> float: return x / 2"


def loader(first_line: str = "") -> Any:
    """A library's own way to run its parts, and what they have made."""
    made: dict[str, Any] = {}
    place: dict[str, Any] = {"made": made}
    exec(compile(f"{first_line}\n{PLAIN}", "loader", "exec", dont_inherit=True), place)
    return place["load"], made


class Once(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.kept = self.folder / "__pycache__" / "library.pyc"
        self.enterContext(mock.patch.object(sys, "dont_write_bytecode", False))

    def run_part(self, text: str = TEXT, first_line: str = "") -> tuple[dict[str, Any], int]:
        """What a part makes, and how often something was compiled for it."""
        load, made = loader(first_line)
        with (
            mock.patch.object(builtins, "compile", wraps=compile) as asked,
            once(self.kept),
        ):
            load(text)
        return made, asked.call_count

    def test_the_second_start_compiles_nothing_and_makes_the_same(self) -> None:
        for times in (1, 0, 0):
            made, compiled = self.run_part()
            self.assertEqual((made["seven"], made["half"](3.0), compiled), (7, 1.5, times))
        self.assertEqual([p.name for p in self.kept.parent.iterdir()], ["library.pyc"])

    def test_another_text_is_compiled_anew(self) -> None:
        self.run_part()
        made, compiled = self.run_part("seven = 8")
        self.assertEqual((made["seven"], compiled), (8, 1))
        self.assertEqual(self.run_part("seven = 8")[1], 0)

    def test_what_the_caller_has_of_the_future_is_inherited(self) -> None:
        for line, told in (
            ("", float),
            ("from __future__ import annotations", "float"),
            ("", float),
        ):
            with self.subTest(line):
                made, _ = self.run_part(first_line=line)
                self.assertEqual(made["half"].__annotations__["x"], told)

    def test_a_damaged_file_is_as_good_as_none(self) -> None:
        self.run_part()
        whole = self.kept.read_bytes()
        tag, modules, patterns = marshal.loads(whole)
        for damaged in (
            b"",
            whole[:-40],
            b"\0" * 50,
            marshal.dumps(7),
            marshal.dumps((b"x", modules, patterns)),
            marshal.dumps((tag, modules)),
        ):
            with self.subTest(damaged[:8]):
                self.kept.write_bytes(damaged)
                self.assertEqual([self.run_part()[1], self.run_part()[1]], [1, 0])
        self.assertEqual(marshal.loads(self.kept.read_bytes())[0], tag)

    def test_a_place_that_cannot_be_written_stops_nothing(self) -> None:
        (self.folder / "__pycache__").write_text("in the way")
        self.assertEqual(self.run_part()[0]["seven"], 7)
        with mock.patch.object(sys, "dont_write_bytecode", True):
            self.kept = self.folder / "unwanted"
            self.run_part()
        self.assertFalse(self.kept.exists())

    def test_what_is_no_module_is_left_alone(self) -> None:
        with once(self.kept):
            self.assertEqual(eval(compile("3 + 4", "x", "eval")), 7)
            with self.assertRaises(SyntaxError):
                compile("3 +", "x", "exec")
        self.assertFalse(self.kept.exists())
        self.assertIn("__pycache__", beside(__file__).parts)

    def patterns(self, asked: list[tuple[str | bytes, int]]) -> tuple[list[Any], int]:
        """The patterns that they make, and how many were compiled from their text."""
        engine: Any = re._compiler  # type: ignore[attr-defined]
        re.purge()
        with mock.patch.object(engine, "compile", wraps=engine.compile) as compiled:
            with once(self.kept):
                made = [re.compile(text, flags) for text, flags in asked]
            self.assertIs(engine.compile, compiled)
        return made, compiled.call_count

    def test_a_pattern_of_the_second_start_is_the_same(self) -> None:
        asked: list[tuple[str | bytes, int]] = [
            (r"(?P<value>\d+)\s*(?P<unit>k?Ω)?", re.IGNORECASE),
            (r"(?P<value>\d+)\s*(?P<unit>k?Ω)?", 0),
            (rb"(a|b)\1*$", re.MULTILINE),
            (r"(?i)air[\s-]?bag | \bsquib # words", re.VERBOSE),
        ]
        for compiled in (len(asked), 0):
            made, count = self.patterns(asked)
            self.assertEqual(count, compiled)
            for pattern, (text, flags) in zip(made, asked, strict=True):
                plain = re.compile(text, flags)
                self.assertEqual(pattern, plain)
                for of in ("pattern", "flags", "groups", "groupindex"):
                    self.assertEqual(getattr(pattern, of), getattr(plain, of))
        value = made[0].search("about 4 KΩ")
        self.assertEqual(value and value.groupdict(), {"value": "4", "unit": "KΩ"})
        self.assertIsNone(made[1].search("KΩ"))
        self.assertEqual(made[2].findall(b"xbb\nab"), [b"b", b"b"])
        self.assertTrue(made[3].match("AIR BAG"))

    def test_flags_by_name_are_kept_as_numbers(self) -> None:
        """As some of Python 3.13 hand them on."""
        engine: Any = re._compiler  # type: ignore[attr-defined]
        with once(self.kept):
            self.assertTrue(engine.compile("air", re.IGNORECASE).match("AIR"))
        self.assertIn(("air", int(re.IGNORECASE)), marshal.loads(self.kept.read_bytes())[2])

    def test_a_pattern_that_is_wrong_or_follows_the_locale_is_not_kept(self) -> None:
        with self.assertRaises(re.error):
            self.patterns([("(", 0)])
        self.assertFalse(self.kept.exists())
        self.patterns([(rb"\w+", re.LOCALE)])
        self.assertFalse(self.kept.exists())


if __name__ == "__main__":
    unittest.main()
