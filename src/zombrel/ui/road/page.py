"""Road: satellite speed against shown speed, read or played, fitted, and turned into a setting."""

from __future__ import annotations

import time
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QFileDialog, QVBoxLayout, QWidget

from zombrel.behaviour.reports import Spot, dials_map, paced
from zombrel.calibrate.roadfit import fit
from zombrel.catalog import DEMO
from zombrel.catalog.cautions import cautions
from zombrel.diagnose.gates import held_back
from zombrel.diagnose.steps import gates, standing
from zombrel.findings.roadwork import (
    Log,
    add_run,
    stood,
    stood_words,
    thinned,
)
from zombrel.instruments.satellite import Fix, PlayedReceiver, Receiver, read_nmea
from zombrel.job.follow.view import plain
from zombrel.job.model import Chain
from zombrel.job.problem import Problem
from zombrel.job.stages import STAGE_NAMES
from zombrel.signals.reduce import input_of
from zombrel.ui.frame.pages import Pages
from zombrel.ui.road.chart import road_picture
from zombrel.ui.road.dials import DialsMap
from zombrel.ui.road.fitted import Fitted
from zombrel.ui.road.logs_reader import LogReader
from zombrel.ui.road.reported import Reported
from zombrel.ui.session import Session
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel, Pill
from zombrel.ui.widgets.parts import button, card, clear, column, label, row
from zombrel.ui.widgets.plot import Plot
from zombrel.units import (
    KMH,
    number,
    speed,
    speed_unit,
    speed_value,
)

UNITS = {"km/h": "kmh", "mph": "mph", "m/s": "ms", "knots": "kn", "ft/s": "fts"}
"""Answers to which unit a speed is in, as the reader of logs calls them."""
TABS = {"drive": "Drive", "sheet": "Road sheet", "compare": "Before and after", "logs": "Logs"}
RATE = 10.0
"""A recording is played at so many times real time."""
CHART_PX = 560
"""The chart is so tall at most: its axis is seen with its points [px]."""


