"""Several terminals of one plug at once: two swapped, some cycled, all rotated; all out, then in.

Reference: permutations of the cavities of a face (definition).
"""

from __future__ import annotations

import re
from collections.abc import Iterator

import msgspec

from zombrel.harness.plugs import face
from zombrel.harness.plugs.function import Role, kind_of
from zombrel.job.wiring import Cavity, Change, Connector

MANY = ("swap", "cycle", "rotate")
"""Kinds of change that move several terminals of one plug."""
FEWEST = 3
"""A cycle of two is a swap."""

Moves = tuple[tuple[int, int], ...]
"""(from, to) of each terminal."""


def moves_of(c: Connector, change: Change) -> Moves:
    """From where to where each terminal goes; empty where ``to`` does not say it."""
    here = [p.n for p in face.places(c)]
    if change.kind == "rotate":
        found = re.fullmatch(r"\s*([+-]?\d+)\s*", change.to)
        step = int(found[1]) if found else 0
        if not step % len(here):
            return ()
        order = sorted(here)
        return tuple((n, order[(i + step) % len(order)]) for i, n in enumerate(order))
    to = [int(x.rpartition(".")[2]) for x in re.split(r"[,;>\s]+", change.to) if _is_cavity(x)]
    if change.kind == "swap":
        return ((change.cavity, to[0]), (to[0], change.cavity)) if len(to) == 1 else ()
    ring = [change.cavity, *to]
    if len(ring) < FEWEST:
        return ()
    return tuple(zip(ring, [*ring[1:], ring[0]], strict=True))


def _is_cavity(text: str) -> bool:
    return text.rpartition(".")[2].isdigit()


def troubles(c: Connector, change: Change) -> Iterator[str]:
    """Why these moves cannot be made."""
    moves = moves_of(c, change)
    if not moves:
        wanted = {
            "swap": "the other cavity, as 7",
            "cycle": "where each goes in turn, as 5, 7, 2",
            "rotate": "by how many places, as +1 or -1",
        }[change.kind]
        yield f"Say {wanted}; “{change.to}” does not."
        return
    known = {p.n for p in face.places(c)}
    for _, to in moves:
        if to not in known:
            yield f"{c.name} has no cavity {to}."
    goes = [to for _, to in moves]
    for n in sorted({n for n in goes if goes.count(n) > 1}):
        yield f"Two terminals would go into cavity {n}."
    for n in sorted({n for pair in moves for n in pair} & known):
        if face.state(c, n) == "unusable":
            yield f"Cavity {n} of {c.id} cannot be used."
    if change.kind != "rotate":
        for n, _ in moves:
            if n in known and face.state(c, n) not in ("occupied", "unusable"):
                yield f"Cavity {n} of {c.id} holds no wire to move."


def moved(c: Connector, moves: Moves) -> Connector:
    """The face once all moves are made: all out, then all in; letters stay with the shell."""
    before = {x.n: x for x in c.cavities}
    to = dict(moves)
    out: dict[int, Cavity] = {n: x for n, x in before.items() if n not in to}
    for n, goal in moves:
        old = before.get(n, Cavity(n=n))
        there = before.get(goal, Cavity(n=goal))
        out[goal] = msgspec.structs.replace(old, n=goal, mark=there.mark)
    for n in to:
        if n not in out:
            old = before.get(n, Cavity(n=n))
            out[n] = Cavity(n=n, mark=old.mark, seen="blanked" if c.sealed else "empty")
    kept = tuple(x for _, x in sorted(out.items()) if x != Cavity(n=x.n))
    return msgspec.structs.replace(c, cavities=kept)


def steps(c: Connector, change: Change) -> tuple[str, ...]:
    """What the hands do: all out and marked, then all in."""
    moves = [(n, to) for n, to in moves_of(c, change) if face.state(c, n) == "occupied"]
    if not moves:
        return ()

    def named(n: int) -> str:
        found = face.cavity(c, n)
        return f"{n} ({face.held(found)})" if found is not None and face.held(found) else str(n)

    return (
        "Battery off; part the connector by its lock, never by the wires.",
        f"Count to {', '.join(named(n) for n, _ in moves)}, twice, from both ends.",
        f"All out first: pull {len(moves)} terminals and mark each with where it goes.",
        "All in: " + "; ".join(f"{n} into {to}" for n, to in moves) + ".",
        "Tug each; close the secondary lock; meter each before the plug goes back.",
    )


ROLE_CHECK: dict[Role, str] = {
    "feed": "battery volts to ground, key on",
    "reference": "5 V to its sensor ground, key on",
    "ground": "under 0.5 Ω to battery negative, key off",
    "sensor ground": "under 0.5 Ω to the computer’s sensor ground, key off",
    "hall": "swings between its two levels while the engine is turned",
    "reluctor": "its coil’s ohms to the other of its pair, alternating volts while cranking",
    "resistive": "its ohms, key off",
    "volts": "between 0.2 and 4.8 V, key on",
    "driver": "battery volts through its load, key on",
    "contact": "changes as it is worked",
}
"""What a meter shows at a cavity by what lies behind it."""


def checks(c: Connector, change: Change) -> tuple[str, ...]:
    """What the meter must show at each cavity once the moves are made, before it is plugged in.

    A wire whose kind is not on the paper is told by its colour only. Ω and V as they are metered.
    """
    found = []
    for n, to in moves_of(c, change):
        held = face.cavity(c, n)
        if held is None or face.state(c, n) != "occupied":
            continue
        role = kind_of(held.kind, held.circuit).role
        what = ROLE_CHECK.get(role, "say on the paper what it is, to have it metered")
        found.append(f"{to}: {held.circuit or face.held(held)}, {what}")
    return tuple(found)


def way_back(c: Connector, change: Change) -> str:
    """How it is undone on the car."""
    moves = [(to, n) for n, to in moves_of(c, change) if face.state(c, n) == "occupied"]
    return "The way back: " + "; ".join(f"{n} into {to}" for n, to in moves) + "." if moves else ""
