"""What is done when something fails that should not: it is named, kept for a report, and the rest
goes on.

Only for faults of the program itself; whatever a job may lack is a ``Problem``.
"""

from __future__ import annotations

from collections import deque

KEPT = 20
LONGEST = 160

_kept: deque[str] = deque(maxlen=KEPT)
_strict = [False]


def strict(on: bool) -> None:
    """Let such faults through, as tests want it."""
    _strict[0] = on


def note(error: Exception) -> str:
    """Keep a fault for the report; what it is in one line. Raises it anew when ``strict``."""
    if _strict[0]:
        raise error
    import traceback

    text = "".join(traceback.format_exception(error))
    if text not in _kept:
        _kept.append(text)
    line = " ".join(str(error).split()) or "no words"
    return f"{type(error).__name__}: {line[:LONGEST]}"


def kept() -> tuple[str, ...]:
    """What was noted, and is not noted any more."""
    found = tuple(_kept)
    _kept.clear()
    return found
