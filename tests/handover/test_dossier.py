"""The dossier says everything it must, escapes what users type, and follows the facts."""

from __future__ import annotations

import html.parser
import re
import unittest

import pypdfium2

from tests.demo import apply, at, demo, put, whole
from tests.diagnose.test_proof import prove
from tests.findings.test_roadwork import with_run
from tests.paper import check, kept_together, texts
from zombrel.actions.plugs.made import make
from zombrel.catalog import DEMO
from zombrel.handover.dossier.make import dossier
from zombrel.handover.drawing import drawing
from zombrel.handover.labels import labels
from zombrel.handover.paper import Size, dossier_html, pdf_of, sheets_html
from zombrel.harness.ends import end_words
from zombrel.harness.laid import laid
from zombrel.job.model import Job
from zombrel.job.wiring import End
from zombrel.store.zjob import load
from zombrel.units import Units


def sheet(job: Job, units: Units | None = None) -> str:
    """The page without its style."""
    html = dossier_html(job, at(job), units, "2026-11-25")
    return re.sub(r"<style>.*?</style>", "", html, flags=re.S)


def plain(html: str) -> str:
    return html.replace("\u00a0", " ")


class Balance(html.parser.HTMLParser):
    """Counts tags that are opened and not closed."""

    VOID = ("meta", "br", "col", "rect", "polyline")

    def __init__(self) -> None:
        super().__init__()
        self.open: list[str] = []

    def handle_starttag(self, tag: str, attrs: object) -> None:
        if tag not in self.VOID:
            self.open.append(tag)

    def handle_startendtag(self, tag: str, attrs: object) -> None:
        """Opened and closed at once."""

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
            "Not tried yet: ",
            "Wiring drawing",
            "as found and as built",
            "with their way back",
            "What is left of error: within 2.9",
            "Known by hearsay",
            "Cautions",
            "House rules",
            "Made-up sample data",
            "printed 2026-11-25",
            "On this hangs: ",
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
        self.assertIn("New job", text)
        self.assertNotIn("<tbody></tbody>", text.replace("\n", ""))
        for part in ("Signals", "Wires", "Settings", "Parts", "Curves", "Changes"):
            self.assertNotIn(f">{part}", text)

    def test_what_is_only_hearsay_stands_once_under_what_hangs_on_it(self) -> None:
        text = plain(sheet(demo()))
        told = text[text.index('id="hearsay"') : text.index('id="vehicle"')]
        brake = told[told.index("On this hangs: Brake<") :]
        self.assertIn("W3 joins at", brake[: brake.index("</table>")])
        self.assertEqual(told.count("W3 joins at"), 1)
        self.assertNotIn("nobody has said how</td></tr>\n<tr><td>Owner", told)
        better = put(demo(), "wires.W3.b", {"place": "D2", "pin": "27"})
        self.assertIn("W3 joins at", plain(sheet(better)))

    def test_a_change_says_how_it_is_undone(self) -> None:
        done = apply(demo(), make(demo(), demo().changes[0], "2026-11-27"))
        text = plain(sheet(done))
        self.assertIn("D2 27 had green/white brake lamps", text)
        self.assertIn("nothing is made yet", plain(sheet(demo())))

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
            "Gauge hub, coolant warning: 105",
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


class Paper(unittest.TestCase):
    def test_every_page_of_every_demo(self) -> None:
        sizes: tuple[Size, ...] = ("A4", "Letter", "A4")
        for name, size in zip(("0412", "0413", "0409"), sizes, strict=True):
            with self.subTest(name, size=size):
                job = load(DEMO / f"{name}.zjob")
                html = dossier_html(job, at(job), Units(paper=size), "27 November 2026")
                text = check(self, pdf_of(html), size, f"Job {name}")
                made = dossier(job, at(job), Units(), "")
                kept_together(self, text, [s.title for s in made.sections])
                whole = " ".join(" ".join(text).split())
                for section in made.sections:
                    self.assertIn(section.title, whole)

    def test_drawn_sheets_are_paged_in_their_own_size(self) -> None:
        job = laid(demo())
        pages = (*drawing(job), *labels(job))
        data = pdf_of(sheets_html(pages, "0412, papers"))
        document = pypdfium2.PdfDocument(data)
        size = [tuple(round(x / 72 * 25.4) for x in p.get_size()) for p in document]
        self.assertEqual(size, [(round(p.width), round(p.height)) for p in pages])
        self.assertIn("Left rear tone ring", texts(data)[0])

    def test_the_html_is_one_file_that_fetches_nothing(self) -> None:
        html = dossier_html(demo(), at(demo()))
        self.assertNotRegex(html, r"(src|href)=\"(?!data:|#)|url\(\"(?!data:)|http")


if __name__ == "__main__":
    unittest.main()
