"""How it drives: what the driver reports, the next single change, and what was changed so far."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QVBoxLayout

from zombrel.actions.trials import came, name_of_trial, tried, untold
from zombrel.behaviour.moments import Moment, moments
from zombrel.behaviour.reports import Report, next_change, paced, spoken
from zombrel.job.follow.view import plain
from zombrel.job.model import Device, index
from zombrel.job.problem import Problem
from zombrel.job.records.outing import Result
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, clear, label, row
from zombrel.ui.widgets.why import show_why

LAST = 3


class Reported(Panel):
    """One report in, one change out; what came of it is said before the next."""

    def __init__(self, session: Session, show_every: Callable[[], object]) -> None:
        super().__init__()
        self._session = session
        self.report = Choice()
        self.report.setAccessibleName("What the driver reports")
        self.report.activated.connect(lambda _: self.refresh())
        self._change, self._feels = label("", "strong", wrap=True), label("", "quiet", wrap=True)
        self._take = button("Take it", self.take, "primary", "Take the change")
        self.every = button("Every setting", show_every, "plain", "What every setting would do")
        self._log = label("", "small", wrap=True)
        self._moments = QVBoxLayout()
        self._moments.setSpacing(5)
        body = QVBoxLayout(self)
        body.setContentsMargins(12, 10, 12, 10)
        body.setSpacing(7)
        body.addWidget(label("How it drives", "head"))
        body.addWidget(self.report)
        for words in (self._change, self._feels):
            body.addWidget(words)
        self._better = button("It is better", partial(self.came, "better"), "primary")
        self._worse = button("No better: put it back", partial(self.came, "no better"))
        body.addLayout(row(self._take, self.every, 1))
        body.addWidget(self._better)
        body.addWidget(self._worse)
        body.addWidget(self._log)
        body.addLayout(self._moments)

    def _list(self) -> None:
        """What can be said of the devices there are; the choice stays."""
        told = spoken(plain(self._session.history.present))
        items = {"": "It drives well"}
        for device, reports in told:
            name = f"{device.name}: " if len(told) > 1 else ""
            items |= {f"{device.id}/{r.key}": f"{name}{r.words}" for r in reports}
        have = [self.report.itemData(i) for i in range(self.report.count())]
        texts = [self.report.itemText(i) for i in range(self.report.count())]
        if have == list(items) and texts == list(items.values()):
            return
        kept = self.report.currentData()
        self.report.clear()
        for key, words in items.items():
            self.report.addItem(words, key)
        self.report.setCurrentIndex(max(self.report.findData(kept), 0))

    def _said(self) -> tuple[Device, Report] | None:
        """The report that was chosen, and of what."""
        at, _, key = str(self.report.currentData() or "").partition("/")
        for device, reports in spoken(plain(self._session.history.present)):
            for report in reports:
                if (device.id, report.key) == (at, key):
                    return device, report
        return None

    @property
    def grade(self) -> float:
        """The slope that the report speaks of [rise over run]."""
        said = self._said()
        return said[1].grade if said is not None else 0.0

    def refresh(self) -> None:
        """Show what follows from the report; nothing where no device can be felt."""
        self._list()
        self.setVisible(self.report.count() > 1)
        if self.report.count() <= 1:
            return
        self.every.setVisible(paced(self._session.history.present) is not None)
        said = self._said()
        self._show_moments(said is None)
        job = plain(self._session.history.present)
        lines = [name_of_trial(job, t) for t in job.trials[-LAST:]]
        self._log.setText(self._session.words("\n".join(lines)))
        self._log.setVisible(bool(lines))
        last = untold(job)
        for told in (self._better, self._worse):
            told.setVisible(last is not None)
        self.report.setEnabled(last is None)
        if last is not None:
            self._change.setText(
                self._session.words(
                    f"Drive it again, then say what came of it. Changed: {last.change}"
                )
            )
            self._feels.hide()
            self._take.hide()
            self.every.hide()
            return
        if said is None:
            self._change.setText("One change at a time, and report again.")
            self._feels.hide()
            self._take.setVisible(False)
            return
        change = next_change(plain(self._session.history.present), *said)
        self._change.setText(self._session.words(change.words))
        self._feels.setText(self._session.words(change.feels))
        self._feels.setVisible(bool(change.feels))
        self._take.setVisible(True)
        self._take.setText("Take it" if change.pin else "Note it")

    def _show_moments(self, shown: bool) -> None:
        """What each dial does as it stands, or what is missing to tell."""
        clear(self._moments)
        names = index(self._session.history.present.devices)
        for key, _, seen in moments(plain(self._session.history.present)) if shown else ():
            fine = isinstance(seen, Moment) and seen.fine
            words = seen.words if isinstance(seen, Moment) else seen
            role = "good" if fine else "watch" if isinstance(seen, Moment) else "open"
            told = label(self._session.words(f"{names[key].name}. {words}"), "small", wrap=True)
            line = row(Mark(role, 14), told, spacing=6)
            line.setStretch(1, 1)
            if isinstance(seen, Moment):
                name = f"Why: {names[key].name}, {seen.kind}"
                line.addWidget(button("Why?", partial(self._why, seen), name=name))
            self._moments.addLayout(line)

    def _why(self, seen: Moment) -> None:
        show_why(seen.reason, self.window(), self._session.units)

    def take(self) -> None:
        """Make the change, or note what was done to the cable, with the report."""
        said = self._said()
        if said is None:
            return
        device, report = said
        job = plain(self._session.history.present)
        change = next_change(job, device, report)
        words = (report.words, change.words)
        try:
            edit = tried(job, device, change.pin, change.at, words, self._session.now())
        except Problem as problem:
            self._session.said.emit("watch", str(problem))
            return
        self._session.do(f"{device.name}: {change.words}", edit)
        self.report.setCurrentIndex(0)
        self.refresh()

    def came(self, result: Result) -> None:
        """Say what came of the last change; no better, and its dial goes back."""
        edit = came(plain(self._session.history.present), result)
        if edit is not None:
            self._session.do(f"The last change on the road: {result}", edit)
            self.refresh()
