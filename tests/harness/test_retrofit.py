"""What a retrofit needs, halves that meet, links inside a lead, checks of moved terminals."""

from __future__ import annotations

import itertools
import unittest

import msgspec

from tests.demo import apply
from zombrel.actions.plugs import leads
from zombrel.actions.plugs.connectors import put_terminal
from zombrel.actions.plugs.retrofit import functions_of, put_retrofit, serve, text_of
from zombrel.catalog import DEMO
from zombrel.diagnose.steps import steps
from zombrel.harness.plugs import face, lead, moves
from zombrel.harness.plugs.build import build
from zombrel.harness.plugs.retrofit import table
from zombrel.harness.plugs.terminal import fit
from zombrel.harness.plugs.terminals import TERMINALS
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.records.retrofit import Function, Retrofit
from zombrel.job.wiring import Answer, Cavity, Change, Connector
from zombrel.store.zjob import load

replace = msgspec.structs.replace
RACER = load(DEMO / "0409.zjob")
MODULE = Connector(
    id="M",
    columns=5,
    cavities=(
        Cavity(n=1, circuit="brake switch", seen="empty"),
        Cavity(n=2, circuit="VSS", seen="wire"),
        Cavity(n=3, circuit="clutch"),
        Cavity(n=4, circuit="set switch", seen="empty"),
        Cavity(n=5, circuit="horn", seen="empty"),
    ),
)
CAR = Connector(
    id="D", columns=3, cavities=(Cavity(n=3, circuit="brake lamp", colour="green", seen="wire"),)
)
NEEDS = ("brake", "speed", "clutch", "set switch", "gear lever")


class Needs(unittest.TestCase):
    def setUp(self) -> None:
        cruise = Function(name="Cruise", needs=NEEDS)
        retrofit = Retrofit(id="R1", connector="M", functions=(cruise, Function(name="All")))
        self.job = Job(connectors=(MODULE, CAR), retrofits=(retrofit,))

    def test_each_circuit_has_its_state(self) -> None:
        cruise, whole = table(self.job, self.job.retrofits[0])
        states = [n.state for n in cruise.needs]
        self.assertEqual(states, ["elsewhere", "present", "look", "absent", "no pin"])
        self.assertEqual((cruise.needs[0].here, cruise.needs[0].there), ("M.1", ("D.3",)))
        self.assertEqual([n.circuit for n in cruise.lacks], ["set switch", "gear lever"])
        self.assertEqual(len(whole.needs), 5)

    def test_one_wire_brings_it(self) -> None:
        need = table(self.job, self.job.retrofits[0])[0].needs[0]
        done = apply(self.job, serve(self.job, need))
        self.assertEqual([w.colour for w in done.wires], ["green"])
        self.assertEqual(
            [(c.kind, c.connector) for c in done.changes], [("tap", "D"), ("add", "M")]
        )
        self.assertEqual(table(done, done.retrofits[0])[0].needs[0].state, "drawn")
        with self.assertRaisesRegex(Problem, "already"):
            serve(done, need)

    def test_lines_of_functions(self) -> None:
        text = "Cruise: brake, speed\nLamps"
        self.assertEqual(text_of(functions_of(text)), text)
        with self.assertRaisesRegex(Problem, "Line 2"):
            functions_of("Cruise: brake\n: speed")
        twice = replace(self.job.retrofits[0], functions=functions_of("A\nA"))
        with self.assertRaisesRegex(Problem, "twice"):
            put_retrofit(self.job, twice)

    def test_counts_are_proven_against_what_was_noted(self) -> None:
        r = replace(self.job.retrofits[0], coding="needed", keeps="distance and hours", car_m=1e8)
        found = {s.id: s for s in steps(replace(self.job, retrofits=(r,)))}
        self.assertIn("coded-R1", found)
        self.assertIn("the hours", found["kept-R1"].blocked)
        noted = replace(r, car_h=412.0)
        step = {s.id: s for s in steps(replace(self.job, retrofits=(noted,)))}["kept-R1"]
        km, h = step.fields
        self.assertEqual((step.blocked, km.low, h.low), ("", 99999.0, 411.9))
        self.assertIn("offence", step.caution)


class Halves(unittest.TestCase):
    def test_a_half_meets_its_mirror_image_and_no_other(self) -> None:
        for rows, columns, corner, numbering in itertools.product(
            (1, 2, 3), (2, 5), ("top left", "bottom right"), ("rows", "columns", "forth and back")
        ):
            a = Connector(rows=rows, columns=columns, corner=corner, numbering=numbering)  # type: ignore[arg-type]
            self.assertFalse(face.meet(a, a))
            self.assertTrue(face.meet(a, replace(a, counted_on="mating face")))
            self.assertTrue(face.meet(replace(a, counted_on="mating face"), a))


