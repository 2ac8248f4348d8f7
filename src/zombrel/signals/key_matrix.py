"""What a supply point is, from its volts in each key position.

Reference: the trade's key-position test; limits below are shares of the system voltage.
"""

from __future__ import annotations

from zombrel.job.feed_classes import FEEDS
from zombrel.job.figures import figure
from zombrel.job.problem import Problem
from zombrel.job.sheet import FeedClass, Frozen
from zombrel.job.wiring import KeyVolts

LIVE = 0.4
"""At least this share of the battery is alive: dimmed or sagging, but fed."""
DEAD = 0.12
"""Less than this is a meter picking up nothing."""
LOWEST_V, HIGHEST_V = -0.5, 36.0
"""Readings of 12 and 24 V vehicles [V]; a little below nothing for crossed leads."""
DRAINED = 0.95
"""Share of its volts a constant feed keeps for ten minutes when nothing drains it."""
SAG = 0.8
"""While cranking a 12 V system a sound feed keeps 9.6 V."""
DIMMED = 0.8
"""A meter reads less than this share when lamps are dimmed by pulse width."""
LOWEST_BATTERY = 10.5
"""Below this the highest reading is not a battery."""


class FeedVerdict(Frozen, frozen=True, kw_only=True):
    """What the point is and what is odd about it."""

    kind: FeedClass
    warnings: tuple[str, ...] = ()
    system_v: float = 12.0
    dimmed: bool = False
    """The lamps on it are dimmed by pulse width."""


def classify(at: KeyVolts) -> FeedVerdict:
    """Class of a feed.

    Raises:
        Problem: a voltage that no battery vehicle has.
    """
    given = [at.off, at.acc, at.run, at.crank, at.lights, at.after]
    volts = [v for v in given if v is not None]
    for v in volts:
        if not LOWEST_V <= v <= HIGHEST_V:
            raise Problem(f"{v:g} V is no reading of a 12 or 24 V vehicle; check meter and leads.")
    battery = max(volts)
    system = 24.0 if battery > figure("24 V from") else 12.0
    if battery < DEAD * 12:
        return FeedVerdict(kind="dead", system_v=system)
    reference = max(battery, LOWEST_BATTERY * system / 12)
    live = {
        name: getattr(at, name) is not None and getattr(at, name) >= LIVE * reference
        for name in ("off", "acc", "run", "crank", "lights", "after")
    }
    lit = at.lights is not None and at.lights >= DEAD * reference
    kind = _kind(live, lit, at)
    level = _lit_share(at, live, kind, reference)
    return FeedVerdict(
        kind=kind,
        warnings=tuple(_warnings(at, live, kind, reference, system)),
        system_v=system,
        dimmed=level is not None and level < DIMMED,
    )


def _lit_share(
    at: KeyVolts, live: dict[str, bool], kind: FeedClass, reference: float
) -> float | None:
    """What a meter reads with the lights on, over what it should; None where it tells nothing."""
    if at.lights is None or not (kind == "illumination" or live["run"]):
        return None
    return at.lights / (reference if kind == "illumination" else max(at.run, 1e-9))


def _kind(live: dict[str, bool], lit: bool, at: KeyVolts) -> FeedClass:
    if lit and not any(live[k] for k in ("off", "acc", "run", "crank")):
        return "illumination"
    if live["off"]:
        return "constant" if at.after is None or live["after"] else "retained"
    if live["run"]:
        if live["crank"]:
            return "run-and-crank"
        return "accessory" if live["acc"] else "run"
    if live["acc"]:
        return "accessory"
    return "start" if live["crank"] else "dead"


def _odd(kind: FeedClass, live: dict[str, bool]) -> list[str]:
    """What is odd about where such a feed lives and dies."""
    odd = [words for at, on, words in FEEDS[kind].odd if not at or live[at] is on]
    if live["after"] and not live["off"]:
        odd.append("comes alive after key off: a fan or heater run-on")
    return odd


def _warnings(
    at: KeyVolts, live: dict[str, bool], kind: FeedClass, reference: float, system: float
) -> list[str]:
    out = []
    level = _lit_share(at, live, kind, reference)
    if level is not None and level < DIMMED:
        out.append(
            f"dimmed: {at.lights:.1f} V with the lights on; by pulse width a meter reads a fraction"
        )
    if live["crank"] and at.crank < SAG * system:
        out.append(
            f"sags while cranking: {at.crank:.1f} V; a unit that needs more than that resets"
        )
    out += _odd(kind, live)
    if kind == "constant" and at.after is not None and at.after < DRAINED * at.off:
        out.append(f"falls to {at.after:.1f} V after ten minutes: something drains it")
    for name in ("off", "acc", "run", "crank", "after"):
        volts = getattr(at, name)
        if volts is not None and DEAD * reference <= volts < LIVE * reference:
            out.append(f"floating or through a load in {name}: {volts:.1f} V")
    return out
