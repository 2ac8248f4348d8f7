"""The headless contract: names, keys, values by hand, and a sentence with exit 2 otherwise."""

from __future__ import annotations

import contextlib
import io
import json
import os
import re
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any

import msgspec

from zombrel.calc.all import CALCS
from zombrel.calc.logs import _stated
from zombrel.calc.speed import _settings
from zombrel.calc.sums import work_out
from zombrel.catalog import DEMO
from zombrel.cli.main import main
from zombrel.job.problem import Problem

ROOT = Path(__file__).resolve().parents[2]


def call(*words: str) -> tuple[int, str, str]:
    """Exit code, stdout, stderr of a command."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(list(words))
    return code, out.getvalue(), err.getvalue()


def calc(line: str, **more: str) -> dict[str, Any]:
    """Result of ``calc`` for words separated by spaces."""
    words = [*line.split(), *(f"{k}={v}" for k, v in more.items())]
    code, out, err = call("calc", *words)
    if code:
        raise AssertionError(err)
    result = json.loads(out)
    assert isinstance(result, dict)
    return result


class Contract(unittest.TestCase):
    def test_names_and_keys(self) -> None:
        for line, more, keys in (
            (
                "tyre",
                {"size": "205/60 R15"},
                "free_diameter_mm rolling_circumference_mm revs_per_km",
            ),
            (
                "speed-rate source=wheel-ring teeth=46",
                {"tyre": "205/60 R15"},
                "pulses_per_km hz_at_100_kmh",
            ),
            (
                "speed-setting pulses_per_km=24054 max_hz=1000 top_kmh=200 divider_max=10",
                {"settings": "A=1200,B=2400"},
                "setting setting_pulses_per_km divider error_pct hz_at_top candidates",
            ),
            (
                "roll pulses_per_km=3436 distance_m=5 pulses_per_flash=4",
                {},
                "flashes flashes_low flashes_high distance_for_1pct_m",
            ),
            (
                "tach ignition=distributor cylinders=6 strokes=4",
                {},
                "pulses_per_rev cylinder_setting hz_at_1000_rpm",
            ),
            ("awg gauge=18", {}, "diameter_mm area_mm2 ohm_per_km_20c"),
            (
                "wire current_a=4.8 length_m=6.2 volts=12 drop_pct=3 ambient_c=20 return=wire",
                {},
                "area_mm2 awg drop_v drop_pct ampacity_a fuse_a limited_by",
            ),
            (
                "brake-line lamps=led lamp_watts=3 lamp_count=2 pull_up_ohm=4700 volts=12.6",
                {},
                "rest_volts pressed_volts path_ohm_at_rest sure_cancel load_watts",
            ),
            (
                "gps-fit pulses_per_km=3429.7",
                {"file": str(DEMO / "0412-road.csv")},
                "scale scale_low scale_high offset_kmh used set_aside new_pulses_per_km",
            ),
        ):
            with self.subTest(line):
                self.assertLessEqual(set(keys.split()), set(calc(line, **more)))

    def test_values(self) -> None:
        tyre = calc("tyre size=31x10.50R15")
        self.assertAlmostEqual(tyre["free_diameter_mm"], 787.4)
        self.assertAlmostEqual(tyre["rolling_circumference_mm"], 3.05 * 787.4)
        rate = calc("speed-rate source=propshaft magnets=2 final_drive=3.64", tyre="205/60 R15")
        self.assertAlmostEqual(rate["pulses_per_km"], 2 * 3.64 / (3.05 * 0.627) * 1000)
        mile = calc("speed-rate source=stated pulses_per_mile=8000")
        self.assertAlmostEqual(mile["pulses_per_km"], 8000 / 1.609344)
        self.assertAlmostEqual(mile["hz_at_100_kmh"], 8000 / 1.609344 * 100 / 3600)
        cable = calc(
            "speed-rate source=cable pulses_per_rev=4 drive_teeth=8 driven_teeth=21 "
            "final_drive=4.1",
            tyre="195/70 R15",
        )
        self.assertAlmostEqual(cable["pulses_per_km"], 3132.1, places=1)
        tach = calc("tach ignition=alternator pole_pairs=6 pulley_ratio=2.35")
        self.assertAlmostEqual(tach["cylinder_setting"], 28.2)
        self.assertAlmostEqual(tach["hz_at_1000_rpm"], 235)
        wheel = calc("tach ignition=toothed-wheel teeth=36 missing=1 cylinders=4")
        self.assertEqual(wheel["pulses_per_rev"], 35)
        awg = calc("awg gauge=18")
        self.assertAlmostEqual(awg["area_mm2"], 0.823, places=3)
        self.assertAlmostEqual(awg["ohm_per_km_20c"], 20.95, places=2)
        sure = calc(
            "brake-line lamps=led lamp_watts=3 lamp_count=2 pull_up_ohm=4700 volts=13.8 relay=yes"
        )
        self.assertIs(sure["sure_cancel"], True)

    def test_the_scenario_s_pace_unit(self) -> None:
        names = [(c, f) for c in range(5) for f in range(10)]
        table = ",".join(f"{'ABCDE'[c]}{f}={800 * 2 ** (c + f / 10):.3f}" for c, f in names)
        got = calc(
            "speed-setting pulses_per_km=24054 max_hz=1000 top_kmh=200 divider_max=10",
            settings=table,
        )
        self.assertEqual((got["setting"], got["divider"]), ("C1", 7))
        self.assertAlmostEqual(got["error_pct"], 0.19, places=2)
        first = got["candidates"][0]
        self.assertEqual(first["setting"], got["setting"])

    def test_what_json_cannot_say_is_null(self) -> None:
        got = calc("brake-line lamps=led volts=5")  # below the knee nothing flows
        self.assertIsNone(got["path_ohm_at_rest"])
        self.assertEqual(got["rest_volts"], 5)
        self.assertFalse(got["sure_cancel"])

    def test_a_job_in_a_state(self) -> None:
        got = calc("assess job=demo", state="Idle")
        by = {c["id"]: c for c in got["chains"]}
        self.assertAlmostEqual(by["tach-lamp"]["shown_rpm"], 2550)
        self.assertEqual(got["findings"][0]["id"], "brake-brake-pace")

    def test_units_behind_numbers(self) -> None:
        self.assertEqual(
            calc("wire current_a=5A length_m=2m volts=12V drop_pct=3%"),
            calc("wire current_a=5 length_m=2 volts=12 drop_pct=3"),
        )

    def test_a_feed_that_just_holds_while_cranking_does_not_sag(self) -> None:
        volts = ["off=0", "acc=0", "run=12.5", "lights=12.5", "after=0"]
        for crank, sags in (("9.7", False), ("9.5", True)):
            code, out, err = call("calc", "feed", *volts, f"crank={crank}")
            self.assertEqual(code, 0, err)
            self.assertEqual("sags" in out, sags, out)

    def test_no_name_or_key_that_scripts_use_went_away(self) -> None:
        """``contract.txt``: name, takes (may be left out), gives. More may come; none may go."""
        for line in (Path(__file__).with_name("contract.txt")).read_text().splitlines():
            name, takes, gives = re.split(" takes | gives ", line)
            with self.subTest(name):
                calc_ = CALCS[name]
                needed = {p.name for p in calc_.params if p.default is msgspec.UNSET}
                known = set(re.sub(r"[][]", "", takes).split())
                self.assertLessEqual(known, {p.name for p in calc_.params})
                self.assertLessEqual(needed, {w for w in takes.split() if w[0] != "["})
                self.assertLessEqual(set(gives.split()), set(calc_.gives.split()))

    def test_list_describes_all(self) -> None:
        code, out, _ = call("calc", "--list")
        self.assertEqual(code, 0)
        listed = json.loads(out)
        for name in (
            "tyre",
            "speed-rate",
            "speed-setting",
            "roll",
            "tach",
            "awg",
            "wire",
            "brake-line",
            "gps-fit",
            "assess",
        ):
            self.assertIn(name, listed)
            self.assertTrue(listed[name]["does"])
            self.assertTrue(listed[name]["inputs"])
        self.assertIn("; one of ", listed["tach"]["inputs"]["ignition"])
        self.assertNotIn("one of", listed["tach"]["inputs"]["cylinders"])


class Refusals(unittest.TestCase):
    def test_a_sentence_and_exit_two(self) -> None:
        for line, part in (
            ("calc", "needs a name"),
            ("calc nothing", "no calculation"),
            ("calc tyre", "needs size"),
            ("calc tyre sise=3", "no input “sise”"),
            ("calc tyre size=22x9R22", "cannot go on"),
            ("calc tyre size", "key=value"),
            ("calc tyre size=1 size=2", "given twice"),
            ("calc speed-rate source=wheel-ring teeth=-4 tyre=205/60R15", "above 0"),
            ("calc speed-rate source=wheel-ring teeth=4.5 tyre=205/60R15", "whole number"),
            ("calc speed-rate source=wheel-ring tyre=205/60R15", "needs teeth"),
            ("calc speed-rate source=magic", "one of"),
            ("calc speed-rate source=stated", "either"),
            ("calc speed-rate source=stated pulses_per_km=1 pulses_per_mile=2", "either"),
            ("calc tach ignition=distributor", "cylinders"),
            ("calc tach ignition=distributor cylinders=0", "cylinders"),
            ("calc tach ignition=distributor cylinders=6 strokes=3", "strokes"),
            ("calc tach ignition=toothed-wheel teeth=3 missing=3", "nothing to count"),
            ("calc awg gauge=99", "not a gauge from 4/0 to 40"),
            ("calc wire current_a=3ft length_m=2", "in A"),
            ("calc wire current_a=nan length_m=2", "must be a number"),
            ("calc wire current_a=1 length_m=2 return=air", "one of"),
            ("calc wire current_a=5 length_m=2 ambient_c=120", "as hot as"),
            ("calc brake-line lamps=led lamp_count=0", "at least 1"),
            ("calc speed-setting pulses_per_km=24054 settings=A max_hz=1", "not NAME"),
            ("calc speed-setting pulses_per_km=24054 settings=A=1,A=2", "given twice"),
            ("calc speed-setting pulses_per_km=24054 settings=A=9 max_hz=9 top_kmh=99", "divider"),
            ("calc gps-fit file=/none.csv pulses_per_km=1", "cannot be read"),
            ("calc assess job=/none.zjob", "cannot be read"),
            ("calc assess job=demo state=flying", "no state"),
            ("report", "JOB"),
            ("report demo", "a paper"),
            ("report demo --html", "--html: expected"),
            ("report demo --what x", "--what x"),
            ("--what", "--what"),
            ("--demo x.zjob", "leave out"),
        ):
            with self.subTest(line):
                code, out, err = call(*line.split())
                self.assertEqual(code, 2)
                self.assertEqual(out, "")
                self.assertIn(part, err)
                self.assertNotIn("Traceback", err)

    def test_no_display_is_one_sentence(self) -> None:
        hidden = ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
        env = {k: v for k, v in os.environ.items() if k not in hidden}
        done = subprocess.run(
            [sys.executable, "-m", "zombrel", "--demo"],
            env=env,
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual(done.returncode, 2)
        self.assertEqual(len(done.stderr.strip().splitlines()), 1)
        self.assertIn("no display", done.stderr)


class Reports(unittest.TestCase):
    def test_html_and_pdf(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            html, pdf = Path(folder) / "a.html", Path(folder) / "a.pdf"
            code, out, err = call("report", "demo", "--html", str(html), "--pdf", str(pdf))
            self.assertEqual((code, err), (0, ""))
            self.assertEqual(out.split(), [str(html), str(pdf)])
            self.assertTrue(pdf.read_bytes().startswith(b"%PDF-"))
            self.assertGreater(pdf.stat().st_size, 20_000)
            self.assertIn("Curlew", html.read_text())
            code, _, err = call("report", "demo", "--html", str(html))
            self.assertEqual(code, 2)
            self.assertIn("--force", err)
            self.assertEqual(call("report", "demo", "--html", str(html), "--force")[0], 0)


class Sums(unittest.TestCase):
    def test_typed_sums(self) -> None:
        for text, part in (
            ("4.8 A over 6.2 m", "3 mm²"),
            ("0 A over 12 m at 0 V", "No number comes of that"),
            ("4,8 A 6,2 m", "3 mm²"),
            ("205/60 R15 3.64 46 teeth", "24\u00a0054 pulses per km"),
            ("205/60 R15 3.64 46 teeth", "1903 turns per km"),
            ("205/60R15", "1912 mm"),
            ("AWG 18", "0.823 mm²"),
            ("4/0 awg", "107 mm²"),
            ("70 km/h 24054 per km", "467.7 Hz"),
            ("43.5 mph 24054 per km", "467.8 Hz"),
            ("468 Hz at 70 km/h", "24\u00a0069 per km"),
            ("3000 rpm 3 per rev", "150.0 Hz"),
            ("22x9R22", "cannot go on"),
            ("900 A over 50 m", "split"),
            ("5 Hz at 0 km/h", "standing"),
        ):
            with self.subTest(text):
                self.assertIn(part, " ".join(v for _, v in work_out(text)))

    def test_words_are_not_sums(self) -> None:
        for text in ("", "W3", "brake", "12", "A over m"):
            self.assertEqual(work_out(text), [])


class Stated(unittest.TestCase):
    def test_a_unit_without_its_column_is_refused(self) -> None:
        self.assertEqual(_stated("a=km/h; b = C ;"), {"a": "km/h", "b": "C"})
        with self.assertRaises(Problem):
            _stated("a=km/h;C")

    def test_a_setting_that_stands_for_nothing_is_refused(self) -> None:
        self.assertEqual(_settings("A=1200,0.5"), [("A", 1200.0), ("0.5", 0.5)])
        for wrong in ("A=0", "A=-1", "A=x", "A=1,A=2"):
            with self.subTest(wrong), self.assertRaises(Problem):
                _settings(wrong)

    def test_walking_pace_gives_pulses_and_standing_none(self) -> None:
        said = work_out("10 Hz at 3 km/h")[0][1]
        self.assertEqual(said.replace("\u00a0", " "), "12 000 per km")
        self.assertEqual(work_out("10 Hz at 0 km/h")[0][0], "no")


if __name__ == "__main__":
    unittest.main()
