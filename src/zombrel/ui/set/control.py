"""Set: one control of a device, where it should stand and why, on the plot that shows it."""

from __future__ import annotations

import math

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QVBoxLayout

from zombrel.actions import notes
from zombrel.actions.signals import put_setting
from zombrel.behaviour import tables
from zombrel.behaviour.aim import wish_id, wished
from zombrel.behaviour.gearing import gears, held_launch
from zombrel.behaviour.wanted import (
    Wanted,
    harms,
    off_words,
    stands,
    wanted,
)
from zombrel.calibrate import resistor_code
from zombrel.calibrate.settings.setting import (
    from_si,
    moves,
    nearest,
    options,
    said,
    to_si,
    value_of,
)
from zombrel.job.model import Chain, Device, by_id
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import Control, Plug
from zombrel.job.typed.kinds import BY_UNIT
from zombrel.plots.picture import Picture
from zombrel.plots.settings import curve_picture, plug_picture, rpm_picture, warnings
from zombrel.signals.study import study
from zombrel.signals.ways import air
from zombrel.ui.session import Session
from zombrel.ui.set.cards import Card, TableView, marked, needs_read_back, read_back
from zombrel.ui.set.touch import TouchView
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.parts import button, label, row
from zombrel.ui.widgets.plot import Plot
from zombrel.ui.widgets.why import show_why
from zombrel.units import number, prefixed
from zombrel.units.measure import value_from, value_in

ON_CURVE = ("warn high", "warn low", "hysteresis", "delay", "reserve")
MINDED = ("launch", "limit", "engage", "gain", "gap", "idle", "sense")
"""Controls that make something move or spark: the device's cautions stand beside them."""
ON_TORQUE = ("launch", "limit", "shift")


