"""Named states of a vehicle, and how its quantities hang together.

With a gear engaged and the clutch home, engine speed = road speed / rolling circumference
· final drive · gear ratio (kinematics; tyre slip is
neglected; Gillespie, *Fundamentals of Vehicle Dynamics*, ch. 2).
"""

from __future__ import annotations

import msgspec

from zombrel.calibrate import tyre
from zombrel.job.model import Vehicle
from zombrel.job.problem import Problem
from zombrel.job.state import State
from zombrel.units import KMH, RPM, ZERO_C

USUAL = "70 on the flat"
"""The state a job is looked at in until another is chosen."""

DRIVING = 2500 * RPM
"""Engine speed supposed on the road while tyre or gearing cannot tell it [1/s]: ASSUMED."""


def turns_per_metre(vehicle: Vehicle, gear: int, wear: float = 0.0) -> float | None:
    """Crank revolutions per metre in ``gear``; None when unknown or in neutral.

    ``wear`` [share of the circumference], result [1/m].
    """
    if not 1 <= gear <= len(vehicle.ratios) or vehicle.final_drive is None or not vehicle.tyre:
        return None
    try:
        around = tyre.parse(vehicle.tyre).rolling_circumference * (1 - wear)
    except Problem:
        return None
    return vehicle.final_drive * vehicle.ratios[gear - 1] / around


def with_speed(vehicle: Vehicle, state: State, speed: float) -> State:
    """``state`` at another road speed; a joined engine follows.

    ``speed`` [m/s].
    """
    state = msgspec.structs.replace(state, speed=speed)
    turns = None if state.clutch else turns_per_metre(vehicle, state.gear, state.wear)
    return state if turns is None else msgspec.structs.replace(state, engine=speed * turns)


def with_engine(vehicle: Vehicle, state: State, engine: float) -> State:
    """``state`` at another engine speed; a joined road speed follows.

    ``engine`` [1/s].
    """
    state = msgspec.structs.replace(state, engine=engine)
    turns = None if state.clutch else turns_per_metre(vehicle, state.gear, state.wear)
    return state if turns is None else msgspec.structs.replace(state, speed=engine / turns)


def with_gear(vehicle: Vehicle, state: State, gear: int) -> State:
    """``state`` in another gear at the same road speed."""
    return with_speed(vehicle, msgspec.structs.replace(state, gear=gear), state.speed)


def cranking(vehicle: Vehicle) -> State:
    """The starter turns a warm engine: 9.8 V of 12, 200 rpm (usual: ASSUMED)."""
    return State(key="crank", volts=9.8 * vehicle.system_v / 12, engine=200 * RPM)


def named(vehicle: Vehicle) -> tuple[tuple[str, State], ...]:
    """The states an installer asks about, for this vehicle."""
    scale = vehicle.system_v / 12
    idle = vehicle.idle_rps or 850 * RPM
    rest, charging = 12.6 * scale, vehicle.charging_v
    top_gear = max(1, len(vehicle.ratios) - 1)
    running = State(engine=DRIVING, volts=charging)
    seventy = with_speed(vehicle, msgspec.structs.replace(running, gear=top_gear), 70 * KMH)
    hill = with_speed(
        vehicle,
        msgspec.structs.replace(
            running,
            gear=max(1, top_gear - 1),
            volts=13.4 * scale,
            ambient=ZERO_C + 38,
            wear=0.015,
        ),
        90 * KMH,
    )
    redline = vehicle.redline_rps or 100.0
    return (
        ("Key off", State(key="off", volts=rest)),
        ("Key on", State(volts=rest)),
        ("Cranking", cranking(vehicle)),
        ("Idle", State(volts=charging, engine=idle)),
        (USUAL, seventy),
        ("Launch", State(volts=charging, engine=0.65 * redline, gear=1, clutch=True)),
        ("Hot hill", hill),
    )


def usual(vehicle: Vehicle) -> State:
    """The usual state of this vehicle."""
    return dict(named(vehicle))[USUAL]


def follow(before: Vehicle, after: Vehicle, state: State, name: str) -> State:
    """``state`` once the vehicle's facts changed; ``name`` is what it was chosen by, or "".

    What was not supposed by hand stays as the name says; a joined engine keeps to its speed.
    """
    was, now = dict(named(before)).get(name), dict(named(after)).get(name)
    if was is None or now is None:
        return with_speed(after, state, state.speed)
    kept = {
        field: getattr(now, field)
        for field in State.__struct_fields__
        if getattr(state, field) == getattr(was, field)
    }
    return msgspec.structs.replace(state, **kept)
