"""A chain of a job as a case: the rivals with its own curve, pull-up, divider and setting.

References: as in ``signals.sense``, ``signals.law`` and ``signals.brake``.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence

from zombrel.calibrate.thermocouple import HIGHEST_C, LOWEST_C
from zombrel.diagnose.misread import cases, lines, pulsed, senses
from zombrel.diagnose.misread.weigh import Pair
from zombrel.diagnose.step import REST_V
from zombrel.job.follow.view import plain
from zombrel.job.model import Chain, Job, PullUp, Relay, index
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES, group
from zombrel.job.source import Ratiometric
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.signals import law as laws
from zombrel.signals.chain_reading import brake_of, felt, ready, side_of
from zombrel.signals.inputs import INPUTS
from zombrel.signals.sense import Sensor, electrical, ideal, pin_volts, value_of
from zombrel.units import METRIC
from zombrel.units.measure import value_from, value_in


class Read(Value, frozen=True):
    """One reading: which chain, and what was true and shown."""

    chain: str
    pair: Pair


def case_of(job: Job, key: str) -> cases.Case:
    """The case of the chain ``key``.

    Raises:
        Problem: there is no such chain, it cannot be computed, or it is read by no gauge or meter.
    """
    job = plain(job)
    chains = index(job.chains)
    if key not in chains:
        raise Problem(f"There is no signal “{key}”; there are {', '.join(chains)}.")
    chain = chains[key]
    house = job.house.figures
    if chain.quantity == "speed":
        law = ready(job, key).law
        return cases.speed_case(
            law.setting * 1000,
            law.rate * 1000,
            law.divider,
            law.device_max_hz,
            house,
            chain.title,
        )
    if chain.quantity == "tach":
        cylinders = float(job.vehicle.cylinders or 4)
        gain = laws.gain(ready(job, key).law)
        return cases.tach_case(cylinders / gain, cylinders, house, chain.title)
    if group(chain.quantity) == "sensed":
        return _sensed(job, chain)
    sheet = index(job.devices)[chain.device].sheet.input(chain.pin)
    if sheet is not None and sheet.need_ohm:
        return _brake(job, chain)
    raise Problem(f"{chain.title} ({key}) is on or off: no reading to explain. Its step says what.")


def _brake(job: Job, chain: Chain) -> cases.Case:
    sheet = index(job.devices)[chain.device].sheet.input(chain.pin)
    assert sheet is not None  # the caller looked
    volts = REST_V * job.vehicle.system_v / 12
    relay = any(isinstance(h, Relay) for h in chain.hops)
    source = index(job.sources)[chain.source]
    line = brake_of(chain, job.vehicle, sheet, volts, side_of(source))
    found = lines.Brake(volts, job.vehicle.lamps == "led", relay, line.rest_v, line.sure)
    return cases.brake_case(found, job.house.figures, chain.title)


def _sensed(job: Job, chain: Chain) -> cases.Case:
    found = felt(job, chain.id)
    sender, (low, high) = found.sender, found.span
    kind = QUANTITIES[chain.quantity].kind
    state = State(volts=job.vehicle.charging_v)
    ends = sorted(value_in(kind, v, METRIC) for v in (low, high))
    spec = sender.source.spec

    def gives(true: float) -> float:
        return electrical(sender, value_from(kind, true, METRIC), state)

    def show(read: float) -> float:
        return value_in(kind, value_of(sender, read, state), METRIC)

    if sender.gives == "ohm":
        pull, vref = _pull(sender, chain, state)
        by_ohm = sender.sheet.takes == "ohm"
        law = INPUTS[sender.sheet.takes]

        def reads(volts: float) -> float:
            own = (pull, vref) if by_ohm else None
            return show(law.infers(0.0, volts, own))

        line = senses.Ohms(gives, reads, pull, vref)
        return cases.ohm_case(
            line, ends[0], ends[1], kind == "temperature", job.house.figures, chain.title
        )
    if sender.gives in ("hz", "duty", "thermocouple"):
        beat = pulsed.Pulsed(sender.gives, gives, show, ends[0], ends[1], kind == "temperature")
        if sender.gives == "thermocouple":
            beat = beat.but(
                gives=_within(gives, LOWEST_C, HIGHEST_C), reads=_within(show, *MILLIVOLTS)
            )
        return cases.pulsed_case(beat, job.house.figures, chain.title)
    port = ideal(sender, state)
    level = senses.Levels(
        lambda true: pin_volts(sender, gives(true), port),
        show,
        spec.supply_v if isinstance(spec, Ratiometric) else sender.sheet.full_v,
        isinstance(spec, Ratiometric),
        ends[0],
        ends[1],
    )
    return cases.level_case(level, kind, job.house.figures, chain.title)


MILLIVOLTS = (-4.9, 51.4)
"""What a type K tells wherever the device's own end is, −40 to 85 °C [mV]."""


def _within(law: Callable[[float], float], low: float, high: float) -> Callable[[float], float]:
    """A law that goes on level beyond where it is defined."""
    return lambda x: law(min(max(x, low), high))


def _pull(sender: Sensor, chain: Chain, state: State) -> tuple[float, float]:
    """What pulls the sender up: the device's own, or one on the way (Ω, V)."""
    if sender.sheet.pull_up_ohm:
        return sender.sheet.pull_up_ohm, sender.sheet.pull_up_v or state.volts
    added = next((h for h in chain.hops if isinstance(h, PullUp)), None)
    if added is None:
        raise Problem(f"{chain.title} ({chain.id}): nothing pulls the sender up; add that first.")
    return added.ohm, added.to_v or state.volts


def exchanged(job: Job, reads: Sequence[Read]) -> tuple[str, ...] | None:
    """Counted signals of which each shows what another should: their wires are exchanged.

    Two have changed places; three or more in a ring are a plug a place or a row off, or mirrored.
    """
    by: dict[str, list[Pair]] = {}
    for read in reads:
        by.setdefault(read.chain, []).append(read.pair)
    keys = [k for k in by if group(index(job.chains)[k].quantity) == "rate"]
    for count in range(2, min(len(keys), MOST_RING) + 1):
        for some in itertools.combinations(keys, count):
            for rest in itertools.permutations(some[1:]):
                ring = (some[0], *rest)
                if all(
                    _shows(by[a], by[b]) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True)
                ):
                    return ring
    return None


MOST_RING = 5
"""So many signals of a plug are looked at together."""


def _shows(a: Sequence[Pair], b: Sequence[Pair]) -> bool:
    """Every reading of ``a`` shows what was true of ``b``, and not what was true of itself."""
    if len(a) != len(b):
        return False
    pairs = list(zip(a, b, strict=True))
    near = all(math.isclose(x.shown, y.true, rel_tol=0.02) for x, y in pairs)
    return near and any(not math.isclose(x.true, y.true, rel_tol=0.05) for x, y in pairs)
