"""What failed says so."""

from __future__ import annotations

import unittest
from unittest import mock

from zombrel.job import unjudged


class Unjudged(unittest.TestCase):
    def test_a_fault_without_words_says_so(self) -> None:
        for error, said in (
            (ValueError(), "ValueError: no words"),
            (ValueError("of  two\nlines"), "ValueError: of two lines"),
        ):
            with (
                self.subTest(said),
                mock.patch.object(unjudged, "_strict", [False]),
                mock.patch.object(unjudged, "_kept", []),
            ):
                self.assertEqual(unjudged.note(error), said)


if __name__ == "__main__":
    unittest.main()
