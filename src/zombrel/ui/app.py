"""Start the application."""

from __future__ import annotations

import gc
import threading
from pathlib import Path

import msgspec
from PySide6.QtCore import QTimer

from zombrel.job.problem import Problem
from zombrel.store.open_job import Held
from zombrel.store.prefs import load_prefs
from zombrel.ui.qtapp import application
from zombrel.ui.scale import begin_fitting, go_on, set_scale, taken_again
from zombrel.ui.session import Session
from zombrel.ui.window import MainWindow

AFTER_MS = 60
"""Questions wait until the window has been drawn and stands."""


IDLE_MS = 1500
"""By then the first screen has been read, and nobody waits."""


def _read_ahead() -> None:
    """Import the number libraries in the background, so that the first curve does not wait."""

    def load() -> None:
        import scipy.interpolate  # noqa: F401

    threading.Thread(target=load, daemon=True).start()


def run(path: Path | None, demo: bool, quit_when_shown: bool, night: bool) -> int:
    """Open the window and stay until it is closed."""
    prefs = load_prefs()
    set_scale(prefs)
    app = application()
    begin_fitting(prefs, app.primaryScreen())
    again = taken_again()
    session = Session()
    if night:
        session.prefs = msgspec.structs.replace(session.prefs, night=True)
    problem, held = "", False
    if again is not None:
        problem = go_on(session, again)
    elif demo:
        session.open_demo()
    elif path is not None:
        try:
            session.open(path)
        except Held:
            held = True  # what to do about it is asked once the window stands
        except Problem as error:
            problem = str(error)
    stage = "source" if demo or session.path is not None else "start"
    window = MainWindow(session, (again.stage if again is not None else "") or stage)
    if session.prefs.size is not None:
        k = session.prefs.scale or 1.0
        window.resize(*(round(edge / k) for edge in session.prefs.size))
    window.last_line.install()
    if problem:
        window.say("trouble", problem)

    def questions() -> None:
        """One after another."""
        if held and path is not None:
            window.files.open_path(path)
        window.files.offer_recovery()

    def shown() -> None:
        gc.freeze()  # what stands by now stays: the sweep need not walk it
        if quit_when_shown:
            app.quit()
        else:
            QTimer.singleShot(AFTER_MS, questions)
            QTimer.singleShot(IDLE_MS, _read_ahead)

    window.first_paint = shown
    window.show()
    return app.exec()
