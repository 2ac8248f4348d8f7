"""Screws, threads, hoses, places and the kit: against standards' tables and by hand."""

from __future__ import annotations

import itertools
import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.demo import demo, put, whole
from zombrel.actions.fitting import add_hose, ends, put_hose, tick, tick_all
from zombrel.calc.all import run
from zombrel.harness.fitting import hoses, kit, mounting, place, threads
from zombrel.harness.fitting.place import sheets_in
from zombrel.harness.laid import laid
from zombrel.harness.missing import missing as not_drawn
from zombrel.harness.parts_list import parts_list
from zombrel.job.edits import Remove, apply
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.records.fitting import Hose, Mounting
from zombrel.job.sheet import DeviceSheet
from zombrel.job.wiring import Zone

SHEET = DeviceSheet(id="x", maker="-", model="-", name="Box")
ZONE = Zone(id="z", name="There", x_m=1, y_m=1)
MM = st.floats(0.0, 60.0)


class Screws(unittest.TestCase):
    def test_against_the_tables(self) -> None:
        # ISO 4032: a nut of M4 is 3.2 mm high; 1.2 + 3 + 3.2 + 2 × 0.7 = 8.8; ISO 888: 10
        m = Mounting(how="screws", panel_m=0.0012, stack_m=0.003, behind_m=0.014)
        least, most = mounting.screw_range(m)
        self.assertAlmostEqual(least, 0.0088)
        self.assertAlmostEqual(most, 0.0152)
        f = mounting.fixing(SHEET, m, None, 300)
        self.assertEqual((f.length_m, f.drill_m, f.troubles), (0.010, 0.0045, ()))
        self.assertAlmostEqual(f.stop_m, 0.0042)

    @given(MM, MM, MM, st.sampled_from(list(mounting.NUT_MM)))
    def test_a_screw_that_is_named_holds_and_reaches_nothing(
        self, panel: float, stack: float, behind: float, screw: str
    ) -> None:
        m = Mounting(
            how="screws",
            panel_m=panel / 1000,
            stack_m=stack / 1000,
            behind_m=behind / 1000,
            screw=screw,  # type: ignore[arg-type]
        )
        f = mounting.fixing(SHEET, m, None, 300)
        if f.length_m and not f.troubles:
            self.assertLess(f.length_m - m.panel_m - m.stack_m, m.behind_m or 0)
            self.assertGreater(f.length_m, m.panel_m + m.stack_m + mounting.NUT_MM[m.screw] / 1000)
        else:
            self.assertTrue(f.troubles)

    def test_what_nobody_looked_at_is_asked(self) -> None:
        f = mounting.fixing(SHEET, Mounting(how="screws"), None, 300)
        self.assertEqual(len(f.unsaid), 2)
        airbag = Zone(id="z", name="Pillar", x_m=1, y_m=1, airbag=True)
        m = Mounting(how="screws", panel_m=0.001, behind_m=0.05)
        self.assertIn("never drill", mounting.fixing(SHEET, m, airbag, 300).troubles[0])

    def test_a_hole_wants_its_depth(self) -> None:
        sheet = put_sheet(hole_m=0.052, behind_m=0.06)
        m = Mounting(how="hole", panel_m=0.003, behind_m=0.04)
        self.assertIn("60 mm", _plain(mounting.fixing(sheet, m, None, 300).troubles[0]))
        m = Mounting(how="hole", panel_m=0.003, behind_m=0.08)
        self.assertEqual(mounting.fixing(sheet, m, None, 300).troubles, ())

    def test_tape_by_weight_and_face(self) -> None:
        # 0.5 kg × 5 g ÷ 5000 N/m² = 49 cm²
        tape = Mounting(how="hook-and-loop")
        for side, says in ((0.06, True), (0.08, False)):
            sheet = put_sheet(mass_kg=0.5, long_m=side, wide_m=side, high_m=0.02)
            said = mounting.fixing(sheet, tape, None, 300).troubles
            self.assertEqual(bool(said), says, side)


