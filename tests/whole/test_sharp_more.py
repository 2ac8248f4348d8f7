"""More places where a slip would have passed unseen: one case each, worked by hand."""

from __future__ import annotations

import functools
import operator
import tempfile
import unittest
from pathlib import Path

import msgspec
import numpy as np

from tests.demo import apply, at, demo, put, whole
from tests.logs.made_up import channel
from zombrel.actions.begin import likeness
from zombrel.actions.searches import _failed
from zombrel.behaviour.cruise import Unit, advice
from zombrel.behaviour.longitudinal import Body
from zombrel.behaviour.reports import paced
from zombrel.catalog.form.applies import applies
from zombrel.diagnose.misread.lines import Contact, contact_meter
from zombrel.diagnose.steps import steps
from zombrel.findings.met import MOST, mended
from zombrel.handover.marks import head_of
from zombrel.handover.owner.make import OUT_M, owner_page
from zombrel.harness.laid import laid
from zombrel.instruments.bus import PIDS
from zombrel.job.edits import Put
from zombrel.job.model import Job, Proof, Seen, Vehicle, index
from zombrel.job.pairs import falling_or_rising
from zombrel.job.problem import Problem
from zombrel.job.records.lesson import Lesson, Met
from zombrel.job.records.retrofit import Retrofit
from zombrel.job.source import Resistive
from zombrel.logs.compare import charge_of
from zombrel.logs.gpx import read_gpx
from zombrel.logs.nmea import read_nmea_log
from zombrel.logs.recording import Recording
from zombrel.logs.speedlog import parse
from zombrel.plots.picture import Axis, ticks
from zombrel.signals.waveform import trace
from zombrel.store.book.book import Book
from zombrel.store.zjob import save


