"""A lead as it is made on the bench: pieces, lengths, terminals for both ends, tube, parts.

A piece runs from its plug along that plug's branch, the trunk, and the branch of the other plug,
with the house's tail at each end for dressing and one mistake.

References: terminals as in ``plugs.terminal``; bundles as in ``harness.bundle``.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping

from zombrel.harness.bundle import bundle_diameter, loom_size
from zombrel.harness.conductor import outer_diameter
from zombrel.harness.plugs import face
from zombrel.harness.plugs.change_base import OTHER
from zombrel.harness.plugs.conducts import plug_of, split_pin
from zombrel.harness.plugs.function import Role, kind_of
from zombrel.harness.plugs.remap import Remap, Way, remap
from zombrel.harness.plugs.terminal import Fit, fit
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.job.wiring import Connector, Lead, LeadRow

TRUNK_M, BRANCH_M = 0.5, 0.15
"""A lead whose lengths nobody said [m]: ASSUMED."""
SECTION_MM2: dict[Role, float] = {"feed": 1.0, "ground": 1.0, "driver": 0.75}
SIGNAL_MM2 = 0.5
"""Sections of a lead by what a conductor carries [mm²], where nobody said: ASSUMED."""


class Piece(Value, frozen=True):
    """One conductor of the lead."""

    number: int
    row: LeadRow
    area_mm2: float
    length_m: float
    ends: tuple[Fit | None, Fit | None]
    """Terminals at the near and the far end; None where the family is not known."""
    counted: tuple[str, str]
    """How to count to each cavity."""


class Plug(Value, frozen=True):
    """One end of the lead."""

    name: str
    connector: Connector | None
    branch_m: float
    pieces: int
    near: bool
    """It is on the old side."""
    blanks: tuple[int, ...]
    """Cavities of a sealed plug that stay empty and want a blanking plug."""


class Build(Value, frozen=True):
    """The lead on the bench."""

    pieces: tuple[Piece, ...]
    plugs: tuple[Plug, ...]
    trunk_m: float
    bundle_mm: float
    tube_mm: float
    parts: tuple[tuple[str, int], ...]
    """(what, how many)"""


def ways_of(c: Connector) -> tuple[Way, ...]:
    """The cavities of a connector that carry something, for a remap."""
    return tuple(
        Way(f"{c.id}.{x.n}", x.circuit, x.kind, face.colour_of(x))
        for x in sorted(c.cavities, key=lambda x: x.n)
        if x.circuit
    )


def remap_of(job: Job, lead: Lead) -> Remap:
    """What of the old plugs of a lead goes where on the new ones."""
    at = index(job.connectors)
    old = [w for k in lead.old if k in at for w in ways_of(at[k])]
    new = [w for k in lead.new if k in at for w in ways_of(at[k])]
    kept = set(lead.left)
    found = remap(
        [w for w in old if w.cavity not in kept],
        [w for w in new if w.cavity not in kept],
        lead.by_hand,
    )
    unused = tuple(w for w in old if w.cavity in kept)
    missing = tuple(w for w in new if w.cavity in kept)
    return found.but(unused=found.unused + unused, missing=found.missing + missing)


def inside(lead: Lead, row: LeadRow) -> bool:
    """A row that links two cavities on one side of the lead: a jumper in it."""
    sides = [plug_of(pin) in lead.new for pin in (row.a, row.b)]
    return bool(lead.new) and sides[0] == sides[1]


def build(job: Job, lead: Lead) -> Build:
    """The pieces of a lead and what it takes.

    Raises:
        Problem: it has no conductor yet.
    """
    if not lead.rows:
        raise Problem(f"{lead.name} has no conductor yet: take what matches, or join by hand.")
    at = index(job.connectors)
    branches = dict(lead.branch_m)
    trunk = lead.trunk_m or TRUNK_M
    pieces = []
    for i, r in enumerate(lead.rows, 1):
        area = _section(job, r)
        ends = [_end(at, pin) for pin in (r.a, r.b)]
        length = 2 * job.house.tail_m + (0.0 if inside(lead, r) else trunk)
        length += sum(branches.get(name, BRANCH_M) for name, _, _ in ends)
        fits = [_fit(job, c, n, area) for _, c, n in ends]
        counted = [face.counted(c, n) if c is not None and n else "" for _, c, n in ends]
        pieces.append(Piece(i, r, area, length, (fits[0], fits[1]), (counted[0], counted[1])))
    plugs = tuple(_plug(at, branches, name, lead) for name in _names(lead))
    across = bundle_diameter([1000 * outer_diameter(p.area_mm2) for p in pieces])
    return Build(tuple(pieces), plugs, trunk, across, loom_size(across), _parts(pieces, plugs))


def _end(at: Mapping[str, Connector], pin: str) -> tuple[str, Connector | None, int]:
    plug, n = split_pin(pin)
    name = plug_of(plug)
    c = at.get(name)
    known = c is not None and n in {p.n for p in face.places(c)}
    return name, c if known else None, n or 0


def _section(job: Job, row: LeadRow) -> float:
    """By what it carries, as its circuit or the kind on the paper tells [mm²]."""
    role: Role = ""
    for pin in (row.a, row.b):
        _, c, n = _end(index(job.connectors), pin)
        found = face.cavity(c, n) if c is not None else None
        role = role or kind_of(found.kind if found else "", row.signal).role
    return SECTION_MM2.get(role, SIGNAL_MM2)


def _fit(job: Job, c: Connector | None, n: int, area: float) -> Fit | None:
    """The terminal at our end: of the other gender than the half it is pushed into."""
    family = face.family(c, n) if c is not None else ""
    if c is None or not family:
        return None
    try:
        return fit(family, area, plating=c.plating, gender=OTHER[c.terminals], own=job.terminals)
    except Problem:
        return None  # a family that no record is kept of


def _names(lead: Lead) -> list[str]:
    """Plugs of a lead, near ends first."""
    pins = [r.a for r in lead.rows] + [r.b for r in lead.rows]
    return list(dict.fromkeys(plug_of(p) for p in pins))


def _plug(at: Mapping[str, Connector], branches: dict[str, float], name: str, lead: Lead) -> Plug:
    used = set()
    c = None
    for pin in (p for r in lead.rows for p in (r.a, r.b)):
        where, found, n = _end(at, pin)
        if where == name:
            used.add(n)
            c = c or found
    free: tuple[int, ...] = ()
    if c is not None and c.sealed:
        free = tuple(p.n for p in face.places(c) if p.n not in used)
    near = name in lead.old if lead.old else any(plug_of(r.a) == name for r in lead.rows)
    return Plug(name, c, branches.get(name, BRANCH_M), len(used), near, free)


def _parts(pieces: list[Piece], plugs: tuple[Plug, ...]) -> tuple[tuple[str, int], ...]:
    """Shells, terminals with their gender, seals and blanks."""
    count: Counter[str] = Counter()
    at = {p.name: p.connector for p in plugs}
    for plug in plugs:
        c = plug.connector
        if c is None:
            continue
        gender = OTHER[c.terminals] or "mating"
        ways = len(face.places(c))
        count[f"{gender} shell for {c.name}, {ways}-way {c.family}".strip()] += 1
        if plug.blanks:
            count[f"blanking plug {c.family}"] += len(plug.blanks)
    for piece in pieces:
        for pin, found in zip((piece.row.a, piece.row.b), piece.ends, strict=True):
            c = at.get(plug_of(pin))
            if found is None:
                count["terminal of a family not known"] += 1
                continue
            gender = OTHER[c.terminals] if c is not None and c.terminals else "mating"
            count[f"{gender} terminal {found.terminal.id}"] += 1
            if found.terminal.seal:
                count[found.terminal.seal] += 1
    return tuple(sorted(count.items()))
