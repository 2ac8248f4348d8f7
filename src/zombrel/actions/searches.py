"""A search for what reads wrong, kept in the job: pairs, complaints and answers of tests.

What failed proofs saw is where a search begins; it is of the signal as it is joined now.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import msgspec

from zombrel.job.edits import Add, Edit, Put, Remove
from zombrel.job.model import Answered, Job, Search, index

OUTAGE = "what is dead?"
"""The search for what took devices down; no chain is called so."""
_PAIRS = (("true", "shown"), ("true1", "shown1"), ("true2", "shown2"))


def search_of(job: Job, chain: str) -> Search:
    """The search of a chain, as far as it has come."""
    joined = index(job.chains)[chain]
    fresh = Search(
        id=chain,
        device=joined.device,
        pin=joined.pin,
        source=joined.source,
        pairs=_failed(job, chain),
    )
    kept = index(job.searches).get(chain)
    same = kept is not None and all(
        getattr(kept, name) == getattr(fresh, name) for name in ("device", "pin", "source")
    )
    return kept if kept is not None and same else fresh


def outage_of(job: Job) -> Search:
    """The search for what took devices down, as far as it has come."""
    return index(job.searches).get(OUTAGE) or Search(id=OUTAGE)


def answers_of(search: Search) -> dict[str, int]:
    """Which answer each test gave."""
    return {a.id: a.answer for a in search.answers}


def keep(job: Job, search: Search) -> Edit:
    """The search as it stands now."""
    value = msgspec.to_builtins(search)
    if search.id in index(job.searches):
        return Put(path=f"searches.{search.id}", value=value)
    return Add(path="searches", value=value)


def answered(search: Search, test: str, answer: int) -> Search:
    """``test`` came out so; -1: it could not be had."""
    others = tuple(a for a in search.answers if a.id != test)
    return msgspec.structs.replace(search, answers=(*others, Answered(id=test, answer=answer)))


def with_pairs(search: Search, pairs: Sequence[tuple[float, float]]) -> Search:
    """Other (true, shown) [unit of the display]."""
    return msgspec.structs.replace(search, pairs=tuple(pairs))


def toggled(search: Search, complaint: str) -> Search:
    """A complaint is said, or is no more."""
    if complaint in search.said:
        said = tuple(c for c in search.said if c != complaint)
    else:
        said = (*search.said, complaint)
    return msgspec.structs.replace(search, said=said)


def devices_are(search: Search, states: Mapping[str, str]) -> Search:
    """``dead`` or ``alive`` by device; what tests said before is of another case."""
    dead, alive = (tuple(k for k, v in states.items() if v == s) for s in ("dead", "alive"))
    return msgspec.structs.replace(search, dead=dead, alive=alive, answers=())


def untested(search: Search) -> Search:
    """No test has spoken."""
    return msgspec.structs.replace(search, answers=())


def drop(job: Job, search: str) -> Edit | None:
    """The search as if it had never begun; None where it has not."""
    return Remove(path=f"searches.{search}") if search in index(job.searches) else None


def _failed(job: Job, chain: str) -> tuple[tuple[float, float], ...]:
    """What the last failed proofs of a chain saw."""
    last = {p.step: {x.name: x.value for x in p.seen} for p in job.proofs if p.verdict == "fail"}
    found: list[tuple[float, float]] = []
    for step in (f"sensor-{chain}", f"lift-{chain}", f"idle-{chain}", f"brake-{chain}"):
        seen = last.get(step, {})
        found += [(seen[a], seen[b]) for a, b in _PAIRS if a in seen and b in seen]
        if "rest" in seen and "pressed" in seen:
            found += [(0.0, seen["rest"]), (1.0, seen["pressed"])]
    return tuple(found)
