"""On/off inputs, tried both ways at the device's own pin; those that hold a device back first.

Clutch, park, park brake, arming and brake hold what moves throttle or idle: they are tried before
the wheels turn or the engine runs.

Reference: logic levels of an on/off input as shares of what pulls it, as in ``signals.what_if``.
"""

from __future__ import annotations

import msgspec

from zombrel.diagnose.step import METER, REST_V, Field, StepSheet, chain_of, run_words
from zombrel.job.follow.query import query
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES, group
from zombrel.job.sheet import DeviceSheet, InputSheet, Quantity
from zombrel.job.value import Value
from zombrel.signals.contact import contact
from zombrel.signals.what_if import HIGH_SHARE, LOW_SHARE


class Lever(Value, frozen=True):
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
def held(job: Job) -> tuple[str, ...]:
    """Signals that hold a device back, but for those with a step of their own."""
    return _on_off(job, gates=True)


@query
def contacts(job: Job) -> tuple[str, ...]:
    """Every other on/off signal."""
    return _on_off(job, gates=False)


def _on_off(job: Job, gates: bool) -> tuple[str, ...]:
    devices = index(job.devices)
    found = []
    for chain in job.chains:
        if group(chain.quantity) != "contact":
            continue
        sheet = devices[chain.device].sheet
        given = sheet.input(chain.pin)
        if given is None or given.need_ohm:
            continue
        if holds_back(sheet, given) == gates:
            found.append(chain.id)
    return tuple(found)


@query
def hold(job: Job, key: str) -> StepSheet:
    """Volts at the pin with the lever each way, as the device must see them: a gate."""
    made = _both_ways(job, key)
    lever = LEVERS[index(job.chains)[key].quantity]
    return msgspec.structs.replace(
        made,
        id=f"hold-{key}",
        kind="hold",
        ask=f"{lever.ask}, three times.",
        caution="Wheels chocked, engine off, and a second means of holding the vehicle: the park "
        "brake or the gear is let go here.",
        gate=True,
        needs="one at the lever, one at the meter",
        otherwise="Nothing moves before it does: mend it, then try three times again.",
        leaves="that the device obeys it: its own rows do.",
    )


@query
def contact_step(job: Job, key: str) -> StepSheet:
    """Volts at the pin of an on/off input both ways."""
    return _both_ways(job, key)


def _both_ways(job: Job, key: str) -> StepSheet:
    chain, device, sheet = chain_of(job, key)
    lever = LEVERS.get(sheet.quantity) or _plain(sheet.quantity)
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
        id=f"contact-{chain.id}",
        kind="contact",
        short=f"{lever.short}, {device.name}",
        ask=f"{lever.ask}.",
        where=f"Meter on {chain.pin} at the {device.name}, black lead on its own ground. Key on, "
        "engine off.",
        caution="Key on, engine off, wheels chocked.",
        fields=fields,
        formula=f"low: up to {LOW_SHARE * 100:.0f} % of what pulls the pin; high: from "
        f"{HIGH_SHARE * 100:.0f} % of it",
        source="logic levels of an on/off input; the device sheet for where its contact leads",
        blocked=blocked,
        go=f"source:{chain.id}",
        under=run_words(job, chain),
        chain=chain.id,
        key=chain.id,
        about=(chain.id, chain.device, *chain.wires),
        minutes=2.0,
        otherwise="Both alike: the wire or the contact. Both turned: the contact rests otherwise.",
        leaves="that it stays so when it shakes.",
    )


def _plain(quantity: Quantity) -> Lever:
    """A contact that nothing special is known of."""
    title = QUANTITIES[quantity].title
    return Lever(f"{title} seen", "Off", "On", f"Switch “{title.lower()}” on and off")


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
        pull_v=top if to_ground else 0.0,
        pull_ohm=sheet.pulls_ohm if to_ground else 0.0,
    )
