"""Changes that are made on the car: faces as built, wires that go along, metered, taken back."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import DEMO, apply, at, load
from zombrel.actions.plugs.made import make, metered, unmake
from zombrel.harness.plugs import changes, face
from zombrel.job.edits import Add, Put
from zombrel.job.ledger import provenance
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.wiring import Connector

RACER = load(DEMO / "0409.zjob")


def planned(job: Job, **how: Any) -> Job:
    return apply(job, Add(path="changes", value={"id": "X", "connector": "E26", **how}))


def held(job: Job, *cavities: int, plug: str = "E26") -> list[str]:
    c = index(job.connectors)[plug]
    return [getattr(face.cavity(c, n), "circuit", "") for n in cavities]


class Made(unittest.TestCase):
    def test_each_kind(self) -> None:
        """E26: 1 idle valve, 2 purge valve, 3 lambda heater, 4 fan relay, 5 pump relay, 6 empty."""
        for how, cavities, after in (
            ({"kind": "swap", "cavity": 3, "to": "4"}, (3, 4), ["fan relay", "lambda heater"]),
            (
                {"kind": "cycle", "cavity": 1, "to": "2, 3"},
                (1, 2, 3),
                ["lambda heater", "idle valve", "purge valve"],
            ),
            (
                {"kind": "rotate", "cavity": 1, "to": "+1"},
                (1, 2, 3),
                ["", "idle valve", "purge valve"],
            ),
            ({"kind": "pull", "cavity": 5}, (5,), [""]),
            (
                {"kind": "jumper", "cavity": 4, "to": "E26.5"},
                (4, 5),
                ["fan relay + jumper to E26.5", "pump relay + jumper to E26.4"],
            ),
        ):
            with self.subTest(how["kind"]):
                job = planned(RACER, **how)
                change = job.changes[-1]
                self.assertEqual(list(changes.troubles(job, change)), [])
                self.assertGreater(len(changes.steps(job, change)), 2)
                done = apply(job, make(job, change, "today"))
                self.assertEqual(held(done, *cavities), after)
                self.assertEqual((done.changes[-1].state, done.changes[-1].when), ("made", "today"))
                found = {f.id: f for f in at(done).findings}
                self.assertEqual(found["change-X-unmetered"].level, "watch")
                proven = apply(done, metered(done, done.changes[-1], "0.2 Ω, none beside", "now"))
                self.assertEqual(provenance(proven, "connectors.E26.cavities"), "measured")
                self.assertNotIn("change-X-unmetered", {f.id for f in at(proven).findings})
                back = apply(proven, unmake(proven, proven.changes[-1]))
                self.assertEqual(back.connectors, RACER.connectors)

    def test_our_own_wires_go_along(self) -> None:
        """W6 of ours ends in E26.23, which the change list adds to."""
        job = apply(RACER, make(RACER, index(RACER.changes)["C1"]))
        self.assertEqual(held(job, 23), ["W6 ours"])
        ends = [str(e.pin) for e in (job.wires[5].a, job.wires[5].b) if e.place == "E26"]
        job = planned(job, kind="swap", cavity=23, to="14")
        done = apply(job, make(job, job.changes[-1]))
        self.assertEqual(held(done, 14, 23), ["W6 ours", "speed"])
        wire = index(done.wires)["W6"]
        self.assertEqual([e.pin for e in (wire.a, wire.b) if e.place == "E26"], ["14"] * len(ends))
        with self.assertRaisesRegex(Problem, "changed again after C1"):
            unmake(done, index(done.changes)["C1"])

    def test_what_cannot_be(self) -> None:
        for how, said in (
            ({"kind": "swap", "cavity": 3, "to": ""}, "Say the other cavity"),
            ({"kind": "swap", "cavity": 3, "to": "99"}, "has no cavity 99"),
            ({"kind": "swap", "cavity": 3, "to": "6"}, "Cavity 6 of E26 holds no wire"),
            ({"kind": "cycle", "cavity": 1, "to": "2, 2"}, "Two terminals would go into cavity 2"),
            ({"kind": "rotate", "cavity": 1, "to": "26"}, "by how many places"),
            ({"kind": "blank", "cavity": 3}, "not seen empty"),
            ({"kind": "pull", "cavity": 6}, "nothing to pull"),
            ({"kind": "jumper", "cavity": 4, "to": "E26.6"}, "holds none"),
        ):
            with self.subTest(said):
                job = planned(RACER, **how)
                with self.assertRaisesRegex(Problem, said):
                    make(job, job.changes[-1])
        job = planned(RACER, kind="swap", cavity=3, to="4")
        with self.assertRaisesRegex(Problem, "only planned"):
            metered(job, job.changes[-1], "0.1 Ω")
        with self.assertRaisesRegex(Problem, "only planned"):
            unmake(job, job.changes[-1])
        done = apply(job, make(job, job.changes[-1]))
        with self.assertRaisesRegex(Problem, "what the meter showed"):
            metered(done, done.changes[-1], "  ")

    @given(st.permutations(range(1, 9)), st.integers(3, 8), st.integers(1, 7))
    @settings(max_examples=40, deadline=None)
    def test_nothing_is_lost_and_the_way_back_leads_back(
        self, order: list[int], count: int, step: int
    ) -> None:
        """A permutation keeps every wire; made and taken back is as it was found."""
        cavities = [{"n": n, "circuit": f"c{n}"} for n in range(1, 9)]
        plug = Connector(id="P", rows=2, columns=4)
        job = Job(connectors=(plug,))
        job = apply(
            job,
            Add(
                path="changes",
                value={
                    "id": "X",
                    "kind": "cycle",
                    "connector": "P",
                    "cavity": order[0],
                    "to": ", ".join(map(str, order[1:count])),
                },
            ),
        )
        job = apply(
            job,
            Add(
                path="changes",
                value={"id": "Y", "kind": "rotate", "connector": "P", "cavity": 1, "to": str(step)},
            ),
        )
        job = apply(job, Put(path="connectors.P.cavities", value=cavities))
        done = apply(job, make(job, job.changes[0]))
        both = apply(done, make(done, done.changes[1]))
        names = {x.circuit for x in both.connectors[0].cavities}
        self.assertEqual(names, {f"c{n}" for n in range(1, 9)})
        self.assertEqual(held(done, order[1], plug="P"), [f"c{order[0]}"])
        back = apply(both, unmake(both, both.changes[1]))
        back = apply(back, unmake(back, back.changes[0]))
        self.assertEqual(back.connectors, job.connectors)


if __name__ == "__main__":
    unittest.main()
