"""Troubles planted one at a time in the settled demo jobs, and sound variants of them.

``PLANTED`` is one table: what is done to which jobs, and the thing a finding must be about. Each
must be found, at its level, among the first three, in every named state; what the finding offers
must clear it and leave nothing that was not there before. ``SOUND`` is the other: what may be so
without a word. ``./zombrel bench --judgement`` prints how the whole of it comes out.
"""

from __future__ import annotations

import functools
from collections.abc import Iterator
from typing import Any, NamedTuple

from zombrel.behaviour.suppose import named
from zombrel.catalog import DEMO
from zombrel.findings.about import about
from zombrel.findings.assess import assess
from zombrel.findings.finding import Finding
from zombrel.findings.settle import settle
from zombrel.job.edits import Add, Edit, Many, Put, Remove, apply
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.validate import validate
from zombrel.store.zjob import load

JOBS = ("0412", "0413", "0409")
FIRST = 3
"""A planted trouble must be among so many findings."""


@functools.cache
def settled(number: str) -> Job:
    """A demo job with every offered edit taken."""
    return settle(load(DEMO / f"{number}.zjob"))[0]


Facts = dict[str, Any]
"""What is done: a value for each path; ``+path`` adds to a list, ``...`` takes an item away."""


class Row(NamedTuple):
    """One planted trouble."""

    name: str
    job: str
    thing: str
    """An id that the finding must be about."""
    facts: Facts
    level: str = "trouble"
    states: tuple[str, ...] = ()
    """Only in these named states; empty for every one."""
    mended: bool = True
    """It offers an edit; False for what only a person can settle by looking."""


class Sound(NamedTuple):
    """One variant about which nothing new may be said."""

    name: str
    job: str
    facts: Facts


def edit_of(facts: Facts) -> Edit:
    """The facts as one edit."""
    made: list[Put | Add | Remove] = []
    for path, value in facts.items():
        if path.startswith("+"):
            made.append(Add(path=path[1:], value=value))
        else:
            made.append(Remove(path=path) if value is ... else Put(path=path, value=value))
    return Many(edits=tuple(made))


def rows(name: str, *cases: tuple[str, str, Facts], **more: Any) -> list[Row]:
    """One kind of trouble in several jobs: (jobs, thing, facts)."""
    return [
        Row(name, j, thing, facts, **more) for jobs, thing, facts in cases for j in jobs.split()
    ]


def planted(row: Row) -> Job:
    """The settled job with a row's trouble in it."""
    return validate(apply(settled(row.job), edit_of(row.facts)))


Names = dict[str, frozenset[str]]


def names(job: Job) -> Names:
    """Ids of all but notes, in each named state."""
    return {
        name: frozenset(f.id for f in assess(job, state).findings if f.level != "note")
        for name, state in named(job.vehicle)
    }


@functools.cache
def clean_names(number: str) -> Names:
    """The same of a settled demo job."""
    return names(settled(number))


class Verdict(NamedTuple):
    """What became of one row in one job and state."""

    row: str
    job: str
    state: str
    found: bool
    first: bool
    cleared: bool
    new: tuple[str, ...]
    """What stood there after the mend that had not been there before."""
    said: tuple[str, ...]
    """The first findings, for reading."""


def hits(job: Job, row: Row, found: tuple[Finding, ...]) -> list[int]:
    """Places of the findings that are about the planted thing, at its level."""
    return [i for i, f in enumerate(found) if f.level == row.level and row.thing in about(job, f)]


def judge(row: Row, only: tuple[str, ...] = ()) -> Iterator[Verdict]:
    """Plant a trouble in a job and see what is said, in every state it concerns."""
    number = row.job
    before = clean_names(number)
    try:
        job = planted(row)
    except Problem as problem:
        yield Verdict(row.name, number, "", False, False, False, (), (f"refused: {problem}",))
        return
    for name, state in named(job.vehicle):
        if (row.states and name not in row.states) or (only and name not in only):
            continue
        found = assess(job, state).findings
        new = tuple([f for f in found if f.id not in before.get(name, ())])
        places = hits(job, row, new)
        said = tuple(f"{f.level} {f.id}: {f.title}" for f in new[:5])
        if not places:
            yield Verdict(row.name, number, name, False, False, False, (), said)
            continue
        hit = new[places[0]]
        edit = next((m.edit for m in hit.mends if m.edit is not None), None)
        left: frozenset[str] = frozenset({hit.id})
        if edit is not None:
            mended = validate(apply(job, edit))
            same = dict(named(mended.vehicle))[name]
            left = frozenset(f.id for f in assess(mended, same).findings if f.level != "note")
        # what the trouble itself brought with it is not the mend's doing
        extra = tuple(sorted(left - before[name] - {f.id for f in found}))
        yield Verdict(
            row.name,
            number,
            name,
            True,
            places[0] < FIRST,
            hit.id not in left or (edit is None and not row.mended),
            extra,
            said,
        )


