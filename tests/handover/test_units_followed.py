"""What is printed follows the chosen units, but for what a device prints on itself."""

import re
import unittest

from tests.demo import demo
from zombrel.behaviour.suppose import usual
from zombrel.findings.assess import assess
from zombrel.handover.files import sheets
from zombrel.handover.paper import dossier_html
from zombrel.handover.sheet import Text
from zombrel.harness.laid import laid
from zombrel.units import CUSTOMARY, METRIC

UNIT = r"(km/h|km\b|mm?\b|mm²|l\b|kg|N\b|N·m|°C|kPa|bar)(?![\w/])"
PRINTED = re.compile(rf"\d[\d.,\u00a0]* ?{UNIT}")
OWN = re.compile(r"\([^()]*\)")
"""A setting in the unit that stands on the device."""


def words(units: object) -> str:
    job = demo()
    html = dossier_html(job, assess(job, usual(job.vehicle)), units)  # type: ignore[arg-type]
    text = re.sub(r"<style.*?</style>|<[^>]+>", " ", html, flags=re.S)
    drawn = [
        i.text
        for name in ("drawing", "labels")
        for page in sheets(name, laid(job), units)  # type: ignore[arg-type]
        for i in page.items
        if isinstance(i, Text)
    ]
    for device in job.devices:
        for caution in device.sheet.cautions:  # in the words of the device's maker
            text = text.replace(caution, "")
    return OWN.sub("", text + " ".join(drawn))


class Printed(unittest.TestCase):
    def test_one_system_and_nothing_of_the_other(self) -> None:
        self.assertEqual([m[0] for m in PRINTED.finditer(words(CUSTOMARY))], [])
        self.assertGreater(len(PRINTED.findall(words(METRIC))), 20)
        self.assertIn("AWG 16", words(CUSTOMARY))
        self.assertNotIn("AWG", words(METRIC))

    def test_no_quantity_is_left_as_a_token(self) -> None:
        for units in (METRIC, CUSTOMARY):
            self.assertNotRegex(words(units), r"\{[qdrv]:")
