"""Set: a sensor's pairs taken out of a log, looked at before they are kept."""

from __future__ import annotations

import math
from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QDialog, QFileDialog, QVBoxLayout, QWidget

from zombrel.job.model import Job
from zombrel.job.pairs import write
from zombrel.job.problem import Problem
from zombrel.job.sheet import Curve, InputSheet
from zombrel.ui.road.log_kinds import LOGS
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.parts import button, label, row
from zombrel.units.measure import Kind, size, value_from, value_in

WIRES = {"Ω": ("resistance", "voltage", "number"), "V": ("voltage", "number")}
"""What a channel may measure to be what the sender's wire showed."""
Took = Callable[[Curve, str], object]
"""Called with the pairs [SI] and where they came from."""


class HarvestView(QDialog):
    """Which log, which column is true, which is the wire; then the pairs, and how good they are."""

    def __init__(
        self,
        session: Session,
        kind: Kind,
        unit: str,
        sheet: InputSheet,
        took: Took,
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        from zombrel.ui.road.logs_reader import LogReader

        self._session, self._kind, self._unit, self._sheet = session, kind, unit, sheet
        self._took = took
        self._pairs: Curve = ()
        self.setWindowTitle("Pairs out of a log")
        dress(self)
        self.setMinimumWidth(560)
        self.reader = LogReader(session, self)
        self._logs, self._truth, self._wire = Choice(), Choice(), Choice()
        for box, name in (
            (self._logs, "Log"),
            (self._truth, "What is true"),
            (self._wire, "What the wire showed"),
        ):
            box.setAccessibleName(name)
        self._logs.activated.connect(lambda _: self._opened())
        self._truth.activated.connect(lambda _: self._work())
        self._wire.activated.connect(lambda _: self._work())
        self._said = label("", "", wrap=True)
        self._found = label("", "strong13", wrap=True)
        self._keep = button("Take these pairs", self._take, "primary")
        read = button("Read a log", self.ask, "plain")
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 16)
        body.setSpacing(10)
        body.addWidget(label(self.windowTitle(), "title"))
        words = (
            "A drive from cold to hot, or from full to empty, with a reference in one column and "
            "the sender's wire in another, gives the curve of this very sender."
        )
        body.addWidget(label(words, "quiet", wrap=True))
        for name, box in (
            ("Log", self._logs),
            ("True", self._truth),
            ("Its wire", self._wire),
        ):
            left = label(name, "quiet")
            left.setFixedWidth(70)
            line = row(left, box, *([read] if box is self._logs else []))
            line.setStretch(1, 1)
            body.addLayout(line)
        body.addWidget(self._said)
        body.addWidget(self._found)
        body.addLayout(row(1, button("Leave it", self.reject, "plain"), self._keep))
        self._show_logs()

    @property
    def _job(self) -> Job:
        return self._session.history.present

    def ask(self) -> None:
        """Choose a file."""
        name, _ = QFileDialog.getOpenFileName(self, "A log with both", "", LOGS)
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Read a file, and keep it with the job as a drive."""
        self.reader.add(path, "drive", lambda _: self._show_logs())

    def _show_logs(self) -> None:
        every = self._job.logs
        self._logs.clear()
        self._logs.addItems([x.name for x in every])
        self._logs.setCurrentIndex(len(every) - 1)
        if not every:
            self._refuse("The job has no log yet: read one.")
            return
        self._opened()

    def _opened(self) -> None:
        log = self._job.logs[self._logs.currentIndex()]
        self._refuse("It is being read.")
        self.reader.want([log], self._columns)

    def _columns(self) -> None:
        held = self.reader.held(self._job.logs[self._logs.currentIndex()])
        if held is None:
            return
        self._recording = held
        wires = WIRES.get(self._unit, ("number",))
        for box, fit in ((self._truth, (self._kind, "number")), (self._wire, wires)):
            box.clear()
            box.addItems([c.name for c in held.channels if c.what in fit])
        names = [self._wire.itemText(i) for i in range(self._wire.count())]
        kinds = [c.what for c in held.channels if c.name in names]
        self._wire.setCurrentIndex(next((i for i, k in enumerate(kinds) if k != "number"), 0))
        if not self._truth.count() or not names:
            self._refuse(
                f"{held.name} has no column of {'what is true' if names else 'the wire'}: it wants "
                f"{self._kind} and {self._unit}."
            )
            return
        self._work()

    def _work(self) -> None:
        from zombrel.logs.harvest import harvest, pulled

        s, sheet = self._session, self._sheet
        truth = self._recording.channel(self._truth.currentText())
        wire = self._recording.channel(self._wire.currentText())
        if truth is None or wire is None:
            return
        try:
            if truth is wire:
                raise Problem("The reference cannot be the wire itself.")
            if self._unit == "Ω" and wire.what == "voltage":
                if not (sheet.pull_up_ohm and sheet.pull_up_v):
                    raise Problem(
                        f"“{wire.name}” is in volts: its pull-up must be known for that; the sheet "
                        f"of {sheet.pin} does not say it."
                    )
                wire = pulled(wire, sheet.pull_up_ohm, sheet.pull_up_v)
            found = harvest(truth, wire)
        except Problem as problem:
            self._refuse(s.words(str(problem)))
            return
        raw = truth.what == "number"  # taken as in the units shown
        pairs = [(value_from(self._kind, x, s.units) if raw else x, y) for x, y in found.pairs]
        self._pairs = tuple((round(x, 3), float(f"{y:.4g}")) for x, y in pairs)
        shown = tuple((round(value_in(self._kind, x, s.units), 2), y) for x, y in self._pairs)
        self._found.setText(f"{write(shown)} {self._unit}")
        scatter = found.scatter if not raw else math.nan
        told = [f"{len(shown)} pairs from {found.used} moments."]
        if math.isfinite(scatter):
            told.append(f"It scatters by {size(self._kind, scatter, s.units)} about the curve.")
        if found.lag_s:
            later = "later" if found.lag_s > 0 else "earlier"
            told.append(f"The reference answers {abs(found.lag_s):.1f} s {later}: taken out.")
        if found.left_out:
            told.append(f"{found.left_out} ranges were left out: too little was driven there.")
        self._said.setText(" ".join(told))
        self._keep.setEnabled(True)

    def _refuse(self, words: str) -> None:
        self._pairs = ()
        self._said.setText(words)
        self._found.setText("")
        self._keep.setEnabled(False)

    def _take(self) -> None:
        if self._pairs:
            self._took(self._pairs, f"out of {self._recording.name}")
            self.accept()
