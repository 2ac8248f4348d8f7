"""Conditioning by search: the simplest way from a source to an input that satisfies all.

Ways are tried from the simplest. Each is put to the same tests: level, rate, waveform,
voltage, loading, error. The first to pass them all is taken; the others are kept with the
test that they failed, so that the choice can be read and argued with.

References: laws as in ``signals.law`` and ``signals.sense``; satisficing search in a stated order
(Simon, *Psychological Review* 63, 1956). Minutes and tolerances: ``job.figures``.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import Any

import msgspec

from zombrel.calibrate import curve as curves
from zombrel.calibrate.points import place
from zombrel.calibrate.pressure import ATMOSPHERE
from zombrel.calibrate.settings.setting import Choice, believed, choose
from zombrel.job.figures import figure
from zombrel.job.model import (
    Attenuator,
    Chain,
    Counter,
    Coupler,
    Device,
    Divider,
    Hop,
    Job,
    LoadResistor,
    Multiplier,
    PullUp,
    Ratio,
    Relay,
    by_id,
)
from zombrel.job.pairs import LEAST_PAIRS, between
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES, group
from zombrel.job.sheet import TABLE, Curve, InputSheet, Waveform
from zombrel.job.source import BoxOutput, Ratiometric, Resistive, Source, Thermistor, WheelRing
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.signals import law as laws
from zombrel.signals.brake import BrakeLine, load_for
from zombrel.signals.chain_reading import DIVIDER_MAX, brake_of, is_brake_line, top_of, works_from
from zombrel.signals.contact import contact
from zombrel.signals.following import given_by
from zombrel.signals.kinds import Emission
from zombrel.signals.reduce import law
from zombrel.signals.sense import FAULTS, Sensor, joined, shown_at, span_of
from zombrel.units import percent, prefixed, rpm, speed_token
from zombrel.units.measure import token

FITTED: dict[type, str] = {
    PullUp: "pull-up",
    Attenuator: "attenuator",
    LoadResistor: "load resistor",
    Relay: "relay",
    Divider: "divider",
    Multiplier: "multiplier",
    Ratio: "ratio box",
    Coupler: "coupling capacitor",
}
MINUTES = {kind: figure(f"fitting, {name}") for kind, name in FITTED.items()}
"""Minutes to fit each piece."""
STANDS_V = 60.0
"""Peak a counter's input stands [V]: usual for such a module (assumption)."""
SENSED_OK = figure("sensor error let pass")
"""Error over its range that a sensor reading may have [share of the range]."""


class Way(Value, frozen=True):
    """Conditioning that was tried, and how it did."""

    hops: tuple[Hop, ...]
    failed: tuple[str, ...]
    """What it does not satisfy, each with its number; empty for a way that serves."""
    setting: str = ""
    table: Curve = ()
    error: float = math.nan
    """Rate: (shown − true)/true. Sensor: worst error as a share of the range."""
    worst: float = math.nan
    """Sensor: worst error over the range [SI]."""
    start: float = math.inf
    stop: float = 0.0
    own_shift: float = 0.0
    """Sensor: shift of the vehicle's own reading in mid-range [SI]."""

    @property
    def minutes(self) -> float:
        """Work to fit it."""
        return sum(MINUTES[type(h)] for h in self.hops)


_HOPS: dict[type, Callable[[Any], str]] = {
    Divider: lambda hop: "zero-cross squarer" if hop.by == 1 else f"divider ÷{hop.by}",
    Multiplier: lambda hop: f"multiplier ×{hop.by}",
    Ratio: lambda hop: f"ratio box ×{hop.by:g}",
    Coupler: lambda hop: f"coupling capacitor {hop.microfarad:g} µF",
    PullUp: lambda hop: (
        f"pull-up {prefixed(hop.ohm, 'Ω', 2)} to {f'{hop.to_v:g} V' if hop.to_v else 'the supply'}"
    ),
    Attenuator: lambda hop: (
        f"level shifter {prefixed(hop.series_ohm, 'Ω', 2)} / {prefixed(hop.ground_ohm, 'Ω', 2)}"
    ),
    Relay: lambda hop: "relay" if hop.throw == "rest" else "relay, its working contact",
    LoadResistor: lambda hop: f"load resistor {hop.ohm:g} Ω",
}
"""Each piece of conditioning in the trade's words."""


def hop_words(hop: Hop) -> str:
    """One piece of conditioning in the trade's words."""
    return _HOPS[hop.__class__](hop)


def way_words(hops: tuple[Hop, ...]) -> str:
    """Conditioning in words."""
    return " and ".join(hop_words(h) for h in hops) if hops else "as it is"


