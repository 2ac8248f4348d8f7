"""Files to take away: nothing overlaps on paper, tables add up, formulas are defused."""

from __future__ import annotations

import csv
import io
import itertools
import json
import unittest
import xml.etree.ElementTree as ET
from datetime import date

import icalendar
import msgspec

from tests.demo import apply, at, demo, put
from tools.bench.synthetic import big_job
from zombrel.actions.plugs.made import make
from zombrel.catalog import DEMO
from zombrel.findings.assess import assess
from zombrel.findings.finding import Assessment
from zombrel.handover import files, tables
from zombrel.handover.drawing import A3, A4, LETTER, drawing
from zombrel.handover.labels import labels
from zombrel.handover.pin_sheet import as_found, pin_sheets
from zombrel.handover.sheet import Path, Sheet, Text
from zombrel.harness.laid import laid
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.state import State
from zombrel.store.zjob import load
from zombrel.units import Units

JOBS = tuple(load(DEMO / f"{n}.zjob") for n in ("0412", "0413", "0409"))


def big() -> Job:
    """A job of 150 wires."""
    whole = big_job(40, 150)
    return msgspec.structs.replace(whole, wires=whole.wires[:150])


def wordy() -> Job:
    """A job whose things have longer names than any paper has room for."""
    job, name = JOBS[0], "A name that nobody should give to a thing, though somebody will"
    for kind in ("devices", "feeds", "studs", "sources"):
        for item in getattr(job, kind):
            job = put(job, f"{kind}.{item.id}.name", name)
    return job


def at_empty(job: Job) -> Assessment:
    """An assessment of a job that has no named states worth taking."""
    return assess(job, State())


def meet(a: Text, b: Text) -> bool:
    """Two texts may cover each other."""
    l0, t0, r0, b0 = a.box
    l1, t1, r1, b1 = b.box
    return l0 < r1 - 0.01 and l1 < r0 - 0.01 and t0 < b1 - 0.01 and t1 < b0 - 0.01


