"""The slips of a face as maps: what holds of every shape, and between them."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import apply
from tests.harness.test_continuity import faces
from zombrel.harness.plugs import outcomes
from zombrel.harness.plugs.continuity import compare
from zombrel.harness.plugs.face import places
from zombrel.harness.plugs.hunt import _standing
from zombrel.harness.plugs.slips import Map, maps
from zombrel.job.model import Job
from zombrel.job.wiring import Answer, Connector, Lead, LeadRow


def one(c: Connector, slip: str) -> Map:
    return next(m for m in maps(c) if m.slip == slip)


class Maps(unittest.TestCase):
    @given(faces())
    @settings(max_examples=80, deadline=None)
    def test_no_two_terminals_in_one_cavity_and_none_outside(self, c: Connector) -> None:
        here = {p.n for p in places(c)}
        seen = []
        for m in maps(c):
            self.assertEqual(len(set(m.to.values())), len(m.to), m.how)
            self.assertLessEqual({*m.to, *m.to.values()}, here, m.how)
            self.assertNotIn(dict(m.to), seen)  # each is told once
            seen.append(dict(m.to))
            self.assertGreater(m.weight, 0)

    @given(
        st.integers(2, 4), st.integers(3, 9), st.sampled_from(["rows", "columns", "forth and back"])
    )
    @settings(max_examples=40, deadline=None)
    def test_of_a_grid(self, rows: int, columns: int, numbering: str) -> None:
        """Twice a mirror is nothing; a mirror and exchanged rows are half a turn."""
        c = Connector(id="Q", rows=rows, columns=columns, numbering=numbering)  # type: ignore[arg-type]
        mirror, turn, rows_over = (one(c, s).to for s in ("mirror", "half-turn", "rows-exchanged"))
        for p in places(c):
            self.assertEqual(mirror[mirror[p.n]], p.n)
            self.assertEqual(turn[turn[p.n]], p.n)
            self.assertEqual(rows_over[mirror[p.n]], turn[p.n])
        off = [m.to for m in maps(c) if m.slip == "row-off"]
        self.assertEqual([len(m) for m in off], [(rows - 1) * columns] * 2)
        for n, to in off[0].items():
            self.assertEqual(off[1][to], n)  # a row up undoes a row down

    @given(st.integers(5, 13))
    @settings(max_examples=9, deadline=None)
    def test_of_a_ring(self, count: int) -> None:
        """All rotations there are, and the middle never moves."""
        c = Connector(id="Q", round=True, columns=count)
        turns = [m for m in maps(c) if m.slip in ("rotated", "half-turn")]
        self.assertEqual(len(turns), count - 2)
        first = min(p.n for p in places(c))
        self.assertEqual({m.to[first] for m in turns}, set(range(1, count)) - {first})
        self.assertTrue(all(m.to[count] == count for m in maps(c)))

    def test_a_single_row_mirrored_is_half_turned(self) -> None:
        """One map has one name, the likelier; one cavity off is a slip of a row by itself."""
        c = Connector(id="Q", rows=1, columns=6)
        names = [m.slip for m in maps(c)]
        self.assertEqual(names.count("mirror") + names.count("half-turn"), 1)
        self.assertEqual(names.count("row-off"), 2)
        self.assertEqual(dict(one(c, "mirror").to), {n: 7 - n for n in range(1, 7)})


class Told(unittest.TestCase):
    def test_a_slip_and_what_is_beside_it(self) -> None:
        """Twelve ways mirrored, one of them open, two bridged: one slip, one open, one bridge."""
        c = Connector(id="Q", rows=2, columns=6)
        paper = [(f"P.{n}", f"Q.{n}") for n in range(1, 13)]
        to = one(c, "mirror").to
        seen = [(a, f"Q.{to[n]}") for n, (a, _) in enumerate(paper, 1) if n != 8]
        got = compare(paper, [*seen, ("Q.1", "Q.2")], {"Q": c})
        self.assertEqual((got.slip, got.kind), ("mirror", "mixed"))
        self.assertEqual((got.opens, got.bridges), ((("P.8", "Q.8"),), (("Q.1", "Q.2"),)))
        self.assertEqual(got.swaps, ())
        self.assertIn("Beside that:", got.verdict)

    def test_two_exchanged_are_no_mirror(self) -> None:
        c = Connector(id="Q", rows=2, columns=6)
        paper = [(f"P.{n}", f"Q.{n}") for n in range(1, 13)]
        seen = [("P.1", "Q.6"), ("P.6", "Q.1"), *(p for p in paper if p[0] not in ("P.1", "P.6"))]
        got = compare(paper, seen, {"Q": c})
        self.assertEqual((got.slip, got.swaps), ("none", (("Q.1", "Q.6"),)))

    def test_the_near_plug_too(self) -> None:
        """Pinned half a turn at the near end, the far end has another shape."""
        near, far = Connector(id="P", rows=2, columns=4), Connector(id="Q", rows=1, columns=8)
        paper = [(f"P.{n}", f"Q.{n}") for n in (1, 2, 3, 4, 6, 7)]
        to = one(near, "half-turn").to
        seen = [(f"P.{to[int(a[2:])]}", b) for a, b in paper]
        got = compare(paper, seen, {"P": near, "Q": far})
        self.assertEqual((got.slip, got.opens, got.bridges), ("half-turn", (), ()))
        self.assertIn("P is pinned by a slip", got.verdict)
        rows = tuple(LeadRow(a=a, b=b) for a, b in paper)
        said = [*((a, b, False) for a, b in paper), *((a, b, True) for a, b in seen)]
        answers = tuple(Answer(a=a, b=b, conducts=yes) for a, b, yes in said)
        patch = Lead(id="l", name="l", rows=rows, answers=answers)
        job = Job(connectors=(near, far), leads=(patch,))
        told = outcomes.deviations(patch, job.connectors)
        self.assertEqual([d.kind for d in told], ["slip"])
        after = apply(job, outcomes.paper_wrong(job, patch, told))
        self.assertEqual({(r.a, r.b) for r in after.leads[0].rows}, set(seen))


class Itself(unittest.TestCase):
    def test_a_pin_that_meets_itself_says_nothing_of_a_slip(self) -> None:
        ends, slip = [("X1.1", 1), ("X1.2", 2)], Map("swap", "", "", 1.0, {1: 2, 2: 1})
        said = {frozenset({"X1.1", "Y.2"}): True, frozenset({"X1.2"}): True}
        found = _standing("Y.", ends, said, slip)
        self.assertEqual((found.met, found.against), (1, 0))


if __name__ == "__main__":
    unittest.main()
