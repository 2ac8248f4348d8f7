"""Looking through the book: entries that say what was typed, ranked for the job in hand."""

from __future__ import annotations

import heapq
from collections.abc import Sequence
from typing import Any

from sqlalchemy import Connection, select, text

from zombrel.actions.begin import likeness
from zombrel.job.ledger import RANK
from zombrel.store.book.engines import Base
from zombrel.store.book.schema import ENTRIES, JOBS
from zombrel.store.book.words import phrases, wanted

LOOKED_AT = 1000
"""So many entries are ranked, the newest that say the words."""
FEW_JOBS, FEW_HITS = 40, 60
"""Jobs whose entries are all looked through; hits that are enough."""


def of_shop(asked: Any, synthetic: bool) -> Any:
    """Without made-up jobs, unless they are asked for."""
    return asked if synthetic else asked.where(JOBS.c.synthetic.is_(False))


class Search:
    """Entries that have every word, in what they say or in what their job is called.

    First what says all of them. Then, where some words are what jobs are called, what says the
    others there: all entries of those jobs where they are few, else of the full-text index, the
    newest first, so many at most.
    """

    def __init__(self, base: Base, c: Connection, asked: list[str], synthetic: bool) -> None:
        self._base, self._c, self._asked, self._synthetic = base, c, asked, synthetic
        self._want = wanted(asked)

    def run(self) -> list[Any]:
        """Rows of entries with their jobs."""
        found = {r.id: r for r in self._saying(self._want)}
        if len(found) < FEW_HITS:
            found |= {r.id: r for r in self._called()}
        return list(found.values())

    def _called(self) -> list[Any]:
        """Entries of jobs that are called by some of the words, and say the others."""
        heads = [w for w in self._want if self._named([w], 1)]
        if not heads:
            return []
        jobs = self._named(heads, FEW_JOBS + 1)
        others = [w for w in self._want if w not in heads]
        if len(jobs) > FEW_JOBS and others:
            rows = self._saying(others)
            if len(rows) == LOOKED_AT:  # there may be older ones: the newest jobs are sure
                rows += self._of_jobs(jobs)
        else:
            rows = self._of_jobs(jobs)
        return [r for r in rows if all(w in r.body or w in r.head for w in self._want)]

    def _named(self, words: list[str], most: int) -> list[int]:
        """The newest jobs that are called so."""
        like = [JOBS.c.head.contains(w, autoescape=True) for w in words]
        asked = select(JOBS.c.id).where(*like, JOBS.c.wrong == "").order_by(JOBS.c.id.desc())
        found: Any = self._c.scalars(of_shop(asked, self._synthetic).limit(most)).all()
        return list(found)

    def _of_jobs(self, jobs: Sequence[int]) -> list[Any]:
        asked = _ENTRY.where(ENTRIES.c.job.in_(jobs), JOBS.c.wrong == "")
        return list(self._c.execute(of_shop(asked, self._synthetic)).all())

    def _saying(self, words: list[str]) -> list[Any]:
        """Entries that say all of these words, the newest first."""
        last = self._asked[-1] if self._want[-1] in words else ""
        asked, values = self._base.saying([w.strip() for w in words], last)
        own = "" if self._synthetic else "AND NOT jobs.synthetic"
        more = f"AND jobs.wrong = '' {own}"
        join = "JOIN jobs ON jobs.id = entries.job"
        sql = f"SELECT {_COLUMNS} FROM entries {asked.format(jobs=join, more=more)} LIMIT :most"
        return list(self._c.execute(text(sql), {"most": LOOKED_AT} | values).all())


_WEIGHED = (
    *(ENTRIES.c[x] for x in ("id", "job", "kind", "known", "body")),
    *(JOBS.c[x] for x in ("head", "vehicle")),
)
"""What is weighed of all that is found; the rest is asked for of what is shown."""
_ENTRY = select(*_WEIGHED).join(JOBS, JOBS.c.id == ENTRIES.c.job)
SHOWN = select(
    *(ENTRIES.c[x] for x in ("id", "job", "kind", "text", "known", "at")),
    *(
        JOBS.c[x]
        for x in (
            "path",
            "number",
            "title",
            "vehicle",
            "owner",
            "begun",
            "due",
            "state",
            "synthetic",
        )
    ),
).join(JOBS, JOBS.c.id == ENTRIES.c.job)
_COLUMNS = ", ".join(f"{c.table.name}.{c.name}" for c in _ENTRY.selected_columns)


def search(
    base: Base, c: Connection, asked: str, synthetic: bool, vehicle: str, most: int
) -> list[tuple[int, int]]:
    """(entry, how like its vehicle is) of what is known of these words, the best first.

    Where nothing has them all, what has most of them.
    """
    words = phrases(asked)
    while words:
        found = Search(base, c, words, synthetic).run()
        if found:
            return _ranked(found, words, vehicle, most)
        words = _fewer(base, c, words, synthetic)
    return []


def _fewer(base: Base, c: Connection, words: list[str], synthetic: bool) -> list[str]:
    """Without the words that nothing has; without the last where each alone is had."""
    kept = [w for w in words if Search(base, c, [w], synthetic).run()]
    return kept if len(kept) < len(words) else words[:-1]


def _ranked(
    rows: Sequence[Any], words: list[str], vehicle: str, most: int
) -> list[tuple[int, int]]:
    """(entry, how like the vehicle is) of the best, in their order.

    A like vehicle before another; what says the words itself before what only stands in a job that
    is called so; what is known better, is said shorter, and newer jobs, before the rest.
    """
    want = wanted(words)
    liked: dict[str, int] = {}
    scored = []
    for key, _, kind, known, body, _, car in rows:
        if car not in liked:
            liked[car] = likeness(vehicle, car) if vehicle else 0
        like = liked[car]
        says = sum([w in body for w in want]) / len(want)
        rung = RANK.get(known, -1) / len(RANK)
        short = 1 / (1 + len(body) / 80)
        score = 2 * min(like, 2) + 2 * says + 0.6 * rung + 0.6 * short + KIND_BONUS.get(kind, 0)
        scored.append((-score, -key, like))
    return [(-key, like) for _, key, like in heapq.nsmallest(most, scored)]


KIND_BONUS = {"lesson": 0.8, "pin-out": 0.6, "trouble": 0.5, "cause": 0.5, "setting": 0.3}
"""What the next job needs most (ASSUMED)."""
