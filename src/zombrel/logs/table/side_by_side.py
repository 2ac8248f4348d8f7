"""Work on pieces side by side, its results in their order, with few pieces in hand at a time."""

from __future__ import annotations

import os
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from typing import TypeVar

P = TypeVar("P")
R = TypeVar("R")
LEAST, MOST = 3, 4
"""One more than the fewest processors, as one often waits for memory; more than four gain nothing
on a file, and each holds a piece."""


def workers() -> int:
    """Threads that this machine can use."""
    return max(LEAST, min(os.cpu_count() or 2, MOST))


def in_order(work: Callable[[P], R], pieces: Iterator[P]) -> Iterator[R]:
    """``work`` of each piece, in the order of the pieces; what raises in it is raised here.

    ``work`` runs in threads; ``pieces`` are made in the caller's. Whoever leaves early waits for
    what is being worked on, and for no more.
    """
    with ThreadPoolExecutor(workers()) as pool:
        running: deque[Future[R]] = deque()
        try:
            for piece in pieces:
                running.append(pool.submit(work, piece))
                if len(running) > workers():
                    yield running.popleft().result()
            while running:
                yield running.popleft().result()
        finally:
            for future in running:
                future.cancel()
