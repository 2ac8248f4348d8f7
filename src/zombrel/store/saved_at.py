"""Where jobs were saved: one line each, so that the book knows of them without being opened."""

from __future__ import annotations

import contextlib
from pathlib import Path

from zombrel.store.prefs import data_root

MOST = 20_000


def saved_file() -> Path:
    """Where that is kept."""
    return data_root() / "saved-at.txt"


def note_saved(path: Path) -> None:
    """A job lies at ``path``; costs nothing but the note where it cannot be written."""
    line = str(path.resolve())
    with contextlib.suppress(OSError):
        if line in saved_at():
            return
        saved_file().parent.mkdir(parents=True, exist_ok=True)
        with saved_file().open("a", encoding="utf-8") as out:
            out.write(line + "\n")


def saved_at() -> tuple[str, ...]:
    """Every path that was noted, once."""
    try:
        lines = saved_file().read_text(encoding="utf-8", errors="replace").splitlines()
    except OSError:
        return ()
    return tuple(dict.fromkeys(x for x in lines[-MOST:] if x.endswith(".zjob")))
