"""Prove: one step a screen; what was seen gives a verdict and a line of evidence."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QBoxLayout, QGridLayout, QVBoxLayout, QWidget

from zombrel.actions.records import forget_proofs
from zombrel.diagnose.record import Outcome, prove
from zombrel.diagnose.rests import changed_since
from zombrel.diagnose.step import Field, StepSheet
from zombrel.diagnose.steps import expected_flashes, latest, standing, steps
from zombrel.diagnose.verdict import Rival, Verdict, judge, rivals
from zombrel.job.follow.query import Watch
from zombrel.job.model import Proof
from zombrel.job.problem import Problem
from zombrel.job.reason import Given, Reason
from zombrel.job.typed.kinds import BY_UNIT
from zombrel.ui.session import Session
from zombrel.ui.widgets.commands import HELD, Command, Commanded
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel, Pill
from zombrel.ui.widgets.parts import button, card, clear, column, in_lines, label, row, scroller
from zombrel.ui.widgets.why import show_why

NARROW = 960
"""Below this width the three answers do not fit beside each other [px]."""
MARKS = {"passed": "good", "failed": "trouble", "stale": "watch", "not reached": "watch"}
WORDS = {
    "open": "not tried",
    "passed": "proven",
    "failed": "failed",
    "stale": "prove again: something it rests on was changed",
    "not reached": "left out",
}


class SeenField(QWidget):
    """What to expect, large, and the field for what was seen."""

    def __init__(self, session: Session, field: Field, small: bool, because: str) -> None:
        super().__init__()
        self.field = field
        frame = Panel("well")
        self.expect = label(field.expect, "head" if small else "expect", wrap=True)
        inner = column(
            label(field.label, "quiet", wrap=True),
            self.expect,
            label(because, "small", wrap=True),
            spacing=2,
        )
        inner.setContentsMargins(14, 9, 14, 9)
        frame.setLayout(inner)
        name = f"{field.label}, seen, {field.unit or 'count'}"
        self.edit = FigureField(session, BY_UNIT.get(field.unit, "number"), name, field.unit)
        self.edit.setPlaceholderText("seen")
        if not small:
            self.edit.setProperty("big", "true")
        self.edit.setMaximumWidth(160)
        unit = label(field.unit, "head")
        line = row(self.edit, unit, 1, spacing=8)
        self.setLayout(column(frame, line, spacing=6))

    def value(self) -> float | None:
        """The number typed; None when empty; raises Problem when it is no number."""
        value = self.edit.take()
        if self.edit.refused:
            raise Problem(self.edit.refused)
        return value


class ProveStage(Commanded, QWidget):
    """The steps in a row; the one to do now fills the screen."""

    title = "Prove"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._now = ""
        self._shown = Watch()
        self._fields: list[SeenField] = []
        self._buttons: QBoxLayout | None = None
        self._chips = column(spacing=6)
        self._chip_list: list[QWidget] = []
        self._laid_at = 0
        self._card, self._body = card(margins=18)
        self._body.setSpacing(8)
        self._side = QVBoxLayout()
        self._side.setSpacing(8)
        side = QWidget()
        side.setLayout(self._side)
        self._side.setContentsMargins(0, 0, 6, 0)
        area = scroller(side, "If it is not so")
        self._side_area = area
        main = QWidget()
        main.setLayout(column(self._card, 1))
        step = scroller(main, "The step")
        step.setMinimumWidth(400)
        middle = row(step, area, spacing=12)
        middle.setStretch(0, 1)
        self.setLayout(column(self._chips, middle, spacing=10))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()
        if self.width() != self._laid_at:
            self._lay_chips()

    def _fit(self) -> None:
        """On a narrow window the side gives way and the answers stand below each other."""
        narrow = self.width() < NARROW
        self._side_area.setFixedWidth(244 if narrow else 312)
        if self._buttons is not None:
            down = QBoxLayout.Direction.TopToBottom
            self._buttons.setDirection(down if narrow else QBoxLayout.Direction.LeftToRight)

    @property
    def subtitle(self) -> str:
        """How far the proof is."""
        found = steps(self._session.job)
        done = sum(standing(self._session.job, s) == "passed" for s in found)
        return f"{done} of {len(found)} steps proven"

    def show_item(self, item: str) -> None:
        """Go to a step."""
        if any(s.id == item for s in steps(self._session.job)):
            self._now = item
            self.refresh()
            self._focus()

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here: the keys of the step, not a field."""
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def _focus(self) -> None:
        target = self._fields[0].edit if self._fields else self
        target.setFocus(Qt.FocusReason.OtherFocusReason)

    def _step(self) -> StepSheet | None:
        return next((s for s in steps(self._session.job) if s.id == self._now), None)

    def refresh(self) -> None:
        """Show the steps and the present one."""
        s = self._session
        found = steps(s.job)
        if found and self._step() is None:
            todo = [x for x in found if standing(s.job, x) != "passed"]
            self._now = (todo or list(found))[0].id
        own = (s.theme, s.units, self._now)
        if self._shown.due(s.present, *own):
            with self._shown.making(*own):
                self._show_steps()

    def _lay_chips(self) -> None:
        """The steps in as many lines as the width asks for."""
        self._laid_at = self.width()
        while (item := self._chips.takeAt(0)) is not None:
            inner = item.layout()
            while inner is not None and inner.takeAt(0) is not None:
                pass
        for chips in in_lines(self._chip_list, self.width(), 8):
            self._chips.addLayout(row(*chips, 1, spacing=8))

    def _show_steps(self) -> None:
        s = self._session
        found = steps(s.job)
        states = tuple((x, standing(s.job, x)) for x in found)
        typed = {f.field.name: f.edit.text() for f in self._fields}
        clear(self._chips)
        self._chip_list = [self._chip(step, state) for step, state in states]
        self._lay_chips()
        self._buttons = None
        clear(self._body)
        clear(self._side)
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
        self._show_side(step_now, rivals(s.job, step_now, {}))

    def _chip(self, step: StepSheet, state: str) -> Pill:
        mark = {"passed": "✓", "failed": "◆", "stale": "▵", "not reached": "▵"}.get(state, "□")
        push_button = button(
            f"{mark} {step.short}",
            lambda: self.show_item(step.id),
            "plain",
            f"{step.short}: {WORDS[state]}",
        )
        push_button.set_on(step.id == self._now)
        return push_button

    # ---- the step

    def _fill(self, step: StepSheet, n: int, count: int) -> None:
        s = self._session
        state = standing(s.job, step)
        where = f"{n} of {count}"
        if step.gate:
            where += "   must pass before any road test"
        head = row(
            label(where, "trouble" if step.gate else "quiet"),
            1,
            Mark(s.theme, MARKS.get(state, "open"), 18),
            label(WORDS[state], "quiet"),
            button("Why?", lambda: self._why(step), name=f"Why: {step.short}"),
        )
        self._body.addLayout(head)
        self._body.addWidget(label(step.ask, "ask", wrap=True))
        self._body.addWidget(label(step.where, "quiet", wrap=True))
        if step.under:
            self._body.addWidget(label(f"Under test: {step.under}", "quiet", wrap=True))
        if step.blocked:
            line = row(
                Mark(s.theme, "trouble", 18), label(s.words(step.blocked), "trouble", wrap=True)
            )
            line.setStretch(1, 1)
            self._body.addLayout(line)
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(10)
        small = len(step.fields) > 2
        across = 3 if small else 2
        for i, field in enumerate(step.fields):
            seen_field = SeenField(s, field, small, s.words(field.because))
            seen_field.edit.returnPressed.connect(lambda i=i: self._next_field(i))
            self._fields.append(seen_field)
            grid.addWidget(seen_field, i // across, i % across)
        for k in range(across):
            grid.setColumnStretch(k, 1)
        self._body.addLayout(grid)
        if step.kind == "roll" and len(self._fields) == 2:
            self._fields[0].edit.textChanged.connect(lambda _: self._expect_roll(step))
        last = latest(s.job, step)
        if last is not None:
            forget = button(
                "Forget it", partial(self._forget, step), "plain", "Forget what was seen"
            )
            line = row(label(self._last_words(last, step), "quiet", wrap=True), forget)
            line.setStretch(0, 1)
            self._body.addLayout(line)
        self._verdict_line = label("", "head", wrap=True)
        self._verdict_line.hide()
        self._body.addWidget(self._verdict_line)
        buttons = row(
            button("As expected   Space", self.as_expected, "bigprimary", "As expected"),
            button("Something else   X", self.something_else, "big", "Something else"),
            button("Cannot reach it   S", self.cannot_reach, "big", "Cannot reach it"),
            1,
            spacing=12,
        )
        self._buttons = buttons
        self._body.addLayout(buttons)
        self._fit()

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

    def _last_words(self, last: Proof, step: StepSheet) -> str:
        labels = {f.name: f for f in step.fields}
        seen = ", ".join(
            f"{labels[x.name].label} {x.value:g} {labels[x.name].unit}".strip()
            for x in last.seen
            if x.name in labels
        )
        moved = changed_since(self._session.job, last)
        stale = f" Changed since: {'; '.join(moved[:4])}." if moved else ""
        return f"Last time, {last.when or 'undated'}: {last.verdict}. {seen}.{stale}"

    def _why(self, step: StepSheet) -> None:
        given = tuple(Given(name=f.label, value=f.expect, known=f.because) for f in step.fields)
        show_why(
            Reason(
                title=step.short,
                result=step.blocked or "what is expected, from the job's facts",
                formula=step.formula,
                given=given,
                source=step.source,
                assumption="the facts stay as they are; a change makes the proof stale",
            ),
            self.window(),
            self._session.units,
        )

    def _show_side(self, step: StepSheet, ranked: tuple[Rival, ...]) -> None:
        clear(self._side)
        t = self._session.theme
        caution = Panel("caution")
        line = row(Mark(t, "watch", 18), label(step.caution, "", wrap=True), spacing=10)
        line.setStretch(1, 1)
        line.setContentsMargins(12, 10, 12, 10)
        caution.setLayout(line)
        caution.setAccessibleName(f"Caution: {step.caution}")
        self._side.addWidget(caution)
        if ranked:
            self._side.addWidget(label("If it is not so", "head"))
        for rival in ranked[:4]:
            frame, inner = card(margins=9)
            inner.addWidget(label(rival.cause, "strong13", wrap=True))
            inner.addWidget(label(f"Would show {rival.shows}.", "small", wrap=True))
            inner.addWidget(
                label(
                    f"Test: {rival.test}{'' if rival.test.endswith('?') else '.'}",
                    "quiet",
                    wrap=True,
                )
            )
            rare = rival.share < 0.05
            words = "less than 1 in 20" if rare else f"{rival.share * 10:.0f} in 10"
            share = label(words, "petrol")
            inner.addWidget(share)
            self._side.addWidget(frame)
        self._side.addStretch(1)

    # ---- keys

    def commands(self) -> tuple[Command, ...]:
        return (
            Command("As expected", "Space", self.as_expected),
            Command("Something else was seen", "X", self.something_else),
            Command("Cannot reach it", "S", self.cannot_reach),
            Command("Next step", "PgDown Right", partial(self._move, 1)),
            Command("Step before", "PgUp Left", partial(self._move, -1)),
        )

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """A figure that is typed while no field has the keyboard belongs into the first."""
        if self._fields and event.text().isdigit() and not event.modifiers() & HELD:
            edit = next((f.edit for f in self._fields if not f.edit.text()), self._fields[0].edit)
            edit.setFocus(Qt.FocusReason.OtherFocusReason)
            edit.insert(event.text())
        else:
            super().keyPressEvent(event)

    def _move(self, by: int) -> None:
        ids = [s.id for s in steps(self._session.job)]
        if self._now in ids:
            self.show_item(ids[min(max(ids.index(self._now) + by, 0), len(ids) - 1)])

    def _next_field(self, i: int) -> None:
        if i + 1 < len(self._fields):
            self._fields[i + 1].edit.setFocus(Qt.FocusReason.OtherFocusReason)
        else:
            self.something_else()

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
        self.something_else()

    def as_expected(self) -> None:
        """Everything was as predicted; typed numbers are judged all the same."""
        step = self._step()
        seen = self._seen()
        if step is None or seen is None:
            return
        if seen:
            self._judge(step, seen)
            return
        if step.blocked or step.gate or step.kind in ("roll", "idle"):
            why = step.blocked or "This step is proven by the numbers: type what was seen."
            self._session.said.emit("trouble" if step.blocked else "watch", why)
            self._focus()
            return
        self._record(step, Verdict(passed=True, text="As expected, no number noted."), {})

    def something_else(self) -> None:
        """Judge what was typed."""
        step = self._step()
        seen = self._seen()
        if step is None or seen is None:
            return
        if not seen:
            self._session.said.emit("open", "Type what was seen; the causes at the right follow.")
            self._focus()
            return
        self._judge(step, seen)

    def cannot_reach(self) -> None:
        """Leave the step out; it stays open."""
        step = self._step()
        if step is not None:
            self._write(step, "not reached", {}, "left out")
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
            s.said.emit("trouble", f"{step.short}: {verdict.text}")
            self._show_side(step, verdict.rivals)

    def _write(self, step: StepSheet, verdict: Outcome, seen: dict[str, float], note: str) -> None:
        """Proof and evidence in one edit."""
        s = self._session
        s.do(f"{step.short}: {verdict}", prove(s.job, step, verdict, seen, note, s.now()))
