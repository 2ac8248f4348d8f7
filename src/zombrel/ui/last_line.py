"""The last line: whatever goes wrong unforeseen is said in a sentence, and a report is kept."""

from __future__ import annotations

import platform
import sys
import threading
import traceback
from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path
from types import TracebackType

from zombrel.job.problem import Problem
from zombrel.job.unjudged import kept
from zombrel.store.atomic import write_atomically
from zombrel.store.prefs import reports_root
from zombrel.ui.threads import post

KEPT = 20
"""Reports; older ones go."""


class LastLine:
    """Takes what no part of the program has caught; ``install`` puts it in its place."""

    def __init__(self, broke: Callable[[str, str], None]) -> None:
        """``broke`` is told (sentence, report); called in the window's thread."""
        self._broke = broke
        self._told = ""
        self._busy = False
        self._post = post()

    def install(self) -> None:
        """Catch what slots and threads raise from now on."""
        sys.excepthook = self.caught
        threading.excepthook = lambda args: self._in_thread(args.exc_value)

    def caught(
        self, kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        """An exception that nobody caught."""
        if not isinstance(error, Exception):  # the user ends the program from outside
            sys.__excepthook__(kind, error, trace)
            return
        self.tell(error)

    def tell(self, error: Exception) -> None:
        """Say and keep an error; the same one again and again is told once."""
        report = _report(error)
        if self._busy or report == self._told:
            return
        self._told, self._busy = report, True
        try:
            self._broke(_sentence(error, keep_report(report)), report)
        finally:
            self._busy = False

    def _in_thread(self, error: BaseException | None) -> None:
        if isinstance(error, Exception):
            report = _report(error)
            self._post.send(partial(self._broke, _sentence(error, keep_report(report)), report))


def _sentence(error: Exception, place: Path | None) -> str:
    if isinstance(error, Problem):
        return str(error)
    line = " ".join(str(error).split())[:120] or "no words"
    where = f" A report lies in {place}." if place is not None else ""
    return f"Something went wrong in Zombrel: {type(error).__name__}, {line}.{where}"


def _report(error: Exception) -> str:
    text = "".join(traceback.format_exception(error))
    return f"Zombrel on Python {platform.python_version()}, {sys.platform}\n\n{text}"


def keep_noted() -> None:
    """Write what the judgement of a job noted of its own faults."""
    for text in kept():
        keep_report(text)


def keep_report(text: str) -> Path | None:
    """Write a report; where it lies, or None on a disk that cannot be written."""
    root = reports_root()
    place = root / f"{datetime.now().strftime('%Y%m%d-%H%M%S-%f')}.txt"
    try:
        root.mkdir(parents=True, exist_ok=True)
        write_atomically(place, text.encode("utf-8", "replace"))
        for old in sorted(root.glob("*.txt"))[:-KEPT]:
            old.unlink()
    except (OSError, Problem):
        return None
    return place
