"""Where functions of the core turn, they give what they gave; see ``bounds.py`` beside this."""

from __future__ import annotations

import functools
import unittest

from tests.whole.bounds import again, record
from tests.whole.called import PACKAGES


class Bounds(unittest.TestCase):
    """What differs is looked at, then written anew (``python -m tests.whole.bounds``)."""

    def check(self, package: str) -> None:
        kept = {k: v for k, v in record().items() if k.startswith(f"{package}.")}
        now = again(package, kept)
        for name, some in kept.items():
            for i, (turn, slot, number, said) in enumerate(some):
                with self.subTest(name, turn=turn, slot=slot, number=number):
                    self.assertEqual(now.get(name, [""] * len(some))[i], said)


for _package in PACKAGES:
    setattr(Bounds, f"test_{_package}", functools.partialmethod(Bounds.check, _package))


if __name__ == "__main__":
    unittest.main()
