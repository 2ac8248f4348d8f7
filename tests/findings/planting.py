"""How troubles are planted in the settled demo jobs, and what is then asked of the findings.

A row says what is done to which job, and the thing a finding must be about. It must be found, at
its level, among the first three, in every named state; what the finding offers must clear it and
leave nothing that was not there before. The tables stand in ``planted``.
"""

from __future__ import annotations

import functools
from collections.abc import Iterator
from typing import Any, NamedTuple

from zombrel.behaviour.suppose import named
from zombrel.catalog import DEMO
from zombrel.findings.about import about
from zombrel.findings.assess import assess
from zombrel.findings.finding import Finding
from zombrel.findings.settle import settle
from zombrel.job.edits import Add, Edit, Many, Put, Remove, apply
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.validate import validate
from zombrel.store.zjob import load

JOBS = ("0412", "0413", "0409")
FIRST = 3
"""A planted trouble must be among so many findings."""


@functools.cache
def settled(number: str) -> Job:
    """A demo job with every offered edit taken."""
    return settle(load(DEMO / f"{number}.zjob"))[0]


Facts = dict[str, Any]
"""What is done: a value for each path; ``+path`` adds to a list, ``...`` takes an item away."""


class Row(NamedTuple):
    """One planted trouble."""

    name: str
    job: str
    thing: str
    """An id that the finding must be about."""
    facts: Facts
    level: str = "trouble"
    states: tuple[str, ...] = ()
    """Only in these named states; empty for every one."""
    mended: bool = True
    """It offers an edit; False for what only a person can settle by looking."""


class Sound(NamedTuple):
    """One variant about which nothing new may be said."""

    name: str
    job: str
    facts: Facts


def edit_of(facts: Facts) -> Edit:
    """The facts as one edit."""
    made: list[Put | Add | Remove] = []
    for path, value in facts.items():
        if path.startswith("+"):
            made.append(Add(path=path[1:], value=value))
        else:
            made.append(Remove(path=path) if value is ... else Put(path=path, value=value))
    return Many(edits=tuple(made))


def rows(name: str, *cases: tuple[str, str, Facts], **more: Any) -> list[Row]:
    """One kind of trouble in several jobs: (jobs, thing, facts)."""
    return [
        Row(name, j, thing, facts, **more) for jobs, thing, facts in cases for j in jobs.split()
    ]


def planted(row: Row) -> Job:
    """The settled job with a row's trouble in it."""
    return validate(apply(settled(row.job), edit_of(row.facts)))


Names = dict[str, frozenset[str]]


def names(job: Job) -> Names:
    """Ids of all but notes, in each named state."""
    return {
        name: frozenset(f.id for f in assess(job, state).findings if f.level != "note")
        for name, state in named(job.vehicle)
    }


@functools.cache
def clean_names(number: str) -> Names:
    """The same of a settled demo job."""
    return names(settled(number))


class Verdict(NamedTuple):
    """What became of one row in one job and state."""

    row: str
    job: str
    state: str
    found: bool
    first: bool
    cleared: bool
    new: tuple[str, ...]
    """What stood there after the mend that had not been there before."""
    said: tuple[str, ...]
    """The first findings, for reading."""


def hits(job: Job, row: Row, found: tuple[Finding, ...]) -> list[int]:
    """Places of the findings that are about the planted thing, at its level."""
    return [i for i, f in enumerate(found) if f.level == row.level and row.thing in about(job, f)]


def judge(row: Row, only: tuple[str, ...] = ()) -> Iterator[Verdict]:
    """Plant a trouble in a job and see what is said, in every state it concerns."""
    number = row.job
    before = clean_names(number)
    try:
        job = planted(row)
    except Problem as problem:
        yield Verdict(row.name, number, "", False, False, False, (), (f"refused: {problem}",))
        return
    for name, state in named(job.vehicle):
        if (row.states and name not in row.states) or (only and name not in only):
            continue
        found = assess(job, state).findings
        new = tuple([f for f in found if f.id not in before.get(name, ())])
        places = hits(job, row, new)
        said = tuple(f"{f.level} {f.id}: {f.title}" for f in new[:5])
        if not places:
            yield Verdict(row.name, number, name, False, False, False, (), said)
            continue
        hit = new[places[0]]
        edit = next((m.edit for m in hit.mends if m.edit is not None), None)
        left: frozenset[str] = frozenset({hit.id})
        if edit is not None:
            mended = validate(apply(job, edit))
            same = dict(named(mended.vehicle))[name]
            left = frozenset(f.id for f in assess(mended, same).findings if f.level != "note")
        # what the trouble itself brought with it is not the mend's doing
        extra = tuple(sorted(left - before[name] - {f.id for f in found}))
        yield Verdict(
            row.name,
            number,
            name,
            True,
            places[0] < FIRST,
            hit.id not in left or (edit is None and not row.mended),
            extra,
            said,
        )


def false_alarms(row: Sound, only: tuple[str, ...] = ()) -> Iterator[tuple[str, str]]:
    """(state, what is said) that is new in a sound variant."""
    before = clean_names(row.job)
    job = validate(apply(settled(row.job), edit_of(row.facts)))
    for name, state in named(job.vehicle):
        for f in assess(job, state).findings if not only or name in only else ():
            if f.level != "note" and f.id not in before[name]:
                yield name, f"{f.level} {f.id}: {f.title}"


ALL = " ".join(JOBS)
