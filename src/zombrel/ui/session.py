"""The session: one history of jobs, one supposed state, one assessment, and who listens."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec
from PySide6.QtCore import QObject, Signal

from zombrel.behaviour.suppose import USUAL, follow, usual
from zombrel.catalog import DEMO
from zombrel.findings.assess import assess
from zombrel.findings.finding import Assessment
from zombrel.job.edits import Edit, Step
from zombrel.job.follow.query import engine, forget
from zombrel.job.history import History
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.state import State
from zombrel.store import prefs as prefs_store
from zombrel.store.zjob import load, save
from zombrel.ui.theme import DAY, NIGHT, Theme
from zombrel.units import Units, words

if TYPE_CHECKING:
    from zombrel.store.recovery import Found, Journal


class Session(QObject):
    """Everything the window shows, and the only way to change it."""

    changed = Signal()
    """Job, state or preferences changed; ``assessment`` is up to date."""
    restyled = Signal()
    said = Signal(str, str)
    """(mark, words): tell the user something."""
    watching = Signal()
    """Another quantity is being looked at."""
    goto = Signal(str)
    """Show ``stage`` or ``stage:item``."""

    def __init__(self, journal: bool = True) -> None:
        super().__init__()
        self._keep = journal
        self._journal: Journal | None = None
        self.prefs = prefs_store.load_prefs()
        self.history = History(present=Job())
        self._state = State()
        self.state_name = ""
        self.watched: str = ""
        """Quantity of the chain that is being looked at."""
        self.path: Path | None = None
        self._base = self.history.present
        """The job as opened or last saved: what the journal starts from."""
        self._saved: Job | None = None

    @property
    def job(self) -> Job:
        """The present job; to whoever notes what is shown, a view of it."""
        return engine().shown(self.history.present)  # type: ignore[no-any-return]

    @property
    def state(self) -> State:
        """The supposed state, likewise."""
        return engine().shown(self._state)  # type: ignore[no-any-return]

    @property
    def assessment(self) -> Assessment:
        """Everything that follows from both."""
        return assess(self.job, self.state)

    @property
    def present(self) -> tuple[Job, State]:
        """Both as they are, for ``Watch.due``."""
        return self.history.present, self._state

    @property
    def theme(self) -> Theme:
        """Day or night."""
        return NIGHT if self.prefs.night else DAY

    @property
    def units(self) -> Units:
        """Units to show."""
        return self.prefs.units

    @property
    def dirty(self) -> bool:
        """There is something that would be lost by closing."""
        return self.job is not self._saved

    # ---- jobs in and out

    def start(self, job: Job, path: Path | None, saved: bool = True) -> None:
        """Begin work on ``job``."""
        self._begin(History(present=job), path)
        self._saved = job if saved else None
        self._tell()

    def _begin(self, history: History, path: Path | None) -> None:
        self.close_journal()
        forget()  # what was worked out for another job
        self.history, self.path, self._base = history, path, history.present
        self.state_name, self._state = USUAL, usual(self.job.vehicle)

    def open(self, path: Path) -> None:
        """Open a job file; raises Problem and changes nothing when it cannot be read."""
        job = load(path)
        self._remember(path)
        self.start(job, path)

    def open_demo(self, number: str = "0412") -> None:
        """Open a shipped demo job; saving it asks for a place."""
        self.start(load(DEMO / f"{number}.zjob"), None)

    def recover(self, found: Found) -> None:
        """Bring a killed session back, undo list and all."""
        from zombrel.store.recovery import discard

        self._begin(found.history, found.path)
        self._saved = None
        journal = self._open_journal()
        if journal is not None:
            journal.rebase(found.history.present, found.path, unsaved=True)
        discard(found)
        self._tell()

    def save(self, path: Path | None = None) -> None:
        """Save to ``path`` or where it came from; raises Problem when that fails."""
        path = path or self.path
        if path is None:
            raise Problem("Choose a place for the job first.")
        from zombrel.store.shop_times import keep_times

        save(self.job, path)
        keep_times(self.job)
        self.path, self._saved, self._base = path, self.job, self.job
        if self._journal is not None:
            self._journal.rebase(self.job, path)
        self._remember(path)
        self._tell()

    def _remember(self, path: Path) -> None:
        """Put ``path`` first among the recent jobs."""
        prefs = prefs_store.with_recent(self.prefs, path)
        if prefs != self.prefs:
            self.prefs = prefs
            prefs_store.save_prefs(prefs)

    def close_journal(self) -> None:
        """The work is saved or given up: nothing to bring back."""
        if self._journal is not None:
            self._journal.close()
            self._journal = None

    # ---- edits

    def do(self, label: str, edit: Edit) -> bool:
        """Make an edit; says why and returns False when it cannot be made."""
        step = Step(label=label, edit=edit)
        try:
            self._come_to(self.history.do(step))
        except Problem as problem:
            self.said.emit("trouble", str(problem))
            return False
        self._write(do=step)
        self._tell()
        return True

    def undo(self) -> None:
        """Take the last edit back."""
        if not self.history.past:
            self.said.emit("open", "Nothing to undo.")
            return
        label = self.history.past[-1][0]
        self._come_to(self.history.undo())
        self._write(move="undo")
        self._tell()
        self.said.emit("good", f"Undone: {label}")

    def redo(self) -> None:
        """Make an undone edit again."""
        if not self.history.future:
            self.said.emit("open", "Nothing to redo.")
            return
        label = self.history.future[0][0]
        self._come_to(self.history.redo())
        self._write(move="redo")
        self._tell()
        self.said.emit("good", f"Done again: {label}")

    def _come_to(self, history: History) -> None:
        before, after = self.history.present.vehicle, history.present.vehicle
        self.history = history
        if after is not before:
            self._state = follow(before, after, self._state, self.state_name)

    def draft(self, path: str, text: str) -> None:
        """Keep what is being typed, in case the power goes."""
        self._write(draft=(path, text))

    def _open_journal(self) -> Journal | None:
        """The journal, begun with the first thing worth keeping."""
        from zombrel.store.recovery import Journal

        if self._journal is None and self._keep:
            try:
                self._journal = Journal(prefs_store.recovery_root(), self._base, self.path)
            except Problem as problem:
                self._keep = False
                self.said.emit("watch", str(problem))
        return self._journal

    def _write(self, **what: object) -> None:
        """Put one event into the journal before anything else happens."""
        journal = self._open_journal()
        if journal is None:
            return
        from zombrel.store.recovery import Event

        try:
            journal.write(Event(**what))  # type: ignore[arg-type]
        except OSError as error:
            self.said.emit("watch", f"The recovery journal cannot be written: {error}.")

    # ---- state and preferences

    def watch(self, quantity: str) -> None:
        """Look at a quantity: the bench offers it to be supposed."""
        if quantity != self.watched:
            self.watched = quantity
            self.watching.emit()

    def suppose(self, state: State, name: str = "") -> None:
        """Suppose another state of the vehicle."""
        self._state, self.state_name = state, name
        self._tell()

    def set_prefs(self, prefs: prefs_store.Prefs) -> None:
        """Change preferences and keep them."""
        if prefs == self.prefs:
            return
        restyle = prefs.night != self.prefs.night
        self.prefs = prefs
        prefs_store.save_prefs(prefs)
        if restyle:
            self.restyled.emit()
        self._tell()

    def toggle_night(self) -> None:
        """Day or night."""
        self.set_prefs(msgspec.structs.replace(self.prefs, night=not self.prefs.night))

    def next_units(self, field: str, values: tuple[str, ...]) -> None:
        """Go to the next choice of one unit."""
        now = getattr(self.units, field)
        new = values[(values.index(now) + 1) % len(values)]
        units = msgspec.structs.replace(self.units, **{field: new})
        self.set_prefs(msgspec.structs.replace(self.prefs, units=units))

    def words(self, text: str) -> str:
        """A sentence with its speeds and rates in the user's units."""
        return words(text, self.units)

    def now(self) -> str:
        """Date and time for the ledger."""
        return datetime.now().strftime("%Y-%m-%d %H:%M")

    def _tell(self) -> None:
        self.changed.emit()
