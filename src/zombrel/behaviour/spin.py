"""Short moments of a drive, sampled in steps: a launch held, a shift, a blip, a falling idle, a
pump that follows the heat.

References:
    [1] A converter at stall takes K·n² and passes it on times its stall ratio (Gillespie,
        *Fundamentals of Vehicle Dynamics*, ch. 2); what is over what the brakes hold moves the car.
    [2] Mass with what turns: 1.04 + 0.0025·(ratio · final)² (Gillespie, ch. 2).
    [3] A free engine: J · dω/dt = torque − friction (Newton); friction of about a sixth of the
        greatest torque with the throttle shut (Heywood, *Internal Combustion Engine Fundamentals*,
        ch. 13, order of size).
    [4] A mixed volume that is heated and cooled: C · dT/dt = P − UA · (T − T₀) (Incropera,
        *Fundamentals of Heat and Mass Transfer*, ch. 5).
"""

from __future__ import annotations

import math

from zombrel.behaviour.longitudinal import AIR, GRAVITY, ROLLING
from zombrel.job.pairs import Pairs, between
from zombrel.job.value import Value

STEP_S = 0.01
CREEP_S = 2.0
"""So long a launch is held [s]."""
SHUT_SHARE = 1 / 6
"""Friction and pumping of an engine with its throttle shut, of its greatest torque [3]."""
INERTIA = 0.0009
"""Inertia of an engine with flywheel for each N·m of its greatest torque [kg·m²]: ASSUMED."""
DEAD_S = 0.03
"""A unit or lamp needs so long after the pulse [s]: ASSUMED."""
AHEAD_S, RATE_STEPS = 0.03, 3
"""A rev-match unit looks so far ahead [s], by what it counted over so many steps: ASSUMED."""
SPAN = 1000 / 60
"""So far off it opens fully [1/s]: ASSUMED."""
HOLD_S = 0.8
"""So long a clutch stays down in a quick downshift [s]: ASSUMED."""
STALL_RATIO, COUPLES = 1.9, 0.85
"""Torque ratio of a passenger-car converter at stall, and the speed ratio at which it couples:
usual (ASSUMED)."""
MOST_S = 5.0
"""What takes longer than this does not come [s]."""
SLOW = 1e-3


class Creep(Value, frozen=True):
    """What a launch held with the brakes does."""

    metres: float
    speed: float
    """[m/s]"""
    spare: float
    """Share of what the brakes hold that is left; below zero it moves."""


class Held(Value, frozen=True):
    """An automatic held on its brakes in first gear; SI."""

    stall_nm: float
    """What its converter puts on the wheels at the speed of the engine, wheels stopped [N·m]."""
    hold_nm: float
    """What the brakes hold at the wheels [N·m]."""
    engine: float
    """[1/s]"""
    ratio: float
    """Engine turns for one of the wheel."""
    around: float
    """Rolling circumference [m]."""
    mass: float


def creep(car: Held) -> Creep:
    """How far it moves in ``CREEP_S``, the engine kept at its speed [1], [2]; result [m, m/s].

    What a converter passes on falls straight from its stall ratio to one as it couples.
    """
    v = gone = 0.0
    factor = 1.04 + 0.0025 * car.ratio**2
    for _ in range(round(CREEP_S / STEP_S)):
        slip = v / car.around * car.ratio / car.engine
        share = max(1 - (1 - 1 / STALL_RATIO) * min(slip / COUPLES, 1.0), 0.0)
        if slip >= 1:
            share = 0.0
        over = (car.stall_nm * share - car.hold_nm) * 2 * math.pi / car.around
        force = over - car.mass * GRAVITY * ROLLING
        v = max(v + force / (car.mass * factor) * STEP_S, 0.0)
        gone += v * STEP_S
    return Creep(gone, v, 1 - car.stall_nm / car.hold_nm)


class Gearing(Value, frozen=True):
    """A vehicle in one gear, full throttle; SI."""

    torque: Pairs
    """(engine speed [1/s], N·m)"""
    ratio: float
    """Engine turns for one of the wheel."""
    around: float
    """Rolling circumference [m]."""
    mass: float
    cda: float


def rise(car: Gearing, n: float) -> float:
    """Rise of engine speed at ``n`` [1/s] under full throttle, air and rolling counted [2].

    Result [1/s²].
    """
    v = n / car.ratio * car.around
    force = between(car.torque, n) * car.ratio * 2 * math.pi / car.around
    held = 0.5 * AIR * car.cda * v * v + car.mass * GRAVITY * ROLLING
    factor = 1.04 + 0.0025 * car.ratio**2
    return (force - held) / (car.mass * factor) * car.ratio / car.around


def shifted_at(car: Gearing, lamp: float, seconds: float) -> float:
    """Engine speed ``seconds`` [s] after the lamp lit at ``lamp`` [1/s], throttle still open.

    Result [1/s].
    """
    n = lamp
    for _ in range(round(seconds / STEP_S)):
        n += max(rise(car, n), 0.0) * STEP_S
    return n


class Engine(Value, frozen=True):
    """An engine out of gear; SI."""

    torque: Pairs
    idle: float
    """[1/s]"""
    firings: float
    """Firings a turn."""

    @property
    def greatest(self) -> float:
        """[N·m]"""
        return max(t for _, t in self.torque)

    @property
    def inertia(self) -> float:
        """[kg·m²], ASSUMED by its torque."""
        return INERTIA * self.greatest

    def gains(self, n: float, opening: float) -> float:
        """dn/dt [1/s²] at ``n`` [1/s] with the throttle so far ``opening`` of 0 to 1 [3]."""
        shut = SHUT_SHARE * self.greatest
        net = opening * (between(self.torque, n) + shut) - shut
        return net / self.inertia / (2 * math.pi)


