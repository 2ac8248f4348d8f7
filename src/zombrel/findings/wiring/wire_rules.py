"""Rules about conductors, feeds and connectors."""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Rated, Scene, given
from zombrel.findings.wiring.harness_rules import keep_off, reroute
from zombrel.harness import coupling
from zombrel.harness.laid import device_ids
from zombrel.harness.plugs import face
from zombrel.harness.wire_reading import WireReading
from zombrel.job.edits import Put
from zombrel.job.follow.query import chunks, query
from zombrel.job.follow.view import plain
from zombrel.job.ledger import at_least, evidence, known, known_lines, provenance
from zombrel.job.model import Job, index
from zombrel.job.reason import Reason
from zombrel.job.wiring import End, Neighbour, Wire
from zombrel.signals import law as laws
from zombrel.signals.supply import Ends
from zombrel.units.measure import short_of

Loose = tuple[str, str, End]
"""A wire, its side, and where that ends."""

ROOM = 2.0
"""A car is no wider: a greater spacing is no advice [m]."""


@rule("plugged", "wire", harm=75, minutes=5)
def like_colours(scene: Scene, wire: Wire, reading: WireReading, e: Ends) -> Iterator[Finding]:
    """A wire is joined by colour where two wires in the connector share it."""
    for side, end in (("a", wire.a), ("b", wire.b)):
        connector = scene.connectors.get(end.place)
        if connector is None:
            continue
        path = f"wires.{wire.id}.{side}"
        twins = _twins(scene.job, end.place, end.pin)
        if not twins or at_least(scene.job, path, "counted"):
            continue
        colour = twins[0][1]
        others = ", ".join(str(n) for n, _ in twins)
        known = provenance(scene.job, path)
        yield Finding(
            id=f"colour-{wire.id}-{side}",
            level="trouble",
            title=f"Two {colour} wires in {connector.id}",
            text=f"Cavities {end.pin} and {others} look alike. {wire.id} is known by "
            f"{known or 'nothing'} only: count the cavity from {connector.key or 'cavity 1'}.",
            reason=Reason(
                title="Wires of one colour in one connector",
                result=f"{end.pin} and {others}",
                formula="same colour, evidence below a counted pin",
                given=(given(f"{wire.id} {side}", f"{connector.id} cavity {end.pin}", known),),
                source="rule of the trade: a colour proves nothing where two share it",
            ),
            mends=(
                Mend(
                    label=f"Counted: it is {end.pin}",
                    edit=evidence(scene.job, path, "counted", "counted from the key", value=end),
                ),
                Mend(label="Show the face", go=f"wire:{wire.id}"),
            ),
            wire=wire.id,
        )


@query
def _twins(job: Job, connector: str, pin: str) -> tuple[tuple[int, str], ...]:
    """The other cavities of a connector whose wire has the colour of this one's."""
    cavities = plain(index(job.connectors)[connector].cavities)
    mine = next((c for c in cavities if str(c.n) == pin), None)
    colour = face.colour_of(mine) if mine is not None else ""
    if mine is None or not colour:
        return ()
    return tuple([(c.n, colour) for c in cavities if face.colour_of(c) == colour and c.n != mine.n])


@rule("rate", "wire", harm=60, minutes=20)
def noise(scene: Scene, r: Rated) -> Iterator[Finding]:
    """A signal lead picks up more than half its threshold from the ignition."""
    ohm = r.give.winding_ohm or 100.0
    for key in r.chain.wires:
        wire = scene.wires[key]
        for i, near in enumerate(wire.neighbours):
            yield from _noisy(scene, wire, i, near, ohm, r.law, r.chain.title)


