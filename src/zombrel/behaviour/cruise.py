"""A pace unit at work: what it does when it takes hold, on a hill, in the wind.

The unit pulls a cable: at first by its take-up, then by how far the speed is off, faster and
further the higher its sensitivity, and slowly by what stays off. The cable has slack, the motor a
greatest speed, the speed signal a lag. Sampled in steps, so the same numbers give the same drive.

References:
    [1] Proportional and integral action with dead band, rate limit and end stops (Åström, Murray,
        *Feedback Systems*, ch. 10; slack as backlash, ch. 9).
    [2] The vehicle as in ``behaviour.longitudinal``.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable

from zombrel.behaviour.longitudinal import Body, acceleration, opening, resistance
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.units import KMH

STEP_S = 0.05
COUNT_STEPS = 8
"""The unit knows a new speed after so many steps: it counts pulses over 0.4 s (ASSUMED)."""
PLAY_MM, PLAY_SHARE = 0.3, 0.15
"""Friction holds the throttle within so much of the cable [mm], more in a slack one: ASSUMED."""
TORQUE_S = 0.4
"""From the throttle to the wheels [s]: manifold and drive line, ASSUMED."""
TRAVEL_MM = 38.0
"""Cable from closed to full [mm]."""
MOTOR_MM_S = 22.0
"""How fast the motor pulls [mm/s]: ASSUMED."""
LAG_S = 0.25
"""From the wheel to what the unit believes [s]: counting over a few pulses, ASSUMED."""
TAKE_MM = 1.6
"""What each step of the take-up pulls at once [mm]: ASSUMED."""
GAIN_MM = 2.2
"""What each step of the sensitivity pulls for a km/h that is off [mm]: ASSUMED."""
RESET_S = 14.0
"""In this time what stays off is taken up [s]: ASSUMED."""
FOOT_S = 0.4
"""The foot comes off the pedal within this time of pressing "set" [s]: ASSUMED."""
DRIVE_S = 60.0
STEADY_S = 30.0
"""From here on nothing should move any more."""
NEAR_KMH = 1.0
"""So near the set speed it has settled."""
STEPS = (1, 2, 3, 4)
FELT_KMH = 2.0
"""A droop that a driver feels and calls so."""
HUNTS_KMH = 1.2
"""A swing that a driver calls surging."""
OVER_KMH = 3.0
BETTER_KMH = 0.2
"""A change that does less is none."""


class Unit(Value, frozen=True):
    """How the unit is set, and its cable."""

    gain: float
    """Step of the sensitivity."""
    take_up: float
    """Step of the take-up."""
    slack_mm: float
    """Cable that is pulled before the throttle moves [mm]; below zero it never shuts."""
    lag_s: float = LAG_S
    motor_mm_s: float = MOTOR_MM_S


class Drive(Value, frozen=True):
    """One drive: times [s], speeds [m/s], cable [mm]."""

    t: tuple[float, ...]
    v: tuple[float, ...]
    cable: tuple[float, ...]


class Felt(Value, frozen=True):
    """What the driver feels [km/h, s]."""

    droop_kmh: float
    surge_kmh: float
    overshoot_kmh: float
    settle_s: float
    """nan when it does not settle."""


Road = Callable[[float], tuple[float, float]]
"""Time [s] → (grade [rise over run], head wind [m/s])."""


def flat(grade: float, wind: float = 0.0) -> Road:
    """The same slope and wind all the way: ``grade`` [rise over run], ``wind`` [m/s]."""
    return lambda t: (grade, wind)


def gusty(grade: float, wind: float, gust: float, seed: int) -> Road:
    """A wind of gusts that ``seed`` repeats: ``wind`` and ``gust`` [m/s], ``grade`` [1]."""
    rng = random.Random(seed)
    gusts = [rng.gauss(0, gust) for _ in range(int(DRIVE_S) + 2)]

    def road(t: float) -> tuple[float, float]:
        i = min(int(t), len(gusts) - 2)
        part = t - i
        return grade, wind + gusts[i] * (1 - part) + gusts[i + 1] * part

    return road


def drive(body: Body, unit: Unit, road: Road, set_mps: float, seconds: float = DRIVE_S) -> Drive:
    """Engage at ``set_mps`` [m/s] and hold for ``seconds`` [s] [1], [2]."""
    grade, wind = road(0.0)
    held = opening(body, set_mps, resistance(body, set_mps, grade, wind))
    v, seen, cable, integral = set_mps, set_mps, 0.0, 0.0
    throttle = torque = held * TRAVEL_MM  # the foot holds it until it comes off
    play = PLAY_MM + PLAY_SHARE * abs(unit.slack_mm)
    told, times, speeds, cables = 0.0, [], [], []
    for k in range(int(seconds / STEP_S)):
        t = k * STEP_S
        grade, wind = road(t)
        if k % COUNT_STEPS == 0:  # the unit counts pulses over a while, and only then knows
            told = (set_mps - seen) / KMH
        integral += unit.gain * GAIN_MM * told * STEP_S / RESET_S
        integral = min(max(integral, -TRAVEL_MM), TRAVEL_MM)
        aim = unit.take_up * TAKE_MM + unit.gain * GAIN_MM * told + integral
        aim = min(max(aim, 0.0), TRAVEL_MM)
        move = unit.motor_mm_s * STEP_S
        cable += min(max(aim - cable, -move), move)
        pulled = max(cable - unit.slack_mm, 0.0)
        if t < FOOT_S:
            pulled = max(pulled, throttle)
        throttle = min(max(throttle, pulled - play / 2), pulled + play / 2)
        throttle = min(max(throttle, 0.0), TRAVEL_MM)
        torque += (throttle - torque) * STEP_S / TORQUE_S
        v = max(v + acceleration(body, v, torque / TRAVEL_MM, grade, wind) * STEP_S, 0.0)
        seen += (v - seen) * min(STEP_S / unit.lag_s, 1.0)
        times.append(t)
        speeds.append(v)
        cables.append(cable)
    return Drive(tuple(times), tuple(speeds), tuple(cables))


def felt(run: Drive, set_mps: float) -> Felt:
    """What the driver feels of a drive that was to hold ``set_mps`` [m/s]; result [km/h, s]."""
    off = [(v - set_mps) / KMH for v in run.v]
    start = [o for t, o in zip(run.t, off, strict=True) if t <= STEADY_S / 2]
    steady = [o for t, o in zip(run.t, off, strict=True) if t >= STEADY_S]
    droop = max(0.0, -min(start, default=0.0))
    over = max(0.0, max(off, default=0.0))
    surge = max(steady, default=0.0) - min(steady, default=0.0)
    last = max((t for t, o in zip(run.t, off, strict=True) if abs(o) > NEAR_KMH), default=0.0)
    settled = last < run.t[-1] - 2.0 if run.t else False
    return Felt(droop, surge, over, last if settled else math.nan)


def cruise(body: Body, unit: Unit, set_mps: float, grade: float, wind: float = 0.0) -> Felt:
    """Engage and hold at ``set_mps`` [m/s] on ``grade`` [rise over run] in ``wind`` [m/s].

    Raises:
        Problem: the engine cannot hold that speed there at all.
    """
    need = resistance(body, set_mps, grade, wind)
    if need * set_mps > body.power:
        raise Problem(
            f"That takes {need * set_mps / 1000:.0f} kW and the engine gives "
            f"{body.power / 1000:.0f} kW there: no setting holds it. A lower gear, or slower."
        )
    return felt(drive(body, unit, flat(grade, wind), set_mps), set_mps)


class Advice(Value, frozen=True):
    """The next single change."""

    change: str
    """take-up, gain, slack, or nothing."""
    to: float
    words: str
    feels: str
    """What the driver will notice."""


SLACK_OK_MM = 1.0
"""A little slack, never none and never less [mm]."""


class _At(Value, frozen=True):
    """Where a unit is tried."""

    body: Body
    set_mps: float
    grade: float
    wind: float

    def felt(self, unit: Unit) -> Felt:
        """What the driver feels of it."""
        return cruise(self.body, unit, self.set_mps, self.grade, self.wind)


def advice(body: Body, unit: Unit, set_mps: float, grade: float, wind: float = 0.0) -> Advice:
    """One change at a time, in the trade's order: cable, then surge, then droop, then overshoot.

    ``set_mps`` [m/s], ``grade`` [rise over run], ``wind`` [m/s].
    """
    at = _At(body, set_mps, grade, wind)
    if unit.slack_mm < 0:
        words = "Give the cable a little slack: it holds the throttle open when it is let go."
        return Advice("slack", SLACK_OK_MM, words, "The idle falls back when it is cancelled.")
    now = at.felt(unit)
    if now.surge_kmh > HUNTS_KMH:
        return _calmer(at, unit, now)
    if now.droop_kmh > FELT_KMH:
        found = _firmer(at, unit, now)
        if found is not None:
            return found
    if now.overshoot_kmh > OVER_KMH and unit.take_up > STEPS[0]:
        to = unit.take_up - 1
        after = at.felt(unit.but(take_up=to))
        words = f"Take-up one step gentler, to {to:g}; nothing else."
        feels = f"It runs over by {after.overshoot_kmh:.1f}, not {now.overshoot_kmh:.1f} km/h."
        return Advice("take-up", to, words, feels)
    return Advice("", math.nan, "Leave it as it is.", "Nothing that a driver would call wrong.")


def _firmer(at: _At, unit: Unit, now: Felt) -> Advice | None:
    """Of the changes that lessen the droop, the first of the trade that does without surging."""
    tries: list[tuple[str, float, Unit, str]] = []
    if unit.take_up < STEPS[-1]:
        to = unit.take_up + 1
        words = f"Take-up one step firmer, to {to:g}; nothing else."
        tries.append(("take-up", to, unit.but(take_up=to), words))
    if unit.slack_mm > SLACK_OK_MM:
        words = f"Take slack out of the cable: {SLACK_OK_MM:g} mm with the throttle shut."
        tries.append(("slack", SLACK_OK_MM, unit.but(slack_mm=SLACK_OK_MM), words))
    if unit.gain < STEPS[-1]:
        to = unit.gain + 1
        words = f"Sensitivity one step up, to {to:g}; nothing else."
        tries.append(("gain", to, unit.but(gain=to), words))
    for change, to, tried, words in tries:
        after = at.felt(tried)
        if after.droop_kmh < now.droop_kmh - BETTER_KMH and after.surge_kmh <= HUNTS_KMH:
            feels = f"It sags {after.droop_kmh:.1f} instead of {now.droop_kmh:.1f} km/h."
            return Advice(change, to, words, feels)
    return None


def _calmer(at: _At, unit: Unit, now: Felt) -> Advice:
    """Of the changes that calm it, the first of the trade that does."""
    tries: list[tuple[str, float, Unit, str]] = []
    if unit.slack_mm > SLACK_OK_MM:
        words = f"Take slack out of the cable: {SLACK_OK_MM:g} mm with the throttle shut."
        tries.append(("slack", SLACK_OK_MM, unit.but(slack_mm=SLACK_OK_MM), words))
    if unit.gain > STEPS[0]:
        to = unit.gain - 1
        words = f"Sensitivity one step down, to {to:g}; nothing else."
        tries.append(("gain", to, unit.but(gain=to), words))
    if not tries:
        words = "It surges at its lowest sensitivity: look for drop-outs of the speed signal."
        return Advice("signal", math.nan, words, "A steady signal, and it holds.")
    told = [(at.felt(u).surge_kmh, change, to, words) for change, to, u, words in tries]
    swing, change, to, words = next((x for x in told if x[0] <= HUNTS_KMH), min(told))
    feels = f"It swings by {swing:.1f} instead of {now.surge_kmh:.1f} km/h."
    return Advice(change, to, words, feels)
