"""The recovery journal: every edit is on disk before the screen shows it.

A session is a folder: ``base-<digest>.zjob``, the job that undoing everything leads to, and
``journal``, whose first line names that base by its content and whose other lines each hold one
event. Every line begins with its own checksum (CRC-32, ISO/IEC 13239). From base and lines follow
the job on screen, what can be undone and redone, which of all these trees lies in the job file,
and what was being typed. A save adds a line and takes nothing away, so that undoing across it
survives; a journal grown long is written anew from the history.

The owner holds a lock on the folder while it lives. A folder that can be locked belongs to a
program that was killed (``recovery``).
"""

from __future__ import annotations

import contextlib
import os
import shutil
import uuid
import zlib
from collections.abc import Iterator
from pathlib import Path

import msgspec

from zombrel.job.edits import Step
from zombrel.job.history import History
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.store.atomic import Lock, digest, flush_folder, write_atomically
from zombrel.store.zjob import to_bytes

FORMAT = 2
"""Raised whenever an older program could misread a newer journal."""
NAME = "journal"
GONE = ".gone-"
"""Begins the name of a folder that is being taken away."""
LONG = 2000
"""Events after which a journal is written anew, with only what can still be undone."""


class Header(msgspec.Struct, frozen=True):
    """The first line."""

    format: int
    base: str
    """Digest of the base's file."""
    path: str = ""
    """Where the job came from; empty when it has no file yet."""
    title: str = ""
    instead_of: str = ""
    """Name of the folder that this session was brought back from: that one has had its day."""


class Event(msgspec.Struct, frozen=True, omit_defaults=True):
    """Any other line; one of its fields."""

    do: Step | None = None
    move: str = ""
    """``undo`` or ``redo``."""
    draft: tuple[str, str] | None = None
    """(path, text) being typed into a field and not entered yet."""
    saving: tuple[str, str] | None = None
    """(path, digest): the present job is about to be written there."""
    saved: tuple[str, str] | None = None
    """(path, digest): the present job lies there."""


class Saved(msgspec.Struct, frozen=True):
    """Which tree lies in which file."""

    job: Job
    path: str
    digest: str


def line(record: Header | Event) -> bytes:
    """A record as it stands in the journal."""
    text = msgspec.json.encode(record)
    return f"{zlib.crc32(text):08x} ".encode() + text + b"\n"


def events(history: History, saved: Saved | None) -> Iterator[Event]:
    """The shortest way from ``history.oldest`` to a history."""

    def mark(tree: Job) -> Iterator[Event]:
        if saved is not None and tree is saved.job:
            yield Event(saved=(saved.path, saved.digest))

    yield from mark(history.oldest)
    for step, tree in history.steps():
        yield Event(do=step)
        yield from mark(tree)
    yield from [Event(move="undo")] * len(history.future)


class Journal:
    """Writes the journal of one session; ``close`` when the work is saved or given up.

    Raises:
        Problem: nothing can be written there.
    """

    def __init__(self, folder: Path, lock: Lock, count: int, instead_of: str) -> None:
        self.folder = folder
        self._lock, self._count, self._instead_of = lock, count, instead_of
        self._stream = -1

    @classmethod
    def begin(
        cls,
        root: Path,
        history: History,
        path: Path | None,
        saved: Saved | None,
        instead_of: str = "",
    ) -> Journal:
        """A journal in a folder of its own below ``root``, from all of a history.

        ``instead_of`` names the folder that the session was brought back from. The folder gets its
        name once it is whole and locked: no other program sees half of it.
        """
        name = uuid.uuid4().hex[:12]
        beside = root / f".new-{name}"
        lock = None
        try:
            beside.mkdir(parents=True)
            lock = Lock.on(beside)
            if lock is None:
                raise Problem(f"No recovery journal can be kept in {root}: it is locked.")
            count = _write_all(beside, history, path, saved, instead_of)
            os.rename(beside, root / name)
        except (OSError, Problem) as error:
            if lock is not None:
                lock.end()
            shutil.rmtree(beside, ignore_errors=True)
            raise Problem(f"No recovery can be kept in {root}: {_why(error)}.") from error
        flush_folder(root)
        made = cls(root / name, lock, count, instead_of)
        made._open()
        return made

    def _open(self) -> None:
        if self._stream >= 0:
            os.close(self._stream)
            self._stream = -1
        try:
            self._stream = os.open(self.folder / NAME, os.O_WRONLY | os.O_APPEND | os.O_CLOEXEC)
        except OSError as error:
            raise Problem(f"{self.folder} cannot be written: {error.strerror}.") from error

    @property
    def long(self) -> bool:
        """It should be written anew."""
        return self._count > LONG

    def write(self, event: Event) -> None:
        """Append one event and see it onto the disk.

        Raises:
            Problem: it cannot be; the journal is to be written anew before anything is added.
        """
        data = line(event)
        try:
            there, mine = os.stat(self.folder / NAME), os.fstat(self._stream)
            if (there.st_dev, there.st_ino) != (mine.st_dev, mine.st_ino):
                raise Problem(f"{self.folder} is no longer what it was.")
            while data:
                data = data[os.write(self._stream, data) :]
            os.fdatasync(self._stream)
        except OSError as error:
            raise Problem(f"{self.folder} cannot be written: {error.strerror}.") from error
        self._count += 1

    def rewrite(self, history: History, path: Path | None, saved: Saved | None) -> None:
        """Write it anew from all of a history; the old one stands until the new one does."""
        if not self._lock.still_on(self.folder):
            raise Problem(f"{self.folder} is gone.")
        try:
            self._count = _write_all(self.folder, history, path, saved, self._instead_of)
        except (OSError, Problem) as error:
            raise Problem(f"No recovery can be kept in {self.folder}: {_why(error)}.") from error
        self._open()

    def close(self) -> None:
        """Forget the session: its work is saved, or given up by its owner."""
        throw_away(self.folder)
        self.leave()

    def leave(self) -> None:
        """Let go and keep the folder, as a killed program would."""
        if self._stream >= 0:
            os.close(self._stream)
            self._stream = -1
        self._lock.end()


def _why(error: Exception) -> str:
    cause = error if isinstance(error, OSError) else error.__cause__
    return str(cause.strerror if isinstance(cause, OSError) else error).rstrip(".")


def throw_away(folder: Path) -> None:
    """Take a session's folder away; one that is half gone is never taken for a session."""
    gone = folder.with_name(f"{GONE}{folder.name}")
    try:
        os.rename(folder, gone)
    except OSError:
        return
    shutil.rmtree(gone, ignore_errors=True)


def _write_all(
    folder: Path, history: History, path: Path | None, saved: Saved | None, instead_of: str
) -> int:
    """Base and journal, each whole or not at all; the journal last, as it names the base."""
    data = to_bytes(history.oldest)
    base = folder / f"base-{digest(data)}.zjob"
    if not base.exists():
        write_atomically(base, data)
    title = f"{history.present.number} {history.present.title}".strip()
    header = Header(
        format=FORMAT,
        base=digest(data),
        path=str(path or ""),
        title=title,
        instead_of=instead_of,
    )
    lines = [line(header)]
    lines += [line(event) for event in events(history, saved)]
    write_atomically(folder / NAME, b"".join(lines))
    with contextlib.suppress(OSError):
        for other in folder.glob("base-*.zjob"):
            if other != base:
                other.unlink()
    return len(lines)
