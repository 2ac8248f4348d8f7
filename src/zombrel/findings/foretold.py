"""What a device should have shown during a log: the job's own law over what was true.

Speeds go by the satellite's, engine speed and sensed things by the channel that is called as they
are; a channel that is not clearly the truth of a signal is nobody's.

Reference: the law of a counted chain as in ``signals.law``, of a sensed one ``signals.sense``.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zombrel.findings.legs import shown_speeds
from zombrel.job.model import Chain, Job, index
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.reason import Given, Reason
from zombrel.job.sheet import Quantity
from zombrel.job.value import Value
from zombrel.logs.recording import Channel, Recording, What
from zombrel.logs.speedpair import TRUE_WORDS, pair_of
from zombrel.signals import law as laws
from zombrel.signals.chain_reading import ready
from zombrel.signals.over_range import strip
from zombrel.signals.reduce import input_of
from zombrel.units.measure import token

CALLED: dict[Quantity, tuple[str, ...]] = {
    "tach": ("engine", "rpm", "revs"),
    "coolant": ("coolant", "clt", "ect", "water"),
    "charge": ("charge", "intake", "iat"),
    "exhaust": ("exhaust", "egt"),
    "oil": ("oil",),
    "boost": ("boost", "manifold", "map"),
    "blend": ("ethanol", "blend"),
    "mixture": ("lambda", "afr", "mixture"),
    "volts": ("batt", "supply", "system"),
}
"""What a log calls the truth of a signal."""
SLOWEST_MPS = 5.0
"""Below it a share says little [m/s]."""
NEAR = 0.01
"""The model and the log agree within this share: a setting's own step is no finer."""


class Foretold(Value, frozen=True):
    """What one device should have shown."""

    device: str
    channel: Channel
    words: str
    """How what the log shows lies beside it; empty where it cannot be told whose that is."""
    reason: Reason | None


def laws_of(job: Job) -> tuple[tuple[str, str], ...]:
    """(device, its law in words) of every shown signal: what is foretold follows these."""
    names = index(job.devices)
    speeds = tuple((names[c.device].name, repr(law)) for c, law in _ready(job))
    return speeds + tuple((names[c.device].name, repr(line)) for c, line in _others(job))


def foretell(job: Job, log: Recording) -> tuple[Foretold, ...]:
    """Every shown signal whose truth the log has."""
    return (*_speeds(job, log), *_rest(job, log))


def _rest(job: Job, log: Recording) -> Iterator[Foretold]:
    """Engine speed and what is sensed, over the channel that is called so."""
    names = index(job.devices)
    for chain, line in _others(job):
        what: What = "engine" if chain.quantity == "tach" else QUANTITIES[chain.quantity].kind  # type: ignore[assignment]
        true = log.first(what, *CALLED.get(chain.quantity, ()))
        if true is None:
            continue
        x, y = (np.array(side, float) for side in zip(*line, strict=True))
        v = np.interp(np.asarray(true.v, float), x, y, left=np.nan, right=np.nan)
        good = np.isfinite(v)
        if good.sum() < 2:  # noqa: PLR2004 - a line lies between two
            continue
        name = names[chain.device].name
        title = f"{name} {QUANTITIES[chain.quantity].title.lower()} should show"
        yield Foretold(
            chain.device, Channel(title, what, true.unit, true.t[good], v[good]), "", None
        )


def _others(job: Job) -> Iterator[tuple[Chain, list[tuple[float, float]]]]:
    """Tachometers and sensed inputs that show figures, each with its corners (true, shown) [SI]."""
    sources, devices = index(job.sources), index(job.devices)
    for chain in job.chains:
        sensed = QUANTITIES[chain.quantity].group == "sensed"
        if not (chain.quantity in CALLED and (sensed or input_of(job, chain)[1].numbers)):
            continue
        try:
            yield chain, strip(job, chain, sources[chain.source], devices[chain.device])
        except (Problem, KeyError):
            continue  # a fact is missing, or it has no source: Source says which


def _speeds(job: Job, log: Recording) -> tuple[Foretold, ...]:
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
    chains = index(job.chains)
    for key in shown_speeds(job):
        try:
            yield chains[key], ready(job, key).law
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