def false_alarms(row: Sound, only: tuple[str, ...] = ()) -> Iterator[tuple[str, str]]:
    """(state, what is said) that is new in a sound variant."""
    before = clean_names(row.job)
    job = validate(apply(settled(row.job), edit_of(row.facts)))
    for name, state in named(job.vehicle):
        for f in assess(job, state).findings if not only or name in only else ():
            if f.level != "note" and f.id not in before[name]:
                yield name, f"{f.level} {f.id}: {f.title}"


ALL = " ".join(JOBS)
POWER_ROWS = (
    *rows(
        "no fuse at the battery post",
        ("0412", "W13", {"wires.W13.fuse_a": None}),
        ("0409", "W9", {"wires.W9.fuse_a": None}),
    ),
    *rows(
        "slot and in-line fuse both absent",
        ("0412", "W12", {"feeds.F7.fuse_a": None, "wires.W12.fuse_a": None}),
        ("0413", "W9", {"feeds.F6.fuse_a": None, "wires.W9.fuse_a": None}),
        ("0409", "W3", {"feeds.F1.fuse_a": None, "wires.W3.fuse_a": None}),
    ),
    *rows(
        "in-line fuse far from the post",
        ("0412", "W13", {"wires.W13.fuse_at_m": 1.5}),
        ("0409", "W9", {"wires.W9.fuse_at_m": 0.6}),
    ),
    *rows(
        "fuse under its load",
        ("0412", "W4", {"wires.W4.fuse_a": 4.0}),
        ("0413", "W12", {"wires.W12.fuse_a": 7.5}),
        ("0409", "W3", {"wires.W3.fuse_a": 10.0}),
    ),
    *rows(
        "slot under its load",
        ("0412", "F7", {"feeds.F7.load_a": 5.0}),
        ("0413", "F12", {"feeds.F12.load_a": 6.0}),
        ("0409", "F1", {"feeds.F1.load_a": 10.0}),
    ),
    *rows(
        "fuse over what the wire carries",
        ("0412", "W4", {"wires.W4.fuse_a": 40.0}),
        ("0413", "W3", {"wires.W3.area_mm2": 0.13}),
        ("0409", "W3", {"wires.W3.fuse_a": 40.0}),
    ),
    *rows(
        "fuse over what the wire behind the slot carries",
        ("0412", "F7", {"feeds.F7.fuse_a": 30.0}),
        ("0413", "F6", {"feeds.F6.fuse_a": 30.0}),
        ("0409", "F1", {"feeds.F1.fuse_a": 40.0}),
    ),
    *rows(
        "slot over its marking, wire unknown",
        ("0412", "F8", {"feeds.F8.fuse_a": 15.0, "feeds.F8.wire_mm2": None}),
        ("0413", "F4", {"feeds.F4.fuse_a": 20.0, "feeds.F4.wire_mm2": None}),
        ("0409", "F1", {"feeds.F1.fuse_a": 30.0, "feeds.F1.wire_mm2": None}),
    ),
    *rows(
        "ground thinner than its current",
        ("0412", "W14", {"wires.W14.area_mm2": 0.5}),
        ("0413", "W13", {"wires.W13.area_mm2": 0.22}),
        ("0409", "W4", {"wires.W4.area_mm2": 0.35}),
    ),
    *rows(
        "drop there and back",
        ("0412", "W4", {"wires.W4.fixed": True, "wires.W4.length_m": 9.0}),
        ("0413", "W13", {"wires.W13.fixed": True, "wires.W13.length_m": 9.0}),
        ("0409", "W3", {"wires.W3.fixed": True, "wires.W3.length_m": 9.0}),
    ),
)
FEED_ROWS = (
    *rows(
        "constant where it draws awake",
        ("0412", "W6", {"wires.W6.a": {"place": "F2"}}),
        ("0413", "W3", {"feeds.F4.feed": "constant"}),
        ("0409", "W7", {"wires.W7.a": {"place": "BAT"}}),
    ),
    *rows(
        "accessory where cranking must hold",
        ("0412", "W15", {"feeds.F8.feed": "accessory", "feeds.F8.volts": None}),
        ("0409", "W3", {"feeds.F1.feed": "accessory"}),
    ),
    *rows(
        "retained",
        ("0412", "W4", {"feeds.F7.feed": "retained", "feeds.F7.volts": None}),
        ("0413", "W12", {"feeds.F12.feed": "retained"}),
        ("0409", "W7", {"feeds.F1.feed": "retained"}),
    ),
    *rows(
        "dimmed illumination",
        ("0412", "W4", {"feeds.F7.dimmed": True, "feeds.F7.volts": None}),
        ("0413", "W9", {"feeds.F6.feed": "illumination", "feeds.F6.dimmed": True}),
    ),
    *rows(
        "undimmed lights",
        ("0412", "W4", {"feeds.F7.feed": "illumination", "feeds.F7.volts": None}),
        ("0413", "W9", {"feeds.F6.feed": "illumination"}),
        ("0409", "W3", {"feeds.F1.feed": "illumination"}),
    ),
    *rows(
        "a 12 V device in a 24 V car",
        ("0412", "hub", {"vehicle.system_v": 24}),
        ("0413", "idle", {"vehicle.system_v": 24}),
        ("0409", "ecu", {"vehicle.system_v": 24}),
    ),
    *rows(
        "a 12 V relay on 24 V",
        (
            "0412",
            "brake-pace",
            {
                "vehicle.system_v": 24,
                **{
                    f"devices.{d}.sheet.max_v": 32.0
                    for d in ("pace", "hub", "spark", "lamp", "blend")
                },
            },
        ),
    ),
)
RELAY_BAD = [{"type": "relay", "contact_ohm": 80.0}]
BRAKE_ROWS = (
    *rows(
        "brake tapped on the hot side",
        ("0412", "brake-pace", {"sources.cold.spec.side": "hot"}),
        ("0413", "brake-pace", {"sources.cold.spec.side": "hot"}),
    ),
    *rows(
        "LED lamps",
        ("0412", "brake-pace", {"chains.brake-pace.hops": []}),
        ("0413", "brake-pace", {"vehicle.lamps": "led"}),
    ),
    *rows(
        "a cancel input with nothing joined",
        ("0412 0413", "pace.CANCEL", {"chains.brake-pace": ...}),
        ("0409", "match.BRAKE", {"chains.brake": ...}),
    ),
    *rows(
        "a poor relay contact",
        ("0412 0413", "brake-pace", {"chains.brake-pace.hops": RELAY_BAD}),
        ("0409", "clutch", {"chains.clutch.hops": [{"type": "relay", "contact_ohm": 2000.0}]}),
    ),
    *rows(
        "a contact that rests the wrong way",
        ("0412", "clutch-lamp", {"sources.clutch.spec.rests": "closed"}),
        ("0413", "park", {"sources.park.spec.rests": "closed"}),
        ("0409", "clutch", {"sources.clutch.spec.rests": "open"}),
    ),
    *rows(
        "a contact to the other rail",
        ("0412", "clutch-lamp", {"sources.clutch.spec.to": "supply"}),
        ("0413", "handle", {"sources.handle.spec.to": "supply"}),
        ("0409", "arming", {"sources.arming.spec.to": "supply"}),
    ),
)
LONE = {"wires.W10": ..., "chains.speed.wires": ["W5"]}
OPEN = {"type": "stated", "open_collector": True}
R5_COIL = {
    "+sources": {
        "id": "coil9",
        "name": "Coil 1, switched side",
        "quantity": "tach",
        "spec": {"type": "coil"},
    },
    "chains.tach.source": "coil9",
    "wires.W6.a": {"place": "coil9", "pin": "-"},
    "devices.match.settings.TACH.at": "1",
}
COIL = {"what": "coil", "name": "coil 1", "spacing_m": 0.03, "along_m": 0.5}
MAGNET = {
    "sources.prop.spec.magnets": 1,
    "sources.prop.spec.volts_per_hz": 0.3,
    "chains.speed-hub.source": "prop",
    "wires.W9.a": {"place": "prop", "pin": "+"},
    "+wires": {
        "id": "W90",
        "a": {"place": "prop", "pin": "-"},
        "b": {"place": "hub", "pin": "SPEED-"},
        "colour": "black",
        "carries": "signal",
        "area_mm2": 0.5,
        "length_m": 5.0,
        "twisted": True,
    },
    "chains.speed-hub.wires": ["W9", "W90"],
    "devices.hub.settings.SPEED.at": "1900",
}


