"""What the board says about a chain: words, marks and the waveform of each hop."""

from __future__ import annotations

import math

from zombrel.findings.finding import Assessment
from zombrel.job.model import (
    Attenuator,
    Chain,
    Coupler,
    Job,
    LoadResistor,
    Multiplier,
    PullUp,
    Ratio,
    Relay,
    by_id,
)
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES, group
from zombrel.job.sheet import TABLE, Takes, Waveform
from zombrel.job.value import Value
from zombrel.signals.chain_reading import ChainReading, is_brake_line
from zombrel.signals.following import given_by
from zombrel.signals.inputs import INPUTS
from zombrel.signals.kinds import words_of
from zombrel.signals.reduce import (
    counter_of,
    divider_of,
    input_of,
    setting_pulses,
)
from zombrel.signals.sense import FAULTS
from zombrel.signals.ways import SENSED_OK, hop_words
from zombrel.ui.source.electrical import electrical_words, hz_words
from zombrel.units import Units, number, per_distance, prefixed, rpm, speed, speed_unit, speed_value
from zombrel.units.measure import Kind, difference, digits, length_of, value_in, written
from zombrel.units.measure import unit as unit_name


class Wave(Value, frozen=True):
    """A waveform to draw."""

    kind: Waveform
    hz: float
    peak: float
    threshold: float = 0.0


class Tile(Value, frozen=True):
    """One hop of the board."""

    key: str
    """source, way, run or input."""
    head: str
    sub: str
    value: str
    bad: bool = False
    wave: Wave | None = None
    empty: bool = False


class Verdict(Value, frozen=True):
    """What is to be said of a chain at a glance."""

    mark: str
    words: str
    big: str
    unit: str
    truth: str
    bad: bool


def tiles(job: Job, chain: Chain, r: ChainReading, units: Units) -> list[Tile]:
    """The four hops of a chain."""
    source = by_id(job.sources, chain.source)
    assert source is not None  # validated with the job
    device, sheet = input_of(job, chain)
    if is_brake_line(source, sheet):
        return _brake_tiles(job, chain, r)
    head, sub = words_of(source, job)
    if group(r.quantity) == "contact":
        return _contact_tiles(job, chain, r, head, sub)
    if group(r.quantity) == "sensed":
        return _sensor_tiles(job, chain, r, head, sub)
    try:
        give = given_by(job, source)
    except Problem:
        return [
            Tile("source", head, sub, "unknown", bad=True),
            *_way_tiles(chain, r, None),
            _run_tile(job, chain),
            Tile("input", chain.pin, device.name, "unknown", bad=True),
        ]
    divider = divider_of(chain)
    threshold = divider.threshold_v if divider else sheet.threshold_v
    first = Wave(give.waveform, r.source_hz, r.source_v, threshold)
    hot = give.volts > sheet.max_v
    return [
        Tile(
            "source",
            head,
            sub,
            f"{hz_words(r.source_hz)} {prefixed(r.source_v, 'V', 2)}",
            hot,
            first,
        ),
        *_way_tiles(chain, r, first),
        _run_tile(job, chain).but(
            wave=Wave("square", r.device_hz, divider.out_v) if divider else first.but(threshold=0.0)
        ),
        _input_tile(job, chain, r, units).but(wave=_counted(r)),
    ]


def _way_tile(chain: Chain, wave: Wave | None = None) -> Tile:
    """What is fitted on the way, for chains whose signal is not a rate."""
    if not chain.hops:
        return Tile("way", "nothing here", "", "", empty=True)
    first, *rest = [hop_words(h) for h in chain.hops]
    head, _, sub = first.partition(" ")
    return Tile("way", head[0].upper() + head[1:], sub, "; ".join(rest), False, wave)


def _sensor_tiles(job: Job, chain: Chain, r: ChainReading, head: str, sub: str) -> list[Tile]:
    device, sheet = input_of(job, chain)
    at = device.setting(chain.pin)
    set_to = "" if sheet.curves is None else f"curve {at}" if at else "not set"
    if at == TABLE:
        set_to = f"own table, {len(device.table(chain.pin))} points"
    sense = r.sense
    if sense is None:
        return [
            Tile("source", head, sub, "unknown", True),
            _way_tile(chain),
            _run_tile(job, chain),
            Tile("input", chain.pin, set_to or "fixed curve", "see Set", True),
        ]
    lifted = abs(sense.lift_v) > 0.1 and INPUTS[sense.takes].by_volts
    run = _run_tile(job, chain)
    if lifted:
        run = run.but(value=f"lifted {sense.lift_v:.2f} V", bad=True)
    seen = sense.pin_v if math.isfinite(sense.pin_v) else sense.inferred
    takes: Takes = "volts" if math.isfinite(sense.pin_v) else sense.takes
    wave = (
        Wave("square", sense.electrical, 5.0)
        if sense.gives == "hz"
        else Wave("level", 1.0, sense.pin_v if math.isfinite(sense.pin_v) else 0.0)
    )
    return [
        Tile(
            "source",
            head,
            sub,
            electrical_words(sense.gives, sense.electrical),
            sense.fault == "open",
            wave,
        ),
        _way_tile(chain, wave),
        run,
        Tile(
            "input",
            chain.pin,
            set_to or "fixed curve",
            f"sees {electrical_words(takes, seen)}",
            bool(sense.fault),
        ),
    ]


