"""Set: the scale of a speed or tach input, where it stands, where it should, what is left."""

from __future__ import annotations

import math

import msgspec
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from zombrel.actions.signals import put_divider, put_setting
from zombrel.calibrate.settings.setting import (
    Choice,
    believed,
    choose,
    moves,
    options,
    pulses,
    value_of,
)
from zombrel.findings.explain import explain_input, rate_words
from zombrel.job.edits import together
from zombrel.job.figures import figure
from zombrel.job.ledger import evidence, provenance
from zombrel.job.model import (
    Chain,
    Device,
    Divider,
    Setting,
    by_id,
)
from zombrel.job.problem import Problem
from zombrel.job.sheet import InputSheet
from zombrel.job.source import Source
from zombrel.plots.settings import rate_picture
from zombrel.signals.chain_reading import ready, top_of
from zombrel.signals.following import given_by
from zombrel.signals.over_range import choices
from zombrel.signals.reduce import divider_of, input_of, law
from zombrel.ui.session import Session
from zombrel.ui.set.cards import Card
from zombrel.ui.set.touch import TouchView
from zombrel.ui.set.trim import TrimRow
from zombrel.ui.source.words import kind_of
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Words
from zombrel.ui.widgets.parts import button, clear, label, row
from zombrel.ui.widgets.plot import Plot
from zombrel.ui.widgets.why import show_why
from zombrel.units import number, percent, speed_unit
from zombrel.units.measure import value_in


