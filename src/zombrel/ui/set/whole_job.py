"""Set: what belongs to the whole job: shift points, ignition timing, interlocks, fuel blend."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout

from zombrel.actions.notes import put_fact, timing_seen
from zombrel.behaviour.aims_engine import power
from zombrel.behaviour.gearing import gears
from zombrel.behaviour.spark_supply import supplied
from zombrel.behaviour.suppose import named
from zombrel.behaviour.tables import Table
from zombrel.calibrate import advance, blend, shift, tyre
from zombrel.findings import explain_set
from zombrel.findings.explain_set import BSFC
from zombrel.job.model import by_id
from zombrel.job.pairs import parse
from zombrel.job.problem import Problem
from zombrel.plots.picture import Axis, Line, Picture
from zombrel.plots.settings import gears_picture, timing_picture
from zombrel.ui.session import Session
from zombrel.ui.set.cards import Card, TableView
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Words
from zombrel.ui.widgets.parts import button, label, row
from zombrel.ui.widgets.plot import Plot
from zombrel.ui.widgets.why import show_why
from zombrel.units import RPM, number, speed, speed_value
from zombrel.units.measure import scale, unit


def _said(session: Session) -> tuple[Words, QHBoxLayout, Mark, Words]:
    mark, words = Mark("open", 18), label("", "", wrap=True)
    line = row(mark, words, spacing=8)
    line.setStretch(1, 1)
    return label("", "quiet", wrap=True), line, mark, words


class GearsCard(Card):
    """Wheel torque in every gear, where to shift, and what the revs must be on the way down."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._say = label("", "quiet", wrap=True)
        self.plot = Plot(session)
        self.plot.setMinimumHeight(280)
        self._table = TableView()
        self._down = TableView()
        body = QVBoxLayout(self)
        body.setContentsMargins(14, 12, 14, 12)
        body.setSpacing(8)
        body.addWidget(label("Gears: wheel torque, shift points, rev-match", "head"))
        body.addWidget(self._say)
        body.addWidget(self.plot, 1)
        body.addWidget(self._table)
        self._down_head = label("", "quiet")
        body.addWidget(self._down_head)
        body.addWidget(self._down)
        body.addLayout(row(button("Why?", self._why, name="Why: gears"), 1))

    def refresh(self) -> None:
        s = self._session
        v = s.job.vehicle
        try:
            picture = gears_picture(v, s.units, speed_value(s.state.speed, s.units))
            every = gears(v)
        except Problem as problem:
            self._say.setText(str(problem))
            for w in (self.plot, self._table, self._down, self._down_head):
                w.hide()
            return
        for w in (self.plot, self._table, self._down, self._down_head):
            w.show()
        self._say.setText("Shift where the next gear pulls harder; a dot marks each.")
        self.plot.show_picture(picture)
        self._table.show_rows(
            ("up-shift", "best at rpm", "rpm after", "rise rpm/s", "lamp rpm"),
            tuple(
                (
                    f"{g.gear} to {g.gear + 1}",
                    number(g.at / RPM) + " (redline)" * g.limited,
                    number(g.after / RPM),
                    number(g.rise / RPM),
                    number(g.lamp / RPM),
                )
                for g in every
            ),
        )
        around = tyre.parse(v.tyre).rolling_circumference
        final = v.final_drive or 1.0
        at = s.state.speed
        red = v.redline_rps or 1e9
        cells = []
        for i, ratio in enumerate(v.ratios):
            n = shift.matched(at, around, final, ratio)
            over = " over the redline" if n > red else ""
            cells.append((f"gear {i + 1}", number(n / RPM) + over))
        self._down_head.setText(f"At {speed(at, s.units)} each gear wants these revs")
        self._down.show_rows(("down-shift into", "target rpm"), tuple(cells))

    def _why(self) -> None:
        s = self._session
        show_why(explain_set.shift_points(s.job), self.window(), s.units)

    def take_focus(self) -> None:
        self.plot.setFocus(Qt.FocusReason.OtherFocusReason)


