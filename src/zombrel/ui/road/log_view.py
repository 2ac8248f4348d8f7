"""A log seen: channels over one time, a cursor that reads them, and the places found by rule."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QFileDialog, QSizePolicy, QVBoxLayout, QWidget

from zombrel.actions.logs import remove_log
from zombrel.findings.foretold import Foretold, foretell, laws_of
from zombrel.job.follow.view import plain
from zombrel.job.model import by_id
from zombrel.job.reason import Reason
from zombrel.job.records.logs import JobLog
from zombrel.logs.recording import SI, Channel, Recording, What
from zombrel.logs.says import Said, car_of, says
from zombrel.logs.spots import RULES, Spot, spots
from zombrel.ui.road.live_panel import LivePanel
from zombrel.ui.road.log_kinds import LOGS
from zombrel.ui.road.log_marks import LogMarks
from zombrel.ui.road.logs_reader import LogReader
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.parts import button, card, clear, label, row, scroller
from zombrel.ui.widgets.why import show_why
from zombrel.units import measure

if TYPE_CHECKING:
    from zombrel.ui.widgets.graph import Graph

KINDS: dict[What, measure.Kind] = {
    "speed": "speed",
    "engine": "engine",
    "temperature": "temperature",
    "pressure": "pressure",
    "voltage": "voltage",
    "fraction": "fraction",
    "lambda": "lambda",
    "length": "length",
    "torque": "torque",
}
FIRST = 3
"""So many graphs are shown to begin with."""
STYLES = ("main", "dash", "dot")


TICK_PX = 186
"""Room for a channel’s name."""
PLACES_PX = 256
"""Width of what is said of a log."""


class LogView(Commanded, QWidget):
    """Logs and channels at the left, graphs in the middle, places at the right."""

    def __init__(self, session: Session, reader: LogReader) -> None:
        super().__init__()
        self._session, self._reader = session, reader
        self._chosen = ""
        self._hidden: set[str] = set()
        self._graphs: dict[str, Graph] = {}
        self._spots: tuple[Spot, ...] = ()
        self._of: tuple[object, ...] | None = None
        self._foretold: tuple[Foretold, ...] = ()
        self._pick = Choice()
        self._pick.setAccessibleName("Log on show")
        self._pick.activated.connect(self._picked)
        self._read = button("Read a log", self.ask, "primary")
        self._drop = button("Take it out", self._take_out, "plain", "Take this log out")
        self._columns = button("Its columns", self._look_again, "plain", "What its columns are")
        self._notes = label("", "small", wrap=True)
        left, inner = card(margins=12)
        inner.addWidget(self._pick)
        inner.addLayout(row(self._read, self._drop, 1, spacing=6))
        inner.addWidget(self._notes)
        inner.addLayout(row(self._columns, 1))
        self._channels = QVBoxLayout()
        self._channels.setSpacing(4)
        inner.addLayout(self._channels)
        inner.addWidget(label("Live", "head"))
        self.live = LivePanel(session, self.read)
        inner.addWidget(self.live)
        inner.addStretch(1)
        area = scroller(left, "Channels")
        area.setFixedWidth(250)
        middle, box = card(margins=8)
        self._stack = QVBoxLayout()
        self._stack.setSpacing(2)
        box.addLayout(self._stack, 1)
        hint = "Arrows pan, + and − zoom, Home shows all; Shift and arrows move the cursor."
        box.addWidget(label(hint, "small", wrap=True))
        body = row(area, middle, self._judged(), spacing=10)
        body.setStretch(1, 1)
        body.setContentsMargins(0, 0, 0, 0)
        self.setLayout(body)

    def _judged(self) -> QWidget:
        """The right side: what it says, notes and marks, places."""
        places, right = card(margins=12)
        right.addWidget(label("What it says", "head"))
        self._says = QVBoxLayout()
        self._says.setSpacing(4)
        right.addLayout(self._says)
        right.addWidget(label("Notes and marks", "head"))
        self.marks = LogMarks(self._session, self._at, lambda m: self.look_at(m.at_s, m.at_s))
        right.addWidget(self.marks)
        right.addWidget(label("Found by rule", "head"))
        self._places = QVBoxLayout()
        self._places.setSpacing(4)
        right.addLayout(self._places)
        right.addStretch(1)
        side = scroller(places, "Places found by rule")
        side.setFixedWidth(PLACES_PX)
        return side

    @property
    def log(self) -> JobLog | None:
        """The log on show."""
        every = self._session.job.logs
        return by_id(every, self._chosen) or (every[-1] if every else None)

    def _picked(self, i: int) -> None:
        every = self._session.job.logs
        if i < len(every):
            self._chosen = every[i].id
            self.refresh()

    def ask(self) -> None:
        """Choose a file."""
        name, _ = QFileDialog.getOpenFileName(self, "Read a log", "", LOGS)
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Read a file as a drive."""

        def took(key: str) -> None:
            self._chosen = key
            self.refresh()

        self._reader.add(path, "drive", took)

    def _take_out(self) -> None:
        log = self.log
        if log is not None:
            s = self._session
            s.do(f"{log.name} taken out", remove_log(s.history.present, log))

    def _look_again(self) -> None:
        if self.log is not None:
            self._reader.look_again(self.log, self.refresh)

    def focus_first(self) -> None:
        first = next(iter(self._graphs.values()), None)
        (first or self._read).setFocus()

    # ---- showing

    def refresh(self) -> None:
        every = self._session.job.logs
        names = [f"{x.name}, {x.part}" for x in every]
        if [self._pick.itemText(i) for i in range(self._pick.count())] != names:
            self._pick.clear()
            self._pick.addItems(names)
        log = self.log
        self._pick.setVisible(bool(every))
        self._drop.setVisible(log is not None)
        self._columns.setVisible(log is not None and not log.bus)
        if log is None:
            self._nothing()
            return
        self._pick.setCurrentIndex([x.id for x in every].index(log.id))
        held = self._reader.held(log)
        if held is None:
            self._notes.setText("It is being read.")
            if not self._reader.background.busy:
                self._reader.want([log], self.refresh)
            return
        job = plain(self._session.history.present)
        self.marks.show_log(log)
        of = (
            log.file,
            log.units,
            log.marks,
            self._session.theme,
            self._session.units,
            laws_of(job),
        )
        if of != self._of:
            self._foretold = foretell(job, held)
            should = tuple(f.channel for f in self._foretold)
            if self._of is None or self._of[:2] != of[:2]:  # another log
                first = {c.what for c in held.channels[:FIRST]}
                self._hidden = {c.name for c in held.channels[FIRST:]}
                self._hidden |= {c.name for c in should if c.what not in first}
            self._of = of
            self._show(held, Recording(held.name, (*held.channels, *should), held.notes))

    def _nothing(self) -> None:
        self._of = None
        for layout in (self._channels, self._places, self._stack, self._says):
            clear(layout)
        self._graphs = {}
        self._notes.setText(
            "No log yet. Any table will do, a track, sentences of a receiver, a sound, or messages "
            "of a bus; what a column is and why is shown before it is read."
        )
        self._places.addWidget(label("Pulls, idles, drop-outs come here.", "quiet", wrap=True))

    def _show(self, held: Recording, drawn: Recording) -> None:
        """What was recorded is judged; ``drawn`` has beside it what should have been shown."""
        self._notes.setText("; ".join(held.notes) + ".")
        clear(self._channels)
        recorded = {c.name for c in held.channels}
        for c in drawn.channels:
            full = f"{c.name}, {c.rate_hz:.3g} Hz" if c.name in recorded else c.name
            tick = QCheckBox()
            tick.setText(tick.fontMetrics().elidedText(full, Qt.TextElideMode.ElideRight, TICK_PX))
            tick.setAccessibleName(full)
            tick.setToolTip(full)
            tick.setChecked(c.name not in self._hidden)
            tick.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
            tick.clicked.connect(partial(self._tick, drawn, c.name))
            self._channels.addWidget(tick)
        self._spots = tuple(spots(held))
        self._plot(drawn)
        self._list()
        self._tell(held)

    def _tick(self, held: Recording, name: str, on: bool) -> None:
        (self._hidden.discard if on else self._hidden.add)(name)
        self._plot(held)

    def _plot(self, held: Recording) -> None:
        from zombrel.ui.widgets.graph import Curve, Graph

        cursor = self._at()
        clear(self._stack)
        self._graphs = {}
        t = self._session.theme
        groups: dict[str, list[Channel]] = {}
        for c in held.channels:
            if c.name not in self._hidden:
                groups.setdefault(self._unit(c), []).append(c)
        colours = (t.petrol, t.ink, t.watch, t.trouble)
        first: Graph | None = None
        marks = [(m.at_s, m.words) for m in self.log.marks] if self.log is not None else []
        for unit, channels in groups.items():
            last = unit == list(groups)[-1]
            graph = Graph(t, "s" if last else "", unit or "figure")
            curves = [
                Curve(c.t, self._values(c), c.name, colours[i % 4], STYLES[i % 3])
                for i, c in enumerate(channels)
            ]
            names = [(float(c.x[-1]), float(c.y[-1]), c.name, c.colour) for c in curves]
            beside = names if len(curves) > 1 else ()
            graph.show_curves(curves, True, beside, marks)
            graph.setMinimumHeight(110)
            readout = label("", "small", wrap=True)
            graph.moved.connect(partial(self._cursor, graph))
            self._stack.addWidget(readout)
            self._stack.addWidget(graph, 1)
            graph.setProperty("readout", readout)
            graph.channels = channels  # type: ignore[attr-defined]
            if first is None:
                first = graph
            else:
                graph.plot.setXLink(first.plot)
            self._graphs[unit] = graph
        if first is not None:
            first.put_cursor(cursor if 0 < cursor < held.length_s else held.length_s / 2)

    def _unit(self, c: Channel) -> str:
        kind = KINDS.get(c.what)
        return measure.unit(kind, self._session.units) if kind else SI[c.what] or c.unit

    def _values(self, c: Channel) -> np.ndarray:
        kind = KINDS.get(c.what)
        v = c.v.astype(float)
        if kind is None:
            return v
        units = self._session.units
        zero = measure.value_in(kind, 0.0, units)
        return v * (measure.value_in(kind, 1.0, units) - zero) + zero

    def _cursor(self, moved: Graph, x: float) -> None:
        for graph in self._graphs.values():
            if graph is not moved and graph.cursor_x != x:
                graph.put_cursor(x)
            said = [f"{x:.2f} s"]
            for c in graph.channels:  # type: ignore[attr-defined]
                value = self._values(c.but(v=c.at(np.array([x]))))[0]
                told = "nothing" if np.isnan(value) else f"{value:.4g}"
                said.append(f"{c.name} {told} {self._unit(c)}".strip())
            graph.property("readout").setText("   ".join(said))

    def _tell(self, held: Recording) -> None:
        """What its channels allow to be read off them, each with its why."""
        s = self._session
        clear(self._says)
        found = says(held, car_of(s.history.present.vehicle))
        found += tuple(
            Said(f"{f.channel.name}", f.words, f.reason) for f in self._foretold if f.reason
        )
        for said in found:
            why = button("Why?", partial(self._why, said.reason), "plain", f"Why: {said.title}")
            line = row(label(said.title, "strong13", wrap=True), why)
            line.setStretch(0, 1)
            self._says.addLayout(line)
            self._says.addWidget(label(s.words(said.words), "", wrap=True))
        if not found:
            words = "Nothing yet: two speeds, engine and road speed, or runs in neutral say more."
            self._says.addWidget(label(words, "quiet", wrap=True))

    def _why(self, reason: Reason) -> None:
        show_why(reason, self.window(), self._session.units)

    def _list(self) -> None:
        clear(self._places)
        if not self._spots:
            words = "No pull, idle, steady stretch, launch or drop-out is in it."
            self._places.addWidget(label(words, "quiet", wrap=True))
        for s in self._spots[:60]:
            words = self._session.words(s.words)
            pill = button(f"{s.begin:.1f} s  {s.kind}", partial(self.look, s), "plain", words)
            self._places.addWidget(pill)
            self._places.addWidget(label(words, "small", wrap=True))
        told = "; ".join(self._session.words(r.told) for r in RULES.values())
        self._places.addWidget(label(f"Rules: {told}.", "small", wrap=True))

    def look(self, spot: Spot) -> None:
        """Bring one place into view, in every graph."""
        self.look_at(spot.begin, spot.end)

    def look_at(self, begin: float, end: float) -> None:
        """Bring a stretch, or a moment, into view."""
        for graph in self._graphs.values():
            graph.mark(begin, end)
            graph.put_cursor((begin + end) / 2)

    def _at(self) -> float:
        """Where the cursor stands [s]."""
        first = next(iter(self._graphs.values()), None)
        return first.cursor_x if first is not None else 0.0

    def commands(self) -> tuple[Command, ...]:
        """What keys do where a log is looked at."""
        if self.log is None:
            return ()
        return (Command("Logs: mark the cursor", "M", self.marks.words.setFocus),)
