"""Which feed is alive in which key position, and what hangs on it."""

from __future__ import annotations

import unittest

from tests.demo import apply, demo
from zombrel.job.edits import Remove
from zombrel.job.model import Job, by_id
from zombrel.job.state import State
from zombrel.job.wiring import Feed
from zombrel.signals.begin import best_chain
from zombrel.signals.chain_reading import alive
from zombrel.signals.supply import all_ends, feeds_of, powered


class Feeds(unittest.TestCase):
    def test_the_truth_table(self) -> None:
        """Off, on, crank for every class: the accessory and run feeds die while cranking."""
        device = by_id(demo().devices, "lamp")
        assert device is not None
        for feed, table in (
            ("constant", (1, 1, 1)),
            ("accessory", (0, 1, 0)),
            ("run", (0, 1, 0)),
            ("run-and-crank", (0, 1, 1)),
            ("start", (0, 0, 1)),
        ):
            slot = Feed(id="x", name="x", feed=feed)  # type: ignore[arg-type]
            for key, want in zip(("off", "on", "crank"), table, strict=True):
                with self.subTest(feed=feed, key=key):
                    now = State(key=key, volts=12.0)  # type: ignore[arg-type]
                    self.assertEqual(powered(device, [slot], now), bool(want))

    def test_too_low_a_supply_resets(self) -> None:
        box = by_id(demo().devices, "spark")
        assert box is not None
        self.assertTrue(powered(box, [], State(volts=8.9)))
        self.assertFalse(powered(box, [], State(volts=8.7)))
        self.assertFalse(powered(box, [], State(key="off", volts=13.0)))

    def test_every_pin_must_be_fed(self) -> None:
        job = demo()
        found = feeds_of(job)
        self.assertEqual([s.pin.pin for s in found["hub"]], ["RUN", "CONST"])
        self.assertTrue(alive(job, State(volts=12.6), "hub"))
        self.assertFalse(alive(job, State(key="crank", volts=12.6), "hub"))

    def test_ends_name_what_a_wire_joins(self) -> None:
        job = demo()
        joined = all_ends(job)
        w15, w3, w2 = joined["W15"], joined["W3"], joined["W2"]
        assert w15.device is not None
        assert w15.feed is not None
        assert w3.input is not None
        self.assertEqual((w15.device.id, w15.feed.id), ("spark", "F5"))
        self.assertEqual(w3.input.pin, "CANCEL")
        self.assertEqual((w2.device, w2.feed), (None, None))


class Beginnings(unittest.TestCase):
    def test_a_chain_begins_at_the_best_source(self) -> None:
        job = demo()
        lamp = by_id(job.devices, "lamp")
        assert lamp is not None
        sheet = lamp.sheet.input("TACH")
        assert sheet is not None
        got = best_chain(job, lamp, sheet)
        assert got is not None
        self.assertEqual((got.source, got.id), ("s4out", "tach-lamp-2"))
        bare = apply(job, Remove(path="chains.tach-lamp"))
        again = best_chain(bare, lamp, sheet)
        assert again is not None
        self.assertEqual(again.id, "tach-lamp")

    def test_nothing_offered_nothing_begun(self) -> None:
        job = demo()
        lamp = by_id(job.devices, "lamp")
        assert lamp is not None
        sheet = lamp.sheet.input("TACH")
        assert sheet is not None
        self.assertIsNone(best_chain(Job(), lamp, sheet))


if __name__ == "__main__":
    unittest.main()
