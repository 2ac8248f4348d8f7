"""Times of the shop's jobs: kept on saving, replaced, never learned from samples."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path

import msgspec

from tests.demo import apply, demo
from zombrel.harness.laid import laid
from zombrel.job.model import Job
from zombrel.plan import day
from zombrel.plan.tasks import tasks
from zombrel.store import shop_times


def timed(number: str, share: float) -> Job:
    """The demo's work as a job of one's own, its runs timed at ``share`` of the estimate."""
    job = msgspec.structs.replace(laid(demo()), number=number, synthetic=False)
    for task in [t for t in tasks(job) if t.kind == "run"][:4]:
        job = apply(job, day.finish(job, task, task.minutes * share))
    return job


class ShopTimes(unittest.TestCase):
    def setUp(self) -> None:
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        old = os.environ.get("XDG_DATA_HOME")
        os.environ["XDG_DATA_HOME"] = home.name
        self.addCleanup(self._restore, old)
        self.home = Path(home.name)

    @staticmethod
    def _restore(old: str | None) -> None:
        if old is None:
            os.environ.pop("XDG_DATA_HOME", None)
        else:
            os.environ["XDG_DATA_HOME"] = old

    def test_the_next_job_is_estimated_from_the_last(self) -> None:
        shop_times.keep_times(timed("A", 2.0))
        fresh = msgspec.structs.replace(laid(demo()), number="B")
        shop = shop_times.of_others(fresh)
        self.assertEqual(len(shop), 4)
        plain = {t.id: t for t in tasks(fresh)}
        learned = {t.id: t for t in tasks(fresh, shop)}
        run = next(k for k in plain if k.startswith("run "))
        self.assertAlmostEqual(learned[run].minutes / plain[run].minutes, 2 ** (4 / 6), places=3)
        self.assertIn("learned from 4 timed", learned[run].why)
        self.assertEqual(plain["probe"].minutes, learned["probe"].minutes)
        states = {s.task.id for s in day.work_order(fresh, shop=shop).slots}
        self.assertEqual(states, set(plain))  # what others did is not done here

    def test_a_job_does_not_learn_twice_from_itself(self) -> None:
        job = timed("A", 2.0)
        shop_times.keep_times(job)
        self.assertEqual(shop_times.of_others(job), ())

    def test_saving_again_replaces_and_undoing_takes_away(self) -> None:
        shop_times.keep_times(timed("A", 2.0))
        shop_times.keep_times(timed("A", 0.5))
        held = shop_times.load_times()
        self.assertEqual(len(held), 1)
        ratios = {round((w.minutes or 0) / (w.planned or 1), 1) for w in next(iter(held.values()))}
        self.assertEqual(ratios, {0.5})
        shop_times.keep_times(msgspec.structs.replace(timed("A", 1), work=()))
        self.assertEqual(shop_times.load_times(), {})

    def test_samples_teach_nothing(self) -> None:
        shop_times.keep_times(msgspec.structs.replace(timed("A", 2), synthetic=True))
        self.assertEqual(list(self.home.rglob("*.json")), [])

    def test_a_damaged_or_locked_file_costs_only_the_times(self) -> None:
        shop_times.keep_times(timed("A", 2.0))
        shop_times.times_file().write_text("{")
        self.assertEqual(shop_times.load_times(), {})
        shop_times.keep_times(timed("B", 1.0))
        self.assertEqual(len(shop_times.load_times()), 1)
        os.environ["XDG_DATA_HOME"] = "/proc/nowhere"
        shop_times.keep_times(timed("C", 1.0))
        self.assertEqual(shop_times.load_times(), {})


class NewHome(unittest.TestCase):
    def test_times_are_kept_in_a_home_that_has_nothing_yet(self) -> None:
        self.assertEqual(shop_times.keep_times(timed("7", 1.5)), "")
        self.assertTrue(shop_times.read_times())
        self.assertEqual(shop_times.keep_times(timed("8", 1.5)), "")
        self.assertEqual(len(shop_times.read_times()), 2)


if __name__ == "__main__":
    unittest.main()
