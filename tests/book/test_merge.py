"""Two who went on from one job: nobody's work is lost, and where they differ both are told."""

from __future__ import annotations

import random
import unittest

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import apply, demo, put
from zombrel.actions.lessons import add_lesson
from zombrel.actions.parts import remove_device, remove_wire
from zombrel.book.merge import GONE, Merged, merge
from zombrel.job.edits import Edit, Put
from zombrel.job.ledger import evidence
from zombrel.job.model import Job, index

EDITS: tuple[tuple[str, object], ...] = (
    ("vehicle.tyre", "195/65 R15"),
    ("vehicle.tyre", "205/55 R16"),
    ("vehicle.final_drive", 3.9),
    ("vehicle.mass_kg", 1400.0),
    ("notes", "mind the dog"),
    ("title", "Curlew"),
    ("wires.W4.length_m", 2.5),
    ("wires.W4.colour", "red"),
    ("wires.W3.colour", "violet"),
    ("devices.pace.settings.SPEED.at", "C1"),
    ("devices.pace.settings.TAKE-UP.at", "3"),
    ("devices.hub.name", "Hub"),
    ("sources.ring.spec.teeth", 48),
    ("feeds.F9.fuse_a", 10.0),
    ("connectors.D2.cavities.4.circuit", "speed"),
    ("house.drop_power", 0.02),
)
"""Facts of the demo that two people may change."""


def after(job: Job, picks: list[int]) -> Job:
    for i in picks:
        path, value = EDITS[i]
        job = apply(job, Put(path=path, value=value))
    return job


PICKS = st.lists(st.integers(0, len(EDITS) - 1), max_size=6)


class Merging(unittest.TestCase):
    @given(PICKS)
    @settings(max_examples=40, deadline=None)
    def test_what_only_one_did_is_taken(self, picks: list[int]) -> None:
        base = demo()
        changed = after(base, picks)
        self.assertEqual(merge(base, changed, base), Merged(changed, (), ""))
        self.assertEqual(merge(base, base, changed), Merged(changed, (), ""))
        self.assertEqual(merge(base, changed, changed), Merged(changed, (), ""))

    @given(PICKS, PICKS)
    @settings(max_examples=60, deadline=None)
    def test_both_are_put_together_and_what_differs_is_told(
        self, one: list[int], other: list[int]
    ) -> None:
        base = demo()
        theirs, mine = after(base, one), after(base, other)
        found = merge(base, theirs, mine)
        self.assertEqual(found.whole, "")
        last = [{EDITS[i][0]: EDITS[i][1] for i in picks} for picks in (one, other)]
        differ = {p for p in last[0].keys() & last[1].keys() if last[0][p] != last[1][p]}
        told = {a.path for a in found.apart}
        self.assertEqual(told, differ)
        want = after(after(base, other), one)  # theirs stands where they differ
        self.assertEqual(found.job, want)

    def test_both_values_are_kept_where_they_differ(self) -> None:
        base = demo()
        theirs = put(base, "vehicle.tyre", "195/65 R15")
        mine = put(base, "vehicle.tyre", "205/55 R16")
        (apart,) = merge(base, theirs, mine).apart
        self.assertEqual(apart.words, "vehicle.tyre: theirs 195/65 R15, mine 205/55 R16")
        self.assertEqual(apart.base, "205/60 R15")

    def test_lines_that_are_added_are_numbered_on(self) -> None:
        base = demo()

        def noted(job: Job, path: str, note: str) -> Job:
            return apply(job, evidence(job, path, "measured", note))

        theirs = noted(base, "vehicle.tyre", "by Ada")
        mine = noted(noted(base, "vehicle.final_drive", "by Ben"), "vehicle.tyre", "by Ben")
        found = merge(base, theirs, mine).job
        self.assertEqual(len(found.ledger), len(base.ledger) + 3)
        ids = [line.id for line in found.ledger]
        self.assertEqual(len(set(ids)), len(ids))
        self.assertEqual([line.note for line in found.ledger[-3:]], ["by Ada", "by Ben", "by Ben"])

    def test_things_that_both_added_or_one_took_away(self) -> None:
        base = demo()
        theirs = apply(base, add_lesson(base, "from Ada"))
        mine = apply(base, add_lesson(base, "from Ben"))
        found = merge(base, theirs, mine)
        self.assertEqual([x.text for x in found.job.lessons], ["from Ada"])
        self.assertEqual([a.path for a in found.apart], ["lessons.L1.text"])
        self.assertEqual(found.apart[0].mine, "from Ben")

        def gone(job: Job, edit: Edit) -> Job:
            return apply(job, edit)

        without = gone(base, remove_wire(base, "W10"))
        longer = put(base, "wires.W10.length_m", 9.0)
        one = merge(base, without, longer)
        self.assertEqual(index(one.job.wires)["W10"].length_m, 9.0)  # nobody's work is lost
        self.assertIs(one.apart[0].theirs, GONE)
        self.assertIn("took it away", one.apart[0].words)
        other = merge(base, longer, without)
        self.assertEqual(index(other.job.wires)["W10"].length_m, 9.0)
        untouched = merge(base, without, put(base, "notes", "x"))
        self.assertNotIn("W10", index(untouched.job.wires))

    def test_what_does_not_go_together_at_all_leaves_theirs_whole(self) -> None:
        base = demo()
        pace = index(base.devices)["pace"]
        theirs = apply(base, remove_device(base, pace))
        wire = msgspec.structs.replace(index(base.wires)["W4"], id="W99")
        mine = msgspec.structs.replace(
            base,
            chains=tuple(
                msgspec.structs.replace(c, title="Renamed") if c.id == "speed-pace" else c
                for c in base.chains
            ),
            wires=(*base.wires, wire),
        )
        found = merge(base, theirs, mine)
        if found.whole:
            self.assertEqual(found.job, theirs)
            self.assertIn("does not go together", found.whole)
        else:
            self.assertIn("speed-pace", index(found.job.chains))

    def test_any_order_of_three_people_ends_with_everybodys_work(self) -> None:
        rng = random.Random(3)
        base = demo()
        hands = [[2], [6], [9], [14]]
        for _ in range(5):
            rng.shuffle(hands)
            server = base
            for picks in hands:
                server = merge(base, server, after(base, picks)).job
            want = after(base, [i for picks in hands for i in picks])
            self.assertEqual(server, want)


if __name__ == "__main__":
    unittest.main()
