"""The one surface to plot on: pyqtgraph dressed like the rest, loaded when the first is shown."""

from __future__ import annotations

import os
from typing import Any

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
