"""What is done with logs of a job: kept, told apart, compared, the outcome put into the sheet."""

from __future__ import annotations

import itertools
import math
import re
from typing import TYPE_CHECKING

import msgspec

from zombrel.actions.parts import free_name
from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.model import Job, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.records.logs import Comparison, JobLog, LogMark, Part, PullRow
from zombrel.job.value import Value

if TYPE_CHECKING:
    from zombrel.logs.compare import Compared, Pull
    from zombrel.logs.recording import Recording

CURVE_POINTS = 60
WET = ("rain", "snow")
CODE = re.compile(
    r"\b[PBCUpbcu][0-9A-Fa-f]{4}(?:-[0-9A-Fa-f]{2})?\b|(?<![.,\d])\b\d{2,4}\b(?![.,]\d)"
)
"""A fault code as scanners write it (SAE J2012), or the number that a lamp blinks."""
TANKS_APART = 0.25
"""Tanks that differ by more are named [share]."""


def add_log(
    job: Job,
    name: str,
    sha: str,
    size: float,
    part: Part,
    units: dict[str, str],
    day: str,
    bus: tuple[str, str] = ("", ""),
) -> tuple[str, Edit]:
    """A log that was kept, for one part of the work: its id, and the edit.

    ``bus`` is the description of the bus: SHA-256 and name of its file.

    Raises:
        Problem: the job has the same file for the same part.
    """
    if any(x.file == sha and x.part == part for x in job.logs):
        raise Problem(f"{name} is in the job already.")
    key = free_name({"before": "B1", "after": "A1"}.get(part, "L1"), index(job.logs))
    made = JobLog(
        id=key,
        name=name,
        part=part,
        file=sha,
        size=size,
        units=tuple(units.items()),
        day=day,
        bus=bus[0],
        bus_name=bus[1],
    )
    return key, Add(path="logs", value=msgspec.to_builtins(made))


def put_log(log: JobLog) -> Edit:
    """A log with its day, weather and tank as they are said now."""
    return Put(path=f"logs.{log.id}", value=msgspec.to_builtins(log))


def remove_log(job: Job, log: JobLog) -> Edit:
    """A log out of the job, and the comparisons that rest on it."""
    gone = [
        Remove(path=f"compared.{c.id}") for c in job.compared if log.file in (c.before, c.after)
    ]
    return together(*gone, Remove(path=f"logs.{log.id}"))


def of_part(job: Job, part: Part) -> JobLog | None:
    """The log of one part: the last that was read."""
    return next((x for x in reversed(job.logs) if x.part == part), None)


class Day(Value, frozen=True):
    """What is noted of the day of one log."""

    weather: str
    tank: float | None
    codes: str


def day_of(job: Job, part: Part) -> Day:
    """The day of the log of a part; of the one before as Survey has it."""
    log = of_part(job, part)
    own = Day(log.weather, log.tank, log.codes) if log is not None else Day("", None, "")
    if part != "before":
        return own
    found = job.baseline
    return Day(
        found.weather or own.weather,
        own.tank if found.tank is None else found.tank,
        found.codes or own.codes,
    )


def put_day(job: Job, part: Part, **what: object) -> Edit:
    """What is noted of the day of one log; of the one before it goes into Survey.

    Raises:
        Problem: there is no log of that part.
    """
    if part == "before":
        return together(*(Put(path=f"baseline.{k}", value=v) for k, v in what.items()))
    log = of_part(job, part)
    if log is None:
        raise Problem(f"There is no log {part}.")
    return put_log(msgspec.structs.replace(log, **what))


def new_codes(before: str, after: str) -> tuple[str, ...]:
    """Fault codes that are stored after and were not before, as they are written."""
    old = {x.casefold() for x in CODE.findall(before)}
    return tuple(dict.fromkeys(x for x in CODE.findall(after) if x.casefold() not in old))


def unlike(before: Day, after: Day) -> tuple[str, tuple[str, ...]]:
    """(why two days cannot be compared at all, what of them does not match)."""
    wet = [x.weather in WET for x in (before, after)]
    refused = ""
    if before.weather and after.weather and wet[0] != wet[1]:
        when = "before" if wet[0] else "after"
        refused = f"It was wet {when} and not the other day: a wet cooler is another cooler."
    said = []
    if not (before.weather and after.weather):
        said.append("the weather of both days is not noted")
    if before.tank is not None and after.tank is not None:
        apart = abs(before.tank - after.tank)
        if apart > TANKS_APART:
            said.append(f"the tank differed by {100 * apart:.0f} %: another mass was driven")
    fresh = new_codes(before.codes, after.codes) if before.codes else ()
    if fresh:
        said.append(f"stored after and not before: {', '.join(fresh)}")
    return refused, tuple(said)