class ControlCard(Card):
    """One control: the object, the order to press, the wish, the plot or table behind it."""

    def __init__(self, session: Session, device: str, pin: str) -> None:
        super().__init__(session)
        self._device, self._pin = device, pin
        self._head, self._result = label("", "head", wrap=True), label("", "quiet", wrap=True)
        head, self._mark, self._words = marked(session)
        self.touch = TouchView(session)
        self.touch.moved.connect(self._moved)
        self._order = label("", "strong13", wrap=True)
        self._caution = label("", "watch", wrap=True)
        self._wish = FigureField(session, "number", "", self._wished_in)
        self._wish.setMaximumWidth(120)
        self._wish.editingFinished.connect(self._wished)
        self._wish_unit = label("", "quiet")
        self._set = button("", self._set_wanted, "primary")
        self._back = button("", self._confirm)
        self._why = button("Why?", self._ask_why)
        self.plot = Plot(session)
        self.plot.setMinimumHeight(230)
        self.plot.slid.connect(self._slid)
        self._table = TableView()
        self._table_head = label("", "quiet", wrap=True)
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self._head)
        right.addWidget(self._result)
        right.addLayout(head)
        right.addWidget(self._caution)
        right.addWidget(self._order)
        self._wish_word = label("Wanted", "quiet")
        right.addLayout(row(self._wish_word, self._wish, self._wish_unit, 1))
        right.addLayout(row(self._set, self._back, self._why, 1))
        right.addStretch(1)
        top = row(self.touch, right, spacing=18)
        top.setStretch(1, 1)
        self._beside = top
        top.setAlignment(self.touch, Qt.AlignmentFlag.AlignTop)
        body = QVBoxLayout(self)
        body.setContentsMargins(14, 12, 14, 12)
        body.setSpacing(10)
        body.addLayout(top)
        body.addWidget(self.plot, 1)
        body.addWidget(self._table_head)
        body.addWidget(self._table)
        body.addStretch(0)

    def _parts(self) -> tuple[Device, Control]:
        device = by_id(self._session.job.devices, self._device)
        control = device.sheet.control(self._pin) if device is not None else None
        assert device is not None  # the stage lists only these
        assert control is not None
        return device, control

    def _want(self) -> tuple[Wanted | None, str]:
        device, control = self._parts()
        try:
            return wanted(self._session.job, device, control), ""
        except Problem as problem:
            return None, str(problem)

    def refresh(self) -> None:
        s = self._session
        device, control = self._parts()
        want, trouble = self._want()
        at = device.setting(control.pin) or ""
        aim = want.at if want else ""
        where = f", {device.sheet.orientation}" if device.sheet.orientation else ""
        self._head.setText(f"{device.name}, {control.label}{where}")
        self._result.setText(s.words(want.reason.result if want else trouble))
        self.touch.show_setting(control.setting, at, aim, f"{device.name} {control.pin}")
        mark, words = standing(device, control, want)
        self._mark.show_mark(mark)
        self._words.setText(words)  # type: ignore[attr-defined]
        steps = moves(control.setting, at, aim) if want else ()
        order = "; ".join(f"{i + 1}. {step}" for i, step in enumerate(steps))
        self._order.setText(f"In this order: {order}." if steps else "")
        self._order.setVisible(bool(steps))
        minds = control.means in MINDED and device.sheet.cautions
        self._caution.setText(" ".join(device.sheet.cautions))
        self._caution.setVisible(bool(minds))
        self._show_wish(control)
        self._set.setVisible(want is not None and at != aim)
        self._set.setText(f"Set {said(control.setting, aim)}")
        self._set.setAccessibleName(f"{device.name} {control.pin}: set {aim}")
        self._back.setVisible(bool(at) and needs_read_back(s, device.id, control.pin))
        self._back.setText(f"I read it back: {said(control.setting, at)}")
        self._back.setAccessibleName(f"{device.name} {control.pin}: I read it back, {at}")
        self._why.setVisible(want is not None)
        self._why.setAccessibleName(f"Why: {device.name} {control.pin}")
        self._show_picture(device, control)

    def _show_wish(self, control: Control) -> None:
        device, _ = self._parts()
        wish = wished(self._session.job, device, control)
        unit = control.setting.unit
        for part in (self._wish_word, self._wish, self._wish_unit):
            part.setVisible(not control.stands_for)  # what there is, not what is wished
        if not self._wish.hasFocus():
            self._wish.setText("" if wish is None else f"{from_si(unit, wish):.6g}")
        self._wish.setPlaceholderText("as worked out")
        self._wish.setAccessibleName(f"{device.name} {control.pin}: wanted, in {unit}")
        self._wish_unit.setText(f"{unit if unit != 'step' else 'position'}; empty: as worked out")

    # ---- the picture behind it

    def _show_picture(self, device: Device, control: Control) -> None:
        picture, heading, rows = None, "", None
        try:
            if control.means in ON_TORQUE:
                picture = rpm_picture(self._session.job, device)
            elif control.means in ON_CURVE:
                picture = self._warned(device, control)
            elif isinstance(control.setting, Plug):
                want, _ = self._want()
                at = device.setting(control.pin) or ""
                picture = plug_picture(control.setting, at, want.at if want else "")
        except Problem as problem:
            heading = str(problem)
        table = _truth(device, control)
        if table is not None:
            heading = f"{table.title}; the rows where nothing may happen are tried first"
        if control.means == "gap":
            heading += (
                ". With a two-track pedal the blip must move both: first = 2 × second within 0.25 V"
            )
        self.plot.setVisible(picture is not None)
        if picture is not None:
            self.plot.show_picture(picture)
        if table is None:
            heading, rows = self._numbers(device, control, heading)
        self._table_head.setText(heading)
        self._table_head.setVisible(bool(heading))
        self._table.setVisible(table is not None or rows is not None)
        if table is not None:
            self._table.show_table(table)
        elif rows is not None:
            self._table.show_rows(*rows)

    def _warned(self, device: Device, control: Control) -> Picture | None:
        chain = self._chain(device, control.of)
        sheet = device.sheet.input(control.of)
        if chain is None or sheet is None:
            return None
        s = self._session
        kind = QUANTITIES[sheet.quantity].kind
        studied = study(s.job, chain, "straight pieces", count=0)
        r = s.assessment.chain(chain.id)
        return curve_picture(
            studied,
            sheet,
            kind,
            s.units,
            value_in(kind, r.true, s.units),
            warnings(device, sheet, kind, s.units),
            air(sheet),
            direct=False,
        )

    def _chain(self, device: Device, pin: str) -> Chain | None:
        for chain in self._session.job.chains:
            if (chain.device, chain.pin) == (device.id, pin):
                return chain
        return None

    def _numbers(
        self, device: Device, control: Control, heading: str
    ) -> tuple[str, tuple[tuple[str, ...], tuple[tuple[str, ...], ...]] | None]:
        """A table of figures that belongs to the control, with its heading."""
        v = self._session.job.vehicle
        if control.means == "shift":
            try:
                rows = tuple(
                    (
                        f"{g.gear} to {g.gear + 1}",
                        number(g.at * 60) + (" (redline)" * g.limited),
                        number(g.after * 60),
                        number(g.rise * 60),
                        number(g.lamp * 60),
                    )
                    for g in gears(v)
                )
            except Problem as problem:
                return str(problem), None
            heads = ("gear", "best shift rpm", "rpm after", "rise rpm/s", "lamp rpm")
            return "Where the next gear's wheel torque overtakes, and how early to light", (
                heads,
                rows,
            )
        if control.means == "launch" and v.gearbox == "automatic":
            try:
                return f"The brakes hold the converter up to {held_launch(v) * 60:.0f} rpm", None
            except Problem as problem:
                return str(problem), None
        if isinstance(control.setting, Plug):
            return self._neighbours(device, control, control.setting)
        return heading, None

    def _neighbours(
        self, device: Device, control: Control, plug: Plug
    ) -> tuple[str, tuple[tuple[str, ...], tuple[tuple[str, ...], ...]]]:
        """The parts around the wanted one, with what each gives within its tolerance."""
        law = resistor_code.learn(plug.known, plug.vref)
        table = options(plug)
        want, _ = self._want()
        at = want.at if want else table.names[len(table.names) // 2]
        i = table.names.index(at) if at in table.names else 0
        rows = []
        for name in table.names[max(0, i - 2) : i + 3]:
            ohm = float(name)
            parts = [ohm * (1 + side * plug.tolerance) for side in (-1, 1)]
            ends = sorted(one.value(r) for one in (law, *law.others) for r in parts)
            rows.append(
                (prefixed(ohm, "Ω", 2), f"{law.value(ohm):.0f}", f"{ends[0]:.0f} to {ends[-1]:.0f}")
            )
        fine = resistor_code.part(law, want.target if want else law.value(float(at)), "E96", 0.01)
        rows.append(
            (
                f"{number(fine.ohm)} Ω, E96 1 %",
                f"{fine.value:.0f}",
                f"{fine.low:.0f} to {fine.high:.0f}",
            )
        )
        pull_up = prefixed(law.pull_up, "Ω", 2)
        if law.open:
            low, high = (prefixed(one.pull_up, "Ω", 2) for one in law.others)
            pull_up += f" taken, low and high are for {low} to {high}: measure another pair"
        head = f"E24 parts around it, ±{plug.tolerance * 100:g} %; pull-up {pull_up}"
        return head, (("part", control.setting.unit, "within its tolerance"), tuple(rows))

    # ---- doing

    def take_focus(self) -> None:
        self.touch.setFocus(Qt.FocusReason.OtherFocusReason)

    def _moved(self, at: str) -> None:
        device, control = self._parts()
        self._session.do(
            f"{device.name} {control.pin} to {at}", put_setting(device, control.pin, at)
        )

    def _slid(self, key: str, x: float) -> None:
        """A threshold was let go on the plot: the control goes to the nearest position."""
        device, _ = self._parts()
        control = device.sheet.control(key)
        if control is None:
            return
        value = x
        sheet = device.sheet.input(control.of)
        if control.means in ON_CURVE and sheet is not None:
            kind = QUANTITIES[sheet.quantity].kind
            value = from_si(control.setting.unit, value_from(kind, x, self._session.units))
        at, _ = nearest(control.setting, value)
        if at != device.setting(key):
            self._session.do(f"{device.name} {key} to {at}", put_setting(device, key, at))
        else:
            self.refresh()

    def _set_wanted(self) -> None:
        want, _ = self._want()
        if want is not None:
            self._moved(want.at)

    def _confirm(self) -> None:
        device, control = self._parts()
        read_back(self._session, device.id, control.pin, f"{device.name} {control.pin}")

    def _wished_in(self) -> str:
        unit = self._parts()[1].setting.unit
        return unit if unit in BY_UNIT else ""

    def _wished(self) -> None:
        device, control = self._parts()
        text = self._wish.text().strip()
        old = wished(self._session.job, device, control)
        unit = control.setting.unit
        if not text:
            if old is not None:
                self._session.do(
                    f"{control.label} as worked out",
                    notes.unwish(wish_id(device, control)),
                )
            return
        self._wish.what = BY_UNIT.get(unit, "number")
        typed = self._wish.take()
        if typed is None:
            return
        # pressures are read in kPa, and a device's own scale is in bar
        value = to_si(unit, typed / 100 if unit == "bar" else typed)
        if old is not None and math.isclose(old, value, rel_tol=1e-6):
            return
        self._session.do(
            f"{control.label}: {text} {unit} wanted",
            notes.wish(self._session.job, wish_id(device, control), value),
        )

    def _ask_why(self) -> None:
        want, _ = self._want()
        if want is not None:
            show_why(want.reason, self.window(), self._session.units)


def _truth(device: Device, control: Control) -> tables.Table | None:
    """The truth table of the function a control belongs to."""
    if control.means == "gap":
        return tables.rev_match()
    if control.means == "idle":
        return None
    if control.means == "launch" and device.sheet.input("CLUTCH") is not None:
        at = device.setting(control.pin)
        if at is None:
            return None
        try:
            low = value_of(control.setting, at) / 60
        except Problem:
            return None
        return tables.launch(low, low * 1.06)
    return None


def standing(device: Device, control: Control, want: Wanted | None) -> tuple[str, str]:
    """(mark, words) of a control."""
    try:
        now = stands(device, control)
    except Problem as problem:
        return "trouble", str(problem)
    if math.isnan(now):
        return "open", "Nobody has noted where it stands."
    if want is None:
        return "open", "Where it should stand cannot be worked out yet."
    if abs(now - want.value) <= 1e-6 * max(1.0, abs(want.value)):
        return "good", "Stands where it should."
    mark = "trouble" if harms(control, now, want) else "watch"
    if control.stands_for:
        return mark, f"{off_words(control, device.setting(control.pin) or '', now, want)}."
    unit = "" if control.setting.unit == "step" else f" {control.setting.unit}"
    here = f"Stands at {number(now, 2).rstrip('0').rstrip('.')}{unit}"
    return mark, f"{here}; {want.value:g}{unit} is wanted."
