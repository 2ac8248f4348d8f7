"""A log over the model’s own prediction: alike where the model is right, named where it is not."""

from __future__ import annotations

import unittest

import numpy as np

from tests.demo import apply, demo, put, whole
from tests.findings.test_roadwork import with_run
from zombrel.actions.signals import put_setting
from zombrel.catalog import DEMO
from zombrel.findings.foretold import foretell, laws_of
from zombrel.findings.roadwork import proposal
from zombrel.job.edits import Remove
from zombrel.job.model import Job, index
from zombrel.logs.read_any import read_any
from zombrel.logs.recording import Channel, Recording


def log() -> Recording:
    return read_any(DEMO / "0412-road.csv")


def alone(job: Job) -> Job:
    """The pace unit is the only one that shows a speed."""
    return apply(job, Remove(path="chains.speed-hub"))


class Should(unittest.TestCase):
    def test_each_device_has_its_own(self) -> None:
        found = foretell(whole(), log())
        self.assertEqual([f.device for f in found], ["pace", "hub"])
        true = log().first("speed", "sat")
        assert true is not None
        pace = found[0].channel.v
        moving = true.v > 15
        # set to C1 behind seven: 46 teeth over the circumference, against 0.8 · 2^2.1 · 7
        wanted = 46 / 1.91174 / (0.8 * 2**2.1 * 7)
        np.testing.assert_allclose(pace[moving] / true.v[moving], wanted, rtol=4e-3)
        self.assertEqual([f.words for f in found], ["", ""])  # whose speed it is nobody said

    def test_what_the_road_found_is_named_and_then_is_not(self) -> None:
        job = with_run(alone(whole()))
        (before,) = foretell(job, log())
        self.assertIn("model or setting is off", before.words)
        offer = proposal(job, job.road[0])
        ring = next(e for e in getattr(offer.edit, "edits", ()) if "trim" in str(e))
        (after,) = foretell(apply(job, ring), log())
        self.assertIn("which agrees", after.words)

    def test_it_follows_the_setting_and_nothing_else(self) -> None:
        job = whole()
        other = apply(job, put_setting(index(job.devices)["pace"], "SPEED", "C6"))
        self.assertNotEqual(laws_of(other), laws_of(job))
        self.assertEqual(laws_of(put(job, "vehicle.owner", "x")), laws_of(job))
        a, b = foretell(job, log())[0].channel.v, foretell(other, log())[0].channel.v
        self.assertGreater(float(np.abs(a - b).max()), 0.5)

    def test_a_tachometer_and_a_sender_too(self) -> None:
        """A hub told one cylinder too few reads high; its coolant by the curve that is set."""
        t = np.arange(0, 100, 0.5)
        rps, kelvin = np.linspace(15, 100, 200), np.linspace(280, 375, 200)
        drive = Recording(
            "bus",
            (
                Channel("engine", "engine", "rpm", t, rps),
                Channel("coolant", "temperature", "°C", t, kelvin),
                Channel("cabin", "temperature", "°C", t, kelvin - 60),
            ),
        )
        found = {f.channel.name: f.channel for f in foretell(whole(), drive)}
        tach = found["Gauge hub engine speed should show"]
        np.testing.assert_allclose(tach.v, np.interp(tach.t, t, rps), rtol=1e-6)
        clt = found["Gauge hub coolant should show"]
        self.assertLess(float(np.abs(clt.v - np.interp(clt.t, t, kelvin)).max()), 4.0)
        self.assertNotIn("cabin", " ".join(found))
        wrong = apply(whole(), put_setting(index(whole().devices)["hub"], "TACH", "5"))
        self.assertNotEqual(laws_of(wrong), laws_of(whole()))
        high = {f.channel.name: f.channel for f in foretell(wrong, drive)}[tach.name]
        np.testing.assert_allclose(high.v[5:50] / tach.v[5:50], 6 / 5, rtol=1e-6)

    def test_nothing_where_nothing_can_be(self) -> None:
        bare = Recording("x", tuple(c for c in log().channels if c.what != "speed"))
        self.assertEqual(foretell(whole(), bare), ())
        self.assertEqual(foretell(Job(), log()), ())
        self.assertNotIn("Pace unit", dict(laws_of(put(demo(), "vehicle.tyre", ""))))


if __name__ == "__main__":
    unittest.main()
