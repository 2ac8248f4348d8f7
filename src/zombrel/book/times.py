"""Times learned, with their spread: by device, by kind of task, vehicle and zone."""

from __future__ import annotations

import math
import statistics
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from zombrel.book.entry import Summary, Timed

FEWEST = 3
"""From fewer a spread is not told."""
WIDEST = 4.0
"""One mad figure counts no further than this factor."""
SPREAD = 0.35
"""Natural logarithm of how far one task misses its estimate, until the shop has timed enough
(ASSUMED: a third either way)."""


HOUR = 60


class Done(NamedTuple):
    """One job with what was timed on it."""

    about: Summary
    timed: tuple[Timed, ...]


class Learned(NamedTuple):
    """How long something takes here."""

    what: str
    middle: float
    """Median [min]."""
    low: float
    high: float
    """Quartiles; the ends where there are few [min]."""
    many: int


class Range(NamedTuple):
    """An estimate with how far it may miss."""

    middle: float
    low: float
    high: float
    """[min]; in eight of ten."""
    many: int
    """Of timed tasks behind it."""


def by_device(done: Iterable[Done]) -> tuple[Learned, ...]:
    """What a whole job with one device takes, those timed oftenest first."""
    groups: dict[str, list[float]] = {}
    for d in done:
        if len(d.about.devices) == 1 and d.timed:
            name = d.about.devices[0][1]
            groups.setdefault(name, []).append(sum(t.minutes for t in d.timed))
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


def estimate(minutes: Sequence[float], done: Iterable[Done]) -> Range:
    """A job of tasks that are estimated at ``minutes`` [min]: how far all of it may miss.

    Each task misses by a factor whose logarithm scatters as it did on jobs timed before; half of
    that scatter is common to a whole job (the same hands, the same car), half is each task's own.
    Sums of lognormal figures by their first two moments (Fenton, *IRE Trans. Commun. Syst.* 8,
    1960); eight of ten lie within 1.2816 standard deviations.
    """
    logs = [_miss(t) for d in done for t in d.timed if t.planned]
    scatter = statistics.pstdev(logs) if len(logs) >= FEWEST else SPREAD
    total = math.fsum(minutes)
    if not total:
        return Range(0.0, 0.0, 0.0, len(logs))
    own = math.fsum(m * m for m in minutes) / (total * total)
    variance = scatter**2 * (0.5 + 0.5 * own)
    reach = math.exp(1.2816 * math.sqrt(variance))
    return Range(total, total / reach, total * reach, len(logs))


def _miss(t: Timed) -> float:
    return math.log(min(max(t.minutes / t.planned, 1 / WIDEST), WIDEST))


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
