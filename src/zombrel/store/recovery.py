"""The recovery journal: every edit since the last save, on disk before the screen shows it.

A session is a folder with ``base.zjob`` (the job as opened or last saved), ``meta.json``
and ``edits.jsonl``, one event a line. The owner holds a lock on the journal while it
lives; a folder that can be locked belongs to a program that was killed.
"""

from __future__ import annotations

import contextlib
import fcntl
import os
import shutil
import uuid
from pathlib import Path
from typing import IO

import msgspec

from zombrel.job.edits import Step
from zombrel.job.history import History
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.store.zjob import from_bytes, to_bytes, write_atomically


class Event(msgspec.Struct, frozen=True, omit_defaults=True):
    """One line of the journal."""

    do: Step | None = None
    move: str = ""
    """``undo`` or ``redo``."""
    draft: tuple[str, str] | None = None
    """(path, text) being typed into a field and not entered yet."""


class Meta(msgspec.Struct, frozen=True):
    """What the session was about."""

    path: str = ""
    title: str = ""
    unsaved: bool = False
    """The base itself is nowhere else on disk: it was brought back once already."""


class Found(msgspec.Struct, frozen=True):
    """A session that can be brought back."""

    folder: Path
    path: Path | None
    title: str
    history: History
    edits: int
    draft: tuple[str, str] | None


class Journal:
    """Writes the journal of one session; use ``close`` when the work is saved or given up."""

    def __init__(self, root: Path, job: Job, path: Path | None) -> None:
        self.folder = root / uuid.uuid4().hex[:12]
        try:
            self.folder.mkdir(parents=True)
            self._stream: IO[bytes] = (self.folder / "edits.jsonl").open("ab")
        except OSError as error:
            raise Problem(
                f"No recovery journal can be kept in {root}: {error.strerror}."
            ) from error
        fcntl.flock(self._stream, fcntl.LOCK_EX | fcntl.LOCK_NB)
        self.rebase(job, path)

    def rebase(self, job: Job, path: Path | None, unsaved: bool = False) -> None:
        """Start anew from ``job``: it was opened, or just saved."""
        write_atomically(self.folder / "base.zjob", to_bytes(job))
        meta = Meta(path=str(path or ""), title=job.title, unsaved=unsaved)
        write_atomically(self.folder / "meta.json", msgspec.json.encode(meta))
        self._stream.truncate(0)

    def write(self, event: Event) -> None:
        """Append one event and see it onto the disk."""
        self._stream.write(msgspec.json.encode(event) + b"\n")
        self._stream.flush()
        with contextlib.suppress(OSError):
            os.fdatasync(self._stream.fileno())

    def close(self) -> None:
        """Forget the session."""
        self._stream.close()
        shutil.rmtree(self.folder, ignore_errors=True)


def left_behind(root: Path) -> list[Found]:
    """Sessions of programs that were killed, with something to bring back."""
    found = []
    for folder in sorted(root.iterdir()) if root.is_dir() else ():
        log = folder / "edits.jsonl"
        try:
            with log.open("rb") as stream:
                fcntl.flock(stream, fcntl.LOCK_EX | fcntl.LOCK_NB)
                lines = stream.read().split(b"\n")
        except OSError:
            continue
        session = _replay(folder, lines)
        if session is None:
            shutil.rmtree(folder, ignore_errors=True)
        else:
            found.append(session)
    return found


def _replay(folder: Path, lines: list[bytes]) -> Found | None:
    """Replay a journal as far as it is whole; None when there is nothing in it."""
    try:
        meta = msgspec.json.decode((folder / "meta.json").read_bytes(), type=Meta)
        history = History(present=from_bytes((folder / "base.zjob").read_bytes(), "The journal"))
    except (OSError, ValueError):
        return None
    count, draft = 0, None
    for line in lines:
        if not line.strip():
            continue
        try:
            event = msgspec.json.decode(line, type=Event)
            if event.do is not None:
                history = history.do(event.do)
            elif event.move:
                history = history.undo() if event.move == "undo" else history.redo()
        except (msgspec.DecodeError, Problem):
            break  # the line being written when the power went
        draft = event.draft
        count += event.draft is None
    if count == 0 and draft is None and not meta.unsaved:
        return None
    return Found(
        folder=folder,
        path=Path(meta.path) if meta.path else None,
        title=meta.title,
        history=history,
        edits=count,
        draft=draft,
    )


def discard(found: Found) -> None:
    """Throw a left-behind session away."""
    shutil.rmtree(found.folder, ignore_errors=True)
