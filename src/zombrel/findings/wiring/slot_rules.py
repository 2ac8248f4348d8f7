"""Rules about the slots of the car's own fuse box: their fuse, their wire, what hangs on them."""

from __future__ import annotations

import math
from collections.abc import Iterator

import msgspec

from zombrel.findings.finding import Finding, Mend
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.findings.wiring.harness_rules import HOT_DAY_K
from zombrel.harness import conductor
from zombrel.harness.power import FeedReading
from zombrel.harness.wire_reading import behind_slot
from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.ledger import provenance
from zombrel.job.reason import Reason
from zombrel.job.wiring import Feed
from zombrel.units.measure import area_of


@rule("job", "wire", harm=90, minutes=5)
def slot_overfused(scene: Scene) -> Iterator[Finding]:
    """A slot holds a bigger fuse than the vehicle's own wire behind it may carry."""
    house, ambient = scene.job.house, scene.state.ambient
    for feed in scene.job.feeds:
        carries = behind_slot(feed, house, ambient)
        if carries is None or feed.fuse_a is None or feed.fuse_a <= carries:
            continue
        hot = behind_slot(feed, house, max(ambient, HOT_DAY_K)) or carries
        right = min(feed.marked_a or 1e9, conductor.largest_fuse(hot) or 1.0)
        marked = f" The slot is marked {feed.marked_a:g} A." if feed.marked_a else ""
        yield Finding(
            id=f"slot-{feed.id}",
            level="trouble",
            title=f"{feed.name}: {feed.fuse_a:g} A fuse on a {carries:.0f} A wire",
            text=f"Behind it runs {area_of(feed.wire_mm2 or 0.0)}. The fuse lets more through than "
            f"that wire is rated for.{marked}",
            reason=_ampacity_reason(scene, feed, carries),
            mends=_back_to(scene, feed, right),
            about=(feed.id,),
        )


def _back_to(scene: Scene, feed: Feed, right: float) -> tuple[Mend, ...]:
    """The right fuse back in its slot; where it would not hold all, ours go elsewhere first."""
    back = Put(path=f"feeds.{feed.id}.fuse_a", value=right)
    total = _total(scene, feed)
    show = Mend(label="Show the power tree", go=f"wire:power/{feed.id}")
    if total <= scene.job.house.fuse_load * right * (1 + 1e-9):
        return (Mend(label=f"Back to {right:g} A", edit=back), show)
    away = separate(scene, feed)
    if away is None:
        return (show,)
    return (Mend(label=f"Separate feed, back to {right:g} A", edit=together(back, away)), show)


def _total(scene: Scene, feed: Feed) -> float:
    return next((r.total_a for r in scene.power().feeds if r.id == feed.id), 0.0)


def separate(scene: Scene, feed: Feed) -> Edit | None:
    """The edit that feeds all of ours from a box of its own of the same class; None without any."""
    r = next(f for f in scene.power().feeds if f.id == feed.id)
    fuse = conductor.fuse_for(r.ours_a, scene.job.house.fuse_load)
    if not r.wires or fuse is None:
        return None
    taken = {f.id for f in scene.job.feeds}
    name = next(n for i in range(1, 1000) if (n := f"BOX{i}") not in taken)
    box = Feed(
        id=name,
        name=f"Own feed {name}, {feed.feed}",
        feed=feed.feed,
        fuse_a=fuse,
        kind="box",
        zone=feed.zone,
    )
    moved: list[Put | Add | Remove] = [Add(path="feeds", value=msgspec.to_builtins(box))]
    for key in r.wires:
        wire = scene.wires[key]
        side = "a" if wire.a.place == feed.id else "b"
        moved.append(Put(path=f"wires.{key}.{side}", value={"place": name, "pin": ""}))
    return together(*moved)


def _ampacity_reason(scene: Scene, feed: Feed, carries: float) -> Reason:
    return Reason(
        title=f"What the wire behind {feed.name} may carry",
        result=f"{carries:.1f} A",
        formula="I = √(h·π·D·(Tmax − T) / R(Tmax))",
        given=(
            given(
                "section",
                f"{area_of(feed.wire_mm2 or 0.0)}",
                provenance(scene.job, f"feeds.{feed.id}.wire_mm2"),
            ),
            given(
                "fuse fitted",
                f"{feed.fuse_a:g} A",
                provenance(scene.job, f"feeds.{feed.id}.fuse_a"),
            ),
            given("air", f"{scene.state.ambient - 273.15:.0f} °C", "supposed"),
            given("insulation", f"{scene.job.house.conductor_max_k - 273.15:.0f} °C", "house rule"),
        ),
        source="heat balance of a wire in still air (Incropera, ch. 9); ISO 6722-1 sizes",
        assumption="h = 12 W/(m²·K), wire alone, not in a bundle",
    )


