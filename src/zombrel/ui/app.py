"""Start the application."""

from __future__ import annotations

import gc
import threading
from pathlib import Path

import msgspec
from PySide6.QtCore import QTimer

from zombrel.ui.qtapp import application
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
    app = application()
    session = Session()
    if night:
        session.prefs = msgspec.structs.replace(session.prefs, night=True)
    if demo:
        session.open_demo()
    window = MainWindow(session, "source" if path is not None or demo else "survey")
    window.last_line.install()
    if path is not None:
        window.files.open_path(path)
        if session.path is None:
            window.go("survey")

    def shown() -> None:
        gc.freeze()
        gc.enable()
        if quit_when_shown:
            app.quit()
        else:
            QTimer.singleShot(AFTER_MS, window.files.offer_recovery)
            QTimer.singleShot(IDLE_MS, _read_ahead)

    window.first_paint = shown
    window.show()
    return app.exec()
