"""Job 0409: what the facts of its devices do."""

from __future__ import annotations

import unittest

from tests.whole.as_recorded import Changed


class Facts(Changed, unittest.TestCase, parts=("devices",)):
    name = "0409"


if __name__ == "__main__":
    unittest.main()
