"""What the installer sees and touches of a setting: knobs, slide switches, a resistor, a screen.

A kind of setting says which of these it is made of (``setting_kinds``); the window paints and
moves them without knowing the kind.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from zombrel.job.value import Value


class Knob(Value, frozen=True):
    """Something turned among named places, ends 300° apart."""

    name: str
    places: Sequence[str]
    now: int | None
    """Index of the place it points to; None when it points to none."""
    want: int | None
    endless: bool = False
    """After the last place comes the first."""


class Slide(Value, frozen=True):
    """A slide switch; up is on."""

    name: str
    now: bool
    want: bool | None


class Resistor(Value, frozen=True):
    """A resistor in a plug."""

    ohm: float | None
    """[Ω]; None when no part is named."""
    now: str
    want: str
    """As they are said; empty when nothing is wanted, or it is there."""


class Screen(Value, frozen=True):
    """A number or a name on a screen, with a key up and a key down."""

    path: str
    unit: str
    now: str
    want: str


Part = Knob | Slide | Resistor | Screen
"""A setting is some knobs, some slides, or one of the others."""

BANDS = (
    "#1A1A1A",
    "#7A4A21",
    "#B3261E",
    "#D9822B",
    "#E3C21C",
    "#2F7D3B",
    "#2F5AA8",
    "#6B3FA0",
    "#7D7D7D",
    "#F4F4F0",
)
"""Colours of the digits 0 to 9 on a resistor (IEC 60062)."""
SWEEP = math.radians(300)
"""From the first place of a knob to its last [rad]."""


def angle(k: int, n: int) -> float:
    """Angle of place ``k`` of ``n`` on a knob, clockwise from the top.

    Result [rad]. By definition: ``SWEEP`` in equal steps, half of it on each side of the top.
    """
    return -SWEEP / 2 + SWEEP * k / max(n - 1, 1)


def rings(ohm: float) -> tuple[int, int, int]:
    """The two digits and the exponent that the rings of a resistor of ``ohm`` [Ω] give.

    Two significant digits and a multiplier (IEC 60062). Result [1].
    """
    exponent = math.floor(math.log10(ohm)) - 1
    digits = round(ohm / 10**exponent)
    return digits // 10, digits % 10, exponent
