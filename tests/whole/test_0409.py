"""Job 0409: all that is said of it, and what its facts do but for devices."""

from __future__ import annotations

import unittest

from tests.whole.as_recorded import AsShipped, Changed


class Job(AsShipped, unittest.TestCase):
    name = "0409"


class Facts(Changed, unittest.TestCase, but=("devices",)):
    name = "0409"


if __name__ == "__main__":
    unittest.main()
