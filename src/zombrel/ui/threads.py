"""The window's objects stay in the window's thread, whatever other threads do meanwhile.

Python frees what refers to itself in whichever thread happens to run when enough of it has
gathered. A widget freed in a thread that lays out a paper takes the program down, or holds it for
ever: widgets are bound to the thread of the window (Qt 6, "Threads and QObjects"). So the
collector runs by a clock in that thread, and nowhere else. And what a thread has to tell goes
through one object that lives as long as the program, never through one a window may take along.
"""

from __future__ import annotations

import functools
import gc
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, Qt, QTimer, Signal
from PySide6.QtWidgets import QApplication

SWEEP_MS = 1000
"""So often what refers only to itself is freed [ms]."""
WHOLE = 10
"""After so many times among all objects, else among the younger ones alone."""


class Sweep(QObject):
    """Python's collector, run by a clock of the thread it was made in."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.disable()
        self._times = 0
        clock = QTimer(self)
        clock.timeout.connect(self.sweep)
        clock.start(SWEEP_MS)

    def sweep(self) -> None:
        """Free what is due; nothing while next to nothing was made.

        All objects are gone through while nothing is dragged: that takes some frames.
        """
        young, _, _ = gc.get_count()
        if young <= gc.get_threshold()[0]:
            return
        self._times += 1
        if self._times < WHOLE or QApplication.mouseButtons() != Qt.MouseButton.NoButton:
            gc.collect(1)
        else:
            self._times = 0
            gc.collect()


class _Post(QObject):
    """Calls what it is sent, in the thread it was made in."""

    _sent = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self._sent.connect(self._call, Qt.ConnectionType.QueuedConnection)

    def _call(self, call: Callable[[], Any]) -> None:
        call()

    def send(self, call: Callable[[], Any]) -> None:
        """From any thread: have ``call`` called in the window's."""
        self._sent.emit(call)


@functools.cache
def post() -> _Post:
    """The way from other threads into the window's; first asked for in the window's."""
    return _Post()
