"""What comes back: troubles by device and vehicle, causes of misreadings, ends of settings."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence

import msgspec

from zombrel.actions.begin import likeness
from zombrel.book.entry import Happened, Summary
from zombrel.job.edits import Add, Edit, Put, together
from zombrel.job.figures import FIGURES
from zombrel.job.model import HouseFigure, Job, index
from zombrel.job.problem import Problem
from zombrel.job.value import Value

LEAST = 2
"""What came up once is no pattern."""
SHARE = 0.3
"""Nor what came up on fewer of the jobs that could have had it."""


NAMED = 4
"""So many jobs are named."""


class Told(Value, frozen=True):
    """One job of the book, as far as patterns are looked for."""

    about: Summary
    happened: tuple[Happened, ...]


class Recurring(Value, frozen=True):
    """Something that came up on several jobs that had the same device, or a like vehicle."""

    kind: str
    code: str
    title: str
    sheet: str
    many: int
    among: int
    """Jobs that could have had it."""
    jobs: tuple[str, ...]
    """Their numbers, the newest first."""
    here: bool
    """This job could have it too."""

    @property
    def words(self) -> str:
        """``LED lamps without relay on 4 of 6 (0398, 0371, …)``"""
        named = ", ".join(self.jobs[:NAMED]) + (", …" if len(self.jobs) > NAMED else "")
        return f"{self.title} on {self.many} of {self.among} ({named})"


def recurring(job: Job, past: Sequence[Told]) -> tuple[Recurring, ...]:
    """What came up more than once, what could come up on this job first."""
    past = [p for p in past if not _is(job, p.about)]
    mine = {d.sheet.id for d in job.devices}
    found = []
    for kind, code, sheet in dict.fromkeys(_keys(past)):
        could = [p for p in past if _could(p, sheet, job)]
        had = [
            (p, h)
            for p in could
            for h in p.happened
            if (h.kind, h.code, h.sheet) == (kind, code, sheet)
        ]
        jobs = tuple(dict.fromkeys(p.about.number for p, _ in reversed(had)))
        if len(jobs) >= LEAST and len(jobs) >= SHARE * len(could):
            title = had[-1][1].title
            here = sheet in mine if sheet else True
            found.append(Recurring(kind, code, title, sheet, len(jobs), len(could), jobs, here))
    return tuple(sorted(found, key=lambda r: (not r.here, -r.many / r.among, -r.many)))


def _is(job: Job, about: Summary) -> bool:
    return bool(job.number) and about.number == job.number and about.title == job.title


def _keys(past: Iterable[Told]) -> Iterable[tuple[str, str, str]]:
    return ((h.kind, h.code, h.sheet) for p in past for h in p.happened)


def _could(told: Told, sheet: str, job: Job) -> bool:
    """A job that had the device; for what belongs to no device, a job on a like vehicle."""
    if sheet:
        return any(key == sheet for key, _ in told.about.devices)
    return likeness(job.vehicle.name, told.about.vehicle) > 0


def priors(job: Job, past: Sequence[Told]) -> dict[str, tuple[float, int]]:
    """How likely each cause of a misreading is by what the shop has found, and from how many.

    The share among causes found, each begun with what the house takes it for, as if that had been
    seen ``WEIGHT`` times (Dirichlet prior; Gelman, *Bayesian Data Analysis*, §3.4). Result [1].
    """
    mine = {d.sheet.id for d in job.devices}
    seen = Counter(
        h.code
        for p in past
        if not _is(job, p.about)
        for h in p.happened
        if h.kind == "cause" and (not mine or h.sheet in mine or not h.sheet)
    )
    total = sum(seen.values())
    found = {}
    for cause, count in seen.items():
        begun = FIGURES.get(f"cause, {cause}")
        if begun is not None:
            share = (WEIGHT * begun.value + count) / (WEIGHT + total)
            found[cause] = (share, count)
    return found


WEIGHT = 20.0
"""What the house takes a cause for counts as much as so many that were found."""


def go_by(job: Job, past: Sequence[Told]) -> Edit:
    """The shop's own priors of causes as house figures of this job.

    Raises:
        Problem: no cause was ever written down.
    """
    found = priors(job, past)
    if not found:
        raise Problem("No cause of a misreading was ever written down: Prove, This was it.")
    edits: list[Add | Put] = []
    for cause, (share, count) in found.items():
        key = f"cause, {cause}"
        note = f"the book: found {count} times"
        figure = msgspec.to_builtins(HouseFigure(id=key, value=round(share, 4), note=note))
        if key in index(job.house.figures):
            edits.append(Put(path=f"house.figures.{key}", value=figure))
        else:
            edits.append(Add(path="house.figures", value=figure))
    return together(*edits)
