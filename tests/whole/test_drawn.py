"""Papers, plots and logs: nothing of what they draw or say moves unseen."""

from __future__ import annotations

import json
import unittest

from tests.whole.drawn import KEPT, drawn


class Drawn(unittest.TestCase):
    def test_all_of_it_is_as_recorded(self) -> None:
        """What differs is looked at, then written anew with ``python -m tests.whole.drawn``."""
        kept, now = json.loads(KEPT.read_text(encoding="utf-8")), drawn()
        self.assertGreater(len(now), 250)
        for name in kept | now:
            with self.subTest(name):
                self.assertEqual(now.get(name), kept.get(name))


if __name__ == "__main__":
    unittest.main()