class Found(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.place = Path(place.name)

    def test_what_is_said_shortly_comes_first(self) -> None:
        long = "the idle relay hums on a cold morning, and nobody knows yet what it is that does it"
        for name, said in (("1", "the idle relay hums"), ("2", long)):
            job = Job(
                number=name, vehicle=Vehicle(name="Heron"), lessons=(Lesson(id="L1", text=said),)
            )
            save(job, self.place / f"{name}.zjob")
        with Book.opened(self.place / "b.sqlite") as book:
            book.watch(self.place)
            book.refresh()
            self.assertEqual(
                [h.job.number for h in book.find("idle relay hums", False)], ["1", "2"]
            )

    def test_a_track_of_five_points_a_second_keeps_them(self) -> None:
        point = '<trkpt lat="{:.6f}" lon="8.0"><time>2026-11-27T10:00:{:06.3f}Z</time></trkpt>'
        points = "".join(point.format(50 + i * 1e-5, i / 5) for i in range(20))
        path = self.place / "t.gpx"
        path.write_text(
            '<gpx version="1.1" creator="x" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>'
            f"{points}</trkseg></trk></gpx>"
        )
        self.assertEqual(len(read_gpx(path).channels[0].t), 20)

    def test_fixes_without_a_lock_are_counted_and_heights_kept(self) -> None:
        def sentence(body: str) -> str:
            mark = functools.reduce(operator.xor, body.encode())  # IEC 61162-1: exclusive or
            return f"${body}*{mark:02X}"

        lines = []
        for i in range(8):
            lock = "V" if i in (2, 5) else "A"
            lines.append(
                sentence(
                    f"GPGGA,1000{i:02d}.00,5000.000,N,00800.{i:03d},E,1,8,1.0,{100 + i}.0,M,0,M,,"
                )
            )
            lines.append(
                sentence(
                    f"GPRMC,1000{i:02d}.00,{lock},5000.000,N,00800.{i:03d},E,20.0,90.0,191126,,,A"
                )
            )
        path = self.place / "t.nmea"
        path.write_text("\n".join([*lines, "$GPRMC,damaged*00"]))
        log = read_nmea_log(path)
        self.assertIn("2 without a satellite lock", log.notes)
        self.assertIn("1 damaged sentences left out", log.notes)
        high = next(c for c in log.channels if c.name == "height")
        self.assertEqual((len(high.v), float(high.v[-1])), (6, 107.0))


class Said(unittest.TestCase):
    def test_ten_steps_of_one_are_ten_marks(self) -> None:
        self.assertEqual(ticks(Axis("x", 0.0, 10.0), 10), [float(x) for x in range(11)])

    def test_a_square_stands_at_nothing_between_its_pulses(self) -> None:
        volts = {v for _, v in trace("square", 10.0, 5.0, 0.5)}
        self.assertEqual(volts, {0.0, 5.0})
        self.assertEqual(trace("square", 0.0, 5.0, 0.5), [(0.0, 0.0), (0.5, 0.0)])

    def test_an_engine_may_idle_where_its_redline_is_not_known(self) -> None:
        job = put(demo(), "vehicle.redline_rps", None)
        self.assertNotIn("The engine idles above its redline", {f.title for f in at(job).findings})
        job = put(demo(), "vehicle.redline_rps", 10.0)
        self.assertIn("The engine idles above its redline", {f.title for f in at(job).findings})

    def test_letters_alone_make_no_two_cars_alike(self) -> None:
        self.assertEqual(likeness("Heron S", "Curlew S"), 0)
        self.assertEqual(likeness("Brackwell Heron S", "Heron panel van"), 1)

    def test_no_more_is_remembered_than_a_job_can_hold(self) -> None:
        finding = at(demo()).findings[0]
        for many, noted in ((MOST - 1, True), (MOST, False)):
            held = tuple(Met(id=f"m{i}", code="x", title="x") for i in range(many))
            job = msgspec.structs.replace(demo(), met=held)
            after = apply(job, mended(job, finding, Put(path="notes", value="x")))
            self.assertEqual(len(after.met) > many, noted)

    def test_a_column_of_clocks_with_a_few_figures_is_a_clock(self) -> None:
        rows = [f"10:00:{i:02d}" if i % 3 else f"{36000 + i}" for i in range(30)]
        text = "time,satellite km/h,indicated km/h\n" + "".join(
            f"{cell},{50 + i},{52 + i}\n" for i, cell in enumerate(rows)
        )
        log = parse(text)
        self.assertAlmostEqual(float(log.t[-1] - log.t[0]), 28.0)  # from 10:00:01 to 10:00:29
        self.assertIn("10 rows without figures", log.note)

    def test_a_curve_that_stands_still_is_none(self) -> None:
        for points in (((0, 1), (1, 1), (2, 2)), ((0, 2), (1, 1), (2, 1))):
            with self.assertRaisesRegex(Problem, "at 1 the values|at 2 the values"):
                falling_or_rising(points, "pairs")
        self.assertTrue(falling_or_rising(((0, 1), (1, 2)), "pairs"))
        self.assertFalse(falling_or_rising(((0, 2), (1, 1)), "pairs"))

    def test_a_cable_without_slack_is_right_and_a_tight_one_is_not(self) -> None:
        car = Body(1290, 0.68, 95e3)
        self.assertNotEqual(advice(car, Unit(1, 1, 0.0), 25.0, 0.0).change, "slack")
        self.assertEqual(advice(car, Unit(1, 1, -0.1), 25.0, 0.0).change, "slack")

    def test_a_meter_on_a_contact_tells_its_two_levels_apart(self) -> None:
        # a twelfth of what lies between them, and no less than 0.3 V
        for off, on, noise in ((0.0, 12.0, 1.0), (12.0, 0.0, 1.0), (5.0, 7.0, 0.3)):
            self.assertAlmostEqual(contact_meter(Contact(off, on)).least, noise)

    def test_a_voltage_over_the_bus_has_two_bytes(self) -> None:
        self.assertAlmostEqual(PIDS[0x42].value(bytes((0x35, 0x70))), 13.68)  # 0x3570 mV
        self.assertAlmostEqual(PIDS[0x0C].value(bytes((0x1A, 0xF8))) * 60, 1726)  # ISO 15031-5

    def test_only_what_a_sender_has_is_asked_of_it(self) -> None:
        sender = Resistive(points=((0.0, 10.0), (1e5, 180.0)))
        asked = {f: applies(sender, f) for f in sender.__struct_fields__}
        self.assertEqual({f for f, yes in asked.items() if not yes}, {"seal", "shared_v"})
        own = msgspec.structs.replace(sender, one_wire=True, shared_ohm=1000.0)
        self.assertTrue(all(applies(own, f) for f in own.__struct_fields__))

    def test_things_stand_on_the_owners_page_where_they_are_in_the_car(self) -> None:
        job = laid(demo())
        page = owner_page(job, at(demo()), "27 November 2026", "")
        zones = index(job.zones)
        left = min(z.x_m - z.wide_m / 2 for z in job.zones) - OUT_M
        right = max(z.x_m + z.wide_m / 2 for z in job.zones) + OUT_M
        top = min(z.y_m - z.deep_m / 2 for z in job.zones) - OUT_M
        low = max(z.y_m + z.deep_m / 2 for z in job.zones) + OUT_M
        where = zones[job.devices[0].zone]
        spot = page.spots[0]
        self.assertAlmostEqual(spot.x, (where.x_m - left) / (right - left))
        self.assertAlmostEqual(spot.y, (where.y_m - top) / (low - top))


class Proven(unittest.TestCase):
    def test_a_trial_says_what_the_device_does(self) -> None:
        told = {s.id: s.fields[0].label for s in steps(whole()) if s.id.startswith("trial-")}
        self.assertEqual(
            told,
            {
                "trial-spark-LAUNCH": "It holds at",
                "trial-spark-LIMIT": "It cuts at",
                "trial-lamp-SHIFT": "It lights at",
                "trial-lamp-LAUNCH": "It lights at",
            },
        )

    def test_a_kept_count_is_no_less_and_a_drive_more(self) -> None:
        had = Retrofit(id="r", coding="not needed", keeps="distance", car_m=123_456_000.0)
        (step,) = [s for s in steps(Job(retrofits=(had,))) if s.fields[0].name == "km"]
        field = step.fields[0]
        self.assertEqual((field.low, field.high), (123_455.0, 123_486.0))
        self.assertIn("123486000", field.expect)  # in metres, until it is written

    def test_what_a_failed_gate_saw_begins_the_search(self) -> None:
        seen = (Seen(name="rest", value=0.2), Seen(name="pressed", value=7.1))
        proof = Proof(id=1, step="brake-brake-pace", verdict="fail", seen=seen)
        job = msgspec.structs.replace(whole(), proofs=(proof,))
        self.assertEqual(_failed(job, "brake-pace"), ((0.0, 0.2), (1.0, 7.1)))

    def test_what_holds_a_speed_is_known_by_either_dial(self) -> None:
        job = whole()
        pace = index(job.devices)["pace"]
        for means in ("engage", "gain"):
            left = tuple(c for c in pace.sheet.controls if c.means == means)
            sheet = msgspec.structs.replace(pace.sheet, controls=left)
            one = msgspec.structs.replace(pace, sheet=sheet)
            self.assertEqual(paced(msgspec.structs.replace(job, devices=(one,))), one)


class Drawn(unittest.TestCase):
    def test_an_arrow_that_lies_askew(self) -> None:
        """By the triangle of 3, 4 and 5: along is (0.6, 0.8), across (-0.8, 0.6)."""
        corners = head_of((0.0, 0.0), (3.0, 4.0), 1.0)
        for (x, y), (wanted_x, wanted_y) in zip(
            corners, ((3.0, 4.0), (2.0, 3.5), (2.8, 2.9), (2.52, 3.36)), strict=True
        ):
            self.assertAlmostEqual(x, wanted_x)
            self.assertAlmostEqual(y, wanted_y)

    def test_the_temperature_that_is_compared_is_not_the_air_outside(self) -> None:
        t = np.arange(0.0, 10.0)
        air, other = (channel(name, "temperature", t, 290 + t) for name in ("ambient", "T7"))
        self.assertIs(charge_of(Recording("x", (air, other))), other)
        self.assertIsNone(charge_of(Recording("x", (air,))))


if __name__ == "__main__":
    unittest.main()