def _noisy(
    scene: Scene, wire: Wire, i: int, near: Neighbour, ohm: float, rate_law: laws.Law, title: str
) -> Iterator[Finding]:
    at = (near.what, near.spacing_m, near.along_m, ohm)
    peak = coupling.noise(*at, wire.twisted, wire.shielded)
    allowed = rate_law.first_threshold / 2
    if peak <= allowed or allowed <= 0:
        return
    clear = max(
        coupling.clear_spacing(near.what, near.along_m, ohm, allowed),
        scene.job.house.coil_clear_m,
    )
    clear = -(-clear // 0.05) * 0.05
    path = f"wires.{wire.id}.neighbours.{i}.spacing_m"
    moved = Mend(label=f"Keep {short_of(clear)} off", edit=keep_off(scene, wire, near, clear))
    twist = Mend(label="Twist the pair", edit=Put(path=f"wires.{wire.id}.twisted", value=True))
    twisted = coupling.noise(*at, twisted=True)
    screen = Mend(label="Shield it", edit=Put(path=f"wires.{wire.id}.shielded", value=True))
    screened = coupling.noise(*at, wire.twisted, shielded=True)
    yield Finding(
        id=f"noise-{wire.id}-{i}",
        level="trouble" if peak > rate_law.first_threshold else "watch",
        title=f"{title} lead passes {near.name}",
        text=f"{wire.id} runs {short_of(near.spacing_m)} from it for "
        f"{short_of(near.along_m)}: up to {peak:.2g} V of noise against a threshold of "
        f"{rate_law.first_threshold:.2g} V.",
        reason=Reason(
            title="Noise picked up from the ignition",
            result=f"{peak:.2f} V peak",
            formula="V = R · Cm · dV/dt",
            given=(
                given("source resistance", f"{ohm:.0f} Ω"),
                given("spacing", short_of(near.spacing_m), provenance(scene.job, path)),
                given("alongside", short_of(near.along_m)),
                given("dV/dt", "20 kV/µs"),
            ),
            source="Paul, Electromagnetic Compatibility, §9; Ott, §2.2",
            assumption=f"loom {short_of(0.01)} above the body sheet; one spark breaks down within "
            "1 µs",
        ),
        mends=(
            *(reroute(scene.job, wire, lambda z: z.id != near.zone) if near.zone else ()),
            *((twist,) if not wire.twisted and twisted <= allowed else ()),
            *((moved,) if clear <= ROOM else ()),
            *((screen,) if not wire.shielded and screened <= allowed < twisted else ()),
            Mend(label="Show the wire", go=f"wire:{wire.id}"),
        ),
        wire=wire.id,
    )


def _loose(job: Job) -> list[Loose]:
    """Ends in the vehicle that are known on less than a counted pin."""
    return [end for ids in chunks(job.wires, 25) for end in plain(_loose_of(job, ids))]


@query
def _loose_of(job: Job, ids: tuple[str, ...]) -> tuple[Loose, ...]:
    devices = device_ids(job)
    lines, wires = plain(known_lines(job.ledger)), index(job.wires)
    return tuple(
        [
            (wire.id, side, end)
            for wire in [wires[key] for key in ids]
            for side, end in (("a", wire.a), ("b", wire.b))
            if end.place not in devices
            and not known(lines, f"wires.{wire.id}.{side}", end, "counted")
        ]
    )


@rule("job", "wire", harm=40)
def uncounted(scene: Scene) -> Iterator[Finding]:
    """Joints into the vehicle that rest on less than a counted pin."""
    loose = _loose(scene.job)
    if not loose:
        return
    names = ", ".join(dict.fromkeys(wire for wire, *_ in loose))
    yield Finding(
        id="uncounted",
        level="watch",
        title=f"{len(loose)} joint{'s' if len(loose) > 1 else ''} not counted yet",
        text=f"{names}: no connection is made on less than a counted pin.",
        minutes=4.0 * len(loose),
        reason=Reason(
            title="Ends in the vehicle below a counted pin",
            result=str(len(loose)),
            formula="evidence for the end < counted",
            given=tuple(
                given(
                    f"{w} {s}",
                    f"{e.place} {e.pin}".strip(),
                    provenance(scene.job, f"wires.{w}.{s}"),
                )
                for w, s, e in loose[:12]
            ),
            source="house rule",
        ),
        mends=(Mend(label="Go through them", go=f"wire:{loose[0][0]}"),),
    )
