"""The cancel line: what it rests at with the pedal up, and what it shows with it down.

Reference: the lamp line as in ``signals.brake`` (Ohm's law).
"""

from __future__ import annotations

from zombrel.diagnose.step import METER, REST_V, Field, StepSheet, chain_of, run_words
from zombrel.job.follow.query import query
from zombrel.job.model import Chain, Job, index
from zombrel.job.problem import Problem
from zombrel.signals.brake import PRESSED_SHARE
from zombrel.signals.chain_reading import brake_of, side_of

AT_REST = 0.05
"""A voltmeter near nought is read apart so far [V]."""


@query
def cancels(job: Job) -> tuple[str, ...]:
    """Signals into an input that wants a path to ground of its own."""
    devices = index(job.devices)
    found = []
    for chain in job.chains:
        sheet = devices[chain.device].sheet.input(chain.pin)
        if sheet is not None and sheet.need_ohm:
            found.append(chain.id)
    return tuple(found)


@query
def brake(job: Job, key: str) -> StepSheet:
    """Volts of the cancel line with the pedal up and down."""
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
            high=limit + AT_REST,
            expect=f"0 to {limit + AT_REST:.1f} V",
            because=how if line.sure else f"but {line.rest_v:.1f} V is predicted as wired",
            pull_v=volts,
            pull_ohm=sheet.pulls_ohm,
            slack=AT_REST,
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
        go=f"source:{chain.id}",
        under=under,
        chain=chain.id,
        key=chain.id,
        about=(chain.id, chain.device, *chain.wires),
        minutes=3.0,
        needs="one at the pedal, one at the meter",
        otherwise="Nothing moves before it does: mend it, then press three times again.",
        leaves="that the device lets go: its own rows do.",
    )
