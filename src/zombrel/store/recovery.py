"""What killed programs left behind: read back exactly, and never thrown away unread."""

from __future__ import annotations

import os
import shutil
import time
import zlib
from pathlib import Path
from typing import TypeVar

import msgspec

from zombrel.job.history import History
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.store.atomic import Lock, digest
from zombrel.store.journal import FORMAT, GONE, NAME, Event, Header, Saved, throw_away
from zombrel.store.zjob import from_bytes

T = TypeVar("T")

MOST_BYTES = 512_000_000
"""A longer journal is not read at once."""
LONGEST_LINE = 20_000
"""The first line of a journal is shorter."""
ASIDE = "aside-"
"""Folders that are kept and not asked about again."""
STALE_S = 3600.0
"""A folder begun so long ago and never finished is of a program that was killed before anything
was entered."""


class Found(Value, frozen=True):
    """A session that can be brought back."""

    folder: Path
    lock: Lock
    path: Path | None
    title: str
    history: History
    saved: Saved | None
    steps: int
    """Steps that can be undone or made again."""
    draft: tuple[str, str] | None
    lost: str
    """What could not be read; empty when all was."""


class Unread(Value, frozen=True):
    """A session of which nothing can be brought back; its folder is kept."""

    folder: Path
    title: str
    why: str


def left_behind(root: Path) -> list[Found | Unread]:
    """Sessions of programs that were killed, with something in them that is nowhere else.

    Each is locked until it is brought back, put aside, thrown away or let go.
    """
    found: list[Found | Unread] = []
    over: set[str] = set()
    for folder in sorted(root.iterdir()) if root.is_dir() else ():
        if folder.name.startswith(ASIDE) or not folder.is_dir():
            continue
        try:
            lock = Lock.on(folder)
        except OSError:
            continue
        if lock is None:
            continue
        if folder.name.startswith("."):
            _sweep(folder, lock)
            continue
        old = _instead_of(folder)
        session = _read(folder, lock)
        if session is None or (isinstance(session, Found) and not session.lost):
            over.add(old)  # all of what that one held was read back from this one
        if session is None:
            throw_away(folder)
        else:
            found.append(session)
        if not isinstance(session, Found):
            lock.end()
    for one in [f for f in found if isinstance(f, Found) and f.folder.name in over]:
        found.remove(one)
        throw_away(one.folder)
        one.lock.end()
    return found


def left_by(folder: Path) -> Found | None:
    """What one session entered, all of it saved or not; None where nothing can be brought back."""
    try:
        lock = Lock.on(folder)
    except OSError:
        return None
    session = _read(folder, lock, saved_too=True) if lock is not None else None
    if isinstance(session, Found):
        return session
    if lock is not None:
        lock.end()
    return None


def _instead_of(folder: Path) -> str:
    """The folder that a session was brought back from; empty for any other."""
    if folder.name.startswith((".", ASIDE)):
        return ""
    try:
        with (folder / NAME).open("rb") as stream:
            header = _decoded(stream.readline(LONGEST_LINE).rstrip(b"\n"), Header)
    except OSError:
        return ""
    return header.instead_of if header is not None else ""


def _sweep(folder: Path, lock: Lock) -> None:
    """Take away a folder in which nothing was ever entered, or what is left of one given up."""
    if folder.name.startswith(GONE) or time.time() - folder.stat().st_mtime > STALE_S:
        shutil.rmtree(folder, ignore_errors=True)
    lock.end()


def _read(folder: Path, lock: Lock, saved_too: bool = False) -> Found | Unread | None:
    """A session, or None when all was read back and nothing in it would be lost.

    With ``saved_too`` what can be undone counts as lost, though the work is in its file.
    """
    title = ""
    try:
        journal = folder / NAME
        if journal.stat().st_size > MOST_BYTES:
            return Unread(folder, title, f"its journal is over {MOST_BYTES // 1_000_000} MB")
        lines = journal.read_bytes().split(b"\n")
        header = _header(lines[0])
        title = header.title
        history = History(present=_base(folder, header))
    except FileNotFoundError as error:
        return Unread(folder, title, f"{Path(error.filename).name} is missing")
    except OSError as error:
        return Unread(folder, title, f"it cannot be read ({error.strerror})")
    except (Problem, MemoryError) as problem:
        return Unread(folder, title, str(problem) or "it is too large")
    return _replayed(folder, lock, header, history, lines[1:], saved_too)


def _header(text: bytes) -> Header:
    header = _decoded(text, Header)
    if header is None:
        raise Problem("the first line of its journal is damaged")
    if header.format > FORMAT:
        raise Problem("it was kept by a newer Zombrel")
    return header


def _base(folder: Path, header: Header) -> Job:
    data = (folder / f"base-{header.base}.zjob").read_bytes()
    if digest(data) != header.base:
        raise Problem("the job that it grew from is damaged")
    return from_bytes(data, "the job that it grew from", checked=False)


def _decoded(text: bytes, kind: type[T]) -> T | None:
    """A record from its line; None when the line is not as it was written."""
    check, _, body = text.partition(b" ")
    if check != f"{zlib.crc32(body):08x}".encode():
        return None
    try:
        return msgspec.json.decode(body, type=kind)
    except (msgspec.DecodeError, RecursionError):
        return None


def _replayed(
    folder: Path,
    lock: Lock,
    header: Header,
    history: History,
    lines: list[bytes],
    saved_too: bool,
) -> Found | None:
    saved: Saved | None = None
    path, title = header.path, header.title
    pending: Saved | None = None
    draft, lost = None, ""
    for i, text in enumerate(lines):
        last = i == len(lines) - 1
        if last and not text:
            break
        event = _decoded(text, Event)
        if event is None:
            # the last line has no end: it was being written when the program was killed
            if not last:
                lost = f"line {i + 2} of {len(lines)} is damaged; what came after it is not here"
            break
        try:
            history = _after(history, event)
        except Problem as problem:
            lost = f"the step on line {i + 2} cannot be made again ({problem})"
            break
        draft = event.draft
        if event.saving is not None:
            pending = Saved(history.present, *event.saving)
        if event.saved is not None:
            saved, pending, path = Saved(history.present, *event.saved), None, event.saved[0]
    if pending is not None and _lies_at(pending):
        saved, path = pending, pending.path
    steps = len(history.past) + len(history.future)
    whole = saved is not None and history.present is saved.job and draft is None
    if not lost and ((whole and not saved_too) or (not steps and draft is None)):
        return None
    at = Path(path) if path else None
    return Found(folder, lock, at, title, history, saved, steps, draft, lost)


def _after(history: History, event: Event) -> History:
    if event.do is not None:
        return history.do(event.do)
    if event.move:
        return history.undo() if event.move == "undo" else history.redo()
    return history


def _lies_at(pending: Saved) -> bool:
    """Whether a save that was begun reached the disk before the program was killed."""
    try:
        return digest(Path(pending.path).read_bytes()) == pending.digest
    except OSError:
        return False


def put_aside(found: Found | Unread) -> Path:
    """Keep a folder, and ask about it no more; where it lies then."""
    place = found.folder.with_name(ASIDE + found.folder.name)
    try:
        os.rename(found.folder, place)
    except OSError:
        place = found.folder
    if isinstance(found, Found):
        found.lock.end()
    return place


def discard(found: Found) -> None:
    """Throw a session away that was read back whole; any other is put aside."""
    if found.lost:
        put_aside(found)
        return
    throw_away(found.folder)
    found.lock.end()
