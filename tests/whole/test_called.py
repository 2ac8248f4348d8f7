"""Every function of the core that can be called gives what it gave."""

from __future__ import annotations

import functools
import unittest

from tests.whole.called import PACKAGES, again, record


class Called(unittest.TestCase):
    """What differs is looked at (``python -m tests.whole.called NAME``), then written anew."""

    def check(self, package: str) -> None:
        kept = record()
        now = again(package, kept)
        self.assertTrue(now)
        for name in now | {k: "" for k in kept if k.startswith(f"{package}.")}:
            with self.subTest(name):
                self.assertEqual(now.get(name), kept[name][1])


for _package in PACKAGES:
    setattr(Called, f"test_{_package}", functools.partialmethod(Called.check, _package))


if __name__ == "__main__":
    unittest.main()