def _contact_tiles(job: Job, chain: Chain, r: ChainReading, head: str, sub: str) -> list[Tile]:
    _, sheet = input_of(job, chain)
    wants = f"{sheet.active} to {sheet.closes_to}"
    wrong = r.contact is None or not r.contact.right
    return [
        Tile("source", head, sub, r.problem and "unknown", bool(r.problem)),
        _way_tile(chain),
        _run_tile(job, chain),
        Tile(
            "input", chain.pin, f"on: {wants}", "sees it wrong" if wrong else "sees it right", wrong
        ),
    ]


def _counted(r: ChainReading) -> Wave | None:
    """The pulses the device counts; None when it counts none."""
    return Wave("square", r.device_hz, 1.0) if r.status == "counting" else None


def _way_tiles(chain: Chain, r: ChainReading, before: Wave | None) -> list[Tile]:
    divider = divider_of(chain)
    if divider is not None:
        wave = Wave("square", r.device_hz, divider.out_v)
        return [
            Tile(
                "way",
                "Divider",
                f"{divider.by} in, 1 out",
                f"{hz_words(r.device_hz)} {divider.out_v:g} V",
                False,
                wave,
            )
        ]
    counter = counter_of(chain)
    if isinstance(counter, Multiplier | Ratio):
        wave = Wave("square", r.device_hz, counter.out_v)
        return [
            Tile(
                "way",
                "Multiplier" if isinstance(counter, Multiplier) else "Ratio box",
                f"1 in, {counter.by:g} out",
                f"{hz_words(r.device_hz)} {counter.out_v:g} V",
                False,
                wave,
            )
        ]
    if any(isinstance(h, Attenuator) for h in chain.hops):
        return [_way_tile(chain, before)]
    if any(isinstance(h, Coupler) for h in chain.hops):
        return [Tile("way", "Capacitor", "swings about zero", "", False, before)]
    pull = next((h for h in chain.hops if isinstance(h, PullUp)), None)
    if pull is not None:
        return [Tile("way", "Pull-up", f"{prefixed(pull.ohm, 'Ω')} to supply", "", False, before)]
    return [Tile("way", "nothing here", "", "", empty=True)]


def _run_tile(job: Job, chain: Chain) -> Tile:
    wires = [w for w in (by_id(job.wires, key) for key in chain.wires) if w is not None]
    if not wires:
        return Tile("run", "Run", "no wire drawn", "", bad=False, empty=False)
    length = max(w.length_m for w in wires)
    twisted = any(w.twisted for w in wires)
    near = [n.name for w in wires for n in w.neighbours if n.spacing_m < job.house.coil_clear_m]
    value = f"near {near[0]}" if near else "nothing near"
    return Tile(
        "run",
        "Run",
        f"{length_of(length)}" + (", twisted" if twisted else ""),
        value,
        bool(near) and not twisted,
    )


def _input_tile(job: Job, chain: Chain, r: ChainReading, units: Units) -> Tile:
    device, sheet = input_of(job, chain)
    at = device.setting(chain.pin)
    sub = f"set {at}" if at else "not set" if sheet.numbers is not None else "as it comes"
    if r.problem or sheet.numbers is None or at is None:
        return Tile("input", chain.pin, sub, r.problem and "see Set", bool(r.problem))
    try:
        believed = setting_pulses(device, sheet)
    except Problem:
        return Tile("input", chain.pin, sub, "no such setting", True)
    value = per_distance(believed, units) if chain.quantity == "speed" else f"{believed:g} per rev"
    off = math.isfinite(r.error) and abs(r.error) > job.house.setting_ok + abs(_wear(r))
    return Tile("input", chain.pin, sub, value, off)


def _wear(r: ChainReading) -> float:
    return 0.016 if r.quantity == "speed" else 0.0


