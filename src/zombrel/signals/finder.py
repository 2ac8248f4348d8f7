"""The source finder: every place a signal can be had for an input, ranked, with reasons.

Each candidate is weighed in minutes: the work to reach and join it, the conditioning it
needs, and what its faults are worth (house rules say how much). A "loses because" names
the part of the sum that costs most against the best.
"""

from __future__ import annotations

import math

import msgspec

from zombrel.job.figures import figure
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.ledger import RANK, provenance
from zombrel.job.model import (
    Device,
    Divider,
    Hop,
    Job,
    Rung,
    index,
)
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES, group
from zombrel.job.sheet import TABLE, Curve, DeviceSheet, Frozen, InputSheet
from zombrel.job.source import (
    BoxOutput,
    BrakeSide,
    BusReader,
    CoilTap,
    CommonFeed,
    GearboxSensor,
    Resistive,
    Satellite,
    Source,
    Thermistor,
    ThermocoupleK,
    Tolerates,
    ToothedWheel,
    WheelRing,
)
from zombrel.signals.following import given_by
from zombrel.signals.kinds import kind_of
from zombrel.signals.reduce import box_for, cd_box
from zombrel.signals.ways import Way, hop_words, way_words, ways
from zombrel.units import percent, rpm, speed_token
from zombrel.units.measure import token

NEVER = 1e6
"""Cost of what cannot be."""
STEADY_LAG_S = 0.5
"""A speed loop with more delay than this hunts: phase 0.5 s · 2π · 0.05 Hz ≈ 9° (assumption)."""


TOLERATED: dict[Tolerates, str] = {
    "own": "fitted for this, nothing of the car's hangs on it",
    "tap": "may be tapped, not cut",
    "intercept": "is cut and joined through an adapter",
    "never": "may not be touched",
}
"""What may be done to a source, in words."""


class Rejected(Frozen, frozen=True, kw_only=True):
    """Conditioning that was tried and not taken."""

    way: str
    why: str


class Candidate(Frozen, frozen=True, kw_only=True):
    """One source for an input."""

    source: str
    name: str
    possible: bool
    score: float
    """0 to 100, from the cost: 100 · 60/(60 + minutes)."""
    cost: float
    """Minutes of work plus what its faults are worth in minutes."""
    parts: tuple[tuple[str, float], ...] = ()
    """What the cost is made of [minutes]."""
    hops: tuple[Hop, ...] = ()
    setting: str = ""
    table: Curve = ()
    error: float = math.nan
    worst: float = math.nan
    start: float = math.inf
    stop: float = 0.0
    reasons: tuple[str, ...] = ()
    """What speaks for it and against it, each with its number."""
    risks: tuple[str, ...] = ()
    """Of the reasons those that tell what may come to harm by it."""
    faults: tuple[str, ...] = ()
    """What it does not satisfy even so."""
    loses: str = ""
    """Why it is not the best; empty for the best."""
    rejected: tuple[Rejected, ...] = ()
    where: str = ""
    """Where what is missing for it is entered; empty when nothing is."""
    known: Rung | None = None

    @property
    def conditioning(self) -> tuple[str, ...]:
        """What must be fitted on the way."""
        return tuple(hop_words(h) for h in self.hops)

    @property
    def divider(self) -> int:
        """Pulses in for one out where a divider is part of it, else 1."""
        return next((h.by for h in self.hops if isinstance(h, Divider)), 1)


def candidates(job: Job, device: Device, sheet: InputSheet) -> tuple[Candidate, ...]:
    """Every source of the vehicle that gives what the input is for, the best first."""
    known = index(job.devices).get(device.id)
    if known is None or known.sheet.input(sheet.pin) is None:
        return _ranked(job, device, sheet)
    own = device.id if device.sheet.outputs else ""
    return plain(_candidates(job, plain(sheet), own))


@query
def _candidates(job: Job, sheet: InputSheet, own: str) -> tuple[Candidate, ...]:
    # how the device is set, and what else it has, is none of the finder's business
    name = own or "device"
    bare = DeviceSheet(id=name, maker=name, model=name, name=name, inputs=(sheet,))
    return _ranked(job, Device(id=name, name=name, sheet=bare), sheet)


