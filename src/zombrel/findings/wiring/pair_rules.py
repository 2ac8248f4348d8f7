"""Rules about the pair of a pick-up, and about what stands beside the ignition."""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Rated, Scene, given
from zombrel.findings.signal.level_rules import half_a_pair
from zombrel.harness import route
from zombrel.harness.missing import draw_return
from zombrel.job.edits import Edit, Many, Put, together
from zombrel.job.ledger import provenance
from zombrel.job.reason import Reason
from zombrel.job.wiring import Zone
from zombrel.signals.kinds import kind_of
from zombrel.units.measure import length_of, short_of

NOISY = ("coil", "ignition lead")
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


@rule("job", "wire", harm=48, minutes=20)
def beside_ignition(scene: Scene) -> Iterator[Finding]:
    """A device is mounted where coils or ignition leads are."""
    zones = {z.id: z for z in scene.job.zones}
    for device in scene.job.devices:
        zone = zones.get(device.zone)
        near = [n for n in zone.near if n.what in NOISY] if zone is not None else []
        if zone is None or not near or device.sheet.capacitor_discharge:
            continue
        quiet = _quiet(tuple(zones.values()), zone)
        yield Finding(
            id=f"ignition-{device.id}",
            level="trouble",
            title=f"{device.name} sits beside {near[0].name}",
            text=f"{zone.name} is {short_of(near[0].spacing_m)} from it. A box there counts "
            "sparks, or resets; modules are mounted dry, cool and away from the ignition.",
            reason=Reason(
                title=f"Where {device.name} is mounted",
                result=zone.name,
                formula="the plan marks what a zone is near",
                given=(
                    given(
                        near[0].name,
                        short_of(near[0].spacing_m),
                        provenance(scene.job, f"zones.{zone.id}.near"),
                    ),
                ),
                source="rule of the trade",
            ),
            mends=(
                *(
                    (
                        Mend(
                            label=f"Mount it: {quiet.name}",
                            edit=_moved(scene, device.id, quiet.id),
                        ),
                    )
                    if quiet is not None
                    else ()
                ),
                Mend(label="Show the plan", go=f"wire:plan/{device.id}"),
            ),
            about=(device.id, zone.id),
        )


def _moved(scene: Scene, device: str, zone: str) -> Edit:
    """A device mounted in another zone, its wires laid there the best way."""
    put = Put(path=f"devices.{device}.zone", value=zone)
    after = scene.after(put)
    best = route.route_all(after)
    ours = [w for w in after.wires if w.via and device in (w.a.place, w.b.place)]
    laid = [Put(path=f"wires.{w.id}.via", value=list(best[w.id])) for w in ours if w.id in best]
    return together(put, *laid)


def _quiet(zones: tuple[Zone, ...], here: Zone) -> Zone | None:
    """The nearest zone that is cool, dry, still, and away from all that is marked."""
    good = [
        z
        for z in zones
        if not (z.near or z.wet or z.moving or z.airbag or z.lifted or z.over_ambient_k > COOL_K)
    ]
    return min(good, key=lambda z: (z.x_m - here.x_m) ** 2 + (z.y_m - here.y_m) ** 2, default=None)


COOL_K = 12.0
"""A place no hotter than this over outside air suits a module [K]: ASSUMED."""