class Paper(unittest.TestCase):
    def texts(self, page: Sheet) -> list[Text]:
        return [i for i in page.items if isinstance(i, Text)]

    def test_no_text_overlaps_and_none_leaves_the_page(self) -> None:
        for job in (*map(laid, JOBS), laid(big()), laid(wordy())):
            drawn = (p for room in (A3, A4, LETTER) for p in drawing(job, room=room))
            for page in (*drawn, *labels(job)):
                found = self.texts(page)
                for a, b in itertools.combinations(found, 2):
                    self.assertFalse(meet(a, b), f"{a.text!r} and {b.text!r}")
                for text in found:
                    left, top, right, bottom = text.box
                    self.assertTrue(left >= 0 and top >= 0, text.text)
                    self.assertTrue(right <= page.width and bottom <= page.height, text.text)

    def test_drawn_sheets_go_on_north_american_paper_whole(self) -> None:
        job, us = laid(demo()), Units(paper="Letter")
        for name in ("labels", "drawing", "faces"):
            for page, wide in zip(
                files.sheets(name, job, us), files.sheets(name, job), strict=True
            ):
                self.assertIn((page.width, page.height), [(215.9, 279.4), (431.8, 279.4)])
                self.assertLess(page.height, wide.height)
                for ours, theirs in zip(self.texts(page), self.texts(wide), strict=True):
                    left, top, right, bottom = ours.box
                    self.assertTrue(left >= 0 and top >= 0, ours.text)
                    self.assertTrue(right <= page.width and bottom <= page.height, ours.text)
                    self.assertAlmostEqual(ours.size / theirs.size, 279.4 / 297)

    def test_no_upright_crosses_a_text_and_no_two_wires_share_a_line(self) -> None:
        rooms = (A3, A4, LETTER)
        for job, room in itertools.product((*map(laid, JOBS), laid(big())), rooms):
            channel = room.channel
            for page in drawing(job, room=room):
                lines = [i for i in page.items if isinstance(i, Path) and i.stripe is not None]
                tracks: dict[float, set[tuple[float, ...]]] = {}
                for line in lines:
                    for (x0, y0), (x1, y1) in itertools.pairwise(line.points):
                        if x0 == x1 and y0 != y1:
                            self.assertTrue(channel[0] < x0 < channel[1])
                            tracks.setdefault(x0, set()).add((min(y0, y1), max(y0, y1)))
                self.assertTrue(all(len(spans) == 1 for spans in tracks.values()))
                for text in self.texts(page)[:-3]:
                    left, _, right, _ = text.box
                    inside = left > channel[0] and right < channel[1]
                    self.assertFalse(inside, f"{text.text!r} stands in the channel")
                self.assertTrue(room.left[1] < channel[0] < channel[1] < room.right[0])

    def test_every_wire_is_drawn_and_labelled_at_both_ends(self) -> None:
        for job in map(laid, (*JOBS, big())):
            said = [t.text for p in drawing(job) for t in self.texts(p)]
            for wire in job.wires:
                self.assertTrue(any(t.split("  ")[0] == wire.id for t in said), wire.id)
            tags = [t.text for p in labels(job) for t in self.texts(p)]
            for wire in job.wires[:40]:
                self.assertEqual(tags.count(wire.id), 2)

    def test_svg_is_well_formed_whatever_is_typed(self) -> None:
        job = put(demo(), "wires.W4.colour", '<b>&"red')
        text = files.make("drawing", "svg", job, at(job), date(2026, 11, 25))
        root = ET.fromstring(text)
        self.assertTrue(root.tag.endswith("svg"))
        self.assertIn('<b>&"red', "".join(root.itertext()))

    def test_what_has_no_page_says_where_to_begin(self) -> None:
        bare = Job()
        for name, words in (
            ("drawing", "No wires yet"),
            ("labels", "No wires yet"),
            ("leads", "No remap lead"),
            ("faces", "No connector"),
            ("compare", "Nothing is compared"),
        ):
            with self.assertRaisesRegex(Problem, words):
                files.make(name, "pdf", bare, at_empty(bare), date(2026, 11, 25))


