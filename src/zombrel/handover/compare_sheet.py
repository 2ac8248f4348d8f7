"""Before and after on paper: a page with the verdict, two plots, and every pull."""

from __future__ import annotations

import math

from zombrel.actions.logs import stale
from zombrel.handover.sheet import (
    INK,
    LINE,
    QUIET,
    Box,
    Item,
    Path,
    Sheet,
    Text,
    fit,
    lifted,
    shrunk,
)
from zombrel.job.model import Job
from zombrel.job.records.logs import Comparison, PullRow
from zombrel.units import METRIC, Units, words
from zombrel.units.measure import value_in

A4 = (210.0, 297.0)
MARGIN = 12.0
HEAD = 27.0
"""Where the page's own head ends [mm]."""
PLOT = (MARGIN + 14, 58.0, 166.0, 84.0)
"""Left, top, width and height of the first plot [mm]."""
SECOND = (MARGIN + 14, 168.0, 166.0, 34.0)
BEFORE, AFTER = "#7A7F86", "#0F5B66"
COLUMNS = (12.0, 44.0, 74.0, 104.0, 140.0, 172.0)
HEADS = ("pull", "begins at", "rises by", "full load", "back within", "outside")
TICKS = 5


def compare_sheets(job: Job, units: Units = METRIC) -> tuple[Sheet, ...]:
    """A page for each comparison that still holds."""
    return tuple(_page(job, c, units) for c in job.compared if c.pulls and not stale(job, c))


def compared(c: Comparison, units: Units) -> Sheet:
    """The page of a comparison without its head, to stand within another paper."""
    page = _page(Job(), c, units)
    kept = (i for i in page.items if _top(i) > HEAD)
    down = 228.0 + 5.6 * min(len(c.pulls), 11)
    items = tuple(lifted(i, HEAD, MARGIN) for i in kept)
    return Sheet(A4[0] - 2 * MARGIN, down - HEAD, items)


def _top(item: Item) -> float:
    return item.points[0][1] if isinstance(item, Path) else item.y


def _page(job: Job, c: Comparison, units: Units) -> Sheet:
    factor, unit = (1.0, "K") if units.temperature == "C" else (1.8, "°F")
    right = A4[0] - MARGIN
    title, size = shrunk("Before and after", 5.2, 150, 3.4)
    head = fit(f"{job.number} {job.title}".strip() + f", {c.when}".rstrip(", "), 2.8, 180)
    items: list[Item] = [
        Text(MARGIN, 16, title, size, bold=True),
        Text(MARGIN, 22, head, 2.8, colour=QUIET),
        Path(((MARGIN, 25), (right, 25)), LINE),
        Text(MARGIN, 34, fit(_verdict(c, factor, unit), 5.0, right - MARGIN), 5.0, bold=True),
        Text(MARGIN, 40, fit(words(c.why, units), 3.0, right - MARGIN), 3.0),
    ]
    told = f"Changed: {c.changed}. " if c.changed else ""
    mind = words("; ".join(c.mind), units)
    items.append(
        Text(MARGIN, 45.5, fit(f"{told}{mind}".strip(), 2.6, right - MARGIN), 2.6, colour=QUIET)
    )
    items += _curves(c, factor, unit)
    items += _rises(c, factor, unit)
    items += _table(c, factor, unit, units)
    return Sheet(*A4, tuple(items))


def _verdict(c: Comparison, factor: float, unit: str) -> str:
    if c.verdict == "refused":
        return "Not comparable"
    if c.verdict == "not-shown" or c.difference_k is None:
        return "No difference is shown"
    word = "less" if c.verdict == "better" else "more"
    low, high = sorted((abs(c.low_k or 0.0) * factor, abs(c.high_k or 0.0) * factor))
    size = abs(c.difference_k) * factor
    return f"{size:.1f} {unit} {word} rise ({low:.1f} to {high:.1f} {unit}, 95 of 100)"


def _scale(low: float, high: float) -> list[float]:
    """Round marks between two ends."""
    span = max(high - low, 1e-6)
    step = next(s for s in (0.5, 1, 2, 5, 10, 20, 50, 100, 1e9) if span / s <= TICKS + 1)
    first = int(low / step)
    marks = [step * k for k in range(first, int(high / step) + 2)]
    return [m for m in marks if low - 1e-9 <= m <= high + 1e-9]


