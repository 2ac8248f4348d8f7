"""A remap lead by its acts: begun, taken row by row, joined by hand, left; and what is decided."""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from tests.demo import DEMO, apply, load
from zombrel.actions.plugs import leads, library
from zombrel.actions.plugs.leads import begin_remap, join, leave, put_lengths, take_matching, toggle
from zombrel.actions.plugs.probing import own_wires
from zombrel.harness.plugs import lead as probing
from zombrel.harness.plugs import outcomes
from zombrel.harness.plugs.build import remap_of
from zombrel.harness.plugs.conducts import Nets, Pair
from zombrel.job.ledger import provenance
from zombrel.job.model import Job, Vehicle, index
from zombrel.job.problem import Problem
from zombrel.job.wiring import Cavity, Connector, End, Lead, LeadRow, Wire

RACER = load(DEMO / "0409.zjob")


def plugs() -> Job:
    """A plug with two grounds, a coil, a cam and a heater; and one that wants four of them."""
    old = (
        ("ground 1", "ground"),
        ("coil 1", "driver"),
        ("cam", "Hall"),
        ("ground 2", "ground"),
        ("heater", "driver"),
    )
    new = (("gnd", "ground"), ("camshaft", "reluctor"), ("COIL1", "driver"), ("knock", ""))
    return Job(
        connectors=tuple(
            Connector(
                id=key,
                name=key,
                columns=len(held),
                cavities=tuple(
                    Cavity(n=i, circuit=c, kind=k, colour=f"{key}{i}")
                    for i, (c, k) in enumerate(held, 1)
                ),
            )
            for key, held in (("A", old), ("B", new))
        )
    )


def begun() -> Job:
    job = plugs()
    return apply(job, begin_remap(job, ["A"], ["B"])[1])


def rows(job: Job) -> list[Pair]:
    return [(r.a, r.b) for r in job.leads[0].rows]


class Remapping(unittest.TestCase):
    def test_where_it_can_begin(self) -> None:
        job = plugs()
        for old, new, said in (
            ([], ["B"], "from one plug to another"),
            (["A"], ["A"], "from one plug to another"),
            (["A"], ["Z"], "no connector “Z”"),
        ):
            with self.assertRaisesRegex(Problem, said):
                begin_remap(job, old, new)
        twice = apply(begun(), begin_remap(begun(), ["A"], ["B"])[1])
        self.assertEqual(len({x.id for x in twice.leads}), 2)

    def test_what_is_sure_is_taken_once_with_the_car_s_colours(self) -> None:
        job = begun()
        edit = take_matching(job, job.leads[0])
        assert edit is not None
        job = apply(job, edit)
        # the cam does not fit, the heater has no place; the second ground is joined in the lead
        self.assertEqual(rows(job), [("A.1", "B.1"), ("A.2", "B.3"), ("A.4", "B.1")])
        self.assertEqual(job.leads[0].rows[1].colour, "A2")
        self.assertIsNone(take_matching(job, job.leads[0]))
        self.assertIn(("A.1", "A.2"), job.leads[0].beside)

    def test_the_last_of_its_kind_is_not_taken_for_sure(self) -> None:
        """A constant feed and a switched one are both feeds: a person must say so."""
        feeds = (("battery", "feed"), ("ignition switched", "feed"))
        ends = tuple(
            Connector(id=k, name=k, cavities=(Cavity(n=1, circuit=c, kind=kind),))
            for k, (c, kind) in zip("AB", feeds, strict=True)
        )
        job = Job(connectors=ends)
        job = apply(job, begin_remap(job, ["A"], ["B"])[1])
        self.assertEqual([p.by for p in remap_of(job, job.leads[0]).pairs], ["kind"])
        self.assertIsNone(take_matching(job, job.leads[0]))

    def test_a_row_in_and_out(self) -> None:
        job = begun()
        cam = next(p for p in remap_of(job, job.leads[0]).pairs if p.a.cavity == "A.3")
        taken = apply(job, toggle(job, job.leads[0], cam))
        self.assertEqual(rows(taken), [("A.3", "B.2")])
        self.assertEqual(rows(apply(taken, toggle(taken, taken.leads[0], cam))), [])

    def test_by_hand_a_cavity_goes_to_one_place_only(self) -> None:
        job = begun()
        job = apply(job, join(job, job.leads[0], "A.5", "B.4"))
        self.assertEqual((rows(job), job.leads[0].by_hand), ([("A.5", "B.4")], (("A.5", "B.4"),)))
        job = apply(job, join(job, job.leads[0], "A.3", "B.4"))  # another takes its place
        self.assertEqual((rows(job), job.leads[0].by_hand), ([("A.3", "B.4")], (("A.3", "B.4"),)))
        codes = {c.code for c in remap_of(job, job.leads[0]).conflicts if c.a == "A.3"}
        self.assertEqual(codes, set())  # nobody said what is behind B.4

    def test_left_unused_and_no_more(self) -> None:
        job = begun()
        job = apply(job, join(job, job.leads[0], "A.5", "B.4"))
        left = apply(job, leave(job, job.leads[0], "A.5"))
        self.assertEqual((rows(left), left.leads[0].left), ([], ("A.5",)))
        again = apply(left, leave(left, left.leads[0], "A.5"))
        self.assertEqual(again.leads[0].left, ())
        back = apply(left, join(left, left.leads[0], "A.5", "B.4"))
        self.assertEqual(back.leads[0].left, ())  # joining it says that it is used

    def test_lengths(self) -> None:
        job = begun()
        job = apply(job, put_lengths(job.leads[0], 0.7, {"A": 0.1}))
        self.assertEqual((job.leads[0].trunk_m, job.leads[0].branch_m), (0.7, (("A", 0.1),)))
        self.assertTrue(leads.remap_of(job, job.leads[0]).pairs)


