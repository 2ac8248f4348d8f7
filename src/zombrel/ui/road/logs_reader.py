"""Reading a log for a job: off the window's thread, units asked for where a file does not say."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from pathlib import Path

import msgspec
from PySide6.QtWidgets import QFileDialog, QWidget

from zombrel.actions.logs import add_log, put_log
from zombrel.job.problem import Problem
from zombrel.job.records.logs import JobLog, Part
from zombrel.logs.read_any import is_bus, is_table, read_any
from zombrel.logs.recording import Recording
from zombrel.store import log_files
from zombrel.ui.session import Session
from zombrel.ui.widgets.background import Background

Key = tuple[str, tuple[tuple[str, str], ...], str]
"""What a recording was read from: its file, the units that were stated, the bus description."""


class LogReader:
    """Keeps what was read, so that a log is read once however often it is looked at."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        self._session, self._parent = session, parent
        self._read: dict[Key, Recording] = {}
        self.background = Background(parent)

    def held(self, log: JobLog | None) -> Recording | None:
        """The samples of a log that was read already."""
        return self._read.get((log.file, log.units, log.bus)) if log is not None else None

    def want(self, logs: list[JobLog], done: Callable[[], object]) -> None:
        """Have these read, then call ``done``; what cannot be read is said."""
        missing = [x for x in logs if self.held(x) is None]
        if not missing:
            done()
            return

        def work() -> list[tuple[JobLog, Recording]]:
            found = []
            for x in missing:
                with contextlib.ExitStack() as open_files:
                    path = open_files.enter_context(log_files.opened(x.file, x.name))
                    described = None
                    if x.bus:
                        held = log_files.opened(x.bus, x.bus_name)
                        described = open_files.enter_context(held)
                    found.append(
                        (x, read_any(path, dict(x.units), described, self.background.tell))
                    )
            return found

        def took(found: list[tuple[JobLog, Recording]]) -> None:
            for x, recording in found:
                self._read[x.file, x.units, x.bus] = recording
            done()

        self.background.start("Reading the log", work, took, self._failed)

    def add(self, path: Path, part: Part, done: Callable[[str], object]) -> None:
        """Read a file for one part of the work.

        Where a unit is missing it is asked for, and so is what describes the messages of a bus.
        """
        if is_bus(path):
            self._add_bus(path, part, done)
            return
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

    def look_again(self, log: JobLog, done: Callable[[], object]) -> None:
        """Show what the columns of a table were taken for; what is corrected is read anew."""
        from zombrel.ui.road.preview import Preview

        kept = contextlib.ExitStack()
        try:
            path = kept.enter_context(log_files.opened(log.file, log.name))
            if not is_table(path):
                raise Problem(f"{log.name} is no table: what is in it is not guessed.")
            dialog = Preview(self._session, path, self._parent.window(), dict(log.units))
        except Problem as problem:
            kept.close()
            self._failed(problem)
            return

        def took() -> None:
            units = tuple(dialog.stated.items())
            if units != log.units:
                edit = put_log(msgspec.structs.replace(log, units=units))
                self._session.do(f"Columns of {log.name}", edit)
                done()

        dialog.accepted.connect(took)
        dialog.finished.connect(lambda _: kept.close())
        dialog.open()

    def _add_bus(self, path: Path, part: Part, done: Callable[[str], object]) -> None:
        """Messages: by the description that the job has already, else by one that is asked for."""
        had = next((x for x in reversed(self._session.history.present.logs) if x.bus), None)

        def by_another(problem: Problem) -> None:
            self._failed(problem)
            self._ask_description(path, part, done)

        if had is None:
            self._ask_description(path, part, done)
            return
        with contextlib.ExitStack() as kept:
            try:
                described = kept.enter_context(log_files.opened(had.bus, had.bus_name))
            except Problem as problem:
                by_another(problem)
                return
            hold = kept.pop_all()  # it is read in a thread
        self._take(path, part, {}, done, described, by_another, hold.close)

    def _ask_description(self, path: Path, part: Part, done: Callable[[str], object]) -> None:
        words = f"{path.name}: the description of its bus"
        kinds = "Bus descriptions (*.dbc *.kcd *.sym *.arxml);;Any file (*)"
        name, _ = QFileDialog.getOpenFileName(self._parent.window(), words, "", kinds)
        if name:
            self._take(path, part, {}, done, Path(name))
        else:
            self._failed(
                Problem(
                    f"{path.name} holds raw messages: without the description of its bus (DBC) "
                    "nobody can tell what they mean."
                )
            )

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
        self,
        path: Path,
        part: Part,
        stated: dict[str, str],
        done: Callable[[str], object],
        described: Path | None = None,
        failed: Callable[[Problem], object] | None = None,
        after: Callable[[], object] = lambda: None,
    ) -> None:
        """Read and keep a file; ``after`` is called however it ends."""

        def work() -> tuple[str, int, str, Recording]:
            try:
                recording = read_any(path, stated, described, self.background.tell)
                sha, size = log_files.keep(path, self.background.tell)
                bus = log_files.keep(described)[0] if described is not None else ""
            finally:
                after()
            return sha, size, bus, recording

        def took(found: tuple[str, int, str, Recording]) -> None:
            sha, size, bus, recording = found
            s = self._session
            by = (bus, described.name if described is not None else "")
            try:
                key, edit = add_log(
                    s.history.present, path.name, sha, size, part, stated, s.now()[:10], by
                )
            except Problem as problem:
                self._failed(problem)
                return
            self._read[sha, tuple(stated.items()), bus] = recording
            if s.do(f"Log {path.name}", edit):
                done(key)

        self.background.start(f"Reading {path.name}", work, took, failed or self._failed)

    def _failed(self, problem: Problem) -> None:
        self._session.said.emit("trouble", self._session.words(str(problem)))