class RoadStage(QWidget):
    """Gates first; then a run, its chart, its fit, and the setting it asks for."""

    title = "Road"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._receiver: Receiver | None = None
        self._mapped = False
        self._map_of: tuple[object, ...] = ()
        """What the map was made of, to make it once."""
        self._live: list[tuple[float, float, float]] = []
        self._last: Fix | None = None
        self._began = 0.0
        self._file = ""
        self.background = Background(self)
        self._tick = QTimer(self)
        self._tick.setInterval(40)
        self._tick.timeout.connect(self._poll)
        self._gate, gate = card(margins=20)
        self._gate_words = label("", "ask", wrap=True)
        self._gate_go = button("Go to the proof", self._leave, "bigprimary")
        self._gate_what = label("", "quiet", wrap=True)
        gate.addLayout(row(Mark("locked", 30), label("Locked", "title"), 1))
        gate.addWidget(self._gate_words)
        gate.addWidget(self._gate_what)
        self._gate_steps = QVBoxLayout()
        gate.addLayout(self._gate_steps)
        gate.addLayout(row(self._gate_go, 1))
        gate.addStretch(1)
        self._work = QWidget()
        self._build_work()
        self._reader = LogReader(session, self)
        self.view = "drive"
        self._views: dict[str, QWidget] = {"drive": QWidget()}
        self._views["drive"].setLayout(column(self._gate, self._work))
        self._tabs: dict[str, Pill] = {}
        tabs = row(spacing=6)
        for key, words in TABS.items():
            pill = button(words, partial(self._turn_to, key), "plain", f"View: {words}")
            self._tabs[key] = pill
            tabs.addWidget(pill)
        tabs.addStretch(1)
        self._stack = Pages()
        self._stack.addWidget(self._views["drive"])
        body = column(tabs, self._stack, spacing=8)
        body.setStretch(1, 1)
        self.setLayout(body)

    def _build_work(self) -> None:
        self.read_button = button("Read a CSV log", self._ask_csv, "primary")
        self.play_button = button("Play a recording", self._ask_nmea)
        self.stop_button = button("Stop and fit", self.finish)
        self._sample = button("Demo log", self.read_demo, "plain", "Read the demo log")
        self._sample_nmea = button(
            "Demo recording", self._demo_nmea, "plain", "Play the demo recording"
        )
        tools = row(
            self.read_button, self.play_button, self.stop_button, self._sample, self._sample_nmea, 1
        )
        self.chart = Plot(self._session)
        self.chart.setMinimumSize(300, 220)
        self.chart.setMaximumHeight(CHART_PX)
        chart_side = QWidget()
        chart = column(spacing=0)
        chart.addWidget(self.chart, 1)
        chart_side.setLayout(chart)
        self.dials = DialsMap(self._session)
        self._map_card, inside = card(margins=8)
        inside.addWidget(self.dials, 1)
        self._map_card.hide()
        chart.addWidget(self._map_card, 1)
        chart.addStretch(0)
        self._mapping = Background(self)
        self._build_live()
        self.fitted = Fitted(self._session, self.chart)
        self._caution = Panel("caution")
        self._caution_words = label("", "", wrap=True)
        caution = row(Mark("watch", 18), self._caution_words)
        caution.setStretch(1, 1)
        caution.setContentsMargins(10, 8, 10, 8)
        self._caution.setLayout(caution)
        side = QVBoxLayout()
        side.setSpacing(10)
        self.reported = Reported(self._session, self.turn_map)
        self.reported.report.activated.connect(lambda _: self.refresh())
        for part in (self._live_card, self.fitted, self.reported, self._caution):
            side.addWidget(part)
        side.addStretch(1)
        holder = QWidget()
        holder.setLayout(side)
        side.setContentsMargins(0, 0, 0, 0)
        holder.setFixedWidth(290)
        middle = row(chart_side, holder, spacing=10)
        middle.setStretch(0, 1)
        self._work.setLayout(column(tools, middle, spacing=10))

    def _build_live(self) -> None:
        self._live_card, live = card(margins=10)
        self._big = label("–", "huge")
        self._live_words = label("", "quiet", wrap=True)
        self.typed = FigureField(
            self._session,
            "speed",
            "The device shows, typed by the helper",
            lambda: speed_unit(self._session.units),
        )
        self.typed.setProperty("big", "true")
        self.typed.setPlaceholderText("device shows")
        self.typed.returnPressed.connect(self._typed)
        live.addWidget(label("Satellite", "quiet"))
        live.addWidget(self._big)
        live.addWidget(self._live_words)
        live.addWidget(self.typed)
        live.addWidget(label("A helper reads the device and presses Enter.", "small", wrap=True))

    @property
    def subtitle(self) -> str:
        """What is being compared."""
        chain = self._chain()
        if chain is None:
            return "no speed signal with a setting yet"
        device, _ = input_of(self._session.job, chain)
        set_to = stood_words(*stood(self._session.job, chain))
        return f"{device.name} against the satellite, set to {set_to}"

    def _chain(self) -> Chain | None:
        """The speed chain to be calibrated: the one behind the brake gate first."""
        job = self._session.job
        speeds = [c for c in job.chains if c.quantity == "speed" and input_of(job, c)[1].numbers]
        gated = {c.device for c in job.chains if input_of(job, c)[1].need_ohm}
        return next((c for c in speeds if c.device in gated), speeds[0] if speeds else None)

    @property
    def bare(self) -> bool:
        """No supposed state says anything of a log."""
        return self.view != "drive"

    @property
    def roomy(self) -> bool:
        """A log wants the whole width."""
        return self.view != "drive"

    def _turn_to(self, view: str) -> None:
        self._session.goto.emit(f"road:{view}")

    def choose(self, item: str) -> None:
        """Turn to a view before it is shown."""
        view = item.partition("/")[0]
        if view in TABS:
            self.view = view

    def show_item(self, item: str) -> None:
        """A view of the stage by its key."""
        self.choose(item)
        self.refresh()
        self.focus_first()

    def page(self, view: str) -> QWidget:
        """The page of a view, made when first asked for."""
        if view not in self._views:
            if view == "sheet":
                from zombrel.ui.road.sheet_view import SheetView

                self._views[view] = SheetView(self._session)
            elif view == "compare":
                from zombrel.ui.road.compare_view import CompareView

                self._views[view] = CompareView(self._session, self._reader)
            else:
                from zombrel.ui.road.log_view import LogView

                self._views[view] = LogView(self._session, self._reader)
            self._stack.addWidget(self._views[view])
        return self._views[view]

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        if self.view != "drive":
            self.page(self.view).focus_first()  # type: ignore[attr-defined]
            return
        target = self._gate_go if self._gate.isVisible() else self.read_button
        target.setFocus(Qt.FocusReason.OtherFocusReason)

    def refresh(self) -> None:
        """Show gate or work."""
        for key, pill in self._tabs.items():
            pill.set_on(key == self.view)
        page = self.page(self.view)
        self._stack.setCurrentWidget(page)
        if self.view != "drive":
            # wrapped words of a page that is not shown would still ask for their height
            self._gate.hide()
            self._work.hide()
            page.refresh()  # type: ignore[attr-defined]
            return
        s = self._session
        gate = s.assessment.road_lock
        self._gate.setVisible(bool(gate))
        self._work.setVisible(not gate)
        if gate:
            self._gate_words.setText(s.words(gate))
            self._gate_what.setText(
                f"What moves throttle or idle here: {', '.join(held_back(s.job))}. If pedal or "
                "lever does not hold it back, the first road test is the accident. Prove it on "
                "the bench: two readings of a meter for each."
            )
            stage = s.assessment.opens
            where = "Go to the proof" if stage == "prove" else f"Go to {STAGE_NAMES[stage]}"
            self._gate_go.setText(where)
            self._gate_go.setAccessibleName(where)
            self._show_gates()
            return
        playing = self._receiver is not None
        chain = self._chain()
        for b in (self.read_button, self.play_button, self._sample, self._sample_nmea):
            b.setEnabled(not playing and chain is not None)
        for b in (self._sample, self._sample_nmea):
            b.setVisible(s.job.synthetic)
        self.stop_button.setVisible(playing)
        self._live_card.setVisible(playing)
        words = [c.text for c in cautions(s.job, "road")][:1]
        self._caution_words.setText(words[0] if words else "")
        self._caution.setVisible(bool(words) and not playing)
        self.reported.refresh()
        if playing:
            self.reported.hide()
        mapped = self._mapped and not playing and paced(s.job) is not None
        self.chart.setVisible(not mapped)
        self._map_card.setVisible(mapped)
        self.reported.every.setText("Back to the drive" if mapped else "Every setting")
        if mapped:
            self._map()
        if not playing:
            self.fitted.refresh()

    def turn_map(self) -> None:
        """Show what every setting would do in the place of the drive, or the drive again."""
        self._mapped = not self._mapped
        self.refresh()

    def _map(self) -> None:
        job, grade = plain(self._session.history.present), self.reported.grade
        device = paced(job)
        of = (self._session.history.present, grade, self._session.units)
        if device is None or of == self._map_of:
            return

        def show(spots: tuple[Spot, ...]) -> None:
            self._map_of = of
            self.dials.show_spots(spots, grade)

        self._mapping.start(
            "Trying every setting",
            lambda: dials_map(job, device, grade),
            show,
            lambda problem: self.dials.say(str(problem)),
        )

    def _leave(self) -> None:
        """Go where the lock can be opened."""
        self._session.goto.emit(self._session.assessment.opens)

    def _show_gates(self) -> None:
        """Every gate with what it expects and whether it can pass as the job stands."""
        clear(self._gate_steps)
        job = self._session.job
        for step in gates(job):
            passed = standing(job, step) == "passed"
            expect = ", ".join(f"{f.label.lower()} {f.expect}" for f in step.fields)
            words = self._session.words(step.blocked or f"{step.where} Expect {expect}.")
            mark = "good" if passed else "trouble" if step.blocked else "open"
            said = column(label(step.short, "head"), label(words, "quiet", wrap=True))
            line = row(Mark(mark, 20), said, spacing=12)
            line.setStretch(1, 1)
            self._gate_steps.addLayout(line)

    # ---- reading a log

    def _ask_csv(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Read a log", "", "Logs (*.csv *.txt *.tsv)")
        if name:
            self.read_csv(Path(name))

    def read_demo(self) -> None:
        """Read the log that belongs to the demo job."""
        self.read_csv(DEMO / "0412-road.csv", ("C1", 7))

    def read_csv(self, path: Path, was: tuple[str, int] | None = None) -> None:
        """Read a log of satellite and shown speed; the fit follows."""
        self._read(path, "", was)

    def _read(self, path: Path, unit: str, was: tuple[str, int] | None) -> None:
        from zombrel.logs.speedlog import UnitUnknown, read

        def work() -> tuple[Log, str]:
            log = read(path, unit)
            fit(log.t, log.true, log.shown)
            return thinned((log.t, log.true, log.shown), log.note)

        def failed(problem: Problem) -> None:
            if isinstance(problem, UnitUnknown):
                self._ask_unit(path, str(problem), was)
            else:
                self._session.said.emit("trouble", str(problem))

        def done(kept: tuple[Log, str]) -> None:
            self._add(path.name, *kept, was)

        self.background.start(f"Reading {path.name}", work, done, failed)

    def _ask_unit(self, path: Path, words: str, was: tuple[str, int] | None) -> None:
        """A speed's unit is asked for, never guessed."""
        from zombrel.ui.widgets.ask import ask

        words = f"{words.partition(' Head it')[0]} Which unit is it?"
        answer = ask(self, "Which unit?", words, (*UNITS, "Do not read it"))
        if answer in UNITS:
            self._read(path, UNITS[answer], was)

    def _add(self, name: str, log: Log, note: str, was: tuple[str, int] | None = None) -> None:
        s = self._session
        chain = self._chain()
        if chain is not None:
            s.do(f"Road run {name}", add_run(s.job, chain, name, log, s.now(), note, was))

    # ---- playing a recording

    def _ask_nmea(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Play a recording", "", "Recordings (*.nmea *.log *.txt)"
        )
        if name:
            self.play(Path(name))

    def _demo_nmea(self) -> None:
        self.play(DEMO / "0412-road.nmea")

    def play(self, path: Path, rate: float = RATE) -> None:
        """Play a recorded NMEA file through the simulated receiver."""
        self.background.start(
            f"Reading {path.name}",
            partial(read_nmea, path),
            partial(self._play, path.name, rate),
            lambda problem: self._session.said.emit("trouble", str(problem)),
        )

    def _play(self, name: str, rate: float, read: tuple[tuple[Fix, ...], str]) -> None:
        fixes, note = read
        self._receiver = PlayedReceiver(fixes, rate)
        self._live, self._last, self._file = [], None, name
        self._began = time.monotonic()
        self._session.said.emit("open", f"Playing {name} at {rate:g} times real time: {note}")
        self.refresh()
        self._tick.start()
        self.typed.setFocus(Qt.FocusReason.OtherFocusReason)

    def _poll(self) -> None:
        receiver = self._receiver
        if receiver is None:
            self._tick.stop()
            return
        for fix in receiver.poll(time.monotonic() - self._began):
            self._last = fix
            if fix.speed is not None and fix.shown is not None:
                self._live.append((fix.t, fix.speed, fix.shown))
        self._show_live()
        if receiver.finished:
            self.finish()

    def _typed(self) -> None:
        """The helper read the device."""
        s, last = self._session, self._last
        value = self.typed.take()
        if value is None:
            return
        self.typed.clear()
        if last is None or last.speed is None:
            s.said.emit("watch", "The satellite has no lock just now; read again.")
            return
        self._live.append((last.t, last.speed, value * KMH))
        self._show_live()

    def _show_live(self) -> None:
        u, last = self._session.units, self._last
        if last is None:
            return
        if last.speed is None:
            self._big.setText("no lock")
            self._live_words.setText("Waiting for the sky.")
        else:
            self._big.setText(number(speed_value(last.speed, u), 1))
            shown = "" if last.shown is None else f"device shows {speed(last.shown, u, 0)}, "
            self._live_words.setText(
                f"{speed_unit(u)}; {shown}{last.t:.0f} s, {len(self._live)} points"
            )
        x = [speed_value(p[1], u) for p in self._live]
        y = [speed_value(p[2], u) for p in self._live]
        self.chart.show_picture(road_picture(x, y, [], None, speed_unit(u)))

    def finish(self) -> None:
        """End the recording and fit what came."""
        self._tick.stop()
        live, self._receiver = sorted(self._live), None
        if len(live) >= 5:
            t, true, shown = (tuple(c) for c in zip(*live, strict=True))
            log = (t, true, shown)
            self._add(self._file, log, "played through the simulated receiver")
        else:
            self._session.said.emit("watch", f"Only {len(live)} points: too few to fit.")
        self.refresh()
