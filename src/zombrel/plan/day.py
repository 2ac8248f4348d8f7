"""The work order of a job as it stands: what is left, its order, the clock, what can go on."""

from __future__ import annotations

import math
from collections.abc import Generator, Iterable, Sequence

import msgspec

from zombrel.job.edits import Add, Edit, Many, Put
from zombrel.job.ledger import next_id, text_of
from zombrel.job.model import Evidence, House, Job, by_id
from zombrel.job.value import Value
from zombrel.job.wiring import Work
from zombrel.plan.learn import Range, expected
from zombrel.plan.order import Slot, Step, Where, run_out, schedule, search
from zombrel.plan.tasks import Task, tasks

LUNCH = (12 * 60, 12 * 60 + 30)
"""No task begins or runs in it [minutes of the day]."""


class Clocked(Value, frozen=True):
    """One task on the clock."""

    task: Task
    day: int
    """0 today."""
    begin: int
    """Minutes of the day."""
    end: int
    before: tuple[Step, ...]


class Order(Value, frozen=True):
    """The work order."""

    slots: tuple[Slot, ...]
    """What can be done, in its order."""
    done: tuple[Task, ...]
    held: tuple[Task, ...]
    """What waits for a part, or for something that does."""
    minutes: float
    off_min: float
    """The longest stretch with the battery off [min]."""
    off_times: int
    """How often it comes off."""


def left(slots: Sequence[Slot], timed: Iterable[tuple[float, float]]) -> Range:
    """How long all of ``slots`` takes and how far that may miss; ``timed`` as for ``expected``."""
    minutes = [s.task.minutes for s in slots]
    between = slots[-1].end - math.fsum(minutes) if slots else 0.0
    return expected(minutes, timed, between)


def work_order(
    job: Job,
    now: Where = Where(),  # noqa: B008 - an immutable default
    shop: tuple[Work, ...] = (),
) -> Order:
    """The order of all work left on the laid job; ``shop`` is what was timed on other jobs."""
    return run_out(order_steps(job, now, shop))


def order_steps(
    job: Job,
    now: Where = Where(),  # noqa: B008 - an immutable default
    shop: tuple[Work, ...] = (),
) -> Generator[float, None, Order]:
    """``work_order`` in small steps: yields the share done, returns the order."""
    return (yield from _order(tasks(job, shop), job.work, now))


_LAST: list[tuple[tuple[tuple[Task, ...], tuple[Work, ...], Where], Order]] = []


def _order(
    found: tuple[Task, ...], work: tuple[Work, ...], now: Where
) -> Generator[float, None, Order]:
    """The search is the slow part; the last answer is kept for as long as its question holds."""
    key = (found, work, now)
    if _LAST and _LAST[0][0] == key:
        return _LAST[0][1]
    states = {w.id: w.state for w in work}
    done = {t.id for t in found if states.get(t.id) == "done"}
    held = {t.id for t in found if states.get(t.id) == "waiting"}
    while True:
        more = {t.id for t in found if t.id not in held | done and set(t.after) & held}
        if not more:
            break
        held |= more
    left = [
        msgspec.structs.replace(t, after=tuple(a for a in t.after if a not in done))
        for t in found
        if t.id not in done | held
    ]
    best = yield from search(left, now)
    slots = schedule(best, now)
    stretch, times = _battery(slots, now)
    in_order = Order(
        slots,
        tuple(t for t in found if t.id in done),
        tuple(t for t in found if t.id in held),
        slots[-1].end if slots else 0.0,
        stretch,
        times,
    )
    _LAST[:] = [(key, in_order)]
    return in_order


def _battery(slots: tuple[Slot, ...], now: Where) -> tuple[float, int]:
    """Longest stretch with the battery off [min], and how often it comes off."""
    since = 0.0 if now.battery_off else None
    longest, times = 0.0, 0
    for s in slots:
        turns = [step.turn for step in s.before]
        if "battery off" in turns:
            since, times = s.begin, times + 1
        elif "battery on" in turns and since is not None:
            longest, since = max(longest, s.begin - since), None
    if since is not None and slots:
        longest = max(longest, slots[-1].end - since)
    return longest, times


