"""Figures of the calculations against hand sums and published values, a line each."""

from __future__ import annotations

import json
import shlex
import tempfile
import unittest
from pathlib import Path

from tests.calc.test_contract import calc, call
from tests.logs.test_bus import TEXT as BUS
from zombrel.catalog import DEMO

CASES: tuple[tuple[str, str, object, str], ...] = (
    ("tyre size=175R14", "free_diameter_mm", 642.6, "14·25.4 + 2·0.82·175: no ratio is 82 (ETRTO)"),
    (
        "speed-rate source=cable pulses_per_rev=8 drive_teeth=8 driven_teeth=21 final_drive=4.1 "
        "tyre=205/60R15",
        "pulses_per_km",
        6534.0,
        "522.92 rev/km · 4.1 · 8/21 · 8",
    ),
    ("roll pulses_per_km=3436 distance_m=5 pulses_per_flash=4", "flashes", 4.295, "3.436·5/4"),
    ("tach ignition=wasted-spark cylinders=4", "cylinder_setting", 2, "a coil fires every turn"),
    ("tach ignition=distributor cylinders=6 strokes=2", "pulses_per_rev", 6, "two-stroke: n"),
    ("awg gauge=2/0", "area_mm2", 67.43, "ASTM B258, table 1"),
    ("rev-match speed_kmh=80 tyre=205/60R15 final_drive=3.64 ratio=1.39", "rpm", 3527.7,
     "22.22 m/s / 1.912 m · 3.64 · 1.39 · 60"),
    ("shift-lead rpm_per_s=4000 delay_ms=80 shift_rpm=6500", "lamp_rpm", 6180, "6500 − 4000·0.08"),
    (
        "advance initial_deg=10 mechanical=900:0,2500:18,4500:26 vacuum_deg=12 rpm=3000",
        "total_deg",
        42,
        "10 + 18 + 8·500/2000 + 12",
    ),
    ("held-launch stall_rpm=2400 torque_nm=260 hold_nm=2900 gear=9.9 stall_ratio=2.2", "rpm",
     1717.5, "2400·√(2900/9.9/260/2.2): torque of a converter goes with the square"),
    ("pedal-tracks first_v=1.6 second_v=1.2", "off_v", -0.8, "1.6 − 2·1.2"),
    ("blend-sender hz=85 pulse_ms=3.2", "fuel_c", 50.75, "−40 + 165·2.2/4"),
    ("blend-sender hz=85", "ethanol_pct", 35, "85 − 50"),
    ("blend-output volts=2.9 ground_offset_v=0.18", "ethanol_pct", 55.5, "(2.9 − 0.18 − 0.5)/4"),
    ("blend-mix now_l=20 now_pct=10 add_pct=85 target_pct=60 tank_l=55", "add_l", 40,
     "20·(60 − 10)/(85 − 60)"),
    ("blend-mix now_l=20 now_pct=10 add_pct=85 target_pct=60 tank_l=55", "possible", False,
     "60 l do not go into 55"),
    ("stoich ethanol_pct=100", "afr", 9.0, "Heywood, Internal Combustion Engine Fundamentals, D.4"),
    ("blend-headroom power_kw=150 flow_l_h=140 bsfc_g_kwh=300", "need_petrol_l_h", 60.4,
     "150·300/745"),
    ("bundle diameters_mm=2,2,2,2,2,2,2", "bundle_mm", 6.0, "six round one"),
    ("standby ma=25 battery_ah=60", "days", 50, "60 Ah · ½ / 25 mA / 24 h"),
    ("crimp mm2=1.5", "pull_n", 150, "IEC 60352-2"),
    ("fuse-check fuse_a=10 wire_mm2=0.5", "ok", False, "0.5 mm² carries less than 10 A"),
    ("inrush fuse_a=15 inrush_a=60 inrush_s=3", "holds", False, "four times for 3 s opens it"),
    ("level ohm=40 empty_ohm=84 full_ohm=10", "fraction", 44 / 74, "(84 − 40)/(84 − 10)"),
    ("level ohm=40 empty_ohm=10 full_ohm=84", "fraction", 30 / 74, "the other way round"),
    ("pressure volts=2.5 supply=5 low_kpa=0 high_kpa=1000", "kpa", 500, "half of 10 to 90 %"),
    ("boost absolute_kpa=180", "boost_kpa", 78.675, "180 − 101.325 (ISO 2533)"),
    ("thermocouple mv=20.6 cold_c=25", "temp_c", 522.41, "NIST ITS-90, K: 20.6 + 1.000 mV"),
    ("rotation early=red,blue,green,white late=green,white,red,blue", "places", 2, "by two"),
    ("firing leads_mm=260,355,450,545,640,735 order=1-5-3-6-2-4", "fits", True, "each longer"),
    ("feed off=0 acc=12.4 run=12.4 crank=0", "class", "accessory", "dies while cranking"),
    ("feed off=0 acc=0 run=12.4 crank=10.3", "class", "run-and-crank", "lives while cranking"),
    ("source-gives job=demo source=ring", "value", 467.72, "24 054 per km at 70 km/h, 0412"),
    ("source-gives job=demo source=ring", "peak_v", 4.2095, "9 mV a hertz, 0412"),
    ("try-pin job=demo sheet=ardle-p7 pin=SPEED", "setting", "C1", "÷7: +0.19 %, 0412"),
    ("try-pin job=demo sheet=ardle-p7 pin=SPEED at=C1", "shown_kmh", 70.135, "70·24054/7/3429.7"),
    ("read what=length text=5'6\"", "value", 1.6764, "66·0.0254"),
)  # fmt: skip
"""(line, key, value, where it comes from)."""
REFUSED: tuple[tuple[str, str], ...] = (
    ("awg gauge=99", "4/0 to 40"),
    ("boost absolute_kpa=-1", "absolute_kpa"),
    ("relay-coil resistor_ohm=0", "resistor_ohm"),
    ("roll pulses_per_km=3436 distance_m=0", "distance_m"),
    ("rev-match speed_kmh=80 tyre=205/60R15 final_drive=0 ratio=1.39", "final_drive"),
    ("shift torque=2000:240 ratios=3.4,2.0 redline=6000", "at least 2"),
    ("shift-lead rpm_per_s=100000 delay_ms=80 shift_rpm=6500", "before the start"),
    ("speed-setting pulses_per_km=24054 max_hz=10 settings=A=12000", "134"),
    ("circuit job=0412 state=Nowhere", "Nowhere"),
    ("cruise-map job=0409", "holds a speed"),
    ("moments job=0412 device=nobody", "nobody"),
    ("next-test job=0412 readings=x:1:2", "“x”"),
    ("outage job=0412 dead=nobody", "nobody"),
    ("source-gives job=demo source=none", "“none”"),
    ("source-gives job=demo source=lamps", "on or off"),
    ("try-pin job=demo sheet=nope pin=SPEED", "nope"),
    ("try-pin job=demo sheet=ardle-p7 pin=NO", "NO"),
)
"""(line, what the sentence names)."""


