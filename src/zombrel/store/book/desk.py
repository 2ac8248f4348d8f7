"""What the book says of the shop's open jobs: the week of the bays, and what to order."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date
from pathlib import Path

from zombrel.book.entries import title_of
from zombrel.book.stock import Need, Order, needs, orders
from zombrel.book.week import Load, Shop, Stay, week
from zombrel.harness.laid import laid
from zombrel.job.follow.query import aside
from zombrel.job.model import House, Job
from zombrel.job.problem import Problem
from zombrel.plan.day import work_order
from zombrel.store.book.book import Book
from zombrel.store.zjob import peek

MOST = 40
"""So many open jobs are planned."""
Tell = Callable[[float], bool]


def open_jobs(book: Book, synthetic: bool, now: Job | None = None) -> tuple[Job, ...]:
    """Jobs that nobody has handed over yet; ``now`` as it is in the window, not in its file."""
    found: list[Job] = [] if now is None or not now.devices else [now]
    for about, path in book.jobs(synthetic):
        if about.state != "open" or len(found) >= MOST:
            continue
        if any((about.number, about.title) == (j.number, j.title or title_of(j)) for j in found):
            continue
        try:
            found.append(peek(Path(path)))
        except Problem:
            continue  # the book says of each file what is wrong with it
    return tuple(found)


def loads(
    jobs: Sequence[Job], tell: Tell = lambda share: True, known: Sequence[tuple[Job, Load]] = ()
) -> tuple[Load, ...]:
    """What is left to do on each, in its order; ``known`` is what was worked out before."""
    found = []
    for i, job in enumerate(jobs):
        if not tell(i / max(len(jobs), 1)):
            break
        held = next((x for j, x in known if j == job), None)
        found.append(held or _load(job))
    return tuple(found)


def called(job: Job) -> str:
    """What a job is known by in the bays: its number, else what goes into which vehicle."""
    return job.number or job.title or title_of(job)


def _load(job: Job) -> Load:
    with aside():
        order = work_order(laid(job))
    waits = tuple(t.title for t in order.held)
    title = (job.title or title_of(job)) if job.number else ""
    return Load(called(job), title, order.slots, job.due, waits)


def planned(found: Sequence[Load], shop: Shop, house: House, first: date) -> tuple[Stay, ...]:
    """The days of all of them from ``first`` on."""
    return week(found, shop, house, first)


def to_order(
    jobs: Sequence[Job], stays: Sequence[Stay], stock: dict[str, float], lead_days: int
) -> tuple[Order, ...]:
    """What all open jobs take that is not there."""
    starts = {s.number: s.day for s in reversed(stays)}
    wanted: list[Need] = []
    for job in jobs:
        with aside():
            wanted += needs(job, starts.get(called(job)), called(job))
    return orders(wanted, stock, lead_days)
