"""Probing a lead: which two cavities next, what has been found, and the pin-out put right.

First the shortest order that would find anything wrong. Where two conductors of a plug do not
answer, a slip of the whole plug is hunted at once. Then, for each conductor that did not answer,
the search for where it went: far ends that are missing theirs first, then the cavities beside,
then the rest of that plug.
"""

from __future__ import annotations

import functools
import itertools
from collections.abc import Mapping, Sequence

import msgspec

from zombrel.harness.plugs import face, hunt
from zombrel.harness.plugs.conducts import Nets, Pair, plug_of, split_pin
from zombrel.harness.plugs.continuity import Continuity, compare
from zombrel.harness.plugs.probing import Probe, probe_order
from zombrel.harness.plugs.slips import Map
from zombrel.job.follow.query import query
from zombrel.job.value import Value
from zombrel.job.wiring import Answer, Connector, Lead, LeadRow


class Progress(Value, frozen=True):
    """How far the probing of a lead is."""

    done: int
    left: int
    """Probes of the first round still to make."""
    searching: bool
    """The first round is over and something is being looked for."""
    next: Probe | None


def pairs(lead: Lead) -> tuple[Pair, ...]:
    """The conductors the paper gives."""
    return tuple((r.a, r.b) for r in lead.rows)


def order(lead: Lead) -> tuple[Probe, ...]:
    """The first round."""
    return _order(lead.rows, lead.beside)


@functools.lru_cache(maxsize=8)
def _order(rows: tuple[LeadRow, ...], beside: tuple[Pair, ...]) -> tuple[Probe, ...]:
    return probe_order([(r.a, r.b) for r in rows], beside or None)


def with_faces(lead: Lead, connectors: tuple[Connector, ...]) -> Lead:
    """The lead with its neighbours as they lie on the faces that are known.

    Plugs without a face keep those that follow in number; a lead without any known face is left
    to that altogether.
    """
    beside = beside_on(pairs(lead), faces_of(connectors))
    return msgspec.structs.replace(lead, beside=beside)


def beside_on(rows: Sequence[Pair], faces: Mapping[str, Connector]) -> tuple[Pair, ...]:
    """Cavities side by side on the faces that are known; empty where no plug has one."""
    plugs: dict[str, list[int]] = {}
    for pin in (p for row in rows for p in row):
        plug, n = split_pin(pin)
        if n is not None:
            plugs.setdefault(plug, []).append(n)
    if not any(plug_of(plug) in faces for plug in plugs):
        return ()
    found: list[Pair] = []
    for plug, numbers in plugs.items():
        c = faces.get(plug_of(plug))
        near = face.neighbours(c) if c is not None else itertools.pairwise(sorted(set(numbers)))
        found += [(f"{plug}{a}", f"{plug}{b}") for a, b in near]
    return tuple(found)


def _said(lead: Lead) -> dict[frozenset[str], bool]:
    """The last answer for each two cavities."""
    return {frozenset((x.a, x.b)): x.conducts for x in lead.answers}


def progress(lead: Lead, connectors: tuple[Connector, ...] = ()) -> Progress:
    """What to touch next; ``connectors`` whose ids are names of its plugs give their faces."""
    said = _said(lead)
    first = order(lead)
    left = [p for p in first if frozenset((p.a, p.b)) not in said and not _elsewhere(p, said)]
    slip = hunt.next_probe(pairs(lead), said, faces_of(connectors))
    if slip is not None:
        return Progress(len(lead.answers), len(left), True, slip)
    if left:
        return Progress(len(lead.answers), len(left), False, left[0])
    found = next(iter(_search(lead, said, first, _columns(connectors))), None)
    return Progress(len(lead.answers), 0, found is not None, found)


def faces_of(connectors: tuple[Connector, ...]) -> dict[str, Connector]:
    """Faces by the name of their plug."""
    return {c.id: c for c in connectors}


def _columns(connectors: tuple[Connector, ...]) -> dict[str, int]:
    """Cavities in a row of each connector, where its rows are alike."""
    return {c.id: c.columns for c in connectors if not c.places and not c.round}


