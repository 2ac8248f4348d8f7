"""Job 0412: what the facts of its sources do."""

from __future__ import annotations

import unittest

from tests.whole.as_recorded import Changed


class Facts(Changed, unittest.TestCase, parts=("sources",)):
    name = "0412"


if __name__ == "__main__":
    unittest.main()
