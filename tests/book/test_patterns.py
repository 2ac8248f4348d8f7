"""What comes back, times with their spread, the week of the bays, what to order."""

from __future__ import annotations

import math
import random
import statistics
import unittest
from datetime import date

import icalendar
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import astuple

from tests.demo import apply, demo
from zombrel.actions.lessons import add_lesson, found_cause, remove_lesson
from zombrel.book import times
from zombrel.book.comes_back import WEIGHT, Told, go_by, priors, recurring
from zombrel.book.entry import Happened, Summary, Timed
from zombrel.book.stock import Need, back, needs, orders, to_csv
from zombrel.book.times import Done
from zombrel.book.week import Load, Shop, Stay, ics, let_go, moved, week
from zombrel.findings.met import mended
from zombrel.job.edits import Put
from zombrel.job.figures import FIGURES
from zombrel.job.model import House, Job
from zombrel.job.problem import Problem
from zombrel.plan.learn import SPREAD, expected
from zombrel.plan.order import Slot
from zombrel.plan.tasks import Task

MONDAY = date(2026, 11, 23)


def about(number: str, sheet: str = "ardle-p7", vehicle: str = "Brackwell Heron camper") -> Summary:
    return Summary(number, "", vehicle, "", ((sheet, "Pace unit"),), "", "", "open", False)


def told(number: str, *happened: Happened, sheet: str = "ardle-p7") -> Told:
    return Told(about(number, sheet), happened)


LED = Happened("trouble", "brake unsure", "LED lamps", "ardle-p7")
CAUSE = Happened("cause", "open-ground", "Ground through paint", "ardle-p7")


class ComesBack(unittest.TestCase):
    def test_what_came_up_on_several_jobs_with_the_device(self) -> None:
        past = [told(f"03{i:02d}", *([LED] if i % 2 else [])) for i in range(6)]
        (found,) = recurring(demo(), past)
        self.assertEqual((found.many, found.among, found.here), (3, 6, True))
        self.assertEqual(found.words, "LED lamps on 3 of 6 (0305, 0303, 0301)")
        other = [told("1", LED, sheet="ardle-g6"), told("2", LED, sheet="ardle-g6")]
        self.assertEqual(recurring(demo(), other), ())  # those jobs had no such device

    def test_once_is_no_pattern_and_neither_is_a_tenth(self) -> None:
        self.assertEqual(recurring(demo(), [told("1", LED), told("2")]), ())
        many = [told(str(i), *([LED] if i < 2 else [])) for i in range(20)]
        self.assertEqual(recurring(demo(), many), ())

    def test_the_job_itself_does_not_count(self) -> None:
        job = demo()
        own = Told(about(job.number).but(title=job.title), (LED,))
        self.assertEqual(recurring(job, [own, told("2", LED)]), ())

    def test_causes_found_move_the_priors_and_no_further_than_they_should(self) -> None:
        job = demo()
        base = FIGURES["cause, open-ground"].value
        past = [told(str(i), CAUSE) for i in range(5)]
        share, count = priors(job, past)["open-ground"]
        self.assertEqual(count, 5)
        self.assertAlmostEqual(share, (WEIGHT * base + 5) / (WEIGHT + 5))
        # what only came up is no cause
        self.assertEqual(priors(job, [*past, told("9", LED)]), priors(job, past))
        after = apply(job, go_by(job, past))
        (figure,) = [f for f in after.house.figures if f.id == "cause, open-ground"]
        self.assertAlmostEqual(figure.value, round(share, 4))
        self.assertEqual(len(apply(after, go_by(after, past)).house.figures), 1)
        with self.assertRaisesRegex(Problem, "No cause"):
            go_by(job, [told("1", LED)])

    def test_a_mend_notes_what_came_up_once(self) -> None:
        from tests.demo import at

        job = demo()
        finding = next(f for f in at(job).findings if f.rule == "brake unsure")
        edit = Put(path="notes", value="x")
        once = apply(job, mended(job, finding, edit, "2026-11-27"))
        self.assertEqual([(m.code, m.device) for m in once.met], [("brake unsure", "ardle-p7")])
        self.assertEqual(once.notes, "x")
        self.assertEqual(apply(once, mended(once, finding, edit)).met, once.met)

    def test_lessons_and_causes_are_written_down(self) -> None:
        job = apply(demo(), add_lesson(demo(), " Count it ", when="2026-11-27"))
        self.assertEqual(job.lessons[0].text, "Count it")
        for text, words in ((" ", "what the next one"), ("Count it", "already")):
            with self.assertRaisesRegex(Problem, words):
                add_lesson(job, text)
        self.assertEqual(apply(job, remove_lesson(job.lessons[0])).lessons, ())
        job = apply(job, found_cause(job, "speed-pace", "teeth", "A tooth count on trust"))
        job = apply(job, found_cause(job, "speed-pace", "open-ground", "Paint"))
        self.assertEqual([(m.kind, m.code) for m in job.met], [("cause", "open-ground")])


