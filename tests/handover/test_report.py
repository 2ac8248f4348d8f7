"""The sheet says everything it must, escapes what users type, and follows the facts."""

from __future__ import annotations

import html.parser
import unittest

from tests.demo import at, demo, put, whole
from tests.diagnose.test_proof import prove
from tests.findings.test_roadwork import with_run
from zombrel.catalog import DEMO
from zombrel.handover.report import end_words, report_html
from zombrel.job.model import Job
from zombrel.job.wiring import End
from zombrel.store.zjob import load
from zombrel.units import Units


def sheet(job: Job, units: Units | None = None) -> str:
    return report_html(job, at(job), units, "2026-11-25")


class Balance(html.parser.HTMLParser):
    """Counts tags that are opened and not closed."""

    VOID = ("meta", "br")

    def __init__(self) -> None:
        super().__init__()
        self.open: list[str] = []

    def handle_starttag(self, tag: str, attrs: object) -> None:
        if tag not in self.VOID:
            self.open.append(tag)

    def handle_endtag(self, tag: str) -> None:
        last = self.open.pop() if self.open else "nothing"
        assert last == tag, (tag, last)


class Sheet(unittest.TestCase):
    def test_what_no_paper_can_hold_is_cleaned(self) -> None:
        text = sheet(
            put(put(demo(), "notes", "a\x01b\ufffe"), "title", "<img src='file:///x'>\x0b")
        )
        self.assertIn("a\ufffdb\ufffd", text)
        self.assertNotIn("<img", text)
        self.assertFalse({c for c in text if ord(c) < ord(" ")} - set("\n\t\r"))

    def test_all_sections(self) -> None:
        text = sheet(demo())
        for part in (
            "Open findings",
            "Vehicle",
            "Signals",
            "Settings",
            "Wires",
            "Proof",
            "Road",
            "Known by hearsay",
            "Cautions",
            "House rules",
            "made-up sample data",
            "2026-11-25",
            "E7",
            "W16",
            "NOT SURE TO CANCEL",
            "somebody said so",
            "negative comes off first",
            "stay locked",
        ):
            self.assertIn(part, text)

    def test_it_is_well_formed(self) -> None:
        for job in (demo(), whole(), Job(), with_run(prove(whole(), "brake-brake-pace"))):
            parser = Balance()
            parser.feed(sheet(job))
            self.assertEqual(parser.open, [])

    def test_it_follows_the_facts(self) -> None:
        self.assertIn("24\u00a0054 per km", sheet(demo()))
        self.assertIn("25\u00a0", sheet(put(demo(), "vehicle.tyre", "195/55 R15")))
        miles = sheet(demo(), Units(distance="mi"))
        self.assertIn("38\u00a0711 per mile", miles)
        self.assertIn("mph", miles)

    def test_what_users_type_is_only_text(self) -> None:
        text = sheet(put(demo(), "notes", "<script>alert(1)</script> & so on"))
        self.assertNotIn("<script>", text)
        self.assertIn("&lt;script&gt;", text)

    def test_proofs_and_road(self) -> None:
        job = with_run(prove(whole(), "brake-brake-pace"))
        text = sheet(job)
        self.assertIn("passed", text)
        self.assertIn("scale 1.01", text)
        self.assertNotIn("stay locked", text)
        self.assertIn("C6 behind ÷5", text)

    def test_an_empty_job_has_no_empty_tables(self) -> None:
        text = sheet(Job())
        for part in (
            "No signals are joined",
            "No wires are drawn",
            "No device",
            "No steps",
            "Untitled job",
        ):
            self.assertIn(part, text)

    def test_ends_in_words(self) -> None:
        for end, want in (
            (End(place="pace", pin="SPEED"), "Pace unit SPEED"),
            (End(place="D2", pin="27"), "D2 cavity 27"),
            (End(place="F9"), "Slot F9"),
            (End(place="G1"), "Dash stud"),
            (End(place="ring", pin="+"), "Left rear tone ring +"),
            (End(place="nowhere", pin="x"), "nowhere x"),
        ):
            self.assertEqual(end_words(demo(), end), want)


class Sensors(unittest.TestCase):
    def test_sensors_contacts_tables_and_controls_are_on_the_sheet(self) -> None:
        text = sheet(demo()).replace("\u00a0", " ")
        for part in (
            "Coolant sender of the hub",
            "326.6 Ω now",
            "from 0 °C to 120 °C",
            "rests open, to supply",
            "seen right",
            "+40.0 % now",
            "table l : Ω: 0:84, 10:74, 20:62, 30:47, 40:29, 50:12, 55:7",
            "coolant warning",
            "105 (105 °C)",
            "launch limit",
            "42 (4200 rpm)",
        ):
            with self.subTest(part):
                self.assertIn(part, text)
        us = sheet(demo(), Units(temperature="F", volume="gal")).replace("\u00a0", " ")
        self.assertIn("from 32 °F to 248 °F", us)
        self.assertIn("table gal (US) : Ω: 0:84, 2.642:74", us)

    def test_what_is_seen_wrong_is_loud(self) -> None:
        text = sheet(load(DEMO / "0409.zjob"))
        self.assertIn("SEEN WRONG", text)
        camper = sheet(put(load(DEMO / "0413.zjob"), "devices.pump.settings.SENSE.at", "Q"))
        self.assertIn("Q (no such position)", camper)


if __name__ == "__main__":
    unittest.main()
