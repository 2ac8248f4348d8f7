"""Changes to a connector: what is done in which order, with which parts, and the face after it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

import msgspec

from zombrel.harness import joint
from zombrel.harness.plugs import face
from zombrel.harness.plugs.change_base import (
    OTHER,
    PULL,
    Part,
    airbag,
    counting,
    put,
    target,
    with_,
)
from zombrel.harness.plugs.other_changes import OTHERS
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.wiring import Cavity, Change, Connector
from zombrel.units.measure import area_of, short_of

KINDS: dict[str, str] = {
    "tap": "tap: our wire joins the one that is there",
    "intercept": "intercept: the wire is cut out and goes through our device",
    "add": "add: our wire into a vacant cavity",
    "move": "move: the wire goes to another cavity",
    "remap": "remap: the wire goes to another computer's connector",
    "blank": "blank: the empty cavity is closed",
    "jumper": "jumper: a short wire of ours joins two cavities",
    "pull": "pull: the wire comes out, is insulated and tied back",
    "swap": "swap: two terminals change places",
    "cycle": "cycle: terminals go round, each into the next",
    "rotate": "rotate: every terminal goes so many places on",
}
_LOOK: dict[str, str] = {
    "not looked into": "has not been looked into: see that it is empty",
    "terminal": "holds a terminal, which must come out first",
}


def troubles(job: Job, change: Change) -> Iterator[str]:
    """Why a change cannot be made as it stands; nothing once it is made."""
    if change.state != "planned":
        return
    c = by_id(job.connectors, change.connector)
    if c is None:
        yield f"There is no connector “{change.connector}” in this job."
        return
    if change.cavity not in {p.n for p in face.places(c)}:
        yield f"{c.name} has no cavity {change.cavity}."
        return
    own = OTHERS.get(change.kind)
    if own is not None:
        yield from own.troubles(job, c, change)
        return
    yield from _troubles(job, c, change)


def _troubles(job: Job, c: Connector, change: Change) -> Iterator[str]:
    """Of what goes into a cavity, or out of one."""
    how = face.state(c, change.cavity)
    if how == "unusable":
        yield f"Cavity {change.cavity} of {c.id} cannot be used."
    if change.kind == "add" and how == "occupied":
        yield f"Cavity {change.cavity} of {c.id} is taken; choose a vacant one, or tap it."
    if change.kind == "add" and how in ("not looked into", "terminal"):
        yield f"Cavity {change.cavity} of {c.id} {_LOOK[how]}."
    if change.kind != "add" and how not in ("occupied", "unusable"):
        yield f"Cavity {change.cavity} of {c.id} holds no wire to {change.kind}."
    if airbag(job, c, change.cavity):
        yield f"Cavity {change.cavity} of {c.id} is airbag wiring: it is never touched."
    if change.kind in ("move", "remap"):
        yield from _goal(job, change)
    yield from _gauge(job, change, c)


def _goal(job: Job, change: Change) -> Iterator[str]:
    goal = target(job, change)
    if goal is None:
        yield f"Say where it goes as CONNECTOR.CAVITY; “{change.to}” is no such place."
    elif (there := face.state(*goal)) not in ("vacant", "blanked"):
        words = _LOOK.get(there, f"is {there}; choose a vacant one")
        yield f"{goal[0].id} cavity {goal[1]} {words}."


def _gauge(job: Job, change: Change, c: Connector) -> Iterator[str]:
    wire = by_id(job.wires, change.wire)
    if wire is None or change.kind == "tap" or not c.most_mm2:
        return
    if not c.least_mm2 <= wire.area_mm2 <= c.most_mm2:
        yield (
            f"{wire.id} is {area_of(wire.area_mm2)}; the terminals of {c.id} take "
            f"{c.least_mm2:g} to {area_of(c.most_mm2)}."
        )


def after(job: Job, change: Change) -> tuple[Connector, ...]:
    """The connectors it touches, as they are once it is made.

    Raises:
        Problem: the change cannot be made; the text says why.
    """
    for trouble in troubles(job, change):
        raise Problem(trouble)
    c = by_id(job.connectors, change.connector)
    assert c is not None  # no trouble was found
    own = OTHERS.get(change.kind)
    if own is not None:
        return own.after(job, c, change)
    wire = by_id(job.wires, change.wire)
    ours = wire.colour if wire is not None else ""
    what = f"{change.wire} ours" if change.wire else "ours"
    old = face.cavity(c, change.cavity) or Cavity(n=change.cavity)
    if change.kind == "tap":
        return (put(c, msgspec.structs.replace(old, circuit=with_(old.circuit, what))),)
    if change.kind in ("add", "intercept"):
        ours_in = Cavity(n=change.cavity, colour=ours, circuit=what, mark=old.mark, seen="wire")
        return (put(c, ours_in),)
    goal = target(job, change)
    assert goal is not None  # no trouble was found
    where, n = goal
    there = face.cavity(where, n) or Cavity(n=n)
    moved = msgspec.structs.replace(old, n=n, mark=there.mark)
    left = Cavity(n=old.n, mark=old.mark, seen="blanked" if c.sealed else "empty")
    if where.id == c.id:
        return (put(put(c, left), moved),)
    return (put(c, left), put(where, moved))


def steps(job: Job, change: Change) -> tuple[str, ...]:
    """What the hands do, in order."""
    c = by_id(job.connectors, change.connector)
    if c is None:
        return ()
    own = OTHERS.get(change.kind)
    return own.steps(job, c, change) if own is not None else _steps(job, c, change)


def _steps(job: Job, c: Connector, change: Change) -> tuple[str, ...]:
    """Of what goes into a cavity, or out of one."""
    wire = by_id(job.wires, change.wire)
    area = wire.area_mm2 if wire is not None else 0.5
    ours = f"{wire.id} ({wire.colour})" if wire is not None else "our wire"
    zone = by_id(job.zones, c.zone)
    count = counting(c, change.cavity)
    if change.kind == "tap":
        sensor = wire is not None and wire.carries == "signal"
        how = joint.choose("wire", zone, job.house, area, sensor)
        return (
            *count,
            f"Free the wire {short_of(0.06)} behind the connector; join {ours}: {how.words} "
            f"({how.why}).",
            *how.hands,
        )
    crimp = joint.choose("cavity", zone, job.house, area).hands
    pull = PULL
    seal = ("Slide a seal on.",) if c.sealed else ()
    blank = (
        ("Draw or drill out the blanking plug.",)
        if face.state(c, change.cavity) == "blanked"
        else ()
    )
    if change.kind == "add":
        return (*count, *blank, f"Make the end of {ours}:", *seal, *crimp)
    if change.kind == "intercept":
        other = OTHER[c.terminals] or "matching"
        return (
            *count,
            pull,
            f"Put the terminal that came out into the mating shell on our side ({other} half).",
            f"Make the end of {ours} with a {c.terminals or 'harness-side'} terminal:",
            *seal,
            *crimp,
            "Join the mating shell to our device's lead; both halves are strapped together.",
        )
    goal = target(job, change)
    where = f"{goal[0].id} cavity {goal[1]} ({face.counted(*goal)})" if goal else change.to
    close = (f"Blank cavity {change.cavity} of {c.id}.",) if c.sealed else ()
    new = (
        ("If the terminal family differs there, cut it off and crimp the new one on.",)
        if goal and goal[0].family != c.family
        else ()
    )
    return (
        *count,
        pull,
        *new,
        f"Push it into {where} until it clicks.",
        *close,
        "Tug; close the secondary lock; write the change on the label.",
    )


def parts(job: Job, change: Change) -> tuple[Part, ...]:
    """What it takes: terminals, seals, blanks, shrink."""
    c = by_id(job.connectors, change.connector)
    if c is None:
        return ()
    own = OTHERS.get(change.kind)
    return own.parts(job, c, change) if own is not None else _parts(job, c, change)


def _parts(job: Job, c: Connector, change: Change) -> tuple[Part, ...]:
    """Of what goes into a cavity, or out of one."""
    family = f" {c.family}" if c.family else ""
    wire = by_id(job.wires, change.wire)
    area = wire.area_mm2 if wire is not None else 0.5
    if change.kind == "tap":
        sensor = wire is not None and wire.carries == "signal"
        how = joint.choose("wire", by_id(job.zones, c.zone), job.house, area, sensor)
        shrink = (
            ()
            if how.method == "tap"
            else (Part(name=f"sealed shrink, {short_of(0.04)}", kind="joint"),)
        )
        return (Part(name=f"{how.words}, {area_of(area)}", kind="joint"), *shrink)
    mine = Part(name=f"{c.terminals} terminal{family}, {area_of(area)}".strip(), kind="terminal")
    seal = (Part(name=f"wire seal{family}", kind="terminal"),) if c.sealed else ()
    if change.kind == "add":
        return (mine, *seal)
    if change.kind == "intercept":
        other = Part(name=f"{OTHER[c.terminals]} shell{family}, 1-way".strip(), kind="connector")
        spare = Part(
            name=f"{OTHER[c.terminals]} terminal{family}, {area_of(area)}".strip(),
            kind="terminal",
        )
        return (mine, spare, other, *seal)
    goal = target(job, change)
    new: tuple[Part, ...] = ()
    if goal is not None and goal[0].family != c.family:
        name = f"{goal[0].terminals} terminal {goal[0].family}, {area_of(area)}".strip()
        new = (Part(name=name, kind="terminal"),)
    blank = (Part(name=f"blanking plug{family}", kind="terminal"),) if c.sealed else ()
    return (*new, *blank)


def together(found: tuple[Part, ...]) -> tuple[Part, ...]:
    """Like parts counted as one line, in the order they were first met."""
    total: Counter[tuple[str, str, str]] = Counter()
    for p in found:
        total[p.kind, p.name, p.unit] += p.count  # type: ignore[assignment]
    return tuple(Part(kind=k, name=n, unit=u, count=round(c, 3)) for (k, n, u), c in total.items())
