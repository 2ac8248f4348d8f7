"""Faces: where cavities lie on each side, how they are counted, what may be done to them."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.demo import demo, put
from zombrel.harness.plugs import changes, face
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.wiring import Cavity, Change, Connector
from zombrel.units import METRIC, words

CORNERS = ("top left", "top right", "bottom left", "bottom right")
NUMBERING = ("rows", "columns", "forth and back")


def rows(c: Connector, view: face.View = "wire side") -> list[list[int]]:
    """Cavity numbers as seen, line by line."""
    lines: dict[float, list[int]] = {}
    for p in face.seen(c, view):
        lines.setdefault(p.y, []).append(p.n)
    return list(lines.values())


class Faces(unittest.TestCase):
    def test_each_way_of_numbering_on_both_sides(self) -> None:
        cases: tuple[tuple[dict[str, object], list[list[int]], list[list[int]]], ...] = (
            ({}, [[1, 2, 3], [4, 5, 6]], [[3, 2, 1], [6, 5, 4]]),
            ({"corner": "top right"}, [[3, 2, 1], [6, 5, 4]], [[1, 2, 3], [4, 5, 6]]),
            ({"corner": "bottom left"}, [[4, 5, 6], [1, 2, 3]], [[6, 5, 4], [3, 2, 1]]),
            ({"numbering": "columns"}, [[1, 3, 5], [2, 4, 6]], [[5, 3, 1], [6, 4, 2]]),
            ({"numbering": "forth and back"}, [[1, 2, 3], [6, 5, 4]], [[3, 2, 1], [4, 5, 6]]),
            ({"counted_on": "mating face"}, [[3, 2, 1], [6, 5, 4]], [[1, 2, 3], [4, 5, 6]]),
            ({"places": ((1, 0, 0), (2, 1, 0), (7, 0.5, 1))}, [[1, 2], [7]], [[2, 1], [7]]),
            ({"row_lengths": (2, 3)}, [[1, 2], [3, 4, 5]], [[2, 1], [5, 4, 3]]),
        )
        for given_, wire, mating in cases:
            c = Connector(rows=2, columns=3, **given_)  # type: ignore[arg-type]
            with self.subTest(given_):
                self.assertEqual(rows(c), wire)
                self.assertEqual(rows(c, "mating face"), mating)

    @given(
        st.integers(1, 5),
        st.integers(1, 9),
        st.sampled_from(CORNERS),
        st.sampled_from(NUMBERING),
        st.sampled_from((0.0, 0.5)),
    )
    def test_the_other_side_is_the_mirror(
        self, r: int, c: int, corner: str, numbering: str, stagger: float
    ) -> None:
        made = Connector(rows=r, columns=c, corner=corner, numbering=numbering, stagger=stagger)  # type: ignore[arg-type]
        wire, mating = face.seen(made, "wire side"), face.seen(made, "mating face")
        wide = max(p.x for p in wire)
        turned = {(p.n, round(wide - p.x, 6), p.y) for p in mating}
        self.assertEqual({(p.n, round(p.x, 6), p.y) for p in wire}, turned)
        self.assertEqual(sorted(p.n for p in wire), list(range(1, r * c + 1)))

    def test_counting_words(self) -> None:
        d2 = demo().connectors[0]
        self.assertEqual(face.counted(d2, 27), "row 3, seventh from the lever end")
        self.assertIn("Cavity 4 has the same green/white: count it", face.words(d2, 27))
        self.assertIn("Blanked", face.words(d2, 9))
        low = Connector(rows=2, columns=3, corner="bottom right", key="the notch")
        self.assertEqual(face.counted(low, 4), "row 2, first from the notch")
        ring = Connector(columns=7, round=True, key="the key")
        self.assertEqual(face.counted(ring, 2), "second round the ring from the key")
        self.assertEqual(face.counted(ring, 7), "in the middle")

    def test_key_changes_sides_with_the_view(self) -> None:
        d2 = demo().connectors[0]
        self.assertEqual(face.keyed_side(d2, "wire side"), "left")
        self.assertEqual(face.keyed_side(d2, "mating face"), "right")

    def test_shared_circuits_and_what_one_wire_joins(self) -> None:
        d2, b4 = demo().connectors
        found = {(m.circuit, m.a, m.b) for m in face.shared_circuits((d2, b4))}
        self.assertIn(("brake lamps", "D2.27", "B4.7"), found)
        self.assertEqual(face.joinable(d2, b4), (3, 6))

    def test_wires_of_one_colour(self) -> None:
        d2 = demo().connectors[0]
        self.assertEqual(face.twins(d2, 27), (4,))
        self.assertEqual(face.twins(d2, 9), ())  # it has no colour, as others have none
        self.assertEqual(face.twins(d2, 3), ())  # nobody has noted anything in it

    def test_rotation_of_a_keying(self) -> None:
        self.assertEqual(face.rotation(("A", "B", "C"), ("C", "A", "B")), 1)
        self.assertEqual(face.rotation(("A", "B", "C"), ("A", "B", "C")), 0)
        self.assertIsNone(face.rotation(("A", "B", "C"), ("B", "A", "C")))
        with self.assertRaisesRegex(Problem, "same wires"):
            face.rotation(("A", "B"), ("A", "C"))


class Changes(unittest.TestCase):
    def change(self, **how: object) -> Change:
        return Change(id="X", connector="D2", **how)  # type: ignore[arg-type]

    def test_faces_after(self) -> None:
        job = demo()
        d2 = job.connectors[0]
        add = changes.after(job, self.change(kind="add", cavity=3, wire="W3"))[0]
        self.assertEqual(
            face.cavity(add, 3), Cavity(n=3, colour="green/white", circuit="W3 ours", seen="wire")
        )
        tap = changes.after(job, self.change(kind="tap", cavity=27, wire="W3"))[0]
        self.assertEqual(face.cavity(tap, 27).circuit, "brake lamps + W3 ours")  # type: ignore[union-attr]
        moved = changes.after(job, self.change(kind="move", cavity=27, to="D2.30"))[0]
        self.assertEqual(face.state(moved, 27), "vacant")
        self.assertEqual(face.cavity(moved, 30).circuit, "brake lamps")  # type: ignore[union-attr]
        here, there = changes.after(job, self.change(kind="remap", cavity=27, to="B4.6"))
        self.assertEqual((here.id, there.id), ("D2", "B4"))
        self.assertEqual(face.cavity(there, 6).colour, "green/white")  # type: ignore[union-attr]
        self.assertEqual(job.connectors[0], d2)

    def test_what_cannot_be_says_why(self) -> None:
        job = demo()
        for how, said in (
            ({"kind": "add", "cavity": 27}, "is taken"),
            ({"kind": "tap", "cavity": 3}, "holds no wire"),
            ({"kind": "move", "cavity": 27, "to": "D2.1"}, "is occupied"),
            ({"kind": "move", "cavity": 27, "to": "nowhere"}, "no such place"),
            ({"kind": "tap", "cavity": 77}, "has no cavity 77"),
            ({"kind": "remap", "cavity": 27, "to": "B4.13"}, "is unusable"),
            ({"kind": "add", "cavity": 3, "wire": "W13"}, "terminals of D2 take"),
        ):
            with self.subTest(how), self.assertRaisesRegex(Problem, said):
                changes.after(job, self.change(**how))
        bag = put(job, "connectors.D2.cavities.27.circuit", "airbag warning")
        with self.assertRaisesRegex(Problem, "never touched"):
            changes.after(bag, self.change(kind="tap", cavity=27))

    def test_steps_and_parts(self) -> None:
        job = demo()
        done = changes.steps(job, self.change(kind="intercept", cavity=27, wire="W3"))
        steps = words(" ".join(done), METRIC)
        for said in (
            "Battery off",
            "seventh from the lever end",
            "male half",
            "Pull test: 85\u00a0N",
        ):
            self.assertIn(said, steps)
        names = [p.name for p in changes.parts(job, self.change(kind="intercept", cavity=27))]
        self.assertEqual(len(names), 3)
        self.assertTrue(any("female terminal" in n for n in names))  # both genders
        self.assertTrue(any("male terminal" in n for n in names))
        sealed = Change(id="Y", kind="add", connector="B4", cavity=6)
        self.assertIn("wire seal", " ".join(p.name for p in changes.parts(job, sealed)))
        blank = changes.steps(job, self.change(kind="add", cavity=9))
        self.assertIn("blanking plug", " ".join(blank))
        self.assertIsNone(by_id(job.changes, "X"))
        new = "If the terminal family differs there"
        other = " ".join(changes.steps(job, self.change(kind="move", cavity=27, to="B4.6")))
        same = " ".join(changes.steps(job, self.change(kind="move", cavity=27, to="D2.30")))
        self.assertIn(new, other)
        self.assertNotIn(new, same)


if __name__ == "__main__":
    unittest.main()
