"""A misreading as a case: what was seen, what may explain it, which tests there are.

From facts alone, or from a chain of a job: the same rivals either way, with the job's own curve,
pull-up, divider and setting.

References: as in ``misread.rates``, ``misread.senses`` and ``misread.lines``.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

from zombrel.diagnose.misread import lines, pairs, probes, pulsed, rates, senses
from zombrel.diagnose.misread.probes import Next, Probe
from zombrel.diagnose.misread.weigh import AND, Cause, Meter, Pair, Rival, Weighed, weighed
from zombrel.job.figures import decided
from zombrel.job.model import HouseFigure
from zombrel.job.value import Value


class Case(Value, frozen=True):
    """One line that reads wrong."""

    family: str
    rivals: tuple[Rival, ...]
    meter: Meter
    none: float
    name: str = ""
    low: float = 0.0
    high: float = 0.0
    """Ends of the scale [unit of the display]; both 0: it has none of its own."""


class Ranked(Value, frozen=True):
    """One cause as it stands."""

    cause: Cause
    share: float
    words: str
    mend: str
    unknown: float
    form: Rival
    """The form of the cause that leads: it may have several."""


class Answer(Value, frozen=True):
    """What explains it, and what to do next."""

    ranked: tuple[Ranked, ...]
    """The likeliest first; "none-of-these" is always among them."""
    sound: float
    """How likely it is that nothing is the matter."""
    next: Next | None


def prior_of(house: tuple[HouseFigure, ...]) -> Any:
    """Priors of causes: the shop's where it decided them."""
    return lambda cause: decided(house, f"cause, {cause}")[0]


def answer(
    case: Case,
    seen: Sequence[Pair],
    answers: Mapping[str, int] | None = None,
    said: Sequence[Mapping[Cause, float]] = (),
    common: Mapping[Cause, float] | None = None,
) -> Answer:
    """Rank what explains ``seen``, with the ``answers`` that tests gave so far.

    ``said`` the odds of each complaint, by cause; an answer of -1 could not be had. ``common`` how
    likely one cause is behind this and other lines of the device at once (``misread.together``).
    """
    found = weighed(case.rivals, seen, case.meter, case.none)
    shares = probes.shares_of(found)
    if common:
        own = 1 - sum(common.values())
        shares = {cause: own * share + common.get(cause, 0.0) for cause, share in shares.items()}
    for odds in said:
        shares = {cause: share * _told(odds, cause) for cause, share in shares.items()}
    total = sum(shares.values()) or 1.0
    shares = {cause: share / total for cause, share in shares.items()}
    done = dict(answers or {})
    every = probes.FAMILIES[case.family]
    for probe in every:
        if done.get(probe.key, -1) >= 0:
            shares = probes.answered(shares, probe, done[probe.key])
    left: list[Probe] = [p for p in every if p.key not in done]
    leading: dict[Cause, Weighed] = {}
    for one in found:
        leading.setdefault(one.rival.cause, one)
    ranked = sorted(
        (
            Ranked(
                cause,
                share,
                leading[cause].rival.words(leading[cause].unknown),
                leading[cause].rival.mend(leading[cause].unknown),
                leading[cause].unknown,
                leading[cause].rival,
            )
            for cause, share in shares.items()
            if cause != "sound"
        ),
        key=lambda r: -r.share,
    )
    return Answer(tuple(ranked), shares.get("sound", 0.0), probes.best(shares, left))


def _told(odds: Mapping[Cause, float], cause: Cause) -> float:
    """Odds of a complaint; of two causes the one that speaks for it."""
    return max(odds.get(part, 1.0) for part in cause.split(AND))


NONE = "cause, none-of-these"


def _case(family: str, rivals: Sequence[Rival], meter: Meter, house: Any, name: str) -> Case:
    return Case(family, tuple(rivals), meter, decided(house, NONE)[0], name)


def speed_case(
    setting: float,
    source: float,
    divider: float = 1.0,
    max_hz: float = math.inf,
    house: tuple[HouseFigure, ...] = (),
    name: str = "",
) -> Case:
    """A road speed; ``setting`` and ``source`` [per km], ``max_hz`` of the device [Hz]."""
    at_device = source / max(divider, 1.0)
    top = max_hz * 3600 / setting if math.isfinite(max_hz) else math.inf
    rate = rates.Rate(at_device / setting, setting, divider, top=top)
    found = rates.speed_rivals(rate, prior_of(house))
    found += pairs.rate_pairs(found, rate.gain)
    return _case("speed", found, rates.SPEED, house, name)


def tach_case(
    set_cylinders: float,
    cylinders: float,
    house: tuple[HouseFigure, ...] = (),
    name: str = "",
) -> Case:
    """An engine speed by what it is set to and what the engine has [cylinders]."""
    rate = rates.Rate(cylinders / set_cylinders, set_cylinders, 1.0, cylinders)
    found = rates.tach_rivals(rate, prior_of(house))
    found += pairs.rate_pairs(found, rate.gain)
    return _case("tach", found, rates.TACH, house, name)


def ohm_case(
    line: senses.Ohms,
    low: float,
    high: float,
    temperature: bool,
    house: tuple[HouseFigure, ...] = (),
    name: str = "",
) -> Case:
    """A resistance through a pull-up; ``low`` and ``high`` of the scale [unit of the display]."""
    found = senses.ohm_rivals(line, prior_of(house), temperature)
    found += pairs.ohm_pairs(found, line)
    case = _case("ohm", found, senses.meter_of(low, high), house, name)
    return case.but(low=low, high=high)


def level_case(
    line: senses.Levels,
    kind: str,
    house: tuple[HouseFigure, ...] = (),
    name: str = "",
) -> Case:
    """A voltage."""
    found = senses.level_rivals(line, prior_of(house), kind)
    found += pairs.level_pairs(found, line)
    case = _case("level", found, senses.meter_of(line.low, line.high), house, name)
    return case.but(low=line.low, high=line.high)


def pulsed_case(
    line: pulsed.Pulsed,
    house: tuple[HouseFigure, ...] = (),
    name: str = "",
) -> Case:
    """A frequency, a duty cycle, or a thermocouple."""
    family = "junction" if line.kind == "thermocouple" else "pulsed"
    found = pulsed.pulsed_rivals(line, prior_of(house))
    case = _case(family, found, senses.meter_of(line.low, line.high), house, name)
    return case.but(low=line.low, high=line.high)


def brake_case(line: lines.Brake, house: tuple[HouseFigure, ...] = (), name: str = "") -> Case:
    """A cancel line."""
    found = lines.brake_rivals(line, prior_of(house))
    return _case("brake", found, lines.brake_meter(line.volts), house, name)


def contact_case(line: lines.Contact, house: tuple[HouseFigure, ...] = ()) -> Case:
    """An on/off input."""
    found = lines.contact_rivals(line, prior_of(house))
    return _case("contact", found, lines.contact_meter(line), house, "")


def supply_case(
    count: int, volts: float, house: tuple[HouseFigure, ...] = (), name: str = ""
) -> Case:
    """Supplies at ``count`` pins; ``volts`` of the battery [V]."""
    found = lines.supply_rivals(count, volts, prior_of(house))
    return _case("supply", found, lines.supply_meter(volts), house, name)
