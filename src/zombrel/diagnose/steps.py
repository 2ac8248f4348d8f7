"""The proof, one step a screen: what to do, what to expect, computed from the job.

References: laws as in ``signals``; open-circuit volts of a battery EN 50342-1; flashes counted
over a rolled distance as in ``calibrate.roll``.
"""

from __future__ import annotations

from collections.abc import Callable

from zombrel.calibrate.copper import resistance_per_m
from zombrel.calibrate.roll import roll
from zombrel.diagnose.holds import hold, holds_back
from zombrel.diagnose.rests import changed_since, rests_of
from zombrel.diagnose.step import METER, REST_V, Field, StepSheet, chain_of, run_words
from zombrel.harness.laid import laid
from zombrel.harness.nets import bare_pins
from zombrel.job.figures import figure
from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import Chain, Device, Job, Proof, Rest, index
from zombrel.job.problem import Problem
from zombrel.job.stages import STAGE_NAMES, Stage
from zombrel.signals import law as laws
from zombrel.signals.brake import PRESSED_SHARE
from zombrel.signals.chain_reading import brake_of, ready, side_of
from zombrel.signals.supply import feeds_of, pins
from zombrel.units import rate_token, speed_token
from zombrel.units.measure import length_of

TACH_OK = figure("tach error let pass")
WALK = 1.5
"""A car pushed by hand goes no faster than this [m/s]."""


@query
def steps(job: Job) -> tuple[StepSheet, ...]:
    """Every proof step this job needs, in the order of the work."""
    job = laid(job)
    found = [_key_on(job)] if feeds_of(job) else []
    kinds = _kinds(job)
    for kind in ("brake", "hold", "roll", "idle"):
        found += [EXPECT[kind](job, chain) for chain, what in kinds if what == kind]
    return tuple([plain(step) for step in found])


@query
def _kinds(job: Job) -> tuple[tuple[str, str], ...]:
    """(chain, kind of step) for every chain that is proven by one."""
    return tuple([(c.id, kind) for c in job.chains if (kind := _kind(job, c))])


def _kind(job: Job, chain: Chain) -> str:
    """The kind of step a chain is proven by; empty when it has none."""
    device = index(job.devices)[chain.device]
    sheet = device.sheet.input(chain.pin)
    if sheet is None:
        return ""
    if sheet.need_ohm:
        return "brake"
    if holds_back(device.sheet, sheet):
        return "hold"
    if chain.quantity == "speed" and sheet.pulses_per_flash:
        return "roll"
    return "idle" if chain.quantity == "tach" and sheet.shows else ""


@query
def _key_on(job: Job) -> StepSheet:
    vehicle, at = job.vehicle, pins(job)
    feeds, wires = index(job.feeds), index(job.wires)
    nominal = REST_V * vehicle.system_v / 12
    fields = []
    for device_id, supplies in feeds_of(job).items():
        for supply, feed, key in supplies:
            wire = wires[key]
            loss = supply.amps * wire.length_m * resistance_per_m(wire.area_mm2)
            low, high = nominal - loss - METER * 2, nominal + METER * 2
            fields.append(
                Field(
                    name=f"{device_id}.{supply.pin}",
                    label=f"{at[device_id, supply.pin].device.name} {supply.pin}",
                    unit="V",
                    low=low,
                    high=high,
                    expect=f"{low:.1f} to {high:.1f} V",
                    because=f"from {feeds[feed].name}; at most {loss:.2f} V lost in "
                    f"{length_of(wire.length_m)}",
                )
            )
    return StepSheet(
        id="key-on",
        kind="volts",
        short="Key on",
        ask="Fuses in one at a time, key on. Measure each supply.",
        where="Red lead on the device’s supply pin, black lead on its own ground pin.",
        caution="Ignition key on, engine off. If a fuse blows, stop and find out why "
        "before fitting another.",
        fields=tuple(fields),
        formula=f"{nominal:.1f} V at rest − I · L · ρ/A, ± {2 * METER:.1f} V",
        source="EN 50342-1 for the battery at rest; IEC 60028 copper at 20 °C",
    )


