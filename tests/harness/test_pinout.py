"""Pin-outs from paper, and what was seen apart from them."""

from __future__ import annotations

import unittest

from msgspec.structs import astuple

from zombrel.actions.plugs.connectors import (
    note_paper,
    note_rest_empty,
    note_seen,
    put_connector,
    remove_connector,
)
from zombrel.harness.airbag import is_airbag
from zombrel.harness.plugs import changes, face
from zombrel.harness.plugs.pinout import read_pinout, rest_empty, with_paper, with_seen
from zombrel.job.edits import apply
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.wiring import Cavity, Change, Connector, End, Wire

PLUG = Connector(id="X1", name="Plug", rows=2, columns=4)
WIRE = Wire(
    id="W1",
    a=End(place="X1", pin="8"),
    b=End(place="lamp", pin="IN"),
    colour="red",
    carries="signal",
    area_mm2=0.5,
    length_m=1.0,
)


class Paper(unittest.TestCase):
    def test_every_usual_writing_of_a_pin_out_is_read(self) -> None:
        want = ((3, "green/white", "brake lamps"), (7, "", "horn"))
        for text in (
            "3, green/white, brake lamps\n7,,horn",
            "3;green/white;brake lamps\n7;;horn",
            "3\tgreen/white\tbrake lamps\n7\t\thorn",
            "# paper\n\nPin | Colour | Function\n3 | green/white | brake lamps\n7 | | horn",
            "Circuit,Colour,No.,Size\nbrake lamps,green/white,3,0.75\nhorn,,7,1",
            '"cavity","wire colour","signal"\n3,green/white,"brake lamps"\n7,"","horn"',
        ):
            with self.subTest(text):
                self.assertEqual(tuple(astuple(x)[:3] for x in read_pinout(text, PLUG)), want)
        spaced = read_pinout("3 green/white brake lamps", PLUG)
        self.assertEqual(astuple(spaced[0])[:3], (3, "green/white", "brake lamps"))
        lettered = Connector(columns=2, cavities=(Cavity(n=1, mark="A"), Cavity(n=2, mark="B")))
        self.assertEqual(read_pinout("b, red, feed", lettered)[0].n, 2)

    def test_a_line_that_is_none_is_named(self) -> None:
        for text, words in (
            ("9, red, feed", "Line 1: “9” is no cavity of Plug"),
            ("1, red, feed\nred, 2, x", "Line 2: “red”"),
            ("1, red, feed\n1, blue, x", "Line 2: cavity 1 is there twice"),
            ("", "No pin-out"),
            ("pin, colour", "No pin-out"),
        ):
            with self.subTest(words), self.assertRaisesRegex(Problem, words):
                read_pinout(text, PLUG)

    def test_the_paper_and_what_was_seen_are_kept_apart(self) -> None:
        c = with_paper(PLUG, read_pinout("1, red, feed\n2, blue, horn\n3, green, dim", PLUG))
        self.assertEqual([face.state(c, n) for n in (1, 4)], ["occupied", "not looked into"])
        self.assertIn("on paper only", face.words(c, 1))
        self.assertEqual(face.vacant(c), ())  # nobody has looked
        c = with_seen(with_seen(with_seen(c, 1, "empty"), 2, "wire", "blue/red"), 4, "blanked")
        self.assertEqual([face.state(c, n) for n in (1, 2, 4)], ["vacant", "occupied", "blanked"])
        held = [x for x in c.cavities if x.n < 3]
        self.assertEqual([face.contradicts(x) for x in held], [True, True])
        self.assertIn("Seen empty; on paper red, feed", face.words(c, 1))
        self.assertEqual(face.colour_of(held[1]), "blue/red")
        again = with_paper(c, read_pinout("1, red, feed\n2, blue, horn", c))
        self.assertEqual(again, c)  # a new sheet of paper takes nothing seen away
        c = rest_empty(c)
        self.assertEqual(face.state(c, 3), "occupied")
        self.assertEqual(face.vacant(c), (1, 5, 6, 7, 8, 4))
        self.assertEqual(with_seen(with_seen(PLUG, 1, "empty"), 1, ""), PLUG)

    def test_what_two_plugs_share_is_advised_by_what_was_seen(self) -> None:
        paper = read_pinout("1, red, feed", PLUG)
        a = with_paper(PLUG, paper)
        b = with_paper(Connector(id="X2", name="Other", columns=4), paper)
        for left, right, words in (
            ("wire", "wire", "meter it"),
            ("empty", "empty", "one wire does it"),
            ("", "empty", "look into"),
            ("wire", "", "look into"),
        ):
            both = (with_seen(a, 1, left), with_seen(b, 1, right))
            with self.subTest(words):
                self.assertIn(words, face.shared_circuits(both)[0].advice)

    def test_no_change_is_planned_into_what_nobody_looked_into(self) -> None:
        change = Change(id="C1", kind="add", connector="X1", cavity=5)

        def said(c: Connector) -> str:
            return " ".join(changes.troubles(Job(connectors=(c,), changes=(change,)), change))

        self.assertIn("not been looked into", said(PLUG))
        self.assertIn("must come out", said(with_seen(PLUG, 5, "terminal")))
        self.assertEqual(said(with_seen(PLUG, 5, "empty")), "")
        self.assertTrue(is_airbag("", "yellow", "airbag"))
        bag = with_seen(with_paper(PLUG, read_pinout("5, , airbag", PLUG)), 5, "wire", "yellow")
        self.assertIn("never touched", said(bag))


class Edits(unittest.TestCase):
    def test_made_changed_noted_and_taken_out(self) -> None:
        job = apply(Job(), put_connector(Job(), PLUG))
        job = apply(job, note_paper(job.connectors[0], "8, red, feed"))
        job = apply(job, note_seen(job.connectors[0], 8, "wire"))
        job = apply(job, note_rest_empty(job.connectors[0]))
        self.assertEqual(len(face.vacant(job.connectors[0])), 7)
        longer = Connector(id="X1", name="Plug", rows=2, columns=5)
        grown = apply(job, put_connector(job, Connector(**{**_fields(job), "columns": 5})))
        self.assertEqual(grown.connectors[0].cavities, job.connectors[0].cavities)
        shorter = Connector(**{**_fields(job), "columns": 3})
        with self.assertRaisesRegex(Problem, "red feed is in cavity 8"):
            put_connector(job, shorter)
        wired = apply(Job(), put_connector(Job(), longer))
        wired = Job(connectors=wired.connectors, wires=(WIRE,))
        with self.assertRaisesRegex(Problem, "W1 ends in Plug"):
            remove_connector(wired, wired.connectors[0])
        planned = Job(
            connectors=job.connectors,
            changes=(Change(id="C1", kind="add", connector="X1", cavity=5),),
        )
        gone = apply(planned, remove_connector(planned, planned.connectors[0]))
        self.assertEqual((gone.connectors, gone.changes), ((), ()))


def _fields(job: Job) -> dict[str, object]:
    c = job.connectors[0]
    return {name: getattr(c, name) for name in c.__struct_fields__}


if __name__ == "__main__":
    unittest.main()
