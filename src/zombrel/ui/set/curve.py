"""Set: a sensor's curve, from measured pairs to the device's table."""

from __future__ import annotations

import math
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QVBoxLayout

from zombrel.actions.signals import put_pairs, put_setting
from zombrel.calibrate.curve import Kind
from zombrel.calibrate.settings.setting import from_si, moves, nearest
from zombrel.findings.explain import explain_input
from zombrel.job.model import Chain, Device, Rung, by_id
from zombrel.job.pairs import parse, write
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import TABLE, Curve, InputSheet
from zombrel.job.source import Source
from zombrel.plots.settings import curve_picture, error_picture, warnings
from zombrel.signals.inputs import INPUTS
from zombrel.signals.reduce import input_of
from zombrel.signals.study import KINDS, Study, study
from zombrel.signals.ways import air
from zombrel.store.pairs_file import read_pairs
from zombrel.ui.session import Session
from zombrel.ui.set.cards import Card, TableView, marked, needs_read_back, read_back
from zombrel.ui.set.touch import TouchView
from zombrel.ui.widgets.parts import button, label, row
from zombrel.ui.widgets.plot import Plot
from zombrel.ui.widgets.why import show_why
from zombrel.units import number, prefixed
from zombrel.units.measure import Kind as Measure
from zombrel.units.measure import difference, unit, value_from, value_in, written

KIND_WORDS: dict[Kind, str] = {
    "straight pieces": "As measured",
    "steinhart-hart": "Steinhart–Hart",
    "beta": "β",
    "line": "Line",
    "spline": "Monotone spline",
}