class Blip(Value, frozen=True):
    """What a blip for a downshift does; speeds [1/s], times [s]."""

    target: float
    reached: float
    """From pressing the clutch to the target."""
    peak: float
    window: float
    """So long it stays within ``NEAR`` of the target, from first reaching it."""

    @property
    def over(self) -> float:
        """How far it runs over [1/s]."""
        return self.peak - self.target


NEAR = 200 / 60
"""What a driver does not feel as the clutch bites [1/s]: ASSUMED."""


def blip(engine: Engine, start: float, target: float, throttle_s: float) -> Blip:
    """Raise a free engine from ``start`` to ``target`` [1/s] and hold it there for ``HOLD_S``.

    The unit opens by how far the tach it counts, taken ``AHEAD_S`` on, is from the target. That
    tach is a firing and ``DEAD_S`` late, and the throttle takes ``throttle_s`` [s] from shut to
    open, so it runs over [3].
    """
    n, opening = start, 0.0
    past = [start]
    shut = SHUT_SHARE * engine.greatest
    holds = shut / (between(engine.torque, target) + shut)
    reached = math.nan
    for k in range(1, round(HOLD_S / STEP_S) + 1):
        behind = DEAD_S + 1 / max(n * engine.firings, SLOW)
        at = max(len(past) - 1 - round(behind / STEP_S), 0)
        climbs = (past[at] - past[max(at - RATE_STEPS, 0)]) / (RATE_STEPS * STEP_S)
        wants = holds + (target - past[at] - climbs * AHEAD_S) / SPAN
        step = STEP_S / throttle_s
        opening += min(max(min(max(wants, 0.0), 1.0) - opening, -step), step)
        n = max(n + engine.gains(n, opening) * STEP_S, engine.idle)
        past.append(n)
        if math.isnan(reached) and n >= target - NEAR:
            reached = k * STEP_S
    near = sum(STEP_S for x in past if abs(x - target) <= NEAR)
    return Blip(target, reached, max(past), near)


class Fall(Value, frozen=True):
    """How an engine comes down from a raised idle."""

    seconds: float
    """Until it is within ``NEAR`` of its own idle [s]."""
    pull: float
    """How much harder a converter pulls at the raised idle than at its own [1]."""


def hand_back(engine: Engine, raised: float, throttle_s: float) -> Fall:
    """From ``raised`` [1/s] to idle, the throttle shut within ``throttle_s`` [s] [1], [3]."""
    shut = SHUT_SHARE * engine.greatest
    holds = shut / (between(engine.torque, raised) + shut)  # the opening that keeps it up
    n, opening, t = raised, holds, 0.0
    while n > engine.idle + NEAR and t < MOST_S:
        opening = max(opening - holds * STEP_S / throttle_s, 0.0)
        n = max(n + engine.gains(n, opening) * STEP_S, engine.idle)
        t += STEP_S
    return Fall(t, (raised / engine.idle) ** 2)


WATER_J_L_K = 4186.0
"""Heat of a litre of water [J/(l·K)] (ISO 80000-5)."""


class Loop(Value, frozen=True):
    """The water loop of a charge cooler, all ASSUMED but what its driver is set to."""

    least: float
    """Duty when cold [0 to 1]."""
    heat_w: float
    """What a pull puts in [W]."""
    water_j_k: float = 4.0 * WATER_J_L_K
    """Four litres [J/K]."""
    carries_w_k: float = 400.0
    """To the air with the pump full on [W/K]."""
    starts_k: float = 10.0
    full_k: float = 40.0
    """Over ambient: above the first the duty rises, at the second it is full [K]."""
    lag_s: float = 4.0
    """Of the sender [s]."""


class Heat(Value, frozen=True):
    """What a charge cooler does over pulls."""

    first_k: float
    second_k: float
    """Highest over ambient in the first and the second pull [K]."""
    back_s: float
    """After the second pull, until within ``BACK_K`` of where it was [s]; nan: not in time."""


PULL_S, REST_S, BACK_K, AFTER_S = 12.0, 45.0, 3.0, 300.0
WATER_STEP_S = 0.5


def pulls(loop: Loop) -> Heat:
    """Two pulls with a rest between, then driving on [4]."""
    t, water, felt = 0.0, 0.0, 0.0
    highest, back = [0.0, 0.0], math.nan
    second = PULL_S + REST_S
    while t < second + PULL_S + AFTER_S:
        pulling = t < PULL_S or second <= t < second + PULL_S
        duty = _duty(loop, felt)
        out = loop.carries_w_k * math.sqrt(duty) * water  # flow rises with duty, UA with its root
        water += ((loop.heat_w if pulling else 0.0) - out) / loop.water_j_k * WATER_STEP_S
        felt += (water - felt) * WATER_STEP_S / loop.lag_s
        at = 0 if t < second else 1
        highest[at] = max(highest[at], water)
        t += WATER_STEP_S
        if t > second + PULL_S and water <= BACK_K:
            back = t - second - PULL_S
            break
    return Heat(highest[0], highest[1], back)


def _duty(loop: Loop, over: float) -> float:
    share = (over - loop.starts_k) / (loop.full_k - loop.starts_k)
    return min(max(loop.least + (1 - loop.least) * share, loop.least), 1.0)
