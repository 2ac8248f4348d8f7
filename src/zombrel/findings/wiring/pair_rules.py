"""Rules about the pair of a pick-up, and about what stands beside the ignition."""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Rated, Scene, given
from zombrel.findings.signal.level_rules import half_a_pair
from zombrel.harness.missing import draw_return
from zombrel.job.edits import Many, Put
from zombrel.job.ledger import provenance
from zombrel.job.reason import Reason
from zombrel.signals.kinds import kind_of
from zombrel.units.measure import length_of

"""Neighbours that disturb a device, not only a lead."""


@rule("rate", "wire", harm=62, minutes=20)
def lost_half(scene: Scene, r: Rated) -> Iterator[Finding]:
    """Only one wire of a bare winding is joined: no current can flow, so nothing is seen."""
    if not half_a_pair(scene, r.chain):
        return
    edit = draw_return(scene.raw, r.chain)
    device = scene.devices[r.chain.device]
    yield Finding(
        id=f"half-{r.chain.id}",
        level="trouble",
        title=f"{r.source.name}: its second wire is missing",
        text=f"A winding gives its volts between its two wires, and only one of them reaches "
        f"{device.name} {r.chain.pin}. The other belongs beside it, twisted.",
        reason=Reason(
            title=f"{r.source.name} at the {device.name}",
            result="no closed loop",
            formula="the network from the winding's second terminal to the input's ground",
            given=(given("wires", ", ".join(r.chain.wires)),),
            source="Kirchhoff's laws; nodal analysis",
        ),
        mends=(
            *((Mend(label="Draw the second wire", edit=edit),) if edit is not None else ()),
            Mend(label="Show the wires", go=f"wire:{r.chain.wires[0]}"),
        ),
        chain=r.chain.id,
        about=r.chain.wires,
    )


@rule("rate", "wire", harm=46, minutes=10)
def untwisted(scene: Scene, r: Rated) -> Iterator[Finding]:
    """The two wires of a pick-up do not run as a twisted pair."""
    if not kind_of(r.source.spec).two_wire:
        return
    pair = [scene.wires[w] for w in r.chain.wires if scene.wires[w].carries == "signal"]
    bare = [w for w in pair if not (w.twisted or w.shielded)]
    if not bare:
        return
    names = " and ".join(w.id for w in bare)
    yield Finding(
        id=f"untwisted-{r.chain.id}",
        level="trouble",
        title=f"{r.source.name}: the pair is not twisted",
        text=f"{names} lie loose: the loop between them picks up every coil and relay it passes, "
        f"and {scene.devices[r.chain.device].name} counts that.",
        reason=Reason(
            title="Loop of a pick-up's pair",
            result=f"{names} untwisted",
            formula="what a loop picks up grows with its area; each half turn of a twist takes "
            "back what the last one picked up",
            given=tuple(
                given(
                    w.id,
                    f"{length_of(w.length_m)}, untwisted",
                    provenance(scene.job, f"wires.{w.id}.twisted"),
                )
                for w in bare
            ),
            source="Ott, Noise Reduction Techniques, §2.10",
        ),
        mends=(
            Mend(
                label="Twist the pair",
                edit=Many(edits=tuple(Put(path=f"wires.{w.id}.twisted", value=True) for w in pair)),
            ),
            Mend(label="Show the wire", go=f"wire:{bare[0].id}"),
        ),
        chain=r.chain.id,
        about=tuple(w.id for w in bare),
    )
