"""Two causes at once, where that is plausible: a changed link of the line and another one.

A pair is rarer than either, by both their priors, and has two unknowns: it leads only where no
single cause fits (Occam's razor falls out of Bayes' rule, see ``misread.weigh``).

References: as in ``misread.rates`` and ``misread.senses``; independent faults multiply.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from zombrel.diagnose.misread.senses import Levels, Ohms
from zombrel.diagnose.misread.weigh import AND, Cause, Rival

TOGETHER = 0.2
"""Of the product of two priors: they are weights that add up to about two, and who looks for one
fault mends it before the next is made: ASSUMED."""
FINE, COARSE = 40, 16
"""Values that are tried of the first unknown and of the second."""
SMEARED = 2.0
"""Coarse steps leave so much more of an error."""
RATES: tuple[tuple[Cause, Cause], ...] = (
    ("divider-missing", "unit-mix"),
    ("divider-doubled", "unit-mix"),
    ("noise-counts", "cylinders-setting"),
    ("noise-counts", "unit-mix"),
    ("drop-outs", "cylinders-setting"),
)
"""(at the signal, at the display) of what is counted."""
Joined = Callable[[float, float, float], float]
"""(first unknown, second unknown, true) → shown, in the unit of the display."""


def _thinned(grid: Sequence[tuple[float, float]], most: int) -> list[tuple[float, float]]:
    """So many of a grid, as even as before."""
    step = max(len(grid) / most, 1.0)
    kept = [grid[round(i * step)] for i in range(most) if round(i * step) < len(grid)]
    total = sum(w for _, w in kept)
    return [(u, w / total) for u, w in kept]


def both(first: Rival, second: Rival, shows: Joined) -> Rival:
    """Both at once; the unknown of the pair is which of all combinations it is."""
    combined = [
        (a, b, wa * wb)
        for a, wa in _thinned(first.grid, FINE)
        for b, wb in _thinned(second.grid, COARSE)
    ]
    smeared = len(first.grid) > FINE or len(second.grid) > COARSE

    def at(unknown: float) -> tuple[float, float]:
        a, b, _ = combined[int(unknown)]
        return a, b

    def mend(unknown: float) -> str:
        a, b = at(unknown)
        return f"{first.mend(a)} And: {second.mend(b)}"

    return Rival(
        f"{first.cause}{AND}{second.cause}",
        first.prior * second.prior * TOGETHER,
        tuple((float(i), w) for i, (_, _, w) in enumerate(combined)),
        lambda u, t: shows(*at(u), t),
        lambda u: f"{first.words(at(u)[0])}; and {_lower(second.words(at(u)[1]))}",
        mend,
        wide=max(first.wide, second.wide) * (SMEARED if smeared else 1.0),
        two=at,
    )


def _lower(words: str) -> str:
    return words[:1].lower() + words[1:]


def rate_pairs(rivals: Sequence[Rival], gain: float) -> list[Rival]:
    """Pairs of what is counted: the display's cause acts on what the signal's leaves of it.

    ``gain`` shown over true as it is set [1].
    """
    found = []
    for inner, outer in RATES:
        for a in _of(rivals, inner):
            for b in _of(rivals, outer):
                found.append(both(a, b, _through(a, b, gain)))
    return found


def _through(a: Rival, b: Rival, gain: float) -> Joined:
    return lambda ua, ub, t: b.shows(ub, a.shows(ua, t) / gain)


def _of(rivals: Sequence[Rival], cause: Cause) -> list[Rival]:
    """The forms of a cause that can be said for certain how they show."""
    return [r for r in rivals if r.cause == cause and r.scatter is None]


def ohm_pairs(rivals: Sequence[Rival], line: Ohms) -> list[Rival]:
    """Pairs of a resistance: another curve, pull-up or ground at once."""
    pull, vref = line.pull_ohm, line.vref

    def shown(ohm: float, pulled: float, foot: float) -> float:
        return line.reads(foot + (vref - foot) * ohm / (ohm + pulled))

    by = {r.cause: r for r in rivals}
    curve, double, ground = by["wrong-curve"], by["double-pull-up"], by["ground-offset"]
    return [
        both(curve, double, lambda k, _, t: shown(line.gives(t) * k, pull / 2, 0.0)),
        both(curve, ground, lambda k, u, t: shown(line.gives(t) * k, pull, u)),
        both(double, ground, lambda _, u, t: shown(line.gives(t), pull / 2, u)),
    ]


def level_pairs(rivals: Sequence[Rival], line: Levels) -> list[Rival]:
    """Pairs of a voltage: another range on a lifted ground."""
    by = {r.cause: r for r in reversed(rivals)}
    curve, ground = by["wrong-curve"], by["ground-offset"]

    def shows(k: float, u: float, t: float) -> float:
        lifted = ground.shows(u, t)
        return min(max(line.low + (lifted - line.low) * k, line.low), line.high)

    return [both(curve, ground, shows)]
