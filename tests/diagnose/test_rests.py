"""A proof rests on all that its step read: whatever changes the step, the proof falls."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import apply, demo, proven, put
from zombrel.diagnose.gates import road_gate
from zombrel.diagnose.record import prove
from zombrel.diagnose.rests import changed_since
from zombrel.diagnose.steps import latest, standing, steps

EDITS: list[tuple[str, list[Any]]] = [
    ("vehicle.system_v", [12, 24]),
    ("vehicle.strokes", [2, 4]),
    ("vehicle.tyre", ["205/60 R15", "195/60 R15", ""]),
    ("vehicle.final_drive", [3.64, 4.1]),
    ("vehicle.cylinders", [4, 6]),
    ("vehicle.ignition", ["wasted-spark", "coil-per-plug"]),
    ("vehicle.idle_rps", [14.0, 15.0, None]),
    ("vehicle.lamps", ["led", "filament", None]),
    ("vehicle.lamp_w", [21.0, 5.0]),
    ("vehicle.owner", ["Marsh", "someone else"]),
    ("vehicle.mass_kg", [1290.0, 1400.0]),
    ("devices.pace.sheet.inputs.CANCEL.need_ohm", [50.0, 20.0]),
    ("devices.pace.sheet.inputs.CANCEL.pull_up_ohm", [4700.0, 10000.0]),
    ("devices.pace.sheet.inputs.SPEED.pulses_per_flash", [4, 8]),
    ("devices.pace.settings.SPEED.at", ["C1", "C2"]),
    ("devices.hub.settings.TACH.at", ["6", "4"]),
    ("devices.spark.sheet.outputs.TACH OUT.pulses_per_rev", [3.0, 2.0]),
    ("devices.pace.name", ["Pace unit", "Surveyor hub"]),
    ("sources.ring.spec.teeth", [46, 48]),
    ("sources.ring.trim", [1.0, 1.02]),
    ("chains.brake-pace.hops", [[], [{"type": "load", "ohm": 47.0}]]),
    ("chains.speed-pace.title", ["Speed", "Road speed"]),
    ("wires.W4.length_m", [1.2, 6.0]),
    ("wires.W4.fixed", [True]),
    ("wires.W3.area_mm2", [0.75, 1.5]),
    ("wires.W12.colour", ["red/white", "pink"]),
    ("feeds.F7.name", ["Slot F7", "Slot seven"]),
    ("feeds.F7.load_a", [4.0, 6.0]),
    ("house.tail_m", [0.15, 0.4]),
]
edits = st.lists(
    st.sampled_from(EDITS).flatmap(lambda e: st.tuples(st.just(e[0]), st.sampled_from(e[1]))),
    min_size=1,
    max_size=4,
)


class Rests(unittest.TestCase):
    def test_all_stand_before_anything_is_changed(self) -> None:
        self.assertEqual({standing(proven(), s) for s in steps(proven())}, {"passed"})
        self.assertEqual(road_gate(proven()), "")

    @settings(max_examples=150)
    @given(edits)
    def test_a_changed_step_is_not_passed(self, made: list[tuple[str, Any]]) -> None:
        before, job = {s.id: s for s in steps(proven())}, proven()
        for path, value in made:
            job = put(job, path, value)
        for step in steps(job):
            if step != before.get(step.id):
                self.assertNotEqual(standing(job, step), "passed", (step.id, made))
                if step.gate:
                    self.assertNotEqual(road_gate(job), "")

    def test_what_changed_is_named(self) -> None:
        for path, value, key, words in (
            ("vehicle.system_v", 24, "brake-brake-pace", "system (12 → 24)"),
            ("vehicle.strokes", 2, "idle-tach-hub", ""),
            ("devices.pace.sheet.inputs.CANCEL.need_ohm", 20.0, "brake-brake-pace", "(50 → 20)"),
            ("wires.W3.area_mm2", 1.5, "brake-brake-pace", "wire W3, section (0.75 → 1.5)"),
            ("devices.pace.settings.SPEED.at", "C2", "roll-speed-pace", "(C1 → C2)"),
        ):
            job = put(proven(), path, value)
            step = next(s for s in steps(job) if s.id == key)
            proof = latest(job, step)
            assert proof is not None
            with self.subTest(path):
                self.assertIn(words, "; ".join(changed_since(job, proof)))
                if step.gate:
                    self.assertIn(words, road_gate(job))

    def test_what_it_does_not_rest_on_leaves_it(self) -> None:
        for path, value in (
            ("vehicle.owner", "someone else"),
            ("vehicle.mass_kg", 1400.0),
            ("wires.W12.colour", "pink"),
            ("chains.speed-hub.title", "Road speed"),
            ("feeds.F7.load_a", 6.0),
            ("notes", "tried it twice"),
        ):
            job = put(proven(), path, value)
            with self.subTest(path):
                self.assertEqual({standing(job, s) for s in steps(job)}, {"passed"})

    def test_a_proof_of_an_older_program_is_to_be_repeated(self) -> None:
        step = steps(demo())[0]
        job = apply(demo(), prove(demo(), step, "pass", {}, "", ""))
        job = put(job, f"proofs.{job.proofs[0].id}.basis", [])
        self.assertEqual(standing(job, steps(job)[0]), "stale")


if __name__ == "__main__":
    unittest.main()
