"""Marks on a log: a moment, and what somebody has to say of it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import msgspec
from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from zombrel.actions.logs import add_mark, put_log, remove_mark
from zombrel.job.problem import Problem
from zombrel.job.records.logs import JobLog, LogMark
from zombrel.ui.session import Session
from zombrel.ui.widgets.parts import button, clear, column, row


class LogMarks(QWidget):
    """The log's note, a line to mark the cursor with, and the marks there are."""

    def __init__(
        self, session: Session, cursor: Callable[[], float], look: Callable[[LogMark], None]
    ) -> None:
        super().__init__()
        self._session, self._cursor, self._look = session, cursor, look
        self._log: JobLog | None = None
        self.note = QLineEdit()
        self.note.setPlaceholderText("who, where, what was driven")
        self.note.setAccessibleName("Note on this log")
        self.note.editingFinished.connect(self._noted)
        self.words = QLineEdit()
        self.words.setPlaceholderText("what is seen at the cursor")
        self.words.setAccessibleName("What is seen at the cursor")
        self.words.returnPressed.connect(self.add)
        self._add = button("Mark it", self.add, "plain", "Mark the cursor with these words")
        self._list = QVBoxLayout()
        self._list.setSpacing(4)
        self.setLayout(column(self.note, self.words, row(self._add, 1), self._list, spacing=5))

    def show_log(self, log: JobLog) -> None:
        """The note and the marks of another log, or of the same as it is now."""
        old, self._log = self._log, log
        if not self.note.hasFocus() or old is None or old.id != log.id:
            self.note.setText(log.note)
        clear(self._list)
        for mark in sorted(log.marks, key=lambda m: m.at_s):
            words = f"{mark.at_s:.1f} s  {mark.words}"
            short = words if len(words) <= SHOWN else f"{words[: SHOWN - 1]}…"
            there = button(short, partial(self._look, mark), "plain", f"Mark: {words}")
            there.setToolTip(words)
            out = button("Out", partial(self._remove, mark), "plain", f"Take the mark {words} out")
            self._list.addLayout(row(there, 1, out))

    def add(self) -> None:
        """Mark the cursor."""
        log = self._log
        if log is None:
            return
        try:
            _, edit = add_mark(log, self._cursor(), self.words.text())
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            self.words.setFocus()
            return
        if self._session.do(f"Mark on {log.name}", edit):
            self.words.clear()

    def _remove(self, mark: LogMark) -> None:
        if self._log is not None:
            self._session.do(f"Mark at {mark.at_s:.1f} s taken out", remove_mark(self._log, mark))

    def _noted(self) -> None:
        log = self._log
        if log is not None and self.note.text().strip() != log.note:
            edit = put_log(msgspec.structs.replace(log, note=self.note.text().strip()))
            self._session.do(f"Note on {log.name}", edit)


SHOWN = 15
"""So many signs of a mark are shown; its tip has all."""
