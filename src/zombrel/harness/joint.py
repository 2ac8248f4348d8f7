"""How wires are joined at a place, and what a crimp must hold.

References:
    [1] IEC 60352-2, table 1: least pull force of a crimped joint by section.
"""

from __future__ import annotations

import bisect
from typing import Literal

from zombrel.job.figures import figure
from zombrel.job.model import House
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.job.wiring import Zone
from zombrel.units.measure import area_of, force_of, short_of

Method = Literal["terminal", "crimp", "solder", "tap", "ring", "never"]
METHODS: dict[Method, str] = {
    "terminal": "its own terminal in the connector",
    "crimp": "crimped splice under sealed shrink",
    "solder": "soldered splice under sealed shrink",
    "tap": "positive-lock tap",
    "ring": "crimped ring on clean metal",
    "never": "no joint here",
}
SECTIONS = (
    0.05,
    0.08,
    0.12,
    0.14,
    0.22,
    0.25,
    0.32,
    0.5,
    0.75,
    0.82,
    1.0,
    1.3,
    1.5,
    2.1,
    2.5,
    3.3,
    4.0,
    5.3,
    6.0,
    8.4,
    10.0,
)
PULL_N = (
    6.0,
    11.0,
    15.0,
    18.0,
    28.0,
    32.0,
    40.0,
    60.0,
    85.0,
    90.0,
    108.0,
    135.0,
    150.0,
    200.0,
    230.0,
    275.0,
    310.0,
    355.0,
    360.0,
    370.0,
    380.0,
)
"""Least pull force [N] for the sections above [1]."""
TAP_MOST_MM2 = 1.5
"""A tap's blade does not hold heavier copper to the end of its life: rule of the trade."""


def pull_force(area_mm2: float) -> float:
    """Force [N] a crimp on ``area_mm2`` must hold; between table values by the section [1].

    Raises:
        Problem: a section outside the table.
    """
    if not SECTIONS[0] <= area_mm2 <= SECTIONS[-1]:
        raise Problem(
            f"The table of pull forces runs from {SECTIONS[0]:g} to {area_of(SECTIONS[-1])}; for "
            f"{area_of(area_mm2)} follow the terminal's own sheet."
        )
    i = bisect.bisect_left(SECTIONS, area_mm2)
    if SECTIONS[i] == area_mm2:
        return PULL_N[i]
    share = (area_mm2 - SECTIONS[i - 1]) / (SECTIONS[i] - SECTIONS[i - 1])
    return PULL_N[i - 1] + share * (PULL_N[i] - PULL_N[i - 1])


DIES = (
    (0.35, "the terminal maker's own die"),
    (1.5, "red die, 0.5 to 1.5 mm²"),
    (2.5, "blue die, 1.5 to 2.5 mm²"),
    (6.0, "yellow die, 4 to 6 mm²"),
)
"""(up to this section [mm²], the die of an insulated-terminal tool) by the trade's colours."""
STRIPS = ((0.5, 4), (1.5, 5), (2.5, 6))
"""(up to this section [mm²], usual length of strip [mm])."""


def die_words(area_mm2: float) -> str:
    """The die of an insulated-terminal tool that fits ``area_mm2`` [mm²], by its colour."""
    if area_mm2 < DIES[0][0]:
        return DIES[0][1]
    fits = (words for most, words in DIES[1:] if area_mm2 <= most)
    return next(fits, "hexagon die of the cable's size")


def strip_note(area_mm2: float) -> str:
    """How far to strip ``area_mm2`` [mm²], in words: the terminal decides."""
    usual = next((mm for most, mm in STRIPS if area_mm2 <= most), 8)
    return (
        f"Strip to the length of the terminal's own conductor wings plus {short_of(0.001)}, about "
        f"{short_of(usual / 1000)}; "
        "no strand cut, insulation just inside the rear wings."
    )


class Joint(Frozen, frozen=True, kw_only=True):
    """How one end is joined."""

    method: Method
    why: str
    hands: tuple[str, ...]
    """The trade's order of hands."""

    @property
    def words(self) -> str:
        """The method as it is said."""
        return METHODS[self.method]


def choose(
    into: Literal["cavity", "stud", "wire", "pin"],
    zone: Zone | None,
    house: House,
    area_mm2: float,
    sensor: bool = False,
) -> Joint:
    """The method for one end, by where it goes, where it lies and what the house does.

    Airbag wiring is never joined; a cavity takes its terminal and a stud a ring; heat and shaking
    rule solder out (it wicks up the strands and breaks where it ends), a sensor's small signal and
    heavy copper rule taps out.

    ``area_mm2`` [mm²].
    """
    if zone is not None and zone.airbag:
        return Joint(
            method="never",
            why="airbag wiring is never tapped, spliced or metered",
            hands=("Go another way.",),
        )
    if into in ("cavity", "pin"):
        return _made("terminal", "a cavity takes its own terminal", area_mm2)
    if into == "stud":
        return _made("ring", "a stud takes a ring", area_mm2)
    shakes = zone is not None and (zone.vibrates or zone.moving)
    hot = zone is not None and zone.over_ambient_k >= figure("hot zone")
    wanted: Method = house.joint_by
    if wanted == "solder" and (shakes or hot):
        place = "it shakes" if shakes else "it is hot"
        return _made("crimp", f"the house solders, but {place} there: solder ends break", area_mm2)
    if wanted == "tap" and (sensor or area_mm2 > TAP_MOST_MM2 or shakes):
        why = "it is a sensor's signal" if sensor else "it shakes there"
        why = why if sensor or shakes else "the copper is too heavy"
        return _made("crimp", f"the house taps, but {why}", area_mm2)
    return _made(wanted, "the house's school", area_mm2)


def _made(method: Method, why: str, area_mm2: float) -> Joint:
    return Joint(method=method, why=why, hands=_hands(method, area_mm2))


def _hands(method: Method, area_mm2: float) -> tuple[str, ...]:
    pull = f"Pull test: {force_of(pull_force(min(max(area_mm2, 0.05), 10)))}, steadily."
    if method == "solder":
        return (
            "Slide the shrink on first.",
            "Split the sheath without cutting strands.",
            "Twist in line, heat the wire and let it draw the solder.",
            f"Shrink while warm, then strap {short_of(0.03)} either side so that nothing bends "
            "there.",
        )
    if method == "tap":
        return (
            "Choose the tap for both gauges.",
            "Close it with pliers until the lock clicks.",
            "Tug both wires; look that no strand stands out.",
            "Strap it so that it hangs on nothing.",
        )
    if method == "terminal":
        return (
            "Confirm the pin order before the first crimp.",
            strip_note(area_mm2),
            f"Crimp: conductor wings hard, seal wings gently; {die_words(area_mm2)}.",
            pull,
            "Push it in the right way up until it clicks, tug, then close the secondary lock.",
        )
    if method == "ring":
        return (
            "Scrape to bright metal, ring flat on it.",
            strip_note(area_mm2),
            f"Crimp with {die_words(area_mm2)}.",
            pull,
            "Tighten, then seal against damp.",
        )
    return (
        "Slide the shrink on first.",
        strip_note(area_mm2),
        f"Crimp with {die_words(area_mm2)}.",
        pull,
        "Shrink until the glue shows at both ends.",
    )
