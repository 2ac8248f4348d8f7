"""Connectors kept by vehicle or device: written, found again, offered, and refused when broken."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import msgspec

from tests.demo import apply, demo, put
from zombrel.actions.plugs.library import check_kept, kept_offers, take, to_keep
from zombrel.handover.tables import HEADS, pin_rows, to_csv
from zombrel.harness.plugs.pinout import read_pinout, with_paper
from zombrel.job.ledger import provenance
from zombrel.job.model import Job, Vehicle
from zombrel.job.problem import Problem
from zombrel.job.wiring import Cavity, Connector
from zombrel.store import plug_library

replace = msgspec.structs.replace


class Library(unittest.TestCase):
    def setUp(self) -> None:
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        self.home = Path(home.name)
        patch = mock.patch.object(plug_library, "data_root", return_value=self.home)
        patch.start()
        self.addCleanup(patch.stop)
        self.kept = to_keep(demo(), demo().connectors[0], "2026-11-27")

    def test_kept_offered_and_taken_as_another_cars(self) -> None:
        plug_library.keep_plug(check_kept(self.kept))
        kept, wrong = plug_library.kept_plugs()
        self.assertEqual((kept, wrong), ((self.kept,), ()))
        same = Job(vehicle=Vehicle(name=demo().vehicle.name, chassis=demo().vehicle.chassis))
        (offer,) = kept_offers(same, kept)
        self.assertEqual(offer.mind, "")
        taken = apply(same, take(same, offer, "now"))
        path = f"connectors.{taken.connectors[0].id}.cavities"
        self.assertEqual(provenance(taken, path), "other car")
        self.assertIn("count before use", taken.ledger[-1].note)
        self.assertEqual(kept_offers(Job(vehicle=Vehicle(name="Heron camper")), kept), ())
        self.assertTrue(plug_library.throw_plug_away(self.kept.id))
        self.assertEqual(plug_library.kept_plugs()[0], ())

    def test_the_other_side_of_a_split_is_said_and_comes_last(self) -> None:
        early = replace(self.kept, id="early", split_chassis=5000, side="before")
        late = replace(self.kept, id="late", split_chassis=5000, side="from")
        for chassis, first, mind in ((4000, "before", "not this car"), (6000, "from", "not this")):
            job = Job(vehicle=Vehicle(name=demo().vehicle.name, chassis=chassis))
            offers = kept_offers(job, (early, late))
            self.assertEqual([bool(o.mind) for o in offers], [False, True], first)
            self.assertIn(mind, offers[1].words)
        unknown = Job(vehicle=Vehicle(name=demo().vehicle.name))
        self.assertIn("look at this car", kept_offers(unknown, (early,))[0].mind)

    def test_a_devices_plug_comes_before_any_cars(self) -> None:
        sheet = demo().devices[0].sheet.id
        own = replace(self.kept, id="own", marque="", model="", device=sheet)
        self.assertEqual(len(kept_offers(demo(), (self.kept, own))), 2)
        self.assertIn(sheet, kept_offers(demo(), (self.kept, own))[0].where)

    def test_bad_entries(self) -> None:
        for more, words in (
            ({"marque": "", "model": ""}, "which vehicle"),
            ({"first_year": 2010, "last_year": 2001}, "back to 2001"),
            ({"side": "from", "split_chassis": None}, "chassis number"),
        ):
            with self.assertRaisesRegex(Problem, words):
                check_kept(replace(self.kept, **more))
        plug_library.keep_plug(self.kept)
        (self.home / "plugs" / "broken.json").write_text("{")
        kept, wrong = plug_library.kept_plugs()
        self.assertEqual(len(kept), 1)
        self.assertIn("broken.json cannot be read", wrong[0])
        if os.geteuid():  # root may write anywhere
            (self.home / "plugs").chmod(0o500)
            with self.assertRaises(Problem):
                plug_library.keep_plug(replace(self.kept, id="no"))

    def test_its_own_table_read_into_a_new_job_is_the_same(self) -> None:
        job = put(demo(), "connectors.D2.cavities.27.family", "BK 1.5")
        job = put(job, "connectors.D2.cavities.27.area_mm2", 0.75)
        job = put(job, "connectors.D2.cavities.15.known", "measured")
        text = to_csv(pin_rows(job), HEADS["pins"])
        for c in job.connectors:
            blank = replace(c, cavities=tuple(_bare(x) for x in c.cavities))
            again = with_paper(blank, read_pinout(text, blank))
            for old, new in zip(c.cavities, again.cavities, strict=True):
                self.assertEqual(
                    (
                        old.n,
                        old.colour,
                        old.circuit,
                        old.kind,
                        old.seen,
                        old.family,
                        old.area_mm2,
                        old.known,
                    ),
                    (
                        new.n,
                        new.colour,
                        new.circuit,
                        new.kind,
                        new.seen,
                        new.family,
                        new.area_mm2,
                        new.known,
                    ),
                )


def _bare(x: Cavity) -> Cavity:
    return Cavity(n=x.n, mark=x.mark, blank=x.blank, unusable=x.unusable)


class Plain(unittest.TestCase):
    def test_a_job_without_a_vehicle_is_told_apart_by_its_connector(self) -> None:
        kept = to_keep(Job(), Connector(id="X1"))
        self.assertEqual((kept.id, kept.marque, kept.side), ("X1", "", ""))


if __name__ == "__main__":
    unittest.main()