def _brake_tiles(job: Job, chain: Chain, r: ChainReading) -> list[Tile]:
    source = by_id(job.sources, chain.source)
    assert source is not None  # validated with the job
    head, sub = words_of(source, job)
    hop = chain.hops[0] if chain.hops else None
    if isinstance(hop, Relay):
        way = Tile("way", "Relay", "grounds at rest", "sure" if r.brake and r.brake.sure else "")
    elif isinstance(hop, LoadResistor):
        heat = f"{r.brake.load_w:.1f} W hot" if r.brake else ""
        way = Tile("way", "Load", f"{hop.ohm:g} Ω {hop.rated_w:.0f} W", heat)
    else:
        way = Tile("way", "nothing here", "", "", empty=True)
    if r.brake is None:
        return [
            Tile("source", head, sub, "unknown", True),
            way,
            _run_tile(job, chain),
            Tile("input", chain.pin, "wants ground", "unknown", True),
        ]
    open_line = not r.brake.sure
    need = f"wants < {r.brake.need_ohm:g} Ω"
    return [
        Tile(
            "source",
            head,
            sub.partition(", ")[2] or sub,
            "floats at rest" if open_line else "grounded at rest",
            open_line,
            Wave("level", 1.0, r.source_v, r.brake.rest_limit_v),
        ),
        way,
        _run_tile(job, chain),
        Tile("input", chain.pin, need, f"sees {r.source_v:.1f} V", open_line),
    ]


def verdict(
    job: Job, chain: Chain, r: ChainReading, assessment: Assessment, units: Units
) -> Verdict:
    """The reading of a chain and what to think of it."""
    said = _verdict(job, chain, r, assessment, units)
    wires = [f for f in assessment.findings if f.wire in chain.wires]
    if said.mark == "good" and wires:
        return said.but(mark=wires[0].level, words=f"{said.words}; see {wires[0].wire}")
    return said


def _verdict(
    job: Job, chain: Chain, r: ChainReading, assessment: Assessment, units: Units
) -> Verdict:
    levels = [f.level for f in assessment.findings if f.chain == chain.id]
    mark = "trouble" if "trouble" in levels else "watch" if "watch" in levels else "good"
    if r.problem:
        return Verdict("watch", "not complete", "–", "", r.problem, False)
    if not r.powered:
        return Verdict("open", "no supply here", "off", "", "with the key like this", False)
    if r.brake is not None:
        return _brake_verdict(r, mark)
    if r.contact is not None:
        return _contact_verdict(r, mark)
    if r.sense is not None:
        return _sensor_verdict(r, mark, units)
    unit = speed_unit(units) if r.quantity == "speed" else "rpm"
    true = speed(r.true, units) if r.quantity == "speed" else rpm(r.true)
    if r.status == "above the rate limit":
        return Verdict("trouble", "drops out", "–", unit, f"true {true}", True)
    shown = speed_value(r.shown, units) if r.quantity == "speed" else r.shown * 60
    digits = 1 if r.quantity == "speed" else 0
    big = number(shown, digits)
    if not math.isfinite(r.error):
        words = "standing still" if r.true == 0 else "too weak to count"
        return Verdict(
            "open" if r.true == 0 and mark == "good" else mark,
            words,
            big,
            unit,
            f"true {true}",
            r.true > 0,
        )
    off = abs(r.error) > job.house.setting_ok + abs(_wear(r))
    if abs(r.error) < 0.0005:
        words = "agrees"
    else:
        words = f"{abs(r.error) * 100:.1f} % {'high' if r.error > 0 else 'low'}"
    return Verdict(mark, words, big, unit, f"true {true}", off)


def _contact_verdict(r: ChainReading, mark: str) -> Verdict:
    assert r.contact is not None  # the caller asked
    wrong = r.status != ("on" if r.true else "off")
    words = "seen wrong" if wrong else "agrees" if r.contact.right else "right only now"
    truth = f"true {'on' if r.true else 'off'}"
    return Verdict(mark, words, r.status, "", truth, wrong)


def _sensor_verdict(r: ChainReading, mark: str, units: Units) -> Verdict:
    kind = kind_of(r.quantity)
    true = f"true {written(kind, r.true, units)}"
    assert r.sense is not None  # the caller asked
    if not math.isfinite(r.shown):
        return Verdict(
            mark, FAULTS[r.sense.fault] or "no reading", "–", unit_name(kind, units), true, True
        )
    off = abs(r.sense.off) > SENSED_OK * (r.stop - r.start)
    words = (
        "agrees"
        if abs(r.sense.off) < 0.002 * (r.stop - r.start)
        else f"{difference(kind, r.sense.off, units)} off"
    )
    if r.sense.fault:
        words = FAULTS[r.sense.fault]
    big = number(value_in(kind, r.shown, units), digits(kind, units))
    return Verdict(mark, words, big, unit_name(kind, units), true, off)


def kind_of(quantity: str) -> Kind:
    """The kind of a chain's quantity, for its unit."""
    return QUANTITIES[quantity].kind  # type: ignore[index]


def _brake_verdict(r: ChainReading, mark: str) -> Verdict:
    line = r.brake
    assert line is not None  # the caller asked
    pressed = bool(r.true)
    truth = "true pressed" if pressed else "true released"
    big = {"released": "released", "pressed": "cancel"}.get(r.status, "unsure")
    words = "cancels for sure" if line.sure else "may not cancel"
    return Verdict(
        mark if not line.sure or mark != "good" else "good", words, big, "", truth, not line.sure
    )
