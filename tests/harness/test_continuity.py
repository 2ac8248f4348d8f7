"""Continuity: every single slip is found, named once, and mends the pin-out."""

from __future__ import annotations

import itertools
import math
import random
import unittest
from typing import Any

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import apply
from zombrel.calc.harness import read_pairs
from zombrel.catalog import DEMO
from zombrel.harness.plugs import lead, outcomes
from zombrel.harness.plugs.conducts import Nets, Pair
from zombrel.harness.plugs.continuity import Moved, _one_off, compare
from zombrel.harness.plugs.face import neighbours, places
from zombrel.harness.plugs.probing import answers, probe_order
from zombrel.harness.plugs.slips import FAR, maps
from zombrel.job.edits import Put
from zombrel.job.ledger import provenance
from zombrel.job.model import Job
from zombrel.job.wiring import Answer, Connector, Lead, LeadRow
from zombrel.store.zjob import load

TEN: list[Pair] = [(f"P.{n}", f"Q.{n}") for n in range(1, 11)]


def swapped(pairs: list[Pair], i: int, j: int) -> list[Pair]:
    """The far ends of two conductors exchanged."""
    out = list(pairs)
    out[i], out[j] = (pairs[i][0], pairs[j][1]), (pairs[j][0], pairs[i][1])
    return out


def a_lead(pairs: list[Pair]) -> Lead:
    return Lead(id="l", name="lead", rows=tuple(LeadRow(a=a, b=b) for a, b in pairs))


def put_right(patch: Lead, connectors: tuple[Connector, ...] = ()) -> list[Pair]:
    """The pin-out once the paper is said to be wrong in all."""
    job = Job(leads=(patch,), connectors=connectors)
    told = outcomes.deviations(patch, connectors)
    after = apply(job, outcomes.paper_wrong(job, patch, told))
    return [(r.a, r.b) for r in after.leads[0].rows]


class Compare(unittest.TestCase):
    def test_each_slip_is_named(self) -> None:
        whole = list(TEN)
        cases: tuple[tuple[str, list[Pair], dict[str, object], str], ...] = (
            ("right", whole, {}, "All 10"),
            ("either way round", [(b, a) for a, b in reversed(TEN)], {}, "All 10"),
            ("open", whole[:3] + whole[4:], {"opens": [("P.4", "Q.4")]}, "does not conduct"),
            ("swap", swapped(TEN, 2, 6), {"swaps": [("Q.3", "Q.7")]}, "changed places"),
            ("bridge", [*TEN, ("Q.5", "Q.6")], {"bridges": [("Q.5", "Q.6")]}, "stray strand"),
            (
                "moved",
                [*whole[:9], ("P.10", "Q.12")],
                {"opens": [("P.10", "Q.10")], "bridges": [("P.10", "Q.12")]},
                "comes out at Q.12",
            ),
            (
                "row off",
                [(a, f"Q.{n + 1}") for n, (a, _) in enumerate(TEN, 1)],
                {"slip": "row-off"},
                "1 further on",
            ),
            (
                "mirrored",
                [(a, f"Q.{11 - n}") for n, (a, _) in enumerate(TEN, 1)],
                {"slip": "mirror"},
                "11 − n",
            ),
            (
                "all four conduct",
                [*TEN, ("P.1", "Q.2"), ("P.2", "Q.1")],
                {"bridges": [("P.1", "Q.2"), ("P.2", "Q.1")]},
                "are bridged",
            ),
        )
        for name, seen, want, said in cases:
            with self.subTest(name):
                got = compare(TEN, seen)
                for field in ("opens", "bridges", "swaps"):
                    self.assertEqual(list(getattr(got, field)), want.get(field, []), field)
                self.assertEqual(got.slip, want.get("slip", "none"))
                self.assertIn(said, got.verdict)
                self.assertEqual(got.right, not want)

    def test_a_splice_conducts_between_its_far_ends(self) -> None:
        splice = [("A.1", "B.1"), ("A.1", "B.2"), ("A.1", "C.1")]
        self.assertTrue(compare(splice, [("B.1", "B.2"), ("B.2", "C.1"), ("C.1", "A.1")]).right)
        self.assertEqual(compare(splice, splice[:2]).opens, (("A.1", "C.1"),))

    @given(st.permutations(range(8)))
    @settings(max_examples=60, deadline=None)
    def test_swaps_and_moves_undo_any_mixing(self, order: list[int]) -> None:
        """Where each conductor was found is where it was put."""
        paper = TEN[:8]
        seen = [(a, TEN[order[i]][1]) for i, (a, _) in enumerate(paper)]
        got = compare(paper, seen)
        found = {m.a: m.found for m in got.moved}
        self.assertEqual({a: found.get(a, b) for a, b in paper}, dict(seen))
        if got.slip != "none":  # changed places all alike: that is one slip and no swaps
            return
        pairs = {frozenset(s) for s in got.swaps}
        for i, j in itertools.combinations(range(8), 2):
            both = order[i] == j and order[j] == i
            self.assertEqual(frozenset((TEN[i][1], TEN[j][1])) in pairs, both)


