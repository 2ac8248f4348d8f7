"""Parts, joints per end, probing beside given neighbours, plans: worked by hand."""

from __future__ import annotations

import itertools
import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.demo import apply, demo, put
from zombrel.calibrate.firing import judge_leads, same_cycle
from zombrel.catalog.colours import UNKNOWN, stripe
from zombrel.catalog.plans import plan, plans, take
from zombrel.harness.coupling import SCREEN, TWIST, noise
from zombrel.harness.laid import bundles, laid
from zombrel.harness.parts_list import end_joint, parts_list
from zombrel.harness.plugs import changes
from zombrel.harness.plugs.conducts import Nets, split_pin
from zombrel.harness.plugs.continuity import compare
from zombrel.harness.plugs.probing import answers, probe_order
from zombrel.job.ledger import LONGEST, known, known_lines, text_of
from zombrel.job.model import Evidence, Job, by_id
from zombrel.job.problem import Problem
from zombrel.units import METRIC, words


class Parts(unittest.TestCase):
    def test_counts_by_hand(self) -> None:
        job = laid(demo())
        found = {words(p.name, METRIC): p for p in parts_list(job)}
        red = [w.length_m for w in job.wires if (w.area_mm2, w.colour) == (1.0, "red")]
        self.assertAlmostEqual(found["1 mm² red"].count, round(sum(red) * 1.1, 3))
        self.assertEqual(found["label, both ends"].count, 2 * len(job.wires))
        fuses = [w.fuse_a for w in job.wires if w.fuse_a]
        self.assertEqual(found["in-line fuse holder"].count, len(fuses))
        self.assertEqual(found["blade fuse 20 A"].count, fuses.count(20.0))
        clips = sum(math.ceil(b.length_m / 0.25) for b in bundles(job))
        self.assertEqual(found["clip or strap"].count, clips)
        self.assertEqual(next(p.kind for p in parts_list(job)), "device")

    def test_house_rules_move_the_list(self) -> None:
        solder = laid(put(demo(), "house.joint_by", "solder"))
        names = {p.name for p in parts_list(solder)}
        self.assertTrue(any(n.startswith("soldered splice") for n in names))
        wider = laid(put(demo(), "house.clip_m", 0.5))
        few = {p.name: p.count for p in parts_list(wider)}["clip or strap"]
        many = {p.name: p.count for p in parts_list(laid(demo()))}["clip or strap"]
        self.assertLess(few, many)
        screened = laid(put(demo(), "wires.W1.shielded", True))
        self.assertIn("screening braid and drain", {p.name for p in parts_list(screened)})

    def test_like_parts_are_one_line(self) -> None:
        one = changes.Part(name="terminal", kind="terminal")
        two = changes.Part(name="terminal", kind="terminal", count=2)
        self.assertEqual([p.count for p in changes.together((one, two, one))], [4])

    def test_how_each_end_is_joined(self) -> None:
        job = demo()
        for key, side, want in (
            ("W13", "a", "ring"),
            ("W13", "b", "terminal"),
            ("W5", "b", "ring"),
            ("W4", "a", "terminal"),
            ("W1", "a", "crimp"),
            ("W3", "a", "crimp"),
        ):
            wire = by_id(job.wires, key)
            assert wire is not None
            self.assertEqual(end_joint(job, wire, getattr(wire, side)).method, want, (key, side))
        added = put(put(job, "changes.C1.kind", "add"), "changes.C1.cavity", 3)
        w3 = by_id(added.wires, "W3")
        assert w3 is not None
        self.assertEqual(end_joint(added, w3, w3.a).method, "terminal")


