"""The evidence ledger: how each fact is known, and what rests on hearsay alone."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial

import msgspec

from zombrel.job.edits import Add, fact
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import RUNGS, Evidence, Job, Rung
from zombrel.job.problem import Problem

LONGEST = 1500
"""Facts up to so many bytes of JSON are stored as they are."""
RANK = {rung: i for i, rung in enumerate(RUNGS)}
MEANING: dict[Rung, str] = {
    "hearsay": "somebody said so",
    "other car": "seen on another car",
    "document": "read in a document",
    "colour": "told by the wire's colour",
    "counted": "pin counted on this car",
    "measured": "measured on this car",
    "proven": "proven in operation on this car",
}


def text_of(value: object) -> str:
    """Canonical JSON of a fact, as the ledger stores it: 20 and 20.0 are the same.

    A long one, a whole pin-out for one, is stored as its digest.
    """
    text = msgspec.json.encode(_canonical(msgspec.to_builtins(plain(value))), order="sorted")
    if len(text) > LONGEST:
        import hashlib

        return f"blake2b {hashlib.blake2b(text, digest_size=16).hexdigest()}"
    return text.decode()


def _canonical(value: object) -> object:
    if isinstance(value, float) and value.is_integer():
        return int(value)
    if isinstance(value, dict):
        return {k: _canonical(v) for k, v in value.items()}
    if isinstance(value, list | tuple):
        return [_canonical(v) for v in value]
    return value


Lines = Mapping[str, Mapping[str, Rung]]


@query
def known_lines(ledger: tuple[Evidence, ...]) -> Lines:
    """For each path the values it was known to have, and the strongest evidence for each."""
    best: dict[str, dict[str, Rung]] = {}
    for line in ledger:
        rungs = best.setdefault(line.path, {})
        old = rungs.get(line.value)
        if old is None or RANK[line.rung] > RANK[old]:
            rungs[line.value] = line.rung
    return best


def provenance(job: Job, path: str) -> Rung | None:
    """The strongest evidence for the present value at ``path``; None if there is none.

    A line counts only while the fact still has the value the line was written for.
    """
    return known_as(job, known_lines(job.ledger), path)


def known_as(job: Job, lines: Lines, path: str) -> Rung | None:
    """``provenance`` for who asks for many paths; ``lines`` from ``known_lines``."""
    rungs = lines.get(path)
    if not rungs:
        return None
    try:
        value = fact(job, path)
    except Problem:
        return None
    return rungs.get(text_of(value))


def provenances(job: Job) -> Callable[[str], Rung | None]:
    """What ``provenance`` says of any path of one job, for who reads many jobs once each."""
    lines: Lines = known_lines.__wrapped__(job.ledger)  # type: ignore[attr-defined]
    return partial(known_as, job, lines)


def at_least(job: Job, path: str, rung: Rung) -> bool:
    """Whether the fact at ``path`` is known on ``rung`` or better."""
    known = provenance(job, path)
    return known is not None and RANK[known] >= RANK[rung]


def known(lines: Lines, path: str, value: object, rung: Rung) -> bool:
    """Like ``at_least`` for a value at hand; ``lines`` from ``known_lines``."""
    rungs = lines.get(path)
    if not rungs:
        return False
    best = rungs.get(text_of(value))
    return best is not None and RANK[best] >= RANK[rung]


def next_id(job: Job) -> int:
    """A number free for the next ledger line or proof."""
    ids = [e.id for e in job.ledger] + [p.id for p in job.proofs]
    return 1 + max(ids, default=0)


def evidence(
    job: Job,
    path: str,
    rung: Rung,
    note: str = "",
    when: str = "",
    by: str = "",
    value: object = None,
    nth: int = 0,
) -> Add:
    """The edit that writes a ledger line for the present value at ``path``.

    ``value`` spares the look-up where the caller has it at hand, or is what will stand there;
    ``nth`` numbers the lines that one act writes, from 0.
    """
    return Add(
        path="ledger",
        value=msgspec.to_builtins(
            Evidence(
                id=next_id(job) + nth,
                path=path,
                value=text_of(fact(job, path) if value is None else value),
                rung=rung,
                note=note,
                when=when,
                by=by,
            )
        ),
    )
