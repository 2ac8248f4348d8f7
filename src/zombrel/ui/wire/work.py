"""Order of work: the tasks in the order that loses least time, on the clock, ticked as they go."""

from __future__ import annotations

from datetime import datetime
from functools import partial

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.harness.laid import laid
from zombrel.harness.parts_list import parts_list
from zombrel.harness.plugs.change_base import Part
from zombrel.job.edits import Edit
from zombrel.job.follow.query import Watch
from zombrel.job.follow.view import plain
from zombrel.job.model import Job, by_id
from zombrel.job.reason import Given, Reason
from zombrel.plan import day
from zombrel.plan.day import Clocked, Order
from zombrel.plan.learn import FEWEST, FORMULA, Range, timed
from zombrel.plan.order import BATTERY_MIN, EXACT, HELPER_MIN, LIFT_MIN, MOVE_MIN
from zombrel.plan.tasks import Task, tasks
from zombrel.store.shop_times import of_others
from zombrel.ui.session import Session
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel, Words
from zombrel.ui.widgets.parts import button, card, clear, column, label, row, scroller
from zombrel.ui.widgets.why import show_why
from zombrel.ui.wire.ordering import Ordering
from zombrel.units.measure import length_of

SHOWN = 14
"""Tasks shown at once; the rest are counted and asked for."""
HELD = 5
"""Waiting tasks shown by name."""
CLOCK = "%Y-%m-%d %H:%M"


