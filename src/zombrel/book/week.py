"""The week of the bays: open jobs laid out by the planner, or moved by hand.

List scheduling by earliest due date (Jackson's rule; Pinedo, *Scheduling*, ch. 3), each job where
it is done first; a day without the helper counts as two days later for a job that wants one.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date, datetime, timedelta
from typing import Annotated

import msgspec
from msgspec import Meta

from zombrel.job.model import House
from zombrel.job.sheet import Frozen, Name, Text
from zombrel.job.value import Value
from zombrel.plan.day import Clocked, clock_of, minutes_of, on_clock
from zombrel.plan.order import Slot

WEEKEND = 5
"""Saturday, as Python counts."""
AHEAD = 20
"""So many working days ahead a job is tried."""
HELPER_DAYS = 2.0
"""Working days that a job waits for the helper rather than ask somebody else (ASSUMED)."""
NEVER = "9999-12-31"


class Move(Frozen, frozen=True, kw_only=True):
    """Where somebody put a job by hand."""

    number: Name
    bay: Annotated[int, Meta(ge=1, le=40)]
    day: Text
    """``2026-11-25``"""
    begin: Annotated[int, Meta(ge=0, le=1440)]
    """Minutes of the day."""


class Shop(Frozen, frozen=True, kw_only=True):
    """The bays, when there is a helper, and what was moved by hand."""

    bays: Annotated[int, Meta(ge=1, le=40)] = 2
    helper_days: Annotated[tuple[int, ...], Meta(max_length=7)] = (3,)
    """0 is Monday."""
    lead_days: Annotated[int, Meta(ge=0, le=60)] = 3
    """Working days from an order to its parts."""
    who: Annotated[tuple[Text, ...], Meta(max_length=40)] = ()
    """Who works in each bay."""
    moves: Annotated[tuple[Move, ...], Meta(max_length=500)] = ()

    def who_in(self, bay: int) -> str:
        """Who works in a bay; empty where nobody said."""
        return self.who[bay - 1] if bay <= len(self.who) else ""


class Load(Value, frozen=True):
    """One open job, as far as the bays are concerned."""

    number: str
    title: str
    slots: tuple[Slot, ...]
    """What is left to do, in its order."""
    due: str
    waits: tuple[str, ...]
    """What waits for parts."""

    @property
    def helper(self) -> bool:
        """Somebody else must hold or watch."""
        return any(s.task.second for s in self.slots)


class Stay(Value, frozen=True):
    """One day of a job in a bay."""

    number: str
    title: str
    bay: int
    day: date
    begin: int
    end: int
    """Minutes of the day."""
    says: tuple[str, ...]
    moved: bool
    late: bool
    """It ends after it is due."""
    who: str = ""
    """Who works in the bay."""


def workdays(first: date) -> Iterator[date]:
    """Working days from ``first`` on."""
    day = first
    while True:
        if day.weekday() < WEEKEND:
            yield day
        day += timedelta(days=1)


def week(loads: Sequence[Load], shop: Shop, house: House, first: date) -> tuple[Stay, ...]:
    """Every open job in a bay: what was moved by hand stays, the rest is laid around it."""
    moves = {x.number: x for x in shop.moves}
    days = [d for _, d in zip(range(AHEAD * 2), workdays(first), strict=False)]
    taken: list[Stay] = []
    rest = []
    for load in loads:
        move = moves.get(load.number)
        day = _day(move.day) if move is not None else None
        if move is None or day is None or day not in days or move.bay > shop.bays:
            rest.append(load)
            continue
        at = (days.index(day), move.begin)
        taken += _stays(load, move.bay, at, days, house, shop, moved=True)
    for load in sorted(rest, key=lambda x: (x.due or NEVER, x.number)):
        taken += _best(load, taken, days, house, shop)
    return tuple(sorted(taken, key=lambda s: (s.day, s.bay, s.begin)))


def _day(text: str) -> date | None:
    try:
        return date.fromisoformat(text)
    except ValueError:
        return None


At = tuple[int, int]
"""(which working day, minutes of the day)"""


def _best(
    load: Load, taken: Sequence[Stay], days: list[date], house: House, shop: Shop
) -> tuple[Stay, ...]:
    """Where a job is done first; nothing where it fits nowhere in the days ahead."""
    found: list[tuple[float, tuple[Stay, ...]]] = []
    for bay in range(1, shop.bays + 1):
        for at in _starts(bay, taken, days, house):
            stays = _stays(load, bay, at, days, house, shop)
            if stays and not any(_meet(a, b) for a in stays for b in taken):
                found.append((_cost(stays, load, days, shop), stays))
                break
    if load.helper:
        found += list(_with_helper(load, taken, days, house, shop))
    return min(found, key=lambda f: f[0])[1] if found else ()


def _with_helper(
    load: Load, taken: Sequence[Stay], days: list[date], house: House, shop: Shop
) -> Iterator[tuple[float, tuple[Stay, ...]]]:
    """Begun on a day of the helper's."""
    for bay in range(1, shop.bays + 1):
        for i, day in enumerate(days[:AHEAD]):
            if day.weekday() not in shop.helper_days:
                continue
            at = (i, minutes_of(house.day_start))
            stays = _stays(load, bay, at, days, house, shop)
            if stays and not any(_meet(a, b) for a in stays for b in taken):
                yield _cost(stays, load, days, shop), stays
                break