def compare_logs(job: Job, before: Recording, after: Recording) -> Comparison:
    """What the log before and the one after say, as the job would keep it.

    Raises:
        Problem: one of the two is missing, or lacks what a comparison wants.
    """
    from zombrel.logs.compare import compare

    logs = of_part(job, "before"), of_part(job, "after")
    if logs[0] is None or logs[1] is None:
        raise Problem("A comparison wants a log from before and one from after.")
    days = day_of(job, "before"), day_of(job, "after")
    refused, said = unlike(*days)
    c = compare(before, after, said, refused)
    old = job.compared[-1] if job.compared else None
    return Comparison(
        id=old.id if old is not None else "pulls",
        before=logs[0].file,
        after=logs[1].file,
        verdict=c.verdict,
        why=c.why,
        difference_k=_figure(c.difference_k),
        low_k=_figure(c.low_k),
        high_k=_figure(c.high_k),
        scatter_k=_figure(c.scatter_k),
        days=_days(*days),
        mind=c.mind,
        pulls=_rows(c),
        changed=old.changed if old is not None else "",
    )


def _figure(x: float) -> float | None:
    return float(x) if math.isfinite(x) else None


def _rows(c: Compared) -> tuple[PullRow, ...]:
    return tuple(
        PullRow(
            side=side,  # type: ignore[arg-type]
            starts_k=p.starts_k,
            rise_k=p.rise_k,
            length_s=p.end - p.begin,
            load=p.load,
            back_s=_figure(p.back_s),
            ambient_k=_figure(p.ambient_k),
            curve=_thinned(p),
        )
        for side, found in (("before", c.before), ("after", c.after))
        for p in found
    )


def _thinned(p: Pull) -> tuple[tuple[float, float], ...]:
    """A pull's curve in so many points, each the mean of what it stands for."""
    import numpy as np

    x, y = (np.asarray(a, float) for a in p.over)
    if len(x) <= CURVE_POINTS:
        return tuple(zip(x.tolist(), y.tolist(), strict=True))
    cut = np.linspace(0, len(x), CURVE_POINTS + 1).astype(int)
    return tuple((float(x[a:b].mean()), float(y[a:b].mean())) for a, b in itertools.pairwise(cut))


def keep_comparison(job: Job, made: Comparison, when: str) -> Edit:
    """The outcome kept, so that the sheet prints it."""
    value = msgspec.to_builtins(msgspec.structs.replace(made, when=when))
    if by_id(job.compared, made.id) is not None:
        return Put(path=f"compared.{made.id}", value=value)
    return Add(path="compared", value=value)


def put_changed(made: Comparison, words: str) -> Edit:
    """What was changed between the two."""
    return Put(path=f"compared.{made.id}.changed", value=words)


def stale(job: Job, made: Comparison) -> bool:
    """Whether other logs stand in the job than were compared, or their days are said otherwise."""
    before, after = of_part(job, "before"), of_part(job, "after")
    if before is None or after is None:
        return True
    same = (before.file, after.file) == (made.before, made.after)
    return not same or _days(day_of(job, "before"), day_of(job, "after")) != made.days


def _days(before: Day, after: Day) -> str:
    codes = ", ".join(new_codes(before.codes, after.codes)) if before.codes else ""
    told = "; ".join(f"{x.weather or '?'}, {x.tank}" for x in (before, after))
    return f"{told}; {codes}" if codes else told


def add_mark(log: JobLog, at_s: float, words: str) -> tuple[str, Edit]:
    """A moment of a log marked: its id, and the edit.

    Raises:
        Problem: nothing is said of it.
    """
    if not words.strip():
        raise Problem("Say what is to be seen at the mark.")
    key = free_name("M1", index(log.marks))
    made = LogMark(id=key, at_s=round(at_s, 3), words=words.strip())
    return key, Add(path=f"logs.{log.id}.marks", value=msgspec.to_builtins(made))


def remove_mark(log: JobLog, mark: LogMark) -> Edit:
    """A mark taken out."""
    return Remove(path=f"logs.{log.id}.marks.{mark.id}")
