"""The bench of suppositions: named states and the few quantities that matter."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import msgspec
from PySide6.QtCore import QSignalBlocker, Qt, QTimer
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QMenu, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from zombrel.behaviour.suppose import named, with_engine, with_gear, with_speed
from zombrel.job.model import Vehicle
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES, usual_range
from zombrel.job.state import State
from zombrel.job.typed.read import read as typed_figure
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.figure import Field
from zombrel.ui.widgets.paint import Pill, Slider, fill
from zombrel.ui.widgets.parts import button, column, holder, label, row
from zombrel.ui.widgets.tip import tip
from zombrel.units import (
    KMH,
    RPM,
    ZERO_C,
    Units,
    number,
    rpm,
    speed,
    speed_from,
    speed_unit,
    speed_value,
    temperature,
)
from zombrel.units.measure import LITRE, Kind, digits, unit, value_from, value_in

_ANY = partial(typed_figure, "number")


class Quantity(QWidget):
    """One quantity: name, value that can be typed, slider."""

    def __init__(
        self,
        session: Session,
        name: str,
        low: float,
        high: float,
        step: float,
        read: Callable[[], float],
        write: Callable[[float], None],
        words: Callable[[float], str],
        typed: Callable[[str], float] = _ANY,
    ) -> None:
        """``typed`` turns a typed text into the quantity as it is shown."""
        super().__init__()
        self._session, self._understood = session, typed
        self._low, self._step = low, step
        self._read, self._write, self._words = read, write, words
        self.name = name
        self._caption = label(name, "quiet")
        self.value = button("", self._edit, "value", f"{name}, type a value")
        self._typed: Field | None = None
        self._pages = QStackedWidget()
        self._pages.addWidget(self.value)
        self._pages.setFixedHeight(30)
        self.slider = Slider()
        self.slider.setAccessibleName(name)
        self.slider.setRange(0, round((high - low) / step))
        self.slider.setPageStep(max(1, round((high - low) / step / 12)))
        self.slider.valueChanged.connect(self._moved)
        self.slider.setFixedHeight(22)
        body = column(self._caption, self._pages, self.slider, spacing=0)
        self.setLayout(body)

    def refresh(self) -> None:
        value = self._read()
        with QSignalBlocker(self.slider):
            self.slider.setValue(round((value - self._low) / self._step))
        words = self._words(value)
        if words != self.value.text():
            self.value.setText(words)

    def _moved(self, position: int) -> None:
        self._write(self._low + position * self._step)

    def _edit(self) -> None:
        """Put a field in the value's place; made the first time it is wanted."""
        if self._typed is None:
            self._typed = Field(self._session)
            dress(self._typed)
            self._typed.setAccessibleName(f"{self.name}, typed")
            self._typed.returnPressed.connect(self._enter)
            self._typed.editingFinished.connect(self._leave)
            self._pages.addWidget(self._typed)
        words = self._words(self._read()).split()[0]
        self._typed.setText(words.replace("\u2212", "-").replace("\u00a0", ""))
        self._pages.setCurrentIndex(1)
        self._typed.selectAll()
        self._typed.setFocus(Qt.FocusReason.OtherFocusReason)

    def _enter(self) -> None:
        assert self._typed is not None  # it called
        try:
            value = self._understood(self._typed.text())
        except Problem as problem:
            self._typed.refuse(f"{self.name}: {problem}")
            return
        self._typed.accept()
        high = self._low + self.slider.maximum() * self._step
        self._write(min(max(value, self._low), high))
        self._pages.setCurrentIndex(0)
        self.slider.setFocus(Qt.FocusReason.OtherFocusReason)

    def _leave(self) -> None:
        self._pages.setCurrentIndex(0)


_READ: dict[str, tuple[str, float]] = {
    "pressure": ("pressure", 1000.0),
    "volume": ("volume", LITRE),
    "fraction": ("percent", 0.01),
}
"""Kind of quantity -> (what is read, SI size of its unit)."""


def _sensed(kind: Kind, units: Units, text: str) -> float:
    """A typed value of a sensed quantity, in the unit it is shown in."""
    if kind == "temperature":
        celsius = typed_figure("temperature", text, units.temperature)
        return value_in(kind, celsius + ZERO_C, units)
    what, si = _READ.get(kind, ("number", 1.0))
    shown = unit(kind, units)
    bare = "gal" if kind == "volume" and units.volume == "gal" else shown
    return value_in(kind, typed_figure(what, text, bare) * si, units)


def _held(kind: Kind, value: float) -> float:
    """A value as a state holds it: a gear is a whole one."""
    return round(value) if kind == "gear" else value


def _gear(n: int) -> str:
    """First, second … as one says it of a gear."""
    return f"{n}{ {1: 'st', 2: 'nd', 3: 'rd'}.get(n, 'th') }"


