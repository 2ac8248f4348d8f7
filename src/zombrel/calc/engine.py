"""Calculations about shifting, rev-match, ignition and key positions."""

from __future__ import annotations

from zombrel.behaviour.tables import two_track
from zombrel.calc.registry import Param, Result, calc, figures, pairs_within
from zombrel.calibrate import advance, shift, tyre
from zombrel.job.wiring import KeyVolts
from zombrel.signals.key_matrix import classify
from zombrel.units import KMH, RPM

RPM_UNITS = ("rpm",)


REVS = (0.0, 30000.0, "rpm")


@calc(
    "shift",
    "best engine speed for each up-shift",
    [
        Param("torque", "full-load torque as rpm:N·m pairs", "text"),
        Param("ratios", "gear ratios, first to top", "text"),
        Param("redline", "redline", above=0, most=30000, units=RPM_UNITS),
    ],
    "shift_rpm rpm_after limited_by_redline",
)
def shift_points(torque: str, ratios: str, redline: float) -> Result:
    """Where wheel torque in the next gear overtakes; the redline where it never does."""
    curve = pairs_within(torque, "torque curve", REVS, (-1e4, 1e4, "Nm"))
    gears = tuple(figures(ratios, "shift: ratios", 60))
    shifts = shift.shift_points(curve, gears, redline)
    return {
        "shift_rpm": [s.at for s in shifts],
        "rpm_after": [s.after for s in shifts],
        "limited_by_redline": [s.limited for s in shifts],
    }


@calc(
    "shift-lead",
    "engine speed at which a shift lamp must light",
    [
        Param("rpm_per_s", "rise of engine speed", least=0, most=1e5, units=("rpm/s",)),
        Param("delay_ms", "lamp and driver together", least=0, most=10000, units=("ms",)),
        Param("shift_rpm", "wanted shift", above=0, most=30000, units=RPM_UNITS),
    ],
    "lamp_rpm",
)
def lead(rpm_per_s: float, delay_ms: float, shift_rpm: float) -> Result:
    """Lamp speed: shift less rise times delay."""
    return {"lamp_rpm": shift.lamp_speed(shift_rpm, rpm_per_s, delay_ms / 1000)}


@calc(
    "rev-match",
    "engine speed that fits a road speed in a gear",
    [
        Param("speed_kmh", "road speed", least=0, most=600, units=("km/h",)),
        Param("tyre", "tyre size", "text"),
        Param("final_drive", "final drive ratio", above=0, most=30),
        Param("ratio", "ratio of the gear", above=0, most=30),
    ],
    "rpm",
)
def rev_match(speed_kmh: float, final_drive: float, ratio: float, **given: str) -> Result:
    """Crank speed for the gear to come."""
    around = tyre.parse(given["tyre"]).rolling_circumference
    return {"rpm": shift.matched(speed_kmh * KMH, around, final_drive, ratio) / RPM}


@calc(
    "advance",
    "total ignition advance",
    [
        Param("initial_deg", "initial setting", least=-60, most=90, units=("°",)),
        Param("mechanical", "mechanical advance as rpm:deg pairs, crank degrees", "text"),
        Param("vacuum_deg", "vacuum advance", default=0.0, least=-60, most=60, units=("°",)),
        Param("rpm", "engine speed", least=0, most=30000, units=RPM_UNITS),
    ],
    "total_deg",
)
def total_advance(initial_deg: float, mechanical: str, vacuum_deg: float, rpm: float) -> Result:
    """Initial + mechanical + vacuum."""
    curve = pairs_within(mechanical, "mechanical advance", REVS, (-90, 90, "°"))
    return {"total_deg": advance.total(initial_deg, curve, vacuum_deg, rpm)}


VOLTS = {"units": ("V",), "least": -0.5, "most": 36.0}


@calc(
    "feed",
    "class of a supply point from its volts in each key position",
    [
        Param("off", "key off", **VOLTS),  # type: ignore[arg-type]
        Param("acc", "accessory", **VOLTS),  # type: ignore[arg-type]
        Param("run", "run, lights off", **VOLTS),  # type: ignore[arg-type]
        Param("crank", "cranking", **VOLTS),  # type: ignore[arg-type]
        Param("lights", "run, lights on", default=None, **VOLTS),  # type: ignore[arg-type]
        Param("after", "ten minutes after key off", default=None, **VOLTS),  # type: ignore[arg-type]
    ],
    "class warnings",
)
def feed(**volts: float | None) -> Result:
    """What the point is and what is odd about it."""
    verdict = classify(KeyVolts(**volts))  # type: ignore[arg-type]
    return {"class": verdict.kind, "warnings": list(verdict.warnings)}


@calc(
    "pedal-tracks",
    "whether the two tracks of a pedal agree",
    [
        Param("first_v", "first track", least=0, most=30, units=("V",)),
        Param("second_v", "second track", least=0, most=30, units=("V",)),
        Param("ratio", "first over second", default=2.0, above=0, most=10),
        Param(
            "limit_pct", "greatest difference, of 5 V", default=5.0, above=0, most=50, units=("%",)
        ),
    ],
    "plausible off_v",
)
def pedal_tracks(first_v: float, second_v: float, ratio: float, limit_pct: float) -> Result:
    """Difference of the tracks brought to one scale, and whether it is let pass."""
    return {
        "plausible": two_track(first_v, second_v, ratio, limit_pct / 100),
        "off_v": first_v - ratio * second_v,
    }


@calc(
    "held-launch",
    "highest launch speed that the brakes hold with an automatic",
    [
        Param(
            "stall_rpm", "converter's stall at full throttle", above=0, most=20000, units=RPM_UNITS
        ),
        Param("torque_nm", "engine torque there", above=0, most=5000, units=("Nm", "N·m")),
        Param(
            "hold_nm", "torque the brakes hold at the wheels", above=0, most=50000, units=("Nm",)
        ),
        Param("gear", "first gear times final drive", above=0, most=60),
        Param("stall_ratio", "torque ratio of the converter", default=1.9, least=1, most=4),
    ],
    "rpm",
)
def held(
    stall_rpm: float, torque_nm: float, hold_nm: float, gear: float, stall_ratio: float
) -> Result:
    """The converter takes K·n² at stall and passes it on times its ratio."""
    return {"rpm": advance.held_launch(stall_rpm, torque_nm, hold_nm / gear, stall_ratio)}