class Probes(unittest.TestCase):
    def test_neighbours_of_the_face_may_be_given(self) -> None:
        """Four cavities in two rows: the pairs one above the other are found as well."""
        paper = [(f"P.{n}", f"Q.{n}") for n in (1, 2, 3, 4)]
        beside = [("Q.1", "Q.2"), ("Q.3", "Q.4"), ("Q.1", "Q.3"), ("Q.2", "Q.4")]
        order = probe_order(paper, beside)
        self.assertEqual(len(order), 8)
        right = answers(order, paper)
        for a, b in beside:
            self.assertNotEqual(answers(order, [*paper, (a, b)]), right)

    def test_a_splice_takes_half_its_ends(self) -> None:
        star = [("S", f"L.{n}") for n in range(1, 6)]
        along = [p for p in probe_order(star) if p.conducts]
        self.assertEqual(len(along), 3)
        covered = set(itertools.chain.from_iterable(p.rows for p in along))
        self.assertEqual(covered, set(star))

    def test_a_loop_is_opened_where_it_closes(self) -> None:
        ring = [("A", "B"), ("B", "C"), ("C", "A")]
        along = [p for p in probe_order(ring) if p.conducts]
        self.assertEqual(along[-1].rows, (("C", "A"),))
        self.assertEqual(len(along), 2)

    def test_doubled_and_pointless_rows_do_no_harm(self) -> None:
        rows = [("A", "B"), ("A", "B"), ("C", "C")]
        self.assertEqual(len(probe_order(rows)), 1)
        self.assertTrue(compare(rows, [("B", "A")]).right)

    @given(st.lists(st.tuples(st.integers(0, 9), st.integers(0, 9)), max_size=20))
    def test_nets_are_an_equivalence(self, raw: list[tuple[int, int]]) -> None:
        nets = Nets([(str(a), str(b)) for a, b in raw])
        names = [str(n) for n in range(10)]
        for a in names:
            self.assertTrue(nets.joined(a, a))
        for a, b, c in itertools.product(names, repeat=3):
            self.assertEqual(nets.joined(a, b), nets.joined(b, a))
            if nets.joined(a, b) and nets.joined(b, c):
                self.assertTrue(nets.joined(a, c))

    def test_names_of_pins(self) -> None:
        for text, want in (
            ("P1.12", ("P1.", 12)),
            ("earth", ("earth", None)),
            ("7", ("", 7)),
            ("D2-3", ("D2-", 3)),
        ):
            self.assertEqual(split_pin(text), want)


class Plans(unittest.TestCase):
    def test_each_plan_is_sound(self) -> None:
        for p in plans():
            ids = [z.id for z in p.zones]
            self.assertEqual(len(ids), len(set(ids)))
            pairs = [frozenset((w.a, w.b)) for w in p.ways]
            self.assertEqual(len(pairs), len(set(pairs)))
            for w in p.ways:
                self.assertIn(w.a, ids)
                self.assertIn(w.b, ids)
            self.assertTrue(any(z.over_ambient_k >= 30 for z in p.zones))
            if any("bulkhead" in z.id for z in p.zones):
                self.assertTrue(any(w.hole_mm for w in p.ways))
            self.assertIn(p.ground, ids)
            self.assertIn(p.battery, ids)

    def test_taking_a_plan_and_taking_another(self) -> None:
        job = apply(Job(), take(plan("car")))
        self.assertEqual(len(job.zones), len(plan("car").zones))
        job = apply(job, take(plan("van")))
        self.assertEqual(job.zones, plan("van").zones)
        with self.assertRaisesRegex(Problem, "car, van"):
            plan("boat")


class Odds(unittest.TestCase):
    def test_twist_and_screen_work_together(self) -> None:
        plain = noise("coil", 0.06, 0.3, 300, False)
        self.assertAlmostEqual(noise("coil", 0.06, 0.3, 300, True), plain * TWIST)
        self.assertAlmostEqual(noise("coil", 0.06, 0.3, 300, True, True), plain * TWIST * SCREEN)
        self.assertEqual(noise("exhaust", 0.06, 0.3, 300, False), 0)

    def test_colours_of_wires(self) -> None:
        self.assertEqual(stripe("green/white"), ("#2F8A57", "#F4F1EA"))
        self.assertEqual(stripe("red"), ("#B23232", None))
        self.assertEqual(stripe("lilac/sky"), (UNKNOWN, None))

    def test_long_facts_are_known_by_their_digest(self) -> None:
        long = ["x" * 10] * 400
        text = text_of(long)
        self.assertLess(len(text), LONGEST)
        self.assertTrue(text.startswith("blake2b "))
        self.assertNotEqual(text, text_of(["y", *long]))
        line = Evidence(id=1, path="p", value=text, rung="measured")
        self.assertTrue(known(known_lines((line,)), "p", long, "counted"))
        self.assertEqual(text_of([1.0, 2]), "[1,2]")

    @given(st.permutations(range(1, 7)), st.integers(0, 5))
    def test_an_order_begun_elsewhere_is_the_same(self, order: list[int], k: int) -> None:
        self.assertTrue(same_cycle(order, order[k:] + order[:k]))
        turned = judge_leads([100.0 * (7 - n) for n in range(1, 7)], tuple(order), pitch=100)
        self.assertEqual(turned.fires, tuple(7 - n for n in order))


if __name__ == "__main__":
    unittest.main()
