"""Job 0413: all that is said of it, and what each of its facts does."""

from __future__ import annotations

import unittest

from tests.whole.as_recorded import AsShipped, Changed


class Job(AsShipped, unittest.TestCase):
    name = "0413"


class Facts(Changed, unittest.TestCase):
    name = "0413"


if __name__ == "__main__":
    unittest.main()