class WorkPage(Commanded, QWidget):
    """What to do now, large; what follows, with clock times; what waits and what is done."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.order: Order | None = None
        self._shown = Watch()
        self._search: Ordering | None = None
        self._all = False
        self._shop = of_others(session.job)
        self._shop_for = session.job.number
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        holder, inner = card(margins=14)
        self._now_head = label("", "quiet")
        self._now = label("", "ask", wrap=True)
        self._before = label("", "strong", wrap=True)
        self._caution, self._caution_words = self._caution_panel()
        self._tools = label("", "quiet", wrap=True)
        self._run = button("Space   begin", self.toggle, "bigprimary", "Begin or pause")
        self._done = button("D   done", self.done, "big", "Done")
        self._hold = button("H   waits for a part", self.hold, "big", "Waits for a part")
        self._why = button("Why?", self.why, name="Why this order")
        self._progress = label("", "petrol")
        self._progress.setMinimumWidth(240)  # its words grow while it counts
        self._progress.hide()
        inner.addLayout(row(self._now_head, 1, self._progress, self._why))
        for widget in (self._now, self._before, self._caution, self._tools):
            inner.addWidget(widget)
        inner.addLayout(row(self._run, self._done, self._hold, 1, spacing=12))
        self._caution.hide()  # until the order is there
        for push_button in (self._run, self._done, self._hold, self._why):
            push_button.hide()
        self._follow = QVBoxLayout()
        self._follow.setSpacing(2)
        self._after, after_in = card()
        self._after.hide()
        self._after_head = label("", "head", wrap=True)
        after_in.addWidget(self._after_head)
        after_in.addLayout(self._follow)
        side = QWidget()
        self._side = QVBoxLayout(side)
        self._side.setContentsMargins(0, 0, 6, 0)
        self._side.setSpacing(8)
        right = scroller(side, "Waiting, done and tools")
        right.setFixedWidth(330)
        left = QWidget()
        left.setLayout(column(holder, self._after, 1, spacing=10))
        body = row(scroller(left, "Work order"), right, spacing=10)
        body.setStretch(0, 1)
        body.setContentsMargins(0, 0, 0, 0)
        self.setLayout(body)
        self._tick = QTimer(self)
        self._tick.setInterval(20000)
        self._tick.timeout.connect(self._show_now)

    def _caution_panel(self) -> tuple[Panel, Words]:
        panel, words = Panel("caution"), label("", "", wrap=True)
        mind = row(Mark("watch", 18), words)
        mind.setStretch(1, 1)
        mind.setContentsMargins(12, 6, 8, 6)
        panel.setLayout(mind)
        return panel, words

    # ---- the task in hand

    def current(self) -> Task | None:
        """The task begun, or the next in the order."""
        if self.order is None:
            return None
        states = {w.id: w.state for w in self._session.job.work}
        begun = {key for key, state in states.items() if state == "begun"}
        gone = {key for key, state in states.items() if state in ("done", "waiting")}
        # the search for the new order may still be under way
        slots = [s.task for s in self.order.slots if s.task.id not in gone]
        return next((t for t in slots if t.id in begun), slots[0] if slots else None)

    def _worked(self, task: Task) -> float | None:
        """Minutes since it was begun; None when its clock is not running."""
        task_done = by_id(self._session.job.work, task.id)
        if task_done is None or task_done.state != "begun" or not task_done.since:
            return None
        try:
            since = datetime.strptime(task_done.since, CLOCK)
        except ValueError:
            return None
        return max((datetime.now() - since).total_seconds() / 60, 0.0)

    def _do(self, words: str, edit: Edit) -> None:
        self._session.do(words, edit)
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def toggle(self) -> None:
        """Start the clock on the task in hand, or pause it."""
        task = self.current()
        if task is None:
            return
        worked = self._worked(task)
        job = self._session.job
        if worked is None:
            self._do(f"Begun: {task.title}", day.begin(job, task, self._session.now()))
        else:
            self._do(f"Paused: {task.title}", day.pause(job, task, worked))

    def done(self) -> None:
        """The task in hand is done; cautions shown with it are acknowledged in the ledger."""
        task = self.current()
        if task is not None:
            self.finish(task)

    def finish(self, task: Task) -> None:
        """Note a task as done."""
        s = self._session
        self._do(f"Done: {task.title}", day.finish(s.job, task, self._worked(task), s.now()))

    def hold(self) -> None:
        """The task in hand waits for a part; the order goes on without it."""
        task = self.current()
        if task is not None:
            self._do(f"Waits: {task.title}", day.hold(self._session.job, task))

    def _again(self, task: Task) -> None:
        self._do(f"Taken up again: {task.title}", day.again(self._session.job, task))

    def commands(self) -> tuple[Command, ...]:
        return (
            Command("Begin the task, or pause it", "Space", self.toggle),
            Command("The task is done", "D", self.done),
            Command("The task waits", "H", self.hold),
            Command("Why this order of work", "W", self.why),
        )

    def why(self) -> None:
        """Why this order, and what it costs."""
        if self.order is None:
            return
        o, left = self.order, self._range(self.order)
        task = self.current()
        how = (
            f"every order of up to {EXACT} tasks is looked at"
            if len(o.slots) <= EXACT
            else "a beam of the best beginnings, then single tasks moved while that helps"
        )
        show_why(
            Reason(
                title="The order of work",
                result=f"{_hours(o.minutes)} in all, {self._span(o)}",
                formula="Σ task minutes + moves + battery + lift + helper + waiting; least over "
                f"the orders that keep what must come first ({how}); {FORMULA}",
                given=(
                    *(
                        (Given(name="this task", value=f"{task.minutes:.0f} min", known=task.why),)
                        if task
                        else ()
                    ),
                    Given(
                        name="scatter s",
                        value=f"{left.scatter:.2f}",
                        known=f"{left.many} tasks timed"
                        if left.many >= FEWEST
                        else "assumed until more is timed",
                    ),
                    Given(name="a move", value=f"{MOVE_MIN:g} min", known="house"),
                    Given(name="battery off or on", value=f"{BATTERY_MIN:g} min", known="house"),
                    Given(name="raise or lower", value=f"{LIFT_MIN:g} min", known="house"),
                    Given(name="fetch the helper", value=f"{HELPER_MIN:g} min", known="house"),
                    Given(name="battery off", value=f"{o.off_times} ×, {_hours(o.off_min)}"),
                ),
                source="Held and Karp 1962, widened by the state of the bay; Fenton 1960",
                assumption="times start from the catalogue and learn from what was logged",
            ),
            self.window(),
            self._session.units,
        )

    def _range(self, order: Order) -> Range:
        done = timed((*self._shop, *self._session.job.work))
        return day.left(order.slots, [(took, planned) for _, took, planned in done])

    def _span(self, order: Order) -> str:
        """How far all of it may miss."""
        r = self._range(order)
        until = "until more is timed" if r.many < FEWEST else "8 in 10"
        return f"{_hours(r.low)} to {_hours(r.high)}, {until}"

    # ---- what the stage asks

    def show_item(self, item: str) -> None:
        """Nothing to choose: the order decides."""
        self.refresh()
        self.focus_first()

    def focus_first(self) -> None:
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def refresh(self) -> None:
        s = self._session
        job = s.history.present
        if job.number != self._shop_for:
            self._shop, self._shop_for = of_others(job), job.number
        if not self._shown.due(s.present, self._shop_for):
            self._show()
            return
        with self._shown.making(self._shop_for):
            plain(tasks(laid(s.job), self._shop)), plain(s.job.work)
        self._stop()
        self._search = Ordering(job, self._shop, self)
        self._search.found.connect(self._got)
        self._search.went_on.connect(self._went_on)
        self._search.failed.connect(self._failed)
        self._progress.setText("Working out the order …")
        if self.order is None:
            self._now.setText("Which task comes first?")
            self._before.setText("All that is left is put into the order that loses least time.")
        else:
            self._show_now()

    def _failed(self, words: str) -> None:
        self._search = None
        self._progress.setText("No order can be found")
        self._session.said.emit("trouble", words)

    def _went_on(self, share: float) -> None:
        """How far the search is."""
        self._progress.setText(f"Working out the order, {share * 100:.0f} %")
        self._progress.show()

    def _stop(self) -> None:
        if self._search is not None:
            self._search.stop()
            self._search = None

    def wait(self) -> None:
        """Until the order is there (tests and pictures)."""
        if self._search is not None:
            self._search.finish()

    def _got(self, job: Job, order: Order) -> None:
        self._search = None
        self._progress.hide()
        self.order = order
        self._show()

    # ---- showing

    def _show(self) -> None:
        if self.order is None:
            return
        for widget in (self._why, self._after):
            widget.setVisible(bool(self.order.slots))
        self._show_now()
        self._show_follow(self.order)
        self._show_side(self.order)

    def _show_now(self) -> None:
        task = self.current()
        for push_button in (self._run, self._done, self._hold):
            push_button.setVisible(task is not None)
        if task is None:
            self._tick.stop()
            nothing = not (self.order and (self.order.done or self.order.held))
            self._now_head.setText("")
            self._now.setText("No work yet" if nothing else "Nothing left that can be done")
            self._before.setText(
                "Wires and devices bring their tasks: see Source."
                if nothing
                else "What is left waits for a part: take it up at the right when it is there."
                if self.order and self.order.held
                else "All tasks are done."
            )
            self._tools.setText("")
            self._caution.hide()
            return
        worked = self._worked(task)
        old = by_id(self._session.job.work, task.id)
        sofar = (old.minutes or 0.0) if old is not None else 0.0
        if worked is None:
            self._tick.stop()
            paused = f", {sofar:.0f} min worked" if sofar else ""
            self._now_head.setText(f"Now, about {task.minutes:.0f} min{paused}")
            self._run.setText("Space   begin" if not sofar else "Space   go on")
        else:
            self._tick.start()
            self._now_head.setText(f"Running: {sofar + worked:.0f} of about {task.minutes:.0f} min")
            self._run.setText("Space   pause")
        self._now.setText(task.title)
        slot = next((s for s in (self.order.slots if self.order else ()) if s.task is task), None)
        first = ", ".join(x.words for x in slot.before) if slot is not None else ""
        self._before.setText(f"First: {first}." if first else "")
        self._before.setVisible(bool(first))
        people = "Two people. " if task.second else ""
        self._caution_words.setText((people + task.caution).strip())
        self._caution.setVisible(bool(people or task.caution))
        tools = ", ".join(task.tools)
        self._tools.setText(f"Lay out: {tools}." if tools else "")

    def _show_follow(self, order: Order) -> None:
        clear(self._follow)
        now = datetime.now()
        begin = now.hour * 60 + now.minute
        house = self._session.job.house
        opens, closes = day.minutes_of(house.day_start), day.minutes_of(house.day_end)
        if not opens <= begin < closes:
            begin = opens
        plan = day.on_clock(order.slots, house, begin)
        off = f", battery off {order.off_times} ×, {_hours(order.off_min)} in one stretch"
        if not plan:
            return  # the card is not shown
        ends = f"; done on day {plan[-1].day + 1} at {day.clock_of(plan[-1].end)}"
        self._after_head.setText(
            f"{len(order.slots)} tasks, {_hours(order.minutes)} ({self._span(order)})"
            f"{off if order.off_times else ''}{ends}"
        )
        shown = plan if self._all else plan[:SHOWN]
        last = -1
        for slot in shown:
            if slot.day != last and (slot.day or last >= 0):
                self._follow.addWidget(label(f"Day {slot.day + 1}", "strong13"))
            last = slot.day
            self._follow.addLayout(self._line(slot))
        if len(plan) > SHOWN:
            words = "Show fewer" if self._all else f"Show all {len(plan)}"
            self._follow.addLayout(row(button(words, self._toggle_all, "plain"), 1))

    def _toggle_all(self) -> None:
        self._all = not self._all
        self._show()

    def _line(self, slot: Clocked) -> QVBoxLayout:
        t = slot.task
        clock = label(day.clock_of(slot.begin), "mono")
        clock.setFixedWidth(48)
        name = label(t.title, "", wrap=True)
        more = label(f"{t.minutes:.0f} min", "quiet")
        lines = [row(clock, name, more)]
        lines[0].setStretch(1, 1)
        if slot.before:
            words = label(
                ", ".join(x.words for x in slot.before),
                "watch" if slot.before[0].turn in ("battery off", "battery on") else "small",
                wrap=True,
            )
            pad = row(words)
            pad.setContentsMargins(56, 3, 0, 0)
            lines.insert(0, pad)
        return column(*lines, spacing=0)

    def _parts(self) -> list[str]:
        """Small parts to have at hand, by kind; wire and devices are on the lists of Hand over."""
        kinds: dict[str, list[str]] = {}
        for p in parts_list(laid(self._session.job)):
            if p.kind in ("fuse", "terminal", "joint", "connector", "loom"):
                count = _amount(p) if p.unit else f"{p.count:g} ×"
                kinds.setdefault(p.kind, []).append(f"{count} {p.name}")
        return ["; ".join(lines) + "." for lines in kinds.values()]

    def _show_side(self, order: Order) -> None:
        clear(self._side)
        if order.held:
            holder, inner = card()
            inner.addWidget(label("Waiting", "head"))
            work = {w.id: w for w in self._session.job.work}
            direct_first = sorted(
                order.held, key=lambda t: work[t.id].state != "waiting" if t.id in work else True
            )
            for t in direct_first[:HELD]:
                direct = t.id in work and work[t.id].state == "waiting"
                line = row(
                    Mark("watch" if direct else "locked", 14),
                    label(t.title, "quiet", wrap=True),
                )
                line.setStretch(1, 1)
                inner.addLayout(line)
                if direct:
                    here = button(
                        "The part is here",
                        partial(self._again, t),
                        "plain",
                        f"Part is here: {t.title}",
                    )
                    inner.addLayout(row(here, 1))
            if len(direct_first) > HELD:
                inner.addWidget(label(f"and {len(direct_first) - HELD} more that need it", "small"))
            free = len(order.slots)
            inner.addWidget(
                label(
                    f"Meanwhile {free} task{'s' if free != 1 else ''} can go on: the order beside "
                    "leaves out what waits.",
                    "small",
                    wrap=True,
                )
            )
            self._side.addWidget(holder)
        holder, inner = card()
        inner.addWidget(label("Lay out for what is left", "head"))
        found = tuple(s.task for s in order.slots)
        inner.addWidget(label(", ".join(day.tools(found)) or "nothing", "quiet", wrap=True))
        for words in self._parts():
            inner.addWidget(label(words, "small", wrap=True))
        self._side.addWidget(holder)
        if order.done:
            holder, inner = card()
            inner.addWidget(label(f"Done: {len(order.done)}", "head"))
            work = {w.id: w for w in self._session.job.work}
            for t in order.done[-8:]:
                took = work[t.id].minutes
                words = f"✓ {t.title}" + (f", {took:.0f} min" if took else "")
                inner.addWidget(label(words, "small", wrap=True))
            last = order.done[-1]
            inner.addLayout(
                row(
                    button(
                        "Not done after all",
                        partial(self._again, last),
                        "plain",
                        f"Not done after all: {last.title}",
                    ),
                    1,
                )
            )
            self._side.addWidget(holder)
        self._side.addStretch(1)


def _hours(minutes: float) -> str:
    """``95 -> "1 h 35 min"``."""
    hours, rest = divmod(round(minutes), 60)
    return f"{hours} h {rest:02d}" if hours else f"{rest} min"


def _amount(part: Part) -> str:
    """How much of something that is not counted in pieces."""
    return length_of(part.count, 1) if part.unit == "m" else f"{part.count:.1f} {part.unit}"
