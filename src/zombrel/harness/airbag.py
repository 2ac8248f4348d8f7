"""Airbag wiring, by any of the names it goes under: nothing of it is joined, tapped or metered."""

from __future__ import annotations

import functools
import re
from collections.abc import Iterator

from zombrel.job.follow.query import query
from zombrel.job.model import Job
from zombrel.job.value import Value
from zombrel.job.wiring import Connector

WORDS = (
    r"(?i)air[\s-]?bag|squib|\bs\.?r\.?s\b|supplemental\s+(inflatable\s+)?restraint|restraint\s+"
    r"(system|module|computer|loop)|clock[\s-]?spring|spiral\s+cable|inflator|pretensioner|"
    r"belt\s+tensioner|crash\s+sensor|yellow\s+(sheath|sleeve|sleeving|conduit|tube|loom)"
)
"""Common wordings on sheets, labels and faces."""


@functools.lru_cache(maxsize=4096)  # asked of every end and cavity
def is_airbag(*texts: str) -> bool:
    """Whether any of these texts names airbag wiring."""
    return any(re.search(WORDS, text) for text in texts)


class Touched(Value, frozen=True):
    """A place that is airbag wiring, and why it is taken for it."""

    place: str
    pin: str
    """Empty: the whole of it."""
    said: str


@query
def places(job: Job) -> tuple[Touched, ...]:
    """Every cavity, connector, feed, stud and source of ``job`` that is airbag wiring."""
    return tuple(_places(job))


def _places(job: Job) -> Iterator[Touched]:
    for c in job.connectors:
        yield from _in_connector(c)
    for feed in job.feeds:
        if is_airbag(feed.name, feed.hangs):
            yield Touched(feed.id, "", feed.name if is_airbag(feed.name) else feed.hangs)
    for stud in job.studs:
        if is_airbag(stud.name):
            yield Touched(stud.id, "", stud.name)
    bags = {z.id for z in job.zones if z.airbag}
    for source in job.sources:
        if is_airbag(source.name, source.place, source.spoils) or source.zone in bags:
            yield Touched(source.id, "", source.name if source.zone not in bags else source.zone)


def _in_connector(c: Connector) -> Iterator[Touched]:
    if is_airbag(c.name, c.family):
        yield Touched(c.id, "", c.name)
    for cavity in c.cavities:
        words = (cavity.circuit, cavity.colour, cavity.seen_colour)
        if is_airbag(*words):
            said = next(w for w in words if is_airbag(w))
            yield Touched(c.id, str(cavity.n), said)
