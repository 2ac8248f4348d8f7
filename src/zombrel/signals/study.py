"""A sensor studied: fit and doubt of its pairs, the device's curves against it, its table.

Everything the Set screen shows of one sensor chain, for the pairs as they stand or as they
are being dragged.

Reference: fits as in ``calibrate.curve`` and ``calibrate.thermistor`` (Steinhart, Hart, *Deep-Sea
Research* 15, 1968); the error of a table is its largest departure (Chebyshev's sense).
"""

from __future__ import annotations

import math

import msgspec

from zombrel.calibrate import curve as curves
from zombrel.calibrate.curve import Kind, Match
from zombrel.calibrate.thermistor import best_pull_up
from zombrel.job.model import Chain, Job, by_id
from zombrel.job.pairs import LEAST_PAIRS, between, falling_or_rising, rising
from zombrel.job.problem import Problem
from zombrel.job.sheet import Curve, Frozen
from zombrel.job.source import BoxOutput, Duty, Resistive, Source, Thermistor, Volts
from zombrel.job.state import State
from zombrel.signals.reduce import input_of
from zombrel.signals.sense import Sensor, count_step, ideal, joined, known_curve, shown_at, span_of
from zombrel.signals.ways import SENSED_OK, air, table_for, true_curve

KELVIN_FROM = 200.0
"""Pairs that begin higher are temperatures [K]."""

SAMPLES = 32
"""Pairs that stand for a fitted model."""
KINDS: dict[type, tuple[Kind, ...]] = {
    Thermistor: ("straight pieces", "steinhart-hart", "beta", "spline"),
    Resistive: ("straight pieces", "line", "spline"),
    Volts: ("straight pieces", "line", "spline"),
    Duty: ("straight pieces", "line"),
}
"""Models that make sense for each kind of sender; pairs as measured come first."""


class Study(Frozen, frozen=True, kw_only=True):
    """All that is known of a sensor chain's curve. Values in SI."""

    pairs: Curve
    """(value, electrical) of the sender; empty where a formula gives it."""
    kind: Kind
    model: Curve
    """(value, electrical) along the model."""
    residuals: tuple[float, ...] = ()
    """Value the model gives at each pair's electrical reading, less the pair's own."""
    doubtful: tuple[int, ...] = ()
    truth: Curve = ()
    """(value in the device's terms, what the device infers) along the range."""
    span: tuple[float, float] = (0.0, 1.0)
    matches: tuple[Match, ...] = ()
    """The device's own curves, the best first."""
    table: Curve = ()
    """Points for the device's free table; empty when it takes none."""
    table_worst: float = math.nan
    now: Curve = ()
    """The curve the device goes by; empty when it is not set."""
    now_worst: float = math.nan
    now_at: float = math.nan
    count_worst: float = math.nan
    """Greatest step of one count over the range."""
    count_at: float = math.nan
    per_10mv: float = math.nan
    """What 10 mV of ground lift do in mid-range."""
    pull_up: float = math.nan
    """Pull-up with the widest swing [Ω]."""
    good_enough: float = math.nan
    """Error that is let pass."""


def checked(points: Curve, what: str) -> Curve:
    """Pairs in order, each value once and each reading meaning one value.

    Pairs (value [SI], electrical [Ω, V, Hz or share]).

    Raises:
        Problem: too few, given twice, or turning back.
    """
    ordered = rising(points, what)
    if len(ordered) < LEAST_PAIRS:
        raise Problem(f"{what}: two pairs or more are needed.")
    falling_or_rising(ordered, what)
    return ordered


def modelled(points: Curve, kind: Kind, low: float, high: float) -> Curve:
    """Pairs along a model of ``points`` from ``low`` to ``high``.

    Pairs as given, ``low`` and ``high`` [SI].
    """
    if kind == "straight pieces":
        return points
    through = curves.model(points, kind)
    if kind == "spline":  # says nothing beyond its pairs
        low, high = max(low, points[0][0]), min(high, points[-1][0])
    xs = [low + (high - low) * i / (SAMPLES - 1) for i in range(SAMPLES)]
    return tuple((x, through(x)) for x in xs)


