"""What the network of a job comes to rest at: volts of its pins, current of its wires.

Each chain is also seen from the terminals of its source, as one voltage behind one resistance, so
that what the input sees is known for any value of the sender at once.

Reference: Thévenin's theorem with superposition (any textbook of circuits).
"""

from __future__ import annotations

from typing import Any

from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import Job
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import Quantity
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.signals.circuit.build import Built, Electric, Fault, Taps, build
from zombrel.signals.circuit.islands import Island, islands
from zombrel.signals.circuit.network import LEAK, Solved, flow, solve
from zombrel.signals.circuit.port import Port
from zombrel.units import rounded

ON_OFF: tuple[tuple[Quantity, str], ...] = tuple(
    (name, sheet.field) for name, sheet in QUANTITIES.items() if sheet.group == "contact"
)
"""On/off quantities and the fields of a state that hold them."""


class Reading(Value, frozen=True):
    """One island at rest."""

    ports: dict[str, Port]
    """By chain."""
    wire_a: dict[str, float]
    """Current of each wire from its end a to its end b [A]."""
    across: dict[tuple[str, str], float]
    """Volts of each joined supply pin above its device's ground, by (device, pin)."""
    taken: dict[tuple[str, str], float]
    """Current it takes [A]."""
    lifts: dict[str, float]
    """Volts of each stud above battery negative."""


MICRO, MILLI = 1e6, 1e3
"""Ports are known to a microvolt and a milliohm: what moves less moves no reading."""


def electric(state: State) -> Electric:
    """What of ``state`` reaches the network, with loads that grow with engine speed at their most.

    So that a reading does not move while the engine's speed is dragged.
    """
    return Electric(*_electric(state))


@query
def _electric(state: State) -> tuple[Any, ...]:
    on = tuple([name for name, field in ON_OFF if getattr(state, field)])
    most = 1e9 if state.engine > 0 else 0.0
    return (state.key, state.volts, state.ambient, state.lights, most, on, ())


def at_most(job: Job, ambient: float) -> Electric:
    """All that has a key position awake, and taking the most: what wires are sized for.

    ``ambient`` outside air [K].
    """
    return Electric("on", job.vehicle.charging_v, ambient, False, 1e9, ())


@query
def _island(job: Job, n: int) -> Island:
    return islands(job).islands[n]


@query
def _reading(job: Job, n: int, at: tuple[Any, ...]) -> Reading:
    island = _island(job, n)
    built = build(job, island, Electric(*at))
    return _read(built, solve(built.network), island.studs)


def _read(built: Built, solved: Solved, studs: tuple[str, ...]) -> Reading:
    volts = solved.volts
    wire_a = {
        key: (volts[a] - volts[b]) / ohm if a != b else 0.0
        for key, (a, b, ohm) in built.wires.items()
    }
    across = {key: volts[b.a] - volts[b.b] for key, b in built.loads.items()}
    taken = {key: flow(b, volts) for key, b in built.loads.items()}
    ports = {key: port(taps, solved) for key, taps in built.taps.items()}
    lifts = {key: volts.get(key, 0.0) for key in studs}
    return Reading(ports, wire_a, across, taken, lifts)


def port(taps: Taps, solved: Solved) -> Port:
    """A chain seen from its source's terminals."""
    volts = solved.volts
    plus, minus, pin, ground = taps.plus, taps.minus, taps.pin, taps.ground
    if plus not in volts:  # it leads nowhere: the input stands as if nothing were joined
        alone = volts.get(pin, 0.0) - volts.get(ground, 0.0)
        return Port(0.0, 1 / LEAK, alone, 0.0, 0.0)
    foot = volts.get(minus, 0.0)
    at_ground = volts.get(ground, 0.0)
    at_plus, at_minus, at_pin, under = solved.solver.moved(plus, minus, (plus, minus, pin, ground))
    return Port(
        rounded(volts[plus] - foot, MICRO),
        rounded(at_minus - at_plus, MILLI),
        rounded(volts.get(pin, 0.0) - at_ground, MICRO),
        rounded(under - at_pin, MILLI),
        rounded(foot - at_ground, MICRO),
    )


def reading(job: Job, n: int, at: Electric) -> Reading:
    """What the island number ``n`` of ``job`` comes to rest at."""
    return _reading(job, n, tuple(at))


def of_chain(job: Job, key: str, at: Electric) -> Port:
    """The port of the chain ``key``."""
    return _port(job, key, tuple(at))


@query
def _port(job: Job, key: str, at: tuple[Any, ...]) -> Port:
    return _reading(job, plain(islands(job)).of_chain[key], at).ports[key]


@query
def ports(job: Job, ids: tuple[str, ...], at: tuple[Any, ...]) -> dict[str, Port]:
    """The ports of some chains; ``at`` an ``Electric`` as a plain tuple."""
    known = plain(islands(job)).of_chain
    readings = {n: plain(_reading(job, n, at)) for n in {known[key] for key in ids}}
    return {key: readings[known[key]].ports[key] for key in ids}


def of_wire(job: Job, key: str, at: Electric) -> float:
    """Current of the wire ``key`` from end a to end b [A]."""
    return reading(job, islands(job).of_wire[key], at).wire_a.get(key, 0.0)


def lifts(job: Job, at: Electric) -> dict[str, float]:
    """Volts of each stud above battery negative; 0 for those that have no resistance."""
    of = islands(job).of_stud
    return {s.id: reading(job, of[s.id], at).lifts[s.id] if s.id in of else 0.0 for s in job.studs}


def whole(job: Job, at: Electric, faults: tuple[Fault, ...] = ()) -> list[tuple[Built, Solved]]:
    """Every island of ``job`` with its solution, conductors as ``faults`` have it."""
    found = []
    for island in islands(job).islands:
        built = build(job, island, at, faults)
        found.append((built, solve(built.network)))
    return found