@query
def _brake(job: Job, key: str) -> StepSheet:
    chain, device, sheet = chain_of(job, key)
    vehicle, under = job.vehicle, run_words(job, chain)
    volts = REST_V * vehicle.system_v / 12
    try:
        source = index(job.sources)[chain.source]
        line = brake_of(chain, vehicle, sheet, volts, side_of(source))
    except Problem as problem:
        return _brake_sheet(chain, device.name, (), str(problem), under)
    limit = max(line.rest_limit_v, 0.1)
    low, high = PRESSED_SHARE * volts, line.pressed_v + METER * 2
    how = f"{line.path_ohm:.2g} Ω to ground predicted; up to {limit:.2f} V is sure"
    fields = (
        Field(
            name="rest",
            label="Pedal up",
            unit="V",
            low=-0.05,
            high=limit + 0.05,
            expect=f"0 to {limit + 0.05:.1f} V",
            because=how if line.sure else f"but {line.rest_v:.1f} V is predicted as wired",
        ),
        Field(
            name="pressed",
            label="Pedal down",
            unit="V",
            low=low,
            high=high,
            expect=f"{low:.1f} to {high:.1f} V",
            because="the supply through the brake switch",
        ),
    )
    blocked = (
        ""
        if line.sure
        else f"As wired the line rests at {line.rest_v:.1f} V, so this cannot pass: "
        + (
            "it is tapped on the hot side of the switch."
            if side_of(source) == "hot"
            else "fit the relay or the load resistor first."
        )
    )
    return _brake_sheet(chain, device.name, fields, blocked, under)


def _brake_sheet(
    chain: Chain, device: str, fields: tuple[Field, ...], blocked: str, under: str
) -> StepSheet:
    return StepSheet(
        id=f"brake-{chain.id}",
        kind="brake",
        short="Brake cancels",
        ask="Press and release the brake, three times.",
        where=f"Meter on {chain.pin} at the {device}, black lead on its own ground.",
        caution="Wheels chocked, park brake on, engine off. The throttle cable may move.",
        fields=fields,
        gate=True,
        formula=f"V = Vs · R/(R + Rp); pressed: at least {PRESSED_SHARE * 100:.0f} % of the supply",
        source="Ohm's law; the device sheet for R and Rp",
        blocked=blocked,
        under=under,
        chain=chain.id,
    )


@query
def _roll(job: Job, key: str) -> StepSheet:
    chain, device, sheet = chain_of(job, key)
    fields: tuple[Field, ...] = ()
    blocked = ""
    try:
        rate_law = ready(job, key).law
        rate = rate_law.rate / rate_law.divider
        start, _ = laws.span(rate_law)
        expect = roll(rate, 5.0, sheet.pulses_per_flash)
        if start > WALK:
            blocked = (
                f"Pushed by hand the signal is too weak: it counts only above "
                f"{speed_token(start)}. A divider with a sensitive input mends that."
            )
        fields = (
            Field(
                name="distance",
                label="Rolled",
                unit="m",
                low=0.2,
                high=1000,
                expect="5 m, or more",
                because=f"{length_of(expect.distance_for_1pct, 0)} for 1 %: roll as far as you can",
                given=True,
            ),
            Field(
                name="flashes",
                label="Flashes",
                unit="",
                low=expect.low,
                high=expect.high,
                expect=f"{expect.low} or {expect.high} in 5 m",
                because=f"{rate_token(rate)}, {sheet.pulses_per_flash} to a flash",
            ),
        )
    except Problem as problem:
        blocked = str(problem)
    return StepSheet(
        id=f"roll-{chain.id}",
        kind="roll",
        formula="flashes = pulse rate × distance ÷ pulses per flash; 1 % needs 100 of them",
        source="counting resolves one in N",
        short="Roll the car",
        ask="Roll the car by hand along a tape. Count the flashes.",
        where=f"Self-test of the {device.name}, key on, engine off, in neutral.",
        caution="Level ground, a helper at the park brake, nobody in front or behind.",
        fields=fields,
        blocked=blocked,
        under=run_words(job, chain),
        chain=chain.id,
    )


def chain_law(job: Job, chain: Chain) -> laws.Law:
    """The law of a rate chain that is complete; raises Problem if it is not."""
    return ready(job, chain.id).law


@query
def _idle(job: Job, key: str) -> StepSheet:
    chain, device, _ = chain_of(job, key)
    vehicle = job.vehicle
    fields: tuple[Field, ...] = ()
    blocked = ""
    try:
        rate_law = ready(job, key).law
        idle = vehicle.idle_rps or 850 / 60
        factor = laws.gain(rate_law) * (rate_law.multi if idle < rate_law.multi_below else 1)
        shown = idle * 60 * factor
        fields = (
            Field(
                name="true",
                label="True idle",
                unit="rpm",
                low=200,
                high=3000,
                expect=f"about {idle * 60:.0f} rpm",
                because="strobe lamp or optical tachometer on the crank pulley",
                given=True,
            ),
            Field(
                name="shown",
                label=f"{device.name} shows",
                unit="rpm",
                low=shown * (1 - TACH_OK),
                high=shown * (1 + TACH_OK),
                expect=f"about {shown:.0f} rpm",
                because=f"{factor:.3g} × the true speed, as set",
            ),
        )
        if abs(factor - 1) > TACH_OK:
            blocked = f"As set the {device.name} shows {factor:.3g} times the truth: mend it first."
    except Problem as problem:
        blocked = str(problem)
    return StepSheet(
        id=f"idle-{chain.id}",
        kind="idle",
        formula="shown = rate ÷ divider ÷ setting × truth",
        source="ratio of pulses sent to pulses believed",
        short=f"Idle, {device.name}",
        ask="Start the engine and let it idle. Compare the tach.",
        where=f"{device.name} against a strobe lamp or an optical tachometer.",
        caution="Out of gear, park brake on. Keep clear of belts, fans and ignition leads.",
        fields=fields,
        blocked=blocked,
        under=run_words(job, chain),
        chain=chain.id,
    )


