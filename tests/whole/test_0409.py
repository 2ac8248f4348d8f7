"""Job 0409: all that is said of it, and what each of its facts does."""

from __future__ import annotations

import unittest

from tests.whole.as_recorded import AsRecorded


class Job(AsRecorded, unittest.TestCase):
    name = "0409"


if __name__ == "__main__":
    unittest.main()