def _frame(
    place: tuple[float, float, float, float],
    x: tuple[float, float],
    y: tuple[float, float],
    names: tuple[str, str],
) -> list[Item]:
    """Box, marks and names of a plot."""
    left, top, wide, tall = place
    items: list[Item] = [
        Box(left, top, wide, tall, colour=LINE),
        Text(left, top - 2.4, names[1], 2.8, bold=True),
        Text(left + wide, top + tall + 8.4, names[0], 2.6, "end", colour=QUIET),
    ]
    for m in _scale(*x):
        at = left + wide * (m - x[0]) / (x[1] - x[0])
        items.append(Path(((at, top + tall), (at, top + tall + 1)), LINE))
        items.append(Text(at, top + tall + 4.4, f"{m:g}", 2.6, "middle", colour=QUIET))
    for m in _scale(*y):
        at = top + tall - tall * (m - y[0]) / (y[1] - y[0])
        items.append(Path(((left, at), (left + wide, at)), "#E4DFD2", 0.15))
        items.append(Text(left - 1.5, at + 0.9, f"{m:g}", 2.6, "end", colour=QUIET))
    return items


def _curves(c: Comparison, factor: float, unit: str) -> list[Item]:
    """Charge over ambient while work is put in."""
    points = [(x, y * factor) for p in c.pulls for x, y in p.curve]
    if not points:
        return []
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    x, y = (0.0, max(xs) * 1.02 + 0.1), (min(ys) - 1, max(ys) + 1)
    left, top, wide, tall = PLOT
    names = ("s of full load", f"Charge over ambient, {unit}; dashed: before")
    items = _frame(PLOT, x, y, names)
    for p in c.pulls:
        line = tuple(
            (
                left + wide * (a - x[0]) / (x[1] - x[0]),
                top + tall - tall * (b * factor - y[0]) / (y[1] - y[0]),
            )
            for a, b in p.curve
        )
        before = p.side == "before"
        items.append(Path(line, BEFORE if before else AFTER, 0.5, dashed=before))
    return items


def _rises(c: Comparison, factor: float, unit: str) -> list[Item]:
    """What each pull rose by: a row for each side, the mean a line through it."""
    values = [p.rise_k * factor for p in c.pulls]
    x = (min(values) - 1, max(values) + 1)
    left, top, wide, tall = SECOND
    items = _frame(SECOND, x, (0.0, 1.0), (f"rise of each pull, {unit}", "What each pull rose by"))
    items = [i for i in items if not (isinstance(i, Text) and i.anchor == "end" and i.x < left)]
    for k, side in enumerate(("before", "after")):
        mid = top + tall * (0.28 + 0.44 * k)
        of = [p.rise_k * factor for p in c.pulls if p.side == side]
        colour = BEFORE if side == "before" else AFTER
        items.append(Text(left - 1.5, mid + 1, side, 2.6, "end", colour=colour))
        for v in of:
            at = left + wide * (v - x[0]) / (x[1] - x[0])
            items.append(Box(at - 1, mid - 1, 2, 2, fill=colour, colour=colour, radius=1))
        if of:
            at = left + wide * (math.fsum(of) / len(of) - x[0]) / (x[1] - x[0])
            items.append(Path(((at, mid - 5), (at, mid + 5)), colour, 0.6))
    return items


def _table(c: Comparison, factor: float, unit: str, units: Units) -> list[Item]:
    down = 222.0
    right = A4[0] - MARGIN
    items: list[Item] = [
        Text(x, down, head, 2.6, colour=QUIET) for x, head in zip(COLUMNS, HEADS, strict=True)
    ]
    items.append(Path(((MARGIN, down + 1.4), (right, down + 1.4)), LINE))
    counts = {"before": 0, "after": 0}
    for i, p in enumerate(c.pulls[:10], 1):
        counts[p.side] += 1
        y = down + 1 + 5.6 * i
        for k, text in enumerate(_cells(p, counts[p.side], factor, unit, units)):
            items.append(Text(COLUMNS[k], y, text, 2.8, bold=k == 0, colour=INK))
    if len(c.pulls) > 10:  # noqa: PLR2004 - so many fit on the page
        said = f"and {len(c.pulls) - 10} more"
        items.append(Text(MARGIN, down + 1 + 5.6 * 11, said, 2.6, colour=QUIET))
    return items


def _cells(p: PullRow, n: int, factor: float, unit: str, units: Units) -> tuple[str, ...]:
    air = "not measured"
    if p.ambient_k is not None:
        air = f"{value_in('temperature', p.ambient_k, units):.0f} °{units.temperature}"
    return (
        f"{p.side} {n}",
        f"{p.starts_k * factor:.1f} {unit}",
        f"{p.rise_k * factor:.1f} {unit}",
        f"{p.length_s:.1f} s, {100 * p.load:.0f} %",
        "not in the log" if p.back_s is None else f"{p.back_s:.0f} s",
        air,
    )