class Times(unittest.TestCase):
    def test_median_and_quartiles_by_device_and_by_task(self) -> None:
        # by hand: 100, 110, 120, 130, 200 has median 120 and quartiles 110 and 130
        done = [
            Done(about(str(i)), (Timed("join", "Dash", m / 2, 1), Timed("run", "", m / 2, 1)))
            for i, m in enumerate((100, 110, 120, 130, 200))
        ]
        (found,) = times.by_device(done)
        self.assertEqual(astuple(found), ("Pace unit", 120, 110, 130, 5))
        self.assertEqual(times.words(found), "Pace unit 2 h 00 (1 h 50 to 2 h 10, 5 times)")
        self.assertEqual([x.what for x in times.by_task(done)], ["join, Dash", "run"])
        self.assertEqual(times.by_task(done, "another"), ())
        two = about("9").but(devices=(("a", "Pace unit"), ("b", "Gauge hub")))
        untimed = Done(about("8"), ())
        self.assertEqual(times.by_device([*done, done[0].but(about=two), untimed]), (found,))

    def test_a_range_holds_what_it_says(self) -> None:
        """Jobs drawn as the model has them: eight of ten end within the range."""
        rng = random.Random(7)
        scatter = 0.3
        held = [Timed("x", "", 10 * math.exp(rng.gauss(0, scatter)), 10.0) for _ in range(4000)]
        planned = [30.0, 60.0, 10.0, 45.0]
        found = expected(planned, [(t.minutes, t.planned) for t in held])
        inside = 0
        for _ in range(4000):
            common = rng.gauss(0, scatter * math.sqrt(0.5))
            own = [rng.gauss(0, scatter * math.sqrt(0.5)) for _ in planned]
            total = sum(p * math.exp(common + o) for p, o in zip(planned, own, strict=True))
            inside += found.low <= total <= found.high
        self.assertAlmostEqual(inside / 4000, 0.8, delta=0.06)
        self.assertEqual(found.middle, sum(planned))
        self.assertEqual(expected([], []).high, 0.0)

    def test_few_tasks_leave_the_usual_spread(self) -> None:
        few = expected([60.0], [(30.0, 60.0)] * 2)
        self.assertAlmostEqual(math.log(few.high / 60), 1.2816 * SPREAD)

    def test_what_lies_between_the_tasks_is_taken_as_it_is(self) -> None:
        slots = [task("a", 60.0), Slot(task("b", 40.0).task, 75.0, 115.0, ())]
        found, bare = times.estimate(slots, []), expected([60.0, 40.0], [])
        self.assertEqual(found.middle, 115.0)
        self.assertAlmostEqual(found.low, bare.low + 15)
        self.assertAlmostEqual(found.high, bare.high + 15)


def task(key: str, minutes: float, second: bool = False, kind: str = "join") -> Slot:
    made = Task(id=key, kind=kind, title=key, minutes=minutes, second=second)
    return Slot(made, 0.0, minutes, ())


def load(number: str, *minutes: float, due: str = "", second: bool = False) -> Load:
    slots, now = [], 0.0
    for i, m in enumerate(minutes):
        slot = task(f"{number}-{i}", m, second)
        slots.append(slot.but(begin=now, end=now + m))
        now += m
    return Load(number, f"job {number}", tuple(slots), due, ())


def overlap(a: Stay, b: Stay) -> bool:
    return (a.bay, a.day) == (b.bay, b.day) and a.begin < b.end and b.begin < a.end


