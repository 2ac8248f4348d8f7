"""The session: one history of jobs, one supposed state, one assessment, and who listens."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec
from PySide6.QtCore import QObject, QTimer, Signal

from zombrel.actions.begin import name_of
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
from zombrel.store.open_job import How, OpenJob
from zombrel.ui.theme import DAY, NIGHT, Theme, use_units
from zombrel.units import Units, words

if TYPE_CHECKING:
    from zombrel.store.recovery import Found

RETRY_MS = 5000
"""So often it is tried to keep a journal where none can be kept."""


class Session(QObject):
    """Everything the window shows, and the only way to change it."""

    changed = Signal()
    """Job, state or preferences changed; ``assessment`` is up to date."""
    restyled = Signal()
    said = Signal(str, str)
    """(mark, words): tell the user something."""
    mended = Signal(str)
    """What was said with these words is so no longer."""
    taken_back = Signal(str)
    """A step with which the job could not be shown was taken back; words."""
    keeping = Signal()
    """Recovery is kept again, or no longer (``desk.not_kept``)."""
    watching = Signal()
    """Another quantity is being looked at."""
    ask = Signal(str)
    """Have the window do something with job files: ``open``, ``demo:0412``, ``path:…``."""
    goto = Signal(str)
    """Show ``stage`` or ``stage:item``."""

    def __init__(self, journal: bool = True) -> None:
        super().__init__()
        self.desk = OpenJob(keep=journal)
        self.prefs, self.trouble = prefs_store.read_prefs()
        """The second: what could not be read when the program began."""
        use_units(self.prefs.units)
        self._state = usual(self.desk.history.present.vehicle)
        self.state_name = USUAL
        self.watched: str = ""
        """Quantity of the chain that is being looked at."""
        self.broken = False
        """Something failed unforeseen when the present job was shown last."""
        self._retry = QTimer(self)
        self._retry.setInterval(RETRY_MS)
        self._retry.timeout.connect(self._try_again)

    @property
    def history(self) -> History:
        """The present job with what can be undone and redone."""
        return self.desk.history

    @property
    def path(self) -> Path | None:
        """Where the job is kept; None while it has no file."""
        return self.desk.path

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
        return self.desk.dirty

    # ---- jobs in and out

    def start(self, job: Job) -> None:
        """Begin work on a job that has no file yet."""
        self.desk.start(job)
        self._show_anew()

    def _show_anew(self) -> None:
        forget()  # what was worked out for another job
        self.state_name, self._state = USUAL, usual(self.history.present.vehicle)
        self._tell()

    def open(self, path: Path, how: How = "write", got: tuple[bytes, Job] | None = None) -> None:
        """Open a job file; raises Problem and changes nothing when it cannot be.

        ``Held`` when another window has it: then ``how`` says what to do about that. ``got`` is
        what was read of it already.
        """
        self.desk.open(path, how, got)
        if self.path is not None:
            self._remember(self.path)
        self._show_anew()
        self.note_job()

    def open_demo(self, number: str = "0412") -> None:
        """Open a shipped demo job; saving it asks for a place."""
        self.open(DEMO / f"{number}.zjob")

    def recover(self, found: Found) -> None:
        """Bring a killed session back, undo list and all."""
        self.desk.recover(found)
        self._mind_the_journal()
        self._show_anew()

    def save(
        self, path: Path | None = None, over: bool = False, packed: bytes | None = None
    ) -> None:
        """Save to ``path`` or where it came from; raises Problem when that fails.

        ``Changed`` when the file is no longer what was opened, unless ``over``; ``packed`` is the
        job as a file, where it is packed already.
        """
        self.desk.save(path, over, packed)
        self._mind_the_journal()
        if self.path is not None:
            self._remember(self.path)
        self._tell()
        self.note_job()
        if self.desk.said:
            self.said.emit("watch", self.desk.said)

    def _remember(self, path: Path) -> None:
        """Put ``path`` first among the recent jobs."""
        prefs = prefs_store.with_recent(self.prefs, path)
        if prefs != self.prefs:
            self.prefs = prefs
            self._keep_prefs()

    def note_job(self) -> None:
        """Remember what a job with a file is and what is open in it, to be offered next time."""
        if self.path is None:
            return
        job, findings = self.history.present, assess(self.job, self.state).findings
        worst = "good" if not findings else findings[0].level
        note = prefs_store.JobNote(
            path=str(self.path.resolve()),
            name=name_of(job),
            vehicle=job.vehicle.name,
            devices=", ".join(d.name for d in job.devices[:4]),
            open=f"{len(findings)} to settle" if findings else "nothing to settle",
            mark="open" if worst == "note" else worst,
            when=self.now(),
        )
        prefs = prefs_store.with_note(self.prefs, note)
        if prefs != self.prefs:
            self.prefs = prefs
            self._keep_prefs()

    def _keep_prefs(self) -> None:
        try:
            prefs_store.save_prefs(self.prefs)
        except Problem as problem:
            self.said.emit("watch", f"Your preferences are not kept: {problem}")

    def close_journal(self) -> None:
        """The work is saved or given up: nothing to bring back."""
        self._retry.stop()
        self.desk.close()

    # ---- edits

    def do(self, label: str, edit: Edit) -> bool:
        """Make an edit; says why and returns False when it cannot be made."""
        return self._change(partial(self.desk.do, Step(label=label, edit=edit)), "", "")

    def undo(self) -> None:
        """Take the last edit back."""
        self._change(self.desk.undo, "Undone", "Nothing to undo.")

    def redo(self) -> None:
        """Make an undone edit again."""
        self._change(self.desk.redo, "Done again", "Nothing to redo.")

    def _change(self, change: Callable[[], Step | None], done: str, nothing: str) -> bool:
        """Change the job in one way; ``done`` and ``nothing`` are what is said of it."""
        before, was_broken = self.history, self.broken
        try:
            step = change()
        except Problem as problem:
            self.said.emit("trouble", str(problem))
            return False
        if self.history is before:
            self.said.emit("open", nothing)
            return False
        old, new = before.present.vehicle, self.history.present.vehicle
        if new is not old:
            self._state = follow(old, new, self._state, self.state_name)
        self._mind_the_journal()
        self._tell()
        if self.broken and not was_broken and not done:
            self._take_away(before)
            return False
        if done and step is not None:
            self.said.emit("good", f"{done}: {step.label}")
        return True

    def _take_away(self, before: History) -> None:
        """A step that nothing can be shown with is taken back whole, as if it had never been."""
        step = self.history.past[-1][0]
        self.desk.go_back_to(before)
        said = f"“{step.label}” was taken back."
        self._tell()
        self.taken_back.emit(said)

    def draft(self, path: str, text: str) -> None:
        """Keep what is being typed, in case the power goes."""
        self.desk.draft(path, text)
        self._mind_the_journal()

    def _mind_the_journal(self) -> None:
        """Try again by itself for as long as no recovery can be kept."""
        if bool(self.desk.not_kept) != self._retry.isActive():
            (self._retry.start if self.desk.not_kept else self._retry.stop)()
            self.keeping.emit()

    def _try_again(self) -> None:
        self.desk.try_again()
        self._mind_the_journal()

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

    def remember_units(self, signature: str, units: tuple[tuple[str, str], ...]) -> None:
        """Units that were said of a log, for the next file of that kind."""
        rest = tuple(x for x in self.prefs.log_units if x[0] != signature)
        kept = (*rest, (signature, units))[-50:]
        self.prefs = msgspec.structs.replace(self.prefs, log_units=kept)
        self._keep_prefs()

    def set_prefs(self, prefs: prefs_store.Prefs) -> None:
        """Change preferences and keep them."""
        if prefs == self.prefs:
            return
        restyle = prefs.night != self.prefs.night
        self.prefs = prefs
        use_units(prefs.units)
        self._keep_prefs()
        if restyle:
            self.restyled.emit()
        self._tell()

    def keep_size(self, width: int, height: int) -> None:
        """Remember how large the window was [px]."""
        k = self.prefs.scale or 1.0
        prefs = msgspec.structs.replace(self.prefs, size=(round(width * k), round(height * k)))
        if prefs != self.prefs:
            self.prefs = prefs
            self._keep_prefs()

    def keep_scale(self, scale: float) -> None:
        """Remember how large everything is to be drawn."""
        self.prefs = msgspec.structs.replace(self.prefs, scale=scale)
        self._keep_prefs()

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
        self.broken = False
        self.changed.emit()
