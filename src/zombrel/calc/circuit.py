"""Calculations on the network of a job: volts of its nodes, currents, a conductor gone bad."""

from __future__ import annotations

import math

from zombrel.behaviour.suppose import USUAL
from zombrel.calc.job import open_job, state_of
from zombrel.calc.registry import Param, Result, calc
from zombrel.harness.laid import laid
from zombrel.job.feed_classes import FEEDS
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES, group, truth
from zombrel.job.sheet import Quantity
from zombrel.job.state import State
from zombrel.signals.chain_reading import felt
from zombrel.signals.circuit.build import Electric, Fault
from zombrel.signals.circuit.rest import ON_OFF, whole
from zombrel.signals.sense import electrical
from zombrel.signals.what_if import Shown, what_if
from zombrel.units import KMH, RPM, Units
from zombrel.units.measure import value_in

JOB = Param("job", "job file, or demo", "text")
STATE = Param("state", "named state of the vehicle", "text", USUAL)


def exact(job: Job, state: State) -> Electric:
    """All of a state that reaches the network, its senders at what they give."""
    given = []
    for chain in job.chains:
        if group(chain.quantity) != "sensed":
            continue
        try:
            sender = felt(job, chain.id).sender
        except Problem:
            continue
        if sender.gives in ("ohm", "volts"):
            value = electrical(sender, truth(chain.quantity, state), state)
            given.append((chain.source, value))
    on = tuple(name for name, field in ON_OFF if getattr(state, field))
    return Electric(
        state.key, state.volts, state.ambient, state.lights, state.engine, on, tuple(given)
    )


@calc(
    "circuit",
    "volts of every node and current in every wire and fuse of a job",
    [JOB, STATE],
    "node_volts wire_amps fuse_amps",
)
def circuit(job: str, state: str) -> Result:
    """The network of a job at rest in one named state.

    Nodes are ``place.pin``; a wire's current is positive from its end a to its end b; fuses are
    those in wires, by the wire, and those of feeds, by the feed, with what the car hangs on them.
    """
    tree = laid(open_job(job))
    at = exact(tree, state_of(tree, state, "circuit"))
    volts: dict[str, float] = {}
    amps: dict[str, float] = {}
    for built, solved in whole(tree, at):
        volts |= {str(n): v for n, v in solved.volts.items()}
        for key, (a, b, ohm) in built.wires.items():
            amps[key] = (solved.volts[a] - solved.volts[b]) / ohm
    fuses = {w.id: abs(amps.get(w.id, 0.0)) for w in tree.wires if w.fuse_a is not None}
    for feed in tree.feeds:
        ours = sum(
            abs(amps.get(w.id, 0.0)) for w in tree.wires if feed.id in (w.a.place, w.b.place)
        )
        alive = at.key in FEEDS[feed.feed].alive
        if feed.fuse_a is not None:
            fuses[feed.id] = ours + (feed.load_a if alive else 0.0)
    return {"node_volts": volts, "wire_amps": amps, "fuse_amps": fuses}


@calc(
    "chain-if",
    "what a signal shows with a conductor open, bad or bridged",
    [
        JOB,
        Param("chain", "id of the signal", "text"),
        Param("wire", "id of the conductor", "text"),
        Param("fault", "open, bridge, bridge:NODE or ohms:n", "text"),
        STATE,
    ],
    "sound then",
)
def chain_if(job: str, chain: str, wire: str, fault: str, state: str) -> Result:
    """A signal as it is, and as it is shown with one conductor in another state.

    ``bridge`` is to the body, ``bridge:NODE`` to a feed or pin, ``ohms:n`` n more ohms in it.
    """
    tree = laid(open_job(job))
    found = by_id(tree.chains, chain)
    if found is None:
        names = ", ".join(c.id for c in tree.chains) or "none"
        raise Problem(f"chain-if: there is no signal “{chain}”; there are {names}.")
    if by_id(tree.wires, wire) is None:
        names = ", ".join(w.id for w in tree.wires) or "none"
        raise Problem(f"chain-if: there is no wire “{wire}”; there are {names}.")
    supposed = state_of(tree, state, "chain-if")
    try:
        bad = fault_of(wire, fault)
    except Problem as problem:
        raise Problem(f"chain-if: {problem}") from None
    key = found.quantity
    return {
        "sound": _shown(key, what_if(tree, supposed, chain)),
        "then": _shown(key, what_if(tree, supposed, chain, (bad,))),
    }


def fault_of(wire: str, text: str) -> Fault:
    """A conductor in a state, as ``open``, ``bridge``, ``bridge:NODE`` or ``ohms:100`` [Ω].

    Raises:
        Problem: none of these.
    """
    kind, _, rest = text.partition(":")
    if kind == "open" and not rest:
        return Fault(wire, "open")
    if kind == "bridge":
        return Fault(wire, "bridge", to=rest)
    if kind == "ohms":
        try:
            ohm = float(rest)
        except ValueError:
            ohm = math.nan
        if math.isfinite(ohm) and ohm >= 0:
            return Fault(wire, "ohms", ohm)
    raise Problem(f"“{text}” is no fault; write open, bridge, bridge:NODE or ohms:100.")


NAMES = {
    "speed": ("kmh", KMH),
    "engine": ("rpm", RPM),
    "temperature": ("c", 0.0),
    "pressure": ("kpa", 0.0),
    "volume": ("l", 0.0),
    "fraction": ("pct", 0.0),
    "contact": ("on", 1.0),
    "lambda": ("lambda", 1.0),
    "voltage": ("v", 1.0),
    "gear": ("gear", 1.0),
}
"""For each kind of quantity: its name here, and what to divide by; 0: as the units say."""


def _shown(quantity: Quantity, seen: Shown) -> Result:
    kind = QUANTITIES[quantity].kind
    name, factor = NAMES[kind]
    value: float | bool | None = None
    if not math.isnan(seen.shown):
        value = seen.shown / factor if factor else value_in(kind, seen.shown, Units())
    return {
        "status": seen.status,
        f"shown_{name}": bool(value) if kind == "contact" and value is not None else value,
        "pin_volts": None if math.isnan(seen.pin_v) else seen.pin_v,
        "supply_volts": None if math.isnan(seen.supply_v) else seen.supply_v,
    }
