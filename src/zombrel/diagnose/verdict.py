"""Verdicts on what was seen, and the causes that explain it, ranked as in ``diagnose.misread``."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from zombrel.calibrate.roll import roll
from zombrel.diagnose.kinds.counts import TACH_OK
from zombrel.diagnose.kinds.sensors import allowed
from zombrel.diagnose.misread import cases
from zombrel.diagnose.misread.of_step import Seen
from zombrel.diagnose.misread.of_step import seen_of as seen_of_step
from zombrel.diagnose.misread.probes import FAMILIES
from zombrel.diagnose.step import Field, StepSheet, said
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.signals.chain_reading import ready
from zombrel.signals.reduce import input_of
from zombrel.units.measure import length_of

SHOWN = 3
"""So many readings are told of a cause."""


class Rival(Frozen, frozen=True, kw_only=True):
    """A cause, what it would show, how likely it is, and the cheapest test."""

    cause: str
    shows: str
    share: float
    test: str


class Verdict(Frozen, frozen=True, kw_only=True):
    """Judgement of one step."""

    passed: bool
    text: str
    rivals: tuple[Rival, ...] = ()


def judge(job: Job, step: StepSheet, seen: Mapping[str, float]) -> Verdict:
    """Judge observations; every judged field must be in ``seen``."""
    if step.kind == "roll":
        return _judge_roll(job, step, seen)
    if step.kind == "idle":
        return _judge_idle(job, step, seen)
    off = [f for f in step.fields if not f.given and not _agrees(job, step, f, seen)]
    ranked = rivals(job, step, seen)
    if not off:
        return Verdict(passed=True, text="As expected.", rivals=ranked)
    return Verdict(passed=False, text=" ".join(_off(f, seen[f.name]) for f in off), rivals=ranked)


def _agrees(job: Job, step: StepSheet, field: Field, seen: Mapping[str, float]) -> bool:
    low, high = field.low, field.high
    if field.of:
        stated = seen[field.of]
        if field.by == "curve":
            low, high = allowed(job, step, stated)
        elif field.by == "sum":
            low, high = stated + low, stated + high
        else:
            low, high = low * stated / field.usual, high * stated / field.usual
    return low <= seen[field.name] <= high


def seen_of(step: StepSheet, values: Sequence[float]) -> dict[str, float]:
    """What was seen, by the names of a step's fields, in their order.

    Raises:
        Problem: more or fewer values than fields.
    """
    if len(values) != len(step.fields):
        labels = ", ".join(f"{f.label} [{f.unit or 'count'}]" for f in step.fields) or "none"
        raise Problem(f"{step.id} takes {len(step.fields)} values ({labels}), not {len(values)}.")
    return {f.name: v for f, v in zip(step.fields, values, strict=True)}


def _off(field: Field, value: float) -> str:
    if field.yes:
        return f"Not as it must be: {field.expect}."
    if field.of:
        return f"{field.label} {said(value, field.unit)} does not fit what was stated."
    side = "below" if value < field.low else "above"
    return f"{field.label} {value:g} {field.unit} is {side} the {field.expect} expected."


def _judge_roll(job: Job, step: StepSheet, seen: Mapping[str, float]) -> Verdict:
    chain = next(c for c in job.chains if c.id == step.chain)
    _, sheet = input_of(job, chain)
    rate_law = ready(job, chain.id).law
    expect = roll(rate_law.rate / rate_law.divider, seen["distance"], sheet.pulses_per_flash)
    count = seen["flashes"]
    resolution = 100 / max(expect.flashes, 1e-9)
    if expect.low - 0.02 * expect.flashes <= count <= expect.high + 0.02 * expect.flashes:
        return Verdict(
            passed=True,
            text=f"{count:.0f} flashes in {length_of(seen['distance'])} fit {expect.flashes:.1f}. "
            f"This shows the signal is alive and right within {min(resolution, 100):.0f} %, "
            "no closer.",
            rivals=rivals(job, step, seen),
        )
    return Verdict(
        passed=False,
        text=f"{count:.0f} flashes in {length_of(seen['distance'])}; {expect.low} to {expect.high} "
        f"expected.",
        rivals=rivals(job, step, seen),
    )


def _judge_idle(job: Job, step: StepSheet, seen: Mapping[str, float]) -> Verdict:
    ratio = seen["shown"] / seen["true"] if seen["true"] else math.inf
    text = f"Shown over true is {ratio:.3f}."
    return Verdict(passed=abs(ratio - 1) <= TACH_OK, text=text, rivals=rivals(job, step, seen))


def rivals(job: Job, step: StepSheet, seen: Mapping[str, float]) -> tuple[Rival, ...]:
    """Causes ranked by how well they explain ``seen``; by prior alone where it is empty.

    "None of these" is always among them; what is empty has no reading that could tell.
    """
    found = seen_of_step(job, step, seen)
    if found is None:
        return ()
    answer = cases.answer(found.case, found.pairs)
    total = 1 - answer.sound or 1.0
    return tuple(
        Rival(
            cause=one.words,
            shows=_shows(found, one),
            share=one.share / total,
            test=_test(found.case, one),
        )
        for one in answer.ranked
    )


def _shows(found: Seen, one: cases.Ranked) -> str:
    """What a cause would show where the step looks."""
    if one.cause == "none-of-these":
        return "anything"
    rival = one.form
    places = [p.true for p in found.pairs] or list(found.at)
    labels = found.labels if len(found.labels) == len(places) else ("",) * len(places)
    told = [
        f"{said(rival.predicts(one.unknown, i, true), found.unit)} {label}".strip()
        for i, (true, label) in enumerate(zip(places, labels, strict=True))
    ]
    return ", ".join(told[:SHOWN])


def _test(case: cases.Case, one: cases.Ranked) -> str:
    """The cheapest test that this cause alone answers otherwise; else its mend."""
    probes = [p for p in FAMILIES[case.family] if p.by.get(one.cause)]
    found = min(probes, key=lambda p: (len(p.by), p.cost), default=None)
    return one.mend.rstrip(".") if found is None else found.words