class Tables(unittest.TestCase):
    def read(self, name: str, job: Job) -> list[dict[str, str]]:
        data = files.make(name, "csv", job, at(job), date(2026, 11, 25))
        return list(csv.DictReader(io.StringIO(data.decode())))

    def test_formulas_are_defused(self) -> None:
        job = put(put(demo(), "wires.W4.colour", "=1+1"), "devices.pace.name", "@cmd|calc")
        rows = self.read("wires", job)
        w4 = next(r for r in rows if r["wire"] == "W4")
        self.assertEqual(w4["colour"], "'=1+1")
        self.assertTrue(w4["to"].startswith("'@cmd"))
        for text in ("=A1", "+1", "-1", "@x", "\tx", "  =A1"):
            self.assertTrue(tables.defused(text).startswith("'"))
        self.assertEqual(tables.defused("W1"), "W1")

    def test_headings_are_the_keys_of_the_rows(self) -> None:
        for name, head in tables.HEADS.items():
            data = files.make(name, "json", demo(), at(demo()), date(2026, 11, 25))
            for row in json.loads(data):
                self.assertEqual(tuple(row), head, name)

    def test_cuts_add_up_and_reels_cover_them(self) -> None:
        job = laid(demo())
        rows = self.read("cuts", demo())
        pieces = [r for r in rows if r["piece"] != "reel total"]
        self.assertEqual(len(pieces), len(job.wires))
        total = sum(float(r["length_m"]) for r in pieces)
        self.assertAlmostEqual(total, sum(w.length_m for w in job.wires), places=6)
        reels = sum(float(r["length_m"]) for r in rows if r["piece"] == "reel total")
        self.assertGreaterEqual(reels, total * 1.1 - 1e-9)

    def test_pins_parts_and_json(self) -> None:
        pins = self.read("pins", demo())
        taken = next(r for r in pins if (r["connector"], r["cavity"]) == ("D2", "27"))
        self.assertEqual((taken["our_wire"], taken["change"]), ("W3", "tap"))
        self.assertEqual(len([r for r in pins if r["connector"] == "D2"]), 40)
        parts = {r["part"]: r for r in self.read("parts", demo())}
        self.assertEqual(parts["blade fuse 1 A"]["count"], "4")
        self.assertIn("grommet for a hole of 35 mm", parts)
        data = files.make("wires", "json", demo(), at(demo()), date(2026, 11, 25))
        self.assertEqual(json.loads(data)[0]["wire"], "W1")

    def test_every_demo_job_gives_every_file(self) -> None:
        for job in JOBS:
            got = at(job)
            for kind in files.KINDS:
                for ending in kind.endings:
                    if ending == "pdf" or files.lacks(kind.name, job):
                        continue  # a PDF takes long, and is looked at page by page elsewhere
                    with self.subTest(job.number, kind=kind.name, ending=ending):
                        data = files.make(kind.name, ending, job, got, date(2026, 11, 25))
                        self.assertGreater(len(data), 2)
        with self.assertRaisesRegex(Problem, "begin one in Wire, Remap"):
            files.make("leads", "svg", JOBS[0], at(JOBS[0]), date(2026, 11, 25))
        with self.assertRaisesRegex(Problem, "written as svg or pdf, not csv"):
            files.make("drawing", "csv", JOBS[0], at(JOBS[0]), date(2026, 11, 25))

    def test_a_face_as_found_and_as_built_and_every_cavity_that_holds_something(self) -> None:
        job = apply(demo(), make(demo(), demo().changes[0], "2026-11-27"))
        pages = pin_sheets(job)
        said = [t.text for t in pages[0].items if isinstance(t, Text)]
        self.assertIn("as found, wire side; the lever end left", said)
        self.assertIn("as built, wire side; the lever end left", said)
        self.assertIn("brake lamps + W3 ours", said)
        self.assertIn("C1 tap, made", said)
        self.assertEqual(as_found(job, job.connectors[0]), demo().connectors[0])
        for page in pages:
            for item in page.items:
                if isinstance(item, Text):
                    left, _, right, bottom = item.box
                    self.assertGreaterEqual(left, 0)
                    self.assertLessEqual(right, page.width)
                    self.assertLess(bottom, page.height, item)

    def test_a_corrected_pin_out_is_in_the_connector_tables(self) -> None:
        rows = self.read("pins", JOBS[2])
        lead = [r for r in rows if r["connector"].startswith("Remap lead")]
        self.assertEqual(len(lead), len(JOBS[2].leads[0].rows))
        self.assertEqual(lead[0]["counted"], "the sheet that came with the lead")
        self.assertEqual((lead[0]["cavity"], lead[0]["state"]), ("V52.1", "to E40.1"))

    def test_an_empty_job_gives_headless_tables_and_no_pages(self) -> None:
        empty = Job()
        for name in tables.HEADS:
            data = files.make(name, "csv", empty, at_empty(empty), date(2026, 11, 25))
            self.assertEqual(data.decode().strip().split(","), list(tables.HEADS[name]))
        self.assertEqual(json.loads(tables.to_json([])), [])
        self.assertEqual(drawing(empty), ())
        self.assertEqual(labels(empty), ())

    def test_the_plan_is_a_calendar(self) -> None:
        first = date(2026, 11, 27)  # a Friday
        data = files.make("plan", "ics", JOBS[1], at(JOBS[1]), first)
        book = icalendar.Calendar.from_ical(data)
        events = book.walk("VEVENT")
        self.assertGreater(len(events), 30)
        days = {e["DTSTART"].dt.date() for e in events}
        self.assertTrue(all(d.weekday() < 5 for d in days), "no work at the weekend")
        for a, b in itertools.pairwise(events):
            self.assertLessEqual(a["DTEND"].dt.timestamp(), b["DTSTART"].dt.timestamp() + 60)


if __name__ == "__main__":
    unittest.main()
