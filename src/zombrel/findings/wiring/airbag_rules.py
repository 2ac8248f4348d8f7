"""Rules about airbag wiring: it is never tapped, joined, or put a meter on."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from zombrel.actions.wires import remove_change
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.findings.take import best_mend
from zombrel.findings.wiring.feed_rules import fed_from
from zombrel.harness import airbag, route
from zombrel.harness.wire_reading import WireReading
from zombrel.job.edits import Put, together
from zombrel.job.reason import Reason
from zombrel.job.wiring import Wire
from zombrel.signals.supply import Ends

NEVER = (
    "It is never tapped, joined, cut or put a meter on: a few milliamps can fire it, and a fault \
in it is silent until it is needed. Licensed work only."
)


def _reason(said: str) -> Reason:
    return Reason(
        title="Airbag wiring",
        result=said,
        formula="named as airbag, squib, restraint, clock spring or a yellow sheath, or in a zone "
        "that the plan marks",
        given=(given("it says", said),),
        source="rule of the trade; the vehicle maker's own instructions",
    )


@rule("near airbags", "wire", harm=99, minutes=15)
def joins_airbag(scene: Scene, wire: Wire, r: WireReading, e: Ends) -> Iterator[Finding]:
    """A wire of ours ends at airbag wiring."""
    for side, end in (("a", wire.a), ("b", wire.b)):
        found = scene.bag(end.place, end.pin)
        if found is None:
            continue
        yield Finding(
            id=f"bag-{wire.id}-{side}",
            level="trouble",
            title=f"{wire.id} would join airbag wiring",
            text=f"{end.place} {end.pin}: {found.said}. {NEVER}",
            reason=_reason(found.said),
            mends=(
                *_elsewhere(scene, wire, side, e),
                Mend(label="Show the wire", go=f"wire:{wire.id}"),
            ),
            wire=wire.id,
        )


def _elsewhere(scene: Scene, wire: Wire, side: str, e: Ends) -> Iterator[Mend]:
    """The wire joined to something else that serves."""
    if wire.carries == "power" and e.supply is not None and e.supply.feeds:
        yield fed_from(scene, wire, e, e.supply)
    elif wire.carries == "ground":
        for stud in scene.job.studs:
            if scene.bag(stud.id) is None:
                edit = together(*route.joined_at(scene.job, wire, side, stud.id))
                yield Mend(label=f"Ground it at {stud.name}", edit=edit)
                return
    else:
        chain = next((c for c in scene.job.chains if wire.id in c.wires[:1]), None)
        source = scene.sources.get(chain.source) if chain is not None else None
        if chain is None or source is None:
            return
        if scene.bag(source.id) is not None:
            yield from best_mend(scene.raw, chain)[:1]
            return
        edit = together(*route.joined_at(scene.job, wire, side, source.id, "1"))
        yield Mend(label="Join it at the source itself", edit=edit)


@rule("job", "wire", harm=98, minutes=10)
def changes_airbag(scene: Scene) -> Iterator[Finding]:
    """A change is planned at airbag wiring, or a lead with it is to be probed."""
    for change in scene.job.changes:
        found = scene.bag(change.connector, str(change.cavity))
        if found is None:
            continue
        yield Finding(
            id=f"bag-change-{change.id}",
            level="trouble",
            title=f"Change {change.id} would touch airbag wiring",
            text=f"{change.connector} cavity {change.cavity}: {found.said}. {NEVER}",
            reason=_reason(found.said),
            mends=(
                Mend(label="Take the change out", edit=remove_change(change)),
                Mend(label="Show the connector", go=f"wire:faces/{change.id}"),
            ),
            about=(change.id, f"{change.connector}.{change.cavity}"),
        )
    for lead in scene.job.leads:
        named = [r for r in lead.rows if airbag.is_airbag(r.signal, r.colour)]
        if not named:
            continue
        keep = [i for i, r in enumerate(lead.rows) if r not in named]
        yield Finding(
            id=f"bag-lead-{lead.id}",
            level="trouble",
            title=f"{lead.name}: {len(named)} of its conductors are airbag wiring",
            text=f"{', '.join(r.signal or r.colour for r in named)}. {NEVER}",
            reason=_reason(named[0].signal or named[0].colour),
            mends=(
                Mend(
                    label="Leave them out of the probing",
                    edit=Put(path=f"leads.{lead.id}.rows", value=_rows(lead.rows, keep)),
                ),
                Mend(label="Show the lead", go=f"wire:probe/{lead.id}"),
            ),
            about=(lead.id, *(r.a for r in named)),
        )


def _rows(rows: object, keep: list[int]) -> object:
    made = msgspec.to_builtins(rows)
    return [made[i] for i in keep]


@rule("job", "source", harm=98, minutes=20)
def taps_airbag(scene: Scene) -> Iterator[Finding]:
    """A signal is taken from airbag wiring, or a feed of it was put a meter on."""
    for chain in scene.job.chains:
        found = scene.bag(chain.source)
        if found is None:
            continue
        source = scene.sources[chain.source]
        yield Finding(
            id=f"bag-tap-{chain.id}",
            level="trouble",
            title=f"{chain.title} would be taken from airbag wiring",
            text=f"{source.name}: {found.said}. {NEVER}",
            reason=_reason(found.said),
            mends=best_mend(scene.raw, chain),
            chain=chain.id,
            about=(source.id,),
        )
    for feed in scene.job.feeds:
        found = scene.bag(feed.id)
        if found is None or feed.volts is None:
            continue
        yield Finding(
            id=f"bag-meter-{feed.id}",
            level="trouble",
            title=f"{feed.name} was put a meter on",
            text=f"{found.said}. {NEVER}",
            reason=_reason(found.said),
            mends=(
                Mend(
                    label="Take the readings out",
                    edit=Put(path=f"feeds.{feed.id}.volts", value=None),
                ),
            ),
            about=(feed.id,),
        )