def ways(job: Job, device: Device, sheet: InputSheet, source: Source) -> tuple[Way, ...]:
    """Every way tried from ``source`` to an input, the one to take first.

    Raises:
        Problem: no way makes anything of this source, or a fact is missing.
    """
    kind = group(sheet.quantity)
    if kind == "rate":
        tried = list(_rate_ways(job, device, sheet, source))
    elif kind == "sensed":
        tried = list(_sensor_ways(job, device, sheet, source))
    else:
        tried = list(_contact_ways(job, device, sheet, source))
    # among ways that serve, the one tried first, the simplest; else what costs least in minutes
    weight = 100 * job.house.per_cent_min

    def order(way: Way) -> tuple[bool, int, float]:
        cost = way.minutes + abs(way.error) * weight if way.failed else 0.0
        return math.isnan(way.error), len(way.failed), cost

    return tuple(sorted(tried, key=order))


def trial(device: Device, sheet: InputSheet, source: Source, hops: tuple[Hop, ...]) -> Chain:
    """A chain as it would be."""
    return Chain(
        id="trial",
        title="trial",
        quantity=sheet.quantity,
        source=source.id,
        hops=hops,
        device=device.id,
        pin=sheet.pin,
    )


def _rate_ways(job: Job, device: Device, sheet: InputSheet, source: Source) -> Iterator[Way]:
    give = given_by(job, source)
    top = top_of(trial(device, sheet, source, ()), job.vehicle)
    down: tuple[Hop, ...] = ()
    if give.volts > sheet.max_v:
        ground = 1000.0
        series = math.ceil(give.volts / (sheet.max_v * 0.5)) * ground
        down = (Attenuator(series_ohm=series, ground_ohm=ground),)
    counters: list[tuple[Hop, ...]] = [(), (Divider(by=1),)]
    best = _best_by(give, sheet, top, divide=True)
    if best is not None and best.divider > 1:
        counters.append((Divider(by=best.divider),))
    more = _best_by(give, sheet, top, divide=False)
    if more is not None:
        counters.append((Multiplier(by=more.divider),))
    if give.waveform == "square" and sheet.waveforms == ("sine",):
        counters.append((Coupler(),))
    before: list[tuple[Hop, ...]] = [()]
    if give.needs_pull_up:
        before.append((PullUp(),))
    if down:
        before.append(down)
    tried: list[tuple[Hop, ...]] = [(*b, *c) for c in counters for b in before]
    tried.sort(key=lambda hops: (len(hops), sum(MINUTES[type(h)] for h in hops)))
    for hops in tried:
        yield _try_rate(job, device, sheet, source, give, hops, top)


def _best_by(give: Emission, sheet: InputSheet, top: float, divide: bool) -> Choice | None:
    """The divider, or multiplier, that reads truest; None when none is allowed."""
    if sheet.numbers is None:
        return None
    table = believed(sheet.numbers)
    try:
        if divide:
            return choose(give.rate, table.names, table.values, sheet.max_hz, top, DIVIDER_MAX)[0]
        best = None
        for by in range(2, 9):
            choices_found = choose(give.rate * by, table.names, table.values, sheet.max_hz, top)[0]
            if best is None or abs(choices_found.error) < abs(best.error) - 0.001:
                best = msgspec.structs.replace(choices_found, divider=by)
    except Problem:
        return None
    return best


def _try_rate(
    job: Job,
    device: Device,
    sheet: InputSheet,
    source: Source,
    give: Emission,
    hops: tuple[Hop, ...],
    top: float,
) -> Way:
    bare = Device(id=device.id, name=device.name, sheet=device.sheet)
    rate_law = law(trial(device, sheet, source, hops), give, bare)
    counted = any(isinstance(h, Counter) for h in hops)
    failed = []
    peak, stands = rate_law.v_fixed, STANDS_V if counted else sheet.max_v
    if peak > stands:
        failed.append(f"{peak:.0f} V peaks against {stands:.0f} V")
    shape = shape_at(hops, give.waveform)
    if shape not in sheet.waveforms:
        failed.append(f"a {shape} into an input for {' or '.join(sheet.waveforms)}")
    start, stop = laws.span(rate_law)
    wanted = works_from(sheet)
    if stop <= 0:
        volts = rate_law.v_fixed if rate_law.v_per_hz == 0 else 0.0
        failed.append(f"{volts:.2g} V never reaches the {rate_law.first_threshold:.2g} V threshold")
    elif start > wanted:
        failed.append(f"counts only from {_x(sheet, start)}")
    if 0 < stop < top * (1 - 1e-9):
        hz = rate_law.rate / rate_law.divider * top
        failed.append(f"{hz:.0f} Hz at {_x(sheet, top)} against {sheet.max_hz:.0f} Hz")
    setting, error = _nearest(sheet, rate_law.rate / rate_law.divider)
    if abs(error) > job.house.setting_ok:
        failed.append(f"nearest setting {setting} is {percent(error)} off")
    spec = source.spec
    if isinstance(spec, WheelRing) and spec.shared:
        left = laws.loaded(1.0, spec.into_ohm, spec.winding_ohm, _load(hops, sheet))
        if left < figure("level left to the owner"):
            failed.append(f"leaves {left * 100:.0f} % of the level to the brake control")
    return Way(hops, tuple(failed), setting, (), error, math.nan, start, stop)