def lone(device: str, pin: str, chain: str) -> Facts:
    """An input whose signal is gone; its polarity is not asked for again."""
    return {f"chains.{chain}": ..., f"devices.{device}.sheet.inputs.{pin}.polarised": False}


def cut(source: str, seal: str) -> Facts:
    """A one-wire sender, and what its thread is sealed with."""
    return {f"sources.{source}.spec.one_wire": True, f"sources.{source}.spec.seal": seal}


def swapped(idle: float, redline: float) -> Facts:
    """Idle and redline changed over [rpm]."""
    return {"vehicle.idle_rps": redline / 60, "vehicle.redline_rps": idle / 60}


def opened(chain: str, source: str, rate: float, *hops: dict[str, Any]) -> Facts:
    """A source turned into an open collector, with what pulls it up."""
    spec = OPEN | {"pulses_per_m": rate}
    return {f"sources.{source}.spec": spec, f"chains.{chain}.hops": list(hops)}


def pull(ohm: float) -> dict[str, Any]:
    """A pull-up."""
    return {"type": "pull-up", "ohm": ohm}


def divide(by: int, **more: Any) -> dict[str, Any]:
    """A divider."""
    return {"type": "divider", "by": by, **more}


RATE_ROWS = (
    *rows(
        "no pull-up on an open collector",
        ("0412", "speed-pace", opened("speed-pace", "ring", 24.054, divide(7, threshold_v=2.0))),
        ("0413", "speed-pace", opened("speed-pace", "cable", 6.26)),
        ("0409", "speed", opened("speed", "ring", 24.054)),
    ),
    *rows(
        "too weak a pull-up",
        ("0413", "speed-pace", opened("speed-pace", "cable", 6.26, pull(1e6))),
        ("0409", "speed", opened("speed", "ring", 24.054, pull(3e6))),
    ),
    *rows(
        "too strong a pull-up",
        ("0413", "speed-pace", opened("speed-pace", "cable", 6.26, pull(30.0))),
        ("0409", "speed", opened("speed", "ring", 24.054, pull(100.0)) | LONE),
    ),
    *rows(
        "taps that together load a reluctor",
        (
            "0412",
            "speed-hub",
            {
                "devices.hub.sheet.inputs.SPEED.input_ohm": 2500.0,
                "chains.speed-pace.hops": [divide(7, input_ohm=2500.0)],
            },
        ),
    ),
    *rows(
        "square into an input for a sine",
        ("0412", "tach-hub", {"devices.hub.sheet.inputs.TACH.waveforms": ["sine"]}),
        ("0413", "speed-pace", {"devices.pace.sheet.inputs.SPEED.waveforms": ["sine"]}),
        ("0409", "tach", {"devices.match.sheet.inputs.TACH.waveforms": ["sine"]}),
    ),
    *rows(
        "sine into an input for square pulses",
        ("0412", "speed-hub", {"devices.hub.sheet.inputs.SPEED.waveforms": ["square"]}),
        ("0413", "tach", {"devices.tacho.sheet.inputs.TACH.waveforms": ["square"]}),
        ("0409", "speed", {"devices.match.sheet.inputs.SPEED.waveforms": ["square"]}),
    ),
    *rows("a kick over an input's limit", ("0409", "tach", R5_COIL)),
    *rows(
        "a kick into an input for square pulses",
        ("0409", "tach", R5_COIL | {"devices.match.sheet.inputs.TACH.max_v": 400.0}),
    ),
    *rows(
        "an untwisted pick-up",
        ("0412 0409", "W1", {"wires.W1.twisted": False, "wires.W2.twisted": False}),
    ),
    *rows(
        "a reversed pick-up",
        ("0412", "pick-spark", {"chains.pick-spark.polarity": "reversed"}),
        ("0409", "crank", {"chains.crank.polarity": "reversed"}),
    ),
    *rows(
        "a pair that lost its second wire",
        ("0412", "speed-pace", {"wires.W2": ..., "chains.speed-pace.wires": ["W1"]}),
        ("0409", "crank", {"wires.W2": ..., "chains.crank.wires": ["W1"]}),
    ),
    *rows(
        "a lead beside a coil",
        ("0412", "W9", {"wires.W9.neighbours": [COIL], "wires.W9.twisted": False}),
        ("0409", "W1", {"wires.W1.neighbours": [COIL], "wires.W1.twisted": False}),
    ),
    *rows(
        "a device beside a coil",
        ("0412", "hub", {"zones.dash.near": [COIL]}),
        ("0413", "pump", {"zones.bay-left.near": [COIL]}),
        ("0409", "ecu", {"zones.foot-right.near": [COIL | {"what": "ignition lead"}]}),
    ),
    *rows(
        "counts that begin too late",
        ("0412", "speed-hub", {"sources.ring.spec.volts_per_hz": 0.0008}),
        ("0413", "tach", {"sources.phase.spec.volts": 0.5}),
        ("0409", "speed", {"sources.ring.spec.volts_per_hz": 0.0012}),
    ),
    *rows(
        "too few pulses for the working range",
        (
            "0413",
            "speed-pace",
            {"sources.cable.spec.pulses_per_rev": 1.0, "devices.pace.settings.SPEED.at": "A0"},
        ),
    ),
    *rows("one magnet", ("0412", "speed-hub", MAGNET)),
    *rows(
        "too high a rate",
        ("0412", "speed-pace", {"chains.speed-pace.hops": [divide(1)]}),
        ("0413", "speed-pace", {"sources.cable.spec.pulses_per_rev": 40.0}),
        ("0409", "tach", {"devices.match.sheet.inputs.TACH.max_hz": 200.0}),
    ),
    *rows(
        "a divider setting that does not exist",
        ("0412", "speed-pace", {"chains.speed-pace.hops": [divide(13)]}),
    ),
)
INVERTED = {"sources.wide.spec.points": [[0.68, 5.0], [1.36, 0.0]]}
SPACE = {"id": "Wx", "colour": "red", "area_mm2": 0.5, "length_m": 1.0}
SENSE_ROWS = (
    *rows(
        "a sender of another span",
        ("0412", "oil-hub", {"sources.oil.spec.high": 5e5}),
        ("0413", "boost", {"sources.map.spec.high": 250e3, "sources.map.spec.low": 10e3}),
    ),
    *rows(
        "absolute for gauge",
        (
            "0412",
            "oil-hub",
            {"sources.oil.spec.absolute": True},
        ),
        ("0413", "boost", {"sources.map.spec.absolute": False}),
    ),
    *rows("a sagging reference", ("0412", "oil-hub", {"sources.oil.spec.supply_v": 4.5})),
    *rows(
        "the wrong sender",
        ("0412", "temp-hub", {"devices.hub.settings.TEMP.at": "A"}),
        ("0413", "charge", {"devices.pump.settings.CHARGE.at": "1"}),
        (
            "0409",
            "coolant",
            {"devices.ecu.settings.COOLANT.table": [[253.15, 4e4], [393.15, 500]]},
        ),
    ),
    *rows(
        "an inverted line",
        ("0409", "lambda", INVERTED),
        ("0412", "fuel-hub", {"sources.tank.spec.points": [[0.0, 7.0], [0.055, 84.0]]}),
    ),
    *rows(
        "a one-wire sender cut off its ground",
        ("0412", "temp-hub", cut("clt", "tape")),
        (
            "0413",
            "charge",
            cut("cooler", "sealant"),
        ),
        ("0409", "coolant", cut("clt", "tape")),
    ),
    *rows(
        "a sensor shared with a computer",
        ("0412", "temp-hub", {"sources.clt.spec.shared_ohm": 2490.0}),
        ("0413", "charge", {"sources.cooler.spec.shared_ohm": 2490.0}),
        ("0409", "coolant", {"sources.clt.spec.shared_ohm": 2490.0}),
    ),
)
SHAPES = [["00", "kick"], ["01", "sine"], ["10", "square"]]
KIND = {
    "pin": "KIND",
    "label": "Signal kind",
    "means": "signal",
    "of": "SPEED",
    "stands_for": SHAPES,
    "setting": {"type": "lookup", "unit": "signal", "rows": [["00", 0], ["01", 1], ["10", 2]]},
}
NO_KIND = {**KIND, "stands_for": SHAPES[:1]}