class Decided(unittest.TestCase):
    """Every deviation is decided; nothing is right by itself."""

    def metered(self, job: Job, conducts: list[Pair]) -> Job:
        """Every probe answered through the act that the page uses."""
        nets = Nets(conducts)
        for _ in range(500):
            patch = job.leads[0]
            probe = probing.progress(patch, job.connectors).next
            if probe is None:
                return job
            said = nets.joined(probe.a, probe.b)
            job = apply(job, outcomes.answered(job, patch, probe.a, probe.b, said, "now"))
        raise AssertionError("it never ends")

    def wrong(self, rng: random.Random) -> tuple[Job, list[Pair], list[Pair]]:
        """A lead, what the paper has, and what really conducts: up to three faults."""
        c = Connector(id="Q", name="Q", rows=2, columns=5)
        use = sorted(rng.sample(range(1, 11), 7))
        paper = [(f"P.{i}", f"Q.{n}") for i, n in enumerate(use, 1)]
        real, extra = dict(paper), []
        for fault in rng.sample(("swap", "open", "bridge"), rng.randint(1, 3)):
            a, b = rng.sample(sorted(real), 2)
            if fault == "swap":
                real[a], real[b] = real[b], real[a]
            elif fault == "open":
                del real[a]
            else:
                extra = [(real[a], real[b])]
        made = Lead(id="l", name="l", rows=tuple(LeadRow(a=a, b=b) for a, b in paper))
        made = probing.with_faces(made, (c,))
        return Job(connectors=(c,), leads=(made,)), paper, [*real.items(), *extra]

    def test_the_paper_is_wrong_in_all(self) -> None:
        rng = random.Random(5)
        for _ in range(25):
            job, _, conducts = self.wrong(rng)
            job = self.metered(job, conducts)
            told = outcomes.deviations(job.leads[0], job.connectors)
            if not told:
                continue  # a bridge of two that are no neighbours is not asked for
            for _ in range(3):  # a swap can hide a bridge until its cavities are where they are
                job = apply(job, outcomes.paper_wrong(job, job.leads[0], told, "now", "me"))
                self.assertEqual(job.ledger[-1].by, "me")
                job = self.metered(job, conducts)
                told = outcomes.deviations(job.leads[0], job.connectors)
                if not told:
                    break
            self.assertTrue(probing.result(job.leads[0], job.connectors).right)
            real = Nets(conducts)
            self.assertTrue(all(real.joined(a, b) for a, b in rows(job)))

    def test_a_repaired_lead_is_not_right_before_it_is_probed_again(self) -> None:
        rng = random.Random(6)
        for _ in range(25):
            job, paper, conducts = self.wrong(rng)
            job = self.metered(job, conducts)
            told = outcomes.deviations(job.leads[0], job.connectors)
            if not told:
                continue
            for one in told:
                job = apply(job, outcomes.repaired(job.leads[0], one, "now"))
            self.assertTrue(outcomes.waiting(job.leads[0], job.connectors))
            self.assertEqual(rows(job), paper)  # the paper stays as it was
            again = self.metered(job, paper)
            self.assertEqual(outcomes.waiting(again.leads[0], again.connectors), ())
            self.assertTrue(probing.result(again.leads[0], again.connectors).right)
            self.assertEqual(provenance(again, "leads.l.rows"), "measured")
            botched = self.metered(job, conducts)  # it was said, and not done
            self.assertFalse(probing.result(botched.leads[0], botched.connectors).right)

    def test_our_own_wires_are_corrected_as_wires(self) -> None:
        ours = tuple(
            Wire(
                id=f"W{n}",
                a=End(place="P", pin=str(n)),
                b=End(place="Q", pin=str(n)),
                area_mm2=0.5,
                length_m=1.0,
                colour="red",
                carries="signal",
            )
            for n in (1, 2, 3)
        )
        job = Job(wires=ours)
        edit = own_wires(job)
        assert edit is not None
        job = apply(job, edit)
        job = self.metered(job, [("P.1", "Q.2"), ("P.2", "Q.1"), ("P.3", "Q.3")])
        told = outcomes.deviations(job.leads[0])
        self.assertEqual([d.kind for d in told], ["swap"])
        job = apply(job, outcomes.paper_wrong(job, job.leads[0], told))
        ends = {w.id: w.b.pin for w in job.wires}
        self.assertEqual(ends, {"W1": "2", "W2": "1", "W3": "3"})
        right = self.metered(
            apply(Job(wires=ours), edit), [(f"P.{n}", f"Q.{n}") for n in (1, 2, 3)]
        )
        for side in ("a", "b"):  # probed whole: both ends of each are measured
            self.assertEqual(provenance(right, f"wires.W2.{side}"), "measured")


class Library(unittest.TestCase):
    def test_another_car_s_pin_out_and_no_better(self) -> None:
        plug = RACER.connectors[0]
        seen = replace(
            plug,
            cavities=(
                replace(plug.cavities[0], seen="wire", seen_colour="red/blue"),
                replace(plug.cavities[1], seen="empty"),
                *plug.cavities[2:],
            ),
        )
        other = replace(RACER, connectors=(seen,))
        job = Job(vehicle=Vehicle(name=RACER.vehicle.name))
        (offer,) = library.offers(job, [other])
        self.assertGreater(offer.alike, 0)
        taken = apply(job, library.take(job, offer, "now"))
        got = taken.connectors[0]
        self.assertEqual(got.cavities[0].colour, "red/blue")  # what was found there is paper here
        self.assertEqual((got.cavities[1].circuit, got.cavities[1].seen), ("", ""))
        self.assertEqual(provenance(taken, f"connectors.{got.id}.cavities"), "other car")
        both = apply(taken, library.take(taken, offer))
        self.assertEqual(len(index(both.connectors)), 2)  # under a name that is free


if __name__ == "__main__":
    unittest.main()
