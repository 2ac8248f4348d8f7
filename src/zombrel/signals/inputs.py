"""Input laws, each in one place: what an input reads, in which unit, and what it makes of it.

A new law is an entry here and a word in ``job.sheet.Takes``.

References:
    [1] Node voltage: V = Σ(Vᵢ/Rᵢ) / Σ(1/Rᵢ) (Millman's theorem).
    [2] ITS-90 for type K, see ``calibrate.thermocouple``.
"""

from __future__ import annotations

from collections.abc import Callable

from zombrel.calibrate import thermocouple
from zombrel.job.sheet import Takes
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.signals.kinds.base import OPEN_OHM
from zombrel.units import ZERO_C

Pull = tuple[float, float]
"""A pull-up (Ω, V)."""


def _as_given(given: float, volts: float, pull: Pull | None) -> float:
    return given


def _as_volts(given: float, volts: float, pull: Pull | None) -> float:
    return volts


def _by_divider(given: float, volts: float, pull: Pull | None) -> float:
    """The resistance that the input's own pull-up divides to ``volts`` with."""
    if pull is None:
        return given
    ohm, to = pull
    return OPEN_OHM if volts >= to * (1 - 1e-9) else max(ohm * volts / (to - volts), 0.0)


def _type_k(millivolts: float, state: State) -> float:
    return thermocouple.celsius(millivolts, state.ambient - ZERO_C) + ZERO_C


class InputLaw(Value, frozen=True):
    """One way to read a sender."""

    unit: str
    words: str
    """What it reads, after "gives" and "reads"."""
    formula: str = ""
    """How what is shown comes about, for "why?"."""
    infers: Callable[[float, float, Pull | None], float] = _as_given
    """(what the sender gives, volts at the pin, the input's own pull-up) → what the device
    takes the sender's property to be."""
    by_volts: bool = False
    """It goes by the volts at its pin, so a lifted ground shows."""
    also: tuple[Takes, ...] = ()
    """Other properties that a pull-up turns into this one."""
    fixed: Callable[[float, State], float] | None = None
    """Its curve, where that is not the device's but a standard's: (reading, state) → value [SI]."""


INPUTS: dict[Takes, InputLaw] = {
    "pulses": InputLaw("Hz", "pulses"),
    "contact": InputLaw("", "a contact"),
    "ohm": InputLaw(
        "Ω",
        "a resistance",
        "V = Σ(Vᵢ/Rᵢ) ÷ Σ(1/Rᵢ); R̂ = Rp · V ÷ (Vp − V); shown = curve(R̂)",
        _by_divider,
        by_volts=True,
    ),
    "volts": InputLaw(
        "V",
        "volts",
        "shown = curve(V signal + V ground lift, loaded by the input)",
        _as_volts,
        by_volts=True,
        also=("ohm",),
    ),
    "hz": InputLaw("Hz", "a frequency", "shown = curve(f)"),
    "duty": InputLaw("of the period", "a duty cycle", "shown = curve(on-time ÷ period)"),
    "thermocouple": InputLaw(
        "mV",
        "thermocouple millivolts",
        "E(T) − E(cold end) measured; shown = E⁻¹(that + E(device))",
        fixed=_type_k,
    ),
}
