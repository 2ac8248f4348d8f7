"""The last saved versions of every job, kept with the user's data so that one can go back."""

from __future__ import annotations

import contextlib
import os
from datetime import datetime
from pathlib import Path

from zombrel.intake.name import file_name
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.store.atomic import digest, write_atomically

KEPT = 5
"""Versions of one job."""


class Version(Value, frozen=True):
    """One saved version."""

    file: Path
    saved: datetime


def folder_of(root: Path, path: Path) -> Path:
    """Where the versions of the job at ``path`` lie below ``root``."""
    name = file_name(path.stem)[:40]
    return root / f"{name}-{digest(os.path.realpath(path).encode())[:12]}"


def keep(root: Path, path: Path, data: bytes, now: datetime) -> None:
    """Keep what was just saved at ``path``; a version like the last one is not kept twice.

    A disk on which it cannot be costs only the version.
    """
    folder = folder_of(root, path)
    mark = digest(data)[:12]
    held = versions(root, path)
    if held and held[0].file.stem.endswith(mark):
        return
    with contextlib.suppress(OSError, Problem):
        folder.mkdir(parents=True, exist_ok=True)
        write_atomically(folder / f"{now.strftime('%Y%m%d-%H%M%S-%f')}-{mark}.zjob", data)
        for old in versions(root, path)[KEPT:]:
            old.file.unlink()


def versions(root: Path, path: Path) -> list[Version]:
    """Saved versions of the job at ``path``, the newest first."""
    found = []
    with contextlib.suppress(OSError):
        for file in folder_of(root, path).glob("*.zjob"):
            with contextlib.suppress(ValueError):
                found.append(Version(file, datetime.strptime(file.stem[:22], "%Y%m%d-%H%M%S-%f")))
    return sorted(found, key=lambda v: v.saved, reverse=True)
