"""A lead on the bench and its sheet: pieces, lengths, terminals, parts, pages."""

from __future__ import annotations

import itertools
import unittest
from typing import Any

from msgspec.structs import replace

from tests.demo import DEMO, load
from zombrel.handover.build_sheet import A4, FIRST, NEXT, build_sheets
from zombrel.handover.sheet import Sheet, Text
from zombrel.harness.plugs.build import BRANCH_M, TRUNK_M, build, remap_of, ways_of
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.wiring import Cavity, Connector, Lead, LeadRow
from zombrel.units import CUSTOMARY, Units

RACER = load(DEMO / "0409.zjob")


def small(**more: Any) -> Job:
    """Two plugs of four ways and a lead of three conductors between them."""
    kinds = (("battery", "feed"), ("injector 1", "driver"), ("coolant", "NTC"), ("spare", ""))
    held = tuple(Cavity(n=i, circuit=c, kind=k) for i, (c, k) in enumerate(kinds, 1))
    car = Connector(
        id="A", name="Car", rows=1, columns=4, cavities=held, terminals="male", family="BK 2.8"
    )
    new = Connector(
        id="B",
        name="New",
        rows=1,
        columns=5,
        cavities=held[:3],
        terminals="female",
        family="AR 1.5 sealed",
        sealed=True,
    )
    rows = tuple(LeadRow(a=f"A.{n}", b=f"B.{n}", signal=held[n - 1].circuit) for n in (1, 2, 3))
    lead = Lead(id="L", name="Lead", rows=rows, old=("A",), new=("B",), **more)
    return Job(connectors=(car, new), leads=(lead,))


class Pieces(unittest.TestCase):
    def test_lengths_by_hand(self) -> None:
        """Trunk 0.6 m, branches 0.1 and 0.2 m, a tail of 0.15 m at each end: 1.2 m."""
        job = small(trunk_m=0.6, branch_m=(("A", 0.1), ("B", 0.2)))
        made = build(job, job.leads[0])
        self.assertEqual(job.house.tail_m, 0.15)
        for piece in made.pieces:
            self.assertAlmostEqual(piece.length_m, 1.2)
        usual = build(small(), small().leads[0])
        self.assertAlmostEqual(usual.pieces[0].length_m, TRUNK_M + 2 * BRANCH_M + 0.3)

    def test_sections_by_what_is_carried(self) -> None:
        made = build(small(), small().leads[0])
        self.assertEqual([p.area_mm2 for p in made.pieces], [1.0, 0.75, 0.5])
        self.assertEqual([p.ends[0].fits for p in made.pieces if p.ends[0]], [True, True, True])
        self.assertEqual(
            [p.ends[1].terminal.id for p in made.pieces if p.ends[1]],
            ["AR 1.5 sealed large", "AR 1.5 sealed large", "AR 1.5 sealed small"],
        )

    def test_the_bundle_goes_into_its_tube(self) -> None:
        made = build(RACER, RACER.leads[0])
        self.assertLess(made.bundle_mm, made.tube_mm)
        self.assertGreater(made.bundle_mm, build(small(), small().leads[0]).bundle_mm)

    def test_what_it_takes(self) -> None:
        """Genders are those of the mating half; a sealed plug wants seals and blanks."""
        made = build(small(), small().leads[0])
        self.assertEqual(
            dict(made.parts),
            {
                "female shell for Car, 4-way BK 2.8": 1,
                "male shell for New, 5-way AR 1.5 sealed": 1,
                "female terminal BK 2.8": 3,
                "male terminal AR 1.5 sealed large": 2,
                "male terminal AR 1.5 sealed small": 1,
                "blue seal, 1.5 to 2.1 mm": 2,
                "green seal, 1.2 to 1.6 mm": 1,
                "blanking plug AR 1.5 sealed": 2,
            },
        )
        plugs = {p.name: p for p in made.plugs}
        self.assertEqual((plugs["B"].pieces, plugs["B"].blanks), (3, (4, 5)))
        self.assertEqual(plugs["A"].blanks, ())

    def test_what_is_not_known_is_no_figure(self) -> None:
        job = small()
        bare = replace(job, connectors=(replace(job.connectors[0], family=""), job.connectors[1]))
        made = build(bare, bare.leads[0])
        self.assertEqual([p.ends[0] for p in made.pieces], [None, None, None])
        self.assertEqual(dict(made.parts)["terminal of a family not known"], 3)
        with self.assertRaisesRegex(Problem, "no conductor yet"):
            build(job, replace(job.leads[0], rows=()))

    def test_a_cavity_left_on_purpose_is_matched_no_more(self) -> None:
        job = small(left=("A.2",))
        found = remap_of(job, job.leads[0])
        self.assertNotIn("A.2", {p.a.cavity for p in found.pairs})
        self.assertIn("A.2", {w.cavity for w in found.unused})
        self.assertEqual(len(ways_of(job.connectors[0])), 4)


class Paper(unittest.TestCase):
    def texts(self, page: Sheet) -> list[Text]:
        return [x for x in page.items if isinstance(x, Text)]

    def test_every_piece_is_on_a_page_once(self) -> None:
        pages = build_sheets(RACER)
        count = len(RACER.leads[0].rows)
        self.assertEqual(len(pages), 2 + -(-(count - FIRST) // NEXT))
        said = [t.text for p in pages for t in self.texts(p)]
        for i, r in enumerate(RACER.leads[0].rows, 1):
            self.assertIn(str(i), said)
            self.assertIn(r.a.replace(".", " "), said)
        for n in range(1, len(pages) + 1):
            self.assertIn(f"{n} of {len(pages)}", said)

    def test_nothing_runs_off_the_paper_or_into_another(self) -> None:
        for units in (Units(), CUSTOMARY):
            for page in build_sheets(RACER, units):
                self.assertEqual((page.width, page.height), A4)
                boxes = [t.box for t in self.texts(page) if t.text]
                for left, top, right, bottom in boxes:
                    self.assertGreaterEqual(left, 0)
                    self.assertGreaterEqual(top, 0)
                    self.assertLessEqual(right, A4[0])
                    self.assertLessEqual(bottom, A4[1])
                for a, b in itertools.combinations(boxes, 2):
                    apart = a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1]
                    self.assertTrue(apart, (a, b))

    def test_a_misfit_is_said_where_it_is_crimped(self) -> None:
        job = small()
        wide = replace(job.connectors[0], family="PN 1.0")  # up to 0.5 mm²
        pages = build_sheets(replace(job, connectors=(wide, job.connectors[1])))
        said = " ".join(t.text for p in pages for t in self.texts(p))
        self.assertIn("does not fit: its barrel takes", said)

    def test_no_lead_no_page(self) -> None:
        self.assertEqual(build_sheets(Job()), ())
        self.assertEqual(
            build_sheets(replace(small(), leads=(Lead(id="x", name="x", old=("A",)),))), ()
        )


if __name__ == "__main__":
    unittest.main()