class Week(unittest.TestCase):
    @given(
        st.lists(st.lists(st.floats(5, 200), min_size=1, max_size=8), min_size=1, max_size=9),
        st.integers(1, 3),
        st.lists(st.booleans(), min_size=9, max_size=9),
    )
    @settings(max_examples=60, deadline=None)
    def test_no_two_jobs_share_a_bay_and_none_is_left_out(
        self, jobs: list[list[float]], bays: int, seconds: list[bool]
    ) -> None:
        loads = [load(f"{i}", *m, second=seconds[i]) for i, m in enumerate(jobs)]
        stays = week(loads, Shop(bays=bays), House(), MONDAY)
        for i, a in enumerate(stays):
            self.assertLess(a.day.weekday(), 5)
            self.assertLessEqual(a.bay, bays)
            for b in stays[i + 1 :]:
                self.assertFalse(overlap(a, b), (a, b))
        self.assertEqual({s.number for s in stays}, {x.number for x in loads})

    def test_what_is_due_first_comes_first_and_late_is_said(self) -> None:
        loads = [load("a", 400), load("b", 400, due="2026-11-23"), load("c", 400, due="2026-11-24")]
        stays = week(loads, Shop(bays=1), House(), MONDAY)
        self.assertEqual([s.number for s in stays], ["b", "c", "a"])
        self.assertFalse(any(s.late for s in stays))
        late = week([load("x", 400, due="2026-11-20")], Shop(bays=1), House(), MONDAY)
        self.assertTrue(late[0].late)

    def test_a_job_that_wants_two_waits_for_the_helper(self) -> None:
        shop = Shop(bays=1, helper_days=(1,))
        (stay,) = week([load("a", 200, second=True)], shop, House(), MONDAY)
        self.assertEqual(stay.day.weekday(), 1)
        self.assertIn("helper from 08:30", stay.says)
        (far,) = week([load("a", 200, second=True)], Shop(helper_days=(4,)), House(), MONDAY)
        self.assertEqual(far.day, MONDAY)  # four days is longer than anybody waits
        self.assertIn("no helper at 08:30", far.says)

    def test_by_hand_and_back_to_the_planner(self) -> None:
        loads = [load("a", 100), load("b", 100)]
        shop = Shop()
        first = week(loads, shop, House(), MONDAY)[0]
        shop = moved(shop, first, 2, date(2026, 11, 25), 10 * 60)
        stay = next(s for s in week(loads, shop, House(), MONDAY) if s.number == first.number)
        self.assertEqual((stay.bay, stay.day, stay.begin), (2, date(2026, 11, 25), 600))
        self.assertTrue(stay.moved)
        self.assertEqual(week(loads, let_go(shop, "a"), House(), MONDAY)[0].day, MONDAY)
        gone = moved(shop, first, 9, date(2026, 11, 25), 600)  # there is no bay 9
        self.assertFalse(any(s.moved for s in week(loads, gone, House(), MONDAY)))

    def test_who_works_there_is_said(self) -> None:
        shop = Shop(bays=2, who=("Ada",))
        self.assertEqual((shop.who_in(1), shop.who_in(2)), ("Ada", ""))
        stays = week([load("a", 100), load("b", 100)], shop, House(), MONDAY)
        self.assertEqual([(s.bay, s.who) for s in stays], [(1, "Ada"), (2, "")])
        self.assertIn("Ada", ics(stays).decode())
        self.assertEqual(let_go(moved(shop, stays[0], 1, MONDAY, 600)), shop)

    def test_a_calendar_of_it(self) -> None:
        stays = week([load("a", 300, 300)], Shop(), House(), MONDAY)
        book = icalendar.Calendar.from_ical(ics(stays))
        events = list(book.walk("VEVENT"))
        self.assertEqual(len(events), 2)
        self.assertEqual(str(events[0]["SUMMARY"]), "a job a")
        self.assertEqual(events[0].decoded("DTSTART").hour, 8)


class Stock(unittest.TestCase):
    def test_like_parts_are_one_line_and_what_is_there_is_taken_off(self) -> None:
        wanted = [
            Need("1", "fuse", "blade fuse 5 A", 2, "pcs", date(2026, 11, 26)),
            Need("2", "fuse", "blade fuse 5 A", 3, "pcs", date(2026, 12, 1)),
            Need("1", "wire", "red 1 mm²", 2.34, "m", None),
        ]
        first, second = orders(wanted, {"blade fuse 5 A": 1}, 3)
        self.assertEqual((first.takes, first.have, first.order), (5, 1, 4))
        self.assertEqual(first.by, date(2026, 11, 23))  # three working days before Thursday
        self.assertEqual(first.jobs, ("1", "2"))
        self.assertEqual((second.order, second.by), (2.4, None))
        enough = orders(wanted, {"blade fuse 5 A": 5, "red 1 mm²": 9}, 3)
        self.assertEqual([(o.order, o.by) for o in enough], [(0, None), (0, None)])

    def test_days_back_pass_over_the_weekend(self) -> None:
        self.assertEqual(back(MONDAY, 1), date(2026, 11, 20))
        self.assertEqual(back(MONDAY, 0), MONDAY)

    def test_what_the_demo_takes_as_a_table_that_runs_nothing(self) -> None:
        found = needs(demo(), MONDAY)
        self.assertIn("blade fuse 1 A", {n.part for n in found})
        self.assertNotIn("Engine computer", {n.part for n in found})  # the car's own
        evil = Need("=1+1", "fuse", "@cmd", 1, "pcs", None)
        text = to_csv(orders([evil], {}, 3)).decode()
        self.assertIn("'@cmd", text)
        self.assertIn("'=1+1", text)

    def test_an_empty_job_takes_nothing(self) -> None:
        self.assertEqual(needs(Job(), None), ())


class Spread(unittest.TestCase):
    def test_scatter_is_that_of_the_logarithms(self) -> None:
        ratios = (0.8, 1.0, 1.25, 1.1)
        held = tuple(Timed("x", "", 10 * r, 10.0) for r in ratios)
        found = times.estimate([task("a", 60.0)], [Done(about("1"), held)])
        scatter = statistics.pstdev([math.log(r) for r in ratios])
        self.assertAlmostEqual(math.log(found.high / 60), 1.2816 * scatter)


if __name__ == "__main__":
    unittest.main()