class ScaleCard(Card):
    """One scale of one device: the object, the order, the errors that are left."""

    def __init__(self, session: Session, chain: str) -> None:
        super().__init__(session)
        self.chain = chain
        self._head, self._from = label("", "head", wrap=True), label("", "quiet", wrap=True)
        self._mark, self._words = Mark("open", 18), label("", "", wrap=True)
        self.touch = TouchView(session)
        self.touch.moved.connect(self._moved)
        self._set = button("", self._set_best, "primary")
        self._fit = button("", self._fit_best)
        self._read_back = button("", self._confirm)
        self._why = button("Why?", self._ask_why)
        self._table = QGridLayout()
        self._table.setHorizontalSpacing(13)
        self._table.setVerticalSpacing(3)
        self._trim = TrimRow(session, chain)
        self._shown: tuple[object, ...] = ()
        self._cells: list[Words] = []
        self._best: Choice | None = None
        self._near: Choice | None = None
        self._order = label("", "strong13", wrap=True)
        head = row(self._mark, self._words, spacing=8)
        head.setStretch(1, 1)
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self._head)
        right.addWidget(self._from)
        right.addLayout(head)
        right.addWidget(self._order)
        right.addLayout(self._table)
        right.addLayout(row(self._set, self._fit, self._read_back, self._why, 1))
        self._drive = QWidget()
        drive = QVBoxLayout(self._drive)
        drive.setContentsMargins(0, 0, 0, 0)
        drive.addWidget(label("Drive a measured distance, or beside a known speed:", "quiet"))
        drive.addLayout(self._trim)
        right.addWidget(self._drive)
        right.addStretch(1)
        top = row(self.touch, right, spacing=18)
        top.setStretch(1, 1)
        self._beside = top
        top.setAlignment(self.touch, Qt.AlignmentFlag.AlignTop)
        self.plot = Plot(session)
        self.plot.setMinimumHeight(170)
        body = QVBoxLayout(self)
        body.setContentsMargins(14, 12, 14, 12)
        body.setSpacing(10)
        body.addLayout(top)
        body.addWidget(self.plot, 1)
        body.addStretch(0)

    def _parts(self) -> tuple[Chain, Device, InputSheet, Source]:
        job = self._session.job
        chain = next(c for c in job.chains if c.id == self.chain)
        device, sheet = input_of(job, chain)
        source = by_id(job.sources, chain.source)
        assert source is not None  # validated with the job
        return chain, device, sheet, source

    def refresh(self) -> None:
        s = self._session
        chain, device, sheet, source = self._parts()
        assert sheet.numbers is not None  # only such chains have a card
        r = s.assessment.chain(chain.id)
        divider = divider_of(chain)
        at = device.setting(chain.pin) or ""
        where = f", {device.sheet.orientation}" if device.sheet.orientation else ""
        self._head.setText(f"{device.name}, {chain.pin}{where}")
        try:
            give = given_by(s.job, source)
        except Problem as problem:
            self._from.setText(str(problem))
            self.touch.show_setting(sheet.numbers, at, "", device.name)
            self._mark.show_mark("watch")
            self._words.setText("Cannot be worked out yet.")
            self._words.set_role("watch")
            for answer in (self._set, self._fit, self._read_back, self._order, *self._answers()):
                answer.hide()
            clear(self._table)
            self._cells, self._shown = [], ()
            return
        for answer in self._answers():
            answer.show()
        behind = f" behind ÷{divider.by}" if divider else ""
        self._from.setText(
            f"{source.name}{behind}: {rate_words(chain, give.rate, s.units)} at the source"
        )
        self._choose(chain, source, sheet, divider.by if divider else 1)
        want = self._near.setting if self._near else ""
        self.touch.show_setting(sheet.numbers, at, want, f"{device.name} {chain.pin}")
        steps = moves(sheet.numbers, at, want) if want else ()
        said = "; ".join(f"{i + 1}. {step}" for i, step in enumerate(steps))
        self._order.setText(f"In this order: {said}." if steps else "")
        self._order.setVisible(bool(steps))
        self._say(at, r.error, give.rate, divider.by if divider else 1, sheet, chain.id)
        self._show_table(chain, sheet, at, give.rate, divider.by if divider else 1)
        self._show_buttons(chain, device, at, divider.by if divider else 1)
        self._trim.refresh()
        self._show_plot(chain, at, divider.by if divider else 1)

    def _answers(self) -> tuple[QWidget, ...]:
        """What has nothing to say while the rate cannot be worked out."""
        return self._why, self._drive, self.plot

    def _choose(self, chain: Chain, source: Source, sheet: InputSheet, by: int) -> None:
        try:
            ranked = choices(self._session.job, chain, source, sheet)
        except Problem:
            ranked = ()
        self._best = ranked[0] if ranked else None
        self._near = next((c for c in ranked if c.divider == by), None)
        if self._near is None:
            self._near = self._unlimited(chain, source, sheet, by)

    def _unlimited(self, chain: Chain, source: Source, sheet: InputSheet, by: int) -> Choice:
        """The nearest setting for the divider there is, rate limit or not."""
        assert sheet.numbers is not None  # only such chains have a card
        job = self._session.job
        rate = given_by(job, source).rate
        table = believed(sheet.numbers)
        return choose(rate / by, table.names, table.values, math.inf, 1.0)[0]

    def _say(
        self, at: str, error: float, rate: float, by: int, sheet: InputSheet, key: str
    ) -> None:
        near = self._near
        if not at:
            mark, words = "watch", "Not set yet."
        elif near is not None and near.setting == at:
            good = abs(near.error) <= self._session.job.house.setting_ok
            found = [f.level for f in self._session.assessment.findings if f.id == f"setting-{key}"]
            mark = "good" if good else found[0] if found else "watch"
            words = f"Stands where it should: {percent(near.error, 2)} left."
            if not good:
                words = f"At the nearest it has, and still {percent(near.error, 2)} off."
        else:
            off = self._error(at, rate, by, sheet)
            mark = "trouble" if abs(off) > figure("setting error, trouble") else "watch"
            steps = self._steps(at, near.setting if near else at, sheet)
            words = f"Reads {percent(off)}; {steps} from {near.setting if near else '?'}."
        self._mark.show_mark(mark)
        self._words.setText(words)
        self._words.set_role(mark)

    @staticmethod
    def _error(at: str, rate: float, by: int, sheet: InputSheet) -> float:
        assert sheet.numbers is not None  # only such chains have a card
        try:
            return rate / by / pulses(sheet.numbers.unit, value_of(sheet.numbers, at)) - 1
        except Problem:
            return math.nan

    @staticmethod
    def _steps(at: str, want: str, sheet: InputSheet) -> str:
        assert sheet.numbers is not None  # only such chains have a card
        names = options(sheet.numbers).names
        if at not in names or want not in names:
            return "not a position of it"
        n = abs(names.index(at) - names.index(want))
        return f"{number(n)} step{'s' if n != 1 else ''}"

    def _show_table(self, chain: Chain, sheet: InputSheet, at: str, rate: float, by: int) -> None:
        """Residual errors as set, at the nearest setting, and with the best divider."""
        s = self._session
        near, best = self._near, self._best
        rows: list[tuple[str, str, float]] = []
        if at:
            rows.append(("as it stands", at, self._error(at, rate, by, sheet)))
        if near is not None and near.setting != at:
            behind = f" ÷{by}" if by > 1 else ""
            rows.append(
                (
                    f"nearest{', divider as it is' if by > 1 else ', no divider'}",
                    f"{near.setting}{behind}",
                    near.error,
                )
            )
        if best is not None and best.divider != by:
            rows.append(
                (
                    f"with ÷{best.divider}" if best.divider > 1 else "without a divider",
                    best.setting,
                    best.error,
                )
            )
        key = (s.theme, s.units, chain.quantity, *rows)
        if key == self._shown:
            return
        self._shown = key
        points = self._points(chain)
        head = ["", "set", "error", *(p[0] for p in points)]
        grid = [(head, "small", "small")]
        for words, setting, error in rows:
            shown = [number(x * (1 + error), digits) for _, x, digits in points]
            grid.append(([words, setting, percent(error, 2), *shown], "quiet", "mono"))
        if len(self._cells) != len(grid) * len(head):
            clear(self._table)
            self._cells = [label() for _ in range(len(grid) * len(head))]
            for i, cell in enumerate(self._cells):
                self._table.addWidget(cell, i // len(head), i % len(head))
            self._table.setColumnStretch(len(head), 1)
        for i, (texts, first, rest) in enumerate(grid):
            for k, text in enumerate(texts):
                cell = self._cells[i * len(head) + k]
                cell.set_role(rest if k else first)
                cell.setText(text)

    def _show_plot(self, chain: Chain, at: str, by: int) -> None:
        """The error over the whole range, for what stands, what is nearest and what is best."""
        s = self._session
        counts = not s.assessment.chain(chain.id).problem
        self.plot.setVisible(counts)
        if not counts:
            return
        known = ready(s.job, chain.id)
        give, rate_law = known.give, known.law
        device, _ = input_of(s.job, chain)
        variants = [(f"as it stands, {at}", rate_law)]
        near, best = self._near, self._best
        if best is not None and (best.setting, best.divider) != (at, by):
            behind = f" behind ÷{best.divider}" if best.divider > 1 else ""
            hops = (Divider(by=best.divider),) if best.divider > 1 else ()
            trial = msgspec.structs.replace(chain, hops=hops)
            stood = msgspec.structs.replace(
                device, settings=(Setting(pin=chain.pin, at=best.setting),)
            )
            variants.append((f"{best.setting}{behind}", law(trial, give, stood)))
        elif near is not None and near.setting != at:
            variants.append(
                (near.setting, rate_law._replace(setting=rate_law.rate / by / (1 + near.error)))
            )
        kind = kind_of(chain.quantity)
        true = value_in(kind, s.assessment.chain(chain.id).true, s.units)
        self.plot.show_picture(
            rate_picture(chain, tuple(variants), top_of(chain, s.job.vehicle), s.units, true)
        )

    def _points(self, chain: Chain) -> list[tuple[str, float, int]]:
        """(words, value, digits) of the speeds at which the error is shown."""
        u = self._session.units
        if chain.quantity == "speed":
            speeds = (50, 100, 150) if u.distance == "km" else (30, 60, 90)
            return [(f"{v} {speed_unit(u)}", float(v), 1) for v in speeds]
        fast = (self._session.job.vehicle.redline_rps or 100.0) * 60 >= 6000
        speeds = (1000, 3000, 6000) if fast else (1000, 2000, 4000)
        return [(f"{v} rpm", float(v), 0) for v in speeds]

    def _show_buttons(self, chain: Chain, device: Device, at: str, by: int) -> None:
        near, best = self._near, self._best
        name = f"{device.name} {chain.pin}"
        self._set.setVisible(near is not None and near.setting != at)
        if near is not None:
            self._set.setText(f"Set {near.setting}")
            self._set.setAccessibleName(f"{name}: set {near.setting}")
        self._fit.setVisible(best is not None and best.divider != by)
        if best is not None:
            words = f"Fit ÷{best.divider}" if best.divider > 1 else "Take the divider out"
            self._fit.setText(f"{words}, set {best.setting}")
            self._fit.setAccessibleName(f"{name}: {words}, set {best.setting}")
        known = provenance(self._session.job, self._path(device, chain)) if at else None
        self._read_back.setVisible(bool(at) and known not in ("measured", "proven"))
        self._read_back.setText(f"I read it back: {at}")
        self._read_back.setAccessibleName(f"{name}: I read it back, {at}")
        self._why.setAccessibleName(f"Why: {name}")

    @staticmethod
    def _path(device: Device, chain: Chain) -> str:
        return f"devices.{device.id}.settings.{chain.pin}.at"

    # ---- doing

    def take_focus(self) -> None:
        self.touch.setFocus(Qt.FocusReason.OtherFocusReason)

    def _moved(self, at: str) -> None:
        chain, device, _, _ = self._parts()
        self._session.do(f"{device.name} {chain.pin} to {at}", put_setting(device, chain.pin, at))

    def _set_best(self) -> None:
        if self._near is not None:
            self._moved(self._near.setting)

    def _fit_best(self) -> None:
        chain, device, _, _ = self._parts()
        if self._best is not None:
            edit = together(
                put_divider(chain, self._best.divider),
                put_setting(device, chain.pin, self._best.setting),
            )
            self._session.do(f"÷{self._best.divider} and {self._best.setting}", edit)

    def _confirm(self) -> None:
        chain, device, _, _ = self._parts()
        s = self._session
        edit = evidence(
            s.job, self._path(device, chain), "measured", "read back from the device", s.now()
        )
        s.do(f"{device.name} {chain.pin} read back", edit)

    def _ask_why(self) -> None:
        s = self._session
        chain, _, _, _ = self._parts()
        show_why(
            explain_input(s.job, chain, s.assessment.chain(chain.id), s.units),
            self.window(),
            self._session.units,
        )
