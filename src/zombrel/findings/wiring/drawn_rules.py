"""Rules about how wires are drawn: what they join, and what they must not."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import msgspec

from zombrel.actions.parts import remove_wire
from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.harness import route
from zombrel.harness.missing import draw, draw_device, start_of
from zombrel.harness.nets import Node, bare_pins, nets
from zombrel.harness.plugs import face
from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.ledger import provenance
from zombrel.job.model import Chain, Device, Job, index
from zombrel.job.reason import Reason
from zombrel.job.value import Value
from zombrel.job.wiring import Change, Connector, End, Wire
from zombrel.signals.circuit.islands import joints


def _drawn_anew(scene: Scene, wire: str) -> Edit:
    """A wire taken out, and what is then missing drawn as it should be."""
    out = remove_wire(scene.raw, wire)
    anew = draw(scene.after(out))
    return out if anew is None else together(out, anew)


@rule("job", "wire", harm=68)
def undrawn_supplies(scene: Scene) -> Iterator[Finding]:
    """A device whose supply or ground no wire is drawn to: it cannot work."""
    if not scene.job.wires:
        return
    for device in scene.job.devices:
        bare = list(bare_pins(scene.job, device.id))
        if not bare:
            continue
        edit = _drawn_for(scene, device, bare)
        yield Finding(
            id=f"undrawn-{device.id}",
            level="trouble",
            title=f"{device.name} cannot work: {', '.join(bare)} not drawn",
            text=f"No wire leads to {' and '.join(bare)} from where it is supplied. What is worked "
            "out about it takes its supply and ground for good until one does.",
            minutes=5.0 * len(bare),
            reason=Reason(
                title=f"Supply and ground of {device.name}",
                result=", ".join(bare),
                formula="power and ground pins of its sheet that no wire joins to a feed or a stud",
                given=tuple(given(pin, "no wire") for pin in bare),
                source="device sheet",
            ),
            mends=(
                *((Mend(label="Draw them", edit=edit),) if edit is not None else ()),
                Mend(label="Show the wires", go="wire:list"),
            ),
            about=(device.id, *(f"{device.id}.{pin}" for pin in bare)),
        )


def _drawn_for(scene: Scene, device: Device, bare: list[str]) -> Edit | None:
    """The wires that lead nowhere taken out, and those that are missing drawn."""
    ends = {(device.id, pin) for pin in bare}
    idle = [w for w in scene.raw.wires if ends & {(e.place, e.pin) for e in (w.a, w.b)}]
    out = [remove_wire(scene.raw, w.id) for w in idle]
    anew = draw_device(scene.after(together(*out)) if out else scene.raw, device.id)
    return together(*out, anew) if anew is not None else None


@rule("job", "wire", harm=73, minutes=10)
def wrong_end(scene: Scene) -> Iterator[Finding]:
    """A wire of a signal ends somewhere else than the signal does."""
    wires = plain(joints(scene.job))
    for chain in scene.job.chains:
        if not chain.wires:
            continue
        key, source = chain.wires[0], scene.sources[chain.source]
        a, b = wires[key]
        here = End(place=chain.device, pin=chain.pin)
        there = start_of(source)
        if here not in (a, b):
            other = "a" if _fits(scene, b, there) and not _fits(scene, a, there) else "b"
            yield _astray(scene, chain, scene.wires[key], other, here)
        elif not _fits(scene, a if b == here else b, there):
            yield _astray(scene, chain, scene.wires[key], "a" if b == here else "b", there)
        else:
            yield from _second_astray(scene, chain)


def _second_astray(scene: Scene, chain: Chain) -> Iterator[Finding]:
    """A further wire of a signal that ends at a pin of a device it has nothing to do with."""
    sheet = scene.devices[chain.device].sheet
    own = {chain.pin, f"{chain.pin}-"} | {s.pin for s in sheet.supplies if s.kind == "ground"}
    own |= {sheet.sensor_ground} - {""}
    begin = start_of(scene.sources[chain.source]).place
    for key in chain.wires[1:]:
        for side, end in zip("ab", plain(joints(scene.job))[key], strict=True):
            if end.place not in scene.devices or end.place == begin:
                continue
            if end.place != chain.device or end.pin not in own:
                right = End(place=chain.device, pin=f"{chain.pin}-")
                yield _astray(scene, chain, scene.wires[key], side, right)
                return


def _fits(scene: Scene, end: End, wanted: End) -> bool:
    """Whether an end may be where a source is had: at it, or in a connector of the vehicle."""
    if end.place in scene.connectors:
        return True
    if wanted.place in scene.devices:
        return end == wanted
    return end.place == wanted.place


def _astray(scene: Scene, chain: Chain, wire: Wire, side: str, right: End) -> Finding:
    now = wire.a if side == "a" else wire.b
    said = f"{now.place} {now.pin}".strip()
    wanted = f"{right.place} {right.pin}".strip()
    edit = together(*route.joined_at(scene.job, wire, side, right.place, right.pin))
    known = provenance(scene.job, f"wires.{wire.id}.{side}")
    return Finding(
        id=f"astray-{chain.id}",
        level="trouble",
        title=f"{wire.id} ends at {said}, not at {wanted}",
        text=f"{chain.title} goes from {scene.sources[chain.source].name} to "
        f"{scene.devices[chain.device].name} {chain.pin}; the wire that is to carry it does not.",
        reason=Reason(
            title=f"Ends of {wire.id}",
            result=said,
            formula="the ends of a signal's wire are its source and its input",
            given=(given(f"{wire.id} {side}", said, known),),
            source="the job's own signals",
        ),
        mends=(
            Mend(label=f"Join it to {wanted}", edit=edit),
            Mend(label="Show the wire", go=f"wire:{wire.id}"),
        ),
        chain=chain.id,
        wire=wire.id,
    )


class InCavity(Value, frozen=True):
    """An end of a wire in a cavity of a connector."""

    wire: str
    side: str


@query
def _in_cavities(job: Job) -> dict[tuple[str, int], tuple[InCavity, ...]]:
    """Ends of our wires by (connector, cavity)."""
    known = {c.id for c in job.connectors}
    found: dict[tuple[str, int], tuple[InCavity, ...]] = {}
    for name, ends in plain(joints(job)).items():
        for side, end in zip("ab", ends, strict=True):
            if end.place in known and end.pin.isdigit():
                key = (end.place, int(end.pin))
                found[key] = (*found.get(key, ()), InCavity(name, side))
    return found


@rule("job", "wire", harm=59, minutes=10)
def cavities(scene: Scene) -> Iterator[Finding]:
    """Two of our wires in one cavity, or one in a cavity that is not ready for it."""
    planned = {(c.connector, c.cavity, c.wire) for c in scene.job.changes}
    for (place, n), held in plain(_in_cavities(scene.job)).items():
        connector = plain(scene.connectors[place])
        new = [h for h in held if (place, n, h.wire) not in planned]
        if len(held) > 1 and len(new) > 1:
            yield _crowded(scene, connector, n, new)
        how = face.state(connector, n) if n in {p.n for p in face.places(connector)} else "missing"
        if how != "occupied" and new:
            yield _not_ready(scene, connector, n, new[0], how)


def _change(scene: Scene, kind: str, connector: str, n: int, wire: str) -> Add:
    taken = {c.id for c in scene.job.changes}
    key = next(k for i in range(1, 1000) if (k := f"C{i}") not in taken)
    made = Change(id=key, kind=kind, connector=connector, cavity=n, wire=wire)  # type: ignore[arg-type]
    return Add(path="changes", value=msgspec.to_builtins(made))


def _crowded(scene: Scene, connector: Connector, n: int, held: list[InCavity]) -> Finding:
    names = " and ".join(h.wire for h in held)
    rest = [_change(scene, "tap", connector.id, n, held[-1].wire)]
    return Finding(
        id=f"crowded-{connector.id}-{n}",
        level="trouble",
        title=f"{names} in one cavity of {connector.id}",
        text=f"Cavity {n} takes one terminal. Two wires in it are either a mistake, or a joint "
        "that somebody must make and plan.",
        reason=Reason(
            title=f"Cavity {n} of {connector.id}",
            result=names,
            formula="one terminal a cavity",
            given=tuple(given(h.wire, f"cavity {n}") for h in held),
            source="how connectors are made",
        ),
        mends=(
            Mend(label=f"Plan {held[-1].wire} as a tap there", edit=together(*rest)),
            Mend(label="Show the face", go=f"wire:{held[-1].wire}"),
        ),
        wire=held[-1].wire,
        about=(f"{connector.id}.{n}", *(h.wire for h in held)),
    )


HOW = {
    "vacant": "It was seen empty, and no change is planned there.",
    "terminal": "A terminal without a wire sits in it, and no change is planned there.",
    "not looked into": "Nobody has looked into it, and no change is planned there.",
    "blanked": "It is closed by a plug, and no change is planned that draws it.",
    "unusable": "No terminal can go in there.",
    "missing": "The connector has no such cavity.",
}


def _not_ready(scene: Scene, c: Connector, n: int, held: InCavity, how: str) -> Finding:
    mends: list[Mend] = []
    if how in ("vacant", "blanked"):
        mends.append(Mend(label="Plan it: add", edit=_change(scene, "add", c.id, n, held.wire)))
    else:
        wire, held_in = scene.wires[held.wire], _in_cavities(scene.job)
        known = face.vacant(c)
        unseen = [p.n for p in face.places(c) if face.state(c, p.n) == "not looked into"]
        free = [k for k in (*known, *unseen) if not held_in.get((c.id, k))]
        if free:
            thick = max(wire.area_mm2, c.least_mm2)
            edits: list[Put | Add] = [
                *route.joined_at(scene.job, wire, held.side, c.id, str(free[0])),
                _change(scene, "add", c.id, free[0], held.wire),
            ]
            if thick > wire.area_mm2:  # its terminals hold nothing thinner
                edits.append(Put(path=f"wires.{wire.id}.area_mm2", value=thick))
            label = f"Use cavity {free[0]}"
            if free[0] not in known:
                from zombrel.harness.plugs.pinout import with_seen  # seldom: not at start-up

                cavities = msgspec.to_builtins(with_seen(c, free[0], "empty").cavities)
                edits.append(Put(path=f"connectors.{c.id}.cavities", value=cavities))
                label = f"Cavity {free[0]} was seen empty: use it"
            mends.append(Mend(label=label, edit=together(*edits)))
    return Finding(
        id=f"cavity-{c.id}-{n}",
        level="trouble",
        title=f"{held.wire} in cavity {n} of {c.id}, which is {how}",
        text=HOW[how],
        reason=Reason(
            title=f"Cavity {n} of {c.id}",
            result=how,
            formula="a wire goes where there is one to join, or where a change puts it",
            given=(given(held.wire, f"{c.id} cavity {n}"),),
            source="connector data",
        ),
        mends=(*mends, Mend(label="Show the face", go=f"wire:{held.wire}")),
        wire=held.wire,
        about=(f"{c.id}.{n}",),
    )


class Wrong(Value, frozen=True):
    """What a net must not join, and how that is said."""

    kind: str
    title: str
    text: str
    what: str
    harm: int


SHORT = Wrong(
    "short",
    "{0} is joined to {1}",
    "supply straight to ground. Its fuse opens at once, and without one the wire burns.",
    "Supply and ground",
    93,
)
FIGHTING = Wrong(
    "outputs",
    "Two outputs are joined: {0} and {1}",
    "each drives the line its own way. One of them is hurt, and neither signal is right.",
    "Outputs",
    71,
)
LIVE = Wrong(
    "live",
    "{0} is led to {1}",
    "it reads a signal. A supply there hurts it or the sender on the same wire, and nothing is "
    "read.",
    "Supply and signal input",
    92,
)


@rule("job", "wire", harm=93, minutes=10)
def shorts(scene: Scene) -> Iterator[Finding]:
    """Conductors that join what must stay apart: supply, ground, outputs, signal inputs."""
    devices = index(plain(scene.job.devices))
    supplies = {(d.id, s.pin): s.kind for d in devices.values() for s in d.sheet.supplies}
    feeds, studs = {f.id for f in scene.job.feeds}, {s.id for s in scene.job.studs}
    for nodes, wires in nets(scene.job):
        met = [n for n in nodes if n[0] in devices or n[0] in feeds or n[0] in studs]
        if not met[1:]:
            continue  # at most one thing of ours, led to the car's own wiring
        fed = {n for n in met if n[0] in feeds}
        lives = fed | {n for n in met if supplies.get(n) == "power"}
        grounds = {n for n in met if n[0] in studs or supplies.get(n) == "ground"}
        outs = {n for n in met if n[0] in devices and devices[n[0]].sheet.output(n[1])}
        reads = {n for n in met if n not in supplies and _reads(devices, n)} if fed else set()
        if lives and grounds:
            yield _told(scene, wires, SHORT, lives, grounds)
        if len(outs) > 1:
            first = {min(outs)}
            yield _told(scene, wires, FIGHTING, first, outs - first)
        if reads:
            yield _told(scene, wires, LIVE, fed, reads)


def _culprit(scene: Scene, wires: tuple[str, ...], one: set[Node], other: set[Node]) -> str:
    """The conductor that joins what does not belong together: one with an end on each side."""
    for key in reversed(wires):
        wire = scene.wires[key]
        ends = {(wire.a.place, wire.a.pin), (wire.b.place, wire.b.pin)}
        if ends & one and ends & other:
            return key
    return wires[-1]


def _told(
    scene: Scene, wires: tuple[str, ...], wrong: Wrong, one: set[Node], other: set[Node]
) -> Finding:
    """A net that joins what it must not; drawing one conductor of it anew mends it."""
    key = _culprit(scene, wires, one, other)
    ends = {(e.place, e.pin) for e in (scene.wires[key].a, scene.wires[key].b)}
    # named by what that conductor itself joins, where it does
    names = [" ".join(min(side & ends or side)).strip() for side in (one, other)]
    pins = sorted(n for n in one | other if n[0] in scene.devices)
    return Finding(
        id=f"{wrong.kind}-{key}",
        level="trouble",
        title=wrong.title.format(*names),
        text=f"By {', '.join(wires)}: {wrong.text}",
        harm=wrong.harm,
        reason=Reason(
            title=f"{wrong.what} in one net",
            result=", ".join(names),
            formula="ends that conductors join without a load between them",
            given=tuple(given(w, "joins them") for w in wires),
            source="connected components",
        ),
        mends=(
            Mend(label=f"Draw {key} anew", edit=_drawn_anew(scene, key)),
            Mend(label="Show the wire", go=f"wire:{key}"),
        ),
        wire=key,
        about=(*wires, *(f"{a}.{b}" for a, b in pins)),
    )


def _reads(devices: Mapping[str, Device], node: Node) -> bool:
    """Whether a node is an input that reads more than on and off, or its second wire."""
    device = devices.get(node[0])
    if device is None:
        return False
    sheet = device.sheet.input(node[1].removesuffix("-"))
    return sheet is not None and sheet.takes != "contact"


@rule("job", "source", harm=69, minutes=5)
def two_sources(scene: Scene) -> Iterator[Finding]:
    """Two signals are led to one input."""
    held: dict[tuple[str, str], list[Chain]] = {}
    for chain in scene.job.chains:
        held.setdefault((chain.device, chain.pin), []).append(chain)
    for (device, pin), chains in held.items():
        first, last = chains[0], chains[-1]
        if first is last:
            continue
        name = scene.devices[device].name
        sources = " and ".join(scene.sources[c.source].name for c in chains)
        yield Finding(
            id=f"twice-{device}-{pin}",
            level="trouble",
            title=f"{name} {pin} has two sources",
            text=f"{sources} would be joined to one another there.",
            reason=Reason(
                title=f"Signals that end at {name} {pin}",
                result=str(len(chains)),
                formula="one source an input",
                given=tuple(given(c.id, scene.sources[c.source].name) for c in chains),
                source="circuit logic",
            ),
            mends=(
                Mend(
                    label="Leave the second out",
                    edit=Remove(path=f"chains.{last.id}"),
                ),
                Mend(label="Look at the signal", go=f"source:{last.id}"),
            ),
            chain=last.id,
            about=(f"{device}.{pin}",),
        )