class BenchPanel(QWidget):
    """Suppose the car is …"""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setAccessibleName("Bench of suppositions")
        self._full = QWidget()
        body = QVBoxLayout(self._full)
        body.setContentsMargins(24, 8, 24, 0)
        body.setSpacing(4)
        self._full.hide()
        self._state = button("", self._ask_state, "primary", "Supposed state")
        self._figures, self._said = label("", "strong"), ""
        self._open = button("", self.toggle, "plain")
        self._figures.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        strip = row(label("Suppose", "quiet"), self._state, self._figures, self._open, spacing=10)
        strip.setStretch(2, 1)
        strip.setContentsMargins(16, 4, 12, 4)
        self.setLayout(column(self._full, strip, spacing=0))
        self._say_open()
        self._chips_row = row(label("Suppose the car is", "quiet"), spacing=7)
        self._chips_row.addSpacing(4)
        self._chips: dict[str, Pill] = {}
        for name, _ in named(session.job.vehicle):
            chip = button(name, partial(self._choose, name), "plain", f"Suppose: {name}")
            self._chips[name] = chip
            self._chips_row.addWidget(chip)
        self._chips_row.addStretch(1)
        body.addLayout(self._chips_row)
        self._row = row(spacing=20)
        self._quantities: list[Quantity] = []
        self._built: tuple[object, ...] = ()
        self.brake = button("Brake", self._toggle_brake, "toggle", "Brake pedal pressed")
        self.clutch = button("Clutch", self._toggle_clutch, "toggle", "Clutch pedal pressed")
        self.third = button("", self._toggle_third, "toggle")
        for b in (self.brake, self.clutch, self.third):
            b.setCheckable(True)
            b.setMinimumWidth(92)
        self.third.hide()
        self._row.addWidget(holder(column(self.brake, self.clutch, spacing=5)))
        self._row.addWidget(self.third)
        session.watching.connect(self.refresh)
        body.addLayout(self._row)

    # ---- the strip

    def toggle(self) -> None:
        """Open the whole bench, or leave one line of it."""
        self._full.setVisible(self._full.isHidden())
        self._say_open()
        self.refresh()

    def _say_open(self) -> None:
        words = "Open the bench" if self._full.isHidden() else "Close the bench"
        self._open.setText(f"{words}   Ctrl B")
        self._open.setAccessibleName(words)

    def _ask_state(self) -> None:
        menu = QMenu(self)
        dress(menu)
        for name, _ in named(self._v()):
            act = menu.addAction(name)
            act.triggered.connect(lambda _=False, n=name: self._choose(n))
        menu.popup(self._state.mapToGlobal(self._state.rect().topLeft()))

    def _show_strip(self) -> None:
        s, state = self._session, self._session.state
        self._state.setText(f"{s.state_name or 'As set by hand'}  ▾")
        self._state.setAccessibleName(f"Supposed state: {s.state_name or 'set by hand'}")
        words = [speed(state.speed, s.units, 0), rpm(state.engine)]
        if self._v().ratios:
            words.append(_gear(state.gear) if state.gear else "neutral")
        words += [f"{state.volts:.1f} V", temperature(state.ambient, s.units)]
        words += [w for w, on in (("brake", state.brake), ("clutch", state.clutch)) if on]
        self._said = "   ·   ".join(words)
        self._fit_strip()

    def _fit_strip(self) -> None:
        """As much of the supposed figures as there is room for; the tip has them all."""
        metrics = self._figures.fontMetrics()
        room = max(self._figures.width(), 40)
        fit = metrics.elidedText(self._said, Qt.TextElideMode.ElideRight, room)
        self._figures.setText(fit)
        tip(self._figures, self._said)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        QTimer.singleShot(0, self, self._fit_strip)

    # ---- what can be supposed

    def _build(self) -> None:
        """Make the quantities anew when units, ratios or the system changed."""
        s = self._session
        v = s.job.vehicle
        key = (s.units, v.ratios, v.system_v, v.top_mps, v.redline_rps, s.watched)
        if key == self._built:
            return
        self._built = key
        for q in self._quantities:
            self._row.removeWidget(q)
            q.hide()
            q.setParent(None)
            q.deleteLater()
        u = s.units
        top = round(speed_value(v.top_mps * 1.1, u) / 10) * 10
        red = round((v.redline_rps or 6500 * RPM) / RPM * 1.05 / 100) * 100
        cold, hot, sign = (-20, 50, "°C") if u.temperature == "C" else (0, 120, "°F")
        self._quantities = [
            Quantity(
                s,
                "Speed",
                0,
                top,
                1,
                lambda: speed_value(s.state.speed, u),
                lambda x: self._put(with_speed(self._v(), s.state, speed_from(x, u))),
                lambda x: f"{number(x)} {speed_unit(u)}",
                lambda text: speed_value(typed_figure("speed", text, speed_unit(u)) * KMH, u),
            ),
            Quantity(
                s,
                "Engine",
                0,
                red,
                10,
                lambda: s.state.engine / RPM,
                lambda x: self._put(with_engine(self._v(), s.state, x * RPM)),
                lambda x: f"{number(x)} rpm",
                partial(typed_figure, "rpm"),
            ),
            Quantity(
                s,
                "Gear",
                0,
                max(1, len(v.ratios)),
                1,
                lambda: s.state.gear,
                lambda x: self._put(with_gear(self._v(), s.state, round(x))),
                lambda x: f"{x:.0f}" if x else "neutral",
            ),
            Quantity(
                s,
                "System",
                6 * v.system_v / 12,
                15.5 * v.system_v / 12,
                0.1,
                lambda: s.state.volts,
                lambda x: self._change(volts=x),
                lambda x: f"{x:.1f} V",
                partial(typed_figure, "voltage"),
            ),
            Quantity(
                s,
                "Outside air",
                cold,
                hot,
                1,
                lambda: s.state.ambient - ZERO_C
                if u.temperature == "C"
                else (s.state.ambient - ZERO_C) * 1.8 + 32,
                lambda x: self._change(
                    ambient=(x if u.temperature == "C" else (x - 32) / 1.8) + ZERO_C
                ),
                lambda x: f"{number(x)} {sign}",
                partial(_sensed, "temperature", u),
            ),
            self._watched()
            or Quantity(
                s,
                "Tyre wear",
                -1.5,
                2.5,
                0.1,
                lambda: s.state.wear * 100,
                lambda x: self._change(wear=x / 100),
                lambda x: f"{number(x, 1)} %",
                partial(typed_figure, "percent"),
            ),
        ]
        for i, q in enumerate(self._quantities):
            self._row.insertWidget(i, q, 1)

    def _watched(self) -> Quantity | None:
        """The quantity of the chain that is looked at, where it is none of the others."""
        s = self._session
        sheet = QUANTITIES.get(s.watched)  # type: ignore[call-overload]
        if sheet is None or sheet.group != "sensed" or s.watched == "volts":
            return None
        u, kind = s.units, sheet.kind
        v = s.job.vehicle
        low, high = usual_range(s.watched, v.tank_l, v.system_v)  # type: ignore[arg-type]
        ends = (value_in(kind, low, u), value_in(kind, high, u))
        places = digits(kind, u)
        return Quantity(
            s,
            sheet.title,
            ends[0],
            ends[1],
            (ends[1] - ends[0]) / 240,
            lambda: value_in(kind, float(getattr(s.state, sheet.field)), u),
            lambda x: self._change(**{sheet.field: _held(kind, value_from(kind, x, u))}),
            lambda x: f"{number(x, places)} {unit(kind, u)}".strip(),
            partial(_sensed, kind, u),
        )

    def _v(self) -> Vehicle:
        return self._session.job.vehicle

    def _change(self, **parts: float) -> None:
        self._put(msgspec.structs.replace(self._session.state, **parts))

    def _put(self, state: State) -> None:
        limited = msgspec.structs.replace(
            state, speed=min(state.speed, 400 * KMH), engine=min(state.engine, 12000 * RPM)
        )
        self._session.suppose(limited)

    def _choose(self, name: str) -> None:
        states = dict(named(self._session.job.vehicle))
        self._session.suppose(states[name], name)

    def _toggle_brake(self) -> None:
        s = self._session
        s.suppose(msgspec.structs.replace(s.state, brake=not s.state.brake), s.state_name)

    def _toggle_clutch(self) -> None:
        s = self._session
        s.suppose(msgspec.structs.replace(s.state, clutch=not s.state.clutch), s.state_name)

    def _toggle_third(self) -> None:
        s = self._session
        name = QUANTITIES[s.watched].field  # type: ignore[index]
        on = not getattr(s.state, name)
        s.suppose(msgspec.structs.replace(s.state, **{name: on}), s.state_name)

    def _show_third(self) -> None:
        """An on/off quantity that is looked at gets a switch of its own."""
        s = self._session
        sheet = QUANTITIES.get(s.watched)  # type: ignore[call-overload]
        wanted = sheet is not None and sheet.group == "contact"
        wanted = wanted and s.watched not in ("brake", "clutch")
        self.third.setVisible(wanted)
        if sheet is not None and wanted:
            self.third.setText(sheet.title)
            self.third.setAccessibleName(f"{sheet.title} on")
            self.third.setChecked(bool(getattr(s.state, sheet.field)))

    def refresh(self) -> None:
        """Show the state."""
        self._show_strip()
        if self._full.isHidden():
            return
        self._build()
        self._show_third()
        state = self._session.state
        for name, chip in self._chips.items():
            chip.set_on(name == self._session.state_name)
        for q in self._quantities:
            q.refresh()
        self.brake.setChecked(state.brake)
        self.clutch.setChecked(state.clutch)

    def paintEvent(self, event: QPaintEvent) -> None:
        t = self._session.theme
        p = QPainter(self)
        fill(p, self.rect(), t.panel)
        p.setPen(QColor(t.line))
        p.drawLine(0, 0, self.width(), 0)
