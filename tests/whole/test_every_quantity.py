"""Every quantity that clusters and modules take: found, read, wired, proven and printed."""

from __future__ import annotations

import unittest

import msgspec

from tests.demo import apply
from zombrel.actions import parts
from zombrel.actions.begin import best_for_all
from zombrel.actions.drawing import draw_all
from zombrel.behaviour.suppose import usual
from zombrel.calc.job import shown_in_units
from zombrel.catalog.form.ready import input_for
from zombrel.catalog.plans import plans, take_plan
from zombrel.catalog.sources import source_shelf
from zombrel.diagnose.steps import steps
from zombrel.findings.assess import assess
from zombrel.findings.explain import explain_input
from zombrel.handover.paper import dossier_html
from zombrel.job.edits import Add
from zombrel.job.model import Job, Vehicle
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import DeviceSheet, SupplySheet
from zombrel.job.state import State
from zombrel.job.validate import validate
from zombrel.signals.what_if import what_if
from zombrel.units import CUSTOMARY, METRIC

ASIDE = {"brake"}
"""A cancel input is its own matter."""
CAR = Vehicle(
    name="Any car",
    cylinders=6,
    ignition="coil-per-plug",
    tyre="205/60 R15",
    final_drive=3.7,
    ratios=(3.5, 2.0, 1.4, 1.0),
    idle_rps=13.0,
    redline_rps=100.0,
    top_mps=50.0,
    tank_l=60.0,
    lamps="filament",
    wheel_airbag=False,
)


def everything() -> Job:
    """One box with an input for each quantity, from whatever the shelf has for it."""
    inputs = tuple(input_for(q, q.upper()) for q in QUANTITIES if q not in ASIDE)
    sheet = DeviceSheet(
        id="box",
        maker="M",
        model="1",
        name="Box",
        inputs=inputs,
        supplies=(
            SupplySheet(pin="RUN", kind="power", amps=1.0, feeds=("run",), fuse_a=2.0),
            SupplySheet(pin="GROUND", kind="ground", amps=1.0),
        ),
        min_v=8.0,
        sensor_pin="5V",
        sensor_v=5.0,
    )
    job = Job(vehicle=CAR)
    job = apply(job, take_plan(job, plans()[0]))
    job = apply(job, parts.add_device(job, sheet))
    for source in source_shelf(None)[0]:
        job = apply(job, parts.add_source(job, source))
    feed = {"id": "F1", "name": "Slot F1", "feed": "run", "fuse_a": 10.0}
    job = apply(job, Add(path="feeds", value=feed))
    offer = best_for_all(job)
    assert offer.edit is not None
    job = apply(job, offer.edit)
    drawing = draw_all(job)
    assert drawing.edit is not None
    return validate(apply(job, drawing.edit))


class Every(unittest.TestCase):
    def test_from_the_shelf_to_the_sheet(self) -> None:
        job = everything()
        state = usual(job.vehicle)
        assessment = assess(job, state)
        served = {c.quantity for c in job.chains}
        self.assertGreaterEqual(len(served), 20, set(QUANTITIES) - served)
        for chain in job.chains:
            with self.subTest(chain.quantity):
                reading = assessment.chain(chain.id)
                shown_in_units(reading)
                if reading.problem:
                    self.assertIn("is not set yet", reading.problem)
                    continue
                what_if(job, state, chain.id)
                for units in (METRIC, CUSTOMARY):
                    explain_input(job, chain, reading, units)
        steps(job)
        for units in (METRIC, CUSTOMARY):
            html = dossier_html(job, assessment, units)
            self.assertNotRegex(html, r"\{[qdrv]:")

    def test_a_contact_follows_its_lamp(self) -> None:
        job = everything()
        for quantity, sheet in QUANTITIES.items():
            if sheet.group != "contact" or quantity in ASIDE:
                continue
            chain = next((c for c in job.chains if c.quantity == quantity), None)
            with self.subTest(quantity):
                assert chain is not None
                for on in (False, True):
                    state = msgspec.structs.replace(State(), **{sheet.field: on})
                    self.assertEqual(bool(assess(job, state).chain(chain.id).shown), on)

    def test_volts_are_looked_at_as_the_system_has_them(self) -> None:
        job = everything()
        for system, ends in ((12, (8.0, 16.0)), (24, (16.0, 32.0))):
            vehicle = msgspec.structs.replace(job.vehicle, system_v=system)
            changed = msgspec.structs.replace(job, vehicle=vehicle)
            chain = next(c for c in job.chains if c.quantity == "volts")
            reading = assess(changed, usual(vehicle)).chain(chain.id)
            self.assertEqual((reading.start, reading.stop), ends)


if __name__ == "__main__":
    unittest.main()
