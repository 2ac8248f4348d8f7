"""A small seeded part of ``tools/torture.py``, whose long runs find what is rare."""

from __future__ import annotations

import resource
import unittest
from pathlib import Path

from tests.torture import calls, files, kills

MOST_MEMORY = 4_000_000_000
"""What takes more beyond what is taken already fails by name, rather than the machine [bytes]."""


class Small(unittest.TestCase):
    def test_nothing_fails(self) -> None:
        was = resource.getrlimit(resource.RLIMIT_AS)
        pages = int(Path("/proc/self/statm").read_text(encoding="ascii").split()[0])
        most = pages * resource.getpagesize() + MOST_MEMORY
        resource.setrlimit(resource.RLIMIT_AS, (most, was[1]))
        self.addCleanup(resource.setrlimit, resource.RLIMIT_AS, was)
        for tries, count in ((kills.tries, 60), (files.tries, 250), (calls.tries, 1500)):
            for failed in tries(count, 7):
                if failed is not None:
                    self.fail(f"{failed.case}: {failed.why}")


if __name__ == "__main__":
    unittest.main()
