"""What a proof rests on: all that its step read when it was worked out, found by the engine.

Each thing read is kept with the value it had. A proof stands for as long as all of them are as
they were; what is not is named.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import msgspec

from zombrel.diagnose.kinds.power import hung
from zombrel.diagnose.kinds.rows import arrivals
from zombrel.harness.laid import AS_IT_LIES, laid
from zombrel.job.facts import name_of
from zombrel.job.follow.engine import FAILED, Cell, Node
from zombrel.job.follow.query import made_for, query, reads
from zombrel.job.follow.view import Notes, Path, look, plain
from zombrel.job.ledger import text_of
from zombrel.job.model import Job, Proof, Rest, index
from zombrel.signals.ground import grounds
from zombrel.signals.supply import feeds_of, pins

TABLES: dict[str, Callable[..., Any]] = {
    q.__name__: q for q in (feeds_of, pins, hung, grounds, arrivals)
}
"""Worked out for the whole job: a proof rests on the lines it read, not on all behind them."""
_LINES = {
    "feeds_of": ("devices", "supply"),
    "pins": ("devices", "supply"),
    "hung": ("feeds", "what hangs on it"),
    "grounds": ("devices", "ground"),
    "arrivals": ("devices", "signals"),
}
"""What a line of each table is about, and how it is called."""
SHOWN = 24
"""Values up to so many characters are shown as they were and are."""


def rests_of(asked: Callable[..., Any], job: Job, *args: Any) -> tuple[Rest, ...]:
    """All that the query ``asked`` reads of the laid job for these arguments."""
    (notes,) = reads(asked, job, (args,), AS_IT_LIES)
    return tuple(
        Rest(of=of, path=msgspec.json.encode(path).decode(), value=_text(value))
        for (of, path), value in dict(_flat(notes)).items()
    )


def paths_of(asked: Callable[..., Any], job: Job, each: list[tuple[Any, ...]]) -> list[set[Path]]:
    """The paths of the laid job that ``asked`` reads for each of these arguments."""
    found = reads(asked, job, each, AS_IT_LIES)
    return [{path for (of, path), _ in _flat(notes) if not of} for notes in found]


def _flat(notes: dict[Cell, Notes]) -> Iterator[tuple[tuple[str, Path], Any]]:
    """Notes on the job itself, on tables, and those behind any other query."""
    for cell, read in notes.items():
        table = isinstance(cell, Node) and cell.fn.__name__ in TABLES
        if isinstance(cell, Node) and not table and not made_for(cell, AS_IT_LIES):
            yield from _flat(cell.notes)
            continue
        of = cell.fn.__name__ if isinstance(cell, Node) and table else ""
        yield from (((of, path), value) for path, value in read.items() if path != FAILED)


def _text(value: Any) -> str:
    return text_of(value.__name__ if isinstance(value, type) else value)


def _path(text: str) -> Path:
    return tuple([tuple(s) if isinstance(s, list) else s for s in msgspec.json.decode(text)])


@query
def _changed(job: Job, number: int) -> tuple[str, ...]:
    lies = laid(job)
    trees = {"": lies} | {name: table(lies) for name, table in TABLES.items()}
    said = []
    for rest in index(job.proofs)[number].basis:
        path = _path(rest.path)
        now = _text(look(trees[rest.of], path)) if rest.of in trees else ""
        if now != rest.value:
            said.append(_words(job, rest, path, now))
    return tuple(dict.fromkeys(said))


def _words(job: Job, rest: Rest, path: Path, now: str) -> str:
    if rest.of:
        owner = path[0][0] if isinstance(path[0], tuple) else path[0]
        things, part = _LINES[rest.of]
        name = name_of(job, (things, str(owner), part))
    else:
        name = name_of(job, tuple(str(step) for step in path if step not in ("@", "#", "*")))
    if max(len(now), len(rest.value)) > SHOWN or path[-1] in ("@", "#", "*"):
        return name
    return f"{name} ({_shown(rest.value)} → {_shown(now)})"


def _shown(text: str) -> str:
    return {"null": "unknown", '""': "nothing", "[]": "none"}.get(text, text.strip('"'))


def changed_since(job: Job, proof: Proof) -> tuple[str, ...]:
    """In words what of a proof's basis is no longer as it was; empty while the proof stands."""
    if not proof.basis:
        return ("what it rests on was not kept when it was made",)
    return plain(_changed(job, proof.id))
