"""A small seeded part of ``tools/torture.py``, whose long runs find what is rare."""

from __future__ import annotations

import unittest

from tests.torture import calls, files, kills


class Small(unittest.TestCase):
    def test_nothing_fails(self) -> None:
        for tries, count in ((kills.tries, 60), (files.tries, 250), (calls.tries, 1500)):
            for failed in tries(count, 7):
                if failed is not None:
                    self.fail(f"{failed.case}: {failed.why}")


if __name__ == "__main__":
    unittest.main()