def on_kick(device: str) -> Facts:
    """Told that an ignition coil feeds its speed input."""
    at = {"pin": "KIND", "at": "00"}
    return {f"+devices.{device}.sheet.controls": KIND, f"+devices.{device}.settings": at}


SET_ROWS = (
    *rows(
        "a choice of signal that stands wrong",
        (
            "0412 0413",
            "pace",
            on_kick("pace"),
        ),
        (
            "0409",
            "match",
            on_kick("match"),
        ),
    ),
    *rows(
        "a choice without what there is",
        ("0412 0413", "pace", {"+devices.pace.sheet.controls": NO_KIND}),
        ("0409", "match", {"+devices.match.sheet.controls": NO_KIND}),
    ),
    *rows(
        "a setting that is off",
        ("0412", "speed-pace", {"devices.pace.settings.SPEED.at": "C3"}),
        ("0413", "speed-pace", {"devices.pace.settings.SPEED.at": "E9"}),
        ("0409", "speed", {"devices.match.settings.SPEED.at": "24500"}),
    ),
    *rows(
        "an error that no setting takes away",
        ("0412", "tach-hub", {"devices.spark.sheet.outputs.TACH OUT.pulses_per_rev": 2.8}),
        ("0409", "tach", {"devices.ecu.sheet.outputs.TACH OUT.pulses_per_rev": 2.7}),
    ),
    *rows(
        "wanted lower than its lowest step",
        ("0412", "spark", {"wishes.spark/LAUNCH.value": 20.0}),
        ("0413", "gauge", {"wishes.gauge/HIGH.value": 5e3}),
        ("0409", "match", {"+wishes": {"id": "match/GAP", "value": 0.05}}),
    ),
)
DRAWN_ROWS = (
    *rows(
        "a wire that ends at another pin",
        ("0412", "W20", {"wires.W20.b": {"place": "hub", "pin": "OIL"}}),
        ("0413", "W5", {"wires.W5.b": {"place": "gauge", "pin": "BOOST"}}),
        ("0409", "W6", {"wires.W6.b": {"place": "match", "pin": "SPEED"}}),
    ),
    *rows(
        "the second wire of a pair at another pin",
        ("0412", "W2", {"wires.W2.b": {"place": "hub", "pin": "SPEED-"}}),
        ("0412", "W26", {"wires.W26.b": {"place": "spark", "pin": "BATT"}}),
        ("0409", "W2", {"wires.W2.b": {"place": "match", "pin": "POWER"}}),
    ),
    *rows(
        "a supply led to a signal input",
        ("0412", "W4", {"wires.W4.b": {"place": "pace", "pin": "SPEED-"}}),
        ("0412", "W17", {"wires.W17.b": {"place": "ecu", "pin": "BLEND"}}),
        ("0413", "W9", {"wires.W9.b": {"place": "gauge", "pin": "BOOST"}}),
        ("0409", "W7", {"wires.W7.b": {"place": "match", "pin": "TACH"}}),
    ),
    *rows(
        "a supply pin that a wire leads from elsewhere",
        ("0412", "lamp.POWER", {"wires.W12.a": {"place": "oil", "pin": "3"}}),
        ("0413", "gauge.GROUND", {"wires.W10.b": {"place": "map", "pin": "3"}}),
        ("0409", "match.POWER", {"wires.W7.a": {"place": "wide", "pin": "3"}}),
    ),
    *rows(
        "two wires in one cavity",
        ("0412", "D2.27", {"wires.W22.a": {"place": "D2", "pin": "27"}}),
    ),
    *rows(
        "a wire in a blanked cavity",
        ("0412", "D2.18", {"wires.W22.a": {"place": "D2", "pin": "18"}}),
        ("0409", "E26.10", {"wires.W5.a": {"place": "E26", "pin": "10"}}),
    ),
    *rows(
        "a wire in an unusable cavity",
        ("0412", "B4.13", {"wires.W22.a": {"place": "B4", "pin": "13"}}),
    ),
    *rows(
        "a wire in no cavity",
        ("0412", "D2.77", {"wires.W22.a": {"place": "D2", "pin": "77"}}),
        ("0409", "V52.88", {"wires.W5.a": {"place": "V52", "pin": "88"}}),
    ),
    *rows(
        "two outputs joined",
        (
            "0412",
            "Wx",
            {
                "+wires": SPACE
                | {
                    "a": {"place": "spark", "pin": "TACH OUT"},
                    "b": {"place": "blend", "pin": "OUT"},
                    "carries": "signal",
                }
            },
        ),
    ),
    *rows(
        "two signals to one input",
        (
            "0412",
            "hub.TEMP",
            {
                "+chains": {
                    "id": "temp-2",
                    "title": "Coolant",
                    "quantity": "coolant",
                    "source": "clt-car",
                    "device": "hub",
                    "pin": "TEMP",
                }
            },
        ),
    ),
    *rows(
        "supply joined to ground",
        (
            "0412",
            "Wx",
            {
                "+wires": SPACE
                | {"a": {"place": "F7"}, "b": {"place": "G1"}, "carries": "power", "fuse_a": 1.0}
            },
        ),
        ("0413", "W3", {"wires.W3.b": {"place": "G1"}}),
        ("0409", "W4", {"wires.W4.b": {"place": "F1"}}),
    ),
    *rows(
        "supply and ground not drawn",
        ("0412", "hub.GROUND", {"wires.W8": ...}),
        ("0413", "pace.POWER", {"wires.W3": ...}),
        ("0409", "ecu.GROUND", {"wires.W4": ...}),
    ),
)
WORDINGS = ("squib +", "SRS", "supplemental restraint", "clock spring", "airbag", "AIR BAG 2")
AIRBAG_ROWS = (
    *[
        Row(f"airbag: {w}", "0412", "D2.27", {"connectors.D2.cavities.27.circuit": w})
        for w in WORDINGS
    ],
    *rows(
        "airbag: by its sheath",
        ("0412", "D2.27", {"connectors.D2.cavities.27.colour": "yellow sheath"}),
        ("0409", "V52.44", {"connectors.V52.cavities.44.colour": "yellow sheath"}),
    ),
    *rows(
        "airbag: a feed",
        ("0412", "F7", {"feeds.F7.name": "SRS module"}),
        ("0413", "F6", {"feeds.F6.hangs": "clock spring"}),
        ("0409", "F1", {"feeds.F1.name": "Air-bag computer"}),
    ),
    *rows(
        "airbag: metered",
        (
            "0412",
            "F2",
            {
                "feeds.F2.name": "Squib supply",
                "feeds.F2.volts": {"off": 12.4, "acc": 12.4, "run": 12.4, "crank": 10.5},
            },
        ),
    ),
    *rows(
        "airbag: a lead",
        (
            "0409",
            "remap",
            {
                "leads.remap.rows": [
                    {"a": "V52.1", "b": "E40.1", "signal": "squib 1 +"},
                    {"a": "V52.2", "b": "E40.2", "signal": "crank"},
                ]
            },
        ),
    ),
)
FIT_ROWS = (
    *rows(
        "a throttle it does not fit",
        ("0412 0413", "pace", {"vehicle.throttle": "wire"}),
    ),
    *rows(
        "a gearbox it does not fit",
        ("0413", "idle", {"vehicle.gearbox": "manual"}),
        ("0409", "match", {"vehicle.gearbox": "automatic"}),
    ),
    *rows(
        "a year it is not for",
        ("0412", "hub", {"devices.hub.sheet.needs": [{"fact": "chassis", "low": 3000}]}),
        ("0413", "tacho", {"devices.tacho.sheet.needs": [{"fact": "chassis", "high": 900}]}),
        ("0409", "match", {"devices.match.sheet.needs": [{"fact": "chassis", "low": 2600}]}),
    ),
    *rows(
        "hardware without its calibration",
        ("0412", "ecu", {"devices.ecu.hardware": "blend sender"}),
        (
            "0413",
            "pump",
            {"devices.pump.hardware": "ring case", "devices.pump.calibrated_for": "plain"},
        ),
        ("0409", "ecu", {"devices.ecu.hardware": "larger injectors"}),
    ),
)
FACT_ROWS = (
    *rows(
        "a figure that no road vehicle has",
        ("0412 0413 0409", "vehicle.idle_rps", {"vehicle.idle_rps": 850.0}),
        ("0412 0413 0409", "vehicle.top_mps", {"vehicle.top_mps": 5.0}),
        ("0412", "vehicle.mass_kg", {"vehicle.mass_kg": 1.29}),
        ("0413", "vehicle.mass_kg", {"vehicle.mass_kg": 2.65}),
    ),
    *rows(
        "a pick-up that is not one pulse a firing",
        ("0412", "pick", {"sources.pick.spec.teeth": 12}),
        ("0412", "spark", {"sources.pick.spec.on_cam": False}),
        ("0412", "spark", {"vehicle.cylinders": 4, "vehicle.firing_order": "1-3-4-2"}),
    ),
    *rows(
        "idle over redline",
        ("0412", "vehicle.idle_rps", swapped(850, 6800)),
        ("0413", "vehicle.idle_rps", swapped(780, 4400)),
        ("0409", "vehicle.idle_rps", swapped(850, 7000)),
    ),
    *rows(
        "no firing order",
        ("0412 0409", "vehicle.firing_order", {"vehicle.firing_order": "1-5-3-6-2-2"}),
        ("0413", "vehicle.firing_order", {"vehicle.firing_order": "1-3-4-2-5"}),
    ),
    *rows(
        "ratios out of order",
        ("0412 0409", "vehicle.ratios", {"vehicle.ratios": [3.42, 1.39, 2.05, 1.0, 0.79]}),
        ("0413", "vehicle.ratios", {"vehicle.ratios": [2.74, 1.0, 1.54, 0.69]}),
    ),
    *rows(
        "torque pairs unsorted",
        (
            "0412 0409",
            "vehicle.torque",
            {"vehicle.torque": [[40, 200], [25, 180], [90, 210]]},
        ),
    ),
    *rows(
        "an absurd final drive",
        ("0412 0409", "vehicle.final_drive", {"vehicle.final_drive": 36.4}),
        ("0413", "vehicle.final_drive", {"vehicle.final_drive": 0.41}),
    ),
    *rows(
        "an odd number with wasted spark",
        ("0412 0409", "vehicle.cylinders", {"vehicle.cylinders": 5, "vehicle.firing_order": ""}),
    ),
)
MADE_ROWS = (
    *rows(
        "an output whose own input has nothing",
        (
            "0412",
            "tach-hub",
            {"chains.pick-spark": ..., "devices.spark.sheet.inputs.PICK-UP.polarised": False},
        ),
        ("0412", "blend-ecu", {"chains.blend-reader": ...}),
        ("0409", "tach", lone("ecu", "CRANK", "crank")),
    ),
)
ASSUMED_ROWS = rows(
    "a typed length", ("0413", "W1", {"wires.W1.via": []}), level="watch", mended=False
)
PLANTED: tuple[Row, ...] = (
    *MADE_ROWS,
    *ASSUMED_ROWS,
    *POWER_ROWS,
    *FEED_ROWS,
    *BRAKE_ROWS,
    *RATE_ROWS,
    *SENSE_ROWS,
    *SET_ROWS,
    *DRAWN_ROWS,
    *AIRBAG_ROWS,
    *FIT_ROWS,
    *FACT_ROWS,
)


