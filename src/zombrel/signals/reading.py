"""What every chain reads in one state, and over its whole range."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, NamedTuple

from zombrel.calibrate.setting import Choice, believed, choose
from zombrel.job.memo import remembered, remembered_with
from zombrel.job.model import (
    Chain,
    Device,
    Job,
    LoadResistor,
    Relay,
    Vehicle,
)
from zombrel.job.problem import Problem
from zombrel.job.quantity import group, truth
from zombrel.job.sheet import Frozen, InputSheet
from zombrel.job.source import BoxOutput, BrakeSide, Source
from zombrel.job.state import State
from zombrel.signals import law as laws
from zombrel.signals.brake import PRESSED_SHARE, BrakeLine, brake_line
from zombrel.signals.contact import Contact, contact
from zombrel.signals.ground import grounds, lift
from zombrel.signals.reduce import Emission, box_for, emission, law
from zombrel.signals.sense import Sensed, Sensor, sensor, shown_at, span_of, strip_of
from zombrel.signals.supply import feeds_of, pins, powered

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

DIVIDER_MAX = 10
"""Largest divider offered: the switch on the ordinary pulse divider goes to ten."""


class ChainReading(Frozen, frozen=True, kw_only=True):
    """One chain in one state. Speeds [m/s], engine speeds [1/s]."""

    id: str
    quantity: str
    problem: str = ""
    """Why nothing can be computed; empty when it can."""
    status: str = ""
    true: float = 0.0
    shown: float = 0.0
    """nan where the reading is not to be trusted."""
    error: float = math.nan
    """(shown − true)/true where the chain counts; nan elsewhere."""
    source_hz: float = 0.0
    source_v: float = 0.0
    device_hz: float = 0.0
    start: float = math.inf
    """Lowest x at which it counts."""
    stop: float = 0.0
    """Highest x at which it counts."""
    powered: bool = True
    brake: BrakeLine | None = None
    sense: Sensed | None = None
    """How a sensor chain comes to what it shows."""
    contact: Contact | None = None
    """What an on/off chain tells the device in both states."""


def top_of(chain: Chain, vehicle: Vehicle) -> float:
    """Greatest x the chain must follow: top speed [m/s] or redline [1/s]."""
    if chain.quantity == "speed":
        return vehicle.top_mps
    return vehicle.redline_rps or 100.0


def is_brake_line(source: Source, sheet: InputSheet) -> bool:
    """Whether a chain is a cancel line: the lamp side of the switch into a seeking input."""
    return isinstance(source.spec, BrakeSide) and sheet.need_ohm > 0


class _Felt(NamedTuple):
    """A sensor chain and all of it that no state changes."""

    chain: Chain
    one: Sensor
    lift: float
    span: tuple[float, float]


class _Ready(NamedTuple):
    """A rate chain and all of it that no state changes."""

    chain: Chain
    give: Emission
    law: laws.Law
    span: tuple[float, float]
    device: str
    box: str
    """The device the source is an output of, or "": the chain needs its supply too."""


@remembered
def _prepare(job: Job) -> tuple[list[_Ready], dict[str, str]]:
    """The rate chains that can be computed, and why each other one cannot."""
    sources = {s.id: s for s in job.sources}
    devices = {d.id: d for d in job.devices}
    ready: list[_Ready] = []
    problems: dict[str, str] = {}
    for chain in job.chains:
        device, source = devices[chain.device], sources[chain.source]
        if group(chain.quantity) != "rate":
            continue
        try:
            give = emission(source, job.vehicle, box_for(job, source))
            one = law(chain, give, device)
            if math.isnan(one.setting):
                raise Problem(f"{device.name} {chain.pin} is not set yet: see Set.")
        except Problem as problem:
            problems[chain.id] = str(problem)
            continue
        box = source.spec.device if isinstance(source.spec, BoxOutput) else ""
        ready.append(_Ready(chain, give, one, laws.span(one), device.id, box))
    return ready, problems


@remembered
def reduced(job: Job) -> dict[str, tuple[Emission, laws.Law]]:
    """What each rate chain that can be computed reduces to, by its id."""
    return {r.chain.id: (r.give, r.law) for r in _prepare(job)[0]}


@remembered
def felt(job: Job) -> tuple[dict[str, _Felt], dict[str, str]]:
    """The sensor chains that can be computed by id, and why each other one cannot."""
    sources = {s.id: s for s in job.sources}
    devices = {d.id: d for d in job.devices}
    found: dict[str, _Felt] = {}
    problems: dict[str, str] = {}
    of = grounds(job.wires, job.studs, pins(job.devices))
    for chain in job.chains:
        if group(chain.quantity) != "sensed":
            continue
        source = sources[chain.source]
        spec = source.spec
        box = devices.get(spec.device) if isinstance(spec, BoxOutput) else None
        try:
            one = sensor(chain, source, devices[chain.device], box)
        except Problem as problem:
            problems[chain.id] = str(problem)
            continue
        above = lift(chain, source, devices, of)
        found[chain.id] = _Felt(chain, one, above, span_of(chain, one, job.vehicle.tank_l))
    return found, problems


def read_chains(job: Job, state: State) -> tuple[ChainReading, ...]:
    """Evaluate every chain of ``job`` in ``state``."""
    ready, problems = _prepare(job)
    feeds = feeds_of(job.wires, pins(job.devices), job.feeds)
    live = {d.id: powered(d, feeds.get(d.id), state) for d in job.devices}
    rates = {r.id: r for r in _evaluate(ready, state, live)}
    devices = {d.id: d for d in job.devices}
    sources = {s.id: s for s in job.sources}
    sensed, unfelt = felt(job)
    out = []
    for chain in job.chains:
        if group(chain.quantity) == "sensed":
            out.append(_feel(chain, sensed, unfelt, sources, live, state))
            continue
        got = rates.get(chain.id)
        if got is None and chain.id in problems:
            got = ChainReading(id=chain.id, quantity=chain.quantity, problem=problems[chain.id])
        device = devices[chain.device]
        sheet = device.sheet.input(chain.pin)
        assert sheet is not None  # validated with the job
        if got is None and not is_brake_line(sources[chain.source], sheet):
            got = _read_contact(chain, sources[chain.source], sheet, state, live[device.id])
        if got is None:
            got = _read_brake(chain, job.vehicle, device, state, live[device.id])
        out.append(got)
    return tuple(out)


def _feel(
    chain: Chain, sensed: dict[str, _Felt], problems: dict[str, str],
    sources: dict[str, Source], live: dict[str, bool], state: State,
) -> ChainReading:  # fmt: skip
    if chain.id in problems:
        return ChainReading(id=chain.id, quantity=chain.quantity, problem=problems[chain.id])
    _, one, above, (low, high) = sensed[chain.id]
    spec = sources[chain.source].spec
    box = spec.device if isinstance(spec, BoxOutput) else ""
    alive = live[chain.device] and (live.get(box, False) if box else state.key != "off")
    true = truth(chain.quantity, state)
    # only these of a state reach a sensor: while another is dragged the reading stays the same
    felt_by = (state.volts, state.barometer, state.ambient)
    return _sensed_reading(chain, one, above, low, high, true, *felt_by, alive)


@remembered_with(8)
def _sensed_reading(
    chain: Chain, one: Sensor, above: float, low: float, high: float, true: float, volts: float,
    barometer: float, ambient: float, alive: bool,
) -> ChainReading:  # fmt: skip
    state = State(volts=volts, barometer=barometer, ambient=ambient)
    shown, how = shown_at(one, true, above, state)
    return ChainReading(
        id=chain.id,
        quantity=chain.quantity,
        status=laws.STATUS[0] if not alive else how.fault or "reading",
        true=true,
        shown=shown if alive and not how.fault.startswith(("open", "no ")) else math.nan,
        source_v=how.pin_v if alive else 0.0,
        start=low,
        stop=high,
        powered=alive,
        sense=how,
    )


def _read_contact(
    chain: Chain, source: Source, sheet: InputSheet, state: State, alive: bool
) -> ChainReading:
    try:
        got = contact(chain, source, sheet)
    except Problem as problem:
        return ChainReading(id=chain.id, quantity=chain.quantity, problem=str(problem))
    true = truth(chain.quantity, state)
    on = got.on_when_on if true else got.on_when_off
    return ChainReading(
        id=chain.id,
        quantity=chain.quantity,
        status=laws.STATUS[0] if not alive else "on" if on else "off",
        true=true,
        shown=float(on),
        powered=alive,
        contact=got,
    )


def _evaluate(ready: list[_Ready], state: State, live: dict[str, bool]) -> list[ChainReading]:
    on = state.key != "off"
    out = []
    for chain, _, one, (start, stop), device, box in ready:
        alive = live[device] and (live.get(box, False) if box else on)
        speed = chain.quantity == "speed"
        true = state.speed if speed else state.engine
        got = laws.at(one, true / (1 - state.wear) if speed else true, alive)
        out.append(
            ChainReading(
                id=chain.id,
                quantity=chain.quantity,
                status=laws.STATUS[got.status],
                true=true,
                shown=got.shown,
                error=got.shown / true - 1 if got.status == laws.COUNTING else math.nan,
                source_hz=got.source_hz,
                source_v=got.source_v,
                device_hz=got.device_hz,
                start=start,
                stop=stop,
                powered=alive,
            )
        )
    return out


def brake_of(chain: Chain, vehicle: Vehicle, sheet: InputSheet, volts: float) -> BrakeLine:
    """The brake line of ``chain`` with what is fitted in it."""
    if vehicle.lamps is None:
        raise Problem("Whether the tail lamps are bulbs or LEDs is missing: enter it in Survey.")
    load = next((h.ohm for h in chain.hops if isinstance(h, LoadResistor)), None)
    relay = next(((h.coil_ohm, h.contact_ohm) for h in chain.hops if isinstance(h, Relay)), None)
    return brake_line(
        vehicle.lamps,
        vehicle.lamp_w,
        vehicle.lamp_count,
        sheet.pull_up_ohm or 4700.0,
        volts,
        load,
        relay,
        sheet.need_ohm or 50.0,
    )


def _read_brake(
    chain: Chain, vehicle: Vehicle, device: Device, state: State, alive: bool
) -> ChainReading:
    sheet = device.sheet.input(chain.pin)
    assert sheet is not None  # validated with the job
    alive = alive and state.volts > 0
    try:
        line = brake_of(chain, vehicle, sheet, max(state.volts, 1e-3))
    except Problem as problem:
        return ChainReading(id=chain.id, quantity="brake", problem=str(problem))
    volts = line.pressed_v if state.brake else line.rest_v
    if not alive:
        status = laws.STATUS[0]
    elif volts <= line.rest_limit_v:
        status = "released"
    elif state.brake and line.sure and volts >= PRESSED_SHARE * state.volts:
        status = "pressed"
    else:
        status = "unsure"
    return ChainReading(
        id=chain.id,
        quantity="brake",
        status=status,
        true=float(state.brake),
        source_v=volts if alive else 0.0,
        powered=alive,
        brake=line,
    )


def strip(
    job: Job, chain: Chain, source: Source, device: Device, state: State | None = None
) -> list[tuple[float, float]]:
    """The reading of a chain over its whole range, as corners (true, shown)."""
    if group(chain.quantity) == "sensed":
        _, one, above, (low, high) = felt(job)[0][chain.id]
        return strip_of(one, low, high, above, state or State())
    rate = law(chain, emission(source, job.vehicle, box_for(job, source)), device)
    return laws.corners(rate, top_of(chain, job.vehicle))


def sweep(
    job: Job, chain: Chain, source: Source, device: Device, points: int = 161
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """True and shown at ``points`` places over the whole range of a rate chain, as arrays."""
    import numpy as np

    one = law(chain, emission(source, job.vehicle, box_for(job, source)), device)
    x = np.linspace(0.0, top_of(chain, job.vehicle), points)
    return x, laws.evaluate(laws.table([one]), x[None, :]).shown[0]


@remembered_with(2)
def _choices(
    give: Emission, sheet: InputSheet, top: float, divider_max: float
) -> tuple[Choice, ...]:
    if sheet.numbers is None:
        raise Problem(f"{sheet.pin} takes the pulses as they come; there is nothing to set.")
    table = believed(sheet.numbers)
    return choose(give.rate, table.names, table.values, sheet.max_hz, top, int(divider_max))


def choices(
    job: Job, chain: Chain, source: Source, sheet: InputSheet, divider_max: int = DIVIDER_MAX
) -> tuple[Choice, ...]:
    """Settings for ``chain`` from ``source``, the best first, for dividers up to the limit.

    Raises:
        Problem: nothing keeps the input within its limit, or a fact is missing.
    """
    give = emission(source, job.vehicle, box_for(job, source))
    return _choices(give, sheet, top_of(chain, job.vehicle), float(divider_max))
