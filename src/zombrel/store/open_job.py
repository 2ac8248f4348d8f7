"""The job that is open: its history, its file, its journal, and whose it is.

Everything that is entered is in the journal before it returns. A save is refused when the file is
no longer what was opened, or when another window has taken it over.
"""

from __future__ import annotations

import contextlib
import os
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Literal

from zombrel.catalog import is_shipped
from zombrel.job.edits import Step
from zombrel.job.history import History
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.validate import validate
from zombrel.store import prefs
from zombrel.store.atomic import digest, write_atomically
from zombrel.store.claims import Claim, Holder, claim
from zombrel.store.journal import Event, Journal, Saved, line
from zombrel.store.saved_at import note_saved
from zombrel.store.shop_times import keep_times
from zombrel.store.zjob import from_bytes, read, to_bytes

if TYPE_CHECKING:
    from zombrel.store.recovery import Found

How = Literal["write", "read", "take over"]


class Held(Problem):
    """Another window has the job open."""


class Changed(Problem):
    """The file is no longer what was opened or saved here."""


def read_job(path: Path) -> tuple[bytes, Job]:
    """The bytes of a job file and the job in them; raises Problem when it cannot be read."""
    data = read(path)
    return data, from_bytes(data, path.name)


class OpenJob:
    """One job at a time, with everything that keeps it from being lost."""

    def __init__(self, keep: bool = True) -> None:
        self._keep = keep
        """Whether a journal is wanted at all."""
        self.history = History(present=Job())
        self.path: Path | None = None
        self.shipped: Path | None = None
        """Where a job came from that ships with the program; it has no file of its own."""
        self.saved: Saved | None = None
        """The tree that lies in the file, as far as this program knows."""
        self.read_only = ""
        """Why nothing may be changed; empty when all may."""
        self.not_kept = ""
        """Why no recovery is being kept; empty when it is."""
        self.said = ""
        """What is to be told of the last save beside that it was made."""
        self._clean: Job | None = self.history.present
        """A tree that needs no saving."""
        self._journal: Journal | None = None
        self._claim: Claim | None = None
        self._brought_back: Found | None = None
        """Left behind by another, until a journal of this session's own stands."""

    @property
    def job(self) -> Job:
        """The present tree."""
        return self.history.present

    @property
    def dirty(self) -> bool:
        """There is something that would be lost by closing."""
        return self.history.present is not self._clean

    def in_file(self, tree: Job) -> bool:
        """Whether a tree lies in the job's file, as far as this program knows."""
        return self.saved is not None and tree is self.saved.job

    # ---- in and out

    def start(self, job: Job) -> None:
        """Begin work on a job that has no file."""
        self._begin(History(present=job), None, None, "")
        self._clean = job

    def open(self, path: Path, how: How = "write", got: tuple[bytes, Job] | None = None) -> None:
        """Open the job file at ``path``; ``got`` what was read of it already.

        A job that comes with the program opens without a file: saving it asks for a place.

        Raises:
            Held: another window has it; ``how`` says what is to be done about that.
            Problem: it cannot be read. Nothing has changed then.
        """
        data, job = got or read_job(path)
        if is_shipped(path):
            self.start(job)
            self.shipped = path
            return
        right = None if how == "read" else self._right_to(path, how == "take over")
        if isinstance(right, Holder):
            raise Held(f"{path.name} is open in {right.words}.")
        if right is self._claim:
            self._claim = None  # it is kept, not given up with what was open
        why = f"{path.name} was opened to read only." if how == "read" else ""
        self._begin(History(present=job), path, Saved(job, str(path), digest(data)), why)
        self._claim, self._clean = right, job

    def recover(self, found: Found) -> None:
        """Bring a killed session back, undo list and all.

        Its folder stays until this session's own journal stands. When another window has its file
        meanwhile, the work has no file of its own and is to be saved under another name.
        """
        right = claim(prefs.claims_root(), found.path) if found.path is not None else None
        # a journal of an earlier version may name a file of the program
        lost = isinstance(right, Holder) or (found.path is not None and is_shipped(found.path))
        path = None if lost else found.path
        self._begin(found.history, path, found.saved if path else None, "")
        self._claim = right if isinstance(right, Claim) else None
        self._clean = self.saved.job if self.saved and self.saved.digest == _now_at(path) else None
        self._brought_back = found
        self._record(None)
        if found.draft is not None:
            self._record(Event(draft=found.draft))

    def _begin(
        self, history: History, path: Path | None, saved: Saved | None, read_only: str
    ) -> None:
        self.close()
        self.history, self.path, self.saved, self.shipped = history, path, saved, None
        self.read_only, self.not_kept = read_only, ""

    @property
    def journal_name(self) -> str:
        """The folder of what was entered; empty where nothing was."""
        return self._journal.folder.name if self._journal is not None else ""

    def close(self) -> None:
        """The work is saved or given up: nothing to bring back."""
        if self._journal is not None:
            self._journal.close()
            self._journal = None
        if self._brought_back is not None:  # never got a journal of its own
            self._brought_back.lock.end()
            self._brought_back = None
        if self._claim is not None:
            self._claim.end()
            self._claim = None

    # ---- edits

    def do(self, step: Step) -> None:
        """Make an edit.

        Raises:
            Problem: it cannot be made, or kept; nothing has changed then.
        """
        self.may_change()
        history = self.history.do(step)
        validate(history.present)
        event = Event(do=step)
        try:
            line(event)
        except (ValueError, TypeError, OverflowError) as error:
            raise Problem("This holds characters that no file can keep; type it anew.") from error
        self.history = history
        self._record(event)

    def undo(self) -> Step | None:
        """Take the last step back; which that was, or None."""
        return self._move("undo", self.history.past[-1:])

    def redo(self) -> Step | None:
        """Make the last undone step again; which that was, or None."""
        return self._move("redo", self.history.future[:1])

    def _move(self, move: str, at: tuple[tuple[Step, Job], ...]) -> Step | None:
        self.may_change()
        if not at:
            return None
        self.history = self.history.undo() if move == "undo" else self.history.redo()
        self._record(Event(move=move))
        return at[0][0]

    def draft(self, path: str, text: str) -> None:
        """Keep what is being typed."""
        with contextlib.suppress(ValueError):
            line(Event(draft=(path, text)))
            self._record(Event(draft=(path, text)))

    def go_back_to(self, history: History) -> None:
        """Be as before the step just made, what could be redone included."""
        self.history = history
        self._rewrite()

    def may_change(self) -> None:
        """Raises Problem when this window may not change the job."""
        if not self.read_only and self._claim is not None and not self._claim.holds:
            self.read_only = "Another window has taken this job over."
        if self.read_only:
            raise Problem(
                f"{self.read_only} Nothing can be changed here: take it over (Job file menu), or "
                "save a copy under another name."
            )

    # ---- the journal

    def _record(self, event: Event | None) -> None:
        """Put one event into the journal; without a journal, begin one with all there is."""
        if not self._keep:
            return
        if self._journal is None or self.not_kept or self._journal.long:
            self._rewrite()
            if event is None or event.do is not None or event.move or self.not_kept:
                return
        if event is not None and self._journal is not None:
            try:
                self._journal.write(event)
            except Problem as problem:
                self.not_kept = str(problem)

    def _rewrite(self) -> None:
        if not self._keep:
            return
        try:
            if self._journal is not None:
                try:
                    self._journal.rewrite(self.history, self.path, self.saved)
                except Problem:
                    if self._journal.folder.exists():
                        raise
                    self._journal.leave()  # its folder is gone: another
                    self._journal = None
            if self._journal is None:
                back = self._brought_back  # one that was damaged is kept whatever happens
                old = back.folder.name if back is not None and not back.lost else ""
                self._journal = Journal.begin(
                    prefs.recovery_root(), self.history, self.path, self.saved, old
                )
        except Problem as problem:
            self.not_kept = str(problem)
            return
        self.not_kept = ""
        if self._brought_back is not None:
            from zombrel.store.recovery import discard

            discard(self._brought_back)
            self._brought_back = None

    def try_again(self) -> bool:
        """Try to keep a journal where none could be kept; whether one is kept now."""
        if self.not_kept:
            self._rewrite()
        return not self.not_kept

    # ---- the file

    def save(
        self, path: Path | None = None, over: bool = False, packed: bytes | None = None
    ) -> None:
        """Save to ``path``, or where the job came from.

        ``packed`` is the present job as a file, where somebody has packed it already. ``over``
        writes even when the file was changed by another; what it held is kept among the
        versions. Once the file is written nothing that goes wrong is called a failure.

        Raises:
            Changed: the file is no longer what was opened.
            Problem: no place, not allowed, or it cannot be written; the old file is as it was.
        """
        path = path or self.path
        if path is None:
            raise Problem("Choose a place for the job first.")
        if is_shipped(path):
            raise Problem(f"{path} belongs to the program: choose another place for the job.")
        own = self.path is not None and _same(path, self.path)
        if own:
            self._may_replace(path, over)
        right = self._claim if own else self._right_to(path)
        if isinstance(right, Holder):
            raise Held(f"{path.name} is open in {right.words}; choose another name.")
        job = self.history.present
        data = packed if packed is not None else to_bytes(job)
        mark = (str(path.absolute()), digest(data))
        if self._journal is not None:
            self._record(Event(saving=mark))
        try:
            write_atomically(path, data)
        except Problem:
            if right is not None and right is not self._claim:
                right.end()
            raise
        self._lies_in(path, right, Saved(job, *mark))
        self._keep_version(path, data)
        self.said = keep_times(job)
        note_saved(path)

    def _right_to(self, path: Path, take_over: bool = False) -> Claim | Holder | None:
        """The claim on a file: the one that is held already, or another."""
        own = self._claim
        if own is not None and own.holds and self.path is not None and _same(path, self.path):
            return own
        return claim(prefs.claims_root(), path, take_over)

    def _may_replace(self, path: Path, over: bool) -> None:
        """See that the file is still what this program knows of it."""
        self.may_change()
        theirs = _now_at(path)
        if not theirs or self.saved is None or theirs == self.saved.digest:
            return
        if not over:
            raise Changed(self._what_changed(path))
        with contextlib.suppress(OSError):
            self._keep_version(path, path.read_bytes())

    def _lies_in(self, path: Path, right: Claim | None, saved: Saved) -> None:
        if right is not self._claim and self._claim is not None:
            self._claim.end()
        self._claim, self.path, self.read_only = right, path, ""
        self.saved, self._clean = saved, saved.job
        if self._journal is not None:
            self._record(Event(saved=(saved.path, saved.digest)))

    def _keep_version(self, path: Path, data: bytes) -> None:
        from zombrel.store import versions

        with contextlib.suppress(Problem, OSError):
            versions.keep(prefs.versions_root(), path, data, datetime.now())

    def _what_changed(self, path: Path) -> str:
        try:
            theirs = from_bytes(read(path), path.name)
        except Problem:
            told = "It can no longer be read as a job"
        else:
            before = self.saved.job if self.saved is not None else Job()
            from zombrel.job.differences import differences

            told = "Changed there: " + ("; ".join(differences(before, theirs)) or "nothing of note")
        return f"{path.name} was changed by another program since it was opened here. {told}."


def _same(one: Path, other: Path) -> bool:
    return os.path.realpath(one) == os.path.realpath(other)


def _now_at(path: Path | None) -> str:
    """Digest of the file at ``path`` as it is now; empty when there is none to read."""
    try:
        return digest(path.read_bytes()) if path is not None else ""
    except OSError:
        return ""
