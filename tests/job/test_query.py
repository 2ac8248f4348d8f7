"""The engine: what follows from what, and no more."""

from __future__ import annotations

import gc
import tracemalloc
import unittest

import msgspec

from tests.demo import demo, put, state
from zombrel.findings.assess import assess
from zombrel.job.edits import Put, Step
from zombrel.job.follow.engine import Engine
from zombrel.job.follow.query import aside, engine, query
from zombrel.job.follow.view import Path, changes, plain
from zombrel.job.history import History
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem

NOTED = {("wires", "W1"), ("wires", "*"), ("*",)}
"""What no longer holds once the length of one wire was changed."""
RUNS: list[str] = []


@query
def tyre_letters(job: Job) -> int:
    RUNS.append("letters")
    return len(job.vehicle.tyre)


@query
def doubled(job: Job) -> int:
    RUNS.append("doubled")
    return 2 * tyre_letters(job)


@query
def length_of(job: Job, key: str) -> float:
    RUNS.append(key)
    wire = index(job.wires).get(key)
    if wire is None:
        raise Problem(f"no {key}")
    return wire.length_m


@query
def places(job: Job) -> dict[str, str]:
    return {"owner": job.vehicle.owner, "tyre": job.vehicle.tyre}


@query
def shouted(job: Job) -> str:
    return places(job)["owner"].upper()


@query
def label(job: Job) -> str:
    return f"{shouted(job)} {places(job)['tyre']}"


@query
def whole_wire(job: Job) -> object:
    return index(job.wires)["W1"]


@query
def far_too_long(job: Job) -> tuple[str, ...]:
    return tuple(w.id for w in job.wires if length_of(job, w.id) > 3)


class Engines(unittest.TestCase):
    def setUp(self) -> None:
        RUNS.clear()
        tried = aside()
        tried.__enter__()
        self.addCleanup(tried.__exit__, None, None, None)

    def ran(self) -> list[str]:
        out = list(RUNS)
        RUNS.clear()
        return out

    def test_a_change_is_noted_where_it_is_and_above_it_and_nowhere_else(self) -> None:
        out: set[Path] = set()
        self.assertTrue(changes(demo(), put(demo(), "wires.W1.length_m", 9.0), (), out))
        self.assertEqual(out, NOTED)
        self.assertFalse(changes(demo(), demo(), (), out))

    def test_only_what_read_the_change_runs_again(self) -> None:
        job = demo()
        doubled(job)
        self.assertEqual(self.ran(), ["doubled", "letters"])
        for path, value in (("vehicle.owner", "x"), ("wires.W1.length_m", 9.0), ("notes", "n")):
            doubled(job := put(job, path, value))
        self.assertEqual(self.ran(), [])

    def test_an_equal_result_stops_the_wave(self) -> None:
        job = demo()
        doubled(job)
        self.ran()
        other = put(job, "vehicle.tyre", "195/60 R15")  # as many letters
        self.assertEqual(doubled(other), doubled(job))
        self.assertEqual(self.ran(), ["letters", "letters"])
        self.assertEqual(doubled(put(job, "vehicle.tyre", "7")), 2)
        self.assertEqual(self.ran(), ["letters", "doubled"])

    def test_what_another_of_its_queries_had_run_again_counts_too(self) -> None:
        job = put(demo(), "vehicle.owner", "Ann")
        self.assertEqual(label(job), f"ANN {job.vehicle.tyre}")
        # the one asked first stays as it is, and what it asked does not
        self.assertEqual(label(put(job, "vehicle.tyre", "195/60 R15")), "ANN 195/60 R15")

    def test_undo_gives_back_what_was(self) -> None:
        history = History(present=demo())
        first = far_too_long(history.present)
        history = history.do(Step(label="", edit=Put(path="wires.W1.length_m", value=99.0)))
        self.assertIn("W1", far_too_long(history.present))
        self.assertEqual(far_too_long(history.undo().present), first)
        self.assertIn("W1", far_too_long(history.undo().redo().present))

    def test_a_problem_is_remembered_and_forgotten_like_a_result(self) -> None:
        job = demo()
        with self.assertRaises(Problem):
            length_of(job, "W99")
        with self.assertRaises(Problem):
            length_of(put(job, "notes", "x"), "W99")
        self.assertEqual(self.ran(), ["W99"])
        wire = msgspec.to_builtins(job.wires[0]) | {"id": "W99", "length_m": 4.5}
        grown = msgspec.structs.replace(
            job, wires=(*job.wires, msgspec.convert(wire, type(job.wires[0])))
        )
        self.assertEqual(length_of(grown, "W99"), 4.5)

    def test_what_nobody_needs_is_dropped(self) -> None:
        job = demo()
        far_too_long(job)
        before = len(engine().nodes)
        for n in range(5):
            job = msgspec.structs.replace(job, wires=job.wires[1:])
            far_too_long(job)
            self.assertEqual(len(engine().nodes), before - n - 1)

    def test_a_result_holds_no_view(self) -> None:
        job = demo()
        got = whole_wire(job)
        self.assertIs(got, job.wires[0])
        self.assertIs(type(plain(got)), type(job.wires[0]))

    def test_a_tree_made_on_the_way_does_not_disturb_the_present_one(self) -> None:
        @query
        def supposed(job: Job) -> float:
            far = msgspec.structs.replace(plain(job), wires=())
            return len(far_too_long(far)) + length_of(job, "W1")

        job = demo()
        self.assertEqual(supposed(job), job.wires[0].length_m)
        self.assertIs(engine().roots[Job].value, job)

    def test_many_edits_leave_no_more_behind_than_a_few(self) -> None:
        job, now = demo(), state(demo())
        tracemalloc.start()
        self.addCleanup(tracemalloc.stop)
        sizes = []
        for n in range(120):
            job = put(job, "devices.pace.settings.SPEED.at", f"C{n % 10}")
            job = put(job, "wires.W1.length_m", 1.0 + n / 100)
            assess(job, msgspec.structs.replace(now, speed=1.0 + n))
            if n in (10, 119):
                gc.collect()
                sizes.append(tracemalloc.get_traced_memory()[0])
        self.assertLess(sizes[1], 1.5 * sizes[0])

    def test_engines_are_apart(self) -> None:
        self.assertIsInstance(engine(), Engine)
        with aside() as other:
            self.assertIs(engine(), other)
            tyre_letters(demo())
        self.assertEqual(engine().nodes, {})


if __name__ == "__main__":
    unittest.main()