class TimingCard(Card):
    """Initial, mechanical and vacuum advance, with the points measured by lamp over them."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._say = label("", "quiet", wrap=True)
        self.plot = Plot(session)
        self.plot.setMinimumHeight(280)
        self.plot.dropped.connect(self._dropped)
        self._seen = QLineEdit()
        self._seen.setAccessibleName("Measured by lamp, rpm and degrees")
        self._seen.editingFinished.connect(self._typed)
        self._table = TableView()
        self.shift = button("", self._shift_initial)
        body = QVBoxLayout(self)
        body.setContentsMargins(14, 12, 14, 12)
        body.setSpacing(8)
        body.addWidget(label("Ignition advance against the lamp", "head"))
        body.addWidget(
            label(
                "Engine running: no loose sleeves or leads near belts, fans start by themselves; "
                "ignition leads carry tens of thousands of volts.",
                "watch",
                wrap=True,
            )
        )
        body.addWidget(self._say)
        body.addWidget(self.plot, 1)
        body.addWidget(label("Measured by lamp, rpm : degrees, with commas between", "quiet"))
        body.addWidget(self._seen)
        body.addWidget(self._table)
        why = button("Why?", self._why, name="Why: ignition advance")
        body.addLayout(row(self.shift, why, 1))
        self._by = 0.0

    def _why(self) -> None:
        s = self._session
        show_why(explain_set.timing(s.job, s.state.engine), self.window(), s.units)

    def refresh(self) -> None:
        v = self._session.job.vehicle
        self.shift.hide()
        try:
            picture = timing_picture(v)
        except Problem as problem:
            self._say.setText(str(problem))
            self.plot.hide()
            return
        self.plot.show()
        self.plot.show_picture(picture)
        if not self._seen.hasFocus():
            self._seen.setText(", ".join(f"{n / RPM:.0f}:{deg:g}" for n, deg in v.timing_seen))
        checks, self._by = advance.by_lamp(v.timing_seen, v.initial_deg or 0.0, v.mechanical, 0.0)
        self._table.show_rows(
            ("rpm", *(number(c.speed / RPM) for c in checks)),
            (
                ("by lamp", *(f"{c.seen:g}°" for c in checks)),
                ("should be", *(f"{c.expected:.1f}°" for c in checks)),
                ("off", *(f"{c.off:+.1f}°".replace("-", "\u2212") for c in checks)),
            )
            if checks
            else (),
        )
        if not checks:
            self._say.setText("Warm engine, vacuum hose off and plugged, lamp on cylinder 1.")
            return
        worst = max(checks, key=lambda c: abs(c.off))
        self._say.setText(
            f"Worst {worst.off:+.1f}° at {number(worst.speed / RPM)} rpm; the middle of all is "
            f"{self._by:+.1f}°, which turning the whole adjusts.".replace("-", "\u2212")
        )
        if abs(self._by) >= 0.25:
            self.shift.setText(f"Note the initial as {(v.initial_deg or 0) + self._by:.1f}°")
            self.shift.show()

    def take_focus(self) -> None:
        self.plot.setFocus(Qt.FocusReason.OtherFocusReason)

    def _dropped(self, i: int, x: float, y: float) -> None:
        seen = list(self._session.job.vehicle.timing_seen)
        seen[i] = (x * RPM, round(y, 1))
        self._put(tuple(sorted(seen)), "moved")

    def _put(self, seen: tuple[tuple[float, float], ...], how: str) -> None:
        self._session.do(f"Lamp points {how}", timing_seen(seen))

    def _typed(self) -> None:
        text = self._seen.text().strip()
        now = ", ".join(
            f"{n / RPM:.0f}:{deg:g}" for n, deg in self._session.job.vehicle.timing_seen
        )
        if text == now:
            return
        try:
            pairs = parse(text, "lamp points", least=1) if text else ()
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._put(tuple(sorted((n * RPM, deg) for n, deg in pairs)), "typed")

    def _shift_initial(self) -> None:
        v = self._session.job.vehicle
        value = round((v.initial_deg or 0.0) + self._by, 1)
        self._session.do(f"Initial advance {value:g}°", put_fact("vehicle.initial_deg", value))


class SupplyCard(Card):
    """A spark box's current over engine speed, and the volts that reach it while cranking."""

    def __init__(self, session: Session, device: str) -> None:
        super().__init__(session)
        self._device = device
        self._say, self._mark_row, self._mark, self._words = _said(session)
        self.plot = Plot(session)
        self.plot.setMinimumHeight(240)
        self._table = TableView()
        body = QVBoxLayout(self)
        body.setContentsMargins(14, 12, 14, 12)
        body.setSpacing(8)
        self._head = label("", "head", wrap=True)
        body.addWidget(self._head)
        body.addWidget(self._say)
        body.addLayout(self._mark_row)
        body.addWidget(self.plot, 1)
        body.addWidget(self._table)
        body.addLayout(row(button("Why?", self._why, name="Why: supply of the spark box"), 1))

    def refresh(self) -> None:
        s = self._session
        device = by_id(s.job.devices, self._device)
        if device is None:
            return
        v = s.job.vehicle
        self._head.setText(f"{device.name}: current and supply")
        states = dict(named(v))
        cranking = states["Cranking"]
        top = v.redline_rps or device.sheet.full_at_rps
        try:
            crank = supplied(s.job, device, cranking.engine, cranking.volts)
            steps = [
                supplied(s.job, device, n, v.charging_v) for n in (v.idle_rps or 14.0, 50.0, top)
            ]
            line = tuple(
                (x.engine / RPM, x.amps)
                for x in (supplied(s.job, device, top * i / 20, v.charging_v) for i in range(21))
            )
        except Problem as problem:
            self._say.setText(str(problem))
            self.plot.hide()
            return
        spare = crank.volts - device.sheet.min_v
        good = spare >= 0
        self._mark.show_mark("good" if spare > 0.2 else "watch" if good else "trouble")
        self._words.setText(
            f"Cranking leaves it {crank.volts:.2f} V; it resets below {device.sheet.min_v:g} V: "
            + (f"{spare:.2f} V to spare." if good else "it would reset just when it must spark.")
        )
        self._say.setText("Battery straight to the box, thick and short; current rises with rpm.")
        self.plot.show_picture(
            Picture(
                Axis("engine rpm", 0, top / RPM),
                Axis("A", 0, line[-1][1] * 1.15),
                (Line(line, "current"),),
                (),
                (),
                s.state.engine / RPM,
                f"Current of {device.name} over engine speed.",
            )
        )
        rows = [("cranking", crank)] + [("", x) for x in steps]
        self._table.show_rows(
            ("", "rpm", "current", "lost on the wires", "at the box"),
            tuple(
                (
                    name or "running",
                    number(x.engine / RPM),
                    f"{x.amps:.1f} A",
                    f"{x.drop * 1000:.0f} mV",
                    f"{x.volts:.2f} V",
                )
                for name, x in rows
            ),
        )

    def _why(self) -> None:
        s = self._session
        device = by_id(s.job.devices, self._device)
        if device is not None:
            show_why(explain_set.supply(s.job, device), self.window(), s.units)

    def take_focus(self) -> None:
        self.plot.setFocus(Qt.FocusReason.OtherFocusReason)