def _ranked(job: Job, device: Device, sheet: InputSheet) -> tuple[Candidate, ...]:
    found = [
        _judge(job, device, sheet, source)
        for source in job.sources
        if source.quantity == sheet.quantity
        and not (isinstance(source.spec, BoxOutput) and source.spec.device == device.id)
    ]
    ranked = sorted(found, key=lambda c: (not c.possible, c.cost, c.name))
    return tuple(_beside(c, ranked[0]) for c in ranked)


def _beside(c: Candidate, best: Candidate) -> Candidate:
    """The candidate with why it loses to the best."""
    if c is best:
        return c
    if not c.possible:
        why = c.faults[0] if c.faults else "it cannot serve"
    else:
        theirs = dict(best.parts)
        gaps = [(v - theirs.get(k, 0.0), k, v, theirs.get(k, 0.0)) for k, v in c.parts]
        _, name, own, other = max(gaps)
        why = f"{name}: {own:.0f} min against {other:.0f} of {best.name}"
    return msgspec.structs.replace(c, loses=why)


def _never(source: Source, why: str, known: Rung | None, where: str = "") -> Candidate:
    return Candidate(
        source=source.id,
        name=source.name,
        possible=False,
        score=0.0,
        cost=NEVER,
        faults=(why,),
        reasons=(why,),
        where=where,
        known=known,
    )


def known_of(job: Job, source: Source) -> Rung | None:
    """The weakest evidence among the source's own facts that decide its signal."""
    rungs = [
        provenance(job, f"sources.{source.id}.spec.{name}")
        for name in source.spec.__struct_fields__
        if name in ("teeth", "magnets", "pulses_per_rev", "pulses_per_m", "points", "pole_pairs")
    ]
    if not rungs:
        return provenance(job, f"sources.{source.id}.place")
    return min(rungs, key=lambda r: -1 if r is None else RANK[r])


def _judge(job: Job, device: Device, sheet: InputSheet, source: Source) -> Candidate:
    known = known_of(job, source)
    veto = _veto(job, sheet, source)
    if veto:
        return _never(source, veto, known)
    try:
        tried = ways(job, device, sheet, source)
    except Problem as problem:
        return _never(source, str(problem), known, problem.where)
    way, rest = tried[0], tried[1:]
    if math.isnan(way.error):
        return _never(source, way.failed[0], known)
    house = job.house
    risk, against = _risk(job, sheet, source)
    parts = [
        ("work", source.minutes),
        ("conditioning", way.minutes),
        ("error", abs(way.error) * 100 * house.per_cent_min),
        ("risk", risk * house.risk_weight),
        ("what it cannot do", _shortfall(sheet, way)),
        ("still to be probed", figure(f"doubt, {known or 'nobody'}")),
    ]
    if house.speed_prefers and sheet.quantity == "speed":
        liked = source.spec.__struct_config__.tag == house.speed_prefers
        parts.append(("house rule", 0.0 if liked else 15.0))
    cost = sum(minutes for _, minutes in parts)
    return Candidate(
        source=source.id,
        name=source.name,
        possible=True,
        score=100 * 60 / (60 + cost),
        cost=cost,
        parts=tuple(parts),
        hops=way.hops,
        setting=way.setting,
        table=way.table,
        error=way.error,
        worst=way.worst,
        start=way.start,
        stop=way.stop,
        reasons=(*_for(job, sheet, source, way), *against, *_plain(source, known)),
        risks=tuple(against),
        faults=way.failed,
        rejected=tuple(Rejected(way=way_words(w.hops), why=_why_not(w, way)) for w in rest),
        known=known,
    )


def _why_not(tried: Way, taken: Way) -> str:
    """Why a way was not taken: what it fails that the taken one satisfies."""
    own = [f for f in tried.failed if f not in taken.failed]
    if own:
        return own[0]
    more = tried.minutes - taken.minutes
    return f"serves no better and takes {more:.0f} min more" if more > 0 else "serves no better"


def _veto(job: Job, sheet: InputSheet, source: Source) -> str:
    """Why a source may not be used at all; empty when it may."""
    spec = source.spec
    box = cd_box(job)
    if isinstance(spec, GearboxSensor) and spec.electronic:
        return (
            "the gearbox shifts by this pair and may not share it: its computer sees every "
            "load; use the computer's buffered speed output"
        )
    if isinstance(spec, CommonFeed) and box is not None:
        return f"{box.name} feeds the coils itself: the old supply carries no pulses"
    if isinstance(spec, BrakeSide) and spec.side == "hot":
        return "always live: the input would never see the pedal"
    if sheet.polarised and sheet.quantity == "tach" and not isinstance(spec, ToothedWheel):
        return "tells how fast the engine turns, not where it stands: it takes a toothed wheel"
    return ""