def minutes_of(clock: str) -> int:
    """``"08:30"`` as minutes of the day."""
    hours, _, minutes = clock.partition(":")
    return int(hours) * 60 + int(minutes)


def clock_of(minutes: float) -> str:
    """Minutes of the day as ``"08:30"``."""
    whole = round(minutes)
    return f"{whole // 60:02d}:{whole % 60:02d}"


def on_clock(slots: tuple[Slot, ...], house: House, begin: int | None = None) -> list[Clocked]:
    """The order on the clock from ``begin`` [minutes of the day] on; tasks are not split by night.

    A task longer than a day begins in the morning and runs over. Lunch is kept free of beginnings
    and lengthens a task that runs through it.
    """
    opens, closes = minutes_of(house.day_start), minutes_of(house.day_end)
    closes = max(closes, opens + 60)
    day, now = 0, float(opens if begin is None else begin)
    out, gone = [], 0.0
    for s in slots:
        lead = s.begin - gone
        gone = s.end
        long = s.end - s.begin
        if now >= closes or (now > opens and now + lead + long > closes):
            day, now = day + 1, float(opens)
        start = now + lead
        if LUNCH[0] <= start < LUNCH[1]:
            start = float(LUNCH[1])
        end = start + long
        if start < LUNCH[0] < end:
            end += LUNCH[1] - LUNCH[0]
        out.append(Clocked(s.task, day, round(start), round(end), s.before))
        now = end
    return out


def tools(found: tuple[Task, ...]) -> tuple[str, ...]:
    """Tools to lay out, in the order they are first wanted."""
    return tuple(dict.fromkeys(t for task in found for t in task.tools))


# ---- what is logged


def _noted(job: Job, work: Work) -> Put | Add:
    if by_id(job.work, work.id) is None:
        return Add(path="work", value=msgspec.to_builtins(work))
    return Put(path=f"work.{work.id}", value=msgspec.to_builtins(work))


def _before(job: Job, task: Task) -> Work:
    return by_id(job.work, task.id) or Work(id=task.id, kind=task.kind, state="paused")


def begin(job: Job, task: Task, now: str) -> Put | Add:
    """The edit that starts the clock on a task, or goes on after a pause."""
    old = _before(job, task)
    return _noted(
        job,
        msgspec.structs.replace(old, state="begun", since=now, planned=old.planned or task.minutes),
    )


def pause(job: Job, task: Task, worked: float) -> Put | Add:
    """The edit that stops the clock after ``worked`` more minutes."""
    old = _before(job, task)
    total = round((old.minutes or 0.0) + worked, 1)
    return _noted(job, msgspec.structs.replace(old, state="paused", since="", minutes=total))


def finish(job: Job, task: Task, worked: float | None, when: str = "") -> Edit:
    """The edit that says a task is done; ``worked`` minutes more, None when nobody took time.

    A caution that was shown with the task is acknowledged in the ledger.
    """
    old = _before(job, task)
    total = old.minutes if worked is None else round((old.minutes or 0.0) + worked, 1)
    done = _noted(
        job,
        Work(
            id=task.id,
            kind=task.kind,
            state="done",
            minutes=total,
            planned=old.planned or task.minutes,
            zone=next((z.name for z in job.zones if z.id == task.zone), ""),
            note=old.note,
        ),
    )
    if not task.caution:
        return done
    line = Evidence(
        id=next_id(job),
        path=f"work.{task.id}.state",
        value=text_of("done"),
        rung="measured",
        note=f"caution acknowledged: {task.caution}",
        when=when,
    )
    return Many(edits=(done, Add(path="ledger", value=msgspec.to_builtins(line))))


def hold(job: Job, task: Task, note: str = "") -> Put | Add:
    """The edit that says a task waits for a part."""
    old = _before(job, task)
    return _noted(job, msgspec.structs.replace(old, state="waiting", since="", note=note))


def again(job: Job, task: Task) -> Put | Add:
    """The edit that takes a task back into the order."""
    old = _before(job, task)
    return _noted(job, msgspec.structs.replace(old, state="paused", since=""))
