"""How it drives: what the driver reports, the next single change, and what was changed so far."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QVBoxLayout

from zombrel.actions.notes import put_fact
from zombrel.actions.signals import put_setting
from zombrel.behaviour.reports import REPORTS, Report, next_change, paced
from zombrel.job.edits import Edit, together
from zombrel.job.model import Device
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, label, row

LOG = "Road: "
"""A line of the notes that tells a change on the road."""
LAST = 3


class Reported(Panel):
    """One report in, one change out; each is a line of the notes."""

    def __init__(self, session: Session, show_every: Callable[[], object]) -> None:
        super().__init__()
        self._session = session
        self.report = Choice()
        self.report.setAccessibleName("What the driver reports")
        self.report.addItem("It drives well", "")
        for report in REPORTS:
            self.report.addItem(report.words, report.key)
        self.report.activated.connect(lambda _: self.refresh())
        self._change, self._feels = label("", "strong", wrap=True), label("", "quiet", wrap=True)
        self._take = button("Take it", self.take, "primary", "Take the change")
        self.every = button("Every setting", show_every, "plain", "What every setting would do")
        self._log = label("", "small", wrap=True)
        body = QVBoxLayout(self)
        body.setContentsMargins(12, 10, 12, 10)
        body.setSpacing(7)
        body.addWidget(label("How it drives", "head"))
        body.addWidget(self.report)
        for words in (self._change, self._feels):
            body.addWidget(words)
        body.addLayout(row(self._take, self.every, 1))
        body.addWidget(self._log)

    def _device(self) -> Device | None:
        return paced(self._session.history.present)

    def _chosen(self) -> Report | None:
        key = self.report.currentData()
        return next((r for r in REPORTS if r.key == key), None)

    @property
    def grade(self) -> float:
        """The slope that the report speaks of [rise over run]."""
        report = self._chosen()
        return report.grade if report is not None else 0.0

    def refresh(self) -> None:
        """Show what follows from the report; nothing where no device holds a speed."""
        device, report = self._device(), self._chosen()
        self.setVisible(device is not None)
        if device is None:
            return
        lines = [x for x in self._session.history.present.notes.splitlines() if x.startswith(LOG)]
        self._log.setText("\n".join(x.removeprefix(LOG) for x in lines[-LAST:]))
        self._log.setVisible(bool(lines))
        if report is None:
            self._change.setText("One change at a time, and report again.")
            self._feels.hide()
            self._take.setVisible(False)
            return
        change = next_change(self._session.history.present, device, report)
        self._change.setText(self._session.words(change.words))
        self._feels.setText(self._session.words(change.feels))
        self._feels.show()
        self._take.setVisible(True)
        self._take.setText("Take it" if change.pin else "Note it")

    def take(self) -> None:
        """Make the change, or note what was done to the cable, with the report."""
        device, report = self._device(), self._chosen()
        if device is None or report is None:
            return
        job = self._session.history.present
        change = next_change(job, device, report)
        line = f"{LOG}{self._session.now()}, {report.words.lower()}: {change.words}"
        notes = put_fact("notes", f"{job.notes}\n{line}".strip())
        edits: list[Edit] = [notes]
        if change.pin:
            edits.append(put_setting(device, change.pin, change.at))
        self._session.do(f"{device.name}: {change.words}", together(*edits))
        self.report.setCurrentIndex(0)
        self.refresh()
