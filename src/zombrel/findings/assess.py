"""The one way in: ``assess(job, state) -> Assessment``."""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterator

from zombrel.findings import (
    control_rules,
    harness_rules,
    power_rules,
    progress_rules,
    sensor_rules,
    signal_rules,
    source_rules,
    wire_rules,
)
from zombrel.findings.model import Assessment, Finding
from zombrel.findings.scene import Scene, rated
from zombrel.harness.laid import laid
from zombrel.harness.power import PowerReading, read_power
from zombrel.harness.reading import read_wires
from zombrel.job.memo import LIMIT
from zombrel.job.model import Chain, Device, Job
from zombrel.job.state import State
from zombrel.signals.reading import ChainReading, read_chains, reduced
from zombrel.signals.reduce import box_for
from zombrel.signals.supply import all_ends, pins

RATE_RULES = (*signal_rules.RATE_RULES, *wire_rules.RATE_RULES)
JOB_RULES = (
    *signal_rules.JOB_RULES,
    *source_rules.JOB_RULES,
    *wire_rules.JOB_RULES,
    *harness_rules.JOB_RULES,
    *power_rules.JOB_RULES,
    *progress_rules.RULES,
)
WIRE_RULES = (*wire_rules.WIRE_RULES, *harness_rules.WIRE_RULES, *power_rules.WIRE_RULES)
_WEIGHT = {"trouble": 200, "watch": 100, "note": 0}
_KEPT: dict[tuple[object, ...], tuple[tuple[object, ...], tuple[Finding, ...]]] = {}


def forget() -> None:
    """Drop remembered findings (for measuring a cold start)."""
    _KEPT.clear()


def _kept(parts: tuple[object, ...], find: Callable[[], Iterator[Finding]]) -> tuple[Finding, ...]:
    """Findings of rules that look only at ``parts``, remembered by their identity."""
    key = tuple(map(id, parts))
    hit = _KEPT.get(key)
    if hit is None:
        if len(_KEPT) >= LIMIT:
            _KEPT.clear()
        hit = _KEPT[key] = (parts, tuple(find()))
    return hit[1]


def scene(job: Job, state: State) -> Scene:
    """Read chains and wires as they lie, and make the look-up tables the rules share."""
    raw, job = job, laid(job)
    return Scene(
        raw=raw,
        job=job,
        state=state,
        devices={d.id: d for d in job.devices},
        sources={s.id: s for s in job.sources},
        boxes={s.id: box_for(job, s) for s in job.sources},
        reduced=reduced(job),
        feeds={f.id: f for f in job.feeds},
        wires={w.id: w for w in job.wires},
        connectors={c.id: c for c in job.connectors},
        chain_readings=read_chains(job, state),
        wire_readings=read_wires(
            job.wires,
            pins(job.devices),
            job.feeds,
            job.house,
            state.ambient,
            job.vehicle.charging_v,
        ),
    )


def _about_chains(seen: Scene) -> Iterator[Finding]:
    job = seen.job
    for chain, reading in zip(job.chains, seen.chain_readings, strict=True):
        if reading.problem:
            yield signal_rules.incomplete(chain, reading.problem)
            continue
        parts = (
            chain,
            seen.sources[chain.source],
            seen.devices[chain.device],
            seen.boxes[chain.source],
            job.vehicle,
            job.house,
            job.ledger,
            *[seen.wires[w] for w in chain.wires],
        )
        if reading.brake is not None:
            yield from signal_rules.brake_unsure(seen, chain, reading.brake)
        elif reading.contact is not None:
            yield from sensor_rules.contact_sense(seen, chain, reading)
        elif reading.sense is not None:
            yield from _kept(
                (reading, job.sources, job.wires, job.studs, pins(job.devices), *parts),
                functools.partial(_sensor, seen, chain, reading),
            )
        else:
            yield from _kept((job.sources, job.zones, job.ways, *parts), _rate(seen, chain))


def _sensor(seen: Scene, chain: Chain, reading: ChainReading) -> Iterator[Finding]:
    one = sensor_rules.sensed(seen, chain, reading)
    if one is not None:
        for rule in sensor_rules.SENSOR_RULES:
            yield from rule(seen, one)


def _rate(seen: Scene, chain: Chain) -> Callable[[], Iterator[Finding]]:
    def find() -> Iterator[Finding]:
        one = rated(seen, chain)
        for rule in RATE_RULES:
            yield from rule(seen, one)

    return find


def _about_controls(seen: Scene) -> Iterator[Finding]:
    job = seen.job
    shared = (job.vehicle, job.wishes, job.ledger, job.chains, job.sources, job.wires, job.studs)
    for device in job.devices:
        if device.sheet.controls or device.sheet.full_at_rps:
            yield from _kept((device, *shared, job.feeds), functools.partial(_device, job, device))


def _device(job: Job, device: Device) -> Iterator[Finding]:
    yield from control_rules.controls_off(job, device)
    yield from control_rules.resets_while_cranking(job, device)


def _about_wires(seen: Scene) -> tuple[Finding, ...]:
    job = seen.job
    parts = (job.wires, seen.wire_readings, job.feeds, job.house, job.ledger, job.connectors,
             job.zones, job.ways, job.sources)  # fmt: skip
    return _kept((pins(job.devices), *parts), lambda: _each_wire(seen))


def _about_power(seen: Scene, reading: PowerReading) -> tuple[Finding, ...]:
    job = seen.job
    parts = (
        job.wires,
        seen.wire_readings,
        job.feeds,
        job.studs,
        job.house,
        job.vehicle,
        job.ledger,
    )

    def find() -> Iterator[Finding]:
        for rule in power_rules.POWER_RULES:
            yield from rule(seen, reading)

    return _kept((pins(job.devices), *parts), find)


def _each_wire(seen: Scene) -> Iterator[Finding]:
    job = seen.job
    joined = all_ends(job.wires, pins(job.devices), job.feeds)
    for wire, reading, e in zip(job.wires, seen.wire_readings, joined, strict=True):
        for rule in WIRE_RULES:
            yield from rule(seen, wire, reading, e)


def rank(findings: list[Finding]) -> tuple[Finding, ...]:
    """By harm, then by cost to mend."""
    return tuple(sorted(findings, key=lambda f: (-_WEIGHT[f.level] - f.harm, f.minutes, f.id)))


def assess(job: Job, state: State) -> Assessment:
    """Everything the screens show about ``job`` in ``state``.

    Pure; parts are remembered by identity, so after an edit only what it touched is
    computed again.
    """
    seen = scene(job, state)
    power = read_power(seen.job, seen.wire_readings, state.ambient)
    across = [finding for rule in JOB_RULES for finding in rule(seen)]
    found = rank(
        [
            *_about_chains(seen),
            *_about_controls(seen),
            *_about_wires(seen),
            *_about_power(seen, power),
            *across,
        ]
    )
    return Assessment(
        chains=seen.chain_readings,
        wires=seen.wire_readings,
        runs=seen.job.wires,
        power=power,
        findings=found,
        stages=progress_rules.stage_states(seen, found),
    )
