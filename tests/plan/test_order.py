"""The order of work: no worse than any, keeps what must come first, learns, and stops for parts."""

from __future__ import annotations

import itertools
import math
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.demo import apply, demo
from zombrel.catalog import DEMO
from zombrel.harness.laid import laid
from zombrel.job.model import House
from zombrel.job.problem import Problem
from zombrel.job.wiring import Work
from zombrel.plan import day, order
from zombrel.plan.learn import factors
from zombrel.plan.order import Where
from zombrel.plan.tasks import Task, tasks
from zombrel.store.zjob import load


def a_task(
    i: int,
    zone: str,
    minutes: float,
    off: bool | None,
    after: tuple[int, ...],
    cure: float,
    second: bool,
    lifted: bool,
) -> Task:
    return Task(
        id=f"t{i}",
        kind="run",
        title=f"task {i}",
        minutes=minutes,
        zone=zone,
        battery_off=off,
        after=tuple(f"t{k}" for k in after if k < i),
        cure_min=cure,
        second=second,
        lifted=lifted,
    )


@st.composite
def jobs(draw: st.DrawFn, most: int) -> tuple[Task, ...]:
    """A few tasks that may ask for anything."""
    count = draw(st.integers(1, most))
    return tuple(
        a_task(
            i,
            draw(st.sampled_from(("", "bay", "dash", "boot"))),
            draw(st.integers(1, 30)),
            draw(st.sampled_from((None, True, False))),
            tuple(draw(st.lists(st.integers(0, 7), max_size=2))),
            draw(st.sampled_from((0, 0, 0, 25))),
            draw(st.booleans()),
            draw(st.booleans()),
        )
        for i in range(count)
    )


def least(found: tuple[Task, ...]) -> float:
    """The cheapest of all orders that keep what must come first, tried one by one."""
    best = math.inf
    for trial in itertools.permutations(found):
        try:
            best = min(best, order.spent(trial).minutes)
        except Problem:
            continue
    return best


class Orders(unittest.TestCase):
    @given(jobs(6))
    @settings(max_examples=60, deadline=None)
    def test_no_order_of_a_small_job_is_better(self, found: tuple[Task, ...]) -> None:
        got = order.best_order(found)
        self.assertEqual(sorted(t.id for t in got), sorted(t.id for t in found))
        self.assertAlmostEqual(order.spent(got).minutes, least(found))

    @given(jobs(7))
    @settings(max_examples=25, deadline=None)
    def test_the_beam_of_a_big_job_comes_close(self, found: tuple[Task, ...]) -> None:
        exact, order.EXACT = order.EXACT, 0
        try:
            got = order.spent(order.best_order(found)).minutes
        finally:
            order.EXACT = exact
        best = order.spent(order.best_order(found)).minutes
        self.assertGreaterEqual(got, best - 1e-9)
        self.assertLessEqual(got, best + order.MOVE_MIN + order.BATTERY_MIN + order.LIFT_MIN)

    def test_what_cannot_be_is_said(self) -> None:
        a = Task(id="a", kind="run", title="first", minutes=1, after=("b",))
        b = Task(id="b", kind="run", title="second", minutes=1, after=("a",))
        with self.assertRaisesRegex(Problem, "in a ring"):
            order.best_order((a, b))
        with self.assertRaisesRegex(Problem, "comes before"):
            order.schedule((a, Task(id="b", kind="run", title="second", minutes=1)))

    def test_cure_times_are_waited_out_or_used(self) -> None:
        glue = Task(id="glue", kind="mount", title="glue", minutes=5, cure_min=60)
        load_ = Task(id="load", kind="run", title="load it", minutes=5, after=("glue",))
        other = Task(id="other", kind="run", title="other work", minutes=50)
        self.assertEqual(
            [t.id for t in order.best_order((glue, load_, other))], ["glue", "other", "load"]
        )
        self.assertEqual(order.spent((glue, load_)).waited, 60)