def trees() -> st.SearchStrategy[list[Pair]]:
    """Nets that branch: every pin joins one before it, or begins a net of its own."""

    def build(parents: list[int]) -> list[Pair]:
        return [(f"X.{p % (i + 1)}", f"X.{i + 1}") for i, p in enumerate(parents) if p % 5]

    return st.lists(st.integers(0, 40), min_size=2, max_size=14).map(build).filter(bool)


class Order(unittest.TestCase):
    def test_ten_straight_conductors_take_nineteen(self) -> None:
        order = probe_order(TEN)
        self.assertEqual(len(order), 19)  # ten along, nine between neighbours
        for last, now in itertools.pairwise(order):
            self.assertTrue({last.a, last.b} & {now.a, now.b}, "one tip stays where it is")

    @given(trees())
    @settings(max_examples=120, deadline=None)
    def test_every_single_slip_changes_an_answer(self, paper: list[Pair]) -> None:
        order = probe_order(paper)
        right = answers(order, paper)
        self.assertEqual(right, tuple(p.conducts for p in order))
        for i in range(len(paper)):
            self.assertNotEqual(answers(order, paper[:i] + paper[i + 1 :]), right, "open")
        nets = Nets(paper)
        pins = sorted({p for pair in paper for p in pair}, key=lambda x: int(x[2:]))
        for a, b in itertools.pairwise(pins):
            if not nets.joined(a, b):
                self.assertNotEqual(answers(order, [*paper, (a, b)]), right, f"bridge {a} {b}")

    @given(trees())
    @settings(max_examples=60, deadline=None)
    def test_no_fewer_would_do_along_the_conductors(self, paper: list[Pair]) -> None:
        """Each end of a net needs a probe, and a probe has two tips: half the ends, rounded up."""
        degree: dict[str, int] = {}
        for pin in itertools.chain.from_iterable(paper):
            degree[pin] = degree.get(pin, 0) + 1
        nets = Nets(paper)
        ends: dict[str, int] = {}
        for pin, n in degree.items():
            ends[nets.of(pin)] = ends.get(nets.of(pin), 0) + (n == 1)
        along = sum(p.conducts for p in probe_order(paper))
        self.assertEqual(along, sum(math.ceil(n / 2) for n in ends.values()))

    def test_any_swap_of_far_ends_is_seen(self) -> None:
        order = probe_order(TEN)
        right = answers(order, TEN)
        for i, j in itertools.combinations(range(10), 2):
            self.assertNotEqual(answers(order, swapped(TEN, i, j)), right)


def faces() -> st.SearchStrategy[Connector]:
    """Faces of every shape: grids, rows of unlike length, rings."""
    corner = st.sampled_from(["top left", "top right", "bottom left", "bottom right"])
    numbering = st.sampled_from(["rows", "columns", "forth and back"])
    grid = st.builds(
        Connector,
        id=st.just("Q"),
        rows=st.integers(1, 4),
        columns=st.integers(3, 9),
        corner=corner,
        numbering=numbering,
        stagger=st.sampled_from([0.0, 0.5]),
    )
    uneven = st.lists(st.integers(3, 8), min_size=2, max_size=4).flatmap(
        lambda rows: st.builds(
            Connector, id=st.just("Q"), row_lengths=st.just(tuple(rows)), corner=corner
        )
    )
    ring = st.builds(Connector, id=st.just("Q"), round=st.just(True), columns=st.integers(5, 12))
    return st.one_of(grid, uneven, ring)


