"""A step of the proof: what it says and expects, and the words that every kind of step shares.

Reference: a figure stands before its unit, a space between (ISO 80000-1, 7.2).
"""

from __future__ import annotations

import math
import re
from typing import Any, Literal

from zombrel.job.follow.view import OPEN
from zombrel.job.model import Chain, Device, Job, index
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen, InputSheet
from zombrel.job.wiring import End
from zombrel.signals.reduce import input_of
from zombrel.units import METRIC, prefixed
from zombrel.units.measure import Kind, area_of, token, value_from

KINDS_OF: dict[str, Kind] = {
    "°C": "temperature",
    "kPa": "pressure",
    "km/h": "speed",
    "l": "volume",
    "m": "length",
    "km": "far",
}
"""Units of steps that a user may have otherwise, and what they are units of."""
REST_V = 12.6
"""Open-circuit voltage of a charged 12 V lead-acid battery [V] (EN 50342-1, about)."""
METER = 0.15
"""Uncertainty of a hand-held meter and of the battery's state together [V]."""


class Field(Frozen, frozen=True, kw_only=True):
    """One thing to observe, with what is expected."""

    name: str
    label: str
    unit: str
    low: float
    high: float
    expect: str
    """The expectation in words, large on the screen."""
    because: str = ""
    given: bool = False
    """Not judged: the person states it (a distance rolled, a true engine speed)."""
    yes: bool = False
    """It happens or it does not: 1 or 0, answered by one key."""
    of: str = ""
    """The field that is stated and that this one must agree with; empty: with its own limits."""
    by: Literal["ratio", "sum", "curve"] = "ratio"
    """How it agrees: in proportion, with limits added, or by the device's curve."""
    usual: float = 1.0
    """What the limits of a proportion were worked out for."""
    pull_v: float = 0.0
    """A pin that feels open or closed: what pulls it [V], through ``pull_ohm``; 0: it does not."""
    pull_ohm: float = 0.0
    """[Ω]"""
    slack: float = 0.0
    """Of its upper limit, what is only for a meter of volts [V]."""

    @property
    def ohms(self) -> tuple[float, float]:
        """Least and most path to ground that shows within the limits [Ω]; both 0: not felt so."""
        return self._path(self.low), self._path(self.high - self.slack)

    @property
    def ohm_words(self) -> str:
        """That range in words; empty where it is not felt so."""
        low, high = self.ohms
        if not self.pull_ohm:
            return ""
        if math.isinf(high):
            return f"in ohms over {prefixed(low, 'Ω')}"
        return f"in ohms up to {prefixed(high, 'Ω')}"

    def _path(self, volts: float) -> float:
        """The path to ground over which the pin would stand at ``volts`` [V]; result [Ω]."""
        if volts >= self.pull_v:
            return math.inf if self.pull_v else 0.0
        return max(volts, 0.0) * self.pull_ohm / (self.pull_v - volts)


class StepSheet(Frozen, frozen=True, kw_only=True):
    """One proof step."""

    id: str
    kind: str
    short: str
    ask: str
    where: str
    caution: str
    fields: tuple[Field, ...]
    gate: bool = False
    """Must pass before any road test."""
    blocked: str = ""
    """Why it cannot pass as the job stands; empty when it can."""
    go: str = ""
    """The way to where that is mended."""
    under: str = ""
    """The conductors it tries."""
    formula: str = ""
    """How what is expected was worked out, and where that comes from."""
    source: str = ""
    chain: str = ""
    key: str = ""
    """What its kind asks about: a chain, a device, a feed, or a part of one."""
    about: tuple[str, ...] = ()
    """Ids of the chains, devices, wires, feeds and studs that it tries."""
    minutes: float = 3.0
    needs: str = ""
    """Who and what is needed; empty: one person with a meter."""
    otherwise: str = ""
    """What to do when it comes out otherwise."""
    running: bool = False
    """The engine runs: it stays shut until what holds devices back is proven."""
    leaves: str = ""
    """What it does not prove, however it comes out."""
    table: str = ""
    """The device whose table this is a row of."""
    row: tuple[tuple[str, str], ...] = ()
    """(what, how it stands) of that row, the outcome last."""


OPEN.add(StepSheet)


def said(value: float, name: str) -> str:
    """A figure of a step with its unit, to be told in the user's own.

    ``value`` [unit of the step].
    """
    kind = KINDS_OF.get(name)
    if kind is not None and math.isfinite(value):
        return token(kind, value_from(kind, value, METRIC))
    return f"{value:.4g} {name}".strip()


UNPLUGGED = (
    "Or plug off, key off, nothing else on the line: open, closed, or ohms to ground (120ohm)."
)
"""How an input that feels a contact to ground can be tried as well."""
CONTACTS = {"open": math.inf, "ol": math.inf, "closed": 0.0, "shut": 0.0}
"""What a contact is said to be, as its path to ground [Ω]."""
PATH = re.compile(r"(?P<count>[\d.,]+)\s*(?P<kilo>k?)\s*(?:ohms?|ω|ohm)$")


def over_path(field: Field, text: str) -> float | None:
    """Volts at the pin for ``text`` such as ``open``, ``closed`` or ``120 Ω``; None: none of them.

    What was metered to ground with the plug off is what the pin then feels through its own
    pull-up: V = Vs · R/(R + Rp) (voltage divider). Result [V].
    """
    if not field.pull_ohm:
        return None
    word = text.strip().lower().replace("\u2126", "ω")
    ohm = CONTACTS.get(word)
    if ohm is None:
        found = PATH.fullmatch(word)
        if found is None:
            return None
        try:
            ohm = float(found["count"].replace(",", ".")) * (1000 if found["kilo"] else 1)
        except ValueError:
            return None
    if math.isinf(ohm):
        return field.pull_v
    volts = field.pull_v * ohm / (ohm + field.pull_ohm)
    # ohms leave no room for the doubt of a voltmeter
    return volts + field.slack if volts > field.high - field.slack else volts


def chain_of(job: Job, key: str) -> tuple[Chain, Device, InputSheet]:
    """A chain with the device and the input that it ends at."""
    chain = index(job.chains)[key]
    device, sheet = input_of(job, chain)
    return chain, device, sheet


def mends_at(problem: Problem, key: str) -> str:
    """The way to where what keeps the signal ``key`` from being worked out is mended."""
    return f"set:{key}" if problem.code == "unset" else problem.where or f"source:{key}"


def end_words(job: Job, end: End) -> str:
    """One end of a wire as a person would name it."""
    if end.place in index(job.connectors):
        return f"{end.place} cavity {end.pin}".removesuffix(" cavity ")
    named: tuple[tuple[Any, ...], ...] = (job.devices, job.sources, job.feeds, job.studs)
    for things in named:
        found = index(things).get(end.place)
        if found is not None:
            return f"{found.name} {end.pin}".strip()
    return f"{end.place} {end.pin}".strip()


def run_words(job: Job, chain: Chain) -> str:
    """The conductors a step tries, with their ends."""
    said = []
    for key in chain.wires:
        w = index(job.wires)[key]
        ends = " to ".join(end_words(job, e) for e in (w.a, w.b))
        said.append(f"{key} {w.colour}, {area_of(w.area_mm2)}, {ends}")
    return "; ".join(said)
