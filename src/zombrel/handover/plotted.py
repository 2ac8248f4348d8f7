"""A plot on paper: frame, figures, curves that differ by their stroke as well as their colour."""

from __future__ import annotations

import math

from zombrel.handover.sheet import INK, LINE, QUIET, Box, Item, Path, Text, fit
from zombrel.job.value import Value
from zombrel.plots.picture import Axis, Line, Picture, share_of, tick_words, ticks

STYLES: dict[str, tuple[str, float, bool]] = {
    "main": ("#0E5A66", 0.5, False),
    "second": ("#8A5600", 0.5, True),
    "faint": ("#8A8F94", 0.3, False),
}
"""Colour, width [mm] and whether it is dashed."""
GRID = "#E4DFD2"
SIZE = 2.6
NEAR = 6.0
"""Names of thresholds that would lie nearer go a line lower [mm]."""
TICK_APART = {"x": 18.0, "y": 8.0}
"""Figures are so far apart at least [mm]."""


class Frame(Value, frozen=True):
    """Where a plot lies on its paper [mm]: its box, figures outside of it."""

    left: float
    top: float
    wide: float
    tall: float

    def x(self, axis: Axis, value: float) -> float:
        """Where a value along the horizontal axis lies [mm]."""
        return self.left + self.wide * share_of(axis, value)

    def y(self, axis: Axis, value: float) -> float:
        """Where a value up the vertical axis lies [mm]."""
        return self.top + self.tall * (1 - share_of(axis, value))


def plotted(picture: Picture, frame: Frame) -> tuple[Item, ...]:
    """A picture within ``frame``, what each curve is below it."""
    items = _frame(picture, frame)
    for line in picture.lines:
        items += _curve(picture, line, frame)
    items += _thresholds(picture, frame)
    for cloud in picture.clouds:
        for x, y in zip(cloud.x, cloud.y, strict=True):
            if _inside(picture, x, y):
                at = (frame.x(picture.x, x), frame.y(picture.y, y))
                items.append(_dot(*at, 0.5, "#0E5A66" if cloud.used else ""))
    for dot in picture.dots:
        if _inside(picture, dot.x, dot.y):
            at = (frame.x(picture.x, dot.x), frame.y(picture.y, dot.y))
            items.append(_dot(*at, 0.9, "#FFFFFF" if dot.doubt else INK))
    return (*items, *_key(picture, frame))


def _dot(x: float, y: float, radius: float, fill: str) -> Box:
    return Box(x - radius, y - radius, 2 * radius, 2 * radius, fill, INK, 0.25, radius)


def _frame(picture: Picture, frame: Frame) -> list[Item]:
    left, top, wide, tall = frame.left, frame.top, frame.wide, frame.tall
    items: list[Item] = []
    for value in ticks(picture.x, max(2, int(wide // TICK_APART["x"]))):
        x = frame.x(picture.x, value)
        items.append(Path(((x, top), (x, top + tall)), GRID, 0.15))
        items.append(Text(x, top + tall + 3.8, tick_words(value), SIZE, "middle", colour=QUIET))
    for value in ticks(picture.y, max(2, int(tall // TICK_APART["y"]))):
        y = frame.y(picture.y, value)
        items.append(Path(((left, y), (left + wide, y)), GRID, 0.15))
        items.append(Text(left - 1.4, y + 0.9, tick_words(value), SIZE, "end", colour=QUIET))
    items.append(Box(left, top, wide, tall, colour=LINE, width=0.2))
    items.append(Text(left, top - 1.6, fit(picture.y.name, SIZE, wide / 2), SIZE, bold=True))
    name = fit(picture.x.name, SIZE, wide / 2)
    items.append(Text(left + wide, top - 1.6, name, SIZE, "end", colour=QUIET))
    return items


def _inside(picture: Picture, x: float, y: float) -> bool:
    if not (math.isfinite(x) and math.isfinite(y)):
        return False
    slack = 1e-9
    shares = (share_of(picture.x, x), share_of(picture.y, y))
    return all(-slack <= s <= 1 + slack for s in shares)


def _curve(picture: Picture, line: Line, frame: Frame) -> list[Item]:
    """The stretches of a curve that lie in the frame; it breaks where it has no figure."""
    colour, width, dashed = STYLES[line.style]
    items: list[Item] = []
    run: list[tuple[float, float]] = []

    def close() -> None:
        if len(run) > 1:
            items.append(Path(tuple(run), colour, width, dashed=dashed))
        run.clear()

    for x, y in line.points:
        if not (math.isfinite(x) and math.isfinite(y)) or not 0 <= share_of(picture.x, x) <= 1:
            close()
            continue
        low, high = picture.y.low, picture.y.high
        run.append((frame.x(picture.x, x), frame.y(picture.y, min(max(y, low), high))))
    close()
    return items


def _thresholds(picture: Picture, frame: Frame) -> list[Item]:
    items: list[Item] = []
    seen: list[float] = []
    for mark in sorted(picture.thresholds, key=lambda m: m.x):
        if not 0 <= share_of(picture.x, mark.x) <= 1:
            continue
        x = frame.x(picture.x, mark.x)
        items.append(Path(((x, frame.top), (x, frame.top + frame.tall)), INK, 0.3))
        down = frame.top + 3.2 + 3.2 * (sum(abs(x - s) < NEAR * len(mark.name) / 2 for s in seen))
        seen.append(x)
        right = x > frame.left + frame.wide * 0.7
        anchor = "end" if right else "start"
        items.append(Text(x + (-1 if right else 1), down, mark.name, SIZE, anchor, bold=True))  # type: ignore[arg-type]
    return items


def _key(picture: Picture, frame: Frame) -> list[Item]:
    """What each curve is, on one line below the figures."""
    x, y = frame.left, frame.top + frame.tall + 8.4
    named = [line for line in picture.lines if line.name]
    items: list[Item] = []
    for line in named:
        colour, width, dashed = STYLES[line.style]
        room = frame.wide / len(named) - 9
        items.append(Path(((x, y - 0.9), (x + 6, y - 0.9)), colour, width, dashed=dashed))
        items.append(Text(x + 7.5, y, fit(line.name, SIZE, room), SIZE))
        x += frame.wide / len(named)
    return items
