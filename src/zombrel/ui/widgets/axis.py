"""An axis of pyqtgraph with our figures along it; importing this loads the library."""

from __future__ import annotations

import math
from typing import Any

import pyqtgraph as pg
from PySide6.QtCore import QRectF

from zombrel.plots.picture import Axis, tick_words, ticks

APART_PX = {"bottom": 80, "left": 34}
"""Figures along an axis and up one are so far apart at least [px]."""
FEWEST = {"bottom": 2, "left": 3}
"""So many figures are asked for, however small the plot."""
LEAST, TRIES = 2, 12
"""So many figures there are on an axis, if trying so many steps finds them."""
OVER_PX = 40
"""A figure at the end reaches so far past its axis at most [px]."""


class PlainAxis(pg.AxisItem):  # type: ignore[misc]
    """Round figures, also at both ends; the last with its unit where the axis has no name."""

    def __init__(self, side: str) -> None:
        super().__init__(side)
        self._logged = False
        self._unit = ""

    def go_by(self, log: bool, unit: str) -> None:
        """Whether it counts powers of ten, and the unit of its last figure."""
        self._logged, self._unit = log, unit
        self.picture = None
        self.update()

    def tickValues(self, low: float, high: float, size: float) -> list[tuple[float, Any]]:
        if not high > low:
            return []
        most = max(FEWEST[self.orientation], int(size // APART_PX[self.orientation]))
        if self._logged:
            found = ticks(Axis("", 10.0**low, 10.0**high, log=True), most)
            places = [math.log10(x) for x in found]
        else:
            places = ticks(Axis("", low, high), most)
            while len(places) < LEAST and most < TRIES:  # one figure alone tells no scale
                most += 1
                places = ticks(Axis("", low, high), most)
        # one that lies a rounding error outside would not be drawn
        return [(1.0, [min(max(x, low), high) for x in places])]

    def tickStrings(self, values: list[float], scale: float, spacing: float) -> list[str]:
        said = [tick_words(float(f"{10**v if self._logged else v * scale:.6g}")) for v in values]
        return [*said[:-1], f"{said[-1]} {self._unit}"] if said and self._unit else said

    def boundingRect(self) -> QRectF:
        """With room for figures at the ends, which the grid would take away."""
        over = OVER_PX if self.orientation == "bottom" else 0
        up = 0 if self.orientation == "bottom" else OVER_PX / 4
        return QRectF(super().boundingRect()).adjusted(-over, -up, over, up)