def _starts(bay: int, taken: Sequence[Stay], days: list[date], house: House) -> list[At]:
    """When a job may begin in a bay: in the morning, and when another leaves."""
    opens = minutes_of(house.day_start)
    free = [(i, opens) for i in range(AHEAD)]
    free += [(days.index(s.day), s.end) for s in taken if s.bay == bay and s.day in days]
    return sorted(free)


def _meet(a: Stay, b: Stay) -> bool:
    return (a.bay, a.day) == (b.bay, b.day) and a.begin < b.end and b.begin < a.end


def _cost(stays: Sequence[Stay], load: Load, days: list[date], shop: Shop) -> float:
    """Working days until it is done [d]."""
    last = stays[-1]
    done = days.index(last.day) + last.end / 1440
    alone = load.helper and not any(s.day.weekday() in shop.helper_days for s in stays)
    return done + HELPER_DAYS * alone


def _stays(
    load: Load,
    bay: int,
    at: At,
    days: list[date],
    house: House,
    shop: Shop,
    moved: bool = False,
) -> tuple[Stay, ...]:
    """The days of a job that begins at ``at``."""
    clocked = on_clock(load.slots, house, at[1])
    by_day: dict[int, list[Clocked]] = {}
    for c in clocked:
        by_day.setdefault(c.day, []).append(c)
    if not by_day or at[0] + max(by_day) >= len(days):
        return ()
    windows = _windows(clocked)
    late = bool(load.due) and days[at[0] + max(by_day)].isoformat() > load.due
    stays = []
    for day, held in by_day.items():
        when = days[at[0] + day]
        says = [*windows.get(day, ())]
        if any(c.task.second for c in held):
            there = when.weekday() in shop.helper_days
            first = clock_of(next(c for c in held if c.task.second).begin)
            says.append(f"helper from {first}" if there else f"no helper at {first}")
        prove = next((c for c in held if c.task.kind == "prove"), None)
        if prove is not None:
            says.append(f"Prove from {clock_of(prove.begin)}")
        if day == 0 and load.waits:
            says.append(f"waits for parts: {', '.join(load.waits)}")
        begin, end = min(c.begin for c in held), max(c.end for c in held)
        who = shop.who_in(bay)
        stays.append(
            Stay(load.number, load.title, bay, when, begin, end, tuple(says), moved, late, who)
        )
    return tuple(stays)


def _windows(clocked: Sequence[Clocked]) -> dict[int, list[str]]:
    """When the battery is off on each day."""
    found: dict[int, list[str]] = {}
    since: Clocked | None = None
    for c in clocked:
        turns = [s.turn for s in c.before]
        if "battery off" in turns:
            since = c
        elif "battery on" in turns and since is not None:
            _window(found, since, c)
            since = None
    if since is not None and clocked:
        _window(found, since, clocked[-1])
    return found


def _window(found: dict[int, list[str]], since: Clocked, until: Clocked) -> None:
    if since.day == until.day:
        text = f"battery off {clock_of(since.begin)}–{clock_of(until.begin)}"
        found.setdefault(since.day, []).append(text)
        return
    found.setdefault(since.day, []).append(f"battery off from {clock_of(since.begin)}")
    for day in range(since.day + 1, until.day):
        found.setdefault(day, []).append("battery off")
    found.setdefault(until.day, []).append(f"battery off until {clock_of(until.begin)}")


def moved(shop: Shop, stay: Stay, bay: int, day: date, begin: int) -> Shop:
    """The shop with a job put elsewhere by hand."""
    others = tuple(m for m in shop.moves if m.number != stay.number)
    move = Move(number=stay.number, bay=bay, day=day.isoformat(), begin=begin)
    return msgspec.structs.replace(shop, moves=(*others, move))


def let_go(shop: Shop, number: str = "") -> Shop:
    """The shop with a job, or with all of them, left to the planner again."""
    kept = tuple(m for m in shop.moves if number and m.number != number)
    return msgspec.structs.replace(shop, moves=kept)


def ics(stays: Sequence[Stay]) -> bytes:
    """The week as calendar entries (RFC 5545), by the icalendar library."""
    import icalendar

    book = icalendar.Calendar()
    book.add("prodid", "-//Zombrel//week of the bays//EN")
    book.add("version", "2.0")
    for s in stays:
        midnight = datetime.combine(s.day, datetime.min.time())
        entry = icalendar.Event()
        entry.add("uid", f"{s.number or 'job'}-{s.day.isoformat()}-bay{s.bay}@zombrel")
        entry.add("dtstamp", midnight)
        entry.add("dtstart", midnight + timedelta(minutes=s.begin))
        entry.add("dtend", midnight + timedelta(minutes=max(s.end, s.begin + 1)))
        entry.add("summary", f"{s.number} {s.title}".strip())
        entry.add("location", f"bay {s.bay}, {s.who}" if s.who else f"bay {s.bay}")
        entry.add("description", "\n".join(s.says))
        book.add_component(entry)
    return bytes(book.to_ical())
