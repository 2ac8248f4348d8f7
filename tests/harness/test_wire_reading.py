"""What each conductor of the demo carries and loses, worked by hand."""

from __future__ import annotations

import math
import unittest

from tests.demo import at, demo, put, state
from zombrel.findings.assess import assess
from zombrel.harness.conductor import FILM, bunch_factor, outer_diameter
from zombrel.harness.wire_reading import behind_slot
from zombrel.job.model import by_id


class Readings(unittest.TestCase):
    def test_drop_along_the_battery_feed(self) -> None:
        # W13: 12 A, 4 mm², 20 °C, 13.8 V system; 4.6 m as measured, off the plan
        r = at(put(demo(), "wires.W13.via", [])).wire("W13")
        self.assertAlmostEqual(r.drop_v, 12 * 4.6 * 0.01724 / 4, places=4)
        self.assertAlmostEqual(r.drop, r.drop_v / 13.8)
        self.assertEqual((r.amps, r.fuse_a, r.fuse_wanted), (12, 20, 20))

    def test_heat_where_it_lies(self) -> None:
        # W1 lies in the bay, 35 K over the air: R rises by 0.393 % a kelvin
        cool, hot = at(demo()).wire("W9"), at(demo()).wire("W1")
        self.assertLess(hot.ampacity, cool.ampacity)
        want = math.sqrt(
            FILM * math.pi * outer_diameter(0.5) * (85 - 55) / (0.01724 / 0.5 * (1 + 0.00393 * 65))
        )
        self.assertAlmostEqual(hot.ampacity, want, places=6)

    def test_signals_carry_what_the_input_lets_through(self) -> None:
        got = at(demo())
        self.assertAlmostEqual(got.wire("W3").amps, 13.8 / 4700)  # the pull-up of CANCEL
        self.assertAlmostEqual(got.wire("W9").amps, 13.8 / 47000)
        self.assertEqual(got.wire("W2").amps, 0)  # a pin the sheet does not list

    def test_fuses(self) -> None:
        got = at(demo())
        for key, fuse in (("W4", 5), ("W6", 3), ("W7", 1), ("W5", None), ("W1", None)):
            self.assertEqual(got.wire(key).fuse_a, fuse)
        bare = put(put(demo(), "wires.W6.fuse_a", None), "wires.W6.via", [])
        r = at(bare).wire("W6")
        self.assertEqual(r.fuse_a, 20)  # then the slot's own fuse protects it
        self.assertEqual(r.weakest_mm2, 1.0)
        self.assertEqual(r.fuse_limit, 15)

    def test_a_pulsed_load_warms_by_its_root_mean_square(self) -> None:
        """7 A for a quarter of the time warm like 3.5 A, and still drop like 7 A."""
        job = put(demo(), "devices.pace.sheet.supplies.POWER.duty", 0.25)
        steady, pulsed = at(demo()).wire("W4"), at(job).wire("W4")
        self.assertAlmostEqual(pulsed.warms_a, steady.amps / 2)
        self.assertEqual(pulsed.drop_v, steady.drop_v)
        self.assertLess(pulsed.fuse_wanted or 0, steady.fuse_wanted or 0)

    def test_bundles_lower_it(self) -> None:
        free = put(demo(), "wires.W13.via", [])
        alone = at(free).wire("W13").ampacity
        for n in (2, 5, 12):
            bundled = at(put(free, "wires.W13.bundle", n)).wire("W13").ampacity
            self.assertAlmostEqual(bundled / alone, bunch_factor(n))

    def test_limits_are_the_house_s(self) -> None:
        got = at(put(demo(), "house.drop_power", 0.01))
        self.assertIn("drop-W13", {f.id for f in got.findings})
        better = at(put(demo(), "house.conductor_max_k", 398.15))
        self.assertGreater(better.wire("W13").ampacity, at(demo()).wire("W13").ampacity)

    def test_behind_the_slot(self) -> None:
        slot = by_id(demo().feeds, "F9")
        assert slot is not None
        carries = behind_slot(slot, demo().house, 293.15)
        assert carries is not None
        self.assertTrue(13 < carries < 16)
        battery = by_id(demo().feeds, "BAT")
        assert battery is not None
        self.assertIsNone(behind_slot(battery, demo().house, 293.15))

    def test_twenty_four_volts_halve_the_share(self) -> None:
        twelve = at(demo()).wire("W13").drop
        other = put(demo(), "vehicle.system_v", 24)
        self.assertAlmostEqual(assess(other, state(other)).wire("W13").drop, twelve / 2)


if __name__ == "__main__":
    unittest.main()
