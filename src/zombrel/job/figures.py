"""Figures of the trade that rules and laws go by, each with its unit and where it comes from.

One table, so that a figure stands once, can be read by a person, and is the same wherever it
decides. Those that a shop decides for itself (``shop``) may be put otherwise in its house rules:
``House.figures`` names the figure and gives its value.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Protocol

from zombrel.job.value import Value


class Figure(Value, frozen=True):
    """One figure."""

    value: float
    unit: str
    why: str
    """Reason or source; ASSUMED where nobody publishes one."""
    shop: bool = False
    """The house rules may say otherwise."""


FIGURES: dict[str, Figure] = {
    "working speed": Figure(3.0, "m/s", "a speed input should count from a brisk walk on: ASSUMED"),
    "working engine speed": Figure(5.0, "1/s", "below 300 rpm an engine only cranks"),
    "weak beyond": Figure(1.5, "×", "counting so much later than wanted is trouble: ASSUMED"),
    "least rate": Figure(10.0, "Hz", "a gauge that sees fewer pulses jumps: ASSUMED"),
    "least rate of a loop": Figure(25.0, "Hz", "a speed loop hunts on fewer: ASSUMED"),
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
    "way of an airbag": Figure(50.0, "m of way", "gone round wherever there is another way"),
}


WORK = (
    ("cool", 1.0, 0.0, "bay"),
    ("open", 0.0, 1.0, "min of the plan"),
    ("close", 0.0, 1.0, "min of the plan"),
    ("mount", 20.0, 0.0, "device"),
    ("stud", 8.0, 0.0, "stud"),
    ("hose", 12.0, 4.0, "metre"),
    ("loom", 10.0, 2.0, "wire"),
    ("run", 4.0, 4.0, "metre"),
    ("change", 12.0, 0.0, "cavity"),
    ("join", 3.0, 6.0, "joint"),
    ("plug", 3.0, 3.0, "wire"),
    ("probe", 5.0, 1.0, "wire"),
    ("set", 2.0, 3.0, "setting"),
    ("power", 10.0, 3.0, "fuse"),
    ("prove", 6.0, 0.0, "step"),
    ("road", 45.0, 0.0, "drive"),
)
"""Kinds of work: minutes to begin with, minutes for each, of what."""
FITTING = {
    "pull-up": 8.0,
    "attenuator": 12.0,
    "load resistor": 15.0,
    "relay": 20.0,
    "divider": 25.0,
    "multiplier": 30.0,
    "ratio box": 30.0,
    "coupling capacitor": 10.0,
}
"""Minutes to fit each piece on the way of a signal."""
CAUSES = {
    "sound": 0.5,
    "pulses-setting": 0.2,
    "cylinders-setting": 0.25,
    "ground-offset": 0.3,
    "open-ground": 0.12,
    "wrong-curve": 0.12,
    "missing-pull-up": 0.12,
    "double-pull-up": 0.06,
    "weak-pull-up": 0.1,
    "swapped-pair": 0.1,
    "reversed-pair": 0.04,
    "supply-low": 0.1,
    "unit-mix": 0.05,
    "divider-missing": 0.1,
    "divider-doubled": 0.06,
    "noise-counts": 0.1,
    "drop-outs": 0.1,
    "dead": 0.13,
    "hot-side": 0.12,
    "dirty-contact": 0.12,
    "none-of-these": 0.12,
}
"""How often each cause is behind a wrong reading, as weights; the shop's record may say other."""
CALLED = {
    "cause, no path to ground": "cause, open-ground",
    "cause, hot side or open": "cause, hot-side",
    "cause, on a ground": "cause, dead",
    "cause, relay turned": "cause, swapped-pair",
    "cause, switch resistance": "cause, dirty-contact",
    "cause, dead wire": "cause, dead",
    "cause, counted twice": "cause, noise-counts",
    "cause, every other lost": "cause, drop-outs",
    "cause, divider left out": "cause, divider-missing",
    "cause, divider stands otherwise": "cause, divider-doubled",
    "cause, set for other cylinders": "cause, cylinders-setting",
    "cause, multi-spark counted": "cause, noise-counts",
    "cause, feed dead": "cause, dead",
    "cause, feed resistance": "cause, supply-low",
    "cause, battery low": "cause, supply-low",
}
"""What figures are called now that house rules of earlier jobs may name otherwise."""
DOUBT = {
    "nobody": 20.0,
    "hearsay": 18.0,
    "other car": 12.0,
    "document": 8.0,
    "colour": 8.0,
    "counted": 3.0,
    "measured": 0.0,
    "proven": 0.0,
}
"""Minutes of probing that each kind of knowing still asks for."""
PRICES = {
    "pick-up": (8.0, 0.005, 1.0, 0.6, 0.02),
    "signal": (2.0, 0.005, 1.0, 0.6, 0.02),
    "power": (0.0, 0.03, 1.0, 0.8, 0.02),
    "ground": (0.0, 0.01, 1.0, 0.6, 0.02),
}
"""What a run of each nature pays, in metres of way: for a volt of ignition noise, a kelvin over
outside air, a wet zone, a moving one, a minute of opening."""
PRICED = ("noise", "heat", "wet", "moving", "access")


def _tables() -> Iterator[tuple[str, Figure]]:
    """The lists above as figures like the others."""
    for kind, base, each, of in WORK:
        why = "the trade's usual time until the shop's own are recorded: ASSUMED"
        yield f"minutes, {kind}", Figure(base, "min", why, True)
        yield f"minutes, {kind} each", Figure(each, f"min a {of}", why, True)
    for cause, prior in CAUSES.items():
        yield f"cause, {cause}", Figure(prior, "weight", "habit of the trade: ASSUMED", True)
    for part, minutes in FITTING.items():
        yield f"fitting, {part}", Figure(minutes, "min", "bench habit: ASSUMED")
    for known, minutes in DOUBT.items():
        yield f"doubt, {known}", Figure(minutes, "min", "to probe what is not measured: ASSUMED")
    for nature, prices in PRICES.items():
        for what, price in zip(PRICED, prices, strict=True):
            name = f"way of a {nature}, {what}"
            yield name, Figure(price, "m of way", "a coil beside a pick-up costs metres: ASSUMED")


FIGURES |= dict(_tables())


class Decided(Protocol):
    """One figure of the house rules."""

    @property
    def id(self) -> str:
        """Name of the figure."""

    @property
    def value(self) -> float:
        """What the shop goes by."""


def figure(name: str) -> float:
    """The value of a figure, in the unit of its entry; KeyError for an unknown name."""
    return FIGURES[name].value


def decided(house: tuple[Decided, ...], name: str) -> tuple[float, bool]:
    """The value of a figure as the shop decided it, and whether it did.

    Result [unit of the figure].
    """
    for rule in house:
        if CALLED.get(rule.id, rule.id) == name:
            return rule.value, True
    return figure(name), False


def refused(name: str) -> str:
    """Why a shop cannot decide a figure; empty when it can."""
    found = FIGURES.get(CALLED.get(name, name))
    if found is None:
        return f"There is no figure “{name}”."
    return "" if found.shop else f"“{name}” is not the shop's to decide: {found.why}."