class DemoJobs(unittest.TestCase):
    def test_every_demo_job_has_a_whole_plan(self) -> None:
        for number in ("0412", "0413", "0409"):
            with self.subTest(number):
                job = laid(load(DEMO / f"{number}.zjob"))
                got = day.work_order(job)
                self.assertEqual(len(got.slots), len(tasks(job)))
                self.assertEqual(got.off_times, 1)  # the battery comes off once
                done: set[str] = set()
                for s in got.slots:
                    self.assertLessEqual(set(s.task.after), done)
                    done.add(s.task.id)
                opened = [s.task.id for s in got.slots if s.task.kind == "open"]
                self.assertEqual(len(opened), len(set(opened)))
                self.assertEqual(got.slots[-1].task.kind if number != "0409" else "road", "road")

    def test_what_waits_holds_what_needs_it_and_no_more(self) -> None:
        job = laid(demo())
        first = next(t for t in tasks(job) if t.id == "mount pace")
        held = apply(job, day.hold(job, first, "bracket on order"))
        got = day.work_order(laid(held))
        names = {t.id for t in got.held}
        self.assertLessEqual({"mount pace", "plug pace", "probe", "power"}, names)
        self.assertIn("mount hub", {s.task.id for s in got.slots})
        back = apply(held, day.again(held, first))
        self.assertEqual(day.work_order(laid(back)).held, ())

    def test_the_clock(self) -> None:
        house = House(day_start="08:00", day_end="16:00")
        slots = order.schedule(
            tuple(Task(id=f"t{i}", kind="run", title="t", minutes=100) for i in range(6))
        )
        plan = day.on_clock(slots, house)
        said = [(c.day, day.clock_of(c.begin), day.clock_of(c.end)) for c in plan]
        self.assertEqual(
            said[:4],
            [
                (0, "08:00", "09:40"),
                (0, "09:40", "11:20"),
                (0, "11:20", "13:30"),
                (0, "13:30", "15:10"),
            ],
        )
        self.assertEqual(said[4], (1, "08:00", "09:40"))
        late = day.on_clock(slots[:2], House(day_start="08:00", day_end="07:00"))
        self.assertEqual([c.day for c in late], [0, 1])  # a day has an hour at least


class Learning(unittest.TestCase):
    def test_a_log_pulls_its_kind_half_way(self) -> None:
        """Two logs at twice the estimate against a prior of two: √2."""
        work = tuple(Work(id=f"run {i}", kind="run", minutes=20, planned=10) for i in range(2))
        self.assertAlmostEqual(factors(work)["run"][0], math.sqrt(2))
        mad = (Work(id="x", kind="run", minutes=9000, planned=1),)
        self.assertAlmostEqual(factors(mad)["run"][0], 4 ** (1 / 3))

    def test_pause_resume_and_done_are_logged(self) -> None:
        job = laid(demo())
        task = next(t for t in tasks(job) if t.kind == "run")
        for edit in (day.begin,):
            job = apply(job, edit(job, task, "2026-11-25 09:00"))
        job = apply(job, day.pause(job, task, 7.0))
        self.assertEqual(job.work[0].minutes, 7.0)
        before = task.minutes
        job = apply(job, day.begin(job, task, "2026-11-25 10:00"))
        job = apply(job, day.finish(job, task, 3.0 + 2 * before, "2026-11-25"))
        self.assertEqual((job.work[0].state, job.work[0].planned), ("done", before))
        later = next(t for t in tasks(job) if t.kind == "run" and t.id != task.id)
        first = next(t for t in tasks(laid(demo())) if t.id == later.id)
        self.assertGreater(later.minutes, first.minutes)
        self.assertIn("learned from 1 timed", later.why)

    def test_a_caution_is_acknowledged_in_the_ledger(self) -> None:
        job = laid(demo())
        task = next(t for t in tasks(job) if t.caution)
        done = apply(job, day.finish(job, task, None, "2026-11-25"))
        self.assertIn("acknowledged", done.ledger[-1].note)


class BatteryOff(unittest.TestCase):
    def test_the_battery_is_off_from_the_start_where_it_was(self) -> None:
        job = demo()
        off = day.work_order(job, Where(battery_off=True))
        first = next(s for s in off.slots if any(t.turn == "battery on" for t in s.before))
        self.assertAlmostEqual(day._battery(off.slots[: off.slots.index(first) + 1],
                                            Where(battery_off=True))[0], first.begin)  # fmt: skip


if __name__ == "__main__":
    unittest.main()
