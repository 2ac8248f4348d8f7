"""Edits as data: paths, undo, errors in plain words, the ledger, validation."""

from __future__ import annotations

import unittest

import msgspec
from hypothesis import given
from hypothesis import strategies as st

from tests.demo import demo, put
from zombrel.job import facts
from zombrel.job.edits import Add, Edit, Many, Put, Remove, Step, apply, fact
from zombrel.job.history import History
from zombrel.job.ledger import at_least, evidence, known, known_lines, provenance
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.typed import facts as typed
from zombrel.job.validate import validate
from zombrel.units import Units

KM, MI = Units(), Units(distance="mi")


class Paths(unittest.TestCase):
    def test_put_reaches_every_kind_of_place(self) -> None:
        for path, value in (
            ("vehicle.tyre", "195/65 R15"),
            ("vehicle.cylinders", 4),
            ("vehicle.ratios", [3.0, 2.0, 1.0]),
            ("sources.ring.spec.teeth", 48),
            ("devices.pace.settings.SPEED.at", "C1"),
            ("devices.hub.sheet.inputs.SPEED.threshold_v", 0.5),
            ("wires.W1.neighbours.0.spacing_m", 0.2),
            ("wires.W3.a", {"place": "D2", "pin": "4"}),
            ("connectors.D2.cavities.4.colour", "violet"),
            ("feeds.F9.fuse_a", 10.0),
            ("house.fuse_load", 0.8),
            ("notes", "front wing scratched before we began"),
        ):
            with self.subTest(path):
                job = put(demo(), path, value)
                got = msgspec.json.decode(msgspec.json.encode(fact(job, path)))
                self.assertEqual(got, value)

    def test_everything_else_stays_the_same_object(self) -> None:
        job = put(demo(), "wires.W1.length_m", 4.0)
        self.assertIs(job.vehicle, demo().vehicle)
        self.assertIs(job.devices, demo().devices)
        self.assertIs(by_id(job.wires, "W2"), by_id(demo().wires, "W2"))
        self.assertIsNot(by_id(job.wires, "W1"), by_id(demo().wires, "W1"))

    def test_add_and_remove(self) -> None:
        stud = {"id": "G9", "name": "Boot stud"}
        job = apply(demo(), Add(path="studs", value=stud))
        self.assertEqual(job.studs[-1].name, "Boot stud")
        first = apply(demo(), Add(path="studs", value=stud, at=0))
        self.assertEqual(first.studs[0].id, "G9")
        self.assertEqual(apply(job, Remove(path="studs.G9")), demo())
        with self.assertRaises(Problem):
            apply(job, Add(path="studs", value=stud))

    def test_many_is_all_or_nothing(self) -> None:
        job = demo()
        with self.assertRaises(Problem):
            apply(job, Many(edits=(Put(path="notes", value="x"), Put(path="nowhere", value=1))))
        self.assertEqual(job.notes, demo().notes)

    def test_errors_name_the_place_in_plain_words(self) -> None:
        for edit, part in (
            (Put(path="vehicle.cylinders", value=0), "cylinders"),
            (Put(path="vehicle.cylinders", value=99), "cylinders"),
            (Put(path="vehicle.final_drive", value=-3.6), "final drive"),
            (Put(path="vehicle.final_drive", value="x"), "must be a number"),
            (Put(path="vehicle.lamps", value="candle"), "lamps"),
            (Put(path="sources.ring.spec.teeth", value=-4), "teeth"),
            (Put(path="wires.W99.length_m", value=1.0), "W99"),
            (Put(path="vehicle.colour", value="red"), "no “vehicle.colour”"),
            (Put(path="wires.W1.area_mm2", value=0.0), "area mm2"),
            (Put(path="vehicle.ratios.5", value=0.7), "no “5” at vehicle.ratios.5"),
            (Remove(path="wires.W99"), "W99"),
            (Add(path="wires", value={"id": "W50"}), "wires"),
        ):
            with self.subTest(edit), self.assertRaises(Problem) as caught:
                apply(demo(), edit)
            self.assertIn(part, str(caught.exception))

    def test_edits_survive_json(self) -> None:
        edit = Many(edits=(Put(path="notes", value="a"), Remove(path="studs.G1")))
        step = Step(label="both", edit=edit)
        again = msgspec.json.decode(msgspec.json.encode(step), type=Step)
        self.assertEqual(again, step)
        self.assertEqual(apply(demo(), again.edit), apply(demo(), edit))


a_length = st.floats(0.1, 50).map(lambda x: Put(path="wires.W1.length_m", value=x))
a_note = st.text(max_size=20).map(lambda x: Put(path="notes", value=x))
a_tooth = st.integers(1, 400).map(lambda x: Put(path="sources.ring.spec.teeth", value=x))