class TableCard(Card):
    """A truth table that a device's function must follow."""

    def __init__(self, session: Session, table: Table, note: str) -> None:
        super().__init__(session)
        view = TableView()
        view.show_table(table)
        body = QVBoxLayout(self)
        body.setContentsMargins(14, 12, 14, 12)
        body.setSpacing(8)
        body.addWidget(label(table.title, "head"))
        body.addWidget(label(note, "quiet", wrap=True))
        body.addWidget(view)
        body.addStretch(1)

    def refresh(self) -> None:
        """Nothing of it depends on the job."""


class BlendCard(Card):
    """Mixing to a target, what the engine then needs, and what pump and injectors can feed."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._fields: dict[str, FigureField] = {}
        asked = (
            ("now", "in the tank now", "20"),
            ("now_pct", "its ethanol, %", "12"),
            ("add_pct", "ethanol of what is added, %", "85"),
            ("target", "wanted, %", "40"),
            ("flow", "pump or injectors give an hour", "90"),
        )
        body = QVBoxLayout(self)
        body.setContentsMargins(14, 12, 14, 12)
        body.setSpacing(8)
        body.addWidget(label("Fuel blend: mixing, mixture, headroom", "head"))
        body.addWidget(
            label(
                "Fuel and sparks: no hot work, extinguisher at hand. Do not start the engine "
                "between a change of hardware and the new calibration.",
                "watch",
                wrap=True,
            )
        )
        for key, words, start in asked:
            field = FigureField(session, "number", words)
            field.setText(start)
            field.setMaximumWidth(90)
            field.textChanged.connect(self.refresh)
            self._fields[key] = field
            name = label(words, "quiet")
            name.setFixedWidth(220)
            body.addLayout(row(name, field, 1))
        self._table = TableView()
        self._say = label("", "watch", wrap=True)
        body.addWidget(self._say)
        body.addWidget(self._table)
        body.addLayout(row(button("Why?", self._why, name="Why: fuel blend"), 1))
        body.addStretch(1)

    def _given(self) -> dict[str, float] | None:
        taken = {k: f.take(quiet=True) for k, f in self._fields.items()}
        found = {k: value for k, value in taken.items() if value is not None}
        return found if len(found) == len(taken) else None

    def _why(self) -> None:
        s = self._session
        given = self._given()
        if given is None:
            s.said.emit("trouble", "Fill in every field with a number first.")
            return
        show_why(
            explain_set.fuel_blend(
                s.job, given["target"] / 100, given["flow"] / (scale("volume", s.units) * 1e-3)
            ),
            self.window(),
            s.units,
        )

    def refresh(self) -> None:
        given = self._given()
        if given is None:
            self._say.setText("Fill in every field with a number.")
            return
        v = self._session.job.vehicle
        rows: list[tuple[str, ...]] = []
        u = self._session.units
        name, k = unit("volume", u), scale("volume", u) * 1e-3
        try:
            tank = v.tank_l * k if v.tank_l else given["now"]
            mixed = blend.mix(
                given["now"],
                given["now_pct"] / 100,
                given["add_pct"] / 100,
                given["target"] / 100,
                tank,
            )
            said = (
                f"{mixed.add:.1f} {name}"
                if mixed.add is not None and mixed.possible
                else "cannot be"
            )
            rows.append(("to add", said))
            rows.append(
                (f"filled to the brim, {tank:.4g} {name}", f"{mixed.full * 100:.0f} % ethanol")
            )
            part = given["target"] / 100
            rows.append(("stoichiometric ratio then", f"{blend.stoichiometric(part):.2f} : 1"))
            rows.append(("fuel volume over petrol", f"{blend.flow_factor(part):.2f} ×"))
            watts = power(v)
            petrol = blend.fuel_flow(watts, BSFC, 0.0) * 3.6e6 * k
            rows.append((f"need at {watts / 1000:.0f} kW on petrol", f"{petrol:.3g} {name}/h"))
            need = petrol * blend.flow_factor(part)
            rows.append((f"need on {given['target']:g} %", f"{need:.3g} {name}/h"))
            most = blend.highest_blend(petrol, given["flow"])
            words = "not even petrol" if most is None else f"{most * 100:.0f} % ethanol"
            rows.append(("highest blend it feeds at full load", words))
            short = need > given["flow"]
            self._say.setText(
                f"{given['flow']:g} {name}/h is too little for {given['target']:g} % at full load."
                if short
                else ""
            )
        except Problem as problem:
            self._say.setText(str(problem))
        self._table.show_rows(("", ""), tuple(rows))

    def take_focus(self) -> None:
        self._fields["now"].setFocus(Qt.FocusReason.OtherFocusReason)
