"""Pulse rates of speed and engine-speed sources.

References:
    [1] Definition: pulses per km = wheel revolutions per km · gearing to the shaft · pulses
        per shaft revolution.
    [2] Heywood, *Internal Combustion Engine Fundamentals*, ch. 1: a four-stroke cylinder
        fires once in two crank revolutions.
    [3] Synchronous machine: electrical frequency = pole pairs · mechanical frequency.
"""

from __future__ import annotations

from zombrel.job.problem import Problem

A_PAIR = 2
"""Cylinders that share a wasted-spark coil."""


def wheel_ring(teeth: float, circumference: float) -> float:
    """Pulses per metre of a toothed ring turning with the wheel; ``circumference`` [m] [1]."""
    return teeth / circumference


def propshaft(magnets: float, final_drive: float, circumference: float) -> float:
    """Pulses per metre of magnets on the propeller shaft [1]."""
    return magnets * final_drive / circumference


def cable(
    pulses_per_rev: float,
    drive_teeth: float,
    driven_teeth: float,
    final_drive: float,
    circumference: float,
) -> float:
    """Pulses per metre of a generator on the speedometer cable [1].

    The cable turns ``drive_teeth / driven_teeth`` times for each turn of the gearbox
    output shaft.
    """
    return pulses_per_rev * drive_teeth / driven_teeth * final_drive / circumference


def coil_pulses(ignition: str, cylinders: int, strokes: int) -> float:
    """Pulses per crank revolution at one coil's primary [2].

    Two-stroke engines fire every cylinder each revolution, so every figure doubles.
    """
    per_coil = {"distributor": cylinders / 2, "wasted-spark": 1.0, "coil-per-plug": 0.5}
    if ignition not in per_coil:
        raise Problem(
            f"“{ignition}” has no coil to count; use distributor, wasted-spark or coil-per-plug."
        )
    if ignition == "wasted-spark" and cylinders < A_PAIR:
        raise Problem("A wasted-spark coil needs two cylinders to share it.")
    return per_coil[ignition] * (4 / strokes)


def all_coils(cylinders: int, strokes: int) -> float:
    """Pulses per crank revolution in the common supply of all coils: n/2, two-stroke n [2].

    A wasted-spark set gives the same: n/2 coils, each once a revolution.
    """
    return cylinders / 2 * (4 / strokes)


def alternator(pole_pairs: float, pulley_ratio: float) -> float:
    """Pulses per crank revolution at a phase terminal [3]."""
    return pole_pairs * pulley_ratio


def toothed_wheel(teeth: int, missing: int, on_cam: bool) -> float:
    """Pulses per crank revolution: teeth present, halved on the cam.

    Result [1 per crank revolution].
    """
    if missing >= teeth:
        raise Problem(f"{missing} missing teeth of {teeth} leave nothing to count.")
    return (teeth - missing) * (0.5 if on_cam else 1.0)
