"""What a retrofit needs in this car: for each function which circuits are present, and where.

A circuit is present where the module's own cavity holds a wire, elsewhere where another plug of
the car has it, absent where no plug has it.
"""

from __future__ import annotations

from typing import Literal

from zombrel.harness.plugs import face
from zombrel.harness.plugs.function import Function as Meaning
from zombrel.harness.plugs.function import function_of
from zombrel.job.model import Job, index
from zombrel.job.records.retrofit import Retrofit
from zombrel.job.value import Value
from zombrel.job.wiring import Cavity, Connector

State = Literal["present", "drawn", "elsewhere", "look", "absent", "no pin"]
WORDS: dict[State, str] = {
    "present": "a wire is there: meter it",
    "drawn": "a wire of ours goes there",
    "elsewhere": "one wire from there does it",
    "look": "look into the cavity first",
    "absent": "this car does not have it: a source of one's own, or leave the function out",
    "no pin": "the paper of its plug has no such pin",
}
HARM: tuple[State, ...] = ("absent", "no pin")
"""What keeps a function from working."""


class Need(Value, frozen=True):
    """One circuit that a function needs."""

    circuit: str
    state: State
    here: str
    """Cavity of the module's plug, as ``M.3``; empty: it has none."""
    there: tuple[str, ...]
    """Where else in the car it can be had."""


class Works(Value, frozen=True):
    """One function, and what it has of what it needs."""

    name: str
    needs: tuple[Need, ...]

    @property
    def lacks(self) -> tuple[Need, ...]:
        """What keeps it from working."""
        return tuple(n for n in self.needs if n.state in HARM)


def table(job: Job, retrofit: Retrofit) -> tuple[Works, ...]:
    """Every function of a retrofit with its circuits.

    One that names no circuits needs all that the module's plug carries on paper.
    """
    own = index(job.connectors).get(retrofit.connector)
    others = [c for c in job.connectors if c.id != retrofit.connector]
    every = tuple(x.circuit for x in own.cavities if x.circuit) if own is not None else ()
    ours = frozenset(f"{e.place}.{e.pin}" for w in job.wires for e in (w.a, w.b))
    return tuple(
        Works(f.name, tuple(_need(own, others, n, ours) for n in (f.needs or every)))
        for f in retrofit.functions
    )


def _need(
    own: Connector | None, others: list[Connector], circuit: str, ours: frozenset[str]
) -> Need:
    wanted = function_of(circuit)
    mine = _having(own, wanted) if own is not None else ()
    there = tuple(f"{c.id}.{x.n}" for c in others for x in _having(c, wanted) if _live(c, x))
    if own is None or not mine:
        return Need(circuit, "no pin", "", there)
    n = mine[0].n
    here = f"{own.id}.{n}"
    if mine[0].seen == "wire":
        return Need(circuit, "present", here, there)
    if here in ours:
        return Need(circuit, "drawn", here, there)
    if not mine[0].seen:
        return Need(circuit, "look", here, there)
    return Need(circuit, "elsewhere" if there else "absent", here, there)


def _having(c: Connector, wanted: Meaning) -> tuple[Cavity, ...]:
    return tuple(x for x in c.cavities if x.circuit and function_of(x.circuit) == wanted)


def _live(c: Connector, x: Cavity) -> bool:
    """Something is there, or the paper says so and nobody has looked."""
    return face.state(c, x.n) == "occupied"