def put_sheet(**more: float) -> DeviceSheet:
    import msgspec

    return msgspec.structs.replace(SHEET, **more)


def _plain(text: str) -> str:
    from zombrel.units import Units, words

    return words(text, Units())


class Threads(unittest.TestCase):
    def test_each_goes_into_its_own_and_no_other(self) -> None:
        for a, b in itertools.product(threads.SHAPES, repeat=2):
            f = threads.fit(a, b)
            same = a == b or ((a[0], b[0]) in (("R", "G"),) and a[1:] == b[1:])
            with self.subTest(f"{a} in {b}"):
                self.assertEqual(f.fits, same)
                self.assertEqual(bool(f.adapter), not same)

    def test_those_that_start_by_hand(self) -> None:
        # ASME B1.20.1: 1/8 NPT is 10.287 mm over its crests; ISO 228-1: G 1/8 is 9.728 mm
        for a, b in (("1/8-27 NPT", "M10x1"), ("M10×1", "G 1/8"), ("1/8-27 NPT", "R 1/8")):
            self.assertTrue(threads.fit(a, b).starts, (a, b))
        self.assertFalse(threads.fit("M8×1", "M10×1").starts)

    def test_a_one_wire_sender_is_never_wound(self) -> None:
        self.assertIn("dry", threads.fit("R 1/8", "R 1/8", True).seal)
        with self.assertRaisesRegex(Problem, "There is no thread"):
            threads.fit("M11", "M10×1")


class Places(unittest.TestCase):
    def test_air_by_hand(self) -> None:
        # walls of 0.6 × 0.4 × 0.25 m: 0.98 m²; 20 W ÷ (5 × 0.98) = 4.08 K over 38 + 35 °C
        zone = Zone(id="z", name="z", x_m=1, y_m=1, over_ambient_k=35)
        self.assertAlmostEqual(place.air_k(zone, [put_sheet(heat_w=20.0)]) - 273.15, 77.08, 2)

    @given(st.permutations((0.12, 0.08, 0.04)))
    def test_a_box_may_be_turned(self, sides: list[float]) -> None:
        sheet = put_sheet(long_m=sides[0], wide_m=sides[1], high_m=sides[2])
        for free, fits in (((0.13, 0.09, 0.05), True), ((0.2, 0.2, 0.03), False)):
            zone = Zone(
                id="z",
                name="z",
                x_m=1,
                y_m=1,
                free_long_m=free[0],
                free_wide_m=free[1],
                free_high_m=free[2],
            )
            self.assertEqual(not place.against(sheet, zone, place.air_k(zone, [sheet])), fits)


class Hoses(unittest.TestCase):
    def hose(self, **more: object) -> hoses.HosePlan:
        return hoses.plan(demo(), Hose(**({"id": "h", "medium": "fuel"} | more)))  # type: ignore[arg-type]

    def test_grade_by_what_flows_its_heat_and_pressure(self) -> None:
        for more, grade in (
            ({}, "injection fuel rubber"),
            ({"peak_pa": 3e5}, "low-pressure fuel rubber"),
            ({"medium": "fuel with ethanol", "peak_pa": 3e5}, "injection fuel rubber"),
            ({"peak_pa": 9e5}, "braided fluoropolymer"),
            ({"hot_k": 520.0}, ""),
            ({"medium": "vacuum"}, "plain silicone"),
            ({"medium": "coolant"}, "fabric silicone"),
            ({"medium": "oil"}, "oil rubber"),
        ):
            with self.subTest(more):
                self.assertEqual(self.hose(**more).grade, grade)

    def test_ends(self) -> None:
        for bore, spigot, step in ((8, 8.6, False), (8, 10, True), (8, 7, True), (8, 0, False)):
            p = self.hose(bore_m=bore / 1000, b_spigot_m=spigot / 1000)
            self.assertEqual(any("step" in j for j in p.joints), step, (bore, spigot))
        p = self.hose(bore_m=0.004, tee_m=0.008)
        self.assertEqual(p.joints.count("hose clamp"), 4)
        self.assertIn("tee 8 mm × 4 mm × 8 mm", _plain(p.joints[0]))

    def test_what_burns_goes_round_the_people(self) -> None:
        job = demo()
        zones = {z.id: z for z in job.zones}
        for end in ("bay-left", "bay-right", "bulkhead-left", "nose"):
            via = hoses.way_of(job, Hose(id="h", medium="fuel", a="under-rear", b=end))
            self.assertTrue(via)
            self.assertFalse([z for z in via if zones[z].inside], via)
        via = hoses.way_of(job, Hose(id="h", medium="fuel", a="under-rear", b="dash"))
        self.assertIn("inside", [key for key, _, _ in self.hose(a="under-rear", b="dash").troubles])

    def test_edits(self) -> None:
        job = demo()
        key, edit = add_hose(job, "vacuum")
        job = apply(job, edit)
        hose = by_id(job.hoses, key)
        assert hose is not None
        import msgspec

        for a in ends(job):
            apply(job, put_hose(job, msgspec.structs.replace(hose, a=a)))
        with self.assertRaisesRegex(Problem, "there is no “nowhere”"):
            put_hose(job, msgspec.structs.replace(hose, a="nowhere"))


