"""Papers, plots, logs, misreadings and the book: nothing of what they say moves unseen."""

from __future__ import annotations

import json
import unittest

from tests.whole.drawn import GROUPS, KEPT


class Drawn(unittest.TestCase):
    """What differs is looked at, then written anew with ``python -m tests.whole.drawn``."""

    def check(self, group: str) -> None:
        kept = json.loads(KEPT.read_text(encoding="utf-8"))[group]
        now = dict(GROUPS[group]())
        self.assertGreater(len(now), 3)
        for name in kept | now:
            with self.subTest(name):
                self.assertEqual(now.get(name), kept.get(name))

    def test_papers(self) -> None:
        self.check("papers")

    def test_papers_of_long_names(self) -> None:
        self.check("papers of long names")

    def test_plots(self) -> None:
        self.check("plots")

    def test_stirred_jobs(self) -> None:
        self.check("stirred")

    def test_before_and_after(self) -> None:
        self.check("compared")

    def test_logs(self) -> None:
        self.check("logs")

    def test_spoilt_logs(self) -> None:
        self.check("spoilt logs")

    def test_small_logs(self) -> None:
        self.check("small logs")

    def test_misreadings(self) -> None:
        self.check("misread")

    def test_the_book(self) -> None:
        self.check("book")

    def test_forms(self) -> None:
        self.check("forms")

    def test_a_large_job(self) -> None:
        self.check("big")


if __name__ == "__main__":
    unittest.main()
