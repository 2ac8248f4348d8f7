"""The second part of the headless contract: names, keys and values by hand."""

from __future__ import annotations

import unittest

from tests.calc.test_contract import calc, call

TORQUE = "1500:205,2500:232,3500:255,4500:262,5500:247,6200:221,6800:188"
PAIRS = "33000:1000,12000:1250,4700:1510"

ROWS: tuple[tuple[str, dict[str, object], str], ...] = (
    (
        "thermistor points=0:32650,25:10000,100:679 at_c=25 at_ohm=679 pull_up_ohm=10000 vref=5 "
        "adc_bits=10",
        {"ohm_at_c": 10000, "c_at_ohm": 100, "volts_at_c": 2.5},
        "a b c beta_k max_residual_c best_pull_up_ohm c_per_count",
    ),
    ("curve-points points=0:0,1:1,2:0 count=2", {"worst_error": 0.5}, "table"),
    ("level empty_ohm=84 full_ohm=7 ohm=26.25", {"fraction": 0.75, "beyond": False}, ""),
    ("level steps=0:84,20:62,40:29 ohm=45.5", {"litres": 30}, ""),
    ("pressure volts=2.45 supply=4.9 low_kpa=0 high_kpa=1000", {"kpa": 500, "fault": ""}, ""),
    ("boost absolute_kpa=180 barometer_kpa=100", {"boost_kpa": 80, "boost_psi": 11.603019}, ""),
    ("thermocouple type=K mv=4.096 cold_c=0", {"temp_c": 99.9944}, ""),
    ("thermocouple mv=40.276 cold_c=25", {"temp_c": 1000.0}, ""),
    ("blend-sender hz=100 pulse_ms=3", {"ethanol_pct": 50, "fuel_c": 42.5, "fault": ""}, ""),
    ("blend-sender hz=44", {"ethanol_pct": None, "fault": "no-signal"}, ""),
    ("blend-sender hz=161", {"fault": "contaminated"}, ""),
    ("blend-output volts=3.18 ground_offset_v=1.60", {"shown_pct": 67, "ethanol_pct": 27}, ""),
    (
        "blend-mix now_l=20 now_pct=10 add_pct=85 target_pct=50 tank_l=60",
        {"add_l": 22.857143, "possible": True, "full_pct": 60},
        "",
    ),
    (
        "blend-mix now_l=20 now_pct=10 add_pct=5 target_pct=50 tank_l=60",
        {"add_l": None, "possible": False},
        "full_pct",
    ),
    ("stoich ethanol_pct=100", {"afr": 9, "volume_flow_factor": 14.7 * 745 / (9 * 789)}, ""),
    (
        "resistor-code target=1350 vref=5 tolerance_pct=5 pairs=" + PAIRS,
        {"e24_ohm": 8200, "e96_ohm": 8450},
        "pull_up_ohm e24_value e96_value low high",
    ),
    (
        "shift ratios=3.42,2.05,1.39,1.00,0.79 redline=6800 torque=" + TORQUE,
        {},
        "shift_rpm rpm_after",
    ),
    ("shift-lead rpm_per_s=3000 delay_ms=150 shift_rpm=6600", {"lamp_rpm": 6150}, ""),
    ("rev-match speed_kmh=80 tyre=205/60R15 final_drive=3.64 ratio=1.39", {"rpm": 3527.667}, ""),
    (
        "advance initial_deg=10 mechanical=1000:0,3000:20 vacuum_deg=5 rpm=2000",
        {"total_deg": 25},
        "",
    ),
    (
        "feed off=0 acc=0 run=12.4 crank=8.1 lights=12.3 after=0",
        {"class": "run-and-crank"},
        "warnings",
    ),
    (
        "blend-headroom power_kw=130 bsfc_g_kwh=300 flow_l_h=70",
        {"need_petrol_l_h": 52.348993},
        "highest_ethanol_pct",
    ),
)

WRONG = (
    ("thermistor points=0:1000,25:500", "3 are needed"),
    ("thermistor points=0:1000,25:0,50:10", "above 0"),
    ("thermistor points=-300:1000,25:500,50:100", "absolute zero"),
    ("curve-points points=0:0,1:1 count=1", "at least 2"),
    ("level ohm=5", "empty_ohm and full_ohm, or steps"),
    ("level ohm=5 empty_ohm=10 full_ohm=10", "same ohms"),
    ("pressure volts=1 supply=5 low_fraction=0.5 high_fraction=0.5 low_kpa=0 high_kpa=1", "same"),
    ("thermocouple type=J mv=1 cold_c=0", "one of K"),
    ("thermocouple mv=90 cold_c=20", "outside type K"),
    ("blend-mix now_l=70 now_pct=10 add_pct=85 target_pct=50 tank_l=60", "fit the tank"),
    ("resistor-code pairs=1000:5 target=5.5", "2 are needed"),
    (f"resistor-code pairs={PAIRS} target=2500", "from a short to an open"),
    (f"shift torque={TORQUE} ratios=1,2 redline=6800", "must fall"),
    (f"shift torque={TORQUE} ratios=a,b redline=6800", "numbers above 0 and up to 60"),
    ("shift-lead rpm_per_s=90000 delay_ms=1000 shift_rpm=6600", "before the start"),
    ("feed off=0 acc=0 run=99 crank=0", "at most 36"),
)


class Contract(unittest.TestCase):
    def test_keys_and_values(self) -> None:
        for line, values, keys in ROWS:
            with self.subTest(line):
                got = calc(line)
                self.assertLessEqual(set(keys.split()), set(got))
                for key, want in values.items():
                    if isinstance(want, float | int) and not isinstance(want, bool):
                        # to the digits given: the table's millivolts are rounded to 1 µV
                        self.assertAlmostEqual(got[key], want, delta=max(abs(want) * 1e-4, 1e-6))
                    else:
                        self.assertEqual(got[key], want, key)

    def test_one_sentence_and_exit_two(self) -> None:
        for line, says in WRONG:
            with self.subTest(line):
                code, out, err = call("calc", *line.split())
                self.assertEqual((code, out), (2, ""))
                self.assertRegex(err, says)
                self.assertEqual(len(err.strip().splitlines()), 1)


if __name__ == "__main__":
    unittest.main()
