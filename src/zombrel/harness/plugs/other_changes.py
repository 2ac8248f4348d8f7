"""Kinds of change that bring no wire of ours into one cavity: each with all that is its own.

Blank, pull, jumper; and those that move several terminals at once (``plugs.moves``).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

import msgspec

from zombrel.harness.plugs import face, moves
from zombrel.harness.plugs.change_base import (
    PULL,
    Part,
    airbags,
    counting,
    put,
    target,
    with_,
)
from zombrel.job.model import Job, by_id
from zombrel.job.value import Value
from zombrel.job.wiring import Cavity, Change, Connector
from zombrel.units.measure import area_of, short_of

JUMPER_MM2 = 0.5
"""Section of a jumper, where no wire of ours is named [mm²]."""


class How(Value, frozen=True):
    """All of one kind: why not, the faces after, the hands, the parts."""

    troubles: Callable[[Job, Connector, Change], Iterator[str]]
    after: Callable[[Job, Connector, Change], tuple[Connector, ...]]
    steps: Callable[[Job, Connector, Change], tuple[str, ...]]
    parts: Callable[[Job, Connector, Change], tuple[Part, ...]]


def _plug(c: Connector) -> Part:
    return Part(name=f"blanking plug {c.family}".strip(), kind="terminal")


# ---- blank


def _blank_troubles(job: Job, c: Connector, change: Change) -> Iterator[str]:
    if face.state(c, change.cavity) not in ("vacant", "blanked"):
        yield f"Cavity {change.cavity} of {c.id} is not seen empty: look into it, then blank it."


def _blanked(job: Job, c: Connector, change: Change) -> tuple[Connector, ...]:
    old = face.cavity(c, change.cavity) or Cavity(n=change.cavity)
    return (put(c, Cavity(n=old.n, mark=old.mark, seen="blanked")),)


def _blank_steps(job: Job, c: Connector, change: Change) -> tuple[str, ...]:
    close = "Press the blanking plug in from the wire side until it is flush."
    return (*counting(c, change.cavity), close)


# ---- pull


def _pull_troubles(job: Job, c: Connector, change: Change) -> Iterator[str]:
    if face.state(c, change.cavity) not in ("occupied", "terminal"):
        yield f"Cavity {change.cavity} of {c.id} holds nothing to pull."
    yield from airbags(job, c, (change.cavity,))


def _pulled(job: Job, c: Connector, change: Change) -> tuple[Connector, ...]:
    old = face.cavity(c, change.cavity) or Cavity(n=change.cavity)
    return (put(c, Cavity(n=old.n, mark=old.mark, seen="blanked" if c.sealed else "empty")),)


def _pull_steps(job: Job, c: Connector, change: Change) -> tuple[str, ...]:
    close = (f"Blank cavity {change.cavity} of {c.id}.",) if c.sealed else ()
    tie = "Insulate the terminal with sealed shrink, label it, tie it back to its loom."
    return (*counting(c, change.cavity), PULL, tie, *close)


def _pull_parts(job: Job, c: Connector, change: Change) -> tuple[Part, ...]:
    shrink = Part(name=f"sealed shrink, {short_of(0.04)}", kind="joint")
    return (shrink, _plug(c)) if c.sealed else (shrink,)


# ---- jumper


def _jumper_troubles(job: Job, c: Connector, change: Change) -> Iterator[str]:
    goal = target(job, change)
    if face.state(c, change.cavity) != "occupied":
        yield f"Cavity {change.cavity} of {c.id} holds no wire to join."
    if goal is None or face.state(*goal) != "occupied":
        yield f"Say which wire it joins as CONNECTOR.CAVITY; “{change.to}” holds none."
        return
    yield from airbags(job, c, (change.cavity,))
    yield from airbags(job, goal[0], (goal[1],))


def _jumped(job: Job, c: Connector, change: Change) -> tuple[Connector, ...]:
    goal = target(job, change)
    assert goal is not None  # no trouble was found
    where, n = goal
    old = face.cavity(c, change.cavity) or Cavity(n=change.cavity)
    there = face.cavity(where, n) or Cavity(n=n)
    mine = msgspec.structs.replace(old, circuit=with_(old.circuit, f"jumper to {where.id}.{n}"))
    back = f"jumper to {c.id}.{old.n}"
    other = msgspec.structs.replace(there, circuit=with_(there.circuit, back))
    if where.id == c.id:
        return (put(put(c, mine), other),)
    return (put(c, mine), put(where, other))


def _jumper_steps(job: Job, c: Connector, change: Change) -> tuple[str, ...]:
    return (
        *counting(c, change.cavity),
        f"Free both wires {short_of(0.06)} behind the plugs: here and at {change.to}.",
        "Join a short wire to both; crimped splice under sealed shrink, one at a time.",
        "Meter both ends before the plug goes back.",
    )


def _jumper_parts(job: Job, c: Connector, change: Change) -> tuple[Part, ...]:
    wire = by_id(job.wires, change.wire)
    area = wire.area_mm2 if wire is not None else JUMPER_MM2
    name = f"crimped splice under sealed shrink, {area_of(area)}"
    return (Part(name=name, kind="joint", count=2),)


# ---- several at once


def _many_troubles(job: Job, c: Connector, change: Change) -> Iterator[str]:
    yield from moves.troubles(c, change)
    yield from airbags(job, c, tuple(n for n, _ in moves.moves_of(c, change)))


_MANY = How(
    _many_troubles,
    lambda job, c, change: (moves.moved(c, moves.moves_of(c, change)),),
    lambda job, c, change: moves.steps(c, change),
    lambda job, c, change: (),
)
OTHERS: dict[str, How] = {
    "blank": How(_blank_troubles, _blanked, _blank_steps, lambda job, c, change: (_plug(c),)),
    "pull": How(_pull_troubles, _pulled, _pull_steps, _pull_parts),
    "jumper": How(_jumper_troubles, _jumped, _jumper_steps, _jumper_parts),
    **dict.fromkeys(moves.MANY, _MANY),
}
"""By kind."""