def study(
    job: Job, chain: Chain, kind: Kind, points: Curve | None = None, count: int | None = None
) -> Study:
    """Study a sensor chain, with ``points`` in place of its sender's, for ``count`` points.

    A ``count`` of 0 leaves out the table and the doubts: quick enough to follow a finger.

    Raises:
        Problem: the chain cannot be read, the pairs make no curve, or none in its range.
    """
    device, sheet = input_of(job, chain)
    source = by_id(job.sources, chain.source)
    if source is None:
        raise Problem(f"Chain “{chain.id}” has no source.")
    spec = source.spec
    box = by_id(job.devices, spec.device) if isinstance(spec, BoxOutput) else None
    given: Curve = getattr(spec, "points", ())
    pairs = given if points is None else checked(points, source.name)
    probe = joined(chain, _with(source, pairs), sheet, sheet.curve, box)
    span = span_of(chain, probe, job.vehicle)
    curves.some_range(*span)
    model = modelled(pairs, kind, *span) if pairs else ()
    if model and any(y < 0 for _, y in model):
        raise Problem(f"{source.name}: the {kind} model falls below zero in its range.")
    stood = _with(source, model) if model else source
    truth = true_curve(job, chain, stood, sheet, box, span)
    above = air(sheet)
    ends = (span[0] + above, span[1] + above)
    studied = Study(pairs=pairs, kind=kind, model=model, span=span, truth=truth)
    fields: dict[str, object] = {"good_enough": SENSED_OK * (span[1] - span[0])}
    if pairs:
        fields |= _judged(pairs, kind, model, doubt=count != 0)
    if sheet.curves is not None:
        fields["matches"] = curves.match(
            lambda x: between(truth, x),
            tuple((p.name, p.points) for p in sheet.curves.presets),
            *ends,
        )
        most = sheet.curves.free_points
        if most >= LEAST_PAIRS and count != 0:
            table = table_for(truth, min(count or most, most))
            sender = joined(chain, stood, sheet, table, box)
            fields |= {"table": table, "table_worst": _worst(sender, span)[0]}
    try:
        now = known_curve(device, sheet)
    except Problem:
        now = ()
    sender = joined(chain, stood, sheet, now or truth, box)
    fields |= _sharpness(sender, span)
    if now:
        worst, at = _worst(sender, span)
        fields |= {"now": now, "now_worst": worst, "now_at": at}
    if isinstance(spec, Thermistor | Resistive) and model:
        ohms = [y for _, y in truth if y > 0]
        fields["pull_up"] = best_pull_up(min(ohms), max(ohms))
    return msgspec.structs.replace(studied, **fields)


def _with(source: Source, points: Curve) -> Source:
    """The source with other pairs; itself where it has none."""
    if not points or not hasattr(source.spec, "points"):
        return source
    return msgspec.structs.replace(source, spec=msgspec.structs.replace(source.spec, points=points))


def _judged(pairs: Curve, kind: Kind, model: Curve, doubt: bool) -> dict[str, object]:
    """Residuals in the value, and the pairs to doubt."""
    if kind == "straight pieces":
        near: Kind = "steinhart-hart" if _is_thermistor(pairs) else "line"
        if not doubt:
            return {"residuals": (0.0,) * len(pairs)}
        try:
            return {
                "residuals": (0.0,) * len(pairs),
                "doubtful": curves.doubtful(pairs, near) if near == "steinhart-hart" else (),
            }
        except Problem:
            return {"residuals": (0.0,) * len(pairs)}
    residuals = tuple(curves.reads(model, y) - x for x, y in pairs)
    return {
        "residuals": residuals,
        "doubtful": curves.doubtful(pairs, kind) if doubt else (),
    }


def _is_thermistor(pairs: Curve) -> bool:
    """Ohms that fall by more than half over temperatures: an NTC."""
    return pairs[0][0] > KELVIN_FROM and pairs[-1][1] * 2 < pairs[0][1]


def _worst(sender: Sensor, span: tuple[float, float]) -> tuple[float, float]:
    low, high = span
    found = []
    for i in range(61):
        x = low + (high - low) * i / 60
        found.append((abs(shown_at(sender, x, None, State())[1].off), x))
    return max(found)


def _sharpness(sender: Sensor, span: tuple[float, float]) -> dict[str, object]:
    """Coarsest count over the range, and what a little ground lift does."""
    low, high = span
    steps = []
    for i in range(1, 20):
        x = low + (high - low) * i / 20
        count = count_step(sender, shown_at(sender, x, None, State())[1].pin_v, State())
        if math.isfinite(count):
            steps.append((count, x))
    middle = (low + high) / 2
    plain = shown_at(sender, middle, None, State())[0]
    lifted = shown_at(sender, middle, ideal(sender, State()).lifted(0.01), State())[0]
    found: dict[str, object] = {"per_10mv": lifted - plain}
    if steps:
        found["count_worst"], found["count_at"] = max(steps)
    return found