def expected_flashes(job: Job, step: StepSheet, distance: float) -> str:
    """What the self-test lamp should flash over ``distance`` [m], in words."""
    chain = next(c for c in job.chains if c.id == step.chain)
    sheet = index(job.devices)[chain.device].sheet.input(chain.pin)
    assert sheet is not None  # validated with the job
    rate_law = chain_law(job, chain)
    rolled = roll(rate_law.rate / rate_law.divider, distance, sheet.pulses_per_flash)
    count = str(rolled.low) if rolled.low == rolled.high else f"{rolled.low} or {rolled.high}"
    return f"{count} in {length_of(distance)}"


LOCKED = "Road tests stay locked until all that holds a device back is proven"
EXPECT: dict[str, Callable[..., StepSheet]] = {
    "volts": _key_on,
    "brake": _brake,
    "hold": hold,
    "roll": _roll,
    "idle": _idle,
}
"""What works out each kind of step."""


def basis(job: Job, step: StepSheet) -> tuple[Rest, ...]:
    """All that ``step`` was worked out of, as it stands now."""
    return rests_of(EXPECT[step.kind], job, *([step.chain] if step.chain else []))


def latest(job: Job, step: StepSheet) -> Proof | None:
    """The newest proof of ``step``."""
    return next((p for p in reversed(job.proofs) if p.step == step.id), None)


def standing(job: Job, step: StepSheet) -> str:
    """``passed``, ``failed``, ``stale``, ``not reached`` or ``open``."""
    proof = latest(job, step)
    if proof is None:
        return "open"
    if changed_since(job, proof):
        return "stale"
    return {"pass": "passed", "fail": "failed", "not reached": "not reached"}[proof.verdict]


@query
def gates(job: Job) -> tuple[StepSheet, ...]:
    """The steps that must pass before any road test."""
    return tuple([plain(step) for step in steps(job) if step.gate])


def count_steps(job: Job) -> int:
    """How many steps ``steps`` gives."""
    return len(steps(job))


@query
def unjoined(job: Job) -> str:
    """The first input that holds a device back and has no signal, in words; empty when none."""
    joined = {(c.device, c.pin) for c in job.chains}
    for device in _held(job):
        for given in device.sheet.inputs:
            must = device.sheet.gates(given) and (given.required or given.need_ohm)
            if must and (device.id, given.pin) not in joined:
                where = STAGE_NAMES["source"]
                return f"nothing is joined to {device.name} {given.pin} yet. Add it in {where}."
    return ""


@query
def _bare(job: Job) -> str:
    """The first supply or ground pin of a device that is held back that no wire serves, in words.

    With none, what holds the device back may show its volts and do nothing.
    """
    lies = laid(job)
    for device in _held(job):
        for pin in bare_pins(lies, device.id):
            where = STAGE_NAMES["wire"]
            return f"no wire leads {device.name} {pin} to its supply yet. Draw it in {where}."
    return ""


def _held(job: Job) -> list[Device]:
    """The devices that something holds back."""
    return [d for d in job.devices if any(d.sheet.gates(given) for given in d.sheet.inputs)]


def opens_at(job: Job) -> Stage:
    """The stage where what locks the road can be mended."""
    return "source" if unjoined(job) else "wire" if _bare(job) else "prove"


def held_back(job: Job) -> tuple[str, ...]:
    """The names of the devices that something holds back."""
    return tuple([d.name for d in _held(job)])


@query
def road_gate(job: Job) -> str:
    """Why road tests are locked; empty when they may begin.

    A device that moves throttle or idle locks them also while nothing is joined to an input
    that holds it back, or to its supply: no chain there is no step that could prove it.
    """
    bare = unjoined(job) or _bare(job)
    if bare:
        return f"{LOCKED}: {bare}"
    for step in gates(job):
        state = standing(job, step)
        if step.blocked and state != "stale":
            return f"{LOCKED}: “{step.short}” is blocked. {step.blocked}"
        if state != "passed":
            proof = latest(job, step)
            said = {
                "open": "has not been tried",
                "failed": "failed",
                "stale": "was proven before this changed: "
                + "; ".join(changed_since(job, proof)[:2])
                if proof
                else "",
                "not reached": "was left out",
            }[state]
            return f"{LOCKED}: “{step.short}” {said}."
    return ""