def shape_at(hops: tuple[Hop, ...], shape: Waveform) -> Waveform:
    """What shape reaches an input through what is fitted before it."""
    for hop in hops:
        if isinstance(hop, Counter):
            shape = "square"
        elif isinstance(hop, Coupler) and shape == "square":
            shape = "sine"
    return shape


def _load(hops: tuple[Hop, ...], sheet: InputSheet) -> float:
    for hop in hops:
        if isinstance(hop, Counter):
            return hop.input_ohm
        if isinstance(hop, Attenuator):
            return hop.series_ohm + hop.ground_ohm
    return sheet.input_ohm


def _x(sheet: InputSheet, x: float) -> str:
    return speed_token(x) if sheet.quantity == "speed" else rpm(x)


def _nearest(sheet: InputSheet, rate: float) -> tuple[str, float]:
    if sheet.numbers is None:
        return "", 0.0
    table = believed(sheet.numbers)
    choices_found = choose(rate, table.names, table.values, math.inf, 1.0)[0]
    return choices_found.setting, choices_found.error


def _sensor_ways(job: Job, device: Device, sheet: InputSheet, source: Source) -> Iterator[Way]:
    tried: list[tuple[Hop, ...]] = [()]
    spec = source.spec
    if isinstance(spec, Thermistor | Resistive) and sheet.takes == "volts":
        # the pull-up with the widest swing, to the converter's own reference
        ohms = sorted(ohm for _, ohm in spec.points)
        best = math.sqrt(max(ohms[0], 1.0) * ohms[-1])
        tried.append((PullUp(ohm=float(f"{best:.2g}"), to_v=sheet.full_v or 5.0),))
    if sheet.takes in ("hz", "pulses") and not sheet.pull_up_ohm:
        tried.append((PullUp(),))
    if isinstance(spec, Ratiometric) and spec.supply_v > sheet.full_v > 0:
        series = math.ceil((spec.supply_v / sheet.full_v - 1) * 10) * 1000.0
        tried.append((Attenuator(series_ohm=max(series, 1000.0), ground_ohm=10000.0),))
    for hops in tried:
        try:
            yield try_sensor(job, device, sheet, source, hops)
        except Problem as problem:
            yield Way(hops, (str(problem),))


def try_sensor(
    job: Job, device: Device, sheet: InputSheet, source: Source, hops: tuple[Hop, ...]
) -> Way:
    """How a sensor would read through ``hops`` with the best of the device's curves.

    Raises:
        Problem: the input cannot read this source.
    """
    chain = trial(device, sheet, source, hops)
    spec = source.spec
    box = by_id(job.devices, spec.device) if isinstance(spec, BoxOutput) else None
    probe = joined(chain, source, sheet, sheet.curve, box)
    low, high = span_of(chain, probe, job.vehicle)
    if high <= low:
        raise Problem(f"{source.name} covers nothing of the range {sheet.pin} is for.")
    state = State()
    name, table = best_curve(job, chain, source, sheet, box, (low, high))
    sender = joined(chain, source, sheet, table, box)
    worst, own_shift = _over(sender, low, high, state)
    middle = shown_at(sender, (low + high) / 2, None, state)[1]
    failed = []
    kind = QUANTITIES[sheet.quantity].kind
    share = worst / (high - low)
    if middle.fault:
        failed.append(FAULTS[middle.fault])
    if share > SENSED_OK:
        failed.append(f"reads up to {share * 100:.0f} % of its range wrong")
    if abs(own_shift) > 0.01 * (high - low):
        failed.append(
            f"shifts the vehicle's own reading: it would take {token(kind, (low + high) / 2)} "
            f"for {token(kind, (low + high) / 2 + own_shift)}"
        )
    peak = shown_at(sender, high, None, state)[1].pin_v
    if peak > sheet.max_v:
        failed.append(f"{peak:.1f} V against the {sheet.max_v:.0f} V the pin stands")
    stored = table if name == TABLE else ()
    return Way(hops, tuple(failed), name, stored, share, worst, low, high, own_shift)