def _elsewhere(probe: Probe, said: dict[frozenset[str], bool]) -> bool:
    """A conductor that was met at another cavity needs no probe where the paper has it."""
    return probe.conducts and len(probe.rows) == 1 and _found(*probe.rows[0], said)


def _search(
    lead: Lead,
    said: dict[frozenset[str], bool],
    first: tuple[Probe, ...],
    columns: Mapping[str, int],
) -> list[Probe]:
    """Probes still worth making once the first round is over, the most telling first."""
    rows: list[Pair] = []
    for p in first:
        if p.conducts and said.get(frozenset((p.a, p.b))) is False:
            rows += p.rows
    for a, b in rows:
        if frozenset((a, b)) not in said and not _found(a, b, said):
            return [Probe(a, b, conducts=True, rows=((a, b),))]
    lost = [r for r in rows if said.get(frozenset(r)) is False]
    placed = {x for pair, yes in said.items() if yes for x in pair}
    for a, b in lost:
        if _found(a, b, said):
            continue
        for other in _candidates(
            b,
            [y for _, y in lost if y != b],
            lead,
            placed,
            columns.get(plug_of(b), 0),
        ):
            if frozenset((a, other)) not in said:
                return [Probe(a, other, conducts=False)]
    return []


def _found(a: str, b: str, said: dict[frozenset[str], bool]) -> bool:
    """The conductor from ``a`` was met at another cavity of ``b``'s plug."""
    plug = split_pin(b)[0]
    return any(
        yes and a in pair and any(split_pin(x)[0] == plug for x in pair if x != a)
        for pair, yes in said.items()
    )


def _candidates(
    b: str, missing: list[str], lead: Lead, placed: set[str], columns: int
) -> list[str]:
    """Cavities where the conductor that should be in ``b`` may be, the likeliest first."""
    plug, n = split_pin(b)
    out = list(missing)
    if n is not None:
        known = [split_pin(r.b)[1] or 0 for r in lead.rows if split_pin(r.b)[0] == plug]
        top = max(known, default=n)
        steps = [1, -1, *((columns, -columns) if columns else ())]
        near = [n + s for s in steps]
        rest = sorted(range(1, top + 1), key=lambda k: abs(k - n))
        out += [f"{plug}{k}" for k in (*near, *rest) if 1 <= k <= top + 1]
    return [x for x in dict.fromkeys(out) if x != b and (x in missing or x not in placed)]


def seen(lead: Lead) -> tuple[Pair, ...]:
    """What conducts, as far as it was asked; conductors not asked for yet count as right."""
    said = _said(lead)
    found: list[Pair] = [tuple(sorted(pair)) for pair, yes in said.items() if yes]  # type: ignore[misc]
    for p in order(lead):
        yes = said.get(frozenset((p.a, p.b)))
        if p.conducts and yes is not False and not (yes is None and _elsewhere(p, said)):
            found += p.rows
    for a, b in pairs(lead):
        if said.get(frozenset((a, b))):
            found.append((a, b))
    return tuple(dict.fromkeys(found))


@query
def result(lead: Lead, connectors: tuple[Connector, ...] = ()) -> Continuity:
    """The comparison as it stands."""
    return compare(pairs(lead), seen(lead), faces_of(connectors))


def whole(lead: Lead, connectors: tuple[Connector, ...] = ()) -> bool:
    """Everything was probed."""
    return bool(lead.rows) and progress(lead, connectors).next is None


def slips_so_far(lead: Lead, connectors: tuple[Connector, ...] = ()) -> dict[str, Map]:
    """The slip of each plug that what was answered makes sure by now."""
    return hunt.named(pairs(lead), _said(lead), faces_of(connectors))


def metered(lead: Lead, conducting: Sequence[Pair], connectors: tuple[Connector, ...] = ()) -> Lead:
    """The lead with every probe answered as a meter would that finds ``conducting``."""
    nets = Nets(conducting)
    while (now := progress(lead, connectors).next) is not None:
        said = Answer(a=now.a, b=now.b, conducts=nets.joined(now.a, now.b))
        lead = msgspec.structs.replace(lead, answers=(*lead.answers, said))
    return lead
