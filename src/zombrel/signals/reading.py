"""What every chain reads in one state, and over its whole range."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from zombrel.calibrate.setting import Choice, choose, options, pulses
from zombrel.job.memo import remembered, remembered_with
from zombrel.job.model import (
    BoxOutput,
    BrakeSide,
    Chain,
    Device,
    Job,
    LoadResistor,
    Relay,
    Source,
    Vehicle,
)
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen, InputSheet
from zombrel.job.state import State
from zombrel.signals import law as laws
from zombrel.signals.brake import PRESSED_SHARE, BrakeLine, brake_line
from zombrel.signals.reduce import Emission, box_for, emission, law
from zombrel.signals.supply import feeds_of, pins, powered

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


def top_of(chain: Chain, vehicle: Vehicle) -> float:
    """Greatest x the chain must follow: top speed [m/s] or redline [1/s]."""
    if chain.quantity == "speed":
        return vehicle.top_mps
    return vehicle.redline_rps or 100.0


class _Prepared(NamedTuple):
    """The rate chains of a job, stacked; everything that no state changes."""

    chains: list[Chain]
    laws: NDArray[np.float64]
    spans: list[tuple[float, float]]
    owners: list[tuple[str, str]]
    """(device, box of the source or "") whose supplies the chain needs."""
    problems: dict[str, str]


@remembered
def _prepare(job: Job) -> _Prepared:
    sources = {s.id: s for s in job.sources}
    devices = {d.id: d for d in job.devices}
    boxes = {key: box_for(job, source) for key, source in sources.items()}
    kept: list[tuple[Chain, laws.Law, tuple[str, str]]] = []
    problems: dict[str, str] = {}
    for chain in job.chains:
        device, source = devices[chain.device], sources[chain.source]
        if isinstance(source.spec, BrakeSide):
            continue
        try:
            one = law(chain, source, device, job.vehicle, boxes[source.id])
            if math.isnan(one.setting):
                raise Problem(f"{device.name} {chain.pin} is not set yet: see Set.")
        except Problem as problem:
            problems[chain.id] = str(problem)
            continue
        box = source.spec.device if isinstance(source.spec, BoxOutput) else ""
        kept.append((chain, one, (device.id, box)))
    return _Prepared(
        [c for c, _, _ in kept],
        laws.table([one for _, one, _ in kept]),
        [laws.span(one) for _, one, _ in kept],
        [owner for _, _, owner in kept],
        problems,
    )


def read_chains(job: Job, state: State) -> tuple[ChainReading, ...]:
    """Evaluate every chain of ``job`` in ``state``; rate chains in one array pass."""
    ready = _prepare(job)
    feeds = feeds_of(job.wires, pins(job.devices), job.feeds)
    live = {d.id: powered(d, feeds.get(d.id), state) for d in job.devices}
    rates = {r.id: r for r in _evaluate(ready, state, live)}
    devices = {d.id: d for d in job.devices}
    out = []
    for chain in job.chains:
        got = rates.get(chain.id)
        if got is None and chain.id in ready.problems:
            got = ChainReading(
                id=chain.id, quantity=chain.quantity, problem=ready.problems[chain.id]
            )
        if got is None:
            device = devices[chain.device]
            got = _read_brake(chain, job.vehicle, device, state, live[device.id])
        out.append(got)
    return tuple(out)


def _evaluate(ready: _Prepared, state: State, live: dict[str, bool]) -> list[ChainReading]:
    if not ready.chains:
        return []
    on = state.key != "off"
    alive = [live[device] and (live.get(box, False) if box else on) for device, box in ready.owners]
    true = [state.speed if c.quantity == "speed" else state.engine for c in ready.chains]
    worn = [1 - state.wear if c.quantity == "speed" else 1.0 for c in ready.chains]
    stacked = ready.laws.copy()
    stacked[laws.Law._fields.index("alive")] = alive
    got = laws.evaluate(stacked, (np.array(true) / np.array(worn))[:, None])
    hz, volts, device_hz, status, shown = (column[:, 0].tolist() for column in got)
    return [
        ChainReading(
            id=chain.id,
            quantity=chain.quantity,
            status=laws.STATUS[status[i]],
            true=true[i],
            shown=shown[i],
            error=shown[i] / true[i] - 1 if status[i] == laws.COUNTING else math.nan,
            source_hz=hz[i],
            source_v=volts[i],
            device_hz=device_hz[i],
            start=ready.spans[i][0],
            stop=ready.spans[i][1],
            powered=alive[i],
        )
        for i, chain in enumerate(ready.chains)
    ]


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
    if state.volts <= 0:
        return ChainReading(id=chain.id, quantity="brake", status=laws.STATUS[0], powered=False)
    try:
        line = brake_of(chain, vehicle, sheet, state.volts)
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


def sweep(
    job: Job, chain: Chain, source: Source, device: Device, points: int = 161
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """True and shown over the whole range of a rate chain; arrays of ``points``."""
    one = law(chain, source, device, job.vehicle, box_for(job, source))
    x = np.linspace(0.0, top_of(chain, job.vehicle), points)
    return x, laws.evaluate(laws.table([one]), x[None, :]).shown[0]


@remembered_with(2)
def _choices(
    give: Emission, sheet: InputSheet, top: float, divider_max: float
) -> tuple[Choice, ...]:
    assert sheet.setting is not None
    table = options(sheet.setting)
    unit = sheet.setting.unit
    values = tuple(pulses(unit, v) for v in table.values)
    return choose(give.rate, table.names, values, sheet.max_hz, top, int(divider_max))


def choices(
    job: Job, chain: Chain, source: Source, sheet: InputSheet, divider_max: int = DIVIDER_MAX
) -> tuple[Choice, ...]:
    """Settings for ``chain`` from ``source``, the best first, for dividers up to the limit.

    Raises:
        Problem: nothing keeps the input within its limit, or a fact is missing.
    """
    give = emission(source, job.vehicle, box_for(job, source))
    return _choices(give, sheet, top_of(chain, job.vehicle), float(divider_max))
