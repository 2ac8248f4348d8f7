"""How each kind of thing on a plot becomes items of the library that draws it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainterPath, QPen

from zombrel.job.value import Value
from zombrel.plots.picture import (
    Axis,
    Cloud,
    Dot,
    Line,
    Picture,
    Threshold,
    Zone,
    along,
)
from zombrel.ui.theme import Theme, font


class Ink(Value, frozen=True):
    """What is drawn with: the library, the theme, and whether the plot is a bare strip."""

    pg: Any
    theme: Theme
    bare: bool


def _zone(ink: Ink, picture: Picture, zone: Zone) -> list[Any]:
    colour = ink.theme.trouble
    middle = (zone.begin + zone.end) / 2
    return [
        _shade(ink, picture, zone.begin, zone.end, _clear(colour, 30)),
        _word(ink, picture, middle, zone.words, colour),
    ]


def _cloud(ink: Ink, picture: Picture, cloud: Cloud) -> list[Any]:
    t = ink.theme
    fill = _clear(t.petrol, 110) if cloud.used else None
    pen = _thin(t.petrol if cloud.used else t.watch, 1.2)
    return [_scatter(ink, picture, cloud.x, cloud.y, size=7, pen=pen, brush=fill)]


def _line(ink: Ink, picture: Picture, line: Line) -> list[Any]:
    points = np.array(line.points, float).reshape(-1, 2)
    return [
        ink.pg.PlotCurveItem(
            _all_along(picture.x, points[:, 0]),
            _all_along(picture.y, points[:, 1]),
            pen=pen_of(line.style, ink.theme),
            connect="finite",
            antialias=True,
        )
    ]


def _now(ink: Ink, picture: Picture, now: float) -> list[Any]:
    pen = _thin(ink.theme.focus, 2)
    return [ink.pg.InfiniteLine(along(picture.x, now), pen=pen)]


def _threshold(
    ink: Ink, picture: Picture, threshold: Threshold, held: bool, high: float
) -> list[Any]:
    t = ink.theme
    item = ink.pg.InfiniteLine(
        along(picture.x, threshold.x),
        pen=_thin(t.focus if held else t.watch, 3.4 if held else 2.2),
        label=threshold.name,
        labelOpts={"position": high, "color": QColor(t.ink), "fill": QColor(t.well)},
    )
    item.label.setFont(font(12, bold=True))
    if threshold.held:
        item.addMarker("v", position=1.0, size=18)
    if threshold.back is None:
        return [item]
    shade = _shade(ink, picture, threshold.x, threshold.back, _clear(t.watch, 40))
    return [shade, item]


def _shade(ink: Ink, picture: Picture, begin: float, end: float, colour: QColor) -> Any:
    low, high = sorted((along(picture.x, begin), along(picture.x, end)))
    region = ink.pg.LinearRegionItem((low, high), movable=False, pen=QPen(Qt.PenStyle.NoPen))
    region.setBrush(colour)
    region.setZValue(-10)
    return region


def _word(ink: Ink, picture: Picture, x: float, words: str, colour: str) -> Any:
    """Words in the middle of the height."""
    middle = (along(picture.y, picture.y.low) + along(picture.y, picture.y.high)) / 2
    item = ink.pg.TextItem(words, color=QColor(colour), anchor=(0.5, 0.5))
    item.setFont(font(12 if ink.bare else 14, bold=ink.bare))
    item.setPos(along(picture.x, x), middle)
    return item


def _empty(ink: Ink, picture: Picture, words: str) -> list[Any]:
    middle = (picture.x.low + picture.x.high) / 2
    return [_word(ink, picture, middle, words, ink.theme.quiet)]


def _dots(ink: Ink, picture: Picture, dots: tuple[Dot, ...]) -> list[Any]:
    if not dots:
        return []
    t = ink.theme
    doubt = dots[0].doubt
    scatter = _scatter(
        ink,
        picture,
        [d.x for d in dots],
        [d.y for d in dots],
        size=13,
        symbol=_crossed() if doubt else "o",
        pen=_thin(t.trouble if doubt else t.ink, 2.4 if doubt else 1.6),
        brush=[QColor(t.petrol if d.held and not doubt else t.panel) for d in dots],
    )
    return [scatter]


def _ring(ink: Ink, picture: Picture, dot: Dot) -> list[Any]:
    pen = _thin(ink.theme.focus, 2.6)
    return [_scatter(ink, picture, [dot.x], [dot.y], size=21, pen=pen, brush=None)]


def _scatter(
    ink: Ink, picture: Picture, x: Sequence[float], y: Sequence[float], **look: Any
) -> Any:
    xs, ys = _all_along(picture.x, np.array(x, float)), _all_along(picture.y, np.array(y, float))
    return ink.pg.ScatterPlotItem(xs, ys, antialias=True, **look)


MAKERS: dict[str, Callable[..., list[Any]]] = {
    "zone": _zone,
    "cloud": _cloud,
    "line": _line,
    "now": _now,
    "threshold": _threshold,
    "dots": _dots,
    "ring": _ring,
    "empty": _empty,
}
"""Items for one thing: (ink, picture, what it shows)."""


def pen_of(style: str, t: Theme) -> QPen:
    """Main lines are whole, second ones dashed, faint ones dotted, fitted ones in the focus."""
    return {
        "main": _thin(t.petrol, 2.4),
        "second": _thin(t.ink, 1.8, Qt.PenStyle.DashLine),
        "faint": _thin(t.quiet, 1.3, Qt.PenStyle.DotLine),
        "fit": _thin(t.focus, 2.4),
    }[style]


def _thin(text: str, px: float, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> QPen:
    """A pen that is as wide on screen whatever the axes count."""
    pen = QPen(QColor(text), px, style)
    pen.setCosmetic(True)
    return pen


def _clear(text: str, alpha: int) -> QColor:
    colour = QColor(text)
    colour.setAlpha(alpha)
    return colour


def _crossed() -> QPainterPath:
    """A square with a cross in it: a point that is doubted."""
    path = QPainterPath()
    path.addRect(QRectF(-0.5, -0.5, 1, 1))
    for y in (-0.33, 0.33):
        path.moveTo(-0.33, y)
        path.lineTo(0.33, -y)
    return path


def _all_along(axis: Axis, values: np.ndarray) -> np.ndarray:
    """Values as the axis counts."""
    return np.log10(np.maximum(values, axis.low * 1e-3)) if axis.log else values