@rule("job", "wire", harm=84, minutes=15)
def over_marking(scene: Scene) -> Iterator[Finding]:
    """A slot holds more than it is marked for, and nobody knows the wire behind it."""
    for feed in scene.job.feeds:
        if feed.wire_mm2 is not None or feed.fuse_a is None or feed.marked_a is None:
            continue
        if feed.fuse_a <= feed.marked_a:
            continue
        yield Finding(
            id=f"marked-{feed.id}",
            level="trouble",
            title=f"{feed.name}: {feed.fuse_a:g} A in a slot marked {feed.marked_a:g} A",
            text="A bigger fuse is right only if every wire behind the slot carries it, and the "
            "wire there is not known. Measure it, or run a separate feed.",
            reason=Reason(
                title=f"Fuse against the marking of {feed.name}",
                result=f"{feed.fuse_a:g} A over {feed.marked_a:g} A",
                formula="fitted ≤ marked, or ≤ what the wire behind carries",
                given=(
                    given(
                        "fitted",
                        f"{feed.fuse_a:g} A",
                        provenance(scene.job, f"feeds.{feed.id}.fuse_a"),
                    ),
                    given(
                        "marked",
                        f"{feed.marked_a:g} A",
                        provenance(scene.job, f"feeds.{feed.id}.marked_a"),
                    ),
                    given("wire behind", "unknown"),
                ),
                source="rule of the trade",
            ),
            mends=_back_to(scene, feed, feed.marked_a),
            about=(feed.id,),
        )


@rule("job", "wire", harm=57, minutes=20)
def slots(scene: Scene) -> Iterator[Finding]:
    """A slot with more on it than its fuse or wire should carry, by what hangs on it in all."""
    for r in scene.power().feeds:
        feed = scene.feeds[r.id]
        if not r.ours_a or r.fuse_a is None:
            continue
        if r.total_a <= scene.job.house.fuse_load * r.fuse_a * (1 + 1e-9):
            continue
        yield _overloaded(scene, feed, r)


def _overloaded(scene: Scene, feed: Feed, r: FeedReading) -> Finding:
    house = scene.job.house
    assert r.fuse_a is not None  # the caller asked
    wanted = conductor.fuse_for(r.total_a, house.fuse_load)
    hot = behind_slot(feed, house, max(scene.state.ambient, HOT_DAY_K)) or 0.0
    bound = min(
        [math.inf, *[scene.wire_reading(w).ampacity for w in r.wires if not _own(scene, w)]]
    )
    mends: list[Mend] = []
    if wanted is not None and min(hot, bound) >= wanted:
        mends.append(
            Mend(
                label=f"{wanted:g} A, the wire carries it",
                edit=Put(path=f"feeds.{feed.id}.fuse_a", value=wanted),
            )
        )
    away = separate(scene, feed)
    if away is not None:
        mends.append(Mend(label="Run a separate feed", edit=away))
    return Finding(
        id=f"load-{feed.id}",
        level="trouble",
        title=f"{feed.name} carries {r.total_a:.1f} A on {r.fuse_a:g} A",
        text=f"{r.ours_a:.1f} A of ours and {feed.load_a:g} A of "
        f"{feed.hangs or 'the car'}; the house allows {house.fuse_load * 100:.0f} % of a fuse.",
        reason=Reason(
            title=f"What hangs on {feed.name}",
            result=f"{r.total_a:.1f} A",
            formula="Σ our devices + what the car hangs on it",
            given=(
                *(given(w, f"{scene.wire_reading(w).amps:.2g} A", "device sheet") for w in r.wires),
                given(
                    "the car's own",
                    f"{feed.load_a:g} A",
                    provenance(scene.job, f"feeds.{feed.id}.load_a"),
                ),
            ),
            source="device sheets; ISO 8820 ratings",
        ),
        mends=(*mends, Mend(label="Show the power tree", go=f"wire:power/{feed.id}")),
        about=(feed.id, *r.wires),
    )


def _own(scene: Scene, wire: str) -> bool:
    """A wire with a fuse of its own."""
    return scene.wires[wire].fuse_a is not None