class Undo(unittest.TestCase):
    @given(st.lists(st.one_of(a_length, a_note, a_tooth), max_size=12), st.integers(0, 12))
    def test_back_and_forth(self, edits: list[Edit], back: int) -> None:
        history = History(present=demo())
        trees = [demo()]
        for edit in edits:
            history = history.do(Step(label="x", edit=edit))
            trees.append(history.present)
        back = min(back, len(edits))
        for _ in range(back):
            history = history.undo()
        self.assertIs(history.present, trees[len(edits) - back])
        for _ in range(back):
            history = history.redo()
        self.assertIs(history.present, trees[-1])

    def test_ends(self) -> None:
        history = History(present=demo())
        self.assertIs(history.undo(), history)
        self.assertIs(history.redo(), history)
        one = history.do(Step(label="x", edit=Put(path="notes", value="1")))
        branch = one.undo().do(Step(label="y", edit=Put(path="notes", value="2")))
        self.assertEqual(branch.future, ())


class Ledger(unittest.TestCase):
    def test_strongest_line_for_the_present_value(self) -> None:
        job = demo()
        self.assertEqual(provenance(job, "vehicle.lamps"), "hearsay")
        better = apply(job, evidence(job, "vehicle.lamps", "measured", "lens off"))
        self.assertEqual(provenance(better, "vehicle.lamps"), "measured")
        weaker = apply(better, evidence(better, "vehicle.lamps", "colour"))
        self.assertEqual(provenance(weaker, "vehicle.lamps"), "measured")

    def test_a_changed_fact_loses_its_evidence_and_gets_it_back(self) -> None:
        job = demo()
        changed = put(job, "vehicle.tyre", "195/65 R15")
        self.assertIsNone(provenance(changed, "vehicle.tyre"))
        self.assertEqual(
            provenance(put(changed, "vehicle.tyre", "205/60 R15"), "vehicle.tyre"), "measured"
        )

    def test_thresholds(self) -> None:
        job = demo()
        self.assertTrue(at_least(job, "wires.W1.a", "counted"))
        self.assertFalse(at_least(job, "wires.W3.a", "counted"))
        self.assertFalse(at_least(job, "wires.W77.a", "hearsay"))
        wire = by_id(job.wires, "W1")
        assert wire is not None
        self.assertTrue(known(known_lines(job.ledger), "wires.W1.a", wire.a, "counted"))
        self.assertFalse(known(known_lines(job.ledger), "wires.W1.a", wire.b, "counted"))

    def test_numbers_do_not_repeat(self) -> None:
        ids = [e.id for e in demo().ledger]
        self.assertEqual(len(ids), len(set(ids)))


class Facts(unittest.TestCase):
    def test_what_is_shown_can_be_typed_back(self) -> None:
        job = demo()
        for units in (KM, MI):
            for sheet in facts.all_facts(job):
                text = typed.show(job, sheet, units)
                if not text:
                    continue
                with self.subTest(sheet.label):
                    value = typed.parse(sheet, text, units)
                    again = typed.show(put(job, sheet.path, value), sheet, units)
                    self.assertEqual(again, text)

    def test_units_at_the_edge(self) -> None:
        sheets = {f.path: f for f in facts.VEHICLE}
        top = sheets["vehicle.top_mps"]
        self.assertAlmostEqual(typed.parse(top, "120", MI), 120 * 1609.344 / 3600)  # type: ignore[arg-type]
        self.assertEqual(typed.unit_of(top, MI), "mph")
        self.assertAlmostEqual(typed.parse(sheets["vehicle.idle_rps"], "900", KM), 15)  # type: ignore[arg-type]

    def test_wrong_kinds(self) -> None:
        sheets = {f.path: f for f in facts.VEHICLE}
        for path, text, part in (
            ("vehicle.cylinders", "six", "whole number"),
            ("vehicle.final_drive", "1:3.6", "3.6 or 0.2778"),
            ("vehicle.ratios", "first", "is not a ratio"),
            ("vehicle.lamps", "candles", "choices"),
            ("vehicle.wheel_airbag", "maybe", "yes or no"),
            ("vehicle.idle_rps", "slow", "rpm"),
        ):
            with self.subTest(path), self.assertRaises(Problem) as caught:
                typed.parse(sheets[path], text, KM)
            self.assertIn(part, str(caught.exception))


class Validation(unittest.TestCase):
    def test_the_demo_is_valid(self) -> None:
        self.assertIs(validate(demo()), demo())

    def test_broken_references(self) -> None:
        twice = msgspec.structs.replace(demo(), wires=(*demo().wires, demo().wires[0]))
        long = msgspec.structs.replace(demo(), devices=demo().devices * 126, chains=(), sources=())
        for job, part in (
            (put(demo(), "chains.speed-pace.device", "gone"), "gone"),
            (put(demo(), "chains.speed-pace.pin", "NONE"), "NONE"),
            (put(demo(), "chains.speed-pace.source", "gone"), "gone"),
            (put(demo(), "chains.speed-pace.wires", ["W1", "W99"]), "W99"),
            (put(demo(), "sources.s4out.spec.device", "gone"), "gone"),
            (put(demo(), "wires.W1.id", "W.1"), "full stop"),
            (twice, "share the name"),
            (long, "more than 500"),
        ):
            with self.subTest(part), self.assertRaises(Problem) as caught:
                validate(job)
            self.assertIn(part, str(caught.exception))


if __name__ == "__main__":
    unittest.main()
