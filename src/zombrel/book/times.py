"""Times learned, with their spread: by device, by kind of task, vehicle and zone."""

from __future__ import annotations

import math
import statistics
from collections.abc import Iterable, Sequence

from zombrel.book.entry import Summary, Timed
from zombrel.job.value import Value
from zombrel.plan.day import left
from zombrel.plan.learn import FEWEST, Range
from zombrel.plan.order import Slot

HOUR = 60


class Done(Value, frozen=True):
    """One job with what was timed on it."""

    about: Summary
    timed: tuple[Timed, ...]


class Learned(Value, frozen=True):
    """How long something takes here."""

    what: str
    middle: float
    """Median [min]."""
    low: float
    high: float
    """Quartiles; the ends where there are few [min]."""
    many: int


def by_device(done: Iterable[Done]) -> tuple[Learned, ...]:
    """What a whole job with one device takes, those timed oftenest first."""
    groups: dict[str, list[float]] = {}
    for d in done:
        if len(d.about.devices) == 1 and d.timed:
            name = d.about.devices[0][1]
            groups.setdefault(name, []).append(math.fsum(t.minutes for t in d.timed))
    return _learned(groups)


def by_task(done: Iterable[Done], vehicle: str = "") -> tuple[Learned, ...]:
    """What each kind of task takes in each zone; of one vehicle if ``vehicle`` is named."""
    groups: dict[str, list[float]] = {}
    for d in done:
        if vehicle and d.about.vehicle != vehicle:
            continue
        for t in d.timed:
            groups.setdefault(f"{t.kind}, {t.zone}" if t.zone else t.kind, []).append(t.minutes)
    return _learned(groups)


def _learned(groups: dict[str, list[float]]) -> tuple[Learned, ...]:
    found = [Learned(what, *_spread(m), len(m)) for what, m in groups.items()]
    return tuple(sorted(found, key=lambda x: (-x.many, -x.middle)))


def _spread(minutes: Sequence[float]) -> tuple[float, float, float]:
    """Median and quartiles; the least and the most where there are few."""
    middle = statistics.median(minutes)
    if len(minutes) < FEWEST + 1:
        return middle, min(minutes), max(minutes)
    low, _, high = statistics.quantiles(minutes, n=4, method="inclusive")
    return middle, low, high


def estimate(slots: Sequence[Slot], done: Iterable[Done]) -> Range:
    """What is left of a job, in its order: how long it takes, and how far that may miss.

    As the tasks of jobs timed before missed; see ``plan.learn.expected``.
    """
    return left(slots, [(t.minutes, t.planned) for d in done for t in d.timed])


def clock(minutes: float) -> str:
    """``4 h 10``, ``35 min``"""
    whole = round(minutes / 5) * 5 if minutes >= HOUR else round(minutes)
    hours, rest = divmod(int(whole), HOUR)
    return f"{hours} h {rest:02d}" if hours else f"{rest} min"


def words(x: Learned) -> str:
    """``pace unit 4 h 10 (3 h 40 to 4 h 50, 6 jobs)``"""
    many = f"{x.many} times" if x.many > 1 else "once"
    spread = f"{clock(x.low)} to {clock(x.high)}, " if x.high > x.low else ""
    return f"{x.what} {clock(x.middle)} ({spread}{many})"