def _shortfall(sheet: InputSheet, way: Way) -> float:
    """Minutes that what a way cannot do is worth."""
    cost = 40.0 * len(way.failed)
    if sheet.quantity == "speed" and math.isfinite(way.start):
        cost += max(0.0, way.start - 1.0) * 3.6 / 2
    return cost


def _risk(job: Job, sheet: InputSheet, source: Source) -> tuple[float, list[str]]:
    """Risk to the vehicle's own functions or the owner [minutes], and why."""
    spec = source.spec
    said: list[str] = []
    cost = 0.0
    box = box_for(job, source)
    if isinstance(spec, CoilTap) and box is not None:
        said.append(
            f"{box.name} drives the coils: {spec.kick_v:.0f} V and {box.sparks} sparks per "
            f"firing below {box.multi_below_rps * 60:.0f} rpm"
        )
        cost += 600
    elif isinstance(spec, CoilTap):
        said.append(f"{spec.kick_v:.0f} V on the wire, near the driver")
        cost += 15
    if isinstance(spec, WheelRing) and spec.shared:
        said.append("shared with the brake control: tap high-ohmic, polarity kept, never cut")
        cost += 10
    if isinstance(spec, Satellite):
        said.append(
            f"lags {spec.lag_s:g} s, silent below {speed_token(spec.lowest_mps)} and under "
            "bridges and trees"
        )
        cost += 300 if sheet.steady else 20
    if isinstance(spec, BusReader) and spec.period_s > (STEADY_LAG_S if sheet.steady else 1.0):
        said.append(f"one value each {spec.period_s:g} s is too slow")
        cost += 120
    if isinstance(spec, ThermocoupleK) and spec.extension == "copper":
        said.append("copper extension: the joint's heat is added to the reading")
        cost += 60
    if isinstance(spec, Thermistor | Resistive) and spec.one_wire:
        said.append("one wire: its ground is its thread")
        cost += 3
    if source.spoils:
        said.append(f"the vehicle's own {source.spoils} hangs on it too")
        cost += 12
    return cost, said


def _for(job: Job, sheet: InputSheet, source: Source, way: Way) -> list[str]:
    """What the signal is like at the input."""
    kind = QUANTITIES[sheet.quantity].kind
    fits = "fits as it is" if not way.hops else f"fits with {way_words(way.hops)}"
    out = [fits if not way.failed else f"best {way_words(way.hops)}, and even so {way.failed[0]}"]
    if group(sheet.quantity) == "rate":
        give = given_by(job, source)
        if way.setting:
            out.append(f"set {way.setting} it reads {percent(way.error)}")
        top = job.vehicle.top_mps if sheet.quantity == "speed" else job.vehicle.redline_rps or 100
        low = speed_token(way.start) if sheet.quantity == "speed" else rpm(way.start)
        high = speed_token(way.stop) if sheet.quantity == "speed" else rpm(way.stop)
        if way.stop > way.start:
            end = f"to {high}" if way.stop < top else "up"
            out.append(f"counts from {low} {end}")
        if give.lag:
            out.append(f"{give.lag:g} s behind")
    elif group(sheet.quantity) == "sensed":
        position = f"curve {way.setting}" if way.setting else "its fixed curve"
        if way.setting == TABLE:
            position = f"a table of {len(way.table)} points"
        out.append(
            f"{position} is at most {way.error * 100:.1f} % of the range off, from "
            f"{token(kind, way.start)} to {token(kind, way.stop)}"
        )
    return out


def _plain(source: Source, known: Rung | None) -> list[str]:
    """Work, parts and how it is known."""
    out = [
        TOLERATED[kind_of(source.spec).tolerates(source.spec)],
        f"{source.minutes:.0f} min to reach and join",
    ]
    if source.access:
        out.append(source.access)
    if source.parts:
        out.append(f"to buy: {source.parts}")
    out.append(f"known by {known}" if known else "nobody has said how its figures are known")
    return out
