"""Rivals of a counted reading: road speed or engine speed.

Reference: shown = true · rate ÷ divider ÷ setting (``signals.law``); a count that is added stands
also at rest, one that is lost scales with the reading.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from zombrel.diagnose.misread.weigh import Meter, Rival, even, linear, spread
from zombrel.job.value import Value
from zombrel.units import KMH, MPH, rate_token, speed_token

MILE = MPH / KMH
LOST = (0.1, 1.005)
"""What is left of a reading that drops out: anything between."""
SPARKS, SPARKS_BELOW = (2.0, 3.0), (1200.0, 1800.0, 2400.0, 3000.0)
"""Several sparks a firing are counted below so many turns [rpm]."""
WRONG = 0.02
"""A setting off by more is misset by its own facts."""
DIVIDERS = tuple(range(2, 11))
CYLINDERS = {1: 0.03, 2: 0.03, 3: 0.05, 4: 0.3, 5: 0.001, 6: 0.3, 8: 0.25, 10: 0.01, 12: 0.03}
"""What a tach is set to by mistake, and how often: ASSUMED from the engines there are."""
SPEED = Meter(0.5, 0.006, 300.0, by_ratio=True)
"""A speed display in whole units against a satellite [km/h]."""
TACH = Meter(2.0, 0.003, 12000.0, by_ratio=True)
"""A tach that can be read to a few turns against a strobe [rpm]."""


class Rate(Value, frozen=True):
    """A counted chain by its facts."""

    gain: float
    """Shown over true, as set."""
    setting: float
    """Pulses per km, or cylinders, that the device believes."""
    divider: float
    cylinders: float = 0.0
    top: float = math.inf
    """Greatest value that the device's rate limit lets it show."""


Prior = Callable[[str], float]


def speed_rivals(rate: Rate, prior: Prior) -> list[Rival]:
    """Rivals of a road speed; readings in km/h."""
    g, d = rate.gain, max(rate.divider, 1.0)
    found = [
        *([_sound(g, prior)] if abs(g - 1) <= WRONG else []),
        *_misset(g, rate.setting, prior, "pulses-setting", _set_pulses),
        Rival(
            "unit-mix",
            prior("unit-mix"),
            even((1 / MILE, MILE)),
            lambda u, t: t * g * u,
            lambda u: f"Miles and kilometres mixed up: {u:.3g} of what is true",
            lambda u: "Set the unit of the display, or the count for the other unit.",
        ),
        Rival(
            "divider-doubled",
            prior("divider-doubled"),
            even(float(n) for n in DIVIDERS) if d == 1 else even((d,)),
            lambda u, t: t * g / u,
            lambda u: f"Divided once more, by {u:.0f}",
            lambda u: "Take the second divider out, or set the device for it.",
        ),
        *_losses(g, 60.0, prior, lambda u: speed_token(u * KMH)),
    ]
    if d > 1:
        found.append(
            Rival(
                "divider-missing",
                prior("divider-missing"),
                even((d,)),
                lambda u, t: t * g * u,
                lambda u: f"The divider by {u:.0f} is left out",
                lambda u: "Put the divider in, or set the device for the whole count.",
            )
        )
    return [_limited(r, rate.top) for r in found]