def each(jobs: str, *facts: Facts, name: str = "") -> list[Sound]:
    """Sound variants: each fact in each job."""
    return [Sound(name or str(f)[:60], job, f) for job in jobs.split() for f in facts]


def rated(tyre: str) -> Facts:
    """Another tyre."""
    return {"vehicle.tyre": tyre}


DAISY = {"place": "pace", "pin": "POWER"}
SOUND: tuple[Sound, ...] = (
    # tyres that leave the settings within a per cent
    *each(
        "0412",
        rated("195/65 R15") | {"devices.hub.settings.SPEED.at": "23770"},
        name="tyre",
    ),
    *each(
        "0409",
        rated("6.50-16") | {"devices.match.settings.SPEED.at": "20440"},
        name="a bias tyre",
    ),
    *each("0412 0409", rated("205/60R15"), rated("205/60 VR15"), name="tyre, written otherwise"),
    *each("0412 0409", {"vehicle.mass_kg": 1350.0}, name="mass"),
    *each(ALL, {"vehicle.idle_rps": 900 / 60}, name="idle"),
    *each(ALL, {"vehicle.battery_ah": None}, name="battery not known"),
    *each(ALL, {"vehicle.battery_ah": 90.0}, name="a bigger battery"),
    *each(ALL, {"vehicle.batteries": 2}, name="two batteries"),
    *each("0409", {"vehicle.lamps": "led"}, name="LED lamps no cancel input needs"),
    *each("0412", {"vehicle.lamps": "filament"}, name="bulbs behind a relay"),
    *each("0413", {"vehicle.lamp_w": 18.0}, {"vehicle.lamp_count": 3}, name="other bulbs"),
    # a run pin on run-and-crank, and other feeds that serve
    *each("0412", {"wires.W4.a": {"place": "F8"}}, name="run pin on run-and-crank"),
    *each("0413", {"feeds.F4.feed": "run-and-crank"}, name="run pin on run-and-crank"),
    *each("0412", {"feeds.F2.kind": "box"}, {"feeds.F7.kind": "box"}, name="boxes"),
    *each("0413", {"feeds.F12.kind": "box"}, name="boxes"),
    # fuses and wires with more in hand
    *each("0412", {"wires.W4.area_mm2": 1.5}, {"wires.W13.area_mm2": 10.0}, name="thicker"),
    *each("0413", {"wires.W12.area_mm2": 4.0}, {"wires.W13.area_mm2": 4.0}, name="thicker"),
    *each("0409", {"wires.W3.area_mm2": 4.0}, {"wires.W4.area_mm2": 4.0}, name="thicker"),
    *each("0412", {"feeds.F9.wire_mm2": 1.5}, {"feeds.F9.load_a": 3.0}, name="slots"),
    *each("0412", {"wires.W12.fuse_at_m": 0.1}, name="a fuse near its feed"),
    *each("0412", {"feeds.F8.marked_a": 15.0}, name="a slot marked for more"),
    *each("0413", {"feeds.F12.marked_a": 20.0}, name="a slot marked for more"),
    # senders and sources alike
    *each("0412", {"sources.clt.spec.seal": "tape"}, name="tape on a two-wire sender"),
    *each("0413", {"sources.cooler.spec.seal": "sealant"}, name="sealant on a two-wire sender"),
    *each("0412", {"sources.oil.spec.out_ohm": 300.0}, name="output resistance"),
    *each("0412", {"sources.ring.spec.volts_per_hz": 0.012}, name="a stronger ring"),
    *each("0409", {"sources.crank.spec.volts_per_hz": 0.009}, name="a stronger sensor"),
    *each("0409", {"sources.clutch.spec.contact_ohm": 0.5}, name="an older contact"),
    *each("0412", {"studs.G1.load_a": 3.0}, {"studs.G2.rings": 2}, name="studs"),
    # a device that gets its feed from the pin of another
    *each("0412", {"wires.W12.a": DAISY, "wires.W12.via": ["dash"]}, name="daisy chain"),
    *each(
        "0413",
        {"wires.W9.a": {"place": "tacho", "pin": "POWER"}, "wires.W9.via": ["dash"]},
        name="daisy chain",
    ),
    # the shop's own ways, and units of the person, which decide nothing
    *each(ALL, {"house.battery": "positive first"}, name="battery order"),
    *each(ALL, {"house.joint_by": "solder"}, name="joints"),
    *each(ALL, {"house.fuse_within_m": 0.3}, name="fuse distance"),
    *each(ALL, {"vehicle.owner": "another"}, {"vehicle.chassis": 2000}, name="papers"),
    *each(ALL, {"vehicle.wheel_airbag": True}, name="an airbag in the wheel"),
    *each("0412", {"vehicle.top_mps": 50.0}, name="a slower car"),
    *each("0413", {"vehicle.top_mps": 36.0}, name="a slower car"),
)
