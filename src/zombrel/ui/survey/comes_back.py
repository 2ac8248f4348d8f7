"""Survey: what came up on other jobs with the devices that are wanted here."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QWidget

from zombrel.book.comes_back import Recurring, recurring
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.ui.session import Session
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.parts import button, column, label, row

PAUSE_MS = 700
"""The page stands first; nobody waits for this."""
TOLD = 3


def told_for(job: Job) -> tuple[Recurring, ...]:
    """What could come up on this job too, by the book."""
    from zombrel.store.book.book import Book

    with Book.opened() as book:
        book.refresh()
        shown = job.synthetic or not book.has_own()
        return tuple(r for r in recurring(job, book.told(shown)) if r.here and r.kind != "setting")


class ComesBack(QWidget):
    """A few lines; nothing where nothing comes back."""

    shown = Signal(bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.background = Background(self)
        self._of: tuple[object, ...] = ()
        self._known: tuple[object, set[str]] = (None, set())
        """The job that was shown last, and the devices that it had."""
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(PAUSE_MS)
        self._soon.timeout.connect(self._ask)
        self._lines = [label("", "watch", wrap=True) for _ in range(TOLD)]
        go = button("Job book", partial(session.goto.emit, "book"), "plain", "Go to the job book")
        self.setLayout(column(label("Comes back", "head"), *self._lines, row(go, 1), spacing=4))

    @property
    def waiting(self) -> bool:
        """It is being asked for."""
        return self._soon.isActive() or self.background.busy

    def refresh(self) -> None:
        """Ask the book anew where devices or vehicle are others."""
        job = self._session.history.present
        key = (job.vehicle.name, job.number, tuple(d.sheet.id for d in job.devices))
        if key != self._of:
            self._of = key
            self._soon.start()

    def _ask(self) -> None:
        job = self._session.history.present
        self.background.start(
            "Asking the job book", partial(told_for, job), self._show, self._failed, quiet=True
        )

    def _failed(self, problem: Problem) -> None:
        self.shown.emit(False)  # the job book says what is wrong with it

    def _show(self, found: tuple[Recurring, ...]) -> None:
        for line, told in zip(self._lines, [*found[:TOLD], *[None] * TOLD], strict=False):
            line.setText(f"▲ {self._session.words(told.words)}" if told is not None else "")
            line.setVisible(told is not None)
        self.shown.emit(bool(found))
        self._tell_new(found)

    def _tell_new(self, found: tuple[Recurring, ...]) -> None:
        """Of a device that was just added what comes back is said aloud."""
        job = self._session.history.present
        sheets = {d.sheet.id for d in job.devices}
        number, before = self._known
        self._known = (job.number, sheets)
        new = [r for r in found if r.sheet in sheets - before]
        if number == job.number and new:
            self._session.said.emit("watch", f"Comes back: {self._session.words(new[0].words)}.")
