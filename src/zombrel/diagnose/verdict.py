"""Verdicts on what was seen, and the causes that explain it, ranked.

Each rival predicts what the meter or the lamp would have shown; its weight is its prior
times a normal likelihood of what was seen (Bayes' rule), so the list answers to the numbers
typed. Priors are the shop's habit, not measured: figures that its house rules may put otherwise.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import msgspec

from zombrel.calibrate.roll import roll
from zombrel.diagnose.kinds.counts import TACH_OK, chain_law
from zombrel.diagnose.kinds.sensors import allowed
from zombrel.diagnose.step import METER, REST_V, Field, StepSheet
from zombrel.job.figures import decided
from zombrel.job.follow.view import plain
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.signals.chain_reading import brake_of
from zombrel.signals.reduce import cd_box, input_of
from zombrel.units import rpm
from zombrel.units.measure import length_of

SAME = 0.02
"""Ratios nearer to one are no other setting."""
UNLIKELY = 1e-6
"""A cause weighed less is not shown."""
SMALL_GAP_V = 0.05
"""Volts missing that a joint explains, from here …"""
JOINT_GAP_V, BATTERY_GAP_V = 3.0, 1.2
"""… to here; and as far as a battery below charge does."""


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
        return f"{field.label} {value:g} {field.unit} does not fit what was stated."
    side = "below" if value < field.low else "above"
    return f"{field.label} {value:g} {field.unit} is {side} the {field.expect} expected."


def _judge_roll(job: Job, step: StepSheet, seen: Mapping[str, float]) -> Verdict:
    chain = next(c for c in job.chains if c.id == step.chain)
    _, sheet = input_of(job, chain)
    rate_law = chain_law(job, chain)
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
    """Causes ranked by how well they explain ``seen``; by prior alone where it is empty."""
    if step.kind == "brake":
        found = _brake_rivals(job, step, seen)
    elif step.kind in ("hold", "contact"):
        found = _hold_rivals(job, step, seen)
    elif step.kind in ("roll", "idle"):
        found = _ratio_rivals(job, step, seen)
    elif step.kind == "volts":
        found = _volt_rivals(job, step, seen)
    else:
        found = []
    total = sum(weight for weight, _ in found) or 1.0
    ranked = [
        Rival(cause=r.cause, shows=r.shows, share=w / total, test=r.test)
        for w, r in sorted(found, key=lambda pair: -pair[0])
    ]
    return tuple(ranked)


def _rival(cause: str, shows: str, test: str) -> Rival:
    return Rival(cause=cause, shows=shows, share=0.0, test=test)


def _normal(seen: float, predicted: float, sigma: float) -> float:
    return math.exp(-0.5 * min(((seen - predicted) / sigma) ** 2, 1000))


def _prior(job: Job, cause: str) -> float:
    return decided(plain(job.house).figures, f"cause, {cause}")[0]


def _brake_rivals(
    job: Job, step: StepSheet, seen: Mapping[str, float]
) -> list[tuple[float, Rival]]:
    chain = next(c for c in job.chains if c.id == step.chain)
    _, sheet = input_of(job, chain)
    volts = REST_V * job.vehicle.system_v / 12
    if job.vehicle.lamps is None:
        return []
    bare = brake_of(msgspec.structs.replace(chain, hops=()), job.vehicle, sheet, volts)
    floating = bare.rest_v if job.vehicle.lamps == "led" else 0.55 * volts
    cases = [
        (
            "no path to ground",
            floating,
            volts,
            "No path to ground at rest: relay contact or its ground open, or LED lamps alone",
            "Relay out, meter its rest contact to ground: under 1 Ω",
        ),
        (
            "hot side or open",
            volts,
            volts,
            "Tapped on the hot side of the switch, or the wire is open",
            "Pull the brake-lamp fuse: hot side falls, an open wire stays",
        ),
        (
            "on a ground",
            0.0,
            0.0,
            "Tapped on a ground, or the lamp fuse is blown",
            "Do the lamps light with the pedal down?",
        ),
        (
            "relay turned",
            volts,
            0.0,
            "Relay contacts the wrong way round",
            "Swap the two contact wires",
        ),
        (
            "switch resistance",
            0.0,
            0.6 * volts,
            "High resistance in the brake switch or its feed",
            "Meter across the closed switch: under 0.2 V",
        ),
    ]
    found = []
    for name, rest, pressed, cause, test in cases:
        weight = _prior(job, name)
        if "rest" in seen:
            weight *= _normal(seen["rest"], rest, 0.7)
        if "pressed" in seen:
            weight *= _normal(seen["pressed"], pressed, 0.7)
        found.append((weight, _rival(cause, f"{rest:.1f} V up, {pressed:.1f} V down", test)))
    return found


def _hold_rivals(job: Job, step: StepSheet, seen: Mapping[str, float]) -> list[tuple[float, Rival]]:
    """The other way round, or a pin that does not move."""
    off, on = (f.high - 2 * METER if f.low > 0 else 0.0 for f in step.fields)
    cases = (
        ("relay turned", on, off, "The contact rests the other way", "Meter it across, unplugged"),
        ("hot side or open", *(max(off, on),) * 2, "Bridged to a supply, or pulled up and the wire "
         "is open", "Pull the wire at the device: what the pin then shows is its own"),
        ("on a ground", *(min(off, on),) * 2, "Bridged to a ground, or the contact’s feed is dead",
         "Meter the wire to ground with the plug off"),
    )  # fmt: skip
    found = []
    for name, rest, worked, cause, test in cases:
        weight = _prior(job, name)
        for field, predicted in (("off", rest), ("on", worked)):
            if field in seen:
                weight *= _normal(seen[field], predicted, abs(on - off) / 6)
        found.append((weight, _rival(cause, f"{rest:.0f} V off, {worked:.0f} V on", test)))
    return found


def _ratio_rivals(
    job: Job, step: StepSheet, seen: Mapping[str, float]
) -> list[tuple[float, Rival]]:
    chain = next(c for c in job.chains if c.id == step.chain)
    try:
        rate_law = chain_law(job, chain)
    except ValueError:
        return []
    ratio, sigma = _seen_ratio(job, step, seen)
    cases: list[tuple[str, float, str, str]] = [
        (
            "dead wire",
            0.0,
            "Dead wire or no ground at the source",
            "Meter the signal at the device's pin",
        ),
        ("counted twice", 2.0, "Two pulses counted for one", "Scope or a finer threshold"),
        (
            "every other lost",
            0.5,
            "Every other pulse lost",
            "Check the level against the threshold",
        ),
    ]
    if step.kind == "roll":
        for n in range(1, 11):
            if n != rate_law.divider:
                name = "divider left out" if n == 1 else "divider stands otherwise"
                cause = f"Divider stands on ÷{n}" if n > 1 else "Divider left out"
                cases.append((name, rate_law.divider / n, cause, "Look at the divider"))
    else:
        cylinders = job.vehicle.cylinders or 4
        for other in (1, 2, 3, 4, 5, 6, 8, 10, 12):
            factor = rate_law.rate / (other / 2)
            if abs(factor - 1) > SAME and other != cylinders:
                cases.append(
                    (
                        "set for other cylinders",
                        factor,
                        f"Set for {other} cylinder{'' if other == 1 else 's'}",
                        "Read the setting back",
                    )
                )
        box = cd_box(job)
        if box is not None and box.multi_below_rps:
            cases.append(
                (
                    "multi-spark counted",
                    float(box.sparks),
                    f"Multi-spark counted below {rpm(box.multi_below_rps)}",
                    "Raise the engine past it: the reading falls back",
                )
            )
    found = []
    for name, factor, cause, test in cases:
        weight = _prior(job, name) * (_normal(ratio, factor, sigma) if ratio is not None else 1.0)
        found.append((weight, _rival(cause, f"{factor:.2g} × the expected", test)))
    return [pair for pair in found if pair[0] > UNLIKELY]


def _seen_ratio(job: Job, step: StepSheet, seen: Mapping[str, float]) -> tuple[float | None, float]:
    if step.kind == "idle":
        if not seen.get("true") or "shown" not in seen:
            return None, 0.05
        return seen["shown"] / seen["true"], 0.05
    if not seen.get("distance") or "flashes" not in seen:
        return None, 0.1
    chain = next(c for c in job.chains if c.id == step.chain)
    _, sheet = input_of(job, chain)
    rate_law = chain_law(job, chain)
    expect = roll(
        rate_law.rate / rate_law.divider, seen["distance"], sheet.pulses_per_flash
    ).flashes
    return seen["flashes"] / expect, max(0.05, 0.7 / expect)


def _volt_rivals(job: Job, step: StepSheet, seen: Mapping[str, float]) -> list[tuple[float, Rival]]:
    values = [seen[f.name] for f in step.fields if f.name in seen]
    lows = [f.low for f in step.fields if f.name in seen]
    gap = max((low - v for v, low in zip(values, lows, strict=True)), default=0.0)
    dead = any(v < 1.0 for v in values)
    return [
        (
            _prior(job, "feed dead") * (5.0 if dead else 0.2 if values else 1.0),
            _rival("Fuse out, or the feed is dead with the key here", "0 V", "Meter at the slot"),
        ),
        (
            _prior(job, "feed resistance")
            * (3.0 if SMALL_GAP_V < gap < JOINT_GAP_V else 0.5 if values else 1.0),
            _rival(
                "High resistance in the feed or its ground",
                "a few tenths to volts low",
                "Meter from the stud to battery negative: under 0.1 V",
            ),
        ),
        (
            _prior(job, "battery low")
            * (2.0 if SMALL_GAP_V < gap < BATTERY_GAP_V else 0.4 if values else 1.0),
            _rival("Battery below charge", "all supplies low alike", "Meter at the battery"),
        ),
    ]
