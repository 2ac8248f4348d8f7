"""Job 0412 proven: all that is said of it, and what its facts do."""

from __future__ import annotations

import unittest

from tests.whole.as_recorded import AsShipped, Changed


class Job(AsShipped, unittest.TestCase):
    name = "0412 proven"


class Facts(Changed, unittest.TestCase):
    name = "0412 proven"


if __name__ == "__main__":
    unittest.main()
