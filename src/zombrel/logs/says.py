"""What a log says, one line each: whatever its channels allow, with how it was worked out."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from zombrel.calibrate.tyre import parse as parse_tyre
from zombrel.job.model import Vehicle
from zombrel.job.problem import Problem
from zombrel.job.reason import Given, Reason
from zombrel.job.value import Value
from zombrel.logs.coastdown import NOT_TOLD, coast
from zombrel.logs.gearfit import final_drive, gears
from zombrel.logs.recording import Recording
from zombrel.logs.speedpair import SpeedPair, compare_speeds, pulses_per_km, surge
from zombrel.units import KMH, rate_token
from zombrel.units.measure import short_of, token

SURGES, SWINGS = 0.6, 0.3
"""A surge is told when so much of what moves is one rate [share], and it swings so much [m/s]."""

TYRE_DOUBT = 0.025
"""A tyre's circumference is not known better from its size [share]."""
SHOWN_AT = 50 * KMH
"""Engine speeds of the gears are told at this road speed [m/s]."""


class Said(Value, frozen=True):
    """One thing that a log says."""

    title: str
    words: str
    reason: Reason


class Car(Value, frozen=True):
    """What of the car a log is read with; what is None or empty is not known."""

    mass_kg: float | None = None
    """As it ran [kg]."""
    ratios: tuple[float, ...] = ()
    final_drive: float | None = None
    around_m: float | None = None
    """Rolling circumference of the driven tyres [m]."""


UNKNOWN = Car()


def car_of(vehicle: Vehicle) -> Car:
    """What Survey knows of the car."""
    try:
        around = parse_tyre(vehicle.tyre).rolling_circumference if vehicle.tyre else None
    except Problem:
        around = None
    return Car(vehicle.mass_kg, vehicle.ratios, vehicle.final_drive, around)


def says(log: Recording, car: Car = UNKNOWN) -> tuple[Said, ...]:
    """All that can be read off ``log``, with what is known of the car."""
    found: list[Said] = []
    parts: tuple[Callable[[], Iterator[Said]], ...] = (
        lambda: _speeds(log),
        lambda: _pulses(log),
        lambda: _gears(log),
        lambda: _axle(log, car),
        lambda: _coast(log, car.mass_kg),
        lambda: _surge(log),
    )
    for part in parts:
        try:
            found += part()
        except Problem:
            continue  # it lacks what that asks for
    return tuple(found)


def _speeds(log: Recording) -> Iterator[Said]:
    p = compare_speeds(log)
    f = p.fit
    off = 100 * (f.scale - 1)
    half = 50 * (f.scale_high - f.scale_low)
    given = (
        Given(name="lag", value=f"{p.lag_s:.2f} s", known="the shift whose changes agree best"),
        Given(name="steady points", value=str(f.used)),
        Given(name="left out in turns", value=str(p.turning)),
        *_sloped(p),
    )
    offset = token("speed", float(f.offset), 1)
    yield Said(
        "Shown against satellite",
        f"{off:+.2f} ± {half:.2f} %, offset {offset}; the satellite’s is {p.lag_s:.1f} s behind",
        Reason(
            title="Two speeds",
            result=f"{off:+.2f} %",
            formula="shown = scale · true + offset over steady driving, the lag taken out",
            given=given,
            source="Holland and Welsch 1977; Knapp and Carter 1976 for the lag",
        ),
    )
    apart = 100 * (p.shown_m / p.true_m - 1) if p.true_m > 0 else 0.0
    yield Said(
        "Distance",
        f"{_far(p.true_m)} by satellite, {_far(p.shown_m)} shown: {apart:+.2f} %",
        Reason(
            title="Distance",
            result=f"{apart:+.2f} %",
            formula="the sum of speed × time of each",
            given=given,
            source="definition",
        ),
    )
    if np.isfinite(p.warm_share):
        low, high = 100 * p.warm_low, 100 * p.warm_high
        none = low <= 0 <= high
        words = "no change is shown" if none else f"{100 * p.warm_share:+.2f} % in ten minutes"
        yield Said(
            "Tyres warming",
            f"{words} ({low:+.2f} to {high:+.2f} %)",
            Reason(
                title="Scale over time",
                result=words,
                formula="slope of shown ÷ true over time, by means of half minutes",
                given=given,
                source="Student’s interval of a slope",
            ),
        )


def _sloped(p: SpeedPair) -> tuple[Given, ...]:
    """What the road's slope did to the comparison, where heights were logged."""
    if not np.isfinite(p.steep):
        return (Given(name="slopes", value="not known", known="height was not logged"),)
    words = f"a twentieth over {100 * p.steep:.1f} %; the way is {100 * p.sloped:.2f} % longer"
    return (Given(name="slopes", value=words, known="taken out, by the height that was logged"),)


