"""Tables of every habit: separator, decimal mark, units and clock are told, with their reasons."""

from __future__ import annotations

import tempfile
import time
import unittest
from collections.abc import Iterator
from pathlib import Path
from unittest import mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from zombrel.job.problem import Problem
from zombrel.logs.recording import Recording
from zombrel.logs.table.columns import guesses
from zombrel.logs.table.layout import told
from zombrel.logs.table.read import UnitUnknown, preview, read
from zombrel.logs.table.side_by_side import in_order, workers
from zombrel.logs.write import to_csv

KMH = 1 / 3.6
# name: (text, {channel: (what, times [s], values [SI])})
CASES: dict[str, tuple[str, dict[str, tuple[str, list[float], list[float]]]]] = {
    "commas, unit at the end of the heading": (
        "time s,speed km/h,coolant C\n0,36,80\n0.5,72,80.5\n1.0,36,81\n",
        {
            "speed km/h": ("speed", [0, 0.5, 1], [10, 20, 10]),
            "coolant C": ("temperature", [0, 0.5, 1], [353.15, 353.65, 354.15]),
        },
    ),
    "semicolons, decimal comma, milliseconds, brackets": (
        "note;time [ms];GPS speed [km/h];IAT (°C)\nx;0;10,8;20,1\ny;100;14,4;21\n",
        {
            "GPS speed": ("speed", [0, 0.1], [3, 4]),
            "IAT": ("temperature", [0, 0.1], [293.25, 294.15]),
        },
    ),
    "decimal commas in quotes": (
        'time,"speed (m/s)",v\n"0,0","10,5","1,5"\n"0,1","11,5","1,25"\n"0,2","12,5","1,0"\n',
        {"speed": ("speed", [0, 0.1, 0.2], [10.5, 11.5, 12.5])},
    ),
    "a line of units": (
        "Time,RPM,Boost,Batt\nsec,rpm,kPa,V\n0,600,101,13.8\n0.1,1200,103,13.9\n",
        {
            "RPM": ("engine", [0, 0.1], [10, 20]),
            "Boost": ("pressure", [0, 0.1], [101e3, 103e3]),
            "Batt": ("voltage", [0, 0.1], [13.8, 13.9]),
        },
    ),
    "units in the cells": (
        "time\tspeed\ttemp\n0.0 s\t36 km/h\t20 °C\n0.1 s\t72 km/h\t20 °C\n",
        {"speed": ("speed", [0, 0.1], [10, 20])},
    ),
    "comments, miles": (
        "# made up\n# a log\nt,ground speed mph\n0,1\n1,2\n2,3\n",
        {"ground speed mph": ("speed", [0, 1, 2], [0.44704, 0.89408, 1.34112])},
    ),
    "a clock of twelve hours over noon": (
        "Time,Speed (km/h)\n11:59:59 AM,36\n12:00:00 PM,36\n12:00:01 PM,72\n",
        {"Speed": ("speed", [0, 1, 2], [10, 10, 20])},
    ),
    "a clock over midnight": (
        "clock;Speed (km/h)\n23:59:59,5;36\n00:00:00,5;36\n00:00:02;72\n",
        {"Speed": ("speed", [0, 1, 2.5], [10, 10, 20])},
    ),
    "dates as of ISO over midnight": (
        "stamp,Speed (km/h)\n2026-11-27T23:59:59.5Z,36\n2026-11-28T00:00:00.5Z,72\n",
        {"Speed": ("speed", [0, 1], [10, 20])},
    ),
    "seconds since 1970": (
        "unix,Speed (km/h)\n1795000000.0,36\n1795000000.25,36\n1795000000.5,72\n",
        {"Speed": ("speed", [0, 0.25, 0.5], [10, 10, 20])},
    ),
    "milliseconds since 1970": (
        "ts;Speed km/h\n1795000000000;36\n1795000000100;36\n1795000000200;72\n",
        {"Speed km/h": ("speed", [0, 0.1, 0.2], [10, 10, 20])},
    ),
    "the heading again in between": (
        "time,rpm\n0,600\n1,1200\ntime,rpm\n2,1800\n",
        {"rpm": ("engine", [0, 1, 2], [10, 20, 30])},
    ),
    "channels of other rates": (
        "time,rpm,EGT (C)\n0,600,400\n0.1,600,\n0.2,600,n/a\n0.3,600,420\n",
        {
            "rpm": ("engine", [0, 0.1, 0.2, 0.3], [10, 10, 10, 10]),
            "EGT": ("temperature", [0, 0.3], [673.15, 693.15]),
        },
    ),
    "no heading": ("0,10,1\n1,11,1\n2,12,1\n", {"column 2": ("number", [0, 1, 2], [10, 11, 12])}),
    "lines before the heading": (
        "Logger v1\nDate: 2026-11-27\n\nTime (s),Throttle (%),Lambda\n0,10,0.99\n1,20,1.01\n",
        {
            "Throttle": ("fraction", [0, 1], [0.1, 0.2]),
            "Lambda": ("lambda", [0, 1], [0.99, 1.01]),
        },
    ),
    "a typographic minus": (
        "time,accel g\n0,\u22120.5\n1,0.5\n",
        {"accel g": ("acceleration", [0, 1], [-4.903325, 4.903325])},
    ),
    "on and off": (
        "time,brake,speed km/h\n0,on,36\n1,off,72\n",
        {"brake": ("contact", [0, 1], [1, 0])},
    ),
    "bars": ("time s|speed km/h\n0|36\n1|72\n", {"speed km/h": ("speed", [0, 1], [10, 20])}),
}
ENCODINGS = ("utf-8", "utf-8-sig", "utf-16", "latin-1")


