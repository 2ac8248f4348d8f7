"""The work order as calendar entries (RFC 5545), by the icalendar library."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime, timedelta

from zombrel.job.model import Job
from zombrel.plan.day import Clocked
from zombrel.units import METRIC, Units, words

WEEKEND = 5
"""Saturday, as Python counts."""


def ics(job: Job, plan: Sequence[Clocked], first: date, units: Units = METRIC) -> bytes:
    """Every task of ``plan`` as one entry; day 0 is ``first``, weekends are passed over."""
    import icalendar

    book = icalendar.Calendar()
    book.add("prodid", "-//Zombrel//work order//EN")
    book.add("version", "2.0")
    for i, slot in enumerate(plan):
        midnight = datetime.combine(workday(first, slot.day), datetime.min.time())
        entry = icalendar.Event()
        entry.add("uid", f"{job.number or 'job'}-{i}-{first.isoformat()}@zombrel")
        entry.add("dtstamp", midnight)
        entry.add("dtstart", midnight + timedelta(minutes=slot.begin))
        entry.add("dtend", midnight + timedelta(minutes=max(slot.end, slot.begin + 1)))
        entry.add("summary", f"{job.number} {slot.task.title}".strip())
        said = [*[x.words for x in slot.before], slot.task.caution, slot.task.why]
        entry.add("description", words("\n".join(s for s in said if s), units))
        if slot.task.zone:
            entry.add("location", slot.task.zone)
        book.add_component(entry)
    return bytes(book.to_ical())


def workday(first: date, count: int) -> date:
    """The ``count``-th working day after ``first``."""
    day = first
    while count > 0:
        day += timedelta(days=1)
        count -= day.weekday() < WEEKEND
    return day
