"""Tasks come from the job: each thing to do once, where it is, after what it needs."""

from __future__ import annotations

import unittest

import msgspec

from tests.demo import apply, demo, put
from zombrel.catalog import DEMO
from zombrel.catalog.tools import tools
from zombrel.diagnose.steps import steps
from zombrel.diagnose.verdict import rivals
from zombrel.harness.laid import bundles, laid
from zombrel.job.edits import Add
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.records.fitting import Hose
from zombrel.job.validate import validate
from zombrel.plan import day
from zombrel.plan.day import finish
from zombrel.plan.order import Where, advance, best_order, schedule
from zombrel.plan.tasks import Task, tasks
from zombrel.store.zjob import load


def by(job: Job) -> dict[str, Task]:
    return {t.id: t for t in tasks(laid(job))}


def all_before(found: dict[str, Task], key: str) -> set[str]:
    """Everything that must come before a task, however far back."""
    seen: set[str] = set()
    todo = list(found[key].after)
    while todo:
        one = todo.pop()
        if one not in seen:
            seen.add(one)
            todo += found[one].after
    return seen


class Tasks(unittest.TestCase):
    def test_one_of_each_thing(self) -> None:
        job = laid(demo())
        found = by(demo())
        kinds = [t.kind for t in found.values()]
        self.assertEqual(kinds.count("mount"), 6)
        self.assertEqual(kinds.count("plug"), 6)
        self.assertEqual(kinds.count("run"), len(bundles(job)))
        self.assertEqual(kinds.count("stud"), 3)
        self.assertEqual(kinds.count("change"), 1)
        self.assertEqual(kinds.count("open"), kinds.count("close"))
        self.assertEqual(
            (kinds.count("probe"), kinds.count("power"), kinds.count("road")), (1, 1, 1)
        )
        self.assertEqual(len({t.id for t in found.values()}), len(found))
        self.assertLessEqual(set(kinds), set(tools()))

    def test_a_shop_decides_its_minutes_and_the_odds_of_a_cause(self) -> None:
        rules = [{"id": "minutes, mount", "value": 50.0}, {"id": "cause, feed dead", "value": 3.0}]
        job = put(demo(), "house.figures", rules)
        task = {t.id: t for t in tasks(job)}["mount hub"]
        self.assertEqual((task.minutes, task.why), (50.0, "house rule 50 min"))
        volts = next(s for s in steps(job) if s.kind == "volts")
        was = rivals(demo(), volts, {})
        self.assertGreater(rivals(job, volts, {})[0].share, was[0].share)
        for name, says in (("minutes, dreaming", "no figure"), ("clean stud", "not the shop's")):
            with self.assertRaisesRegex(Problem, says):
                validate(put(demo(), "house.figures", [{"id": name, "value": 1.0}]))

    def test_a_changed_cavity_is_not_joined_twice(self) -> None:
        found = by(demo())
        self.assertIn("change C1", found)
        self.assertNotIn("join D2", found)
        free = apply(demo(), msgspec.convert({"type": "remove", "path": "changes.C1"}, _edit()))
        self.assertIn("join D2", by(free))

    def test_what_must_come_first(self) -> None:
        found = by(demo())
        for late, early in (
            ("probe", "plug hub"),
            ("probe", "join G1"),
            ("power", "probe"),
            ("power", "set pace"),
            ("join BAT", "plug spark"),
            ("join G1", "stud G1"),
            ("plug pace", "mount pace"),
            ("road", "close bonnet"),
            ("mount spark", "open bonnet"),
            ("run bay-left-under-front", "cool"),
            ("change C1", "open dash undercover"),
            ("mount pace", "set pace"),
            ("close wheel", "power"),
            ("road", "prove brake-brake-pace"),
        ):
            with self.subTest(late=late, early=early):
                self.assertIn(early, all_before(found, late))
        self.assertNotIn("plug hub", all_before(found, "mount pace"))

    def test_where_battery_lift_and_helper_are_wanted(self) -> None:
        found = by(demo())
        self.assertTrue(found["change C1"].battery_off)
        self.assertTrue(found["join F7"].battery_off)
        self.assertIs(found["power"].battery_off, False)
        self.assertIsNone(found["mount pace"].battery_off)
        self.assertTrue(found["open wheel"].lifted)
        self.assertTrue(found["road"].second)
        through = next(t for k, t in found.items() if "bulkhead-left-foot-left" in k)
        self.assertTrue(through.second)
        self.assertIn("fish wire", through.caution)
        bag = by(put(demo(), "zones.dash.airbag", True))
        self.assertTrue(bag["open dash undercover"].battery_off)
        self.assertIn("waiting time", bag["open dash undercover"].caution)

    def test_minutes_come_from_the_catalogue_and_say_so(self) -> None:
        found = by(demo())
        self.assertEqual(found["plug pace"].minutes, 3 + 3 * 5)
        self.assertEqual(found["plug pace"].why, "catalogue 3 + 3 × 5 wire min")
        self.assertEqual(found["open dash undercover"].minutes, 15)
        self.assertEqual(found["loom"].minutes, 10 + 2 * 23)

    def test_a_proven_step_is_no_task_any_more(self) -> None:
        from tests.demo import whole
        from tests.diagnose.test_proof import prove

        self.assertIn("prove brake-brake-pace", by(whole()))
        self.assertNotIn("prove brake-brake-pace", by(prove(whole(), "brake-brake-pace")))

    def test_a_new_wire_brings_its_work(self) -> None:
        wire = {
            "id": "W99",
            "a": {"place": "arming"},
            "b": {"place": "spark", "pin": "ARM"},
            "colour": "pink",
            "carries": "signal",
            "area_mm2": 0.5,
            "length_m": 2.0,
            "via": ["dash", "foot-left", "bulkhead-left"],
        }
        more = by(apply(demo(), Add(path="wires", value=wire)))
        self.assertIn("join arming", more)
        self.assertEqual(more["loom"].minutes, by(demo())["loom"].minutes + 2)

    def test_nothing_to_do_is_no_task(self) -> None:
        self.assertEqual(tasks(Job()), ())
        self.assertEqual(best_order(()), ())
        got = day.work_order(Job())
        self.assertEqual((got.slots, got.minutes, got.off_times), ((), 0.0, 0))

    def test_every_task_names_tools_or_is_waiting(self) -> None:
        for number in ("0412", "0413", "0409"):
            for task in tasks(laid(load(DEMO / f"{number}.zjob"))):
                self.assertTrue(task.tools or task.kind == "cool", task.id)
                self.assertTrue(task.title and task.why)


