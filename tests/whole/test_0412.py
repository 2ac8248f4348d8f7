"""Job 0412: all that is said of it, and what its facts do but for devices and sources."""

from __future__ import annotations

import unittest

from tests.whole.as_recorded import AsShipped, Changed


class Job(AsShipped, unittest.TestCase):
    name = "0412"


class Facts(Changed, unittest.TestCase, but=("devices", "sources")):
    name = "0412"


if __name__ == "__main__":
    unittest.main()
