"""The one way in: ``assess(job, state) -> Assessment``."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import TypeVar

from zombrel.findings.finding import Assessment, Finding, StageState
from zombrel.findings.locks import locks
from zombrel.findings.overall import (
    assumed_rules,
    control_rules,
    fact_rules,
    fit_rules,
    progress_rules,
)
from zombrel.findings.rule import Find, ask, rules
from zombrel.findings.scene import Scene, rated
from zombrel.findings.signal import (
    brake_rules,
    level_rules,
    rate_rules,
    sensor_rules,
    signal_rules,
    source_rules,
)
from zombrel.findings.wiring import (
    airbag_rules,
    drawn_rules,
    feed_rules,
    fitting_rules,
    fuse_rules,
    harness_rules,
    pair_rules,
    plug_rules,
    power_rules,
    retrofit_rules,
    slot_rules,
    wire_rules,
)
from zombrel.harness.laid import laid
from zombrel.harness.power import PowerReading, read_power
from zombrel.harness.wire_reading import read_wires
from zombrel.job.follow.query import chunks, query, takes_notes
from zombrel.job.follow.view import plain
from zombrel.job.model import Job
from zombrel.job.reason import Reason
from zombrel.job.stages import STAGES
from zombrel.job.state import State
from zombrel.job.unjudged import note
from zombrel.signals.chain_reading import read_chains

RULE_FILES = (
    airbag_rules,
    assumed_rules,
    brake_rules,
    control_rules,
    drawn_rules,
    fact_rules,
    feed_rules,
    fit_rules,
    fitting_rules,
    fuse_rules,
    harness_rules,
    level_rules,
    pair_rules,
    plug_rules,
    power_rules,
    progress_rules,
    rate_rules,
    retrofit_rules,
    sensor_rules,
    signal_rules,
    slot_rules,
    source_rules,
    wire_rules,
)
"""Loaded for the rules they register."""
CHAINS = 4
"""So many chains are judged by one query: fewer to do again after an edit, more to keep."""
_WEIGHT = {"trouble": 200, "watch": 100, "note": 0}

Found = tuple[Finding, ...]
T = TypeVar("T")


@query
def _shared(job: Job, state: State) -> Scene:
    return Scene(job, state)


def _scene(job: Job, state: State) -> Scene:
    """What rules look at; as long as nothing is noted one for all, with what it has looked up."""
    return Scene(job, state) if takes_notes() else _shared(job, state)


@query
def _about_chains(job: Job, state: State, ids: tuple[str, ...]) -> Found:
    scene = _scene(job, state)
    return tuple([f for key in ids for f in _chain_findings(scene, key)])


def _chain_findings(scene: Scene, key: str) -> Iterator[Finding]:
    chain, reading = scene.chains[key], scene.reading(key)
    if reading.problem:
        yield from ask("chain", scene, chain, reading)
    elif reading.brake is not None:
        yield from ask("brake", scene, chain, reading.brake)
    elif reading.contact is not None:
        yield from ask("contact", scene, chain, reading)
    elif reading.sense is not None:
        yield from ask("sensor", scene, sensor_rules.sensed(scene, chain, reading))
    else:
        yield from ask("rate", scene, rated(scene, chain))


@query
def _about_devices(job: Job, state: State, ids: tuple[str, ...]) -> Found:
    scene = _scene(job, state)
    found: list[Finding] = []
    for device in [scene.devices[key] for key in ids]:
        if device.sheet.controls or device.sheet.full_at_rps:
            found += ask("device", scene.job, device)
    return tuple(found)


@query
def _about_wires(job: Job, state: State, ids: tuple[str, ...]) -> Found:
    scene = _scene(job, state)
    wires, plugs, bags, zones = scene.wires, scene.connectors, scene.bags, scene.airbag_zones
    found: list[Finding] = []
    for key in ids:
        wire, reading, ends = wires[key], scene.wire_reading(key), scene.ends(key)
        a, b = wire.a.place, wire.b.place
        found += ask("wire", scene, wire, reading, ends)
        if a in bags or b in bags or not zones.isdisjoint(wire.via):
            found += ask("near airbags", scene, wire, reading, ends)
        if wire.carries == "power" and ends.feed is not None:
            found += ask("fed", scene, wire, reading, ends)
        elif wire.carries == "ground":
            found += ask("grounding", scene, wire, reading, ends)
        if a in plugs or b in plugs:
            found += ask("plugged", scene, wire, reading, ends)
    return tuple(found)


@query
def _by_rule(job: Job, state: State, find: Find) -> Found:
    return tuple(find(_scene(job, state)))


@query
def _about_things(job: Job, state: State) -> Found:
    """Findings about single chains, devices and wires, so many at a time."""
    parts = [_about_chains(job, state, ids) for ids in chunks(job.chains, CHAINS)]
    parts += [_about_devices(job, state, ids) for ids in chunks(job.devices, 8)]
    parts += [_about_wires(job, state, ids) for ids in chunks(job.wires, 25)]
    return tuple([f for part in parts for f in plain(part)])


def rank(found: Iterable[Finding]) -> Found:
    """By harm, then by cost to mend."""
    return tuple(sorted(found, key=lambda f: (-_WEIGHT[f.level] - f.harm, f.minutes, f.id)))


@query
def findings(job: Job, state: State) -> Found:
    """Everything to settle, by harm, then by cost to mend."""
    across = [f for rule in rules("job") for f in plain(_by_rule(job, state, rule.found))]
    return rank((*across, *plain(_about_things(job, state))))


def assess(job: Job, state: State) -> Assessment:
    """Everything the screens show about ``job`` in ``state``.

    Pure; after an edit only what rests on it is worked out again. A job at which that fails as a
    whole has one finding, which says so.
    """
    try:
        return _assess(job, state)
    except Exception as error:
        return _in_parts(job, state, note(error))


@query
def _assess(job: Job, state: State) -> Assessment:
    found = plain(findings(job, state))
    lies, shut = laid(job), locks(job, found)
    return Assessment(
        chains=plain(read_chains(lies, state)),
        wires=plain(read_wires(lies, state)),
        runs=plain(lies.wires),
        power=plain(read_power(lies, state)),
        findings=found,
        stages=progress_rules.stage_states(_scene(job, state), found, shut.road),
        engine_lock=shut.engine,
        road_lock=shut.road,
        opens=shut.opens,
    )


def _in_parts(job: Job, state: State, said: str) -> Assessment:
    """What can be told of a job that fails as a whole: each part that does not fail itself."""

    def part(make: Callable[[], T], otherwise: T) -> T:
        try:
            return make()
        except Exception as error:
            note(error)
            return otherwise

    nothing = PowerReading(
        feeds=(), studs=(), standby_a=0.0, days=None, idle_load_a=0.0, idle_margin_a=None
    )
    lies = part(lambda: laid(job), job)
    none: Found = ()
    found = (_not_judged(said), *part(lambda: plain(findings(job, state)), none))
    unjudged = tuple(StageState(stage=s, mark="open", words="not judged") for s in STAGES)
    return Assessment(
        chains=part(lambda: plain(read_chains(lies, state)), ()),
        wires=part(lambda: plain(read_wires(lies, state)), ()),
        runs=part(lambda: plain(lies.wires), ()),
        power=part(lambda: plain(read_power(lies, state)), nothing),
        findings=found,
        stages=part(lambda: progress_rules.stage_states(Scene(job, state), found, said), unjudged),
        engine_lock=said,
        road_lock=said,
    )


def _not_judged(said: str) -> Finding:
    return Finding(
        id="unjudged-job",
        rule="not judged",
        stage="survey",
        level="trouble",
        title="This job cannot be judged",
        text=f"Zombrel failed at part of it ({said}). What is not said here is not known to be "
        "right: undo the last step, or take out what was entered last, until this goes.",
        harm=100,
        minutes=60,
        reason=Reason(
            title="A judgement that failed",
            result=said,
            formula="readings, then findings, then stages",
            source="a fault of the program; please send the report",
        ),
    )
