"""Logs as shops really get them: separators, commas, units, headers that say little."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from zombrel.catalog import DEMO
from zombrel.job.problem import Problem
from zombrel.logs.speedlog import UnitUnknown, parse, read

SPEEDS = (50, 50.4, 60, 70, 80.2, 90)


def table(header: str, sep: str, row: str, comma: bool = False) -> str:
    """Six rows; ``row`` is formatted with i, g (km/h satellite) and s (km/h shown)."""
    lines = [header] if header else []
    for i, g in enumerate(SPEEDS):
        text = row.format(
            i=i,
            g=round(g + 0.13, 2),
            s=round(g * 1.05),
            m=g * 0.621371,
            ms=g / 3.6,
            kn=g / 1.852,
            sep=sep,
        )
        lines.append(text.replace(".", ",") if comma else text)
    return "\n".join(lines) + "\n"


class Columns(unittest.TestCase):
    def check(self, text: str, unit: str = "") -> None:
        log = parse(text, unit=unit)
        for got, want in zip(log.true, SPEEDS, strict=True):
            self.assertAlmostEqual(got * 3.6, want, delta=0.2)
        for got, want in zip(log.shown, SPEEDS, strict=True):
            self.assertAlmostEqual(got * 3.6, want * 1.05, delta=0.7)

    def test_by_name(self) -> None:
        for header, sep, row, comma in (
            ("time s,satellite km/h,indicated km/h", ",", "{i},{g},{s}", False),
            ("time s;satellite km/h;indicated km/h", ";", "{i};{g};{s}", True),
            ("t [s]\tGPS speed [km/h]\tDash [km/h]", "\t", "{i}\t{g}\t{s}", True),
            ("indicated (km/h),GPS (km/h)", ",", "{s},{g}", False),
            ("Time,GNSS mph,Speedo km/h", ",", "{i},{m},{s}", False),
            ("elapsed,true m/s,shown km/h", ",", "{i},{ms},{s}", False),
            ("UTC;SOG knots;unit kmh", ";", "12:00:0{i};{kn};{s}", False),
            ("time,lat,lon,gps kph,device kph", ",", "{i},48.1{i},11.5{i},{g},{s}", False),
            ("time,sats used,gps km/h,display km/h", ",", "{i},9,{g},{s}", False),
            ("time ms,reference km/h,gauge km/h", ",", "{i}000,{g},{s}", False),
        ):
            with self.subTest(header):
                self.check(table(header, sep, row, comma))

    def test_a_unit_that_cannot_be_told_is_asked_for(self) -> None:
        for header, row, unit in (
            ("a,satellite,indicated", "{i},{g},{s}", "kmh"),
            ("a,gps_m_s,shown_m_s", "{i},{ms},{s}", ""),
            ("a,gps ft/s,shown ft/s", "{i},{ms},{s}", ""),
            ("time,gps km/h,shown", "{i},{g},{s}", "kmh"),
            ("", "{i},{kn},{s}", ""),
        ):
            text = table(header, ",", row)
            with self.subTest(header):
                with self.assertRaisesRegex(UnitUnknown, r"unit=kmh\|mph\|ms\|kn\|fts"):
                    parse(text)
                if unit:
                    self.check(text, unit)
        knots = parse(table("a,gps,shown km/h", ",", "{i},{kn},{s}"), unit="kn")
        self.assertAlmostEqual(knots.true[-1] * 3.6, 90, delta=0.2)
        self.assertIn("stated: kn", knots.note)

    def test_every_usual_encoding(self) -> None:
        text = table("Zeit s;satellite km/h;Gerät km/h", ";", "{i};{g};{s}", True)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "run.csv"
            for how in ("utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "latin-1"):
                path.write_bytes(text.encode(how))
                log = read(path)
                with self.subTest(how):
                    self.assertAlmostEqual(log.true[1] * 3.6, 50.5, delta=0.1)

    def test_every_usual_end_of_line(self) -> None:
        text = table("time s,satellite km/h,shown km/h", ",", "{i},{g},{s}")
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "run.csv"
            for end in ("\n", "\r\n", "\r"):
                path.write_bytes(text.replace("\n", end).encode())
                with self.subTest(end.encode()):
                    self.assertEqual(len(read(path).t), len(SPEEDS))

    def test_what_cannot_be_is_left_out_and_named(self) -> None:
        rows = [[i, 50 + i + 0.1, 52 + i] for i in range(40)]
        rows[7][0], rows[9][1], rows[12][2] = 2, 900, -5
        text = "\n".join(",".join(map(str, row)) for row in rows)
        log = parse("time,gps km/h,shown km/h\n" + text)
        self.assertEqual(len(log.t), 37)
        self.assertIn("2 rows with a speed below 0 or above 540 km/h", log.note)
        self.assertIn("1 rows whose time runs backwards", log.note)
        turned = "\n".join(f"{i},{50 + i},{52 + i}" for i in (*range(9, 12), *range(9)))
        with self.assertRaisesRegex(Problem, "time runs backwards in 9 of 12 rows"):
            parse("time,gps km/h,shown km/h\n" + turned)

    def test_one_name_of_a_pair_tells_the_other(self) -> None:
        for header in ("time,gps km/h,left km/h", "time,roof km/h,indicated km/h"):
            with self.subTest(header):
                text = table(header, ",", "{i},{g},{s}")
                self.assertIn("by name", parse(text).note)
                self.check(text)

    def test_time_in_milliseconds_is_told_by_its_steps(self) -> None:
        for step, seconds in ((1, 1.0), (10, 10.0), (50, 50.0), (100, 0.1), (1000, 1.0)):
            rows = "\n".join(f"{i * step},{50 + i + 0.1},{52 + i}" for i in range(6))
            log = parse("time,gps km/h,shown km/h\n" + rows)
            with self.subTest(step):
                self.assertAlmostEqual(log.t[5], 5 * seconds)

    def test_a_head_that_names_the_unit_of_time_is_believed(self) -> None:
        for head, seconds in (("time s", 60.0), ("t [ms]", 0.06), ("elapsed_ms", 0.06)):
            rows = "\n".join(f"{i * 60},{50 + i + 0.1},{52 + i}" for i in range(6))
            log = parse(f"{head},gps km/h,shown km/h\n" + rows)
            with self.subTest(head):
                self.assertAlmostEqual(log.t[5], 5 * seconds)

    def test_a_clock_that_stands_still_between_its_seconds_is_a_clock(self) -> None:
        rows = "\n".join(f"{i // 2},{50 + i + 0.1},{52 + i}" for i in range(8))
        log = parse("time,gps km/h,shown km/h\n" + rows)
        self.assertEqual(list(log.t), [0, 0, 1, 1, 2, 2, 3, 3])

    def test_by_sense(self) -> None:
        for header in ("", "a;b;c", "when;one;two"):
            with self.subTest(header):
                text = table(header, ";", "{i};{g};{s}")
                log = parse(text, unit="kmh")
                self.assertIn("by sense", log.note)
                self.check(text, "kmh")

    def test_by_sense_the_finer_may_stand_last(self) -> None:
        rows = "\n".join(f"{i};{50 + i // 2 * 2};{50.1 + i}" for i in range(8))
        log = parse("a;b;c\n" + rows, unit="kmh")
        self.assertAlmostEqual(log.true[1] * 3.6, 51.1)
        self.assertAlmostEqual(log.shown[1] * 3.6, 50.0)

    def test_by_sense_however_little_the_speed_changes(self) -> None:
        rows = "\n".join(f"{i};{50 + i / 8:.3f};5;{50 + i // 2 / 4:.2f}" for i in range(8))
        log = parse("a;b;c;d\n" + rows, unit="kmh")
        self.assertAlmostEqual(log.true[1] * 3.6, 50.125)
        self.assertAlmostEqual(log.shown[2] * 3.6, 50.25)

    def test_time_across_midnight(self) -> None:
        rows = "\n".join(f"23:59:{57 + i if i < 3 else 0:02d};{50 + i};{51 + i}" for i in range(3))
        more = "\n".join(f"00:00:0{i};{53 + i};{54 + i}" for i in range(4))
        log = parse("time;gps km/h;shown km/h\n" + rows + "\n" + more)
        steps = [b - a for a, b in zip(log.t, log.t[1:], strict=False)]
        self.assertEqual(steps, [1.0] * 6)

    def test_time_across_two_midnights(self) -> None:
        rows = "\n".join(f"{8 * i % 24:02d}:00:00;{50 + i};{51 + i}" for i in range(8))
        log = parse("time;gps km/h;shown km/h\n" + rows)
        steps = {float(b - a) for a, b in zip(log.t, log.t[1:], strict=False)}
        self.assertEqual(steps, {8 * 3600.0})

    def test_rows_without_figures_are_left_out_and_counted(self) -> None:
        text = table("t,gps km/h,shown km/h", ",", "{i},{g},{s}") + "6,,\n7,n/a,90\n8,91,95\n"
        log = parse("# a remark\n" + text)
        self.assertEqual(len(log.t), 7)
        self.assertIn("2 rows", log.note)

    def test_the_demo_log(self) -> None:
        log = read(DEMO / "0412-road.csv")
        self.assertEqual(len(log.t), 250)
        self.assertEqual((log.t[0], log.t[-1]), (0.0, 249.0))


class Refused(unittest.TestCase):
    def test_clear_messages(self) -> None:
        for text, part in (
            ("", "no rows"),
            ("only a header\n", "no rows"),
            ("a b c\n1 2 3\n", "does not split"),
            ("t,gps km/h\n1,50\n2,60\n3,70\n4,80\n5,90\n6,99\n", "no two speed columns"),
            ("t,gps km/h,shown km/h\n1,50,51\n2,60,61\n", "only 2 usable rows"),
            ("t,x,y\n" + "\n".join(f"{i},{50 + i},{(-1) ** i}" for i in range(9)), "no two speed"),
        ):
            with self.subTest(part), self.assertRaises(Problem) as caught:
                parse(text, "run.csv")
            self.assertIn(part, str(caught.exception))

    def test_files(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            with self.assertRaises(Problem):
                read(Path(folder) / "none.csv")
            binary = Path(folder) / "x.csv"
            binary.write_bytes(bytes(range(256)) * 4)
            with self.assertRaises(Problem) as caught:
                read(binary)
            self.assertIn("not a text file", str(caught.exception))


class Short(unittest.TestCase):
    def test_what_was_left_out_of_a_short_log_is_told_once(self) -> None:
        rows = "".join(f"{i},50,51\n" for i in range(3)) + "3,fast,51\n"
        with self.assertRaises(Problem) as caught:
            parse("t,gps km/h,shown km/h\n" + rows, "run.csv")
        said = str(caught.exception)
        self.assertIn("only 3 usable rows", said)
        self.assertIn("1 rows without figures", said)
        self.assertNotIn("column", said.partition("at least 5.")[2])  # how it was read is no excuse

    def test_a_column_of_clocks_with_a_few_figures_is_a_clock(self) -> None:
        rows = [f"10:00:{i:02d}" if i % 3 else f"{36000 + i}" for i in range(30)]
        text = "time,satellite km/h,indicated km/h\n" + "".join(
            f"{cell},{50 + i},{52 + i}\n" for i, cell in enumerate(rows)
        )
        log = parse(text)
        self.assertAlmostEqual(float(log.t[-1] - log.t[0]), 28.0)  # from 10:00:01 to 10:00:29
        self.assertIn("10 rows without figures", log.note)

    def test_a_crawl_stays_when_the_impossible_goes(self) -> None:
        rows = ["time s,satellite km/h,indicated km/h", *(f"{i},{i / 2},{i / 2}" for i in range(9))]
        log = parse("\n".join([*rows, "9,-5,3"]))
        self.assertEqual(len(log.true), 9)
        self.assertAlmostEqual(log.true[1] * 3.6, 0.5)


if __name__ == "__main__":
    unittest.main()
