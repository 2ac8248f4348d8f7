"""How large everything is drawn: chosen by key, by the desktop's text size at first.

The toolkit takes its scale when it starts, so another one begins the program anew: it comes back
with the same job, what was not saved and what can be undone included, on the same page.
"""

from __future__ import annotations

import contextlib
import os
import sys
from pathlib import Path
from typing import Protocol

import msgspec

from zombrel.job.problem import Problem
from zombrel.store.prefs import Prefs, recovery_root, save_prefs
from zombrel.ui.session import Session

SCALES = (0.9, 1.0, 1.1, 1.25, 1.5, 1.75, 2.0)
USUAL_DPI = 96.0
"""Dots to the inch at which a desktop draws text as it is."""
COMMAND = [sys.executable, "-m", "zombrel"]
"""How the program is started."""
_FACTOR, _AGAIN = "QT_SCALE_FACTOR", "ZOMBREL_AGAIN"


class Again(msgspec.Struct, frozen=True):
    """What a program that begins anew goes on with."""

    folder: str = ""
    """Of the journal of what was entered."""
    path: str = ""
    stage: str = ""


class Screen(Protocol):
    """What is asked of a screen."""

    def logicalDotsPerInch(self) -> float:
        """Dots to the inch by which text is sized."""
        ...


def stepped(scale: float, by: int) -> float:
    """The next larger or smaller scale; 0 for ``by`` is as it is."""
    if by == 0:
        return 1.0
    near = min(range(len(SCALES)), key=lambda i: abs(SCALES[i] - scale))
    return SCALES[min(max(near + by, 0), len(SCALES) - 1)]


def fitting(screen: Screen) -> float:
    """The scale nearest to the desktop's size of text."""
    wanted = screen.logicalDotsPerInch() / USUAL_DPI
    return min(SCALES, key=lambda s: abs(s - wanted))


def set_scale(prefs: Prefs) -> None:
    """Have the toolkit draw in the size that is preferred; before it starts."""
    if prefs.scale is not None and _FACTOR not in os.environ:
        os.environ[_FACTOR] = f"{prefs.scale:g}"


def begin_fitting(prefs: Prefs, screen: Screen) -> None:
    """At the first start: begin anew in the size of the desktop's text, where that is unusual.

    With the same words as it was begun with. Comes back where nothing is to be done: a size was
    chosen before, or the toolkit has been told one.
    """
    fit = fitting(screen)
    if prefs.scale is not None or _FACTOR in os.environ or fit == 1.0:
        return
    with contextlib.suppress(Problem):  # a place that cannot be written to must not stop it
        save_prefs(msgspec.structs.replace(prefs, scale=fit))
    os.environ[_FACTOR] = f"{fit:g}"
    os.execv(sys.executable, [*COMMAND, *sys.argv[1:]])


def again_of(session: Session, stage: str) -> Again:
    """What of ``session`` a program that begins anew goes on with."""
    path = session.path or session.desk.shipped
    return Again(session.desk.journal_name, str(path or ""), stage)


def begin_anew(again: Again) -> None:
    """Start the program again in this one's place; comes back only if that cannot be done."""
    os.environ[_AGAIN] = msgspec.json.encode(again).decode()
    os.environ.pop(_FACTOR, None)
    sys.stdout.flush()
    sys.stderr.flush()
    os.execv(sys.executable, COMMAND)


def taken_again() -> Again | None:
    """What this program was begun anew with, once; None for one that was started by a person."""
    text = os.environ.pop(_AGAIN, "")
    try:
        return msgspec.json.decode(text, type=Again) if text else None
    except msgspec.DecodeError:
        return None


def go_on(session: Session, again: Again) -> str:
    """Open what was open before; what went wrong, or nothing."""
    from zombrel.store.recovery import left_by

    found = left_by(recovery_root() / again.folder) if again.folder else None
    if found is not None:
        session.recover(found)
    try:
        if found is None and again.path:
            session.open(Path(again.path))
    except Problem as problem:
        return str(problem)
    return ""