class Slips(unittest.TestCase):
    """A whole plug pinned wrong, by the geometry of its face."""

    def test_what_each_does_to_two_rows_of_four(self) -> None:
        """1 2 3 4 over 5 6 7 8, drawn on paper."""
        two = Connector(id="Q", rows=2, columns=4)
        got = {(m.slip, m.to.get(1), m.to.get(6)) for m in maps(two)}
        self.assertEqual(
            got,
            {
                ("mirror", 4, 7),
                ("half-turn", 8, 3),
                ("rows-exchanged", 5, 2),
                ("row-off", 5, None),
                ("row-off", None, 2),
                ("rotated", 2, 7),
                ("rotated", 8, 5),
            },
        )
        square = {m.to.get(1) for m in maps(Connector(rows=2, columns=2)) if "quarter" in m.how}
        self.assertEqual(square, {2, 3})
        ring = [m for m in maps(Connector(round=True, columns=7)) if m.slip == "rotated"]
        self.assertEqual(len({tuple(m.to.items()) for m in ring}), 4)  # and half round, by three
        self.assertTrue(all(m.to[7] == 7 for m in ring))  # the middle stays

    @given(faces(), st.randoms(use_true_random=False))
    @settings(max_examples=60, deadline=None)
    def test_a_slip_is_named_soon_and_the_pin_out_put_right(self, c: Connector, rng: Any) -> None:
        one = rng.choice(maps(c))
        numbers = [p.n for p in places(c)]
        use = sorted(rng.sample(numbers, rng.randint(min(4, len(numbers)), len(numbers))))
        real = [(f"P.{i}", f"Q.{one.to[n]}") for i, n in enumerate(use) if n in one.to]
        if sum(one.to.get(n, n) != n for n in use) < 3:
            return
        paper = [(f"P.{i}", f"Q.{n}") for i, n in enumerate(use)]
        done, named, nets = lead.with_faces(a_lead(paper), (c,)), 0, Nets(real)
        while (probe := lead.progress(done, (c,)).next) is not None:
            said = Answer(a=probe.a, b=probe.b, conducts=nets.joined(probe.a, probe.b))
            done = msgspec.structs.replace(done, answers=(*done.answers, said))
            found = lead.slips_so_far(done, (c,))
            named = named or (len(done.answers) if found else 0)
        got = lead.result(done, (c,))
        alike = [m for m in maps(c) if all(m.to.get(n) == one.to.get(n) for n in use)]
        self.assertIn(got.slip, {m.slip for m in alike})
        self.assertEqual(set(put_right(done, (c,))), set(real))
        self.assertGreater(named, 0)
        if one.weight > FAR:  # a ring turned by many places has as many rivals as cavities
            self.assertLessEqual(named, len(use) + 5)

    def test_up_to_three_faults_are_found_out(self) -> None:
        """200 leads with swaps, opens, bridges and wires in a wrong cavity: never "nothing"."""
        rng = random.Random(7)
        for trial in range(200):
            c = Connector(id="Q", rows=rng.randint(1, 3), columns=rng.randint(5, 9))
            use = sorted(rng.sample([p.n for p in places(c)], 5))
            paper = [(f"P.{i}", f"Q.{n}") for i, n in enumerate(use, 1)]
            real = dict(paper)
            bridges = []
            for fault in range(rng.randint(1, 3)):
                a, b = rng.sample(sorted(real), 2)
                kind = (trial + fault) % 3
                if kind == 0:
                    real[a], real[b] = real[b], real[a]
                elif kind == 1:
                    del real[a]
                else:
                    beside = [
                        p for p in neighbours(c) if {f"Q.{n}" for n in p} <= set(real.values())
                    ]
                    bridges += [(f"Q.{m}", f"Q.{n}") for m, n in beside[:1]]
            conducts = [*real.items(), *bridges]
            made = lead.with_faces(a_lead(paper), (c,))
            done = lead.metered(made, conducts, (c,))
            truly = compare(paper, conducts, {"Q": c})
            self.assertEqual(lead.result(done, (c,)).right, truly.right, (paper, conducts))


