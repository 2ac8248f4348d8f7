"""Prove: one step a screen; what was seen gives a verdict and a line of evidence."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QBoxLayout, QGridLayout, QStackedWidget, QWidget

from zombrel.actions.records import forget_proofs
from zombrel.diagnose.record import Outcome, prove
from zombrel.diagnose.step import UNPLUGGED, StepSheet
from zombrel.diagnose.steps import expected_flashes, gates, latest, standing, steps
from zombrel.diagnose.verdict import Verdict, judge, rivals
from zombrel.job.follow.query import Watch
from zombrel.job.problem import Problem
from zombrel.ui.prove.explain import Explain, readable
from zombrel.ui.prove.leave import LeaveDialog
from zombrel.ui.prove.order import WORDS, Order
from zombrel.ui.prove.outage import OutageView
from zombrel.ui.prove.seen import SeenField
from zombrel.ui.prove.side import Side
from zombrel.ui.prove.table import RowTable
from zombrel.ui.prove.words import answers_of, last_words, why
from zombrel.ui.session import Session
from zombrel.ui.widgets.commands import HELD, Command, Commanded
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, card, clear, column, holder, label, row, scroller

WRONG, OUTAGE = "wrong/", "outage"
NARROW = 960
"""Below this width the order of steps gives way [px]."""
MARKS = {
    "passed": "good",
    "failed": "trouble",
    "stale": "watch",
    "not reached": "watch",
    "blocked": "watch",
}
STACKED = 780
"""Below this width the answers stand below each other [px]."""
LARGE, SMALL = 2, 6
"""So many fields stand large, so many small beside each other; more are lines."""
KEYS_WORDS = "Digits go into the first empty field; Space, X, Q never type."


class ProveStage(Commanded, QWidget):
    """The steps in a row; the one to do now fills the screen."""

    title = "Prove"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._now = self._filled = ""
        self._shown = Watch()
        self._fields: list[SeenField] = []
        self._buttons: QBoxLayout | None = None
        self.order = Order(self.show_item)
        head, order = card(margins=10)
        order.addWidget(label("In this order", "head"))
        order.addWidget(self.order, 1)
        self._order_card = head
        head.setFixedWidth(236)
        self._card, self._body = card(margins=16)
        self._body.setSpacing(8)
        self._side = Side(session)
        area = scroller(self._side, "If it is not so")
        self._side_area = area
        main = QWidget()
        main.setLayout(column(self._card, 1))
        step = scroller(main, "The step")
        step.setMinimumWidth(360)
        middle = row(head, step, area, spacing=12)
        middle.setStretch(1, 1)
        self._views = QStackedWidget()
        self._views.addWidget(holder(middle))
        self.explain = Explain(session, self.back_to_steps)
        self._views.addWidget(self.explain)
        self.outage = OutageView(session, self.back_to_steps)
        self._views.addWidget(self.outage)
        self._wrong = button("Something reads wrong   W", self.explain_it, "plain")
        order.addWidget(self._wrong)
        self.setLayout(column(self._views))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """On a narrow window the order gives way, and on a very narrow one the answers stack."""
        narrow = self.width() < NARROW
        self._side_area.setFixedWidth(220 if narrow else 254)
        self._order_card.setVisible(not narrow)
        if self._buttons is not None:
            stacked = self.width() < STACKED
            down = QBoxLayout.Direction.TopToBottom
            self._buttons.setDirection(down if stacked else QBoxLayout.Direction.LeftToRight)

    @property
    def subtitle(self) -> str:
        """How far the proof is."""
        job = self._session.job
        found = steps(job)
        done = sum(standing(job, s) == "passed" for s in found)
        shut = sum(s.gate and standing(job, s) != "passed" for s in found)
        gates = f", {shut} gate{'s' if shut > 1 else ''} open" if shut else ""
        return f"{done} of {len(found)} steps proven{gates}"

    def show_item(self, item: str) -> None:
        """Go to a step, or to a signal that reads wrong: ``wrong/SIGNAL``."""
        if item.startswith(WRONG):
            self._views.setCurrentIndex(1)
            self.explain.show_chain(item.removeprefix(WRONG))
            return
        if item == OUTAGE:
            self._views.setCurrentIndex(2)
            self.outage.refresh()
            self.outage.setFocus(Qt.FocusReason.OtherFocusReason)
            return
        self._views.setCurrentIndex(0)
        if any(s.id == item for s in steps(self._session.job)):
            self._now = item
            self.refresh()
            self._focus()

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here: the keys of the step, not a field."""
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def _focus(self) -> None:
        fields = [f.edit for f in self._fields if not f.field.yes]
        target = fields[0] if fields else self
        target.setFocus(Qt.FocusReason.OtherFocusReason)

    def _step(self) -> StepSheet | None:
        return next((s for s in steps(self._session.job) if s.id == self._now), None)

    def refresh(self) -> None:
        """Show the steps and the present one."""
        s = self._session
        if self._views.currentIndex():
            (self.explain if self._views.currentIndex() == 1 else self.outage).refresh()
        found = steps(s.job)
        if found and self._step() is None:
            todo = [x for x in found if standing(s.job, x) != "passed"]
            self._now = (todo or list(found))[0].id
        own = (s.theme, s.units, self._now)
        if self._shown.due(s.present, *own):
            with self._shown.making(*own):
                self._show_steps()

    def _show_steps(self) -> None:
        s = self._session
        found = steps(s.job)
        states = tuple((x, self._state(x)) for x in found)
        typed = {f.field.name: f.edit.text() for f in self._fields} if self._same else {}
        self._filled = self._now
        self.order.show_steps(states, self._now)
        self._buttons = None
        clear(self._body)
        self._fields = []
        step_now = self._step()
        if step_now is None:
            self._body.addWidget(
                label(
                    "Nothing to prove yet. Steps appear as soon as a device has a supply, a "
                    "brake line or a speed signal: begin in Survey.",
                    "quiet",
                    wrap=True,
                )
            )
            return
        self._fill(step_now, [x.id for x in found].index(step_now.id) + 1, len(found))
        for seen_field in self._fields:
            seen_field.edit.setText(typed.get(seen_field.field.name, ""))
        self._side.show_step(step_now, rivals(s.job, step_now, {}))

    @property
    def _same(self) -> bool:
        """The step that is shown is the one that is to be: what was typed belongs to it."""
        return self._filled == self._now

    def _why_shut(self, step: StepSheet) -> str:
        """Why a step cannot be done or cannot pass now; empty when it can."""
        return step.blocked or (self._session.assessment.engine_lock if step.running else "")

    def _gate_now(self) -> str:
        """The way to what keeps the engine off."""
        s = self._session
        if s.assessment.opens != "prove":
            return s.assessment.opens
        shut = (g for g in gates(s.job) if not g.running and standing(s.job, g) != "passed")
        return next((f"prove:{g.id}" for g in shut), "")

    def _state(self, step: StepSheet) -> str:
        state = standing(self._session.job, step)
        return "blocked" if state == "open" and self._why_shut(step) else state

    # ---- the step

    def _fill(self, step: StepSheet, n: int, count: int) -> None:
        s = self._session
        state = self._state(step)
        where = f"{n} of {count}"
        if step.gate:
            where += "   gate: must pass before any road test"
        head = row(
            label(where, "trouble" if step.gate else "quiet"),
            1,
            Mark(MARKS.get(state, "open"), 18),
            label(WORDS[state], "quiet"),
        )
        self._body.addLayout(head)
        self._body.addWidget(label(step.ask, "ask", wrap=True))
        self._body.addWidget(label(step.where, "quiet", wrap=True))
        if step.under:
            self._body.addWidget(label(f"Under test: {step.under}", "quiet", wrap=True))
        shut = self._why_shut(step)
        if shut:
            go = step.go if step.blocked else self._gate_now()
            line = row(Mark("trouble", 18), label(s.words(shut), "trouble", wrap=True))
            if go:
                line.addWidget(button("Go and mend it", partial(s.goto.emit, go), "plain"))
            line.setStretch(1, 1)
            self._body.addLayout(line)
        self._body.addLayout(self._fields_of(step))
        if any(f.pull_ohm for f in step.fields):
            self._body.addWidget(label(UNPLUGGED, "small", wrap=True))
        if step.table:
            mine = [x for x in steps(s.job) if x.table == step.table]
            self._body.addWidget(RowTable(s, [(x, self._state(x)) for x in mine], step.id))
        if step.kind == "roll" and len(self._fields) == 2:
            self._fields[0].edit.textChanged.connect(lambda _: self._expect_roll(step))
        last = latest(s.job, step)
        if last is not None:
            forget = button(
                "Forget it", partial(self._forget, step), "plain", "Forget what was seen"
            )
            line = row(label(last_words(s, last, step), "quiet", wrap=True), forget)
            line.setStretch(0, 1)
            self._body.addLayout(line)
        self._verdict_line = label("", "head", wrap=True)
        self._verdict_line.hide()
        self._body.addWidget(self._verdict_line)
        said, other = answers_of(step)
        buttons = row(
            button(f"{said}   Space", self.as_expected, "bigprimary", said),
            button(f"{other}   X", self.something_else, "big", other),
            button("Left out   Q", self.cannot_reach, "big", "Cannot reach it"),
            1,
            spacing=8,
        )
        self._buttons = buttons
        self._body.addLayout(buttons)
        foot = [x for x in (step.needs and f"Needs {step.needs}.", KEYS_WORDS) if x]
        line = row(
            label(" ".join(foot), "small", wrap=True),
            button("Back   PgUp", partial(self._move, -1), "plain", "Step before"),
            button("Next   PgDn", partial(self._move, 1), "plain", "Next step"),
            button("Why?", lambda: why(s, step, self.window()), name=f"Why: {step.short}"),
        )
        line.setStretch(0, 1)
        self._body.addLayout(line)
        self._body.addStretch(1)
        self._fit()

    def _fields_of(self, step: StepSheet) -> QGridLayout:
        """What is expected and seen: few stand large, many are lines."""
        s = self._session
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(6)
        count = len(step.fields)
        shape = "large" if count <= LARGE else "small" if count <= SMALL else "line"
        across = {"large": 2, "small": 3 if count % 2 else 2, "line": 1}[shape]
        if count == SMALL:
            across = 3
        for i, field in enumerate(step.fields):
            because = "; ".join(x for x in (s.words(field.because), field.ohm_words) if x)
            seen_field = SeenField(s, field, shape, because)
            seen_field.edit.returnPressed.connect(lambda i=i: self._next_field(i))
            self._fields.append(seen_field)
            grid.addWidget(seen_field, i // across, i % across)
        for k in range(across):
            grid.setColumnStretch(k, 1)
        return grid

    def _forget(self, step: StepSheet) -> None:
        edit = forget_proofs(self._session.history.present, step.id)
        if edit is not None:
            self._session.do(f"{step.short}: what was seen is forgotten", edit)

    def _expect_roll(self, step: StepSheet) -> None:
        """The flashes to expect follow the distance as it is typed."""
        rolled, flashes = self._fields
        try:
            distance = rolled.value()
            if distance is not None and distance > 0:
                flashes.expect.setText(expected_flashes(self._session.job, step, distance))
        except Problem:
            flashes.expect.setText(flashes.field.expect)

    # ---- keys

    def commands(self) -> tuple[Command, ...]:
        return (
            Command("As expected", "Space", self.as_expected),
            Command("Something else was seen", "X", self.something_else),
            Command("Cannot reach it", "Q", self.cannot_reach),
            Command("Something reads wrong", "W", self.explain_it),
            Command("Next step", "PgDown Right", partial(self._move, 1)),
            Command("Step before", "PgUp Left", partial(self._move, -1)),
        )

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """A figure that is typed while no field has the keyboard belongs into the first."""
        if self._fields and event.text().isdigit() and not event.modifiers() & HELD:
            fields = [f.edit for f in self._fields if not f.field.yes]
            if fields:
                edit = next((e for e in fields if not e.text()), fields[0])
                edit.setFocus(Qt.FocusReason.OtherFocusReason)
                edit.insert(event.text())
        else:
            super().keyPressEvent(event)

    def _move(self, by: int) -> None:
        ids = [s.id for s in steps(self._session.job)]
        if self._now in ids:
            self.show_item(ids[min(max(ids.index(self._now) + by, 0), len(ids) - 1)])

    def _next_field(self, i: int) -> None:
        after = next((f.edit for f in self._fields[i + 1 :] if not f.field.yes), None)
        if after is not None:
            after.setFocus(Qt.FocusReason.OtherFocusReason)
        else:
            self._take()

    def explain_it(self) -> None:
        """Turn to what reads wrong: the line of this step, where it has one."""
        step = self._step()
        known = readable(self._session.job)
        key = step.chain if step is not None and step.chain in known else self.explain.key
        self._views.setCurrentIndex(1)
        self.explain.show_chain(key or next(iter(known), ""))
        self.explain.setFocus(Qt.FocusReason.OtherFocusReason)

    def back_to_steps(self) -> None:
        """Turn back to the steps."""
        self._views.setCurrentIndex(0)
        self.refresh()
        self._focus()

    # ---- outcomes

    def _seen(self) -> dict[str, float] | None:
        """What was typed; None after saying what is wrong with it."""
        try:
            values = {f.field.name: f.value() for f in self._fields}
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return None
        return {k: v for k, v in values.items() if v is not None}

    def enter(self, values: list[str]) -> None:
        """Type values into the fields and judge them."""
        for seen_field, text in zip(self._fields, values, strict=True):
            seen_field.edit.setText(text)
        self._take()

    def as_expected(self) -> None:
        """Everything was as predicted; typed numbers are judged all the same."""
        step = self._step()
        seen = self._seen()
        if step is None or seen is None or self._refused(step):
            return
        seen.update({f.name: f.low for f in step.fields if f.yes})
        if any(not f.yes for f in step.fields) and not any(
            f.name in seen for f in step.fields if not f.yes
        ):
            if step.gate or any(f.given for f in step.fields):
                why = "This step is proven by the numbers: type what was seen."
                self._session.said.emit("watch", why)
                self._focus()
                return
            seen = {}
        if seen:
            self._judge(step, seen)
        else:
            self._record(step, Verdict(passed=True, text="As expected, no number noted."), {})

    def something_else(self) -> None:
        """Judge what was typed; without figures, note that it did not come out so."""
        step = self._step()
        if step is None or self._refused(step):
            return
        if step.fields and any(not f.yes for f in step.fields):
            self._take()
            return
        seen = {f.name: 1.0 - f.low for f in step.fields}
        text = " ".join(f"{f.label}: not so." for f in step.fields) or "It was not so."
        self._record(step, Verdict(passed=False, text=text), seen)

    def _take(self) -> None:
        """Judge what was typed."""
        step = self._step()
        seen = self._seen()
        if step is None or seen is None or self._refused(step):
            return
        if not seen:
            self._session.said.emit("open", "Type what was seen; the causes at the right follow.")
            self._focus()
            return
        seen.update({f.name: f.low for f in step.fields if f.yes})
        self._judge(step, seen)

    def _refused(self, step: StepSheet) -> bool:
        """Say why a step cannot pass, if it cannot."""
        why = self._why_shut(step)
        if why:
            self._session.said.emit("trouble", why)
        return bool(why)

    def cannot_reach(self) -> None:
        """Leave the step out; it stays open. A gate is left with a reason, and stays shut."""
        step = self._step()
        if step is None:
            return
        if step.gate:
            LeaveDialog(self._session, step.short, partial(self._left, step), self.window()).open()
        else:
            self._left(step, "left out")

    def _left(self, step: StepSheet, why: str) -> None:
        self._write(step, "not reached", {}, why)
        self._session.said.emit("watch", f"{step.short} is left out; it stays open.")
        self._move(1)

    def _judge(self, step: StepSheet, seen: dict[str, float]) -> None:
        missing = [f.label for f in step.fields if f.name not in seen]
        if missing:
            self._session.said.emit("watch", f"Still to be seen: {', '.join(missing)}.")
            index = next(i for i, f in enumerate(step.fields) if f.name not in seen)
            self._fields[index].edit.setFocus(Qt.FocusReason.OtherFocusReason)
            return
        try:
            verdict = judge(self._session.job, step, seen)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._record(step, verdict, seen)

    def _record(self, step: StepSheet, verdict: Verdict, seen: dict[str, float]) -> None:
        s = self._session
        self._write(step, "pass" if verdict.passed else "fail", seen, verdict.text)
        if verdict.passed:
            s.said.emit("good", f"{step.short}: proven. {verdict.text}")
            found = steps(s.job)
            todo = [x for x in found if standing(s.job, x) not in ("passed",)]
            after = [x for x in todo if found.index(x) > [y.id for y in found].index(step.id)]
            if after or todo:
                self.show_item((after or todo)[0].id)
            else:
                self.setFocus(Qt.FocusReason.OtherFocusReason)
        else:
            s.said.emit("trouble", f"{step.short}: {verdict.text}")
            explain = self.explain_it if step.chain in readable(s.job) else None
            self._side.show_step(step, verdict.rivals, explain)

    def _write(self, step: StepSheet, verdict: Outcome, seen: dict[str, float], note: str) -> None:
        """Proof and evidence in one edit."""
        s = self._session
        s.do(f"{step.short}: {verdict}", prove(s.job, step, verdict, seen, note, s.now()))
