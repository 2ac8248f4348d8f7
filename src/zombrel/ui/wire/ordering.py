"""The search for the order of work, between the window's own turns."""

from __future__ import annotations

import time

from PySide6.QtCore import QObject, QTimer, Signal

from zombrel.harness.laid import laid
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.wiring import Work
from zombrel.plan import day

SLICE_S = 0.008
"""What the search takes of each turn of the window: half a frame [s]."""


class Ordering(QObject):
    """The search for the order in slices between the window's own work; it can be stopped.

    Not on a thread: the search is all Python, and would take every other turn from the window.
    """

    found = Signal(object, object)
    went_on = Signal(float)
    failed = Signal(str)

    def __init__(self, job: Job, shop: tuple[Work, ...], parent: QObject) -> None:
        super().__init__(parent)
        self._job = job
        self._steps = day.order_steps(laid(job), shop=shop)
        self._next = QTimer(self)
        self._next.setInterval(0)
        self._next.timeout.connect(self._slice)
        self._next.start()

    def stop(self) -> None:
        """Give it up: the question has changed."""
        self._next.stop()
        self._steps.close()
        self.deleteLater()

    def finish(self) -> None:
        """Go through to the end now (tests and pictures)."""
        while self._next.isActive():
            self._slice()

    def _slice(self) -> None:
        until = time.perf_counter() + SLICE_S
        share = 0.0
        try:
            while time.perf_counter() < until:
                share = next(self._steps)
        except StopIteration as end:
            self._next.stop()
            self.found.emit(self._job, end.value)
            self.deleteLater()
            return
        except Problem as problem:
            self._next.stop()
            self.failed.emit(str(problem))
            self.deleteLater()
            return
        self.went_on.emit(share)
