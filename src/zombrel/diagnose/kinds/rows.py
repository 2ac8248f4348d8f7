"""Rows of a device's own table: with these inputs it acts, with those it must not.

Made of the inputs that hold it back and that a signal ends at, and of no others. The rows in which
one input alone holds it back come first: each must hold by itself, or the road stays shut.

Reference: truth table of a conjunction: it acts only while every input lets it (definition).
"""

from __future__ import annotations

import itertools
import math

from zombrel.behaviour.wanted import stands
from zombrel.diagnose.step import Field, StepSheet
from zombrel.job.follow.query import query
from zombrel.job.model import Chain, Device, Job, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import ACTS, InputSheet, Quantity

ALL = 4
"""Up to so many inputs every row is tried; above, those with one input changed."""
IDLE_OK = 0.06
"""How far an idle wanders while it is read [share]: ASSUMED."""
DROPS_S = 1.5
"""An idle that is let go has fallen within this time [s]: ASSUMED."""
SAID: dict[Quantity, tuple[str, str]] = {
    "brake": ("brake up", "brake down"),
    "park brake": ("park brake off", "park brake set"),
    "clutch": ("clutch up", "clutch down"),
    "arm": ("switched off", "armed"),
    "park": ("out of park", "in park"),
}
"""Each input off and on, short and told apart from the others."""
STANDS: dict[Quantity, tuple[str, str]] = {
    "brake": ("up", "down"),
    "park brake": ("off", "set"),
    "clutch": ("up", "down"),
    "arm": ("off", "armed"),
    "park": ("not", "in park"),
}
"""The same in a column that says which input it is."""
FIRST = ("brake", "park brake", "clutch", "arm", "park")
"""What is tried first: what a driver reaches for."""


@query
def arrivals(job: Job) -> dict[tuple[str, str], str]:
    """The signal that ends at each pin of a device."""
    return {(c.device, c.pin): c.id for c in job.chains}


def _held(job: Job, device: Device) -> list[tuple[Chain, InputSheet]]:
    """The signals that hold a device back, in the order they are tried."""
    ends, chains = arrivals(job), index(job.chains)
    found = []
    for given in device.sheet.inputs:
        key = ends.get((device.id, given.pin)) if device.sheet.gates(given) else None
        if key is not None:
            found.append((chains[key], given))
    return sorted(found, key=lambda pair: FIRST.index(pair[1].quantity))


def _stands_do(device: Device) -> bool:
    """Whether it acts while the vehicle stands: else only the road can show it."""
    return not any(given.works_above_mps for given in device.sheet.inputs)


@query
def rows(job: Job) -> tuple[str, ...]:
    """(device/how each input stands) of every row: single holds first, then acting, then more."""
    found = []
    for device in job.devices:
        held = _held(job, device) if device.sheet.moves in ACTS and _stands_do(device) else []
        if held:
            found += [f"{device.id}/{bits}" for bits in _rows(len(held))]
    return tuple(found)


def _rows(count: int) -> list[str]:
    """1 where an input lets it act, 0 where it holds it back."""
    single = ["".join("0" if i == k else "1" for i in range(count)) for k in range(count)]
    rows = [*single, "1" * count]
    if count <= ALL:
        every = ("".join(bits) for bits in itertools.product("10", repeat=count))
        rows += [bits for bits in every if bits not in rows]
    return rows


@query
def row(job: Job, key: str) -> StepSheet:
    """One row: set the inputs so, and see whether it acts."""
    device_id, _, bits = key.rpartition("/")
    device = index(job.devices)[device_id]
    held = _held(job, device)
    lets = [bit == "1" for bit in bits]
    acts = all(lets)
    alone = lets.count(False) == 1
    shown, cells = [], []
    for (_, given), lets_it in zip(held, lets, strict=True):
        on = given.lets_act == lets_it
        shown.append(SAID[given.quantity][on])
        cells.append((given.pin, STANDS[given.quantity][on]))
    blocked = ""
    try:
        fields = _fields(job, device, acts, alone)
    except Problem as problem:
        fields, blocked = (), str(problem)
    outcome = "acts" if acts else "does not"
    if fields and not fields[0].yes:
        outcome = f"{(fields[0].low + fields[0].high) / 2:.0f} rpm"
    said = ", ".join(shown)
    turned = next((words for words, let in zip(shown, lets, strict=True) if not let), "")
    return StepSheet(
        id=f"row-{device_id}-{bits}",
        kind="row",
        short=f"{(turned if alone else 'all let it act' if acts else said).capitalize()}, "
        f"{device.name}",
        ask=_ask(device, acts, alone, said, turned),
        where=f"{device.name}: {said}. Then it must {'act' if acts else 'not act, or let go'}.",
        caution=_caution(device),
        fields=fields,
        gate=alone,
        blocked=blocked,
        go=_raises_at(device),
        formula="it acts only while every input lets it",
        source="the device sheet: which inputs hold it back, and how they stand while it may act",
        key=key,
        about=(device_id, *(chain.id for chain, _ in held)),
        minutes=2.0,
        needs="one at the levers, one at the key",
        otherwise="Key off. The input that should have held it is not obeyed: its wire, its sense.",
        leaves="rows that were not tried.",
        running=True,
        table=device_id,
        row=(*cells, (device.sheet.moves, outcome)),
    )


def _ask(device: Device, acts: bool, alone: bool, said: str, turned: str) -> str:
    if acts:
        return f"{said.capitalize()}. The {device.name} must act."
    if alone:
        return f"Let it act, then: {turned}."
    return f"{said.capitalize()}. The {device.name} must not act."


def _caution(device: Device) -> str:
    what = "The engine speed rises by itself" if device.sheet.moves == "idle" else ""
    what = what or "It moves the throttle"
    return (
        f"{what}: wheels chocked, out of gear, nobody in front, a hand on the key. The device’s "
        "own manual comes first."
    )


def _fields(job: Job, device: Device, acts: bool, alone: bool) -> tuple[Field, ...]:
    if device.sheet.moves != "idle":
        return (
            Field(
                name="acts",
                label=f"The {device.name} acts",
                unit="",
                low=float(acts),
                high=float(acts),
                expect="it acts" if acts else "it does not act",
                yes=True,
            ),
        )
    rest = (job.vehicle.idle_rps or 850 / 60) * 60
    raised = _raised(device)
    rpm = raised if acts else rest
    field = Field(
        name="rpm",
        label="Idle",
        unit="rpm",
        low=rpm * (1 - IDLE_OK),
        high=rpm * (1 + IDLE_OK),
        expect=f"{rpm * (1 - IDLE_OK):.0f} to {rpm * (1 + IDLE_OK):.0f} rpm",
        because=f"{'raised to' if acts else 'the engine’s own'} {rpm:.0f} rpm",
    )
    if not alone:
        return (field,)
    within = Field(
        name="within",
        label="Falls within",
        unit="s",
        low=0.0,
        high=DROPS_S,
        expect=f"{DROPS_S:g} s",
        because="it must fall back at once",
    )
    return field, within


def _raised(device: Device) -> float:
    """What it raises the idle to [rpm].

    Raises:
        Problem: not set yet.
    """
    control = next((c for c in device.sheet.controls if c.means == "idle"), None)
    value = math.nan if control is None else stands(device, control)
    if math.isnan(value):
        raise Problem(f"What the {device.name} raises the idle to is not noted: set it first.")
    return value


def _raises_at(device: Device) -> str:
    """The way to where what it raises the idle to is set."""
    control = next((c for c in device.sheet.controls if c.means == "idle"), None)
    return "" if control is None else f"set:{device.id}/{control.pin}"