class Figures(unittest.TestCase):
    def test_hand_sums_and_published_values(self) -> None:
        for line, key, value, source in CASES:
            name, *words = shlex.split(line.replace("'", "\\'").replace('"', '\\"'))
            code, out, err = call("calc", name, *words)
            with self.subTest(line, source=source):
                self.assertEqual((code, err), (0, ""))
                got = json.loads(out)[key]
                if isinstance(value, float):
                    self.assertAlmostEqual(got, value, delta=2e-4 * abs(value))
                else:
                    self.assertEqual(got, value)

    def test_what_cannot_be_is_refused_by_name(self) -> None:
        for line, names in REFUSED:
            code, out, err = call("calc", *line.split())
            with self.subTest(line):
                self.assertEqual((code, out), (2, ""))
                self.assertIn(names, err)


class Jobs(unittest.TestCase):
    """Calculations that look at a whole job or file: what must hold of them."""

    def test_causes_share_one_probability_and_the_test_tells_something(self) -> None:
        got = calc("next-test job=0412 readings=temp-hub:90:40")
        self.assertAlmostEqual(sum(r["probability"] for r in got["ranked"]), 1, places=6)
        self.assertGreater(got["next_test"]["gain_bits"], 0)

    def test_where_one_device_lives_its_feed_is_not_what_failed(self) -> None:
        ranked = calc("outage job=0412 dead=pace alive=hub")["ranked"]
        self.assertEqual(ranked[0]["cause"], "feed:F7")  # the slot that only the dead one has
        self.assertAlmostEqual(sum(r["probability"] for r in ranked), 1, places=6)

    def test_a_firmer_take_up_sags_less(self) -> None:
        spots = calc("cruise-map job=0412")["spots"]
        droops = [s["droop_kmh"] for s in spots if s["gain"] == 1]
        self.assertEqual(len(spots), 16)
        self.assertEqual(droops, sorted(droops, reverse=True))

    def test_a_lamp_lit_lower_is_shifted_lower(self) -> None:
        def out_of_first(at: str) -> float:
            line = f"moments job=0412 device=lamp control=SHIFT at={at}"
            return float(calc(line)["moments"][0]["shift_1_rpm"])

        self.assertLess(out_of_first("5000"), out_of_first("6200"))
        self.assertGreater(out_of_first("5000"), 5000)

    def test_the_road_waits_for_the_brake(self) -> None:
        legs = calc("road-legs job=0412")["legs"]
        self.assertTrue(all("Brake cancels" in leg["wait"] for leg in legs[:1]))

    def test_before_and_after_changed_about_turn_the_verdict(self) -> None:
        files = [str(DEMO / f"0413-pulls-{side}.csv") for side in ("before", "after")]
        one, other = (calc("pull-compare", before=a, after=b) for a, b in (files, reversed(files)))
        self.assertEqual((one["verdict"], other["verdict"]), ("better", "worse"))
        self.assertAlmostEqual(one["difference_k"], -other["difference_k"])
        self.assertLess(one["low_k"], one["difference_k"])

    def test_what_a_bus_says_by_its_description(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "bus.dbc"
            path.write_text(BUS, encoding="utf-8")
            listed = calc("bus-signals", file=str(path))["signals"]
            said = calc("bus-decode id=0x201 data=0102030405060708", file=str(path))["values"]
        self.assertIn("RoadSpeed", {s["signal"] for s in listed})
        # big-endian words of 0.01 km/h and 0.25 rpm: 0x0102 = 258, 0x0304 = 772
        self.assertEqual((said["RoadSpeed"], said["EngineSpeed"]), (2.58, 193.0))

    def test_cavities_that_a_paper_does_not_name_were_not_looked_into(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            plug, paper = Path(folder) / "plug.json", Path(folder) / "paper.csv"
            face = {"id": "B4", "name": "Brown", "row_lengths": [4, 5, 4], "key": "the hinge"}
            plug.write_text(json.dumps(face), encoding="utf-8")
            paper.write_text("cavity;colour;circuit\n1;red;feed\n13;;horn\n", encoding="utf-8")
            got = calc("pinout", connector=str(plug), file=str(paper))
        self.assertEqual(got["not_looked_into"], list(range(2, 13)))


if __name__ == "__main__":
    unittest.main()
