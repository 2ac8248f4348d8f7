"""What the page asks of the book, made off the window's thread."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from datetime import date
from typing import TYPE_CHECKING

from zombrel.book.comes_back import Recurring, priors, recurring
from zombrel.book.entries import title_of
from zombrel.book.entry import Summary
from zombrel.book.stock import Order
from zombrel.book.times import Learned, by_device, estimate
from zombrel.book.week import Load, Shop, Stay
from zombrel.job.model import House, Job
from zombrel.job.value import Value
from zombrel.plan.learn import Range

if TYPE_CHECKING:
    from zombrel.store.book.book import Hit, Report

Tell = Callable[[float], bool]


class Asked(Value, frozen=True):
    """All that the page shows but what is searched for."""

    report: Report
    jobs: tuple[tuple[Summary, str], ...]
    back: tuple[Recurring, ...]
    causes: dict[str, tuple[float, int]]
    learned: tuple[Learned, ...]
    range: Range
    """What is left of this job [min]."""
    open: tuple[Job, ...]
    loads: tuple[Load, ...]
    synthetic: bool


class Found(Value, frozen=True):
    """What a search came to, and how long it took [s]."""

    asked: str
    hits: tuple[Hit, ...]
    took: float


def everything(job: Job, before: Asked | None, tell: Tell) -> Asked:
    """The book brought up to date, and what it says for this job.

    What is left of jobs that are as they were ``before`` is not worked out again.
    """
    from zombrel.store.book.book import Book
    from zombrel.store.book.desk import loads, open_jobs

    with Book.opened() as book:
        report = book.refresh(lambda share: tell(0.4 * share))
        shown = job.synthetic or not book.has_own()
        jobs, told, done = book.jobs(shown), book.told(shown), book.done(shown)
        waiting = open_jobs(book, shown, job)
    known = list(zip(before.open, before.loads, strict=False)) if before is not None else []
    found = loads(waiting, lambda share: tell(0.4 + 0.6 * share), known)
    mine = found[0] if waiting and found and waiting[0] == job else None
    return Asked(
        report,
        jobs,
        recurring(job, told),
        priors(job, told),
        by_device(done),
        estimate(mine.slots if mine is not None else (), done),
        waiting,
        found,
        shown,
    )


def search(asked: str, job: Job, synthetic: bool) -> Found:
    """What the book knows of these words from other jobs than the open one."""
    from zombrel.store.book.book import Book

    with Book.opened() as book:
        begun = time.perf_counter()
        hits = book.find(asked, synthetic, job.vehicle.name)
        took = time.perf_counter() - begun
    mine = job.title or title_of(job)
    others = (h for h in hits if (h.job.number, h.job.title) != (job.number, mine))
    return Found(asked, tuple(others), took)


def stays_of(found: Sequence[Load], shop: Shop, house: House, first: date) -> tuple[Stay, ...]:
    """The week, as the bays stand."""
    from zombrel.store.book.desk import planned

    return planned(found, shop, house, first)


def orders_of(asked: Asked, stays: Sequence[Stay], shop: Shop) -> tuple[Order, ...]:
    """What must be ordered."""
    from zombrel.store.book.desk import to_order
    from zombrel.store.book.shop import load_stock

    return to_order(asked.open, stays, load_stock(), shop.lead_days)