def _far(metres: float) -> str:
    return token("far", metres, 2)


def _rate(per_km: float) -> str:
    return rate_token(float(per_km) / 1000)


def _pulses(log: Recording) -> Iterator[Said]:
    mean, low, high = pulses_per_km(log)
    yield Said(
        "Pulses",
        f"{_rate(mean)} ({_rate(low)} to {_rate(high)})",
        Reason(
            title="Pulses a kilometre",
            result=_rate(mean),
            formula="rate ÷ speed, median, spikes left out",
            source="definition",
        ),
    )


def _gears(log: Recording) -> Iterator[Said]:
    found = gears(log)
    at = token("speed", SHOWN_AT, 0)
    told = ", ".join(f"{g.rpm_per_kmh * SHOWN_AT / KMH:.0f}" for g in found)
    yield Said(
        f"{len(found)} gears" if len(found) > 1 else "One gear",
        f"{told} rpm at {at}",
        Reason(
            title="Gears",
            result=told,
            formula="where engine speed ÷ road speed stands still: peaks of its density",
            given=tuple(
                Given(
                    name=f"gear {i}",
                    value=f"{g.rpm_per_kmh:.2f} rpm/(km/h)",
                    known=f"{100 * g.share:.0f} % of the time",
                )
                for i, g in enumerate(found, 1)
            ),
            source="Silverman 1986",
        ),
    )


def _axle(log: Recording, car: Car) -> Iterator[Said]:
    if not car.ratios or not car.around_m:
        return
    axle = final_drive(gears(log), car.ratios, car.around_m)
    words = f"{axle.final:.2f} : 1 ({axle.low:.2f} to {axle.high:.2f})"
    if car.final_drive:
        off = axle.final / car.final_drive - 1
        words += (
            ", as Survey has it"
            if abs(off) <= TYRE_DOUBT
            else f"; Survey has {car.final_drive:g}, {100 * abs(off):.0f} % other: axle, tyre size "
            "or ratios are not what is written there"
        )
    yield Said(
        "Final drive",
        words,
        Reason(
            title="Final drive",
            result=f"{axle.final:.3f}",
            formula="engine revolutions a metre × rolling circumference ÷ ratio of the gear",
            given=(
                Given(name="gears found", value=", ".join(map(str, axle.gears))),
                Given(name="circumference", value=short_of(car.around_m), known="the tyre’s size"),
            ),
            source="definition",
            assumption="the tyre rolls as its size says; wear and pressure make 1.5 % either way",
        ),
    )


def _coast(log: Recording, mass_kg: float | None) -> Iterator[Said]:
    if mass_kg is None:
        return
    c = coast(log, mass_kg)
    runs = "1 run" if len(c.runs) == 1 else f"{len(c.runs)} runs"
    words = (
        f"drag area {c.cda_m2:.3f} m² ({c.cda_low:.3f} to {c.cda_high:.3f}), rolling "
        f"{c.crr:.4f} ({c.crr_low:.4f} to {c.crr_high:.4f}), {runs}"
        if c.told
        else f"{runs}, {NOT_TOLD}"
    )
    yield Said(
        "Coast-down",
        words,
        Reason(
            title="Coast-down",
            result=f"CdA {c.cda_m2:.3f} m², Crr {c.crr:.4f}" if c.told else "not told",
            formula="m·dv/dt = −(½ρ·CdA·v² + m·g·Crr), fitted to every run",
            given=(Given(name="mass", value=token("mass", mass_kg), known="the survey"),),
            source="SAE J1263",
            assumption="air of 1.2 kg/m³, no wind, a level road; wheels’ inertia left out",
        ),
    )


def _surge(log: Recording) -> Iterator[Said]:
    rate, swing, share = surge(log)
    if share < SURGES or swing < SWINGS:
        return
    side = (
        "slower than the car answers: gain or take-up too firm"
        if rate < 0.2  # noqa: PLR2004 - the car’s own answer is about so quick [Hz]
        else "as quick as the actuator: slack, or a sticking cable"
    )
    yield Said(
        "Surge",
        f"{rate:.2f} Hz, {token('speed', float(swing), 1)} each way: {side}",
        Reason(
            title="Surge",
            result=f"{rate:.2f} Hz",
            formula="strongest rate of the speed beside its trend",
            source="periodogram, any textbook of signal processing",
            assumption="which side of the loop it is, by its rate alone: try one change at a time",
        ),
    )
