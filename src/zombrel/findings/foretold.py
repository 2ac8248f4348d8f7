"""What a device should have shown during a log: the job's own law over the log's true speed.

Reference: the law of a counted chain as in ``signals.law``; steady stretches as the fit has them.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from zombrel.job.model import Chain, Job, index
from zombrel.job.problem import Problem
from zombrel.job.reason import Given, Reason
from zombrel.logs.recording import Channel, Recording
from zombrel.logs.speedpair import TRUE_WORDS, pair_of
from zombrel.signals import law as laws
from zombrel.signals.chain_reading import ready
from zombrel.signals.reduce import input_of
from zombrel.units.measure import token

SLOWEST_MPS = 5.0
"""Below it a share says little [m/s]."""
NEAR = 0.01
"""The model and the log agree within this share: a setting's own step is no finer."""


class Foretold(NamedTuple):
    """What one device should have shown."""

    device: str
    channel: Channel
    words: str
    """How what the log shows lies beside it; empty where it cannot be told whose that is."""
    reason: Reason | None


def speeds(job: Job) -> tuple[Chain, ...]:
    """The signals whose speed a device shows."""
    return tuple(c for c in job.chains if c.quantity == "speed" and input_of(job, c)[1].numbers)


def laws_of(job: Job) -> tuple[tuple[str, str], ...]:
    """(device, its law in words) of every shown speed: what is foretold follows these."""
    names = index(job.devices)
    return tuple((names[c.device].name, repr(law)) for c, law in _ready(job))


def foretell(job: Job, log: Recording) -> tuple[Foretold, ...]:
    """Every shown speed over the satellite's; nothing where the log has none."""
    true = log.first("speed", *TRUE_WORDS)
    if true is None:
        return ()
    try:
        shown: Channel | None = pair_of(log)[1]
    except Problem:
        shown = None
    told = list(_ready(job))
    names = index(job.devices)
    found = []
    for chain, law in told:
        name = names[chain.device].name
        v = np.asarray(true.v, dtype=float)
        should = laws.evaluate(laws.table([law]), v[None, :]).shown[0]
        channel = Channel(f"{name} should show", "speed", true.unit, true.t, np.asarray(should))
        words, reason = "", None
        if shown is not None and len(told) == 1:
            words, reason = _beside(name, true, channel, shown)
        found.append(Foretold(chain.device, channel, words, reason))
    return tuple(found)


def _ready(job: Job) -> Iterator[tuple[Chain, laws.Law]]:
    for chain in speeds(job):
        try:
            yield chain, ready(job, chain.id).law
        except Problem:
            continue  # a fact is missing: Source says which


def _beside(name: str, true: Channel, should: Channel, shown: Channel) -> tuple[str, Reason | None]:
    """How the shown speed lies beside what was foretold, over what both have."""
    at = shown.at(true.t)
    good = np.isfinite(at) & (true.v > SLOWEST_MPS) & (should.v > SLOWEST_MPS)
    if not good.any():
        return "", None
    share = float(np.median(at[good] / should.v[good])) - 1
    worst = float(np.median(np.abs(at[good] - should.v[good])))
    agrees = abs(share) <= NEAR
    words = f"{name} showed {100 * share:+.1f} % of what this job foretells, " + (
        "which agrees."
        if agrees
        else f"{token('speed', worst)} apart. Fit the drive in Drive: model or setting is off."
    )
    reason = Reason(
        title=f"{name} against the model",
        result=f"{100 * share:+.2f} %",
        formula="median of shown over foretold, above 18 km/h; foretold is this job’s law over "
        "the satellite’s speed",
        given=(Given(name="points", value=str(int(good.sum()))),),
        source="signals.law",
        assumption="the satellite’s speed is the truth; its lag is left as it is",
    )
    return words, reason