class Bay(unittest.TestCase):
    def test_what_turning_to_a_task_costs(self) -> None:
        def task(**how: object) -> Task:
            return Task(id="t", kind="run", title="t", minutes=1, **how)  # type: ignore[arg-type]

        here = Where(zone="dash")
        for at, one, minutes, said in (
            (here, task(zone="dash"), 0, ()),
            (here, task(zone="boot"), 2, ("move",)),
            (here, task(), 0, ()),
            (Where(), task(zone="dash"), 0, ()),
            (here, task(zone="dash", battery_off=True), 4, ("battery off, negative first",)),
            (Where(battery_off=True), task(battery_off=False), 4, ("battery on, negative last",)),
            (here, task(zone="dash", lifted=True), 6, ("raise onto stands, wheels chocked",)),
            (Where(raised=True), task(zone="x"), 6, ("lower the vehicle",)),
            (here, task(zone="dash", second=True), 5, ("fetch the helper",)),
            (Where(zone="dash", helper=True), task(zone="dash", second=True), 0, ()),
        ):
            _, cost, steps = advance(at, one)
            words = tuple(step.words for step in steps)
            with self.subTest(one=one, at=at):
                self.assertEqual((cost, words), (minutes, said))

    def test_the_bay_as_it_stands_counts(self) -> None:
        off = Task(id="a", kind="join", title="a", minutes=5, battery_off=True)
        begun = schedule((off,), Where(battery_off=True))
        self.assertEqual((begun[0].begin, begun[0].end), (0, 5))
        self.assertEqual(schedule((off,))[0].begin, 4)

    def test_the_clock_reads_and_writes(self) -> None:
        for text, minutes in (("00:00", 0), ("08:30", 510), ("23:59", 1439)):
            self.assertEqual(day.minutes_of(text), minutes)
            self.assertEqual(day.clock_of(minutes), text)

    def test_tools_once_each_in_order(self) -> None:
        found = (
            Task(id="a", kind="run", title="a", minutes=1, tools=("rod", "tube")),
            Task(id="b", kind="run", title="b", minutes=1, tools=("tube", "meter")),
        )
        self.assertEqual(day.tools(found), ("rod", "tube", "meter"))


def _edit() -> type:
    from zombrel.job.edits import Remove

    return Remove


class Minutes(unittest.TestCase):
    def test_minutes_are_kept_to_a_tenth(self) -> None:
        job = demo()
        task = tasks(job)[0]
        done = apply(job, finish(job, task, 1 / 3))
        self.assertEqual(by_id(done.work, task.id).minutes, 0.3)

    def test_a_hose_that_burns_is_laid_with_the_battery_off(self) -> None:
        for medium, off in (("fuel", True), ("coolant", None)):
            hose = Hose(id="h", name="Hose", medium=medium)  # type: ignore[arg-type]
            job = msgspec.structs.replace(demo(), hoses=(hose,))
            task = next(t for t in tasks(job) if t.kind == "hose")
            self.assertEqual(bool(task.battery_off), bool(off), medium)


if __name__ == "__main__":
    unittest.main()