class Kit(unittest.TestCase):
    def test_all_ticked_is_nothing_lacking_and_one_less_is_one(self) -> None:
        job = whole()
        self.assertEqual(kit.missing(laid(job)), ())  # nobody looked
        full = apply(job, tick_all(job))
        self.assertEqual(kit.missing(laid(full)), ())
        for row in kit.kit_rows(laid(full)):
            less = apply(full, tick(full, row, row.needed - 1 if row.needed >= 1 else 0))
            self.assertEqual([r.id for r in kit.missing(laid(less))], [row.id])
        with self.assertRaises(Problem):
            tick(full, row, -1)

    def test_every_part_has_a_row_that_covers_it(self) -> None:
        job = laid(whole())
        parts = {f"{p.kind}: {p.name}": p.count for p in parts_list(job)}
        rows = {r.id: r.needed for r in kit.kit_rows(job)}
        self.assertEqual(set(parts), set(rows))
        self.assertTrue(all(rows[k] >= parts[k] - 1e-9 for k in parts))
        self.assertTrue(all(math.isclose(rows[k], parts[k], abs_tol=1) for k in parts))


class Colours(unittest.TestCase):
    def test_a_run_has_the_leads_colour_or_the_shops(self) -> None:
        job = put(demo(), "devices.pace.sheet.leads", [["POWER", "pink"], ["SPEED", "violet/pink"]])
        job = apply(job, Remove(path="wires.W4"))
        for rule, colour in (("device", "pink"), ("house", "red/white")):
            wires = {
                w.b.pin: w
                for w in not_drawn(put(job, "house.colours", rule))
                if w.b.place == "pace"
            }
            self.assertEqual(wires["POWER"].colour, colour)


class InAZone(unittest.TestCase):
    def test_who_else_lies_in_a_zone(self) -> None:
        job = demo()
        for zone in {d.zone for d in job.devices}:
            there = [d for d in job.devices if d.zone == zone]
            with self.subTest(zone):
                self.assertEqual(sheets_in(job, zone), [d.sheet for d in there])
                others = [d.sheet for d in there[1:]]
                self.assertEqual(sheets_in(job, zone, there[0].id), others)

    def test_water_that_is_thrown_is_not_water_that_lies(self) -> None:
        def against(water: str, sealing: str) -> set[str]:
            given = {"hottest_c": "85", "over_ambient_k": "5", "heat_w": "0"}
            found = run("place", {**given, "water": water, "sealing": sealing})["against"]
            return set(found) if isinstance(found, dict) else set()

        self.assertEqual(against("spray", "dry"), {"water"})
        self.assertEqual(against("none", "dry"), set())
        self.assertEqual(against("wet", "splash"), set())
