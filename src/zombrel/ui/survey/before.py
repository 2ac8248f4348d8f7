"""Survey: the log from before the work, kept beside what was found then."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from zombrel.actions.logs import of_part
from zombrel.ui.road.log_kinds import LOGS
from zombrel.ui.session import Session
from zombrel.ui.widgets.parts import button, column, label, row


class BeforeLog(QWidget):
    """Which log was made before anything was touched, or why one is worth making."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._words = label("", "small", wrap=True)
        self._read = button("Read a log from before", self.ask, "plain")
        self._see = button("See it", lambda: session.goto.emit("road:compare"), "plain")
        self._see.setAccessibleName("See the log from before")
        self.setLayout(column(self._words, row(self._read, self._see, 1), spacing=5))

    def refresh(self) -> None:
        """What there is now."""
        log = of_part(self._session.job, "before")
        self._words.setText(
            f"Log from before: {log.name}, {log.day}."
            if log is not None
            else "No log from before yet. Where the work changes how it pulls, cools or idles, "
            "make one now: afterwards nobody can."
        )
        self._see.setVisible(log is not None)

    def ask(self) -> None:
        """Choose its file."""
        name, _ = QFileDialog.getOpenFileName(self, "The log from before", "", LOGS)
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Read a file as the log from before; a unit that it does not say is asked."""
        from zombrel.ui.road.logs_reader import LogReader

        self.reader = LogReader(self._session, self)
        self.reader.add(path, "before", lambda _: self.refresh())