class Links(unittest.TestCase):
    def test_a_link_inside_the_lead_is_made_built_and_probed(self) -> None:
        job, patch = RACER, RACER.leads[0]
        with self.assertRaisesRegex(Problem, "one side"):
            leads.link(job, patch, "V52.1", "E40.1")
        linked = apply(job, leads.link(job, patch, "E40.11", "E40.12"))
        new = by_id(linked.leads, patch.id)
        assert new is not None
        self.assertEqual(len(new.rows), len(patch.rows) + 1)
        pieces = {(p.row.a, p.row.b): p.length_m for p in build(linked, new).pieces}
        across = pieces[patch.rows[0].a, patch.rows[0].b]
        self.assertLess(pieces["E40.11", "E40.12"], across)
        near = {p.name: p.near for p in build(linked, new).plugs}
        self.assertEqual(near, {"V52": True, "E40": False, "E26": False})
        out = apply(linked, leads.link(linked, new, "E40.12", "E40.11"))
        self.assertEqual(by_id(out.leads, patch.id).rows, patch.rows)  # type: ignore[union-attr]

    def test_a_lead_with_a_link_probes_right_and_a_missing_link_is_found(self) -> None:
        job, patch = RACER, replace(RACER.leads[0], answers=())
        linked = apply(replace(job, leads=(patch,)), leads.link(job, patch, "E26.3", "E26.4"))
        for whole in (True, False):
            new = by_id(linked.leads, patch.id)
            assert new is not None
            real = [(r.a, r.b) for r in new.rows if whole or r.a != "E26.3"]
            nets = lead.Nets(real)
            for _ in range(3000):
                probe = lead.progress(new, job.connectors).next
                if probe is None:
                    break
                said = Answer(a=probe.a, b=probe.b, conducts=nets.joined(probe.a, probe.b))
                new = replace(new, answers=(*new.answers, said))
            found = lead.result(new, job.connectors)
            self.assertEqual(found.right, whole, found.verdict)


class Checks(unittest.TestCase):
    def test_a_sensor_that_is_keyed_otherwise_is_rotated_and_metered(self) -> None:
        c = Connector(
            id="S",
            columns=3,
            cavities=(
                Cavity(n=1, circuit="5 V", kind="5 V feed", seen="wire", seen_colour="red"),
                Cavity(n=2, circuit="cam", kind="Hall", seen="wire", seen_colour="blue"),
                Cavity(n=3, circuit="sensor ground", kind="sensor ground", seen="wire"),
            ),
        )
        change = Change(id="C1", kind="rotate", connector="S", cavity=1, to="+1")
        said = moves.checks(c, change)
        self.assertEqual(
            [s.partition(",")[0] for s in said], ["2: 5 V", "3: cam", "1: sensor ground"]
        )
        self.assertIn("5 V to its sensor ground", said[0])
        self.assertIn("swings", said[1])
        self.assertIn("0.5 Ω", said[2])
        self.assertEqual(moves.checks(c, replace(change, to="x")), ())


class Terminals(unittest.TestCase):
    def test_one_of_ones_own_and_sizes_mixed_in_one_housing(self) -> None:
        own = replace(TERMINALS[0], id="own", family="Own", least_mm2=2.0, most_mm2=4.0)
        own = replace(own, least_sheath_mm=2.0, most_sheath_mm=4.0, gender="female")
        with self.assertRaisesRegex(Problem, "no terminal family"):
            fit("Own", 2.5)
        self.assertTrue(fit("Own", 2.5, own=(own,)).fits)
        self.assertIn("barrel", fit("Own", 0.5, own=(own,)).why)
        self.assertIn("female only", fit("Own", 2.5, gender="male", own=(own,)).why)
        c = Connector(family="BK 1.5", columns=2, cavities=(Cavity(n=2, family="BK 6.3"),))
        self.assertEqual([face.family(c, n) for n in (1, 2)], ["BK 1.5", "BK 6.3"])
        with self.assertRaisesRegex(Problem, "runs from 5 to 4"):
            put_terminal(Job(), replace(own, least_mm2=5.0))
        job = apply(RACER, put_terminal(RACER, own))
        self.assertEqual([t.id for t in job.terminals], ["own"])


if __name__ == "__main__":
    unittest.main()
