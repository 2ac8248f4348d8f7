"""The order of work with the least time lost: moves, battery, lift, helper, waits.

What an order costs is simulated by ``spent``; nothing else knows the rules. Up to ``EXACT`` tasks
every order is looked at (labels over sets of done tasks, dominated ones dropped: Held and Karp,
*A dynamic programming approach to sequencing problems*, 1962, widened by the state of battery,
lift and helper and by cure times). Beyond that a beam of the best partial orders is kept, and the
result improved by moving single tasks while that helps.
"""

from __future__ import annotations

import math
from collections.abc import Generator, Sequence
from typing import Literal, TypeVar

from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.plan.tasks import Task

NOTHING = 1e-9
"""No wait [min]."""

Found = TypeVar("Found")
EXACT = 11
BEAM = 40
MOVE_MIN = 2.0
"""To go to another place with tools and lamp [min]; all five are house figures."""
BATTERY_MIN = 4.0
"""To take the battery off or put it on again [min]."""
LIFT_MIN = 6.0
"""To raise the vehicle onto stands, or lower it [min]."""
HELPER_MIN = 5.0
"""To fetch a second person [min]."""


class Where(Value, frozen=True):
    """The state of the bay."""

    zone: str = ""
    battery_off: bool = False
    raised: bool = False
    helper: bool = False


class Cost(Value, frozen=True):
    """What one order comes to."""

    minutes: float
    moves: int
    battery_offs: int
    lifts: int
    waited: float


Turn = Literal["battery off", "battery on", "raise", "lower", "move", "helper", "wait"]
TURNS: dict[Turn, str] = {
    "battery off": "battery off, negative first",
    "battery on": "battery on, negative last",
    "raise": "raise onto stands, wheels chocked",
    "lower": "lower the vehicle",
    "move": "move",
    "helper": "fetch the helper",
    "wait": "wait {minutes:.0f} min to cure",
}
"""What may be done to the bay before a task, each in words."""


class Step(Value, frozen=True):
    """Something done to the bay before a task."""

    turn: Turn
    minutes: float = 0.0

    @property
    def words(self) -> str:
        """As it is said."""
        return TURNS[self.turn].format(minutes=self.minutes)


class Slot(Value, frozen=True):
    """One task in its place in the order; minutes from the start."""

    task: Task
    begin: float
    end: float
    before: tuple[Step, ...]
    """What is done to the bay first: move, battery, lift, helper, wait."""


def advance(at: Where, task: Task) -> tuple[Where, float, tuple[Step, ...]]:
    """The bay after turning to ``task``, the minutes that takes and what was done."""
    minutes = 0.0
    turns: list[Turn] = []
    zone, off, raised, helper = at.zone, at.battery_off, at.raised, at.helper
    if task.battery_off is not None and task.battery_off != off:
        off = task.battery_off
        minutes += BATTERY_MIN
        turns.append("battery off" if off else "battery on")
    if task.zone and task.lifted != raised:
        raised = task.lifted
        minutes += LIFT_MIN
        turns.append("raise" if raised else "lower")
    if task.zone and task.zone != zone:
        if zone:
            turns.append("move")
            minutes += MOVE_MIN
        zone = task.zone
    if task.second and not helper:
        minutes += HELPER_MIN
        turns.append("helper")
    return Where(zone, off, raised, task.second), minutes, tuple([Step(t) for t in turns])


def schedule(order: Sequence[Task], start: Where = Where()) -> tuple[Slot, ...]:  # noqa: B008
    """Every task with its begin and end [min from the start].

    Raises:
        Problem: the order breaks what must come first.
    """
    at, now, slots = start, 0.0, []
    ready: dict[str, float] = {}
    names = {t.id for t in order}
    for task in order:
        late = [a for a in task.after if a in names and a not in ready]
        if late:
            raise Problem(f"“{task.title}” comes before “{late[0]}”, which it needs.")
        at, minutes, steps = advance(at, task)
        now += minutes
        wait = max((ready.get(a, 0.0) for a in task.after), default=0.0) - now
        if wait > NOTHING:
            now += wait
            steps = (*steps, Step("wait", wait))
        slots.append(Slot(task, now, now + task.minutes, steps))
        now += task.minutes
        ready[task.id] = now + task.cure_min
    return tuple(slots)


def spent(order: Sequence[Task], start: Where = Where()) -> Cost:  # noqa: B008
    """What an order costs."""
    slots = schedule(order, start)
    steps = [step for s in slots for step in s.before]
    turns = [step.turn for step in steps]
    return Cost(
        slots[-1].end if slots else 0.0,
        turns.count("move"),
        turns.count("battery off"),
        turns.count("raise"),
        math.fsum(step.minutes for step in steps if step.turn == "wait"),
    )