class CurveCard(Card):
    """One sensor: its pairs, the model through them, the device's curves, its table."""

    def __init__(self, session: Session, chain: str) -> None:
        super().__init__(session)
        self.chain = chain
        self._kind: Kind = "straight pieces"
        self._count = 0
        """Points wanted for the table; 0 for as many as it takes."""
        self._study: Study | None = None
        self._key: tuple[object, ...] = ()
        self._head, self._from = label("", "head", wrap=True), label("", "quiet", wrap=True)
        head, self._mark, self._words = marked(session)
        self.touch = TouchView(session)
        self.touch.moved.connect(self._moved)
        self.plot = Plot(session)
        self.plot.setMinimumHeight(250)
        self.errors = Plot(session)
        self.errors.setMinimumHeight(150)
        self.errors.setMaximumHeight(170)
        self.errors.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.plot.dragging.connect(self._drag)
        self.plot.dropped.connect(self._drop)
        self.plot.slid.connect(self._slid)
        self._order = label("", "strong13", wrap=True)
        self._set = button("", self._set_best, "primary")
        self._load = button("", self._load_table)
        self._back = button("", self._confirm)
        self._why = button("Why?", self._ask_why)
        self._kinds = row(label("Model", "quiet"), spacing=7)
        self._pairs_head = label("", "quiet")
        self._pairs = QLineEdit()
        self._pairs.editingFinished.connect(self._typed)
        self._import = button("Import…", self._import_pairs, name="Import pairs from a file")
        self._harvest = button("From a log…", self._ask_harvest, name="Take pairs out of a log")
        self._points = label("", "strong")
        self._fewer = button("Fewer", lambda: self._counted(-1), name="Fewer points in the table")
        self._more = button("More", lambda: self._counted(1), name="More points in the table")
        self._facts = label("", "quiet", wrap=True)
        self._table = TableView()
        self._residuals = TableView()
        self._built: tuple[object, ...] = ()
        self._lay_out(head)

    def _lay_out(self, head: QHBoxLayout) -> None:
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self._head)
        right.addWidget(self._from)
        right.addLayout(head)
        right.addWidget(self._order)
        right.addLayout(row(self._set, self._load, self._back, self._why, 1))
        right.addStretch(1)
        top = row(self.touch, right, spacing=18)
        top.setStretch(1, 1)
        self._beside = top
        top.setAlignment(self.touch, Qt.AlignmentFlag.AlignTop)
        body = QVBoxLayout(self)
        body.setContentsMargins(14, 12, 14, 12)
        body.setSpacing(8)
        body.addLayout(top)
        body.addWidget(self.plot, 1)
        body.addWidget(self.errors)
        body.addLayout(self._kinds)
        body.addWidget(self._pairs_head)
        self._pairs_line = row(self._pairs, self._import, self._harvest)
        self._pairs_line.setStretch(0, 1)
        body.addLayout(self._pairs_line)
        body.addWidget(self._residuals)
        body.addLayout(row(self._points, self._fewer, self._more, 1))
        body.addWidget(self._table)
        body.addWidget(self._facts)

    # ---- what it is about

    def _parts(self) -> tuple[Chain, Device, InputSheet, Source, Measure]:
        job = self._session.job
        chain = by_id(job.chains, self.chain)
        assert chain is not None  # the stage lists only these
        device, sheet = input_of(job, chain)
        source = by_id(job.sources, chain.source)
        assert source is not None  # validated with the job
        return chain, device, sheet, source, QUANTITIES[chain.quantity].kind

    def refresh(self) -> None:
        s = self._session
        chain, device, sheet, source, kind = self._parts()
        self._head.setText(f"{device.name}, {chain.pin}")
        self._from.setText(f"{source.name}, {source.place}" if source.place else source.name)
        self._offer_kinds(source)
        key = (chain, device, source, s.job.vehicle, self._kind, self._count)
        if len(key) != len(self._key) or any(
            a is not b and a != b for a, b in zip(key, self._key, strict=True)
        ):
            self._key = key
            self._learn()
        at = device.setting(chain.pin) or ""
        best = self._best()
        if sheet.curves is not None:
            name = f"{device.name} {chain.pin}"
            self.touch.show_setting(sheet.curves, at, best, name)
        self.touch.setVisible(sheet.curves is not None)
        self._say(at, best, kind, device, sheet)
        self._show_plot(self._study)
        self._show_pairs(source, kind)
        self._show_table(kind, sheet)

    def _learn(self) -> None:
        chain, *_ = self._parts()
        try:
            self._study = study(self._session.job, chain, self._kind, count=self._count or None)
            self._trouble = ""
        except Problem as problem:
            self._study, self._trouble = None, str(problem)

    def _best(self) -> str:
        """The position that serves: a curve of its own that is good enough, else the table."""
        studied = self._study
        if studied is None:
            return ""
        if studied.matches and (
            studied.matches[0].worst <= studied.good_enough / 2 or math.isnan(studied.table_worst)
        ):
            return studied.matches[0].name
        return TABLE if studied.table else ""

    def _say(self, at: str, best: str, kind: Measure, device: Device, sheet: InputSheet) -> None:
        s, studied = self._session, self._study
        steps = moves(sheet.curves, at, best) if sheet.curves is not None and best else ()
        said = "; ".join(f"{i + 1}. {step}" for i, step in enumerate(steps))
        self._order.setText(f"In this order: {said}." if steps else "")
        self._order.setVisible(bool(steps))
        mark, words = "open", "Not set yet."
        if studied is None:
            mark, words = "watch", self._trouble
        elif math.isfinite(studied.now_worst):
            off = difference(kind, studied.now_worst, s.units).lstrip("+")
            fine = studied.now_worst <= studied.good_enough
            mark = "good" if fine else "trouble"
            where = written(kind, studied.now_at, s.units)
            words = f"Within {off} over the range, worst at {where}."
        self._mark.show_mark(mark)
        self._words.setText(s.words(words))  # type: ignore[attr-defined]
        pin = f"{device.name} {sheet.pin}"
        self._set.setVisible(bool(best) and best not in (at, TABLE))
        self._set.setText(f"Set curve {best}")
        self._set.setAccessibleName(f"{pin}: set curve {best}")
        table = studied.table if studied is not None else ()
        loaded = device.table(sheet.pin)
        self._load.setVisible(bool(table) and not (at == TABLE and _same(loaded, table)))
        self._load.setText(f"Load {len(table)} points")
        self._load.setAccessibleName(f"{pin}: load {len(table)} points into its table")
        self._back.setVisible(bool(at) and needs_read_back(s, device.id, sheet.pin))
        self._back.setText(f"I read it back: {at}")
        self._back.setAccessibleName(f"{pin}: I read it back, {at}")
        self._why.setAccessibleName(f"Why: {pin}")

    # ---- plot, pairs, table

    def _show_plot(self, studied: Study | None) -> None:
        s = self._session
        chain, device, sheet, _, kind = self._parts()
        self.plot.setVisible(studied is not None)
        self.errors.setVisible(studied is not None)
        if studied is None:
            return
        r = s.assessment.chain(chain.id)
        direct = sheet.takes == "ohm" or not studied.pairs
        picture = curve_picture(
            studied,
            sheet,
            kind,
            s.units,
            value_in(kind, r.true, s.units),
            warnings(device, sheet, kind, s.units),
            air(sheet),
            direct=bool(studied.pairs) and direct,
        )
        self.plot.show_picture(picture)
        self.errors.show_picture(error_picture(studied, sheet, kind, s.units, air(sheet)))

    def _offer_kinds(self, source: Source) -> None:
        kinds = KINDS.get(type(source.spec), ())
        key = (type(source.spec), self._kind, self._session.theme)
        if key == self._built:
            return
        self._built = key
        while self._kinds.count() > 1:
            item = self._kinds.takeAt(1)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        for kind in kinds:
            words = KIND_WORDS[kind]
            push_button = button(words, partial(self._choose, kind), "plain", f"Model: {words}")
            push_button.set_on(kind == self._kind)
            self._kinds.addWidget(push_button)
        first = self._kinds.itemAt(0)
        widget = first.widget() if first is not None else None
        if widget is not None:
            widget.setVisible(bool(kinds))
        self._kinds.addStretch(1)

    def _choose(self, kind: Kind) -> None:
        self._kind = kind
        self.refresh()

    def _shown_pairs(self, source: Source, kind: Measure) -> str:
        pairs: Curve = getattr(source.spec, "points", ())
        return write(tuple((round(value_in(kind, x, self._session.units), 4), y) for x, y in pairs))

    def _show_pairs(self, source: Source, kind: Measure) -> None:
        s, studied = self._session, self._study
        has = bool(getattr(source.spec, "points", ()))
        for w in (
            self._pairs,
            self._pairs_head,
            self._import,
            self._harvest,
            self._residuals,
        ):
            w.setVisible(has)
        if not has:
            return
        electrical = "Ω" if _in_ohms(source) else "V"
        name = unit(kind, s.units) or "value"
        self._pairs_head.setText(
            f"Measured pairs, {name} : {electrical}, with commas between. Drag them on the plot, "
            "or type."
        )
        self._pairs.setAccessibleName(f"Measured pairs, {name} and {electrical}")
        if not self._pairs.hasFocus():
            self._pairs.setText(self._shown_pairs(source, kind))
        if studied is None or (self._kind == "straight pieces" and not studied.doubtful):
            self._residuals.show_rows((), ())
            self._residuals.hide()
            return
        heads = (f"pair {name}", *(number(value_in(kind, x, s.units), 1) for x, _ in studied.pairs))
        misses = ("model off by", *(difference(kind, r, s.units) for r in studied.residuals))
        rows: list[tuple[str, ...]] = [misses]
        if studied.doubtful:
            marks = (
                "" if i not in studied.doubtful else "measure again"
                for i in range(len(studied.pairs))
            )
            rows.append(("doubtful", *marks))
        self._residuals.show_rows(
            heads[:12], tuple(r[:12] for r in rows), (1,) if studied.doubtful else ()
        )

    def _show_table(self, kind: Measure, sheet: InputSheet) -> None:
        s, studied = self._session, self._study
        curves = sheet.curves
        most = curves.free_points if curves is not None else 0
        for w in (self._points, self._fewer, self._more):
            w.setVisible(most >= 2)
        count = self._count or most
        self._points.setText(f"Table of {count} points, of {most} at most")
        self._fewer.setEnabled(count > 2)
        self._more.setEnabled(count < most)
        if studied is None:
            self._table.hide()
            self._facts.setText("")
            return
        self._table.show()
        heads, rows = ("the device's curve", "worst error", "at"), []
        for m in studied.matches:
            rows.append(
                (
                    m.name,
                    difference(kind, m.worst, s.units).lstrip("+"),
                    written(kind, m.worst_at - air(sheet), s.units),
                )
            )
        if math.isfinite(studied.table_worst):
            rows.append(
                (
                    f"own table, {len(studied.table)} points",
                    difference(kind, studied.table_worst, s.units).lstrip("+"),
                    "",
                )
            )
        self._table.show_rows(heads, tuple(rows))
        self._table.setVisible(bool(rows))
        self._facts.setText(self._said(studied, kind, sheet))

    def _said(self, studied: Study, kind: Measure, sheet: InputSheet) -> str:
        u = self._session.units
        out = []
        if math.isfinite(studied.count_worst) and studied.count_worst > 0:
            step = difference(kind, studied.count_worst, u, 2).lstrip("+")
            out.append(f"One count is at most {step}, at {written(kind, studied.count_at, u)}.")
        if math.isfinite(studied.per_10mv):
            out.append(
                f"10 mV of ground lift move it by {difference(kind, studied.per_10mv, u, 2)}."
            )
        if math.isfinite(studied.pull_up):
            mine = f"; it has {prefixed(sheet.pull_up_ohm, 'Ω')}" if sheet.pull_up_ohm else ""
            out.append(f"The widest swing comes with {prefixed(studied.pull_up, 'Ω')}{mine}.")
        r = self._session.assessment.chain(self.chain)
        if r.sense is not None and r.sense.own_shift and math.isfinite(r.sense.own_shift):
            shift = difference(kind, r.sense.own_shift, u)
            out.append(f"Shared: the vehicle's own reading is shifted by {shift} now.")
        if studied.table:
            points = ", ".join(
                f"{number(value_in(kind, x - air(sheet), u), 1)}:{y:.4g}" for x, y in studied.table
            )
            out.append(f"Table, {unit(kind, u) or 'value'} : {_electric(sheet)}: {points}.")
        return " ".join(out)

    # ---- doing

    def take_focus(self) -> None:
        target = self.touch if self.touch.isVisibleTo(self) else self.plot
        target.setFocus(Qt.FocusReason.OtherFocusReason)

    def _moved_pairs(self, i: int, x: float, y: float) -> Curve:
        _, _, _, source, kind = self._parts()
        pairs: list[tuple[float, float]] = list(getattr(source.spec, "points", ()))
        low = pairs[i - 1][0] + 0.1 if i else -math.inf
        high = pairs[i + 1][0] - 0.1 if i + 1 < len(pairs) else math.inf
        if QUANTITIES[source.quantity].kind != "temperature":
            span = (pairs[-1][0] - pairs[0][0]) * 1e-3
            low = pairs[i - 1][0] + span if i else -math.inf
            high = pairs[i + 1][0] - span if i + 1 < len(pairs) else math.inf
        value = value_from(kind, x, self._session.units)
        pairs[i] = (min(max(value, low), high), float(f"{y:.4g}"))
        return tuple(pairs)

    def _drag(self, i: int, x: float, y: float) -> None:
        """Show what the pairs would make while one is moved; nothing is kept yet."""
        chain, *_ = self._parts()
        try:
            studied = study(
                self._session.job, chain, self._kind, self._moved_pairs(i, x, y), count=0
            )
        except Problem as problem:
            self._words.setText(self._session.words(str(problem)))  # type: ignore[attr-defined]
            return
        self._study = studied
        self._show_plot(studied)
        kind = self._parts()[4]
        if math.isfinite(studied.now_worst):
            off = difference(kind, studied.now_worst, self._session.units).lstrip("+")
            self._words.setText(f"Would be within {off}.")  # type: ignore[attr-defined]

    def _drop(self, i: int, x: float, y: float) -> None:
        self._put_pairs(self._moved_pairs(i, x, y), "moved on the plot", "hearsay")

    def _put_pairs(self, pairs: Curve, note: str, rung: Rung) -> None:
        """Keep other pairs for the sender; says why when they make no curve."""
        s = self._session
        _, _, _, source, _ = self._parts()
        self._key = ()
        try:
            edit = put_pairs(s.job, source, pairs, rung, note, s.now())
        except Problem as problem:
            s.said.emit("trouble", str(problem))
            self.refresh()
            return
        s.do(f"{source.name}: pairs {note}", edit)

    def _typed(self) -> None:
        s = self._session
        _, _, _, source, kind = self._parts()
        text = self._pairs.text().strip()
        if not text or text == self._shown_pairs(source, kind):
            return
        try:
            pairs = parse(text, "measured pairs")
        except Problem as problem:
            s.said.emit("trouble", str(problem))
            return
        self._put_pairs(
            tuple((value_from(kind, x, s.units), y) for x, y in pairs), "typed in", "measured"
        )

    def _import_pairs(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Import pairs", "", "Pairs (*.csv *.txt);;All files (*)"
        )
        if name:
            self.import_file(name)

    def import_file(self, name: str) -> None:
        """Read pairs from a text file, two numbers a line."""
        s = self._session
        kind = self._parts()[4]
        try:
            pairs = read_pairs(name)
        except Problem as problem:
            s.said.emit("trouble", str(problem))
            return
        self._put_pairs(
            tuple((value_from(kind, x, s.units), y) for x, y in pairs), "imported", "document"
        )

    def _ask_harvest(self) -> None:
        from zombrel.ui.set.harvest_view import HarvestView

        _, _, sheet, source, kind = self._parts()
        unit = "Ω" if _in_ohms(source) else "V"
        HarvestView(
            self._session,
            kind,
            unit,
            sheet,
            lambda pairs, note: self._put_pairs(pairs, note, "measured"),
            self.window(),
        ).open()

    def _counted(self, by: int) -> None:
        _, _, sheet, *_ = self._parts()
        most = sheet.curves.free_points if sheet.curves else 0
        count = min(max((self._count or most) + by, 2), most)
        self._count = 0 if count == most else count
        self.refresh()

    def _moved(self, at: str) -> None:
        if at == TABLE:
            self._load_table()
            return
        chain, device, *_ = self._parts()
        self._session.do(f"{device.name} {chain.pin} to {at}", put_setting(device, chain.pin, at))

    def _set_best(self) -> None:
        self._moved(self._best())

    def _load_table(self) -> None:
        chain, device, *_ = self._parts()
        if self._study is not None and self._study.table:
            edit = put_setting(device, chain.pin, TABLE, self._study.table)
            count = len(self._study.table)
            self._session.do(f"{device.name} {chain.pin}: {count} points loaded", edit)

    def _slid(self, key: str, x: float) -> None:
        _, device, _, _, kind = self._parts()
        control = device.sheet.control(key)
        if control is None:
            return
        value = from_si(control.setting.unit, value_from(kind, x, self._session.units))
        at, _ = nearest(control.setting, value)
        self._session.do(f"{device.name} {key} to {at}", put_setting(device, key, at))

    def _confirm(self) -> None:
        chain, device, *_ = self._parts()
        read_back(self._session, device.id, chain.pin, f"{device.name} {chain.pin}")

    def _ask_why(self) -> None:
        s = self._session
        chain, *_ = self._parts()
        reason = explain_input(s.job, chain, s.assessment.chain(chain.id), s.units)
        show_why(reason, self.window(), s.units)


def _same(a: Curve, b: Curve) -> bool:
    return len(a) == len(b) and all(
        math.isclose(x, u, rel_tol=1e-6) and math.isclose(y, v, rel_tol=1e-6)
        for (x, y), (u, v) in zip(a, b, strict=True)
    )


def _in_ohms(source: Source) -> bool:
    return source.spec.__struct_config__.tag in ("thermistor", "resistive")


def _electric(sheet: InputSheet) -> str:
    return INPUTS[sheet.takes].unit
