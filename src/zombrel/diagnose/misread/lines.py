"""Rivals of lines that a meter reads: the brake's cancel line, and supplies at their pins.

Reference: Ohm's law on the lamp line as in ``signals.brake``.
"""

from __future__ import annotations

from collections.abc import Callable

from zombrel.diagnose.misread.weigh import Cause, Meter, Rival, even, linear
from zombrel.job.value import Value

LED_SHARE = 0.56
"""What a line over LED lamps rests at, of the supply: their knee through the pull-up."""
NOMINAL, WEAK, BETWEEN = 12.6, 0.94, 17.0
"""A charged battery [V], the share below which it is weak, and what is more is of 24 V."""
SOUND_REST = 0.05
"""A line that finds ground shows so much through its path [V]."""
FLOAT_SHARE = 0.98
"""A line with no path to ground stands at what pulls it."""

Prior = Callable[[str], float]


class Brake(Value, frozen=True):
    """A cancel line by its facts."""

    volts: float
    led: bool
    relay: bool
    rest: float
    """What it rests at as it is wired [V]."""
    sure: bool = True
    """As it is wired it finds ground at rest."""


def brake_meter(volts: float) -> Meter:
    """A meter on such a line; ``volts`` of the supply [V]."""
    return Meter(0.12, 0.012, 1.6 * volts)


class Contact(Value, frozen=True):
    """An on/off input by what it stands at when sound [V]."""

    off: float
    on: float


def _two(
    cause: Cause,
    weight: float,
    up: Callable[[float], float],
    down: Callable[[float], float],
    words: str,
    mend: str,
    grid: tuple[tuple[float, float], ...] = ((0.0, 1.0),),
) -> Rival:
    """A rival of a line that is read in two positions."""
    return Rival(
        cause,
        weight,
        grid,
        lambda u, t: down(u) if round(t) else up(u),
        lambda u: words.format(u),
        lambda u: mend,
    )


def contact_meter(line: Contact) -> Meter:
    """A meter on such an input [V]: its levels are wide."""
    apart = abs(line.on - line.off)
    return Meter(max(apart / 12, 0.3), 0.02, 1.6 * max(line.off, line.on, 1.0))


def contact_rivals(line: Contact, prior: Prior) -> list[Rival]:
    """Rivals of an on/off input; true 0 off, 1 on; shown in volts."""
    off, on = line.off, line.on
    high, low = max(off, on), min(off, on)
    return [
        _two("sound", prior("sound"), lambda u: off, lambda u: on, "Nothing is the matter", "—"),
        _two(
            "swapped-pair",
            prior("swapped-pair"),
            lambda u: on,
            lambda u: off,
            "The contact rests the other way",
            "Meter it across, unplugged: then the other contact, or the other setting.",
        ),
        _two(
            "open-ground",
            prior("open-ground"),
            lambda u: high,
            lambda u: high,
            "Bridged to a supply, or pulled up and the wire is open",
            "Pull the wire at the device: what the pin then shows is its own.",
        ),
        _two(
            "dead",
            prior("dead"),
            lambda u: low,
            lambda u: low,
            "Bridged to a ground, or the contact’s feed is dead",
            "Meter the wire to ground with the plug off.",
        ),
        _two(
            "dirty-contact",
            prior("dirty-contact"),
            lambda u: off,
            lambda u: off + u * (on - off),
            "A dirty contact: it moves by {0:.0%} of what it should",
            "Across the closed contact: under 0.2 V, else clean or change it.",
            linear(0.1, 0.85, 30),
        ),
    ]