class _Label(Value, frozen=True):
    """One partial order."""

    time: float
    at: Where
    done: int
    """Bits of the tasks done."""
    path: tuple[int, ...]
    ready: tuple[float, ...]
    """For each task with a cure: when it is cured, 0 when it is not done."""


class _Plan:
    """Tasks as bits and numbers."""

    def __init__(self, found: Sequence[Task]) -> None:
        self.tasks = tuple(found)
        place = {t.id: i for i, t in enumerate(found)}
        self.need = [sum(1 << place[a] for a in set(t.after) if a in place) for t in found]
        self.cures = [i for i, t in enumerate(found) if t.cure_min > 0]
        self.waits = [
            [k for k, i in enumerate(self.cures) if found[i].id in t.after] for t in found
        ]

    def grow(self, label: _Label, i: int) -> _Label:
        """``label`` with task ``i`` done next."""
        task = self.tasks[i]
        at, minutes, _ = advance(label.at, task)
        begin = max([label.time + minutes, *(label.ready[k] for k in self.waits[i])])
        end = begin + task.minutes
        ready = label.ready
        if task.cure_min > 0:
            k = self.cures.index(i)
            ready = (*ready[:k], end + task.cure_min, *ready[k + 1 :])
        return _Label(end, at, label.done | 1 << i, (*label.path, i), ready)

    def open(self, label: _Label) -> list[int]:
        """Tasks that may come next."""
        return [
            i
            for i, need in enumerate(self.need)
            if not label.done >> i & 1 and need & label.done == need
        ]


Search = Generator[float, None, tuple[Task, ...]]
"""A search in small steps: yields the share of the way done, returns the order."""


def best_order(found: Sequence[Task], start: Where = Where()) -> tuple[Task, ...]:  # noqa: B008
    """The tasks in the order that takes least; ties keep the order they were given in.

    Raises:
        Problem: tasks that wait for one another.
    """
    return run_out(search(found, start))


def run_out(steps: Generator[float, None, Found]) -> Found:
    """The end of a search, all its steps at once."""
    while True:
        try:
            next(steps)
        except StopIteration as end:
            return end.value  # type: ignore[no-any-return]


def search(found: Sequence[Task], start: Where = Where()) -> Search:  # noqa: B008
    """``best_order`` in steps of about a millisecond, for whoever must not be held up.

    Raises:
        Problem: tasks that wait for one another.
    """
    if not found:
        return ()
    plan = _Plan(found)
    layer = [_Label(0.0, start, 0, (), (0.0,) * len(plan.cures))]
    exact = len(found) <= EXACT
    for n in range(len(found)):
        grown = []
        for label in layer:
            grown += [plan.grow(label, i) for i in plan.open(label)]
            yield 0.8 * n / len(found)
        if not grown:
            stuck = next(t.title for i, t in enumerate(found) if not layer[0].done >> i & 1)
            raise Problem(f"The tasks wait for one another in a ring; “{stuck}” is one of them.")
        layer = _kept(grown)
        yield 0.8 * n / len(found)
        if not exact:
            layer = sorted(layer, key=lambda x: (_rank(x, plan), x.path))[:BEAM]
    end = min(layer, key=lambda x: (x.time, x.path))
    order = tuple(found[i] for i in end.path)
    return order if exact else (yield from _improved(order, start))


def _rank(label: _Label, plan: _Plan) -> float:
    """Time lost so far: what is left to work is the same for all labels of a layer but for it."""
    worked = math.fsum(plan.tasks[i].minutes for i in label.path)
    return label.time - worked


def _kept(grown: list[_Label]) -> list[_Label]:
    """Labels no other one beats: same tasks done, same bay, no later, nothing cured later."""
    by: dict[tuple[int, Where], list[_Label]] = {}
    for label in sorted(grown, key=lambda x: (x.time, x.path)):
        held = by.setdefault((label.done, label.at), [])
        cured = [max(r, label.time) for r in label.ready]
        if not any(
            all(max(a, o.time) <= b for a, b in zip(o.ready, cured, strict=True)) for o in held
        ):
            held.append(label)
    return [label for held in by.values() for label in held]


def _improved(order: tuple[Task, ...], start: Where) -> Search:
    """Move single tasks to where they cost less, while any such move is left."""
    best, cost = list(order), spent(order, start).minutes
    better = True
    while better:
        better = False
        for i in range(len(best)):
            task = best[i]
            rest = best[:i] + best[i + 1 :]
            low = max((k + 1 for k, t in enumerate(rest) if t.id in task.after), default=0)
            high = min((k for k, t in enumerate(rest) if task.id in t.after), default=len(rest))
            for k in range(low, high + 1):
                if k == i:
                    continue
                trial = [*rest[:k], task, *rest[k:]]
                now = spent(trial, start).minutes
                yield 0.8 + 0.2 * i / len(best)
                if now < cost - 1e-9:
                    best, cost, better = trial, now, True
                    break
            if better:
                break
    return tuple(best)
