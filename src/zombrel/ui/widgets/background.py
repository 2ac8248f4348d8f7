"""Long work off the window's thread, with a sign that it goes on and a way to give it up."""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import partial
from typing import Any

import shiboken6
from PySide6.QtCore import QEventLoop, QObject, QTimer
from PySide6.QtWidgets import QDialog, QVBoxLayout, QWidget

from zombrel.job.problem import Problem
from zombrel.ui.theme import dress
from zombrel.ui.threads import post
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, label, row

PATIENCE_MS = 350
"""Work that is done by then shows nothing."""
BEAT_MS = 200


class Background(QObject):
    """One piece of work at a time; what is given up comes to nothing."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._parent = parent
        self._number = 0
        self._done: Callable[[Any], object] | None = None
        self._failed: Callable[[Problem], object] | None = None
        self._sign: _Sign | None = None
        self._left: Callable[[], object] | None = None
        """What ends the waiting for it."""
        self._here = threading.local()
        self._share = 0.0
        self._post = post()

    @property
    def busy(self) -> bool:
        """Something goes on."""
        return self._done is not None

    def start(
        self,
        words: str,
        work: Callable[[], Any],
        done: Callable[[Any], object],
        failed: Callable[[Problem], object],
        quiet: bool = False,
    ) -> None:
        """Do ``work`` in a thread of its own, then call ``done`` or ``failed`` in the window's.

        ``work`` touches nothing of the window. ``words`` say what goes on. Work begun before is
        given up. Nothing is shown of what is ``quiet``.
        """
        self.give_up()
        self._done, self._failed = done, failed
        self._number += 1
        number, self._share = self._number, 0.0

        def run() -> None:
            self._here.number = number
            try:
                result, problem = work(), None
            except Problem as error:
                result, problem = None, error
            except Exception as error:
                result, problem = None, Problem(f"{words} did not succeed: {error}")
            self._post.send(partial(self._end, number, result, problem))

        threading.Thread(target=run, daemon=True).start()
        if not quiet:
            QTimer.singleShot(PATIENCE_MS, self, lambda: self._show(number, words))

    def tell(self, share: float) -> bool:
        """From within the work: how far it is, 0 to 1; answers whether anybody still wants it."""
        if getattr(self._here, "number", 0) != self._number or not self.busy:
            return False
        self._share = share
        return True

    def run(self, words: str, work: Callable[[], Any]) -> Any:
        """Do ``work`` off the window's thread and wait for it; None when it was given up.

        Raises:
            Problem: what the work raised.
        """
        loop = QEventLoop()
        ended: list[tuple[Any, Problem | None]] = []

        def end(result: Any, problem: Problem | None) -> None:
            ended.append((result, problem))
            loop.quit()

        self._left = loop.quit
        self.start(words, work, lambda result: end(result, None), lambda p: end(None, p))
        self._left = loop.quit
        loop.exec()
        self._left = None
        if not ended:
            return None
        result, problem = ended[0]
        if problem is not None:
            raise problem
        return result

    def give_up(self) -> None:
        """What goes on comes to nothing."""
        left, self._left = self._left, None
        if self.busy and left is not None:
            left()
        self._done = self._failed = None
        if self._sign is not None:
            self._sign.close()
            self._sign = None

    def _show(self, number: int, words: str) -> None:
        if self.busy and number == self._number:
            self._sign = _Sign(self._parent.window(), words, self.give_up, lambda: self._share)
            self._sign.open()

    def _end(self, number: int, result: object, problem: Problem | None) -> None:
        if number != self._number or self._done is None or self._failed is None:
            return
        if not shiboken6.isValid(self):  # its window is gone
            return
        done, failed = self._done, self._failed
        self.give_up()
        if problem is not None:
            failed(problem)
        else:
            done(result)


class _Sign(QDialog):
    """Says what goes on and for how long; Escape gives it up."""

    def __init__(
        self,
        parent: QWidget,
        words: str,
        give_up: Callable[[], None],
        share: Callable[[], float],
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("At work")
        dress(self)
        self.setMinimumWidth(420)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(12)
        body.addLayout(row(Mark("open", 22), label(words, "head"), 1, spacing=12))
        self._since = label("", "quiet")
        body.addWidget(self._since)
        body.addLayout(row(1, button("Give it up", self.reject)))
        self.rejected.connect(give_up)
        self._beats, self._share = 0, share
        self._clock = QTimer(self)
        self._clock.timeout.connect(self._beat)
        self._clock.start(BEAT_MS)
        self._beat()

    def _beat(self) -> None:
        seconds = (PATIENCE_MS + self._beats * BEAT_MS) / 1000
        self._beats += 1
        done = f"{100 * self._share():.0f} %, " if self._share() > 0 else ""
        self._since.setText(f"{done}{seconds:.0f} s. You can go on as soon as it is done.")
