"""Graphs of logs on pyqtgraph, dressed like the rest; the library is loaded when one is shown."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from functools import partial
from typing import Any

import numpy as np
from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QColor

from zombrel.job.value import Value
from zombrel.ui.theme import Theme, font
from zombrel.ui.widgets.canvas import Canvas
from zombrel.ui.widgets.commands import Command, Commanded

STYLES = {"main": Qt.PenStyle.SolidLine, "dash": Qt.PenStyle.DashLine, "dot": Qt.PenStyle.DotLine}
FEW = 4000
"""So few points are drawn smoothly; more are drawn fast."""
PAN, ZOOM = 0.15, 1.4
"""A key moves the view by so much of it, and zooms by so much."""


class Curve(Value, frozen=True):
    """One line: samples in the units shown."""

    x: np.ndarray
    y: np.ndarray
    name: str
    colour: str
    style: str = "main"
    width: float = 1.8


LOWEST, ROWS = 0.07, 4
"""Words of marks begin so low, and stand in so many rows."""
WORD_SHARE = 0.075
"""Height of a word beside a curve, as a share of what is drawn, with room."""


def spread(at: list[float], least: float) -> list[float]:
    """Places moved up until neighbours are ``least`` apart; the order stays."""
    order = sorted(range(len(at)), key=lambda i: at[i])
    found = list(at)
    for low, high in itertools.pairwise(order):
        found[high] = max(found[high], found[low] + least)
    return found


class Graph(Commanded, Canvas):
    """Curves over one axis; arrows pan, + and - zoom, Home shows all; the mouse does both."""

    moved = Signal(float)
    """The cursor was put at an x."""

    def __init__(self, theme: Theme, x_name: str, y_name: str) -> None:
        super().__init__(theme)
        self._names = (x_name, y_name)
        self._cursor: Any = self._pg.InfiniteLine(angle=90, movable=True)
        self._cursor.sigPositionChanged.connect(lambda line: self.moved.emit(float(line.value())))
        self._curves: tuple[Curve, ...] = ()
        self._marks: tuple[tuple[float, str], ...] = ()
        self._region: Any = None
        self.dress(theme)

    def sizeHint(self) -> QSize:
        return QSize(320, 160)

    def minimumSizeHint(self) -> QSize:
        return QSize(220, 90)

    def dress(self, theme: Theme) -> None:
        """Colours and fonts of the theme."""
        self.dress_axes(theme, *self._names, theme.panel)
        self._cursor.setPen(QColor(theme.focus), width=2)
        if self._curves:
            self.show_curves(self._curves, self._cursor.scene() is not None, (), self._marks)

    def show_curves(
        self,
        curves: Sequence[Curve],
        cursor: bool = False,
        words: Sequence[tuple[float, float, str, str]] = (),
        marks: Sequence[tuple[float, str]] = (),
    ) -> None:
        """Draw these; ``words`` are (x, y, text, colour) beside them, ``marks`` (x, text)."""
        self._curves, self._marks = tuple(curves), tuple(marks)
        self.plot.clear()
        self._region = None
        for c in curves:
            pen = self._pg.mkPen(QColor(c.colour), width=c.width, style=STYLES[c.style])
            few = len(c.x) < FEW
            item = self.plot.plot(c.x, c.y, pen=pen, name=c.name, antialias=few)
            # peaks are kept whatever the zoom: each pixel gets the least and the most it stands for
            item.setDownsampling(auto=True, method="peak")
            item.setClipToView(True)
        middle = max((float(c.x[-1]) for c in curves if len(c.x)), default=0.0) / 2
        ends = [(float(np.nanmin(c.y)), float(np.nanmax(c.y))) for c in curves if len(c.y)]
        tall = max((e[1] for e in ends), default=0.0) - min((e[0] for e in ends), default=0.0)
        heights = spread([y for _, y, *_ in words], WORD_SHARE * tall)
        for (x, _, text, colour), y in zip(words, heights, strict=True):
            anchor = 1 if x > middle else 0
            said = self._pg.TextItem(text, color=QColor(colour), anchor=(anchor, 1.15))
            said.setFont(font(12, bold=True))
            said.setPos(x, y)
            self.plot.addItem(said)
        for i, (x, text) in enumerate(marks):
            self._flag(x, text, LOWEST + WORD_SHARE * (i % ROWS))
        if cursor:
            self.plot.addItem(self._cursor)
        names = "; ".join(f"{c.name}, {len(c.x)} points" for c in curves)
        self.setAccessibleName(f"Graph of {self._names[1]} over {self._names[0]}: {names}")

    def _flag(self, x: float, text: str, high: float) -> None:
        """A mark: a dotted line with its words, low, where curves are seldom."""
        pen = self._pg.mkPen(QColor(self._theme.ink), width=1.4, style=STYLES["dot"])
        ground = {"color": QColor(self._theme.ink), "fill": QColor(self._theme.well)}
        flag = self._pg.InfiniteLine(x, pen=pen, label=text, labelOpts={"position": high, **ground})
        flag.label.setFont(font(12))
        self.plot.addItem(flag)

    def mark(self, begin: float, end: float) -> None:
        """Shade a stretch, and show what lies around it."""
        if self._region is not None:
            self.plot.removeItem(self._region)
        region = self._region = self._pg.LinearRegionItem((begin, end), movable=False)
        colour = QColor(self._theme.tint)
        colour.setAlpha(150)
        region.setBrush(colour)
        region.setZValue(-10)
        self.plot.addItem(region)
        wide = max(end - begin, 1.0)
        self.plot.setXRange(begin - wide, end + wide, padding=0)

    def put_cursor(self, x: float) -> None:
        """The cursor at an x."""
        self._cursor.setValue(x)

    @property
    def cursor_x(self) -> float:
        """Where the cursor stands."""
        return float(self._cursor.value())

    def show_all(self) -> None:
        """The whole of it."""
        self.plot.enableAutoRange()

    def commands(self) -> tuple[Command, ...]:
        return (
            Command("Graph: later", "Right", partial(self._pan, PAN)),
            Command("Graph: earlier", "Left", partial(self._pan, -PAN)),
            Command("Graph: cursor later", "Shift+Right", partial(self._step, PAN / 10)),
            Command("Graph: cursor earlier", "Shift+Left", partial(self._step, -PAN / 10)),
            Command("Graph: nearer", "+ =", partial(self._zoom, 1 / ZOOM)),
            Command("Graph: further", "-", partial(self._zoom, ZOOM)),
            Command("Graph: all of it", "Home", self.show_all),
        )

    def _range(self) -> tuple[float, float]:
        low, high = self.plot.getViewBox().viewRange()[0]
        return float(low), float(high)

    def _pan(self, share: float) -> None:
        low, high = self._range()
        step = (high - low) * share
        self.plot.getViewBox().setXRange(low + step, high + step, padding=0)

    def _step(self, share: float) -> None:
        low, high = self._range()
        self.put_cursor(self.cursor_x + (high - low) * share)

    def _zoom(self, factor: float) -> None:
        low, high = self._range()
        middle = self.cursor_x if low < self.cursor_x < high else (low + high) / 2
        self.plot.getViewBox().setXRange(
            middle - (middle - low) * factor, middle + (high - middle) * factor, padding=0
        )
