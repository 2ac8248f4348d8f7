"""The owner's page: in plain words, from the settings; the PDF is checked page by page."""

from __future__ import annotations

import re
import unittest

import msgspec

from tests.demo import apply, at, demo, handed, put, whole
from tests.findings.test_roadwork import with_run
from tests.paper import check, kept_together
from zombrel.actions.signals import put_setting
from zombrel.behaviour.suppose import usual
from zombrel.catalog import DEMO
from zombrel.findings.assess import assess
from zombrel.handover.owner.make import OUT_M, _spots, owner_page
from zombrel.handover.owner.page import OwnerPage
from zombrel.handover.paper import Size, owner_html, pdf_of
from zombrel.harness.laid import laid
from zombrel.job.edits import Put
from zombrel.job.model import Job, index
from zombrel.store.zjob import load
from zombrel.units import METRIC, Units, words

JARGON = r"\b(chain|threshold|pin|cavity|ledger|provenance|hz|pulses|impedance|query|gate)\b"


def page(job: Job, seal: str = "") -> OwnerPage:
    return owner_page(job, assess(job, usual(job.vehicle)), "27 November 2026", seal)


def told(found: OwnerPage) -> str:
    parts = [
        *found.mind,
        *(f"{x.head}: {x.text}" for x in (*found.daily, *found.odd, *found.proven)),
        *(s.words for s in found.spots),
    ]
    return words("\n".join(parts), METRIC).replace("\xa0", " ")


class Says(unittest.TestCase):
    def test_a_whole_job_in_words_of_the_trade_nobody_needs(self) -> None:
        found = page(with_run(handed()))
        text = told(found)
        self.assertEqual(
            found.have, "a pace unit, a gauge hub, a spark box, a shift lamp and a blend reader"
        )
        for part in (
            "Set a pace: above 50 km/h",
            "End it: the brake pedal: it lets go at once",
            "coolant lamp above 105 °C",
            "Shift: the lamp lights at 6200 rpm",
            "Other tyres than 205/60 R15",
            "The relay stays",
            "brake ends it (pace unit): today, ",
            "speed (pace unit): 204 road points against satellite, +1.6 % ± 0.3",
            "battery: negative first off, last on",
            "drawn when parked",
            "A device stays dark: its fuse, at",
        ):
            self.assertIn(part, text)
        self.assertEqual(found.stops, ())
        self.assertIsNone(re.search(JARGON, text.casefold()), text)
        self.assertNotIn("{", text)

    def test_what_stands_against_it_is_on_the_first_page(self) -> None:
        self.assertIn("Brake cancels", page(whole()).stops[0])
        first = page(demo()).stops
        self.assertIn("Brake pedal may not cancel.", first)
        self.assertRegex(first[-1], r"And \d+ more")
        brake = [x for x in page(whole()).proven if "brake" in x.head]
        self.assertEqual([(x.mark, x.text) for x in brake], [("open", "not proven: do not use it")])
        stale = put(handed(), "vehicle.system_v", 24)
        self.assertNotEqual(page(stale).stops, ())

    def test_it_follows_the_settings_and_the_units(self) -> None:
        job = whole()
        hub = index(job.devices)["hub"]
        other = apply(job, put_setting(hub, "TEMP HIGH", "98"))
        self.assertIn("coolant lamp above 98 °C", told(page(other)))
        html = owner_html(page(job), Units(distance="mi", temperature="F", pressure="psi"))
        plain = html.replace("\xa0", " ")
        for part in ("above 31 mph", "above 221 °F", "psi"):
            self.assertIn(part, plain)

    def test_the_shop_words_its_own_lines(self) -> None:
        job = whole()
        sheet = index(job.devices)["lamp"].sheet
        own = msgspec.structs.replace(
            sheet,
            owner=msgspec.convert(
                [
                    {
                        "part": "daily",
                        "head": "The lamp",
                        "text": "change up when it lights, {SHIFT}",
                    },
                    {"part": "daily", "head": "Dim", "text": "at {NOWHERE} & <b>bold</b>"},
                ],
                type(sheet.owner),
            ),
        )
        job = apply(job, Put(path="devices.lamp.sheet", value=msgspec.to_builtins(own)))
        text = told(page(job))
        self.assertIn("The lamp: change up when it lights, 6200 rpm", text)
        self.assertIn("at (not set yet) &", text)
        self.assertNotIn("the lamp lights at", text)
        self.assertIn("&lt;b&gt;", owner_html(page(job), METRIC))

    def test_an_empty_job_has_a_page_too(self) -> None:
        found = page(Job())
        self.assertEqual(found.have, "nothing new yet")
        self.assertEqual((found.daily, found.mind, found.spots), ((), (), ()))
        self.assertIn("Your car now has", owner_html(found, METRIC))


class Paper(unittest.TestCase):
    def test_every_page_of_every_demo(self) -> None:
        sizes: tuple[Size, ...] = ("A4", "Letter")
        for name in ("0412", "0413", "0409"):
            for size in sizes:
                html = owner_html(
                    page(load(DEMO / f"{name}.zjob"), "7f3a91c0ab12"), Units(paper=size)
                )
                with self.subTest(name, size=size):
                    text = check(self, pdf_of(html), size, "Your car now has")
                    self.assertLessEqual(len(text), 2)
                    for said in text:
                        self.assertIn("seal 7f3a91c0a", said)
                    self.assertIn("for the shop", text[-1])
                    kept_together(self, text, ["Every day", "Mind", "What was proven"])

    def test_the_html_is_one_file_that_fetches_nothing(self) -> None:
        html = owner_html(page(whole()), METRIC)
        self.assertNotRegex(html, r"(src|href)=\"(?!data:)|url\(\"(?!data:)|http")
        for part in ('lang="en"', "<title>", "<h1>", 'role="img" aria-label="The car from above'):
            self.assertIn(part, html)


class AtTheEdge(unittest.TestCase):
    def test_what_lies_at_the_edge_is_marked_within_the_page(self) -> None:
        """Things in one zone are marked side by side, and none beside the picture."""
        job = demo()
        far = max(job.zones, key=lambda z: z.x_m + z.wide_m / 2)
        for device in job.devices:
            job = put(job, f"devices.{device.id}.zone", far.id)
        job = put(job, f"zones.{far.id}.wide_m", 0.02)
        marked = list(_spots(job))
        self.assertGreater(len(marked), 3)
        self.assertLess(max(s.x for s in marked), 1.0)

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


if __name__ == "__main__":
    unittest.main()
