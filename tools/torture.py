"""Kill it, feed it, call it: ``tools/torture.py kills|files|calls COUNT [SEED]``.

What is tried, and what is right, lies in ``tests/torture``. Several processes work side by side.
Prints each failure and, last, how many were tried and how many failed; failing cases are kept in a
folder that is named. Not part of ``./check``, which runs a small seeded part of each.
"""

from __future__ import annotations

import importlib
import itertools
import multiprocessing
import os
import resource
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT / "src"), str(ROOT)]
PART = 100
"""So many are tried by one process in one go."""
MOST_MEMORY = 4_000_000_000
"""A process that takes more is stopped, rather than the machine [bytes]."""


def part(asked: tuple[str, int, int]) -> tuple[int, list[tuple[str, str, bytes]]]:
    """Try so many of one sort with a seed: how many there were, and what went wrong."""
    sort, count, seed = asked
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    tries = importlib.import_module(f"tests.torture.{sort}").tries
    found = list(tries(count, seed, timed=True))
    return len(found), [(f.case, f.why, f.data) for f in found if f is not None]


def parts(sort: str, count: int, seed: int) -> Iterator[tuple[str, int, int]]:
    """The work in pieces, each with a seed of its own."""
    for i in itertools.count():
        left = count - i * PART
        if left <= 0:
            return
        yield sort, min(PART, left), seed * 1_000_000 + i


def main() -> int:
    """Try, print, keep what failed."""
    words = sys.argv[1:]
    if len(words) not in (2, 3) or words[0] not in ("kills", "files", "calls"):
        print("tools/torture.py kills|files|calls COUNT [SEED]", file=sys.stderr)
        return 2
    sort, count, seed = words[0], int(words[1]), int(words[2]) if len(words) > 2 else 1
    crew = max(1, (os.cpu_count() or 2) - int(os.environ.get("SPARE", "0")))
    kept = Path(tempfile.mkdtemp(prefix=f"torture-{sort}-"))
    tried = failed = 0
    start = time.monotonic()
    with multiprocessing.get_context("spawn").Pool(crew) as pool:
        for number, wrong in pool.imap_unordered(part, parts(sort, count, seed)):
            tried += number
            for case, why, data in wrong:
                failed += 1
                (kept / f"{failed}.txt").write_text(f"{case}\n\n{why}\n", errors="replace")
                if data:
                    (kept / f"{failed}.data").write_bytes(data)
                print(f"{case[:200]}: {why[-300:]}", flush=True)
    where = f"; they are kept in {kept}" if failed else ""
    if not failed:
        kept.rmdir()
    print(f"{sort}: {tried} tried, {failed} failed, {time.monotonic() - start:.0f} s{where}")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
