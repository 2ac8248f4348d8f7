"""The one surface to plot on: pyqtgraph dressed like the rest, loaded when the first is shown."""

from __future__ import annotations

import math
import os
from typing import Any, NamedTuple

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from zombrel.ui.theme import Theme, font

os.environ.setdefault("PYQTGRAPH_QT_LIB", "PySide6")
AXIS_PX = 58
"""Room for the figures at the left: alike, so that plots lie below one another [px]."""
TOP_PX = 8
"""Room for the half of a figure at the top [px]."""
BEHIND = -1000
"""The grid lies behind what is plotted."""
DECADES = 3
"""So many powers of ten are enough to go by along a logarithmic axis."""


class Axis(NamedTuple):
    """One axis, in the units shown."""

    name: str
    low: float
    high: float
    log: bool = False


def ticks(axis: Axis, most: int) -> list[float]:
    """Round values along an axis: 1, 2 or 5 times a power of ten; decades when logarithmic."""
    if axis.log:
        low = math.ceil(math.log10(axis.low) - 1e-9)
        high = math.floor(math.log10(axis.high) + 1e-9)
        decades = [10.0**k for k in range(low, high + 1)]
        if len(decades) >= DECADES:
            return decades
        return [
            m * 10.0**k
            for k in range(low - 1, high + 1)
            for m in (1, 2, 5)
            if axis.low <= m * 10.0**k <= axis.high
        ]
    span = axis.high - axis.low
    rough = span / max(most, 1)
    power = 10 ** math.floor(math.log10(rough))
    step = next(m * power for m in (1, 2, 5, 10) if m * power >= rough * 0.999)
    first = math.ceil(axis.low / step - 1e-9)
    return [k * step for k in range(first, math.floor(axis.high / step + 1e-9) + 1)]


def tick_words(value: float) -> str:
    """A tick without needless digits."""
    if abs(value) >= 1e6:
        return f"{value / 1e6:g} M"
    if abs(value) >= 1e4:
        return f"{value / 1e3:g} k"
    return f"{value:.6g}".replace("-", "\u2212")


class Canvas(QWidget):
    """A dressed plot that fills its widget; what lies on it is its heir's business."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        import pyqtgraph as pg

        from zombrel.ui.widgets.axis import PlainAxis

        self._pg: Any = pg
        self._theme = theme
        axes = {side: PlainAxis(side) for side in ("bottom", "left")}
        self.plot: Any = pg.PlotWidget(axisItems=axes)
        for axis in axes.values():
            axis.setZValue(BEHIND)
        self.plot.setMenuEnabled(False)
        self.plot.hideButtons()
        self.plot.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.plot.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Ignored)
        self.plot.plotItem.layout.setContentsMargins(0, TOP_PX, 0, 0)
        self.body = QVBoxLayout(self)
        self.body.setContentsMargins(0, 0, 0, 0)
        self.body.setSpacing(0)
        self.body.addWidget(self.plot)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def set_log(self, x: bool, y: bool, x_unit: str = "") -> None:
        """Which of its axes are logarithmic; the figures along them are ours."""
        self.plot.getAxis("bottom").go_by(x, x_unit)
        self.plot.getAxis("left").go_by(y, "")

    def dress_axes(self, theme: Theme, x_name: str, y_name: str, ground: str) -> None:
        """Colours and fonts of the theme; a name that is empty takes no room."""
        self._theme = theme
        self.plot.setBackground(ground)
        for side, name in (("bottom", x_name), ("left", y_name)):
            axis = self.plot.getAxis(side)
            axis.setPen(QColor(theme.line))
            axis.setTextPen(QColor(theme.quiet))
            axis.setTickFont(font(12))
            axis.enableAutoSIPrefix(False)
            # lines as strong as the theme's
            axis.setStyle(tickAlpha=255)
            if name:
                axis.setLabel(name, color=theme.quiet, **{"font-size": "12px"})
        self.plot.getAxis("left").setWidth(AXIS_PX)
        self.plot.showGrid(x=True, y=True, alpha=0.22)