def brake_rivals(line: Brake, prior: Prior) -> list[Rival]:
    """Rivals of a cancel line; true 0 pedal up, 1 down; shown in volts."""
    v = line.volts

    rest = line.rest if line.sure else SOUND_REST
    paths = [LED_SHARE, FLOAT_SHARE] if line.led else [FLOAT_SHARE]
    if not line.sure:
        paths.append(line.rest / v)
    sound = _two("sound", prior("sound"), lambda u: rest, lambda u: v, "Nothing is the matter", "—")
    return [
        *([sound] if line.sure else []),
        _two(
            "open-ground",
            # as it is wired there is none: likelier than any other
            prior("open-ground" if line.sure else "sound"),
            lambda u: u * v,
            lambda u: v,
            "No path to ground at rest: it floats at {0:.0%} of the supply",
            "Relay out, its rest contact to ground: under 1 Ω; or the relay that is missing.",
            even(dict.fromkeys(paths)),
        ),
        _two(
            "hot-side",
            prior("hot-side"),
            lambda u: v,
            lambda u: v,
            "Tapped on the hot side of the switch",
            "Move the tap to the wire between switch and lamps.",
        ),
        _two(
            "dead",
            prior("dead"),
            lambda u: 0.0,
            lambda u: 0.0,
            "On a ground, the relay welded, or the lamp fuse blown"
            if line.relay
            else "On a ground, or the lamp fuse is blown",
            "Do the lamps light with the pedal down? Then the tap, else the fuse.",
        ),
        _two(
            "swapped-pair",
            prior("swapped-pair"),
            lambda u: v,
            lambda u: 0.0,
            "The relay’s contacts are exchanged",
            "Exchange the two contact wires.",
        ),
        _two(
            "dirty-contact",
            prior("dirty-contact"),
            lambda u: rest,
            lambda u: u * v,
            "Resistance in the switch: {0:.0%} of the supply gets through",
            "Across the closed switch: under 0.2 V, else clean or change it.",
            linear(0.15, 0.92, 40),
        ),
        _two(
            "ground-offset",
            prior("ground-offset"),
            lambda u: u,
            lambda u: v,
            "Its ground stands {0:.2f} V high",
            "Meter from the device’s ground to battery negative.",
            linear(0.3, 3.0, 40),
        ),
    ]


def supply_meter(volts: float) -> Meter:
    """A meter on a supply pin; ``volts`` of the system [V]."""
    return Meter(0.06, 0.006, 2.5 * volts)


def supply_rivals(count: int, volts: float, prior: Prior) -> list[Rival]:
    """Rivals of supplies at ``count`` pins in turn; true is the battery, shown the pin [V]."""

    def at_one(cause: Cause, words: str, mend: str, drops: tuple[float, ...]) -> Rival:
        grid = tuple(
            ((float(place), drop), 1 / (count * len(drops)))
            for place in range(count)
            for drop in drops
        )
        coded = tuple((place + drop / 1000, w) for (place, drop), w in grid)

        def shows(u: float, place: int, true: float) -> float:
            low = round((u % 1) * 1000) / 1000
            return true * (1 - low) if int(u) == place else true - 0.03

        return Rival(
            cause,
            prior(cause),
            coded,
            lambda u, t: t,
            lambda u: words.format(int(u) + 1, round((u % 1) * 1000) / 1000),
            lambda u: mend,
            by_place=shows,
        )

    low = volts < WEAK * (NOMINAL if volts < BETWEEN else 2 * NOMINAL)
    well = Rival(
        "supply-low" if low else "sound",
        prior("sound"),
        ((0.0, 1.0),),
        lambda u, t: t - 0.03,
        lambda u: "The battery itself stands low" if low else "Nothing is the matter",
        lambda u: "Charge it; see what drains it." if low else "—",
    )
    shares = tuple(float(i) for i in range(25, 900, 25))
    alike = tuple(i / 1000 for i in range(25, 700, 25))
    return [
        well,
        at_one(
            "supply-low",
            "Supply low at pin {0} alone: {1:.0%} lost on the way",
            "Meter along that run from the slot: where the volts go, there it is.",
            shares,
        ),
        at_one(
            "dirty-contact",
            "A dirty contact before pin {0}: {1:.0%} lost",
            "Part and close that plug; volts across it under load: under 0.1 V.",
            shares,
        ),
        Rival(
            "ground-offset",
            prior("ground-offset"),
            even(alike),
            lambda u, t: t * (1 - u),
            lambda u: f"All alike {u:.0%} low: the ground they share",
            lambda u: "Meter from the stud to battery negative: under 0.1 V, else clean it.",
        ),
        at_one(
            "dead",
            "No supply at pin {0}",
            "Fuse, then the run from the slot.",
            (999.0,),
        ),
    ]