def tach_rivals(rate: Rate, prior: Prior) -> list[Rival]:
    """Rivals of an engine speed; readings in rpm."""
    g, set_to = rate.gain, rate.setting
    other = {n: w for n, w in CYLINDERS.items() if abs(n - set_to) > WRONG}
    total = sum(other.values())
    found = [
        _sound(g, prior),
        Rival(
            "cylinders-setting",
            prior("cylinders-setting"),
            tuple((float(n), w / total) for n, w in other.items()),
            lambda u, t: t * g * set_to / u,
            lambda u: f"It goes by {u:.0f} cylinders, not {set_to:g}",
            partial(_set_cylinders, set_to, g),
        ),
        Rival(
            "unit-mix",
            prior("unit-mix"),
            even((0.5, 2.0)),
            lambda u, t: t * g * u,
            lambda u: f"Pulses a turn taken for cylinders: {u:g} of what is true",
            lambda u: "Cylinders are two times the pulses a turn of a four-stroke.",
        ),
        Rival(
            "noise-counts",
            prior("noise-counts"),
            even((2.0, 3.0)),
            lambda u, t: t * g * u,
            lambda u: f"Each firing is counted {u:.0f} times",
            lambda u: "A scope at the pin: ringing or several sparks. A filter, another source.",
            wide=2.0,
        ),
        Rival(
            "noise-counts",
            prior("noise-counts"),
            even(sparks * 1e4 + below for sparks in SPARKS for below in SPARKS_BELOW),
            lambda u, t: t * g * (u // 1e4 if t < u % 1e4 else 1.0),
            lambda u: f"Below {u % 1e4:.0f} rpm each firing is counted {u // 1e4:.0f} times",
            lambda u: "Several sparks a firing: take the box’s tach output instead of the coil.",
        ),
        *_losses(g, 3000.0, prior, lambda u: f"{u:.0f} rpm"),
        Rival(
            # a steady ratio that no setting makes is none of these as well
            "none-of-these",
            prior("none-of-these"),
            spread(0.2, 5.0, 500),
            lambda u, t: t * g * u,
            lambda u: "None of these",
            lambda u: f"A steady ratio of {u:.3g} that no setting here makes: kept open.",
        ),
    ]
    if abs(g - 1) > WRONG:
        found[0] = _known(g, "cylinders-setting", prior, partial(_set_cylinders, set_to, g))
    return [_limited(r, rate.top) for r in found]


def _sound(gain: float, prior: Prior) -> Rival:
    return Rival(
        "sound",
        prior("sound"),
        ((1.0, 1.0),),
        lambda u, t: t * gain,
        lambda u: "Nothing is the matter",
        lambda u: "Nothing to do.",
    )


def _known(gain: float, cause: str, prior: Prior, mend: Callable[[float], str]) -> Rival:
    """By its own facts it shows what it shows: then those are the cause."""
    return Rival(
        cause,
        prior("sound"),
        ((gain, 1.0),),
        lambda u, t: t * gain,
        lambda u: f"As set it shows {gain:.3g} of what is true",
        mend,
    )


def _misset(
    gain: float, setting: float, prior: Prior, cause: str, mend: Callable[[float, float], str]
) -> list[Rival]:
    """Setting, or the vehicle's own count, other than believed: any ratio."""
    any_ratio = Rival(
        cause,
        prior(cause),
        spread(0.15, 7.0, 700),
        lambda u, t: t * gain * u,
        lambda u: f"Setting or the vehicle’s own count is {u:.3g} of what is believed",
        lambda u: mend(setting, gain * u),
    )
    if abs(gain - 1) <= WRONG:
        return [any_ratio]
    # its own facts say so: much more likely than any other number
    return [
        any_ratio.but(
            prior=prior("sound"), grid=((1.0, 1.0),), words=lambda u: f"As set it shows {gain:.3g}"
        )
    ]


def _set_pulses(setting: float, shown_over_true: float) -> str:
    return (
        f"Set {rate_token(setting * shown_over_true / 1000)}; or count what the source gives: the "
        "vehicle’s own count may be the one that is wrong."
    )


def _set_cylinders(set_to: float, gain: float, unknown: float) -> str:
    return f"Read the setting back; it should be {set_to * gain:.3g} cylinders."


def _losses(gain: float, most: float, prior: Prior, told: Callable[[float], str]) -> list[Rival]:
    """Counts added, lost, or none at all."""
    return [
        Rival(
            "noise-counts",
            prior("noise-counts") * 0.1,
            linear(most * 0.02, most, 50),
            lambda u, t: t * gain + u,
            lambda u: f"Counts are added: {told(u)} also at rest",
            lambda u: "Twist the pair, away from coils, screen it; see what it shows at rest.",
        ),
        Rival(
            "drop-outs",
            prior("drop-outs"),
            even((0.5,)),
            lambda u, t: t * gain * u,
            lambda u: "Every other pulse is lost",
            lambda u: "Level against threshold: the gap, the load, the pull-up.",
            wide=2.0,
        ),
        Rival(
            "drop-outs",
            prior("drop-outs"),
            ((1.0, 1.0),),
            lambda u, t: t * gain,
            lambda u: "Pulses are lost, now more, now fewer",
            lambda u: "Level against threshold; wiggle the plug and watch.",
            scatter=LOST,
        ),
        Rival(
            "dead",
            prior("dead"),
            ((0.0, 1.0),),
            lambda u, t: 0.0,
            lambda u: "No pulse arrives",
            lambda u: "Meter the signal at the pin, then at the source: where it ends, there it "
            "is.",
        ),
    ]


def _limited(rival: Rival, top: float) -> Rival:
    """Above the device's rate limit it shows nothing that can be predicted."""
    if not math.isfinite(top):
        return rival
    inside = rival.shows

    def shows(u: float, t: float) -> float:
        value = inside(u, t)
        return value if value <= top else 0.0

    return rival.but(shows=shows)