class Habits(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.place = Path(place.name)

    def file(self, text: str | bytes) -> Path:
        path = self.place / "log.csv"
        path.write_bytes(text if isinstance(text, bytes) else text.encode())
        return path

    def check(
        self, log: Recording, wanted: dict[str, tuple[str, list[float], list[float]]]
    ) -> None:
        for name, (what, t, v) in wanted.items():
            c = log.channel(name)
            assert c is not None, [x.name for x in log.channels]
            self.assertEqual(c.what, what)
            np.testing.assert_allclose(c.t, t, atol=2e-6)
            np.testing.assert_allclose(c.v, v, rtol=2e-6)

    def test_each_is_read_in_every_encoding_and_end_of_line(self) -> None:
        for name, (text, wanted) in CASES.items():
            for encoding in ENCODINGS:
                if encoding == "latin-1" and "\u2212" in text:
                    continue  # it has no such sign
                for end in ("\n", "\r\n", "\r"):
                    with self.subTest(name, encoding=encoding, end=end):
                        self.check(
                            read(self.file(text.replace("\n", end).encode(encoding))), wanted
                        )

    def test_every_guess_has_its_reason(self) -> None:
        for name, (text, _) in CASES.items():
            with self.subTest(name):
                seen = preview(self.file(text))
                self.assertTrue(all(g.why for g in seen.columns))
                self.assertEqual(sum(bool(g.time) for g in seen.columns), 1)

    def test_a_unit_that_cannot_be_told_is_asked_and_taken_when_stated(self) -> None:
        path = self.file("time,speed,oil temp\n0,36,90\n1,72,91\n")
        with self.assertRaisesRegex(UnitUnknown, "the unit of “speed” cannot be told.*km/h or mph"):
            read(path)
        with self.assertRaisesRegex(UnitUnknown, "oil temp"):
            read(path, {"speed": "km/h"})
        log = read(path, {"speed": "km/h", "oil temp": "°F"})
        self.check(log, {"speed": ("speed", [0, 1], [10, 20])})
        slow = self.file("time,rpm\n0,600\n10,600\n20,600\n")
        with self.assertRaisesRegex(UnitUnknown, "s or ms"):
            read(slow)
        self.assertEqual(read(slow, {"time": "s"}).length_s, 20)
        with self.assertRaisesRegex(Problem, "no column “velocity”"):
            read(path, {"velocity": "km/h"})
        with self.assertRaisesRegex(Problem, "is no unit"):
            read(path, {"speed": "furlongs"})

    def test_bad_tables(self) -> None:
        for text, words in (
            ("", "empty"),
            ("hello\nworld\n", "do not split"),
            ("a,b\nx,y\n", "do not split"),
            (bytes(range(256)) * 4, "not a text file"),
            ("time,rpm\n" + "".join(f"{9 - i},600\n" for i in range(9)), "does not rise"),
            ('t,v\n0,1\n1,"2\n2,3\n', "quote|split|no column"),
        ):
            with self.subTest(words), self.assertRaisesRegex(Problem, words):
                read(self.file(text))
        with self.assertRaises(Problem):
            read(self.place / "nowhere.csv")

    def test_reading_can_be_given_up(self) -> None:
        path = self.file(CASES["on and off"][0])
        told: list[float] = []
        with self.assertRaisesRegex(Problem, "given up"):
            read(path, None, lambda share: bool(told.append(share)))
        self.assertTrue(told)

    @settings(max_examples=30, deadline=None)
    @given(
        st.lists(st.tuples(st.floats(0, 250), st.floats(-40, 400)), min_size=2, max_size=40),
        st.sampled_from([";", "\t", "|"]),
        st.booleans(),
    )
    def test_round_trip(self, rows: list[tuple[float, float]], mark: str, comma: bool) -> None:
        lines = [mark.join(("time [s]", "speed [km/h]", "oil [°C]"))]
        for i, (v, c) in enumerate(rows):
            line = mark.join((f"{i / 10:.1f}", f"{v:.3f}", f"{c:.3f}"))
            lines.append(line.replace(".", ",") if comma else line)
        log = read(self.file("\n".join(lines) + "\n"))
        again = read(self.file(to_csv(log)))
        for first, second in zip(log.channels, again.channels, strict=True):
            self.assertEqual((first.name, first.unit), (second.name, second.unit))
            np.testing.assert_allclose(first.v, second.v, rtol=1e-5, atol=1e-3)
            np.testing.assert_allclose(first.t, second.t, atol=1e-6)
        np.testing.assert_allclose(
            log.channels[0].v, [v * KMH for v, _ in rows], rtol=1e-5, atol=1e-3
        )

    def test_work_side_by_side_keeps_its_order_and_its_errors(self) -> None:
        def slow(k: int) -> int:
            time.sleep(0.002 * (k % 3))
            if k == 41:
                raise Problem("half-way")
            return k * k

        self.assertEqual(list(in_order(slow, iter(range(40)))), [k * k for k in range(40)])
        taken: list[int] = []
        with self.assertRaisesRegex(Problem, "half-way"):
            taken.extend(in_order(slow, iter(range(60))))
        handed: list[int] = []

        def pieces() -> Iterator[int]:
            for k in range(1000):
                handed.append(k)
                yield k

        self.assertEqual(next(in_order(slow, pieces())), 0)
        self.assertLess(len(handed), 12)  # few are in hand, however long the file

    def test_ends_of_line_of_every_kind_beyond_the_first_piece(self) -> None:
        rows = [f"{i / 10:.1f},{i % 97},{i % 13}" for i in range(40_000)]
        wanted = np.array([i % 97 for i in range(40_000)], float)
        for end, bom in (("\n", ""), ("\r\n", "\ufeff"), ("\r", ""), ("\n", "\ufeff")):
            path = self.file(bom + end.join(["time s,engine rpm,x", *rows]))
            with mock.patch("zombrel.logs.table.read.BLOCK", 10_007):
                log = read(path)
            engine = log.first("engine")
            assert engine is not None
            np.testing.assert_allclose(engine.v * 60, wanted, rtol=1e-5)


class Times(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.place = Path(place.name)

    def test_time_that_begins_late_is_still_told_by_its_steps(self) -> None:
        for first, step, unit in ((5000, 1, 1.0), (5000, 40, 0.001)):
            rows = "\n".join(f"{first + i * step},{i % 7}" for i in range(40))
            layout = told(f"run,a\n{rows}\n", "x.csv")
            with self.subTest(step):
                (time,) = [g for g in guesses(layout) if g.time]
                self.assertEqual(time.time, unit)

    def test_of_many_columns_the_first_are_named(self) -> None:
        names = [f"c{i}" for i in range(10)]
        lines = [",".join(["time (s)", *names[1:]])] + [
            ",".join(str(i + k / 10) for k in range(10)) for i in range(20)
        ]
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "x.csv"
            path.write_text("\n".join(lines) + "\n")
            with self.assertRaises(Problem) as caught:
                read(path, {"zz": "km/h"})
        self.assertIn("it has time, c1, c2, c3, c4, c5, c6, c7 and 2 more.", str(caught.exception))

    def test_so_many_pieces_are_in_hand_and_no_more(self) -> None:
        taken: list[int] = []

        def pieces() -> Iterator[int]:
            for i in range(20):
                taken.append(i)
                yield i

        results = in_order(lambda i: i * i, pieces())
        for n in range(20):
            self.assertEqual(next(results), n * n)
            self.assertEqual(len(taken), min(20, workers() + 1 + n))

    def test_a_column_that_falls_is_no_time(self) -> None:
        path = self.place / "falls.csv"
        path.write_text("a,b\n" + "".join(f"{50 - i},{i * i}\n" for i in range(20)))
        self.assertEqual([bool(g.time) for g in preview(path).columns], [False, True])


if __name__ == "__main__":
    unittest.main()
