"""Other places the same signal can be had, ranked, and why each loses."""

from __future__ import annotations

import math

import msgspec

from zombrel.job.memo import remembered
from zombrel.job.model import (
    BoxOutput,
    BrakeSide,
    Chain,
    CoilTap,
    CommonFeed,
    Divider,
    Job,
    Source,
    WheelRing,
)
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.signals import law as laws
from zombrel.signals.reading import choices, top_of
from zombrel.signals.reduce import box_for, cd_box, emission, input_of, law
from zombrel.units import percent, speed_token

DIVIDER_MIN = 25.0
"""Minutes to fit and feed a divider."""


class Alternative(Frozen, frozen=True, kw_only=True):
    """One candidate source for a chain."""

    source: str
    name: str
    cost: float
    """Minutes of work plus what its faults are worth in minutes; less is better."""
    setting: str = ""
    divider: int = 1
    error: float = math.nan
    start: float = math.inf
    stop: float = 0.0
    faults: tuple[str, ...] = ()
    """What speaks against it, each with its number."""
    possible: bool = True


@remembered
def alternatives(job: Job, chain: Chain) -> tuple[Alternative, ...]:
    """Rank every source of the vehicle that gives the chain's quantity, the best first."""
    found = [
        _judge(job, chain, source) for source in job.sources if source.quantity == chain.quantity
    ]
    return tuple(sorted(found, key=lambda a: (not a.possible, a.cost, a.name)))


def _judge(job: Job, chain: Chain, source: Source) -> Alternative:
    if isinstance(source.spec, BrakeSide):
        return _judge_brake(chain, source, source.spec)
    _, sheet = input_of(job, chain)
    try:
        give = emission(source, job.vehicle, box_for(job, source))
        choice = choices(job, chain, source, sheet)[0] if sheet.setting is not None else None
    except Problem as problem:
        return Alternative(
            source=source.id, name=source.name, cost=1e6, faults=(str(problem),), possible=False
        )
    divider = choice.divider if choice else 1
    faults: list[str] = []
    cost = source.minutes
    squarer = give.waveform not in sheet.waveforms
    if divider > 1:
        faults.append(
            f"needs ÷{divider}: undivided it reaches "
            f"{give.rate * top_of(chain, job.vehicle):.0f} Hz of {sheet.max_hz:.0f} Hz"
            if give.rate * top_of(chain, job.vehicle) > sheet.max_hz
            else f"needs ÷{divider} to fall on a setting"
        )
    elif squarer and give.waveform == "sine":
        faults.append("gives a sine; the input wants it squared")
    if divider > 1 or squarer:
        cost += DIVIDER_MIN
    start, stop = _range(job, chain, source, divider if divider > 1 or squarer else 0)
    if choice is not None and abs(choice.error) > job.house.setting_ok:
        faults.append(f"nearest setting is {percent(choice.error)} off")
        cost += abs(choice.error) * 2000
    if chain.quantity == "speed" and start > 3.0:
        faults.append(f"counts only above {speed_token(start)}")
        cost += start * 3.6
    cost += _risk(job, source, give.volts, sheet.max_v, faults)
    return Alternative(
        source=source.id,
        name=source.name,
        cost=cost,
        setting=choice.setting if choice else "",
        divider=divider,
        error=choice.error if choice else 0.0,
        start=start,
        stop=stop,
        faults=tuple(faults),
        possible=not (isinstance(source.spec, CommonFeed) and cd_box(job.devices) is not None),
    )


def _range(job: Job, chain: Chain, source: Source, divider: int) -> tuple[float, float]:
    """Range with a ``divider`` of that many (0: none) in place of what is fitted."""
    device, _ = input_of(job, chain)
    hops = (Divider(by=divider),) if divider else ()
    trial = msgspec.structs.replace(chain, hops=hops)
    unset = msgspec.structs.replace(device, settings=())  # where it counts, not what it shows
    give = emission(source, job.vehicle, box_for(job, source))
    return laws.span(law(trial, give, unset))


def _risk(job: Job, source: Source, volts: float, max_v: float, faults: list[str]) -> float:
    """Minutes that the risk to the vehicle or the device is worth."""
    spec = source.spec
    cost = 0.0
    box = box_for(job, source)
    if isinstance(spec, CoilTap) and box is not None:
        faults.append(
            f"{box.name} drives the coils: {spec.kick_v:.0f} V and {box.sparks} sparks per "
            f"firing below {box.multi_below_rps * 60:.0f} rpm"
        )
        cost += 600
    elif volts > max_v:
        faults.append(f"{volts:.0f} V peaks against the {max_v:.0f} V the input stands")
        cost += 240
    feeding = cd_box(job.devices)
    if isinstance(spec, CommonFeed) and feeding is not None:
        faults.append(f"{feeding.name} feeds the coils itself: the old supply carries no pulses")
        cost += 600
    if isinstance(spec, WheelRing) and spec.shared:
        faults.append("shared with the brake control: tap high, never cut")
        cost += 10
    if isinstance(spec, BoxOutput):
        cost -= 5
    return cost


def _judge_brake(chain: Chain, source: Source, spec: BrakeSide) -> Alternative:
    if spec.side == "hot":
        return Alternative(
            source=source.id,
            name=source.name,
            cost=1e6,
            faults=("always live: the input would never see the pedal",),
            possible=False,
        )
    return Alternative(source=source.id, name=source.name, cost=source.minutes, error=0.0)