def _over(sender: Sensor, low: float, high: float, state: State) -> tuple[float, float]:
    xs = [low + (high - low) * i / 40 for i in range(41)]
    worst = max(abs(shown_at(sender, x, None, state)[1].off) for x in xs)
    return worst, shown_at(sender, (low + high) / 2, None, state)[1].own_shift


def true_curve(
    job: Job,
    chain: Chain,
    source: Source,
    sheet: InputSheet,
    box: Device | None,
    span: tuple[float, float],
    steps: int = 60,
) -> Curve:
    """(value in the device's terms, what it infers) as this sensor would teach the input.

    Values and ``span`` [SI], what it infers [Ω, V, Hz or share].
    """
    sender = joined(chain, source, sheet, ((0.0, 0.0), (1.0, 1.0)), box)
    low, high = span
    xs = {low + (high - low) * i / steps for i in range(steps + 1)}
    xs |= {x for x, _ in sender.truth if low < x < high}
    above = air(sheet)
    return tuple((x + above, shown_at(sender, x, None, State())[1].inferred) for x in sorted(xs))


def air(sheet: InputSheet) -> float:
    """What a device that takes the barometer off has in its curve's values [Pa]; else 0."""
    return ATMOSPHERE if sheet.barometer else 0.0


def best_curve(
    job: Job,
    chain: Chain,
    source: Source,
    sheet: InputSheet,
    box: Device | None,
    span: tuple[float, float],
) -> tuple[str, Curve]:
    """The device's own curve that serves, or the points for its table: (position, pairs).

    A built-in curve wins when it stays within the error a sensor may have; else the table.
    """
    given = sheet.curves
    if given is None:
        return "", sheet.curve
    want = true_curve(job, chain, source, sheet, box, span)
    ranked = curves.match(
        lambda x: between(want, x),
        tuple((p.name, p.points) for p in given.presets),
        span[0] + air(sheet),
        span[1] + air(sheet),
    )
    limit = SENSED_OK / 2 * (span[1] - span[0])
    if ranked and (ranked[0].worst <= limit or given.free_points < LEAST_PAIRS):
        return ranked[0].name, next(p.points for p in given.presets if p.name == ranked[0].name)
    if given.free_points < LEAST_PAIRS:
        raise Problem(f"{sheet.pin} has neither curves nor a table on its sheet.")
    return TABLE, table_for(want, given.free_points)


def table_for(want: Curve, count: int) -> Curve:
    """``count`` points for a device's table with the least worst error in the value.

    The device reads value over its electrical quantity, so the points are placed there.

    Pairs (value [SI], electrical [Ω, V, Hz or share]).
    """
    turned = tuple(sorted((e, v) for v, e in want))
    kept = [turned[0]]
    for pair in turned[1:]:
        if pair[0] > kept[-1][0] * (1 + 1e-9) + 1e-12:
            kept.append(pair)
    placed = place(tuple(kept), min(count, len(kept)))
    return tuple(sorted((v, e) for e, v in placed.points))


def _contact_ways(job: Job, device: Device, sheet: InputSheet, source: Source) -> Iterator[Way]:
    if is_brake_line(source, sheet):
        yield from _brake_ways(job, device, sheet, source)
        return
    for hops in ((), (Relay(),), (Relay(throw="work"),)):
        switch = contact(trial(device, sheet, source, hops), source, sheet)
        failed = []
        if switch.turned:
            failed.append(f"rests {switch.rests}: the device would see on for off")
        elif not switch.right:
            failed.append(f"leads to {switch.leads}, {sheet.pin} looks for {sheet.closes_to}")
        yield Way(hops, tuple(failed), error=0.0)


def _brake_ways(job: Job, device: Device, sheet: InputSheet, source: Source) -> Iterator[Way]:
    load = load_for(sheet.need_ohm, job.vehicle.system_v)
    for hops in ((), (Relay(),), (LoadResistor(ohm=load.ohm, rated_w=load.watts),)):
        line = brake_of(
            trial(device, sheet, source, hops), job.vehicle, sheet, job.vehicle.charging_v
        )
        yield Way(hops, _brake_failed(line), error=0.0)


def _brake_failed(line: BrakeLine) -> tuple[str, ...]:
    failed = []
    if not line.sure:
        failed.append(
            f"rests at {line.rest_v:.1f} V through {prefixed(line.path_ohm, 'Ω', 2)}; "
            f"{line.need_ohm:.0f} Ω are wanted"
        )
    if line.load_w > figure("load resistor, warm"):
        failed.append(f"{line.load_w:.1f} W of heat while the pedal is down")
    return tuple(failed)
