"""An instrument that runs: which, where, its values large, and its recording into the job."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any, Protocol

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from zombrel.instruments.live import Live, Source
from zombrel.job.problem import Problem
from zombrel.logs.recording import What
from zombrel.store.prefs import data_root
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.parts import button, clear, label, row
from zombrel.units import measure

EVERY_MS = 100
KINDS = {
    "receiver": ("Satellite receiver", "/dev/ttyUSB0@4800, or tcp:127.0.0.1:2947"),
    "bus": ("Bus reader", "socketcan can0"),
    "meter": ("Meter that sends", "/dev/ttyUSB0@9600"),
    "typed": ("Meter, typed in", ""),
    "scope": ("Scope by sound card", "default@1.0 (V at full scale), or wav:FILE"),
    "sim-receiver": ("Stand-in: receiver", ""),
    "sim-bus": ("Stand-in: bus reader", ""),
    "sim-meter": ("Stand-in: meter", ""),
    "sim-scope": ("Stand-in: scope on a tone ring", ""),
}
UNITS: dict[What, measure.Kind] = {
    "speed": "speed",
    "engine": "engine",
    "temperature": "temperature",
    "pressure": "pressure",
    "voltage": "voltage",
    "fraction": "fraction",
}


class StandIn(Protocol):
    """A simulator that is stopped with its instrument."""

    def stop(self) -> None:
        """End it."""
        ...


def opened(kind: str, address: str, keep: Path) -> tuple[Source, StandIn | None]:
    """The instrument of a kind at an address, with its stand-in where it has one.

    A scope keeps its signal in ``keep``.

    Raises:
        Problem: nothing answers there.
    """
    from zombrel.instruments.bus import BusReader
    from zombrel.instruments.lines import Meter, Receiver, Typed

    if kind == "typed":
        return Typed(), None
    if not kind.startswith("sim-"):
        if kind == "bus":
            interface, _, channel = address.partition(" ")
            return BusReader(interface or "socketcan", channel.strip() or "can0"), None
        if kind == "scope":
            from zombrel.instruments.scope import scope_at

            return scope_at(address, keep), None
        return (Receiver if kind == "receiver" else Meter)(address), None
    from zombrel.instruments import simulated

    car = simulated.Car()
    if kind == "sim-bus":
        answers = simulated.SimulatedResponder(car)
        return BusReader("virtual", answers.channel), answers
    if kind == "sim-scope":
        from zombrel.instruments.scope import Scope

        return Scope(simulated.SimulatedSignal(car), keep=keep), None
    if kind == "sim-meter":
        sends = simulated.SimulatedMeter(car)
        return Meter(sends.address), sends
    talks = simulated.SimulatedReceiver(car)
    return Receiver(talks.address), talks


class LivePanel(QWidget):
    """Start, large values, stop; what was recorded becomes a log of the job."""

    def __init__(self, session: Session, recorded: Callable[[Path], object]) -> None:
        super().__init__()
        self._session, self._recorded = session, recorded
        self._live: Live | None = None
        self._stand_in: Any = None
        self._path: Path | None = None
        self._values: dict[str, tuple[What, float]] = {}
        self._pick = Choice()
        self._pick.setAccessibleName("Instrument")
        self._pick.addItems([words for words, _ in KINDS.values()])
        self._pick.activated.connect(lambda _: self._hint())
        self._address = QLineEdit()
        self._address.setAccessibleName("Where the instrument is")
        self._start = button("Record live", self.start, "")
        self._stop = button("Stop", self.stop, "primary", "Stop recording")
        self._stop.hide()
        self._reading = QLineEdit()
        self._reading.setAccessibleName("Reading of the meter")
        self._reading.setPlaceholderText("12.6 V, then Enter")
        self._reading.returnPressed.connect(self._enter)
        self._reading.hide()
        self._shown = QVBoxLayout()
        self._shown.setSpacing(0)
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(6)
        body.addWidget(self._pick)
        body.addWidget(self._address)
        body.addLayout(row(self._start, self._stop, 1, spacing=6))
        body.addWidget(self._reading)
        body.addLayout(self._shown)
        self._tick = QTimer(self)
        self._tick.setInterval(EVERY_MS)
        self._tick.timeout.connect(self._poll)
        self._hint()

    def _hint(self) -> None:
        hint = list(KINDS.values())[self._pick.currentIndex()][1]
        self._address.setPlaceholderText(hint or "of this machine, nothing to say")
        self._address.setEnabled(bool(hint))

    @property
    def running(self) -> bool:
        """An instrument runs."""
        return self._live is not None

    def start(self) -> None:
        """Open the instrument and record it."""
        kind = list(KINDS)[self._pick.currentIndex()]
        self._path = data_root() / "recordings" / f"{datetime.now():%Y-%m-%d-%H%M%S}-{kind}.csv"
        try:
            keep = self._path.with_suffix(".wav")
            source, self._stand_in = opened(kind, self._address.text().strip(), keep)
            self._live = Live(source, self._path)
        except (Problem, OSError) as problem:
            self._session.said.emit("trouble", str(problem))
            self._let_go()
            return
        self._values = {}
        self._start.hide()
        self._stop.show()
        self._pick.setEnabled(False)
        self._reading.setVisible(kind == "typed")
        if kind == "typed":
            self._reading.setFocus()
        self._tick.start()

    def _enter(self) -> None:
        """One reading that was typed."""
        source: Any = self._live.source if self._live is not None else None
        try:
            source.enter(self._reading.text().strip())
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._reading.clear()

    def stop(self) -> None:
        """End it; what came is a log of the job now."""
        live, self._live = self._live, None
        if live is None:
            return
        live.stop()
        self._values |= {s.name: (s.what, s.value) for s in live.fetch()}
        trouble, path = live.trouble, self._path
        self._let_go()
        if trouble:
            self._session.said.emit("trouble", trouble)
        if path is not None and path.exists() and self._values:
            self._recorded(path)
            if path.with_suffix(".wav").exists():
                words = (
                    f"The signal itself is kept in {path.with_suffix('.wav')}; read it as a log."
                )
                self._session.said.emit("good", words)

    def _let_go(self) -> None:
        self._tick.stop()
        if self._stand_in is not None:
            self._stand_in.stop()
        self._live, self._stand_in = None, None
        self._start.show()
        self._stop.hide()
        self._reading.hide()
        self._pick.setEnabled(True)
        clear(self._shown)

    def _poll(self) -> None:
        live = self._live
        if live is None:
            return
        fresh = {s.name: (s.what, s.value) for s in live.fetch()}
        if fresh:
            new = fresh.keys() - self._values.keys()
            self._values |= fresh
            self._show(bool(new))
        if not live.running and self._stop.isVisible():
            self.stop()

    def _show(self, anew: bool) -> None:
        """Values as large as they can be spoken."""
        if anew:
            clear(self._shown)
            for name in self._values:
                self._shown.addWidget(label(name, "small"))
                self._shown.addWidget(label("", "title"))
        for i, (what, value) in enumerate(self._values.values()):
            kind = UNITS.get(what)
            units = self._session.units
            words = measure.written(kind, value, units) if kind else f"{value:.4g}"
            item = self._shown.itemAt(2 * i + 1)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.setText(words)  # type: ignore[attr-defined]
