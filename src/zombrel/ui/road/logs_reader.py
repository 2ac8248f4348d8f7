"""Reading a log for a job: off the window's thread, units asked for where a file does not say."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QWidget

from zombrel.actions.logs import add_log
from zombrel.job.logs import JobLog, Part
from zombrel.job.problem import Problem
from zombrel.logs.read_any import is_table, read_any
from zombrel.logs.recording import Recording
from zombrel.store import log_files
from zombrel.ui.session import Session
from zombrel.ui.widgets.background import Background


class LogReader:
    """Keeps what was read, so that a log is read once however often it is looked at."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        self._session, self._parent = session, parent
        self._read: dict[tuple[str, tuple[tuple[str, str], ...]], Recording] = {}
        self.background = Background(parent)

    def held(self, log: JobLog | None) -> Recording | None:
        """The samples of a log that was read already."""
        return self._read.get((log.file, log.units)) if log is not None else None

    def want(self, logs: list[JobLog], done: Callable[[], object]) -> None:
        """Have these read, then call ``done``; what cannot be read is said."""
        missing = [x for x in logs if self.held(x) is None]
        if not missing:
            done()
            return

        def work() -> list[tuple[JobLog, Recording]]:
            found = []
            for x in missing:
                with log_files.opened(x.file, x.name) as path:
                    found.append((x, read_any(path, dict(x.units))))
            return found

        def took(found: list[tuple[JobLog, Recording]]) -> None:
            for x, recording in found:
                self._read[x.file, x.units] = recording
            done()

        self.background.start("Reading the log", work, took, self._failed)

    def add(self, path: Path, part: Part, done: Callable[[str], object]) -> None:
        """Read a file for one part of the work; where a unit is missing it is asked for."""
        try:
            asked = self._asked(path)
        except Problem as problem:
            self._failed(problem)
            return
        if asked is not None:
            from zombrel.ui.road.preview import Preview

            dialog = Preview(self._session, path, self._parent.window())
            dialog.accepted.connect(lambda: self._take(path, part, dialog.stated, done))
            dialog.open()
            return
        self._take(path, part, self._remembered(path), done)

    def _asked(self, path: Path) -> str | None:
        """The first column whose unit must be said; None where nothing is missing."""
        if not is_table(path):
            return None
        from zombrel.logs.table.read import preview

        seen = preview(path, self._remembered(path))
        return seen.asked[0].name if seen.asked else None

    def _remembered(self, path: Path) -> dict[str, str]:
        """Units that were said of the last file of this kind."""
        if not is_table(path):
            return {}
        from zombrel.logs.table.read import preview

        kept = dict(self._session.prefs.log_units)
        return dict(kept.get(preview(path).signature, ()))

    def _take(
        self, path: Path, part: Part, stated: dict[str, str], done: Callable[[str], object]
    ) -> None:
        def work() -> tuple[str, int, Recording]:
            recording = read_any(path, stated)
            sha, size = log_files.keep(path)
            return sha, size, recording

        def took(found: tuple[str, int, Recording]) -> None:
            sha, size, recording = found
            s = self._session
            try:
                key, edit = add_log(
                    s.history.present, path.name, sha, size, part, stated, s.now()[:10]
                )
            except Problem as problem:
                self._failed(problem)
                return
            self._read[sha, tuple(stated.items())] = recording
            if s.do(f"Log {path.name}", edit):
                done(key)

        self.background.start(f"Reading {path.name}", work, took, self._failed)

    def _failed(self, problem: Problem) -> None:
        self._session.said.emit("trouble", self._session.words(str(problem)))
