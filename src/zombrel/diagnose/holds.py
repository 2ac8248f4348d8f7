"""What holds a device back while it must not act: clutch, park, park brake, arming, brake.

Tried both ways at the device's own pin, before the wheels turn or the engine runs.

Reference: logic levels of an on/off input as shares of what pulls it, as in ``signals.what_if``.
"""

from __future__ import annotations

from typing import NamedTuple

from zombrel.diagnose.step import METER, REST_V, Field, StepSheet, chain_of, run_words
from zombrel.job.follow.query import query
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import DeviceSheet, InputSheet, Quantity
from zombrel.signals.contact import contact
from zombrel.signals.what_if import HIGH_SHARE, LOW_SHARE


class Lever(NamedTuple):
    """How a thing that holds back is worked."""

    short: str
    off: str
    on: str
    ask: str


LEVERS: dict[Quantity, Lever] = {
    "brake": Lever("Brake seen", "Pedal up", "Pedal down", "Press and release the brake"),
    "clutch": Lever("Clutch seen", "Pedal up", "Pedal down", "Press and release the clutch"),
    "park": Lever("Park seen", "Out of park", "In park", "Move the lever out of park and back"),
    "park brake": Lever(
        "Park brake seen", "Let off", "Put on", "Let the park brake off and put it on"
    ),
    "arm": Lever("Arming seen", "Switched off", "Armed", "Switch the arming on and off"),
}


def holds_back(sheet: DeviceSheet, given: InputSheet) -> bool:
    """Whether an input is tried by such a step: one that wants its own ohms has its own."""
    return sheet.gates(given) and not given.need_ohm


@query
def hold(job: Job, key: str) -> StepSheet:
    """Volts at the pin with the lever each way, as the device must see them."""
    chain, device, sheet = chain_of(job, key)
    lever = LEVERS[sheet.quantity]
    supply = REST_V * job.vehicle.system_v / 12
    fields = (
        _field("off", lever.off, sheet, False, supply),
        _field("on", lever.on, sheet, True, supply),
    )
    blocked = ""
    try:
        switch = contact(chain, index(job.sources)[chain.source], sheet)
        if switch.turned:
            blocked = (
                f"As it is now {device.name} takes “{lever.on.lower()}” for "
                f"“{lever.off.lower()}”: mend the signal first."
            )
        elif not switch.right:
            blocked = f"As it is now {device.name} sees no difference: mend the signal first."
    except Problem as problem:
        blocked = str(problem)
    return StepSheet(
        id=f"hold-{chain.id}",
        kind="hold",
        short=f"{lever.short}, {device.name}",
        ask=f"{lever.ask}, three times.",
        where=f"Meter on {chain.pin} at the {device.name}, black lead on its own ground. Key on, "
        "engine off.",
        caution="Wheels chocked, engine off, and a second means of holding the vehicle: the "
        "park brake or the gear is let go here.",
        fields=fields,
        gate=True,
        formula=f"low: up to {LOW_SHARE * 100:.0f} % of what pulls the pin; high: from "
        f"{HIGH_SHARE * 100:.0f} % of it",
        source="logic levels of an on/off input; the device sheet for where its contact leads",
        blocked=blocked,
        under=run_words(job, chain),
        chain=chain.id,
    )


def _field(name: str, label: str, sheet: InputSheet, on: bool, supply: float) -> Field:
    """What the meter shows while the device must see ``on``; ``supply`` [V]."""
    closed = on == (sheet.active == "closed")
    to_ground = sheet.closes_to == "ground"
    top = min(sheet.pull_up_v or supply, supply) if to_ground else supply
    if closed == to_ground:  # low: led to ground, or pulled there
        low, high, expect = -0.05, LOW_SHARE * top, f"0 to {LOW_SHARE * top:.1f} V"
    else:
        low, high = HIGH_SHARE * top, top + METER * 2
        expect = f"{low:.1f} to {high:.1f} V"
    way = f"its contact to {'ground' if to_ground else 'the supply'} is"
    return Field(
        name=name,
        label=label,
        unit="V",
        low=low,
        high=high,
        expect=expect,
        because=f"{way} {'closed' if closed else 'open'}",
    )
