"""Figures of the trade that rules and laws go by, each with its unit and where it comes from.

One table, so that a figure stands once, can be read by a person, and is the same wherever it
decides. What a shop decides for itself is not here but in its house rules (``job.model.House``).
"""

from __future__ import annotations

from typing import NamedTuple


class Figure(NamedTuple):
    """One figure."""

    value: float
    unit: str
    why: str
    """Reason or source; ASSUMED where nobody publishes one."""


FIGURES: dict[str, Figure] = {
    "working speed": Figure(3.0, "m/s", "a speed input should count from a brisk walk on: ASSUMED"),
    "working engine speed": Figure(5.0, "1/s", "below 300 rpm an engine only cranks"),
    "weak beyond": Figure(1.5, "×", "counting so much later than wanted is trouble: ASSUMED"),
    "setting error, trouble": Figure(0.03, "share", "more than tyre wear explains twice over"),
    "curve error, trouble": Figure(0.08, "share of the range", "a gauge reads visibly wrong"),
    "sensor error let pass": Figure(0.03, "share of the range", "usual gauge accuracy class"),
    "noise let pass": Figure(0.03, "share of the range", "as the error of a sensor"),
    "tach error let pass": Figure(0.03, "share", "idle wanders by as much while it is read"),
    "level left to the owner": Figure(0.9, "share", "of a shared pair's level: ASSUMED"),
    "clean stud": Figure(0.02, "V", "lift that no input notices"),
    "load resistor": Figure(47.0, "Ω", "E24 value below the usual 50 Ω limit (IEC 60063)"),
    "load resistor, usual need": Figure(50.0, "Ω", "path to ground a cancel input usually asks"),
    "load resistor, share of need": Figure(0.9, "share", "a tenth in hand below the limit"),
    "load resistor, volts": Figure(14.4, "V", "highest steady voltage of a 12 V system"),
    "load resistor, watts in hand": Figure(2.0, "×", "a resistor is used at half its rating"),
    "load resistor, warm": Figure(2.0, "W", "above it heat is worth a word"),
    "pull-up in a device": Figure(4700.0, "Ω", "usual where a sheet does not say: ASSUMED"),
    "24 V from": Figure(17.0, "V", "no 12 V system reads more, no 24 V system less"),
    "tyre wear": Figure(0.015, "share", "circumference over life and pressure (ETRTO)"),
    "hot zone": Figure(30.0, "K", "over outside air; solder creeps, hands burn: ASSUMED"),
    "noise worth a word": Figure(0.005, "V", "less is not said of a way"),
}


def figure(name: str) -> float:
    """The value of a figure, in the unit of its entry; KeyError for an unknown name."""
    return FIGURES[name].value