class Leads(unittest.TestCase):
    def test_a_meter_is_led_to_every_slip(self) -> None:
        for name, seen, want in (
            ("swap", swapped(TEN, 2, 6), swapped(TEN, 2, 6)),
            ("open", TEN[:4] + TEN[5:], TEN[:4] + TEN[5:]),
            ("moved", [*TEN[:9], ("P.10", "Q.11")], [*TEN[:9], ("P.10", "Q.11")]),
        ):
            with self.subTest(name):
                done = lead.metered(a_lead(TEN), seen)
                self.assertTrue(lead.whole(done))
                self.assertFalse(lead.result(done).right)
                self.assertEqual(sorted(put_right(done)), sorted(want))

    def test_neighbours_are_those_of_the_faces_that_are_known(self) -> None:
        """A stray strand between two cavities one above the other is met."""
        face = Connector(id="Q", name="q", rows=2, columns=5)
        made = lead.with_faces(a_lead(TEN), (face,))
        self.assertIn(("Q.2", "Q.7"), made.beside)
        self.assertIn(("P.1", "P.2"), made.beside)  # no face: in number
        bridged = [*TEN, ("Q.2", "Q.7")]
        found = lead.result(lead.metered(made, bridged))
        self.assertEqual([set(p) for p in found.bridges], [{"Q.2", "Q.7"}])
        self.assertTrue(lead.result(lead.metered(a_lead(TEN), bridged)).right)  # not asked for
        self.assertEqual(lead.with_faces(made, ()).beside, ())

    def test_the_three_errors_of_the_paper_are_found_and_put_right(self) -> None:
        job = load(DEMO / "0409.zjob")
        seen = read_pairs((DEMO / "0409-seen.csv").read_text(), "seen")
        done = lead.metered(job.leads[0], seen, job.connectors)
        got = lead.result(done, job.connectors)
        self.assertEqual(got.swaps, (("E26.3", "E26.4"),))
        self.assertIn(("V52.50", "E26.21"), got.opens)
        moved = {(m.expected, m.found) for m in got.moved}
        self.assertIn(("E40.16", "E40.26"), moved)
        self.assertIn("10 off: a row", got.verdict)

        held = apply(job, Put(path="leads.remap.answers", value=msgspec.to_builtins(done.answers)))
        mended = apply(
            held,
            outcomes.paper_wrong(
                held, held.leads[0], outcomes.deviations(held.leads[0], held.connectors), "now"
            ),
        )
        self.assertEqual({(r.a, r.b) for r in mended.leads[0].rows}, set(seen))
        self.assertEqual(provenance(mended, "leads.remap.rows"), "measured")
        self.assertTrue(lead.result(mended.leads[0]).right)


class Nearby(unittest.TestCase):
    def test_a_lost_conductor_is_looked_for_nearby_first(self) -> None:
        rows = tuple(LeadRow(a=f"P.{n}", b=f"Q.{n}") for n in range(1, 11))
        order = lead._candidates("Q.5", [], Lead(id="l", name="lead", rows=rows), set(), 0)
        self.assertEqual(order[:6], ["Q.6", "Q.4", "Q.3", "Q.7", "Q.2", "Q.8"])

    def test_only_within_one_plug_is_a_row_miscounted(self) -> None:
        for expected, found, said in (
            ("X1.4", "X1.6", ", 2 off: a row or a cavity miscounted"),
            ("X1.4", "X2.6", ""),
            ("X1.4", "body", ""),
        ):
            with self.subTest(found):
                self.assertEqual(_one_off(Moved(a="Y.1", expected=expected, found=found)), said)


if __name__ == "__main__":
    unittest.main()
