"""Rules about plugs: what their terminals take, and whether two halves go together."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.harness.plugs import face
from zombrel.harness.plugs.change_base import OTHER
from zombrel.harness.wire_reading import WireReading
from zombrel.job.edits import Put
from zombrel.job.follow.view import plain
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.wiring import Connector, Wire
from zombrel.signals.supply import Ends
from zombrel.units.measure import area_of


@rule("plugged", "wire", harm=56, minutes=15)
def terminal_misfits(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A wire that the terminals of a connector it goes into do not take."""
    ends = [(scene.connectors[x.place], x) for x in (wire.a, wire.b) if x.place in scene.connectors]
    for c, end in ends:
        family = face.family(c, int(end.pin)) if end.pin.isdigit() else c.family
        if not family:
            continue
        from zombrel.harness.plugs.terminal import fit  # few jobs name a family: not at start-up

        try:
            found = fit(
                family,
                wire.area_mm2,
                plating=_other_plating(scene, c),
                gender=c.terminals,
                own=plain(scene.job.terminals),
            )
        except Problem:
            continue  # of that family no record is kept
        if found.fits:
            continue
        t, near = found.terminal, found.nearest
        other = f" {near.id} would take it." if near is not None else " None on record takes it."
        thicker = wire.area_mm2 < t.least_mm2
        words = f"Take {area_of(t.least_mm2)}"
        up = Mend(label=words, edit=Put(path=f"wires.{wire.id}.area_mm2", value=t.least_mm2))
        look = Mend(label="Show the connector", go=f"wire:faces/{c.id}")
        yield Finding(
            id=f"terminal-{wire.id}-{c.id}",
            level="trouble",
            wire=wire.id,
            title=f"{wire.id} does not go with the terminals of {c.id}",
            text=f"{t.id}: {found.why}.{other}",
            reason=Reason(
                title=f"{wire.id} in {c.name}",
                result=found.why,
                formula="section within the barrel, sheath within the wings or the seal",
                given=(
                    given("section", area_of(wire.area_mm2)),
                    given("family", family),
                    given("sheath", "a thin-wall one of that section", "assumed"),
                ),
                source="the terminal’s own record; ISO 6722-1, table 4 for the sheath",
            ),
            mends=(up, look) if thicker else (look,),
        )


def _other_plating(scene: Scene, c: Connector) -> str:
    """The plating of the half that ``c`` is pushed into; empty where that is not known."""
    other = scene.connectors.get(c.mates)
    return other.plating if other is not None else ""


@rule("job", "wire", harm=54, minutes=20)
def halves_do_not_mate(scene: Scene) -> Iterator[Finding]:
    """Two halves of a plug that are pushed together and do not go together."""
    for c in scene.job.connectors:
        other = scene.connectors.get(c.mates)
        if other is None:
            continue
        for key, why, field, value in _misfits(c, other):
            put = [(c, value)] if field else []
            if key == "count" and field:  # either may be the one that was counted wrongly
                put = [(other, _turned(other).counted_on), (c, value)]
            mends = [
                Mend(
                    label=f"{x.id}: {_TAKES.get(field, 'take')} {v}",
                    edit=Put(path=f"connectors.{x.id}.{field}", value=v),
                )
                for x, v in put
            ]
            yield Finding(
                id=f"halves-{c.id}-{key}",
                level="trouble",
                title=f"{c.id} and {other.id} do not go together",
                text=f"{why}.",
                reason=Reason(
                    title=f"{c.name} into {other.name}",
                    result=why,
                    formula="one gender each, one family, as many cavities, alike plating and seal",
                    given=tuple(
                        given(x.id, f"{x.family or 'family not said'}, {x.terminals or '?'}")
                        for x in (c, other)
                    ),
                    source="rule of the trade; unlike platings fret (SAE/USCAR-2 asks for like)",
                ),
                mends=(
                    *mends,
                    Mend(label="Show the connector", go=f"wire:faces/{c.id}"),
                ),
                about=(c.id, other.id),
            )


_TAKES = {"counted_on": "it is counted on the"}


def _turned(c: Connector) -> Connector:
    """The same, counted on its other side."""
    side = "mating face" if c.counted_on == "wire side" else "wire side"
    return msgspec.structs.replace(c, counted_on=side)


def _misfits(c: Connector, other: Connector) -> Iterator[tuple[str, str, str, object]]:
    """(key, why, field of ``c`` that would put it right, its value)."""
    if c.terminals and c.terminals == other.terminals:
        why = f"Both have {c.terminals} terminals: nothing meets"
        yield "gender", why, "terminals", OTHER[other.terminals]
    if c.family and other.family and c.family != other.family:
        yield "family", f"{c.family} does not take {other.family}", "family", other.family
    if c.plating and other.plating and c.plating != other.plating:
        why = f"{c.plating.capitalize()} on {other.plating} frets and grows resistance"
        yield "plating", why, "plating", other.plating
    ways = len(face.places(c)), len(face.places(other))
    if ways[0] != ways[1]:
        yield "ways", f"{c.id} has {ways[0]} cavities and {other.id} has {ways[1]}", "", ""
    elif not face.meet(c, other):
        mirrored = face.meet(_turned(c), other)
        how = "they are mirror images" if mirrored else "they are other faces"
        why = f"As drawn cavity 1 of {c.id} does not meet cavity 1 of {other.id}: {how}"
        yield "count", why, "counted_on" if mirrored else "", _turned(c).counted_on
    if c.sealed != other.sealed and (c.family or other.family):
        dry = c.id if other.sealed else other.id
        yield "seal", f"{dry} has no seal and its other half has one: water gets in", "", ""
