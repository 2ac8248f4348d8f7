"""Tests that part the rivals: what each takes, what it may answer, what each rival would answer.

Reference: the expected gain of a test is the mutual information of its answer and the cause
(Lindley, *On a measure of the information provided by an experiment*, 1956); per minute, for
minutes are what a shop pays.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from zombrel.diagnose.misread.weigh import AND, Cause, Weighed
from zombrel.job.value import Value

SLIP = 0.04
"""How often a test is answered otherwise than it should be: ASSUMED."""
SURE = 0.9
"""A rival with so large a share is taken as known."""
HAZARD_MINUTES = 4.0
"""What a step of hazard counts for: nobody does the dangerous test first."""


class Probe(Value, frozen=True):
    """One test."""

    key: str
    words: str
    minutes: float
    answers: tuple[str, ...]
    """What may come of it; the first is what a sound car answers."""
    by: Mapping[Cause, int]
    """Which answer a rival would give; those not named give the first."""
    hazard: int = 0
    access: str = ""
    """What must be reached for it."""

    def odds(self, cause: Cause) -> tuple[float, ...]:
        """How likely each answer is under a cause; nobody knows what the unknown would do."""
        count = len(self.answers)
        if cause == "none-of-these":
            return tuple(1 / count for _ in range(count))
        told = {self.by.get(part, 0) for part in cause.split(AND)}
        right = (told - {0}) or told  # of two causes either speaks
        wrong = SLIP / max(count - len(right), 1)
        return tuple((1 - SLIP) / len(right) if i in right else wrong for i in range(count))

    @property
    def cost(self) -> float:
        """Minutes, with what its hazard counts for."""
        return self.minutes + HAZARD_MINUTES * self.hazard


SETTING = Probe(
    "setting",
    "Read the setting back",
    1.0,
    ("as noted", "otherwise"),
    {"pulses-setting": 1, "cylinders-setting": 1, "wrong-curve": 1},
)
UNIT = Probe("unit", "Look which unit the display is set to", 0.5, ("the right one", "the other"),
             {"unit-mix": 1})  # fmt: skip
WIGGLE = Probe(
    "wiggle",
    "Wiggle the plugs of this signal and watch the reading",
    2.0,
    ("it stays", "it jumps"),
    {"drop-outs": 1, "dirty-contact": 1},
)
DIVIDER = Probe(
    "divider",
    "Look at the divider: is it there, once, and how does it stand",
    2.0,
    ("as drawn", "not there", "once more"),
    {"divider-missing": 1, "divider-doubled": 2},
    access="the divider",
)
GROUND_VOLTS = Probe(
    "ground-volts",
    "Meter from this signal’s ground to battery negative, everything on that shares it",
    2.0,
    ("under 0.1 V", "over 0.2 V"),
    {"ground-offset": 1},
)
GROUND_OHMS = Probe(
    "ground-ohms",
    "Key off. Ohms from the sender’s ground to the device’s",
    3.0,
    ("under 1 Ω", "open"),
    {"open-ground": 1},
    access="both plugs",
)
PINS = Probe(
    "pins",
    "Compare the order of the pins with the paper, at both plugs",
    3.0,
    ("as on paper", "exchanged"),
    {"swapped-pair": 1, "reversed-pair": 1},
    access="both plugs",
)
SUPPLY = Probe(
    "supply",
    "Meter the reference or supply of the sender at its own plug",
    2.0,
    ("as it should", "low", "none"),
    {"supply-low": 1, "missing-pull-up": 2},
    access="the sender’s plug",
)
AT_PIN = Probe(
    "at-pin",
    "Meter the signal at the device’s pin, then at the source",
    5.0,
    ("there at both", "not at the pin", "at neither"),
    {"dead": 1},
    access="the device’s plug",
)

SPEED: tuple[Probe, ...] = (
    SETTING,
    UNIT,
    DIVIDER,
    WIGGLE,
    Probe(
        "at-rest",
        "Engine running, car standing: read it",
        1.0,
        ("nought", "it counts"),
        {"noise-counts": 1},
    ),
    AT_PIN,
    Probe(
        "count",
        "Count what the source gives over a rolled turn",
        10.0,
        ("as noted", "otherwise"),
        {"pulses-setting": 1, "drop-outs": 1, "dead": 1},
    ),
)
TACH: tuple[Probe, ...] = (
    SETTING,
    Probe(
        "manual",
        "Look what the device asks for: cylinders, or pulses a turn",
        1.5,
        ("as it was set", "the other"),
        {"unit-mix": 1},
    ),
    Probe(
        "higher",
        "Raise the engine past 3 000 and compare again",
        2.0,
        ("the same ratio", "another ratio"),
        {"noise-counts": 1, "drop-outs": 1},
        hazard=1,
    ),
    Probe(
        "scope",
        "Scope at the pin: count edges of one firing",
        6.0,
        ("one", "several", "some are missing"),
        {"noise-counts": 1, "drop-outs": 2},
    ),
    WIGGLE,
    AT_PIN,
)
OHM: tuple[Probe, ...] = (
    SETTING,
    UNIT,
    GROUND_VOLTS,
    GROUND_OHMS,
    PINS,
    SUPPLY,
    WIGGLE,
    Probe(
        "other-taker",
        "Unplug whatever else reads this sender, and read again",
        3.0,
        ("the same", "right now"),
        {"double-pull-up": 1},
    ),
    Probe(
        "known-resistor",
        "Put a known resistor in place of the sender and read it",
        4.0,
        ("as it should", "otherwise", "nothing moves"),
        {
            "weak-pull-up": 1,
            "double-pull-up": 1,
            "wrong-curve": 1,
            "supply-low": 1,
            "dirty-contact": 1,
            "ground-offset": 1,
            "missing-pull-up": 2,
            "dead": 2,
            "swapped-pair": 1,
            "unit-mix": 1,
        },
        access="the sender’s plug",
    ),
    Probe(
        "plug-off",
        "Pull the plug at the sender and watch the reading",
        1.5,
        ("it goes to the open end", "it stays"),
        {"dead": 1, "missing-pull-up": 1, "open-ground": 1},
        access="the sender’s plug",
    ),
)
NO_PULSE: tuple[Cause, ...] = ("dead", "missing-pull-up", "open-ground", "swapped-pair")
PULSED: tuple[Probe, ...] = (
    SETTING,
    UNIT,
    GROUND_OHMS,
    PINS,
    SUPPLY,
    WIGGLE,
    Probe(
        "scope",
        "Scope at the pin: how often, how high, and how long it is on",
        5.0,
        ("as the sender should give", "nothing moves", "more than it gives", "some are missing"),
        {**dict.fromkeys(NO_PULSE, 1), "noise-counts": 2, "drop-outs": 3},
        access="the device’s plug",
    ),
    Probe(
        "rest-volts",
        "Plug off at the sender: volts at its signal wire",
        1.5,
        ("at the supply", "none"),
        {"missing-pull-up": 1},
        access="the sender’s plug",
    ),
    Probe(
        "like-sender",
        "Put a like sender in its place",
        6.0,
        ("the same", "right now"),
        {"dead": 1},
        access="the sender",
    ),
)
JUNCTION: tuple[Probe, ...] = (
    SETTING,
    UNIT,
    WIGGLE,
    Probe(
        "cold",
        "Everything cold: does it show the air",
        1.0,
        ("it does", "it shows more or less"),
        {"ground-offset": 1, "open-ground": 1},
    ),
    Probe(
        "junction-ohms",
        "Plug off: ohms across the junction, and from it to its sheath",
        2.0,
        ("a few, and none to the sheath", "open", "it touches the sheath"),
        {"open-ground": 1, "ground-offset": 2},
        access="the junction’s plug",
    ),
    Probe(
        "lead",
        "Follow the lead: its colours at both plugs, and its own metal all the way",
        4.0,
        ("as it should", "exchanged", "another metal", "it is pinched"),
        {"reversed-pair": 1, "swapped-pair": 2, "dead": 3},
        access="the lead",
    ),
)
LEVEL: tuple[Probe, ...] = (SETTING, UNIT, GROUND_VOLTS, GROUND_OHMS, PINS, SUPPLY, WIGGLE, AT_PIN)
BRAKE: tuple[Probe, ...] = (
    Probe(
        "lamps",
        "Do the lamps light with the pedal down",
        0.5,
        ("they do", "they do not"),
        {"dead": 1},
    ),
    Probe(
        "rest-ohms",
        "Key off. Ohms from the line to ground, pedal up",
        2.0,
        ("under 50 Ω", "open"),
        {"open-ground": 1, "hot-side": 1, "swapped-pair": 1},
    ),
    Probe(
        "lamp-fuse",
        "Pull the brake-lamp fuse and meter the line again",
        2.0,
        ("no change", "it falls"),
        {"hot-side": 1},
    ),
    Probe(
        "relay",
        "Listen to the relay, and look at its two contact wires",
        3.0,
        ("as drawn", "exchanged", "it stays still"),
        {"swapped-pair": 1, "dead": 2},
        access="the relay",
    ),
    Probe(
        "switch-drop",
        "Pedal down: volts across the closed switch",
        2.0,
        ("under 0.2 V", "more"),
        {"dirty-contact": 1},
        access="the pedal box",
    ),
    GROUND_VOLTS,
)
PINS_SUPPLIED: tuple[Probe, ...] = (
    Probe("fuse", "Look at the fuse of that pin", 1.0, ("whole", "blown"), {"dead": 1}),
    GROUND_VOLTS,
    Probe(
        "across-plug",
        "Load on: volts across the plug before that pin",
        2.0,
        ("under 0.1 V", "more"),
        {"dirty-contact": 1},
    ),
    Probe(
        "at-slot",
        "Load on: meter at the slot",
        2.0,
        ("as the battery", "low"),
        {"supply-low": 1},
    ),
)
CONTACT: tuple[Probe, ...] = (
    Probe(
        "across",
        "Unplugged: ohms across the contact, both ways",
        2.0,
        ("as drawn", "the other way", "never closed", "always closed"),
        {"swapped-pair": 1, "open-ground": 2, "dead": 3},
        access="the contact’s plug",
    ),
    Probe(
        "plug-off",
        "Pull the plug of the contact and meter the pin",
        1.5,
        ("it stands as open", "it stays"),
        {"dead": 1},
        access="the contact’s plug",
    ),
    WIGGLE,
)
FAMILIES: dict[str, tuple[Probe, ...]] = {
    "speed": SPEED,
    "tach": TACH,
    "ohm": OHM,
    "level": LEVEL,
    "pulsed": PULSED,
    "junction": JUNCTION,
    "brake": BRAKE,
    "supply": PINS_SUPPLIED,
    "contact": CONTACT,
}


class Next(Value, frozen=True):
    """The test to do next."""

    probe: Probe
    gain_bits: float
    split: tuple[tuple[str, Cause, float], ...]
    """(answer, what leads then, how likely that answer is)."""


def shares_of(found: Sequence[Weighed]) -> dict[Cause, float]:
    """Shares by cause: a cause may have several forms."""
    out: dict[Cause, float] = {}
    for one in found:
        out[one.rival.cause] = out.get(one.rival.cause, 0.0) + one.share
    return out


def answered(shares: Mapping[Cause, float], probe: Probe, answer: int) -> dict[Cause, float]:
    """Shares once a test was answered."""
    found = {c: p * probe.odds(c)[answer] for c, p in shares.items()}
    total = sum(found.values()) or 1.0
    return {c: p / total for c, p in found.items()}


def _entropy(shares: Mapping[Cause, float]) -> float:
    return -sum(p * math.log2(p) for p in shares.values() if p > 0)


def gain(shares: Mapping[Cause, float], probe: Probe) -> float:
    """What the answer is expected to tell of the cause [bit]."""
    left = 0.0
    for i in range(len(probe.answers)):
        likely = sum(p * probe.odds(c)[i] for c, p in shares.items())
        if likely > 0:
            left += likely * _entropy(answered(shares, probe, i))
    return _entropy(shares) - left


def best(shares: Mapping[Cause, float], probes: Sequence[Probe]) -> Next | None:
    """The test that tells most per minute; None when one is sure enough, or none tells anything."""
    if not probes or max(shares.values(), default=1.0) >= SURE:
        return None
    found = max(probes, key=lambda p: gain(shares, p) / p.cost)
    bits = gain(shares, found)
    if bits < 1e-3:  # noqa: PLR2004 - it tells nothing
        return None
    split = []
    for i, answer in enumerate(found.answers):
        after = answered(shares, found, i)
        leads = max(after, key=lambda c: after[c])
        likely = sum(p * found.odds(c)[i] for c, p in shares.items())
        split.append((answer, leads, likely))
    return Next(found, bits, tuple(split))
