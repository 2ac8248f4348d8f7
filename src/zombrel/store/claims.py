"""Who has a job file open: one window at a time writes it.

A claim is a small file below the user's state folder, named after the job file's real path and
locked for as long as the program lives. Taking a job over puts a new file in its place; the old
owner finds that its lock is no longer on what lies there.
"""

from __future__ import annotations

import contextlib
import os
import uuid
from datetime import datetime
from pathlib import Path

import msgspec

from zombrel.job.value import Value
from zombrel.store.atomic import Lock, digest


class Holder(msgspec.Struct, frozen=True):
    """Who has a job open."""

    process: int = 0
    since: str = ""

    @property
    def words(self) -> str:
        """As it is told."""
        since = f", since {self.since}" if self.since else ""
        return f"another Zombrel window (process {self.process}{since})"


class Claim(Value, frozen=True):
    """The right to write one job file."""

    file: Path
    lock: Lock

    @property
    def holds(self) -> bool:
        """Nobody has taken the job over."""
        return self.lock.still_on(self.file)

    def end(self) -> None:
        """Give it up."""
        if self.holds:
            with contextlib.suppress(OSError):
                self.file.unlink()
        self.lock.end()


def claim(root: Path, path: Path, take_over: bool = False) -> Claim | Holder | None:
    """The claim on the job at ``path``, or who has it; None where none can be kept.

    ``root`` is the folder of claims. With ``take_over`` whoever has it loses it.
    """
    file = root / f"{digest(os.path.realpath(path).encode())[:24]}.claim"
    try:
        root.mkdir(parents=True, exist_ok=True)
        if not take_over:
            with contextlib.suppress(FileNotFoundError):
                old = Lock.on(file)
                if old is None:
                    return _holder(file)
                old.end()
        return _place(file)
    except OSError:
        return None


def _place(file: Path) -> Claim | Holder | None:
    """Put a locked file in the place of whatever lies there."""
    beside = file.with_name(f".{uuid.uuid4().hex[:12]}.new")
    mine = Holder(process=os.getpid(), since=datetime.now().strftime("%H:%M"))
    beside.write_bytes(msgspec.json.encode(mine))
    lock = Lock.on(beside)
    os.replace(beside, file)
    if lock is None or not lock.still_on(file):  # another was quicker
        return _holder(file)
    return Claim(file, lock)


def _holder(file: Path) -> Holder:
    try:
        return msgspec.json.decode(file.read_bytes(), type=Holder)
    except (OSError, msgspec.DecodeError):
        return Holder()
