"""``bench --book``: ten thousand made-up jobs put in a book, looked through, brought up to date."""

from __future__ import annotations

import random
import statistics
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

import msgspec

JOBS, LEAST = 10_000, 600
"""So many jobs, and with ``--quick``."""
COLOURS = ("red", "green/white", "blue", "black/yellow", "brown", "violet", "orange/black", "grey")
ASKED = (
    "heron speed green/white",
    "24054",
    "chafed pedal box",
    "brake",
    "pace unit c1",
    "D2 cavity 27",
    "owner 77",
    "violet",
)
TIMES = 5


def run(quick: bool) -> int:
    """Print each figure with its target; 1 when one is missed."""
    from zombrel.store.book.book import Book

    count = LEAST if quick else JOBS
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        _made(folder, count)
        with Book.opened(folder / "book.sqlite") as book:
            book.watch(folder)
            put_in = _seconds(book.refresh)
            again = _seconds(book.refresh)
            waits = [
                statistics.median(
                    _seconds(partial(book.find, asked, False, "Brackwell Heron"))
                    for _ in range(TIMES)
                )
                for asked in ASKED
            ]
    figures = (
        (f"{count} jobs put in [s]", put_in, 60.0 * count / JOBS),
        ("the slowest of the words found [ms]", 1000 * max(waits), 50.0),
        ("the middle of them [ms]", 1000 * statistics.median(waits), 50.0),
        ("brought up to date when nothing has changed [s]", again, 2.0),
    )
    bad = 0
    for name, value, target in figures:
        ok = value <= target
        bad += not ok
        told = f"{name:<60} {value:8.3f} (target ≤ {target:g})"
        print(f"{'ok  ' if ok else 'MISS'} {told}", flush=True)
    return 1 if bad else 0


def _made(folder: Path, count: int) -> None:
    """Jobs like the past ones, with other colours, owners and cars."""
    from zombrel.catalog import DEMO
    from zombrel.store.zjob import peek, to_bytes

    rng = random.Random(1)
    change = msgspec.structs.replace
    past = [peek(p) for p in sorted((DEMO / "past").glob("*.zjob"))]
    for i in range(count):
        job = past[i % len(past)]
        plugs = tuple(
            change(
                c,
                cavities=tuple(
                    change(x, colour=rng.choice(COLOURS), seen_colour="") for x in c.cavities
                ),
            )
            for c in job.connectors
        )
        car = change(job.vehicle, owner=f"Owner {i}", chassis=rng.randint(1, 9999))
        title = f"{job.title.partition(',')[0]}, owner {i}"
        made = change(
            job, number=f"{i:05d}", title=title, synthetic=False, connectors=plugs, vehicle=car
        )
        (folder / f"{i:05d}.zjob").write_bytes(to_bytes(made))


def _seconds(call: Callable[[], object]) -> float:
    begun = time.perf_counter()
    call()
    return time.perf_counter() - begun
